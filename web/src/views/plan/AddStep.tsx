/** Type what is in your hand: every material and every kind of work, found by the trade's words. */
import { useMemo, useState } from "react";
import { api, type Assessment, type Edit, type Knowledge, type Plan, type Step } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { Sheet } from "../../parts/Panel";
import { newId } from "./stepParts";
import { ACTION_WORDS } from "./words";

type Item = {
  key: string;
  name: string;
  under: string;
  words: string;
  swatch: string | null;
  step: () => Partial<Step> | null;
  technique?: string;
};

const WATER_WORKED = new Set(["clay", "shade_ink", "acrylic_paste", "pva", "water_oil"]);

export type AddAt = { zone: string; after: string | null };

function items(known: Knowledge, plan: Plan, at: AddAt): Item[] {
  const found: Item[] = [];
  for (const t of known.techniques) {
    found.push({
      key: `technique-${t.id}`,
      name: t.name,
      under: "technique",
      words: `${t.name} ${t.words} technique`.toLowerCase(),
      swatch: t.swatch ?? null,
      step: () => null,
      technique: t.id,
    });
  }
  for (const c of known.coats) {
    for (const sheen of c.sheens.length ? c.sheens : [null]) {
      found.push({
        key: `${c.id}-${sheen}`,
        name: sheen ? `${c.name}, ${sheen}` : c.name,
        under: `${c.use} · ${c.system_name}`,
        words: `${c.name} ${sheen ?? ""} ${c.words} ${c.use} ${c.system_name}`.toLowerCase(),
        swatch: c.colour,
        step: () =>
          ({
            kind: "coat",
            name: sheen ? `${c.name}, ${sheen}` : c.name,
            material: c.id,
            method: c.method,
            passes: c.passes,
            ...(c.mix ? { mix: c.mix } : {}),
            ...(sheen ? { sheen } : {}),
            hands_on_min: 20,
          }) as Partial<Step>,
      });
    }
  }
  const upTo = at.after ? (plan.steps ?? []).findIndex((s) => s.id === at.after) + 1 : 0;
  const below = (plan.steps ?? [])
    .slice(0, upTo)
    .filter((s) => s.kind === "coat" && s.zones.includes(at.zone))
    .reverse();
  const work: [string, string, string, number, string][] = [
    ["wipe", "odourless_spirit", "damp_wipe", 0.4, "wash pin clean off"],
    ["blend", "odourless_spirit", "damp_wipe", 0.6, "oil dots fade"],
    ["streak", "odourless_spirit", "damp_wipe", 0.5, "rain marks drag"],
    ["chip", "water", "damp_wipe", 0.75, "hairspray scratch worn"],
    ["scrape", "odourless_spirit", "damp_wipe", 0.2, "mud paste scrape"],
  ];
  for (const target of below.slice(0, 4)) {
    for (const [action, carrier, method, leaves, words] of work) {
      const material = known.coats.find((c) => target.kind === "coat" && c.id === target.material);
      if (action !== "chip" && !material?.actions.includes(action)) continue;
      if (action === "chip" && material?.use !== "colour") continue;
      found.push({
        key: `${action}-${target.id}`,
        name: `${ACTION_WORDS[action]}: ${target.name}`,
        under: "work on a coat below",
        words: `${action} ${ACTION_WORDS[action]} ${target.name} ${words} work`.toLowerCase(),
        swatch: null,
        step: () =>
          ({
            kind: "working",
            name: `${ACTION_WORDS[action]}: ${target.name}`,
            action,
            acts_on: target.id,
            carrier: WATER_WORKED.has(material?.system ?? "") ? "water" : carrier,
            method,
            leaves,
            wait_min: 20,
            hands_on_min: 20,
          }) as Partial<Step>,
      });
    }
  }
  for (const action of ["mask", "unmask", "handle", "glue", "remove", "fit", "inspect"]) {
    const things = known.touches.filter((t) => t.serves.includes(action));
    for (const thing of things.length ? things : [null]) {
      const name = thing ? `${ACTION_WORDS[action]}: ${thing.name.toLowerCase()}` : ACTION_WORDS[action]!;
      found.push({
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
      });
    }
  }
  return found;
}

