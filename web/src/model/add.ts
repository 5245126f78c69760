/** What can be laid or done at a place, found by the trade's words. The API says what there is and how it is usual. */
import type { Knowledge, Plan, Step } from "../api/client";
import { tell } from "./words";

export type Item = {
  key: string;
  name: string;
  under: string;
  words: string;
  swatch: string | null;
  step: () => Partial<Step> | null;
  technique?: string;
};
export type AddAt = { zone: string; after: string | null };

const COATS_BELOW = 4; // work is offered on so many coats below
export const MOST_SHOWN = 60;

export function items(known: Knowledge, plan: Plan, at: AddAt): Item[] {
  return [...techniques(known), ...coats(known), ...work(known, plan, at), ...fittings(known)];
}

function techniques(known: Knowledge): Item[] {
  return known.techniques.map((t) => ({
    key: `technique-${t.id}`,
    name: t.name,
    under: "technique",
    words: `${t.name} ${t.words} technique`.toLowerCase(),
    swatch: t.swatch ?? null,
    step: () => null,
    technique: t.id,
  }));
}

function coats(known: Knowledge): Item[] {
  return known.coats.flatMap((c) =>
    (c.sheens.length ? c.sheens : [null]).map((sheen) => {
      const name = sheen ? `${c.name}, ${sheen}` : c.name;
      return {
        key: `${c.id}-${sheen}`,
        name,
        under: `${c.use} · ${c.system_name}`,
        words: `${c.name} ${sheen ?? ""} ${c.words} ${c.use} ${c.system_name}`.toLowerCase(),
        swatch: c.colour,
        step: () =>
          ({
            kind: "coat",
            name,
            material: c.id,
            method: c.method,
            passes: c.passes,
            ...(c.mix ? { mix: c.mix } : {}),
            ...(sheen ? { sheen } : {}),
            hands_on_min: 20,
          }) as Partial<Step>,
      };
    }),
  );
}

function work(known: Knowledge, plan: Plan, at: AddAt): Item[] {
  const words = tell(known.words);
  const steps = plan.steps ?? [];
  const upTo = at.after ? steps.findIndex((s) => s.id === at.after) + 1 : 0;
  const below = steps
    .slice(0, upTo)
    .filter((s) => s.kind === "coat" && s.zones.includes(at.zone))
    .reverse()
    .slice(0, COATS_BELOW);
  return below.flatMap((target) => {
    const material = known.coats.find((c) => target.kind === "coat" && c.id === target.material);
    return (material?.works ?? []).map((w) => {
      const name = `${words.action(w.action)}: ${target.name}`;
      return {
        key: `${w.action}-${target.id}`,
        name,
        under: "work on a coat below",
        words: `${w.action} ${name} ${w.words} work`.toLowerCase(),
        swatch: null,
        step: () =>
          ({
            kind: "working",
            name,
            action: w.action,
            acts_on: target.id,
            carrier: w.carrier,
            method: w.method,
            leaves: w.leaves,
            hands_on_min: 20,
          }) as Partial<Step>,
      };
    });
  });
}

function fittings(known: Knowledge): Item[] {
  const words = tell(known.words);
  return known.words.fittings.flatMap(({ id: action }) => {
    const things = known.touches.filter((t) => t.serves.includes(action));
    return (things.length ? things : [null]).map((thing) => {
      const name = thing ? `${words.action(action)}: ${thing.name.toLowerCase()}` : words.action(action);
      return {
        key: `${action}-${thing?.id}`,
        name,
        under: "fitting",
        words: `${action} ${name} ${thing?.words ?? ""} fitting part`.toLowerCase(),
        swatch: null,
        step: () =>
          ({
            kind: "fitting",
            name,
            action,
            hands_on_min: 10,
            ...(thing ? { material: thing.id } : {}),
          }) as Partial<Step>,
      };
    });
  });
}

/** What begins with the words typed comes first. */
function rank(item: Item, terms: string[]): number {
  const name = item.name.toLowerCase();
  if (!terms.length) return 0;
  const words = name.split(/[^a-z0-9]+/);
  if (terms.every((t) => words.includes(t))) return 0;
  if (name.startsWith(terms.join(" "))) return 1;
  return terms.every((t) => name.includes(t)) ? 2 : 3;
}

export function search(all: Item[], query: string): Item[] {
  const terms = query.toLowerCase().split(/\s+/).filter(Boolean);
  return all
    .filter((i) => terms.every((t) => i.words.includes(t)))
    .sort((x, y) => rank(x, terms) - rank(y, terms))
    .slice(0, MOST_SHOWN);
}
