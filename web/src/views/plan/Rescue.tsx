/** If it goes wrong: what takes this coat off at the clock's moment, drawn down the core; and what the fault may be. */
import { told } from "../../drawing/units";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  type Assessment,
  type Diagnosis,
  type Knowledge,
  type Plan,
  type RescueOut,
} from "../../api/client";
import type { Clockwork } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";
import { Choice } from "../../parts/Field";
import { useTimes } from "../../parts/useMinute";
import { useSettled } from "../../parts/useSettled";

export type At = {
  build: string;
  revision: number;
  plan: Plan;
  assessment: Assessment;
  clock: Clockwork;
  minute: number;
};

export function RescuePanel(p: At & { step: string; zone: string }) {
  const at = useSettled(Math.max(0, Math.round(p.minute)));
  const [times, words] = [useTimes(), useWords()];
  const { data } = useQuery({
    queryKey: ["rescue", p.build, p.revision, times, p.step, p.zone, at],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/rescue/{zone_id}/{step_id}", {
          params: { path: { build_id: p.build, zone_id: p.zone, step_id: p.step }, query: { at, times } },
        })
      ).data,
    placeholderData: keepPreviousData,
  });
  if (!data) return null;
  const { rescue: r, wipe } = data;
  return (
    <section className="border-t border-line-soft pt-2.5 text-sm" data-testid="rescue">
      <h3 className="flex items-baseline gap-2 font-semibold">
        If it goes wrong
        <span className="font-normal text-ink-2">{p.clock.short(at)}</span>
        {r.state !== "not_yet" ? <span className="ml-auto">{words.rescued(r.state)}</span> : null}
      </h3>
      <p className="mt-1">{told(r.sentence)}</p>
      {r.until?.best ? (
        <p className="text-xs text-ink-2">
          Until {p.clock.long(r.until.best)}
          {r.until.early && r.until.early > at ? `, easily until ${p.clock.short(r.until.early)}` : ""}.
        </p>
      ) : null}
      {r.state !== "not_yet" ? <CutDrawing {...p} data={data} /> : null}
      <p className="mt-1 text-xs">{told(wipe.sentence)}</p>
      {wipe.next_harm ? (
        <p className="text-xs text-ink-2">
          Anything stronger harms “{wipe.next_harm.name}”: {wipe.next_harm.word}.
        </p>
      ) : null}
      {r.ways.length > 1 || r.last_resort ? (
        <details className="mt-1 text-xs">
          <summary>Every means, and the last resort</summary>
          <ul className="mt-1 space-y-1">
            {r.ways.map((w) => (
              <li key={w.means} className="grid grid-cols-[1fr_auto] gap-2">
                <span>{w.name}</span>
                <span className={w.state === "clean" ? "font-semibold" : "text-ink-2"}>{wordOf(w)}</span>
              </li>
            ))}
          </ul>
          {r.last_resort ? <p className="mt-1 text-ink-2">{r.last_resort}</p> : null}
        </details>
      ) : null}
    </section>
  );
}

/** What is said of a means in a word or two. */
function wordOf(w: RescueOut["rescue"]["ways"][number]): string {
  if (w.state === "clean") return "clean";
  if (w.along.length > 0) return `takes “${w.along.join("”, “")}” too`;
  const harm = w.harms[0];
  if (harm) return `${harm.word} ${harm.name}`;
  return w.effort ? "with effort" : w.state;
}

