/** Mix and spray: for one coat of the plan, the cup, the map over pressure and distance, the strokes, and how much. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import {
  api,
  type Card,
  type CoatStep,
  type Knowledge,
  type Measured,
  type Mix,
  type Seam,
} from "../../api/client";
import { BuildStore, useShot } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { VERDICTS } from "../../drawing/tokens";
import { Choice, NumberField } from "../../parts/Field";
import { SavedWord, UndoRedo, Views } from "../../parts/Head";
import { Sheet } from "../../parts/Panel";
import { ThemeButton } from "../../parts/Theme";
import { CupDrawing, FilmDrawing, LadderDrawing, StrokesDrawing } from "./Drawings";
import { InstrumentSheet, InstrumentStrip, useInstruments } from "./Instruments";
import { KitSheet, usual } from "./KitSheet";
import { NeedsSheet } from "./NeedsSheet";
import { SprayMap } from "./SprayMap";
import { ToolSheet } from "./Tools";

export function BenchView() {
  const { id = "", step } = useParams();
  const store = useMemo(() => new BuildStore(id), [id]);
  useEffect(() => void store.load(), [store]);
  const shot = useShot(store);
  const { data: known } = useQuery({
    queryKey: ["knowledge"],
    queryFn: async () => (await api.GET("/api/knowledge")).data!,
    staleTime: Infinity,
  });
  if (shot.missing)
    return (
      <main className="p-10">
        <h1 className="text-xl font-semibold">This build is not here</h1>
        <p className="my-2">{shot.missing}.</p>
        <Link className="underline" to="/">
          To the builds
        </Link>
      </main>
    );
  if (!shot.build || !known) return <main className="p-10" aria-busy="true" />;
  return <Bench store={store} wanted={step} known={known} />;
}

type At = { pressure: number; distance: number };
type Hold = {
  at: At | null;
  trigger: number | null;
  gun: string | null;
  thinner: { amount: number; revision: number } | null;
  pour: { kind: "area" } | { kind: "ml" | "drops"; much: number };
};
const FREE: Hold = { at: null, trigger: null, gun: null, thinner: null, pour: { kind: "area" } };

function Bench({ store, wanted, known }: { store: BuildStore; wanted?: string; known: Knowledge }) {
  const shot = useShot(store);
  const build = shot.build!;
  const { plan, assessment: a } = build;
  const go = useNavigate();
  const coats = (plan.steps ?? []).filter((s): s is CoatStep => s.kind === "coat");
  const step = coats.find((s) => s.id === wanted) ?? coats[0];
  const [holds, setHolds] = useState<Record<string, Hold>>({});
  const [follow, setFollow] = useState(false);
  const [sheet, setSheet] = useState<"instruments" | "kit" | "tools" | "measure" | "needs" | null>(null);
  const instruments = useInstruments();
  const hold = (step && holds[step.id]) ?? FREE;
  const setHold = (part: Partial<Hold>) =>
    step && setHolds((all) => ({ ...all, [step.id]: { ...(all[step.id] ?? FREE), ...part } }));
  const gauge = instruments.find((i) => i.id === "compressor");
  const air = instruments.find((i) => i.id === "hygrometer");
  const follows = follow && gauge?.trusted ? gauge.values.gauge_kpa! : null;
  const query = JSON.stringify({
    // Asked for while the edit is on its way; once it is stored the plan itself says so.
    thinner: hold.thinner?.amount ?? null,
    total_ml: hold.pour.kind === "ml" ? hold.pour.much : null,
    paint_drops: hold.pour.kind === "drops" ? hold.pour.much : null,
    gun: hold.gun,
    trigger: hold.trigger,
    pressure_kpa: follows !== null ? Math.min(Math.max(follows, 20), 280) : (hold.at?.pressure ?? null),
    distance_mm: hold.at?.distance ?? null,
    temp_c: follow && air?.trusted ? air.values.temp_c : null,
    rh_pct: follow && air?.trusted ? air.values.rh_pct : null,
  });
  const { data, error } = useQuery({
    queryKey: ["card", build.id, hold.thinner?.revision ?? build.revision, step?.id, query],
    queryFn: async () => {
      const given = Object.fromEntries(
        Object.entries(JSON.parse(query) as Record<string, unknown>).filter(([, v]) => v !== null),
      );
      const answer = await api.GET("/api/builds/{build_id}/card/{step_id}", {
        params: { path: { build_id: build.id, step_id: step!.id }, query: given },
      });
      if (!answer.data)
        throw new Error(answer.error?.problems.map((x) => `${x.where}: ${x.what}`).join("; "));
      return answer.data as Card;
    },
    enabled: !!step,
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!step) return <Empty id={build.id} />;
  const card = data?.step_id === step.id ? data : null;
  const colour = a.coats[`${step.id}~${step.zones[0]}`]?.colour ?? "#999999";
  const material = known.coats.find((c) => c.id === step.material);
  const at = coats.indexOf(step);
  const to = (s: CoatStep | undefined) => s && void go(`/build/${build.id}/bench/${s.id}`, { replace: true });
  const area = plan.zones.filter((z) => step.zones.includes(z.id)).reduce((sum, z) => sum + z.area_cm2, 0);
  return (
    <div className="grid h-full grid-rows-[auto_auto_1fr_auto] print:block">
      <header className="flex h-12 items-center gap-2 border-b border-line bg-surround-deep px-4 no-print">
        <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
          emvar
        </Link>
        <Link to={`/build/${build.id}`} className="push" data-bare>
          {plan.build.name}
        </Link>
        <Views id={build.id} on="bench" step={step.id} />
        <SavedWord store={store} />
        <UndoRedo store={store} history={build.history} />
        <button type="button" className="push" data-bare onClick={() => setSheet("needs")}>
          For the build
        </button>
        <button type="button" className="push" data-bare onClick={() => setSheet("tools")}>
          Small tools
        </button>
        <button type="button" className="push" data-bare onClick={() => window.print()}>
          Print
        </button>
        <ThemeButton />
      </header>
      <div className="flex items-center gap-2 px-4 pt-2">
        <h1 className="sr-only">{step.name}</h1>
        <button
          type="button"
          className="push no-print"
          aria-label="The coat before"
          disabled={at === 0}
          onClick={() => to(coats[at - 1])}
        >
          ‹
        </button>
        <select
          className="field max-w-72 text-base font-semibold"
          style={{ fontSize: "var(--text-lg)", height: 34 }}
          aria-label="Coat"
          value={step.id}
          onChange={(e) => to(coats.find((s) => s.id === e.target.value))}
        >
          {coats.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="push no-print"
          aria-label="The next coat"
          disabled={at === coats.length - 1}
          onClick={() => to(coats[at + 1])}
        >
          ›
        </button>
        <span className="text-sm">
          {material?.name ?? step.material.replaceAll("_", " ")} ·{" "}
          {plan.zones
            .filter((z) => step.zones.includes(z.id))
            .map((z) => z.name.toLowerCase())
            .join(", ")}
          , {Math.round(area)} cm²
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
        <span className="ml-auto" />
        {shot.refused ? (
          <span role="alert" className="text-sm font-semibold">
            Not done. {shot.refused}
          </span>
        ) : null}
        {error ? (
          <span role="alert" className="text-sm font-semibold">
            {error.message}
          </span>
        ) : null}
      </div>
      {card ? (
        <>
          <div className="grid min-h-0 grid-cols-[19rem_1fr_15.5rem] gap-3 px-4 pt-2 print:grid-cols-[17rem_1fr_13rem]">
            <CupColumn
              card={card}
              colour={colour}
              step={step}
              known={known}
              store={store}
              onMeasure={() => setSheet("measure")}
              thinner={hold.thinner?.amount ?? null}
              pour={hold.pour}
              onPour={(pour) => setHold({ pour })}
              onThinner={(amount) =>
                setHold({ thinner: amount === null ? null : { amount, revision: build.revision } })
              }
            />
            {card.map && card.point ? (
              <SprayMap
                card={card}
                colour={colour}
                gauge={gauge?.trusted ? (gauge.values.gauge_kpa ?? null) : null}
                at={{
                  pressure: follows ?? hold.at?.pressure ?? card.point.pressure_kpa,
                  distance: hold.at?.distance ?? card.point.distance_mm,
                }}
                onAt={(pressure, distance) => setHold({ at: { pressure, distance } })}
              />
            ) : card.ladder.length ? (
              <LadderDrawing card={card} colour={colour} />
            ) : (
              <FilmDrawing card={card} colour={colour} under={under(plan.steps ?? [], a, step)} />
            )}
            <Figures
              card={card}
              hold={hold}
              setHold={setHold}
              guns={plan.kit?.guns ?? usual().guns!}
              follow={follow}
              onFollow={setFollow}
              onKit={() => setSheet("kit")}
            />
          </div>
          <footer className="grid grid-cols-[1fr_26rem] gap-x-8 gap-y-2 border-t border-line bg-paper px-4 py-3">
            <div className="min-w-0">
              <h2 className="text-lg font-semibold">
                {card.laying?.words ?? (card.ladder.length ? card.how : "How much")}
              </h2>
              {card.point ? (
                <p className="mb-2 text-sm">
                  Hand {(card.speed_mm_s / 10).toFixed(0)} cm/s; a pattern {card.point.width_mm.toFixed(0)} mm
                  wide, half over the last; about {Math.max(Math.round(card.laying?.spray_min ?? 0), 1)} min
                  with the pauses.
                </p>
              ) : null}
              <StrokesDrawing
                card={card}
                colour={colour}
                sheen={a.coats[`${step.id}~${step.zones[0]}`]?.sheen ?? "matt"}
                under={under(plan.steps ?? [], a, step)}
              />
              {card.laying && card.laying.coats !== (step.passes ?? material?.passes) ? (
                <p className="flex items-center gap-2 text-sm no-print">
                  The plan dries it as {step.passes ?? material?.passes} coats.
                  <button
                    type="button"
                    className="push"
                    onClick={() =>
                      void store.edit(`${step.name}: ${card.laying!.coats} coats`, [
                        { edit: "set_field", step_id: step.id, field: "passes", value: card.laying!.coats },
                      ])
                    }
                  >
                    Plan it as {card.laying.coats}
                  </button>
                </p>
              ) : null}
              {card.split ? <p className="text-sm">{card.split}</p> : null}
              <Quantity card={card} />
            </div>
            <div className="text-sm">
              <h2 className="text-base font-semibold">Tonight</h2>
              <ul className="space-y-0.5">
                {card.tonight.map((t) => (
                  <li key={t}>{t}</li>
                ))}
                {card.film_words ? <li>{card.film_words}</li> : null}
                {worstSeams(a.seams, step.id).map((s) => (
                  <li key={s.id}>
                    <Link to={`/build/${build.id}`} className="flex items-center gap-2 hover:underline">
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
                      {r.sentence} {r.advice}
                    </li>
                  ))}
                {a.notes
                  .filter((n) => n.step_id === step.id)
                  .slice(0, 2)
                  .map((n) => (
                    <li key={n.caution} className="text-xs text-ink-2">
                      {n.text}
                    </li>
                  ))}
              </ul>
            </div>
            <div className="col-span-2">
              <InstrumentStrip all={instruments} onOpen={() => setSheet("instruments")} />
            </div>
          </footer>
        </>
      ) : (
        <main aria-busy="true" />
      )}
      <InstrumentSheet all={instruments} open={sheet === "instruments"} onClose={() => setSheet(null)} />
      <KitSheet plan={plan} store={store} open={sheet === "kit"} onClose={() => setSheet(null)} />
      <NeedsSheet
        build={build.id}
        revision={build.revision}
        open={sheet === "needs"}
        onClose={() => setSheet(null)}
      />
      <ToolSheet open={sheet === "tools"} onClose={() => setSheet(null)} />
      <MeasureSheet
        open={sheet === "measure"}
        step={step}
        store={store}
        grams={instruments.find((i) => i.id === "scale" && i.trusted)?.values.grams ?? null}
        onClose={() => setSheet(null)}
      />
    </div>
  );
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

function CupColumn(p: {
  card: Card;
  colour: string;
  step: CoatStep;
  known: Knowledge;
  store: BuildStore;
  onMeasure: () => void;
  onThinner: (amount: number | null) => void;
  thinner: number | null;
  pour: Hold["pour"];
  onPour: (pour: Hold["pour"]) => void;
}) {
  const { card, step, store } = p;
  const t = card.thickness;
  const mix = (step.mix ?? p.known.coats.find((c) => c.id === step.material)?.mix ?? null) as Mix | null;
  const thinner = mix?.parts.findIndex((x) => x.role === "thinner") ?? -1;
  const paint = mix?.parts.find((x) => x.role === "paint");
  const turn = (by: number) => {
    if (!mix || thinner < 0 || !paint) return;
    const grain = Math.max(paint.amount / 4, 0.25);
    const amount = Math.max(
      Math.round(((p.thinner ?? mix.parts[thinner]!.amount) + by * grain) * 100) / 100,
      0.05,
    );
    const parts = mix.parts.map((x, i) => (i === thinner ? { ...x, amount } : x));
    p.onThinner(amount);
    void store
      .edit(`${step.name}: ${by > 0 ? "more" : "less"} thinner`, [
        { edit: "set_field", step_id: step.id, field: "mix", value: { parts } },
      ])
      .then(() => p.onThinner(null));
  };
  return (
    <section aria-label="The cup" className="flex min-h-0 flex-col gap-2 overflow-y-auto">
      {card.pours.length ? (
        <CupDrawing card={card} colour={p.colour} />
      ) : (
        <p className="text-sm">Used as it comes: nothing to mix.</p>
      )}
      <p className="text-sm">
        {card.ratio}
        {card.pours.length > 1 ? (
          <span className="text-ink-2">, off by {card.ratio_error_pct.toFixed(1)} % in whole drops</span>
        ) : null}
      </p>
      {thinner >= 0 && card.pours.length ? (
        <div className="flex items-center gap-2 text-sm no-print">
          Thinner
          <button type="button" className="push" aria-label="Less thinner" onClick={() => turn(-1)}>
            −
          </button>
          <button type="button" className="push" aria-label="More thinner" onClick={() => turn(1)}>
            +
          </button>
          <button type="button" className="push ml-auto" onClick={p.onMeasure}>
            Measure, weigh
          </button>
        </div>
      ) : null}
      {card.pours.length ? (
        <div className="flex items-end gap-2 no-print">
          <Choice
            label="Fill for"
            className="w-36"
            value={p.pour.kind}
            options={[
              { value: "area", label: "the area" },
              { value: "ml", label: "a cup" },
              { value: "drops", label: "drops of paint" },
            ]}
            onTake={(kind) =>
              p.onPour(
                kind === "ml" ? { kind, much: 2 } : kind === "drops" ? { kind, much: 10 } : { kind: "area" },
              )
            }
          />
          {p.pour.kind === "area" ? null : (
            <NumberField
              label={p.pour.kind === "ml" ? "Cup" : "Drops"}
              className="w-24"
              unit={p.pour.kind === "ml" ? "mL" : undefined}
              value={p.pour.much}
              onTake={(much) => {
                const kind = p.pour.kind as "ml" | "drops";
                if (!(much > 0 && much <= (kind === "ml" ? 1000 : 10000)) || (kind === "drops" && much % 1))
                  return { ok: false, why: kind === "ml" ? "up to 1000 mL" : "whole drops, up to 10000" };
                p.onPour({ kind, much });
                return { ok: true };
              }}
            />
          )}
        </div>
      ) : null}
      {t ? (
        <p className="leading-tight" data-testid="thickness">
          <strong className="text-xl">{t.mm2_s.toPrecision(2)} mm²/s</strong> like {t.like}
          {t.ready && t.ready !== "ready" ? <strong>: too {t.ready} to spray</strong> : ""}
          <span className="block text-xs text-ink-2">
            {t.low_mpas.toPrecision(2)} to {t.high_mpas.toPrecision(2)} mPa·s, {t.basis}
          </span>
        </p>
      ) : null}
      {card.correction ? <p className="text-sm font-semibold">{card.correction}</p> : null}
    </section>
  );
}

const ZONE_WORDS: Record<string, string> = {
  grainy: "Spatters",
  dry: "Dusty",
  good: "Even",
  wet: "Wet",
  runs: "Runs, spiders",
};

export function Figures(p: {
  card: Card;
  hold: Omit<Hold, "thinner" | "pour">;
  setHold: (part: Partial<Hold>) => void;
  guns: { id: string; name: string }[];
  follow: boolean;
  onFollow: (on: boolean) => void;
  onKit?: () => void;
}) {
  const { card, hold, setHold } = p;
  const point = card.point;
  if (!point) return <div />;
  const row = (words: string, value: string) => (
    <div className="flex justify-between gap-2 border-b border-line-soft py-0.5" key={words}>
      <dt className="text-ink-2">{words}</dt>
      <dd className="font-semibold">{value}</dd>
    </div>
  );
  const best = card.best;
  return (
    <section
      aria-label="The point"
      className="flex min-h-0 flex-col gap-2 overflow-y-auto text-sm"
      data-testid="point"
    >
      <p className="text-xl leading-tight font-semibold">
        {ZONE_WORDS[point.zone]}
        <span className="block text-base font-normal">
          {(point.pressure_kpa / 100).toFixed(2)} bar, {(point.distance_mm / 10).toFixed(1)} cm
        </span>
      </p>
      <dl>
        {row("Drops", `${point.drop_um.toFixed(0)} µm`)}
        {row("Dries in flight", `${(point.loss * 100).toFixed(0)} %`)}
        {row("A stroke, wet", `${point.film_um.toFixed(1)} µm`)}
        {row("A stroke, dry", `${point.dry_um.toFixed(2)} µm`)}
        {row("Paint", `${point.flow_ml_min.toFixed(2)} mL/min`)}
      </dl>
      {best ? (
        <p>
          Best {(best.pressure_range_kpa[0] / 100).toFixed(1)}–{(best.pressure_range_kpa[1] / 100).toFixed(1)}{" "}
          bar with the trigger open, {(best.distance_range_mm[0] / 10).toFixed(0)}–
          {(best.distance_range_mm[1] / 10).toFixed(0)} cm.
        </p>
      ) : (
        <p className="font-semibold">Nothing in reach lays evenly: thin it, or another needle.</p>
      )}
      {card.knobs.map(([knob, words]) => (
        <p key={knob}>
          <span className="text-ink-2">If only the {knob} can move: </span>
          {words}
        </p>
      ))}
      <div className="flex items-end gap-1.5 no-print">
        <Choice
          label="Airbrush"
          className="min-w-0 grow"
          value={hold.gun ?? card.gun?.id ?? ""}
          options={p.guns.map((g) => ({ value: g.id, label: g.name }))}
          onTake={(gun) => setHold({ gun, at: null })}
        />
        {p.onKit ? (
          <button type="button" className="push" onClick={p.onKit}>
            Kit
          </button>
        ) : null}
      </div>
      <label className="text-xs text-ink-2 no-print">
        Trigger {hold.trigger === null ? "as usual for this" : `${Math.round(hold.trigger * 100)} %`}
        <input
          type="range"
          className="block w-full"
          min={5}
          max={100}
          value={Math.round((hold.trigger ?? 0.6) * 100)}
          onChange={(e) => setHold({ trigger: Number(e.target.value) / 100 })}
        />
      </label>
      <label className={`flex min-h-7 items-center gap-2 no-print ${p.onKit ? "" : "hidden"}`}>
        <input type="checkbox" checked={p.follow} onChange={(e) => p.onFollow(e.target.checked)} />
        Follow the gauge and the air
      </label>
      {hold.at || hold.trigger !== null ? (
        <button type="button" className="push no-print" onClick={() => setHold({ at: null, trigger: null })}>
          Back to the best point
        </button>
      ) : null}
    </section>
  );
}

export function Quantity({ card }: { card: Card }) {
  const q = card.quantity;
  const total = q.landed_ml + q.lost_ml + q.left_ml;
  if (!(total > 0)) return null;
  const share = (ml: number) => `${(100 * ml) / total}%`;
  return (
    <div className="mt-2" data-testid="quantity">
      <div className="flex h-3 max-w-96 overflow-hidden rounded-sm border border-line" aria-hidden="true">
        <span style={{ width: share(q.landed_ml) }} className="bg-ink" />
        <span style={{ width: share(q.lost_ml) }} className="bg-line-soft" />
        <span style={{ width: share(q.left_ml) }} className="bg-paper" />
      </div>
      <p className="text-sm">
        {total.toFixed(total < 2 ? 2 : 1)} mL in all{q.cups > 1 ? `, ${q.cups} cups` : ""}:{" "}
        {q.landed_ml.toFixed(2)} lands, {q.lost_ml.toFixed(2)} is lost, {q.left_ml} stays in the cup. Paint{" "}
        {q.paint_ml.toFixed(2)}, thinner {q.thinner_ml.toFixed(2)} mL.
      </p>
    </div>
  );
}

const CUP_NAMES = [
  ["", "none"],
  ["iso3", "ISO 2431, 3 mm"],
  ["iso4", "ISO 2431, 4 mm"],
  ["iso5", "ISO 2431, 5 mm"],
  ["iso6", "ISO 2431, 6 mm"],
] as const;

/** What was measured of this mix wins over what is computed, and teaches the paint in other steps. */
function MeasureSheet(p: {
  open: boolean;
  step: CoatStep;
  store: BuildStore;
  grams: number | null;
  onClose: () => void;
}) {
  const { step, store } = p;
  const m: Measured = step.measured ?? {};
  const { data: cups } = useQuery({
    queryKey: ["cups"],
    queryFn: async () => (await api.GET("/api/tools/cups")).data ?? [],
    enabled: p.open,
    staleTime: Infinity,
  });
  const set = (part: Partial<Measured>) =>
    store.edit(`${step.name}: measured`, [
      { edit: "set_field", step_id: step.id, field: "measured", value: { ...m, ...part } },
    ]);
  const known =
    cups?.map((c) => ({ value: c.id, label: `${c.name}, ${c.low_s}–${c.high_s} s` })) ??
    CUP_NAMES.map(([value, label]) => ({ value, label }));
  return (
    <Sheet open={p.open} onClose={p.onClose} title={`Measured: ${step.name}`}>
      <div className="grid grid-cols-2 items-end gap-3">
        <Choice
          label="Flow cup"
          value={m.flow_cup ?? ""}
          options={[{ value: "", label: "none" }, ...known.filter((c) => c.value)]}
          onTake={(v) => void set({ flow_cup: v || null })}
        />
        <NumberField
          label="Ran for"
          unit="s"
          value={m.flow_cup_s ?? null}
          onTake={(v) => set({ flow_cup_s: v })}
        />
        <NumberField
          label="Or viscosity"
          unit="mPa·s"
          value={m.viscosity_mpas ?? null}
          onTake={(v) => set({ viscosity_mpas: v })}
        />
        <NumberField
          label="Drops counted in a millilitre"
          value={m.drops_per_ml ?? null}
          onTake={(v) => set({ drops_per_ml: v })}
        />
        <NumberField
          label="Paint weighed"
          unit="g"
          value={m.paint_g ?? null}
          onTake={(v) => set({ paint_g: v })}
        />
        <NumberField
          label="Thinner weighed"
          unit="g"
          value={m.thinner_g ?? null}
          onTake={(v) => set({ thinner_g: v })}
        />
        <button
          type="button"
          className="push"
          disabled={p.grams === null}
          onClick={() => void set({ paint_g: p.grams })}
        >
          Paint: take {p.grams?.toFixed(2) ?? "–"} g from the scale
        </button>
        <button
          type="button"
          className="push"
          disabled={p.grams === null}
          onClick={() => void set({ thinner_g: p.grams })}
        >
          Thinner: take {p.grams?.toFixed(2) ?? "–"} g
        </button>
        <button
          type="button"
          className="push col-span-2"
          disabled={!step.measured}
          onClick={() =>
            void store.edit(`${step.name}: measures away`, [
              { edit: "set_field", step_id: step.id, field: "measured", value: null },
            ])
          }
        >
          Forget what was measured
        </button>
      </div>
    </Sheet>
  );
}
