/** False until what was drawn first is on the screen: what is only opened later is loaded after it. */
import { useEffect, useState } from "react";

export function useLater(when = true): boolean {
  const [later, setLater] = useState(false);
  useEffect(() => {
    if (!when) return;
    let soon: ReturnType<typeof setTimeout> | undefined;
    // A timer after a frame: past the painting of that frame. A page that is not looked at draws none.
    const frame = requestAnimationFrame(() => {
      soon = setTimeout(() => setLater(true), 0);
    });
    const anyhow = setTimeout(() => setLater(true), 500);
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(soon);
      clearTimeout(anyhow);
    };
  }, [when]);
  return later;
}
