/** How the gun is held, and how the server is asked about it. */
import type { CoatStep } from "../api/client";

/** How the gun is held; null: as recommended. `only`: the one pressure there is, kPa. */
export type Gun = {
  at: { pressure: number; distance: number } | null;
  trigger: number | null;
  gun: string | null;
  only: number | null;
  purpose: "even" | "gloss" | "line" | "mottle" | "preshade" | "dust" | null;
  /** How wide a pattern is wanted, mm, and how fast the hand moves, mm/s. */
  width: number | null;
  speed: number | null;
};
export const AS_RECOMMENDED: Gun = {
  at: null,
  trigger: null,
  gun: null,
  only: null,
  purpose: null,
  width: null,
  speed: null,
};

/** The gun's part of the question that is put to the server. */
export function asked(g: Gun) {
  return {
    gun: g.gun ?? undefined,
    trigger: g.trigger ?? undefined,
    only_kpa: g.only ?? undefined,
    pressure_kpa: g.at?.pressure,
    distance_mm: g.at?.distance,
    purpose: g.purpose ?? undefined,
    width_mm: g.width ?? undefined,
    speed_mm_s: g.speed ?? undefined,
  };
}

/** As the step says that it is sprayed; free where it does not say. */
export function keptGun(step: CoatStep): Gun {
  const {
    gun,
    pressure_kpa: pressure,
    distance_mm: distance,
    purpose,
    width_mm,
    speed_mm_s,
  } = step.spray ?? {};
  return {
    ...AS_RECOMMENDED,
    gun: gun ?? null,
    at: pressure && distance ? { pressure, distance } : null,
    purpose: purpose ?? null,
    width: width_mm ?? null,
    speed: speed_mm_s ?? null,
  };
}
