/** What of a card by hand is said in more than one view. */
import type { Card } from "../api/client";

/** Passes, pauses and amount in a line, for paper. */
export function handFigures(hand: NonNullable<Card["hand"]>): string {
  const passes = hand.passes > 1 ? `${hand.passes} passes` : "";
  return [passes, hand.pause && `${hand.pause} between`, hand.amount].filter(Boolean).join(", ");
}
