/** The window that matters most now, as a wedge and in words. */
import type { Pack } from "../../api/client";
import type { Running } from "../../model/timers";
import { Wedge } from "./Wedge";
import { timerWords, type Wall } from "./words";

export function TheWindow({
  r,
  ...p
}: {
  r: Running | null;
  pack: Pack;
  now: number;
  wall: Wall;
  small: boolean;
}) {
  return (
    <section className="now-wedge" aria-label="The window">
      {r ? (
        <>
          <Wedge
            r={r}
            coat={p.pack.steps.find((s) => s.id === r.timer.before)}
            now={p.now}
            wall={p.wall}
            small={p.small}
          />
          <p className="leading-tight" data-testid="window">
            <WedgeWords r={r} now={p.now} wall={p.wall} />
          </p>
        </>
      ) : (
        <p className="text-lg text-ink-2">No window runs.</p>
      )}
    </section>
  );
}

function WedgeWords({ r, now, wall }: { r: Running; now: number; wall: Wall }) {
  const said = timerWords(r, now, wall);
  return (
    <>
      <strong>
        {r.timer.after ? r.name : `${r.name}, dry to the touch`}: {said.phase}
      </strong>
      , {said.rest}
    </>
  );
}
