/** The core of a zone as it was at a picture's moment. */
import type { LogRow } from "../../api/client";

export const sameZone = (a: LogRow, b: LogRow) =>
  a.build === b.build && a.zones.some((z) => b.zones.includes(z));

/** The core as it then was: newest on top. */
export function Stamp({ row }: { row: LogRow }) {
  const total = row.core.reduce((s, c) => s + Math.sqrt(c.film_um), 0) || 1;
  const high = 84;
  const tops = row.core.map((c, i) => ({
    c,
    y: high - (row.core.slice(0, i + 1).reduce((s, x) => s + Math.sqrt(x.film_um), 0) / total) * high,
  }));
  return (
    <svg
      width="22"
      height={high + 8}
      role="img"
      aria-label={`Core then: ${row.core.map((c) => c.name).join(", ") || "bare"}`}
    >
      {tops.map(({ c, y }, i) => (
        <rect
          key={i}
          x={1}
          y={y}
          width={20}
          height={(Math.sqrt(c.film_um) / total) * high}
          fill={c.colour}
          stroke="var(--edge)"
          strokeWidth="0.6"
        />
      ))}
      <rect x={1} y={high} width={20} height={6} fill="var(--paper-2)" stroke="var(--edge)" />
    </svg>
  );
}
