/** One step: what it is, how it is mixed, when; everything about it can be changed here. */
import type { Assessment, CoatStep, Edit, Knowledge, Mix, Plan, Step, WorkingStep } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { exactSpan, readSpan, span, type Clockwork } from "../../drawing/time";
import { STATE_WORDS } from "../../drawing/tokens";
import { Choice, NumberField, TextField } from "../../parts/Field";
import { stateAt } from "./Rack";
import { ACTION_WORDS, COAT_METHODS, METHOD_WORDS, WORK_METHODS } from "./words";

type Props = {
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
  return (
    <div className="space-y-3.5" data-testid="step-panel">
      <header className="space-y-1">
        <p className="text-xs text-ink-2">
          {zoneName} · step {at + 1} of {steps.length}
          {coat ? ` · ${STATE_WORDS[stateAt(a, step.id, p.zone, p.minute)]} at ${clock.short(p.minute)}` : ""}
        </p>
        <TextField label="Name" value={step.name} onTake={(t) => set("name", t, `Rename ${step.name}`)} />
      </header>
      {step.kind === "coat" ? <CoatFields {...p} step={step} set={set} /> : null}
      {step.kind === "working" ? <WorkFields {...p} step={step} set={set} /> : null}
      {step.kind === "coat" ? <CupFigure step={step} a={a} /> : null}
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
      {notes.length ? (
        <div className="text-xs">
          <h3 className="font-semibold">Heed</h3>
          <ul className="list-disc space-y-1 pl-4">
            {notes.map((n) => (
              <li key={n.text}>{n.text}</li>
            ))}
          </ul>
        </div>
      ) : null}
      <TextField label="Note" multiline value={step.note ?? ""} onTake={(t) => set("note", t)} />
      <div className="flex flex-wrap gap-1.5 no-print">
        <button type="button" className="push" onClick={() => p.onAdd(p.zone, step.id)}>
          Lay something over it
        </button>
        <MoveButtons {...p} />
        <button type="button" className="push" onClick={() => p.onRemove(step.id)}>
          Remove
        </button>
      </div>
    </div>
  );
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
        options={known.coats.map((c) => ({ value: c.id, label: c.name }))}
        onTake={change}
      />
      <Choice
        label="Put on"
        value={step.method ?? here?.method ?? "spray"}
        options={COAT_METHODS.map((m) => ({ value: m, label: METHOD_WORDS[m]! }))}
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
  const own = p.plan.materials ?? [];
  const thinners = [
    { value: "", label: "as it comes" },
    ...known.thinners.map((t) => ({ value: t.id, label: t.name })),
    ...own.map((t) => ({ value: t.id, label: t.name })),
  ];
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
        options={WORK_METHODS.map((m) => ({ value: m, label: METHOD_WORDS[m]! }))}
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
    </fieldset>
  );
}

const EVENT_WORDS: [string, string][] = [
  ["touch", "dry to the touch"],
  ["recoat", "another coat"],
  ["tape", "low-tack tape"],
  ["spirit", "white-spirit work"],
  ["hard", "hard"],
];

/** Its events as ranges on a logarithmic scale of time: careful edge to the right. */
function Hardening({ p }: { p: Props }) {
  const coat = p.assessment.coats[`${p.step.id}~${p.zone}`]!;
  const rows: { words: string; range: { early: number | null; best: number | null; late: number | null } }[] =
    [
      ...EVENT_WORDS.map(([key, words]) => ({ words, range: coat.events[key]! })),
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
              {["1 h", "1 day", "1 week"][i]}
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
