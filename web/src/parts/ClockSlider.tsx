/** The clock of a build as a slider over a drawing: dragged, or moved by keys. It reads; it never edits. */
import { useRef, type ReactNode } from "react";
import type { Axis } from "../drawing/axis";
import type { Clockwork } from "../drawing/time";

export function ClockSlider(p: {
  axis: Axis;
  clock: Clockwork;
  minute: number;
  onMinute: (minute: number) => void;
  className: string;
  style: React.CSSProperties;
  /** Keys beyond the usual ones; true where it was one of them. */
  onOther?: (key: string) => boolean;
  box?: React.RefObject<HTMLDivElement | null>;
  children?: ReactNode;
}) {
  const { axis, minute } = p;
  const own = useRef<HTMLDivElement>(null);
  const box = p.box ?? own;
  const set = (m: number) => p.onMinute(Math.min(Math.max(m, axis.from), axis.to));
  const onKey = (e: React.KeyboardEvent) => {
    const by: Record<string, number> = {
      ArrowRight: e.shiftKey ? 60 : 10,
      ArrowLeft: e.shiftKey ? -60 : -10,
      PageUp: 1440,
      PageDown: -1440,
    };
    if (e.key in by) set(minute + by[e.key]!);
    else if (!p.onOther?.(e.key)) return;
    e.preventDefault();
    e.stopPropagation();
  };
  const fromPointer = (e: React.PointerEvent) =>
    set(Math.round(axis.minute(e.clientX - box.current!.getBoundingClientRect().left)));
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Clock of the build"
      aria-valuemin={Math.round(axis.from)}
      aria-valuemax={Math.round(axis.to)}
      aria-valuenow={Math.round(minute)}
      aria-valuetext={p.clock.long(minute)}
      className={`touch-none cursor-ew-resize ${p.className}`}
      style={p.style}
      onKeyDown={onKey}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        fromPointer(e);
      }}
      onPointerMove={(e) => e.buttons & 1 && fromPointer(e)}
      data-testid="clock"
    >
      {p.children}
    </div>
  );
}
