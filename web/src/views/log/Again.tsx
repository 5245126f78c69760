/** A recipe, a step or a whole stack once more in another build, as it was really done. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, must, plainWords, type Edit, type LogRow } from "../../api/client";
import { storeOf } from "../../api/store";
import { Choice } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

export function Again({ row, rows, onClose }: { row: LogRow; rows: LogRow[]; onClose: () => void }) {
  const go = useNavigate();
  const [what, setWhat] = useState<"step" | "technique" | "stack">("step");
  const [target, setTarget] = useState("");
  const [zone, setZone] = useState("");
  const [why, setWhy] = useState("");
  const { data: builds } = useQuery({
    queryKey: ["builds"],
    queryFn: async () => must(await api.GET("/api/builds")),
  });
  const into = target || builds?.find((b) => b.id !== row.build)?.id || row.build;
  const { data: there } = useQuery({
    queryKey: ["again", into],
    queryFn: async () =>
      must(await api.GET("/api/builds/{build_id}", { params: { path: { build_id: into } } })),
  });
  const zones = there?.plan.zones ?? [];
  const chosen = zone && zones.some((z) => z.id === zone) ? [zone] : zones.map((z) => z.id);
  const done = rows.filter((r) => r.build === row.build && r.said === "done" && r.step);
  const steps = {
    step: [row.step!],
    technique: done.filter((r) => row.technique && r.technique === row.technique).map((r) => r.step!),
    stack: done.filter((r) => r.zones.some((z) => row.zones.includes(z))).map((r) => r.step!),
  };
  const take = async () => {
    const { data, error } = await api.POST("/api/builds/{build_id}/again", {
      params: { path: { build_id: into } },
      body: { source: row.build, steps: [...new Set(steps[what])], zones: chosen },
    });
    if (!data) return setWhy(plainWords((error as { problems?: [] }).problems));
    const store = storeOf(into);
    await store.load();
    const outcome = await store.edit(data.label, data.edits as Edit[]);
    if (outcome.ok) void go(`/build/${into}`);
    else setWhy(outcome.why);
  };
  return (
    <Sheet open title={`Again: ${row.name}`} onClose={onClose}>
      <div className="space-y-3">
        <Choice
          label="What"
          value={what}
          options={[
            { value: "step", label: `this step${row.mix ? `, ${row.mix}` : ""}` },
            ...(new Set(steps.technique).size > 1
              ? [{ value: "technique", label: `the whole of it: ${new Set(steps.technique).size} steps` }]
              : []),
            ...(new Set(steps.stack).size > 1
              ? [{ value: "stack", label: `the whole stack: ${new Set(steps.stack).size} steps` }]
              : []),
          ]}
          onTake={(v) => setWhat(v as typeof what)}
        />
        <Choice
          label="In which build"
          value={into}
          options={(builds ?? []).map((b) => ({ value: b.id, label: b.name }))}
          onTake={setTarget}
        />
        <Choice
          label="In which zones"
          value={zone}
          options={[
            { value: "", label: "all of them" },
            ...zones.map((z) => ({ value: z.id, label: z.name })),
          ]}
          onTake={setZone}
        />
        <p className="text-sm text-ink-2">
          Mix, pressure, passes and time are taken as they really were. It is one change there, and can be
          undone.
        </p>
        {why ? (
          <p role="alert" className="text-sm font-semibold">
            {why}
          </p>
        ) : null}
        <Push data-strong disabled={!there} onClick={() => void take()}>
          Put it in
        </Push>
      </div>
    </Sheet>
  );
}
