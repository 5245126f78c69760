/** Time on the screen: piecewise linear, so that hours with work in them can be wider than the nights between. */
import { BUSY_AFTER_MIN, BUSY_BEFORE_MIN, BUSY_SHARE } from "./tokens";

export type Axis = { x: (minute: number) => number; minute: (x: number) => number; from: number; to: number };
export type Knot = [minute: number, x: number];

/** An axis through knots that rise in both. */
export function piecewise(knots: Knot[], from: number, to: number): Axis {
  const read = (v: number, i: 0 | 1, o: 0 | 1) => {
    const first = knots[0]!;
    if (v <= first[i]) return first[o];
    let [lo, hi] = [0, knots.length - 1];
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (knots[mid]![i] <= v) lo = mid;
      else hi = mid;
    }
    const [a, b] = [knots[lo]!, knots[hi]!];
    const d = b[i] - a[i];
    return d <= 0 ? b[o] : Math.min(a[o] + ((v - a[i]) / d) * (b[o] - a[o]), knots.at(-1)![o]);
  };
  return { x: (m) => read(m, 0, 1), minute: (px) => read(px, 1, 0), from, to };
}

/** Piecewise linear: stretches with work get BUSY_SHARE of the width, the idle ones the rest. */
export function busyAxis(times: { start_min: number; end_min: number }[], to: number, width: number): Axis {
  const from = -20;
  const marks: [number, number][] = [];
  for (const t of [...times].sort((a, b) => a.start_min - b.start_min)) {
    const [s, e] = [Math.max(t.start_min - BUSY_BEFORE_MIN, from), Math.min(t.end_min + BUSY_AFTER_MIN, to)];
    const last = marks.at(-1);
    if (last && s <= last[1]) last[1] = Math.max(last[1], e);
    else if (e > s) marks.push([s, e]);
  }
  const busy = marks.reduce((sum, [s, e]) => sum + e - s, 0);
  const idle = to - from - busy;
  const share = busy === 0 ? 0 : idle <= 0 ? 1 : BUSY_SHARE;
  const [wb, wi] = [busy ? (share * width) / busy : 0, idle > 0 ? ((1 - share) * width) / idle : 0];
  const knots: [number, number][] = [[from, 0]];
  let [at, x] = [from, 0];
  for (const [s, e] of marks) {
    if (s > at) {
      x += (s - at) * wi;
      knots.push([s, x]);
    }
    x += (e - Math.max(s, at)) * wb;
    knots.push([e, x]);
    at = e;
  }
  if (to > at) knots.push([to, x + (to - at) * wi]);
  return piecewise(knots, from, to);
}

export type Light = { id: string; start_min: number; end_min: number; lines: unknown[] };
const [LENS, DARK, UNUSED] = [0.26, 0.22, 0.3];

/**
 * Sittings as stretches of light: the chosen one opened as under a lens, the others by their length, those without
 * work narrow; the dark between them by the square root of its length.
 */
export function sittingAxis(
  lights: Light[],
  from: number,
  to: number,
  width: number,
  chosen: string | null,
): Axis {
  const shown = lights.filter((l) => l.end_min > from && l.start_min < to);
  const stretches: { to: number; weight: number; kind: "light" | "dark" | "lens" }[] = [];
  let at = from;
  for (const l of shown) {
    if (l.start_min > at)
      stretches.push({ to: l.start_min, weight: Math.sqrt(l.start_min - at), kind: "dark" });
    const start = Math.max(at, l.start_min);
    const weight = (l.end_min - start) * (l.lines.length ? 1 : UNUSED);
    stretches.push({ to: Math.min(l.end_min, to), weight, kind: l.id === chosen ? "lens" : "light" });
    at = l.end_min;
  }
  if (to > at) stretches.push({ to, weight: Math.sqrt(to - at), kind: "dark" });
  const sum = (kind: string) => stretches.reduce((s, x) => s + (x.kind === kind ? x.weight : 0), 0);
  const [light, dark, lens] = [sum("light"), sum("dark"), sum("lens")];
  const lensShare = lens ? (light ? LENS : 1 - DARK) : 0;
  const darkShare = dark ? (light || lens ? DARK : 1) : 0;
  const scale = {
    lens: lens ? (lensShare * width) / lens : 0,
    dark: dark ? (darkShare * width) / dark : 0,
    light: light ? ((1 - lensShare - darkShare) * width) / light : 0,
  };
  const knots: Knot[] = [[from, 0]];
  let x = 0;
  for (const s of stretches) {
    x += s.weight * scale[s.kind];
    knots.push([s.to, x]);
  }
  return piecewise(knots, from, to);
}
