/**
 * The drawing's rules in one place; docs/drawing.md says why. Colours of both themes are CSS variables in
 * index.css, so that the drawing and the controls share them.
 */

/** Height of a coat: FLOOR + k·√µm, with k chosen so that the tallest core fits, at most K_MOST. Pixels. */
export const FLOOR_PX = 19;
export const K_MOST_PX = 15;
export const K_LEAST_PX = 0.4;
/** A working or fitting step is a saw-cut across the core, not a layer. */
export const CUT_PX = 26;
/** In a crowded core the coats round the focus open to this, the others share what is left. */
export const LENS_PX = 30;
export const LENS_REACH = 2;
export const LEAST_PX = 2;
/** Below this height a coat carries no words. */
export const WORDS_FROM_PX = 15;

export const BASE_PX = 22;
export const CORE_SHARE = 0.62;
export const CORE_MOST_PX = 150;
export const TAG_PX = 24;

/** Share of the clock's width that is given to the hours with work in them. */
export const BUSY_SHARE = 0.7;
export const BUSY_BEFORE_MIN = 15;
export const BUSY_AFTER_MIN = 35;

/** Verdict lines, in order of gravity; told by line first, by word second, never by hue alone. */
export const VERDICTS = ["sound", "caution", "wait", "clash"] as const;
export type Verdict = (typeof VERDICTS)[number];
