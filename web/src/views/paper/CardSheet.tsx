/** A bench card: one coat on one sheet. */
import type { Assessment, Card, CoatStep, Plan, Seam } from "../../api/client";
import { zoneNames } from "../../model/zones";
import { LineSample } from "../../drawing/Line";
import { span, type Clockwork } from "../../drawing/time";
import { areaWords, distance, pressure, sensible, told, volume } from "../../drawing/units";
import { handFigures } from "../../model/hand";
import { useWords } from "../../parts/BuildDoor";
import { Cautions, Page, Pours, Swatch, Tick } from "./sheet";

export function CardSheet(p: { plan: Plan; step: CoatStep; card: Card; a: Assessment; clock: Clockwork }) {
  const { plan, step, card, a, clock } = p;
  const words = useWords();
  const coat = a.coats[`${step.id}~${step.zones[0]}`];
  const times = a.times[step.id];
  const seams = Object.values(a.seams).filter(
    (s) => (s.upper_step === step.id || s.lower_step === step.id) && s.verdict !== "sound",
  );
  const once = new Map<string, Seam>();
  for (const s of seams) once.set(`${s.upper_step}~${s.lower_step}~${s.word}`, s);
  const name = (id: string | null) => plan.steps?.find((s) => s.id === id)?.name ?? "the base material";
  const zones = plan.zones.filter((z) => step.zones.includes(z.id));
  const t = card.thickness;
  return (
    <Page title={step.name} beside={`${plan.build.name} · ${zoneNames(plan, step.zones)}`}>
      <Cautions all={a.notes.filter((n) => n.step_id === step.id).map((n) => n.text)} />
      <section className="paper-three">
        <div>
          <Swatch colour={coat?.colour} />
          <p>{card.mixed ? card.ratio : "as it comes"}</p>
        </div>
        {card.point ? (
          <>
            <div>
              <strong>{pressure(card.point.pressure_kpa)}</strong>
              <p>trigger open{card.gun ? `, ${card.gun.name}` : ""}</p>
            </div>
            <div>
              <strong>{distance(card.point.distance_mm)}</strong>
              <p>from the part, {distance(card.speed_mm_s)} a second</p>
            </div>
          </>
        ) : (
          <div>
            <strong>{words.method(card.method)}</strong>
            <p>{card.hand ? handFigures(card.hand) : ""}</p>
          </div>
        )}
      </section>
      <div className="paper-two">
        {card.mixed ? (
          <section>
            <h3>Mix</h3>
            <Pours card={card} colour={coat?.colour} />
            {card.cup && card.cup.landed_ml > 0 ? (
              <p>
                {volume(card.cup.total_ml)} in all, for {areaWords(zones.map((z) => z.area_cm2))}.
              </p>
            ) : null}
            {t ? (
              <p>
                {sensible(t.mm2_s)} mm²/s, like {t.like}
                {t.ready && t.ready !== "ready" ? <strong>: too {t.ready} to spray</strong> : ""}.
              </p>
            ) : null}
            {card.pot_life ? <p className="font-semibold">{told(card.pot_life)}</p> : null}
            {card.correction ? <p>{told(card.correction)}</p> : null}
          </section>
        ) : null}
        <section>
          <h3>Lay</h3>
          <p>{card.laying ? card.laying.words : told(card.how)}</p>
          <p>{told(card.film_words) || `${sensible(card.film_um)} µm dry`}</p>
          {card.best ? (
            <p>
              Best{" "}
              {told(
                `${(card.best.pressure_range_kpa[0]! / 100).toFixed(1)}–${(card.best.pressure_range_kpa[1]! / 100).toFixed(1)} bar, ${(card.best.distance_range_mm[0]! / 10).toFixed(0)}–${(card.best.distance_range_mm[1]! / 10).toFixed(0)} cm`,
              )}
              .
            </p>
          ) : null}
          {card.split ? <p>{told(card.split)}</p> : null}
          {card.tonight.map((line) => (
            <p key={line}>{told(line)}</p>
          ))}
        </section>
      </div>
      <section>
        <h3>When</h3>
        {times ? (
          <p>
            <Tick /> {clock.long(times.start_min)} to {clock.time(times.end_min)},{" "}
            {span(step.hands_on_min ?? 10)} at the bench
          </p>
        ) : null}
        {coat ? (
          <table className="paper-table">
            <thead>
              <tr>
                <th>After laying</th>
                <th>at the earliest</th>
                <th>likely</th>
                <th>for certain</th>
              </tr>
            </thead>
            <tbody>
              {words.hardening
                .filter((e) => coat.events[e.id]?.best != null)
                .map((e) => (
                  <tr key={e.id}>
                    <td>{e.words}</td>
                    {(["early", "best", "late"] as const).map((edge) => (
                      <td key={edge}>
                        {coat.events[e.id]![edge] != null ? clock.long(coat.events[e.id]![edge]!) : "–"}
                      </td>
                    ))}
                  </tr>
                ))}
              {coat.windows.map((w) => (
                <tr key={w.action}>
                  <td>{words.action(w.action)}: opens, closes</td>
                  <td>{w.opens.late != null ? `from ${clock.long(w.opens.late)}` : "–"}</td>
                  <td />
                  <td>{w.closes.early != null ? `until ${clock.long(w.closes.early)}` : "stays open"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : null}
      </section>
      {once.size ? (
        <section>
          <h3>Seams</h3>
          <ul>
            {[...once.values()].map((s) => (
              <li key={s.id} className="flex items-start gap-2">
                <LineSample verdict={s.verdict} />
                <span>
                  <strong>
                    {s.upper_step === step.id ? `on ${name(s.lower_step)}` : `under ${name(s.upper_step)}`}:{" "}
                    {s.word}.
                  </strong>{" "}
                  {told(s.sentence)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {step.note ? (
        <section>
          <h3>Note</h3>
          <p>{step.note}</p>
        </section>
      ) : null}
    </Page>
  );
}
