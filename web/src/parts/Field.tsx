/** Fields that keep what was typed until it is taken: Enter or leaving the field sends it, Escape puts it back. */
import { memo, useId, useState, type ComponentProps } from "react";

type Outcome = { ok: true } | { ok: false; why: string };

export function TextField(p: {
  label: string;
  value: string;
  onTake: (text: string) => Promise<Outcome> | Outcome;
  className?: string;
  inputMode?: "decimal" | "text";
  unit?: string;
  multiline?: boolean;
  /** What is usual, offered while it is typed; anything else can be typed too. */
  offers?: string[];
}) {
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  // What it says when it is entered stays until it is left or taken: nothing else writes where somebody types.
  const [held, setHeld] = useState<string | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const take = async () => {
    const same = draft === null || draft === (held ?? p.value);
    const outcome: Outcome = same ? { ok: true } : await p.onTake(draft);
    if (outcome.ok) {
      setDraft(null);
      setHeld(null);
      setWhy(null);
    } else setWhy(outcome.why);
  };
  const shared = {
    id,
    value: draft ?? held ?? p.value,
    "aria-invalid": why ? true : undefined,
    "aria-describedby": why ? `${id}-why` : undefined,
    onFocus: () => setHeld(p.value),
    onBlur: () => void take(),
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key === "Enter" && (!p.multiline || e.ctrlKey)) void take();
      if (e.key === "Escape") {
        setDraft(null);
        setWhy(null);
      }
    },
  };
  return (
    <div className={p.className}>
      <label htmlFor={id} className="block text-xs text-ink-2">
        {p.label}
      </label>
      <span className="flex items-center gap-1">
        {p.multiline ? (
          <textarea
            {...shared}
            rows={2}
            className="field w-full py-1"
            style={{ height: "auto" }}
            onChange={(e) => setDraft(e.target.value)}
          />
        ) : (
          <input
            {...shared}
            inputMode={p.inputMode}
            className="field w-full"
            list={p.offers ? `${id}-offers` : undefined}
            onChange={(e) => setDraft(e.target.value)}
          />
        )}
        {p.offers ? (
          <datalist id={`${id}-offers`}>
            {p.offers.map((o) => (
              <option key={o} value={o} />
            ))}
          </datalist>
        ) : null}
        {p.unit ? <span className="text-xs text-ink-2">{p.unit}</span> : null}
      </span>
      {why ? (
        <p id={`${id}-why`} role="alert" className="mt-0.5 text-xs font-semibold">
          {why}
        </p>
      ) : null}
    </div>
  );
}

type Number_ = {
  label: string;
  value: number | null;
  unit?: string;
  className?: string;
};
/** A number; `empty`: it may be taken out again, and is then not given. */
export function NumberField(
  p: Number_ &
    (
      | { empty: true; onTake: (value: number | null) => Promise<Outcome> | Outcome }
      | { empty?: false; onTake: (value: number) => Promise<Outcome> | Outcome }
    ),
) {
  return (
    <TextField
      label={p.label}
      unit={p.unit}
      className={p.className}
      inputMode="decimal"
      value={p.value === null ? "" : String(Math.round(p.value * 100) / 100)}
      onTake={(text) => {
        if (p.empty && text.trim() === "") return p.onTake(null);
        const value = Number(text.replace(",", "."));
        if (text.trim() === "" || !Number.isFinite(value))
          return { ok: false, why: `“${text}” is not a number` };
        return p.onTake(value);
      }}
    />
  );
}

const Options = memo(function Options({ options }: { options: { value: string; label: string }[] }) {
  return options.map((o) => (
    <option key={o.value} value={o.value}>
      {o.label}
    </option>
  ));
});

export function Choice(p: {
  label: string;
  value: string;
  options: { value: string; label: string }[];
  onTake: (value: string) => void;
  className?: string;
}) {
  const id = useId();
  return (
    <div className={p.className}>
      <label htmlFor={id} className="block text-xs text-ink-2">
        {p.label}
      </label>
      <select id={id} className="field w-full" value={p.value} onChange={(e) => p.onTake(e.target.value)}>
        <Options options={p.options} />
      </select>
    </div>
  );
}

export function Check(p: {
  label: string;
  on: boolean;
  onTake: (on: boolean) => void;
  disabled?: boolean;
  className?: string;
}) {
  return (
    <label className={`flex min-h-7 items-center gap-2 text-sm ${p.className ?? ""}`}>
      <input
        type="checkbox"
        checked={p.on}
        disabled={p.disabled}
        onChange={(e) => p.onTake(e.target.checked)}
      />
      {p.label}
    </label>
  );
}

/** A field whose text its owner keeps, as it is typed. */
export function Typed({
  label,
  onType,
  ...input
}: ComponentProps<"input"> & { label: string; onType: (text: string) => void }) {
  return (
    <label className="block text-xs text-ink-2">
      {label}
      <input className="field block w-full" {...input} onChange={(e) => onType(e.target.value)} />
    </label>
  );
}
