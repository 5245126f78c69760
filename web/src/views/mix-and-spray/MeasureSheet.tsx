import { useQuery } from "@tanstack/react-query";
import { api, type CoatStep, type Measured } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { Choice, NumberField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

/** What was measured of this mix wins over what is computed, and teaches the paint in other steps. */
export function MeasureSheet(p: {
  open: boolean;
  step: CoatStep;
  store: BuildStore;
  grams: number | null;
  hasDripCup: boolean;
  onClose: () => void;
}) {
  const { step, store } = p;
  const m: Measured = step.measured ?? {};
  const { data: cups } = useQuery({
    queryKey: ["cups"],
    queryFn: async () => (await api.GET("/api/tools/cups")).data ?? [],
    enabled: p.open,
    staleTime: Infinity,
  });
  const set = (part: Partial<Measured>) =>
    store.edit(`${step.name}: measured`, (plan) => {
      const now = plan.steps?.find((s) => s.id === step.id) as CoatStep | undefined;
      return [
        { edit: "set_field", step_id: step.id, field: "measured", value: { ...now?.measured, ...part } },
      ];
    });
  const options = [
    { value: "", label: "none" },
    ...(p.hasDripCup ? [{ value: "own", label: "your drip cup" }] : []),
    ...(cups ?? []).map((c) => ({ value: c.id, label: `${c.name}, ${c.low_s}–${c.high_s} s` })),
  ];
  return (
    <Sheet open={p.open} onClose={p.onClose} title={`Measured: ${step.name}`}>
      <div className="grid grid-cols-2 items-end gap-3">
        <Choice
          label="Flow cup"
          value={m.flow_cup ?? ""}
          options={options}
          onTake={(v) => void set({ flow_cup: (v || null) as Measured["flow_cup"], flow_cup_s: null })}
        />
        <NumberField
          label="Ran for"
          unit="s"
          value={m.flow_cup_s ?? null}
          onTake={(v) => set({ flow_cup_s: v, viscosity_mpas: null })}
        />
        <NumberField
          label="Or viscosity"
          unit="mPa·s"
          value={m.viscosity_mpas ?? null}
          onTake={(v) => set({ viscosity_mpas: v, flow_cup: null, flow_cup_s: null })}
        />
        <NumberField
          label="Drops of paint in a millilitre"
          value={m.drops_per_ml ?? null}
          onTake={(v) => set({ drops_per_ml: v })}
        />
        <NumberField
          label="Drops of thinner, if from another dropper"
          value={m.thinner_drops_per_ml ?? null}
          onTake={(v) => set({ thinner_drops_per_ml: v })}
        />
        <NumberField
          label="Paint weighed"
          unit="g"
          value={m.paint_g ?? null}
          onTake={(v) => set({ paint_g: v })}
        />
        <NumberField
          label="Thinner weighed"
          unit="g"
          value={m.thinner_g ?? null}
          onTake={(v) => set({ thinner_g: v })}
        />
        <NumberField
          label="Retarder weighed"
          unit="g"
          value={m.retarder_g ?? null}
          onTake={(v) => set({ retarder_g: v })}
        />
        <NumberField
          label="Sprayed since"
          unit="g"
          value={m.sprayed_g ?? null}
          onTake={(v) => set({ sprayed_g: v })}
        />
        <Push disabled={p.grams === null} onClick={() => void set({ paint_g: p.grams })}>
          Paint: take {p.grams?.toFixed(2) ?? "–"} g from the scale
        </Push>
        <Push disabled={p.grams === null} onClick={() => void set({ thinner_g: p.grams })}>
          Thinner: take {p.grams?.toFixed(2) ?? "–"} g
        </Push>
        <Push
          className="col-span-2"
          disabled={!step.measured}
          onClick={() =>
            void store.edit(`${step.name}: measures away`, [
              { edit: "set_field", step_id: step.id, field: "measured", value: null },
            ])
          }
        >
          Forget what was measured
        </Push>
      </div>
    </Sheet>
  );
}
