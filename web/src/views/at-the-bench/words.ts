/** The words of timers and figures at the bench. */
import { distance, pressure } from "../../drawing/units";
import { span } from "../../drawing/time";
import type { StepCard } from "../../api/client";
import type { Phase, Running } from "../../model/timers";

export const MIN = 60_000;
export type Wall = (at: number) => string;

/** A figure of the moment, in the units that are liked. */
export function figureText(f: StepCard["figures"][number]): string {
  if (f.kind === "kpa") return pressure(f.value!);
  if (f.kind === "mm") return distance(f.value!);
  if (f.kind === "min") return span(f.value!);
  return f.text;
}

/** How long something takes, short enough to be read from two metres. */
export function left(ms: number): string {
  const minutes = ms / MIN;
  if (minutes < 1) return "under a minute";
  if (minutes < 10) return `${Math.ceil(minutes)} min`;
  return span(minutes);
}

const DOES: Record<Phase, string> = {
  early: "too early",
  opens: "may be ready",
  easy: "ready",
  closing: "closing",
  late: "too late",
};

/** What a running window says at an instant: its phase first, then until when. */
export function timerWords(r: Running, now: number, wall: Wall): { phase: string; rest: string } {
  const [, , careful] = r.opens as [number, number, number];
  const [safe, , most] = r.closes as [number | null, number | null, number | null];
  const phase = r.phase === "early" && r.again ? "too early again" : DOES[r.phase];
  if (r.phase === "early") {
    const from = Math.max(careful, r.waitsUntil ?? 0);
    return { phase, rest: `ready in ${left(from - now)}, at ${wall(from)}` };
  }
  if (r.phase === "opens")
    return { phase, rest: `try it; surely by ${wall(Math.max(careful, r.waitsUntil ?? 0))}` };
  if (r.phase === "easy")
    return {
      phase,
      rest: safe === null ? `since ${wall(careful)}` : `${left(safe - now)} left, until ${wall(safe)}`,
    };
  if (r.phase === "closing") return { phase, rest: `with effort, at latest ${wall(most ?? safe!)}` };
  return { phase, rest: `it closed at ${wall(most ?? safe!)}; try a hidden spot before you go on` };
}
