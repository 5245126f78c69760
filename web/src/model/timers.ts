/** What the journal and the pack make of this minute: what is done, what runs, what comes next. Pure; needs no server. */
import type { Entry, Pack, StepCard, Timer } from "../api/client";

export type StepState = "todo" | "begun" | "paused" | "done" | "skipped" | "wrong";
export type Phase = "early" | "opens" | "easy" | "closing" | "late";
export type Running = {
  timer: Timer;
  name: string;
  end: number;
  /** Instants: hopeful, best, careful opening; careful, best, hopeful closing. */
  opens: number[];
  closes: (number | null)[];
  phase: Phase;
  /** An earlier stretch of this window has closed: until the next one it is too early again. */
  again: boolean;
  /** A check has shown that it is not ready; it is looked at again then. */
  waitsUntil: number | null;
};

const MIN = 60_000;
const STATES: Record<string, StepState> = {
  begun: "begun",
  done: "done",
  skipped: "skipped",
  wrong: "wrong",
  again: "wrong",
};

/** What still stands, in the order in which it was written; as the core has it. */
export function standing(entries: Entry[]): Entry[] {
  const ordered = [...entries].sort(
    (a, b) => Date.parse(a.written_at) - Date.parse(b.written_at) || (a.id < b.id ? -1 : 1),
  );
  const gone = new Set<string>();
  for (const e of [...ordered].reverse()) if (e.corrects && !gone.has(e.id)) gone.add(e.corrects);
  return ordered.filter((e) => !gone.has(e.id) && e.said !== "back");
}

export type Happened = {
  state: Map<string, { state: StepState; at: number; began: number }>;
  sections: Map<string, number>;
  waits: Map<string, number>;
  last: Entry | null;
};

/** The last word on each step and zone, by `step~zone`; sections that were counted off; what is not ready yet. */
export function happened(entries: Entry[]): Happened {
  const state: Happened["state"] = new Map();
  const [sections, waits] = [new Map<string, number>(), new Map<string, number>()];
  let last: Entry | null = null;
  for (const e of standing(entries)) {
    if (!e.step) continue;
    last = e;
    const at = Date.parse(e.at);
    if (e.said === "section") sections.set(e.step, Math.max(sections.get(e.step) ?? 0, e.section ?? 0));
    if (e.said === "not_ready") waits.set(e.step, at + (e.wait_min ?? 0) * MIN);
    if (e.said === "wrong" || e.said === "again") sections.delete(e.step);
    for (const zone of e.zones ?? []) {
      const key = `${e.step}~${zone}`;
      const known = state.get(key);
      if (e.said === "paused" || e.said === "resumed") {
        if (known) state.set(key, { ...known, state: e.said === "paused" ? "paused" : "begun" });
        continue;
      }
      const next = STATES[e.said];
      if (!next) continue;
      const began = e.began_at ? Date.parse(e.began_at) : known?.state === "begun" ? known.began : at;
      state.set(key, { state: next, at, began: next === "begun" ? at : began });
    }
  }
  return { state, sections, waits, last };
}

/** What became of a step over its zones: what is done in some of them only has begun. */
export function stateOf(h: Happened, step: StepCard): StepState {
  const states = step.zones.map((z) => h.state.get(`${step.id}~${z}`)?.state ?? "todo");
  const over = (s: StepState) => s === "done" || s === "skipped";
  if (states.every(over)) return states.includes("done") ? "done" : "skipped";
  if (states.includes("paused")) return "paused";
  if (states.includes("begun") || states.some(over)) return "begun";
  return states.includes("wrong") ? "wrong" : "todo";
}

/** When a step was over, at the latest of its zones; null where it is not. */
export function endOf(h: Happened, step: StepCard): number | null {
  const ends = step.zones.map((z) => h.state.get(`${step.id}~${z}`)).filter((s) => s?.state === "done");
  return ends.length === step.zones.length && ends.length ? Math.max(...ends.map((s) => s!.at)) : null;
}

export function phaseOf(r: Pick<Running, "opens" | "closes" | "waitsUntil">, now: number): Phase {
  const [hopeful, , careful] = r.opens as [number, number, number];
  const [safe, , most] = r.closes as [number | null, number | null, number | null];
  if (most !== null && now > most) return "late";
  if (safe !== null && now > safe) return "closing";
  if (r.waitsUntil !== null && now < r.waitsUntil) return "early";
  return now < hopeful ? "early" : now < careful ? "opens" : "easy";
}

/** The stretch of a window that counts so many minutes after its coat: the first that has not closed by the best guess. */
export function stretchOf(timer: Timer, age: number): Pick<Timer, "opens" | "closes"> {
  const stretches = [timer, ...timer.again];
  return stretches.find((s) => s.closes[1] == null || age <= s.closes[1]) ?? stretches.at(-1)!;
}

