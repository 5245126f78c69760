/** What the child process finds out: what would make it fit, whether it holds, what if; and what moved. */
import { told } from "../../drawing/units";
import { Link } from "react-router";
import type { Case, Change, DryRun } from "../../api/client";
import { span } from "../../drawing/time";
import { Crack, stepName, type Props } from "./parts";
import { useSearch } from "./useSittings";
import { useWords } from "../../parts/BuildDoor";
import { searchWords } from "./words";
import { Push } from "../../parts/Push";

export function Fit(p: Props) {
  const words = useWords();
  const { plan, shown, clock, store } = p;
  const search = useSearch(store.id, "changes", () => undefined);
  const view = shown.view;
  const care = view.assessment.stories.filter((s) => s.verdict === "caution");
  const take = async (c: Change) => {
    await p.sittings.take(c.title, c.edits as never[], c.schedule, shown.revision);
    await store.load();
  };
  return (
    <div className="grid gap-4 min-[900px]:grid-cols-2 min-[900px]:gap-8 text-sm">
      <div>
        {view.unfit.length ? (
          <>
            <h2 className="text-base font-semibold">What does not fit</h2>
            <ul className="mt-1 space-y-1.5">
              {view.unfit.map((u) => (
                <li key={u.words} className="flex gap-2">
                  <Crack />
                  <span>{told(u.words)}</span>
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
      {!view.unfit.length && care.length ? (
        <div>
          <h2 className="text-base font-semibold">At these times it wants care</h2>
          <ul className="mt-1 space-y-1">
            {care.slice(0, 7).map((s) => (
              <li key={s.upper_step + s.word + s.lower_step}>
                <strong>{stepName(plan, s.upper_step)}</strong>, {s.word}: {told(s.advice)}
              </li>
            ))}
            {care.length > 7 ? <li>and {care.length - 7} more; see the plan, as scheduled</li> : null}
          </ul>
        </div>
      ) : null}
      {view.unfit.length ? (
        <div>
          <div className="flex items-center gap-3">
            <h2 className="text-base font-semibold">What would make it fit</h2>
            {search.running ? (
              <>
                <span role="status">{searchWords(search.job!, clock, (v) => v, words.search)}</span>
                <Push onClick={() => void search.stop()}>Stop</Push>
              </>
            ) : (
              <Push data-strong onClick={() => void search.start(20)}>
                Look for changes
              </Push>
            )}
          </div>
          {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
          <ul className="mt-1">
            {search.job?.changes?.map((c) => (
              <li key={c.title} className="flex items-center gap-3 border-b border-line-soft py-1">
                <span className="min-w-0 flex-1">
                  <strong>{told(c.title)}</strong>
                  <br />
                  {c.fits ? "then everything fits" : `then ${c.unfit_left} still does not fit`}, finished{" "}
                  {clock.long(c.finish_min)}
                </span>
                <Push onClick={() => void take(c)}>Take it</Push>
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

export function Holds(p: Props) {
  const { plan, shown, clock, store } = p;
  const search = useSearch(store.id, "dry_run", () => undefined);
  const run: DryRun | null | undefined = search.job?.dry_run;
  return (
    <div className="flex gap-8 text-sm">
      <div className="w-72 shrink-0">
        <p>
          A dry run plays the plan 300 times with slow and quick coats and hands, in the same order, waiting
          where something is not ready.
        </p>
        <Push
          className="mt-2"
          data-strong
          disabled={search.running || !shown.scheduled}
          onClick={() => void search.start()}
        >
          {search.running ? "Playing" : "Play it"}
        </Push>
        {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
        {run ? <p className="mt-2 font-semibold">{run.weakest_why}</p> : null}
      </div>
      {run ? (
        <>
          <div className="w-72 shrink-0" data-testid="dry-run">
            <h2 className="font-semibold">Likely finished {clock.long(run.likely_min)}</h2>
            <p>
              nine times in ten by {clock.long(run.late_min)}; planned {clock.long(run.planned_min)}
            </p>
            <p className="mt-2 text-xl font-semibold">{Math.round(run.whole * 100)} %</p>
            <p>
              of the runs met every window; {Math.round(run.on_time * 100)} % ended within an hour of the plan
            </p>
          </div>
          <ul className="min-w-0 flex-1">
            {run.windows.map((w) => (
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

export function WhatIf(p: Props) {
  const words = useWords();
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
              <span role="status">{searchWords(search.job!, clock, (v) => v, words.search)}</span>
              <Push onClick={() => void search.stop()}>Stop</Push>
            </>
          ) : (
            <Push data-strong disabled={!shown.scheduled} onClick={() => void search.start(4)}>
              Ask
            </Push>
          )}
        </div>
        {search.job?.error ? <p role="alert">{search.job.error}</p> : null}
      </div>
      <ul className="min-w-0 flex-1" data-testid="cases">
        {cases.map((c) => (
          <li key={c.title} className="flex items-center gap-4 border-b border-line-soft py-1">
            <span className="w-56">
              <strong>{told(c.title)}</strong> <span className="text-ink-2">{told(c.note)}</span>
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

export function WhatMoved({ plan, shown, clock }: Props) {
  const moved = shown.view.moved;
  if (!moved.length) return <p className="text-sm">Nothing is elsewhere than in the schedule before.</p>;
  return (
    <ul className="grid gap-x-10 min-[640px]:grid-cols-2 text-sm">
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
