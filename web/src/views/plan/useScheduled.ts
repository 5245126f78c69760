/** The plan as it is scheduled and was done: its times, coats and seams, without what was skipped. */
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Assessment, type Plan } from "../../api/client";

export type Scheduled = { plan: Plan; assessment: Assessment };

export function useScheduled(build: string, revision: number, plan: Plan, a: Assessment, on: boolean) {
  const { data, isPlaceholderData: old } = useQuery({
    queryKey: ["sittings", build, revision],
    queryFn: async () =>
      (await api.GET("/api/builds/{build_id}/sittings", { params: { path: { build_id: build } } })).data,
    enabled: on,
    placeholderData: (before) => before,
  });
  const placed = on && data?.scheduled ? data.view.assessment : null;
  return useMemo(() => (placed ? fitted(placed, plan, a, old) : null), [placed, plan, a, old]);
}

/**
 * The answer for the plan as it stands. Until it comes the one before is good enough where it knows every coat; what hangs
 * on no time (cups, remarks, cautions) is never taken from it.
 */
export function fitted(placed: Assessment, plan: Plan, a: Assessment, old: boolean): Scheduled | null {
  const all = plan.steps ?? [];
  const steps = all.filter((s) => placed.times[s.id]);
  if (old && steps.length < all.length) return null;
  const known = (step: string, zone: string) => placed.coats[`${step}~${zone}`];
  if (steps.some((s) => s.kind === "coat" && s.zones.some((z) => !known(s.id, z)))) return null;
  const fresh = old ? { cups: a.cups, notes: a.notes, remarks: a.remarks } : {};
  return {
    plan: steps.length < all.length ? { ...plan, steps } : plan,
    assessment: { ...placed, ...fresh },
  };
}
