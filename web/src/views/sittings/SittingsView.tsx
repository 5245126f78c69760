/** Sittings: which stretch of bench time does what, what dries between, and which windows open and close across them. */
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Edit, Moved, Plan, Shown } from "../../api/client";
import { useShot, type BuildStore } from "../../api/store";
import { sittingAxis } from "../../drawing/axis";
import { Clockwork } from "../../drawing/time";
import { units } from "../../drawing/units";
import { BuildDoor, useWords } from "../../parts/BuildDoor";
import { Refused, ViewHead, ViewsBar } from "../../parts/Head";
import { Shortcuts } from "../../parts/Shortcuts";
import { ClockSwitch } from "../../parts/ClockSwitch";
import { useMinute } from "../../parts/useMinute";
import { useSmall } from "../../parts/useSmall";
import { Foot } from "./Foot";
import { HoursSheet } from "./HoursSheet";
import { LABELS, RIGHT, laneOf, type Drag } from "./geometry";
import type { Tab } from "./parts";
import { SittingsDown } from "./SittingsDown";
import { Timeline } from "./Timeline";
import { useSearch, useSittings } from "./useSittings";
import { beside, headline } from "../../model/sittings";
import { crossedWords, searchWords, wall, withSitting } from "./words";
import { SaveLink } from "../../parts/Save";
import { Push } from "../../parts/Push";

const TRY_EVERY_MS = 70;

export function SittingsView() {
  return <BuildDoor>{(store) => <Loaded key={store.id} store={store} />}</BuildDoor>;
}

function Loaded({ store }: { store: BuildStore }) {
  const build = useShot(store).build!;
  const sittings = useSittings(store, build.revision);
  if (!sittings.shown)
    return (
      <div className="shell">
        <ViewHead build={build} store={store} on="sittings" air />
        <main aria-busy="true" />
        <ViewsBar id={build.id} on="sittings" />
      </div>
    );
  return <Sittings store={store} sittings={sittings} shown={sittings.shown} />;
}

/** What a drag would do, asked for while it goes on; the last answer counts. */
function useTrial(sittings: ReturnType<typeof useSittings>, shown: Shown, clock: Clockwork, zone: string) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const [tried, setTried] = useState<{ of: Drag; moved: Moved } | null>(null);
  const wanted = useRef<Drag | null>(null);
  const busy = useRef(false);
  const ask = (d: Drag) =>
    d.kind === "step"
      ? sittings.move(d.step, d.start_min, false)
      : sittings.tryHours(hoursOf(shown, d, clock, zone));
  const work = async () => {
    if (busy.current) return;
    busy.current = true;
    while (wanted.current) {
      const d = wanted.current;
      wanted.current = null;
      const moved = await ask(d);
      if (moved) setTried({ of: d, moved });
      await new Promise((r) => setTimeout(r, TRY_EVERY_MS));
    }
    busy.current = false;
  };
  return {
    drag,
    tried: drag && tried?.of.kind === drag.kind ? tried.moved : null,
    /** Whether the answer on the screen is of the drag as it stands. */
    settled: drag !== null && tried?.of === drag,
    set: (d: Drag | null) => {
      setDrag(d);
      wanted.current = d;
      if (d) void work();
      else setTried(null);
    },
  };
}

function hoursOf(shown: Shown, d: Extract<Drag, { kind: "sitting" }>, clock: Clockwork, zone: string) {
  const to = { ...wall(clock, d.start_min, zone), length_min: Math.round(d.end_min - d.start_min) };
  return withSitting(shown.hours, d.sitting, to);
}

