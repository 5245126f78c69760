/** A part of a form that opens: its head says what it holds, and whether it stands open is remembered. */
import { useState, type ReactNode } from "react";

const KEY = "emvar-folds";

function kept(): Record<string, boolean> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, boolean>;
  } catch {
    return {};
  }
}

export function Fold(p: {
  id: string;
  title: string;
  /** What it holds, in a few words. */
  told?: ReactNode;
  openAtFirst?: boolean;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(() => kept()[p.id] ?? p.openAtFirst ?? false);
  return (
    <details
      className="fold border-t border-line-soft"
      open={open}
      data-fold={p.id}
      onToggle={(e) => {
        const now = e.currentTarget.open;
        if (now === open) return;
        setOpen(now);
        localStorage.setItem(KEY, JSON.stringify({ ...kept(), [p.id]: now }));
      }}
    >
      <summary className="flex min-h-8 items-baseline gap-2 py-1.5">
        <span className="w-16 shrink-0 text-sm font-semibold">{p.title}</span>
        {p.told ? <span className="min-w-0 flex-1 text-sm text-ink-2">{p.told}</span> : null}
      </summary>
      {open ? <div className="space-y-3 pb-3">{p.children}</div> : null}
    </details>
  );
}
