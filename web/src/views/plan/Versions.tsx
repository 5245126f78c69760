/** The plan as built, mended and undoable, side by side: what each costs and what it leaves. */
import { useQuery } from "@tanstack/react-query";
import {
  api,
  type Assessment,
  type BuildOut,
  type Edit,
  type Plan,
  type Score,
  type Version,
} from "../../api/client";
import type { BuildStore } from "../../api/store";
import { SeamPath } from "../../drawing/Line";
import { span, type Clockwork } from "../../drawing/time";
import type { Verdict } from "../../drawing/tokens";
import { Sheet } from "../../parts/Panel";

type Column = { title: string; version: Version | null; build: BuildOut };

export function Versions(p: {
  open: boolean;
  store: BuildStore;
  build: BuildOut;
  clock: Clockwork;
  onClose: () => void;
}) {
  return (
    <Sheet open={p.open} title="As built, mended, undoable" onClose={p.onClose} widest>
      {p.open ? <Columns {...p} /> : null}
    </Sheet>
  );
}

function useVersion(store: BuildStore, build: BuildOut, which: "mended" | "undoable") {
  return useQuery({
    queryKey: [which, build.id, build.revision],
    queryFn: async (): Promise<Column> => {
      const path = { params: { path: { build_id: build.id } } };
      const { data } =
        which === "mended"
          ? await api.GET("/api/builds/{build_id}/mended", path)
          : await api.GET("/api/builds/{build_id}/undoable", path);
      const tried = await store.tryOut(data!.title, data!.edits as Edit[]);
      return { title: data!.title, version: data!, build: tried ?? build };
    },
    staleTime: Infinity,
  });
}

function Columns(p: { store: BuildStore; build: BuildOut; clock: Clockwork; onClose: () => void }) {
  const mended = useVersion(p.store, p.build, "mended");
  const undoable = useVersion(p.store, p.build, "undoable");
  const columns: (Column | { title: string; working: boolean })[] = [
    { title: "As built", version: null, build: p.build },
    mended.data ?? { title: "Mended", working: true },
    undoable.data ?? { title: "Undoable", working: true },
  ];
  return (
    <div className="grid grid-cols-3 gap-5" data-testid="versions">
      {columns.map((c) =>
        "working" in c ? (
          <section key={c.title}>
            <h3 className="text-lg font-semibold">{c.title}</h3>
            <p className="mt-2 text-sm text-ink-2">Trying ways out on the plan, one after the other…</p>
          </section>
        ) : (
          <OneVersion
            key={c.title}
            c={c}
            {...p}
            same={c === undoable.data && c.version?.edits.length === mended.data?.version?.edits.length}
          />
        ),
      )}
    </div>
  );
}

function OneVersion(p: {
  c: Column;
  same: boolean;
  store: BuildStore;
  build: BuildOut;
  clock: Clockwork;
  onClose: () => void;
}) {
  const { version, build, title } = p.c;
  const a = build.assessment;
  const take = (keep: boolean) => {
    void (keep
      ? p.store.edit(`${title}: the whole plan`, version!.edits as Edit[])
      : p.store.look(`${title}: the whole plan`, version!.edits as Edit[]));
    p.onClose();
  };
  return (
    <section className="flex flex-col">
      <h3 className="text-lg font-semibold">{title}</h3>
      <p className="text-sm">{scoreWords(a.score)}</p>
      <p className="text-sm text-ink-2">
        {build.plan.steps?.filter((s) => s.kind === "coat").length} coats
        {version && version.added_coats ? ` (+${version.added_coats})` : ""}, done {p.clock.long(a.end_min)}
        {version && version.added_min > 0 ? ` (+${span(version.added_min)})` : ""}
        {version ? `, at most ${Math.round(version.thickest_um)} µm` : ""}
      </p>
      <MiniRack plan={build.plan} a={a} />
      {version ? (
        <>
          {p.same ? <p className="mb-2 text-sm">The mended plan is that already.</p> : null}
          {p.same ? null : version.edits.length ? (
            <div className="mb-2 flex gap-2">
              <button type="button" className="push" onClick={() => take(false)}>
                Look at it in the rack
              </button>
              <button type="button" className="push" data-strong onClick={() => take(true)}>
                Keep it
              </button>
            </div>
          ) : (
            <p className="mb-2 text-sm">Nothing needs changing for this.</p>
          )}
          <ol className="list-decimal space-y-1 pl-5 text-sm">
            {(p.same ? [] : version.made).map((m, i) => (
              <li key={i}>
                {m.title}
                <span className="block text-xs text-ink-2">{m.what_for}</span>
              </li>
            ))}
          </ol>
          {version.left.length ? (
            <div className="mt-2 text-sm">
              <h4 className="font-semibold">Not mended</h4>
              <ul className="list-disc pl-5">
                {version.left.map((l) => (
                  <li key={l}>{l}</li>
                ))}
              </ul>
            </div>
          ) : null}
        </>
      ) : null}
    </section>
  );
}

function scoreWords(s: Score): string {
  const parts = [
    [s.clashes, "clashing seam", "clashing seams"],
    [s.missed, "missed window", "missed windows"],
    [s.waits, "wait", "waits"],
    [s.cautions, "caution", "cautions"],
  ] as const;
  const told = parts.filter(([n]) => n > 0).map(([n, one, many]) => `${n} ${n === 1 ? one : many}`);
  return told.length ? told.join(", ") : "All seams are sound";
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
  const order: Verdict[] = ["sound", "caution", "wait", "clash"];
  let found: Verdict = "sound";
  for (const s of Object.values(a.seams))
    if (s.upper_step === step && s.zone_id === zone && order.indexOf(s.verdict) > order.indexOf(found))
      found = s.verdict;
  return found;
}
