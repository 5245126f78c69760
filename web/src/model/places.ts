/** Where patches stand in a drawn coat: those that lie beside each other stand beside each other. */
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
