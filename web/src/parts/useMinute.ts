/** Where the clock of a build stands: one time for all its views, kept in the browser. */
import { createContext, useCallback, useContext, useState } from "react";

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

/** Whose times the plan's views show: the plan's own waits, or, where there is one, the schedule's. */
export type Time = "plan" | "schedule";
/** The times that the view shows right now, for whatever asks the server about an instant. */
export const Times = createContext<Time>("plan");
export const useTimes = () => useContext(Times);
