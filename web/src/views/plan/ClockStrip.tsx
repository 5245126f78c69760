/**
 * The clock along the foot: one lane a zone, what is wet, workable and hardening in it, and when. Hours with work in
 * them are drawn wider than the nights between. The clock reads; it never edits.
 */
import { useEffect, useMemo, useRef, useState } from "react";
import type { Assessment, BuildOut, Plan } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { busyAxis, type Axis } from "../../drawing/axis";
import type { Clockwork } from "../../drawing/time";
import { ClockSlider } from "../../parts/ClockSlider";
import { ClockSwitch } from "../../parts/ClockSwitch";
import { liveWords } from "../../model/live";
import { nightOf } from "../../model/nights";
import { Push } from "../../parts/Push";

/** A lane is this high, less where all of them together would take more than so much. */
const LANE_PX = 19;
const ALL_LANES_PX = 96;
const LANES_TOP = 18;
const FOOT = 20;

export function ClockStrip(p: {
  plan: Plan;
  assessment: Assessment;
  clock: Clockwork;
  minute: number;
  selected: string | null;
  /** The only zone whose lane is drawn. */
  zone: string | null;
  onMinute: (minute: number) => void;
  reach: boolean;
  onReach: () => void;
  onPark: () => void;
  store: BuildStore;
  /** The clock that was chosen, and whether there are sittings to go by. */
  chosen: BuildOut["clock"];
  scheduled: boolean;
}) {
  const { plan, assessment: a, clock } = p;
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1200);
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setWidth(e!.contentRect.width));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const to = Math.max(a.end_min * 1.05, a.end_min + 240, 60);
  const axis = useMemo(() => busyAxis(Object.values(a.times), to, width), [a.times, to, width]);
  // On a narrow screen one lane: that of the zone which is looked at.
  const zones = useMemo(
    () => (p.zone ? plan.zones.filter((z) => z.id === p.zone) : plan.zones),
    [p.zone, plan.zones],
  );
  const lane = p.zone ? 34 : Math.min(LANE_PX, Math.max(3, ALL_LANES_PX / zones.length));
  const height = LANES_TOP + lane * zones.length + FOOT;
  const set = (m: number) => p.onMinute(Math.min(Math.max(m, axis.from), axis.to));
  const at = axis.x(p.minute);

  const marks = useMemo(() => {
    const found = new Set<number>();
    for (const t of Object.values(a.times)) found.add(t.start_min).add(t.end_min);
    return [...found].sort((x, y) => x - y);
  }, [a.times]);
  const jump = (way: 1 | -1) => {
    const next =
      way > 0 ? marks.find((m) => m > p.minute + 0.01) : marks.findLast((m) => m < p.minute - 0.01);
    if (next !== undefined) set(next);
  };
  const other = (key: string) => {
    if (key === "Home") set(0);
    else if (key === "End") set(a.end_min);
    else if (key === "ArrowUp") jump(1);
    else if (key === "ArrowDown") jump(-1);
    else return false;
    return true;
  };

  return (
    <section className="border-t border-line bg-surround-deep px-4 pt-1.5 pb-2" aria-label="Clock">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1 min-[900px]:gap-x-4">
        <output
          className="shrink-0 text-lg leading-tight font-semibold whitespace-nowrap min-[900px]:text-xl xl:w-60"
          data-testid="clock-now"
        >
          {clock.long(p.minute)}
        </output>
        <ClockSwitch store={p.store} chosen={p.chosen} scheduled={p.scheduled} />
        <p
          className="min-w-0 flex-1 basis-full truncate min-[900px]:basis-48 text-sm text-ink-2"
          data-testid="live"
        >
          {liveWords(plan, a, clock, p.minute)}
        </p>
        <span className="ml-auto flex flex-wrap gap-1 no-print max-[899.9px]:order-last max-[899.9px]:w-full max-[899.9px]:justify-between">
          <Push data-bare aria-pressed={p.reach} onClick={p.onReach}>
            {p.reach ? "✓ " : ""}What still comes off
          </Push>
          <Push data-bare onClick={p.onPark}>
            Can I stop now?
          </Push>
          <Push data-bare onClick={() => jump(-1)} aria-label="To the event before">
            ◂<span className="max-[899.9px]:hidden"> event</span>
          </Push>
          <Push data-bare onClick={() => jump(1)} aria-label="To the next event">
            <span className="max-[899.9px]:hidden">event </span>▸
          </Push>
        </span>
      </div>
      <ClockSlider
        box={box}
        axis={axis}
        clock={clock}
        minute={p.minute}
        onMinute={p.onMinute}
        onOther={other}
        className="relative"
        style={{ height }}
      >
        <svg className="absolute inset-0 h-full w-full" aria-hidden="true">
          <Ground plan={plan} axis={axis} clock={clock} width={width} height={height} />
          <Lanes plan={plan} zones={zones} a={a} axis={axis} lane={lane} selected={p.selected} />
          <g>
            <path d={`M${at} 12V${height - FOOT + 4}`} stroke="var(--halo)" strokeWidth={5} />
            <path d={`M${at} 8V${height - FOOT + 4}`} stroke="var(--ink)" strokeWidth={2} />
            <path d={drop(at)} fill="var(--ink)" stroke="var(--halo)" strokeWidth={1.5} />
          </g>
        </svg>
      </ClockSlider>
    </section>
  );
}

