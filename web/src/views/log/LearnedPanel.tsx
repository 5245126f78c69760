/** What was learned: from how many looks, how sure, what it changes in this plan; used, undone, reset, kept for here. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, plainWords, type Edit, type LearnedAll } from "../../api/client";
import { storeOf, useShot } from "../../api/store";
import { Push } from "../../parts/Push";

export function LearnedPanel({ build }: { build: string }) {
  const client = useQueryClient();
  const key = ["learned", build];
  const { data } = useQuery({
    queryKey: key,
    queryFn: async () => must(await api.GET("/api/learned", { params: { query: { build } } })),
  });
  const keep = async (id: string, part: { bench?: string; reset?: boolean }) => {
    const { data: now } = await api.POST("/api/learned", {
      params: { query: { build } },
      body: { id, bench: "", reset: false, ...part },
    });
    if (now) client.setQueryData(key, now);
  };
  if (!data) return <aside aria-busy="true" />;
  const seen = data.figures.filter((f) => f.figure.own || f.is_system);
  const first = seen.filter((f) => f.figure.quantity === "drying" && !f.is_system);
  const others = seen.filter((f) => !first.includes(f));
  return (
    <aside className="log-learned" aria-label="What was learned" data-testid="learned">
      <h2 className="font-semibold">What was learned</h2>
      {data.figures.length ? null : (
        <p className="mt-1 text-sm">
          Nothing yet. It learns from “It is dry now”, “Still wet”, from times and figures that you enter.
        </p>
      )}
      <ul className="mt-2 space-y-3">
        {first.map((f) => (
          <Learnt key={f.id} f={f} build={build} onKeep={keep} />
        ))}
      </ul>
      {build && data.figures.length ? <UseIt build={build} data={data} /> : null}
      {others.length ? (
        <details className="mt-3 text-sm">
          <summary className="min-h-7">Pace, thickness, coats and whole systems: {others.length}</summary>
          <ul className="mt-2 space-y-3">
            {others.map((f) => (
              <Learnt key={f.id} f={f} build={build} onKeep={keep} />
            ))}
          </ul>
        </details>
      ) : null}
      <p className="mt-3 text-xs text-ink-2">
        {data.observations === 1 ? "1 observation" : `${data.observations} observations`} in{" "}
        {data.builds === 1 ? "1 build" : `${data.builds} builds`}. {data.prior}
      </p>
    </aside>
  );
}

function Learnt(p: {
  f: LearnedAll["figures"][number];
  build: string;
  onKeep: (id: string, part: { bench?: string; reset?: boolean }) => Promise<void>;
}) {
  const { f, build } = p;
  return (
    <li className="text-sm" data-learned={f.id}>
      <Range f={f} />
      <p>{f.words}</p>
      <p className="flex flex-wrap gap-1 pt-1">
        {build ? (
          <Push
            aria-pressed={f.bench === build}
            onClick={() => void p.onKeep(f.id, { bench: f.bench === build ? "" : build })}
          >
            {f.bench === build ? "Holds for this build only ✓" : "Keep for this build only"}
          </Push>
        ) : null}
        <Push onClick={() => void p.onKeep(f.id, { bench: f.bench, reset: true })}>Begin anew</Push>
      </p>
    </li>
  );
}

const WIDE = 220;
/** A factor on a scale of halves and doubles: what ships is the middle line. */
function Range({ f }: { f: LearnedAll["figures"][number] }) {
  const x = (v: number) => WIDE / 2 + (Math.log2(Math.min(Math.max(v, 0.3), 3.3)) / 1.75) * (WIDE / 2);
  const { low, high, factor } = f.figure;
  return (
    <svg
      width={WIDE}
      height="22"
      className="max-w-full"
      role="img"
      aria-label={`${f.name}: ×${factor.toFixed(2)}, ×${low.toFixed(2)} to ×${high.toFixed(2)}`}
    >
      <path d={`M0 16H${WIDE}`} stroke="var(--line)" />
      {[0.5, 1, 2].map((v) => (
        <g key={v}>
          <path d={`M${x(v)} ${v === 1 ? 2 : 12}V20`} stroke="var(--line)" strokeWidth={v === 1 ? 2 : 1} />
        </g>
      ))}
      <path d={`M${x(low)} 10H${x(high)}`} stroke="var(--ink)" strokeWidth="3" />
      <circle cx={x(factor)} cy={10} r={4.5} fill="var(--paper)" stroke="var(--ink)" strokeWidth="2" />
    </svg>
  );
}

function UseIt({ build, data }: { build: string; data: LearnedAll }) {
  const store = storeOf(build);
  const client = useQueryClient();
  const used = useShot(store).build?.plan.learned ?? [];
  const [said, setSaid] = useState("");
  const put = async (off: boolean) => {
    const before = store.snapshot().build;
    if (!before) return;
    let edits: Edit[] = [{ edit: "set_learned", learned: [] }];
    if (!off) {
      const { data: told } = await api.GET("/api/builds/{build_id}/learned-edits", {
        params: { path: { build_id: build } },
      });
      if (!told) return setSaid(plainWords(undefined));
      edits = told.edits as Edit[];
    }
    const outcome = await store.edit(off ? "Go by what ships" : "Go by what was learned", edits);
    const after = store.snapshot().build;
    if (outcome.ok && after) setSaid(changed(before, after));
    void client.invalidateQueries({ queryKey: ["learned", build] });
  };
  const newer = data.figures.some(
    (f) =>
      f.here &&
      f.figure.quantity === "drying" &&
      (f.used === null || Math.abs(f.used / f.figure.factor - 1) > 0.02),
  );
  return (
    <div className="mt-3 border-t border-line pt-2 text-sm" data-testid="use-learned">
      <p>
        {used.length
          ? `This plan goes by what was learned, ${used.length} figures${newer ? "; newer ones are there" : ""}.`
          : "This plan goes by what ships."}
      </p>
      <p className="flex flex-wrap gap-1 pt-1">
        {!used.length || newer ? (
          <Push data-strong onClick={() => void put(false)}>
            Go by what was learned
          </Push>
        ) : null}
        {used.length ? <Push onClick={() => void put(true)}>Go by what ships</Push> : null}
      </p>
      {said ? (
        <p className="mt-1" role="status" data-testid="learned-changes">
          {said}
        </p>
      ) : null}
    </div>
  );
}

type Built = NonNullable<ReturnType<ReturnType<typeof storeOf>["snapshot"]>["build"]>;
/** What it changes in the plan: how much sooner or later it ends, and what the plan says now. */
function changed(before: Built, after: Built): string {
  const days = (after.assessment.end_min - before.assessment.end_min) / 60;
  const [was, is] = [before.assessment.score, after.assessment.score];
  const end =
    Math.abs(days) < 0.1
      ? "It ends when it did"
      : `It ends ${Math.abs(days).toFixed(1)} h ${days > 0 ? "later" : "sooner"}`;
  const told =
    was.clashes === is.clashes && was.waits === is.waits && was.cautions === is.cautions
      ? "the verdicts stay"
      : `waits ${was.waits} → ${is.waits}, cautions ${was.cautions} → ${is.cautions}, clashes ${was.clashes} → ${is.clashes}`;
  return `${end}; ${told}. Windows and waits are as narrow as what is known. Undo takes it back.`;
}
