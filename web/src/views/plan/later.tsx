/** What is opened on the rack and loaded after it: the call-out and the sheets. */
import type { Assessment, Knowledge, Plan } from "../../api/client";
import type { BuildStore, Shot } from "../../api/store";
import type { Clockwork } from "../../drawing/time";
import type { AddAt } from "../../model/add";
import { Shortcuts } from "../../parts/Shortcuts";
import { AddStep } from "../../parts/AddStep";
import { BuildSheet } from "./BuildSheet";
import { OverSheet, type OverAt } from "./OverSheet";
import { ParkSheet } from "./ParkSheet";
import { Versions } from "./Versions";

export { CallOut, Inspector } from "./Inspector";

export type SheetName = "park" | "versions" | "about" | "help";

export function Sheets(p: {
  store: BuildStore;
  shot: Shot;
  known: Knowledge;
  plan: Plan;
  a: Assessment;
  clock: Clockwork;
  minute: number;
  adding: AddAt | null;
  onAdding: (at: AddAt | null) => void;
  onAdded: (step: string, zone: string) => void;
  over: OverAt | null;
  onOver: (at: OverAt | null) => void;
  open: SheetName | null;
  onClose: () => void;
}) {
  const build = p.shot.build!;
  return (
    <>
      <AddStep
        known={p.known}
        plan={p.plan}
        assessment={p.a}
        at={p.adding}
        store={p.store}
        onClose={() => p.onAdding(null)}
        onAdded={p.onAdded}
      />
      <OverSheet
        key={`${p.over?.zone}~${p.over?.step}`}
        at={p.over}
        build={build.id}
        revision={build.revision}
        plan={p.plan}
        clock={p.clock}
        onClose={() => p.onOver(null)}
      />
      <ParkSheet
        open={p.open === "park"}
        build={build.id}
        revision={build.revision}
        plan={p.plan}
        clock={p.clock}
        minute={p.minute}
        onClose={p.onClose}
      />
      <Versions
        open={p.open === "versions"}
        store={p.store}
        build={build}
        clock={p.clock}
        onClose={p.onClose}
      />
      <BuildSheet
        open={p.open === "about"}
        plan={build.plan}
        known={p.known}
        store={p.store}
        onClose={p.onClose}
      />
      <Shortcuts open={p.open === "help"} onClose={p.onClose} />
    </>
  );
}
