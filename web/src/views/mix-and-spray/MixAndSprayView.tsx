/** Mix and spray: for one coat of the plan, the cup, the map over pressure and distance, the strokes, and how much. */
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type CoatStep, type Knowledge, type Seam } from "../../api/client";
import { useShot, type BuildStore } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { VERDICTS } from "../../drawing/tokens";
import { areaWords, pressure, distance, told } from "../../drawing/units";
import { AS_RECOMMENDED, asked, keptGun, type Gun } from "../../model/gun";
import { BuildDoor } from "../../parts/BuildDoor";
import { ClockSwitch } from "../../parts/ClockSwitch";
import { NumberField } from "../../parts/Field";
import { Finder } from "../../parts/Finder";
import { Refused, ViewHead, ViewsBar } from "../../parts/Head";
import { RecipeSheet } from "../../parts/RecipeSheet";
import { CupColumn, CupControls, mixOf, type Fill } from "./Cup";
import { HandWords } from "./ByHand";
import { StrokesDrawing } from "./Drawings";
import { Figures, Quantity } from "./Figures";
import { InstrumentSheet, InstrumentStrip, useInstruments } from "./Instruments";
import { KitSheet, usual } from "./KitSheet";
import { MeasureSheet } from "./MeasureSheet";
import { NeedsSheet } from "./NeedsSheet";
import { Stage, useCard } from "./Stage";
import { ToolSheet } from "./Tools";
import { Push } from "../../parts/Push";

export function MixAndSprayView() {
  const { step } = useParams();
  return (
    <BuildDoor>
      {(store, known) => <Bench key={store.id} store={store} wanted={step} known={known} />}
    </BuildDoor>
  );
}

type Hold = Gun & { thinner: { amount: number; revision: number } | null; fill: Fill; rungs: number[] };
const keptWith = (step: CoatStep): Hold => ({ ...FREE, ...keptGun(step) });

const FREE: Hold = { ...AS_RECOMMENDED, thinner: null, fill: { kind: "area" }, rungs: [] };

