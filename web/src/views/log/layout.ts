/** A sitting drawn downwards: real time, but long silences take no more room than they need. */
import type { LogRow } from "../../api/client";

export type Room = { row: number; picture: number };
export const WIDE: Room = { row: 44, picture: 128 };
export const NARROW: Room = { row: 104, picture: 268 };
const MIN_MS = 60_000;

export type Placed = { row: LogRow; y: number; from: number; to: number; planned: [number, number] | null };

/** Where each row of a sitting stands, and the height of all; instants are mapped in order, never backwards. */
export function placed(rows: LogRow[], room: Room = WIDE): { rows: Placed[]; height: number } {
  // Each row has room at its moment; between rows, silence takes a little more of it.
  const known = new Map<number, number>();
  const starts: number[] = [];
  let y = 6;
  let before: number | null = null;
  for (const r of rows) {
    const [began, end] = [Date.parse(r.began_at ?? r.at), Date.parse(r.at)];
    if (before !== null) y += Math.min(Math.sqrt(Math.max(began - before, 0) / MIN_MS) * 3, 30);
    const long = Math.min(Math.max(Math.sqrt((end - began) / MIN_MS) * 6, 10), 80);
    starts.push(y);
    known.set(began, Math.max(known.get(began) ?? 0, y));
    known.set(end, Math.max(known.get(end) ?? 0, y + long));
    y += Math.max(long + 6, r.picture ? room.picture : room.row);
    before = end;
  }
  const instants = [...known.keys()].sort((a, b) => a - b);
  const ys: number[] = [];
  for (const t of instants) ys.push(Math.max(known.get(t)!, ys.at(-1) ?? 0));
  const at = (t: number): number => {
    const i = instants.findIndex((x) => x >= t);
    if (i === 0) return Math.max(ys[0]! - Math.sqrt((instants[0]! - t) / MIN_MS) * 3, -4);
    if (i < 0) return ys.at(-1)! + Math.min(Math.sqrt((t - instants.at(-1)!) / MIN_MS) * 3, 30);
    const [a, b] = [instants[i - 1]!, instants[i]!];
    return ys[i - 1]! + ((ys[i]! - ys[i - 1]!) * (t - a)) / Math.max(b - a, 1);
  };
  const found = rows.map((row, i) => {
    const [began, end] = [Date.parse(row.began_at ?? row.at), Date.parse(row.at)];
    const from = starts[i]!;
    const to = Math.max(at(end), from + 10);
    const plan = row.planned_at ? Date.parse(row.planned_at) : null;
    const planned: [number, number] | null =
      plan === null ? null : [at(plan), Math.max(at(plan + (end - began)), at(plan) + 4)];
    return { row, y: from, from, to, planned };
  });
  return { rows: found, height: y + 8 };
}
