/** One step: what it is, how it is mixed, when; everything about it can be changed here. */
import { useMemo, useState } from "react";
import {
  api,
  type Assessment,
  type CoatStep,
  type Edit,
  type FittingStep,
  type Knowledge,
  type Mix,
  type Plan,
  type Remark,
  type Step,
  type WorkingStep,
} from "../../api/client";
import type { BuildStore } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { exactSpan, readSpan, span, type Clockwork } from "../../drawing/time";
import { EVENT_WORDS, STATE_WORDS } from "../../drawing/tokens";
import { Choice, NumberField, TextField } from "../../parts/Field";
import { stateAt } from "./Rack";
import { FaultPanel, RescuePanel } from "./Rescue";
import { SubstituteSheet } from "./Substitutes";
import { TechniqueNote } from "./Technique";
import { ACTION_WORDS, COAT_METHODS, METHOD_WORDS, WORK_METHODS } from "./words";

type Props = {
  build: string;
  revision: number;
  onOver: (zone: string, step: string) => void;
  plan: Plan;
  assessment: Assessment;
  known: Knowledge;
  step: Step;
  zone: string;
  clock: Clockwork;
  minute: number;
  store: BuildStore;
  onSeam: (id: string, zone: string) => void;
  onRemove: (step: string) => void;
  onMove: (step: string, to: number) => void;
  onAdd: (zone: string, after: string) => void;
};

const named = (m: string) => ({ value: m, label: METHOD_WORDS[m]! });
const COAT_OPTIONS = COAT_METHODS.map(named);
const WORK_OPTIONS = WORK_METHODS.map(named);

export function newId(words: string): string {
  const slug = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 20);
  return `${slug || "step"}-${crypto.randomUUID().slice(0, 6)}`;
}

