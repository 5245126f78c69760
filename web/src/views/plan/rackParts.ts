/** What the parts of the rack share. */
export const PRESSED_PX = 7; // rows lower than this are drawn pressed, without a name
