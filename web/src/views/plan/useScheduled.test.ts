import { describe, expect, it } from "vitest";
import type { Assessment, Plan } from "../../api/client";
import { fitted } from "./useScheduled";

const plan = {
  steps: ["primer", "wash", "wet"].map((id) => ({ id, kind: "coat", zones: ["hull"] })),
} as unknown as Plan;
function at(start: number, ids: string[]): Assessment {
  return {
    times: Object.fromEntries(ids.map((id) => [id, { start_min: start, end_min: start + 10 }])),
    coats: Object.fromEntries(ids.map((id) => [`${id}~hull`, { film_um: start }])),
    cups: { primer: { total_ml: start } },
    notes: [],
    remarks: [],
  } as unknown as Assessment;
}
const all = ["primer", "wash", "wet"];
const own = at(0, all);

describe("the plan as scheduled", () => {
  it("has the schedule's times", () => {
    const found = fitted(at(900, all), plan, own, false)!;
    expect(found.assessment.times.wash!.start_min).toBe(900);
    expect(found.plan).toBe(plan);
  });
  it("leaves out what was skipped", () => {
    const found = fitted(at(900, ["primer", "wash"]), plan, own, false)!;
    expect(found.plan.steps!.map((s) => s.id)).toEqual(["primer", "wash"]);
  });
  it("waits for the answer where the plan has got a step that the last one does not know", () => {
    expect(fitted(at(900, ["primer", "wash"]), plan, own, true)).toBeNull();
  });
  it("waits where a step has got a zone that the last answer does not know", () => {
    const wider = structuredClone(plan);
    wider.steps![1]!.zones.push("deck");
    expect(fitted(at(900, all), wider, own, true)).toBeNull();
  });
  it("takes the cup from the newest plan while the times are a moment old", () => {
    const found = fitted(at(900, all), plan, own, true)!;
    expect(found.assessment.cups.primer!.total_ml).toBe(0);
    expect(found.assessment.times.primer!.start_min).toBe(900);
  });
});