export function StepPanel(p: Props) {
  const { plan, step, assessment: a, store, clock } = p;
  const steps = plan.steps ?? [];
  const set = (field: string, value: unknown, label?: string) =>
    store.edit(label ?? `${step.name}: ${field.replaceAll("_", " ")}`, [
      { edit: "set_field", step_id: step.id, field, value },
    ]);
  const times = a.times[step.id]!;
  const seams = Object.values(a.seams).filter((s) => s.upper_step === step.id && s.zone_id === p.zone);
  const above = Object.values(a.seams).filter(
    (s) => s.lower_step === step.id && s.zone_id === p.zone && s.verdict !== "sound",
  );
  const zoneName = plan.zones.find((z) => z.id === p.zone)?.name;
  const at = steps.findIndex((s) => s.id === step.id);
  const coat = a.coats[`${step.id}~${p.zone}`];
  const notes = a.notes.filter((n) => n.step_id === step.id);
  const remarks = a.remarks.filter((r) => r.step_id === step.id);
  const technique = p.known.techniques.find((t) => t.id === step.technique);
  return (
    <div className="space-y-3.5" data-testid="step-panel">
      <header className="space-y-1">
        <h2 className="sr-only">{step.name}</h2>
        <p className="text-xs text-ink-2">
          {zoneName} · step {at + 1} of {steps.length}
          {coat ? ` · ${STATE_WORDS[stateAt(a, step.id, p.zone, p.minute)]} at ${clock.short(p.minute)}` : ""}
        </p>
        <TextField label="Name" value={step.name} onTake={(t) => set("name", t, `Rename ${step.name}`)} />
      </header>
      <Remarks remarks={remarks} {...p} />
      {step.kind === "fitting" ? <FittingFields {...p} step={step} set={set} /> : null}
      {step.kind === "coat" ? <CoatFields {...p} step={step} set={set} /> : null}
      {step.kind === "working" ? <WorkFields {...p} step={step} set={set} /> : null}
      {step.kind === "coat" ? <CupFigure step={step} a={a} /> : null}
      {technique ? <TechniqueNote technique={technique} /> : null}
      <fieldset className="grid grid-cols-2 gap-2">
        <legend className="sr-only">When</legend>
        <TextField
          label="Waits first"
          value={exactSpan(step.wait_min ?? 0)}
          onTake={(t) => {
            const m = readSpan(t);
            return m === null ? { ok: false, why: "write 40 min, 1:30, 6 h or 2 days" } : set("wait_min", m);
          }}
        />
        <TextField
          label="Hands on"
          value={exactSpan(step.hands_on_min ?? 10)}
          onTake={(t) => {
            const m = readSpan(t);
            return m === null ? { ok: false, why: "write 40 min, 1:30 or 2 h" } : set("hands_on_min", m);
          }}
        />
        <p className="col-span-2 text-xs text-ink-2">
          {clock.long(times.start_min)} to {clock.short(times.end_min)}
          {step.fixed_start ? " · fixed" : ""}
        </p>
      </fieldset>
      {seams.length || above.length ? (
        <ul className="border-y border-line-soft py-1 text-sm" data-testid="step-seams">
          {[...seams, ...above].map((s) => (
            <li key={s.id}>
              <button
                type="button"
                className="flex min-h-7 w-full items-center gap-2 text-left hover:bg-paper-2"
                onClick={() => p.onSeam(s.id, s.zone_id)}
              >
                <LineSample verdict={s.verdict} />
                <span className="truncate">
                  {s.upper_step === step.id
                    ? `on ${steps.find((x) => x.id === s.lower_step)?.name ?? "the base material"}`
                    : `under ${steps.find((x) => x.id === s.upper_step)?.name}`}
                </span>
                <span className="ml-auto shrink-0 text-xs">{s.verdict === "sound" ? "sound" : s.word}</span>
              </button>
            </li>
          ))}
        </ul>
      ) : null}
      <Zones {...p} set={set} />
      {coat ? <Hardening p={p} /> : null}
      {coat ? <RescuePanel {...p} step={step.id} /> : null}
      {step.kind === "working" ? <RescuePanel {...p} step={step.acts_on} /> : null}
      {coat ? <FaultPanel {...p} step={step.id} /> : null}
      {notes.length ? (
        <div className="text-xs" data-testid="cautions">
          <h3 className="font-semibold">Cautions</h3>
          <ul className="list-disc space-y-1 pl-4">
            {notes.map((n) => (
              <li key={n.caution}>{n.text}</li>
            ))}
          </ul>
        </div>
      ) : null}
      <More {...p} set={set} />
      <TextField label="Note" multiline value={step.note ?? ""} onTake={(t) => set("note", t)} />
      <div className="flex flex-wrap gap-1.5 no-print">
        <button type="button" className="push" onClick={() => p.onAdd(p.zone, step.id)}>
          Lay something over it
        </button>
        <button type="button" className="push" onClick={() => p.onOver(p.zone, step.id)}>
          What may go over or under?
        </button>
        <MoveButtons {...p} />
        <button type="button" className="push" onClick={() => p.onRemove(step.id)}>
          Remove
        </button>
      </div>
    </div>
  );
}

/** What the mix, the technique or the order says about this step, apart from its seams. */
function Remarks(p: { remarks: Remark[]; build: string; store: BuildStore }) {
  const { remarks } = p;
  if (!remarks.length) return null;
  const mend = async (r: Remark) => {
    const { data } = await api.GET("/api/builds/{build_id}/remarks/{remark_id}", {
      params: { path: { build_id: p.build, remark_id: r.id } },
    });
    const first = data?.[0];
    if (first) void p.store.look(first.title, first.edits as Edit[]);
    else p.store.say("Nothing that was tried settles this; change it by hand, or try it on scrap.");
  };
  return (
    <ul className="space-y-2 text-sm" data-testid="remarks">
      {remarks.map((r) => (
        <li key={r.id} className="flex items-start gap-2">
          {r.verdict === "sound" ? (
            <span className="w-[30px] shrink-0 text-center text-xs leading-5 text-ink-2">hint</span>
          ) : (
            <LineSample verdict={r.verdict} />
          )}
          <span>
            {r.sentence} <span className="text-ink-2">{r.advice}</span>
            {r.verdict !== "sound" ? (
              <button type="button" className="push mt-1 no-print" onClick={() => void mend(r)}>
                Try a way out
              </button>
            ) : null}
          </span>
        </li>
      ))}
    </ul>
  );
}

