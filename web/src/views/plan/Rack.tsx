/**
 * The rack of cores: one column a zone, cut through its coats, base material at the bottom. It is the plan: coats are
 * chosen, moved, added and removed here, by pointer and by keyboard.
 */
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Assessment, Plan, Reach, Seam } from "../../api/client";
import { coatFill, inkOn } from "../../drawing/colour";
import { layOut, ribbons, type Column, type Row, type Tag } from "../../drawing/layout";
import { SeamPath } from "../../drawing/Line";
import { shortSpan } from "../../drawing/time";
import { BASE_PX, STATE_WORDS, WORDS_FROM_PX } from "../../drawing/tokens";

export type Selection =
  | { kind: "step"; step: string; zone: string }
  | { kind: "seam"; id: string; step: string; zone: string }
  | null;

type Props = {
  plan: Plan;
  assessment: Assessment;
  minute: number;
  selection: Selection;
  preview: boolean;
  onSelect: (s: Selection) => void;
  onMove: (step: string, toIndex: number) => void;
  onRemove: (step: string) => void;
  onAdd: (zone: string, afterStep: string | null) => void;
  onOpen: () => void;
  reaches: Reach[] | null;
};

const TOP_PX = 58;
const FOOT_PX = 44;
const SIDE_PX = 16;
const PRESSED_PX = 7;

export function stateAt(a: Assessment, step: string, zone: string, minute: number): string {
  const coat = a.coats[`${step}~${zone}`];
  if (!coat || minute < coat.start_min) return "to_come";
  let state = "wet";
  for (const mark of coat.states) if (mark.from_min <= minute) state = mark.state;
  return state;
}

export function Rack(props: Props) {
  const { plan, assessment, selection, onSelect } = props;
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 880, height: 560 });
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width, height });
    });
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);

  const floor = size.height - FOOT_PX - BASE_PX;
  const focus = selection ? { step: selection.step, zone: selection.zone } : null;
  const layout = useMemo(
    () => layOut(plan, assessment, size.width - SIDE_PX * 2, floor - TOP_PX, focus),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [plan, assessment, size.width, floor, focus?.step, focus?.zone],
  );
  const order = useMemo(() => new Map((plan.steps ?? []).map((s, i) => [s.id, i])), [plan.steps]);
  const [drag, setDrag] = useState<{ row: Row; slot: Row | null; above: boolean } | null>(null);

  const dropIndex = (row: Row, slot: Row, above: boolean) => {
    const from = order.get(row.step.id)!;
    const to = order.get(slot.step.id)! + (above ? 1 : 0);
    return from < to ? to - 1 : to;
  };
  // The rows keep their handlers from one drawing to the next; what these need of the present drawing is here.
  const now = useRef({ layout, order, floor, drag, dropIndex, onMove: props.onMove });
  useEffect(() => {
    now.current = { layout, order, floor, drag, dropIndex, onMove: props.onMove };
  });
  const drop = useCallback(() => {
    const { drag: held, order: places, dropIndex: index, onMove } = now.current;
    if (held?.slot && held.slot.step.id !== held.row.step.id) {
      const to = index(held.row, held.slot, held.above);
      if (to !== places.get(held.row.step.id)) onMove(held.row.step.id, to);
    }
    setDrag(null);
  }, []);
  const trackDrag = useCallback((step: string, zone: string, clientY: number) => {
    const column = now.current.layout.columns.find((c) => c.zone === zone);
    const row = column?.rows.find((r) => r.step.id === step);
    if (!column || !row) return;
    const y = now.current.floor - (clientY - box.current!.getBoundingClientRect().top);
    let slot: Row | null = column.rows[0] ?? null;
    let above = false;
    for (const r of column.rows) {
      if (y >= r.up) {
        slot = r;
        above = y > r.up + r.height / 2;
      }
    }
    setDrag({ row, slot, above });
  }, []);

  const go = useCallback(
    (column: number, row: number) => {
      const c = layout.columns[Math.max(0, Math.min(column, layout.columns.length - 1))]!;
      const r = c.rows[Math.max(0, Math.min(row, c.rows.length - 1))];
      if (!r) return;
      onSelect({ kind: "step", step: r.step.id, zone: r.zone });
      requestAnimationFrame(() =>
        box.current?.querySelector<HTMLElement>(`[data-row="${r.step.id}~${r.zone}"]`)?.focus(),
      );
    },
    [layout, onSelect],
  );

  const onKey = (e: React.KeyboardEvent) => {
    const at = (e.target as HTMLElement).dataset.row;
    if (!at) return;
    const [step, zone] = at.split("~") as [string, string];
    const ci = layout.columns.findIndex((c) => c.zone === zone);
    const column = layout.columns[ci]!;
    const ri = column.rows.findIndex((r) => r.step.id === step);
    const move = (by: number) => {
      const other = column.rows[ri + by];
      if (other) props.onMove(step, order.get(other.step.id)!);
    };
    const does: Record<string, () => void> = {
      ArrowUp: () => (e.altKey ? move(1) : go(ci, ri + 1)),
      ArrowDown: () => (e.altKey ? move(-1) : go(ci, ri - 1)),
      ArrowLeft: () => go(ci - 1, ri),
      ArrowRight: () => go(ci + 1, ri),
      Home: () => go(ci, 0),
      End: () => go(ci, column.rows.length - 1),
      Delete: () => props.onRemove(step),
      Enter: () => {
        onSelect({ kind: "step", step, zone });
        props.onOpen();
      },
    };
    const act = does[e.key];
    if (act) {
      e.preventDefault();
      e.stopPropagation();
      act();
    }
  };

  const selectedRow = selection ? `${selection.step}~${selection.zone}` : null;
  const firstRow = layout.columns.find((c) => c.rows.length)?.rows[0];
  const stop = selectedRow ?? (firstRow ? `${firstRow.step.id}~${firstRow.zone}` : null);

  return (
    <div
      ref={box}
      className="relative h-full select-none overflow-hidden"
      onKeyDown={onKey}
      onPointerDown={(e) => {
        if (e.target === e.currentTarget) onSelect(null);
      }}
      data-testid="rack"
    >
      <div
        className="absolute inset-y-0"
        style={{ left: SIDE_PX, right: SIDE_PX }}
        onPointerDown={(e) => e.target === e.currentTarget && onSelect(null)}
      >
        <Ribbons layout={layout} floor={floor} props={props} />
        {layout.columns.map((column, ci) => (
          <ColumnView
            key={column.zone}
            column={column}
            floor={floor}
            index={ci}
            plan={plan}
            assessment={assessment}
            minute={props.minute}
            selectedRow={selectedRow}
            tabStop={stop}
            onSelect={onSelect}
            onAdd={props.onAdd}
            onDragTo={trackDrag}
            onDrop={drop}
            pitch={layout.pitch}
          />
        ))}
        <Seams
          columns={layout.columns}
          floor={floor}
          width={size.width}
          height={size.height}
          drag={drag}
          assessment={assessment}
        />
        {props.reaches ? <UndoReach columns={layout.columns} floor={floor} reaches={props.reaches} /> : null}
        {layout.columns.map((column) => (
          <Tags
            key={column.zone}
            column={column}
            floor={floor}
            selection={selection}
            onSelect={onSelect}
            plan={plan}
          />
        ))}
      </div>
      <ScaleNote k={layout.k} crowded={layout.crowded} preview={props.preview} />
    </div>
  );
}

