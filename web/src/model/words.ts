/** The trade's words as the API tells them: nothing here knows any of them by itself. */
import type { Knowledge } from "../api/client";

export type Words = Knowledge["words"];
export type TradeWords = ReturnType<typeof tell>;
type Word = { id: string; words: string };

const plain = (id: string) => id.replaceAll("_", " ");

/** The words for ids, and the choices that a field offers. An id without words stands as it is. */
export function tell(words: Words | undefined) {
  const of = (list: Word[] | undefined) => {
    const by = new Map((list ?? []).map((w) => [w.id, w.words]));
    return (id: string) => by.get(id) ?? plain(id);
  };
  const options = (list: Word[] | undefined) => (list ?? []).map((w) => ({ value: w.id, label: w.words }));
  const schools = words?.schools ?? [];
  return {
    method: of([...(words?.laid_by ?? []), ...(words?.worked_with ?? [])]),
    action: of(words?.actions),
    basis: of(words?.bases),
    sure: of(words?.sures),
    kind: of(words?.kinds),
    goal: of(words?.goals),
    event: of(words?.events),
    ready: of(words?.ready),
    stage: of(words?.stages),
    film: of(words?.films),
    hardening: words?.hardening ?? [],
    rescued: of(words?.rescued),
    parked: of(words?.parked),
    sprayed: of(words?.sprayed),
    sprayedAt: of((words?.sprayed ?? []).map((w) => ({ id: w.letter, words: w.words }))),
    search: of([...(words?.searches ?? []), ...(words?.goals ?? [])]),
    unit: of(words?.units),
    units: options(words?.units),
    roles: options(words?.roles),
    thicknesses: words?.thicknesses ?? [],
    aids: options(words?.aids),
    places: options(words?.places),
    leaves: words?.leaves ?? {},
    tools: words?.tools ?? [],
    uses: options(words?.uses),
    goals: (words?.goals ?? []).map((g) => g.id),
    laidBy: options(words?.laid_by),
    workedWith: options(words?.worked_with),
    buds: options(words?.buds),
    schools,
    school: (pair: string, side: string) => {
      const found = schools.find((s) => s.id === pair);
      return found ? `${found.title}: ${found.sides.find((x) => x.id === side)?.words ?? plain(side)}` : "";
    },
  };
}
