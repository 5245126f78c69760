/** The chosen sitting: its work in order, what goes on drying when one leaves, and a chosen step's windows and events. */
import { useState } from "react";
import { Link } from "react-router";
import { span, type Clockwork } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";
import { Happened } from "./Happened";
import { Crack, stepName, zonesOfStep, type Props } from "./parts";
import { betweenWork, howLong } from "../../model/lines";
import { Push } from "../../parts/Push";
import { countOf } from "./words";

export function ThisSitting(p: Props) {
  const { plan, shown, clock, sitting, step } = p;
  const [telling, setTelling] = useState<string | null>(null);
  const view = shown.view;
  const chosen = step ? view.assessment.times[step] : undefined;
  if (!sitting)
    return (
      <p className="text-sm">
        {chosen && step
          ? `“${stepName(plan, step)}” lies outside your sittings, ${clock.long(chosen.start_min)}.`
          : "Choose a sitting by its head, or a step."}
      </p>
    );
  const over = sitting.end_min <= view.now_min;
  const open = sitting.lines.filter((l) => l.step && !l.state);
  const record = async (state: string, steps: string[]) => {
    const entries = steps.flatMap((id) => {
      const t = view.assessment.times[id]!;
      const s = plan.steps!.find((x) => x.id === id)!;
      return s.zones.map((zone) => ({
        step: id,
        zone,
        state,
        starts_at: clock.date(t.start_min).toISOString(),
        ends_at: clock.date(t.end_min).toISOString(),
      }));
    });
    await p.sittings.record(entries, clock.date(sitting.end_min).toISOString());
  };
  return (
    <div className="flex flex-col gap-4 min-[900px]:flex-row min-[900px]:gap-6" data-testid="this-sitting">
      <div className="shrink-0 min-[900px]:w-56">
        <h2 className="text-lg leading-tight font-semibold max-[899.9px]:hidden">
          {clock.long(sitting.start_min)} to {clock.time(sitting.end_min)}
        </h2>
        <p className="mt-1 text-sm text-ink-2 max-[899.9px]:hidden">
          {countOf(sitting.lines.filter((l) => l.step).length)}
          {sitting.setups
            ? `, ${sitting.setups} set-up${sitting.setups > 1 ? "s" : ""} with ${span(sitting.cleaning_min)} of cleaning`
            : ""}
          , {span(sitting.spare_min)} to spare
        </p>
        {beside(shown.taken, sitting).map((t) => (
          <p key={`${t.by}${t.start_min}`} className="mt-1 text-sm text-ink-2" data-testid="taken">
            {clock.time(t.start_min)} to {clock.time(t.end_min)}: {t.by}
          </p>
        ))}
        {shown.scheduled && open.length ? (
          <div className="mt-2 flex flex-wrap gap-1.5">
            <Push
              onClick={() =>
                void record(
                  "done",
                  open.map((l) => l.step!),
                )
              }
            >
              All done as planned
            </Push>
            {!over ? (
              <Push
                onClick={async () => {
                  await p.sittings.record([], clock.date(sitting.end_min).toISOString());
                  p.replan();
                }}
              >
                Missed it: plan again
              </Push>
            ) : null}
          </div>
        ) : null}
        {shown.can_unrecord ? (
          <button type="button" className="mt-2 text-sm underline" onClick={() => void p.sittings.unrecord()}>
            Take the last entry back
          </button>
        ) : null}
      </div>
      <ol className="min-w-0 flex-1 gap-6 self-stretch min-[1100px]:columns-2 min-[900px]:self-start">
        {sitting.lines.map((l) => (
          <li
            key={`${l.step}${l.start_min}`}
            className="flex break-inside-avoid items-baseline gap-2 border-b border-line-soft py-px"
          >
            <span className="w-11 shrink-0 font-semibold">{clock.time(l.start_min)}</span>
            {l.step ? (
              <>
                <button
                  type="button"
                  className={`min-h-6 min-w-0 text-left hover:underline ${l.step === step ? "font-bold" : ""}`}
                  onClick={() => p.onStep(l.step!)}
                >
                  {stepName(plan, l.step)}{" "}
                  <span className="text-sm text-ink-2">{zonesOfStep(plan, l.step)}</span>
                </button>
                <span className="ml-auto shrink-0 text-sm">
                  {l.state ?? howLong(l)}
                  {l.pinned ? ", stays" : ""}
                </span>
                {shown.scheduled ? (
                  <Push
                    data-bare
                    style={{ minHeight: 24 }}
                    aria-label={`What happened with ${stepName(plan, l.step)}`}
                    onClick={() => setTelling(l.step)}
                  >
                    …
                  </Push>
                ) : null}
              </>
            ) : (
              <span className="text-sm text-ink-2 italic">
                {betweenWork(l)}, {span(l.end_min - l.start_min)}
              </span>
            )}
          </li>
        ))}
      </ol>
      <div className="shrink-0 text-sm min-[900px]:w-64">
        {step && chosen ? (
          <StepWindows {...p} step={step} />
        ) : (
          <>
            <h3 className="font-semibold">
              {sitting.live.length ? "Goes on drying when you leave" : "Nothing is left wet"}
            </h3>
            <ul className="mt-1 space-y-0.5">
              {sitting.live.slice(0, 6).map((id) => {
                const coat = Object.values(view.assessment.coats).find((c) => c.step_id === id);
                const firm = coat?.states.find((s) => s.state === "firm" || s.state === "hard")?.from_min;
                return (
                  <li key={id} className="flex justify-between gap-2">
                    <span className="truncate">{stepName(plan, id)}</span>
                    <span className="shrink-0">{firm !== undefined ? `firm ${clock.short(firm)}` : ""}</span>
                  </li>
                );
              })}
              {sitting.live.length > 6 ? <li>and {sitting.live.length - 6} more</li> : null}
            </ul>
          </>
        )}
      </div>
      <Happened
        key={telling}
        step={telling}
        plan={plan}
        shown={shown}
        clock={clock}
        sittings={p.sittings}
        store={p.store}
        onClose={() => setTelling(null)}
      />
    </div>
  );
}

