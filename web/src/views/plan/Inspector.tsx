/** What is chosen, as a call-out of its core; where there is no room in the rack, as a sheet from below. */
import { useEffect, useRef } from "react";
import type { Assessment, Knowledge, Plan, Story } from "../../api/client";
import type { BuildStore, Shot } from "../../api/store";
import type { Clockwork } from "../../drawing/time";
import type { Selection } from "../../model/live";
import { Overview } from "./Overview";
import { SeamPanel } from "./SeamPanel";
import { StepPanel } from "./StepPanel";
import type { OverAt } from "./OverSheet";
import { Push } from "../../parts/Push";

export function Inspector(p: {
  plan: Plan;
  a: Assessment;
  known: Knowledge;
  store: BuildStore;
  shot: Shot;
  scheduled: boolean;
  clock: Clockwork;
  minute: number;
  selection: Selection;
  onSelect: (s: Selection) => void;
  onStory: (s: Story) => void;
  onAdd: (zone?: string, after?: string | null) => void;
  onMove: (step: string, to: number) => void;
  onRemove: (step: string) => void;
  onOver: (at: OverAt) => void;
  onVersions: () => void;
}) {
  const { plan, a, shot, selection, store, clock } = p;
  const steps = plan.steps ?? [];
  const step = selection?.kind === "step" ? steps.find((s) => s.id === selection.step) : undefined;
  const seam =
    selection?.kind === "seam"
      ? (a.seams[selection.id] ?? shot.build!.assessment.seams[selection.id])
      : undefined;
  if (seam)
    return (
      <SeamPanel
        key={seam.id}
        plan={plan}
        assessment={a}
        seam={seam}
        scheduled={p.scheduled}
        clock={clock}
        store={store}
        shot={shot}
        onSeam={(s) => p.onSelect({ kind: "seam", id: s.id, step: s.upper_step, zone: s.zone_id })}
        onStep={(s, zone) => p.onSelect({ kind: "step", step: s, zone })}
        onOver={(s) => p.onOver({ zone: s.zone_id, step: s.upper_step, minute: s.at_min })}
      />
    );
  if (step && selection)
    return (
      <StepPanel
        key={`${step.id}~${selection.zone}`}
        plan={plan}
        assessment={a}
        known={p.known}
        step={step}
        zone={step.zones.includes(selection.zone) ? selection.zone : step.zones[0]!}
        clock={clock}
        minute={p.minute}
        store={store}
        onSeam={(sid, zone) => p.onSelect({ kind: "seam", id: sid, step: a.seams[sid]!.upper_step, zone })}
        onRemove={p.onRemove}
        onMove={p.onMove}
        onAdd={p.onAdd}
        build={shot.build!.id}
        revision={shot.build!.revision}
        onOver={(zone, s) =>
          p.onOver({ zone, step: s, minute: Math.max(p.minute, a.times[s]?.end_min ?? 0) })
        }
      />
    );
  return (
    <Overview
      plan={plan}
      a={a}
      left={p.scheduled ? steps.filter((s) => !a.times[s.id]).length : null}
      clock={clock}
      onStory={p.onStory}
      onAdd={() => p.onAdd()}
      onVersions={p.onVersions}
    />
  );
}

/** The call-out's frame: in the rack beside the chosen core, or from below where the screen is narrow. */
export function CallOut(p: {
  small: boolean;
  /** Whether something is chosen that can be let go of. */
  chosen: boolean;
  /** In the table there is no core to call it out of. */
  table: boolean;
  onClose: () => void;
  of: string;
  children: React.ReactNode;
}) {
  const box = useRef<HTMLElement>(null);
  useEffect(() => {
    box.current?.scrollTo(0, 0);
  }, [p.of]);
  return (
    <>
      {p.small || p.table ? null : <span className="callout-notch" aria-hidden="true" />}
      <aside
        ref={box}
        className={p.small ? "from-below" : p.table ? "callout callout-aside" : "callout"}
        aria-label="What is chosen"
        data-inspector
        tabIndex={-1}
      >
        {p.chosen || p.small ? (
          <Push className="callout-close no-print" data-bare aria-label="Close" onClick={p.onClose}>
            ✕
          </Push>
        ) : null}
        {p.children}
      </aside>
    </>
  );
}
