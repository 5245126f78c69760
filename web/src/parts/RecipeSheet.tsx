/** The whole recipe of a coat: its parts, what they are there for, and in what unit; drawn as it fills the cup. */
import { useState } from "react";
import type { CoatStep, Knowledge, Mix } from "../api/client";
import type { BuildStore } from "../api/store";
import { useWords } from "./BuildDoor";
import { Choice, NumberField, TextField } from "./Field";
import { thinners } from "../model/liquids";
import { Sheet } from "./Panel";
import { Push } from "./Push";

type Part = Mix["parts"][number];

export function RecipeSheet(p: {
  open: boolean;
  step: CoatStep;
  mix: Mix | null;
  known: Knowledge;
  store: BuildStore;
  onClose: () => void;
}) {
  return (
    <Sheet open={p.open} onClose={p.onClose} title={`Recipe: ${p.step.name}`} wide>
      {p.open ? <Recipe {...p} /> : null}
    </Sheet>
  );
}

/** Kept here until it is taken as a whole: percent has to add up, and every part needs a material. */
function Recipe({ step, mix, known, store, onClose }: Parameters<typeof RecipeSheet>[0]) {
  const words = useWords();
  const [parts, setParts] = useState<Part[]>(
    mix?.parts ?? [{ material: step.material, role: "paint", amount: 1, unit: "parts" }],
  );
  const [why, setWhy] = useState("");
  const unit = parts[0]!.unit ?? "parts";
  const total = parts.reduce((sum, x) => sum + x.amount, 0);
  const change = (i: number, part: Partial<Part>) =>
    setParts(parts.map((x, at) => (at === i ? { ...x, ...part } : x)));
  const materials = [...known.coats, ...known.thinners].map((m) => ({ value: m.id, label: m.name }));
  const take = async () => {
    const outcome = await store.edit(`${step.name}: recipe`, [
      { edit: "set_field", step_id: step.id, field: "mix", value: { parts } },
    ]);
    if (outcome.ok) onClose();
    else setWhy(outcome.why);
  };
  return (
    <div className="space-y-3">
      <div className="flex h-7 overflow-hidden rounded-sm border border-line text-xs" aria-hidden="true">
        {parts.map((x, i) => (
          <span
            key={i}
            className="grid place-items-center overflow-hidden border-r border-line last:border-0"
            style={{
              width: `${(100 * x.amount) / total}%`,
              background: x.colour ?? known.coats.find((c) => c.id === x.material)?.colour ?? "#f4f4f0",
              color: "#000000",
            }}
          >
            <span className="rounded bg-[rgb(255_255_255/.75)] px-1">
              {Math.round((100 * x.amount) / total)} %
            </span>
          </span>
        ))}
      </div>
      <ul className="space-y-2">
        {parts.map((x, i) => (
          <li
            key={i}
            className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[8rem_1fr_8rem_3rem_6.5rem_auto] items-end gap-2"
          >
            <Choice
              label="As"
              value={x.role}
              options={words.roles}
              onTake={(role) => change(i, { role: role as Part["role"] })}
            />
            <Choice
              label="Of"
              value={x.material}
              options={materials}
              onTake={(material) => change(i, { material })}
            />
            <TextField
              label="Called"
              value={x.name ?? ""}
              onTake={(name) => {
                change(i, { name: name.trim() || null });
                return { ok: true };
              }}
            />
            <label className="block text-xs text-ink-2">
              Colour
              <input
                type="color"
                className="field w-full p-0.5"
                aria-label={`Colour of part ${i + 1}`}
                value={x.colour ?? known.coats.find((c) => c.id === x.material)?.colour ?? "#f4f4f0"}
                onChange={(e) => change(i, { colour: e.target.value })}
              />
            </label>
            <NumberField
              label="Amount"
              unit={words.unit(unit)}
              value={x.amount}
              onTake={(amount) => {
                if (!(amount > 0)) return { ok: false, why: "more than nothing" };
                change(i, { amount });
                return { ok: true };
              }}
            />
            <Push disabled={parts.length === 1} onClick={() => setParts(parts.filter((_, at) => at !== i))}>
              Remove
            </Push>
          </li>
        ))}
      </ul>
      <div className="flex items-end gap-2">
        <Choice
          label="In"
          className="w-28"
          value={unit}
          options={words.units}
          onTake={(u) => setParts(parts.map((x) => ({ ...x, unit: u as Part["unit"] })))}
        />
        <Push
          disabled={parts.length >= 12}
          onClick={() =>
            setParts([
              ...parts,
              {
                material: thinners(known)[0]!.id,
                role: "thinner",
                amount: unit === "percent" ? 10 : 1,
                unit,
              },
            ])
          }
        >
          Another part
        </Push>
        <span className="ml-auto text-sm" role="status">
          {unit === "percent" ? `${Math.round(total * 10) / 10} % of 100` : ""}
        </span>
        <Push data-strong onClick={() => void take()}>
          Take this recipe
        </Push>
      </div>
      {why ? (
        <p role="alert" className="text-sm font-semibold">
          {why}
        </p>
      ) : null}
    </div>
  );
}
