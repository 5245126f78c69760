/** Small tools that need no plan: each answers as it is typed. */
import { areaWords } from "../../drawing/units";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Link } from "react-router";
import { api, plainWords, type Plan, type Problem, type Zone } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { useShipped, useWords } from "../../parts/BuildDoor";
import { Sheet } from "../../parts/Panel";

type Row = {
  tool: string;
  title: string;
  fields: [string, string, string, string][];
  pick?: "cup" | "word" | "unit";
};
// prettier-ignore
const ROWS: Row[] = [
  { tool: "cup", title: "Flow cup", pick: "cup", fields: [["seconds", "ran for", "s", "40"]] },
  { tool: "word", title: "The trade's word", pick: "word", fields: [] },
  { tool: "drip", title: "Drip cup of one's own", fields: [
    ["water_s", "water", "s", "20"], ["syrup_s", "40 % sugar syrup", "s", "58"],
    ["temp_c", "all at", "°C", "20"], ["seconds", "the paint", "s", "40"]] },
  { tool: "ratio", title: "Ratio in drops", fields: [
    ["paint", "paint", "", "1"], ["thinner", "thinner", "", "1.5"], ["ml", "in all", "mL", "2"]] },
  { tool: "cut", title: "Cut isopropanol", fields: [
    ["strength_pct", "from", "%", "99"], ["target_pct", "to", "%", "50"], ["ml", "of", "mL", "20"]] },
  { tool: "combine", title: "Strong and weak", fields: [
    ["strength_pct", "strong", "%", "30"], ["weak_pct", "weak", "%", "5"], ["target_pct", "wanted", "%", "12"]] },
  { tool: "mark", title: "A mark at scale", fields: [["mm", "mark", "mm", "0.5"], ["scale", "at 1:", "", "72"]] },
  { tool: "area", title: "Area of a hull", fields: [
    ["length_m", "long", "m", "30"], ["beam_m", "wide", "m", "8"],
    ["height_m", "high", "m", "6"], ["scale", "at 1:", "", "72"]] },
  { tool: "drops", title: "Drops counted", fields: [["drops", "drops", "", "25"], ["ml", "in", "mL", "1"]] },
  { tool: "coverage", title: "How far it goes", fields: [
    ["ml", "of", "mL", "5"], ["solids_pct", "solids", "%", "20"], ["film_um", "dry film", "µm", "12"]] },
  { tool: "shape", title: "A box", fields: [
    ["length_cm", "long", "cm", "20"], ["width_cm", "wide", "cm", "6"], ["height_cm", "high", "cm", "4"]] },
  { tool: "shape", title: "A cylinder", fields: [
    ["diameter_cm", "across", "cm", "3"], ["length_cm", "long", "cm", "8"]] },
  { tool: "units", title: "Units", pick: "unit", fields: [["amount", "how much", "", "1"]] },
];

type ForZone = { zones: Zone[]; onArea: (zone: Zone, cm2: number) => void };

function Tool({ row, cups, zones, onArea }: { row: Row; cups: { id: string; name: string }[] } & ForZone) {
  const id = useId();
  const [shipped, words] = [useShipped(), useWords()];
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(row.fields.map(([field, , , start]) => [field, start])),
  );
  const [picked, setPicked] = useState("");
  const options =
    row.pick === "cup"
      ? cups.map((c) => [c.id, c.name] as const)
      : (row.pick === "unit" ? (shipped?.converts ?? []) : words.thicknesses).map((w) => [w, w] as const);
  const chosen = picked || options[0]?.[0] || "";
  const query = { ...typed, ...(row.pick ? { [row.pick]: chosen } : {}) };
  const { data } = useQuery({
    queryKey: ["tool", row.tool, query],
    queryFn: async () => {
      const given = Object.fromEntries(Object.entries(query).map(([k, v]) => [k, v.replace(",", ".")]));
      const answer = await api.GET("/api/tools/{name}", {
        params: { path: { name: row.tool }, query: given },
      });
      const why = (answer.error as { problems?: Problem[] } | undefined)?.problems;
      return answer.data ?? { values: {} as Record<string, number>, words: plainWords(why) };
    },
    enabled: !row.pick || !!chosen,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <li className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[9rem_1fr_18rem] items-center gap-3 border-b border-line-soft py-1">
      <h3 className="font-semibold">{row.title}</h3>
      <div className="flex flex-wrap items-center gap-2 text-sm">
        {row.pick ? (
          <select
            className="field"
            aria-label={row.title}
            value={chosen}
            onChange={(e) => setPicked(e.target.value)}
          >
            {options.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        ) : null}
        {row.fields.map(([field, label, unit]) => (
          <span key={field} className="flex items-center gap-1">
            <label htmlFor={`${id}${field}`} className="text-xs text-ink-2">
              {label}
            </label>
            <input
              id={`${id}${field}`}
              className="field w-14"
              inputMode="decimal"
              value={typed[field]}
              onChange={(e) => setTyped({ ...typed, [field]: e.target.value })}
            />
            {unit ? <span className="text-xs text-ink-2">{unit}</span> : null}
          </span>
        ))}
      </div>
      <div className="text-sm">
        <p aria-live="polite">{data?.words}</p>
        {data?.values.area_cm2 && row.tool !== "coverage" && zones.length ? (
          <select
            className="field mt-0.5"
            aria-label={`${row.title}: put into a zone`}
            value=""
            onChange={(e) =>
              onArea(
                zones.find((z) => z.id === e.target.value)!,
                data.values.area_cm2!,
              )
            }
          >
            <option value="">Put into zone…</option>
            {zones.map((z) => (
              <option key={z.id} value={z.id}>
                {z.name}, now {areaWords([z.area_cm2])}
              </option>
            ))}
          </select>
        ) : null}
      </div>
    </li>
  );
}

export function ToolSheet(p: { open: boolean; plan: Plan; store: BuildStore; onClose: () => void }) {
  const onArea = (zone: Zone, area_cm2: number) =>
    void p.store.edit(`Area of ${zone.name}`, (plan) => [
      { edit: "set_zone", zone: { ...(plan.zones.find((z) => z.id === zone.id) ?? zone), area_cm2 } },
    ]);
  const { data: cups } = useQuery({
    queryKey: ["cups"],
    queryFn: async () => (await api.GET("/api/tools/cups")).data ?? [],
    enabled: p.open,
    staleTime: Infinity,
  });
  return (
    <Sheet open={p.open} onClose={p.onClose} title="Small tools" widest>
      <p className="mb-2 text-sm">
        <Link className="underline" to="/mix-and-spray">
          A paint in hand, without any plan
        </Link>
      </p>
      <ul>
        {ROWS.map((row) => (
          <Tool key={row.title} row={row} cups={cups ?? []} zones={p.plan.zones} onArea={onArea} />
        ))}
      </ul>
    </Sheet>
  );
}
