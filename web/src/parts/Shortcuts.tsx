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
  ["Ctrl P", "the sheets of this view, to print"],
  ["?", "this list"],
];

export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet open={open} onClose={onClose} title="Help and keys">
      <p className="mb-3 text-sm">
        A coat is drawn 19 px high and some pixels more for the square root of its film in µm, so that 2 µm
        show beside 60; the tallest core fills the height. Where even that has no room, the coats round the
        chosen one are opened and the others pressed together.
      </p>
      <dl className="grid grid-cols-[minmax(6rem,12rem)_1fr] gap-x-3 gap-y-2 text-sm">
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
