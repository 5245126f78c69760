/** What the parts of the rack share. */
import type { Assessment } from "../../api/client";

export type Selection =
  | { kind: "step"; step: string; zone: string }
  | { kind: "seam"; id: string; step: string; zone: string }
  | null;

export const PRESSED_PX = 7; // rows lower than this are drawn pressed, without a name

export function stateAt(a: Assessment, step: string, zone: string, minute: number): string {
  const coat = a.coats[`${step}~${zone}`];
  if (!coat || minute < coat.start_min) return "to_come";
  let state = "wet";
  for (const mark of coat.states) if (mark.from_min <= minute) state = mark.state;
  return state;
}
