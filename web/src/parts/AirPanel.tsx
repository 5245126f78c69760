import { Popover } from "radix-ui";
import type { Air, BenchAir } from "../api/client";
import type { BuildStore } from "../api/store";
import { temperatureUnit } from "../drawing/units";
import { AirButton } from "./AirButton";
import { Check, Choice, NumberField, TextField } from "./Field";

const MOVES = [
  { value: "still", label: "still" },
  { value: "draught", label: "a draught" },
  { value: "fan", label: "a fan" },
];

const COOLER_AT_NIGHT = 4; // °C, to begin with

/** Bench air by day and, if it differs, by night. Every seam and window answers to it. */
export function AirPanel({ air, store, open }: { air: BenchAir; store: BuildStore; open: boolean }) {
  const day = air.day ?? {};
  const warm = temperatureUnit();
  const set = (label: string, change: (now: BenchAir) => BenchAir) =>
    store.edit(label, (plan) => [{ edit: "set_air", air: change(plan.air ?? {}) }]);
  const setOne = (which: "day" | "night", part: Partial<Air>) =>
    set(`Air by ${which}`, (now) => ({ ...now, [which]: { ...now[which], ...part } }));
  const fields = (which: "day" | "night", now: Air) => (
    <div className="grid grid-cols-3 gap-2">
      <NumberField
        label="Temperature"
        unit={warm.unit}
        value={warm.to(now.temp_c ?? 20)}
        onTake={(v) => setOne(which, { temp_c: Math.round(warm.from(v) * 10) / 10 })}
      />
      <NumberField
        label="Humidity"
        unit="%"
        value={now.rh_pct ?? 50}
        onTake={(v) => setOne(which, { rh_pct: v })}
      />
      <Choice
        label="Air"
        value={now.movement ?? "still"}
        options={MOVES}
        onTake={(v) => void setOne(which, { movement: v as Air["movement"] })}
      />
    </div>
  );
  return (
    <Popover.Root defaultOpen={open}>
      <Popover.Trigger asChild>
        <AirButton air={air} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          aria-label="Bench air"
          sideOffset={6}
          collisionPadding={8}
          className="z-30 w-96 max-w-[96vw] space-y-3 rounded-md border border-line bg-paper p-4 text-ink shadow-xl"
        >
          <h2 className="font-semibold">Bench air</h2>
          {fields("day", day)}
          <Check
            label="It is different at night"
            on={!!air.night}
            onTake={(on) =>
              void set("Night air", (now) => ({
                ...now,
                night: on ? { ...now.day, temp_c: (now.day?.temp_c ?? 20) - COOLER_AT_NIGHT } : null,
              }))
            }
          />
          {air.night ? (
            <>
              {fields("night", air.night)}
              <div className="grid grid-cols-2 gap-2">
                <TextField
                  label="From"
                  value={air.night_from ?? "22:00"}
                  onTake={(t) => set("Night from", (now) => ({ ...now, night_from: t }))}
                />
                <TextField
                  label="To"
                  value={air.night_to ?? "07:00"}
                  onTake={(t) => set("Night to", (now) => ({ ...now, night_to: t }))}
                />
              </div>
            </>
          ) : null}
          {(air.spans ?? []).length ? (
            <p className="text-xs text-ink-2">
              {air.spans!.length} dated spans from the plan file also count.
            </p>
          ) : null}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
