/**
 * The units that a person likes: one setting, kept on this device, obeyed wherever a figure is shown. What is computed
 * and stored keeps the units in its field names; only what is read and typed is turned.
 */
export type Units = {
  pressure: "bar" | "psi" | "kPa";
  temperature: "°C" | "°F";
  volume: "mL" | "drops" | "fl oz";
  length: "cm" | "in";
  hours: "24" | "12";
};
export const METRIC: Units = { pressure: "bar", temperature: "°C", volume: "mL", length: "cm", hours: "24" };
export const CHOICES: { [K in keyof Units]: { words: string; of: readonly Units[K][] } } = {
  pressure: { words: "Pressure", of: ["bar", "psi", "kPa"] },
  temperature: { words: "Temperature", of: ["°C", "°F"] },
  volume: { words: "Small volumes", of: ["mL", "drops", "fl oz"] },
  length: { words: "Lengths", of: ["cm", "in"] },
  hours: { words: "Hours", of: ["24", "12"] },
};

const KEY = "emvar-units";
const PSI_PER_KPA = 0.1450377;
const MM_PER_INCH = 25.4;
const ML_PER_FLOZ = 29.57353; // the fluid ounce of the United States
const ML_PER_DROP = 0.05; // of water, from a pipette; only where no drop of its own is known

function read(): Units {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Record<string, string>>;
    const units = { ...METRIC } as Record<string, string>;
    for (const [key, choice] of Object.entries(CHOICES))
      if ((choice.of as readonly string[]).includes(kept[key] ?? "")) units[key] = kept[key]!;
    return units as Units;
  } catch {
    return METRIC;
  }
}

let now: Units = typeof localStorage === "undefined" ? METRIC : read();
const heard = new Set<() => void>();
let shown = 0;
const drawers = new Set<() => void>();
export const units = () => now;
export const onUnits = (f: () => void) => {
  heard.add(f);
  return () => void heard.delete(f);
};
export function setUnits(part: Partial<Units>) {
  now = { ...now, ...part };
  localStorage.setItem(KEY, JSON.stringify(now));
  for (const f of heard) f();
}

/** What is on the screen is drawn anew by the units that were chosen: once, when one is done with choosing. */
export function drawAnew() {
  shown++;
  for (const f of drawers) f();
}
export const drawnTimes = () => shown;
export const onDrawnAnew = (f: () => void) => {
  drawers.add(f);
  return () => void drawers.delete(f);
};

/** Two sensible digits, never an exponent: 0.034, 0.34, 3.4, 34, 340. */
export function sensible(x: number, digits = 2): string {
  if (x === 0 || !Number.isFinite(x)) return "0";
  const places = Math.max(digits - 1 - Math.floor(Math.log10(Math.abs(x))), 0);
  if (places > 0) return x.toFixed(Math.min(places, 6));
  const round = 10 ** Math.max(Math.floor(Math.log10(Math.abs(x))) + 1 - Math.max(digits, 3), 0);
  return String(Math.round(x / round) * round);
}

type Turn = {
  unit: string;
  to: (x: number) => number;
  from: (x: number) => number;
  words: (x: number) => string;
};

/** How a pressure in kPa is shown and typed. */
export function pressureUnit(u: Units = now): Turn {
  if (u.pressure === "psi")
    return {
      unit: "psi",
      to: (x) => x * PSI_PER_KPA,
      from: (x) => x / PSI_PER_KPA,
      words: (x) => (x * PSI_PER_KPA).toFixed(x * PSI_PER_KPA < 9.95 ? 1 : 0),
    };
  if (u.pressure === "kPa") return { unit: "kPa", to: (x) => x, from: (x) => x, words: (x) => x.toFixed(0) };
  return { unit: "bar", to: (x) => x / 100, from: (x) => x * 100, words: (x) => (x / 100).toFixed(2) };
}

/** How a temperature in °C is shown and typed. */
export function temperatureUnit(u: Units = now): Turn {
  if (u.temperature === "°F")
    return {
      unit: "°F",
      to: (x) => x * 1.8 + 32,
      from: (x) => (x - 32) / 1.8,
      words: (x) => (x * 1.8 + 32).toFixed(0),
    };
  return { unit: "°C", to: (x) => x, from: (x) => x, words: (x) => String(Math.round(x * 10) / 10) };
}

