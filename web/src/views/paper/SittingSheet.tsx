/** One sheet a sitting: steps to tick, mixes, tool and pressure, windows with both edges, cautions first. */
import type { Card, Plan, Shown, Sitting } from "../../api/client";
import { zoneNames } from "../../model/zones";
import { span, type Clockwork } from "../../drawing/time";
import { distance, pressure, told } from "../../drawing/units";
import { useWords } from "../../parts/BuildDoor";
import { handFigures } from "../../model/hand";
import { betweenWork, howLong } from "../../model/lines";
import { Cautions, Page, Pours, Swatch, Tick } from "./sheet";

const sentence = (words: string) => (words ? `${words[0]!.toUpperCase()}${words.slice(1)}.` : "");

/** Each caution once; of those that name a figure, a flash point, the one with the lowest. */
function gravest(notes: { caution: string; text: string }[]): string[] {
  const figure = (text: string) => Number(/-?\d+/.exec(text)?.[0] ?? 0);
  const kept = new Map<string, string>();
  for (const { caution, text } of notes) {
    const old = kept.get(caution);
    if (old === undefined || figure(text) < figure(old)) kept.set(caution, text);
  }
  return [...kept.values()];
}

export function SittingSheets(p: {
  plan: Plan;
  shown: Shown;
  clock: Clockwork;
  cards: Map<string, Card>;
  hands: Record<string, string>;
  only: string | undefined;
}) {
  const used = p.shown.view.sittings.filter(
    (s) => s.lines.some((l) => l.step) && (!p.only || s.id === p.only),
  );
  if (!used.length)
    return <p className="p-8">No sittings are planned yet: plan them first, then print their sheets.</p>;
  return used.map((s) => <Sheet key={s.id} {...p} s={s} />);
}

function Sheet(p: {
  plan: Plan;
  shown: Shown;
  clock: Clockwork;
  cards: Map<string, Card>;
  hands: Record<string, string>;
  s: Sitting;
}) {
  const { plan, shown, clock, s } = p;
  const words = useWords();
  const a = shown.view.assessment;
  const steps = s.lines.flatMap((l) => (l.step ? [l.step] : []));
  const all = plan.steps ?? [];
  const cautions = gravest(a.notes.filter((n) => steps.includes(n.step_id)));
  const firm = (id: string) =>
    Object.values(a.coats)
      .find((c) => c.step_id === id)
      ?.states.find((m) => m.state === "firm" || m.state === "hard")?.from_min;
  return (
    <Page
      title={`${clock.long(s.start_min)} to ${clock.time(s.end_min)}`}
      beside={`${plan.build.name} · ${steps.length === 1 ? "1 step" : `${steps.length} steps`}, ${span(s.spare_min)} to spare`}
    >
      <Cautions all={cautions} />
      <ol className="paper-steps">
        {s.lines.map((l) => {
          if (!l.step)
            return (
              <li key={`clean${l.start_min}`} className="paper-step">
                <Tick />
                <span>{clock.time(l.start_min)}</span>
                <span className="italic">
                  {betweenWork(l)}, {span(l.end_min - l.start_min)}
                </span>
              </li>
            );
          const step = all.find((x) => x.id === l.step);
          if (!step) return null;
          const card = p.cards.get(step.id);
          const coat = a.coats[`${step.id}~${step.zones[0]}`];
          const mine = shown.view.windows.filter((w) => w.after === step.id);
          const closing = shown.view.windows.filter((w) => w.before === step.id && w.closes[0] !== null);
          return (
            <li key={step.id} className="paper-step">
              <Tick />
              <span>{clock.time(l.start_min)}</span>
              <div>
                <p>
                  {coat ? <Swatch small colour={coat.colour} /> : null} <strong>{step.name}</strong> ·{" "}
                  {zoneNames(plan, step.zones)} · {howLong(l)}
                </p>
                {card?.mixed ? <Pours card={card} colour={coat?.colour} /> : null}
                <p>
                  {step.tool && !card?.hand && step.kind !== "working" ? `${step.tool}; ` : ""}
                  {card?.point
                    ? `${words.method(card.method)}: ${pressure(card.point.pressure_kpa)}, ${distance(card.point.distance_mm)}${card.gun ? `, ${card.gun.name.toLowerCase()}` : ""}; ${card.laying?.words ?? ""}`
                    : card?.hand
                      ? told([card.how, sentence(handFigures(card.hand))].filter(Boolean).join(" "))
                      : step.kind === "fitting"
                        ? `${words.action(step.action)}.`
                        : told(p.hands[step.id] ?? "")}
                </p>
                {mine.map((w) => (
                  <p key={w.before + w.what}>
                    Not before <strong>{clock.long(w.opens[2]!)}</strong>
                    {w.closes[0] !== null ? (
                      <>
                        , not after <strong>{clock.long(w.closes[0]!)}</strong>
                      </>
                    ) : null}
                    , after “{all.find((x) => x.id === w.before)?.name}”.
                  </p>
                ))}
                {closing.map((w) => (
                  <p key={w.after + w.what}>
                    Then “{all.find((x) => x.id === w.after)?.name}”: from{" "}
                    <strong>{clock.long(w.opens[2]!)}</strong>, at the latest{" "}
                    <strong>{clock.long(w.closes[0]!)}</strong>.
                  </p>
                ))}
                {step.note ? <p className="italic">{step.note}</p> : null}
              </div>
            </li>
          );
        })}
      </ol>
      {s.live.length ? (
        <section>
          <h3>Left drying</h3>
          <ul className="paper-live">
            {s.live.map((id) => (
              <li key={id}>
                {all.find((x) => x.id === id)?.name}
                {firm(id) !== undefined ? `: firm ${clock.long(firm(id)!)}` : ""}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </Page>
  );
}
