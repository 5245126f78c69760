/** The windows that run, what closes first on top: phase, both edges, the check that proves it. */
import { useState } from "react";
import { told } from "../../drawing/units";
import type { Pack } from "../../api/client";
import type { Running } from "../../model/timers";
import { timerWords, type Wall } from "./words";
import { Wedge } from "./Wedge";

/** What opens and closes at once after the same coat is one timer. */
function grouped(runs: Running[]): { r: Running; names: string[] }[] {
  const found = new Map<string, { r: Running; names: string[] }>();
  for (const r of runs) {
    const { before, after, opens, closes } = r.timer;
    const key = JSON.stringify([before, after === null, opens, closes, r.waitsUntil]);
    const known = found.get(key);
    if (known) known.names.push(r.name);
    else found.set(key, { r, names: [r.name] });
  }
  return [...found.values()];
}

export function Timers(p: {
  runs: Running[];
  pack: Pack;
  now: number;
  wall: Wall;
  onNotReady: (r: Running) => void;
  onReady: (r: Running) => void;
  onGo: (step: string) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  if (!p.runs.length)
    return <p className="text-lg text-ink-2">Nothing dries. A timer starts when a coat is done.</p>;
  return (
    <ul data-testid="timers">
      {grouped(p.runs).map(({ r, names: alike }) => {
        const said = timerWords(r, p.now, p.wall);
        const coat = p.pack.steps.find((s) => s.id === r.timer.before);
        const where = r.timer.zones.map((z) => coat?.zone_names[coat.zones.indexOf(z)] ?? z);
        const names = where.length > 2 ? `${where.length} zones` : where.join(", ");
        return (
          <li key={r.timer.id} data-timer={r.timer.id}>
            <button
              type="button"
              className="now-timer"
              aria-expanded={open === r.timer.id}
              onClick={() => setOpen(open === r.timer.id ? null : r.timer.id)}
            >
              <strong>
                {r.timer.after ? alike.join(", ") : `${r.name}: dry to the touch`}
                <span className="font-normal text-ink-2">
                  {" "}
                  {r.timer.after ? `after ${coat?.name}, ` : ""}
                  {names}
                </span>
              </strong>
              <Wedge r={r} coat={coat} now={p.now} wall={p.wall} small />
              <p>
                <strong className="inline">{said.phase}</strong>: {said.rest}
              </p>
            </button>
            {open === r.timer.id || r.phase === "opens" || r.phase === "easy" ? (
              <div className="mt-1 text-xl">
                <p className="text-lg">Proof: {told(r.timer.check)}</p>
                <div className="now-row mt-1">
                  {r.timer.after ? (
                    <>
                      <button type="button" className="now-small" onClick={() => p.onGo(r.timer.after!)}>
                        Go to it
                      </button>
                      {r.phase === "early" || r.phase === "opens" ? (
                        <button type="button" className="now-small" onClick={() => p.onReady(r)}>
                          It is ready now
                        </button>
                      ) : null}
                      {r.phase === "easy" || r.phase === "opens" ? (
                        <button type="button" className="now-small" onClick={() => p.onNotReady(r)}>
                          Not ready yet
                        </button>
                      ) : null}
                    </>
                  ) : (
                    <>
                      <button type="button" className="now-small" onClick={() => p.onReady(r)}>
                        It is dry now
                      </button>
                      <button type="button" className="now-small" onClick={() => p.onNotReady(r)}>
                        Still wet
                      </button>
                    </>
                  )}
                </div>
                {open === r.timer.id && r.timer.if_not ? (
                  <p className="mt-1 text-lg text-ink-2">If it fails: {told(r.timer.if_not)}</p>
                ) : null}
              </div>
            ) : null}
          </li>
        );
      })}
    </ul>
  );
}
