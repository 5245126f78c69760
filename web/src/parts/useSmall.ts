/** Whether there is room for a call-out in the rack and for drawings side by side; else things stand below each other. */
import { useSyncExternalStore } from "react";

const NARROW = matchMedia("(max-width: 899.9px)");
const listen = (heard: () => void) => {
  NARROW.addEventListener("change", heard);
  return () => NARROW.removeEventListener("change", heard);
};

export const useSmall = () => useSyncExternalStore(listen, () => NARROW.matches);
