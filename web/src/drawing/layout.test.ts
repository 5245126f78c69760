import { describe, expect, it } from "vitest";
import type { Assessment, Plan } from "../api/client";
import { groupsOf, layOut, ribbons } from "./layout";
import { FLOOR_PX, LENS_PX } from "./tokens";

/** Zones of coats with a film each, and verdicts on some of them. */
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

const room = (width: number, height: number, pitch = 68, callout = 0) => ({ width, height, pitch, callout });

describe("the rack", () => {
  it("draws a coat's height as a floor and the root of its film", () => {
    const [plan, a] = rack([[4, 16, 64]]);
    const laid = layOut(plan, a, room(900, 560), null);
    const heights = laid.columns[0]!.rows.map((r) => r.height - FLOOR_PX);
    expect(heights[1]! / heights[0]!).toBeCloseTo(2, 6);
    expect(heights[2]! / heights[0]!).toBeCloseTo(4, 6);
  });
  it("has one scale for all zones, and the tallest core fits", () => {
    const [plan, a] = rack([Array(12).fill(30), [30]]);
    const laid = layOut(plan, a, room(900, 560), null);
    const top = (z: number) => laid.columns[z]!.rows.reduce((sum, r) => sum + r.height, 0);
    expect(top(0)).toBeLessThanOrEqual(560.001);
    expect(laid.columns[1]!.rows[0]!.height).toBeCloseTo(laid.columns[0]!.rows[0]!.height, 6);
    expect(laid.crowded).toBe(false);
  });
  it("opens the coats round the focus where there are too many to draw", () => {
    const [plan, a] = rack(Array.from({ length: 8 }, () => Array(60).fill(10)));
    const laid = layOut(plan, a, room(900, 500), { step: "3-30", zone: "z3" });
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
    const tags = layOut(plan, a, room(900, 560), null).columns[0]!.tags;
    expect(tags.map((t) => t.worst.verdict)).toEqual(["clash", "wait", "caution", "wait"]);
    for (let i = 1; i < tags.length; i++) expect(tags[i]!.up).toBeGreaterThan(tags[i - 1]!.up);
  });
  it("groups zones that are alike, and none of another base material", () => {
    const [plan, a] = rack(Array.from({ length: 40 }, () => []));
    expect(groupsOf(plan, a).map((g) => g.zones.length)).toEqual([40]);
    plan.zones[1]!.base_material = "abs";
    expect(groupsOf(plan, a).map((g) => g.zones.length)).toEqual([39, 1]);
  });
  it("runs a shared coat across neighbours only", () => {
    const [plan, a] = rack([[20], [20], [20]]);
    plan.steps!.splice(0, 3, { ...plan.steps![0]!, id: "all", zones: ["z0", "z2"] });
    Object.assign(a.coats, { "all~z0": { film_um: 20 }, "all~z2": { film_um: 20 } });
    expect(ribbons(layOut(plan, a, room(900, 560), null).columns)).toEqual([]);
    plan.steps![0]!.zones.push("z1");
    Object.assign(a.coats, { "all~z1": { film_um: 20 } });
    const across = ribbons(layOut(plan, a, room(900, 560), null).columns);
    expect(across.map((r) => [r.d.a.zone, r.d.b.zone])).toEqual([
      ["z0", "z1"],
      ["z1", "z2"],
    ]);
    for (const r of across) expect(r.d.x1).toBeGreaterThan(r.d.x0);
  });
  it("lets a core take the width that there is, up to its most, and leaves room for words", () => {
    const [plan, a] = rack([[10]]);
    expect(layOut(plan, a, room(400, 560), null).columns[0]!.width).toBeCloseTo(400 - 112, 6);
    expect(layOut(plan, a, room(1600, 560), null).columns[0]!.width).toBe(320);
  });
  it("opens beside the chosen core: what is right of it moves over by the call-out", () => {
    const [plan, a] = rack([[10], [10], [10]]);
    const shut = layOut(plan, a, room(900, 560, 68, 300), null);
    const open = layOut(plan, a, room(900, 560, 68, 300), { step: "1-0", zone: "z1" });
    expect(open.columns.map((c) => c.left)).toEqual([0, 200, 700]);
    expect([shut.callout, open.callout]).toEqual([600, 400]);
  });
  it("draws those cores that have room, round the one that is looked at", () => {
    const [plan, a] = rack(Array.from({ length: 10 }, () => [10]));
    const seen = (zone: string, width: number) =>
      layOut(plan, a, room(width, 560, 176), { step: null, zone }).columns.map((c) => c.zone);
    expect(seen("z4", 328)).toEqual(["z4"]);
    expect(seen("z4", 560)).toEqual(["z3", "z4", "z5"]);
    expect(seen("z9", 560)).toEqual(["z7", "z8", "z9"]);
    expect(layOut(plan, a, room(328, 560, 176), null).groups.length).toBe(10);
  });
  it("draws very many zones of one stack as one, and those told otherwise for themselves", () => {
    const [plan, a] = rack([[10], ...Array.from({ length: 14 }, () => [])]);
    plan.steps![0]!.zones = plan.zones.map((z) => z.id).slice(0, 13);
    const seams = a.seams as Record<string, unknown>;
    seams["0-0~z2~x"] = { ...(seams["0-0~z0~x"] as object), zone_id: "z2", verdict: "clash" };
    const groups = layOut(plan, a, room(900, 560), null).groups;
    expect(groups.map((g) => g.zones.length)).toEqual([12, 1, 2]);
    expect(groups[1]!.zones).toEqual(["z2"]);
  });
  it("lets a name stand once where many neighbours share a step at one height", () => {
    const [plan, a] = rack([[10], ...Array.from({ length: 8 }, () => [])]);
    plan.steps![0]!.zones = plan.zones.map((z) => z.id);
    for (const z of plan.zones) Object.assign(a.coats, { [`0-0~${z.id}`]: { film_um: 10 } });
    const { columns, many } = layOut(plan, a, room(900, 560), null);
    expect(many).toBe(true);
    expect(columns.map((c) => c.rows[0]!.nameWidth > 0)).toEqual([true, ...Array<boolean>(8).fill(false)]);
    expect(columns[0]!.rows[0]!.nameWidth).toBeCloseTo(columns[8]!.left + columns[8]!.width, 6);
    const chosen = layOut(plan, a, room(900, 560), { step: "0-0", zone: "z4" }).columns;
    expect(chosen.map((c) => c.rows[0]!.nameWidth > 0)).toEqual(
      [0, 1, 2, 3, 4, 5, 6, 7, 8].map((i) => i === 0 || i === 4 || i === 5),
    );
    expect(chosen[4]!.width).toBeGreaterThan(chosen[3]!.width);
  });
});
