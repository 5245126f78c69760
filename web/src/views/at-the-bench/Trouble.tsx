/** Something is wrong: what it looks like, what to do this very minute, and what takes it off now. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Pack, type StepCard } from "../../api/client";
import { told } from "../../drawing/units";

export function Trouble(p: {
  build: string;
  pack: Pack;
  /** What is asked about: the last coat, or a step that lays none. */
  coat: StepCard | null;
  /** Minutes since the coat was laid; since the build's start. */
  age: number;
  minute: number;
  onOff: (fault: string) => void;
  onNote: (fault: string) => void;
  onClose: () => void;
}) {
  const [seen, setSeen] = useState("");
  const coat = p.coat;
  const zone = coat?.zones[0] ?? "";
  const off = coat?.takes_off.filter((t) => t.from_min <= Math.max(p.age, 0)).at(-1);
  const { data: rescue } = useQuery({
    queryKey: ["now-rescue", p.build, coat?.id, zone, Math.round(p.minute)],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/rescue/{zone_id}/{step_id}", {
          params: {
            path: { build_id: p.build, zone_id: zone, step_id: coat!.id },
            query: { at: Math.max(Math.round(p.minute), 0), times: "schedule" },
          },
        })
      ).data ?? null,
    enabled: coat !== null && p.age >= 0,
    retry: false,
  });
  const { data: found } = useQuery({
    queryKey: ["now-fault", p.build, coat?.id, zone, seen],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/diagnose/{zone_id}/{step_id}/{appearance}", {
          params: {
            path: { build_id: p.build, zone_id: zone, step_id: coat!.id, appearance: seen },
            query: { at: Math.max(Math.round(p.minute), 0), times: "schedule" },
          },
        })
      ).data ?? null,
    enabled: seen !== "" && coat !== null,
    retry: false,
  });
  const first = p.pack.first_aid.find((f) => f.id === seen);
  const likely = found?.causes[0];
  const name = first?.name ?? "";
  return (
    <main className="now-whole" data-testid="trouble">
      <div className="now-row items-center">
        <button type="button" className="now-small" onClick={seen ? () => setSeen("") : p.onClose}>
          ◂ Back
        </button>
        <h1 className="text-4xl font-bold">{seen ? name : "What do you see?"}</h1>
      </div>
      {!seen ? (
        <>
          <p className="mt-3 text-xl" data-testid="off-now">
            <strong>Takes it off now: </strong>
            {told(
              (rescue && rescue.rescue.state !== "not_yet" ? rescue.rescue.sentence : off?.sentence) ??
                "Nothing was laid by this step; stop, and look at the coat below.",
            )}
          </p>
          <div className="mt-4 grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
            {p.pack.first_aid.map((f) => (
              <button key={f.id} type="button" className="now-big" onClick={() => setSeen(f.id)}>
                {f.name}
              </button>
            ))}
          </div>
        </>
      ) : (
        <div className="mt-4 max-w-4xl space-y-3">
          <p>
            <strong>This minute: </strong>
            {told(likely?.now ?? first?.now ?? "")}
          </p>
          <p>
            <strong>Do not: </strong>
            {told(likely?.dont ?? first?.dont ?? "")}
          </p>
          {likely ? (
            <>
              <p className="text-xl">
                <strong>Most likely: </strong>
                {likely.cause}
              </p>
              {found.causes.length > 1 ? (
                <p className="text-xl text-ink-2">Or: {found.causes[1]!.cause}</p>
              ) : null}
              <p className="text-xl">
                <strong>Then: </strong>
                {told(likely.mend)}
              </p>
            </>
          ) : (
            <p className="text-xl text-ink-2">
              What this plan says of its cause is shown once the server answers again.
            </p>
          )}
          {off || rescue ? (
            <p className="text-xl">
              <strong>Takes it off now: </strong>
              {told(
                (rescue && rescue.rescue.state !== "not_yet" ? rescue.rescue.sentence : off?.sentence) ?? "",
              )}
            </p>
          ) : null}
          <div className="grid gap-3 pt-2 sm:grid-cols-2">
            <button type="button" className="now-big" onClick={() => p.onOff(name)}>
              It is off again: do it anew
            </button>
            <button type="button" className="now-big" onClick={() => p.onNote(name)}>
              It stays: note it and go on
            </button>
          </div>
        </div>
      )}
    </main>
  );
}
