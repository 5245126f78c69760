/** All builds, the trash and the copies: what there is, and what can be done with it, each asked again until answered. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, Refused, type Problem } from "../../api/client";

const AGAIN = {
  retry: (_: number, error: Error) => !(error instanceof Refused) || error.status >= 500,
  retryDelay: 1500,
  networkMode: "always" as const,
};

export type Taken = { id: string } | { problems: Problem[] };

/** What is to be done with a build, told by an id of its own: sent again, it counts once. */
type Once = { id: string; command_id: string };
const once = (id: string): Once => ({ id, command_id: crypto.randomUUID() });

export function useBuilds() {
  const cache = useQueryClient();
  const builds = useQuery({
    queryKey: ["builds"],
    queryFn: async () => must(await api.GET("/api/builds")),
  });
  const trash = useQuery({
    queryKey: ["builds", "trash"],
    queryFn: async () => must(await api.GET("/api/trash")),
  });
  const data = useQuery({
    queryKey: ["builds", "data"],
    queryFn: async () => must(await api.GET("/api/data")),
  });
  const [said, setSaid] = useState("");
  const again = () => cache.invalidateQueries({ queryKey: ["builds"] });
  const tell = { onSuccess: again, onError: (error: Error) => setSaid(error.message) };
  const remove = useMutation({
    ...AGAIN,
    ...tell,
    mutationFn: async ({ id, command_id }: Once) => {
      const { error, response } = await api.DELETE("/api/builds/{build_id}", {
        params: { path: { build_id: id }, query: { command_id } },
      });
      if (!response.ok) must({ error, response });
    },
  });
  const putBack = useMutation({
    ...AGAIN,
    ...tell,
    mutationFn: async ({ id, command_id }: Once) => {
      const { error, response } = await api.POST("/api/trash/{build_id}/back", {
        params: { path: { build_id: id }, query: { command_id } },
      });
      if (!response.ok) must({ error, response });
    },
  });
  const forGood = useMutation({
    ...AGAIN,
    ...tell,
    mutationFn: async (id: string) => {
      const { error, response } = await api.DELETE("/api/trash/{build_id}", {
        params: { path: { build_id: id } },
      });
      if (!response.ok) must({ error, response });
    },
  });
  const keepCopy = useMutation({
    ...tell,
    mutationFn: async () => must(await api.POST("/api/copies")),
  });
  const restore = useMutation({
    mutationFn: async (from: File | string) =>
      must(
        await api.POST("/api/restore", {
          params: { query: typeof from === "string" ? { kept: from } : {} },
          body: (typeof from === "string" ? "" : from) as never,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": "application/zip" },
        }),
      ),
    onSuccess: async ({ builds: n, aside }) => {
      setSaid(
        `${n === 1 ? "1 build is" : `${n} builds are`} back.${aside ? ` What was here before lies in ${aside}.` : ""}`,
      );
      await again();
    },
    onError: (error) => setSaid(error.message),
  });
  /** Stores a plan file, or a build that was saved; sent twice under one command id, it counts once. */
  const send = async (body: string | File): Promise<Taken> => {
    const command_id = crypto.randomUUID();
    for (let n = 0; ; n++) {
      try {
        const answer = await api.POST("/api/builds", {
          params: { query: { command_id } },
          body: body as never,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": typeof body === "string" ? "application/json" : "application/zip" },
        });
        if (answer.data) return { id: answer.data.id };
        return { problems: (answer.error as { problems?: Problem[] })?.problems ?? [] };
      } catch {
        if (n === 3)
          return { problems: [{ where: "server", what: "Emvar does not answer; try again once it runs" }] };
        await new Promise((r) => setTimeout(r, 1000));
      }
    }
  };
  const away = builds.data ? null : builds.failureReason;
  return {
    builds: builds.data,
    trash: trash.data ?? [],
    data: data.data,
    why: away instanceof Refused ? away.message : away ? "Emvar does not answer" : null,
    again,
    waits: [remove, putBack, forGood].some((m) => m.isPending && m.failureCount > 0),
    said,
    remove: (id: string) => remove.mutate(once(id)),
    putBack: (id: string) => putBack.mutate(once(id)),
    forGood: forGood.mutate,
    keepCopy: keepCopy.mutate,
    keeping: keepCopy.isPending,
    restore: restore.mutate,
    restoring: restore.isPending,
    send,
  };
}
export type Builds = ReturnType<typeof useBuilds>;
