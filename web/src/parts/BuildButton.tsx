/** The build's name, scale and base material, as the button of its menu. */
import type { Ref } from "react";
import type { Plan } from "../api/client";

export function BuildButton({ plan, ref, ...on }: { plan: Plan; ref?: Ref<HTMLButtonElement> }) {
  return (
    <button
      type="button"
      ref={ref}
      {...on}
      className="push min-w-0 text-base"
      data-bare
      title={plan.build.name}
    >
      <span className="truncate">{plan.build.name}</span>
      <span className="hidden text-ink-2 xl:inline">
        1:{plan.build.scale} · {(plan.build.base_material ?? "").replaceAll("_", " ")}
      </span>
      <span aria-hidden="true">▾</span>
    </button>
  );
}
