/** Opens what is kept on this device: theme and units. */
import { lazy, Suspense, useState } from "react";
import { useSmall } from "./useSmall";

const Settings = lazy(async () => ({ default: (await import("./Settings")).Settings }));

export function SettingsButton({ onHelp }: { onHelp?: () => void }) {
  const small = useSmall();
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="push" data-bare aria-label="Settings" onClick={() => setOpen(true)}>
        {small ? <span aria-hidden="true">⚙︎</span> : "Settings"}
      </button>
      <Suspense fallback={null}>
        {open ? <Settings open onClose={() => setOpen(false)} onHelp={onHelp} /> : null}
      </Suspense>
    </>
  );
}