/** How far down one could still go back: a bracket at the left of each core, down to what cannot come off. */
function UndoReach(p: { columns: Column[]; floor: number; reaches: Reach[] }) {
  return (
    <svg
      className="pointer-events-none absolute inset-0 z-[4] h-full w-full overflow-visible"
      data-testid="undo-reach"
    >
      {p.columns.map((c) => {
        const reach = p.reaches.find((r) => r.zone_id === c.zone);
        const rows = c.rows.filter((r) => reach?.undoable.includes(r.step.id));
        if (!reach) return null;
        const stop = c.rows.find((r) => r.step.id === reach.stops_at);
        const foot = stop ? p.floor - stop.up - stop.height : p.floor;
        const top = rows.length ? p.floor - Math.max(...rows.map((r) => r.up + r.height)) : foot;
        const x = c.left - 7;
        return (
          <g key={c.zone} aria-label={`${rows.length} coats could come off`}>
            {rows.length ? (
              <path
                d={`M${x + 5} ${top}H${x}V${foot}H${x + 5}`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={3}
              />
            ) : null}
            <path d={`M${x - 4} ${foot}h12`} stroke="var(--halo)" strokeWidth={6} />
            <path d={`M${x - 4} ${foot}h12`} stroke="var(--ink)" strokeWidth={3} />
          </g>
        );
      })}
    </svg>
  );
}

function ScaleNote({ k, crowded, preview }: { k: number; crowded: boolean; preview: boolean }) {
  return (
    <p className="pointer-events-none absolute left-4 top-1.5 text-xs text-ink-2">
      {preview ? <strong className="mr-3 text-ink">Trying it: nothing is kept yet</strong> : null}
      {crowded
        ? "Crowded core: the coats round the chosen one are opened, the others pressed together."
        : `Height of a coat: 19 px + ${k.toFixed(1)} px × √µm, so that 2 µm shows beside 60.`}
    </p>
  );
}

function Ribbons({
  layout,
  floor,
  props,
}: {
  layout: ReturnType<typeof layOut>;
  floor: number;
  props: Props;
}) {
  const all = useMemo(() => ribbons(layout.columns), [layout]);
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      {all.map(({ step, d }) => {
        const colour = props.assessment.coats[`${step.id}~${d.a.zone}`]?.colour ?? "#999999";
        const come = stateAt(props.assessment, step.id, d.a.zone, props.minute) === "to_come";
        const mid = (d.x0 + d.x1) / 2;
        const [a0, a1, b0, b1] = [d.a.up, d.a.up + d.a.height, d.b.up, d.b.up + d.b.height].map(
          (u) => floor - u,
        );
        const path = `M${d.x0} ${a1}C${mid} ${a1} ${mid} ${b1} ${d.x1} ${b1}V${b0}C${mid} ${b0} ${mid} ${a0} ${d.x0} ${a0}Z`;
        return <path key={`${step.id}-${d.x0}`} d={path} fill={colour} opacity={come ? 0.07 : 0.26} />;
      })}
    </svg>
  );
}

