/** One core of the rack: its coats as rows that are chosen, dragged and read, and the base material. */
import { memo, useRef } from "react";
import type { Assessment, Plan, Step } from "../../api/client";
import { coatFill, inkOn } from "../../drawing/colour";
import { areaWords } from "../../drawing/units";
import { maskedBy, patchFrom } from "../../model/places";
import type { Column, Row } from "../../drawing/layout";
import { useBaseName, useWords } from "../../parts/BuildDoor";
import { BASE_PX, TWO_LINES_PX, WORDS_FROM_PX } from "../../drawing/tokens";
import { stateAt, type Selection } from "../../model/live";
import { CUT_IN_PX, PRESSED_PX } from "./rackParts";
import { Push } from "../../parts/Push";

type ColumnProps = {
  column: Column;
  floor: number;
  plan: Plan;
  assessment: Assessment;
  minute: number;
  selectedRow: string | null;
  tabStop: string | null;
  /** Coats are not dragged by a finger there: it scrolls and steps from zone to zone. */
  hand: boolean;
  onSelect: (s: Selection) => void;
  onAdd: (zone: string, after: string | null) => void;
  onDragTo: (step: string, zone: string, clientY: number) => void;
  onDrop: () => void;
  onCancel: () => void;
};

export function ColumnView(p: ColumnProps) {
  const words = useWords();
  const { column, floor, plan, assessment } = p;
  const zone = plan.zones.find((z) => z.id === column.zone)!;
  const here = plan.zones.filter((z) => column.zones.includes(z.id));
  const top = column.rows.at(-1);
  const topAt = floor - (top ? top.up + top.height : 0);
  const steps = plan.steps ?? [];
  /** Where a coat lies in its zone, as it is drawn: what was masked is left free, at its left. */
  const lies = (step: Step, in_: string) => {
    if (step.kind !== "coat") return { place: "", from: 0 };
    const covers = assessment.coats[`${step.id}~${in_}`]?.coverage ?? 1;
    if (!step.place && covers < 0.95 && maskedBy(steps, step, in_))
      return { place: "patch", from: 1 - covers };
    return { place: step.place ?? "", from: patchFrom(steps, step, in_, assessment.coats) };
  };
  return (
    <div role="group" aria-label={zone.name}>
      <Push
        className="absolute no-print"
        data-bare
        style={{ left: column.left, width: column.width, top: topAt - 32, minHeight: 26 }}
        title={`Lay something on ${zone.name}`}
        aria-label={`Add a step to ${zone.name}`}
        onClick={() => p.onAdd(column.zone, top?.step.id ?? null)}
      >
        <span aria-hidden="true" className="text-lg leading-none">
          +
        </span>
      </Push>
      <Pressed
        column={column}
        floor={floor}
        assessment={assessment}
        minute={p.minute}
        onSelect={p.onSelect}
      />
      {column.rows.map((row) => {
        if (row.height < PRESSED_PX && row.step.kind === "coat") return null;
        const id = `${row.step.id}~${row.zone}`;
        const coat = assessment.coats[id];
        const started = p.minute >= (assessment.times[row.step.id]?.start_min ?? 0);
        const state =
          row.step.kind === "coat"
            ? stateAt(assessment, row.step.id, row.zone, p.minute)
            : started
              ? "done"
              : "to_come";
        return (
          <RowView
            key={row.step.id}
            id={id}
            row={row}
            column={column}
            y={floor - row.up - row.height}
            height={row.height}
            state={state}
            stateWords={words.film(state)}
            name={row.step.name}
            colour={coat?.colour ?? ""}
            sheen={coat?.sheen ?? ""}
            coverage={coat?.coverage ?? 1}
            {...lies(row.step, row.zone)}
            film={row.film}
            nameWidth={row.nameWidth}
            hand={p.hand}
            selected={p.selectedRow === id}
            tabStop={p.tabStop === id}
            onSelect={p.onSelect}
            onDragTo={p.onDragTo}
            onDrop={p.onDrop}
            onCancel={p.onCancel}
          />
        );
      })}
      <Base
        left={column.left}
        top={floor}
        width={column.width}
        name={zone.base_material ?? plan.build.base_material ?? ""}
      />
      <p
        className="absolute text-sm leading-tight font-semibold"
        style={{ left: column.left, top: floor + BASE_PX + 5, width: column.pitch - 8 }}
      >
        <span className="block truncate" title={here.map((z) => z.name).join(", ")}>
          {zone.name}
          {here.length > 1 ? ` × ${here.length}` : ""}
        </span>
        <span className="block truncate text-xs font-normal text-ink-2">
          {areaWords(here.map((z) => z.area_cm2))}
        </span>
      </p>
    </div>
  );
}

/** In a crowded core the pressed coats are one drawing, not hundreds of buttons; a click takes the one that is hit. */
function Pressed(p: {
  column: Column;
  floor: number;
  assessment: Assessment;
  minute: number;
  onSelect: (s: Selection) => void;
}) {
  const rows = p.column.rows.filter((r) => r.height < PRESSED_PX && r.step.kind === "coat");
  if (!rows.length) return null;
  const height = p.column.rows.at(-1)!.up + p.column.rows.at(-1)!.height;
  // Coats of one look are one path, so that a core of three hundred is drawn with a handful of shapes.
  const byLook = new Map<string, string>();
  for (const r of rows) {
    const coat = p.assessment.coats[`${r.step.id}~${r.zone}`];
    const look = coat && coat.start_min <= p.minute ? coat.colour : "var(--ghost)";
    const d = `M0 ${(height - r.up - r.height).toFixed(2)}h${p.column.width}v${r.height.toFixed(2)}h-${p.column.width}z`;
    byLook.set(look, (byLook.get(look) ?? "") + d);
  }
  return (
    <svg
      className="absolute cursor-pointer"
      style={{ left: p.column.left, top: p.floor - height, width: p.column.width, height }}
      aria-hidden="true"
      onClick={(e) => {
        const up = height - (e.clientY - e.currentTarget.getBoundingClientRect().top);
        const hit = p.column.rows.findLast((r) => r.up <= up);
        if (hit) p.onSelect({ kind: "step", step: hit.step.id, zone: hit.zone });
      }}
    >
      {[...byLook].map(([look, d]) => (
        <path key={look} d={d} fill={look} stroke="var(--surround)" strokeWidth={0.3} />
      ))}
    </svg>
  );
}

