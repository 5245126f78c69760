/** One step: what it is and how it stands, what can be done with it, and, folded, everything that can be changed. */
import { Link } from "react-router";
import { api, type Edit, type Remark, type Seam, type Step } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { grave } from "../../drawing/layout";
import { exactSpan, readSpan, span } from "../../drawing/time";
import { told } from "../../drawing/units";
import { useWords } from "../../parts/BuildDoor";
import { Check, TextField } from "../../parts/Field";
import { Fold } from "../../parts/Fold";
import { LastTime } from "../../parts/LastTime";
import { newId } from "../../model/ids";
import { stateAt } from "../../model/live";
import { zoneNames } from "../../model/zones";
import { Hardening } from "./Hardening";
import { FaultPanel, RescuePanel } from "./Rescue";
import { tagWords } from "./RackVerdicts";
import { CoatFields, CupFigure, FittingFields, WorkFields } from "./StepFields";
import { More, Times } from "./StepMore";
import { placeWords, Where, WhereAt } from "./StepWhere";
import type { Props, Set } from "./stepParts";
import { Zones } from "./StepZones";
import { TechniqueNote } from "./Technique";
import { Push } from "../../parts/Push";

export function StepPanel(p: Props) {
  const { plan, step, assessment: a, store } = p;
  const words = useWords();
  const set: Set = (field, value, label) =>
    store.edit(label ?? `${step.name}: ${field.replaceAll("_", " ")}`, [
      { edit: "set_field", step_id: step.id, field, value },
    ]);
  const coat = a.coats[`${step.id}~${p.zone}`];
  const seams = Object.values(a.seams).filter((s) => s.upper_step === step.id && s.zone_id === p.zone);
  const above = Object.values(a.seams).filter(
    (s) => s.lower_step === step.id && s.zone_id === p.zone && s.verdict !== "sound",
  );
  const notes = a.notes.filter((n) => n.step_id === step.id);
  const technique = p.known.techniques.find((t) => t.id === step.technique);
  const laid = step.kind === "coat" ? p.known.coats.find((c) => c.id === step.material) : undefined;
  const where =
    step.kind === "coat"
      ? placeWords(plan, step, laid?.coverage ?? 1, words.places)
      : (words.places.find((w) => w.value === step.place)?.label ?? "");
  const worst = gravest([...seams, ...above]);
  return (
    <div data-testid="step-panel">
      <Head {...p} colour={coat?.colour ?? null} worst={worst} />
      <Remarks remarks={a.remarks.filter((r) => r.step_id === step.id)} {...p} />
      <Fold
        id={step.kind === "coat" ? "paint" : "work"}
        title={step.kind === "coat" ? "Paint" : "Work"}
        told={step.kind === "coat" ? laid?.name : words.action(step.action)}
        openAtFirst
      >
        {step.kind === "fitting" ? <FittingFields {...p} step={step} set={set} /> : null}
        {step.kind === "coat" ? <CoatFields {...p} step={step} set={set} /> : null}
        {step.kind === "working" ? <WorkFields {...p} step={step} set={set} /> : null}
        {step.kind === "coat" ? <CupFigure step={step} a={a} /> : null}
        {technique ? <TechniqueNote technique={technique} /> : null}
        {step.kind === "coat" ? (
          <LastTime step={step} onEdit={(label, edits) => void p.store.edit(label, edits)} />
        ) : null}
      </Fold>
      <Fold id="where" title="Where" told={[zoneNames(plan, step.zones), where].filter(Boolean).join(" · ")}>
        <Zones {...p} set={set} />
        {step.kind === "coat" ? <Where {...p} step={step} set={set} /> : null}
        {step.kind === "working" || (step.kind === "fitting" && /mask/.test(step.action)) ? (
          <WhereAt {...p} set={set} />
        ) : null}
      </Fold>
      <When {...p} set={set} />
      <Fold id="seams" title="Seams" told={seamsWords([...seams, ...above])}>
        {seams.length || above.length ? <SeamList {...p} seams={[...seams, ...above]} /> : null}
        {coat ? <Hardening p={p} /> : null}
      </Fold>
      {coat || step.kind === "working" ? (
        <Fold id="wrong" title="Rescue" told="if it goes wrong, and what takes it off">
          <RescuePanel {...p} step={step.kind === "working" ? step.acts_on : step.id} />
          {coat ? <FaultPanel {...p} step={step.id} /> : null}
        </Fold>
      ) : null}
      {notes.length ? (
        <Fold
          id="cautions"
          title="Safety"
          told={notes.length > 1 ? `${notes.length} cautions` : null}
          openAtFirst
        >
          <ul className="list-disc space-y-1 pl-4 text-sm" data-testid="cautions">
            {notes.map((n) => (
              <li key={n.caution}>{told(n.text)}</li>
            ))}
          </ul>
        </Fold>
      ) : null}
      <Fold id="more" title="More" told={step.note ? `“${step.note}”` : "name, technique, tool, note"}>
        <TextField label="Name" value={step.name} onTake={(t) => set("name", t, `Rename ${step.name}`)} />
        <More {...p} set={set} />
        <TextField label="Note" multiline value={step.note ?? ""} onTake={(t) => set("note", t)} />
      </Fold>
    </div>
  );
}

