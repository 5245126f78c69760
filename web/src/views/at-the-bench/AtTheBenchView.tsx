/** At the bench: the step that is now fills the screen; what dries runs beside it. Everything here works by itself. */
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { Actual, Entry, StepCard } from "../../api/client";
import { journalOf, useBench, type BenchShot, type JournalStore } from "../../api/journal";
import { CLOCK } from "../../api/clock";
import { Clockwork } from "../../drawing/time";
import { candidates, endOf, happened, running, stateOf, stepNow, type Running } from "../../model/timers";
import { useSmall, useWide } from "../../parts/useSmall";
import { Otherwise } from "./Otherwise";
import { coatOf, measured, movedWords, seen } from "./observed";
import { More, openZones, StepAtHand } from "./StepAtHand";
import { TheWindow } from "./TheWindow";
import { TrialSheet } from "./TrialSheet";
import { Trouble } from "./Trouble";
import { WhatDries } from "./WhatDries";
import { left, MIN, type Wall } from "./words";
import { useAwake, useSignals, useSignalSettings } from "./useSignals";
import "./at-the-bench.css";

const Spot = lazy(async () => ({ default: (await import("./Spot")).Spot }));

const TICK_MS = 500;
const BACK_MS = 10_000;
const TODAY_MS = 12 * 60 * MIN;
const LEAST_MORE_MIN = 5;

const EMPTY: Actual = { by_instrument: [] };

type Last = { entry: Entry; words: string; step: StepCard };

export function AtTheBenchView() {
  const { id = "" } = useParams();
  const store = journalOf(id);
  const shot = useBench(store);
  useEffect(() => {
    void store.start();
    return () => store.stop();
  }, [store]);
  if (shot.missing)
    return (
      <main className="now-whole">
        <h1 className="text-4xl font-bold">This build is not here</h1>
        <p className="my-3">{shot.missing}.</p>
        <Link className="underline" to="/">
          To the builds
        </Link>
      </main>
    );
  if (!shot.pack)
    return (
      <main className="now-whole" aria-busy={shot.away ? undefined : true}>
        {shot.away ? (
          <>
            <h1 className="text-4xl font-bold">Emvar does not answer</h1>
            <p className="my-3">
              {shot.refused ?? "This build was not opened on this device before; it is asked for again."}
            </p>
          </>
        ) : null}
      </main>
    );
  return <AtBench key={id} id={id} store={store} shot={shot} />;
}

function useNow(): number {
  const [now, setNow] = useState(() => CLOCK.now());
  useEffect(() => {
    const tick = setInterval(() => setNow(CLOCK.now()), TICK_MS);
    const look = () => setNow(CLOCK.now());
    document.addEventListener("visibilitychange", look);
    return () => {
      clearInterval(tick);
      document.removeEventListener("visibilitychange", look);
    };
  }, []);
  return now;
}

/** An instant by the wall of the build's own time zone; with its day where that is not today. */
function wallOf(starts_at: string, zone: string): Wall {
  const [clock, start] = [new Clockwork(starts_at, zone), Date.parse(starts_at)];
  return (at) => {
    const minute = (at - start) / MIN;
    return Math.abs(at - CLOCK.now()) < TODAY_MS ? clock.time(minute) : clock.short(minute);
  };
}

