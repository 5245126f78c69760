import { useQuery } from "@tanstack/react-query";
import { lazy, memo, Suspense, useCallback, useDeferredValue, useEffect, useMemo, useState } from "react";
import { api, type Edit, type Knowledge, type Story } from "../../api/client";
import { useShot, type BuildStore } from "../../api/store";
import { Clockwork } from "../../drawing/time";
import { heardOf, nextStory, withoutSkipped, type Selection } from "../../model/live";
import { BuildDoor } from "../../parts/BuildDoor";
import { BuildButton } from "../../parts/BuildButton";
import { ErrorBoundary } from "../../parts/ErrorBoundary";
import { Refused, ViewHead, ViewsBar } from "../../parts/Head";
import { useLater } from "../../parts/useLater";
import { useSmall } from "../../parts/useSmall";
import type { AddAt } from "../../model/add";
import type { OverAt } from "./OverSheet";
import { ClockStrip } from "./ClockStrip";
import { CountsLine } from "./Overview";
import { PlanTable } from "./PlanTable";
import type { SheetName } from "./later";
import { Rack } from "./Rack";
import { Times, useMinute, type Time } from "../../parts/useMinute";
import { useSettled } from "../../parts/useSettled";
import { Push } from "../../parts/Push";

// The rack is up first; what is opened on it comes after.
const BuildMenu = lazy(async () => ({ default: (await import("../../parts/BuildMenu")).BuildMenu }));
const parts = () => import("./later");
const Inspector = lazy(async () => ({ default: (await parts()).Inspector }));
const CallOut = lazy(async () => ({ default: (await parts()).CallOut }));
const Sheets = lazy(async () => ({ default: (await parts()).Sheets }));

const Drawing = memo(Rack);
const Foot = memo(ClockStrip);

/** Puts the keyboard on the first field of what is chosen, opening the part that holds it. */
function openInspector() {
  const look = (tries: number) => {
    const box = document.querySelector<HTMLElement>("[data-inspector]");
    const fold = box?.querySelector<HTMLDetailsElement>("details.fold");
    if (fold && !fold.open) fold.open = true;
    const field = box?.querySelector<HTMLElement>("details.fold :is(input, select, textarea)");
    if (field) field.focus();
    else if (tries > 0) requestAnimationFrame(() => look(tries - 1));
  };
  look(20);
}

export function PlanView({ table }: { table: boolean }) {
  return (
    <BuildDoor>
      {(store, known) => <Loaded key={store.id} store={store} table={table} known={known} />}
    </BuildDoor>
  );
}

/** Puts the keyboard on a coat of the rack, once it is drawn; on a table there is none. */
function focusRow(step: string, zone: string) {
  const look = (tries: number) => {
    const row = document.querySelector<HTMLElement>(`[data-row="${CSS.escape(`${step}~${zone}`)}"]`);
    if (row) row.focus();
    else if (tries > 0) requestAnimationFrame(() => look(tries - 1));
  };
  requestAnimationFrame(() => look(30));
}

/** How far back one could go in each zone at the clock's moment, where that is shown. */
function useReaches(build: string, revision: number, times: Time, minute: number, on: boolean) {
  const at = useSettled(Math.max(0, Math.round(minute)));
  const { data } = useQuery({
    queryKey: ["reach", build, revision, times, at],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/reach", {
          params: { path: { build_id: build }, query: { at, times } },
        })
      ).data ?? [],
    enabled: on,
    placeholderData: (before) => before,
  });
  return on ? (data ?? null) : null;
}