const gravest = (seams: Seam[]): Seam | null =>
  seams.reduce<Seam | null>((w, s) => (!w || grave(s.verdict) > grave(w.verdict) ? s : w), null);

function seamsWords(seams: Seam[]): string {
  const bad = seams.filter((s) => s.verdict !== "sound");
  if (!seams.length) return "meets nothing yet";
  if (!bad.length) return seams.length === 1 ? "sound" : `all ${seams.length} sound`;
  return `${bad.length} of ${seams.length} not sound`;
}

/** Swatch, name, state now, the worst of its seams; and the acts. */
function Head(p: Props & { colour: string | null; worst: Seam | null }) {
  const { plan, step, assessment: a, worst, store } = p;
  const words = useWords();
  const steps = plan.steps ?? [];
  const mine = steps.filter((s) => s.zones.includes(p.zone));
  const at = mine.findIndex((s) => s.id === step.id);
  const index = (s: Step | undefined) => (s ? steps.findIndex((x) => x.id === s.id) : -1);
  const zone = plan.zones.find((z) => z.id === p.zone)?.name ?? "";
  const coat = step.kind === "coat";
  return (
    <header className="mb-2 space-y-2">
      <div className="flex items-start gap-2.5 pr-7">
        {p.colour ? (
          <span
            className="swatch mt-0.5 h-9 w-9 shrink-0"
            style={{ background: p.colour }}
            aria-hidden="true"
          />
        ) : null}
        <div className="min-w-0">
          <h2 className="text-lg leading-tight font-semibold" data-testid="step-name">
            {step.name}
          </h2>
          <p className="text-xs text-ink-2">
            {zone} · {at + 1} of {mine.length}
            {coat
              ? ` · ${words.film(stateAt(a, step.id, p.zone, p.minute))} at ${p.clock.short(p.minute)}`
              : ""}
          </p>
        </div>
      </div>
      {worst && worst.verdict !== "sound" ? (
        <button
          type="button"
          className="flex min-h-8 w-full items-center gap-2 rounded border border-line px-2 py-1 text-left text-sm hover:bg-paper-2"
          onClick={() => p.onSeam(worst.id, worst.zone_id)}
        >
          <LineSample verdict={worst.verdict} />
          <span>
            <strong>{worst.verdict === "wait" ? tagWords(worst) : worst.verdict}</strong>: {worst.word}
          </span>
          <span aria-hidden="true" className="ml-auto">
            ›
          </span>
        </button>
      ) : null}
      <div className="flex flex-wrap gap-1 no-print">
        {coat ? (
          <Link className="push" data-strong to={`/build/${p.build}/mix-and-spray/${step.id}`}>
            Mix it
          </Link>
        ) : null}
        <Push onClick={() => p.onAdd(p.zone, step.id)}>Lay over it</Push>
        <Push disabled={at >= mine.length - 1} onClick={() => p.onMove(step.id, index(mine[at + 1]))}>
          Move up
        </Push>
        <Push disabled={at <= 0} onClick={() => p.onMove(step.id, index(mine[at - 1]))}>
          Move down
        </Push>
        {step.zones.length > 1 ? (
          <Push
            title={`${zone} gets a step of its own; the recipe stays shared`}
            onClick={() =>
              void store.edit(`Split ${step.name}`, [
                { edit: "split_step", step_id: step.id, zones: [p.zone], new_id: newId(step.name) },
              ])
            }
          >
            Split off {zone}
          </Push>
        ) : null}
        <Push onClick={() => p.onOver(p.zone, step.id)}>What may go here?</Push>
        <Push onClick={() => p.onRemove(step.id)}>Remove</Push>
      </div>
    </header>
  );
}

