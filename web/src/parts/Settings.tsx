/** How this device shows things: the theme, and the units that one likes. */
import { useState, useSyncExternalStore } from "react";
import { RadioGroup } from "radix-ui";
import { CHOICES, drawAnew, onUnits, setUnits, units, type Units } from "../drawing/units";
import { Sheet } from "./Panel";
import { setTheme, theme, onTheme } from "./theme";
import { Push } from "./Push";

const THEMES = [
  { value: "light", words: "Bench, by day" },
  { value: "dark", words: "Evening" },
] as const;
const HOURS: Record<string, string> = { "24": "20:30", "12": "8:30 pm" };

export function Settings(p: { open: boolean; onClose: () => void; onHelp?: () => void }) {
  const now = useSyncExternalStore(onUnits, units);
  const [before] = useState(now);
  const close = () => {
    p.onClose();
    if (units() !== before) drawAnew();
  };
  const light = useSyncExternalStore(onTheme, theme);
  return (
    <Sheet open={p.open} title="Settings" onClose={close}>
      <div className="space-y-3">
        <Sides
          words="Theme"
          value={light}
          of={THEMES.map((t) => ({ value: t.value, words: t.words }))}
          onTake={(v) => setTheme(v as "light" | "dark")}
        />
        {(Object.keys(CHOICES) as (keyof Units)[]).map((key) => (
          <Sides
            key={key}
            words={CHOICES[key].words}
            value={now[key]}
            of={CHOICES[key].of.map((v) => ({ value: v, words: HOURS[v] ?? v }))}
            onTake={(v) => setUnits({ [key]: v } as Partial<Units>)}
          />
        ))}
        <p className="text-xs text-ink-2">
          Kept on this device. Every view, sheet and print goes by it; files keep the units in their field
          names.
        </p>
        {p.onHelp ? (
          <Push
            onClick={() => {
              p.onClose();
              p.onHelp?.();
            }}
          >
            Help and keys
          </Push>
        ) : null}
      </div>
    </Sheet>
  );
}

/** One of a few, side by side: the one idiom for a switch. */
function Sides(p: {
  words: string;
  value: string;
  of: { value: string; words: string }[];
  onTake: (value: string) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <span className="w-28 text-sm">{p.words}</span>
      <RadioGroup.Root
        aria-label={p.words}
        orientation="horizontal"
        value={p.value}
        onValueChange={p.onTake}
        className="inline-flex overflow-hidden rounded border border-line"
      >
        {p.of.map((o) => (
          <RadioGroup.Item
            key={o.value}
            value={o.value}
            className={`min-h-8 px-3 text-sm ${o.value === p.value ? "bg-ink text-paper" : "hover:bg-paper-2"}`}
          >
            {o.words}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
