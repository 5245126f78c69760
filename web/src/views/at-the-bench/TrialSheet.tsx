/** A trial before the step: what is to be learned, on which scrap, what counts as a pass; its result decides. */
import { useState } from "react";
import type { Entry, Pack, StepCard } from "../../api/client";
import { useTrials } from "../../parts/LastTime";
import { Sheet } from "../../parts/Panel";
import { Typed } from "../../parts/Field";

type Trial = NonNullable<Entry["trial"]>;

export function TrialSheet(p: {
  step: StepCard;
  aims: Pack["aims"];
  onKeep: (trial: Trial, note: string) => void;
  onClose: () => void;
}) {
  const { step } = p;
  const { data } = useTrials(step.material ?? undefined, step.technique);
  const [aim, setAim] = useState("");
  const [scrap, setScrap] = useState("");
  const [note, setNote] = useState("");
  const chosen = p.aims.find((a) => a.id === aim);
  const keep = (passed: boolean, decides: string) =>
    p.onKeep(
      {
        aims: [chosen!.words],
        scrap,
        pass_is: chosen!.passes,
        passed,
        decides,
        material: step.material,
        technique: step.technique,
      },
      note,
    );
  return (
    <Sheet open wide title={`Try it first: ${step.name}`} onClose={p.onClose}>
      {data?.made.length ? (
        <ul className="mb-3 text-sm" data-testid="trials-before">
          {data.made.slice(0, 3).map((t) => (
            <li key={t.at}>
              Before, in {t.build_name}: {t.trial.aims.join(", ")}{" "}
              {t.trial.passed ? "passed" : "did not pass"}
              {t.trial.decides ? `, so: ${t.trial.decides}` : ""}
              {t.trial.scrap ? ` (on ${t.trial.scrap})` : ""}
            </li>
          ))}
        </ul>
      ) : null}
      <p className="text-sm text-ink-2">What is to be learned?</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {p.aims.map((a) => (
          <button
            key={a.id}
            type="button"
            className="now-small"
            aria-pressed={a.id === aim}
            onClick={() => setAim(a.id)}
          >
            {a.words}
          </button>
        ))}
      </div>
      {chosen ? (
        <div className="mt-3 space-y-3">
          <p>{chosen.how}</p>
          <p>
            <strong>It passes if: </strong>
            {chosen.passes}
          </p>
          <div className="grid gap-3 sm:grid-cols-2">
            <Typed
              label="On which scrap"
              value={scrap}
              onType={setScrap}
              placeholder="spoon, sprue, an old hull"
            />
            <Typed label="Note" value={note} onType={setNote} />
          </div>
          <div className="flex flex-wrap gap-2">
            <button type="button" className="now-big" onClick={() => keep(true, "go")}>
              It passed: go
            </button>
            {chosen.otherwise.map((w) => (
              <button key={w} type="button" className="now-small" onClick={() => keep(false, w)}>
                {w}
              </button>
            ))}
          </div>
        </div>
      ) : null}
    </Sheet>
  );
}
