/** The ground of nights and light, and on it the drying: a wedge a coat, and the windows over it. */
import { memo, useMemo } from "react";
import type { Coat, Plan, Shown, WindowSpan } from "../../api/client";
import type { Axis } from "../../drawing/axis";
import type { Clockwork } from "../../drawing/time";
import { FOOT, HEAD, NAME, PAD } from "./geometry";

const HEIGHT: Record<string, number> = {
  wet: 1,
  workable: 0.8,
  soft: 0.52,
  firm: 0.2,
  hard: 0.07,
  powder: 0.3,
};

const TAKEN_LABEL = 40; // px from which what takes the time is named

/** Nights, days, the sittings as light, and what of them something else takes. */
export const Ground = memo(function Ground(p: {
  plan: Plan;
  axis: Axis;
  clock: Clockwork;
  width: number;
  height: number;
  shown: Shown;
}) {
  const { axis, clock, plan, shown } = p;
  const drawn = useMemo(() => {
    const [nf, nt] = [plan.air?.night_from ?? "22:00", plan.air?.night_to ?? "07:00"].map((t) =>
      Number(t.slice(0, 2)),
    );
    const nights: [number, number][] = [];
    const days: { x: number; words: string }[] = [];
    const first = clock.wall(axis.from);
    let last = -1e9;
    let m = axis.from - first.minute;
    for (let guard = 0; m <= axis.to && guard < 6000; m += 60, guard++) {
      const hour = clock.wall(m + 0.01).hour;
      const night = nf! > nt! ? hour >= nf! || hour < nt! : hour >= nf! && hour < nt!;
      const [x0, x1] = [axis.x(m), axis.x(m + 60)];
      if (night) {
        const held = nights.at(-1);
        if (held && Math.abs(held[1] - x0) < 0.01) held[1] = x1;
        else nights.push([x0, x1]);
      }
      if (hour === 0 && x0 - last > 46) {
        days.push({ x: x0, words: clock.wall(m + 0.01).day });
        last = x0;
      }
    }
    return { nights, days };
  }, [axis, clock, plan.air]);
  const low = p.height - FOOT;
  return (
    <svg className="absolute inset-0 h-full w-full" aria-hidden="true">
      <rect width={p.width} height={low} y={HEAD} fill="var(--surround-deep)" />
      {drawn.nights.map(([x0, x1]) => (
        <rect key={x0} x={x0} y={HEAD} width={Math.max(x1 - x0, 0)} height={low - HEAD} fill="var(--night)" />
      ))}
      {shown.view.sittings.map((s) => (
        <rect
          key={s.id}
          x={axis.x(s.start_min)}
          y={HEAD}
          width={Math.max(axis.x(s.end_min) - axis.x(s.start_min), 1)}
          height={low - HEAD}
          fill={s.lines.length ? "var(--paper)" : "var(--paper-2)"}
          opacity={s.lines.length ? 1 : 0.55}
        />
      ))}
      <pattern id="taken" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V7" stroke="var(--ink-2)" strokeWidth="1.4" />
      </pattern>
      {shown.taken.map((t) => {
        const [x0, x1] = [axis.x(t.start_min), axis.x(t.end_min)];
        return (
          <g key={`${t.by}${t.start_min}`}>
            <rect x={x0} width={Math.max(x1 - x0, 1)} height={low} fill="url(#taken)" opacity={0.55} />
            {x1 - x0 > TAKEN_LABEL ? (
              <text x={x0 + 4} y={HEAD / 2 + 4} fontSize={12} fill="var(--ink)" className="taken-name">
                {t.by.length > (x1 - x0) / 7 ? `${t.by.slice(0, Math.floor((x1 - x0) / 7) - 1)}…` : t.by}
              </text>
            ) : null}
          </g>
        );
      })}
      {drawn.days.map((d) => (
        <g key={d.x}>
          <path d={`M${d.x} ${low}v6`} stroke="var(--ink-2)" />
          <text x={d.x + 4} y={p.height - 7} fontSize={12} fill="var(--ink-2)">
            {d.words}
          </text>
        </g>
      ))}
      <path
        d={`M${axis.x(shown.view.now_min)} ${HEAD}V${low}`}
        stroke="var(--ink)"
        strokeWidth={shown.view.now_min > 0 ? 1 : 0}
        strokeDasharray="2 4"
      />
    </svg>
  );
});

