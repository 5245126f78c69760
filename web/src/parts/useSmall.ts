/** Whether the screen is too narrow for several cores side by side, or wide enough for a column beside what fills it. */
import { useSyncExternalStore } from "react";

function watch(query: string) {
  const media = window.matchMedia(query);
  const subscribe = (f: () => void) => {
    media.addEventListener("change", f);
    return () => media.removeEventListener("change", f);
  };
  return { subscribe, matches: () => media.matches };
}

const small = watch("(max-width: 899.9px)");
const wide = watch("(min-width: 1100px)");
export const useSmall = () => useSyncExternalStore(small.subscribe, small.matches);
export const useWide = () => useSyncExternalStore(wide.subscribe, wide.matches);
