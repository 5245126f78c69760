import { describe, expect, it } from "vitest";
import { BenchClock } from "./clock";

const at = (text: string) => Date.parse(`2026-11-26T${text}Z`);
function device(wall: string) {
  const t = { m: 1000, w: at(wall) };
  return { t, watch: { mono: () => t.m, wall: () => t.w }, pass: (ms: number) => ((t.m += ms), (t.w += ms)) };
}

describe("the bench's clock", () => {
  it("goes by the server's time on a device whose clock is hours off", () => {
    const d = device("03:00:00");
    const clock = new BenchClock(d.watch, null);
    clock.heard("2026-11-26T19:00:00Z", 1, d.t.m);
    d.pass(90_000);
    expect(new Date(clock.now()).toISOString()).toBe("2026-11-26T19:01:30.000Z");
  });
  it("does not move when the device's clock is set back while the server is away", () => {
    const d = device("19:00:00");
    const clock = new BenchClock(d.watch, null);
    clock.heard("2026-11-26T19:00:00Z", 1, d.t.m);
    d.pass(60_000);
    d.t.w -= 3_600_000;
    d.pass(60_000);
    expect(clock.now()).toBe(at("19:02:00"));
    expect(clock.sure).toBe(false);
  });
  it("counts the time that the device slept, though its stopwatch stood", () => {
    const d = device("19:00:00");
    const clock = new BenchClock(d.watch, null);
    clock.heard("2026-11-26T19:00:00Z", 1, d.t.m);
    d.t.w += 1_800_000;
    d.pass(1000);
    expect(clock.now()).toBe(at("19:30:01"));
  });
  it("goes on over a reload, also by a simulated pace, and says by how much it was off", () => {
    const kept = JSON.stringify({ at: at("19:00:00"), wall: at("18:00:00"), pace: 60 });
    const d = device("18:01:00");
    const clock = new BenchClock(d.watch, kept);
    expect(clock.now()).toBe(at("20:00:00"));
    let told = 0;
    clock.onShift((delta) => (told = delta));
    clock.heard("2026-11-26T20:30:00Z", 60, d.t.m);
    expect(told).toBe(1_800_000);
    d.pass(1000);
    expect(clock.now()).toBe(at("20:31:00"));
  });
});
