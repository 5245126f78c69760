/** Two pictures of the same zone, one slid over the other. */
import { useState } from "react";
import type { LogRow } from "../../api/client";
import { Choice } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { sameZone, Stamp } from "./Stamp";

export function Compare({ row, rows, onClose }: { row: LogRow; rows: LogRow[]; onClose: () => void }) {
  const others = rows.filter((r) => r.picture && r.id !== row.id && sameZone(r, row));
  const [other, setOther] = useState(others[0]!.id);
  const [share, setShare] = useState(50);
  const that = others.find((r) => r.id === other)!;
  const [early, late] = Date.parse(that.at) < Date.parse(row.at) ? [that, row] : [row, that];
  const src = (r: LogRow) => `/api/builds/${r.build}/pictures/${r.picture}`;
  const day = (r: LogRow) => new Date(r.at).toLocaleDateString("en-GB", { day: "numeric", month: "short" });
  return (
    <Sheet open widest title={`${row.zone_names.join(", ")}: before and after`} onClose={onClose}>
      {others.length > 1 ? (
        <Choice
          label="Beside"
          value={other}
          options={others.map((r) => ({ value: r.id, label: `${day(r)}, after ${r.name || "a note"}` }))}
          onTake={setOther}
        />
      ) : null}
      <div className="log-slide" data-testid="slide">
        <img src={src(early)} alt={`Before, ${day(early)}`} />
        <img src={src(late)} alt={`After, ${day(late)}`} style={{ clipPath: `inset(0 0 0 ${share}%)` }} />
        <i style={{ left: `${share}%` }} />
      </div>
      <label className="mt-2 flex items-center gap-3 text-sm">
        <span className="flex items-center gap-2">
          <Stamp row={early} /> {day(early)}
        </span>
        <input
          type="range"
          min={0}
          max={100}
          value={share}
          className="grow"
          aria-label="How much of the earlier one is seen"
          onChange={(e) => setShare(Number(e.target.value))}
        />
        <span className="flex items-center gap-2">
          {day(late)} <Stamp row={late} />
        </span>
      </label>
    </Sheet>
  );
}
