/**
 * What is printed, as it will lie on the bench: sheets drawn in millimetres, their colours kept, cautions first. What
 * is seen here is what comes out; the browser's own print dialog or its PDF takes it from here.
 */
import { useQueries, useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, must, type Card, type CoatStep, type Plan } from "../../api/client";
import { useShot, type BuildStore } from "../../api/store";
import { Clockwork } from "../../drawing/time";
import { asked, keptGun } from "../../model/gun";
import { BuildDoor } from "../../parts/BuildDoor";
import { CardSheet } from "./CardSheet";
import { RackSheet } from "./RackSheet";
import { SittingSheets } from "./SittingSheet";
import { TableSheet } from "./TableSheet";
import "./paper.css";
import { Push } from "../../parts/Push";

const WHAT: Record<string, string> = {
  card: "Bench card",
  rack: "The rack",
  table: "The table",
  sittings: "A sheet for each sitting",
};

export function PaperView() {
  return <BuildDoor>{(store) => <Paper key={store.id} store={store} />}</BuildDoor>;
}

/** The cards of coats, as each is kept with its step. */
function useCards(build: string, revision: number, steps: CoatStep[]) {
  const all = useQueries({
    queries: steps.map((step) => ({
      queryKey: ["paper-card", build, revision, step.id],
      queryFn: async () =>
        must(
          await api.GET("/api/builds/{build_id}/card/{step_id}", {
            params: { path: { build_id: build, step_id: step.id }, query: asked(keptGun(step)) },
          }),
        ) as Card,
      staleTime: Infinity,
    })),
  });
  const cards = new Map<string, Card>();
  all.forEach((q, i) => q.data && cards.set(steps[i]!.id, q.data));
  return { cards, waiting: all.filter((q) => q.isPending).length };
}

function Paper({ store }: { store: BuildStore }) {
  const { what = "rack", of } = useParams();
  const build = useShot(store).build!;
  const { plan, assessment: a } = build;
  const clock = new Clockwork(plan.build.starts_at, plan.build.timezone ?? "UTC");
  const sittings = useQuery({
    queryKey: ["sittings", build.id, build.revision],
    queryFn: async () =>
      must(await api.GET("/api/builds/{build_id}/sittings", { params: { path: { build_id: build.id } } })),
    enabled: what === "sittings",
  });
  const hands = useQuery({
    queryKey: ["by-hand", build.id, build.revision],
    queryFn: async () =>
      must(await api.GET("/api/builds/{build_id}/by-hand", { params: { path: { build_id: build.id } } })),
    enabled: what === "sittings",
  });
  const coats = (plan.steps ?? []).filter((s): s is CoatStep => s.kind === "coat");
  const view = sittings.data?.view;
  const wanted =
    what === "card"
      ? coats.filter((s) => s.id === of)
      : what === "sittings" && view
        ? coats.filter((s) => inSittings(view.sittings, of).has(s.id))
        : [];
  const { cards, waiting } = useCards(build.id, build.revision, wanted);
  const ready = waiting === 0 && (what !== "sittings" || (!!view && !!hands.data));
  return (
    <div className="min-h-full bg-night print:bg-white">
      <header className="view-head no-print">
        <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
          emvar
        </Link>
        <h1 className="min-w-0 truncate text-base font-semibold">
          {WHAT[what] ?? "Nothing to print"} · {plan.build.name}
        </h1>
        <span className="ml-auto" />
        <Link className="push" data-bare to={back(build.id, what, of)}>
          Back
        </Link>
        <Push data-strong disabled={!ready} onClick={() => window.print()}>
          {ready ? "Print" : waiting ? `${waiting} cards are worked out` : "One moment"}
        </Push>
      </header>
      <main data-testid="paper" data-ready={ready ? "yes" : "no"}>
        {what === "card" ? (
          <Card_
            plan={plan}
            step={wanted[0]}
            card={wanted[0] ? cards.get(wanted[0].id) : undefined}
            a={a}
            clock={clock}
          />
        ) : null}
        {what === "rack" ? <RackSheet plan={plan} a={a} clock={clock} /> : null}
        {what === "table" ? <TableSheet plan={plan} a={a} clock={clock} /> : null}
        {what === "sittings" && sittings.data ? (
          <SittingSheets
            plan={plan}
            shown={sittings.data}
            clock={clock}
            cards={cards}
            hands={hands.data ?? {}}
            only={of}
          />
        ) : null}
      </main>
    </div>
  );
}

function Card_(p: {
  plan: Plan;
  step: CoatStep | undefined;
  card: Card | undefined;
  a: Parameters<typeof CardSheet>[0]["a"];
  clock: Clockwork;
}) {
  if (!p.step) return <p className="p-8">There is no such coat in this build.</p>;
  return p.card ? <CardSheet plan={p.plan} step={p.step} card={p.card} a={p.a} clock={p.clock} /> : null;
}

function inSittings(
  all: { id: string; lines: { step: string | null }[] }[],
  only: string | undefined,
): Set<string> {
  return new Set(
    all
      .filter((s) => !only || s.id === only)
      .flatMap((s) => s.lines.flatMap((l) => (l.step ? [l.step] : []))),
  );
}

function back(id: string, what: string, of: string | undefined): string {
  if (what === "card") return `/build/${id}/mix-and-spray/${of ?? ""}`;
  if (what === "table") return `/build/${id}/table`;
  return what === "sittings" ? `/build/${id}/sittings` : `/build/${id}`;
}
