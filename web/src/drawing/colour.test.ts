import css from "../index.css?raw";
import { describe, expect, it } from "vitest";
import { coatFill, inkOn } from "./colour";

/** Relative luminance and contrast as WCAG 2.2 defines them (from memory). */
const luminance = (srgb: string) => {
  const c = [1, 3, 5].map((i) => {
    const v = parseInt(srgb.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;
};
const contrast = (a: string, b: string) => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
};

it("ink on a paint can always be read", () => {
  for (let r = 0; r < 256; r += 17)
    for (let g = 0; g < 256; g += 17)
      for (let b = 0; b < 256; b += 17) {
        const paint = `#${[r, g, b].map((v) => v.toString(16).padStart(2, "0")).join("")}`;
        expect(contrast(paint, inkOn(paint)), paint).toBeGreaterThanOrEqual(4.5);
      }
});

it("a coat that does not cover shows what lies below it", () => {
  expect(coatFill("#883322", "matt", 1)).not.toContain("repeating");
  expect(coatFill("#883322", "matt", 0.5)).toContain("13.0px");
  expect(coatFill("#883322", "gloss", 1)).toContain("255 255 255");
});

it("a mark is drawn where it lies", () => {
  const drawn = (place: string, from = 0) => coatFill("#883322", "matt", 0.2, { place, from });
  expect(drawn("edges")).toContain("#883322 0 10.0%");
  expect(drawn("patch", 0.3)).toContain("#883322 30.0% 50.0%");
  expect(
    new Set(["edges", "recesses", "low_band", "upward", "scattered", "sources"].map((p) => drawn(p))).size,
  ).toBe(6);
});

describe("the edge of a paint", () => {
  const block = (selector: string) => {
    const at = css.indexOf(selector);
    return Object.fromEntries(
      [...css.slice(at, css.indexOf("}", at)).matchAll(/--([\w-]+): (#[0-9a-f]{6})/g)].map((m) => [
        m[1]!,
        m[2]!,
      ]),
    );
  };
  it.each([":root,", '[data-theme="dark"] {'])(
    "stands 3 : 1 off every neutral that it lies on (%s)",
    (theme) => {
      const colours = block(theme);
      for (const ground of ["surround", "surround-deep", "night", "paper", "paper-2"])
        expect(contrast(colours.edge!, colours[ground]!), ground).toBeGreaterThanOrEqual(3);
    },
  );
});
