/** A value once it has stood still for a moment: what is asked for by it is not asked at every step of a drag. */
import { useEffect, useState } from "react";

export function useSettled<T>(value: T, ms = 140): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
