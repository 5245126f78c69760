/**
 * The rack of cores: one column a zone, cut through its coats, base material at the bottom. It is the plan: coats are
 * chosen, moved, added and removed here, by pointer and by keyboard.
 */
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Assessment, Plan, Reach } from "../../api/client";
import { layOut, ribbons, type Column, type Row } from "../../drawing/layout";
import { BASE_PX, CALLOUT_PX, HAND_PITCH_PX, LEAST_PITCH_PX, WORDS_FROM_PX } from "../../drawing/tokens";
import { ColumnView } from "./RackColumn";
import { stateAt, type Selection } from "../../model/live";
import { RackKey } from "./RackKey";
import { Seams, Tags } from "./RackVerdicts";
import { ZoneStrip } from "./ZoneStrip";

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
  /** The call-out lies over the foot of the page; zones are stepped through and swiped. */
  small: boolean;
  /** The zone that is looked at where nothing is chosen. */
  zone: string | null;
  onZone: (zone: string) => void;
};

// Drawn again where the plan or the choice has changed, not at each step of the clock.
const Strip = memo(ZoneStrip);
const Told = memo(Seams);

const TOP_PX = 58;
const FOOT_PX = 44;
const SIDE_PX = 16;
/** So far across, and twice as far as down, a finger has to go to step to the next zone. */
const SWIPE_PX = 48;

export function Rack(props: Props) {
  const { plan, assessment, selection, onSelect } = props;
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 880, height: 560 });
  // Measured before it is first seen, so that nothing moves under a pointer that is quick.
  useLayoutEffect(() => {
    const { width, height } = box.current!.getBoundingClientRect();
    setSize({ width, height });
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width, height });
    });
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);

  const floor = size.height - FOOT_PX - BASE_PX;
  const { small, zone: looked } = props;
  const [step, zone] = [selection?.step ?? null, selection?.zone ?? (small ? looked : null)];
  const layout = useMemo(
    () =>
      layOut(
        plan,
        assessment,
        {
          width: size.width - SIDE_PX * 2,
          height: floor - TOP_PX,
          callout: small ? 0 : CALLOUT_PX,
          pitch: small ? HAND_PITCH_PX : LEAST_PITCH_PX,
        },
        zone ? { step, zone } : null,
      ),
    [plan, assessment, size.width, floor, small, step, zone],
  );
  // Where the call-out stands, told to whatever holds it without drawing anything again.
  const chosenRow = layout.columns.find((c) => c.zone === zone)?.rows.find((r) => r.step.id === step);
  const at = chosenRow ? floor - chosenRow.up - chosenRow.height / 2 : -1;
  useLayoutEffect(() => {
    const holder = box.current?.closest<HTMLElement>("[data-callout-holder]");
    holder?.style.setProperty("--callout-left", `${SIDE_PX + layout.callout}px`);
    holder?.style.setProperty("--callout-at", `${at + (box.current?.offsetTop ?? 0)}px`);
    holder?.style.setProperty("--callout-notch", at >= 0 ? "block" : "none");
  }, [layout.callout, at]);
  const swipe = useRef<{ x: number; y: number } | null>(null);
  const stepZone = (by: 1 | -1) => {
    const here = layout.groups.findIndex((g) => layout.columns.some((c) => c.zones.includes(g.zone)));
    const next = layout.groups[here + by];
    if (next) props.onZone(next.zone);
  };
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

  const letGo = useCallback(() => setDrag(null), []);

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

  const shown = useMemo(() => layout.columns.map((c) => c.zones[0]!), [layout]);
  const partly = layout.columns.length < layout.groups.length;
  return (
    <div className="flex h-full min-h-0 flex-col">
      {partly ? (
        <Strip
          plan={plan}
          assessment={assessment}
          groups={layout.groups}
          shown={shown}
          onZone={props.onZone}
        />
      ) : null}
      <div
        ref={box}
        className="relative min-h-0 flex-1 select-none overflow-hidden"
        onKeyDown={onKey}
        onPointerDown={(e) => {
          if (e.target === e.currentTarget) onSelect(null);
          swipe.current = partly && e.pointerType !== "mouse" ? { x: e.clientX, y: e.clientY } : null;
        }}
        onPointerUp={(e) => {
          const from = swipe.current;
          swipe.current = null;
          if (!from) return;
          const [dx, dy] = [e.clientX - from.x, e.clientY - from.y];
          if (Math.abs(dx) > SWIPE_PX && Math.abs(dx) > 2 * Math.abs(dy)) stepZone(dx < 0 ? 1 : -1);
        }}
        data-testid="rack"
        data-hand={small ? "yes" : undefined}
      >
        <div
          className="absolute inset-y-0"
          style={{ left: SIDE_PX, right: SIDE_PX }}
          onPointerDown={(e) => e.target === e.currentTarget && onSelect(null)}
        >
          <Ribbons layout={layout} floor={floor} props={props} />
          {layout.columns.map((column) => (
            <ColumnView
              key={column.zone}
              column={column}
              floor={floor}
              plan={plan}
              assessment={assessment}
              minute={props.minute}
              selectedRow={selectedRow}
              tabStop={stop}
              hand={small}
              onSelect={onSelect}
              onAdd={props.onAdd}
              onDragTo={trackDrag}
              onDrop={drop}
              onCancel={letGo}
            />
          ))}
          {layout.many ? <Names columns={layout.columns} floor={floor} /> : null}
          <Told columns={layout.columns} floor={floor} drag={drag} />
          {props.reaches ? (
            <UndoReach columns={layout.columns} floor={floor} reaches={props.reaches} />
          ) : null}
          {layout.columns.map((column) =>
            layout.many && column.zone !== selection?.zone ? null : (
              <Tags
                key={column.zone}
                column={column}
                floor={floor}
                selection={selection}
                onSelect={onSelect}
                plan={plan}
              />
            ),
          )}
        </div>
        <RackNote crowded={layout.crowded && !small} preview={props.preview} />
      </div>
      <RackKey />
    </div>
  );
}

/** Names that stand once and run over the neighbours that share their step. */
function Names({ columns, floor }: { columns: Column[]; floor: number }) {
  return columns.flatMap((c) =>
    c.rows
      .filter((r) => r.nameWidth > c.width && r.height >= WORDS_FROM_PX)
      .map((r) => (
        <span
          key={`${c.zone}~${r.step.id}`}
          aria-hidden="true"
          className="pointer-events-none absolute z-[4] flex items-center text-[13px] leading-tight"
          style={{ left: c.left, top: floor - r.up - r.height, width: r.nameWidth, height: r.height }}
        >
          <span className="ml-1 truncate rounded-sm bg-surround px-1 text-ink">{r.step.name}</span>
        </span>
      )),
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

function RackNote({ crowded, preview }: { crowded: boolean; preview: boolean }) {
  return (
    <p className="pointer-events-none absolute left-4 top-1.5 text-xs text-ink-2">
      {preview ? <strong className="mr-3 text-ink">Trying it: nothing is kept yet</strong> : null}
      {crowded
        ? "Crowded core: the coats round the chosen one are opened, the others pressed together."
        : null}
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
