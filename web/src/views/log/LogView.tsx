/** The logbook: real time downwards, what happened solid, what was planned dashed, pictures at their moment. */
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { api, must, type LogOut, type LogRow } from "../../api/client";
import { CLOCK } from "../../api/clock";
import { storeOf, useShot } from "../../api/store";
import { Clockwork, dateFormat } from "../../drawing/time";
import { told } from "../../drawing/units";
import { BuildDoor } from "../../parts/BuildDoor";
import { Choice } from "../../parts/Field";
import { ViewHead, ViewsBar } from "../../parts/Head";
import { useSmall } from "../../parts/useSmall";
import { Again } from "./Again";
import { Compare } from "./Compare";
import { NARROW, placed, WIDE, type Placed } from "./layout";
import { LearnedPanel } from "./LearnedPanel";
import { sameZone, Stamp } from "./Stamp";
import "./log.css";
import { Push } from "../../parts/Push";

export function LogView() {
  const { id } = useParams();
  return id ? <BuildDoor>{() => <OfBuild key={id} id={id} />}</BuildDoor> : <OverAll />;
}

function useLog(id: string | undefined) {
  return useQuery({
    queryKey: ["log", id ?? "all"],
    queryFn: async () =>
      id
        ? must(await api.GET("/api/builds/{build_id}/log", { params: { path: { build_id: id } } }))
        : must(await api.GET("/api/log")),
    refetchInterval: 15_000,
  });
}

function OfBuild({ id }: { id: string }) {
  const store = storeOf(id);
  const shot = useShot(store);
  const { data } = useLog(id);
  return (
    <div className="shell log-shell">
      <ViewHead build={shot.build!} store={store} on="log" />
      <main id="main" tabIndex={-1} className="min-h-0 overflow-auto" aria-busy={data ? undefined : true}>
        <h1 className="sr-only">{shot.build!.plan.build.name}: logbook</h1>
        {data ? <Book log={data} build={id} /> : null}
      </main>
      <ViewsBar id={id} on="log" />
    </div>
  );
}

function OverAll() {
  const { data } = useLog(undefined);
  return (
    <main className="mx-auto min-h-full max-w-6xl px-4 py-6" id="main" aria-busy={data ? undefined : true}>
      <p>
        <Link to="/" className="underline">
          All builds
        </Link>
      </p>
      <h1 className="text-xl font-bold">Logbook of all builds</h1>
      {data ? <Book log={data} /> : null}
    </main>
  );
}

type Filter = { words: string; material: string; technique: string; zone: string; fault: string };
const ALL: Filter = { words: "", material: "", technique: "", zone: "", fault: "" };

function passes(row: LogRow, f: Filter): boolean {
  const text = [
    row.name,
    row.words,
    row.note,
    row.fault,
    row.material_name,
    row.build_name,
    ...row.zone_names,
  ]
    .join(" ")
    .toLowerCase();
  return (
    f.words
      .toLowerCase()
      .split(/\s+/)
      .every((w) => text.includes(w)) &&
    (!f.material || row.material_name === f.material) &&
    (!f.technique || row.technique === f.technique) &&
    (!f.zone || row.zone_names.includes(f.zone)) &&
    (!f.fault || row.fault === f.fault)
  );
}

const choices = (rows: LogRow[], of: (r: LogRow) => string[], all: string) => [
  { value: "", label: all },
  ...[...new Set(rows.flatMap(of))]
    .filter(Boolean)
    .sort()
    .map((v) => ({ value: v, label: v.replaceAll("_", " ") })),
];

