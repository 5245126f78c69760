/** Materials and techniques to read and search: the same data that judges, drawn. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, type Compendium } from "../../api/client";
import type { TradeWords } from "../../model/words";
import { useWords } from "../../parts/BuildDoor";
import { SettingsButton } from "../../parts/SettingsButton";
import { useSmall } from "../../parts/useSmall";
import { BaseEntry, CoatEntry, TechniqueEntry, ThinnerEntry, TouchEntry } from "./Entries";
import { Push } from "../../parts/Push";

type Kind = "technique" | "material" | "thinner" | "base" | "touch";
/** `key`: its kind and id, since a technique and its material may share a name. */
type Row = { key: string; id: string; name: string; under: string; words: string; swatch: string | null };

const keyOf = (kind: Kind, id: string) => `${kind}~${id}`;

function rows(c: Compendium, words: TradeWords): Row[] {
  const found: Row[] = [];
  for (const t of [...c.techniques].sort((a, b) => a.stage - b.stage))
    found.push({
      key: keyOf("technique", t.id),
      id: t.id,
      name: t.name,
      under: `Techniques · ${words.stage(String(t.stage))}`,
      words: `${t.name} ${t.words} ${t.summary} ${t.traps.join(" ")}`.toLowerCase(),
      swatch: t.steps.findLast((s) => s.colour)?.colour ?? null,
    });
  for (const { value: use, label: title } of words.uses)
    for (const m of c.coats.filter((x) => x.use === use))
      found.push({
        key: keyOf("material", m.id),
        id: m.id,
        name: m.name,
        under: `Materials · ${title}`,
        words: `${m.name} ${m.words} ${m.use} ${m.system} ${m.binder} ${m.sheens.join(" ")}`.toLowerCase(),
        swatch: m.colour,
      });
  for (const t of c.thinners)
    found.push({
      key: keyOf("thinner", t.id),
      id: t.id,
      name: t.name,
      under: "Thinners and solvents",
      words: `${t.name} ${t.words} ${Object.keys(t.percent).join(" ")}`.toLowerCase(),
      swatch: null,
    });
  for (const b of c.bases)
    found.push({
      key: keyOf("base", b.id),
      id: b.id,
      name: b.name,
      under: "Base materials",
      words: `${b.name} ${b.words}`.toLowerCase(),
      swatch: null,
    });
  for (const t of c.touches)
    found.push({
      key: keyOf("touch", t.id),
      id: t.id,
      name: t.name,
      under: "Tapes, masks and glues",
      words: `${t.name} ${t.words}`.toLowerCase(),
      swatch: null,
    });
  return found;
}

export function CompendiumView() {
  const { data } = useQuery({
    queryKey: ["compendium"],
    queryFn: async () => (await api.GET("/api/compendium")).data as Compendium,
    staleTime: Infinity,
  });
  if (!data) return <main className="p-10" aria-busy="true" />;
  return <Loaded c={data} />;
}

function Loaded({ c }: { c: Compendium }) {
  const go = useNavigate();
  const { hash } = useLocation();
  const [query, setQuery] = useState("");
  const words = useWords();
  const all = useMemo(() => rows(c, words), [c, words]);
  const terms = query.toLowerCase().split(/\s+/).filter(Boolean);
  const hits = all.filter((r) => terms.every((t) => r.words.includes(t)));
  const small = useSmall();
  const wanted = decodeURIComponent(hash.slice(1));
  const asked = all.find((r) => r.key === wanted) ?? all.find((r) => r.id === wanted);
  const open = asked ?? hits[0] ?? all[0]!;
  const step = (by: number) => {
    const at = hits.findIndex((r) => r.key === open.key);
    const next = hits[Math.max(0, Math.min(at + by, hits.length - 1))];
    if (next) void go(`#${next.key}`, { replace: true });
  };
  useEffect(() => {
    document.querySelector(`[data-entry="${CSS.escape(open.key)}"]`)?.scrollIntoView({ block: "nearest" });
  }, [open.key]);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr]">
      <header className="view-head">
        <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
          emvar
        </Link>
        <h1 className="text-base font-semibold">Compendium</h1>
        <Push data-bare onClick={() => void go(-1)}>
          Back to where I was
        </Push>
        <span className="ml-auto" />
        <SettingsButton />
      </header>
      <main className="grid min-h-0 grid-cols-[minmax(0,1fr)] min-[900px]:grid-cols-[20rem_minmax(0,1fr)]">
        <nav
          hidden={small && !!asked}
          className="flex min-h-0 flex-col border-r border-line bg-paper"
          aria-label="Materials and techniques"
        >
          <div className="p-3">
            <input
              autoFocus
              type="search"
              aria-label="Search the compendium"
              placeholder="wash, hairspray, brass, rust …"
              className="field w-full text-base"
              style={{ height: 36 }}
              value={query}
              onChange={(e) => setQuery(e.target.value)}
              onKeyDown={(e) => {
                if (e.key === "ArrowDown") step(1);
                else if (e.key === "ArrowUp") step(-1);
                else if (e.key === "Enter" && hits[0]) void go(`#${hits[0].key}`, { replace: true });
                else return;
                e.preventDefault();
              }}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-y-auto pb-3" data-testid="entries">
            {hits.map((r, i) => {
              const head = r.under !== hits[i - 1]?.under;
              return (
                <li key={r.key}>
                  {head ? (
                    <p className="bg-paper-2 px-3 py-1 text-xs font-semibold text-ink-2">{r.under}</p>
                  ) : null}
                  <Link
                    to={`#${r.key}`}
                    replace={!small}
                    data-entry={r.key}
                    aria-current={r.key === open.key && !small ? "true" : undefined}
                    className={`flex min-h-8 items-center gap-2.5 px-3 text-sm ${r.key === open.key && !small ? "bg-ink text-paper font-semibold" : "hover:bg-paper-2"}`}
                  >
                    <span
                      className="h-4 w-4 shrink-0 border border-line"
                      style={r.swatch ? { background: r.swatch } : { borderStyle: "dashed" }}
                    />
                    {r.name}
                  </Link>
                </li>
              );
            })}
            {hits.length === 0 ? (
              <li className="px-3 py-2 text-sm">
                Nothing is called that here. Try a family: enamel, clear, oil.
              </li>
            ) : null}
          </ul>
        </nav>
        <div
          hidden={small && !asked}
          className="min-h-0 overflow-y-auto px-4 py-4 min-[900px]:px-10 min-[900px]:py-7"
          data-testid="entry"
          tabIndex={0}
        >
          <div className="max-w-3xl">
            {small ? (
              <Push className="mb-3" onClick={() => void go("#")}>
                ‹ All entries
              </Push>
            ) : null}
            <Entry c={c} of={open.key} />
          </div>
        </div>
      </main>
    </div>
  );
}

function Entry({ c, of }: { c: Compendium; of: string }) {
  const [kind, id] = of.split("~") as [Kind, string];
  switch (kind) {
    case "technique":
      return <TechniqueEntry t={c.techniques.find((t) => t.id === id)!} c={c} />;
    case "material":
      return <CoatEntry m={c.coats.find((m) => m.id === id)!} c={c} />;
    case "thinner":
      return <ThinnerEntry t={c.thinners.find((t) => t.id === id)!} />;
    case "base":
      return <BaseEntry b={c.bases.find((b) => b.id === id)!} />;
    default:
      return <TouchEntry t={c.touches.find((t) => t.id === id)!} />;
  }
}
