/** How a command gets to the server, and what comes back: no state, no second try. */
import { api, plainWords, type BuildOut, type Changed, type Edit, type Problem, type Shown } from "./client";

/** What is written beside the plan: what happened, pins, the schedule before. */
export type Beside = "record" | "unrecord" | "pin" | "back";
export type Command = {
  command_id: string;
  label: string;
  way: "edits" | "undo" | "redo" | Beside;
  edits: Edit[];
  body?: Record<string, unknown>;
};
export type Times = BuildOut["times"];
type Near = { zone: string; step: string } | null;

export type Reply =
  | { told: Changed | BuildOut }
  | { shown: Shown }
  /** Somebody else's edit came first: the build as it is now. */
  | { conflict: BuildOut }
  | { refused: string; where: string | undefined };

type Answer = { data?: unknown; error?: unknown; response: { status: number } };

/** The reply in an answer; null where there is none, so that it is asked again. */
function reply(answer: Answer, whole: (data: unknown) => Reply): Reply | null {
  if (answer.data) return whole(answer.data);
  if (answer.response.status === 409) return { conflict: answer.error as BuildOut };
  if (answer.response.status >= 500) return null;
  const problems = (answer.error as { problems?: Problem[] }).problems;
  return { refused: plainWords(problems), where: problems?.[0]?.where };
}

/** Sends a command once. `last`: an undo that has to begin with what came after. */
export async function send(
  build: BuildOut,
  command: Command,
  near: Near,
  last: boolean,
): Promise<Reply | null> {
  const params = { path: { build_id: build.id } };
  const { way, command_id, label, edits } = command;
  const ids = { base_revision: build.revision, command_id, times: build.times };
  const told = (data: unknown): Reply => ({ told: data as Changed | BuildOut });
  try {
    if (way === "edits")
      return reply(
        await api.POST("/api/builds/{build_id}/edits", {
          params,
          body: { ...ids, label, edits, dry_run: false, near },
        }),
        told,
      );
    if (way === "undo" || way === "redo")
      return reply(
        await api.POST(`/api/builds/{build_id}/${way}`, {
          params,
          body: { ...ids, last: way === "undo" && last },
        }),
        told,
      );
    return reply(
      await api.POST(`/api/builds/{build_id}/sittings/${way}`, {
        params,
        body: { ...command.body, command_id } as never,
      }),
      (data) => ({ shown: data as Shown }),
    );
  } catch {
    return null;
  }
}

/** The build as it would be with these edits; nothing is kept. Undefined where there is no answer. */
export async function tried(build: BuildOut, label: string, edits: Edit[]): Promise<Changed | undefined> {
  const { data } = await api.POST("/api/builds/{build_id}/edits", {
    params: { path: { build_id: build.id } },
    body: {
      base_revision: build.revision,
      command_id: crypto.randomUUID(),
      label,
      edits,
      dry_run: true,
      times: build.times,
    },
  });
  return data;
}

/** Without `times`: by the clock that was chosen for the build. */
export function ask(id: string, times?: Times) {
  return api.GET("/api/builds/{build_id}", { params: { path: { build_id: id }, query: { times } } });
}
