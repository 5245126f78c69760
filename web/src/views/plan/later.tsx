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
  parking: boolean;
  onParking: (open: boolean) => void;
  versions: boolean;
  onVersions: (open: boolean) => void;
  about: boolean;
  onAbout: (open: boolean) => void;
  help: boolean;
  onHelp: (open: boolean) => void;
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
        open={p.parking}
        build={build.id}
        revision={build.revision}
        plan={p.plan}
        clock={p.clock}
        minute={p.minute}
        onClose={() => p.onParking(false)}
      />
      <Versions
        open={p.versions}
        store={p.store}
        build={build}
        clock={p.clock}
        onClose={() => p.onVersions(false)}
      />
      <BuildSheet
        open={p.about}
        plan={build.plan}
        known={p.known}
        store={p.store}
        onClose={() => p.onAbout(false)}
      />
      <Shortcuts open={p.help} onClose={() => p.onHelp(false)} />
    </>
  );
}
