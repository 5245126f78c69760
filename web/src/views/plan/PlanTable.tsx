/**
 * The same plan as a plain table, for those who want it and for screen readers. It is one stop of the Tab key: arrows
 * go from row to row and from button to button. Where the screen is narrow each step stands in two or three lines.
 */
import { useRef, useState } from "react";
import type { Assessment, Plan } from "../../api/client";
import { LineSample } from "../../drawing/Line";
import { grave } from "../../drawing/layout";
import type { Clockwork } from "../../drawing/time";
import type { Verdict } from "../../drawing/tokens";
import type { Selection } from "../../model/live";
import { useWords } from "../../parts/BuildDoor";
import { Push } from "../../parts/Push";

type Worst = { verdict: Verdict; word: string; id: string | null; zone: string };

function worstOf(a: Assessment): Map<string, Worst> {
  const worst = new Map<string, Worst>();
  const tell = (step: string, w: Worst) => {
    const held = worst.get(step);
    if (!held || grave(w.verdict) > grave(held.verdict)) worst.set(step, w);
  };
  for (const s of Object.values(a.seams))
    tell(s.upper_step, { verdict: s.verdict, word: s.word, id: s.id, zone: s.zone_id });
  for (const r of a.remarks)
    if (r.verdict !== "sound")
      tell(r.step_id, { verdict: r.verdict, word: r.word, id: null, zone: r.zones[0]! });
  return worst;
}

export function PlanTable(p: {
  plan: Plan;
  a: Assessment;
  clock: Clockwork;
  selection: Selection;
  small: boolean;
  onSelect: (s: Selection) => void;
  onMove: (step: string, to: number) => void;
  onRemove: (step: string) => void;
  onOpen: () => void;
}) {
  const words = useWords();
  const { plan, a, clock } = p;
  const steps = plan.steps ?? [];
  const worst = worstOf(a);
  const [at, setAt] = useState({ row: 0, column: 0 });
  const body = useRef<HTMLTableSectionElement>(null);
  const row = Math.min(at.row, Math.max(steps.length - 1, 0));
  const buttons = (r: number) => [
    ...(body.current?.rows[r]?.querySelectorAll<HTMLButtonElement>("button") ?? []),
  ];
  const go = (r: number, c: number) => {
    const to = Math.min(Math.max(r, 0), steps.length - 1);
    const all = buttons(to);
    const next = all[Math.min(Math.max(c, 0), all.length - 1)];
    setAt({ row: to, column: next ? all.indexOf(next) : 0 });
    next?.focus();
  };
  const onKey = (e: React.KeyboardEvent) => {
    const step = steps[row];
    if (!step) return;
    const does: Record<string, () => void> = {
      ArrowDown: () =>
        e.altKey ? row < steps.length - 1 && p.onMove(step.id, row + 1) : go(row + 1, at.column),
      ArrowUp: () => (e.altKey ? row > 0 && p.onMove(step.id, row - 1) : go(row - 1, at.column)),
      ArrowRight: () => go(row, at.column + 1),
      ArrowLeft: () => go(row, at.column - 1),
      Home: () => go(0, at.column),
      End: () => go(steps.length - 1, at.column),
      Delete: () => p.onRemove(step.id),
    };
    if (!does[e.key]) return;
    e.preventDefault();
    e.stopPropagation();
    does[e.key]!();
    if (e.altKey) setAt({ row: row + (e.key === "ArrowDown" ? 1 : -1), column: at.column });
  };
  const stop = (r: number, c: number) => ({ tabIndex: r === row && c === at.column ? 0 : -1 });
  if (!steps.length) return <p className="p-6 text-sm">Nothing is laid yet. Press A, or go to the rack.</p>;
  return (
    <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto px-4 py-3">
      <table
        className={p.small ? "plan-table stacked" : "plan-table"}
        role="grid"
        aria-rowcount={steps.length}
        data-testid="plan-table"
        onKeyDown={onKey}
      >
        <caption className="sr-only">The steps of the plan in order; arrows go from step to step</caption>
        <thead className={p.small ? "sr-only" : ""}>
          <tr className="text-left text-xs text-ink-2">
            <th className="w-8 py-1 font-normal">#</th>
            <th className="font-normal">Starts</th>
            <th className="font-normal">Step</th>
            <th className="font-normal">Zones</th>
            <th className="font-normal">How</th>
            <th className="text-right font-normal">Film</th>
            <th className="pl-4 font-normal">Verdict</th>
            <th className="font-normal">
              <span className="sr-only">Order</span>
            </th>
          </tr>
        </thead>
        <tbody
          ref={body}
          onFocus={(e) => {
            const tr = e.target.closest("tr");
            const r = [...(body.current?.rows ?? [])].indexOf(tr as HTMLTableRowElement);
            const c = buttons(r).findIndex((b) => b === (e.target as Element));
            if (r >= 0 && c >= 0 && (r !== at.row || c !== at.column)) setAt({ row: r, column: c });
          }}
        >
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
                <td className="step">
                  <button
                    type="button"
                    {...stop(i, 0)}
                    data-row={`${s.id}~${s.zones[0]}`}
                    className="min-h-7 text-left font-semibold underline-offset-2 hover:underline"
                    onClick={() => p.onSelect({ kind: "step", step: s.id, zone: s.zones[0]! })}
                    onKeyDown={(e) => {
                      if (e.key !== "Enter") return;
                      e.preventDefault();
                      e.stopPropagation();
                      p.onSelect({ kind: "step", step: s.id, zone: s.zones[0]! });
                      p.onOpen();
                    }}
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
                <td className="film text-right whitespace-nowrap">
                  {coat ? `${Math.round(coat.film_um * 10) / 10} µm` : ""}
                </td>
                <td className="verdict pl-4">
                  {w ? (
                    <button
                      type="button"
                      {...stop(i, 1)}
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
                  ) : null}
                </td>
                <td className="order whitespace-nowrap text-right no-print">
                  <Push
                    data-bare
                    {...stop(i, w ? 2 : 1)}
                    aria-disabled={i === 0}
                    aria-label={`Move ${s.name} earlier`}
                    onClick={() => i > 0 && p.onMove(s.id, i - 1)}
                  >
                    ▴
                  </Push>
                  <Push
                    data-bare
                    {...stop(i, w ? 3 : 2)}
                    aria-disabled={i === steps.length - 1}
                    aria-label={`Move ${s.name} later`}
                    onClick={() => i < steps.length - 1 && p.onMove(s.id, i + 1)}
                  >
                    ▾
                  </Push>
                  <Push
                    data-bare
                    {...stop(i, w ? 4 : 3)}
                    aria-label={`Remove ${s.name}`}
                    onClick={() => p.onRemove(s.id)}
                  >
                    ✕
                  </Push>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
