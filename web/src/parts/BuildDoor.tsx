/** The way into every view of a build: its store, and what is known to it, its own materials too. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, type ReactNode } from "react";
import { Link, useParams } from "react-router";
import { api, must, type BuildOut, type Knowledge } from "../api/client";
import { storeOf, useShot, type BuildStore } from "../api/store";
import { keepLast } from "../model/last";
import { useLater } from "./useLater";
import { tell, type TradeWords } from "../model/words";

const techniquesAsked = {
  queryKey: ["techniques"],
  queryFn: async () => must(await api.GET("/api/techniques")),
  staleTime: Infinity,
};

export function useShipped(): Knowledge | undefined {
  const { data: shipped } = useQuery({
    queryKey: ["knowledge"],
    queryFn: async () => must(await api.GET("/api/knowledge")),
    staleTime: Infinity,
  });
  const { data: techniques } = useQuery({ ...techniquesAsked, enabled: false });
  return useMemo(() => shipped && { ...shipped, techniques: techniques ?? [] }, [shipped, techniques]);
}

/** The trade's words, as the API tells them. */
export function useWords(): TradeWords {
  const words = useShipped()?.words;
  return useMemo(() => tell(words), [words]);
}

/** What a base material is called by people. */
export function useBaseName(): (id: string | null | undefined) => string {
  const substrates = useShipped()?.substrates;
  return useMemo(() => {
    const names = new Map(substrates?.map((s) => [s.id as string, s.name.toLowerCase()]));
    return (id) => names.get(id ?? "") ?? (id ?? "").replaceAll("_", " ");
  }, [substrates]);
}

/** What ships, and what the plan brings with it. */
function useKnown(build: BuildOut | null): Knowledge | undefined {
  const shipped = useShipped();
  // Nothing is drawn with the techniques: they are asked for once the drawing is up.
  useQuery({ ...techniquesAsked, enabled: useLater(!!build && !!shipped) });
  const own = build?.plan.materials ?? [];
  const { data } = useQuery({
    queryKey: ["own", build?.id, JSON.stringify(own)],
    queryFn: async () =>
      must(await api.GET("/api/builds/{build_id}/materials", { params: { path: { build_id: build!.id } } })),
    enabled: own.length > 0,
    placeholderData: (before) => before,
  });
  return useMemo(
    () =>
      shipped && data && own.length
        ? {
            ...shipped,
            coats: [...shipped.coats, ...data.coats],
            thinners: [...shipped.thinners, ...data.thinners],
          }
        : shipped,
    [shipped, data, own.length],
  );
}

export function BuildDoor({ children }: { children: (store: BuildStore, known: Knowledge) => ReactNode }) {
  const { id = "" } = useParams();
  const store = useMemo(() => storeOf(id), [id]);
  useEffect(() => {
    void store.load();
    localStorage.setItem("emvar-visited", "yes"); // from now on the door leads to the list of builds
  }, [store]);
  const shot = useShot(store);
  const name = shot.build?.plan.build.name;
  useEffect(() => {
    if (name) keepLast({ id, name });
  }, [id, name]);
  const known = useKnown(shot.build);
  if (shot.missing)
    return (
      <main className="p-10">
        <h1 className="text-xl font-semibold">This build is not here</h1>
        <p className="my-2">{shot.missing}.</p>
        <Link className="underline" to="/">
          To the builds
        </Link>
      </main>
    );
  if (!shot.build && shot.away)
    return (
      <main className="p-10" role="status">
        <h1 className="text-xl font-semibold">Nothing to show yet</h1>
        <p className="my-2">{shot.away}. It is asked again every second or two; nothing typed is lost.</p>
        <Link className="underline" to="/">
          To the builds
        </Link>
      </main>
    );
  if (!shot.build || !known) return <main className="p-10" aria-busy="true" />;
  return children(store, known);
}
