/** What the panels under the drawing share: their properties, names of steps and zones, the crack. */
import type { Moved, Plan, Shown, Sitting } from "../../api/client";
import type { BuildStore } from "../../api/store";
import type { Clockwork } from "../../drawing/time";
import type { Drag } from "./geometry";
import { zoneNames } from "../../model/zones";
import type { Sittings } from "./useSittings";

export type Tab = "sitting" | "fit" | "holds" | "what_if" | "moved" | "all";
export type Trial = {
  drag: Drag;
  moved: Moved | null;
  settled: boolean;
  keep: () => void;
  putBack: () => void;
};
export type Props = {
  store: BuildStore;
  plan: Plan;
  shown: Shown;
  sittings: Sittings;
  clock: Clockwork;
  minute: number;
  sitting: Sitting | null;
  step: string | null;
  tab: Tab;
  onTab: (t: Tab) => void;
  onStep: (s: string | null) => void;
  trial: Trial | null;
  replan: () => void;
};

export const stepName = (plan: Plan, id: string) => plan.steps?.find((s) => s.id === id)?.name ?? id;

export const zonesOfStep = (plan: Plan, id: string) =>
  zoneNames(plan, plan.steps?.find((s) => s.id === id)?.zones ?? []);

export function Crack() {
  return (
    <svg width="12" height="16" className="mt-0.5 shrink-0" aria-hidden="true">
      <path d="M6 0l-4 5l7 4l-7 3l4 4" fill="none" stroke="var(--ink)" strokeWidth="2" />
    </svg>
  );
}
