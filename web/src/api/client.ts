import createClient from "openapi-fetch";
import { ownTab } from "./tabs";
import type { components, paths } from "./schema";

type S = components["schemas"];
export type Plan = S["Plan"];
export type Step = Plan["steps"] extends (infer T)[] | undefined ? T : never;
export type CoatStep = S["CoatStep"];
export type WorkingStep = S["WorkingStep"];
export type FittingStep = S["FittingStep"];
export type Seam = S["SeamOut"];
export type Coat = S["CoatOut"];
export type Story = S["Story"];
export type Assessment = S["Assessment"];
export type Changed = S["Changed"];
export type BuildOut = S["BuildOut"];
export type Remedy = S["Remedy"];
export type SeamDetail = S["SeamDetail"];
export type Remark = S["Remark"];
export type Technique = S["TechniqueOut"];
export type RescueOut = S["RescueOut"];
export type Reach = S["Reach"];
export type Diagnosis = S["Diagnosis"];
export type Over = S["Over"];
export type Under = S["Under"];
export type Score = S["Score"];
export type Trial = S["Trial"];
export type Substitute = S["Substitute"];
export type Compendium = S["Compendium"];
export type OwnMaterial = NonNullable<Plan["materials"]>[number];
export type Build = Plan["build"];
export type Zone = Plan["zones"][number];
export type Card = S["Card"];
export type Method = S["Method"];
export type Instrument = S["InstrumentOut"];
export type Measured = S["Measured"];
export type Problem = S["Problem"];
/** What is known; the techniques come a moment after the rest. */
export type Knowledge = S["KnowledgeOut"] & { techniques: S["TechniqueOut"][] };
export type Material = S["MaterialOut"];
export type Air = S["Air"];
export type BenchAir = S["BenchAir"];
export type Mix = S["Mix"];

export type Glance = S["Glance"];
export type Outline = S["OutlineRow"];
export type Shown = S["Shown"];
export type Sitting = S["SittingOut"];
export type WindowSpan = S["WindowSpan"];
export type Hours = S["Hours"];
export type Moved = S["Moved"];
export type Searched = S["SearchOut"];
export type Change = S["Change"];
export type Case = S["Case"];
export type DryRun = S["DryRun"];

export type Pack = S["Pack"];
export type StepCard = S["StepCard"];
export type Timer = S["TimerOut"];
export type MovedOut = S["MovedOut"];
export type Actual = S["Actual"];
export type LogRow = S["LogRow"];
export type LogOut = S["LogOut"];
export type LearnedAll = S["LearnedAll"];
export type LastTime = S["LastTime"];
export type JarRow = S["JarRow"];
/** An entry of the journal; what is left out is as usual. */
export type Entry = Pick<S["Entry"], "id" | "said" | "at" | "written_at"> & Partial<S["Entry"]>;
export type Said = S["Said"];

/** An edit of the closed set in the core's edits.py. */
export type Edit = { edit: string; [field: string]: unknown };

export function csrf(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export const api = createClient<paths>({ baseUrl: "/" });
api.use({
  onRequest({ request }) {
    request.headers.set("X-Window", ownTab()); // so that undo knows what this window has made itself
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf());
    return request;
  },
});

/** The answer's data; without any, an error with the reason in words, so that nothing is shown as if it were empty. */
export function must<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.data !== undefined) return answer.data;
  throw new Refused(
    problemWords((answer.error as { problems?: Problem[] } | undefined)?.problems),
    answer.response.status,
  );
}
export class Refused extends Error {
  constructor(
    why: string,
    readonly status: number,
  ) {
    super(why);
  }
}

/** What is wrong, at the field or the place where it was done: in plain words, each once, without a path. */
export function plainWords(problems: Problem[] | undefined): string {
  const said = [...new Set((problems ?? []).map((p) => p.what))];
  return said.join("; ") || "the server gave no reason";
}

/** What is wrong in a file: with the place in it. */
export function problemWords(problems: Problem[] | undefined): string {
  return (problems ?? []).map((p) => `${p.where}: ${p.what}`).join("; ") || "the server gave no reason";
}
