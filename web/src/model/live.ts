/** What is going on at an instant, from what was assessed: states, the clock's line, the next thing to mend. */
import type { Assessment, Plan, Step, Story } from "../api/client";
import { span, type Clockwork } from "../drawing/time";

export type Selection =
  | { kind: "step"; step: string; zone: string }
  | { kind: "seam"; id: string; step: string; zone: string }
  | null;

const MOST_TOLD = 3;

export function stateAt(a: Assessment, step: string, zone: string, minute: number): string {
  const coat = a.coats[`${step}~${zone}`];
  if (!coat || minute < coat.start_min) return "to_come";
  let state = "wet";
  for (const mark of coat.states) if (mark.from_min <= minute) state = mark.state;
  return state;
}

/** The step that starts next after an instant, by time, whatever its place in the plan's list. */
export function nextStep(steps: Step[], a: Assessment, minute: number): Step | undefined {
  let next: Step | undefined;
  for (const step of steps) {
    const at = a.times[step.id]?.start_min;
    if (at !== undefined && at > minute && (!next || at < a.times[next.id]!.start_min)) next = step;
  }
  return next;
}

/** The clock's line: what is at work, what is wet or soft, else what comes next. */
export function liveWords(plan: Plan, a: Assessment, clock: Clockwork, minute: number): string {
  const steps = plan.steps ?? [];
  if (!steps.length) return "nothing is planned yet";
  const said: string[] = [];
  const doing = steps.find((s) => {
    const t = a.times[s.id]!;
    return t.start_min <= minute && minute < t.end_min;
  });
  if (doing) said.push(`at work: ${doing.name}, until ${clock.short(a.times[doing.id]!.end_min)}`);
  for (const step of [...steps].reverse()) {
    if (step.kind !== "coat" || said.length >= MOST_TOLD || step === doing) continue;
    const zone = step.zones[0]!;
    const state = stateAt(a, step.id, zone, minute);
    const next = a.coats[`${step.id}~${zone}`]?.states.find((m) => m.from_min > minute);
    if ((state === "wet" || state === "workable" || state === "soft") && next)
      said.push(`${step.name} ${state} until ${clock.short(next.from_min)}`);
  }
  if (said.length) return said.join(" · ");
  const next = nextStep(steps, a, minute);
  if (next) return `nothing is wet; next ${next.name}, in ${span(a.times[next.id]!.start_min - minute)}`;
  return steps.some((s) => s.kind === "coat")
    ? "everything is done; the last coats harden"
    : "everything is done";
}

/** What is mended next, after what is chosen. */
export function nextStory(stories: Story[], selection: Selection): Story | undefined {
  if (!selection) return stories[0];
  const at = stories.findIndex((s) =>
    selection.kind === "seam" ? s.seams.includes(selection.id) : s.remark && s.upper_step === selection.step,
  );
  return stories[(at + 1) % Math.max(stories.length, 1)];
}

/** As scheduled, what was skipped has no times and is not drawn. */
export function withoutSkipped({ plan, assessment }: { plan: Plan; assessment: Assessment }): Plan {
  const steps = (plan.steps ?? []).filter((s) => assessment.times[s.id]);
  return steps.length < (plan.steps ?? []).length ? { ...plan, steps } : plan;
}

/** What a screen reader says: the verdict of what is chosen, else how many things are wrong. */
export function heardOf(a: Assessment, plan: Plan, selection: Selection, trying: boolean): string {
  const said = trying ? "Trying it. " : "";
  const name = (id: string | null) => plan.steps?.find((s) => s.id === id)?.name ?? "the base material";
  if (selection?.kind === "seam") {
    const seam = a.seams[selection.id];
    if (!seam) return said;
    const verdict = seam.verdict === "sound" ? "sound" : `${seam.verdict}, ${seam.word}`;
    return `${said}${name(seam.upper_step)} on ${name(seam.lower_step)}: ${verdict}. ${seam.sentence}`;
  }
  return `${said}${countsWords(a)}.`;
}

const count = (n: number, one: string, many: string) => (n ? [`${n} ${n === 1 ? one : many}`] : []);

/** How many things are wrong, by gravity: "1 clash, 2 waits, 3 cautions"; nothing where nothing is. */
export function tellCounts(counts: Partial<Record<string, number>>): string {
  return [
    ...count(counts.clash ?? 0, "clash", "clashes"),
    ...count(counts.wait ?? 0, "wait", "waits"),
    ...count(counts.caution ?? 0, "caution", "cautions"),
  ].join(", ");
}

export function countsWords(a: Assessment): string {
  const counts: Record<string, number> = {};
  for (const s of a.stories) counts[s.verdict] = (counts[s.verdict] ?? 0) + 1;
  return tellCounts(counts) || "all seams are sound";
}
