import type { Verdict } from "./tokens";

/** A seam's line: whole, double, dashed or cracked. Drawn twice, so that it stands off any paint. */
export function SeamPath({ x0, x1, y, verdict }: { x0: number; x1: number; y: number; verdict: Verdict }) {
  const common = { fill: "none", strokeLinejoin: "round" as const };
  if (verdict === "sound")
    return <path d={`M${x0} ${y}H${x1}`} stroke="var(--ink)" strokeWidth={0.75} opacity={0.45} {...common} />;
  if (verdict === "caution")
    return (
      <g {...common}>
        <path d={`M${x0} ${y}H${x1}`} stroke="var(--halo)" strokeWidth={6} />
        <path d={`M${x0} ${y - 2}H${x1}M${x0} ${y + 2}H${x1}`} stroke="var(--ink)" strokeWidth={1.25} />
      </g>
    );
  if (verdict === "wait")
    return (
      <g {...common}>
        <path d={`M${x0} ${y}H${x1}`} stroke="var(--halo)" strokeWidth={5.5} />
        <path d={`M${x0} ${y}H${x1}`} stroke="var(--ink)" strokeWidth={2.75} strokeDasharray="9 5" />
      </g>
    );
  const d = crack(x0, x1, y);
  return (
    <g {...common}>
      <path d={d} stroke="var(--halo)" strokeWidth={6} />
      <path d={d} stroke="var(--ink)" strokeWidth={2.5} />
    </g>
  );
}

/** An uneven crack: the same one each time, since it follows from where it lies. */
function crack(x0: number, x1: number, y: number): string {
  let d = `M${x0} ${y}`;
  let up = true;
  for (let x = x0 + 5, i = 0; x < x1 - 2; i++) {
    const jump = 3 + ((i * 7 + Math.round(x0)) % 5) * 0.9;
    d += `L${x.toFixed(1)} ${(y + (up ? -jump : jump)).toFixed(1)}`;
    up = !up;
    x += 5 + ((i * 5) % 4) * 1.6;
  }
  return `${d}L${x1} ${y}`;
}

/** The same line, small, beside a word. */
export function LineSample({ verdict, width = 30 }: { verdict: Verdict; width?: number }) {
  return (
    <svg width={width} height={16} aria-hidden="true" className="shrink-0">
      <SeamPath x0={1} x1={width - 1} y={8} verdict={verdict} />
    </svg>
  );
}
