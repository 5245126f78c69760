/** Under the drawing: the chosen sitting, what does not fit and what would help, whether it holds; or the drag in hand. */
import { told } from "../../drawing/units";
import { span } from "../../drawing/time";
import { AllSittings } from "./AllSittings";
import { Fit, Holds, WhatIf, WhatMoved } from "./Answers";
import { Crack, stepName, type Props, type Tab, type Trial } from "./parts";
import { ThisSitting } from "./ThisSitting";
import { Push } from "../../parts/Push";

export function Foot(p: Props & { small: boolean }) {
  const { shown, small } = p;
  const tab = small && p.tab === "sitting" ? "fit" : p.tab;
  const { unfit, hopeless } = shown.view;
  const tabs: [Tab, string][] = [
    ...(small ? [] : [["sitting", "This sitting"] as [Tab, string]]),
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
      className="flex flex-col border-t min-[900px]:h-60 border-line bg-paper print:h-auto print:border-0"
      aria-label="Under the drawing"
    >
      {p.trial ? (
        <TrialStrip {...p} trial={p.trial} />
      ) : (
        <>
          <div className="flex flex-wrap gap-1 border-b border-line-soft px-4 pt-1.5 no-print">
            <div className="flex flex-wrap gap-1" role="tablist" aria-label="Under the drawing">
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
            </div>
            {small ? null : <Key taken={shown.taken.length > 0} />}
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
        {drag.kind === "step" ? (
          <p className="mt-1 text-sm">
            Kept there, it stays when the rest is planned again, until you choose “Let it move” at the step.
          </p>
        ) : null}
        <div className="mt-2 flex gap-2">
          <Push data-strong onClick={trial.keep}>
            Keep (Enter)
          </Push>
          <Push onClick={trial.putBack}>Put back (Esc)</Push>
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
                  {stepName(plan, s.upper_step)}: {told(s.sentence)}
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
function Key({ taken }: { taken: boolean }) {
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
      {taken ? sample("taken", <rect width="26" height="14" fill="url(#taken)" />) : null}
      {sample("closes unmet", <path d="M2 12V4H16M16 0l-3 4l6 3l-6 3l3 4" {...ink} />)}
    </span>
  );
}
