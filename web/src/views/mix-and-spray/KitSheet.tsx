/** The user's airbrushes, what the compressor reaches, and how high the bench stands. */
import { pressureUnit } from "../../drawing/units";
import { useState } from "react";
import type { Plan } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { Check, NumberField, TextField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { newId } from "../../model/ids";
import { Push } from "../../parts/Push";

type Kit = NonNullable<Plan["kit"]>;
export const usual = (): Kit => ({
  guns: [{ id: "gun", name: "Airbrush, 0.3 mm", nozzle_mm: 0.3, external_mix: false }],
  most_kpa: 250,
  hose_loss_kpa: 0,
  altitude_m: 0,
});

export function KitSheet(p: { plan: Plan; store: BuildStore; open: boolean; onClose: () => void }) {
  const kit = p.plan.kit ?? usual();
  const guns = kit.guns ?? usual().guns!;
  const press = pressureUnit();
  const set = (part: Partial<Kit>) =>
    p.store.edit("Spraying kit", (plan) => [{ edit: "set_kit", kit: { ...(plan.kit ?? usual()), ...part } }]);
  const change = (id: string, part: Partial<(typeof guns)[number]>) =>
    set({ guns: guns.map((g) => (g.id === id ? { ...g, ...part } : g)) });
  return (
    <Sheet open={p.open} onClose={p.onClose} title="Spraying kit" wide>
      <ul className="space-y-2">
        {guns.map((g) => (
          <li
            key={g.id}
            className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[1fr_6rem_9rem_7rem_auto] items-end gap-2"
          >
            <TextField label="Airbrush" value={g.name} onTake={(name) => change(g.id, { name })} />
            <NumberField
              label="Nozzle"
              unit="mm"
              value={g.nozzle_mm ?? 0.3}
              onTake={(v) => change(g.id, { nozzle_mm: v })}
            />
            <NumberField
              label="Timed at 1 bar, open"
              unit="mL/min"
              value={g.flow_ml_min ?? null}
              onTake={(v) => change(g.id, { flow_ml_min: v })}
            />
            <Check
              className="min-h-8 gap-1 text-xs"
              label="mixes outside"
              on={!!g.external_mix}
              onTake={(on) => void change(g.id, { external_mix: on })}
            />
            <Push
              disabled={guns.length === 1}
              onClick={() => void set({ guns: guns.filter((x) => x.id !== g.id) })}
            >
              Remove
            </Push>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <Push
          onClick={() =>
            void set({
              guns: [
                ...guns,
                { id: newId("gun"), name: "Airbrush, 0.5 mm", nozzle_mm: 0.5, external_mix: false },
              ],
            })
          }
        >
          Another airbrush
        </Push>
        <NumberField
          label="Compressor reaches"
          unit={press.unit}
          className="w-36"
          value={press.to(kit.most_kpa ?? 250)}
          onTake={(v) => set({ most_kpa: press.from(v) })}
        />
        <NumberField
          label="Hose takes"
          unit={press.unit}
          className="w-28"
          value={press.to(kit.hose_loss_kpa ?? 0)}
          onTake={(v) => set({ hose_loss_kpa: press.from(v) })}
        />
        <NumberField
          label="Bench above the sea"
          unit="m"
          className="w-36"
          value={kit.altitude_m ?? 0}
          onTake={(v) => set({ altitude_m: v })}
        />
      </div>
      <DripCup now={kit.drip_cup ?? null} onTake={(drip_cup) => set({ drip_cup })} />
    </Sheet>
  );
}

/** A cup with a hole of one's own, timed with water and sugar syrups; taken as a whole. */
function DripCup(p: {
  now: Kit["drip_cup"];
  onTake: (cup: Kit["drip_cup"]) => Promise<{ ok: true } | { ok: false; why: string }>;
}) {
  const [times, setTimes] = useState<Record<string, number | null>>({ ...p.now });
  const [why, setWhy] = useState("");
  const field = (name: string, label: string) => (
    <NumberField
      label={label}
      unit="s"
      className="w-36"
      value={times[name] ?? null}
      onTake={(v) => {
        setTimes({ ...times, [name]: v });
        return { ok: true };
      }}
    />
  );
  const take = async (cup: Kit["drip_cup"]) => {
    const outcome = await p.onTake(cup);
    setWhy(outcome.ok ? "" : outcome.why);
  };
  const { water_s, syrup_40_s, syrup_50_s, temp_c } = times;
  return (
    <fieldset className="mt-4 border-t border-line-soft pt-3">
      <legend className="sr-only">Drip cup</legend>
      <p className="mb-2 text-sm">
        <strong>A drip cup of your own</strong>
        <span className="text-ink-2">: how long it takes with</span>
      </p>
      <div className="flex flex-wrap items-end gap-3">
        {field("water_s", "water")}
        {field("syrup_40_s", "40 % sugar syrup")}
        {field("syrup_50_s", "50 % syrup, if you like")}
        <NumberField
          label="All of them at"
          unit="°C"
          className="w-28"
          value={temp_c ?? 20}
          onTake={(v) => {
            if (!(v >= 5 && v <= 40)) return { ok: false, why: "5 to 40 °C" };
            setTimes({ ...times, temp_c: v });
            return { ok: true };
          }}
        />
        <Push
          disabled={!water_s || !syrup_40_s}
          onClick={() =>
            void take({
              water_s: water_s!,
              syrup_40_s: syrup_40_s!,
              syrup_50_s: syrup_50_s ?? null,
              temp_c: temp_c ?? 20,
            })
          }
        >
          Calibrate
        </Push>
        {p.now ? <Push onClick={() => void take(null)}>Forget it</Push> : null}
      </div>
      {why ? (
        <p role="alert" className="mt-1 text-sm font-semibold">
          {why}
        </p>
      ) : p.now ? (
        <p className="mt-1 text-sm">Calibrated: it can be chosen under “Measure”.</p>
      ) : null}
    </fieldset>
  );
}
