/** A paint in hand, without any plan: what to mix and how to put it on. */
import { useState } from "react";
import { Link } from "react-router";
import { api, type Method } from "../../api/client";
import { AS_RECOMMENDED, asked, type Gun } from "../../model/gun";
import { useShipped, useWords } from "../../parts/BuildDoor";
import { Choice, NumberField } from "../../parts/Field";
import { temperature, temperatureUnit, told } from "../../drawing/units";
import { Finder } from "../../parts/Finder";
import { SettingsButton } from "../../parts/SettingsButton";
import { CupColumn } from "./Cup";
import { HandWords } from "./ByHand";
import { StrokesDrawing } from "./Drawings";
import { Figures, Quantity } from "./Figures";
import { Stage, useCard } from "./Stage";

const BARE = "#8e8e8b";

export function WithoutPlanView() {
  const [picked, setMaterial] = useState<string | null>(null);
  const [method, setMethod] = useState("");
  const [figures, setFigures] = useState<Record<string, number | null>>({ area_cm2: 100, nozzle_mm: 0.3 });
  const [hold, setHold] = useState<Gun>(AS_RECOMMENDED);
  const known = useShipped();
  const words = useWords();
  const material = picked ?? known?.coats.find((c) => c.use === "colour")?.id ?? "";
  const query = {
    material,
    ...(method ? { method: method as Method } : {}),
    ...Object.fromEntries(Object.entries(figures).filter(([, v]) => v !== null)),
    ...asked({ ...hold, gun: null }),
  };
  const { data: card, error } = useCard(["in-hand", query], () =>
    api.GET("/api/card", { params: { query } }),
  );
  if (!known) return <main className="p-10" aria-busy="true" />;
  const coat = known.coats.find((c) => c.id === material);
  const usual: Record<string, number> = {
    ...(card ? { film_um: card.film_um } : {}),
    temp_c: 20,
    rh_pct: 50,
  };
  const colour = coat?.colour ?? "#999999";
  const figure = (field: string, label: string, unit: string, low: number, high: number) => (
    <NumberField
      label={label}
      unit={unit}
      className="w-24"
      value={figures[field] ?? usual[field] ?? null}
      onTake={(v) => {
        if (!(v >= low && v <= high)) return { ok: false, why: `${low} to ${high} ${unit}` };
        setFigures({ ...figures, [field]: v });
        return { ok: true };
      }}
    />
  );
  return (
    <div className="shell bench-shell">
      <header className="view-head no-print">
        <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
          emvar
        </Link>
        <h1 className="text-base font-semibold">A paint in hand</h1>
        <span className="ml-auto" />
        <SettingsButton />
      </header>
      <section aria-label="The paint" className="flex flex-wrap items-start gap-3 px-4 pt-2 no-print">
        <Finder
          label="Paint"
          className="w-64"
          value={material}
          options={known.coats.map((c) => ({ value: c.id, label: c.name, under: c.use, words: c.words }))}
          onTake={(v) => {
            setMaterial(v);
            setFigures({ ...figures, parts: null, film_um: null });
            setHold({ ...hold, at: null });
          }}
        />
        <Choice
          label="Put on"
          className="w-40"
          value={method}
          options={[{ value: "", label: "as usual" }, ...words.laidBy]}
          onTake={setMethod}
        />
        {figure("parts", "Thinner to 1", "parts", 0, 100)}
        {figure("area_cm2", "Area", "cm²", 0.1, 100000)}
        {figure("film_um", "Dry film", "µm", 0.1, 1000)}
        {figure("nozzle_mm", "Nozzle", "mm", 0.15, 0.8)}
        <NumberField
          label="Air"
          unit={temperatureUnit().unit}
          className="w-24"
          value={temperatureUnit().to(figures.temp_c ?? usual.temp_c!)}
          onTake={(v) => {
            const temp_c = temperatureUnit().from(v);
            if (!(temp_c >= -10 && temp_c <= 60))
              return { ok: false, why: `${temperature(-10)} to ${temperature(60)}` };
            setFigures({ ...figures, temp_c });
            return { ok: true };
          }}
        />
        {figure("rh_pct", "Humidity", "%", 0, 100)}
        {error ? (
          <p role="alert" className="self-end text-sm font-semibold">
            {error.message}
          </p>
        ) : null}
      </section>
      {card ? (
        <>
          <main id="main" className="bench-parts">
            <CupColumn card={card} colour={colour} />
            <div data-stage className="min-h-0 min-w-0">
              <Stage
                card={card}
                colour={colour}
                gauge={null}
                at={hold.at}
                onAt={(at) => setHold({ ...hold, at })}
              />
            </div>
            <Figures
              card={card}
              hold={hold}
              setHold={(part) => setHold({ ...hold, ...part })}
              guns={card.gun ? [card.gun] : []}
            />
          </main>
          <footer className="border-t border-line bg-paper px-4 py-3">
            {card.laying ? <h2 className="text-lg font-semibold">{card.laying.words}</h2> : null}
            <StrokesDrawing card={card} colour={colour} sheen={coat?.sheen ?? "matt"} under={BARE} />
            <Quantity card={card} />
            {card.hand && card.ladder.length ? <HandWords hand={card.hand} /> : null}
            <p className="text-sm">{told(card.tonight.join(" "))}</p>
            <p className="text-xs text-ink-2">
              Spray under extraction with a combined filter mask, and follow the data sheet.
            </p>
          </footer>
        </>
      ) : (
        <main aria-busy="true" />
      )}
    </div>
  );
}
