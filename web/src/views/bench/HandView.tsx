/** A paint in hand, without any plan: what to mix and how to put it on. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Card, type Method } from "../../api/client";
import { Choice, NumberField } from "../../parts/Field";
import { ThemeButton } from "../../parts/Theme";
import { COAT_METHODS, METHOD_WORDS } from "../plan/words";
import { Figures, Quantity } from "./BenchView";
import { CupDrawing, FilmDrawing, LadderDrawing, StrokesDrawing } from "./Drawings";
import { SprayMap } from "./SprayMap";

type Hold = { at: { pressure: number; distance: number } | null; trigger: number | null; gun: string | null };
const BARE = "#8e8e8b";

export function HandView() {
  const [material, setMaterial] = useState("alcohol_acrylic_colour");
  const [method, setMethod] = useState("");
  const [figures, setFigures] = useState<Record<string, number | null>>({ area_cm2: 100, nozzle_mm: 0.3 });
  const [hold, setHold] = useState<Hold>({ at: null, trigger: null, gun: null });
  const { data: known } = useQuery({
    queryKey: ["knowledge"],
    queryFn: async () => (await api.GET("/api/knowledge")).data!,
    staleTime: Infinity,
  });
  const query = {
    material,
    ...(method ? { method: method as Method } : {}),
    ...Object.fromEntries(Object.entries(figures).filter(([, v]) => v !== null)),
    ...(hold.at ? { pressure_kpa: hold.at.pressure, distance_mm: hold.at.distance } : {}),
    ...(hold.trigger !== null ? { trigger: hold.trigger } : {}),
  };
  const { data: card, error } = useQuery({
    queryKey: ["in-hand", query],
    queryFn: async () => {
      const answer = await api.GET("/api/in-hand", { params: { query } });
      if (!answer.data)
        throw new Error(answer.error?.problems.map((x) => `${x.where}: ${x.what}`).join("; "));
      return answer.data as Card;
    },
    placeholderData: keepPreviousData,
    retry: false,
  });
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
    <div className="grid h-full grid-rows-[auto_auto_1fr_auto]">
      <header className="flex h-12 items-center gap-3 border-b border-line bg-surround-deep px-4 no-print">
        <Link to="/" className="text-xl leading-none font-bold tracking-tight" aria-label="Emvar: all builds">
          emvar
        </Link>
        <h1 className="text-base font-semibold">A paint in hand</h1>
        <span className="ml-auto" />
        <ThemeButton />
      </header>
      <div className="flex flex-wrap items-start gap-3 px-4 pt-2 no-print">
        <Choice
          label="Paint"
          className="w-64"
          value={material}
          options={known.coats.map((c) => ({ value: c.id, label: c.name }))}
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
          options={[
            { value: "", label: "as usual" },
            ...COAT_METHODS.map((m) => ({ value: m, label: METHOD_WORDS[m]! })),
          ]}
          onTake={setMethod}
        />
        {figure("parts", "Thinner to 1", "parts", 0, 100)}
        {figure("area_cm2", "Area", "cm²", 0.1, 100000)}
        {figure("film_um", "Dry film", "µm", 0.1, 1000)}
        {figure("nozzle_mm", "Nozzle", "mm", 0.15, 0.8)}
        {figure("temp_c", "Air", "°C", -10, 60)}
        {figure("rh_pct", "Humidity", "%", 0, 100)}
        {error ? (
          <p role="alert" className="self-end text-sm font-semibold">
            {error.message}
          </p>
        ) : null}
      </div>
      {card ? (
        <>
          <div className="grid min-h-0 grid-cols-[19rem_1fr_15.5rem] gap-3 px-4 pt-3">
            <section aria-label="The cup" className="min-h-0 space-y-2 overflow-y-auto">
              {card.pours.length ? <CupDrawing card={card} colour={colour} /> : <p>Used as it comes.</p>}
              <p className="text-sm">{card.ratio}</p>
              {card.thickness ? (
                <p className="leading-tight">
                  <strong className="text-xl">{card.thickness.mm2_s.toPrecision(2)} mm²/s</strong> like{" "}
                  {card.thickness.like}
                  {card.thickness.ready && card.thickness.ready !== "ready" ? (
                    <strong>: too {card.thickness.ready} to spray</strong>
                  ) : null}
                </p>
              ) : null}
            </section>
            {card.map && card.point ? (
              <SprayMap
                card={card}
                colour={colour}
                gauge={null}
                at={{
                  pressure: hold.at?.pressure ?? card.point.pressure_kpa,
                  distance: hold.at?.distance ?? card.point.distance_mm,
                }}
                onAt={(pressure, distance) => setHold({ ...hold, at: { pressure, distance } })}
              />
            ) : card.ladder.length ? (
              <LadderDrawing card={card} colour={colour} />
            ) : (
              <FilmDrawing card={card} colour={colour} under={BARE} />
            )}
            <Figures
              card={card}
              hold={hold}
              setHold={(part) => setHold({ ...hold, ...part })}
              guns={card.gun ? [card.gun] : []}
              follow={false}
              onFollow={() => undefined}
            />
          </div>
          <footer className="border-t border-line bg-paper px-4 py-3">
            <h2 className="text-lg font-semibold">{card.laying?.words ?? card.how}</h2>
            <StrokesDrawing card={card} colour={colour} sheen={coat?.sheen ?? "matt"} under={BARE} />
            <Quantity card={card} />
            <p className="text-sm">{card.tonight.join(" ")}</p>
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
