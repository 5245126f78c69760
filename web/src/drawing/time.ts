/** Instants and durations in words, always in the build's own time zone, by the hours that are liked. */
import { units } from "./units";

/** For a date-time format: 24 hours or 12, as the setting says. */
export const hourCycle = () =>
  units().hours === "12"
    ? ({ hour: "numeric", hourCycle: "h12" } as const)
    : ({ hour: "2-digit", hourCycle: "h23" } as const);

const FORMATS = new Map<string, Intl.DateTimeFormat>();

/** A date formatter, made once: making one takes milliseconds, and a page asks for hundreds. */
export function dateFormat(options: Intl.DateTimeFormatOptions, locale = "en-GB"): Intl.DateTimeFormat {
  const key = `${locale} ${JSON.stringify(options)}`;
  const format = FORMATS.get(key) ?? new Intl.DateTimeFormat(locale, options);
  FORMATS.set(key, format);
  return format;
}

export class Clockwork {
  private start: number;
  private shortForm: Intl.DateTimeFormat;
  private longForm: Intl.DateTimeFormat;
  private timeForm: Intl.DateTimeFormat;
  private parts: Intl.DateTimeFormat;

  constructor(startsAt: string, zone: string) {
    this.start = Date.parse(startsAt);
    const time = { minute: "2-digit", timeZone: zone, ...hourCycle() } as const;
    this.timeForm = dateFormat(time);
    this.shortForm = dateFormat({ weekday: "short", ...time });
    this.longForm = dateFormat({
      weekday: "short",
      day: "numeric",
      month: "short",
      ...time,
    });
    this.parts = dateFormat({
      weekday: "short",
      day: "numeric",
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
      timeZone: zone,
    });
  }
  date(minute: number) {
    return new Date(this.start + minute * 60000);
  }
  /** `Sat 12:40`; with the date where the build is long. */
  short(minute: number) {
    return this.shortForm.format(this.date(minute)).replace(",", "");
  }
  /** `12:40`: of a day that is known. */
  time(minute: number) {
    return this.timeForm.format(this.date(minute));
  }
  long(minute: number) {
    return this.longForm.format(this.date(minute)).replaceAll(",", "");
  }
  /** Wall-clock parts of an instant. */
  wall(minute: number): { day: string; hour: number; minute: number } {
    const found: Record<string, string> = {};
    for (const p of this.parts.formatToParts(this.date(minute))) found[p.type] = p.value;
    return {
      day: `${found.weekday} ${found.day}`,
      hour: Number(found.hour),
      minute: Number(found.minute),
    };
  }
}

export function span(minutes: number): string {
  const m = Math.round(minutes);
  if (m < 60) return `${m} min`;
  if (m < 48 * 60) {
    const h = m / 60;
    return h < 10 && m % 60
      ? `${Math.floor(h)} h ${m % 60 ? `${m % 60} min` : ""}`.trim()
      : `${Math.round(h)} h`;
  }
  return `${Math.round((m / 1440) * 10) / 10} days`;
}

/** A duration to the minute, as `readSpan` reads it back. */
export function exactSpan(minutes: number): string {
  const m = Math.round(minutes * 100) / 100;
  const parts = [
    [Math.floor(m / 1440), "d"],
    [Math.floor((m % 1440) / 60), "h"],
    [Math.round((m % 60) * 100) / 100, "min"],
  ] as const;
  return (
    parts
      .filter(([n]) => n > 0)
      .map(([n, unit]) => `${n} ${unit}`)
      .join(" ") || "0 min"
  );
}

export function shortSpan(minutes: number): string {
  const m = Math.max(Math.round(minutes), 1);
  if (m < 60) return `${m} min`;
  if (m < 48 * 60) return `${Math.round(m / 60)} h`;
  return `${Math.round(m / 1440)} d`;
}

/** Reads `90`, `1:30`, `1 h 30`, `2 d` as minutes; null where it is none of these. */
export function readSpan(text: string): number | null {
  const t = text.trim().toLowerCase();
  const clock = /^(\d+):([0-5]\d)$/.exec(t);
  if (clock) return Number(clock[1]) * 60 + Number(clock[2]);
  const words =
    /^(?:(\d+(?:\.\d+)?)\s*(?:d|days?))?\s*(?:(\d+(?:\.\d+)?)\s*(?:h|hours?))?\s*(?:(\d+(?:\.\d+)?)\s*(?:m|min|minutes?)?)?$/.exec(
      t,
    );
  if (!words || t === "") return null;
  const [, d, h, m] = words;
  return Number(d ?? 0) * 1440 + Number(h ?? 0) * 60 + Number(m ?? 0);
}
