/** By which clock a build is looked at: one switch, the same in every view, kept with the build. */
import { RadioGroup } from "radix-ui";
import type { BuildOut } from "../api/client";
import type { BuildStore } from "../api/store";

const SIDES = [
  { clock: "plan", words: "As soon as it is safe" },
  { clock: "schedule", words: "By my sittings" },
] as const;

export function ClockSwitch(p: { store: BuildStore; chosen: BuildOut["clock"]; scheduled: boolean }) {
  return (
    <RadioGroup.Root
      aria-label="Clock"
      orientation="horizontal"
      value={p.chosen}
      onValueChange={(clock) => void p.store.turn(clock as BuildOut["clock"])}
      className="inline-flex shrink-0 overflow-hidden rounded border border-line no-print"
      data-testid="clock-switch"
    >
      {SIDES.map((side) => {
        const on = p.chosen === side.clock;
        const planned = side.clock === "plan" || p.scheduled;
        return (
          <RadioGroup.Item
            key={side.clock}
            value={side.clock}
            className={`min-h-7 px-2 text-xs ${on ? "bg-paper font-semibold" : "text-ink-2 hover:bg-surround"}`}
            title={planned ? undefined : "No sittings are planned yet: until then, as soon as it is safe"}
          >
            {side.words}
            {on && !planned ? " (none planned yet)" : ""}
          </RadioGroup.Item>
        );
      })}
    </RadioGroup.Root>
  );
}
