/** How a coat hardens: its events as ranges. */
import { span } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";
import type { Props } from "./stepParts";

/** Its events as ranges on a logarithmic scale of time: careful edge to the right. */
export function Hardening({ p }: { p: Props }) {
  const words = useWords();
  const coat = p.assessment.coats[`${p.step.id}~${p.zone}`]!;
  const rows: { words: string; range: { early: number | null; best: number | null; late: number | null } }[] =
    [
      ...words.hardening
        .filter((e) => coat.events[e.id])
        .map((e) => ({ words: e.words, range: coat.events[e.id]! })),
      ...coat.windows.flatMap((w) => [
        { words: `${w.action}: opens`, range: w.opens },
        { words: `${w.action}: closes`, range: w.closes },
      ]),
    ].filter((r) => r.range.best !== null && r.range.best < coat.end_min + 300 * 1440);
  if (!rows.length) return null;
  const x = (m: number) => {
    const t = Math.max(m - coat.end_min, 1);
    return Math.min(Math.max((Math.log10(t) / Math.log10(60 * 1440)) * 150, 0), 150);
  };
  return (
    <figure>
      <figcaption className="text-xs text-ink-2">
        After laying: best guess, and the range (logarithmic)
      </figcaption>
      <svg
        viewBox={`0 0 310 ${rows.length * 17 + 16}`}
        width="100%"
        role="img"
        aria-label={rows.map((r) => `${r.words}: ${span(r.range.best! - coat.end_min)}`).join(", ")}
      >
        {[60, 1440, 10080].map((m, i) => (
          <g key={m}>
            <path d={`M${104 + x(coat.end_min + m)} 2V${rows.length * 17 + 2}`} stroke="var(--line-soft)" />
            <text
              x={104 + x(coat.end_min + m)}
              y={rows.length * 17 + 13}
              fontSize={10.5}
              textAnchor="middle"
              fill="var(--ink-2)"
            >
              {["hour", "day", "week"][i]}
            </text>
          </g>
        ))}
        {rows.map((r, i) => (
          <g key={r.words} transform={`translate(0 ${i * 17})`}>
            <text x={0} y={12} fontSize={11.5} fill="var(--ink)">
              {r.words}
            </text>
            <path
              d={`M${104 + x(r.range.early!)} 8.5H${104 + x(r.range.late!)}`}
              stroke="var(--ink)"
              strokeWidth={5}
              opacity={0.28}
            />
            <path d={`M${104 + x(r.range.best!)} 3.5v10`} stroke="var(--ink)" strokeWidth={2} />
            <text x={306} y={12} fontSize={11.5} textAnchor="end" fill="var(--ink)">
              {span(r.range.best! - coat.end_min).replace(/ min$/, " min")}
            </text>
          </g>
        ))}
      </svg>
    </figure>
  );
}
