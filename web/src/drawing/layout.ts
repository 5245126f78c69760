/** Where everything in the rack lies: pure geometry, so that it can be thought about and tested by itself. */
import type { Assessment, Plan, Remark, Seam, Step } from "../api/client";
import {
  CHOSEN_PITCH_PX,
  CORE_MOST_PX,
  CORE_SHARE,
  CUT_PX,
  FLOOR_PX,
  GROUPED_FROM,
  GUTTER_PX,
  K_LEAST_PX,
  K_MOST_PX,
  LEAST_PX,
  LENS_PX,
  LENS_REACH,
  MANY_CORES,
  NARROW_PITCH_PX,
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
  /** How wide its name may stand; 0: the name stands once, on a neighbour that shares the step. */
  nameWidth: number;
};
/** What a row shows: its gravest seam, or a remark on the step that is graver still. */
export type TradeWords = { verdict: Verdict; word: string; sentence: string; seam: Seam | null };
export type Tag = { row: Row; worst: TradeWords; up: number; at: number };
export const grave = (v: Verdict) => VERDICTS.indexOf(v);

/** One core; `zones`: those that are drawn as one, since their stacks are the same. */
export type Column = {
  zone: string;
  zones: string[];
  left: number;
  pitch: number;
  width: number;
  gutter: number;
  rows: Row[];
  tags: Tag[];
};
export type Layout = {
  columns: Column[];
  k: number;
  crowded: boolean;
  /** Many cores: names once, words only beside the chosen one. */
  many: boolean;
  /** All cores there are, of which `columns` are drawn. */
  groups: Group[];
  /** Where the call-out opens: right of this column, from here. */
  callout: number;
};
export type Group = { zone: string; zones: string[] };
export type Room = {
  width: number;
  height: number;
  /** Width that the call-out takes between the cores; 0 where it lies elsewhere. */
  callout: number;
  /** The least that a core with its gutter may take. */
  pitch: number;
};
export type Focus = { step: string | null; zone: string } | null;

/** Zones as they are drawn: each for itself, or, where there are very many, those with the same stack as one. */
export function groupsOf(plan: Plan, a: Assessment): Group[] {
  if (plan.zones.length < GROUPED_FROM) return plan.zones.map((z) => ({ zone: z.id, zones: [z.id] }));
  const told = new Map<string, string[]>();
  for (const seam of Object.values(a.seams)) {
    if (seam.verdict === "sound") continue;
    const held = told.get(seam.zone_id);
    const words = `${seam.upper_step} ${seam.lower_step} ${seam.verdict}`;
    if (held) held.push(words);
    else told.set(seam.zone_id, [words]);
  }
  const stacks = new Map<string, string[]>(plan.zones.map((z) => [z.id, []]));
  for (const s of plan.steps ?? []) for (const z of s.zones) stacks.get(z)?.push(s.id);
  const groups = new Map<string, Group>();
  for (const z of plan.zones) {
    const key = [z.base_material ?? "", ...stacks.get(z.id)!, ...(told.get(z.id) ?? []).sort()].join("|");
    const held = groups.get(key);
    if (held) held.zones.push(z.id);
    else groups.set(key, { zone: z.id, zones: [z.id] });
  }
  return [...groups.values()];
}

/** Those cores that have room, round the one that is looked at. */
function inView<T>(all: T[], at: number, room: number): T[] {
  if (all.length <= room) return all;
  const from = Math.min(Math.max(at - Math.floor(room / 2), 0), all.length - room);
  return all.slice(from, from + room);
}

