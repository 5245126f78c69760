/** What a step is made of, field by field: material and mix, tool and carrier, what a fitting is done with. */
import { useMemo, useState } from "react";
import {
  api,
  type Assessment,
  type CoatStep,
  type Edit,
  type FittingStep,
  type Mix,
  type WorkingStep,
} from "../../api/client";
import { useWords } from "../../parts/BuildDoor";
import { Check, Choice, NumberField, TextField } from "../../parts/Field";
import { Finder } from "../../parts/Finder";
import { volume } from "../../drawing/units";
import { thinners } from "../../model/liquids";
import { RecipeSheet } from "../../parts/RecipeSheet";
import type { Props, Set } from "./stepParts";
import { SubstituteSheet } from "./Substitutes";

export function FittingFields(p: Props & { step: FittingStep; set: Set }) {
  const { step, known, set, plan } = p;
  const fitting = known.touches.filter((t) => t.serves.includes(step.action));
  const closes = step.closes ?? [];
  return (
    <div className="space-y-2">
      {fitting.length ? (
        <Choice
          label="With"
          value={step.material ?? ""}
          options={[
            { value: "", label: "not said" },
            ...fitting.map((t) => ({ value: t.id, label: t.name })),
          ]}
          onTake={(v) => void set("material", v || null)}
        />
      ) : null}
      {["wash", "degrease", "wet"].includes(step.action) ? (
        <Finder
          label="With"
          value={step.carrier ?? ""}
          options={[
            { value: "", label: "soap and water, or not said" },
            ...thinners(known).map((t) => ({ value: t.id, label: t.name })),
          ]}
          onTake={(v) => void set("carrier", v || null)}
        />
      ) : null}
      {["fit", "glue", "mask"].includes(step.action) ? (
        <Toggles
          legend="Closes: can no longer be reached afterwards"
          all={plan.zones.map((z) => ({ id: z.id, name: z.name }))}
          on={closes}
          onTake={(ids) => void set("closes", ids)}
        />
      ) : null}
    </div>
  );
}

