/** What an answer changes of a build: its steps by their order, and of the answers only what differs. */
import type { BuildOut, Changed } from "./client";

export function applyChanged(build: BuildOut, c: Changed): BuildOut {
  const steps = new Map((build.plan.steps ?? []).map((s) => [s.id, s]));
  for (const [id, step] of Object.entries(c.steps)) steps.set(id, step);
  const merge = <T>(old: Record<string, T>, more: Record<string, T>, gone: string[]) => {
    const next = { ...old };
    for (const id of gone) Reflect.deleteProperty(next, id);
    return Object.assign(next, more);
  };
  const a = build.assessment;
  const plan = { ...build.plan, ...c.head, steps: c.order.map((id) => steps.get(id)!) };
  const next = { ...build, revision: c.revision, history: c.history, plan };
  if (c.partial) {
    // The first part of the answer: one zone's next steps. The others keep what they had until the rest comes.
    const { zone, steps } = c.partial;
    const worked = new Set(steps);
    const gone: string[] = [];
    for (const id in a.seams) {
      const s = a.seams[id]!;
      if (s.zone_id === zone && worked.has(s.upper_step)) gone.push(id);
    }
    return {
      ...next,
      assessment: {
        ...a,
        times: { ...a.times, ...c.times },
        coats: { ...a.coats, ...c.coats },
        seams: merge(a.seams, c.seams, gone),
      },
    };
  }
  const here = new Set(c.order);
  const left = Object.keys(a.times).filter((id) => !here.has(id)); // of steps that are gone
  return {
    ...next,
    assessment: {
      times: merge(a.times, c.times, left),
      coats: merge(a.coats, c.coats, c.coats_gone),
      seams: merge(a.seams, c.seams, c.seams_gone),
      cups: merge(a.cups, c.cups, left),
      notes: c.notes,
      remarks: c.remarks,
      stories: c.stories,
      score: c.score,
      end_min: c.end_min,
    },
  };
}

/** A command whose first answer was lost is answered with the whole build. */
export function isWhole(told: Changed | BuildOut): told is BuildOut {
  return "assessment" in told;
}
