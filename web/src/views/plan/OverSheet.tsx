/** What may go over this, and what should lie under it: the whole shelf against the core as it stands. */
import { told } from "../../drawing/units";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Over, type Plan, type Under } from "../../api/client";
import { LineSample } from "../../drawing/Line";
import { shortSpan, type Clockwork } from "../../drawing/time";
import type { Verdict } from "../../drawing/tokens";
import { Sheet } from "../../parts/Panel";
import { useTimes } from "../../parts/useMinute";
import { Push } from "../../parts/Push";

export type OverAt = { zone: string; step: string | null; minute: number };
type Props = {
  at: OverAt | null;
  build: string;
  revision: number;
  plan: Plan;
  clock: Clockwork;
  onClose: () => void;
};

const GROUPS: [Verdict, string][] = [
  ["sound", "Now"],
  ["wait", "Later"],
  ["caution", "With care"],
  ["clash", "Not"],
];

export function OverSheet(p: Props) {
  const zone = p.plan.zones.find((z) => z.id === p.at?.zone)?.name ?? "";
  const step = p.plan.steps?.find((s) => s.id === p.at?.step);
  const [side, setSide] = useState<"over" | "under">("over");
  const title =
    side === "over" || !step
      ? `What may go over ${zone}, ${p.at ? p.clock.long(p.at.minute) : ""}`
      : `What should lie under “${step.name}”`;
  return (
    <Sheet open={p.at !== null} title={title} onClose={p.onClose} wide>
      {step?.kind === "coat" ? (
        <div className="mb-3 flex gap-1">
          {(["over", "under"] as const).map((s) => (
            <Push
              key={s}

              aria-pressed={side === s}
              data-strong={side === s || undefined}
              onClick={() => setSide(s)}
            >
              {s === "over" ? "Over the core as it stands" : "Under this coat"}
            </Push>
          ))}
        </div>
      ) : null}
      {p.at ? (
        side === "under" && step ? (
          <UnderList {...p} step={step.id} />
        ) : (
          <OverList {...p} at={p.at} />
        )
      ) : null}
    </Sheet>
  );
}

function OverList(p: Props & { at: OverAt }) {
  const at = Math.max(0, Math.round(p.at.minute));
  const [query, setQuery] = useState("");
  const times = useTimes();
  const { data } = useQuery({
    queryKey: ["over", p.build, p.revision, times, p.at.zone, at],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/over/{zone_id}", {
          params: { path: { build_id: p.build, zone_id: p.at.zone }, query: { at, times } },
        })
      ).data ?? [],
  });
  if (!data) return <p className="text-sm text-ink-2">Trying every material on it…</p>;
  const hits = data.filter((o) =>
    `${o.name} ${o.system} ${o.techniques.join(" ")}`.toLowerCase().includes(query.toLowerCase()),
  );
  return (
    <div data-testid="over">
      <input
        className="field mb-3 w-full"
        aria-label="Narrow it down"
        placeholder="clear, enamel, wash …"
        value={query}
        onChange={(e) => setQuery(e.target.value)}
      />
      <div className="space-y-4">
        {GROUPS.map(([verdict, title]) => {
          const rows = hits.filter((o) => o.verdict === verdict);
          return rows.length ? (
            <section key={verdict}>
              <h3 className="mb-1 flex items-center gap-2 font-semibold">
                <LineSample verdict={verdict} /> {title}
              </h3>
              <ul>
                {rows.map((o) => (
                  <OverRow key={o.material} o={o} at={at} clock={p.clock} />
                ))}
              </ul>
            </section>
          ) : null;
        })}
      </div>
    </div>
  );
}

function OverRow({ o, at, clock }: { o: Over; at: number; clock: Clockwork }) {
  const later = o.opens_min !== null && o.opens_min > at + 1;
  return (
    <li className="border-t border-line-soft">
      <details>
        <summary className="flex min-h-8 items-center gap-2.5 text-sm">
          <span className="h-4 w-4 shrink-0 border border-line" style={{ background: o.colour }} />
          {o.name}
          <span className="ml-auto text-xs text-ink-2">
            {o.verdict === "sound"
              ? ""
              : later
                ? `${o.then === "caution" ? "with care " : ""}from ${clock.long(o.opens_min!)}`
                : o.word}
          </span>
        </summary>
        <p className="pb-2 pl-7 text-sm">
          {o.verdict !== "sound" ? `On “${o.on}”: ` : ""}
          {told(o.sentence)} <span className="text-ink-2">{told(o.advice)}</span>
          {o.techniques.length ? (
            <span className="block text-xs text-ink-2">For {o.techniques.join(", ").toLowerCase()}.</span>
          ) : null}
        </p>
      </details>
    </li>
  );
}

function UnderList(p: Props & { step: string }) {
  const { data } = useQuery({
    queryKey: ["under", p.build, p.revision, p.step],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/under/{step_id}", {
          params: { path: { build_id: p.build, step_id: p.step } },
        })
      ).data ?? [],
  });
  if (!data) return <p className="text-sm text-ink-2">Trying it on every ground…</p>;
  return (
    <div className="space-y-4" data-testid="under">
      {GROUPS.map(([verdict, title]) => {
        const rows = data.filter((u) => u.verdict === verdict);
        return rows.length ? (
          <section key={verdict}>
            <h3 className="mb-1 flex items-center gap-2 font-semibold">
              <LineSample verdict={verdict} /> {title === "Now" ? "Good under it" : title}
            </h3>
            <ul>
              {rows.map((u) => (
                <UnderRow key={u.material + u.sheen} u={u} />
              ))}
            </ul>
          </section>
        ) : null;
      })}
    </div>
  );
}

function UnderRow({ u }: { u: Under }) {
  return (
    <li className="flex min-h-8 items-center gap-2.5 border-t border-line-soft text-sm">
      <span className="h-4 w-4 shrink-0 border border-line" style={{ background: u.colour }} />
      {u.name}, {u.sheen}
      <span className="ml-auto text-xs text-ink-2">
        {u.verdict === "sound" ? `from ${shortSpan(u.age_min)} old` : u.word}
      </span>
    </li>
  );
}
