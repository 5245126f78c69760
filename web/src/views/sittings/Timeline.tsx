/**
 * Sittings as stretches of light across the zones. Each coat is a wedge: full while it is wet, sinking as it hardens,
 * a line once it is hard; its window is a bracket over it, cracked where it closes and nobody is there. The work is
 * what stands in the light. A step, and a sitting by its head, can be dragged: what it would break is named before
 * letting go.
 */
import { ClockSlider } from "../../parts/ClockSlider";
import { FOOT, HEAD, LABELS, RIGHT, laneOf, type Props } from "./geometry";
import { Ghosts, Marks } from "./Marks";
import { Ground, Lanes } from "./Wedges";

export function Timeline(p: Props) {
  const { plan, shown, axis, clock } = p;
  const { lane, whole } = laneOf(plan, p.height);
  const at = axis.x(p.minute);
  return (
    <div className="relative" style={{ height: whole }}>
      <div className="absolute inset-y-0 left-0" style={{ width: LABELS }}>
        {plan.zones.map((z, i) => (
          <div
            key={z.id}
            className="absolute right-2 left-4 overflow-hidden border-t border-line pt-1 text-sm leading-tight font-semibold"
            style={{ top: HEAD + i * lane, height: lane }}
          >
            {z.name}
          </div>
        ))}
      </div>
      <div className="absolute inset-y-0 overflow-hidden" style={{ left: LABELS, right: RIGHT }}>
        <Ground plan={plan} axis={axis} clock={clock} width={p.width} height={whole} shown={shown} />
        <Lanes plan={plan} view={shown.view} axis={axis} lane={lane} step={p.step} clock={clock} />
        <Marks {...p} lane={lane} />
        <Ghosts {...p} lane={lane} whole={whole} />
        <ClockSlider
          axis={axis}
          clock={clock}
          minute={p.minute}
          onMinute={p.onMinute}
          className="absolute inset-x-0 bottom-0"
          style={{ height: FOOT }}
        />
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
          <path d={`M${at} ${HEAD}V${whole - FOOT + 6}`} stroke="var(--halo)" strokeWidth={4} />
          <path d={`M${at} ${HEAD}V${whole - FOOT + 6}`} stroke="var(--ink)" strokeWidth={1.5} />
          <path
            d={`M${at - 8} ${whole - 4}h16v-7l-8-8l-8 8z`}
            fill="var(--ink)"
            stroke="var(--halo)"
            strokeWidth={1.5}
          />
        </svg>
      </div>
    </div>
  );
}
