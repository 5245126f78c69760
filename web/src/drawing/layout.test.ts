import { describe, expect, it } from "vitest";
import type { Assessment, Plan } from "../api/client";
import { layOut, ribbons } from "./layout";
import { FLOOR_PX, LENS_PX } from "./tokens";

/** Zones of coats with a film each, and what is told of some of them. */
function rack(films: number[][], told: Partial<Record<string, "wait" | "caution" | "clash">> = {}) {
  const steps = films.flatMap((zone, z) =>
    zone.map((film, i) => ({ id: `${z}-${i}`, name: `${z}-${i}`, kind: "coat", zones: [`z${z}`], film })),
  );
  const plan = { build: {}, zones: films.map((_, z) => ({ id: `z${z}`, name: `z${z}` })), steps };
  const coats = Object.fromEntries(steps.map((s) => [`${s.id}~${s.zones[0]}`, { film_um: s.film }]));
  const seams = Object.fromEntries(
    steps.map((s) => [
      `${s.id}~${s.zones[0]}~x`,
      {
        upper_step: s.id,
        zone_id: s.zones[0],
        verdict: told[s.id] ?? "sound",
        word: "w",
        sentence: "s",
        basis: "computed",
        findings: [],
      },
    ]),
  );
  return [plan as unknown as Plan, { coats, seams, remarks: [] } as unknown as Assessment] as const;
}

describe("the rack", () => {
  it("draws a coat's height as a floor and the root of its film", () => {
    const [plan, a] = rack([[4, 16, 64]]);
    const laid = layOut(plan, a, 900, 560, null);
    const heights = laid.columns[0]!.rows.map((r) => r.height - FLOOR_PX);
    expect(heights[1]! / heights[0]!).toBeCloseTo(2, 6);
    expect(heights[2]! / heights[0]!).toBeCloseTo(4, 6);
  });
  it("has one scale for all zones, and the tallest core fits", () => {
    const [plan, a] = rack([Array(12).fill(30), [30]]);
    const laid = layOut(plan, a, 900, 560, null);
    const top = (z: number) => laid.columns[z]!.rows.reduce((sum, r) => sum + r.height, 0);
    expect(top(0)).toBeLessThanOrEqual(560.001);
    expect(laid.columns[1]!.rows[0]!.height).toBeCloseTo(laid.columns[0]!.rows[0]!.height, 6);
    expect(laid.crowded).toBe(false);
  });
  it("opens the coats round the focus where there are too many to draw", () => {
    const [plan, a] = rack(Array.from({ length: 8 }, () => Array(60).fill(10)));
    const laid = layOut(plan, a, 900, 500, { step: "3-30", zone: "z3" });
    expect(laid.crowded).toBe(true);
    const rows = laid.columns[3]!.rows;
    expect(rows[30]!.height).toBeGreaterThanOrEqual(LENS_PX);
    expect(rows[2]!.height).toBeLessThan(LENS_PX / 2);
    for (let i = 1; i < rows.length; i++)
      expect(rows[i]!.up).toBeCloseTo(rows[i - 1]!.up + rows[i - 1]!.height, 6);
  });
  it("keeps its tags apart, in order, the gravest word at each row", () => {
    const [plan, a] = rack([Array(10).fill(1)], {
      "0-1": "clash",
      "0-2": "wait",
      "0-3": "caution",
      "0-8": "wait",
    });
    const tags = layOut(plan, a, 900, 560, null).columns[0]!.tags;
    expect(tags.map((t) => t.worst.verdict)).toEqual(["clash", "wait", "caution", "wait"]);
    for (let i = 1; i < tags.length; i++) expect(tags[i]!.up).toBeGreaterThan(tags[i - 1]!.up);
  });
  it("runs a shared coat across neighbours only", () => {
    const [plan, a] = rack([[20], [20], [20]]);
    plan.steps!.splice(0, 3, { ...plan.steps![0]!, id: "all", zones: ["z0", "z2"] });
    Object.assign(a.coats, { "all~z0": { film_um: 20 }, "all~z2": { film_um: 20 } });
    expect(ribbons(layOut(plan, a, 900, 560, null).columns)).toEqual([]);
    plan.steps![0]!.zones.push("z1");
    Object.assign(a.coats, { "all~z1": { film_um: 20 } });
    const across = ribbons(layOut(plan, a, 900, 560, null).columns);
    expect(across.map((r) => [r.d.a.zone, r.d.b.zone])).toEqual([
      ["z0", "z1"],
      ["z1", "z2"],
    ]);
    for (const r of across) expect(r.d.x1).toBeGreaterThan(r.d.x0);
  });
});
