/** The schedule of a build on the screen: what the server last said, and the search that runs beside it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import {
  api,
  must,
  plainWords,
  type Change,
  type Edit,
  type Hours,
  type Moved,
  type Problem,
  type Searched,
  type Shown,
} from "../../api/client";
import type { Beside, BuildStore } from "../../api/store";

export type Kind = "search" | "dry_run" | "changes" | "what_if";
const POLL_MS = 200;

type Answer<T> = { data?: T; error?: unknown };
const reasons = (error: unknown) => plainWords((error as { problems?: Problem[] } | undefined)?.problems);

export function useSittings(store: BuildStore, revision: number) {
  const build = store.id;
  const client = useQueryClient();
  const key = ["sittings", build];
  const params = { path: { build_id: build } };
  const [why, setWhy] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: [...key, revision],
    queryFn: async () => must(await api.GET("/api/builds/{build_id}/sittings", { params })),
    placeholderData: (before) => before,
  });
  const show = (shown: Shown) => client.setQueryData([...key, shown.revision], shown);
  const again = () => client.invalidateQueries({ queryKey: key });
  const taken = ({ data: shown, error }: Answer<Shown>) => {
    if (shown) show(shown);
    setWhy(shown ? null : reasons(error));
    return shown;
  };
  /** A write beside the plan: it waits in the build's own queue until the server has it. */
  const write = async (way: Beside, body: Record<string, unknown>, label: string) => {
    const outcome = await store.beside(way, body, label);
    if (outcome.ok && outcome.shown) show(outcome.shown);
    setWhy(outcome.ok ? null : outcome.why);
    return outcome.ok;
  };
  return {
    shown: data,
    why,
    heard: () => setWhy(null),
    again,
    move: async (step: string, start_min: number, keep: boolean): Promise<Moved | undefined> => {
      const { data: moved, error } = await api.POST("/api/builds/{build_id}/sittings/move", {
        params,
        body: { step, start_min, keep, command_id: keep ? crypto.randomUUID() : null },
      });
      if (error) setWhy(reasons(error));
      if (keep) await again();
      return moved;
    },
    tryHours: async (hours: Hours) =>
      (
        await api.POST("/api/builds/{build_id}/sittings/move", {
          params,
          body: { hours: hours as Record<string, unknown>, start_min: 0, keep: false },
        })
      ).data,
    pin: (step: string, pinned: boolean) => write("pin", { step, pinned }, "a pin"),
    take: async (label: string, edits: Edit[], schedule: Change["schedule"], base: number) =>
      taken(
        await api.POST("/api/builds/{build_id}/sittings/take", {
          params,
          body: {
            base_revision: base,
            command_id: crypto.randomUUID(),
            label,
            edits,
            schedule: schedule as Record<string, unknown>,
          },
        }),
      ),
    back: () => write("back", {}, "the schedule before"),
    record: (entries: Record<string, unknown>[], now_at: string | null) =>
      write("record", { entries, now_at }, "what happened"),
    unrecord: () => write("unrecord", {}, "the last entry taken back"),
  };
}
export type Sittings = ReturnType<typeof useSittings>;

/** One kind of work of the child process: started, watched until it ends, stopped. */
export function useSearch(build: string, kind: Kind, onEnd: () => void) {
  const [job, setJob] = useState<Searched | null>(null);
  const running = job?.state === "running" || job?.state === "waiting";
  const path = { build_id: build, kind };
  useEffect(() => {
    if (!running) return;
    let live = true;
    const tick = async () => {
      const { data } = await api.GET("/api/builds/{build_id}/sittings/search/{kind}", { params: { path } });
      if (!live || !data) return;
      setJob(data);
      if (data.state === "running" || data.state === "waiting")
        timer = setTimeout(() => void tick(), POLL_MS);
      else onEnd();
    };
    let timer = setTimeout(() => void tick(), POLL_MS);
    return () => {
      live = false;
      clearTimeout(timer);
    };
    // oxlint-disable-next-line react/exhaustive-deps
  }, [running, build, kind]);
  const start = useCallback(
    async (seconds = 20) => {
      const { data, error } = await api.POST("/api/builds/{build_id}/sittings/search", {
        params: { path: { build_id: build } },
        body: { kind, seconds, keep_pins: true },
      });
      setJob(data ?? { state: "failed", error: reasons(error), goal: "", seconds: 0, waits_for: "" });
    },
    [build, kind],
  );
  const stop = async () => {
    const { data } = await api.POST("/api/builds/{build_id}/sittings/search/{kind}/stop", {
      params: { path },
    });
    if (data) setJob(data);
    onEnd();
  };
  return { job, running, start, stop };
}
export type Search = ReturnType<typeof useSearch>;
