/** What was otherwise than planned: only what differed is typed; what instruments measured stands there already. */
import { useRef, useState } from "react";
import type { Actual, StepCard } from "../../api/client";
import { lengthUnit, pressureUnit, temperatureUnit } from "../../drawing/units";
import { NumberField, TextField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

export function Otherwise(p: {
  step: StepCard | null;
  actual: Actual;
  note: string;
  onKeep: (actual: Actual, note: string) => void;
  onPicture: (file: Blob) => void;
  onClose: () => void;
}) {
  const [actual, setActual] = useState<Actual>(p.actual);
  const [note, setNote] = useState(p.note);
  const file = useRef<HTMLInputElement>(null);
  const step = p.step;
  if (!step) return null;
  const put = (part: Partial<Actual>) => {
    setActual({ ...actual, ...part });
    return { ok: true as const };
  };
  const [bar, warm, long] = [pressureUnit(), temperatureUnit(), lengthUnit()];
  const drops = step.mix.filter((m) => m.drops !== null);
  return (
    <Sheet open wide title={`What was otherwise: ${step.name}`} onClose={p.onClose}>
      <div className="now-form grid grid-cols-2 gap-3 sm:grid-cols-3">
        {drops.map((m) => (
          <NumberField
            key={m.material}
            label={`${m.name}, drops`}
            value={actual.drops?.[m.material] ?? m.drops ?? null}
            onTake={(v) => put({ drops: { ...(actual.drops ?? {}), [m.material]: Math.round(v) } })}
          />
        ))}
        {step.figures.some((f) => f.kind === "kpa") ? (
          <>
            <NumberField
              label="Pressure"
              unit={bar.unit}
              value={show(actual.pressure_kpa ?? figure(step, "kpa"), bar.to)}
              onTake={(v) => put({ pressure_kpa: bar.from(v) })}
            />
            <NumberField
              label="Distance"
              unit={long.unit}
              value={show(actual.distance_mm ?? figure(step, "mm"), long.to)}
              onTake={(v) => put({ distance_mm: long.from(v) })}
            />
          </>
        ) : null}
        {step.kind === "coat" ? (
          <NumberField
            label="Passes"
            value={actual.passes ?? null}
            onTake={(v) => put({ passes: Math.round(v) })}
          />
        ) : null}
        <NumberField
          label="Hands on"
          unit="min"
          value={actual.minutes ?? step.minutes}
          onTake={(v) => put({ minutes: v })}
        />
        <NumberField
          label="Air"
          unit={warm.unit}
          value={show(actual.temp_c ?? null, warm.to)}
          onTake={(v) => put({ temp_c: warm.from(v) })}
        />
        <NumberField
          label="Humidity"
          unit="%"
          value={actual.rh_pct ?? null}
          onTake={(v) => put({ rh_pct: v })}
        />
        {step.colour ? (
          <label className="text-xs text-ink-2">
            Colour as it came out
            <input
              type="color"
              className="field block w-full"
              value={actual.colour ?? step.colour}
              onChange={(e) => put({ colour: e.target.value })}
            />
          </label>
        ) : null}
      </div>
      <TextField
        className="mt-3"
        label="Note"
        multiline
        value={note}
        onTake={(text) => {
          setNote(text);
          return { ok: true };
        }}
      />
      {actual.by_instrument?.length ? (
        <p className="mt-2 text-xs text-ink-2">Read from instruments: {actual.by_instrument.join(", ")}.</p>
      ) : null}
      <div className="mt-4 flex flex-wrap gap-2">
        <Push data-strong onClick={() => p.onKeep(actual, note)}>
          Keep it so
        </Push>
        <Push onClick={() => file.current?.click()}>Take a picture</Push>
        <input
          ref={file}
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          aria-label="A picture"
          onChange={(e) => {
            const taken = e.target.files?.[0];
            if (taken) p.onPicture(taken);
            e.target.value = "";
          }}
        />
      </div>
    </Sheet>
  );
}

const show = (x: number | null, to: (x: number) => number) => (x === null ? null : to(x));
const figure = (step: StepCard, kind: string) => step.figures.find((f) => f.kind === kind)?.value ?? null;
