import { describe, expect, it } from "vitest";
import { Clockwork, exactSpan, readSpan, shortSpan, span } from "./time";

describe("durations", () => {
  it("are read as people write them", () => {
    for (const [text, minutes] of [
      ["90", 90],
      ["1:30", 90],
      ["1 h 30", 90],
      ["1h", 60],
      ["2 d", 2880],
      ["2 days 4 h 5 min", 2880 + 245],
      ["0.5 h", 30],
      ["0", 0],
    ] as const)
      expect(readSpan(text), text).toBe(minutes);
  });
  it("that are none are refused", () => {
    for (const text of ["", "soon", "1:75", "-5", "1 h 2 d", "1,5 h", "<b>"])
      expect(readSpan(text), text).toBeNull();
  });
  it("written exactly are read back the same", () => {
    for (let m = 0; m < 20_000; m += 37) expect(readSpan(exactSpan(m))).toBe(m);
    expect(readSpan(exactSpan(12.25))).toBe(12.25);
  });
  it("are given in larger units the longer they are", () => {
    expect([span(45), span(90), span(120), span(700), span(4 * 1440)]).toEqual([
      "45 min",
      "1 h 30 min",
      "2 h",
      "12 h",
      "4 days",
    ]);
    expect([shortSpan(0.2), shortSpan(59), shortSpan(3000)]).toEqual(["1 min", "59 min", "2 d"]);
  });
});

describe("the build's clock", () => {
  it("shows wall time through a change of clocks", () => {
    // Central European time went back an hour on 25 October 2026 at 03:00.
    const clock = new Clockwork("2026-10-24T22:00:00+02:00", "Europe/Berlin");
    expect(clock.short(0)).toBe("Sat 22:00");
    expect(clock.wall(5 * 60 - 1)).toEqual({ day: "Sun 25", hour: 2, minute: 59 });
    expect(clock.wall(5 * 60)).toEqual({ day: "Sun 25", hour: 2, minute: 0 });
    expect(clock.long(12 * 60)).toBe("Sun 25 Oct 09:00");
  });
  it("shows midnight as the new day", () => {
    const clock = new Clockwork("2026-11-26T18:30:00Z", "UTC");
    expect(clock.wall(330)).toEqual({ day: "Fri 27", hour: 0, minute: 0 });
  });
});
