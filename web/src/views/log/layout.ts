/** A sitting drawn downwards: real time, but long silences take no more room than they need. */
import type { LogRow } from "../../api/client";

const ROW_PX = 46;
const MIN_MS = 60_000;

export type Placed = { row: LogRow; y: number; from: number; to: number; planned: [number, number] | null };

/** Where each row of a sitting stands, and the height of all; instants are mapped in order, never backwards. */
export function placed(rows: LogRow[]): { rows: Placed[]; height: number } {
  const instants = [...new Set(rows.flatMap((r) => [Date.parse(r.began_at ?? r.at), Date.parse(r.at)]))].sort(
    (a, b) => a - b,
  );
  const ys: number[] = [];
  let y = 6;
  instants.forEach((t, i) => {
    if (i) y += Math.min(Math.max(Math.sqrt((t - instants[i - 1]!) / MIN_MS) * 7, 5), 64);
    ys.push(y);
  });
  const at = (t: number): number => {
    const i = instants.findIndex((x) => x >= t);
    if (i === 0) return Math.max(ys[0]! - Math.sqrt((instants[0]! - t) / MIN_MS) * 3, -4);
    if (i < 0) return ys.at(-1)! + Math.min(Math.sqrt((t - instants.at(-1)!) / MIN_MS) * 3, 30);
    const [a, b] = [instants[i - 1]!, instants[i]!];
    return ys[i - 1]! + ((ys[i]! - ys[i - 1]!) * (t - a)) / Math.max(b - a, 1);
  };
  let last = -ROW_PX;
  const found = rows.map((row) => {
    const [began, end] = [Date.parse(row.began_at ?? row.at), Date.parse(row.at)];
    const [from, to] = [at(began), Math.max(at(end), at(began) + 4)];
    const y = Math.max(from, last + ROW_PX + (row.picture ? 0 : 0));
    last = y + (row.picture ? 96 : 0);
    const plan = row.planned_at ? Date.parse(row.planned_at) : null;
    const planned: [number, number] | null =
      plan === null ? null : [at(plan), Math.max(at(plan + (end - began)), at(plan) + 4)];
    return { row, y, from, to, planned };
  });
  return { rows: found, height: Math.max(y + 12, last + ROW_PX) };
}
