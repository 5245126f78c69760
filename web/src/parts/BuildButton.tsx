/** The build's name, scale and base material, as the button of its menu. */
import type { ButtonHTMLAttributes, Ref } from "react";
import type { Plan } from "../api/client";
import { useBaseName } from "./BuildDoor";
import { Push } from "./Push";

export function BuildButton({
  plan,
  ...on
}: { plan: Plan; ref?: Ref<HTMLButtonElement> } & ButtonHTMLAttributes<HTMLButtonElement>) {
  const base = useBaseName();
  return (
    <Push {...on} className="min-w-0 text-base" data-bare title={plan.build.name}>
      <span className="truncate">{plan.build.name}</span>
      <span className="hidden text-ink-2 xl:inline">
        1:{plan.build.scale} · {base(plan.build.base_material)}
      </span>
      <span aria-hidden="true">▾</span>
    </Push>
  );
}
