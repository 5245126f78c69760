import { describe, expect, it } from "vitest";
import { busyAxis, piecewise, sittingAxis, type Light } from "./axis";

const WIDTH = 1100;
const lights: Light[] = Array.from({ length: 10 }, (_, i) => ({
  id: `s${i}`,
  start_min: i * 2880,
  end_min: i * 2880 + 120,
  lines: i === 3 ? [] : ["work"],
}));

const rises = (x: (m: number) => number, from: number, to: number) => {
  let last = -Infinity;
  for (let m = from; m <= to; m += (to - from) / 997) {
    expect(x(m)).toBeGreaterThanOrEqual(last);
    last = x(m);
  }
};

describe("an axis", () => {
  it("goes there and back", () => {
    const axis = sittingAxis(lights, -600, 27_000, WIDTH, "s1");
    for (let m = -600; m <= 27_000; m += 61) expect(axis.minute(axis.x(m))).toBeCloseTo(m, 3);
    rises(axis.x, -600, 27_000);
  });
  it("fills the width and no more, whatever is chosen", () => {
    for (const chosen of [null, "s0", "s3", "s9", "none"]) {
      const axis = sittingAxis(lights, -600, 27_000, WIDTH, chosen);
      expect(axis.x(-600)).toBe(0);
      expect(axis.x(27_000)).toBeCloseTo(WIDTH, 6);
    }
  });
  it("opens the chosen sitting and keeps one without work narrow", () => {
    const axis = sittingAxis(lights, -600, 27_000, WIDTH, "s1");
    const wide = (i: number) => axis.x(lights[i]!.end_min) - axis.x(lights[i]!.start_min);
    expect(wide(1)).toBeGreaterThan(2 * wide(0));
    expect(wide(3)).toBeLessThan(0.5 * wide(0));
    expect(wide(2)).toBeCloseTo(wide(0), 6);
  });
  it("does with no sitting at all, and with a sitting that is over all of it", () => {
    expect(sittingAxis([], 0, 1000, WIDTH, null).x(1000)).toBeCloseTo(WIDTH, 6);
    const all = sittingAxis([{ id: "a", start_min: -5, end_min: 2000, lines: ["x"] }], 0, 1000, WIDTH, "a");
    rises(all.x, 0, 1000);
    expect(all.x(1000)).toBeLessThanOrEqual(WIDTH);
  });
  it("stands still before its first knot and after its last", () => {
    const axis = piecewise(
      [
        [0, 0],
        [10, 100],
        [10, 100],
        [20, 110],
      ],
      0,
      20,
    );
    expect([axis.x(-5), axis.x(5), axis.x(10), axis.x(25)]).toEqual([0, 50, 100, 110]);
  });
});

describe("the clock's axis", () => {
  it("gives hours with work more room than the nights between", () => {
    const times = [
      { start_min: 0, end_min: 60 },
      { start_min: 2880, end_min: 2940 },
    ];
    const axis = busyAxis(times, 4000, WIDTH);
    rises(axis.x, -20, 4000);
    expect(axis.x(60) - axis.x(0)).toBeGreaterThan(axis.x(1500) - axis.x(1440));
    expect(axis.x(4000)).toBeCloseTo(WIDTH, 6);
  });
  it("is even where there is no work, or nothing else", () => {
    expect(busyAxis([], 1000, WIDTH).x(490)).toBeCloseTo(WIDTH / 2, 6);
    expect(busyAxis([{ start_min: 0, end_min: 1000 }], 1000, WIDTH).x(1000)).toBeCloseTo(WIDTH, 6);
  });
});
