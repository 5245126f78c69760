/**
 * Sittings as stretches of light across the zones. Each coat is a wedge: full while it is wet, sinking as it hardens,
 * a line once it is hard; its window is a bracket over it, cracked where it closes and nobody is there. The work is
 * what stands in the light. A step, and a sitting by its head, can be dragged: what it would break is told before
 * letting go.
 */
import { memo, useMemo, useRef } from "react";
import type { Assessment, Coat, Moved, Plan, Shown, Sitting, Step, WindowSpan } from "../../api/client";
import type { Axis } from "../../drawing/axis";
import type { Clockwork } from "../../drawing/time";

export const HEAD = 40;
export const LABELS = 118;
export const RIGHT = 16;
const FOOT = 24;
const PAD = 20; // over a wedge, for its bracket
const NAME = 15; // under a wedge, for its name
const SNAP_MIN = 5;

const HEIGHT: Record<string, number> = {
  wet: 1,
  workable: 0.8,
  soft: 0.52,
  firm: 0.2,
  hard: 0.07,
  powder: 0.3,
};

export type Drag =
  | { kind: "step"; step: string; start_min: number }
  | { kind: "sitting"; sitting: Sitting; start_min: number; end_min: number };

type Props = {
  plan: Plan;
  shown: Shown;
  axis: Axis;
  clock: Clockwork;
  width: number;
  height: number;
  minute: number;
  chosen: string | null;
  step: string | null;
  drag: Drag | null;
  tried: Moved | null;
  onChoose: (sitting: string | null) => void;
  onStep: (step: string | null) => void;
  onMinute: (minute: number) => void;
  onDrag: (drag: Drag | null, done: boolean) => void;
};

export function laneOf(plan: Plan, height: number) {
  const lane = Math.max((height - HEAD - FOOT) / plan.zones.length, 46);
  return { lane, whole: HEAD + FOOT + lane * plan.zones.length };
}

export function Timeline(p: Props) {
  const { plan, shown, axis, clock } = p;
  const { lane, whole } = laneOf(plan, p.height);
  const box = useRef<HTMLDivElement>(null);
  const at = axis.x(p.minute);
  const fromPointer = (e: React.PointerEvent) =>
    p.onMinute(Math.round(axis.minute(e.clientX - box.current!.getBoundingClientRect().left)));
  const onKey = (e: React.KeyboardEvent) => {
    const by: Record<string, number> = {
      ArrowRight: e.shiftKey ? 60 : 10,
      ArrowLeft: e.shiftKey ? -60 : -10,
      PageUp: 1440,
      PageDown: -1440,
    };
    if (!(e.key in by)) return;
    p.onMinute(Math.min(Math.max(p.minute + by[e.key]!, axis.from), axis.to));
    e.preventDefault();
  };
  return (
    <div className="relative" style={{ height: whole }}>
      <div className="absolute inset-y-0 left-0" style={{ width: LABELS }}>
        {plan.zones.map((z, i) => (
          <div
            key={z.id}
            className="absolute right-2 left-4 overflow-hidden border-t border-line pt-1 text-sm leading-tight font-semibold"
            style={{ top: HEAD + i * lane, height: lane }}
          >
            {z.name}
          </div>
        ))}
      </div>
      <div ref={box} className="absolute inset-y-0 overflow-hidden" style={{ left: LABELS, right: RIGHT }}>
        <Ground
          plan={plan}
          axis={axis}
          clock={clock}
          width={p.width}
          height={whole}
          shown={shown}
          chosen={p.chosen}
        />
        <Lanes plan={plan} view={shown.view} axis={axis} lane={lane} step={p.step} clock={clock} />
        <Marks {...p} lane={lane} box={box} />
        <Ghosts {...p} lane={lane} whole={whole} />
        {shown.view.sittings.map((s) => (
          <SittingHead key={s.id} s={s} {...p} box={box} />
        ))}
        <div
          role="slider"
          tabIndex={0}
          aria-label="Clock of the build"
          aria-valuemin={Math.round(axis.from)}
          aria-valuemax={Math.round(axis.to)}
          aria-valuenow={Math.round(p.minute)}
          aria-valuetext={clock.long(p.minute)}
          className="absolute inset-x-0 bottom-0 cursor-ew-resize touch-none"
          style={{ height: FOOT }}
          onKeyDown={onKey}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            fromPointer(e);
          }}
          onPointerMove={(e) => e.buttons & 1 && fromPointer(e)}
          data-testid="clock"
        />
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
          <path d={`M${at} ${HEAD}V${whole - FOOT + 6}`} stroke="var(--halo)" strokeWidth={4} />
          <path d={`M${at} ${HEAD}V${whole - FOOT + 6}`} stroke="var(--ink)" strokeWidth={1.5} />
          <path
            d={`M${at - 8} ${whole - 4}h16v-7l-8-8l-8 8z`}
            fill="var(--ink)"
            stroke="var(--halo)"
            strokeWidth={1.5}
          />
        </svg>
      </div>
    </div>
  );
}