function Bench({ store, wanted, known }: { store: BuildStore; wanted?: string; known: Knowledge }) {
  const shot = useShot(store);
  const build = shot.build!;
  const { plan, assessment: a } = build;
  const go = useNavigate();
  const coats = (plan.steps ?? []).filter((s): s is CoatStep => s.kind === "coat");
  const step = coats.find((s) => s.id === wanted) ?? coats[0];
  const [holds, setHolds] = useState<Record<string, Hold>>({});
  const [follow, setFollow] = useState(false);
  const [sheet, setSheet] = useState<"instruments" | "kit" | "tools" | "measure" | "recipe" | "needs" | null>(
    null,
  );
  const instruments = useInstruments();
  const hold = (step && (holds[step.id] ?? keptWith(step))) ?? FREE;
  const setHold = (part: Partial<Hold>) =>
    step && setHolds((all) => ({ ...all, [step.id]: { ...(all[step.id] ?? keptWith(step)), ...part } }));
  const gauge = instruments.find((i) => i.id === "compressor");
  const air = instruments.find((i) => i.id === "hygrometer");
  const follows = follow && gauge?.trusted ? Math.min(Math.max(gauge.values.gauge_kpa!, 20), 280) : null;
  const query = {
    ...asked(
      follows === null ? hold : { ...hold, only: follows, at: hold.at && { ...hold.at, pressure: follows } },
    ),
    // Asked for while the edit is on its way; once it is stored the plan itself says so.
    thinner: hold.thinner?.amount,
    total_ml: hold.fill.kind === "ml" ? hold.fill.much : undefined,
    paint_drops: hold.fill.kind === "drops" ? hold.fill.much : undefined,
    most_drops: hold.fill.kind === "most" ? hold.fill.much : undefined,
    rungs: hold.rungs,
    temp_c: follow && air?.trusted ? air.values.temp_c : undefined,
    rh_pct: follow && air?.trusted ? air.values.rh_pct : undefined,
  };
  const { data, error } = useCard(
    ["card", build.id, hold.thinner?.revision ?? build.revision, step?.id, query],
    () =>
      api.GET("/api/builds/{build_id}/card/{step_id}", {
        params: { path: { build_id: build.id, step_id: step!.id }, query },
      }),
    !!step,
  );
  if (!step) return <Empty id={build.id} />;
  const card = data?.step_id === step.id ? data : null;
  const colour = a.coats[`${step.id}~${step.zones[0]}`]?.colour ?? "#999999";
  const material = known.coats.find((c) => c.id === step.material);
  const at = coats.indexOf(step);
  const to = (s: CoatStep | undefined) =>
    s && void go(`/build/${build.id}/mix-and-spray/${s.id}`, { replace: true });
  const below = under(plan.steps ?? [], a, step);
  const areas = plan.zones.filter((z) => step.zones.includes(z.id)).map((z) => z.area_cm2);
  return (
    <div className="shell bench-shell print:block">
      <ViewHead build={build} store={store} on="mix" step={step.id} />
      <section aria-label="The coat" className="flex flex-wrap items-center gap-2 px-4 pt-2">
        <h1 className="sr-only">{step.name}</h1>
        <Push
          className="no-print"
          aria-label="The coat before"
          disabled={at === 0}
          onClick={() => to(coats[at - 1])}
        >
          ‹
        </Push>
        <Finder
          label="Coat"
          quiet
          large
          className="w-72 max-w-[55vw]"
          value={step.id}
          options={coats.map((s) => ({ value: s.id, label: s.name }))}
          onTake={(id) => to(coats.find((s) => s.id === id))}
        />
        <Push
          className="no-print"
          aria-label="The next coat"
          disabled={at === coats.length - 1}
          onClick={() => to(coats[at + 1])}
        >
          ›
        </Push>
        <span className="text-sm">
          {material?.name ?? step.material.replaceAll("_", " ")} ·{" "}
          {plan.zones
            .filter((z) => step.zones.includes(z.id))
            .map((z) => z.name.toLowerCase())
            .join(", ")}
          , {areaWords(areas)}
        </span>
        <NumberField
          key={step.id}
          label="Dry film"
          unit="µm"
          className="w-24 no-print"
          value={step.dry_film_um ?? material?.dry_film_um ?? null}
          onTake={(v) =>
            store.edit(`${step.name}: dry film`, [
              { edit: "set_field", step_id: step.id, field: "dry_film_um", value: v },
            ])
          }
        />
        <span className="ml-auto flex flex-wrap items-center gap-1 no-print">
          <ClockSwitch store={store} chosen={build.clock} scheduled={build.scheduled} />
          <Push data-bare onClick={() => setSheet("needs")}>
            For the build
          </Push>
          <Push data-bare onClick={() => setSheet("tools")}>
            Small tools
          </Push>
          <Link className="push" data-bare to={`/build/${build.id}/paper/card/${step.id}`}>
            Print
          </Link>
        </span>
        <Refused why={shot.refused} onHeard={() => store.heard()} />
        {error ? (
          <span role="alert" className="text-sm font-semibold">
            {error.message}
          </span>
        ) : null}
      </section>
      {card ? (
        <>
          <main id="main" tabIndex={-1} className="bench-parts">
            <CupColumn card={card} colour={colour}>
              <CupControls
                step={step}
                mix={mixOf(known, step)}
                store={store}
                thinner={hold.thinner?.amount ?? null}
                onThinner={(amount) =>
                  setHold({ thinner: amount === null ? null : { amount, revision: build.revision } })
                }
                fill={hold.fill}
                onFill={(fill) => setHold({ fill })}
                onMeasure={() => setSheet("measure")}
                onRecipe={() => setSheet("recipe")}
              />
            </CupColumn>
            <div data-stage className="min-h-0 min-w-0">
              <Stage
                card={card}
                colour={colour}
                gauge={gauge?.trusted ? (gauge.values.gauge_kpa ?? null) : null}
                at={hold.at && { pressure: follows ?? hold.at.pressure, distance: hold.at.distance }}
                onAt={(at) => setHold({ at })}
                rungs={hold.rungs}
                onRungs={(rungs) => setHold({ rungs })}
                onStep={(id) => to(coats.find((s) => s.id === id))}
              />
            </div>
            <Figures
              card={card}
              hold={hold}
              setHold={setHold}
              guns={plan.kit?.guns ?? usual().guns!}
              bench={{ follow, onFollow: setFollow, onKit: () => setSheet("kit") }}
              kept={{
                words: step.spray ? sprayWords(step.spray, plan.kit?.guns ?? usual().guns!) : null,
                here:
                  step.spray?.pressure_kpa === (card.point && Math.round(card.point.pressure_kpa)) &&
                  step.spray?.distance_mm === (card.point && Math.round(card.point.distance_mm)) &&
                  (step.spray?.gun ?? null) === (card.gun?.id ?? null) &&
                  hold.purpose === (step.spray?.purpose ?? null) &&
                  hold.width === (step.spray?.width_mm ?? null) &&
                  hold.speed === (step.spray?.speed_mm_s ?? null),
                onKeep: () =>
                  void store.edit(`${step.name}: gun, pressure and distance`, [
                    {
                      edit: "set_field",
                      step_id: step.id,
                      field: "spray",
                      value: {
                        gun: card.gun?.id ?? null,
                        pressure_kpa: card.point && Math.round(card.point.pressure_kpa),
                        distance_mm: card.point && Math.round(card.point.distance_mm),
                        purpose: hold.purpose,
                        width_mm: hold.width,
                        speed_mm_s: hold.speed,
                      },
                    },
                  ]),
              }}
            />
          </main>
          <footer className="bench-foot border-t border-line bg-paper px-4 py-3">
            <div className="min-w-0">
              {card.laying ? <h2 className="text-lg font-semibold">{card.laying.words}</h2> : null}
              {card.point ? (
                <p className="mb-2 text-sm">
                  Hand {distance(card.speed_mm_s)} a second, trigger {Math.round(card.trigger * 100)} % open;
                  a pattern {card.point.width_mm.toFixed(card.point.width_mm < 10 ? 1 : 0)} mm wide, half over
                  the last; about {Math.max(Math.round(card.laying?.spray_min ?? 0), 1)} min with the pauses.
                </p>
              ) : null}
              <StrokesDrawing
                card={card}
                colour={colour}
                sheen={a.coats[`${step.id}~${step.zones[0]}`]?.sheen ?? "matt"}
                under={below}
              />
              {card.laying && card.laying.coats !== (step.passes ?? material?.passes) ? (
                <p className="flex items-center gap-2 text-sm no-print">
                  The plan dries it as {step.passes ?? material?.passes} coats.
                  <Push
                    onClick={() =>
                      void store.edit(`${step.name}: ${card.laying!.coats} coats`, [
                        { edit: "set_field", step_id: step.id, field: "passes", value: card.laying!.coats },
                      ])
                    }
                  >
                    Plan it as {card.laying.coats}
                  </Push>
                </p>
              ) : null}
              {card.split ? <p className="text-sm">{card.split}</p> : null}
              <Quantity card={card} />
              {card.hand && card.ladder.length ? <HandWords hand={card.hand} /> : null}
            </div>
            <div className="text-sm">
              <h2 className="text-base font-semibold">
                {card.tonight_ok ? "Tonight" : "Rather not tonight"}
              </h2>
              <ul className="space-y-0.5">
                {card.tonight.map((t) => (
                  <li key={t}>{told(t)}</li>
                ))}
                {card.film_words ? <li>{told(card.film_words)}</li> : null}
                {worstSeams(a.seams, step.id).map((s) => (
                  <li key={s.id}>
                    <Link
                      to={`/build/${build.id}#${s.id}`}
                      className="flex items-center gap-2 hover:underline"
                    >
                      <LineSample verdict={s.verdict} />
                      {s.upper_step === step.id
                        ? `on ${nameOf(plan.steps, s.lower_step)}: ${s.word}`
                        : `under ${nameOf(plan.steps, s.upper_step)}: ${s.word}`}
                    </Link>
                  </li>
                ))}
                {a.remarks
                  .filter((r) => r.step_id === step.id)
                  .map((r) => (
                    <li key={r.id}>
                      {told(r.sentence)} {told(r.advice)}
                    </li>
                  ))}
              </ul>
            </div>
            <ul className="space-y-0.5 text-xs text-ink-2" aria-label="Cautions">
              {a.notes
                .filter((n) => n.step_id === step.id)
                .map((n) => (
                  <li key={n.caution}>{told(n.text)}</li>
                ))}
            </ul>
            <div className="bench-strip">
              <InstrumentStrip all={instruments} onOpen={() => setSheet("instruments")} />
            </div>
          </footer>
        </>
      ) : (
        <main aria-busy="true" />
      )}
      <ViewsBar id={build.id} on="mix" step={step.id} />
      <InstrumentSheet all={instruments} open={sheet === "instruments"} onClose={() => setSheet(null)} />
      <KitSheet plan={plan} store={store} open={sheet === "kit"} onClose={() => setSheet(null)} />
      <NeedsSheet
        build={build.id}
        revision={build.revision}
        open={sheet === "needs"}
        onClose={() => setSheet(null)}
      />
      <ToolSheet open={sheet === "tools"} plan={plan} store={store} onClose={() => setSheet(null)} />
      <RecipeSheet
        open={sheet === "recipe"}
        step={step}
        mix={mixOf(known, step)}
        known={known}
        store={store}
        onClose={() => setSheet(null)}
      />
      <MeasureSheet
        open={sheet === "measure"}
        step={step}
        store={store}
        hasDripCup={!!plan.kit?.drip_cup}
        grams={instruments.find((i) => i.id === "scale" && i.trusted)?.values.grams ?? null}
        onClose={() => setSheet(null)}
      />
    </div>
  );
}

