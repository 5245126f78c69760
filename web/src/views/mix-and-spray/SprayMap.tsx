/**
 * What the paint does over pressure and distance, drawn as it would look on the part: spatter, dust, an even film, a wet
 * one, spiders. The areas come from the core's grid, point by point; only their edges are smoothed.
 */
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Card } from "../../api/client";
import { useWords } from "../../parts/BuildDoor";
import { inkOn } from "../../drawing/colour";
import { distance, lengthUnit, pressure, pressureUnit, units } from "../../drawing/units";

type SprayMapData = NonNullable<Card["map"]>;
/** Where the scales are marked, in each unit. */
const PRESSURES = {
  bar: [0.5, 1, 1.5, 2, 2.5],
  psi: [5, 10, 15, 20, 25, 30, 35],
  kPa: [50, 100, 150, 200, 250],
};
const DISTANCES = { cm: [5, 10, 15, 20, 25, 30], in: [2, 4, 6, 8, 10, 12] };
const PAD = { left: 52, right: 14, top: 26, bottom: 38 };

/** 0 to 1, always the same at the same place, so that the picture does not flicker. */
function chance(n: number): number {
  const x = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return x - Math.floor(x);
}

function letterAt(map: SprayMapData, u: number, v: number): string {
  const rows = map.rows.length - 1;
  const columns = map.rows[0]!.length - 1;
  const i = Math.min(Math.max(u, 0), 1) * rows;
  const j = Math.min(Math.max(v, 0), 1) * columns;
  const i0 = Math.min(Math.floor(i), rows - 1);
  const j0 = Math.min(Math.floor(j), columns - 1);
  const fi = i - i0;
  const fj = j - j0;
  const low = map.rows[i0]!;
  const high = map.rows[i0 + 1]!;
  const a = low[j0]!;
  const b = high[j0]!;
  const c = low[j0 + 1]!;
  const d = high[j0 + 1]!;
  if (a === b && a === c && a === d) return a;
  const corners = [a, b, c, d];
  const weights = [(1 - fi) * (1 - fj), fi * (1 - fj), (1 - fi) * fj, fi * fj];
  let best = a;
  let most = -1;
  for (const letter of corners) {
    let weight = 0;
    for (let n = 0; n < 4; n++) if (corners[n] === letter) weight += weights[n]!;
    if (weight > most) {
      most = weight;
      best = letter;
    }
  }
  return best;
}

function darker(srgb: string, by: number): [number, number, number] {
  return [1, 3, 5].map((i) => Math.round(parseInt(srgb.slice(i, i + 2), 16) * (1 - by))) as [
    number,
    number,
    number,
  ];
}

function paint(canvas: HTMLCanvasElement, map: SprayMapData, srgb: string, w: number, h: number) {
  const scale = window.devicePixelRatio || 1;
  canvas.width = Math.round(w * scale);
  canvas.height = Math.round(h * scale);
  const ctx = canvas.getContext("2d")!;
  const bare = inkOn(srgb) === "#000000" ? "#7d7d7b" : "#d3d3cf";
  const fills: Record<string, [number, number, number]> = {
    g: darker(bare, 0),
    d: darker(bare, 0),
    o: darker(srgb, 0),
    w: darker(srgb, 0.14),
    r: darker(srgb, 0.28),
  };
  const image = ctx.createImageData(canvas.width, canvas.height);
  const pixels = new Uint32Array(image.data.buffer);
  const packed = Object.fromEntries(
    Object.entries(fills).map(([k, [r, g, b]]) => [k, (255 << 24) | (b << 16) | (g << 8) | r]),
  );
  for (let y = 0; y < canvas.height; y += 2)
    for (let x = 0; x < canvas.width; x += 2) {
      const value = packed[letterAt(map, x / canvas.width, 1 - y / canvas.height)]!;
      for (const at of [y * canvas.width + x, (y + 1) * canvas.width + x]) {
        pixels[at] = value;
        if (x + 1 < canvas.width) pixels[at + 1] = value;
      }
    }
  ctx.putImageData(image, 0, 0);
  ctx.scale(scale, scale);
  const ink = `rgb(${darker(srgb, 0.05).join(" ")})`;
  const dark = `rgb(${darker(srgb, 0.55).join(" ")})`;
  const n = Math.round((w * h) / 55);
  for (let k = 0; k < n; k++) {
    const x = chance(k) * w;
    const y = chance(k + 0.5) * h;
    const letter = letterAt(map, x / w, 1 - y / h);
    if (letter === "d") {
      ctx.fillStyle = ink;
      const r = 0.5 + chance(k + 0.2) * 0.6;
      ctx.fillRect(x, y, r * 2, r * 2);
    } else if (letter === "g" && k % 9 === 0) {
      ctx.fillStyle = ink;
      ctx.beginPath();
      ctx.arc(x, y, 1.2 + chance(k + 0.3) ** 2 * 4.6, 0, 7);
      ctx.fill();
    } else if (letter === "r" && k % 60 === 0) {
      ctx.strokeStyle = dark;
      ctx.fillStyle = dark;
      ctx.lineWidth = 1.4;
      for (let leg = 0; leg < 5; leg++) {
        const angle = chance(k + leg) * 6.3;
        const reach = 6 + chance(k + leg + 0.4) * 13;
        ctx.beginPath();
        ctx.moveTo(x, y);
        ctx.quadraticCurveTo(
          x + Math.cos(angle + 0.4) * reach * 0.6,
          y + Math.sin(angle + 0.4) * reach * 0.6,
          x + Math.cos(angle) * reach,
          y + Math.sin(angle) * reach,
        );
        ctx.stroke();
      }
      ctx.beginPath();
      ctx.arc(x, y, 2.2, 0, 7);
      ctx.fill();
    } else if (letter === "w" && k % 40 === 0) {
      ctx.fillStyle = "rgb(255 255 255 / .28)";
      ctx.beginPath();
      ctx.ellipse(x, y, 5, 1, 0, 0, 7);
      ctx.fill();
    }
  }
}

