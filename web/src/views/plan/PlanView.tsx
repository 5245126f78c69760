import { useQuery } from "@tanstack/react-query";
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useState } from "react";
import { api, type Edit, type Knowledge, type Story } from "../../api/client";
import { useShot, type BuildStore } from "../../api/store";
import { Clockwork } from "../../drawing/time";
import { nextStory, withoutSkipped, type Selection } from "../../model/live";
import { BuildDoor } from "../../parts/BuildDoor";
import { BuildMenu } from "../../parts/BuildMenu";
import { HelpButton, ViewHead } from "../../parts/Head";
import { Shortcuts } from "../../parts/Shortcuts";
import { ThemeButton } from "../../parts/Theme";
import type { AddAt } from "../../model/add";
import { AddStep } from "./AddStep";
import { AirPanel } from "../../parts/AirPanel";
import { BuildSheet } from "./BuildSheet";
import { OverSheet, type OverAt } from "./OverSheet";
import { ParkSheet } from "./ParkSheet";
import { useSettled } from "./Rescue";
import { Versions } from "./Versions";
import { ClockStrip } from "./ClockStrip";
import { Overview } from "./Overview";
import { PlanTable } from "./PlanTable";
import { Rack } from "./Rack";
import { SeamPanel } from "./SeamPanel";
import { StepPanel } from "./StepPanel";
import { Times, useMinute, type Time } from "../../parts/useMinute";

const Drawing = memo(Rack);
const Foot = memo(ClockStrip);
const openInspector = () => document.querySelector<HTMLElement>("[data-inspector] input")?.focus();

export function PlanView({ table }: { table: boolean }) {
  return (
    <BuildDoor>
      {(store, known) => <Loaded key={store.id} store={store} table={table} known={known} />}
    </BuildDoor>
  );
}

