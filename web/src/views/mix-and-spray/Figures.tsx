/** What happens at the point where the gun is held, what to turn, and how much it takes. */
import type { Card } from "../../api/client";
import type { Gun } from "../../model/gun";
import { useWords } from "../../parts/BuildDoor";
import { distance, pressure, told, volume } from "../../drawing/units";
import { Check, Choice, NumberField } from "../../parts/Field";
import { Push } from "../../parts/Push";

const PURPOSES = [
  { value: "even", label: "even coat" },
  { value: "gloss", label: "gloss" },
  { value: "line", label: "fine lines" },
  { value: "mottle", label: "patches" },
  { value: "preshade", label: "pre-shade" },
  { value: "dust", label: "dust" },
];

export function Figures(p: {
  card: Card;
  hold: Gun;
  setHold: (part: Partial<Gun>) => void;
  guns: { id: string; name: string }[];
  /** With what the step is kept, in words, and keeping the point that is shown. */
  kept?: { words: string | null; here: boolean; onKeep: () => void };
  /** Only where there is a plan with its kit, and a bench with its instruments. */
  bench?: { follow: boolean; onFollow: (on: boolean) => void; onKit: () => void };
}) {
  const { card, hold, setHold } = p;
  const words = useWords();
  const point = card.point;
  if (!point) return null;
  const row = (words: string, value: string) => (
    <div className="flex justify-between gap-2 border-b border-line-soft py-0.5" key={words}>
      <dt className="text-ink-2">{words}</dt>
      <dd className="font-semibold">{value}</dd>
    </div>
  );
  const best = card.best;
  return (
    <section
      aria-label="The point"
      className="flex min-h-0 flex-col gap-2 overflow-y-auto text-sm"
      data-testid="point"
    >
      <p className="text-xl leading-tight font-semibold">
        <span className="inline-block first-letter:uppercase">{words.sprayed(point.zone)}</span>
        <span className="block text-base font-normal">
          {pressure(point.pressure_kpa)}, {distance(point.distance_mm)}
        </span>
      </p>
      <div className="flex items-end gap-1.5 no-print">
        <Choice
          label="What for"
          className="min-w-0 grow"
          value={hold.purpose ?? card.purpose ?? "even"}
          options={PURPOSES}
          onTake={(purpose) => setHold({ purpose: purpose as Gun["purpose"], width: null, at: null })}
        />
        <NumberField
          label="Wide"
          unit="mm"
          className="w-18"
          value={hold.width ?? Math.round(card.wanted_mm * 10) / 10}
          onTake={(v) => {
            if (!(v >= 0.5 && v <= 100)) return { ok: false, why: "0.5 to 100 mm" };
            setHold({ width: v, at: null });
            return { ok: true };
          }}
        />
        <NumberField
          label="Hand"
          unit="cm/s"
          className="w-19"
          value={Math.round(card.speed_mm_s) / 10}
          onTake={(v) => {
            if (!(v >= 0.1 && v <= 100)) return { ok: false, why: "0.1 to 100 cm a second" };
            setHold({ speed: v * 10 });
            return { ok: true };
          }}
        />
      </div>
      <dl>
        {row("Drops", `${point.drop_um.toFixed(0)} µm`)}
        {row(
          "Lost in flight, missed",
          `${(point.loss * 100).toFixed(0)} %, ${(100 - point.lands * 100).toFixed(0)} %`,
        )}
        {row("A stroke", `${point.film_um.toFixed(1)} µm wet, ${point.dry_um.toFixed(2)} dry`)}
        {row(
          "Pattern, paint",
          `${point.width_mm.toFixed(point.width_mm < 10 ? 1 : 0)} mm, ${point.flow_ml_min.toFixed(2)} mL/min`,
        )}
      </dl>
      {best ? (
        <p>
          {hold.only === null
            ? `Best ${told(`${(best.pressure_range_kpa[0]! / 100).toFixed(1)}–${(best.pressure_range_kpa[1]! / 100).toFixed(1)} bar`)} with the trigger open, `
            : `Best with ${pressure(hold.only)}: `}
          {told(
            `${(best.distance_range_mm[0]! / 10).toFixed(0)}–${(best.distance_range_mm[1]! / 10).toFixed(0)} cm`,
          )}
          .
        </p>
      ) : (
        <p className="font-semibold">Nothing in reach lays evenly: thin it, or another needle.</p>
      )}
      {p.kept ? (
        <p data-testid="kept" className="flex flex-wrap items-baseline gap-x-2">
          {p.kept.words ? (
            <span>{p.kept.here ? "Kept with the step." : `Kept: ${p.kept.words}.`}</span>
          ) : null}
          {p.kept.here ? null : (
            <button type="button" className="underline underline-offset-2 no-print" onClick={p.kept.onKeep}>
              {p.kept.words ? "Keep this point instead" : "Keep this point with the step"}
            </button>
          )}
        </p>
      ) : null}
      {card.knobs.map(([knob, words]) => (
        <p key={knob}>
          <span className="text-ink-2">If only the {knob} can move: </span>
          {told(words)}
        </p>
      ))}
      <div className="flex items-end gap-1.5 no-print">
        <Choice
          label="Airbrush"
          className="min-w-0 grow"
          value={hold.gun ?? card.gun?.id ?? ""}
          options={p.guns.map((g) => ({ value: g.id, label: g.name }))}
          onTake={(gun) => setHold({ gun, at: null })}
        />
        {p.bench ? <Push onClick={p.bench.onKit}>Kit</Push> : null}
      </div>
      {card.gun_notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      <label className="text-xs text-ink-2 no-print">
        Trigger {Math.round(card.trigger * 100)} %{hold.trigger === null ? ", as is best here" : ""}
        <input
          type="range"
          className="block w-full"
          min={1}
          max={100}
          value={Math.round((hold.trigger ?? card.trigger) * 100)}
          onChange={(e) => setHold({ trigger: Number(e.target.value) / 100 })}
        />
      </label>
      {p.bench ? (
        <Check
          className="no-print"
          label="Follow the gauge and the air"
          on={p.bench.follow}
          onTake={p.bench.onFollow}
        />
      ) : null}
      <Check
        className="no-print"
        label="There is only this pressure"
        on={hold.only !== null}
        disabled={p.bench?.follow}
        onTake={(on) =>
          setHold({
            only: on ? Math.round((hold.at?.pressure ?? point.pressure_kpa) / 5) * 5 : null,
            at: null,
          })
        }
      />
      {hold.at || hold.trigger !== null || hold.only !== null || hold.speed !== null ? (
        <Push
          className="no-print"
          onClick={() => setHold({ at: null, trigger: null, only: null, speed: null })}
        >
          Back to the best point
        </Push>
      ) : null}
    </section>
  );
}

export function Quantity({ card }: { card: Card }) {
  const q = card.cup;
  if (!q || !card.mixed) return null;
  const total = q.landed_ml + q.lost_ml + q.left_ml;
  const share = (ml: number) => `${(100 * ml) / total}%`;
  return (
    <div className="mt-2" data-testid="quantity">
      {card.laying ? null : <h2 className="mb-1 text-lg font-semibold">How much</h2>}
      <div className="flex h-3 max-w-96 overflow-hidden rounded-sm border border-line" aria-hidden="true">
        <span style={{ width: share(q.landed_ml) }} className="bg-ink" />
        <span style={{ width: share(q.lost_ml) }} className="bg-line-soft" />
        <span style={{ width: share(q.left_ml) }} className="bg-paper" />
      </div>
      <p className="text-sm">
        {volume(total)} in all{card.cups > 1 ? `, ${card.cups} such cups` : ""}: {volume(q.landed_ml)} lands,{" "}
        {volume(q.lost_ml)} is lost, {volume(q.left_ml)} stays in the cup.
      </p>
    </div>
  );
}
