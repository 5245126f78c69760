/** Which scrap test settles it, and what it showed. */
import { useQuery } from "@tanstack/react-query";
import { api, type Seam, type Trial } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { span } from "../../drawing/time";
import { Push } from "../../parts/Push";

export function ScrapTest(p: { build: string; revision: number; seam: Seam; store: BuildStore }) {
  const { data } = useQuery({
    queryKey: ["scrap", p.build, p.revision, p.seam.id],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/scrap-test/{seam_id}", {
          params: { path: { build_id: p.build, seam_id: p.seam.id } },
        })
      ).data,
  });
  if (!data) return null;
  const others = (now: Trial[]) =>
    now.filter((t) => t.upper !== data.passed.upper || (t.lower ?? null) !== (data.passed.lower ?? null));
  const enter = (label: string, trial: Trial | null) =>
    void p.store.edit(label, (plan) => [
      { edit: "set_trials", trials: [...others((plan.trials ?? []) as Trial[]), ...(trial ? [trial] : [])] },
    ]);
  return (
    <details className="text-sm" data-testid="scrap-test" open={!!data.entered}>
      <summary className="font-semibold">Settle it on scrap</summary>
      {data.entered ? (
        <p className="mt-1">
          Entered: <strong>{data.entered.passed ? "passed" : "failed"}</strong>.{" "}
          {data.entered_holds
            ? "It decides this seam for this plan."
            : "The recipes or the age have changed since, so it no longer counts; try it again."}
        </p>
      ) : null}
      <p className="mt-1 text-ink-2">You need {data.needs.join("; ")}.</p>
      <ol className="mt-1 list-decimal space-y-0.5 pl-5">
        {data.do.map((d) => (
          <li key={d}>{d[0]!.toUpperCase() + d.slice(1)}.</li>
        ))}
        <li>Leave it {span(data.wait_min)} before you judge.</li>
      </ol>
      <p className="mt-1">
        <strong>Pass: </strong>
        {data.passes} <strong>Fail: </strong>
        {data.fails}
      </p>
      <p className="mt-1 text-xs text-ink-2">{data.spares}</p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Push onClick={() => enter("Trial passed", data.passed as Trial)}>It passed</Push>
        <Push onClick={() => enter("Trial failed", data.failed as Trial)}>It failed</Push>
        {data.entered ? (
          <Push onClick={() => enter("Take the trial out", null)}>Take the result out</Push>
        ) : null}
      </div>
    </details>
  );
}
