import { lazy, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { problemWords, type Problem } from "../../api/client";
import { SettingsButton } from "../../parts/SettingsButton";
import { Begin } from "./Begin";
import { BuildCard } from "./BuildCard";
import { Copies } from "./Copies";
import { useBuilds } from "./useBuilds";
import { Push } from "../../parts/Push";

// Below the fold: loaded after the builds.
const Devices = lazy(async () => ({ default: (await import("./Devices")).Devices }));

const day = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });

/** All builds; open a file or begin a new one; the trash; copies of everything. */
export function BuildsView() {
  const go = useNavigate();
  const all = useBuilds();
  const [problems, setProblems] = useState<{ of: string; list: Problem[] } | null>(null);
  const send = async (of: string, body: string | File) => {
    const taken = await all.send(body);
    if ("id" in taken) go(`/build/${taken.id}`);
    else setProblems({ of, list: taken.problems });
  };
  return (
    <main className="mx-auto max-w-6xl space-y-8 px-4 py-6">
      <header className="flex flex-wrap items-baseline gap-y-1">
        <h1 className="text-xl font-bold tracking-tight">emvar</h1>
        <p className="ml-4 text-ink-2">what each layer does to the next, and when</p>
        <span className="ml-auto flex flex-wrap gap-1">
          <Link className="push" data-bare to="/shelf">
            Shelf
          </Link>
          <Link className="push" data-bare to="/log">
            Logbook
          </Link>
          <Link className="push" data-bare to="/compendium">
            Compendium
          </Link>
          <Link className="push" data-bare to="/mix-and-spray">
            A paint in hand
          </Link>
          <SettingsButton />
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
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(16rem,1fr))] gap-3">
          {all.builds?.map((b) => (
            <BuildCard key={b.id} build={b} onRemove={() => all.remove(b.id)} />
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
                  <Push data-bare aria-label={`Put ${b.name} back`} onClick={() => all.putBack(b.id)}>
                    Put back
                  </Push>
                  <Push data-bare aria-label={`Delete ${b.name} for good`} onClick={() => all.forGood(b.id)}>
                    Delete for good
                  </Push>
                </li>
              ))}
            </ul>
          </details>
        ) : null}
      </section>
      <Begin
        builds={all.builds ?? []}
        onBegun={(id) => {
          void all.again();
          go(`/build/${id}`);
        }}
        onFile={(chosen) =>
          void (async () => send(chosen.name, chosen.name.endsWith(".zip") ? chosen : await chosen.text()))()
        }
      />
      <Suspense fallback={null}>
        <Devices />
      </Suspense>
      <Copies all={all} />
    </main>
  );
}
