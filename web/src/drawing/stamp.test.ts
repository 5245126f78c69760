import { describe, expect, it } from "vitest";
import { localStamp, readStamp } from "./stamp";

const ZONE = "Europe/Berlin";

describe("an instant typed by the wall", () => {
  it("comes back as it was typed, at every hour of a year", () => {
    for (let h = 0; h < 366 * 24; h += 7) {
      const iso = new Date(Date.UTC(2026, 0, 1, h)).toISOString();
      const read = readStamp(localStamp(iso, ZONE), ZONE)!;
      expect(localStamp(read, ZONE)).toBe(localStamp(iso, ZONE));
    }
  });
  it("that the clock skips is moved on", () => {
    expect(readStamp("2026-03-29 02:30", ZONE)).toBe("2026-03-29T01:30:00.000Z"); // 03:30 summer time
  });
  it("that the clock shows twice is the first", () => {
    expect(readStamp("2026-10-25 02:30", ZONE)).toBe("2026-10-25T00:30:00.000Z");
  });
  it("keeps its own offset on either side of a change", () => {
    expect(readStamp("2026-10-24 19:30", ZONE)).toBe("2026-10-24T17:30:00.000Z");
    expect(readStamp("2026-10-25 19:30", ZONE)).toBe("2026-10-25T18:30:00.000Z");
    expect(readStamp("2026-10-25T01:59", ZONE)).toBe("2026-10-24T23:59:00.000Z");
    expect(readStamp("2026-10-25 03:00", ZONE)).toBe("2026-10-25T02:00:00.000Z");
  });
  it("is right where the clocks change by half an hour, and far from Greenwich", () => {
    expect(readStamp("2026-04-05 01:45", "Australia/Lord_Howe")).toBe("2026-04-04T14:45:00.000Z");
    expect(readStamp("2026-12-31 23:30", "Pacific/Kiritimati")).toBe("2026-12-31T09:30:00.000Z");
  });
  it("is refused where there is no such date or time", () => {
    for (const text of [
      "2026-02-30 10:00",
      "2026-13-01 10:00",
      "2026-01-01 24:00",
      "2026-01-01 10:60",
      "tomorrow",
      "",
    ])
      expect(readStamp(text, ZONE), text).toBeNull();
  });
});
