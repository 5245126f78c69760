/** Sittings as days downwards, where the drawing across has no room: the chosen one stands open. */
import { span } from "../../drawing/time";
import { ThisSitting } from "./ThisSitting";
import type { Props } from "./parts";
import { countOf } from "./words";

export function SittingsDown(
  p: Props & { chosen: string | null; onChoose: (sitting: string | null) => void },
) {
  const { shown, clock, plan } = p;
  const a = shown.view.assessment;
  const colour = (step: string) => {
    const zone = plan.steps?.find((s) => s.id === step)?.zones[0];
    return zone ? a.coats[`${step}~${zone}`]?.colour : undefined;
  };
  const used = shown.view.sittings.filter((s) => s.lines.some((l) => l.step));
  return (
    <ol className="px-3 pb-4" data-testid="sittings-down">
      {used.map((s, i) => {
        const on = s.id === p.chosen;
        const steps = s.lines.filter((l) => l.step);
        const before = used[i - 1];
        return (
          <li key={s.id}>
            {before ? (
              <p className="ml-4 border-l-2 border-dashed border-line py-2 pl-4 text-xs text-ink-2">
                {span(s.start_min - before.end_min)} between
                {before.live.length
                  ? `; ${before.live.length === 1 ? "1 coat dries" : `${before.live.length} coats dry`}`
                  : "; nothing is wet"}
              </p>
            ) : null}
            <section className={`rounded border bg-paper ${on ? "border-ink" : "border-line"}`}>
              <h2>
                <button
                  type="button"
                  className="flex min-h-12 w-full flex-wrap items-center gap-x-3 px-3 py-1.5 text-left"
                  aria-expanded={on}
                  data-sitting={s.id}
                  onClick={() => p.onChoose(on ? null : s.id)}
                >
                  <strong>
                    {clock.long(s.start_min)} to {clock.time(s.end_min)}
                  </strong>
                  <span className="flex gap-0.5" aria-hidden="true">
                    {steps.slice(0, 9).map((l) => (
                      <span
                        key={l.step! + l.start_min}
                        className="swatch h-4 w-2.5"
                        style={{ background: colour(l.step!) ?? "var(--paper-2)" }}
                      />
                    ))}
                  </span>
                  <span className="text-sm text-ink-2">
                    {countOf(steps.length)}, {span(s.spare_min)} to spare
                  </span>
                </button>
              </h2>
              {on ? (
                <div className="border-t border-line-soft p-3">
                  <ThisSitting {...p} sitting={s} />
                </div>
              ) : null}
            </section>
          </li>
        );
      })}
      {!used.length ? <li className="p-4 text-sm">Nothing is placed yet: plan the sittings.</li> : null}
    </ol>
  );
}
