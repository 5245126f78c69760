/** Under the drawing: the chosen sitting as work in order, what does not fit and what would help, and whether it holds. */
import { useState } from "react";
import { Link } from "react-router";
import type { Case, Change, DryRun, Moved, Plan, Shown, Sitting } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { span, type Clockwork } from "../../drawing/time";
import { EVENT_WORDS } from "../../drawing/tokens";
import type { Drag } from "./Timeline";
import { Happened } from "./Happened";
import { useSearch, type Sittings } from "./useSittings";
import { searchWords } from "./words";

export type Tab = "sitting" | "fit" | "holds" | "what_if" | "moved" | "all";

type Trial = { drag: Drag; moved: Moved | null; settled: boolean; keep: () => void; putBack: () => void };
type Props = {
  store: BuildStore;
  plan: Plan;
  shown: Shown;
  sittings: Sittings;
  clock: Clockwork;
  minute: number;
  sitting: Sitting | null;
  step: string | null;
  tab: Tab;
  onTab: (t: Tab) => void;
  onStep: (s: string | null) => void;
  trial: Trial | null;
  replan: () => void;
};

export function Foot(p: Props) {
  const { shown, tab } = p;
  const { unfit, hopeless } = shown.view;
  const tabs: [Tab, string][] = [
    ["sitting", "This sitting"],
    [
      "fit",
      unfit.length ? `Does not fit (${unfit.length})` : hopeless.length ? "Fits, with a clash" : "It fits",
    ],
    ["holds", "Does it hold?"],
    ["what_if", "What if"],
    ["moved", `What moved${shown.view.moved.length ? ` (${shown.view.moved.length})` : ""}`],
    ["all", "All sittings"],
  ];
  return (
    <section
      className="flex h-60 flex-col border-t border-line bg-paper print:h-auto print:border-0"
      aria-label="Under the drawing"
    >
      {p.trial ? (
        <TrialStrip {...p} trial={p.trial} />
      ) : (
        <>
          <div className="flex gap-1 border-b border-line-soft px-4 pt-1.5 no-print" role="tablist">
            {tabs.map(([key, words]) => (
              <button
                key={key}
                type="button"
                role="tab"
                id={`tab-${key}`}
                aria-selected={tab === key}
                aria-controls="tab-panel"
                className={`h-8 rounded-t px-3 text-sm ${tab === key ? "bg-paper-2 font-semibold" : "hover:bg-paper-2"}`}
                onClick={() => p.onTab(key)}
              >
                {words}
              </button>
            ))}
            <Key />
          </div>
          <div
            className="min-h-0 flex-1 overflow-y-auto px-4 py-2 no-print"
            role="tabpanel"
            id="tab-panel"
            aria-labelledby={`tab-${tab}`}
            tabIndex={0}
          >
            {tab === "sitting" ? <ThisSitting {...p} /> : null}
            {tab === "fit" ? <Fit {...p} /> : null}
            {tab === "holds" ? <Holds {...p} /> : null}
            {tab === "what_if" ? <WhatIf {...p} /> : null}
            {tab === "moved" ? <WhatMoved {...p} /> : null}
            {tab === "all" ? <AllSittings {...p} /> : null}
          </div>
        </>
      )}
      <div className="hidden print:block">
        <AllSittings {...p} />
      </div>
    </section>
  );
}

const stepName = (plan: Plan, id: string) => plan.steps?.find((s) => s.id === id)?.name ?? id;
const zoneNames = (plan: Plan, id: string) => {
  const zones = plan.steps?.find((s) => s.id === id)?.zones ?? [];
  return zones.length === plan.zones.length && zones.length > 1
    ? "all zones"
    : plan.zones
        .filter((z) => zones.includes(z.id))
        .map((z) => z.name)
        .join(", ");
};

