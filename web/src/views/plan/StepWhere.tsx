/** Where in its zones a coat lies, how much of them it covers, and how its marks lie to others. */
import { memo } from "react";
import type { Plan, Step } from "../../api/client";
import { useWords } from "../../parts/BuildDoor";
import { Check, Choice, NumberField, TextField } from "../../parts/Field";
import { Finder } from "../../parts/Finder";
import type { Props, Set } from "./stepParts";

type Coat = Extract<NonNullable<Plan["steps"]>[number], { kind: "coat" }>;

/** Coats that share a zone with this one. */
function coatsNear(plan: Plan, step: Coat): Coat[] {
  return (plan.steps ?? []).filter(
    (s): s is Coat => s.kind === "coat" && s.id !== step.id && s.zones.some((z) => step.zones.includes(z)),
  );
}

/** In a few words: "on edges and corners, 5 %, on the marks of “Sponge”". */
export function placeWords(
  plan: Plan,
  step: Coat,
  usual: number,
  places: { value: string; label: string }[],
): string {
  const name = (id: string) => `“${plan.steps?.find((c) => c.id === id)?.name ?? id}”`;
  const covers = (step.coverage ?? usual) * 100;
  const place = places.find((w) => w.value === step.place)?.label ?? (covers >= 95 ? "all over" : "anywhere");
  const parts = [step.patch ? `${place} “${step.patch}”` : place];
  if (covers < 95) parts.push(`${Math.round(covers * 10) / 10} %`);
  if (step.on) parts.push(`on the marks of ${name(step.on)}`);
  if (step.beside?.length) parts.push(`beside ${step.beside.map(name).join(", ")}`);
  return parts.join(", ");
}

/** Where it is in its zones, one of the places that there are. */
function Place(p: { step: Step; set: Set; nowhere: string; wide?: boolean }) {
  const words = useWords();
  return (
    <Choice
      label="Place"
      className={p.wide ? "col-span-2" : ""}
      value={p.step.place ?? ""}
      options={[{ value: "", label: p.nowhere }, ...words.places]}
      onTake={(v) => void p.set("place", v || null)}
    />
  );
}

function PatchName({ step, set }: { step: Step; set: Set }) {
  return step.place === "patch" ? (
    <TextField
      label="Name of the patch"
      className="col-span-2"
      value={step.patch ?? ""}
      onTake={(t) => set("patch", t.trim() || null)}
    />
  ) : null;
}

/** Where a mask or work is in its zones: a mask keeps paint off its place, work takes no more than its place. */
export const WhereAt = memo(function WhereAt(p: Props & { set: Set }) {
  const { step, set } = p;
  const masks = step.kind === "fitting" && step.action === "mask";
  const nowhere = step.kind === "working" ? "all over the coat that it works on" : "not said";
  return (
    <div className="grid grid-cols-2 gap-2 text-sm" data-testid="where-at">
      <Place step={step} set={set} nowhere={nowhere} wide={!(masks && step.place)} />
      {masks && step.place ? (
        <NumberField
          label="Of each zone"
          unit="%"
          value={step.share != null ? step.share * 100 : null}
          onTake={(v) => set("share", v / 100)}
        />
      ) : null}
      <PatchName step={step} set={set} />
      {masks ? (
        <p className="col-span-2 text-xs text-ink-2">
          {step.place
            ? "What is laid while it is on does not land there."
            : "Say where, and what is laid while it is on does not land there."}
        </p>
      ) : null}
    </div>
  );
});

export const Where = memo(function Where(p: Props & { step: Coat; set: Set }) {
  const { step, set, known, plan } = p;
  const near = coatsNear(plan, step);
  const at = (id: string) => (plan.steps ?? []).findIndex((s) => s.id === id);
  const coverage = (c: Coat) => c.coverage ?? known.coats.find((k) => k.id === c.material)?.coverage ?? 1;
  const below = near.filter((c) => at(c.id) < at(step.id) && coverage(c) < 0.95); // a full coat lies under everything
  const covers = coverage(step) * 100;
  const beside = step.beside ?? [];
  return (
    <div className="grid grid-cols-2 gap-2 text-sm" data-testid="where">
      <Place step={step} set={set} nowhere="anywhere, by chance" />
      <NumberField
        label="Covers of each zone"
        unit="%"
        value={covers}
        onTake={(v) => set("coverage", v / 100)}
      />
      <PatchName step={step} set={set} />
      {step.zones.length > 1 ? (
        <NumberField
          label={`Covers of ${plan.zones.find((z) => z.id === p.zone)?.name}`}
          unit="%"
          value={step.coverage_by_zone?.[p.zone] !== undefined ? step.coverage_by_zone[p.zone]! * 100 : null}
          onTake={(v) => set("coverage_by_zone", { ...step.coverage_by_zone, [p.zone]: v / 100 })}
        />
      ) : null}
      {below.length ? (
        <Finder
          label="Lies on the marks of"
          className="col-span-2"
          value={step.on ?? ""}
          options={[
            { value: "", label: "none in particular" },
            ...below.map((c) => ({ value: c.id, label: c.name })),
          ]}
          onTake={(v) => void set("on", v || null)}
        />
      ) : null}
      {below.length ? (
        <fieldset className="col-span-2">
          <legend className="text-xs text-ink-2">Lies beside, and never meets</legend>
          {below.map((c) => (
            <Check
              key={c.id}
              label={c.name}
              on={beside.includes(c.id)}
              onTake={(on) => void set("beside", on ? [...beside, c.id] : beside.filter((id) => id !== c.id))}
            />
          ))}
        </fieldset>
      ) : null}
    </div>
  );
});
