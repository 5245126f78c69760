import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, problemWords, type Problem } from "../../api/client";
import { ThemeButton } from "../../parts/Theme";

type Draft = { name: string; scale: string; zones: string };

/** All builds; open a plan file or begin a new one. */
export function BuildsView() {
  const go = useNavigate();
  const cache = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [problems, setProblems] = useState<{ of: string; list: Problem[] } | null>(null);
  const [draft, setDraft] = useState<Draft>({ name: "", scale: "72", zones: "Hull, Deck, House" });
  const [going, setGoing] = useState<string | null>(null);
  const { data: builds } = useQuery({
    queryKey: ["builds"],
    queryFn: async () => (await api.GET("/api/builds")).data ?? [],
  });
  const send = async (of: string, body: string) => {
    const { data, error } = await api.POST("/api/builds", {
      body: body as never,
      bodySerializer: (b) => b as unknown as string,
      headers: { "Content-Type": "application/json" },
    });
    if (data) go(`/build/${data.id}`);
    else setProblems({ of, list: (error as { problems?: Problem[] })?.problems ?? [] });
  };
  const make = () => {
    const zones = draft.zones
      .split(",")
      .map((z) => z.trim())
      .filter(Boolean);
    const start = new Date();
    start.setMinutes(0, 0, 0);
    void send(
      "The new build",
      JSON.stringify({
        format: "emvar-plan",
        version: 1,
        build: {
          name: draft.name,
          scale: Number(draft.scale),
          starts_at: start.toISOString(),
          timezone: Intl.DateTimeFormat().resolvedOptions().timeZone,
        },
        zones: (zones.length ? zones : ["All of it"]).map((name, i) => ({
          id: `zone-${i + 1}`,
          name,
          area_cm2: 100,
        })),
        steps: [],
      }),
    );
  };
  const remove = async (id: string) => {
    await api.DELETE("/api/builds/{build_id}", { params: { path: { build_id: id } } });
    setGoing(null);
    await cache.invalidateQueries({ queryKey: ["builds"] });
  };
  return (
    <main className="mx-auto max-w-3xl space-y-8 px-4 py-10">
      <header className="flex items-baseline">
        <h1 className="text-xl font-bold tracking-tight">emvar</h1>
        <p className="ml-4 text-ink-2">what each layer does to the next, and when</p>
        <span className="ml-auto">
          <ThemeButton />
        </span>
      </header>
      {problems ? (
        <section role="alert" className="rounded border border-ink bg-paper p-4" data-testid="refused">
          <h2 className="font-semibold">{problems.of} was not taken; nothing was stored</h2>
          <ul className="mt-1 list-disc pl-5 text-sm">
            {problems.list.map((x) => (
              <li key={x.where + x.what}>{problemWords([x])}</li>
            ))}
          </ul>
        </section>
      ) : null}
      <section>
        <h2 className="mb-2 text-lg font-semibold">Builds</h2>
        {builds?.length === 0 ? <p>No builds yet. Begin one below, or open a plan file.</p> : null}
        <ul className="border-t border-line">
          {builds?.map((b) => (
            <li key={b.id} className="flex min-h-12 items-center gap-3 border-b border-line">
              <Link to={`/build/${b.id}`} className="flex-1 py-2 font-semibold hover:underline">
                {b.name}
                <span className="ml-3 text-sm font-normal text-ink-2">
                  {b.zones} zones, {b.steps} steps
                </span>
              </Link>
              {going === b.id ? (
                <>
                  <span className="text-sm">This cannot be undone.</span>
                  <button type="button" className="push" data-strong onClick={() => void remove(b.id)}>
                    Delete {b.name}
                  </button>
                  <button type="button" className="push" onClick={() => setGoing(null)}>
                    Keep it
                  </button>
                </>
              ) : (
                <button
                  type="button"
                  className="push"
                  data-bare
                  aria-label={`Delete ${b.name}`}
                  onClick={() => setGoing(b.id)}
                >
                  Delete
                </button>
              )}
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h2 className="mb-2 text-lg font-semibold">Begin</h2>
        <form
          className="grid grid-cols-[1fr_6rem] gap-3 rounded bg-paper p-4"
          onSubmit={(e) => {
            e.preventDefault();
            make();
          }}
        >
          <label className="text-xs text-ink-2">
            Name of the build
            <input
              className="field block w-full text-ink"
              required
              value={draft.name}
              onChange={(e) => setDraft({ ...draft, name: e.target.value })}
            />
          </label>
          <label className="text-xs text-ink-2">
            Scale 1:
            <input
              className="field block w-full text-ink"
              inputMode="numeric"
              value={draft.scale}
              onChange={(e) => setDraft({ ...draft, scale: e.target.value })}
            />
          </label>
          <label className="col-span-2 text-xs text-ink-2">
            Zones painted apart, with commas between
            <input
              className="field block w-full text-ink"
              value={draft.zones}
              onChange={(e) => setDraft({ ...draft, zones: e.target.value })}
            />
          </label>
          <div className="col-span-2 flex gap-2">
            <button type="submit" className="push" data-strong>
              Begin this build
            </button>
            <button type="button" className="push" onClick={() => file.current?.click()}>
              Open a plan file
            </button>
            <input
              ref={file}
              type="file"
              accept=".json,application/json"
              className="sr-only"
              aria-label="Plan file"
              tabIndex={-1}
              onChange={async (e) => {
                const chosen = e.target.files?.[0];
                e.target.value = "";
                if (chosen) await send(chosen.name, await chosen.text());
              }}
            />
          </div>
        </form>
      </section>
    </main>
  );
}
