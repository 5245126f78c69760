/** The step that is now, in words and figures; what can be done meanwhile; what else can be said of it. */
import { Link } from "react-router";
import type { Entry, StepCard } from "../../api/client";
import { told } from "../../drawing/units";
import { stateOf, type Happened, type Next } from "../../model/timers";
import { figureText, left, MIN, type Wall } from "./words";
import type { useSignalSettings } from "./useSignals";

/** Zones of a step that are not done yet. */
export function openZones(h: Happened, step: StepCard): string[] {
  return step.zones.filter((z) => !["done", "skipped"].includes(h.state.get(`${step.id}~${z}`)?.state ?? ""));
}

export function StepAtHand(p: {
  step: StepCard;
  here: Next;
  state: string;
  now: number;
  wall: Wall;
  h: Happened;
  onSay: (part: Partial<Entry> & Pick<Entry, "said">, words: string) => void;
}) {
  const { step, here, now } = p;
  const age = [...step.zones].map((z) => p.h.state.get(`${step.id}~${z}`)).find((s) => s?.state === "begun");
  const off = step.takes_off.filter((t) => t.from_min <= (age ? (now - age.at) / MIN : 0)).at(-1);
  const counted = p.h.sections.get(step.id) ?? 0;
  const open = openZones(p.h, step);
  const sprayed = step.figures.some((f) => f.kind === "kpa");
  return (
    <>
      <h1>
        {step.verb}: {step.name}
      </h1>
      <p className="text-ink-2">
        {step.zone_names.join(", ")}
        {p.state === "begun" && age ? ` · begun ${p.wall(age.began)}` : ""}
        {p.state === "paused" ? " · paused" : ""}
        {p.state === "wrong" ? " · to be done anew" : ""}
      </p>
      {here.opensAt > now && p.state === "todo" ? (
        <p className="mt-2 font-semibold" data-testid="not-yet">
          Too early: from {p.wall(here.opensAt)}, in {left(here.opensAt - now)}
        </p>
      ) : null}
      <div className="now-figures" data-testid="figures">
        {step.figures.map((f, i) => (
          <div key={i} className="now-figure">
            <b>{figureText(f)}</b>
            <span>{f.words}</span>
          </div>
        ))}
      </div>
      <p className="now-safe" data-testid="safety">
        {told(
          firstSentence(step.cautions[0] ?? "Air the room; gloves; lids on. The data sheet comes first."),
        )}
      </p>
      {step.mix.length ? (
        <p className="now-pours" data-testid="pours">
          {step.mix.map((m) => (
            <span key={m.material} className="whitespace-nowrap">
              <span className="swatch" style={{ background: m.colour ?? "var(--paper)" }} />
              {m.name}{" "}
              {m.drops === null ? `${m.ml.toFixed(1)} mL` : m.drops === 1 ? "1 drop" : `${m.drops} drops`}
            </span>
          ))}
        </p>
      ) : null}
      {step.sections > 1 && p.state === "begun" ? (
        <div className="now-row mt-3 items-center">
          <button
            type="button"
            className="now-big"
            disabled={counted >= step.sections}
            onClick={() =>
              p.onSay(
                { said: "section", zones: step.zones, section: counted + 1, sections: step.sections },
                `Section ${counted + 1} of ${step.sections}`,
              )
            }
          >
            Section {Math.min(counted + 1, step.sections)} of {step.sections} is done
          </button>
        </div>
      ) : null}
      {open.length > 1 && p.state === "begun" ? (
        <div className="now-row mt-3" aria-label="Zone by zone">
          {open.map((z) => (
            <button
              key={z}
              type="button"
              className="now-small"
              onClick={() =>
                p.onSay(
                  { said: "done", zones: [z] },
                  `${step.name}: ${step.zone_names[step.zones.indexOf(z)]} is done`,
                )
              }
            >
              {step.zone_names[step.zones.indexOf(z)]} is done
            </button>
          ))}
        </div>
      ) : null}
      <div className="now-lines">
        {step.lines.length ? (
          <section>
            <h2>{sprayed ? "How" : "With"}</h2>
            {step.lines.map((line) => (
              <p key={line}>{told(line)}</p>
            ))}
          </section>
        ) : null}
        <Line head="Before you start" text={step.before} />
        <Line head="Look for" text={step.look} />
        <Line head="Trap" text={step.traps[0] ?? ""} />
        <Line head="Takes it off now" text={off?.sentence ?? ""} />
        {step.clash ? <Line head="The plan warns" text={step.clash} /> : null}
        <Line head="And" text={[rest(step.cautions[0] ?? ""), ...step.cautions.slice(1)].join(" ").trim()} />
        {step.traps.length > 1 ? <Line head="More traps" text={step.traps.slice(1).join("; ")} /> : null}
      </div>
    </>
  );
}

