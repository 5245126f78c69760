/** All zones as small cores, where not all fit into the rack: one is chosen here, or stepped to, or swiped to. */
import type { Assessment, Plan } from "../../api/client";
import { grave, type Group } from "../../drawing/layout";
import { SeamPath } from "../../drawing/Line";
import type { Verdict } from "../../drawing/tokens";
import { Push } from "../../parts/Push";

const NAMED_PX = 84; // of a zone's room, from which its name stands under it
const HIGH = 26;
const WIDE = 15;

export function zonesWords(plan: Plan, group: Group): string {
  const name = plan.zones.find((z) => z.id === group.zone)?.name ?? group.zone;
  return group.zones.length > 1 ? `${name} × ${group.zones.length}` : name;
}

export function ZoneStrip(p: {
  plan: Plan;
  assessment: Assessment;
  groups: Group[];
  shown: string[];
  onZone: (zone: string) => void;
}) {
  const { plan, assessment: a, groups } = p;
  const worst = new Map<string, Verdict>();
  for (const s of Object.values(a.seams)) {
    const held = worst.get(s.zone_id);
    if (!held || grave(s.verdict) > grave(held)) worst.set(s.zone_id, s.verdict);
  }
  const first = groups.findIndex((g) => p.shown.includes(g.zone));
  const last = groups.findLastIndex((g) => p.shown.includes(g.zone));
  const few = groups.length * NAMED_PX <= innerWidth - 100;
  const one = last === first ? groups[first] : undefined;
  return (
    <>
      <nav
        className="flex items-stretch gap-1 px-2 pt-1.5 no-print"
        aria-label="Zones"
        data-testid="zone-strip"
      >
        <Push
          className="shrink-0"
          aria-label="The zone before"
          disabled={first <= 0}
          onClick={() => p.onZone(groups[first - 1]!.zone)}
        >
          ‹
        </Push>
        <ul className="flex max-h-24 min-w-0 flex-1 flex-wrap justify-center gap-0.5 overflow-y-auto">
          {groups.map((g, i) => {
            const on = i >= first && i <= last;
            const verdict = worst.get(g.zone) ?? "sound";
            return (
              <li key={g.zone} className={few ? "min-w-0 flex-1" : ""}>
                <button
                  type="button"
                  aria-current={on ? "true" : undefined}
                  aria-label={`${zonesWords(plan, g)}: ${verdict}`}
                  className={`flex h-full w-full min-w-6 flex-col items-center rounded px-0.5 py-0.5 ${on ? "bg-paper font-semibold" : "hover:bg-surround-deep"}`}
                  onClick={() => p.onZone(g.zone)}
                >
                  <MiniCore plan={plan} assessment={a} zone={g.zone} verdict={verdict} />
                  {few ? (
                    <span className="line-clamp-2 w-full text-center text-xs leading-tight">
                      {zonesWords(plan, g)}
                    </span>
                  ) : null}
                </button>
              </li>
            );
          })}
        </ul>
        <Push
          className="shrink-0"
          aria-label="The next zone"
          disabled={last >= groups.length - 1}
          onClick={() => p.onZone(groups[last + 1]!.zone)}
        >
          ›
        </Push>
      </nav>
      {few || !one ? null : (
        <p className="pt-0.5 text-center text-xs font-semibold no-print" aria-hidden="true">
          {zonesWords(plan, one)} · {first + 1} of {groups.length}
        </p>
      )}
    </>
  );
}

/** A core the size of a thumbnail: its coats as bars, its gravest seam under it. */
export function MiniCore(p: {
  plan: Plan;
  assessment: Pick<Assessment, "coats">;
  zone: string;
  verdict: Verdict;
}) {
  const coats = (p.plan.steps ?? []).filter((s) => s.kind === "coat" && s.zones.includes(p.zone));
  const each = coats.length ? HIGH / coats.length : 0;
  return (
    <svg width={WIDE + 6} height={HIGH + 10} aria-hidden="true" className="shrink-0">
      {coats.map((s, i) => (
        <rect
          key={s.id}
          x={3}
          y={HIGH - (i + 1) * each}
          width={WIDE}
          height={each}
          fill={p.assessment.coats[`${s.id}~${p.zone}`]?.colour ?? "none"}
        />
      ))}
      <rect x={3} y={0.5} width={WIDE} height={HIGH - 0.5} fill="none" stroke="var(--edge)" />
      {p.verdict !== "sound" ? <SeamPath x0={1} x1={WIDE + 5} y={HIGH + 5} verdict={p.verdict} /> : null}
    </svg>
  );
}
