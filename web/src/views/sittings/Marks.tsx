/** What can be taken hold of in the drawing: steps, and sittings by their heads; and the ghosts of a drag. */
import { useMemo, useRef } from "react";
import type { Assessment, Sitting, Step } from "../../api/client";
import { FOOT, HEAD, NAME, PAD, SNAP_MIN, type Props } from "./geometry";
import { countOf } from "./words";

function useDragging() {
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

/**
 * What can be taken hold of, in the order of time, so that the keyboard goes through the sittings as they come: the head
 * of each, and the steps of the chosen one; each step in its first zone and in all others, with its name under it.
 */
export function Marks(p: Props & { lane: number }) {
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
  const lies = new Map(shown.view.sittings.flatMap((x) => x.lines.map((l) => [l.step, x.id] as const)));
  const marks = rows.flatMap((steps, i) =>
    steps.map((s, n) => {
      const t = a.times[s.id]!;
      const x = axis.x(t.start_min);
      const next = steps[n + 1] ? axis.x(a.times[steps[n + 1]!.id]!.start_min) : p.width;
      const mark = (
        <StepMark
          key={`${s.id}~${plan.zones[i]!.id}`}
          {...p}
          s={s}
          x={x}
          top={HEAD + i * lane}
          room={Math.max(next - x, axis.x(t.end_min) - x)}
          wide={axis.x(t.end_min) - x}
          pinned={pinned.has(s.id)}
          first={s.zones[0] === plan.zones[i]!.id}
          sitting={lies.get(s.id) ?? null}
        />
      );
      return { at: t.start_min, after: 1, mark };
    }),
  );
  const heads = shown.view.sittings.map((s) => ({
    at: s.start_min,
    after: 0,
    mark: <SittingHead key={`head-${s.id}`} s={s} {...p} />,
  }));
  return [...heads, ...marks].sort((x, y) => x.at - y.at || x.after - y.after).map((m) => m.mark);
}

function StepMark(
  p: Props & { lane: number } & {
    s: Step;
    x: number;
    top: number;
    room: number;
    wide: number;
    pinned: boolean;
    first: boolean;
    /** In which sitting it lies. */
    sitting: string | null;
  },
) {
  const { s, axis, lane, shown, clock } = p;
  const t = shown.view.assessment.times[s.id]!;
  const drag = useDragging();
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
        width: Math.max(Math.min(p.room - 1, s.name.length * LETTER + 8), p.wide, 8),
        height: lane - PAD + 4,
        cursor: still ? "pointer" : "grab",
        touchAction: "none",
      }}
      aria-label={words}
      aria-pressed={p.step === s.id}
      title={words}
      tabIndex={p.first && p.chosen === p.sitting ? 0 : -1}
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
      {Math.max(p.room, p.wide) >= s.name.length * LETTER_MEAN || (p.room > 56 && p.step === s.id) ? (
        <span
          className={`block truncate text-xs leading-[15px] ${p.step === s.id ? "font-bold" : ""}`}
          style={{ paddingLeft: 1 }}
        >
          {p.pinned ? "▪ " : ""}
          {state === "done" ? "✓ " : ""}
          {s.name}
        </span>
      ) : p.room > 8 ? (
        <span className="text-xs leading-[15px]" aria-hidden="true">
          ·
        </span>
      ) : null}
    </button>
  );
}

/** A name stands where it fits; elsewhere a dot hints at it, and the sitting's list has it in full. */
const LETTER_MEAN = 6.1; // px of a letter, on the average
const LETTER = 7; // px of a letter of a name, at most

/** The head of a sitting: choose it, drag it, or drag its end. */
export function SittingHead(p: Props & { s: Sitting }) {
  const { s, axis, clock, chosen } = p;
  const move = useDragging();
  const stretch = useDragging();
  const [x0, x1] = [axis.x(s.start_min), axis.x(s.end_min)];
  if (x1 <= 0 || x0 >= p.width) return null;
  const wide = Math.max(x1 - x0, 8);
  const start = clock.wall(s.start_min);
  const on = chosen === s.id;
  const still = !p.shown.scheduled || s.end_min <= p.shown.view.now_min;
  const snap = (x: number) => Math.round(axis.minute(x) / SNAP_MIN) * SNAP_MIN;
  const length = s.end_min - s.start_min;
  const time = `${String(start.hour).padStart(2, "0")}:${String(start.minute).padStart(2, "0")}`;
  const words = `Sitting ${clock.long(s.start_min)} to ${clock.short(s.end_min)}, ${countOf(s.lines.filter((l) => l.step).length)}`;
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
export function Ghosts(p: Props & { lane: number; whole: number }) {
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
