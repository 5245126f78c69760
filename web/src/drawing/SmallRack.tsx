/** A build from afar: its zones as small cores, heights by the square root of the film, a line where something is wrong. */
import type { Glance } from "../api/client";
import { SeamPath } from "./Line";

const PITCH = 30;
const CORE = 20;
const HIGH = 74;

export function SmallRack({ cores, more = 0 }: { cores: Glance["cores"]; more?: number }) {
  const roots = cores.map((c) => c.coats.reduce((sum, coat) => sum + Math.sqrt(coat.film_um), 0));
  const k = HIGH / Math.max(...roots, 12);
  const width = Math.max(cores.length * PITCH + (more ? 26 : 0), PITCH);
  return (
    <svg width={width} height={HIGH + 22} aria-hidden="true" className="max-w-full shrink-0">
      {cores.map((core, i) => {
        const x = i * PITCH + (PITCH - CORE) / 2;
        let y = HIGH;
        return (
          <g key={i}>
            {core.coats.map((coat, n) => {
              const h = k * Math.sqrt(coat.film_um);
              y -= h;
              return <rect key={n} x={x} y={y} width={CORE} height={h} fill={coat.colour} />;
            })}
            <rect x={x} y={y} width={CORE} height={HIGH - y} fill="none" stroke="var(--edge)" />
            <rect x={x} y={HIGH} width={CORE} height={6} fill="var(--paper-2)" stroke="var(--edge)" />
            {core.worst !== "sound" ? (
              <SeamPath x0={x - 4} x1={x + CORE + 4} y={HIGH + 15} verdict={core.worst} />
            ) : null}
          </g>
        );
      })}
      {more ? (
        <text x={cores.length * PITCH + 2} y={HIGH} fontSize={12} fill="var(--ink-2)">
          +{more}
        </text>
      ) : null}
    </svg>
  );
}
