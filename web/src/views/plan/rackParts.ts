/** What the parts of the rack share. */
export const PRESSED_PX = 7; // rows lower than this are drawn pressed, without a name
export const CUT_IN_PX = 5; // a saw-cut is narrower than its core, by this at each side
