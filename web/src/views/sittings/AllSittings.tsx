import { stepName, zonesOfStep, type Props } from "./parts";
import { betweenWork, howLong } from "../../model/lines";

/** Everything as a table: for those who want it, for screen readers, and for paper. */
export function AllSittings({ plan, shown, clock }: Props) {
  const view = shown.view;
  const closes = new Map(view.windows.filter((w) => w.closes[0] !== null).map((w) => [w.after, w]));
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
        {view.sittings
          .filter((s) => s.lines.length)
          .flatMap((s) =>
            s.lines.map((l, i) => (
              <tr key={`${s.id}${i}`} className="border-b border-line-soft align-top">
                <td className="py-0.5 pr-4 font-semibold whitespace-nowrap">
                  {i === 0 ? `${clock.long(s.start_min)} to ${clock.time(s.end_min)}` : ""}
                </td>
                <td className="pr-4">{clock.time(l.start_min)}</td>
                <td className="pr-4">
                  {l.step ? stepName(plan, l.step) : betweenWork(l)}
                  {l.state ? ` (${l.state})` : ""}
                </td>
                <td className="pr-4">{l.step ? zonesOfStep(plan, l.step) : ""}</td>
                <td className="pr-4 whitespace-nowrap">{howLong(l)}</td>
                <td className="whitespace-nowrap">
                  {l.step && closes.has(l.step) ? clock.long(closes.get(l.step)!.closes[0]!) : ""}
                </td>
              </tr>
            )),
          )}
      </tbody>
    </table>
  );
}
