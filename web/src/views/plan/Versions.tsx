/** The plan as it is, mended and undoable, side by side: what each costs and what it leaves. */
import { told } from "../../drawing/units";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  must,
  type Assessment,
  type BuildOut,
  type Edit,
  type Plan,
  type Remedy,
} from "../../api/client";
import type { BuildStore } from "../../api/store";
import { SeamPath } from "../../drawing/Line";
import { span, type Clockwork } from "../../drawing/time";
import { VERDICTS, type Verdict } from "../../drawing/tokens";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

/** One plan among those compared; no edits: the plan as it is. */
type Column = {
  title: string;
  build: BuildOut;
  edits: Edit[] | null;
  facts: string;
  made: { title: string; what_for: string }[];
  left: string[];
};
type Working = { title: string; working: true; looking?: Looking };
/** How far the server is with a long plan's version, and the way to end it with what was found so far. */
type Looking = { at: number; stopping: boolean; stop: () => void };

export function Versions(p: {
  open: boolean;
  store: BuildStore;
  build: BuildOut;
  clock: Clockwork;
  onClose: () => void;
}) {
  return (
    <Sheet open={p.open} title="As planned, mended, with a way back" onClose={p.onClose} widest>
      {p.open ? <Columns {...p} /> : null}
    </Sheet>
  );
}

const plus = (coats: number, minutes: number) =>
  [coats ? `+${coats} ${coats === 1 ? "coat" : "coats"}` : "", minutes > 0 ? `+${span(minutes)}` : ""]
    .filter(Boolean)
    .join(", ");

function asPlanned(build: BuildOut): Column {
  return { title: "As planned", build, edits: null, facts: "", made: [], left: [] };
}

function useVersion(store: BuildStore, build: BuildOut, which: "mended" | "undoable") {
  return useQuery({
    queryKey: [which, build.id, build.revision],
    queryFn: async (): Promise<Column> => {
      const path = { params: { path: { build_id: build.id } } };
      const v = must(
        which === "mended"
          ? await api.GET("/api/builds/{build_id}/mended", path)
          : await api.GET("/api/builds/{build_id}/undoable", path),
      );
      const edits = v.edits as Edit[];
      const facts = [plus(v.added_coats, v.added_min), `at most ${Math.round(v.thickest_um)} µm`];
      return {
        title: v.title,
        build: (await store.tryOut(v.title, edits)) ?? build,
        edits,
        facts: facts.filter(Boolean).join(", "),
        made: v.made,
        left: v.left,
      };
    },
    staleTime: Infinity,
  });
}

const ASKED_EVERY = 700;

/** What the server is at of a long plan's versions; asked only while something is waited for. */
function useLooking(build: BuildOut, waiting: boolean): { kind: string; looking: Looking } | null {
  const [stopped, setStopped] = useState("");
  const path = { params: { path: { build_id: build.id } } };
  const { data } = useQuery({
    queryKey: ["looking", build.id],
    queryFn: async () => must(await api.GET("/api/builds/{build_id}/looking", path)) ?? null,
    enabled: waiting,
    refetchInterval: ASKED_EVERY,
  });
  if (!waiting || !data) return null;
  const stop = () => {
    setStopped(data.kind);
    void api.POST("/api/builds/{build_id}/looking/stop", path);
  };
  return { kind: data.kind, looking: { at: data.looked_at, stopping: stopped === data.kind, stop } };
}

type Beside = { store: BuildStore; build: BuildOut; clock: Clockwork; onClose: () => void };

function Columns(p: Beside) {
  const built = asPlanned(p.build);
  const mended = useVersion(p.store, p.build, "mended");
  const undoable = useVersion(p.store, p.build, "undoable");
  const at = useLooking(p.build, !mended.data || !undoable.data);
  const working = (title: string, kind: string): Working => ({
    title,
    working: true,
    looking: at?.kind === kind ? at.looking : undefined,
  });
  const same = undoable.data && undoable.data.edits?.length === mended.data?.edits?.length;
  return (
    <SideBySide
      {...p}
      columns={[
        built,
        mended.data ?? working("Mended", "mended"),
        undoable.data
          ? same
            ? { ...undoable.data, edits: null, made: [], left: ["The mended plan has a way back already."] }
            : undoable.data
          : working("With a way back", "undoable"),
      ]}
    />
  );
}

