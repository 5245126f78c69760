/** Instants as people type them, by a wall clock, and back. */
import { dateFormat } from "./time";

const STAMP = { dateStyle: "short", timeStyle: "short" } as const;

/** An instant as `2026-12-05 19:30` by the clock of a time zone. */
export function localStamp(iso: string, zone: string): string {
  return dateFormat({ ...STAMP, timeZone: zone }, "sv-SE").format(new Date(iso));
}

/**
 * The instant of a wall-clock time; null where there is no such date. As everywhere in Emvar, what the clock skips is moved
 * on, and of what it shows twice the first is meant.
 */
export function readStamp(text: string, zone: string): string | null {
  const found = /^\s*(\d{4})-(\d{2})-(\d{2})[ T](\d{1,2}):(\d{2})\s*$/.exec(text);
  if (!found) return null;
  const [y, mo, d, h, mi] = found.slice(1).map(Number) as [number, number, number, number, number];
  const wanted = Date.UTC(y, mo - 1, d, h, mi);
  const read = new Date(wanted);
  if (read.getUTCMonth() !== mo - 1 || read.getUTCDate() !== d || h > 23 || mi > 59) return null;
  const shown = (at: number) =>
    Date.parse(`${localStamp(new Date(at).toISOString(), zone).replace(" ", "T")}:00Z`);
  const by = (other: number) => wanted - (shown(other) - other); // with the offset that holds at another instant
  const [before, after] = [by(wanted - DAY_MS), by(wanted + DAY_MS)];
  return new Date(shown(before) !== wanted && shown(after) === wanted ? after : before).toISOString();
}
const DAY_MS = 86_400_000;
