/** Labels of the core's enums, in the trade's words. */
export const METHOD_WORDS: Record<string, string> = {
  mist: "misted on",
  spray: "airbrushed, thin",
  wet_spray: "airbrushed, wet",
  can: "spray can",
  brush: "brushed",
  sponge: "sponged",
  dry_brush: "dry-brushed",
  wash: "washed on",
  flood: "flooded",
  speckle: "speckled",
  dust: "dusted on",
  place: "placed",
  damp_wipe: "almost dry brush or bud",
  wet_wipe: "wet brush",
  scrub: "scrubbed",
  dry_tool: "dry tool",
};
export const COAT_METHODS = [
  "mist",
  "spray",
  "wet_spray",
  "can",
  "brush",
  "sponge",
  "dry_brush",
  "wash",
  "flood",
  "speckle",
  "dust",
  "place",
];
export const WORK_METHODS = ["damp_wipe", "wet_wipe", "scrub", "dry_tool"];
export const ACTION_WORDS: Record<string, string> = {
  wipe: "Wipe back",
  blend: "Blend",
  streak: "Drag into streaks",
  chip: "Chip",
  scrape: "Scrape",
  mask: "Mask",
  unmask: "Unmask",
  handle: "Handle",
  glue: "Glue",
  remove: "Take a part off",
  fit: "Fit a part",
  inspect: "Inspect",
};
export const BASIS_WORDS: Record<string, string> = {
  model: "Computed",
  rule: "By rule",
  practice: "Common practice",
  unknown: "Nothing to go by",
  trial: "Your own trial",
};
/** How far a verdict lies from another one. */
export const SURE_WORDS: Record<string, string> = {
  firm: "clear-cut",
  fair: "fairly sure",
  open: "could go either way",
};
export const SCHOOL_WORDS: Record<string, { title: string; sides: Record<string, string> }> = {
  clear_before_decals: {
    title: "Before decals and washes",
    sides: {
      gloss_first: "gloss first, always",
      straight_on: "straight on: smooth satin or tight matt is enough",
    },
  },
  sealing: {
    title: "Between oil and enamel layers",
    sides: { seal_between: "seal each with a clear", let_it_harden: "never seal, let it harden" },
  },
  chipping: {
    title: "Chips through the top colour",
    sides: {
      hairspray: "hairspray: strong, big, less predictable",
      chipping_medium: "chipping medium: finer, predictable",
    },
  },
  filter: {
    title: "Unifying the colours",
    sides: { filter_first: "a filter, before the wash", fade_with_dots: "oil dots in its place" },
  },
  pigment: {
    title: "Pigments",
    sides: { loose: "loose, with spirit only", bound: "bound with fixer or cement" },
  },
  chip_order: {
    title: "Painted chips",
    sides: {
      light_then_dark: "light scratches, dark cores inside",
      by_removal: "by removal: real layers show",
    },
  },
  rust_and_dirt: {
    title: "Rust and dirt",
    sides: { rust_under_dirt: "rust under the dirt", rust_last: "rust last, fresh runs over it" },
  },
  assembly: {
    title: "Assembly",
    sides: { assemble_then_paint: "assemble, then paint", fit_late: "paint parts apart, fit late" },
  },
};
export const KIND_WORDS: Record<string, string> = {
  damage: "damage",
  hold: "poor hold",
  look: "spoiled look",
  mix: "the mix",
  order: "the order",
  timing: "timing",
};
