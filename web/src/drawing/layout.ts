/** Where everything in the rack lies: pure geometry, so that it can be thought about and tested by itself. */
import type { Assessment, Plan, Remark, Seam, Step } from "../api/client";
import {
  CORE_MOST_PX,
  CORE_SHARE,
  CUT_PX,
  FLOOR_PX,
  K_LEAST_PX,
  K_MOST_PX,
  LEAST_PX,
  LENS_PX,
  LENS_REACH,
  TAG_PX,
  VERDICTS,
  type Verdict,
} from "./tokens";

export type Row = {
  step: Step;
  zone: string;
  /** Distance of the row's lower edge from the base, and its height. */
  up: number;
  height: number;
  film: number;
};
/** What is told at a row: its gravest seam, or a remark on the step that is graver still. */
export type TradeWords = { verdict: Verdict; word: string; sentence: string; seam: Seam | null };
export type Tag = { row: Row; worst: TradeWords; up: number; at: number };
export type Column = { zone: string; left: number; width: number; gutter: number; rows: Row[]; tags: Tag[] };
export type Layout = { columns: Column[]; k: number; crowded: boolean; pitch: number };

export const grave = (v: Verdict) => VERDICTS.indexOf(v);

export function layOut(
  plan: Plan,
  a: Assessment,
  width: number,
  height: number,
  focus: { step: string; zone: string } | null,
): Layout {
  const perZone = new Map<string, Step[]>(plan.zones.map((z) => [z.id, []]));
  for (const step of plan.steps ?? []) for (const z of step.zones) perZone.get(z)?.push(step);
  const filmOf = (step: Step, zone: string) => a.coats[`${step.id}~${zone}`]?.film_um ?? 0;
  let k = K_MOST_PX;
  for (const [zone, steps] of perZone) {
    const coats = steps.filter((s) => s.kind === "coat");
    const roots = coats.reduce((sum, s) => sum + Math.sqrt(filmOf(s, zone)), 0);
    const room = height - FLOOR_PX * coats.length - CUT_PX * (steps.length - coats.length);
    if (roots > 0) k = Math.min(k, room / roots);
  }
  const crowded = k < K_LEAST_PX;
  k = Math.max(k, K_LEAST_PX);
  const pitch = width / plan.zones.length;
  const core = Math.min(pitch * CORE_SHARE, CORE_MOST_PX);
  const worst = worstByRow(a);
  const columns = plan.zones.map((zone, i) => {
    const steps = perZone.get(zone.id)!;
    const wanted = steps.map((s) =>
      s.kind === "coat" ? FLOOR_PX + k * Math.sqrt(filmOf(s, zone.id)) : CUT_PX,
    );
    const heights = crowded ? squeeze(wanted, height, lensAt(steps, zone.id, focus)) : wanted;
    let up = 0;
    const rows = steps.map((step, j) => {
      const row = { step, zone: zone.id, up, height: heights[j]!, film: filmOf(step, zone.id) };
      up += heights[j]!;
      return row;
    });
    return {
      zone: zone.id,
      left: i * pitch,
      width: core,
      gutter: pitch - core - 10,
      rows,
      tags: tagsOf(rows, worst),
    };
  });
  return { columns, k, crowded, pitch };
}

function lensAt(steps: Step[], zone: string, focus: { step: string; zone: string } | null): number {
  const at = focus ? steps.findIndex((s) => s.id === focus.step) : -1;
  return at >= 0 && focus?.zone === zone ? at : at >= 0 ? at : steps.length - 1;
}

/** The rows round the lens keep their room; all others share what is left. */
function squeeze(wanted: number[], height: number, at: number): number[] {
  const open = (i: number) => Math.abs(i - at) <= LENS_REACH;
  const opened = wanted.reduce((sum, w, i) => sum + (open(i) ? Math.max(w, LENS_PX) : 0), 0);
  const rest = wanted.reduce((sum, w, i) => sum + (open(i) ? 0 : w), 0);
  const share = rest > 0 ? Math.min((height - opened) / rest, 1) : 1;
  return wanted.map((w, i) =>
    open(i) ? Math.max(w, LENS_PX) : Math.max(w * share, share > 0 ? 0.5 : LEAST_PX),
  );
}

function worstByRow(a: Assessment): Map<string, TradeWords> {
  const found = new Map<string, TradeWords>();
  for (const seam of Object.values(a.seams)) {
    if (seam.verdict === "sound" && seam.basis !== "trial") continue; // what a trial has settled stays visible
    const key = `${seam.upper_step}~${seam.zone_id}`;
    const held = found.get(key);
    const worse = held ? grave(seam.verdict) - grave(held.verdict) : 1;
    if (worse > 0 || (worse === 0 && severity(seam) > severity(held?.seam)))
      found.set(key, { verdict: seam.verdict, word: seam.word, sentence: seam.sentence, seam });
  }
  for (const remark of a.remarks) if (remark.verdict !== "sound") addRemark(found, remark);
  return found;
}

function addRemark(found: Map<string, TradeWords>, r: Remark) {
  for (const zone of r.zones) {
    const held = found.get(`${r.step_id}~${zone}`);
    if (!held || grave(r.verdict) > grave(held.verdict))
      found.set(`${r.step_id}~${zone}`, {
        verdict: r.verdict,
        word: r.word,
        sentence: r.sentence,
        seam: null,
      });
  }
}

const severity = (s: Seam | null | undefined) => (s ? Math.max(0, ...s.findings.map((f) => f.severity)) : 0);

/** Tags in the gutter: pushed up where they would overlap, with a leader to their seam. */
function tagsOf(rows: Row[], worst: Map<string, TradeWords>): Tag[] {
  const tags: Tag[] = [];
  let free = -Infinity;
  for (const row of rows) {
    const held = worst.get(`${row.step.id}~${row.zone}`);
    if (!held) continue;
    const at = row.up;
    const pressed = row.height < 7;
    const up = pressed ? at : Math.max(at - TAG_PX / 2, free);
    tags.push({ row, worst: held, at, up });
    if (!pressed) free = up + TAG_PX;
  }
  return tags;
}

/** A coat shared by neighbouring zones runs across them. */
export function ribbons(columns: Column[]): { step: Step; d: { x0: number; x1: number; a: Row; b: Row } }[] {
  const found = [];
  for (let i = 0; i + 1 < columns.length; i++) {
    const [left, right] = [columns[i]!, columns[i + 1]!];
    const byStep = new Map(right.rows.map((r) => [r.step.id, r]));
    for (const a of left.rows) {
      const b = byStep.get(a.step.id);
      if (b && a.step.kind === "coat" && Math.max(a.height, b.height) >= 7)
        found.push({ step: a.step, d: { x0: left.left + left.width, x1: right.left, a, b } });
    }
  }
  return found;
}
