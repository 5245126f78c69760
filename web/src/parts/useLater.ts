/** False until what was drawn first is on the screen: what is only opened later is loaded after it. */
import { useEffect, useState } from "react";

export function useLater(when = true): boolean {
  const [later, setLater] = useState(false);
  useEffect(() => {
    if (!when) return;
    // A timer after a frame: past the painting of that frame.
    const frame = requestAnimationFrame(() => setTimeout(() => setLater(true), 0));
    return () => cancelAnimationFrame(frame);
  }, [when]);
  return later;
}
