/** What stands at the head of every view of a build. */
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { BuildOut } from "../api/client";
import { useSaved, type BuildStore } from "../api/store";

function Views(p: { id: string; on: "rack" | "table" | "bench" | "sittings"; step?: string }) {
  return (
    <nav className="flex gap-1" aria-label="Views">
      <Tab to={`/build/${p.id}`} on={p.on === "rack"} words="Rack" />
      <Tab to={`/build/${p.id}/table`} on={p.on === "table"} words="Table" />
      <Tab
        to={`/build/${p.id}/bench${p.step ? `/${p.step}` : ""}`}
        on={p.on === "bench"}
        words="Mix and spray"
      />
      <Tab to={`/build/${p.id}/sittings`} on={p.on === "sittings"} words="Sittings" />
      <Tab to="/compendium" on={false} words="Compendium" />
    </nav>
  );
}

/** The bar at the head of every view of a build. `name`: what stands for the build; else its name, leading to the plan. */
export function ViewHead(p: {
  build: BuildOut;
  store: BuildStore;
  on: "rack" | "table" | "bench" | "sittings";
  step?: string;
  name?: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="flex h-12 items-center gap-2 border-b border-line bg-surround-deep px-4 no-print">
      <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
        emvar
      </Link>
      {p.name ?? (
        <Link to={`/build/${p.build.id}`} className="push" data-bare>
          {p.build.plan.build.name}
        </Link>
      )}
      <Views id={p.build.id} on={p.on} step={p.step} />
      <SavedWord store={p.store} />
      <UndoRedo store={p.store} history={p.build.history} />
      {p.children}
    </header>
  );
}

export function HelpButton({ onOpen }: { onOpen: () => void }) {
  return (
    <button type="button" className="push" data-bare aria-label="Shortcuts" onClick={onOpen}>
      ?
    </button>
  );
}

function UndoRedo({ store, history }: { store: BuildStore; history: BuildOut["history"] }) {
  return (
    <>
      <button
        type="button"
        className="push"
        data-bare
        disabled={!history.undo}
        title={history.undo ? `Undo: ${history.undo}` : "Nothing to undo"}
        onClick={() => void store.undo()}
      >
        Undo
      </button>
      <button
        type="button"
        className="push"
        data-bare
        disabled={!history.redo}
        title={history.redo ? `Redo: ${history.redo}` : "Nothing to redo"}
        onClick={() => void store.redo()}
      >
        Redo
      </button>
    </>
  );
}

function SavedWord({ store }: { store: BuildStore }) {
  const saved = useSaved(store);
  return (
    <span className="ml-auto text-xs text-ink-2" role="status" data-testid="saved">
      {saved === "saved" ? "Saved" : saved === "saving" ? "Saving" : "Not saved yet: no answer, trying again"}
    </span>
  );
}

function Tab({ to, on, words }: { to: string; on: boolean; words: string }) {
  return (
    <Link
      to={to}
      aria-current={on ? "page" : undefined}
      className={`flex h-8 items-center rounded px-3 text-sm ${on ? "bg-paper font-semibold" : "hover:bg-surround"}`}
    >
      {words}
    </Link>
  );
}
