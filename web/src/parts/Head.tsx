/** What stands at the head of every view of a build, and, on a narrow screen, the bar of views at thumb's reach. */
import { lazy, Suspense, useEffect, useState, type ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import type { BuildOut } from "../api/client";
import { useSaved, type BuildStore } from "../api/store";
import { AirButton } from "./AirButton";
import { SettingsButton } from "./SettingsButton";
import { useLater } from "./useLater";
import { useSmall } from "./useSmall";
import { Push } from "./Push";

// What opens in the head comes after the drawing; until then its button stands there.
const AirPanel = lazy(async () => ({ default: (await import("./AirPanel")).AirPanel }));

export type View = "rack" | "table" | "mix" | "sittings" | "log";

const views = (id: string, step?: string) =>
  [
    { view: "rack", to: `/build/${id}`, words: "Rack", short: "Rack" },
    { view: "table", to: `/build/${id}/table`, words: "Table", short: "Table" },
    {
      view: "mix",
      to: `/build/${id}/mix-and-spray${step ? `/${step}` : ""}`,
      words: "Mix and spray",
      short: "Mix",
    },
    { view: "sittings", to: `/build/${id}/sittings`, words: "Sittings", short: "Sittings" },
    { view: "at-the-bench", to: `/build/${id}/at-the-bench`, words: "At the bench", short: "Bench" },
    { view: "log", to: `/build/${id}/log`, words: "Log", short: "Log" },
    { view: "compendium", to: "/compendium", words: "Compendium", short: "Look up" },
  ] as const;

/** What the browser would print of a view is its screen; what is wanted is its sheets. */
function usePaper(id: string, on: View, step: string | undefined) {
  const go = useNavigate();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "p") return;
      e.preventDefault();
      void go(`/build/${id}/paper/${on === "mix" ? `card/${step ?? ""}` : on}`);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [go, id, on, step]);
}

/** The bar at the head of every view of a build. `name`: what stands for the build; else its name, leading to the plan. */
export function ViewHead(p: {
  build: BuildOut;
  store: BuildStore;
  on: View;
  step?: string;
  name?: ReactNode;
  /** Bench air can be set here. */
  air?: boolean;
  onHelp?: () => void;
}) {
  const small = useSmall();
  const [airPressed, setAirPressed] = useState(false);
  const later = useLater();
  usePaper(p.build.id, p.on, p.step);
  return (
    <header className="view-head no-print">
      <a className="skip" href="#main">
        To the drawing
      </a>
      <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
        emvar
      </Link>
      {p.name ?? (
        <Link to={`/build/${p.build.id}`} className="push min-w-0" data-bare>
          <span className="truncate">{p.build.plan.build.name}</span>
        </Link>
      )}
      {small ? null : (
        <nav className="flex shrink-0 gap-0.5" aria-label="Views">
          {views(p.build.id, p.step).map((v) => (
            <Link
              key={v.view}
              to={v.to}
              aria-current={v.view === p.on ? "page" : undefined}
              className={`flex h-8 items-center rounded px-2 text-sm xl:px-2.5 ${v.view === p.on ? "bg-paper font-semibold" : "hover:bg-surround"}`}
            >
              {v.words}
            </Link>
          ))}
        </nav>
      )}
      <span className="ml-auto" />
      <SavedWord store={p.store} />
      <UndoRedo store={p.store} history={p.build.history} />
      {p.air && !later ? (
        <AirButton air={p.build.plan.air ?? {}} onClick={() => setAirPressed(true)} />
      ) : p.air ? (
        <Suspense fallback={<AirButton air={p.build.plan.air ?? {}} onClick={() => setAirPressed(true)} />}>
          <AirPanel air={p.build.plan.air ?? {}} store={p.store} open={airPressed} />
        </Suspense>
      ) : null}
      <SettingsButton onHelp={p.onHelp} />
      {p.onHelp && !small ? (
        <Push data-bare aria-label="Help and keys" onClick={p.onHelp}>
          ?
        </Push>
      ) : null}
    </header>
  );
}

/** The views at thumb's reach. */
export function ViewsBar(p: { id: string; on: View; step?: string }) {
  if (!useSmall()) return null;
  return (
    <nav className="views-bar no-print" aria-label="Views">
      {views(p.id, p.step).map((v) => (
        <Link
          key={v.view}
          to={v.to}
          aria-current={v.view === p.on ? "page" : undefined}
          aria-label={v.words}
          className={v.view === p.on ? "bg-paper font-semibold" : ""}
        >
          {v.short}
        </Link>
      ))}
    </nav>
  );
}

/** What could not be done and why, under the head, over nothing. */
export function Refused(p: { why: string | null; onHeard: () => void }) {
  if (!p.why) return null;
  return (
    <div
      role="alert"
      className="mx-4 mt-2 flex items-start gap-3 rounded border border-ink bg-paper px-3 py-2 text-sm"
    >
      <span>
        <strong>Not done.</strong> {p.why}
      </span>
      <Push className="ml-auto shrink-0" onClick={p.onHeard}>
        OK
      </Push>
    </div>
  );
}

function UndoRedo({ store, history }: { store: BuildStore; history: BuildOut["history"] }) {
  const ways = [
    { name: "Undo", arrow: "↶", of: history.undo, none: "Nothing to undo", act: () => store.undo() },
    { name: "Redo", arrow: "↷", of: history.redo, none: "Nothing to redo", act: () => store.redo() },
  ];
  return ways.map((w) => (
    <Push
      key={w.name}

      data-bare
      aria-label={w.name}
      disabled={!w.of}
      title={w.of ? `${w.name}: ${w.of}` : w.none}
      onClick={() => void w.act()}
    >
      <span className="hidden xl:inline">{w.name}</span>
      <span className="text-lg leading-none xl:hidden" aria-hidden="true">
        {w.arrow}
      </span>
    </Push>
  ));
}

function SavedWord({ store }: { store: BuildStore }) {
  const saved = useSaved(store);
  return (
    <span
      className={`min-w-0 truncate text-xs text-ink-2 ${saved === "waiting" ? "" : "max-[899.9px]:sr-only"}`}
      role="status"
      data-testid="saved"
    >
      {saved === "saved" ? "Saved" : saved === "saving" ? "Saving" : "Not saved yet: no answer, trying again"}
    </span>
  );
}
