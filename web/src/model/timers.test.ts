import { describe, expect, it } from "vitest";
import type { Entry, Pack, StepCard, Timer } from "../api/client";
import {
  candidates,
  endOf,
  happened,
  meanwhile,
  phaseOf,
  running,
  standing,
  stateOf,
  stepNow,
  stretchOf,
  thickness,
} from "./timers";

const T0 = Date.parse("2026-11-28T10:00:00Z");
const at = (min: number) => new Date(T0 + min * 60_000).toISOString();
const say = (
  id: string,
  said: Entry["said"],
  step: string,
  min: number,
  more: Partial<Entry> = {},
): Entry => ({
  id,
  said,
  step,
  zones: ["a", "b"],
  at: at(min),
  written_at: at(min),
  ...more,
});
const card = (id: string, zones: string[], minutes = 10) =>
  ({ id, name: id, zones, zone_names: zones, minutes, states: [], kind: "coat" }) as unknown as StepCard;
const timer = (before: string, after: string | null, opens: number[], closes: (number | null)[]) =>
  ({
    id: `${before}~${after}`,
    before,
    after,
    zones: ["a"],
    opens,
    closes,
    again: [],
    words: "",
  }) as unknown as Timer;
const pack = {
  steps: [card("primer", ["a", "b"]), card("red", ["a"]), card("green", ["b"], 30), card("wash", ["a", "b"])],
  timers: [
    timer("primer", "red", [5, 10, 20], [null, null, null]),
    timer("primer", "green", [20, 50, 95], [null, null, null]),
    timer("primer", null, [4, 6, 9], [null, null, null]),
  ],
} as unknown as Pack;

describe("a window in stretches", () => {
  const twice = {
    ...timer("primer", "red", [10, 10, 10], [100, 220, 220]),
    again: [{ opens: [3000, 4000, 5000], closes: [null, null, null] }],
  } as unknown as Timer;
  it("is in the stretch that has not closed, and too early again between two", () => {
    expect([5, 150, 219].map((m) => stretchOf(twice, m).opens[0])).toEqual([10, 10, 10]);
    expect([221, 9000].map((m) => stretchOf(twice, m).opens[0])).toEqual([3000, 3000]);
    const steps = { steps: pack.steps, timers: [twice] } as unknown as Pack;
    const done = happened([say("1", "done", "primer", 0)]);
    const told = [5, 50, 150, 300, 4500].map((m) => running(steps, done, T0 + m * 60_000)[0]);
    expect(told.map((r) => [r?.phase, r?.again])).toEqual([
      ["early", false],
      ["easy", false],
      ["closing", false],
      ["early", true],
      ["opens", true],
    ]);
  });
});

describe("what the journal makes of this minute", () => {
  it("counts each entry once, in the order in which it was written, whatever came first", () => {
    const said = [
      say("1", "begun", "primer", 0),
      say("2", "done", "primer", 30),
      say("3", "wrong", "primer", 40),
    ];
    const shuffled = [said[2]!, said[0]!, said[1]!, said[0]!];
    expect(stateOf(happened(shuffled), pack.steps[0]!)).toBe("wrong");
    expect(stateOf(happened(said.slice(0, 2)), pack.steps[0]!)).toBe("done");
  });
  it("leaves out what was taken back, unless that was taken back too", () => {
    const said = [say("1", "done", "primer", 30), say("2", "back", "primer", 31, { corrects: "1" })];
    expect(standing(said)).toHaveLength(0);
    expect(standing([...said, say("3", "back", "primer", 32, { corrects: "2" })])).toHaveLength(1);
  });
  it("takes a step for begun that is done in some zones only, and knows when it was over", () => {
    const half = happened([say("1", "done", "primer", 30, { zones: ["a"] })]);
    expect(stateOf(half, pack.steps[0]!)).toBe("begun");
    expect(endOf(half, pack.steps[0]!)).toBeNull();
    const whole = happened([
      say("1", "done", "primer", 30, { zones: ["a"] }),
      say("2", "done", "primer", 40, { zones: ["b"] }),
    ]);
    expect(endOf(whole, pack.steps[0]!)).toBe(T0 + 40 * 60_000);
  });
});

describe("timers and what comes next", () => {
  const done = happened([say("1", "done", "primer", 0)]);
  const now = (min: number) => T0 + min * 60_000;
  it("run from the end of the lower coat, through their phases", () => {
    const phases = [3, 7, 30].map(
      (m) => running(pack, done, now(m)).find((r) => r.timer.after === "red")!.phase,
    );
    expect(phases).toEqual(["early", "opens", "easy"]);
    const closing = {
      opens: [now(1), now(2), now(3)],
      closes: [now(60), now(70), now(80)],
      waitsUntil: null,
    };
    expect([2, 30, 65, 90].map((m) => phaseOf(closing, now(m)))).toEqual([
      "opens",
      "easy",
      "closing",
      "late",
    ]);
  });
  it("are put off by a check that failed", () => {
    const wet = happened([
      say("1", "done", "primer", 0),
      say("2", "not_ready", "red", 30, { zones: ["a"], wait_min: 15 }),
    ]);
    const red = (m: number) => running(pack, wet, now(m)).find((r) => r.timer.after === "red")!.phase;
    expect([red(31), red(46)]).toEqual(["early", "easy"]);
  });
  it("names the step that is open, what can be done meanwhile, and what was begun before all", () => {
    const next = candidates(pack, done, now(30));
    expect(next.map((n) => n.step.id)).toEqual(["red", "green"]); // the wash lies on both
    expect(stepNow(next, done, now(30))!.step.id).toBe("red");
    const green = next.find((n) => n.step.id === "green")!;
    expect(meanwhile(next, green, now(30)).map((n) => n.step.id)).toEqual(["red"]);
    const begun = happened([say("1", "done", "primer", 0), say("2", "begun", "green", 29, { zones: ["b"] })]);
    expect(stepNow(candidates(pack, begun, now(30)), begun, now(30))!.step.id).toBe("green");
  });
  it("thin as the film hardens", () => {
    const states = [
      { state: "wet" as const, from_min: 0 },
      { state: "firm" as const, from_min: 10 },
      { state: "hard" as const, from_min: 100 },
    ];
    const ages = [0, 5, 10, 50, 200].map((a) => thickness(states, a));
    expect([...ages].sort((a, b) => b - a)).toEqual(ages);
  });
});
