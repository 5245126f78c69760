import type { Knowledge } from "../api/client";

/** What can be thinned and wetted with: every liquid but a hardener, which is its paint's own. */
export function thinners(known: Knowledge) {
  return known.thinners.filter((t) => !t.hardens);
}