/** The handle: a drop of paint, its tip at the instant. */
const drop = (x: number) =>
  `M${x} 17C${x - 3} 12 ${x - 7} 10 ${x - 7} 6.5a7 6 0 0 1 14 0C${x + 7} 10 ${x + 3} 12 ${x} 17z`;

function Ground(p: { plan: Plan; axis: Axis; clock: Clockwork; width: number; height: number }) {
  const { axis, clock, plan } = p;
  const drawn = useMemo(() => {
    const [from, to] = [plan.air?.night_from ?? "22:00", plan.air?.night_to ?? "07:00"];
    const nights: [number, number][] = [];
    const days: { x: number; words: string }[] = [];
    const hours: { x: number; words: string }[] = [];
    const first = clock.wall(axis.from);
    // A build of many weeks is marked by days only: nobody reads hours there, and working them out takes time.
    const across = (axis.to - axis.from) / 1440;
    const stride = across > 21 ? 1440 * Math.ceil(across / 40) : 60;
    let m = axis.from - first.minute - (stride > 60 ? first.hour * 60 : 0);
    const most = 800 * 24 * 60;
    let lastDay = -1e9;
    let lastHour = -1e9;
    for (let guard = 0; m <= axis.to && m < most && guard < 2000; m += stride, guard++) {
      const wall = clock.wall(m + 0.01);
      const [x0, x1] = [axis.x(m), axis.x(m + stride)];
      if (stride === 60)
        for (const [a, b] of nightOf(wall.hour, from, to)) nights.push([axis.x(m + a), axis.x(m + b)]);
      if (wall.hour === 0 || stride > 60 || guard === 0) {
        const x = guard === 0 ? 0 : x0;
        if (x - lastDay > 52) {
          days.push({ x, words: wall.day });
          lastDay = x;
        }
      }
      if (stride === 60 && x1 - x0 > 24 && x0 - lastHour > 30 && x0 > 0) {
        hours.push({ x: x0, words: `${String(wall.hour).padStart(2, "0")}` });
        lastHour = x0;
      }
    }
    return { nights, days, hours };
  }, [axis, clock, plan.air]);
  const low = p.height - FOOT;
  return (
    <>
      <rect x={0} y={LANES_TOP - 3} width={p.width} height={low - LANES_TOP + 5} fill="var(--surround)" />
      {drawn.nights.map(([x0, x1]) => (
        <rect
          key={x0}
          x={x0}
          y={LANES_TOP - 3}
          width={Math.max(x1 - x0, 0)}
          height={low - LANES_TOP + 5}
          fill="var(--night)"
        />
      ))}
      {drawn.hours.map((h) => (
        <g key={h.x}>
          <path d={`M${h.x} ${low - 1}v5`} stroke="var(--ink-2)" />
          <text x={h.x} y={LANES_TOP - 6} fontSize={11} textAnchor="middle" fill="var(--ink-2)">
            {h.words}
          </text>
        </g>
      ))}
      {drawn.days.map((d) => (
        <g key={d.x}>
          <path d={`M${d.x} ${LANES_TOP - 3}V${p.height - 4}`} stroke="var(--line)" />
          <text x={d.x + 4} y={p.height - 5} fontSize={12.5} fontWeight={600} fill="var(--ink)">
            {d.words}
          </text>
        </g>
      ))}
    </>
  );
}

