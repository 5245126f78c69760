/** The cup of a coat: its drops, how thick it is, and what can be done to it. */
import type { ReactNode } from "react";
import type { Card, CoatStep, Knowledge, Mix } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { sensible, told } from "../../drawing/units";
import { Choice, NumberField } from "../../parts/Field";
import { CupDrawing, OFF_PCT } from "./Drawings";
import { Push } from "../../parts/Push";

export type Fill = { kind: "area" } | { kind: "ml" | "drops" | "most"; much: number };

export function mixOf(known: Knowledge, step: CoatStep): Mix | null {
  return (step.mix ?? known.coats.find((c) => c.id === step.material)?.mix ?? null) as Mix | null;
}

/** The cup to be read; `children`: what can be turned at it. */
export function CupColumn({ card, colour, children }: { card: Card; colour: string; children?: ReactNode }) {
  const t = card.thickness;
  return (
    <section aria-label="The cup" className="flex min-h-0 flex-col gap-2 overflow-y-auto">
      {card.mixed && card.cup ? (
        <CupDrawing cup={card.cup} colour={colour} />
      ) : (
        <p className="text-sm">Used as it comes: nothing to mix.</p>
      )}
      {card.mixed && card.cup ? (
        <p className="text-sm">
          {card.ratio}
          {card.cup.ratio_error_pct >= OFF_PCT && card.cup.pours.some((x) => x.drops !== null) ? (
            <span className="text-ink-2">
              , off by {card.cup.ratio_error_pct.toFixed(1)} % in whole drops
            </span>
          ) : null}
        </p>
      ) : null}
      {card.mixed && card.cup?.helps ? (
        <p className="text-sm font-semibold" data-testid="cup-helps">
          {card.cup.helps}
        </p>
      ) : null}
      {card.pot_life ? (
        <p className="text-sm font-semibold" data-testid="pot-life">
          {told(card.pot_life)}
        </p>
      ) : null}
      {card.mixed ? children : null}
      {t ? (
        <p className="leading-tight" data-testid="thickness">
          <strong className="text-xl">{sensible(t.mm2_s)} mm²/s</strong> like {t.like}
          {t.ready && t.ready !== "ready" ? <strong>: too {t.ready} to spray</strong> : ""}
          <span className="block text-xs text-ink-2">
            {sensible(t.low_mpas)} to {sensible(t.high_mpas)} mPa·s, {t.basis}
          </span>
        </p>
      ) : null}
      {card.correction ? <p className="text-sm font-semibold">{told(card.correction)}</p> : null}
    </section>
  );
}

/** The mix with another amount of thinner; in percent the paint makes room for it. */
export function withThinner(mix: Mix, amount: number): Mix {
  const thinner = mix.parts.findIndex((x) => x.role === "thinner");
  const paint = mix.parts.findIndex((x) => x.role === "paint");
  const more = mix.parts[0]?.unit === "percent" ? amount - mix.parts[thinner]!.amount : 0;
  return {
    parts: mix.parts.map((x, i) =>
      i === thinner ? { ...x, amount } : i === paint ? { ...x, amount: x.amount - more } : x,
    ),
  };
}

export function CupControls(p: {
  step: CoatStep;
  mix: Mix | null;
  store: BuildStore;
  /** An amount of thinner that is on its way to the plan. */
  thinner: number | null;
  onThinner: (amount: number | null) => void;
  fill: Fill;
  onFill: (fill: Fill) => void;
  onMeasure: () => void;
  onRecipe: () => void;
}) {
  const { mix, step } = p;
  const thinner = mix?.parts.find((x) => x.role === "thinner");
  const paint = mix?.parts.find((x) => x.role === "paint");
  const turn = (by: number) => {
    if (!mix || !thinner || !paint) return;
    const grain = Math.max(paint.amount / 4, 0.25);
    const amount = Math.max(Math.round(((p.thinner ?? thinner.amount) + by * grain) * 100) / 100, 0.05);
    p.onThinner(amount);
    void p.store
      .edit(`${step.name}: ${by > 0 ? "more" : "less"} thinner`, [
        { edit: "set_field", step_id: step.id, field: "mix", value: withThinner(mix, amount) },
      ])
      .then(() => p.onThinner(null));
  };
  const much = p.fill.kind === "area" ? null : p.fill;
  return (
    <>
      <div className="flex items-center gap-1.5 text-sm no-print">
        {thinner && paint ? (
          <>
            Thinner
            <Push aria-label="Less thinner" onClick={() => turn(-1)}>
              −
            </Push>
            <Push aria-label="More thinner" onClick={() => turn(1)}>
              +
            </Push>
          </>
        ) : null}
        <Push className="ml-auto" onClick={p.onRecipe}>
          Recipe
        </Push>
        <Push onClick={p.onMeasure}>Measure</Push>
      </div>
      <div className="flex items-end gap-2 no-print">
        <Choice
          label="Fill for"
          className="w-36"
          value={p.fill.kind}
          options={[
            { value: "area", label: "the area" },
            { value: "ml", label: "a cup" },
            { value: "drops", label: "drops of paint" },
            { value: "most", label: "drops at most" },
          ]}
          onTake={(kind) =>
            p.onFill(
              kind === "ml"
                ? { kind, much: 2 }
                : kind === "drops" || kind === "most"
                  ? { kind, much: kind === "drops" ? 10 : 30 }
                  : { kind: "area" },
            )
          }
        />
        {much ? (
          <NumberField
            label={much.kind === "ml" ? "Cup" : "Drops"}
            className="w-24"
            unit={much.kind === "ml" ? "mL" : undefined}
            value={much.much}
            onTake={(v) => {
              if (!(v > 0 && v <= (much.kind === "ml" ? 1000 : 10000)) || (much.kind !== "ml" && v % 1))
                return {
                  ok: false,
                  why: much.kind === "ml" ? "up to 1000 mL" : "whole drops, up to 10000",
                };
              p.onFill({ ...much, much: v });
              return { ok: true };
            }}
          />
        ) : null}
      </div>
    </>
  );
}