const MOST_COMPARED = 3;

/** The first remedies of a seam beside the plan as it is: what each costs and what it leaves. */
export function RemedySheet(p: Beside & { open: boolean; name: string; remedies: Remedy[] }) {
  return (
    <Sheet open={p.open} title={`Ways out for “${p.name}”`} onClose={p.onClose} widest>
      {p.open ? <RemedyColumns {...p} /> : null}
    </Sheet>
  );
}

function RemedyColumns(p: Beside & { name: string; remedies: Remedy[] }) {
  const compared = p.remedies.slice(0, MOST_COMPARED);
  const built = asPlanned(p.build);
  const { data } = useQuery({
    queryKey: ["compared", p.build.id, p.build.revision, compared.map((r) => r.title)],
    queryFn: async (): Promise<Column[]> => {
      const columns: Column[] = [];
      for (const r of compared) {
        const edits = r.edits as Edit[];
        columns.push({
          title: r.title,
          build: (await p.store.tryOut(r.title, edits)) ?? p.build,
          edits,
          facts: plus(r.added_coats, r.added_min) || "no extra time",
          made: [{ title: r.detail, what_for: r.caution ?? "" }],
          left: [],
        });
      }
      return columns;
    },
    staleTime: Infinity,
  });
  const working = compared.map((r): Working => ({ title: r.title, working: true }));
  return <SideBySide {...p} columns={[built, ...(data ?? working)]} />;
}

function SideBySide(p: Beside & { columns: (Column | Working)[] }) {
  return (
    <>
      {p.build.times === "schedule" ? (
        <p className="mb-3 text-sm text-ink-2">
          Judged by the sittings as they are planned. After a change, plan them again.
        </p>
      ) : null}
      <div
        className="grid gap-5"
        style={{ gridTemplateColumns: `repeat(${p.columns.length}, minmax(0, 1fr))` }}
        data-testid="versions"
      >
        {p.columns.map((c) =>
          "working" in c ? <InTheWorks key={c.title} c={c} /> : <OneVersion key={c.title} {...p} c={c} />,
        )}
      </div>
    </>
  );
}

const TITLE = "flex min-h-[2.8rem] items-end text-lg leading-tight font-semibold";

function InTheWorks({ c: { title, looking } }: { c: Working }) {
  const seams = looking ? `${looking.at} ${looking.at === 1 ? "place" : "places"}` : "";
  return (
    <section>
      <h3 className={TITLE}>{title}</h3>
      <p className="text-sm text-ink-2" role="status">
        {!looking
          ? "Trying ways out on the plan, one after the other…"
          : looking.stopping
            ? `Stopping; ${seams} looked at`
            : `Trying ways out, the gravest first: ${seams} looked at so far`}
      </p>
      {looking && !looking.stopping ? (
        <Push className="mt-2" onClick={looking.stop}>
          Stop, and show what was found
        </Push>
      ) : null}
    </section>
  );
}

