/** I do not have that: what stands in, and what changes with it. */
import { told } from "../../drawing/units";
import { useQuery } from "@tanstack/react-query";
import { api, type CoatStep, type Edit, type Knowledge, type Substitute } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

export function SubstituteSheet(p: {
  lacking: string | null;
  step: CoatStep;
  known: Knowledge;
  build: string;
  revision: number;
  store: BuildStore;
  onClose: () => void;
}) {
  const name =
    [...p.known.coats, ...p.known.thinners].find((m) => m.id === p.lacking)?.name.toLowerCase() ?? "that";
  const { data } = useQuery({
    queryKey: ["substitutes", p.build, p.revision, p.step.id, p.lacking],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/substitutes/{step_id}/{lacking}", {
          params: { path: { build_id: p.build, step_id: p.step.id, lacking: p.lacking! } },
        })
      ).data ?? [],
    enabled: p.lacking !== null,
  });
  return (
    <Sheet open={p.lacking !== null} title={`Without ${name}`} onClose={p.onClose} wide>
      {!data ? <p className="text-sm text-ink-2">Trying what could stand in…</p> : null}
      {data?.length === 0 ? <p className="text-sm">Nothing that is known here stands in for it.</p> : null}
      <ul data-testid="substitutes">
        {data?.map((s) => (
          <Row key={s.title} s={s} {...p} />
        ))}
      </ul>
    </Sheet>
  );
}

function Row(p: { s: Substitute; step: CoatStep; store: BuildStore; onClose: () => void }) {
  const { s } = p;
  const worse = s.after.clashes - s.before.clashes;
  const waits = s.after.waits - s.before.waits;
  return (
    <li className="border-t border-line-soft py-2 text-sm">
      <div className="flex items-baseline gap-2">
        <span className="font-semibold">{told(s.title)}</span>
        <span className="text-ink-2">{s.mix}</span>
        <span className="ml-auto text-xs">
          {[
            worse ? `${Math.abs(worse)} clashing seams ${worse > 0 ? "more" : "fewer"}` : "",
            waits ? `${Math.abs(waits)} waits ${waits > 0 ? "more" : "fewer"}` : "",
          ]
            .filter(Boolean)
            .join(", ") || "nothing worse"}
        </span>
      </div>
      {s.doubt ? <p className="text-xs font-semibold">{s.doubt} Try it in a spare cup first.</p> : null}
      {s.changes.map((c) => (
        <p key={c} className="text-xs text-ink-2">
          {c}
        </p>
      ))}
      <p className="text-xs">
        {s.windows.join("; ")}. {s.rescue_sentence}
      </p>
      {s.caution ? <p className="text-xs">{s.caution}</p> : null}
      <Push
        className="mt-1"
        onClick={() => {
          void p.store.look(`${told(s.title)} for ${p.step.name}`, s.edits as Edit[]);
          p.onClose();
        }}
      >
        Try it in the rack
      </Push>
    </li>
  );
}
