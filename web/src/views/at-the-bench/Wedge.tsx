/** The wedge is the timer: it thins as the coat dries, and both edges of the window stand on it. */
import type { StepCard } from "../../api/client";
import { thickness, type Running } from "../../model/timers";
import { MIN, timerWords, type Wall } from "./words";

const HIGH = 46;
const MORE = 1.5;

/** Early minutes get more room than late ones: a wash opens after minutes and closes after hours. */
function scale(r: Running): { until: number; x: (at: number) => number } {
  const [, , careful] = r.opens as [number, number, number];
  const closes = r.closes[2] ?? null;
  const until = Math.max(closes ?? r.end + (careful - r.end) * MORE, r.end + 5 * MIN);
  return {
    until,
    x: (at) => Math.sqrt(Math.min(Math.max((at - r.end) / (until - r.end), 0), 1)) * 100,
  };
}

export function Wedge(p: {
  r: Running;
  coat: StepCard | undefined;
  now: number;
  wall: Wall;
  small?: boolean;
}) {
  const { r, now } = p;
  const high = p.small ? 26 : HIGH;
  const { until, x } = scale(r);
  const states = p.coat?.states ?? [];
  const points: string[] = [];
  for (let i = 0; i <= 40; i++) {
    const at = r.end + (until - r.end) * (i / 40) ** 2;
    points.push(`${x(at).toFixed(2)},${(high * (1 - thickness(states, (at - r.end) / MIN))).toFixed(2)}`);
  }
  const [hopeful, , careful] = r.opens as [number, number, number];
  const safe = r.closes[0] ?? until;
  const most = r.closes[2] ?? until;
  const from = Math.max(careful, r.waitsUntil ?? 0);
  const { phase, rest } = timerWords(r, now, p.wall);
  const at = x(now);
  return (
    <div data-testid="wedge" data-phase={r.phase} className="min-w-0">
      <svg
        width="100%"
        height={high + 14}
        viewBox={`0 0 100 ${high + 14}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`${r.name}: ${phase}, ${rest}`}
      >
        <polygon
          points={`0,${high} ${points.join(" ")} 100,${high}`}
          fill={p.coat?.colour ?? "var(--line)"}
          stroke="var(--edge)"
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
        {/* Between the hopeful and the careful edge nobody can be sure. */}
        <path
          d={`M${x(hopeful)} ${high + 6}H${x(from)}M${x(safe)} ${high + 6}H${x(most)}`}
          stroke="var(--ink)"
          strokeWidth="3"
          strokeDasharray="3 4"
          vectorEffect="non-scaling-stroke"
        />
        <path
          d={`M${x(from)} ${high - 4}V${high + 10}M${x(from)} ${high + 6}H${x(safe)}${r.closes[0] === null ? "" : `M${x(safe)} ${high - 4}V${high + 10}`}`}
          stroke="var(--ink)"
          strokeWidth="5"
          fill="none"
          vectorEffect="non-scaling-stroke"
        />
        <path
          d={`M${at} 0V${high + 14}`}
          stroke="var(--halo)"
          strokeWidth="7"
          vectorEffect="non-scaling-stroke"
        />
        <path
          d={`M${at} 0V${high + 14}`}
          stroke="var(--ink)"
          strokeWidth="3"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </div>
  );
}
