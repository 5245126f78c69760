/** The cup in drops, the strokes on the core, and a wash's strengths, each to one scale. */
import { volume } from "../../drawing/units";
import type { Card } from "../../api/client";
import { coatFill, inkOn } from "../../drawing/colour";
import { NumberField } from "../../parts/Field";
import { Push } from "../../parts/Push";

/** From which error of a ratio in whole drops on it is told, %. */
export const OFF_PCT = 0.1;
const MOST_DROPS = 60;
const DROP = "M0-9C4-3 6 0 6 3.4A6 6 0 0 1-6 3.4C-6 0-4-3 0-9Z";

/** The cup as it is filled: every drop that is counted, or a level where nobody would count them. */
export function CupDrawing({ cup, colour }: { cup: NonNullable<Card["cup"]>; colour: string }) {
  const pours = cup.pours;
  const total = pours.reduce((sum, { ml }) => sum + ml, 0);
  // A paste is weighed, and what is thinned with is counted beside it.
  const pasty = pours.some((x) => x.drops === null);
  const drops = pours.reduce((sum, x) => sum + (x.drops ?? 0), 0);
  const counted = !pasty && drops <= MOST_DROPS;
  const H = 250;
  const bottom = H - 14;
  const fillTop = counted ? 60 : 44;
  const columnsOf = (n: number) => (n > 24 ? 8 : 6);
  const rowsOf = (n: number) => Math.ceil(n / columnsOf(n));
  const rowStep = Math.min(
    22,
    (bottom - fillTop) / pours.reduce((sum, x) => sum + rowsOf(x.drops ?? 0) + 0.4, 0),
  );
  const spans: { top: number; height: number }[] = [];
  for (const { drops: n, ml } of pours) {
    const height = counted
      ? (rowsOf(n ?? 0) + 0.4) * rowStep
      : Math.max((ml / Math.max(total, 1e-9)) * (bottom - fillTop), 26);
    spans.push({ top: (spans.at(-1)?.top ?? bottom) - height, height });
  }
  const fill = (role: string) => (role === "paint" ? colour : role === "thinner" ? "#f4f4f0" : "#b9c4cc");
  return (
    <div className="grid grid-cols-[minmax(6rem,8.5rem)_minmax(0,1fr)] gap-3" data-testid="cup">
      <svg
        viewBox={`0 0 136 ${H}`}
        className="h-[204px] w-full"
        role="img"
        aria-label={`${volume(total)} in the cup`}
      >
        <path
          d={`M4 14L18 ${bottom}Q68 ${H} 118 ${bottom}L132 14`}
          fill="var(--paper-2)"
          stroke="var(--line)"
          strokeWidth={1.5}
        />
        {pours.map(({ name, role, drops: n }, i) => {
          const { top, height } = spans[i]!;
          if (!counted)
            return (
              <path
                key={name}
                d={`M${4 + (top / bottom) * 14 + 1} ${top}L${4 + ((top + height) / bottom) * 14 + 1} ${top + height}H${132 - ((top + height) / bottom) * 14 - 1}L${132 - (top / bottom) * 14 - 1} ${top}Z`}
                fill={fill(role)}
                stroke="var(--line)"
              />
            );
          if (n === null) return null;
          const columns = columnsOf(n);
          const glyph = Math.min(1, rowStep / 20);
          return Array.from({ length: n }, (_, d) => (
            <path
              key={`${name}${d}`}
              d={DROP}
              fill={fill(role)}
              stroke={role === "paint" ? "var(--edge)" : "var(--line)"}
              transform={`translate(${26 + (d % columns) * (84 / (columns - 1))} ${top + height - rowStep * (Math.floor(d / columns) + 0.6)}) scale(${glyph})`}
            />
          ));
        })}
      </svg>
      <ol className="flex flex-col-reverse justify-start gap-3 pb-3">
        {pours.map(({ name, role, drops: n, ml, grams }) => {
          const inDrops = counted || (pasty && n !== null && n <= MOST_DROPS);
          const weighed = `${grams.toFixed(2)} g`;
          const [figure, unit] = inDrops
            ? [`${n}`, n === 1 ? "drop" : "drops"]
            : n === null
              ? [grams.toFixed(2), "g"]
              : [volume(ml).split(" ")[0], volume(ml).split(" ").slice(1).join(" ")];
          return (
            <li key={name} className="leading-tight">
              <strong className="text-xl">{figure}</strong> <span className="text-sm">{unit}</span>
              <span className="block text-sm">{name}</span>
              <span className="block text-xs text-ink-2">
                {[
                  role === "paint" ? "" : role.replaceAll("_", " "),
                  inDrops || n === null ? volume(ml) : "",
                  n === null ? "" : weighed,
                ]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            </li>
          );
        })}
      </ol>
    </div>
  );
}

/** The film as it grows, coat by coat, on what lies beneath; heights by the square root, as in the rack. */
export function StrokesDrawing(p: { card: Card; colour: string; sheen: string; under: string }) {
  const lay = p.card.laying;
  if (!lay) return null;
  const shown = Math.min(lay.coats, 5);
  const marks = Array.from({ length: shown + 1 }, (_, i) => Math.round((i * lay.coats) / shown));
  return (
    <ol className="flex items-end gap-3" data-testid="strokes">
      {marks.map((n) => {
        const um = n * lay.dry_per_coat_um;
        const share = Math.min(1, um / Math.max(p.card.film_um * 0.6, 1));
        return (
          <li key={n} className="w-20 min-w-0 shrink">
            {n ? (
              <span
                className="block"
                style={{
                  height: 7 * Math.sqrt(um),
                  background: coatFill(p.colour, share >= 1 ? p.sheen : "matt", 0.4 + 0.6 * share),
                }}
              />
            ) : null}
            <span className="block h-3" style={{ background: p.under }} />
            <span className="block text-xs whitespace-nowrap">
              {n ? `${n} · ${um.toFixed(um < 10 ? 1 : 0)} µm` : "bare"}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

/** One bottle at several strengths: each use as the shade that it leaves, with the range, and its drops. */
export function LadderDrawing(p: {
  card: Card;
  colour: string;
  /** Strengths of one's own, parts of thinner to one; only where there is a plan. */
  rungs?: number[];
  onRungs?: (rungs: number[]) => void;
  onStep?: (id: string) => void;
}) {
  const { card, colour, rungs, onRungs } = p;
  return (
    <div className="grid h-full content-center gap-2 min-[900px]:px-6" data-testid="ladder">
      <ol className="grid gap-2">
        {card.ladder.map((r) => (
          <li
            key={`${r.use}${r.step_id ?? ""}`}
            className="grid items-center gap-x-4 gap-y-1 min-[900px]:grid-cols-[8rem_1fr_13rem]"
          >
            <span className="font-semibold">
              {r.step_id && p.onStep ? (
                <button
                  type="button"
                  className="text-left underline underline-offset-2"
                  onClick={() => p.onStep!(r.step_id!)}
                >
                  {r.use}
                </button>
              ) : (
                r.use
              )}
            </span>
            <span
              className="grid h-12 grid-cols-3 overflow-hidden rounded-sm border border-line bg-paper-2 text-xs"
              role="img"
              aria-label={`Covers ${Math.round(r.darkness * 100)} %, between ${Math.round(r.range[0]! * 100)} and ${Math.round(r.range[1]! * 100)} %`}
            >
              {[r.range[0]!, r.darkness, r.range[1]!].map((d, i) => (
                <span
                  key={i}
                  className="grid place-items-center"
                  style={{
                    background: `color-mix(in srgb, ${colour} ${Math.round(d * 100)}%, #d8d8d4)`,
                    color: d > 0.5 ? inkOn(colour) : "#000000",
                  }}
                >
                  {["at least", "likely", "at most"][i]} {Math.round(d * 100)} %
                </span>
              ))}
            </span>
            <span>
              <strong className="text-lg">{r.wash_drops ?? `${r.wash_g.toFixed(2)} g`}</strong>{" "}
              {r.wash_drops === null ? "paint" : r.thinner_drops ? "wash" : "drops, neat"}
              {r.thinner_drops ? (
                <>
                  {" : "}
                  <strong className="text-lg">{r.thinner_drops}</strong>{" "}
                  {r.wash_drops === null ? "drops" : "thinner"}
                </>
              ) : null}
              {r.wash_drops !== null && r.error_pct >= OFF_PCT ? (
                <span className="block text-xs text-ink-2">ratio off by {r.error_pct} % in whole drops</span>
              ) : null}
            </span>
          </li>
        ))}
      </ol>
      {rungs && onRungs ? (
        <div className="flex flex-wrap items-end gap-2 no-print">
          <NumberField
            label="Another strength, thinner to one"
            className="w-56"
            value={null}
            onTake={(v) => {
              if (!(v > 0 && v <= 1000)) return { ok: false, why: "more than 0, up to 1000 parts" };
              if (rungs.length >= 6) return { ok: false, why: "six of one's own at most" };
              onRungs([...rungs, v]);
              return { ok: true };
            }}
          />
          {rungs.map((v) => (
            <Push
              key={v}

              aria-label={`Without 1 to ${v}`}
              onClick={() => onRungs(rungs.filter((x) => x !== v))}
            >
              1 : {v} ×
            </Push>
          ))}
        </div>
      ) : null}
    </div>
  );
}