/** "0.3 mm, 0.80 bar, 5.0 cm": with what a step is kept. */
function sprayWords(spray: NonNullable<CoatStep["spray"]>, guns: { id: string; name: string }[]): string {
  return [
    guns.find((g) => g.id === spray.gun)?.name,
    spray.pressure_kpa && pressure(spray.pressure_kpa),
    spray.distance_mm && distance(spray.distance_mm),
  ]
    .filter(Boolean)
    .join(", ");
}

/** What the plan says of this coat against its neighbours, worst first, once for each pair. */
function worstSeams(seams: Record<string, Seam>, step: string): Seam[] {
  const found = new Map<string, Seam>();
  for (const s of Object.values(seams)) {
    if ((s.upper_step !== step && s.lower_step !== step) || s.verdict === "sound") continue;
    const pair = `${s.upper_step}~${s.lower_step}`;
    const old = found.get(pair);
    if (!old || VERDICTS.indexOf(s.verdict) > VERDICTS.indexOf(old.verdict)) found.set(pair, s);
  }
  return [...found.values()]
    .sort((x, y) => VERDICTS.indexOf(y.verdict) - VERDICTS.indexOf(x.verdict))
    .slice(0, 3);
}

function nameOf(steps: { id: string; name: string }[] | undefined, id: string | null | undefined): string {
  return steps?.find((s) => s.id === id)?.name ?? "the base material";
}

/** The colour of what lies beneath in the first zone. */
function under(
  steps: { id: string; kind: string; zones: string[] }[],
  a: { coats: Record<string, { colour: string }> },
  step: CoatStep,
) {
  const below = steps
    .slice(
      0,
      steps.findIndex((s) => s.id === step.id),
    )
    .filter((s) => s.kind === "coat" && s.zones.includes(step.zones[0]!));
  return a.coats[`${below.at(-1)?.id}~${step.zones[0]}`]?.colour ?? "#8e8e8b";
}

function Empty({ id }: { id: string }) {
  return (
    <main className="p-10">
      <h1 className="text-xl font-semibold">No coat to mix yet</h1>
      <Link className="underline" to={`/build/${id}`}>
        Lay a coat first
      </Link>
    </main>
  );
}
