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
};
export const KIND_WORDS: Record<string, string> = {
  damage: "damage",
  hold: "poor hold",
  look: "spoiled look",
  timing: "timing",
};
