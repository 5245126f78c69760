/** The same plan as a plain table, for those who want it and for screen readers. */
import type { Assessment, Plan } from "../../api/client";
import { LineSample } from "../../drawing/Line";
import type { Clockwork } from "../../drawing/time";
import { VERDICTS, type Verdict } from "../../drawing/tokens";
import type { Selection } from "../../model/live";
import { useWords } from "../../parts/BuildDoor";

export function PlanTable(p: {
  plan: Plan;
  a: Assessment;
  clock: Clockwork;
  selection: Selection;
  onSelect: (s: Selection) => void;
  onMove: (step: string, to: number) => void;
  onRemove: (step: string) => void;
}) {
  const words = useWords();
  const { plan, a, clock } = p;
  const steps = plan.steps ?? [];
  const worst = new Map<string, { verdict: Verdict; word: string; id: string | null; zone: string }>();
  for (const s of Object.values(a.seams)) {
    const held = worst.get(s.upper_step);
    if (!held || VERDICTS.indexOf(s.verdict) > VERDICTS.indexOf(held.verdict))
      worst.set(s.upper_step, { verdict: s.verdict, word: s.word, id: s.id, zone: s.zone_id });
  }
  for (const r of a.remarks) {
    const held = worst.get(r.step_id);
    if (r.verdict !== "sound" && (!held || VERDICTS.indexOf(r.verdict) > VERDICTS.indexOf(held.verdict)))
      worst.set(r.step_id, { verdict: r.verdict, word: r.word, id: null, zone: r.zones[0]! });
  }
  return (
    <div className="h-full overflow-auto px-4 py-3">
      <table className="w-full border-collapse text-sm" data-testid="plan-table">
        <caption className="sr-only">The steps of the plan in order</caption>
        <thead>
          <tr className="text-left text-xs text-ink-2">
            <th className="w-8 py-1 font-normal">#</th>
            <th className="font-normal">Starts</th>
            <th className="font-normal">Step</th>
            <th className="font-normal">Zones</th>
            <th className="font-normal">How</th>
            <th className="text-right font-normal">Film</th>
            <th className="pl-4 font-normal">What is told</th>
            <th className="font-normal">
              <span className="sr-only">Order</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {steps.map((s, i) => {
            const w = worst.get(s.id);
            const coat = a.coats[`${s.id}~${s.zones[0]}`];
            return (
              <tr
                key={s.id}
                className={`border-t border-line ${p.selection?.step === s.id ? "bg-paper" : ""}`}
              >
                <td className="py-1 text-ink-2">{i + 1}</td>
                <td className="whitespace-nowrap pr-3">
                  {a.times[s.id] ? clock.long(a.times[s.id]!.start_min) : "skipped"}
                </td>
                <td>
                  <button
                    type="button"
                    className="min-h-7 text-left font-semibold underline-offset-2 hover:underline"
                    onClick={() => p.onSelect({ kind: "step", step: s.id, zone: s.zones[0]! })}
                  >
                    {s.name}
                  </button>
                </td>
                <td className="pr-2">
                  {s.zones.length === plan.zones.length && s.zones.length > 1
                    ? "all"
                    : s.zones.map((z) => plan.zones.find((x) => x.id === z)?.name).join(", ")}
                </td>
                <td className="pr-2 text-ink-2">
                  {s.kind === "fitting" ? words.action(s.action) : words.method(s.method ?? "spray")}
                </td>
                <td className="text-right whitespace-nowrap">
                  {coat ? `${Math.round(coat.film_um * 10) / 10} µm` : ""}
                </td>
                <td className="pl-4">
                  {w ? (
                    <button
                      type="button"
                      className="flex min-h-7 items-center gap-2 text-left"
                      onClick={() =>
                        p.onSelect(
                          w.id
                            ? { kind: "seam", id: w.id, step: s.id, zone: w.zone }
                            : { kind: "step", step: s.id, zone: w.zone },
                        )
                      }
                    >
                      <LineSample verdict={w.verdict} />
                      {w.verdict === "sound" ? "sound" : `${w.verdict}: ${w.word}`}
                    </button>
                  ) : (
                    ""
                  )}
                </td>
                <td className="whitespace-nowrap text-right no-print">
                  <button
                    type="button"
                    className="push"
                    data-bare
                    disabled={i === 0}
                    aria-label={`Move ${s.name} earlier`}
                    onClick={() => p.onMove(s.id, i - 1)}
                  >
                    ▴
                  </button>
                  <button
                    type="button"
                    className="push"
                    data-bare
                    disabled={i === steps.length - 1}
                    aria-label={`Move ${s.name} later`}
                    onClick={() => p.onMove(s.id, i + 1)}
                  >
                    ▾
                  </button>
                  <button
                    type="button"
                    className="push"
                    data-bare
                    aria-label={`Remove ${s.name}`}
                    onClick={() => p.onRemove(s.id)}
                  >
                    ×
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
