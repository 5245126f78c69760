import { span } from "../../drawing/time";
import { betweenWork, howLong } from "../../model/lines";
import { stepName, zonesOfStep, type Props } from "./parts";

type Row = {
  key: string;
  at: number;
  sitting?: string;
  do: string;
  where?: string;
  for: string;
  over?: string;
  taken?: boolean;
};

/** Everything as a table: for those who want it, for screen readers, and for paper. */
export function AllSittings({ plan, shown, clock }: Props) {
  const view = shown.view;
  const closes = new Map(view.windows.filter((w) => w.closes[0] !== null).map((w) => [w.after, w]));
  const work: Row[] = view.sittings.flatMap((s) =>
    s.lines.map((l, i) => ({
      key: `${s.id}${i}`,
      at: l.start_min,
      sitting: i === 0 ? `${clock.long(s.start_min)} to ${clock.time(s.end_min)}` : "",
      do: `${l.step ? stepName(plan, l.step) : betweenWork(l)}${l.state ? ` (${l.state})` : ""}`,
      where: l.step ? zonesOfStep(plan, l.step) : "",
      for: howLong(l),
      over: l.step && closes.has(l.step) ? clock.long(closes.get(l.step)!.closes[0]!) : "",
    })),
  );
  const taken: Row[] = shown.taken
    .filter((t) => t.start_min < view.finish_min)
    .map((t) => ({
      key: `${t.by}${t.start_min}`,
      at: t.start_min,
      sitting: `${clock.long(t.start_min)} to ${clock.time(t.end_min)}`,
      do: `taken: ${t.by}`,
      for: span(t.end_min - t.start_min),
      taken: true,
    }));
  return (
    <table className="w-full border-collapse text-left text-sm" data-testid="all">
      <caption className="hidden py-2 text-left text-lg font-semibold print:table-caption">
        {plan.build.name}: finished {clock.long(view.finish_min)}. Estimates; test before you trust a window.
      </caption>
      <thead>
        <tr className="border-b border-ink">
          {["Sitting", "At", "Do", "Where", "For", "Must be over by"].map((h) => (
            <th key={h} className="py-1 pr-4 font-semibold">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {[...work, ...taken]
          .sort((a, b) => a.at - b.at)
          .map((r) => (
            <tr
              key={r.key}
              className={`border-b border-line-soft align-top ${r.taken ? "text-ink-2 italic" : ""}`}
            >
              <td className="py-0.5 pr-4 font-semibold whitespace-nowrap">{r.sitting}</td>
              <td className="pr-4">{clock.time(r.at)}</td>
              <td className="pr-4">{r.do}</td>
              <td className="pr-4">{r.where}</td>
              <td className="pr-4 whitespace-nowrap">{r.for}</td>
              <td className="whitespace-nowrap">{r.over}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