function OneVersion(p: Beside & { c: Column }) {
  const { build, title, edits, facts, made, left } = p.c;
  const a = build.assessment;
  const take = (keep: boolean) => {
    void (keep ? p.store.edit(title, edits!) : p.store.look(title, edits!));
    p.onClose();
  };
  return (
    <section className="flex flex-col">
      <h3 className={TITLE}>{title}</h3>
      <p className="text-sm">{scoreWords(a)}</p>
      <p className="text-sm text-ink-2">
        {build.plan.steps?.filter((s) => s.kind === "coat").length} coats, done {p.clock.long(a.end_min)}
        {facts ? ` (${facts})` : ""}
      </p>
      <MiniRack plan={build.plan} a={a} />
      {edits?.length ? (
        <div className="mb-2 flex flex-wrap gap-2">
          <Push onClick={() => take(false)}>Look at it in the rack</Push>
          <Push data-strong onClick={() => take(true)}>
            Keep it
          </Push>
        </div>
      ) : edits ? (
        <p className="mb-2 text-sm">
          {left.length ? "Nothing was found that helps." : "Nothing needs changing for this."}
        </p>
      ) : null}
      <ol className={`space-y-1 text-sm ${made.length > 1 ? "list-decimal pl-5" : ""}`}>
        {made.map((m, i) => (
          <li key={i}>
            {told(m.title)}
            <span className="block text-xs text-ink-2">{told(m.what_for)}</span>
          </li>
        ))}
      </ol>
      {left.length ? (
        <div className="mt-2 text-sm">
          {edits ? <h4 className="font-semibold">Not mended</h4> : null}
          <ul className={edits ? "list-disc pl-5" : ""}>
            {left.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ul>
        </div>
      ) : null}
    </section>
  );
}

function scoreWords(a: Assessment): string {
  const of = (verdict: Verdict) => a.stories.filter((s) => s.verdict === verdict && !s.missed).length;
  const missed = a.stories.filter((s) => s.missed).length;
  const parts = [
    [of("clash"), "clash", "clashes"],
    [missed, "missed window", "missed windows"],
    [of("wait"), "wait", "waits"],
    [of("caution"), "caution", "cautions"],
  ] as const;
  const counted = parts.filter(([n]) => n > 0).map(([n, one, many]) => `${n} ${n === 1 ? one : many}`);
  return counted.length ? counted.join(", ") : "All seams are sound";
}

const HEIGHT = 210;
/** The rack in small: cores side by side, each seam's line where it is not sound. */
function MiniRack({ plan, a }: { plan: Plan; a: Assessment }) {
  const width = 300 / plan.zones.length;
  const cores = plan.zones.map((z) =>
    (plan.steps ?? [])
      .filter((s) => s.kind === "coat" && s.zones.includes(z.id))
      .map((s) => ({ s, coat: a.coats[`${s.id}~${z.id}`]! })),
  );
  const most = Math.max(
    1,
    ...cores.map((c) => c.reduce((sum, x) => sum + 6 + 3 * Math.sqrt(x.coat?.film_um ?? 1), 0)),
  );
  const k = (HEIGHT - 20) / most;
  return (
    <svg
      viewBox={`0 0 300 ${HEIGHT}`}
      width="100%"
      className="my-3"
      role="img"
      aria-label="The cores of this version"
    >
      {cores.map((core, i) => {
        let y = HEIGHT - 14;
        const x = i * width + 4;
        return (
          <g key={plan.zones[i]!.id}>
            {core.map(({ s, coat }) => {
              const h = (6 + 3 * Math.sqrt(coat?.film_um ?? 1)) * k;
              y -= h;
              const verdict = worst(a, s.id, plan.zones[i]!.id);
              return (
                <g key={s.id}>
                  <rect
                    x={x}
                    y={y}
                    width={width - 10}
                    height={h}
                    fill={coat?.colour ?? "#999999"}
                    stroke="var(--line)"
                    strokeWidth={0.5}
                  >
                    <title>{s.name}</title>
                  </rect>
                  {verdict !== "sound" ? (
                    <SeamPath x0={x - 2} x1={x + width - 8} y={y + h} verdict={verdict} />
                  ) : null}
                </g>
              );
            })}
            <rect
              x={x}
              y={HEIGHT - 14}
              width={width - 10}
              height={10}
              fill="var(--paper-2)"
              stroke="var(--line)"
            />
          </g>
        );
      })}
    </svg>
  );
}

function worst(a: Assessment, step: string, zone: string): Verdict {
  let found: Verdict = "sound";
  for (const s of Object.values(a.seams))
    if (s.upper_step === step && s.zone_id === zone && VERDICTS.indexOf(s.verdict) > VERDICTS.indexOf(found))
      found = s.verdict;
  return found;
}
