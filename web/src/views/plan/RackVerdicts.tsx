/** The rack's verdicts: seams as lines between coats, words in the gutter. */
import { told } from "../../drawing/units";
import type { Plan, Seam } from "../../api/client";
import type { Column, Row, Tag } from "../../drawing/layout";
import { SeamPath } from "../../drawing/Line";
import { shortSpan } from "../../drawing/time";
import type { Selection } from "../../model/live";
import { CUT_IN_PX, PRESSED_PX } from "./rackParts";

export function Seams(p: {
  columns: Column[];
  floor: number;
  drag: { row: Row; slot: Row | null; above: boolean } | null;
}) {
  const target = p.drag?.slot && p.columns.find((c) => c.zone === p.drag!.row.zone);
  return (
    <svg className="pointer-events-none absolute inset-0 z-[5] h-full w-full" aria-hidden="true">
      {p.columns.map((c) => (
        <g key={c.zone}>
          {c.tags
            .filter((tag) => tag.row.height >= PRESSED_PX || tag.worst.verdict !== "caution")
            .map((tag) => {
              if (tag.row.height < PRESSED_PX)
                return (
                  <path
                    key={tag.row.step.id}
                    d={`M${c.left + c.width + 2} ${p.floor - tag.at}h5`}
                    stroke="var(--ink)"
                  />
                );
              const y = p.floor - tag.at;
              const cut = tag.row.step.kind !== "coat" ? CUT_IN_PX : 0;
              const x1 = c.left + c.width + 4 - cut;
              return (
                <g key={tag.row.step.id}>
                  <SeamPath x0={c.left - 4 + cut} x1={x1} y={y} verdict={tag.worst.verdict} />
                  <path
                    d={`M${x1} ${y}L${c.left + c.width + 9} ${p.floor - tag.up - 12}`}
                    stroke="var(--ink)"
                    strokeWidth={1}
                  />
                </g>
              );
            })}
        </g>
      ))}
      {target && p.drag?.slot ? (
        <path
          d={`M${target.left - 10} ${p.floor - p.drag.slot.up - (p.drag.above ? p.drag.slot.height : 0)}h${target.width + 20}`}
          stroke="var(--ink)"
          strokeWidth={4}
        />
      ) : null}
    </svg>
  );
}

export function tagWords(seam: Seam): string {
  if (seam.verdict === "wait" && seam.opens_careful_min !== null)
    return `wait ${shortSpan(seam.opens_careful_min - seam.at_min).replace(" ", "\u00a0")}`;
  return seam.word;
}

function isChosen(selection: Selection, tag: Tag): boolean {
  if (selection?.kind === "seam") return selection.id === tag.worst.seam?.id;
  return selection?.kind === "step" && !tag.worst.seam && selection.step === tag.row.step.id;
}

export function Tags(p: {
  column: Column;
  floor: number;
  selection: Selection;
  onSelect: (s: Selection) => void;
  plan: Plan;
}) {
  const zone = p.plan.zones.find((z) => z.id === p.column.zone)!.name;
  return p.column.tags
    .filter((tag) => tag.row.height >= PRESSED_PX)
    .map((tag) => (
      <button
        key={tag.row.step.id}
        type="button"
        className="tag z-[6]"
        data-verdict={tag.worst.verdict}
        data-selected={isChosen(p.selection, tag) ? "yes" : "no"}
        style={{
          left: p.column.left + p.column.width + 6,
          top: p.floor - tag.up - 24,
          maxWidth: Math.max(p.column.gutter, 24),
        }}
        aria-label={`${tag.worst.verdict}: ${tag.row.step.name}, ${zone}: ${tag.worst.word}`}
        title={told(tag.worst.sentence)}
        onClick={() =>
          p.onSelect(
            tag.worst.seam
              ? { kind: "seam", id: tag.worst.seam.id, step: tag.row.step.id, zone: p.column.zone }
              : { kind: "step", step: tag.row.step.id, zone: p.column.zone },
          )
        }
      >
        {tag.worst.seam ? tagWords(tag.worst.seam) : tag.worst.word}
      </button>
    ));
}
