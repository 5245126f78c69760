import { describe, expect, it } from "vitest";
import type { Hours, Plan, Searched, Sitting } from "../../api/client";
import { Clockwork } from "../../drawing/time";
import { crossedWords, searchWords, wall, withSitting } from "./words";

const clock = new Clockwork("2026-11-26T18:30:00Z", "UTC");
const weekly: Hours = { weekly: [{ days: ["thu"], start: "19:30", length_min: 120 }] } as Hours;
const thursday = { id: "2026-12-03T19:30" } as Sitting;

describe("what another build has taken since", () => {
  const plan = { steps: [{ id: "a", name: "Gloss" }] } as unknown as Plan;
  it("names the first step and how many more", () => {
    expect(crossedWords(plan, ["a"])).toBe(
      "“Gloss” is at a time that another build has taken since: plan again.",
    );
    expect(crossedWords(plan, ["a", "b", "c"])).toContain("“Gloss” and 2 more are at a time");
  });
});

describe("hours changed by a drag", () => {
  it("take a weekly sitting out of the week where it moves", () => {
    const next = withSitting(weekly, thursday, { date: "2026-12-04", start: "20:00", length_min: 120 });
    expect(next.cancelled).toEqual(["2026-12-03T19:30"]);
    expect(next.dates).toEqual([{ date: "2026-12-04", start: "20:00", length_min: 120 }]);
    expect(next.weekly).toEqual(weekly.weekly);
  });
  it("give it a date of its own where it only gets longer", () => {
    const next = withSitting(weekly, thursday, { date: "2026-12-03", start: "19:30", length_min: 135 });
    expect(next.cancelled ?? []).toEqual([]);
    expect(next.dates).toEqual([{ date: "2026-12-03", start: "19:30", length_min: 135 }]);
  });
  it("replace a dated one, and drop one that is given up", () => {
    const once = withSitting(weekly, thursday, { date: "2026-12-03", start: "19:30", length_min: 135 });
    const twice = withSitting(once, thursday, { date: "2026-12-03", start: "19:30", length_min: 90 });
    expect(twice.dates).toHaveLength(1);
    const gone = withSitting(twice, thursday, null);
    expect([gone.dates, gone.cancelled]).toEqual([[], ["2026-12-03T19:30"]]);
  });
});

it("a search says what it looks for, and how far it is", () => {
  const job = (part: Partial<Searched>) =>
    ({ state: "running", goal: "finish", seconds: 2.4, ...part }) as Searched;
  expect(
    searchWords(
      job({ goal: "" }),
      clock,
      (v) => v,
      () => "a first schedule",
    ),
  ).toBe("Looking for a first schedule · 2 s");
  expect(
    searchWords(
      job({ value: 60 }),
      clock,
      (v) => v,
      (g) => `the ${g}`,
    ),
  ).toContain("best Thu 26 Nov 19:30");
  expect(
    searchWords(
      job({ goal: "changes", value: 3, bound: 9 }),
      clock,
      (v) => v,
      (g) => g,
    ),
  ).toBe("3 of 9 changes tried · 2 s");
});

it("a minute is shown as on the wall, midnight as the day that begins", () => {
  expect(wall(clock, 330, "UTC")).toEqual({ date: "2026-11-27", start: "00:00" });
  expect(wall(clock, 0, "Europe/Berlin")).toEqual({ date: "2026-11-26", start: "19:30" });
});
