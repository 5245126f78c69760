import { Sheet } from "./Panel";

const KEYS: [string, string][] = [
  ["A", "lay a coat or add work, over what is chosen"],
  ["N", "to the next clash, wait or caution"],
  ["↑ ↓ ← →", "from coat to coat, from core to core"],
  ["Alt ↑ ↓", "move the chosen step up or down its core"],
  ["Enter", "edit the chosen step"],
  ["Delete", "remove the chosen step, and the work that acts on it"],
  ["Ctrl Z · Ctrl Shift Z", "undo · redo"],
  ["Esc", "let go of what is chosen; in a field, put back what was there"],
  ["on the clock: ← →", "10 minutes; with Shift an hour; Page Up and Down a day"],
  ["on the clock: ↑ ↓", "to the next or the last event"],
  [
    "in Sittings: Alt ← →",
    "try the step, or the sitting, a quarter of an hour elsewhere; with Shift a sitting’s end",
  ],
  ["Enter · Esc", "there: keep it · put it back"],
  ["?", "this list"],
];

export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet open={open} onClose={onClose} title="Keys">
      <dl className="grid grid-cols-[12rem_1fr] gap-y-2 text-sm">
        {KEYS.map(([key, words]) => (
          <div key={key} className="contents">
            <dt className="font-semibold">{key}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}
