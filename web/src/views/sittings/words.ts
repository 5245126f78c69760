/** Words of the sittings view, and hours as they are changed by a drag. */
import type { Hours, Plan, Searched, Sitting } from "../../api/client";
import { localStamp } from "../../drawing/stamp";
import type { Clockwork } from "../../drawing/time";

export function countOf(steps: number): string {
  return steps === 1 ? "1 step" : `${steps} steps`;
}

export function searchWords(
  job: Searched,
  clock: Clockwork,
  toMinute: (v: number) => number,
  words: (goal: string) => string,
): string {
  if (job.state === "waiting")
    return job.waits_for
      ? `Waits for the search of ${job.waits_for} to end`
      : "Waits for another search to end";
  const goal = words(job.goal);
  const seconds = `${Math.round(job.seconds)} s`;
  if (job.value === null || job.value === undefined) return `Looking for ${goal} · ${seconds}`;
  if (job.goal === "changes" || job.goal === "what_if")
    return `${job.value} of ${job.bound} ${goal} tried · ${seconds}`;
  if (job.goal === "finish")
    return `Looking for ${goal}: best ${clock.long(toMinute(job.value))} · ${seconds}`;
  return `Looking for ${goal} · ${seconds}`;
}

/** What another build has taken the time of since. */
export function crossedWords(plan: Plan, steps: string[]): string {
  const name = plan.steps?.find((s) => s.id === steps[0])?.name ?? steps[0]!;
  const more = steps.length - 1;
  return `“${name}”${more ? ` and ${more} more` : ""} ${more ? "are" : "is"} at a time that another build has taken since: plan again.`;
}

/** Date and time by the wall of the build, as the calendar writes them. */
export function wall(clock: Clockwork, minute: number, zone: string): { date: string; start: string } {
  const [date, start] = localStamp(clock.date(minute).toISOString(), zone).split(" ") as [string, string];
  return { date, start };
}

/** The hours with one sitting elsewhere or of another length. */
export function withSitting(
  hours: Hours,
  sitting: Sitting,
  to: { date: string; start: string; length_min: number } | null,
): Hours {
  const [date, start] = sitting.id.split("T") as [string, string];
  const dates = (hours.dates ?? []).filter((d) => d.date !== date || d.start !== start);
  const isDated = dates.length < (hours.dates ?? []).length;
  const moved = !to || to.date !== date || to.start !== start;
  const cancelled = [...(hours.cancelled ?? [])];
  if (moved && !cancelled.includes(sitting.id)) cancelled.push(sitting.id);
  return {
    ...hours,
    cancelled: isDated && !moved ? (hours.cancelled ?? []) : cancelled,
    dates: to ? [...dates, to] : dates,
  };
}
