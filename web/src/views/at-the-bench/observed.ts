/** What is written down of a moment: what a film showed, what instruments measured, which coat a fault is about. */
import { api, type Actual, type StepCard } from "../../api/client";
import type { BenchShot } from "../../api/journal";
import { stateOf, type Happened, type Running } from "../../model/timers";
import { MIN, type Wall } from "./words";

/** A check of a film at an age, with what was expected of it. */
export const seen = (r: Running, age_min: number, reached: boolean) => ({
  what: r.timer.shows,
  reached,
  exact: reached,
  age_min,
  expected_min: r.timer.opens,
  factor: r.timer.factor,
});

/** The coat that a fault is about: the step's own where it lies there, else what it works on, else what was laid last. */
export function coatOf(steps: StepCard[], h: Happened, step: StepCard): StepCard | null {
  const own = step.kind === "coat" && stateOf(h, step) !== "todo" ? step : null;
  const acted = steps.find((s) => s.id === step.acts_on) ?? null;
  const below = steps
    .slice(0, steps.indexOf(step))
    .reverse()
    .find(
      (s) => s.kind === "coat" && stateOf(h, s) === "done" && s.zones.some((z) => step.zones.includes(z)),
    );
  return own ?? acted ?? below ?? null;
}

/** What the instruments measured of a sprayed step, where they can be asked and trusted. */
export async function measured(step: StepCard): Promise<Actual | null> {
  if (!step.figures.some((f) => f.kind === "kpa")) return null;
  try {
    const { data } = await api.GET("/api/instruments");
    const actual: Actual = { by_instrument: [] };
    const names: string[] = [];
    for (const i of data ?? []) {
      if (!i.trusted) continue;
      const v = i.values as Record<string, number>;
      if (typeof v.gauge_kpa === "number" && v.gauge_kpa >= 5) {
        actual.pressure_kpa = v.gauge_kpa;
        names.push(i.name);
      }
      if (typeof v.temp_c === "number") {
        actual.temp_c = v.temp_c;
        if (typeof v.rh_pct === "number") actual.rh_pct = v.rh_pct;
        names.push(i.name);
      }
    }
    return names.length ? { ...actual, by_instrument: names } : null;
  } catch {
    return null;
  }
}

export function movedWords(moved: BenchShot["moved"], wall: Wall, start: number): string {
  const first = moved.find((m) => m.after_min !== null);
  if (!first) return "The schedule followed.";
  const others = moved.length - 1;
  return `“${first.name}” moves to ${wall(start + first.after_min! * MIN)}${others ? `, and ${others} more with it` : ""}`;
}