function Toggles(p: {
  legend: string;
  all: { id: string; name: string }[];
  on: string[];
  onTake: (ids: string[]) => void;
}) {
  return (
    <fieldset className="text-sm">
      <legend className="text-xs text-ink-2">{p.legend}</legend>
      <div className="flex flex-wrap gap-1 pt-0.5">
        {p.all.map((x) => {
          const on = p.on.includes(x.id);
          return (
            <button
              key={x.id}
              type="button"
              aria-pressed={on}
              className={`min-h-7 rounded border px-2 text-xs ${on ? "border-ink font-semibold" : "border-line-soft text-ink-2"}`}
              onClick={() => p.onTake(on ? p.on.filter((id) => id !== x.id) : [...p.on, x.id])}
            >
              {on ? "✓ " : ""}
              {x.name}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}

export function CoatFields(p: Props & { step: CoatStep; set: Set }) {
  const { step, known, set, store } = p;
  const here = known.coats.find((c) => c.id === step.material);
  const [lacking, setLacking] = useState<string | null>(null);
  const mix = (step.mix ?? here?.mix ?? null) as Mix | null;
  const thinner = mix?.parts.find((x) => x.role === "thinner")?.material ?? null;
  const [said, setSaid] = useState<{ of: string; lost: string[] } | null>(null);
  const words = useWords();
  // What the new material can keep stays; what it cannot is said. One edit, undone as one.
  const change = async (id: string) => {
    const { data } = await api.POST("/api/builds/{build_id}/replace", {
      params: { path: { build_id: p.build } },
      body: { step: step.id, material: id },
    });
    const name = known.coats.find((c) => c.id === id)?.name ?? id;
    if (!data) {
      store.say(`${name} cannot stand here.`);
      return;
    }
    const outcome = await store.edit(`${step.name}: ${name}`, data.edits as Edit[]);
    if (outcome.ok) setSaid({ of: id, lost: data.lost });
  };
  return (
    <div className="grid grid-cols-2 gap-2">
      <Finder
        label="Material"
        className="col-span-2"
        value={step.material}
        options={useMemo(
          () =>
            known.coats.map((c) => ({
              value: c.id,
              label: c.name,
              under: `${c.use} · ${c.system_name}`,
              words: c.words,
              swatch: c.colour,
            })),
          [known],
        )}
        onTake={(id) => void change(id)}
      />
      {said?.of === step.material && said.lost.length ? (
        <p className="col-span-2 text-xs" role="status" data-testid="not-kept">
          <span className="font-semibold">Not kept: </span>
          {said.lost.join("; ")}. Undo brings it all back.
        </p>
      ) : null}
      <Choice
        label="Put on"
        value={step.method ?? here?.method ?? "spray"}
        options={words.laidBy}
        onTake={(v) => void set("method", v)}
      />
      {here && here.sheens.length ? (
        <Choice
          label="Sheen"
          value={step.sheen ?? here.sheen}
          options={here.sheens.map((s) => ({ value: s, label: s }))}
          onTake={(v) => void set("sheen", v)}
        />
      ) : (
        <ColourField step={step} set={set} fallback={here?.colour ?? "#888888"} />
      )}
      <NumberField
        label="Dry film"
        unit="µm"
        value={step.dry_film_um ?? here?.dry_film_um ?? null}
        onTake={(v) => set("dry_film_um", v)}
      />
      <NumberField label="Passes" value={step.passes ?? here?.passes ?? 1} onTake={(v) => set("passes", v)} />
      <MixFields {...p} />
      <p className="col-span-2 -mt-1 flex gap-3 text-xs no-print">
        <button type="button" className="min-h-6 underline" onClick={() => setLacking(step.material)}>
          I do not have this paint
        </button>
        {thinner ? (
          <button type="button" className="min-h-6 underline" onClick={() => setLacking(thinner)}>
            … this thinner
          </button>
        ) : null}
      </p>
      <SubstituteSheet {...p} lacking={lacking} onClose={() => setLacking(null)} />
    </div>
  );
}

function ColourField({ step, set, fallback }: { step: CoatStep; set: Set; fallback: string }) {
  return (
    <div>
      <label className="block text-xs text-ink-2" htmlFor={`colour-${step.id}`}>
        Colour, dry
      </label>
      <input
        id={`colour-${step.id}`}
        key={step.colour?.srgb}
        type="color"
        className="field w-full p-0.5"
        defaultValue={step.colour?.srgb ?? fallback}
        onBlur={(e) => {
          const srgb = e.target.value;
          if (srgb.toLowerCase() !== (step.colour?.srgb ?? fallback).toLowerCase())
            void set("colour", { srgb });
        }}
      />
    </div>
  );
}

/** Paint to thinner, and which thinner; further parts of a mix stay as they are. */
function MixFields(p: Props & { step: CoatStep; set: Set }) {
  const { step, known, set } = p;
  const mix: Mix | null =
    step.mix ?? (known.coats.find((c) => c.id === step.material)?.mix as Mix | null) ?? null;
  const offered = useMemo(
    () => [
      { value: "", label: "as it comes" },
      ...thinners(known).map((t) => ({ value: t.id, label: t.name })),
    ],
    [known],
  );
  const paint = mix?.parts.find((x) => x.role === "paint");
  const thinner = mix?.parts.find((x) => x.role === "thinner");
  const rest = mix?.parts.filter((x) => x !== paint && x !== thinner) ?? [];
  // The hardener goes by the paint, whatever it is thinned with.
  const beside = (a: number) =>
    rest.map((x) => (x.role === "hardener" && paint ? { ...x, amount: (x.amount * a) / paint.amount } : x));
  const unit = paint?.unit ?? "parts";
  const write = (a: number, b: number, material: string) =>
    set(
      "mix",
      {
        parts: [
          { material: step.material, role: "paint", amount: a, unit },
          ...(material ? [{ material, role: "thinner", amount: b, unit }] : []),
          ...beside(a),
        ],
      },
      `${step.name}: thinning`,
    );
  const [a, b] = [paint?.amount ?? 1, thinner?.amount ?? 1];
  const [open, setOpen] = useState(false);
  return (
    <>
      <Finder
        label="Thinned with"
        value={thinner?.material ?? ""}
        options={offered}
        onTake={(v) => void write(a, b, v)}
      />
      <TextField
        label={unit === "parts" ? "Paint : thinner" : `Paint : thinner, ${unit}`}
        value={thinner ? `${a} : ${b}` : "neat"}
        onTake={(t) => {
          const found = /^\s*(\d+(?:[.,]\d+)?)\s*[:/]\s*(\d+(?:[.,]\d+)?)\s*$/.exec(t);
          if (!found) return { ok: false, why: "write paint : thinner, as in 1 : 2" };
          const [x, y] = [found[1]!, found[2]!].map((v) => Number(v.replace(",", "."))) as [number, number];
          if (!thinner) return { ok: false, why: "choose what it is thinned with first" };
          return write(x, y, thinner.material);
        }}
      />
      <p className="col-span-2 text-xs">
        <button type="button" className="underline underline-offset-2 no-print" onClick={() => setOpen(true)}>
          {mix && mix.parts.length > 2
            ? `All ${mix.parts.length} parts of the recipe`
            : "The whole recipe, part by part"}
        </button>
      </p>
      <RecipeSheet
        open={open}
        step={step}
        mix={mix}
        known={known}
        store={p.store}
        onClose={() => setOpen(false)}
      />
    </>
  );
}

export function WorkFields(p: Props & { step: WorkingStep; set: Set }) {
  const { step, known, set, plan } = p;
  const words = useWords();
  const target = plan.steps?.find((s) => s.id === step.acts_on);
  return (
    <div className="grid grid-cols-2 gap-2">
      <p className="col-span-2 text-sm">
        {words.action(step.action)}: acts on “{target?.name}”.
      </p>
      <Finder
        label="With"
        value={step.carrier ?? ""}
        options={[
          { value: "", label: "nothing wet" },
          ...thinners(known).map((t) => ({ value: t.id, label: t.name })),
        ]}
        onTake={(v) => void set("carrier", v || null)}
      />
      <Choice
        label="Tool"
        value={step.method ?? "damp_wipe"}
        options={words.workedWith}
        onTake={(v) => void set("method", v)}
      />
      <NumberField
        label="Leaves of the coat"
        unit="%"
        value={Math.round((step.leaves ?? words.leaves[step.action] ?? 1) * 100)}
        onTake={(v) => set("leaves", v / 100)}
      />
      <Check
        className="col-span-2"
        label="Lay and work it section by section"
        on={!!step.by_sections}
        onTake={(on) => void set("by_sections", on)}
      />
      {step.action === "soften" ? (
        <NumberField
          label="Lies for"
          unit="min"
          value={step.lies_min ?? null}
          onTake={(v) => set("lies_min", v)}
        />
      ) : null}
      <Sections {...p} />
    </div>
  );
}

/** How many sections, how large: so that each is worked before its first part closes. */
function Sections(p: Props & { step: WorkingStep }) {
  const { step, plan, assessment: a, zone } = p;
  const many = a.seams[`${step.id}~${zone}~${step.acts_on}`]?.sections;
  const laid = plan.steps?.find((s) => s.id === step.acts_on);
  const area = plan.zones.find((z) => z.id === zone)?.area_cm2;
  if (!step.by_sections || !many || !laid || !area) return null;
  const each = (min: number) => (min / many).toFixed(1).replace(/\.0$/, "");
  return (
    <p className="col-span-2 text-sm" data-testid="sections">
      {many === 1
        ? "One section: all of it can be laid, then worked."
        : `${many} sections of about ${Math.round(area / many)} cm²: lay one in ${each(laid.hands_on_min ?? 10)} min, work it in ${each(step.hands_on_min ?? 10)} min, then the next, from the top down.`}
    </p>
  );
}

export function CupFigure({ step, a }: { step: CoatStep; a: Assessment }) {
  const cup = a.cups[step.id];
  if (!cup) return null;
  return (
    <figure className="rounded bg-paper-2 px-3 py-2" data-testid="cup">
      <ul className="flex flex-wrap gap-x-4 gap-y-0.5">
        {cup.pours.map((x) => {
          const [figure, unit] =
            x.drops === null
              ? [`${x.grams.toFixed(2)} g`, ""]
              : x.drops <= 60
                ? [`${x.drops}`, x.drops === 1 ? "drop" : "drops"]
                : [volume(x.ml), ""];
          return (
            <li key={x.material} className="text-sm">
              <span className="text-lg font-semibold">{figure}</span> {unit} {x.name.toLowerCase()}
            </li>
          );
        })}
      </ul>
      <figcaption className="text-xs text-ink-2">
        {volume(cup.total_ml)}
        {cup.cups > 1 ? `, ${cup.cups} such cups` : ""}
        {cup.ratio_error_pct > 0 ? `; whole drops miss the ratio by ${cup.ratio_error_pct} %` : ""}.{" "}
        {cup.basis}.
      </figcaption>
    </figure>
  );
}
