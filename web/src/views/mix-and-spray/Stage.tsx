/** The middle of the bench: the map where it is sprayed, the ladder of a wash, else the hand. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { plainWords, type Card, type Problem } from "../../api/client";
import { HandStage } from "./ByHand";
import { LadderDrawing } from "./Drawings";
import type { Gun } from "../../model/gun";
import { SprayMap } from "./SprayMap";

type Answer = { data?: unknown; error?: { problems: Problem[] } };

/** A bench card from the server; the last one stays while the next is on its way. */
export function useCard(queryKey: unknown[], ask: () => Promise<Answer>, enabled = true) {
  return useQuery({
    queryKey,
    queryFn: async () => {
      const { data, error } = await ask();
      if (!data) throw new Error(plainWords(error?.problems));
      return data as Card;
    },
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function Stage(p: {
  card: Card;
  colour: string;
  gauge: number | null;
  at: Gun["at"];
  onAt: (at: NonNullable<Gun["at"]>) => void;
  rungs?: number[];
  onRungs?: (rungs: number[]) => void;
  onStep?: (id: string) => void;
}) {
  const { card, colour } = p;
  if (card.map && card.point)
    return (
      <SprayMap
        map={card.map}
        best={card.best}
        zone={card.point.zone}
        colour={colour}
        gauge={p.gauge}
        at={p.at ?? { pressure: card.point.pressure_kpa, distance: card.point.distance_mm }}
        onAt={(pressure, distance) => p.onAt({ pressure, distance })}
      />
    );
  if (card.ladder.length) return <LadderDrawing {...p} />;
  return card.hand ? <HandStage card={card} hand={card.hand} colour={colour} /> : null;
}