/** What takes bench time right before or after a sitting. */
function beside(taken: Props["shown"]["taken"], s: { start_min: number; end_min: number }) {
  return taken.filter(
    (t) => Math.abs(t.end_min - s.start_min) <= BESIDE_MIN || Math.abs(t.start_min - s.end_min) <= BESIDE_MIN,
  );
}
const BESIDE_MIN = 6;

/** Two instants, the day told once where it is the same. */
function stretch(clock: Clockwork, from: number, to: number): string {
  const [a, b] = [clock.short(from), clock.short(to)];
  return `${a} to ${a.slice(0, 3) === b.slice(0, 3) && to - from < 1440 ? clock.time(to) : b}`;
}

/** What a chosen step waits for, and what must not close on it. */
function StepWindows(p: Props & { step: string }) {
  const { plan, shown, clock, step } = p;
  const words = useWords();
  const coat = Object.values(shown.view.assessment.coats).find((c) => c.step_id === step);
  const mine = shown.view.windows.filter(
    (w) => w.after === step || (w.before === step && w.closes[0] !== null),
  );
  return (
    <>
      <h3 className="font-semibold">{stepName(plan, step)}</h3>
      <ul className="mt-1 space-y-1">
        {mine.map((w) => (
          <li key={w.before + w.after + w.what} className="flex gap-2">
            {w.met ? <span className="w-3 shrink-0">·</span> : <Crack />}
            <span>
              {w.after === step ? `after “${stepName(plan, w.before)}”` : `“${stepName(plan, w.after)}”`} from{" "}
              <strong>{clock.short(w.opens[2]!)}</strong>
              {w.opens[0]! < w.opens[2]! - 5 ? ` (hopefully ${clock.short(w.opens[0]!)})` : ""}
              {w.closes[0] !== null ? (
                <>
                  {" "}
                  until <strong>{clock.short(w.closes[0]!)}</strong>
                </>
              ) : null}
              {w.risky ? "; no careful window, this rests on the best guess" : ""}
            </span>
          </li>
        ))}
        {!mine.length ? <li>Waits for nothing below it.</li> : null}
      </ul>
      {coat ? (
        <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-2 whitespace-nowrap border-t border-line-soft pt-1 text-xs">
          {words.hardening
            .filter((e) => (coat.events[e.id]?.late ?? 1e9) < coat.end_min + 90 * 1440)
            .map((e) => (
              <div key={e.id} className="contents">
                <dt className="text-ink-2">{e.words}</dt>
                <dd className="text-right">
                  {stretch(clock, coat.events[e.id]!.early!, coat.events[e.id]!.late!)}
                </dd>
              </div>
            ))}
        </dl>
      ) : null}
      <span className="mt-2 flex gap-3">
        <Link className="underline" to={`/build/${p.store.id}/mix-and-spray/${step}`}>
          Mix and spray
        </Link>
        <button
          type="button"
          className="underline"
          onClick={() => void p.sittings.pin(step, !(shown.view.schedule.pins ?? []).includes(step))}
        >
          {(shown.view.schedule.pins ?? []).includes(step) ? "Let it move" : "Keep it there"}
        </button>
      </span>
    </>
  );
}