/** Where each area's word stands: the place of that area farthest from its edge, roughly, clear of what is `crowded`. */
function places(map: SprayMapData, crowded: (u: number, v: number) => boolean): [string, number, number][] {
  const rows = map.rows.length;
  const columns = map.rows[0]!.length;
  const found = new Map<string, [number, number, number]>();
  for (let i = 3; i < rows - 3; i += 2)
    for (let j = 2; j < columns - 2; j += 2) {
      const letter = map.rows[i]![j]!;
      let r = 1;
      const same = (a: number, b: number) => map.rows[a]?.[b] === letter;
      while (r < 16 && same(i - r, j) && same(i + r, j) && same(i, j - r) && same(i, j + r)) r++;
      if (r <= 2) continue;
      const worth = crowded(i / (rows - 1), j / (columns - 1)) ? r / 100 : r;
      if (worth > (found.get(letter)?.[0] ?? 0)) found.set(letter, [worth, i, j]);
    }
  return [...found].map(([letter, [, i, j]]) => [letter, i / (rows - 1), j / (columns - 1)]);
}

export function SprayMap(p: {
  map: SprayMapData;
  best: Card["best"];
  zone: string;
  colour: string;
  gauge: number | null;
  at: { pressure: number; distance: number };
  onAt: (pressure: number, distance: number) => void;
}) {
  const { map, best } = p;
  const trade = useWords();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ w: 560, h: 420 });
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) =>
      setSize({ w: entry!.contentRect.width, h: entry!.contentRect.height }),
    );
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const w = Math.max(size.w - PAD.left - PAD.right, 80);
  const h = Math.max(size.h - PAD.top - PAD.bottom, 80);
  const key = map.rows.join("");
  useEffect(() => {
    if (canvas.current) paint(canvas.current, map, p.colour, w, h);
    // oxlint-disable-next-line react/exhaustive-deps -- the rows tell whether the map has changed
  }, [key, p.colour, w, h]);
  const [p0, p1] = [map.pressures_kpa[0]!, map.pressures_kpa.at(-1)!];
  const [d0, d1] = [map.distances_mm[0]!, map.distances_mm.at(-1)!];
  const x = (kpa: number) => PAD.left + ((kpa - p0) / (p1 - p0)) * w;
  const y = (mm: number) => PAD.top + (1 - (mm - d0) / (d1 - d0)) * h;
  const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);
  const put = (kpa: number, mm: number) => p.onAt(clamp(kpa, p0, p1), clamp(mm, d0, d1));
  const drag = (e: React.PointerEvent) => {
    const r = box.current!.getBoundingClientRect();
    put(
      p0 + ((e.clientX - r.left - PAD.left) / w) * (p1 - p0),
      d0 + (1 - (e.clientY - r.top - PAD.top) / h) * (d1 - d0),
    );
  };
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-2, 0],
    ArrowRight: [2, 0],
    ArrowUp: [0, 5],
    ArrowDown: [0, -5],
  };
  // A word is some 70 px wide: it keeps clear of the gauge's line, the hand and the best point with its range.
  const near = (px: number, py: number, kpa: number, mm: number) =>
    Math.abs(px - x(kpa)) < 48 && Math.abs(py - y(mm)) < 26;
  const crowded = (u: number, v: number) => {
    const [px, py] = [PAD.left + u * w, PAD.top + (1 - v) * h];
    if (p.gauge !== null && Math.abs(px - x(p.gauge)) < 48) return true;
    if (near(px, py, p.at.pressure, p.at.distance)) return true;
    if (!best) return false;
    const [a, b] = best.pressure_range_kpa.map(x) as [number, number];
    const [c, d] = best.distance_range_mm.map(y) as [number, number];
    return px > a - 48 && px < b + 48 && py > Math.min(c, d) - 26 && py < Math.max(c, d) + 26;
  };
  const inkOf = (letter: string) => (letter === "g" || letter === "d" ? "#000000" : inkOn(p.colour));
  const words = `${pressure(p.at.pressure)}, ${distance(p.at.distance)}: ${p.zone}`;
  return (
    <div ref={box} className="relative h-full min-h-0 w-full select-none" data-testid="map">
      <canvas
        ref={canvas}
        className="absolute"
        style={{ left: PAD.left, top: PAD.top, width: w, height: h, touchAction: "none" }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag(e);
        }}
        onPointerMove={(e) => e.buttons && drag(e)}
        aria-hidden="true"
      />
      <svg className="pointer-events-none absolute inset-0 h-full w-full text-xs" aria-hidden="true">
        {PRESSURES[units().pressure]
          .map((mark) => pressureUnit().from(mark))
          .map((kpa) => (
            <g key={kpa}>
              <line x1={x(kpa)} x2={x(kpa)} y1={PAD.top + h} y2={PAD.top + h + 5} stroke="var(--ink)" />
              <text x={x(kpa)} y={PAD.top + h + 18} textAnchor="middle" fill="var(--ink)">
                {Math.round(pressureUnit().to(kpa) * 10) / 10} {pressureUnit().unit}
              </text>
            </g>
          ))}
        {DISTANCES[units().length]
          .map((mark) => lengthUnit().from(mark))
          .map((mm) => (
            <g key={mm}>
              <line x1={PAD.left - 5} x2={PAD.left} y1={y(mm)} y2={y(mm)} stroke="var(--ink)" />
              <text x={PAD.left - 9} y={y(mm) + 4} textAnchor="end" fill="var(--ink)">
                {Math.round(lengthUnit().to(mm))} {lengthUnit().unit}
              </text>
            </g>
          ))}
        {places(map, crowded).map(([letter, u, v]) => (
          <text
            key={letter}
            x={clamp(PAD.left + u * w, PAD.left + 34, PAD.left + w - 46)}
            y={PAD.top + (1 - v) * h}
            textAnchor="middle"
            fontSize={15}
            fontWeight={600}
            fill={inkOf(letter)}
            stroke={inkOf(letter) === "#000000" ? "rgb(255 255 255 / .55)" : "rgb(0 0 0 / .45)"}
            strokeWidth={3}
            paintOrder="stroke"
          >
            {trade.sprayedAt(letter)}
          </text>
        ))}
        {best
          ? (["var(--halo)", "var(--ink)"] as const).map((stroke, i) => {
              const [a, b] = best.pressure_range_kpa.map(x) as [number, number];
              const [c, d] = best.distance_range_mm.map(y) as [number, number];
              return (
                <ellipse
                  key={stroke}
                  cx={(a + b) / 2}
                  cy={(c + d) / 2}
                  rx={Math.max((b - a) / 2, 8)}
                  ry={Math.max((c - d) / 2, 8)}
                  fill="none"
                  stroke={stroke}
                  strokeWidth={i ? 2 : 5}
                />
              );
            })
          : null}
        {p.gauge !== null && p.gauge >= p0 && p.gauge <= p1 ? (
          <>
            <line
              x1={x(p.gauge)}
              x2={x(p.gauge)}
              y1={PAD.top}
              y2={PAD.top + h}
              stroke="var(--halo)"
              strokeWidth={4}
            />
            <line
              x1={x(p.gauge)}
              x2={x(p.gauge)}
              y1={PAD.top - 6}
              y2={PAD.top + h}
              stroke="var(--ink)"
              strokeWidth={1.5}
              strokeDasharray="2 4"
            />
            <text x={x(p.gauge)} y={PAD.top - 10} textAnchor="middle" fill="var(--ink)" fontWeight={600}>
              gauge {pressureUnit().words(p.gauge)}
            </text>
          </>
        ) : null}
      </svg>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Where the gun is held: pressure across, distance up"
        aria-valuenow={Math.round(p.at.pressure)}
        aria-valuemin={p0}
        aria-valuemax={p1}
        aria-valuetext={words}
        className="absolute grid h-8 w-8 -translate-x-1/2 -translate-y-1/2 cursor-grab place-items-center rounded-full"
        style={{ left: x(p.at.pressure), top: y(p.at.distance), touchAction: "none" }}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => e.buttons && drag(e)}
        onKeyDown={(e) => {
          const by = steps[e.key];
          if (!by) return;
          e.preventDefault();
          const much = e.shiftKey ? 5 : 1;
          put(p.at.pressure + by[0] * much, p.at.distance + by[1] * much);
        }}
      >
        <span className="h-4 w-4 rounded-full border-2 border-[var(--halo)] bg-ink shadow" />
      </div>
    </div>
  );
}
