/** Opens what is kept on this device: theme and units. */
import { lazy, Suspense, useState } from "react";
import { useSmall } from "./useSmall";
import { Push } from "./Push";

const Settings = lazy(async () => ({ default: (await import("./Settings")).Settings }));

export function SettingsButton({ onHelp }: { onHelp?: () => void }) {
  const small = useSmall();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Push data-bare aria-label="Settings" onClick={() => setOpen(true)}>
        {small ? <span aria-hidden="true">⚙︎</span> : "Settings"}
      </Push>
      <Suspense fallback={null}>
        {open ? <Settings open onClose={() => setOpen(false)} onHelp={onHelp} /> : null}
      </Suspense>
    </>
  );
}
