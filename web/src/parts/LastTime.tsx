/** What was done last time with this paint, in any build: the mix, the gun, how it went, and trials that were made. */
import { useQuery } from "@tanstack/react-query";
import { api, type Edit, type LastTime as Last, type CoatStep } from "../api/client";
import { distance, pressure } from "../drawing/units";
import { Push } from "./Push";

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

export function useLast(material: string | undefined, but = "") {
  return useQuery({
    queryKey: ["last", material, but],
    queryFn: async () =>
      (await api.GET("/api/last", { params: { query: { material: material!, but } } })).data ?? [],
    enabled: !!material,
    staleTime: 30_000,
  });
}

export function useTrials(material: string | undefined, technique: string | undefined | null) {
  return useQuery({
    queryKey: ["trials", material, technique],
    queryFn: async () =>
      (await api.GET("/api/trials", { params: { query: { material: material ?? "", technique: "" } } }))
        .data ?? null,
    enabled: !!material || !!technique,
    refetchOnMount: "always",
  });
}

export function lastWords(last: Last): string {
  const parts = last.mix?.parts ?? [];
  return [
    parts.length > 1 ? parts.map((p) => String(Math.round(p.amount * 100) / 100)).join(" : ") : "",
    last.pressure_kpa ? pressure(last.pressure_kpa) : "",
    last.distance_mm ? distance(last.distance_mm) : "",
    last.passes ? `${last.passes} passes` : "",
    last.minutes ? `${Math.round(last.minutes)} min` : "",
    last.wrong.length ? `then: ${last.wrong.join(", ").toLowerCase()}` : "",
    last.note ? `“${last.note}”` : "",
  ]
    .filter(Boolean)
    .join(", ");
}

/** The edits that do a coat as it was done then. */
export function asThen(step: CoatStep, last: Last): Edit[] {
  const set = (field: string, value: unknown) => ({ edit: "set_field", step_id: step.id, field, value });
  return [
    ...(last.mix ? [set("mix", last.mix)] : []),
    ...(last.pressure_kpa || last.distance_mm
      ? [
          set("spray", {
            ...(step.spray ?? {}),
            ...(last.pressure_kpa ? { pressure_kpa: last.pressure_kpa } : {}),
            ...(last.distance_mm ? { distance_mm: last.distance_mm } : {}),
          }),
        ]
      : []),
    ...(last.passes ? [set("passes", last.passes)] : []),
  ];
}

export function LastTime(p: { step: CoatStep; onEdit: (label: string, edits: Edit[]) => void }) {
  const { data } = useLast(p.step.material);
  const { data: trials } = useTrials(p.step.material, p.step.technique);
  const last = data?.[0];
  if (!last && !trials?.made.length) return null;
  const edits = last ? asThen(p.step, last) : [];
  return (
    <section className="border-t border-line-soft pt-2 text-sm" data-testid="last-time">
      {last ? (
        <>
          <p>
            <strong>Last time</strong>, {day.format(new Date(last.at))} in {last.build_name}:{" "}
            {lastWords(last) || "as planned"}
          </p>
          {edits.length ? (
            <Push className="mt-1" onClick={() => p.onEdit(`${p.step.name} as last time`, edits)}>
              Do it so again
            </Push>
          ) : null}
        </>
      ) : null}
      {trials?.made.slice(0, 2).map((t) => (
        <p key={t.at} className="mt-1 text-xs">
          Trial for {t.trial.aims.join(", ")}, {day.format(new Date(t.at))} in {t.build_name}:{" "}
          {t.trial.passed ? "passed" : t.trial.decides || "failed"}
          {t.note ? `, “${t.note}”` : ""}
        </p>
      ))}
    </section>
  );
}
