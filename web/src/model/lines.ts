/** What the lines of a sitting say, on the screen and on paper. */
import type { Sitting } from "../api/client";
import { span } from "../drawing/time";

type Line = Sitting["lines"][number];

/** What is done between two pieces of work. */
export const betweenWork = (l: Line) => (l.rest ? "rest eyes and hands" : "clean the airbrush");

/** How long a piece of work takes, with the rests that lie in it. */
export const howLong = (l: Line) =>
  `${span(l.end_min - l.start_min)}${l.rests ? ` with ${l.rests === 1 ? "a rest" : `${l.rests} rests`}` : ""}`;
