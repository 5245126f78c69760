import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { problemWords, type Problem } from "../../api/client";
import { ThemeButton } from "../../parts/Theme";
import { Copies } from "./Copies";
import { useBuilds } from "./useBuilds";
import { SaveLink } from "../../parts/Save";

type Draft = { name: string; scale: string; zones: string };
const day = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });

/** All builds; open a file or begin a new one; the trash; copies of everything. */
export function BuildsView() {
  const go = useNavigate();
  const all = useBuilds();
  const file = useRef<HTMLInputElement>(null);
  const [problems, setProblems] = useState<{ of: string; list: Problem[] } | null>(null);
  const [draft, setDraft] = useState<Draft>({ name: "", scale: "72", zones: "Hull, Deck, House" });
  const send = async (of: string, body: string | File) => {
    const taken = await all.send(body);
    if ("id" in taken) go(`/build/${taken.id}`);
    else setProblems({ of, list: taken.problems });
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
  return (
    <main className="mx-auto max-w-3xl space-y-8 px-4 py-10">
      <header className="flex items-baseline">
        <h1 className="text-xl font-bold tracking-tight">emvar</h1>
        <p className="ml-4 text-ink-2">what each layer does to the next, and when</p>
        <span className="ml-auto">
          <ThemeButton />
        </span>
      </header>
      {all.said ? (
        <p role="status" className="rounded border border-ink bg-paper p-4" data-testid="said">
          {all.said}
        </p>
      ) : null}
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
        {all.why ? (
          <p role="status" data-testid="away">
            The builds cannot be read: {all.why.replace(/^data: /, "")} It is asked again every second or two.
          </p>
        ) : null}
        {all.builds?.length === 0 ? <p>No builds yet. Begin one below, or open a file.</p> : null}
        <ul className="border-t border-line">
          {all.builds?.map((b) => (
            <li key={b.id} className="flex min-h-12 items-center gap-3 border-b border-line">
              <Link to={`/build/${b.id}`} className="flex-1 py-2 font-semibold hover:underline">
                {b.name}
                <span className="ml-3 text-sm font-normal text-ink-2">
                  {b.zones} zones, {b.steps} steps
                </span>
              </Link>
              <SaveLink
                className="push"
                data-bare
                href={`/api/builds/${b.id}/build.zip`}
                aria-label={`Save ${b.name} as a file`}
              >
                Save
              </SaveLink>
              <button
                type="button"
                className="push"
                data-bare
                aria-label={`Delete ${b.name}`}
                onClick={() => all.remove(b.id)}
              >
                Delete
              </button>
            </li>
          ))}
        </ul>
        {all.waits ? <p role="status">Not done yet: Emvar does not answer. It is tried again.</p> : null}
        {all.trash.length ? (
          <details className="mt-3 text-sm" data-testid="trash">
            <summary className="min-h-7 cursor-pointer">
              In the trash: {all.trash.length === 1 ? "1 build" : `${all.trash.length} builds`}
            </summary>
            <ul className="border-t border-line">
              {all.trash.map((b) => (
                <li key={b.id} className="flex min-h-10 items-center gap-3 border-b border-line">
                  <span className="flex-1">
                    {b.name}
                    <span className="ml-3 text-ink-2">
                      deleted for good on {day.format(new Date(b.gone_on))}
                    </span>
                  </span>
                  <button
                    type="button"
                    className="push"
                    data-bare
                    aria-label={`Put ${b.name} back`}
                    onClick={() => all.putBack(b.id)}
                  >
                    Put back
                  </button>
                  <button
                    type="button"
                    className="push"
                    data-bare
                    aria-label={`Delete ${b.name} for good`}
                    onClick={() => all.forGood(b.id)}
                  >
                    Delete for good
                  </button>
                </li>
              ))}
            </ul>
          </details>
        ) : null}
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
              Open a file
            </button>
            <input
              ref={file}
              type="file"
              accept=".json,.zip,application/json,application/zip"
              className="sr-only"
              aria-label="Plan file or saved build"
              tabIndex={-1}
              onChange={async (e) => {
                const chosen = e.target.files?.[0];
                e.target.value = "";
                if (chosen)
                  await send(chosen.name, chosen.name.endsWith(".zip") ? chosen : await chosen.text());
              }}
            />
          </div>
        </form>
      </section>
      <Copies all={all} />
    </main>
  );
}
