/** What stands at the head of every view of a build. */
import { Link } from "react-router";
import type { BuildOut } from "../api/client";
import { useSaved, type BuildStore } from "../api/store";

export function Views(p: { id: string; on: "rack" | "table" | "bench" | "sittings"; step?: string }) {
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

export function UndoRedo({ store, history }: { store: BuildStore; history: BuildOut["history"] }) {
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

export function SavedWord({ store }: { store: BuildStore }) {
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