/** The drying: a wedge a coat, patterned while it can be moved, and the windows over it. */
export const Lanes = memo(function Lanes(p: {
  plan: Plan;
  view: Shown["view"];
  axis: Axis;
  lane: number;
  step: string | null;
  clock: Clockwork;
}) {
  const { plan, view, axis, lane } = p;
  const a = view.assessment;
  const placed = new Set(Object.keys(a.times));
  const shapes: React.ReactNode[] = [];
  plan.zones.forEach((zone, i) => {
    const top = HEAD + i * lane;
    const low = top + lane - NAME;
    const mine = (plan.steps ?? [])
      .filter((s) => s.zones.includes(zone.id) && placed.has(s.id))
      .sort((x, y) => a.times[x.id]!.start_min - a.times[y.id]!.start_min);
    const coats = mine.filter((s) => s.kind === "coat");
    shapes.push(<path key={zone.id} d={`M0 ${top}H9000`} stroke="var(--line)" strokeWidth={0.75} />);
    shapes.push(<path key={`${zone.id}-l`} d={`M0 ${low}H9000`} stroke="var(--line)" strokeWidth={0.5} />);
    coats.forEach((s, n) => {
      const coat = a.coats[`${s.id}~${zone.id}`];
      if (!coat) return;
      const next = coats[n + 1];
      const until = next ? a.times[next.id]!.start_min : axis.to;
      shapes.push(
        <Wedge
          key={`${s.id}~${zone.id}`}
          coat={coat}
          axis={axis}
          top={top + PAD}
          low={low}
          until={until}
          chosen={s.id === p.step}
        />,
      );
    });
    for (const s of mine) {
      if (s.kind === "coat") continue;
      const t = a.times[s.id]!;
      const [x0, x1] = [axis.x(t.start_min), axis.x(t.end_min)];
      const wide = Math.max(x1 - x0, 5);
      const thick = s.id === p.step ? 2.5 : 1.25;
      // Work on a coat takes a bite out of it; what is fitted or masked stands on it.
      shapes.push(
        s.kind === "working" ? (
          <path
            key={`${s.id}~${zone.id}`}
            d={`M${x0} ${low - 15}q${wide / 2} 15 ${wide} 0v14h${-wide}z`}
            fill="var(--paper)"
            stroke="var(--ink)"
            strokeWidth={thick}
          />
        ) : (
          <path
            key={`${s.id}~${zone.id}`}
            d={`M${x0} ${low}v-16h${wide}v16`}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={thick + 0.5}
          />
        ),
      );
    }
  });
  plan.zones.forEach((zone, i) => {
    const y = HEAD + i * lane + 12;
    for (const w of view.windows) {
      if (!w.zones.includes(zone.id)) continue;
      const mine = p.step !== null && (w.before === p.step || w.after === p.step);
      if (w.closes[0] === null && !mine) continue;
      shapes.push(
        <Bracket
          key={`${w.before}${w.after}${w.what}${zone.id}`}
          w={w}
          y={y}
          axis={axis}
          strong={mine}
          words={w.met || w.zones[0] !== zone.id ? "" : `closes ${p.clock.short(w.closes[0] ?? 0)}`}
        />,
      );
    }
  });
  return (
    <svg className="absolute inset-0 h-full w-full" aria-hidden="true">
      <defs>
        <pattern id="dry-wet" width="9" height="9" patternUnits="userSpaceOnUse">
          <path
            d="M0 3q2.25-3 4.5 0t4.5 0M0 7.5q2.25-3 4.5 0t4.5 0"
            fill="none"
            stroke="#000"
            strokeWidth="1.2"
          />
        </pattern>
        <pattern id="dry-workable" width="9" height="9" patternUnits="userSpaceOnUse">
          <circle cx="2.2" cy="2.2" r="1.3" />
          <circle cx="6.7" cy="6.7" r="1.3" />
        </pattern>
        <pattern id="dry-soft" width="9" height="9" patternUnits="userSpaceOnUse">
          <path d="M-1 10L10-1M-1 1L1-1M8 10L10 8" stroke="#000" strokeWidth="0.9" />
        </pattern>
      </defs>
      {shapes}
    </svg>
  );
});

