/** Where marks stand in a drawn coat: patches beside each other, and what was masked left free. */
import type { Assessment, Step } from "../api/client";

type Coat = Extract<Step, { kind: "coat" }>;

/** The share of the zone from which a coat's patch is drawn: after what it lies beside, as far as that is laid before it. */
export function patchFrom(steps: Step[], coat: Coat, zone: string, coats: Assessment["coats"]): number {
  let from = 0;
  for (const s of steps) {
    if (s.id === coat.id) break;
    if (s.kind === "coat" && (coat.beside?.includes(s.id) || s.beside?.includes(coat.id)))
      from += coats[`${s.id}~${zone}`]?.coverage ?? 0;
  }
  return from;
}

/** Whether a mask that says where it is was on while a coat was laid in a zone: its place stays free. */
export function maskedBy(steps: Step[], coat: Coat, zone: string): boolean {
  let on = false;
  for (const s of steps) {
    if (s.id === coat.id) return on;
    if (s.kind !== "fitting" || !s.zones.includes(zone)) continue;
    if (s.action === "mask") on ||= !!s.place && s.place !== "all_over";
    if (s.action === "unmask") on = false;
  }
  return false;
}
