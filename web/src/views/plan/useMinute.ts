/** Where the clock of a build stands: one time for all its views, kept in the browser. */
import { useCallback, useState } from "react";

export function useMinute(key: string, start: number): [number, (m: number) => void] {
  const [minute, setMinute] = useState(() => {
    const kept = Number(localStorage.getItem(key) ?? NaN);
    return Number.isFinite(kept) ? kept : start;
  });
  const keep = useCallback(
    (m: number) => {
      setMinute(m);
      localStorage.setItem(key, String(m));
    },
    [key],
  );
  return [minute, keep];
}

/** Whose times the plan's drawing and clock show: the plan's own waits, or the schedule's. */
export type Time = "plan" | "schedule";
const timeKey = (build: string) => `emvar-time-${build}`;
export const timeOf = (build: string): Time =>
  localStorage.getItem(timeKey(build)) === "schedule" ? "schedule" : "plan";
export const keepTime = (build: string, time: Time) => localStorage.setItem(timeKey(build), time);
