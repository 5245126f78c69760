/** The bench's instruments: small simulated stand-ins that the screens read; each can be set, and made to misbehave. */
import { pressure, pressureUnit, temperature, temperatureUnit } from "../../drawing/units";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, plainWords, type Instrument } from "../../api/client";
import { Choice, NumberField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

export function useInstruments() {
  const { data } = useQuery({
    queryKey: ["instruments"],
    queryFn: async () => (await api.GET("/api/instruments")).data ?? [],
    refetchInterval: 1000,
  });
  return data ?? [];
}

const FIGURES: Record<string, [string, (v: number) => string]> = {
  gauge_kpa: ["gauge", (v) => pressure(v)],
  tank_kpa: ["tank", (v) => pressure(v)],
  temp_c: ["air", (v) => temperature(v)],
  rh_pct: ["humidity", (v) => `${v.toFixed(0)} %`],
  grams: ["scale", (v) => `${v.toFixed(2)} g`],
};
/** The unit that is liked for what an instrument is set to. */
const liked = (field: string) =>
  field.endsWith("_kpa") ? pressureUnit() : field.endsWith("_c") ? temperatureUnit() : null;
const CONTROLS: Record<string, [string, string, string][]> = {
  compressor: [
    ["regulator_kpa", "Regulator", "kPa"],
    ["flow_l_min", "Air drawn by the gun", "L/min"],
  ],
  hygrometer: [
    ["temp_c", "Air", "°C"],
    ["rh_pct", "Humidity", "%"],
  ],
  scale: [["load_g", "On the scale", "g"]],
};

export function InstrumentStrip({ all, onOpen }: { all: Instrument[]; onOpen: () => void }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm" data-testid="instruments">
      {all.map((i) =>
        Object.entries(i.values)
          .filter(([f]) => FIGURES[f])
          .map(([f, v]) => (
            <span key={i.id + f} title={i.words || i.name} className="whitespace-nowrap">
              <span className="text-ink-2">{FIGURES[f]![0]}</span>{" "}
              <strong className={i.trusted ? "" : "line-through"}>{FIGURES[f]![1](v)}</strong>
              {i.trusted ? "" : " not to be trusted"}
            </span>
          )),
      )}
      <Push className="ml-auto no-print" onClick={onOpen}>
        Instruments
      </Push>
    </div>
  );
}

export function InstrumentSheet(p: { all: Instrument[]; open: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const [why, setWhy] = useState("");
  const turn = useMutation({
    mutationFn: async (knob: { key: string; field: string; value: number | string }) => {
      const { data, error } = await api.POST("/api/instruments/{key}", {
        params: { path: { key: knob.key } },
        body: { field: knob.field, value: knob.value },
      });
      if (data) client.setQueryData(["instruments"], data);
      const words = data ? "" : plainWords(error?.problems);
      setWhy(words);
      return words;
    },
  });
  const set = async (key: string, field: string, value: number | string) => {
    const words = await turn.mutateAsync({ key, field, value });
    return words ? { ok: false as const, why: words } : { ok: true as const };
  };
  return (
    <Sheet open={p.open} onClose={p.onClose} title="Instruments on the bench (simulated)">
      <p className="mb-3 text-sm text-ink-2">
        They stand in for a compressor with gauge, a thermo-hygrometer and a gram scale. Turn them, or make
        them misbehave.
      </p>
      <div className="space-y-4">
        {p.all.map((i) => (
          <section key={i.id} aria-label={i.name}>
            <h3 className="font-semibold">{i.name}</h3>
            {i.words ? <p className="text-sm">{i.words}</p> : null}
            <div className="grid grid-cols-3 items-end gap-2">
              {(CONTROLS[i.id] ?? []).map(([field, label, unit]) => {
                const turn = liked(field);
                const value = i.values[field] ?? (field === "load_g" ? (i.values.grams ?? 0) : 0);
                return (
                  <NumberField
                    key={field}
                    label={label}
                    unit={turn?.unit ?? unit}
                    value={turn ? turn.to(value) : value}
                    onTake={(v) => set(i.id, field, turn ? turn.from(v) : v)}
                  />
                );
              })}
              {i.id === "scale" ? <Push onClick={() => void set("scale", "tare", 0)}>Tare</Push> : null}
              <Choice
                label="Misbehaves"
                value={i.fault}
                options={["none", ...i.faults].map((f) => ({
                  value: f,
                  label: f === "none" ? "no" : f.replaceAll("_", " "),
                }))}
                onTake={(v) => void set(i.id, "fault", v)}
              />
            </div>
          </section>
        ))}
        {why ? <p role="alert">{why}</p> : null}
      </div>
    </Sheet>
  );
}