function Lanes(p: {
  plan: Plan;
  zones: Plan["zones"];
  a: Assessment;
  axis: Axis;
  lane: number;
  selected: string | null;
}) {
  const { plan, zones, a, axis, lane } = p;
  const shapes = useMemo(() => {
    const out: React.ReactNode[] = [];
    const thin = new Map<string, string>(); // on very long plans: when each coat is laid, one path a colour
    zones.forEach((zone, i) => {
      const y = LANES_TOP + i * lane;
      out.push(<path key={zone.id} d={`M0 ${y + lane - 0.5}H4000`} stroke="var(--line)" strokeWidth={0.5} />);
      for (const step of plan.steps ?? []) {
        if (!step.zones.includes(zone.id)) continue;
        const t = a.times[step.id]!;
        const [x0, x1] = [axis.x(t.start_min), axis.x(t.end_min)];
        const coat = a.coats[`${step.id}~${zone.id}`];
        const key = `${step.id}~${zone.id}`;
        if (coat && plan.steps!.length > 120 && step.id !== p.selected) {
          const at = `M${x0.toFixed(1)} ${(y + lane / 2).toFixed(1)}H${Math.max(x1, x0 + 1.5).toFixed(1)}`;
          thin.set(coat.colour, (thin.get(coat.colour) ?? "") + at);
        } else if (coat) {
          const firm =
            coat.states.find((s) => s.state === "firm" || s.state === "hard")?.from_min ?? t.end_min;
          const live =
            coat.states.find((s) => s.state === "soft" || s.state === "firm")?.from_min ?? t.end_min;
          const [xl, xf] = [axis.x(live), axis.x(firm)];
          const [top, low] = [y + 1.5, y + lane - 1.5];
          out.push(
            <path
              key={key}
              d={`M${x0} ${top}H${Math.max(x1, x0 + 3)}C${(x1 + xl) / 2} ${top} ${xl} ${low - (low - top) * 0.45} ${xl} ${low - (low - top) * 0.35}L${Math.max(xf, xl)} ${low}H${x0}Z`}
              fill={coat.colour}
              stroke={step.id === p.selected ? "var(--ink)" : "var(--edge)"}
              strokeWidth={step.id === p.selected ? 2 : 1}
            />,
          );
        } else {
          out.push(
            <rect
              key={key}
              x={x0}
              y={y + lane * 0.3}
              width={Math.max(x1 - x0, 3)}
              height={lane * 0.4}
              fill="var(--paper)"
              stroke="var(--ink)"
              strokeWidth={step.id === p.selected ? 2 : 0.75}
            />,
          );
        }
      }
    });
    for (const [colour, d] of thin)
      out.push(<path key={colour} d={d} stroke={colour} strokeWidth={lane - 3} />);
    for (const story of a.stories) {
      if (story.verdict === "caution") continue;
      for (const id of story.seams) {
        const seam = a.seams[id];
        if (!seam) continue;
        const row = zones.findIndex((z) => z.id === seam.zone_id);
        if (row < 0) continue;
        const y = LANES_TOP + row * lane;
        const x = axis.x(seam.at_min);
        if (story.verdict === "clash")
          out.push(
            <path
              key={`v${id}`}
              d={`M${x} ${y - 1}l-3 ${lane * 0.35}l6 ${lane * 0.3}l-3 ${lane * 0.45}`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={2}
            />,
          );
        else if (seam.opens_careful_min !== null)
          out.push(
            <path
              key={`v${id}`}
              d={`M${x} ${y + 1.5}H${axis.x(seam.opens_careful_min)}v${lane * 0.5}`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.25}
              strokeDasharray="4 3"
            />,
          );
      }
    }
    return out;
  }, [plan, zones, a, axis, lane, p.selected]);
  return <>{shapes}</>;
}