export function AddStep(p: {
  known: Knowledge;
  plan: Plan;
  assessment: Assessment;
  at: AddAt | null;
  store: BuildStore;
  onClose: () => void;
  onAdded: (step: string, zone: string) => void;
}) {
  return (
    <Sheet open={p.at !== null} title="Lay a coat, or do something to one" onClose={p.onClose}>
      {p.at ? <Search {...p} at={p.at} key={`${p.at.zone}~${p.at.after}`} /> : null}
    </Sheet>
  );
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

function Search(p: Parameters<typeof AddStep>[0] & { at: AddAt }) {
  const [query, setQuery] = useState("");
  const [chosen, setChosen] = useState(0);
  const [zones, setZones] = useState<string[]>([p.at.zone]);
  const all = useMemo(() => items(p.known, p.plan, p.at), [p.known, p.plan, p.at]);
  const terms = query.toLowerCase().split(/\s+/).filter(Boolean);
  const hits = all
    .filter((i) => terms.every((t) => i.words.includes(t)))
    .sort((x, y) => rank(x, terms) - rank(y, terms))
    .slice(0, 60);
  const take = async (item: Item | undefined) => {
    const steps = p.plan.steps ?? [];
    const index = p.at.after ? steps.findIndex((s) => s.id === p.at.after) + 1 : 0;
    if (item?.technique) {
      const { data } = await api.POST("/api/builds/{build_id}/technique", {
        params: { path: { build_id: p.store.id } },
        body: {
          technique: item.technique,
          zones: p.plan.zones.map((z) => z.id).filter((z) => zones.includes(z)),
          index,
        },
      });
      if (!data) return;
      p.onClose();
      const outcome = await p.store.edit(`Add ${item.name}`, data.edits as Edit[]);
      const first = (data.edits[0] as { step?: Step }).step;
      if (outcome.ok && first) p.onAdded(first.id, first.zones[0]!);
      return;
    }
    const made = item?.step();
    if (!made) return;
    const acts = "acts_on" in made ? steps.find((s) => s.id === made.acts_on) : undefined;
    const where = p.plan.zones
      .map((z) => z.id)
      .filter((z) => zones.includes(z) && (!acts || acts.zones.includes(z)));
    const step = { ...made, id: newId(made.name ?? "step"), zones: where } as Step;
    const edits: Edit[] = [{ edit: "add_step", step, index }];
    p.onClose();
    const outcome = await p.store.edit(`Add ${step.name}`, edits);
    if (outcome.ok) p.onAdded(step.id, where[0]!);
  };
  return (
    <div>
      <p className="mb-2 text-sm text-ink-2">
        {p.at.after
          ? `Goes on “${p.plan.steps?.find((s) => s.id === p.at.after)?.name}”.`
          : "Goes first, on the bare material."}
      </p>
      <input
        autoFocus
        role="combobox"
        aria-expanded="true"
        aria-controls="add-hits"
        aria-activedescendant={hits[chosen] ? `add-${hits[chosen].key}` : undefined}
        aria-label="What to lay or do"
        placeholder="gloss clear, rust, wash, mask, chip …"
        className="field w-full text-base"
        style={{ height: 40 }}
        value={query}
        onChange={(e) => {
          setQuery(e.target.value);
          setChosen(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setChosen((c) => Math.min(c + 1, hits.length - 1));
          else if (e.key === "ArrowUp") setChosen((c) => Math.max(c - 1, 0));
          else if (e.key === "Enter") void take(hits[chosen]);
          else return;
          e.preventDefault();
        }}
      />
      <div className="my-2 flex flex-wrap gap-1">
        {p.plan.zones.map((z) => {
          const on = zones.includes(z.id);
          return (
            <button
              key={z.id}
              type="button"
              aria-pressed={on}
              className={`min-h-7 rounded border px-2 text-xs ${on ? "border-ink font-semibold" : "border-line-soft text-ink-2"}`}
              onClick={() =>
                setZones((now) =>
                  on ? (now.length > 1 ? now.filter((x) => x !== z.id) : now) : [...now, z.id],
                )
              }
            >
              {on ? "✓ " : ""}
              {z.name}
            </button>
          );
        })}
      </div>
      <ul id="add-hits" role="listbox" aria-label="Found" className="max-h-80 overflow-auto">
        {hits.map((item, i) => (
          <li
            key={item.key}
            id={`add-${item.key}`}
            role="option"
            aria-selected={i === chosen}
            className={`flex min-h-9 items-center gap-3 rounded px-2 text-sm ${i === chosen ? "bg-paper-2 font-semibold" : ""}`}
            onPointerMove={() => setChosen(i)}
            onClick={() => void take(item)}
          >
            <span
              className="h-5 w-5 shrink-0 rounded-sm border border-line"
              style={item.swatch ? { background: item.swatch } : {}}
            />
            {item.name}
            <span className="ml-auto text-xs font-normal text-ink-2">{item.under}</span>
          </li>
        ))}
      </ul>
      {hits.length === 0 ? (
        <p className="py-2 text-sm">
          Nothing is called that here. Try the family: lacquer, enamel, clear, oil; or add a material of your
          own under the build’s name, “This build”.
        </p>
      ) : null}
    </div>
  );
}
