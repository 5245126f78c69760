/** What few steps need, out of the way until it is asked for. */
import { useMemo } from "react";
import type { CoatStep, Edit } from "../../api/client";
import { localStamp, readStamp } from "../../drawing/stamp";
import { useWords } from "../../parts/BuildDoor";
import { temperatureUnit } from "../../drawing/units";
import { Check, Choice, NumberField, TextField } from "../../parts/Field";
import { Finder } from "../../parts/Finder";
import type { Props, Set } from "./stepParts";

/** The technique and the tool, and what few steps need. */
export function More(p: Props & { set: Set }) {
  const { step, set, known } = p;
  const words = useWords();
  const techniques = useMemo(
    () => [
      { value: "", label: "none in particular" },
      ...known.techniques.map((t) => ({ value: t.id, label: t.name, words: t.words })),
    ],
    [known],
  );
  return (
    <div className="grid grid-cols-2 gap-2 text-sm">
      <Finder
        label="Technique"
        className="col-span-2"
        value={step.technique ?? ""}
        options={techniques}
        onTake={(v) => void set("technique", v || null)}
      />
      <TextField
        label="Tool"
        className="col-span-2"
        value={step.tool ?? ""}
        offers={words.tools}
        onTake={(t) => set("tool", t.trim() || null)}
      />
      {step.kind === "coat" ? <Already {...p} step={step} /> : null}
      <Choice
        label="Fine work, for eyes and a steady hand"
        className="col-span-2"
        value={step.fine === null || step.fine === undefined ? "" : step.fine ? "yes" : "no"}
        options={[
          { value: "", label: "as usual: decals, marks by brush, pin washes" },
          { value: "yes", label: "yes: it counts against the time without a rest" },
          { value: "no", label: "no" },
        ]}
        onTake={(v) => void set("fine", v === "" ? null : v === "yes")}
      />
      <Check
        className="col-span-2"
        label="Needs the part off"
        on={!!step.needs_part_off}
        onTake={(on) => void set("needs_part_off", on)}
      />
    </div>
  );
}

/** A fixed start, a latest one, the pause between passes, and what hurries or slows the drying. */
export function Times(p: Props & { set: Set }) {
  const { step, set, known, plan } = p;
  const words = useWords();
  const aid = step.aids?.[0];
  const warm = temperatureUnit();
  const setAid = (next: { kind: string; duration_min: number; temp_c?: number | null } | null) =>
    set("aids", next ? [next] : []);
  const oxidises =
    step.kind === "coat" && known.coats.find((c) => c.id === step.material)?.film === "oxidising";
  return (
    <div className="grid grid-cols-2 gap-2 text-sm">
      <TextField
        label="Fixed start"
        className="col-span-2"
        value={step.fixed_start ? localStamp(step.fixed_start, plan.build.timezone ?? "UTC") : ""}
        onTake={(t) => {
          if (!t.trim()) return set("fixed_start", null);
          const at = readStamp(t, plan.build.timezone ?? "UTC");
          return at ? set("fixed_start", at) : { ok: false, why: "write 2026-12-05 19:30, or nothing" };
        }}
      />
      <NoLater {...p} />
      {step.kind === "coat" && !step.existing && (step.passes ?? 1) > 1 ? (
        <NumberField
          label="Pause between passes"
          unit="min"
          value={step.pause_min ?? null}
          onTake={(v) => set("pause_min", v)}
        />
      ) : null}
      {oxidises ? (
        <Choice
          label="Its pigment dries"
          className="col-span-2"
          value={step.pigment_dries ?? "usual"}
          options={[
            { value: "fast", label: "fast: umbers, siennas" },
            { value: "usual", label: "as usual, or unknown" },
            { value: "slow", label: "slowly: titanium white, cadmiums, blacks" },
          ]}
          onTake={(v) => void set("pigment_dries", v === "usual" ? null : v)}
        />
      ) : null}
      <Choice
        label="Dried with"
        className={aid ? "col-span-2" : ""}
        value={aid?.kind ?? ""}
        options={[{ value: "", label: "bench air" }, ...words.aids]}
        onTake={(v) => void setAid(v ? { kind: v, duration_min: 60, temp_c: v === "fan" ? null : 40 } : null)}
      />
      {aid ? (
        <NumberField
          label="For"
          unit="min"
          value={aid.duration_min}
          onTake={(v) => setAid({ ...aid, duration_min: v })}
        />
      ) : null}
      {aid && aid.kind !== "fan" ? (
        <NumberField
          label="At the part"
          unit={warm.unit}
          value={warm.to(aid.temp_c ?? 40)}
          onTake={(v) => setAid({ ...aid, temp_c: warm.from(v) })}
        />
      ) : null}
    </div>
  );
}

/** By when it has to begin, counted from the end of an earlier step. */
function NoLater(p: Props & { set: Set }) {
  const { step, plan, set } = p;
  const steps = plan.steps ?? [];
  const before = steps.slice(
    0,
    steps.findIndex((s) => s.id === step.id),
  );
  const limit = step.no_later;
  if (!before.length) return null;
  return (
    <>
      <Finder
        label="Begins no later than, after"
        className={limit ? "" : "col-span-2"}
        value={limit?.after ?? ""}
        options={[
          { value: "", label: "whenever it may" },
          ...before.map((s) => ({ value: s.id, label: s.name })),
        ]}
        onTake={(v) => void set("no_later", v ? { after: v, than_min: limit?.than_min ?? 60 } : null)}
      />
      {limit ? (
        <NumberField
          label="Within"
          unit="min"
          value={limit.than_min}
          onTake={(v) => set("no_later", { ...limit, than_min: v })}
        />
      ) : null}
    </>
  );
}

/** A finish that is there already takes no time and no cup; what counts is how old it is. */
function Already(p: Props & { step: CoatStep; set: Set }) {
  const { step, store, set } = p;
  const there = !!step.existing;
  const field = (name: string, value: unknown): Edit => ({
    edit: "set_field",
    step_id: step.id,
    field: name,
    value,
  });
  const turn = (on: boolean) =>
    store.edit(
      on ? `${step.name}: it is there already` : `${step.name}: to be laid`,
      on
        ? [field("hands_on_min", 0), field("wait_min", 0), field("existing", { age_days: null })]
        : [field("existing", null), field("hands_on_min", 20)],
    );
  return (
    <>
      <Check
        className={there ? "" : "col-span-2"}
        label="It is there already"
        on={there}
        onTake={(on) => void turn(on)}
      />
      {there ? (
        <NumberField
          label="How old"
          unit="days"
          value={step.existing?.age_days ?? null}
          onTake={(v) => set("existing", { age_days: v })}
        />
      ) : null}
    </>
  );
}
