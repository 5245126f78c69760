/** What can be laid or done at a place, found by the trade's words. The API says what there is and how it is usual. */
import type { Knowledge, Plan, Step } from "../api/client";
import { thinners } from "./liquids";
import { tell } from "./words";

export type Item = {
  key: string;
  name: string;
  under: string;
  words: string;
  swatch: string | null;
  step: () => Partial<Step> | null;
  technique?: string;
  /** Of what it is: technique, material, act. The trade's phrases name these. */
  ids: string[];
};
/** Where it goes; `technique`: what was chosen beforehand, in the compendium. */
export type AddAt = { zone: string; after: string | null; technique?: string };

const COATS_BELOW = 4; // work is offered on so many coats below
export const MOST_SHOWN = 60;

export function items(known: Knowledge, plan: Plan, at: AddAt): Item[] {
  return [
    ...techniques(known),
    ...coats(known),
    ...work(known, plan, at),
    ...fittings(known),
    ...(at.after ? [] : already(known)),
  ];
}

const COVERS = ["primer", "colour", "clear"];

/** A finish that is there before anything is laid: factory paint, an old build, an unknown one. */
function already(known: Knowledge): Item[] {
  return known.coats
    .filter((c) => COVERS.includes(c.use))
    .map((c) => ({
      key: `existing-${c.id}`,
      ids: ["existing"],
      name: `There already: ${c.name.toLowerCase()}`,
      under: "a finish that is there already",
      words: `${c.words} existing already old factory second-hand finish`,
      swatch: c.colour,
      step: () =>
        ({
          kind: "coat",
          name: `${c.name}, there already`,
          material: c.id,
          existing: { age_days: null },
          hands_on_min: 0,
        }) as Partial<Step>,
    }));
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
    ids: [t.id],
  }));
}

function coats(known: Knowledge): Item[] {
  return known.coats.flatMap((c) =>
    (c.sheens.length ? c.sheens : [null]).map((sheen) => {
      const name = sheen ? `${c.name}, ${sheen}` : c.name;
      return {
        key: `${c.id}-${sheen}`,
        ids: [c.id],
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
        ids: [w.action],
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
    if (action === "wet") return thinners(known).map((t) => wetting(words.action(action), t));
    const things = known.touches.filter((t) => t.serves.includes(action));
    return (things.length ? things : [null]).map((thing) => {
      const name = thing ? `${words.action(action)}: ${thing.name.toLowerCase()}` : words.action(action);
      return {
        key: `${action}-${thing?.id}`,
        ids: thing ? [thing.id, action] : [action],
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

/** A panel wetted or misted with a liquid, for what follows. */
function wetting(verb: string, liquid: { id: string; name: string; words: string }): Item {
  const name = `${verb}: ${liquid.name.toLowerCase()}`;
  return {
    key: `wet-${liquid.id}`,
    ids: ["wet"],
    name,
    under: "fitting",
    words: `${liquid.words} pre-wet panel mist`,
    swatch: null,
    step: () =>
      ({ kind: "fitting", name, action: "wet", carrier: liquid.id, hands_on_min: 1 }) as Partial<Step>,
  };
}

/** A query as the trade spells it: one case, no hyphens, each word in its usual spelling. */
function plain(text: string): string {
  return text
    .toLowerCase()
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .replace(/[^a-z0-9]+/g, " ")
    .trim();
}

/** Whether two words differ by one letter, or by two that changed places; only of words long enough for a slip. */
export function slip(a: string, b: string): boolean {
  if (a.length < 5 || Math.abs(a.length - b.length) > 1) return false;
  let i = 0;
  while (i < a.length && a[i] === b[i]) i++;
  const [x, y] = [a.slice(i), b.slice(i)];
  if (x.length === y.length)
    return x.slice(1) === y.slice(1) || (x[0] === y[1] && x[1] === y[0] && x.slice(2) === y.slice(2));
  return x.length > y.length ? x.slice(1) === y : x === y.slice(1);
}

/** How well one word of the query fits: 0 a word of the name, up to 4 a slip of the pen; null: not at all. */
function fit(term: string, name: string[], words: string[]): number | null {
  if (name.includes(term)) return 0;
  if (name.some((w) => w.startsWith(term))) return 1;
  if (words.includes(term)) return 2;
  if (words.some((w) => w.startsWith(term))) return 3;
  return [...name, ...words].some((w) => slip(w, term)) ? 4 : null;
}

type Spelling = Pick<Knowledge["words"], "spelt" | "meant">;

/**
 * What is found by a query, the likeliest first: what the trade means by the phrase, then what has its words in the
 * name, then in what is said of it. A slip of the pen counts where nothing else does.
 */
export function search(all: Item[], query: string, spelling?: Spelling): Item[] {
  const typed = plain(query);
  if (!typed) return all.slice(0, MOST_SHOWN);
  const spelt = typed
    .split(" ")
    .map((w) => spelling?.spelt[w] ?? w)
    .join(" ");
  const meant = spelling?.meant[typed] ?? spelling?.meant[spelt] ?? [];
  const terms = spelt.split(" ");
  const found: { item: Item; rank: number }[] = [];
  for (const item of all) {
    const name = plain(item.name).split(" ");
    const words = plain(item.words).split(" ");
    const fits = terms.map((t) => fit(t, name, words));
    const own = fits.some((f) => f === null) ? null : fits.reduce<number>((a, f) => a + f!, 0) / terms.length;
    const place = Math.min(...item.ids.map((id) => meant.indexOf(id)).filter((i) => i >= 0));
    const known = Number.isFinite(place) ? place * 0.1 : null;
    const whole = own === 0 && name.length === terms.length ? -0.5 : 0;
    if (known !== null) found.push({ item, rank: Math.min(known, own === null ? 9 : own + 0.5) - 0.6 });
    else if (own !== null) found.push({ item, rank: own + whole });
  }
  const best = found.some((f) => f.rank < 4) ? found.filter((f) => f.rank < 4) : found;
  return best
    .sort((x, y) => x.rank - y.rank)
    .slice(0, MOST_SHOWN)
    .map((f) => f.item);
}