/** The windows that run: their lower step is done, what they are for is not. What closes first stands first. */
export function running(pack: Pack, h: Happened, now: number): Running[] {
  const steps = new Map(pack.steps.map((s) => [s.id, s]));
  const found: Running[] = [];
  for (const timer of pack.timers) {
    const before = steps.get(timer.before);
    const end = before ? endOf(h, before) : null;
    if (!before || end === null) continue;
    const after = timer.after ? steps.get(timer.after) : null;
    if (timer.after && (!after || ["done", "skipped", "begun", "paused"].includes(stateOf(h, after))))
      continue;
    const stretch = stretchOf(timer, (now - end) / MIN);
    const opens = stretch.opens.map((m) => end + m * MIN);
    const closes = stretch.closes.map((m) => (m === null ? null : end + m * MIN));
    if (!timer.after && now > opens[2]! + 2 * MIN) continue;
    if (timer.after && closes[0] === null && now > opens[2]! + 60 * MIN) continue;
    const waitsUntil = timer.after ? (h.waits.get(timer.after) ?? null) : null;
    const name = after ? after.name : before.name;
    const r = { timer, name, end, opens, closes, waitsUntil, again: stretch !== timer };
    found.push({ ...r, phase: phaseOf(r, now) });
  }
  const first = (r: Running) => r.closes[0] ?? r.opens[2]! + 1e12;
  return found.sort((a, b) => first(a) - first(b) || a.opens[2]! - b.opens[2]!);
}

export type Next = { step: StepCard; opensAt: number; closesAt: number | null; wait: Running | null };

/** What may come next in order: in each of its zones everything below is done. When it opens, and for which wait. */
export function candidates(pack: Pack, h: Happened, now: number): Next[] {
  const open = new Map<string, boolean>();
  const runs = running(pack, h, now);
  const found: Next[] = [];
  for (const step of pack.steps) {
    const state = stateOf(h, step);
    const over = state === "done" || state === "skipped";
    const free = step.zones.every((z) => open.get(z) !== false);
    if (!over) for (const z of step.zones) open.set(z, false);
    if (over || !free) continue;
    const waits = runs.filter((r) => r.timer.after === step.id);
    const last = waits.reduce<Running | null>((a, r) => (!a || opening(r) > opening(a) ? r : a), null);
    const closes = waits.map((r) => r.closes[0]).filter((c): c is number => c !== null);
    found.push({
      step,
      opensAt: Math.max(last ? opening(last) : 0, h.waits.get(step.id) ?? 0),
      closesAt: closes.length ? Math.min(...closes) : null,
      wait: last,
    });
  }
  return found;
}

const opening = (r: Running) => Math.max(r.opens[2]!, r.waitsUntil ?? 0);

/** The step that is now: one that was begun; else what closes first of what is open; else what opens first. */
export function stepNow(next: Next[], h: Happened, now: number): Next | null {
  const begun = next.find((n) => ["begun", "paused"].includes(stateOf(h, n.step)));
  if (begun) return begun;
  const open = next.filter((n) => n.opensAt <= now);
  const closing = open.filter((n) => n.closesAt !== null).sort((a, b) => a.closesAt! - b.closesAt!)[0];
  return closing ?? open[0] ?? [...next].sort((a, b) => a.opensAt - b.opensAt)[0] ?? null;
}

/** What can be done while one waits for something else: open now, and over before that begins. */
export function meanwhile(next: Next[], waitingFor: Next, now: number): Next[] {
  return next.filter(
    (n) =>
      n.step.id !== waitingFor.step.id &&
      n.opensAt <= now &&
      (waitingFor.closesAt === null || now + n.step.minutes * MIN <= waitingFor.closesAt),
  );
}

/** How thick the wedge is drawn at an age in minutes: full while wet, thin when hard. */
const THICK: Record<string, number> = {
  wet: 1,
  workable: 0.72,
  soft: 0.46,
  firm: 0.26,
  hard: 0.12,
  powder: 0.3,
};
export function thickness(states: StepCard["states"], age: number): number {
  if (!states.length) return 0.3;
  let i = 0;
  while (i + 1 < states.length && states[i + 1]!.from_min <= age) i++;
  const { state, from_min: from } = states[i]!;
  const here = THICK[state] ?? 0.3;
  const next = states[i + 1];
  if (!next) return here;
  const share = (age - from) / Math.max(next.from_min - from, 1e-6);
  return here + ((THICK[next.state] ?? 0.3) - here) * Math.min(Math.max(share, 0), 1);
}