/** What the drag in hand would break. */
function TrialStrip(p: Props & { trial: Trial }) {
  const { trial, plan, clock } = p;
  const { drag, moved } = trial;
  const to =
    drag.kind === "step"
      ? `“${stepName(plan, drag.step)}” at ${clock.long(drag.start_min)}`
      : `Sitting ${clock.long(drag.start_min)} to ${clock.short(drag.end_min)}, ${span(drag.end_min - drag.start_min)}`;
  const others = moved?.moved.filter((m) => drag.kind !== "step" || m.step !== drag.step) ?? [];
  const breaks = moved ? [...moved.said, ...moved.unfit.map((u) => u.words)] : [];
  const later = moved ? moved.finish_min - moved.finish_before_min : 0;
  const waits = moved ? moved.score.waits + moved.score.missed : 0;
  return (
    <div className="flex min-h-0 flex-1 gap-6 overflow-y-auto px-4 py-3" role="status" data-testid="trial">
      <div className="w-80 shrink-0">
        <p className="text-lg leading-tight font-semibold">{to}</p>
        <p className="mt-1 text-sm">
          {!moved
            ? "Working it out"
            : later === 0
              ? "The finish stays where it is."
              : `The finish comes ${span(Math.abs(later))} ${later > 0 ? "later" : "earlier"}: ${clock.long(moved.finish_min)}.`}
        </p>
        <div className="mt-2 flex gap-2">
          <button type="button" className="push" data-strong onClick={trial.keep}>
            Keep (Enter)
          </button>
          <button type="button" className="push" onClick={trial.putBack}>
            Put back (Esc)
          </button>
        </div>
      </div>
      <div className="min-w-0 flex-1 text-sm">
        <h2 className="font-semibold">{breaks.length || waits ? "It would break" : "It breaks nothing"}</h2>
        <ul className="mt-1 space-y-1">
          {breaks.map((b) => (
            <li key={b} className="flex gap-2">
              <Crack />
              <span>{b}</span>
            </li>
          ))}
          {moved?.stories
            .filter((s) => s.verdict === "wait" || s.missed)
            .filter(() => !moved.unfit.length)
            .map((s) => (
              <li key={s.upper_step + s.word} className="flex gap-2">
                <Crack />
                <span>
                  {stepName(plan, s.upper_step)}: {s.sentence}
                </span>
              </li>
            ))}
        </ul>
      </div>
      <div className="w-72 shrink-0 text-sm">
        <h2 className="font-semibold">{others.length ? "It takes along" : "Nothing else moves"}</h2>
        <ul className="mt-1">
          {others.slice(0, 7).map((m) => (
            <li key={m.step} className="flex justify-between gap-2">
              <span className="truncate">{stepName(plan, m.step)}</span>
              <span className="shrink-0">{m.after_min === null ? "no place" : clock.short(m.after_min)}</span>
            </li>
          ))}
          {others.length > 7 ? <li>and {others.length - 7} more</li> : null}
        </ul>
      </div>
    </div>
  );
}

/** What the drawing's marks mean. */
function Key() {
  const sample = (words: string, drawn: React.ReactNode) => (
    <span className="flex items-center gap-1">
      <svg width="26" height="14" aria-hidden="true">
        {drawn}
      </svg>
      {words}
    </span>
  );
  const ink = { stroke: "var(--ink)", fill: "none", strokeWidth: 1.5 };
  const film = (id: string) => (
    <>
      <rect width="26" height="14" fill="var(--line-soft)" />
      <rect width="26" height="14" fill={`url(#dry-${id})`} opacity="0.6" />
    </>
  );
  return (
    <span className="ml-auto flex items-center gap-4 pb-1 text-xs text-ink-2">
      {sample("wet", film("wet"))}
      {sample("workable", film("workable"))}
      {sample("soft", film("soft"))}
      {sample("window", <path d="M2 12V4H18v8M18 4h8" {...ink} strokeDasharray="16 0" />)}
      {sample("closes unmet", <path d="M2 12V4H16M16 0l-3 4l6 3l-6 3l3 4" {...ink} />)}
    </span>
  );
}

export function Crack() {
  return (
    <svg width="12" height="16" className="mt-0.5 shrink-0" aria-hidden="true">
      <path d="M6 0l-4 5l7 4l-7 3l4 4" fill="none" stroke="var(--ink)" strokeWidth="2" />
    </svg>
  );
}