function Loaded({ store, table, known }: { store: BuildStore; table: boolean; known: Knowledge }) {
  const shot = useShot(store);
  const shown = shot.preview?.build ?? shot.build!;
  // One truth for drawing, clock, table and inspector: all of them go by the times at which this was judged.
  const { plan, assessment: a, times } = shown;
  // The inspector, where the edit was typed, answers first; the drawing of the whole plan follows in the next frame.
  const drawn = useDeferredValue(shown);
  const drawnPlan = useMemo(() => withoutSkipped(drawn), [drawn]);
  const steps = useMemo(() => plan.steps ?? [], [plan.steps]);
  const [selection, setSelection] = useState<Selection>(() => {
    const seam = a.seams[decodeURIComponent(location.hash.slice(1))];
    return seam ? { kind: "seam", id: seam.id, step: seam.upper_step, zone: seam.zone_id } : null;
  });
  const firstBad = a.stories[0] ? a.seams[a.stories[0].seams[0]!]?.at_min : undefined;
  const [minute, setMinute] = useMinute(`emvar-clock-${shown.id}`, firstBad ?? Math.min(60, a.end_min));
  // A technique that was chosen in the compendium is put in from there.
  const [adding, setAdding] = useState<AddAt | null>(() => {
    const technique = /^#add=(.+)$/.exec(location.hash)?.[1];
    const zone = plan.zones[0]?.id;
    if (!technique || !zone) return null;
    history.replaceState(null, "", location.pathname);
    return { zone, after: steps.filter((s) => s.zones.includes(zone)).at(-1)?.id ?? null, technique };
  });
  const [sheet, setSheet] = useState<SheetName | null>(null);
  const [said, setSaid] = useState("");
  const later = useLater();
  const [menuPressed, setMenuPressed] = useState(false);
  const small = useSmall();
  // On a narrow screen: whether the list of what is wrong is open, and the zone that is looked at.
  const [listed, setListed] = useState(false);
  const [looked, setLooked] = useState<string | null>(null);
  const zone = selection?.zone ?? looked ?? plan.zones[0]?.id ?? null;
  const trying = shot.preview !== null;
  const heard = useMemo(() => heardOf(a, plan, selection, trying), [a, plan, selection, trying]);
  const [over, setOver] = useState<OverAt | null>(null);
  const [reach, setReach] = useState(false);
  const toggleReach = useCallback(() => setReach((on) => !on), []);
  const openPark = useCallback(() => setSheet("park"), []);
  const reaches = useReaches(shot.build!.id, shot.build!.revision, times, minute, reach && !shot.preview);
  const clock = useMemo(
    () => new Clockwork(plan.build.starts_at, plan.build.timezone ?? "UTC"),
    [plan.build.starts_at, plan.build.timezone],
  );

  const select = useCallback(
    (s: Selection) => {
      store.putBack();
      store.lookAt(s ? { zone: s.zone, step: s.step } : null);
      if (s) setLooked(s.zone);
      setSelection(s);
    },
    [store],
  );
  const stepZone = useCallback(
    (z: string) => {
      select(null);
      setLooked(z);
    },
    [select],
  );
  const move = useCallback(
    (step: string, to_index: number) => {
      const name = store.snapshot().build?.plan.steps?.find((s) => s.id === step)?.name;
      void store.edit(`Move ${name}`, [{ edit: "move_step", step_id: step, to_index }]);
    },
    [store],
  );
  // The drawing leaves out what was skipped; its places are those of the whole plan.
  const moveDrawn = useCallback(
    (step: string, to: number) => {
      const there = drawnPlan.steps?.[to]?.id;
      move(step, there === undefined ? to : steps.findIndex((s) => s.id === there));
    },
    [drawnPlan.steps, move, steps],
  );
  const remove = useCallback(
    (step: string) => {
      const all = store.snapshot().build?.plan.steps ?? [];
      const workers = all.filter((s) => s.kind === "working" && s.acts_on === step);
      const edits: Edit[] = [...workers.map((s) => s.id), step].map((step_id) => ({
        edit: "remove_step",
        step_id,
      }));
      // What was next to it is chosen then, so that the keyboard stays where it was.
      const gone = new Set(edits.map((e) => e.step_id as string));
      const zone = selection?.zone ?? all.find((s) => s.id === step)?.zones[0];
      const column = all.filter((s) => s.zones.includes(zone!));
      const at = column.findIndex((s) => s.id === step);
      const near = [...column.slice(at + 1), ...column.slice(0, at).reverse()].find((s) => !gone.has(s.id));
      setSelection(near && zone ? { kind: "step", step: near.id, zone } : null);
      void store.edit(`Remove ${all.find((s) => s.id === step)?.name}`, edits);
      if (near && zone) focusRow(near.id, zone);
    },
    [store, selection?.zone],
  );
  const add = useCallback(
    (zone?: string, after?: string | null) => {
      const z = zone ?? selection?.zone ?? looked ?? plan.zones[0]!.id;
      const top = steps.filter((s) => s.zones.includes(z)).at(-1)?.id ?? null;
      setAdding({ zone: z, after: after !== undefined ? after : (selection?.step ?? top) });
    },
    [plan.zones, selection, steps, looked],
  );
  const openStory = (s: Story) => {
    const seam = s.seams.length ? a.seams[s.seams[0]!] : undefined;
    if (!seam) {
      if (!s.remark) return;
      select({ kind: "step", step: s.upper_step, zone: s.zones[0]! });
      setMinute(a.times[s.upper_step]?.start_min ?? 0);
      return;
    }
    select({ kind: "seam", id: seam.id, step: seam.upper_step, zone: seam.zone_id });
    setMinute(seam.at_min);
  };

  const close = () => {
    const held = selection;
    select(null);
    setListed(false);
    if (held) focusRow(held.step, held.zone);
  };
  const open = selection !== null || listed;

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [role=dialog], [role=menu]");
      const inside = (e.target as HTMLElement).closest<HTMLElement>("[data-inspector]");
      if (e.key === "Escape" && inside && typing && !typing.matches("[role=dialog], [role=menu]")) {
        inside.focus(); // the field is left; once more, and what is chosen is let go of
        return;
      }
      const mod = e.ctrlKey || e.metaKey;
      if (mod && e.key.toLowerCase() === "z" && !typing) {
        e.preventDefault();
        void (e.shiftKey ? store.redo() : store.undo());
      } else if (mod && e.key.toLowerCase() === "y" && !typing) {
        e.preventDefault();
        void store.redo();
      } else if (typing || mod || e.altKey) return;
      else if (e.key === "?") setSheet("help");
      else if (e.key.toLowerCase() === "a") {
        e.preventDefault();
        add();
      } else if (e.key.toLowerCase() === "n") {
        const next = nextStory(a.stories, selection);
        if (next) openStory(next);
      } else if (e.key === "Escape" && open) close();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  const chosenKey = selection ? `${selection.kind}${selection.step}${selection.zone}` : "";
  const inspector = (
    <ErrorBoundary at={chosenKey} part="What is chosen">
      <Suspense fallback={null}>
        <CallOut small={small} table={table} chosen={selection !== null} of={chosenKey} onClose={close}>
          <ErrorBoundary at={chosenKey} part="What is chosen">
            <Inspector
              plan={plan}
              a={a}
              known={known}
              store={store}
              shot={shot}
              scheduled={times === "schedule"}
              clock={clock}
              minute={minute}
              selection={selection}
              onSelect={select}
              onStory={openStory}
              onAdd={add}
              onMove={move}
              onRemove={remove}
              onOver={setOver}
              onVersions={() => setSheet("versions")}
            />
          </ErrorBoundary>
        </CallOut>
      </Suspense>
    </ErrorBoundary>
  );
  return (
    <Times.Provider value={times}>
      <div className="shell">
        <ViewHead
          build={shown}
          store={store}
          on={table ? "table" : "rack"}
          step={selection?.step}
          air
          onHelp={() => setSheet("help")}
          name={
            <Suspense fallback={<BuildButton plan={plan} onClick={() => setMenuPressed(true)} />}>
              {later ? (
                <BuildMenu
                  open={menuPressed}
                  id={shown.id}
                  plan={plan}
                  onAbout={() => setSheet("about")}
                  onSaid={setSaid}
                />
              ) : (
                <BuildButton plan={plan} onClick={() => setMenuPressed(true)} />
              )}
            </Suspense>
          }
        />
        <div className={`relative min-h-0 min-w-0 ${table && !small ? "beside" : ""}`} data-callout-holder>
          <main id="main" className="flex h-full min-h-0 min-w-0 flex-col" tabIndex={-1}>
            <h1 className="sr-only">{plan.build.name}</h1>
            <Refused why={shot.refused} onHeard={() => store.heard()} />
            {said ? (
              <p
                role="status"
                className="mx-4 mt-2 flex items-center gap-3 rounded bg-paper px-3 py-2 text-sm"
              >
                {said}
                <Push className="ml-auto" onClick={() => setSaid("")}>
                  OK
                </Push>
              </p>
            ) : null}
            <ErrorBoundary at={table ? "table" : "rack"} part="The drawing">
              {table ? (
                <PlanTable
                  plan={plan}
                  a={a}
                  clock={clock}
                  selection={selection}
                  small={small}
                  onSelect={select}
                  onMove={move}
                  onRemove={remove}
                  onOpen={openInspector}
                />
              ) : (
                <Drawing
                  plan={drawnPlan}
                  assessment={drawn.assessment}
                  minute={minute}
                  selection={selection}
                  preview={!!shot.preview}
                  onSelect={select}
                  onMove={moveDrawn}
                  onRemove={remove}
                  onAdd={add}
                  onOpen={openInspector}
                  reaches={reaches}
                  small={small}
                  zone={zone}
                  onZone={stepZone}
                />
              )}
            </ErrorBoundary>
            {small ? <CountsLine a={a} onOpen={() => setListed(true)} /> : null}
          </main>
          {!later || (small && !open) ? null : inspector}
        </div>
        <Foot
          plan={drawnPlan}
          assessment={drawn.assessment}
          store={store}
          chosen={shown.clock}
          scheduled={shown.scheduled}
          clock={clock}
          minute={minute}
          selected={selection?.step ?? null}
          zone={small ? zone : null}
          onMinute={setMinute}
          reach={reach}
          onReach={toggleReach}
          onPark={openPark}
        />
        <ViewsBar id={shown.id} on={table ? "table" : "rack"} step={selection?.step} />
        <p className="sr-only" role="status" aria-live="polite" data-testid="heard">
          {heard}
        </p>
        <ErrorBoundary at={shown.id} part="A sheet">
          <Suspense fallback={null}>
            {later ? (
              <Sheets
                store={store}
                shot={shot}
                known={known}
                plan={plan}
                a={a}
                clock={clock}
                minute={minute}
                adding={adding}
                onAdding={setAdding}
                onAdded={(s, z) => {
                  select({ kind: "step", step: s, zone: z });
                  focusRow(s, z);
                }}
                over={over}
                onOver={setOver}
                open={sheet}
                onClose={() => setSheet(null)}
              />
            ) : null}
          </Suspense>
        </ErrorBoundary>
      </div>
    </Times.Provider>
  );
}