function Book({ log, build }: { log: LogOut; build?: string }) {
  const [filter, setFilter] = useState(ALL);
  const [again, setAgain] = useState<LogRow | null>(null);
  const [pair, setPair] = useState<LogRow | null>(null);
  const rows = useMemo(() => log.rows.filter((r) => passes(r, filter)), [log.rows, filter]);
  const blocks = useMemo(() => sittings(rows), [rows]);
  const put = (part: Partial<Filter>) => setFilter({ ...filter, ...part });
  const wrong = log.rows.filter((r) => r.said === "wrong" || r.said === "again").length;
  const late = log.rows.filter((r) => r.late);
  if (!log.rows.length)
    return (
      <div className="log-columns p-8">
        <div className="max-w-2xl">
          <h2 className="text-lg font-semibold">Nothing was done yet</h2>
          <p className="mt-2">
            What is done at the bench stands here by itself: each coat at its time, what was otherwise than
            planned, pictures, trials.
          </p>
          {build ? (
            <Link className="push mt-3" to={`/build/${build}/at-the-bench`}>
              To the bench
            </Link>
          ) : null}
        </div>
        <LearnedPanel build={build ?? ""} />
      </div>
    );
  return (
    <div className="log-page">
      <div className="log-tools no-print">
        <label className="min-w-40 grow">
          <span className="block text-xs text-ink-2">Find</span>
          <input
            className="field w-full"
            type="search"
            value={filter.words}
            placeholder="words, faults, notes"
            onChange={(e) => put({ words: e.target.value })}
          />
        </label>
        <Choice
          label="Material"
          value={filter.material}
          options={choices(log.rows, (r) => [r.material_name], "all")}
          onTake={(v) => put({ material: v })}
        />
        <Choice
          label="Technique"
          value={filter.technique}
          options={choices(log.rows, (r) => [r.technique ?? ""], "all")}
          onTake={(v) => put({ technique: v })}
        />
        <Choice
          label="Zone"
          value={filter.zone}
          options={choices(log.rows, (r) => r.zone_names, "all")}
          onTake={(v) => put({ zone: v })}
        />
        <Choice
          label="Fault"
          value={filter.fault}
          options={choices(log.rows, (r) => [r.fault], "all")}
          onTake={(v) => put({ fault: v })}
        />
        {build ? (
          <span className="ml-auto flex gap-1 self-end">
            {(["md", "csv", "json"] as const).map((kind) => (
              <a key={kind} className="push" href={`/api/builds/${build}/log.${kind}`} download>
                {{ md: "Markdown, pictures", csv: "CSV", json: "JSON" }[kind]}
              </a>
            ))}
            <Push onClick={() => window.print()}>Print</Push>
          </span>
        ) : null}
      </div>
      <p className="mt-2 text-sm text-ink-2" data-testid="log-sum">
        {blocks.length === 1 ? "1 sitting" : `${blocks.length} sittings`},{" "}
        {log.rows.filter((r) => r.said === "done").length} steps done
        {wrong ? `, ${wrong} done anew` : ""}
        {late.length ? `, ${late.length} at another time than planned` : ""}. Solid is what happened, dashed
        what was planned.
      </p>
      <div className="log-columns">
        <div>
          {blocks.map((block) => (
            <Sitting
              key={block[0]!.id}
              rows={block}
              log={log}
              many={!build}
              onAgain={setAgain}
              onPair={setPair}
              pairs={log.rows}
            />
          ))}
          {rows.length ? null : <p className="py-8">Nothing of that was found.</p>}
        </div>
        <LearnedPanel build={build ?? ""} />
      </div>
      {again ? <Again row={again} rows={log.rows} onClose={() => setAgain(null)} /> : null}
      {pair ? <Compare row={pair} rows={log.rows} onClose={() => setPair(null)} /> : null}
    </div>
  );
}

/** Rows of a sitting stand together; over all builds a sitting is of one build. */
function sittings(rows: LogRow[]): LogRow[][] {
  const blocks: LogRow[][] = [];
  for (const row of rows) {
    const last = blocks.at(-1);
    if (last && last[0]!.build === row.build && last[0]!.sitting === row.sitting) last.push(row);
    else blocks.push([row]);
  }
  return blocks;
}

function Sitting(p: {
  rows: LogRow[];
  log: LogOut;
  many: boolean;
  pairs: LogRow[];
  onAgain: (row: LogRow) => void;
  onPair: (row: LogRow) => void;
}) {
  const first = p.rows[0]!;
  const zone = p.log.timezones[first.build] ?? "UTC";
  const small = useSmall();
  const { rows, height } = useMemo(() => placed(p.rows, small ? NARROW : WIDE), [p.rows, small]);
  const x = small ? TRACKS.small : TRACKS.wide;
  const day = dateFormat({
    weekday: "long",
    day: "numeric",
    month: "short",
    timeZone: zone,
  });
  const start = p.log.starts[first.build] ?? first.at;
  const clock = new Clockwork(start, zone);
  const time = (t: string) => clock.time((Date.parse(t) - Date.parse(start)) / 60_000);
  return (
    <section className="log-sitting" data-testid="sitting">
      <h2 className="font-semibold">
        {day.format(new Date(first.at))}
        {new Date(first.at).getFullYear() !== new Date(CLOCK.now()).getFullYear()
          ? ` ${new Date(first.at).getFullYear()}`
          : ""}
        {p.many ? <span className="font-normal text-ink-2"> {first.build_name}</span> : null}
      </h2>
      <div className="relative" style={{ height }}>
        <svg className="absolute inset-y-0 left-0" width={x.all} height={height} aria-hidden="true">
          <path d={`M${x.spine} 0V${height - 8}`} stroke="var(--line)" strokeWidth="1.5" />
          {rows.map((r) => (
            <Bar key={r.row.id} r={r} x={x} />
          ))}
        </svg>
        <ol>
          {rows.map((r) => (
            <Row key={r.row.id} r={r} time={time} onAgain={p.onAgain} onPair={p.onPair} pairs={p.pairs} />
          ))}
        </ol>
      </div>
    </section>
  );
}

