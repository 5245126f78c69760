/** A step that was not planned, added where one stands: the same way in as on the rack. */
import { useEffect } from "react";
import type { StepCard } from "../../api/client";
import { storeOf, useShot } from "../../api/store";
import { useShipped } from "../../parts/BuildDoor";
import { AddStep } from "../../parts/AddStep";

export function Spot(p: { build: string; after: StepCard | null; onClose: () => void }) {
  const store = storeOf(p.build);
  const shot = useShot(store);
  const known = useShipped();
  useEffect(() => {
    void store.load();
  }, [store]);
  const build = shot.build;
  if (!build || !known) return null;
  const zone = p.after?.zones[0] ?? build.plan.zones[0]!.id;
  const column = (build.plan.steps ?? []).filter((s) => s.zones.includes(zone));
  const at = column.findIndex((s) => s.id === p.after?.id);
  return (
    <AddStep
      known={known}
      plan={build.plan}
      assessment={build.assessment}
      at={{ zone, after: at > 0 ? column[at - 1]!.id : at === 0 ? null : (column.at(-1)?.id ?? null) }}
      store={store}
      onClose={p.onClose}
      onAdded={p.onClose}
    />
  );
}