function ThisSitting(p: Props) {
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
  const told = async (state: string, steps: string[]) => {
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
    <div className="flex gap-6">
      <div className="w-56 shrink-0">
        <h2 className="text-lg leading-tight font-semibold">
          {clock.long(sitting.start_min)} to {clock.short(sitting.end_min).split(" ").at(-1)}
        </h2>
        <p className="mt-1 text-sm text-ink-2">
          {sitting.lines.filter((l) => l.step).length} steps
          {sitting.setups
            ? `, ${sitting.setups} set-up${sitting.setups > 1 ? "s" : ""} with ${span(sitting.cleaning_min)} of cleaning`
            : ""}
          , {span(sitting.spare_min)} to spare
        </p>
        {shown.scheduled && open.length ? (
          <div className="mt-2 flex flex-wrap gap-1.5">
            <button
              type="button"
              className="push"
              onClick={() =>
                void told(
                  "done",
                  open.map((l) => l.step!),
                )
              }
            >
              All done as planned
            </button>
            {!over ? (
              <button
                type="button"
                className="push"
                onClick={async () => {
                  await p.sittings.record([], clock.date(sitting.end_min).toISOString());
                  p.replan();
                }}
              >
                Missed it: plan again
              </button>
            ) : null}
          </div>
        ) : null}
        {shown.can_unrecord ? (
          <button type="button" className="mt-2 text-sm underline" onClick={() => void p.sittings.unrecord()}>
            Take the last entry back
          </button>
        ) : null}
      </div>
      <ol className="min-w-0 flex-1 columns-2 gap-6 self-start">
        {sitting.lines.map((l) => (
          <li
            key={`${l.step}${l.start_min}`}
            className="flex break-inside-avoid items-baseline gap-2 border-b border-line-soft py-px"
          >
            <span className="w-11 shrink-0 font-semibold">{clock.short(l.start_min).split(" ")[1]}</span>
            {l.step ? (
              <>
                <button
                  type="button"
                  className={`min-w-0 truncate text-left hover:underline ${l.step === step ? "font-bold" : ""}`}
                  onClick={() => p.onStep(l.step!)}
                >
                  {stepName(plan, l.step)}{" "}
                  <span className="text-sm text-ink-2">{zoneNames(plan, l.step)}</span>
                </button>
                <span className="ml-auto shrink-0 text-sm">
                  {l.state ?? span(l.end_min - l.start_min)}
                  {l.pinned ? ", stays" : ""}
                </span>
                {shown.scheduled ? (
                  <button
                    type="button"
                    className="push"
                    data-bare
                    style={{ minHeight: 24 }}
                    aria-label={`What happened with ${stepName(plan, l.step)}`}
                    onClick={() => setTelling(l.step)}
                  >
                    …
                  </button>
                ) : null}
              </>
            ) : (
              <span className="text-sm text-ink-2 italic">
                clean the airbrush, {span(l.end_min - l.start_min)}
              </span>
            )}
          </li>
        ))}
      </ol>
      <div className="w-64 shrink-0 text-sm">
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
        onClose={() => setTelling(null)}
      />
    </div>
  );
}

/** Two instants, the day told once where it is the same. */
function stretch(clock: Clockwork, from: number, to: number): string {
  const [a, b] = [clock.short(from), clock.short(to)];
  return `${a} to ${a.slice(0, 3) === b.slice(0, 3) && to - from < 1440 ? b.split(" ")[1] : b}`;
}

/** What a chosen step waits for, and what must not close on it. */
function StepWindows(p: Props & { step: string }) {
  const { plan, shown, clock, step } = p;
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
          {EVENT_WORDS.filter(([key]) => (coat.events[key]?.late ?? 1e9) < coat.end_min + 90 * 1440).map(
            ([key, words]) => (
              <div key={key} className="contents">
                <dt className="text-ink-2">{words}</dt>
                <dd className="text-right">
                  {stretch(clock, coat.events[key]!.early!, coat.events[key]!.late!)}
                </dd>
              </div>
            ),
          )}
        </dl>
      ) : null}
      <span className="mt-2 flex gap-3">
        <Link className="underline" to={`/build/${p.store.id}/bench/${step}`}>
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

