/** The zones of a step in words: all of them, or each by its name. */
import type { Plan } from "../api/client";

export function zoneNames(plan: Plan, zones: string[]): string {
  return zones.length === plan.zones.length && zones.length > 1
    ? "all zones"
    : plan.zones
        .filter((z) => zones.includes(z.id))
        .map((z) => z.name)
        .join(", ");
}
