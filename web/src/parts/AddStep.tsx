/** Type what is in your hand: every material and every kind of work, found by the trade's words. */
import { useEffect, useMemo, useRef, useState } from "react";
import { api, type Assessment, type Edit, type Knowledge, type Plan, type Step } from "../api/client";
import type { BuildStore } from "../api/store";
import { Sheet } from "./Panel";
import { items, search, type AddAt, type Item } from "../model/add";
import { newId } from "../model/ids";

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

function Search(p: Parameters<typeof AddStep>[0] & { at: AddAt }) {
  const [typed, setTyped] = useState<string | null>(null);
  // Techniques are heard of after the drawing is up; until then, one that was chosen beforehand is waited for.
  const wished = p.known.techniques.find((t) => t.id === p.at.technique);
  const waits = !!p.at.technique && !wished && typed === null;
  const query = typed ?? wished?.name ?? "";
  const [chosen, setChosen] = useState(0);
  // A primer goes all over the build, anything else where one is, until somebody says otherwise.
  const [said, setSaid] = useState<string[] | null>(null);
  const all = useMemo(() => items(p.known, p.plan, p.at), [p.known, p.plan, p.at]);
  const hits = useMemo(
    () => (waits ? [] : search(all, query, p.known.words)),
    [all, query, p.known.words, waits],
  );
  const primes = (item: Item | undefined) =>
    !!item?.ids.some((id) => p.known.coats.find((c) => c.id === id)?.use === "primer");
  const zonesOf = (item: Item | undefined) =>
    said ?? (primes(item) ? p.plan.zones.map((z) => z.id) : [p.at.zone]);
  const zones = zonesOf(hits[chosen]);
  const list = useRef<HTMLUListElement>(null);
  const byKey = useRef(false);
  useEffect(() => {
    if (byKey.current) list.current?.children[chosen]?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const take = async (item: Item | undefined) => {
    const steps = p.plan.steps ?? [];
    const index = p.at.after ? steps.findIndex((s) => s.id === p.at.after) + 1 : 0;
    if (item?.technique) {
      const { data } = await api.POST("/api/builds/{build_id}/technique", {
        params: { path: { build_id: p.store.id } },
        body: {
          technique: item.technique,
          zones: p.plan.zones.map((z) => z.id).filter((z) => zonesOf(item).includes(z)),
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
      .filter((z) => zonesOf(item).includes(z) && (!acts || acts.zones.includes(z)));
    // The program keeps its wait at the earliest safe time, until somebody types another.
    const step = { ...made, wait_by: "program", id: newId(made.name ?? "step"), zones: where } as Step;
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
          setTyped(e.target.value);
          setChosen(0);
        }}
        onKeyDown={(e) => {
          byKey.current = true; // what is chosen by key comes into view; under the pointer nothing moves
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
                setSaid(on ? (zones.length > 1 ? zones.filter((x) => x !== z.id) : zones) : [...zones, z.id])
              }
            >
              {on ? "✓ " : ""}
              {z.name}
            </button>
          );
        })}
      </div>
      <ul ref={list} id="add-hits" role="listbox" aria-label="Found" className="max-h-80 overflow-auto">
        {hits.map((item, i) => (
          <li
            key={item.key}
            id={`add-${item.key}`}
            role="option"
            aria-selected={i === chosen}
            className={`flex min-h-9 items-center gap-3 rounded px-2 text-sm ${i === chosen ? "bg-paper-2 font-semibold" : ""}`}
            onPointerMove={() => {
              byKey.current = false;
              setChosen(i);
            }}
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
      {hits.length === 0 && !waits ? (
        <p className="py-2 text-sm">
          Nothing is called that here. Try the family: lacquer, enamel, clear, oil; or add a material of your
          own under the build’s name, “This build”.
        </p>
      ) : null}
    </div>
  );
}