/** How a length in mm is shown and typed. */
export function lengthUnit(u: Units = now): Turn {
  if (u.length === "in")
    return {
      unit: "in",
      to: (x) => x / MM_PER_INCH,
      from: (x) => x * MM_PER_INCH,
      words: (x) => (x / MM_PER_INCH).toFixed(1),
    };
  return { unit: "cm", to: (x) => x / 10, from: (x) => x * 10, words: (x) => (x / 10).toFixed(1) };
}

export const pressure = (kpa: number) => `${pressureUnit().words(kpa)} ${pressureUnit().unit}`;
export const temperature = (c: number) => `${temperatureUnit().words(c)} ${temperatureUnit().unit}`;
export const distance = (mm: number) => `${lengthUnit().words(mm)} ${lengthUnit().unit}`;

/** A small volume; `drop_ml`: of the liquid it is of, where its drop is known. */
export function volume(ml: number, drop_ml: number = ML_PER_DROP, u: Units = now): string {
  if (u.volume === "fl oz") return `${sensible(ml / ML_PER_FLOZ)} fl oz`;
  const drops = Math.round(ml / drop_ml);
  if (u.volume === "drops" && drops <= 60) return drops === 1 ? "1 drop" : `${drops} drops`;
  return `${sensible(ml)} mL`;
}

/** The area of zones; those whose area is not given count as not given. */
export function areaWords(cm2: (number | null | undefined)[], u: Units = now): string {
  const given = cm2.filter((x): x is number => typeof x === "number");
  if (!given.length) return "area not given";
  const sum = given.reduce((a, b) => a + b, 0);
  const some = given.length < cm2.length ? ", and more that is not given" : "";
  const whole = (x: number) => (x < 10 ? sensible(x) : String(Math.round(x)));
  return u.length === "in" ? `${whole(sum / 6.4516)} sq in${some}` : `${whole(sum)} cm²${some}`;
}

const NUMBER = String.raw`(?<![\d.])(\d+(?:\.\d+)?)`;
const RANGE = `${NUMBER}(?:( to |–| : )(\\d+(?:\\.\\d+)?))? ?`;
const TEXTS: [keyof Units, string, RegExp, (u: Units) => (x: number) => string, (u: Units) => string][] = [
  [
    "pressure",
    "bar",
    new RegExp(`${RANGE}bar\\b`, "g"),
    (u) => (x) => pressureUnit(u).words(x * 100),
    (u) => u.pressure,
  ],
  [
    "temperature",
    "°C",
    new RegExp(`(?:(?<=[ (])(-))?${RANGE}°C`, "g"),
    (u) => (x) => temperatureUnit(u).words(x),
    (u) => u.temperature,
  ],
  [
    "length",
    "cm",
    new RegExp(`${RANGE}cm\\b(?!²)`, "g"),
    (u) => (x) => lengthUnit(u).words(x * 10),
    () => "in",
  ],
];

/** A sentence of the program's, with its figures in the units that are liked. What a person wrote is never turned. */
export function told(text: string, u: Units = now): string {
  let out = text;
  for (const [key, metric, found, words, unit] of TEXTS) {
    if (u[key] === metric) continue;
    out = out.replace(found, (...hit: unknown[]) => {
      const minus = key === "temperature" ? (hit[1] as string | undefined) : undefined;
      const [a, between, b] = (key === "temperature" ? hit.slice(2, 5) : hit.slice(1, 4)) as [
        string,
        string | undefined,
        string | undefined,
      ];
      const turn = words(u);
      const first = turn(Number(a) * (minus ? -1 : 1));
      return `${first}${between && b ? `${between}${turn(Number(b))}` : ""} ${unit(u)}`;
    });
  }
  if (u.volume === "fl oz")
    out = out.replace(new RegExp(`${RANGE}mL\\b`, "g"), (_, a: string, between?: string, b?: string) => {
      const turn = (x: string) => sensible(Number(x) / ML_PER_FLOZ);
      return `${turn(a)}${between && b ? `${between}${turn(b)}` : ""} fl oz`;
    });
  return out;
}