function Fit(p: Props) {
  const { plan, shown, clock, store } = p;
  const search = useSearch(store.id, "changes", () => undefined);
  const view = shown.view;
  const take = async (c: Change) => {
    await p.sittings.take(c.title, c.edits as never[], c.schedule, shown.revision);
    await store.load();
  };
  return (
    <div className="grid grid-cols-2 gap-8 text-sm">
      <div>
        {view.unfit.length ? (
          <>
            <h2 className="text-base font-semibold">These windows close before their work can be done</h2>
            <ul className="mt-1 space-y-1.5">
              {view.unfit.map((u) => (
                <li key={u.words} className="flex gap-2">
                  <Crack />
                  <span>{u.words}</span>
                </li>
              ))}
            </ul>
          </>
        ) : (
          <p className="text-base font-semibold">Every window is met, at its careful edge.</p>
        )}
        {view.hopeless.length ? (
          <>
            <h2 className="mt-3 font-semibold">No waiting mends these: they are for the plan</h2>
            <ul className="mt-1 space-y-1">
              {view.hopeless.map((h) => (
                <li key={h.step + h.word} className="flex gap-2">
                  <Crack />
                  <span>
                    {stepName(plan, h.step)}
                    {h.below ? ` over ${stepName(plan, h.below)}` : ""}: {h.word}.{" "}
                    {h.seam ? (
                      <Link className="underline" to={`/build/${store.id}#${encodeURIComponent(h.seam)}`}>
                        See what would mend it
                      </Link>
                    ) : null}
                  </span>
                </li>
              ))}
            </ul>
          </>
        ) : null}
      </div>
      {view.unfit.length ? (
        <div>
          <div className="flex items-center gap-3">
            <h2 className="text-base font-semibold">What would make it fit</h2>
            {search.running ? (
              <>
                <span role="status">{searchWords(search.job!, clock, (v) => v)}</span>
                <button type="button" className="push" onClick={() => void search.stop()}>
                  Stop
                </button>
              </>
            ) : (
              <button type="button" className="push" data-strong onClick={() => void search.start(20)}>
                Look for changes
              </button>
            )}
          </div>
          {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
          <ul className="mt-1">
            {search.job?.changes?.map((c) => (
              <li key={c.title} className="flex items-center gap-3 border-b border-line-soft py-1">
                <span className="min-w-0 flex-1">
                  <strong>{c.title}</strong>
                  <br />
                  {c.fits ? "then everything fits" : `then ${c.unfit_left} still does not fit`}, finished{" "}
                  {clock.long(c.finish_min)}
                </span>
                <button type="button" className="push" onClick={() => void take(c)}>
                  Take it
                </button>
              </li>
            ))}
            {search.job?.changes && !search.job.changes.length ? (
              <li>
                No small change was found that makes it fit. Take the coat off while it can be (see its rescue
                in the plan), or add hours of your own.
              </li>
            ) : null}
          </ul>
        </div>
      ) : null}
    </div>
  );
}

function Holds(p: Props) {
  const { plan, shown, clock, store } = p;
  const search = useSearch(store.id, "dry_run", () => undefined);
  const told: DryRun | null | undefined = search.job?.dry_run;
  return (
    <div className="flex gap-8 text-sm">
      <div className="w-72 shrink-0">
        <p>
          A dry run plays the plan 300 times with slow and quick coats and hands, in the same order, waiting
          where something is not ready.
        </p>
        <button
          type="button"
          className="push mt-2"
          data-strong
          disabled={search.running || !shown.scheduled}
          onClick={() => void search.start()}
        >
          {search.running ? "Playing" : "Play it"}
        </button>
        {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
        {told ? <p className="mt-2 font-semibold">{told.weakest_why}</p> : null}
      </div>
      {told ? (
        <>
          <div className="w-72 shrink-0" data-testid="dry-run">
            <h2 className="font-semibold">Likely finished {clock.long(told.likely_min)}</h2>
            <p>
              nine times in ten by {clock.long(told.late_min)}; planned {clock.long(told.planned_min)}
            </p>
            <p className="mt-2 text-xl font-semibold">{Math.round(told.whole * 100)} %</p>
            <p>of the runs met every window</p>
          </div>
          <ul className="min-w-0 flex-1">
            {told.windows.map((w) => (
              <li key={w.before + w.after + w.what} className="flex items-center gap-3 py-0.5">
                <span className="w-64 truncate">
                  {stepName(plan, w.after)} <span className="text-ink-2">on {stepName(plan, w.before)}</span>
                </span>
                <svg width="220" height="12" aria-hidden="true">
                  <path d="M0 6H220" stroke="var(--line)" />
                  <path d={`M0 6H${220 * w.share}`} stroke="var(--ink)" strokeWidth="5" />
                  {w.share < 1 ? (
                    <path
                      d={`M${220 * w.share} 0l-3 4l5 3l-4 5`}
                      fill="none"
                      stroke="var(--ink)"
                      strokeWidth="2"
                    />
                  ) : null}
                </svg>
                <span>{Math.round(w.share * 100)} %</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </div>
  );
}

function WhatIf(p: Props) {
  const { shown, clock, store } = p;
  const search = useSearch(store.id, "what_if", () => undefined);
  const cases: Case[] = search.job?.cases ?? [];
  const base = cases[0];
  const [from, to] = [
    Math.min(...cases.map((c) => c.finish_min)),
    Math.max(...cases.map((c) => Math.max(c.finish_min, c.likely_min))),
  ];
  const x = (m: number) => 8 + (to > from ? (224 * (m - from)) / (to - from) : 112);
  return (
    <div className="flex gap-8 text-sm">
      <div className="w-72 shrink-0">
        <p>
          The same plan hotter, damper, with an evening less, and with a drying cabinet: each is scheduled and
          played.
        </p>
        <div className="mt-2 flex items-center gap-2">
          {search.running ? (
            <>
              <span role="status">{searchWords(search.job!, clock, (v) => v)}</span>
              <button type="button" className="push" onClick={() => void search.stop()}>
                Stop
              </button>
            </>
          ) : (
            <button
              type="button"
              className="push"
              data-strong
              disabled={!shown.scheduled}
              onClick={() => void search.start(4)}
            >
              Ask
            </button>
          )}
        </div>
        {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
      </div>
      <ul className="min-w-0 flex-1" data-testid="cases">
        {cases.map((c) => (
          <li key={c.title} className="flex items-center gap-4 border-b border-line-soft py-1">
            <span className="w-56">
              <strong>{c.title}</strong> <span className="text-ink-2">{c.note}</span>
            </span>
            <svg width="240" height="18" aria-hidden="true" className="shrink-0">
              <path d="M8 9H232" stroke="var(--line-soft)" />
              {base ? (
                <path d={`M${x(base.finish_min)} 1v16`} stroke="var(--line)" strokeDasharray="2 2" />
              ) : null}
              <circle
                cx={x(c.finish_min)}
                cy={9}
                r={5}
                fill={c.fits ? "var(--ink)" : "var(--paper)"}
                stroke="var(--ink)"
                strokeWidth={1.5}
              />
            </svg>
            <span className="w-40 shrink-0">{c.finish_min ? clock.long(c.finish_min) : "no hours"}</span>
            <span className="min-w-0 flex-1">
              {c.fits ? `${Math.round(c.whole * 100)} % meet every window` : c.words}
              {base && c !== base && c.finish_min !== base.finish_min
                ? `; ${span(Math.abs(c.finish_min - base.finish_min))} ${c.finish_min > base.finish_min ? "later" : "sooner"}`
                : ""}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function WhatMoved({ plan, shown, clock }: Props) {
  const moved = shown.view.moved;
  if (!moved.length) return <p className="text-sm">Nothing is elsewhere than in the schedule before.</p>;
  return (
    <ul className="grid grid-cols-2 gap-x-10 text-sm">
      {moved.map((m) => (
        <li key={m.step} className="flex gap-3 border-b border-line-soft py-1">
          <span className="min-w-0 flex-1 truncate font-semibold">{stepName(plan, m.step)}</span>
          <span className="text-ink-2">
            {m.before_min === null ? "had no place" : clock.long(m.before_min)}
          </span>
          <span aria-hidden="true">→</span>
          <span>{m.after_min === null ? "no place" : clock.long(m.after_min)}</span>
        </li>
      ))}
    </ul>
  );
}

/** Everything as a table: for those who want it, for screen readers, and for paper. */
function AllSittings({ plan, shown, clock }: Props) {
  const view = shown.view;
  const closes = new Map(view.windows.filter((w) => w.closes[0] !== null).map((w) => [w.after, w]));
  return (
    <table className="w-full border-collapse text-left text-sm" data-testid="all">
      <caption className="hidden py-2 text-left text-lg font-semibold print:table-caption">
        {plan.build.name}: finished {clock.long(view.finish_min)}. Estimates; test before you trust a window.
      </caption>
      <thead>
        <tr className="border-b border-ink">
          {["Sitting", "At", "Do", "Where", "For", "Must be over by"].map((h) => (
            <th key={h} className="py-1 pr-4 font-semibold">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {view.sittings
          .filter((s) => s.lines.length)
          .flatMap((s) =>
            s.lines.map((l, i) => (
              <tr key={`${s.id}${i}`} className="border-b border-line-soft align-top">
                <td className="py-0.5 pr-4 font-semibold whitespace-nowrap">
                  {i === 0 ? `${clock.long(s.start_min)} to ${clock.short(s.end_min).split(" ").at(-1)}` : ""}
                </td>
                <td className="pr-4">{clock.short(l.start_min).split(" ")[1]}</td>
                <td className="pr-4">
                  {l.step ? stepName(plan, l.step) : "clean the airbrush"}
                  {l.state ? ` (${l.state})` : ""}
                </td>
                <td className="pr-4">{l.step ? zoneNames(plan, l.step) : ""}</td>
                <td className="pr-4 whitespace-nowrap">{span(l.end_min - l.start_min)}</td>
                <td className="whitespace-nowrap">
                  {l.step && closes.has(l.step) ? clock.long(closes.get(l.step)!.closes[0]!) : ""}
                </td>
              </tr>
            )),
          )}
      </tbody>
    </table>
  );
}