function AtBench({ id, store, shot }: { id: string; store: JournalStore; shot: BenchShot }) {
  const pack = shot.pack!;
  const now = useNow();
  const small = useSmall();
  const wide = useWide();
  const [chosen, setChosen] = useState<string | null>(null);
  const [trouble, setTrouble] = useState(false);
  const [more, setMore] = useState(false);
  const [otherwise, setOtherwise] = useState<Last | null>(null);
  const [spot, setSpot] = useState(false);
  const [trying, setTrying] = useState(false);
  const [last, setLast] = useState<Last | null>(null);
  // What the instruments measured when the step was begun; nobody waits for them when it is done.
  const instruments = useRef<{ step: string; actual: Actual | null }>({ step: "", actual: null });
  const [signals, setSignals] = useSignalSettings();
  const awake = useAwake(signals.awake);
  const wall = useMemo(() => wallOf(pack.starts_at, pack.timezone), [pack.starts_at, pack.timezone]);
  const h = useMemo(() => happened(shot.entries), [shot.entries]);
  const runs = useMemo(() => running(pack, h, now), [pack, h, now]);
  const next = useMemo(() => candidates(pack, h, now), [pack, h, now]);
  useSignals(runs, signals);
  const here = next.find((n) => n.step.id === chosen) ?? stepNow(next, h, now);
  const step = here?.step ?? null;
  useEffect(() => {
    if (!last) return;
    const gone = setTimeout(() => setLast(null), BACK_MS);
    return () => clearTimeout(gone);
  }, [last]);
  const said = last;

  /** Says what became of the step, at once; ten seconds to take it back. */
  const say = (part: Partial<Entry> & Pick<Entry, "said">, words: string, of: StepCard) => {
    const zones = part.zones ?? openZones(h, of);
    const planned_at = new Date(Date.parse(pack.starts_at) + of.planned_min * MIN).toISOString();
    const poured =
      part.said === "done" && of.mix.length
        ? { poured: Object.fromEntries(of.mix.map((m) => [m.material, m.ml])) }
        : {};
    const first = part.said === "begun" || part.said === "done" ? { planned_at } : {};
    store.heard(); // an earlier answer is out of date
    const entry = store.say({ step: of.id, name: of.name, zones, ...first, ...poured, ...part });
    setLast({ entry, words, step: of });
    return entry;
  };

  if (trouble && step) {
    const coat = coatOf(pack.steps, h, step);
    const laid = coat ? (endOf(h, coat) ?? (stateOf(h, coat) === "begun" ? now : null)) : null;
    return (
      <Trouble
        build={id}
        pack={pack}
        coat={coat ?? step}
        age={laid === null ? -1 : (now - laid) / MIN}
        minute={(now - Date.parse(pack.starts_at)) / MIN}
        onClose={() => setTrouble(false)}
        onOff={(fault) => {
          const of = coat ?? step;
          say({ said: "wrong", zones: of.zones, fault }, `${of.name}: off again, to be done anew`, of);
          setTrouble(false);
          setChosen(of.id);
        }}
        onNote={(fault) => {
          say({ said: "note", zones: step.zones, fault, note: `It stays: ${fault}` }, "Noted", step);
          setTrouble(false);
        }}
      />
    );
  }
  const notReady = (r: Running) => {
    const age = (now - r.end) / MIN;
    const wait = Math.max(age * 0.5, LEAST_MORE_MIN);
    const before = pack.steps.find((s) => s.id === r.timer.before)!;
    const after = r.timer.after ? pack.steps.find((s) => s.id === r.timer.after) : null;
    store.say({
      said: "seen",
      step: before.id,
      name: before.name,
      zones: r.timer.zones,
      observed: seen(r, age, false),
    });
    if (after)
      say(
        { said: "not_ready", zones: after.zones, wait_min: wait },
        `Not ready: looked at again in ${left(wait * MIN)}`,
        after,
      );
    else setLast(null);
  };

  const side = (
    <WhatDries
      runs={runs}
      pack={pack}
      next={next}
      here={here}
      now={now}
      wall={wall}
      onGo={setChosen}
      onReady={(r) =>
        say(
          { said: "seen", zones: r.timer.zones, observed: seen(r, (now - r.end) / MIN, true) },
          "Noted, and learned from",
          pack.steps.find((s) => s.id === r.timer.before)!,
        )
      }
      onNotReady={notReady}
    />
  );
  const state = step ? stateOf(h, step) : "done";
  const waiting = here !== null && here.opensAt > now && state === "todo";
  const wedge =
    (step
      ? runs.find((r) => r.timer.after === step.id && (r === here?.wait || r.closes[0] !== null))
      : null) ??
    runs[0] ??
    null;
  return (
    <div
      className="now"
      data-testid="now"
      data-step={step?.id ?? ""}
      data-opens={here && here.opensAt > 0 ? new Date(here.opensAt).toISOString() : ""}
    >
      <div className="now-band" aria-hidden="true">
        <span style={{ background: step?.colour ?? step?.ground ?? "var(--paper)" }} />
        <span style={{ background: step?.ground ?? "var(--paper-2)" }} />
      </div>
      <main className="now-main" id="main" tabIndex={-1}>
        <div className="now-top">
          <Link
            to={`/build/${id}`}
            className="now-small inline-flex items-center"
            aria-label={`To the rack of ${pack.build}`}
          >
            ◂ {pack.build}
          </Link>
          <span className="whitespace-nowrap" data-testid="wall">
            {wall(now)}
            {CLOCK.pace > 1 ? ` · time runs ${CLOCK.pace} times` : ""}
          </span>
          <span role="status" data-testid="kept" className="text-ink-2">
            {shot.away
              ? shot.unsent
                ? `server away: ${shot.unsent} kept here`
                : "server away: goes on by itself"
              : shot.unsent
                ? "sending"
                : ""}
          </span>
          <button
            type="button"
            className="now-small ml-auto"
            aria-expanded={more}
            onClick={() => setMore(!more)}
          >
            More
          </button>
        </div>
        {more ? (
          <More
            step={step}
            h={h}
            away={shot.away}
            signals={signals}
            awake={awake}
            onSignals={setSignals}
            onSay={(part, words) => step && say(part, words, step)}
            onSpot={() => setSpot(true)}
            onTrial={() => setTrying(true)}
            onOtherwise={() =>
              step &&
              setOtherwise({
                entry: { id: "", said: "note", at: "", written_at: "" },
                words: "",
                step,
              })
            }
            build={id}
          />
        ) : null}
        {shot.refused ? (
          <p role="alert" className="now-safe">
            Not taken: {shot.refused}.{" "}
            <button type="button" className="underline" onClick={() => store.heard()}>
              OK
            </button>
          </p>
        ) : null}
        {step ? (
          <StepAtHand
            step={step}
            here={here!}
            state={state}
            now={now}
            wall={wall}
            h={h}
            onSay={(p, w) => say(p, w, step)}
          />
        ) : (
          <div className="py-10" data-testid="all-done">
            <h1>{pack.steps.length ? "Everything is done" : "Nothing is planned yet"}</h1>
            <p className="mt-4">
              {pack.steps.length ? (
                <Link className="underline" to={`/build/${id}/log`}>
                  Look at what was done
                </Link>
              ) : (
                <Link className="underline" to={`/build/${id}`}>
                  Add the first step on the rack
                </Link>
              )}
            </p>
          </div>
        )}
        {wide ? null : side}
      </main>
      {wide ? side : null}
      <TheWindow r={wedge} pack={pack} now={now} wall={wall} small={small} />
      <div className="now-acts">
        {said ? (
          <div className="now-said" role="status">
            <span className="mr-auto">{said.words}</span>
            {said.entry.said === "done" ? (
              <button type="button" onClick={() => setOtherwise(said)}>
                It was otherwise
              </button>
            ) : null}
            <button
              type="button"
              onClick={() => {
                store.takeBack(said.entry.id);
                setLast(null);
              }}
            >
              Take back
            </button>
          </div>
        ) : shot.moved.length ? (
          <div className="now-said" role="status" data-testid="moved">
            <span className="mr-auto">{movedWords(shot.moved, wall, Date.parse(pack.starts_at))}</span>
            <button type="button" onClick={() => store.heard()}>
              OK
            </button>
          </div>
        ) : null}
        <button
          type="button"
          data-testid="main-act"
          disabled={!step}
          onClick={() => {
            if (!step) return;
            if (state === "paused")
              say({ said: "resumed", zones: step.zones }, `${step.name}: going on`, step);
            else if (state === "begun") {
              const actual = instruments.current.step === step.id ? instruments.current.actual : null;
              say(
                actual ? { said: "done", actual } : { said: "done" },
                `${step.name}: done as planned`,
                step,
              );
              setChosen(null);
            } else {
              void measured(step).then((actual) => (instruments.current = { step: step.id, actual }));
              say({ said: "begun", zones: step.zones }, `${step.name}: begun`, step);
            }
          }}
        >
          {state === "paused"
            ? "Go on"
            : state === "begun"
              ? "Done"
              : waiting
                ? "Begin all the same"
                : "Begin"}
        </button>
        <button type="button" data-testid="wrong-act" disabled={!step} onClick={() => setTrouble(true)}>
          Something’s wrong
        </button>
      </div>
      {otherwise ? (
        <Otherwise
          step={otherwise.step}
          actual={otherwise.entry.actual ?? EMPTY}
          note={otherwise.entry.note ?? ""}
          onClose={() => setOtherwise(null)}
          onPicture={(file) =>
            void store.picture(file, {
              step: otherwise.step.id,
              zones: otherwise.step.zones,
              name: otherwise.step.name,
            })
          }
          onKeep={(actual, note) => {
            const was = otherwise.entry;
            if (was.id)
              store.say({
                ...was,
                id: crypto.randomUUID(),
                corrects: was.id,
                actual,
                note,
                as_planned: false,
              });
            else
              store.say({
                said: "note",
                step: otherwise.step.id,
                zones: otherwise.step.zones,
                name: otherwise.step.name,
                actual,
                note,
                as_planned: false,
              });
            setOtherwise(null);
            setLast(null);
          }}
        />
      ) : null}
      {trying && step ? (
        <TrialSheet
          step={step}
          aims={pack.aims}
          onClose={() => setTrying(false)}
          onKeep={(trial, note) => {
            say(
              { said: "trial", trial, note },
              trial.passed ? "Trial passed: go" : `Trial: ${trial.decides}`,
              step,
            );
            setTrying(false);
          }}
        />
      ) : null}
      {spot ? (
        <Suspense fallback={null}>
          <Spot build={id} after={step} onClose={() => setSpot(false)} />
        </Suspense>
      ) : null}
    </div>
  );
}
