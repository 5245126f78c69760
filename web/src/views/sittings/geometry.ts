/** Measures of the drawing of sittings, and what its parts are given. Pixels. */
import type { Moved, Plan, Shown, Sitting } from "../../api/client";
import type { Axis } from "../../drawing/axis";
import type { Clockwork } from "../../drawing/time";

export const HEAD = 40;
export const LABELS = 118;
export const RIGHT = 16;
export const FOOT = 24;
export const PAD = 20; // over a wedge, for its bracket
export const NAME = 15; // under a wedge, for its name
export const SNAP_MIN = 5;

export type Drag =
  | { kind: "step"; step: string; start_min: number }
  | { kind: "sitting"; sitting: Sitting; start_min: number; end_min: number };

export type Props = {
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