/** Where the tracks stand: the spine, what was planned, what happened. */
const TRACKS = {
  wide: { all: 132, spine: 58, plan: 64, planned: 16, solid: 84, wide: 40 },
  small: { all: 92, spine: 46, plan: 50, planned: 10, solid: 62, wide: 26 },
};
type Tracks = (typeof TRACKS)["wide"];

function Bar({ r, x }: { r: Placed; x: Tracks }) {
  const { row } = r;
  const colour = row.colour ?? "var(--paper)";
  const solid = row.said === "done" || row.said === "wrong" || row.said === "again";
  return (
    <g>
      {r.planned ? (
        <rect
          x={x.plan}
          y={r.planned[0]}
          width={x.planned}
          height={r.planned[1] - r.planned[0]}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="4 3"
        />
      ) : null}
      {r.planned && Math.abs(r.planned[0] - r.from) > 3 ? (
        <path
          d={`M${x.plan + x.planned} ${r.planned[0] + 2}L${x.solid} ${r.from + 2}`}
          stroke="var(--ink)"
          strokeWidth="1"
        />
      ) : null}
      {solid ? (
        <rect
          x={x.solid}
          y={r.from}
          width={x.wide}
          height={r.to - r.from}
          fill={colour}
          stroke="var(--edge)"
          strokeWidth="1.2"
        />
      ) : (
        <circle
          cx={x.spine}
          cy={r.from + 8}
          r={4}
          fill="var(--paper)"
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
      )}
      {row.said === "wrong" || row.said === "again" ? (
        <path
          d={`M${x.solid + 2} ${r.from + 1}L${x.solid + x.wide - 2} ${r.to - 1}M${x.solid + x.wide - 2} ${r.from + 1}L${x.solid + 2} ${r.to - 1}`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ) : null}
    </g>
  );
}

function Row(p: {
  r: Placed;
  time: (t: string) => string;
  onAgain: (row: LogRow) => void;
  onPair: (row: LogRow) => void;
  pairs: LogRow[];
}) {
  const { row } = p.r;
  const others = row.picture ? p.pairs.filter((x) => x.picture && x.id !== row.id && sameZone(x, row)) : [];
  return (
    <li className="log-row" style={{ top: p.r.y }} data-row={row.id}>
      <span className="log-time">{p.time(row.at)}</span>
      <div className="min-w-0">
        <p>
          <strong>{row.name || "Note"}</strong>{" "}
          <span className="text-ink-2">
            {row.zone_names.length > 2 ? `${row.zone_names.length} zones` : row.zone_names.join(", ")}
          </span>{" "}
          {row.words}
          {row.mix ? `, ${row.mix}` : ""}
          {row.figures ? told(`, ${row.figures}`) : ""}
          {row.fault ? `: ${row.fault}` : ""}
          {row.late ? <em className="text-ink-2"> {row.late}</em> : null}
        </p>
        {row.note ? <p className="text-sm text-ink-2">{row.note}</p> : null}
      </div>
      {row.picture ? (
        <figure className="log-picture">
          <a href={`/api/builds/${row.build}/pictures/${row.picture}`} target="_blank" rel="noreferrer">
            <img
              src={`/api/builds/${row.build}/pictures/${row.picture}?small=true`}
              alt={`${row.name || "The build"}, ${row.zone_names.join(", ")}`}
              loading="lazy"
            />
          </a>
          <Stamp row={row} />
        </figure>
      ) : null}
      <span className="no-print ml-auto flex shrink-0 gap-1">
        {others.length ? <Push onClick={() => p.onPair(row)}>Slide over another</Push> : null}
        {row.said === "done" && row.kind === "coat" ? (
          <Push onClick={() => p.onAgain(row)}>Again</Push>
        ) : null}
      </span>
    </li>
  );
}