function Base({ left, top, width, name }: { left: number; top: number; width: number; name: string }) {
  return (
    <div
      className="absolute flex items-center justify-center border border-line text-xs text-ink-2"
      style={{
        left,
        top,
        width,
        height: BASE_PX,
        background:
          "repeating-linear-gradient(135deg, var(--paper-2) 0 5px, var(--surround) 5px 6px, var(--paper-2) 6px 7px)",
      }}
    >
      <span className="truncate bg-paper-2 px-1">{useBaseName()(name)}</span>
    </div>
  );
}

type RowProps = {
  id: string;
  row: Row;
  column: Column;
  y: number;
  height: number;
  state: string;
  stateWords: string;
  name: string;
  colour: string;
  sheen: string;
  coverage: number;
  place: string;
  from: number;
  film: number;
  nameWidth: number;
  hand: boolean;
  selected: boolean;
  tabStop: boolean;
  onSelect: (s: Selection) => void;
  onDragTo: (step: string, zone: string, clientY: number) => void;
  onDrop: () => void;
  onCancel: () => void;
};

const RowView = memo(
  function RowView(p: RowProps) {
    const start = useRef<number | null>(null);
    const dragging = useRef(false);
    const laid = p.state !== "to_come";
    const coat = p.row.step.kind === "coat";
    const ink = laid && coat ? inkOn(p.colour) : "var(--ink)";
    const drag = {
      onPointerDown: (e: React.PointerEvent) => {
        if (e.button !== 0 || (p.hand && e.pointerType !== "mouse")) return;
        start.current = e.clientY;
        dragging.current = false;
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: React.PointerEvent) => {
        if (start.current === null) return;
        if (!dragging.current && Math.abs(e.clientY - start.current) > 6) dragging.current = true;
        if (dragging.current) p.onDragTo(p.row.step.id, p.row.zone, e.clientY);
      },
      onPointerUp: () => {
        if (dragging.current) p.onDrop();
        start.current = null;
      },
      onPointerCancel: () => {
        start.current = null;
        dragging.current = false;
        p.onCancel();
      },
      onClick: () => {
        if (!dragging.current) p.onSelect({ kind: "step", step: p.row.step.id, zone: p.row.zone });
      },
    };
    const shared = {
      type: "button" as const,
      "data-row": p.id,
      "data-laid": laid ? "yes" : "no",
      "data-selected": p.selected ? "yes" : "no",
      "aria-pressed": p.selected,
      tabIndex: p.tabStop ? 0 : -1,
      ...drag,
    };
    const place = { left: p.column.left, top: p.y, width: p.column.width, height: p.height };
    if (!coat) {
      return (
        <button
          {...shared}
          className="cut"
          style={{
            ...place,
            left: place.left + CUT_IN_PX,
            width: place.width - 2 * CUT_IN_PX,
            top: p.y + 1,
            height: p.height - 2,
          }}
          aria-label={`${p.name}, ${laid ? "done" : "to come"}`}
          title={p.name}
        >
          {p.nameWidth === p.column.width ? <span className="name">{p.name}</span> : null}
        </button>
      );
    }
    return (
      <button
        {...shared}
        className="coat"
        data-strip={laid && p.state !== "hard" ? "yes" : "no"}
        style={{
          ...place,
          ["--coat" as string]: p.colour,
          ...(laid
            ? {
                background: coatFill(p.colour, p.sheen, p.coverage, { place: p.place, from: p.from }),
                color: ink,
              }
            : {}),
        }}
        aria-label={`${p.name}, ${Math.round(p.film)} µm, ${p.stateWords}`}
        title={`${p.name} · ${Math.round(p.film * 10) / 10} µm ${p.sheen} · ${p.stateWords}`}
      >
        {p.height >= WORDS_FROM_PX && p.nameWidth === p.column.width ? (
          <span
            className="words"
            data-thin={p.coverage < 0.95 ? "yes" : "no"}
            data-lines={p.height >= TWO_LINES_PX ? "two" : undefined}
          >
            <span>{p.name}</span>
          </span>
        ) : null}
        {laid && p.state !== "hard" ? (
          <span className="state" data-state={p.state} style={{ backgroundColor: p.colour }} />
        ) : null}
      </button>
    );
  },
  (a, b) =>
    a.y === b.y &&
    a.height === b.height &&
    a.state === b.state &&
    a.name === b.name &&
    a.colour === b.colour &&
    a.sheen === b.sheen &&
    a.coverage === b.coverage &&
    a.place === b.place &&
    a.from === b.from &&
    a.film === b.film &&
    a.nameWidth === b.nameWidth &&
    a.hand === b.hand &&
    a.selected === b.selected &&
    a.tabStop === b.tabStop &&
    a.column.left === b.column.left &&
    a.column.width === b.column.width &&
    a.onSelect === b.onSelect &&
    a.onDragTo === b.onDragTo,
);
