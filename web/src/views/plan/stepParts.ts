/** What the parts of the step's panel share. */
import type { Assessment, Knowledge, Plan, Step } from "../../api/client";
import type { BuildStore } from "../../api/store";
import type { Clockwork } from "../../drawing/time";

export type Props = {
  build: string;
  revision: number;
  onOver: (zone: string, step: string) => void;
  plan: Plan;
  assessment: Assessment;
  known: Knowledge;
  step: Step;
  zone: string;
  clock: Clockwork;
  minute: number;
  store: BuildStore;
  onSeam: (id: string, zone: string) => void;
  onRemove: (step: string) => void;
  onMove: (step: string, to: number) => void;
  onAdd: (zone: string, after: string) => void;
};

export type Set = (
  field: string,
  value: unknown,
  label?: string,
) => Promise<{ ok: true } | { ok: false; why: string }>;
