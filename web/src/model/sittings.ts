/** What the sittings view says of a schedule as a whole. */
import type { Shown } from "../api/client";
import type { Clockwork } from "../drawing/time";

const counted = (n: number | undefined, one: string) =>
  n === undefined ? "" : `${n} ${one}${n === 1 ? "" : "s"}`;

/** How good a schedule is, and how many set-ups and sittings it takes. */
export function proof(shown: Shown): string {
  const reached = shown.view.schedule.reached ?? [];
  const of = (goal: string) => reached.find((g) => g.goal === goal)?.value;
  const counts = [counted(of("setups"), "set-up"), counted(of("sittings"), "sitting")].filter(Boolean);
  const by = shown.view.schedule.made_by === "hand" ? "placed by hand" : shown.proof;
  return [by, ...counts].join(" · ");
}

/** The headline: when it is finished, or why there is nothing to say yet. */
export function headline(shown: Shown, steps: number, clock: Clockwork): string {
  if (!steps) return "Nothing is planned yet";
  if (!shown.view.sittings.length) return "No bench time yet";
  return `Finished ${clock.long(shown.view.finish_min)}`;
}

/** What stands beside the headline: the hopeful end, and how good the schedule is. */
export function beside(shown: Shown, steps: number, running: boolean, clock: Clockwork): string {
  if (!steps) return "";
  const { view } = shown;
  const hopeful = view.hopeful_min < view.finish_min - 60 ? `hopefully ${clock.long(view.hopeful_min)}` : "";
  // What was proven was proven of what was.
  return [hopeful, shown.stale || running ? "" : proof(shown)].filter(Boolean).join(" · ");
}