/** What stays in sight is short; the rest of it stands below. */
const SHORT = 120;
function cut(text: string): string {
  const sentence = /^[^.]*\./.exec(text)?.[0] ?? text;
  const colon = sentence.indexOf(":");
  return sentence.length > SHORT && colon > 40 ? sentence.slice(0, colon + 1) : sentence;
}
const firstSentence = (text: string) => cut(text).replace(/:$/, ".");
const rest = (text: string) => text.slice(cut(text).length).trim();

function Line({ head, text }: { head: string; text: string }) {
  if (!text) return null;
  return (
    <section>
      <h2>{head}</h2>
      <p>{told(text)}</p>
    </section>
  );
}

export function Meanwhile(p: { list: Next[]; here: Next; now: number; onGo: (step: string) => void }) {
  if (p.here.opensAt <= p.now) return null;
  return (
    <div data-testid="meanwhile">
      <h2 className="mt-5">Meanwhile</h2>
      {p.list.length ? (
        <div className="mt-1 grid gap-2">
          {p.list.slice(0, 3).map((n) => (
            <button
              key={n.step.id}
              type="button"
              className="now-small text-left"
              onClick={() => p.onGo(n.step.id)}
            >
              {n.step.name}, {left(n.step.minutes * MIN)}
            </button>
          ))}
        </div>
      ) : (
        <p className="text-xl">Clean the airbrush, rinse brushes, look at the references, take a picture.</p>
      )}
    </div>
  );
}

export function More(p: {
  build: string;
  step: StepCard | null;
  h: Happened;
  away: boolean;
  signals: ReturnType<typeof useSignalSettings>[0];
  awake: boolean;
  onSignals: ReturnType<typeof useSignalSettings>[1];
  onSay: (part: Partial<Entry> & Pick<Entry, "said">, words: string) => void;
  onSpot: () => void;
  onTrial: () => void;
  onOtherwise: () => void;
}) {
  const { step } = p;
  const state = step ? stateOf(p.h, step) : "done";
  const { last } = p.h;
  return (
    <div className="now-row my-2" data-testid="more">
      {step && state === "begun" ? (
        <button
          type="button"
          className="now-small"
          onClick={() => p.onSay({ said: "paused", zones: step.zones }, `${step.name}: paused`)}
        >
          Pause
        </button>
      ) : null}
      {step && state === "todo" ? (
        <button
          type="button"
          className="now-small"
          onClick={() => p.onSay({ said: "done" }, `${step.name}: done already`)}
        >
          Done already
        </button>
      ) : null}
      {step ? (
        <button
          type="button"
          className="now-small"
          onClick={() => p.onSay({ said: "skipped" }, `${step.name}: skipped`)}
        >
          Skip it
        </button>
      ) : null}
      {last?.step && last.said === "done" ? (
        <button
          type="button"
          className="now-small"
          onClick={() =>
            p.onSay(
              { said: "again", step: last.step!, name: last.name ?? "", zones: last.zones ?? [] },
              `${last.name}: to be done again`,
            )
          }
        >
          Do “{last.name}” again
        </button>
      ) : null}
      <button type="button" className="now-small" disabled={!step} onClick={p.onOtherwise}>
        Note, picture, figures
      </button>
      {step?.kind === "coat" ? (
        <button type="button" className="now-small" onClick={p.onTrial}>
          Try it on scrap
        </button>
      ) : null}
      <button type="button" className="now-small" disabled={p.away} onClick={p.onSpot}>
        Add a step here
      </button>
      {(
        [
          ["sound", "Sound"],
          ["shake", "Vibration"],
          ["awake", p.awake ? "Screen stays awake" : "Screen awake: not in this browser"],
        ] as const
      ).map(([key, words]) => (
        <button
          key={key}
          type="button"
          className="now-small"
          aria-pressed={p.signals[key]}
          disabled={key === "awake" && !p.awake}
          onClick={() => p.onSignals({ [key]: !p.signals[key] })}
        >
          {words}
          {p.signals[key] && !(key === "awake" && !p.awake) ? " ✓" : ""}
        </button>
      ))}
      <Link className="now-small inline-flex items-center" to={`/build/${p.build}/log`}>
        Logbook
      </Link>
    </div>
  );
}
