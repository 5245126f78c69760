/** What the textures and the lines of the rack mean, in one line at its foot. */
import { LineSample } from "../../drawing/Line";
import { useWords } from "../../parts/BuildDoor";

const STATES = ["wet", "workable", "soft", "firm"] as const;
const LINES = [
  ["clash", "clash"],
  ["wait", "wait"],
  ["caution", "caution"],
] as const;

export function RackKey() {
  const words = useWords();
  return (
    <p
      className="flex flex-wrap items-center gap-x-3 px-4 pb-1 text-xs text-ink-2"
      aria-label="Key of the drawing"
      data-testid="rack-key"
    >
      {LINES.map(([verdict, word]) => (
        <span key={verdict} className="inline-flex items-center gap-1">
          <LineSample verdict={verdict} width={22} /> {word}
        </span>
      ))}
      {STATES.map((state) => (
        <span key={state} className="inline-flex items-center gap-1">
          <span className="key-state" aria-hidden="true">
            <span className="state" data-state={state} />
          </span>
          {words.film(state)}
        </span>
      ))}
      <span className="inline-flex items-center gap-1">
        <span className="key-state" data-come="yes" aria-hidden="true" /> to come
      </span>
    </p>
  );
}