function Sittings(p: { store: BuildStore; sittings: ReturnType<typeof useSittings>; shown: Shown }) {
  const { store, sittings, shown } = p;
  const build = useShot(store).build!;
  const { plan } = build;
  const steps = (plan.steps ?? []).length;
  const zone = plan.build.timezone ?? "UTC";
  const view = shown.view;
  const clock = useMemo(() => new Clockwork(plan.build.starts_at, zone), [plan.build.starts_at, zone]);
  const [minute, setMinute] = useMinute(`emvar-clock-${build.id}`, 60);
  const [chosen, setChosen] = useState<string | null>(null);
  const [step, setStep] = useState<string | null>(null);
  const [tab, setTab] = useState<Tab>("sitting");
  const [hours, setHours] = useState(false);
  const [help, setHelp] = useState(false);
  const small = useSmall();
  const search = useSearch(build.id, "search", () => {
    void sittings.again();
  });
  const trial = useTrial(sittings, shown, clock, zone);
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 1100, height: 460 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) =>
      setSize({ width: e!.contentRect.width - LABELS - RIGHT, height: e!.contentRect.height }),
    );
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const wanted = chosen ?? view.sittings.find((s) => s.lines.length && s.end_min > view.now_min)?.id ?? null;
  const held = useRef<ReturnType<typeof sittingAxis> | null>(null);
  const axis = useMemo(() => {
    const used = view.sittings.filter((s) => s.lines.length);
    const last = Math.max(view.finish_min, used.at(-1)?.end_min ?? 0, view.now_min);
    const from = Math.min(used[0]?.start_min ?? 0, view.now_min || Infinity, 0);
    return sittingAxis(view.sittings, from - 30, last + 720, size.width, wanted);
  }, [view, size.width, wanted]);
  useEffect(() => {
    held.current = axis;
  }, [axis]);

  const start = useCallback(() => void search.start(20), [search]);
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current || shown.scheduled || !view.sittings.length || !steps) return;
    begun.current = true;
    start(); // the first time there is nothing to lose, and the answer is what one came for
  }, [shown.scheduled, view.sittings.length, steps, start]);

  const letGo = async (drag: Drag | null) => {
    if (!drag) return trial.set(null);
    if (drag.kind === "step") await sittings.move(drag.step, drag.start_min, true);
    else {
      const next = hoursOf(shown, drag, clock, zone);
      const moved = await sittings.tryHours(next);
      const edits: Edit[] = [{ edit: "set_hours", hours: next }];
      if (moved)
        await sittings.take(
          `Sitting on ${clock.long(drag.start_min)}`,
          edits,
          moved.schedule,
          build.revision,
        );
      await store.load();
    }
    trial.set(null);
  };
  const onDrag = (drag: Drag | null, done: boolean) => {
    if (!done) trial.set(drag);
    else void letGo(drag);
  };
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, textarea, select, [role=dialog]")) return;
      if (e.key === "Escape") {
        if (trial.drag) trial.set(null);
        else setStep(null);
      } else if (e.key === "Enter" && trial.drag) {
        e.preventDefault();
        void letGo(trial.drag);
      } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") {
        e.preventDefault();
        void (e.shiftKey ? store.redo() : store.undo());
      } else if (e.key === "?") setHelp(true);
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  });
  const { whole } = laneOf(plan, size.height);
  const empty = !view.sittings.length;
  const under = {
    store,
    plan,
    shown,
    sittings,
    clock,
    minute,
    sitting: view.sittings.find((s) => s.id === wanted) ?? null,
    step,
    tab,
    onTab: setTab,
    onStep: setStep,
    trial: trial.drag
      ? {
          drag: trial.drag,
          moved: trial.tried,
          settled: trial.settled,
          keep: () => void letGo(trial.drag),
          putBack: () => trial.set(null),
        }
      : null,
    replan: start,
  };
  return (
    <div className="shell sittings-shell print:block">
      <ViewHead build={build} store={store} on="sittings" air onHelp={() => setHelp(true)} />
      <section
        className="flex min-h-12 flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5 no-print"
        aria-label="The schedule"
      >
        <h1 className="sr-only">Sittings of {plan.build.name}</h1>
        <p className="min-w-0 leading-tight" data-testid="finish">
          <span className="text-lg font-semibold">{headline(shown, steps, clock)}</span>{" "}
          <span className="text-sm text-ink-2">{beside(shown, steps, search.running, clock)}</span>
        </p>
        <ClockSwitch store={store} chosen={build.clock} scheduled={shown.scheduled} />
        <Status plan={plan} shown={shown} search={search} clock={clock} />
        <span className="ml-auto flex flex-wrap gap-1 no-print">
          {search.running ? (
            <Push onClick={() => void search.stop()}>Stop, keep the best</Push>
          ) : (
            <Push data-strong disabled={empty || !steps} onClick={start}>
              {shown.scheduled ? "Plan again" : "Plan the sittings"}
            </Push>
          )}
          <Push disabled={!shown.can_go_back} onClick={() => void sittings.back()}>
            As before
          </Push>
          <Push onClick={() => setHours(true)}>{shown.own_hours ? "Hours" : "Hours (assumed)"}</Push>
          <SaveLink className="push" href={`/api/builds/${build.id}/sittings.ics`}>
            Calendar file
          </SaveLink>
          <SaveLink className="push" href={`/api/builds/${build.id}/sittings.csv?hours=${units().hours}`}>
            CSV
          </SaveLink>
          <Link className="push" to={`/build/${build.id}/paper/sittings`}>
            Print
          </Link>
        </span>
      </section>
      <main
        id="main"
        tabIndex={-1}
        ref={box}
        className="relative min-h-0 overflow-x-hidden overflow-y-auto no-print"
      >
        <Refused why={sittings.why} onHeard={sittings.heard} />
        {!steps ? (
          <div className="p-8">
            <p className="mb-3 max-w-prose">
              Sittings are found for what is planned: which evening does what, what dries between, and which
              windows must not close on you. Lay the first coat, then come back.
            </p>
            <Link className="push" data-strong to={`/build/${build.id}`}>
              To the plan
            </Link>
          </div>
        ) : empty ? (
          <div className="p-8">
            <p className="mb-3 max-w-prose">
              Say when you can be at the bench, and Emvar finds which sitting does what: what dries between,
              and which windows must not close on you.
            </p>
            <Push data-strong onClick={() => setHours(true)}>
              Enter your hours
            </Push>
          </div>
        ) : small ? (
          <SittingsDown
            {...under}
            chosen={wanted}
            onChoose={(s) => {
              setChosen(s ?? "none");
              setStep(null);
            }}
          />
        ) : (
          <div style={{ height: whole }}>
            <Timeline
              plan={plan}
              shown={shown}
              axis={axis}
              clock={clock}
              width={size.width}
              height={size.height}
              minute={Math.min(Math.max(minute, axis.from), axis.to)}
              chosen={wanted}
              step={step}
              drag={trial.drag}
              tried={trial.tried}
              onChoose={(s) => {
                setChosen(s);
                setTab("sitting");
              }}
              onStep={(s) => {
                setStep(s);
                const at = s && view.sittings.find((x) => x.lines.some((l) => l.step === s));
                if (at) setChosen(at.id);
                setTab("sitting");
              }}
              onMinute={setMinute}
              onDrag={onDrag}
            />
          </div>
        )}
      </main>
      <Foot {...under} small={small} />
      <ViewsBar id={build.id} on="sittings" step={step ?? undefined} />
      <Shortcuts open={help} onClose={() => setHelp(false)} />
      <HoursSheet open={hours} hours={shown.hours} store={store} onClose={() => setHours(false)} />
    </div>
  );
}

function Status(p: { plan: Plan; shown: Shown; search: ReturnType<typeof useSearch>; clock: Clockwork }) {
  const { plan, shown, search, clock } = p;
  const words = useWords();
  if (search.running)
    return (
      <p className="text-sm" role="status" data-testid="searching">
        {searchWords(search.job!, clock, (v) => v, words.search)}
      </p>
    );
  if (search.job?.state === "failed")
    return (
      <p className="text-sm font-semibold" role="alert">
        {search.job.error}
      </p>
    );
  if (shown.stale) return <p className="text-sm font-semibold">The plan has changed since: plan again.</p>;
  if (shown.crossed.length)
    return (
      <p className="text-sm font-semibold" data-testid="crossed">
        {crossedWords(plan, shown.crossed)}
      </p>
    );
  return null;
}