const ROW = 17;
/** The core as it stands, newest on top: what comes off is hatched away, what would be hurt is cracked. */
function CutDrawing(p: At & { step: string; zone: string; data: RescueOut }) {
  const coats = (p.plan.steps ?? [])
    .filter((s) => s.kind === "coat" && s.zones.includes(p.zone))
    .map((s) => ({ id: s.id, name: s.name, coat: p.assessment.coats[`${s.id}~${p.zone}`]! }))
    .filter((c) => c.coat && c.coat.end_min <= p.minute)
    .reverse();
  const at = coats.findIndex((c) => c.id === p.step);
  if (at < 0) return null;
  const harmed = new Map((p.data.rescue.ways[0]?.harms ?? []).map((h) => [h.step_id, h.word]));
  const off = new Set(p.data.rescue.ways[0]?.comes_off ?? []);
  const possible = p.data.rescue.state !== "none";
  const shown = coats.slice(0, at + 5);
  return (
    <svg
      className="my-1.5"
      width="100%"
      viewBox={`0 0 310 ${shown.length * ROW + 4}`}
      role="img"
      aria-label={`What comes off with ${coats[at]!.name}`}
    >
      <defs>
        <pattern id="off" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V5" stroke="var(--ink)" strokeWidth="1.6" />
        </pattern>
      </defs>
      {shown.map((c, i) => {
        const y = 2 + i * ROW;
        const goes = off.has(c.id);
        const hurt = harmed.get(c.id);
        return (
          <g key={c.id}>
            <rect
              x={0}
              y={y}
              width={150}
              height={ROW}
              fill={c.coat.colour}
              stroke="var(--line)"
              strokeWidth={0.75}
              opacity={goes && possible ? 0.35 : 1}
            />
            {goes && possible ? (
              <rect x={0} y={y} width={150} height={ROW} fill="url(#off)" opacity={0.55} />
            ) : null}
            {hurt ? (
              <path
                d={`M6 ${y + 3}l7 5l-5 4l9 4M40 ${y + 2}l6 6l-6 3l8 5M86 ${y + 3}l5 5l-4 3l8 4M124 ${y + 2}l6 6l-5 3l6 4`}
                fill="none"
                stroke="var(--halo)"
                strokeWidth={3}
              />
            ) : null}
            {hurt ? (
              <path
                d={`M6 ${y + 3}l7 5l-5 4l9 4M40 ${y + 2}l6 6l-6 3l8 5M86 ${y + 3}l5 5l-4 3l8 4M124 ${y + 2}l6 6l-5 3l6 4`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.4}
              />
            ) : null}
            <text x={158} y={y + 12.5} fontSize={12} fill="var(--ink)" fontWeight={i === at ? 650 : 400}>
              {c.name.length > 17 ? `${c.name.slice(0, 16)}…` : c.name}
              {goes && possible ? " comes off" : hurt ? ` ${hurt}` : ""}
            </text>
          </g>
        );
      })}
      {possible ? (
        <path
          d={`M-2 ${2 + (at + 1) * ROW}H154`}
          stroke="var(--ink)"
          strokeWidth={2.5}
          strokeDasharray="7 3"
        />
      ) : null}
    </svg>
  );
}

/** From what it looks like to the next minute. */
export function FaultPanel(p: At & { known: Knowledge; step: string; zone: string }) {
  const [seen, setSeen] = useState("");
  const at = useSettled(Math.max(0, Math.round(p.minute)));
  const times = useTimes();
  const { data } = useQuery({
    queryKey: ["fault", p.build, p.revision, times, p.step, p.zone, seen, at],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/diagnose/{zone_id}/{step_id}/{appearance}", {
          params: {
            path: { build_id: p.build, zone_id: p.zone, step_id: p.step, appearance: seen },
            query: { at, times },
          },
        })
      ).data,
    enabled: seen !== "",
    placeholderData: keepPreviousData,
  });
  return (
    <section className="text-sm" data-testid="fault">
      <Choice
        label="It looks wrong: what do you see?"
        value={seen}
        options={[
          { value: "", label: "nothing wrong" },
          ...p.known.appearances.map((x) => ({ value: x.id, label: x.name.toLowerCase() })),
        ]}
        onTake={setSeen}
      />
      {seen && data ? <Causes d={data} /> : null}
    </section>
  );
}

function Causes({ d }: { d: Diagnosis }) {
  if (!d.causes.length)
    return <p className="mt-2">This coat cannot do that by itself; look at the coat above or below it.</p>;
  return (
    <ol className="mt-2 space-y-2">
      {d.causes.map((c, i) => (
        <li key={c.id}>
          <details open={i === 0}>
            <summary className="flex items-center gap-2">
              <svg width="34" height="10" aria-hidden="true" className="shrink-0">
                <rect width="34" height="10" fill="none" stroke="var(--line)" />
                <rect width={Math.max(34 * c.weight, 1)} height="10" fill="var(--ink)" />
              </svg>
              <span className={i === 0 ? "font-semibold" : ""}>{c.cause}</span>
            </summary>
            <div className="mt-1 space-y-1 border-l-2 border-line pl-3">
              {c.because.map((b) => (
                <p key={b} className="text-xs text-ink-2">
                  {b}
                </p>
              ))}
              <p>
                <strong>This minute: </strong>
                {c.now}
              </p>
              <p>
                <strong>Do not: </strong>
                {c.dont}
              </p>
              <p className="text-xs">
                <strong>Mend: </strong>
                {c.mend} <strong>Next time: </strong>
                {told(c.avoid)}
              </p>
            </div>
          </details>
        </li>
      ))}
    </ol>
  );
}
