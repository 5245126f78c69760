/** I stop in ten minutes: what is live, what must be done first, what may be left. */
import { told } from "../../drawing/units";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Plan } from "../../api/client";
import { readSpan, exactSpan, type Clockwork } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";
import { TextField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { useTimes } from "../../parts/useMinute";
import { Push } from "../../parts/Push";

export function ParkSheet(p: {
  open: boolean;
  build: string;
  revision: number;
  plan: Plan;
  clock: Clockwork;
  minute: number;
  onClose: () => void;
}) {
  const words = useWords();
  const [away, setAway] = useState<number | null>(null); // until the next sitting, unless said
  const at = Math.max(0, Math.round(p.minute));
  const times = useTimes();
  const { data } = useQuery({
    queryKey: ["park", p.build, p.revision, times, at, away],
    queryFn: async () =>
      (
        await api.GET("/api/builds/{build_id}/park", {
          params: {
            path: { build_id: p.build },
            query: { at, times, ...(away === null ? {} : { back: at + away }) },
          },
        })
      ).data,
    enabled: p.open,
    placeholderData: keepPreviousData,
  });
  const zone = (id: string) => p.plan.zones.find((z) => z.id === id)?.name ?? id;
  return (
    <Sheet open={p.open} title={`Stop at ${p.clock.long(at)}`} onClose={p.onClose} wide>
      <div className="mb-4 flex items-end gap-4">
        <TextField
          label="Away for"
          className="w-40"
          value={exactSpan(away ?? (data ? Math.round(data.back_min - data.at_min) : 0))}
          onTake={(t) => {
            const m = t.trim() ? readSpan(t) : null;
            if (t.trim() && !m)
              return { ok: false, why: "write 2 days, 20 h or 1:30; nothing for the usual" };
            setAway(m);
            return { ok: true };
          }}
        />
        {data ? (
          <p className="pb-1.5 text-sm text-ink-2">
            until {data.next_sitting ? "the next sitting, " : ""}
            {p.clock.long(data.back_min)}
          </p>
        ) : null}
        {away !== null && p.plan.hours ? (
          <Push className="ml-auto" onClick={() => setAway(null)}>
            Until the next sitting
          </Push>
        ) : null}
      </div>
      {data ? (
        <div className="space-y-4" data-testid="parking">
          <p className="text-base font-semibold">
            {data.safe
              ? data.items.length
                ? "You can stop here."
                : "Nothing is live: you can stop here."
              : "Not yet: something would be lost before you are back."}
          </p>
          {(["now", "heed", "leave"] as const).map((u) => {
            const items = data.items.filter((x) => x.urgency === u);
            return items.length ? (
              <section key={u}>
                <h3 className="mb-1 font-semibold">{words.parked(u)}</h3>
                <ul>
                  {items.map((x) => (
                    <li
                      key={x.sentence + x.zones.join()}
                      className="border-t border-line-soft py-1.5 text-sm"
                    >
                      {told(x.sentence)}
                      <span className="block text-xs text-ink-2">
                        {x.zones.length === p.plan.zones.length && x.zones.length > 1
                          ? "all zones"
                          : x.zones.map(zone).join(", ")}
                        {x.until_min !== null ? ` · ${p.clock.long(x.until_min)}` : ""}
                      </span>
                    </li>
                  ))}
                </ul>
              </section>
            ) : null;
          })}
        </div>
      ) : null}
    </Sheet>
  );
}
