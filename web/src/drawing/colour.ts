/** Ink that can be read on a paint: by relative luminance (WCAG 2.2), black or white, whichever contrasts more. */
export function inkOn(srgb: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(srgb.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return (y + 0.05) / 0.05 > 1.05 / (y + 0.05) ? "#000000" : "#ffffff";
}

/** How a coat looks in section: its colour, broken where it does not cover, and a light on it by its sheen. */
export function coatFill(srgb: string, sheen: string, coverage: number): string {
  const light =
    sheen === "gloss"
      ? "linear-gradient(90deg, transparent 4%, rgb(255 255 255 / .5) 9%, rgb(255 255 255 / .12) 13%, transparent 24%)"
      : sheen === "satin"
        ? "linear-gradient(90deg, transparent 0, rgb(255 255 255 / .17) 14%, transparent 34%)"
        : "none";
  const thin = `color-mix(in srgb, ${srgb} 28%, var(--surround))`;
  const body =
    coverage < 0.95
      ? `repeating-linear-gradient(100deg, ${srgb} 0 ${(coverage * 26).toFixed(1)}px, ${thin} 0 26px)`
      : `linear-gradient(${srgb}, ${srgb})`;
  return light === "none" ? body : `${light}, ${body}`;
}
