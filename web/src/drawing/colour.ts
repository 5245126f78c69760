/** Ink that can be read on a paint: by relative luminance (WCAG 2.2), black or white, whichever contrasts more. */
export function inkOn(srgb: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(srgb.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return (y + 0.05) / 0.05 > 1.05 / (y + 0.05) ? "#000000" : "#ffffff";
}

/** Where in its zone a coat lies; `from`: the share of the zone from which a patch begins, so that patches beside each
 * other stand beside each other. */
export type Where = { place: string | null; from?: number };

const pct = (share: number) => `${(share * 100).toFixed(1)}%`;

/** A coat that does not cover, drawn where it is. */
function marks(srgb: string, thin: string, coverage: number, { place, from = 0 }: Where): string {
  const half = Math.max(coverage / 2, 0.03);
  const wide = Math.max(coverage, 0.05);
  const start = Math.min(from, 1 - wide);
  switch (place) {
    case "edges":
      return `linear-gradient(90deg, ${srgb} 0 ${pct(half)}, ${thin} ${pct(half)} ${pct(1 - half)}, ${srgb} ${pct(1 - half)})`;
    case "middles":
      return `linear-gradient(90deg, ${thin} 0, ${srgb} ${pct(0.5 - half)} ${pct(0.5 + half)}, ${thin} 100%)`;
    case "low_band":
      return `linear-gradient(0deg, ${srgb} 0 35%, ${thin} 95%)`;
    case "upward":
      return `linear-gradient(180deg, ${srgb} 0 35%, ${thin} 95%)`;
    case "patch":
      return `linear-gradient(90deg, ${thin} 0 ${pct(start)}, ${srgb} ${pct(start)} ${pct(start + wide)}, ${thin} ${pct(start + wide)})`;
    case "recesses":
      return `repeating-linear-gradient(90deg, ${thin} 0 34px, ${srgb} 34px 38px)`;
    case "sources":
      return `repeating-linear-gradient(90deg, ${thin} 0 18px, ${srgb} 18px 21px, ${thin} 21px 60px)`;
    case "raised":
      return `repeating-linear-gradient(90deg, ${srgb} 0 10px, ${thin} 14px 46px, ${srgb} 50px)`;
    case "fasteners":
      return `radial-gradient(circle, ${srgb} 0 2px, transparent 2.5px) 0 0 / 16px 100%, linear-gradient(${thin}, ${thin})`;
    case "scattered":
      return `radial-gradient(circle, ${srgb} 0 1.5px, transparent 2px) 0 1px / 11px 7px, radial-gradient(circle, ${srgb} 0 1px, transparent 1.5px) 5px 4px / 17px 9px, linear-gradient(${thin}, ${thin})`;
    default:
      return `repeating-linear-gradient(100deg, ${srgb} 0 ${(coverage * 26).toFixed(1)}px, ${thin} 0 26px)`;
  }
}

/** How a coat looks in section: its colour, in its place where it does not cover, and a light on it by its sheen. */
export function coatFill(
  srgb: string,
  sheen: string,
  coverage: number,
  where: Where = { place: null },
): string {
  const light =
    sheen === "gloss"
      ? "linear-gradient(90deg, transparent 4%, rgb(255 255 255 / .5) 9%, rgb(255 255 255 / .12) 13%, transparent 24%)"
      : sheen === "satin"
        ? "linear-gradient(90deg, transparent 0, rgb(255 255 255 / .17) 14%, transparent 34%)"
        : "none";
  const thin = `color-mix(in srgb, ${srgb} 28%, var(--surround))`;
  const body = coverage < 0.95 ? marks(srgb, thin, coverage, where) : `linear-gradient(${srgb}, ${srgb})`;
  return light === "none" ? body : `${light}, ${body}`;
}
