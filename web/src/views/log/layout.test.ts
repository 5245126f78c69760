import { describe, expect, it } from "vitest";
import type { LogRow } from "../../api/client";
import { placed } from "./layout";

const row = (began: string, at: string, planned: string | null = null) =>
  ({
    began_at: `2026-11-26T${began}Z`,
    at: `2026-11-26T${at}Z`,
    planned_at: planned && `2026-11-26T${planned}Z`,
  }) as LogRow;

describe("a sitting drawn downwards", () => {
  it("keeps the order of time and gives each row room", () => {
    const { rows, height } = placed([
      row("19:00:00", "19:10:00"),
      row("19:11:00", "19:12:00"),
      row("21:00:00", "21:30:00"),
    ]);
    expect(rows[1]!.y - rows[0]!.y).toBeGreaterThanOrEqual(44);
    expect(rows[2]!.from).toBeGreaterThan(rows[1]!.to);
    expect(height).toBeGreaterThan(rows[2]!.y);
  });
  it("puts what was planned earlier above what happened", () => {
    const { rows } = placed([row("19:00:00", "19:10:00"), row("20:00:00", "20:10:00", "19:30:00")]);
    expect(rows[1]!.planned![0]).toBeLessThan(rows[1]!.from);
  });
});
