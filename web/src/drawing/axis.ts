/** Time on the screen: piecewise linear, so that hours with work in them can be wider than the nights between. */

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
