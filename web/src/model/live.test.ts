import { describe, expect, it } from "vitest";
import type { Assessment, Knowledge, Plan, Shown } from "../api/client";
import { Clockwork } from "../drawing/time";
import { items, search } from "./add";
import { liveWords, nextStep, nextStory } from "./live";
import { isNight, nightOf } from "./nights";
import { beside, headline } from "./sittings";
import { tell } from "./words";

const clock = new Clockwork("2026-03-02T10:00:00+00:00", "UTC");
const step = (id: string) => ({ kind: "coat", id, name: id, zones: ["side"], material: "m" });
const made = (times: Record<string, [number, number]>) => ({
  plan: { zones: [], steps: Object.keys(times).map(step) } as unknown as Plan,
  a: {
    times: Object.fromEntries(
      Object.entries(times).map(([id, [start_min, end_min]]) => [id, { start_min, end_min }]),
    ),
    coats: {},
  } as unknown as Assessment,
});

describe("the clock's line", () => {
  it("tells the step that comes next by time, not by its place in the list", () => {
    const { plan, a } = made({ late: [900, 920], soon: [300, 320], gone: [0, 20] });
    expect(nextStep(plan.steps!, a, 60)?.id).toBe("soon");
    expect(liveWords(plan, a, clock, 60)).toBe("nothing is wet; next soon, in 4 h");
  });
  it("does not call an empty build done", () => {
    const { plan, a } = made({});
    expect(liveWords(plan, a, clock, 60)).toBe("nothing is planned yet");
  });
  it("says that all is done once it is", () => {
    const { plan, a } = made({ only: [0, 20] });
    expect(liveWords(plan, a, clock, 60)).toContain("everything is done");
  });
  it("goes from one thing to mend to the next and round", () => {
    const stories = [{ seams: ["a"] }, { seams: ["b"] }] as never[];
    const at = (id: string) => ({ kind: "seam", id, step: "s", zone: "z" }) as const;
    expect(nextStory(stories, null)).toBe(stories[0]);
    expect(nextStory(stories, at("a"))).toBe(stories[1]);
    expect(nextStory(stories, at("b"))).toBe(stories[0]);
  });
});

describe("night", () => {
  it("begins and ends at the minute that was entered", () => {
    expect(isNight(22 * 60 + 29, "22:30", "07:15")).toBe(false);
    expect(isNight(22 * 60 + 30, "22:30", "07:15")).toBe(true);
    expect(isNight(7 * 60 + 14, "22:30", "07:15")).toBe(true);
    expect(isNight(7 * 60 + 15, "22:30", "07:15")).toBe(false);
    expect(isNight(13 * 60, "12:30", "14:00")).toBe(true);
  });
  it("shades the part of an hour that is night", () => {
    expect(nightOf(22, "22:30", "07:15")).toEqual([[30, 60]]);
    expect(nightOf(7, "22:30", "07:15")).toEqual([[0, 15]]);
    expect(nightOf(23, "22:30", "07:15")).toEqual([[0, 60]]);
    expect(nightOf(12, "22:30", "07:15")).toEqual([]);
    expect(nightOf(5, "05:10", "05:40")).toEqual([[10, 40]]);
  });
});

const words = {
  laid_by: [{ id: "mist", words: "misted on" }],
  worked_with: [],
  actions: [{ id: "wipe", words: "Wipe back" }],
  fittings: [{ id: "mask", words: "Mask" }],
  bases: [],
  sures: [],
  kinds: [],
  schools: [],
  buds: [],
  goals: [],
  events: [],
  ready: [],
  uses: [],
  stages: [],
  aids: [],
} as unknown as Knowledge["words"];

describe("what can be added", () => {
  const known = {
    words,
    techniques: [],
    touches: [],
    coats: [
      {
        id: "clay",
        name: "Clay wash",
        words: "mud",
        use: "effect",
        system_name: "Clay",
        sheens: [],
        colour: "#000000",
        works: [{ action: "wipe", carrier: "by-the-api", method: "damp_wipe", leaves: 0.4, words: "clean" }],
      },
    ],
  } as unknown as Knowledge;
  const plan = { steps: [{ ...step("wash"), material: "clay" }] } as unknown as Plan;

  it("offers the work that the API says a coat takes, with its carrier", () => {
    const found = search(items(known, plan, { zone: "side", after: "wash" }), "wipe");
    expect(found.map((i) => i.name)).toEqual(["Wipe back: wash"]);
    expect(found[0]!.step()).toMatchObject({ carrier: "by-the-api", leaves: 0.4, acts_on: "wash" });
  });
  it("offers no work where nothing lies below", () => {
    expect(search(items(known, plan, { zone: "side", after: null }), "wipe")).toEqual([]);
  });
  it("puts first what begins with the words typed", () => {
    const found = search(items(known, plan, { zone: "side", after: "wash" }), "wash");
    expect(found[0]!.name).toBe("Clay wash");
  });
});

describe("sittings", () => {
  const shown = {
    proof: "nothing to plan yet",
    view: { sittings: [{}], finish_min: 0, hopeful_min: 0, schedule: { reached: [], made_by: "first" } },
  } as unknown as Shown;
  it("of an empty build are not finished, and nothing about them is proven", () => {
    expect(headline(shown, 0, clock)).toBe("Nothing is planned yet");
    expect(beside(shown, 0, false, clock)).not.toContain("proven");
    expect(headline(shown, 3, clock)).toContain("Finished");
  });
});

it("tells an id that has no words as it is", () => {
  expect(tell(words).method("mist")).toBe("misted on");
  expect(tell(words).method("wet_wipe")).toBe("wet wipe");
  expect(tell(undefined).action("mask")).toBe("mask");
});