/** When it begins, how long it waits and takes, and what hurries it. */
function When(p: Props & { set: Set }) {
  const { step, set, clock } = p;
  const times = p.assessment.times[step.id]; // none as scheduled, where it was skipped
  const waits = step.wait_min ?? 0;
  const summary = times
    ? `${clock.short(times.start_min)}${waits ? `, after ${span(waits)}` : ""}${step.overnight ? ", left overnight" : ""}, ${span(step.hands_on_min ?? 10)} at the bench`
    : "skipped in these sittings";
  return (
    <Fold id="when" title="When" told={summary}>
      <fieldset className="grid grid-cols-2 gap-2">
        <legend className="sr-only">When</legend>
        <TextField
          label="Waits first"
          value={exactSpan(waits)}
          onTake={(t) => {
            const m = readSpan(t);
            if (m === null) return { ok: false, why: "write 40 min, 1:30, 6 h or 2 days" };
            // What is typed is a person's: the sittings keep it too.
            return p.store.edit(`${step.name}: wait min`, [
              { edit: "set_field", step_id: step.id, field: "wait_min", value: m },
              { edit: "set_field", step_id: step.id, field: "wait_by", value: "person" },
            ]);
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
        <p
          className="col-span-2 flex flex-wrap items-baseline gap-x-2 text-xs text-ink-2"
          data-testid="wait-by"
        >
          {step.fixed_start ? null : step.wait_by === "program" ? (
            <span>Emvar keeps the wait at the earliest safe time. Type another to keep your own.</span>
          ) : (
            <>
              <span>
                {step.wait_by === "person" && waits > 0
                  ? "The wait is your own, and your sittings keep it."
                  : "The wait is your own."}
              </span>
              <button
                type="button"
                className="min-h-6 underline underline-offset-2 hover:text-ink no-print"
                onClick={() => void set("wait_by", "program", `${step.name}: at the earliest safe time`)}
              >
                Let Emvar keep it at the earliest safe time
              </button>
            </>
          )}
        </p>
        <Check
          className="col-span-2"
          label="Leave what is below it overnight first"
          on={!!step.overnight}
          onTake={(on) =>
            void set("overnight", on, `${step.name}: ${on ? "left overnight first" : "no night before it"}`)
          }
        />
        {times ? (
          <p className="col-span-2 text-xs text-ink-2">
            {clock.long(times.start_min)} to {clock.short(times.end_min)}
            {step.fixed_start ? " · fixed" : ""}
          </p>
        ) : null}
      </fieldset>
      <Times {...p} />
    </Fold>
  );
}

function SeamList(p: Props & { seams: Seam[] }) {
  const name = (id: string | null) => p.plan.steps?.find((x) => x.id === id)?.name;
  return (
    <ul className="text-sm" data-testid="step-seams">
      {p.seams.map((s) => (
        <li key={s.id}>
          <button
            type="button"
            className="flex min-h-7 w-full items-center gap-2 text-left hover:bg-paper-2"
            onClick={() => p.onSeam(s.id, s.zone_id)}
          >
            <LineSample verdict={s.verdict} />
            <span>
              {s.upper_step === p.step.id
                ? `on ${name(s.lower_step) ?? "the base material"}`
                : `under ${name(s.upper_step)}`}
            </span>
            <span className="ml-auto shrink-0 text-xs">{s.verdict === "sound" ? "sound" : s.word}</span>
          </button>
        </li>
      ))}
    </ul>
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
    <ul className="mb-2 space-y-2 text-sm" data-testid="remarks">
      {remarks.map((r) => (
        <li key={r.id} className="flex items-start gap-2">
          {r.verdict === "sound" ? (
            <span className="w-[30px] shrink-0 text-center text-xs leading-5 text-ink-2">hint</span>
          ) : (
            <LineSample verdict={r.verdict} />
          )}
          <span>
            {told(r.sentence)} <span className="text-ink-2">{told(r.advice)}</span>
            {r.verdict !== "sound" ? (
              <span className="mt-1 block no-print">
                {" "}
                <Push onClick={() => void mend(r)}>Try a way out</Push>
              </span>
            ) : null}
          </span>
        </li>
      ))}
    </ul>
  );
}
