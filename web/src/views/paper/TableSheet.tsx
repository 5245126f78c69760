/** The table on paper, whole: every step with its time, zones, mix, film, verdict and note. */
import type { Assessment, CoatStep, Plan } from "../../api/client";
import { zoneNames } from "../../model/zones";
import { LineSample } from "../../drawing/Line";
import { grave } from "../../drawing/layout";
import { span, type Clockwork } from "../../drawing/time";
import { useShipped, useWords } from "../../parts/BuildDoor";
import { Page, Swatch, Tick } from "./sheet";

const ROWS = 18; // of a sheet, at two lines a row

export function TableSheet({ plan, a, clock }: { plan: Plan; a: Assessment; clock: Clockwork }) {
  const words = useWords();
  const known = useShipped();
  const steps = plan.steps ?? [];
  const sheets = [];
  for (let i = 0; i < Math.max(steps.length, 1); i += ROWS) sheets.push(steps.slice(i, i + ROWS));
  const worst = (id: string) =>
    Object.values(a.seams)
      .filter((s) => s.upper_step === id)
      .reduce<(typeof a.seams)[string] | null>(
        (w, s) => (!w || grave(s.verdict) > grave(w.verdict) ? s : w),
        null,
      );
  const nameOf = (id: string) =>
    known?.coats.find((c) => c.id === id)?.name ??
    known?.thinners.find((t) => t.id === id)?.name ??
    plan.materials?.find((m) => m.id === id)?.name ??
    id.replaceAll("_", " ");
  const mix = (s: CoatStep) => {
    const parts = s.mix?.parts ?? [];
    if (parts.length < 2) return nameOf(s.material);
    return `${parts.map((x) => x.amount).join(" : ")} ${parts.map((x) => nameOf(x.material).toLowerCase()).join(" : ")}`;
  };
  return sheets.map((rows, n) => (
    <Page
      key={n}
      wide
      title={plan.build.name}
      beside={sheets.length > 1 ? `sheet ${n + 1} of ${sheets.length}` : `${steps.length} steps`}
    >
      <table className="paper-table">
        <thead>
          <tr>
            {["", "#", "Starts", "Step", "Zones", "How", "Mix", "Film", "Verdict", "Note"].map((h) => (
              <th key={h}>{h}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((s, i) => {
            const coat = a.coats[`${s.id}~${s.zones[0]}`];
            const w = worst(s.id);
            return (
              <tr key={s.id}>
                <td>
                  <Tick />
                </td>
                <td>{n * ROWS + i + 1}</td>
                <td className="whitespace-nowrap">
                  {a.times[s.id] ? clock.long(a.times[s.id]!.start_min) : "skipped"}
                  <br />
                  {span(s.hands_on_min ?? 10)}
                </td>
                <td>
                  {coat ? <Swatch small colour={coat.colour} /> : null} <strong>{s.name}</strong>
                </td>
                <td>{zoneNames(plan, s.zones)}</td>
                <td>{s.kind === "fitting" ? words.action(s.action) : words.method(s.method ?? "spray")}</td>
                <td>{s.kind === "coat" ? mix(s) : ""}</td>
                <td className="whitespace-nowrap">
                  {coat ? `${Math.round(coat.film_um * 10) / 10} µm` : ""}
                </td>
                <td>
                  {w ? (
                    <span className="flex items-center gap-1">
                      <LineSample verdict={w.verdict} width={22} />
                      {w.verdict === "sound" ? "sound" : `${w.verdict}: ${w.word}`}
                    </span>
                  ) : null}
                </td>
                <td>{s.note}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Page>
  ));
}