/** How far back one could go in each zone at the clock's moment, where that is shown. */
/** Puts the keyboard on a coat of the rack, once it is drawn; on a table there is none. */
function focusRow(step: string, zone: string) {
  const look = (tries: number) => {
    const row = document.querySelector<HTMLElement>(`[data-row="${CSS.escape(`${step}~${zone}`)}"]`);
    if (row) row.focus();
    else if (tries > 0) requestAnimationFrame(() => look(tries - 1));
  };
  requestAnimationFrame(() => look(30));
}

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
  const [adding, setAdding] = useState<AddAt | null>(null);
  const [help, setHelp] = useState(false);
  const [about, setAbout] = useState(false);
  const [over, setOver] = useState<OverAt | null>(null);
  const [parking, setParking] = useState(false);
  const [versions, setVersions] = useState(false);
  const [reach, setReach] = useState(false);
  const toggleReach = useCallback(() => setReach((on) => !on), []);
  const openPark = useCallback(() => setParking(true), []);
  const reaches = useReaches(shot.build!.id, shot.build!.revision, times, minute, reach && !shot.preview);
  const clock = useMemo(
    () => new Clockwork(plan.build.starts_at, plan.build.timezone ?? "UTC"),
    [plan.build.starts_at, plan.build.timezone],
  );

  const select = useCallback(
    (s: Selection) => {
      store.putBack();
      store.lookAt(s ? { zone: s.zone, step: s.step } : null);
      setSelection(s);
    },
    [store],
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
      const z = zone ?? selection?.zone ?? plan.zones[0]!.id;
      const top = steps.filter((s) => s.zones.includes(z)).at(-1)?.id ?? null;
      setAdding({ zone: z, after: after !== undefined ? after : (selection?.step ?? top) });
    },
    [plan.zones, selection, steps],
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

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [role=dialog]");
      const mod = e.ctrlKey || e.metaKey;
      if (mod && e.key.toLowerCase() === "z" && !typing) {
        e.preventDefault();
        void (e.shiftKey ? store.redo() : store.undo());
      } else if (mod && e.key.toLowerCase() === "y" && !typing) {
        e.preventDefault();
        void store.redo();
      } else if (typing || mod || e.altKey) return;
      else if (e.key === "?") setHelp(true);
      else if (e.key.toLowerCase() === "a") {
        e.preventDefault();
        add();
      } else if (e.key.toLowerCase() === "n") {
        const next = nextStory(a.stories, selection);
        if (next) openStory(next);
      } else if (e.key === "Escape") select(null);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  const step = selection?.kind === "step" ? steps.find((s) => s.id === selection.step) : undefined;
  const seam =
    selection?.kind === "seam"
      ? (a.seams[selection.id] ?? shot.build!.assessment.seams[selection.id])
      : undefined;
  return (
    <Times.Provider value={times}>
      <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr_auto]">
        <ViewHead
          build={shown}
          store={store}
          on={table ? "table" : "rack"}
          step={selection?.step}
          name={<BuildMenu id={shown.id} plan={plan} onAbout={() => setAbout(true)} />}
        >
          <AirPanel air={plan.air ?? {}} store={store} />
          <ThemeButton />
          <HelpButton onOpen={() => setHelp(true)} />
        </ViewHead>
        <div className="grid min-h-0 grid-cols-[1fr_22rem]">
          <main className="relative min-h-0 min-w-0">
            <h1 className="sr-only">{plan.build.name}</h1>
            {shot.refused ? (
              <div
                role="alert"
                className="absolute inset-x-4 top-2 z-10 flex items-start gap-3 rounded border border-ink bg-paper px-3 py-2 text-sm shadow"
              >
                <span>
                  <strong>Not done.</strong> {shot.refused}
                </span>
                <button type="button" className="push ml-auto" onClick={() => store.heard()}>
                  Right
                </button>
              </div>
            ) : null}
            {table ? (
              <PlanTable
                plan={plan}
                a={a}
                clock={clock}
                selection={selection}
                onSelect={select}
                onMove={move}
                onRemove={remove}
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
              />
            )}
          </main>
          <aside
            className="min-h-0 overflow-y-auto border-l border-line bg-paper px-4 py-4"
            aria-label="What is chosen"
            data-inspector
            tabIndex={-1}
          >
            {seam ? (
              <SeamPanel
                key={seam.id}
                plan={plan}
                assessment={a}
                seam={seam}
                scheduled={times === "schedule"}
                clock={clock}
                store={store}
                shot={shot}
                onSeam={(s) => select({ kind: "seam", id: s.id, step: s.upper_step, zone: s.zone_id })}
                onStep={(s, zone) => select({ kind: "step", step: s, zone })}
                onOver={(s) => setOver({ zone: s.zone_id, step: s.upper_step, minute: s.at_min })}
              />
            ) : step && selection ? (
              <StepPanel
                key={`${step.id}~${selection.zone}`}
                plan={plan}
                assessment={a}
                known={known}
                step={step}
                zone={step.zones.includes(selection.zone) ? selection.zone : step.zones[0]!}
                clock={clock}
                minute={minute}
                store={store}
                onSeam={(sid, zone) =>
                  select({ kind: "seam", id: sid, step: a.seams[sid]!.upper_step, zone })
                }
                onRemove={remove}
                onMove={move}
                onAdd={add}
                build={shot.build!.id}
                revision={shot.build!.revision}
                onOver={(zone, s) =>
                  setOver({ zone, step: s, minute: Math.max(minute, a.times[s]?.end_min ?? 0) })
                }
              />
            ) : (
              <Overview
                plan={plan}
                a={a}
                left={times === "schedule" ? steps.filter((s) => !a.times[s.id]).length : null}
                clock={clock}
                onStory={openStory}
                onAdd={() => add()}
                onVersions={() => setVersions(true)}
              />
            )}
          </aside>
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
          onMinute={setMinute}
          reach={reach}
          onReach={toggleReach}
          onPark={openPark}
        />
        <AddStep
          known={known}
          plan={plan}
          assessment={a}
          at={adding}
          store={store}
          onClose={() => setAdding(null)}
          onAdded={(s, zone) => {
            select({ kind: "step", step: s, zone });
            focusRow(s, zone);
          }}
        />
        <OverSheet
          key={`${over?.zone}~${over?.step}`}
          at={over}
          build={shot.build!.id}
          revision={shot.build!.revision}
          plan={plan}
          clock={clock}
          onClose={() => setOver(null)}
        />
        <ParkSheet
          open={parking}
          build={shot.build!.id}
          revision={shot.build!.revision}
          plan={plan}
          clock={clock}
          minute={minute}
          onClose={() => setParking(false)}
        />
        <Versions
          open={versions}
          store={store}
          build={shot.build!}
          clock={clock}
          onClose={() => setVersions(false)}
        />
        <BuildSheet
          open={about}
          plan={shot.build!.plan}
          known={known}
          store={store}
          onClose={() => setAbout(false)}
        />
        <Shortcuts open={help} onClose={() => setHelp(false)} />
      </div>
    </Times.Provider>
  );
}