type ColumnProps = {
  column: Column;
  floor: number;
  index: number;
  plan: Plan;
  assessment: Assessment;
  minute: number;
  selectedRow: string | null;
  tabStop: string | null;
  pitch: number;
  onSelect: (s: Selection) => void;
  onAdd: (zone: string, after: string | null) => void;
  onDragTo: (step: string, zone: string, clientY: number) => void;
  onDrop: () => void;
};

function ColumnView(p: ColumnProps) {
  const { column, floor, plan, assessment } = p;
  const zone = plan.zones.find((z) => z.id === column.zone)!;
  const top = column.rows.at(-1);
  const topAt = floor - (top ? top.up + top.height : 0);
  return (
    <div role="group" aria-label={zone.name}>
      <button
        type="button"
        className="push absolute no-print"
        data-bare
        style={{ left: column.left, width: column.width, top: topAt - 32, minHeight: 26 }}
        title={`Lay something on ${zone.name}`}
        aria-label={`Add a step to ${zone.name}`}
        onClick={() => p.onAdd(column.zone, top?.step.id ?? null)}
      >
        <span aria-hidden="true" className="text-lg leading-none">
          +
        </span>
      </button>
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
        return (
          <RowView
            key={row.step.id}
            id={id}
            row={row}
            column={column}
            y={floor - row.up - row.height}
            height={row.height}
            state={
              row.step.kind === "coat"
                ? stateAt(assessment, row.step.id, row.zone, p.minute)
                : p.minute >= (assessment.times[row.step.id]?.start_min ?? 0)
                  ? "done"
                  : "to_come"
            }
            name={row.step.name}
            colour={coat?.colour ?? ""}
            sheen={coat?.sheen ?? ""}
            coverage={coat?.coverage ?? 1}
            film={row.film}
            selected={p.selectedRow === id}
            tabStop={p.tabStop === id}
            onSelect={p.onSelect}
            onDragTo={p.onDragTo}
            onDrop={p.onDrop}
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
        style={{ left: column.left, top: floor + BASE_PX + 5, width: p.pitch - 8 }}
      >
        <span className="block truncate" title={zone.name}>
          {zone.name}
        </span>
        <span className="block text-xs font-normal text-ink-2">{zone.area_cm2} cm²</span>
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
      <span className="bg-paper-2 px-1">{name.replaceAll("_", " ")}</span>
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
  name: string;
  colour: string;
  sheen: string;
  coverage: number;
  film: number;
  selected: boolean;
  tabStop: boolean;
  onSelect: (s: Selection) => void;
  onDragTo: (step: string, zone: string, clientY: number) => void;
  onDrop: () => void;
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
        if (e.button !== 0) return;
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
        p.onDrop();
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
            left: place.left + 8,
            width: place.width - 16,
            top: p.y + 1,
            height: p.height - 2,
          }}
          aria-label={`${p.name}, ${laid ? "done" : "to come"}`}
          title={p.name}
        >
          <span className="truncate px-1.5">{p.name}</span>
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
          ...(laid ? { background: coatFill(p.colour, p.sheen, p.coverage), color: ink } : {}),
        }}
        aria-label={`${p.name}, ${Math.round(p.film)} µm, ${STATE_WORDS[p.state]}`}
        title={`${p.name} · ${Math.round(p.film * 10) / 10} µm ${p.sheen} · ${STATE_WORDS[p.state]}`}
      >
        {p.height >= WORDS_FROM_PX ? (
          <span className="words" data-thin={p.coverage < 0.95 ? "yes" : "no"}>
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
    a.film === b.film &&
    a.selected === b.selected &&
    a.tabStop === b.tabStop &&
    a.column.left === b.column.left &&
    a.column.width === b.column.width &&
    a.onSelect === b.onSelect &&
    a.onDragTo === b.onDragTo,
);

function Seams(p: {
  columns: Column[];
  floor: number;
  width: number;
  height: number;
  drag: { row: Row; slot: Row | null; above: boolean } | null;
  assessment: Assessment;
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
              const cut = tag.row.step.kind !== "coat" ? 8 : 0;
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

function Tags(p: {
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
          left: p.column.left + p.column.width + 9,
          top: p.floor - tag.up - 24,
          maxWidth: Math.max(p.column.gutter, 24),
        }}
        aria-label={`${tag.worst.verdict}: ${tag.row.step.name}, ${zone}: ${tag.worst.word}`}
        title={tag.worst.sentence}
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
