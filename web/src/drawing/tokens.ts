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
export const CORE_SHARE = 0.68;
/** A core takes the width that there is, up to this; beside it stay the words of its seams. */
export const CORE_MOST_PX = 320;
export const GUTTER_PX = 112;
/** From this many cores on, names stand once where neighbours share a step, and words only beside the chosen core. */
export const MANY_CORES = 8;
/** Likewise where each core and its gutter would get less than this. */
export const NARROW_PITCH_PX = 150;
/** Beyond this many zones those with the same stack are drawn as one. */
export const GROUPED_FROM = 13;
/** A core with its gutter takes at least this; where they do not all fit, those round the chosen one are drawn. */
export const LEAST_PITCH_PX = 68;
/** Where the call-out lies over the foot of the page instead of in the rack, cores are wide enough to be read. */
export const HAND_PITCH_PX = 230;
/** The chosen one of many cores. */
export const CHOSEN_PITCH_PX = 208;
/** The call-out of the chosen core. */
export const CALLOUT_PX = 360;
/** A name may take two lines where its coat is at least this high. */
export const TWO_LINES_PX = 31;
export const TAG_PX = 24;

/** Share of the clock's width that is given to the hours with work in them. */
export const BUSY_SHARE = 0.7;
export const BUSY_BEFORE_MIN = 15;
export const BUSY_AFTER_MIN = 35;

/** Verdict lines, in order of gravity; told by line first, by word second, never by hue alone. */
export const VERDICTS = ["sound", "caution", "wait", "clash"] as const;
export type Verdict = (typeof VERDICTS)[number];
