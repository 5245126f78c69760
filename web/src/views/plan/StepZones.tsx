/** Which zones a step covers, and how it is split. */
import type { Edit, Plan, Step } from "../../api/client";
import type { Props, Set } from "./stepParts";
import { newId } from "../../model/ids";
import { Push } from "../../parts/Push";

export function Zones(p: Props & { set: Set }) {
  const { plan, step, store } = p;
  const only = step.zones.length === 1;
  return (
    <fieldset className="text-sm">
      <legend className="text-xs text-ink-2">Zones, done in one go</legend>
      <div className="flex flex-wrap gap-1 pt-0.5">
        {plan.zones.map((z) => {
          const on = step.zones.includes(z.id);
          return (
            <button
              key={z.id}
              type="button"
              aria-pressed={on}
              disabled={on && only}
              className={`min-h-7 rounded border px-2 text-xs ${on ? "border-ink font-semibold" : "border-line-soft text-ink-2"}`}
              onClick={() =>
                void p.set(
                  "zones",
                  plan.zones
                    .filter((x) => (x.id === z.id ? !on : step.zones.includes(x.id)))
                    .map((x) => x.id),
                )
              }
            >
              {on ? "✓ " : ""}
              {z.name}
            </button>
          );
        })}
      </div>
      {step.zones.length > 2 ? (
        <Push
          className="mt-1"
          title="A batch: each part in its own go, with its share of the time"
          onClick={() => void store.edit(`${step.name}, one by one`, oneByOne(plan, step))}
        >
          Each in a go of its own
        </Push>
      ) : null}
    </fieldset>
  );
}

/** A step shared out over its zones, the time at the bench by their area. Recipes stay shared. */
function oneByOne(plan: Plan, step: Step): Edit[] {
  const given = step.zones.every((id) => plan.zones.find((z) => z.id === id)?.area_cm2);
  const area = (id: string) => (given && plan.zones.find((z) => z.id === id)?.area_cm2) || 1;
  const whole = step.zones.reduce((sum, z) => sum + area(z), 0);
  const share = (id: string) => Math.max(Math.round(((step.hands_on_min ?? 10) * area(id)) / whole), 1);
  const [first, ...others] = step.zones as [string, ...string[]];
  const goes = [...others].reverse().map((zone) => ({ zone, id: newId(step.name) })); // each lands right after the step
  const hands = (step_id: string, zone: string) => ({
    edit: "set_field",
    step_id,
    field: "hands_on_min",
    value: share(zone),
  });
  return [
    ...goes.map((g) => ({ edit: "split_step", step_id: step.id, zones: [g.zone], new_id: g.id })),
    hands(step.id, first),
    ...goes.map((g) => hands(g.id, g.zone)),
  ];
}
