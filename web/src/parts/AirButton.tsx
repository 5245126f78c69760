/** The bench air in a few words, as a button. */
import type { ButtonHTMLAttributes, Ref } from "react";
import type { Air, BenchAir } from "../api/client";
import { temperature } from "../drawing/units";
import { Push } from "./Push";

export function airWords(air: Air): string {
  return `${temperature(air.temp_c ?? 20)} · ${air.rh_pct ?? 50} % · ${air.movement ?? "still"}`;
}

export function AirButton({
  air,
  ...on
}: { air: BenchAir; ref?: Ref<HTMLButtonElement> } & ButtonHTMLAttributes<HTMLButtonElement>) {
  const day = air.day ?? {};
  return (
    <Push {...on} data-bare aria-label={`Bench air: ${airWords(day)}`}>
      <span className="hidden xl:inline">{airWords(day)}</span>
      <span className="xl:hidden">
        {temperature(day.temp_c ?? 20)} · {day.rh_pct ?? 50} %
      </span>
      {air.night ? (
        <span className="hidden text-ink-2 xl:inline">night {temperature(air.night.temp_c ?? 20)}</span>
      ) : null}
    </Push>
  );
}
