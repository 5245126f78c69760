/** Beside the step: what dries, what can be done meanwhile, and what else is next. */
import type { Pack } from "../../api/client";
import { meanwhile, type Next, type Running } from "../../model/timers";
import { Meanwhile } from "./StepAtHand";
import { Timers } from "./Timers";
import type { Wall } from "./words";

export function WhatDries(p: {
  runs: Running[];
  pack: Pack;
  next: Next[];
  here: Next | null;
  now: number;
  wall: Wall;
  onGo: (step: string) => void;
  onReady: (r: Running) => void;
  onNotReady: (r: Running) => void;
}) {
  return (
    <aside className="now-side" aria-label="What dries, and what else can be done">
      <h2>What dries</h2>
      <Timers
        runs={p.runs}
        pack={p.pack}
        now={p.now}
        wall={p.wall}
        onGo={p.onGo}
        onReady={p.onReady}
        onNotReady={p.onNotReady}
      />
      {p.here ? (
        <Meanwhile list={meanwhile(p.next, p.here, p.now)} here={p.here} now={p.now} onGo={p.onGo} />
      ) : null}
      {p.next.length > 1 ? (
        <>
          <h2 className="mt-5">Also next</h2>
          <div className="mt-1 grid gap-2">
            {p.next
              .filter((n) => n.step.id !== p.here?.step.id)
              .map((n) => (
                <button
                  key={n.step.id}
                  type="button"
                  className="now-small text-left"
                  onClick={() => p.onGo(n.step.id)}
                >
                  {n.step.name}{" "}
                  <span className="text-ink-2">
                    {n.opensAt > p.now ? `from ${p.wall(n.opensAt)}` : "can begin"}
                  </span>
                </button>
              ))}
          </div>
        </>
      ) : null}
    </aside>
  );
}
