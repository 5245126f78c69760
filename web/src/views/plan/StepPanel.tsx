/** One step: what it is, how it is mixed, when; everything about it can be changed here. */
import { api, type Edit, type Remark, type Step } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { exactSpan, readSpan } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";
import { TextField } from "../../parts/Field";
import { Hardening } from "./Hardening";
import { stateAt } from "../../model/live";
import { FaultPanel, RescuePanel } from "./Rescue";
import { CoatFields, CupFigure, FittingFields, WorkFields } from "./StepFields";
import { More } from "./StepMore";
import { Where, WhereAt } from "./StepWhere";
import type { Props } from "./stepParts";
import { Zones } from "./StepZones";
import { TechniqueNote } from "./Technique";

export function StepPanel(p: Props) {
  const { plan, step, assessment: a, store, clock } = p;
  const words = useWords();
  const steps = plan.steps ?? [];
  const set = (field: string, value: unknown, label?: string) =>
    store.edit(label ?? `${step.name}: ${field.replaceAll("_", " ")}`, [
      { edit: "set_field", step_id: step.id, field, value },
    ]);
  const times = a.times[step.id]; // none as scheduled, where it was skipped
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
          {coat ? ` · ${words.film(stateAt(a, step.id, p.zone, p.minute))} at ${clock.short(p.minute)}` : ""}
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
        <p
          className="col-span-2 flex flex-wrap items-baseline gap-x-2 text-xs text-ink-2"
          data-testid="wait-by"
        >
          {step.fixed_start ? null : step.wait_by === "program" ? (
            <span>Emvar keeps the wait at the earliest safe time. Type another to keep your own.</span>
          ) : (
            <>
              <span>The wait is your own.</span>
              <button
                type="button"
                className="underline underline-offset-2 hover:text-ink no-print"
                onClick={() => void set("wait_by", "program", `${step.name}: at the earliest safe time`)}
              >
                Let Emvar keep it at the earliest safe time
              </button>
            </>
          )}
        </p>
        <p className="col-span-2 text-xs text-ink-2">
          {times
            ? `${clock.long(times.start_min)} to ${clock.short(times.end_min)}`
            : "Skipped in these sittings"}
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
      {step.kind === "coat" ? <Where {...p} step={step} set={set} /> : null}
      {step.kind === "working" || (step.kind === "fitting" && /mask/.test(step.action)) ? (
        <WhereAt {...p} set={set} />
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
              <span className="mt-1 block no-print">
                {" "}
                <button type="button" className="push" onClick={() => void mend(r)}>
                  Try a way out
                </button>
              </span>
            ) : null}
          </span>
        </li>
      ))}
    </ul>
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
