/** Copies of all data: save one, keep one, bring one back. */
import { useRef, useState } from "react";
import type { Builds } from "./useBuilds";
import { SaveLink } from "../../parts/Save";
import { Push } from "../../parts/Push";

const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
const WHY: [string, string][] = [
  ["-day.", "after a day of use"],
  ["-asked.", "kept by you"],
  ["-before-migration.", "before the data were brought up to date"],
];

export function Copies({ all }: { all: Builds }) {
  const file = useRef<HTMLInputElement>(null);
  const [from, setFrom] = useState<{ source: File | string; words: string } | null>(null);
  const data = all.data;
  return (
    <section aria-label="Copies" data-testid="copies">
      <h2 className="mb-2 text-lg font-semibold">Copies</h2>
      <p className="text-sm">
        A copy holds every build with its history, schedule and record. One is kept by itself after each day
        of use, and the last seven stay. Save one on another disk now and then.
      </p>
      <div className="mt-3 flex flex-wrap gap-2">
        <SaveLink className="push" href="/api/backup">
          Save a copy of everything
        </SaveLink>
        <Push disabled={all.keeping} onClick={() => all.keepCopy()}>
          {all.keeping ? "Keeping one" : "Keep one here"}
        </Push>
        <Push onClick={() => file.current?.click()}>Bring everything back from a file</Push>
        <input
          ref={file}
          type="file"
          accept=".zip,.sqlite3"
          className="sr-only"
          aria-label="Copy to bring back"
          tabIndex={-1}
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (chosen) setFrom({ source: chosen, words: chosen.name });
          }}
        />
      </div>
      {from ? (
        <div role="alert" className="mt-3 rounded border border-ink bg-paper p-4 text-sm">
          <p>
            Everything here is replaced by what <strong>{from.words}</strong> holds. All of it is looked at
            first, and what is here now is kept aside.
          </p>
          <div className="mt-2 flex gap-2">
            <Push
              data-strong
              disabled={all.restoring}
              onClick={() => all.restore(from.source, { onSettled: () => setFrom(null) })}
            >
              {all.restoring ? "Bringing it back" : "Bring it back"}
            </Push>
            <Push onClick={() => setFrom(null)}>Leave everything as it is</Push>
          </div>
        </div>
      ) : null}
      {data?.copies.length ? (
        <ul className="mt-3 border-t border-line text-sm">
          {data.copies.map((c) => {
            const made = when.format(new Date(c.made_at));
            return (
              <li key={c.name} className="flex min-h-10 items-center gap-3 border-b border-line">
                <span className="w-48 tabular-nums">{made}</span>
                <span className="flex-1 text-ink-2">
                  {WHY.find(([part]) => c.name.includes(part))?.[1] ?? c.name},{" "}
                  {Math.ceil(c.size_bytes / 1000)} kB
                </span>
                <Push
                  data-bare
                  aria-label={`Bring back the copy of ${made}`}
                  onClick={() => setFrom({ source: c.name, words: `the copy of ${made}` })}
                >
                  Bring back
                </Push>
              </li>
            );
          })}
        </ul>
      ) : null}
      {data ? <p className="mt-2 text-xs break-all text-ink-2">All data lie in {data.folder}</p> : null}
    </section>
  );
}