function Wedge(p: { coat: Coat; axis: Axis; top: number; low: number; until: number; chosen: boolean }) {
  const { coat, axis } = p;
  const h = p.low - p.top;
  const y = (share: number) => p.low - h * share;
  const points: [number, number][] = [[axis.x(coat.start_min), y(0.45)]];
  const marks = coat.states.filter((m) => m.from_min < axis.to);
  marks.forEach((m) => points.push([axis.x(m.from_min), y(HEIGHT[m.state] ?? 0.1)]));
  const end = axis.x(Math.min(Math.max(p.until, coat.end_min), axis.to));
  points.push([Math.max(end, points.at(-1)![0]), points.at(-1)![1]]);
  const line = points
    .map(([x, yy], i) => {
      if (i === 0) return `M${x} ${yy}`;
      const [px, py] = points[i - 1]!;
      return i === 1
        ? `L${x} ${yy}`
        : `C${px + (x - px) * 0.35} ${py + (yy - py) * 0.75} ${px + (x - px) * 0.6} ${yy} ${x} ${yy}`;
    })
    .join("");
  const shape = `${line}V${p.low}H${points[0]![0]}Z`;
  const id = `cut-${coat.id}`;
  return (
    <g>
      <clipPath id={id}>
        <path d={shape} />
      </clipPath>
      <path
        d={shape}
        fill={coat.colour}
        stroke={p.chosen ? "var(--ink)" : "var(--edge)"}
        strokeWidth={p.chosen ? 2.25 : 1}
      />
      {marks.map((m, i) => {
        if (!["wet", "workable", "soft"].includes(m.state)) return null;
        const x0 = axis.x(m.from_min);
        const x1 = marks[i + 1] ? axis.x(marks[i + 1]!.from_min) : end;
        return (
          <rect
            key={m.state}
            x={x0}
            y={p.top}
            width={Math.max(x1 - x0, 0)}
            height={h}
            fill={`url(#dry-${m.state})`}
            opacity={0.34}
            clipPath={`url(#${id})`}
          />
        );
      })}
    </g>
  );
}

/** When something may be done to a coat: whole between the careful edges, dotted out to the hopeful ones. */
function Bracket(p: { w: WindowSpan; y: number; axis: Axis; strong: boolean; words: string }) {
  const { w, y, axis, strong } = p;
  const open = axis.x(w.opens[2]!);
  const hopeful = axis.x(w.opens[0]!);
  const ends = w.closes[0] !== null;
  const close = ends ? axis.x(w.closes[0]!) : Math.min(open + 26, axis.x(axis.to));
  const late = w.closes[2] !== null ? axis.x(w.closes[2]!) : close;
  const stroke = { stroke: "var(--ink)", fill: "none", strokeWidth: strong || !w.met ? 2 : 1.25 };
  const crack = `M${close} ${y - 6}l-4 5l7 4l-7 5l4 6`;
  return (
    <g>
      <path d={`M${open} ${y + 7}V${y}H${close}`} {...stroke} />
      {ends ? (
        w.met ? (
          <path d={`M${close} ${y}v7`} {...stroke} />
        ) : (
          <>
            <path d={crack} stroke="var(--halo)" strokeWidth={6} fill="none" />
            <path d={crack} {...stroke} strokeWidth={2.25} />
            {p.words ? (
              <text
                x={close + 9}
                y={y + 3}
                fontSize={12}
                fontWeight={650}
                fill="var(--ink)"
                stroke="var(--halo)"
                strokeWidth={3}
                paintOrder="stroke"
              >
                {p.words}
              </text>
            ) : null}
          </>
        )
      ) : (
        <path d={`M${close} ${y}l-5-3m5 3l-5 3`} {...stroke} />
      )}
      {hopeful < open - 2 ? (
        <path d={`M${hopeful} ${y}H${open}`} {...stroke} strokeDasharray="1.5 3.5" />
      ) : null}
      {late > close + 2 && w.met ? (
        <path d={`M${close} ${y}H${late}`} {...stroke} strokeDasharray="1.5 3.5" />
      ) : null}
    </g>
  );
}