/** Nights, days, and the sittings as light. */
const Ground = memo(function Ground(p: {
  plan: Plan;
  axis: Axis;
  clock: Clockwork;
  width: number;
  height: number;
  shown: Shown;
  chosen: string | null;
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
const Lanes = memo(function Lanes(p: {
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
        stroke={p.chosen ? "var(--ink)" : "rgb(0 0 0 / .45)"}
        strokeWidth={p.chosen ? 2.25 : 0.75}
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

function useDragging(box: React.RefObject<HTMLDivElement | null>) {
  const from = useRef<{ x: number; moved: boolean } | null>(null);
  return {
    /** Handlers that tell where the pointer has gone, in pixels of the drawing; a click is no drag. */
    on: (
      grab: number,
      move: (x: number) => void,
      drop: () => void,
      click: () => void,
      cancel: () => void,
    ) => ({
      onPointerDown: (e: React.PointerEvent) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, moved: false };
      },
      onPointerMove: (e: React.PointerEvent) => {
        if (!from.current || !(e.buttons & 1)) return;
        if (!from.current.moved && Math.abs(e.clientX - from.current.x) < 5) return;
        from.current.moved = true;
        void box;
        move(grab + e.clientX - from.current.x);
      },
      onPointerUp: () => {
        const was = from.current;
        from.current = null;
        if (was?.moved) drop();
        else click();
      },
      onPointerCancel: () => {
        from.current = null;
        cancel();
      },
    }),
  };
}

type MarksProps = Props & { lane: number; box: React.RefObject<HTMLDivElement | null> };

/** What can be taken hold of: each step, in its first zone and in all others, with its name under it. */
function Marks(p: MarksProps) {
  const { plan, shown, axis, lane } = p;
  const a = shown.view.assessment;
  const pinned = new Set(shown.view.schedule.pins ?? []);
  const rows = useMemo(
    () =>
      plan.zones.map((zone) =>
        (plan.steps ?? [])
          .filter((s) => s.zones.includes(zone.id) && a.times[s.id])
          .sort((x, y) => a.times[x.id]!.start_min - a.times[y.id]!.start_min),
      ),
    [plan, a],
  );
  return (
    <>
      {rows.map((steps, i) =>
        steps.map((s, n) => {
          const t = a.times[s.id]!;
          const x = axis.x(t.start_min);
          const next = steps[n + 1] ? axis.x(a.times[steps[n + 1]!.id]!.start_min) : p.width;
          const room = Math.max(next - x, axis.x(t.end_min) - x);
          return (
            <StepMark
              key={s.id}
              {...p}
              s={s}
              x={x}
              top={HEAD + i * lane}
              room={room}
              wide={axis.x(t.end_min) - x}
              pinned={pinned.has(s.id)}
              first={s.zones[0] === plan.zones[i]!.id}
            />
          );
        }),
      )}
    </>
  );
}

function StepMark(
  p: MarksProps & {
    s: Step;
    x: number;
    top: number;
    room: number;
    wide: number;
    pinned: boolean;
    first: boolean;
  },
) {
  const { s, axis, lane, shown, clock } = p;
  const t = shown.view.assessment.times[s.id]!;
  const drag = useDragging(p.box);
  const state = shown.view.states[s.id];
  const still = state === "done" || state === "skipped" || !shown.scheduled;
  const words = `${s.name}, ${clock.long(t.start_min)} to ${clock.short(t.end_min)}${p.pinned ? ", stays there" : ""}${state ? `, ${state}` : ""}`;
  const snap = (x: number) => Math.round(axis.minute(x) / SNAP_MIN) * SNAP_MIN;
  const handlers = drag.on(
    p.x,
    (x) => !still && p.onDrag({ kind: "step", step: s.id, start_min: snap(x) }, false),
    () => !still && p.onDrag(p.drag, true),
    () => p.onStep(s.id),
    () => p.onDrag(null, true),
  );
  return (
    <button
      type="button"
      className="absolute flex items-end overflow-hidden text-left"
      style={{
        left: p.x,
        top: p.top + PAD - 4,
        width: Math.max(Math.min(p.room - 1, 220), Math.max(p.wide, 8)),
        height: lane - PAD + 4,
        cursor: still ? "pointer" : "grab",
        touchAction: "none",
      }}
      aria-label={words}
      aria-pressed={p.step === s.id}
      title={words}
      tabIndex={p.first ? 0 : -1}
      data-step={s.id}
      {...handlers}
      onClick={(e) => e.detail === 0 && p.onStep(s.id)}
      onKeyDown={(e) => {
        const by = { ArrowRight: 15, ArrowLeft: -15 }[e.key];
        if (by === undefined || !e.altKey || still) return;
        e.preventDefault();
        e.stopPropagation();
        const from = p.drag?.kind === "step" && p.drag.step === s.id ? p.drag.start_min : t.start_min;
        p.onDrag({ kind: "step", step: s.id, start_min: from + by }, false);
      }}
    >
      {p.room > 24 ? (
        <span
          className={`block truncate text-xs leading-[15px] ${p.step === s.id ? "font-bold" : ""}`}
          style={{ paddingLeft: 1 }}
        >
          {p.pinned ? "▪ " : ""}
          {state === "done" ? "✓ " : ""}
          {s.name}
        </span>
      ) : null}
    </button>
  );
}

/** The head of a sitting: choose it, drag it, or drag its end. */
function SittingHead(p: Props & { s: Sitting; box: React.RefObject<HTMLDivElement | null> }) {
  const { s, axis, clock, chosen } = p;
  const move = useDragging(p.box);
  const stretch = useDragging(p.box);
  const [x0, x1] = [axis.x(s.start_min), axis.x(s.end_min)];
  if (x1 <= 0 || x0 >= p.width) return null;
  const wide = Math.max(x1 - x0, 8);
  const start = clock.wall(s.start_min);
  const on = chosen === s.id;
  const still = !p.shown.scheduled || s.end_min <= p.shown.view.now_min;
  const snap = (x: number) => Math.round(axis.minute(x) / SNAP_MIN) * SNAP_MIN;
  const length = s.end_min - s.start_min;
  const time = `${String(start.hour).padStart(2, "0")}:${String(start.minute).padStart(2, "0")}`;
  const words = `Sitting ${clock.long(s.start_min)} to ${clock.short(s.end_min)}, ${s.lines.filter((l) => l.step).length} steps`;
  const drop = () => !still && p.onDrag(p.drag, true);
  return (
    <>
      <button
        type="button"
        className={`absolute top-0 overflow-hidden rounded-t text-left leading-none whitespace-nowrap ${on ? "bg-ink text-paper" : s.lines.length ? "bg-paper" : "bg-paper-2"}`}
        style={{
          left: x0,
          width: wide,
          height: HEAD,
          touchAction: "none",
          cursor: still ? "pointer" : "grab",
        }}
        aria-label={words}
        aria-pressed={on}
        title={words}
        data-sitting={s.id}
        {...move.on(
          x0,
          (x) =>
            !still &&
            p.onDrag({ kind: "sitting", sitting: s, start_min: snap(x), end_min: snap(x) + length }, false),
          drop,
          () => p.onChoose(on ? null : s.id),
          () => p.onDrag(null, true),
        )}
        onClick={(e) => e.detail === 0 && p.onChoose(on ? null : s.id)}
        onKeyDown={(e) => {
          const by = { ArrowRight: 15, ArrowLeft: -15 }[e.key];
          if (by === undefined || !e.altKey || still) return;
          e.preventDefault();
          const held = p.drag?.kind === "sitting" && p.drag.sitting.id === s.id ? p.drag : null;
          const [a, b] = held ? [held.start_min, held.end_min] : [s.start_min, s.end_min];
          p.onDrag(
            { kind: "sitting", sitting: s, start_min: e.shiftKey ? a : a + by, end_min: b + by },
            false,
          );
        }}
      >
        {wide > 46 || (wide > 26 && on) ? (
          <>
            <span className="block px-1 text-[13px] font-semibold">{start.day}</span>
            <span className="mt-1 block px-1 text-xs">{time}</span>
          </>
        ) : wide > 20 ? (
          <span className="block text-center text-xs leading-4 font-semibold whitespace-pre-line">
            {start.day.replace(" ", "\n")}
          </span>
        ) : null}
      </button>
      {!still && wide > 14 ? (
        <span
          className="absolute top-0 cursor-ew-resize"
          style={{ left: x1 - 5, width: 10, height: HEAD, touchAction: "none" }}
          title="Drag to make it longer or shorter"
          {...stretch.on(
            x1,
            (x) =>
              p.onDrag(
                {
                  kind: "sitting",
                  sitting: s,
                  start_min: s.start_min,
                  end_min: Math.max(snap(x), s.start_min + 15),
                },
                false,
              ),
            drop,
            () => p.onChoose(s.id),
            () => p.onDrag(null, true),
          )}
        />
      ) : null}
    </>
  );
}

/** Where things would be: the drag as it stands, and what it takes along. */
function Ghosts(p: Props & { lane: number; whole: number }) {
  const { plan, axis, lane, drag, tried, shown } = p;
  if (!drag) return null;
  const a: Assessment = shown.view.assessment;
  const boxes: React.ReactNode[] = [];
  const put = (step: string, start: number, strong: boolean) => {
    const t = a.times[step];
    if (!t) return;
    const x0 = axis.x(start);
    const wide = Math.max(axis.x(start + t.end_min - t.start_min) - x0, 8);
    plan.zones.forEach((z, i) => {
      const s = plan.steps?.find((x) => x.id === step);
      if (!s?.zones.includes(z.id)) return;
      boxes.push(
        <rect
          key={`${step}${z.id}`}
          x={x0}
          y={HEAD + i * lane + PAD - 2}
          width={wide}
          height={lane - PAD - NAME + 2}
          fill={strong ? "rgb(0 0 0 / .25)" : "none"}
          stroke="var(--ink)"
          strokeWidth={strong ? 2.5 : 1.75}
          strokeDasharray={strong ? undefined : "5 3"}
        />,
      );
    });
  };
  for (const m of tried?.moved ?? [])
    if (m.after_min !== null && !(drag.kind === "step" && m.step === drag.step))
      put(m.step, m.after_min, false);
  if (drag.kind === "step") put(drag.step, drag.start_min, true);
  else
    boxes.push(
      <rect
        key="sitting"
        x={axis.x(drag.start_min)}
        y={2}
        width={Math.max(axis.x(drag.end_min) - axis.x(drag.start_min), 4)}
        height={p.whole - FOOT - 2}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={2.5}
        strokeDasharray="7 4"
      />,
    );
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      {boxes}
    </svg>
  );
}