function FittingFields(p: Props & { step: FittingStep; set: Set }) {
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

export function Toggles(p: {
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

const AID_WORDS: Record<string, string> = { fan: "a fan", warm_air: "warm air", cabinet: "a drying cabinet" };

/** What few steps need: the technique, a fixed start, a part that has to be off, something that hurries drying. */
function More(p: Props & { set: Set }) {
  const { step, set, known, plan } = p;
  const aid = step.aids?.[0];
  const techniques = useMemo(
    () => [
      { value: "", label: "none in particular" },
      ...known.techniques.map((t) => ({ value: t.id, label: t.name })),
    ],
    [known],
  );
  const setAid = (next: { kind: string; duration_min: number; temp_c?: number | null } | null) =>
    set("aids", next ? [next] : []);
  return (
    <details className="text-sm">
      <summary className="text-ink-2">Technique, fixed start, drying aid, part off</summary>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <Choice
          label="Technique"
          className="col-span-2"
          value={step.technique ?? ""}
          options={techniques}
          onTake={(v) => void set("technique", v || null)}
        />
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
        {known.coats.find((c) => step.kind === "coat" && c.id === step.material)?.film === "oxidising" &&
        step.kind === "coat" ? (
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
          value={aid?.kind ?? ""}
          options={[
            { value: "", label: "bench air" },
            ...Object.entries(AID_WORDS).map(([value, label]) => ({ value, label })),
          ]}
          onTake={(v) =>
            void setAid(v ? { kind: v, duration_min: 60, temp_c: v === "fan" ? null : 40 } : null)
          }
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
            unit="°C"
            value={aid.temp_c ?? 40}
            onTake={(v) => setAid({ ...aid, temp_c: v })}
          />
        ) : null}
        {step.kind === "coat" ? (
          <NumberField
            label="Covers of each zone"
            unit="%"
            value={(step.coverage ?? known.coats.find((c) => c.id === step.material)?.coverage ?? 1) * 100}
            onTake={(v) => set("coverage", v / 100)}
          />
        ) : null}
        {step.kind === "coat" && step.zones.length > 1 ? (
          <NumberField
            label={`Covers of ${plan.zones.find((z) => z.id === p.zone)?.name}`}
            unit="%"
            value={
              step.coverage_by_zone?.[p.zone] !== undefined ? step.coverage_by_zone[p.zone]! * 100 : null
            }
            onTake={(v) => set("coverage_by_zone", { ...step.coverage_by_zone, [p.zone]: v / 100 })}
          />
        ) : null}
        <label className="col-span-2 flex min-h-7 items-center gap-2">
          <input
            type="checkbox"
            checked={!!step.needs_part_off}
            onChange={(e) => void set("needs_part_off", e.target.checked)}
          />
          Needs the part off
        </label>
      </div>
    </details>
  );
}

/** An instant as `2026-12-05 19:30` on the build's own clock, and back. */
export function localStamp(iso: string, zone: string): string {
  return new Date(iso).toLocaleString("sv-SE", { timeZone: zone }).slice(0, 16);
}
export function readStamp(text: string, zone: string): string | null {
  const found = /^\s*(\d{4})-(\d{2})-(\d{2})[ T](\d{1,2}):(\d{2})\s*$/.exec(text);
  if (!found) return null;
  const [y, mo, d, h, mi] = found.slice(1).map(Number) as [number, number, number, number, number];
  const wanted = Date.UTC(y, mo - 1, d, h, mi);
  if (!Number.isFinite(wanted)) return null;
  // The wall clock's offset at that instant, found in two steps so that a change of clocks is met right.
  let at = wanted;
  for (let i = 0; i < 2; i++) {
    const shown = Date.parse(`${localStamp(new Date(at).toISOString(), zone).replace(" ", "T")}:00Z`);
    at += wanted - shown;
  }
  return new Date(at).toISOString();
}

function MoveButtons(p: Props) {
  const steps = p.plan.steps ?? [];
  const mine = steps.filter((s) => s.zones.includes(p.zone));
  const at = mine.findIndex((s) => s.id === p.step.id);
  const index = (s: Step | undefined) => (s ? steps.findIndex((x) => x.id === s.id) : -1);
  return (
    <>
      <button
        type="button"
        className="push"
        disabled={at >= mine.length - 1}
        onClick={() => p.onMove(p.step.id, index(mine[at + 1]))}
      >
        Move up
      </button>
      <button
        type="button"
        className="push"
        disabled={at <= 0}
        onClick={() => p.onMove(p.step.id, index(mine[at - 1]))}
      >
        Move down
      </button>
    </>
  );
}

type Set = (
  field: string,
  value: unknown,
  label?: string,
) => Promise<{ ok: true } | { ok: false; why: string }>;

function CoatFields(p: Props & { step: CoatStep; set: Set }) {
  const { step, known, set, store } = p;
  const here = known.coats.find((c) => c.id === step.material);
  const [lacking, setLacking] = useState<string | null>(null);
  const mix = (step.mix ?? here?.mix ?? null) as Mix | null;
  const thinner = mix?.parts.find((x) => x.role === "thinner")?.material ?? null;
  const change = (id: string) => {
    const next = known.coats.find((c) => c.id === id)!;
    const edits: Edit[] = [
      { edit: "set_field", step_id: step.id, field: "material", value: id },
      next.mix
        ? { edit: "set_field", step_id: step.id, field: "mix", value: next.mix }
        : { edit: "set_field", step_id: step.id, field: "mix", absent: true },
      { edit: "set_field", step_id: step.id, field: "method", value: next.method },
      { edit: "set_field", step_id: step.id, field: "sheen", absent: true },
      { edit: "set_field", step_id: step.id, field: "dry_film_um", absent: true },
      { edit: "set_field", step_id: step.id, field: "coverage", absent: true },
      { edit: "set_field", step_id: step.id, field: "passes", value: next.passes },
    ];
    void store.edit(`${step.name}: ${next.name}`, edits);
  };
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choice
        label="Material"
        className="col-span-2"
        value={step.material}
        options={useMemo(() => known.coats.map((c) => ({ value: c.id, label: c.name })), [known])}
        onTake={change}
      />
      <Choice
        label="Put on"
        value={step.method ?? here?.method ?? "spray"}
        options={COAT_OPTIONS}
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
  const thinners = useMemo(
    () => [
      { value: "", label: "as it comes" },
      ...known.thinners.map((t) => ({ value: t.id, label: t.name })),
    ],
    [known],
  );
  const paint = mix?.parts.find((x) => x.role === "paint");
  const thinner = mix?.parts.find((x) => x.role === "thinner");
  const rest = mix?.parts.filter((x) => x !== paint && x !== thinner) ?? [];
  const unit = paint?.unit ?? "parts";
  const write = (a: number, b: number, material: string) =>
    set(
      "mix",
      {
        parts: [
          { material: step.material, role: "paint", amount: a, unit },
          ...(material ? [{ material, role: "thinner", amount: b, unit }] : []),
          ...rest,
        ],
      },
      `${step.name}: thinning`,
    );
  const [a, b] = [paint?.amount ?? 1, thinner?.amount ?? 1];
  return (
    <>
      <Choice
        label="Thinned with"
        value={thinner?.material ?? ""}
        options={thinners}
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
    </>
  );
}

function WorkFields(p: Props & { step: WorkingStep; set: Set }) {
  const { step, known, set, plan } = p;
  const target = plan.steps?.find((s) => s.id === step.acts_on);
  return (
    <div className="grid grid-cols-2 gap-2">
      <p className="col-span-2 text-sm">
        {ACTION_WORDS[step.action]}: acts on “{target?.name}”.
      </p>
      <Choice
        label="With"
        value={step.carrier ?? ""}
        options={[
          { value: "", label: "nothing wet" },
          ...known.thinners.map((t) => ({ value: t.id, label: t.name })),
        ]}
        onTake={(v) => void set("carrier", v || null)}
      />
      <Choice
        label="Tool"
        value={step.method ?? "damp_wipe"}
        options={WORK_OPTIONS}
        onTake={(v) => void set("method", v)}
      />
      <NumberField
        label="Leaves of the coat"
        unit="%"
        value={(step.leaves ?? 0.35) * 100}
        onTake={(v) => set("leaves", v / 100)}
      />
    </div>
  );
}

function CupFigure({ step, a }: { step: CoatStep; a: Assessment }) {
  const cup = a.cups[step.id];
  if (!cup) return null;
  return (
    <figure className="rounded bg-paper-2 px-3 py-2" data-testid="cup">
      <ul className="flex flex-wrap gap-x-4 gap-y-0.5">
        {cup.pours.map((x) => (
          <li key={x.material} className="text-sm">
            <span className="text-lg font-semibold">{x.drops <= 60 ? x.drops : `${x.ml.toFixed(1)} mL`}</span>{" "}
            {x.drops <= 60 ? (x.drops === 1 ? "drop" : "drops") : ""} {x.name.toLowerCase()}
          </li>
        ))}
      </ul>
      <figcaption className="text-xs text-ink-2">
        {cup.total_ml} mL; whole drops miss the ratio by {cup.ratio_error_pct} %. {cup.basis}.
      </figcaption>
    </figure>
  );
}

function Zones(p: Props & { set: Set }) {
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
      {!only ? (
        <button
          type="button"
          className="push mt-1.5 no-print"
          onClick={() =>
            void store.edit(`Split ${step.name}`, [
              { edit: "split_step", step_id: step.id, zones: [p.zone], new_id: newId(step.name) },
            ])
          }
        >
          Split off {plan.zones.find((z) => z.id === p.zone)?.name}
        </button>
      ) : null}
      {step.zones.length > 2 ? (
        <button
          type="button"
          className="push mt-1"
          title="A batch: each part in its own go, with its share of the time"
          onClick={() => void store.edit(`${step.name}, one by one`, oneByOne(plan, step))}
        >
          Each in a go of its own
        </button>
      ) : null}
    </fieldset>
  );
}

/** A step shared out over its zones, the time at the bench by their area. Recipes stay shared. */
function oneByOne(plan: Plan, step: Step): Edit[] {
  const area = (id: string) => plan.zones.find((z) => z.id === id)!.area_cm2;
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

/** Its events as ranges on a logarithmic scale of time: careful edge to the right. */
function Hardening({ p }: { p: Props }) {
  const coat = p.assessment.coats[`${p.step.id}~${p.zone}`]!;
  const rows: { words: string; range: { early: number | null; best: number | null; late: number | null } }[] =
    [
      ...EVENT_WORDS.filter(([key]) => coat.events[key]).map(([key, words]) => ({
        words,
        range: coat.events[key]!,
      })),
      ...coat.windows.flatMap((w) => [
        { words: `${w.action}: opens`, range: w.opens },
        { words: `${w.action}: closes`, range: w.closes },
      ]),
    ].filter((r) => r.range.best !== null && r.range.best < coat.end_min + 300 * 1440);
  if (!rows.length) return null;
  const x = (m: number) => {
    const t = Math.max(m - coat.end_min, 1);
    return Math.min(Math.max((Math.log10(t) / Math.log10(60 * 1440)) * 150, 0), 150);
  };
  return (
    <figure>
      <figcaption className="text-xs text-ink-2">
        After laying: best guess, and the range (logarithmic)
      </figcaption>
      <svg
        viewBox={`0 0 310 ${rows.length * 17 + 16}`}
        width="100%"
        role="img"
        aria-label={rows.map((r) => `${r.words}: ${span(r.range.best! - coat.end_min)}`).join(", ")}
      >
        {[60, 1440, 10080].map((m, i) => (
          <g key={m}>
            <path d={`M${104 + x(coat.end_min + m)} 2V${rows.length * 17 + 2}`} stroke="var(--line-soft)" />
            <text
              x={104 + x(coat.end_min + m)}
              y={rows.length * 17 + 13}
              fontSize={10.5}
              textAnchor="middle"
              fill="var(--ink-2)"
            >
              {["hour", "day", "week"][i]}
            </text>
          </g>
        ))}
        {rows.map((r, i) => (
          <g key={r.words} transform={`translate(0 ${i * 17})`}>
            <text x={0} y={12} fontSize={11.5} fill="var(--ink)">
              {r.words}
            </text>
            <path
              d={`M${104 + x(r.range.early!)} 8.5H${104 + x(r.range.late!)}`}
              stroke="var(--ink)"
              strokeWidth={5}
              opacity={0.28}
            />
            <path d={`M${104 + x(r.range.best!)} 3.5v10`} stroke="var(--ink)" strokeWidth={2} />
            <text x={306} y={12} fontSize={11.5} textAnchor="end" fill="var(--ink)">
              {span(r.range.best! - coat.end_min).replace(/ min$/, " min")}
            </text>
          </g>
        ))}
      </svg>
    </figure>
  );
}
