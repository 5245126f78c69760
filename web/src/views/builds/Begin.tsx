/** Beginning a build: its name, scale, material, air, zones with their areas, and from where to start. */
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, must, plainWords, type Outline, type Problem } from "../../api/client";
import { SmallRack } from "../../drawing/SmallRack";
import { areaWords, temperatureUnit } from "../../drawing/units";
import { useShipped } from "../../parts/BuildDoor";
import { AreaHelper } from "./AreaHelper";
import { Push } from "../../parts/Push";

type Source = { kind: "nothing" } | { kind: "outline"; id: string } | { kind: "build"; id: string };
type Zone = { name: string; area: string; like: string | null };
const SHIPPED = 6; // outlines that ship
const ZONES: Zone[] = ["Hull", "Deck", "House"].map((name) => ({ name, area: "", like: null }));

export function Begin(p: {
  builds: { id: string; name: string }[];
  onBegun: (id: string) => void;
  onFile: (file: File) => void;
}) {
  const known = useShipped();
  const { data: outlines } = useQuery({
    queryKey: ["builds", "outlines"],
    queryFn: async () => must(await api.GET("/api/outlines")),
  });
  const warm = temperatureUnit();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const [scale, setScale] = useState("72");
  const [chosenBase, setBase] = useState("");
  const base = chosenBase || (known?.usual_base ?? "");
  const [temp, setTemp] = useState(String(Math.round(warm.to(20))));
  const [rh, setRh] = useState("50");
  const [zones, setZones] = useState<Zone[]>(ZONES);
  const [touched, setTouched] = useState(false);
  const [source, setSource] = useState<Source>({ kind: "nothing" });
  const [why, setWhy] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const take = (s: Source, from: { id: string; name: string; area_cm2?: number | null }[] | null) => {
    setSource(s);
    if (from && !touched)
      setZones(from.map((z) => ({ name: z.name, area: z.area_cm2 ? String(z.area_cm2) : "", like: z.id })));
  };
  const takeOutline = (o: Outline) => {
    take({ kind: "outline", id: o.id }, o.zones as { id: string; name: string }[]);
    if (!name) setName(o.name);
  };
  const takeBuild = async (id: string) => {
    const { data } = await api.GET("/api/builds/{build_id}/zones", { params: { path: { build_id: id } } });
    take({ kind: "build", id }, (data ?? null) as { id: string; name: string }[] | null);
  };
  const set = (i: number, part: Partial<Zone>) => {
    setTouched(true);
    setZones((now) => now.map((z, n) => (n === i ? { ...z, ...part } : z)));
  };
  const command = useRef(crypto.randomUUID());
  const begin = async () => {
    const number = (text: string) => (text.trim() === "" ? null : Number(text.replace(",", ".")));
    const start = new Date();
    start.setMinutes(0, 0, 0);
    setBusy(true);
    try {
      const { data, error } = await api.POST("/api/begin", {
        body: {
          command_id: command.current,
          beginning: {
            name,
            scale: number(scale),
            ...(base ? { base_material: base } : {}), // the usual one, where what there is was not heard yet
            starts_at: start.toISOString(),
            timezone: Intl.DateTimeFormat().resolvedOptions().timeZone,
            zones: zones
              .filter((z) => z.name.trim())
              .map((z) => ({ name: z.name.trim(), area_cm2: number(z.area), like: z.like })),
            air: { day: { temp_c: warm.from(number(temp) ?? warm.to(20)), rh_pct: number(rh) ?? 50 } },
          },
          source: source.kind === "nothing" ? {} : { [source.kind]: source.id },
        },
      });
      if (data) p.onBegun(data.id);
      else setWhy(plainWords((error as { problems?: Problem[] } | undefined)?.problems));
    } catch {
      setWhy("Emvar does not answer; nothing typed is lost, try again once it runs");
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-labelledby="begin">
      <h2 id="begin" className="mb-2 text-lg font-semibold">
        Begin a build
      </h2>
      <form
        className="space-y-4 rounded-md border border-line bg-paper p-4"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <fieldset>
          <legend className="text-sm font-semibold">Where to start</legend>
          <div className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(13.5rem,1fr))] gap-2">
            <Start
              on={source.kind === "nothing"}
              name="From nothing"
              words="An empty rack, coat by coat as you like it."
              onTake={() => take({ kind: "nothing" }, null)}
            />
            {outlines
              ? null
              : // Their room is kept, so that nothing below moves when they come.
                Array.from({ length: SHIPPED }, (_, i) => (
                  <div key={i} className="min-h-24 rounded border border-line-soft" aria-hidden="true" />
                ))}
            {outlines?.map((o) => (
              <Start
                key={o.id}
                on={source.kind === "outline" && source.id === o.id}
                name={o.name}
                words={o.words || `${o.steps} steps, an outline of your own`}
                cores={o.cores}
                onTake={() => takeOutline(o)}
              />
            ))}
          </div>
          <div className="mt-2 flex flex-wrap items-center gap-2">
            {p.builds.length ? (
              <select
                className="field max-w-64"
                aria-label="From a copy of another build"
                value={source.kind === "build" ? source.id : ""}
                onChange={(e) => e.target.value && void takeBuild(e.target.value)}
              >
                <option value="">From a copy of another build …</option>
                {p.builds.map((b) => (
                  <option key={b.id} value={b.id}>
                    {b.name}
                  </option>
                ))}
              </select>
            ) : null}
            <Push onClick={() => file.current?.click()}>Open a file</Push>
            <input
              ref={file}
              type="file"
              accept=".json,.zip,application/json,application/zip"
              className="sr-only"
              aria-label="Plan file or saved build"
              tabIndex={-1}
              onChange={(e) => {
                const chosen = e.target.files?.[0];
                e.target.value = "";
                if (chosen) p.onFile(chosen);
              }}
            />
          </div>
        </fieldset>
        <div className="grid grid-cols-[repeat(auto-fit,minmax(8.5rem,1fr))] gap-3">
          <Typed label="Name of the build" value={name} onType={setName} required />
          <Typed label="Scale 1:" value={scale} onType={setScale} number />
          <label className="text-xs text-ink-2">
            Made of
            <select className="field block w-full" value={base} onChange={(e) => setBase(e.target.value)}>
              {known?.substrates.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </select>
          </label>
          <Typed label={`Air, ${warm.unit}`} value={temp} onType={setTemp} number />
          <Typed label="Humidity, %" value={rh} onType={setRh} number />
        </div>
        <fieldset>
          <legend className="text-sm font-semibold">Zones: parts that are painted apart</legend>
          <ul className="mt-1 space-y-1.5">
            {zones.map((z, i) => (
              <li key={i} className="flex flex-wrap items-end gap-2">
                <label className="text-xs text-ink-2">
                  <span className={i ? "sr-only" : ""}>Zone {i ? i + 1 : ""}</span>
                  <input
                    className="field block w-44"
                    value={z.name}
                    onChange={(e) => set(i, { name: e.target.value })}
                  />
                </label>
                <label className="text-xs text-ink-2">
                  <span className={i ? "sr-only" : ""}>Area, cm²</span>
                  <input
                    className="field block w-24"
                    inputMode="decimal"
                    placeholder="not given"
                    value={z.area}
                    onChange={(e) => set(i, { area: e.target.value })}
                  />
                </label>
                <AreaHelper scale={scale} of={z.name} onArea={(cm2) => set(i, { area: String(cm2) })} />
                <Push
                  data-bare
                  disabled={zones.length === 1}
                  aria-label={`Without ${z.name || "this zone"}`}
                  onClick={() => {
                    setTouched(true);
                    setZones((now) => now.filter((_, n) => n !== i));
                  }}
                >
                  ✕
                </Push>
              </li>
            ))}
          </ul>
          <div className="mt-1.5 flex flex-wrap items-center gap-3">
            <Push
              onClick={() => {
                setTouched(true);
                setZones((now) => [...now, { name: "", area: "", like: now[0]?.like ?? null }]);
              }}
            >
              One more zone
            </Push>
            <span className="text-xs text-ink-2">
              {zones.every((z) => !z.area)
                ? areaWords([null])
                : areaWords(zones.map((z) => Number(z.area) || null))}
              . Without an area, amounts are given as ratios.
            </span>
          </div>
        </fieldset>
        {why ? (
          <p role="alert" className="text-sm font-semibold">
            {why}
          </p>
        ) : null}
        <button type="submit" className="push" data-strong disabled={busy}>
          Begin this build
        </button>
      </form>
    </section>
  );
}

function Typed(p: {
  label: string;
  value: string;
  onType: (text: string) => void;
  number?: boolean;
  required?: boolean;
}) {
  return (
    <label className={`text-xs text-ink-2 ${p.number ? "" : "col-span-2"}`}>
      {p.label}
      <input
        className="field block w-full text-ink"
        required={p.required}
        inputMode={p.number ? "decimal" : undefined}
        value={p.value}
        onChange={(e) => p.onType(e.target.value)}
      />
    </label>
  );
}

function Start(p: {
  on: boolean;
  name: string;
  words: string;
  cores?: Outline["cores"];
  onTake: () => void;
}) {
  return (
    <button
      type="button"
      aria-pressed={p.on}
      className={`flex min-h-24 gap-3 rounded border p-2.5 text-left ${p.on ? "border-2 border-ink bg-paper-2" : "border-line hover:bg-paper-2"}`}
      onClick={p.onTake}
    >
      {p.cores ? <SmallRack cores={p.cores} /> : null}
      <span className="min-w-0">
        <strong className="block leading-tight">
          {p.on ? "✓ " : ""}
          {p.name}
        </strong>
        <span className="block text-xs text-ink-2">{p.words}</span>
      </span>
    </button>
  );
}
