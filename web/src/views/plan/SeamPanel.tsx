/** What happens where two coats meet: a sentence first, the reach drawn, what would work, what it rests on. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  type Assessment,
  type Edit,
  type Plan,
  type Remedy,
  type Seam,
  type SeamDetail,
} from "../../api/client";
import type { BuildStore, Shot } from "../../api/store";
import { LineSample } from "../../drawing/Line";
import { told } from "../../drawing/units";
import { shortSpan, span, type Clockwork } from "../../drawing/time";
import { RemedySheet } from "./Versions";
import { ScrapTest } from "./ScrapTest";
import { useShipped, useWords } from "../../parts/BuildDoor";
import { Push } from "../../parts/Push";

export function SeamPanel(p: {
  plan: Plan;
  assessment: Assessment;
  seam: Seam;
  /** Judged at the times of the sittings rather than at the plan's own. */
  scheduled: boolean;
  clock: Clockwork;
  store: BuildStore;
  shot: Shot;
  onSeam: (s: Seam) => void;
  onStep: (step: string, zone: string) => void;
  onOver: (seam: Seam) => void;
}) {
  const { plan, assessment: a, seam, clock } = p;
  const [words, limits] = [useWords(), useShipped()];
  const name = (id: string | null) =>
    id === null ? "the base material" : (plan.steps?.find((s) => s.id === id)?.name ?? id);
  const zone = plan.zones.find((z) => z.id === seam.zone_id)!.name;
  const kept = p.shot.build?.assessment.seams[seam.id];
  const asked = useDetail(p.shot, seam);
  const own = p.scheduled ? asked.data?.own : null;
  const times = p.shot.preview ? seam : (asked.data?.seam ?? seam);
  const others = Object.values(a.seams).filter(
    (s) => s.upper_step === seam.upper_step && s.zone_id === seam.zone_id && s.id !== seam.id,
  );
  return (
    <div className="space-y-4" data-testid="seam-panel">
      <header>
        <p className="flex items-center gap-2 text-sm font-semibold">
          <LineSample verdict={seam.verdict} width={40} />
          {seam.verdict === "sound" ? "sound" : `${seam.verdict}: ${seam.word}`}
          {seam.verdict !== "sound" ? (
            <span className="mr-8 ml-auto text-xs font-normal text-ink-2">{words.kind(seam.kind)}</span>
          ) : null}
        </p>
        <h2 className="mt-1 text-lg leading-tight font-semibold">
          {name(seam.upper_step)}{" "}
          {seam.contact === "lay" ? "on" : seam.contact === "work" ? "over" : "touching"}{" "}
          {name(seam.lower_step)}
        </h2>
        <p className="text-sm text-ink-2">
          {zone} · {clock.long(seam.at_min)}
          {p.scheduled ? ", as scheduled" : ""}
          {seam.depth > 0
            ? ` · responsible: ${name(seam.responsible)}, ${seam.depth} ${seam.depth === 1 ? "layer" : "layers"} further down`
            : ""}
          {seam.share < 0.95
            ? ` · meets it over ${seam.zone_share < seam.share ? `${Math.round(seam.share * 100)} % of the mark, ` : ""}${Math.round(seam.zone_share * 1000) / 10} % of the zone`
            : ""}
        </p>
      </header>
      <p className="text-base">{told(seam.sentence)}</p>
      {seam.disputed ? (
        <p className="text-sm" data-testid="disputed">
          <span className="font-semibold">Disputed. </span>
          {told(seam.disputed)}
        </p>
      ) : null}
      {times.opens_careful_min !== null && seam.verdict !== "sound" ? (
        <Opens seam={times} clock={clock} />
      ) : null}
      <OpenIn stretches={asked.data?.stretches ?? []} after={name(seam.responsible ?? seam.lower_step)} />
      {own ? <ByItself own={own} seam={seam} clock={clock} /> : null}
      {kept && kept.verdict !== "sound" ? <Remedies {...p} asked={asked} /> : null}
      {seam.reach.length ? <ReachDrawing seam={seam} plan={plan} a={a} /> : null}
      {seam.verdict !== "sound" && seam.advice ? (
        <p className="text-sm">
          <span className="font-semibold">In short: </span>
          {told(seam.advice)}
        </p>
      ) : null}
      {seam.check ? (
        <div className="border-l-2 border-line pl-3 text-sm" data-testid="check">
          <p>
            <span className="font-semibold">Prove it: </span>
            {told(seam.check)}
          </p>
          <p className="mt-1 text-ink-2">
            <span className="font-semibold">If it fails: </span>
            {told(seam.if_fails)}
          </p>
        </div>
      ) : null}
      {kept && (kept.verdict !== "sound" || kept.basis === "trial") && kept.kind !== "timing" ? (
        <ScrapTest build={p.shot.build!.id} revision={p.shot.build!.revision} seam={kept} store={p.store} />
      ) : null}
      <details className="text-sm">
        <summary className="font-semibold">
          {words.basis(seam.basis)}
          {seam.verdict !== "sound" ? `, ${words.sure(seam.sure)}` : ""}
          {seam.findings.length > 1 ? ` · ${seam.findings.length} things happen here` : ""}
        </summary>
        <p className="mt-1 text-ink-2">Rests on {seam.rests_on}.</p>
        {seam.assumes ? <p className="mt-1 text-ink-2">Assumes {seam.assumes}.</p> : null}
        {seam.would_change ? (
          <p className="mt-1">
            <span className="font-semibold">What would change it: </span>
            {told(seam.would_change)}.
          </p>
        ) : null}
        {seam.findings.length > 1 ? (
          <ul className="mt-2 space-y-1.5">
            {seam.findings.map((f) => (
              <li key={f.mechanism + f.step_id} className="border-l-2 border-line pl-2">
                {told(f.sentence)}
                <span className="block text-xs text-ink-2">
                  {words.basis(f.basis)} · severity {f.severity.toFixed(2)} of 1
                  {limits
                    ? ` (caution from ${limits.caution_from.toFixed(2)}, clash from ${limits.clash_from.toFixed(2)})`
                    : ""}
                </span>
              </li>
            ))}
          </ul>
        ) : null}
      </details>
      {others.length ? (
        <div className="text-sm">
          <h3 className="font-semibold">It also meets</h3>
          <ul>
            {others.map((s) => (
              <li key={s.id}>
                <button
                  type="button"
                  className="flex min-h-7 w-full items-center gap-2 text-left hover:bg-paper-2"
                  onClick={() => p.onSeam(s)}
                >
                  <LineSample verdict={s.verdict} />
                  <span className="truncate">{name(s.lower_step)}</span>
                  <span className="ml-auto text-xs text-ink-2">{Math.round(s.share * 100)} %</span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      ) : null}
      <div className="flex flex-wrap gap-1.5 no-print">
        <Push onClick={() => p.onStep(seam.upper_step, seam.zone_id)}>Edit “{name(seam.upper_step)}”</Push>
        <Push onClick={() => p.onOver(seam)}>What may go here?</Push>
      </div>
    </div>
  );
}

/** Where the sittings and the plan's own times come to different verdicts. */
function ByItself({ own, seam, clock }: { own: Seam; seam: Seam; clock: Clockwork }) {
  if (own.verdict === seam.verdict) return null;
  const words = own.verdict === "sound" ? "sound" : `${own.verdict}: ${own.word}`;
  return (
    <p className="border-l-2 border-line pl-3 text-sm" data-testid="by-itself">
      {own.verdict === "sound"
        ? "Only in these sittings. "
        : seam.verdict === "sound"
          ? "The sittings see to it. "
          : ""}
      At the plan’s own times, {clock.long(own.at_min)}, it is {words}.
    </p>
  );
}

function Opens({ seam, clock }: { seam: Seam; clock: Clockwork }) {
  const best = seam.opens_best_min ?? seam.opens_careful_min!;
  const careful = seam.opens_careful_min!;
  if (careful <= seam.at_min + 1) return null;
  return (
    <dl className="grid grid-cols-[auto_1fr_auto] gap-x-3 gap-y-0.5 border-y border-line-soft py-2 text-sm">
      {best > seam.at_min + 1 && best < careful - 1 ? (
        <>
          <dt className="text-ink-2">best guess</dt>
          <dd>{clock.long(best)}</dd>
          <dd>+{shortSpan(best - seam.at_min)}</dd>
        </>
      ) : null}
      <dt className="font-semibold">
        {seam.eventual === "caution" ? "no better than caution from" : "safe from"}
      </dt>
      <dd className="font-semibold">{clock.long(careful)}</dd>
      <dd className="font-semibold">+{shortSpan(careful - seam.at_min)}</dd>
    </dl>
  );
}

/** A window that closes again: all its stretches, by the careful edge. One that only opens is told by `Opens`. */
function OpenIn({ stretches, after }: { stretches: SeamDetail["stretches"]; after: string }) {
  if (stretches.every((s) => s.until === null)) return null;
  const words = stretches.map(({ since, until }) =>
    until === null
      ? `from ${span(since)}`
      : since < 1
        ? `up to ${span(until)}`
        : `${span(since)} to ${span(until)}`,
  );
  return (
    <p className="text-sm" data-testid="stretches">
      <span className="font-semibold">Open after “{after}”: </span>
      {words.join(", and again ")}.
    </p>
  );
}

const BODY = 172;
const WORDS = 124;

/** The coats below, to the rack's scale of thickness, and how far into each the carrier gets while it is wet. */
function ReachDrawing({ seam, plan, a }: { seam: Seam; plan: Plan; a: Assessment }) {
  const rows = seam.reach.map((r) => {
    const coat = r.step_id ? a.coats[`${r.step_id}~${seam.zone_id}`] : undefined;
    return {
      ...r,
      colour: coat?.colour ?? null,
      height: coat ? Math.max(20, 14 + 4 * Math.sqrt(coat.film_um)) : 24,
    };
  });
  const upper = a.coats[`${seam.upper_step}~${seam.zone_id}`];
  const top = 22;
  const placed = rows.map((r, i) => ({
    ...r,
    y: top + rows.slice(0, i).reduce((sum, x) => sum + x.height, 0),
  }));
  const total = top + rows.reduce((sum, x) => sum + x.height, 0);
  const name = (id: string | null, fallback: string) =>
    plan.steps?.find((s) => s.id === id)?.name ?? fallback;
  return (
    <figure>
      <svg
        width="100%"
        viewBox={`0 0 310 ${total + 2}`}
        role="img"
        aria-label="How far the carrier reaches into the coats below"
      >
        <rect
          x={0}
          y={2}
          width={BODY}
          height={top - 2}
          fill={upper?.colour ?? "none"}
          opacity={0.55}
          stroke="var(--line)"
          strokeDasharray="3 3"
        />
        <text
          x={7}
          y={16}
          fontSize={12}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {name(seam.upper_step, "")}
        </text>
        {placed.map((r) => (
          <g key={r.y}>
            <rect
              x={0}
              y={r.y}
              width={BODY}
              height={r.height}
              fill={r.colour ?? "var(--paper-2)"}
              stroke="var(--line)"
              strokeWidth={0.75}
            />
            <rect
              x={WORDS}
              y={r.y}
              width={BODY - WORDS}
              height={r.height * (r.step_id ? r.share : Math.min(r.share * 1.5, 1))}
              fill="url(#soak)"
            />
            <text
              x={7}
              y={r.y + r.height / 2 + 4}
              fontSize={12}
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth={3.5}
              paintOrder="stroke"
            >
              {r.name.length > 18 ? `${r.name.slice(0, 17)}…` : r.name}
            </text>
            <text x={BODY + 8} y={r.y + r.height / 2 + 4} fontSize={11.5} fill="var(--ink-2)">
              {r.step_id ? `${Math.round(r.share * 100)} % deep` : r.share > 0.05 ? "reached" : "spared"}
              {r.red !== null ? ` · RED ${r.red.toFixed(2)}` : ""}
            </text>
          </g>
        ))}
        <defs>
          <pattern id="soak" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill="var(--ink)" opacity="0.12" />
            <path d="M0 0V6" stroke="var(--ink)" strokeWidth="2.4" opacity="0.6" />
          </pattern>
        </defs>
      </svg>
      <figcaption className="text-xs text-ink-2">
        Hatched: how deep the carrier gets while it is wet.
      </figcaption>
    </figure>
  );
}

/** The seam in full and its remedies, worked out by the server when the seam is chosen. */
function useDetail(shot: Shot, seam: Seam) {
  const build = shot.build!;
  const times = build.times;
  const here = build.assessment.seams[seam.id];
  return useQuery({
    queryKey: ["seam", build.id, build.revision, times, seam.id],
    queryFn: async () => {
      const { data } = await api.GET("/api/builds/{build_id}/seams/{seam_id}", {
        params: { path: { build_id: build.id, seam_id: seam.id }, query: { times } },
      });
      return data!;
    },
    enabled: !!here && (times === "schedule" || here.verdict !== "sound"),
    retry: 1,
  });
}

function Remedies(p: {
  asked: ReturnType<typeof useDetail>;
  plan: Plan;
  seam: Seam;
  scheduled: boolean;
  store: BuildStore;
  shot: Shot;
  clock: Clockwork;
}) {
  const trying = p.shot.preview;
  const [chosen, setChosen] = useState<string | null>(null);
  const [beside, setBeside] = useState(false);
  const { data, isPending, isError, refetch } = p.asked;
  const name = p.plan.steps?.find((s) => s.id === p.seam.upper_step)?.name ?? "";
  return (
    <div data-testid="remedies">
      <div className="mb-1.5 flex items-center">
        <h3 className="font-semibold">
          What would work
          {p.scheduled ? <span className="font-normal text-ink-2">, tried by the sittings</span> : null}
        </h3>
        {data && data.remedies.length > 1 ? (
          <Push className="ml-auto no-print" onClick={() => setBeside(true)}>
            Compare
          </Push>
        ) : null}
      </div>
      <RemedySheet
        open={beside}
        name={name}
        remedies={data?.remedies ?? []}
        store={p.store}
        build={p.shot.build!}
        clock={p.clock}
        onClose={() => setBeside(false)}
      />
      {isError ? (
        <Push onClick={() => void refetch()}>No answer from the server; ask again</Push>
      ) : isPending ? (
        <p className="text-sm text-ink-2">Trying ways out on the plan…</p>
      ) : data.remedies.length === 0 ? (
        <p className="text-sm">
          Nothing that was tried mends it. Settle it on scrap: the same coats, the same ages, then this step;
          leave it a day before you judge.
        </p>
      ) : (
        <ul className="space-y-1.5">
          {data.remedies.map((r) => {
            const on = trying !== null && chosen === r.title;
            return (
              <li
                key={r.title}
                className={`rounded border ${on ? "border-ink bg-paper-2" : "border-line-soft"}`}
              >
                <button
                  type="button"
                  aria-pressed={on}
                  className="w-full px-3 py-2 text-left hover:bg-paper-2"
                  onClick={() => {
                    if (on) return p.store.putBack();
                    setChosen(r.title);
                    void p.store.look(`${told(r.title)}: ${name}`, r.edits as Edit[]);
                  }}
                >
                  <span className="flex items-baseline gap-2">
                    <span className="text-sm font-semibold">{told(r.title)}</span>
                    <span className="ml-auto shrink-0 text-sm">{cost(r)}</span>
                  </span>
                  <span className="block text-xs text-ink-2">{gain(r)}</span>
                </button>
                {on ? (
                  <div className="px-3 pb-2.5">
                    <p className="mb-2 text-sm">{r.detail}</p>
                    {r.caution ? <p className="mb-2 text-xs">{r.caution}</p> : null}
                    <Push className="mr-2" data-strong onClick={() => void p.store.keep()}>
                      Keep it
                    </Push>
                    <Push onClick={() => p.store.putBack()}>Put it back</Push>
                  </div>
                ) : null}
              </li>
            );
          })}
        </ul>
      )}
    </div>
  );
}

function cost(r: Remedy): string {
  const said = [];
  if (r.added_coats) said.push(`+${r.added_coats} coat`);
  said.push(r.added_min > 0 ? `+${span(r.added_min)}` : "no extra time");
  return said.join(", ");
}

function gain(r: Remedy): string {
  const parts = [];
  for (const [key, one, many] of [
    ["clashes", "clash", "clashes"],
    ["missed", "missed window", "missed windows"],
    ["waits", "wait", "waits"],
    ["cautions", "caution", "cautions"],
  ] as const) {
    const d = r.after[key] - r.before[key];
    if (d !== 0) parts.push(`${Math.abs(d)} ${Math.abs(d) === 1 ? one : many} ${d < 0 ? "fewer" : "more"}`);
  }
  return `${parts.join(", ")} in these zones`;
}