export function layOut(plan: Plan, a: Assessment, room: Room, focus: Focus): Layout {
  const { height } = room;
  const perZone = new Map<string, Step[]>(plan.zones.map((z) => [z.id, []]));
  for (const step of plan.steps ?? []) for (const z of step.zones) perZone.get(z)?.push(step);
  const filmOf = (step: Step, zone: string) => a.coats[`${step.id}~${zone}`]?.film_um ?? 0;
  const groups = groupsOf(plan, a);
  const width = Math.max(room.width - room.callout, 1);
  const looked = Math.max(
    groups.findIndex((g) => focus && g.zones.includes(focus.zone)),
    0,
  );
  const drawn = inView(groups, looked, Math.max(Math.floor(width / room.pitch), 1));
  // One scale for all cores that are seen together.
  let k = K_MOST_PX;
  for (const { zone } of drawn) {
    const steps = perZone.get(zone)!;
    const coats = steps.filter((s) => s.kind === "coat");
    const roots = coats.reduce((sum, s) => sum + Math.sqrt(filmOf(s, zone)), 0);
    const left = height - FLOOR_PX * coats.length - CUT_PX * (steps.length - coats.length);
    if (roots > 0) k = Math.min(k, left / roots);
  }
  const crowded = k < K_LEAST_PX;
  k = Math.max(k, K_LEAST_PX);
  const many = drawn.length >= MANY_CORES || (drawn.length > 1 && width / drawn.length < NARROW_PITCH_PX);
  const chosen = focus ? drawn.findIndex((g) => g.zones.includes(focus.zone)) : -1;
  const own = many && chosen >= 0 ? Math.max(Math.min(CHOSEN_PITCH_PX, width / 3), width / drawn.length) : 0;
  const pitch = own ? (width - own) / (drawn.length - 1) : width / drawn.length;
  const worst = worstByRow(a);
  const opens = chosen >= 0 ? chosen : drawn.length - 1;
  let left = 0;
  let callout = 0;
  const columns = drawn.map((group, i) => {
    const zone = focus && group.zones.includes(focus.zone) ? focus.zone : group.zone;
    const steps = perZone.get(zone)!;
    const wanted = steps.map((s) => (s.kind === "coat" ? FLOOR_PX + k * Math.sqrt(filmOf(s, zone)) : CUT_PX));
    const heights = crowded ? squeeze(wanted, height, lensAt(steps, focus)) : wanted;
    let up = 0;
    const rows = steps.map((step, j) => {
      const row = { step, zone, up, height: heights[j]!, film: filmOf(step, zone), nameWidth: 0 };
      up += heights[j]!;
      return row;
    });
    const mine = own && i === chosen ? own : pitch;
    const wide = many && i !== chosen ? mine - 14 : Math.max(mine * CORE_SHARE, mine - GUTTER_PX);
    const core = Math.min(wide, CORE_MOST_PX);
    const column = {
      zone,
      zones: group.zones,
      left,
      pitch: mine,
      width: core,
      gutter: mine - core - 10,
      rows,
      tags: tagsOf(rows, worst),
    };
    left += mine;
    if (i === opens) {
      callout = left;
      left += room.callout;
    }
    return column;
  });
  nameOnce(columns, many, chosen);
  return { columns, k, crowded, many, groups, callout };
}

/** Half the height of a line of text: what has to lie in a coat for its name to run on over it. */
const HALF_LINE = 7;

/** Where many neighbours share a step at the same height, its name stands once and runs over all of them. */
function nameOnce(columns: Column[], many: boolean, chosen: number) {
  type Run = { row: Row; from: Column; to: Column; mid: number };
  let before = new Map<string, Run>();
  columns.forEach((column, i) => {
    const here = new Map<string, Run>();
    for (const row of column.rows) {
      row.nameWidth = column.width;
      if (!many || i === chosen) continue;
      const run = before.get(row.step.id);
      if (run && run.mid - HALF_LINE >= row.up && run.mid + HALF_LINE <= row.up + row.height) {
        run.to = column;
        run.row.nameWidth = column.left + column.width - run.from.left;
        row.nameWidth = 0;
        here.set(row.step.id, run);
      } else here.set(row.step.id, { row, from: column, to: column, mid: row.up + row.height / 2 });
    }
    before = i === chosen ? new Map() : here;
  });
}

/** Which coat the lens lies on: the chosen one where this core has it, else the newest. */
function lensAt(steps: Step[], focus: Focus): number {
  const at = focus ? steps.findIndex((s) => s.id === focus.step) : -1;
  return at >= 0 ? at : steps.length - 1;
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
