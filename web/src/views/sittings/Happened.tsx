/** What really happened with a step: done, failed or skipped, when, and a note. */
import { useState } from "react";
import type { Plan, Shown } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { localStamp, readStamp } from "../../drawing/stamp";
import type { Clockwork } from "../../drawing/time";
import { Check, Choice, Typed } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import type { Sittings } from "./useSittings";
import { Push } from "../../parts/Push";

const STATES = [
  { value: "done", label: "done" },
  { value: "begun", label: "begun, not finished" },
  { value: "failed", label: "failed and off again: still to be done" },
  { value: "skipped", label: "skipped: left out of the plan" },
];

export function Happened(p: {
  step: string | null;
  plan: Plan;
  shown: Shown;
  clock: Clockwork;
  sittings: Sittings;
  store: BuildStore;
  onClose: () => void;
}) {
  const { plan, shown, clock } = p;
  const zone = plan.build.timezone ?? "UTC";
  const step = plan.steps?.find((s) => s.id === p.step);
  const t = p.step ? shown.view.assessment.times[p.step] : undefined;
  const local = (m: number) => localStamp(clock.date(m).toISOString(), zone).replace(" ", "T");
  const [state, setState] = useState("done");
  const [from, setFrom] = useState(t ? local(t.start_min) : "");
  const [to, setTo] = useState(t ? local(t.end_min) : "");
  const [note, setNote] = useState("");
  const [zones, setZones] = useState<string[]>(step?.zones ?? []);
  const [why, setWhy] = useState("");
  if (!step || !t) return null;
  const save = async () => {
    const [start, end] = [readStamp(from, zone), readStamp(to, zone)];
    if (start === null || end === null) {
      setWhy("Enter a date and a time for both.");
      return;
    }
    if (end < start) {
      setWhy("The end must not be before the start.");
      return;
    }
    if (!zones.length) {
      setWhy("Choose where it happened.");
      return;
    }
    const entries = zones.map((z) => ({
      step: step.id,
      zone: z,
      state,
      starts_at: start,
      ends_at: end,
      note,
    }));
    const now = Math.max(Date.parse(end), clock.date(shown.view.now_min).getTime());
    if (await p.sittings.record(entries, new Date(now).toISOString())) {
      if (zones.length < step.zones.length) await p.store.load(); // the plan has a step more now
      p.onClose();
    } else setWhy("It was not taken; see the reason above the drawing.");
  };
  const field = (label: string, value: string, set: (v: string) => void) => (
    <Typed label={label} value={value} onType={set} type="datetime-local" />
  );
  return (
    <Sheet open title={`What happened: ${step.name}`} onClose={p.onClose}>
      <div className="grid grid-cols-2 gap-3">
        <Choice className="col-span-2" label="It was" value={state} options={STATES} onTake={setState} />
        {step.zones.length > 1 ? (
          <fieldset className="col-span-2">
            <legend className="text-xs text-ink-2">Where; what is left out gets a step of its own</legend>
            <div className="flex flex-wrap gap-x-4">
              {plan.zones
                .filter((z) => step.zones.includes(z.id))
                .map((z) => (
                  <Check
                    key={z.id}
                    className="gap-1.5"
                    label={z.name}
                    on={zones.includes(z.id)}
                    onTake={(on) => setZones(on ? [...zones, z.id] : zones.filter((x) => x !== z.id))}
                  />
                ))}
            </div>
          </fieldset>
        ) : null}
        {field("From", from, setFrom)}
        {field(state === "failed" ? "Off again at" : "Until", to, setTo)}
        <label className="col-span-2 block text-xs text-ink-2">
          Note
          <input
            className="field block w-full"
            maxLength={4000}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        </label>
      </div>
      {why ? (
        <p role="alert" className="mt-2 text-sm font-semibold">
          {why}
        </p>
      ) : null}
      <div className="mt-3 flex justify-end gap-2">
        <Push onClick={p.onClose}>Leave it</Push>
        <Push data-strong onClick={() => void save()}>
          Enter it
        </Push>
      </div>
    </Sheet>
  );
}
