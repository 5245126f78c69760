/** What a newcomer reads first: what a column and a crack are, and where to begin. */
import { useState } from "react";
import { LineSample } from "../../drawing/Line";
import { Push } from "../../parts/Push";

const KEY = "emvar-welcomed";

export function Welcome() {
  const [read, setRead] = useState(() => localStorage.getItem(KEY) === "yes");
  if (read) return null;
  return (
    <section className="mb-3 rounded bg-paper-2 p-3 text-sm" aria-label="To begin with" data-testid="welcome">
      <p>
        <strong>Each column is a zone of the model</strong>, cut through its coats: the bare material at the
        foot, the newest coat on top, what is still to come dashed.
      </p>
      <p className="mt-1.5 flex items-start gap-2">
        <LineSample verdict="clash" width={34} />
        <span>
          <strong>A crack</strong> is a seam that fails: the upper coat ruins the lower.
        </span>
      </p>
      <p className="flex items-start gap-2">
        <LineSample verdict="wait" width={34} />
        <span>
          <strong>Dashes</strong> wait: right, but too early.
        </span>
      </p>
      <p className="mt-1.5">
        Begin with the first line below: it opens the seam, says why, and offers ways out to try. The clock at
        the foot can be dragged; it only reads.
      </p>
      <Push
        className="mt-2"
        onClick={() => {
          localStorage.setItem(KEY, "yes");
          setRead(true);
        }}
      >
        OK, I have read this
      </Push>
    </section>
  );
}
