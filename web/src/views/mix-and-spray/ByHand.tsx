/** What is laid without an airbrush: the tool as it is loaded, its print on paper, and how it is led, as large as it goes. */
import type { Card } from "../../api/client";
import { told } from "../../drawing/units";

type Hand = NonNullable<Card["hand"]>;
type Shape = "flat" | "fine" | "sponge" | "bud";

const SHAPES: [RegExp, Shape][] = [
  [/^(?!.*brush).*sponge/, "sponge"],
  [/^(?!.*brush).*bud/, "bud"],
  [/fine|size 0/, "fine"],
  [/brush|mop/, "flat"],
];
/** What is drawn of a tool; nothing where it is no brush, sponge or bud. */
const shapeOf = (tool: string): Shape | null => SHAPES.find(([words]) => words.test(tool))?.[1] ?? null;

// Each tool stands on its tip at (110, 130): what takes up paint, and the rest of it.
const TUFT: Record<Shape, string> = {
  flat: "M86 66H134L140 128Q110 134 80 128Z",
  fine: "M103 66H117Q124 100 111 130H109Q96 100 103 66Z",
  sponge: "M78 70Q92 58 112 64T144 72Q152 96 142 122Q128 134 112 128T80 124Q70 96 78 70Z",
  bud: "M99 92Q99 78 110 78T121 92V112Q121 130 110 130T99 112Z",
};
const STEM: Record<Shape, string> = {
  flat: "M84 38H136V66H84Z M100 4H120L116 38H104Z",
  fine: "M102 38H118V66H102Z M106 0H114L116 38H104Z",
  sponge: "M102 2L108 62H112L118 2L110 44Z",
  bud: "M107 4H113V80H107Z",
};
const TIP = 132;
const TOP: Record<Shape, number> = { flat: 66, fine: 66, sponge: 60, bud: 78 };
const SPECKS = 90;

/** Specks of a dab on paper, the same each time; the more of it shows, the larger and the more. */
function print(shows: number): [number, number, number][] {
  return Array.from({ length: Math.round(SPECKS * Math.sqrt(shows)) }, (_, i) => {
    const [a, b] = [(i * 0.7548776662) % 1, (i * 0.569840291) % 1];
    return [72 + a * 76, 158 + b * 22, 0.8 + 5 * shows * (0.5 + ((i * 0.38197) % 1))];
  });
}

function Tool({ hand, shape, colour }: { hand: Hand; shape: Shape; colour: string }) {
  const level = TIP - hand.loaded * (TIP - TOP[shape]);
  return (
    <svg
      viewBox="40 0 140 196"
      className="h-[15rem] w-44 shrink-0"
      role="img"
      aria-label={`Loaded to ${Math.round(hand.loaded * 100)} %; on paper ${Math.round(hand.shows * 100)} % of a dab shows`}
    >
      <defs>
        <clipPath id="loaded">
          <rect x={40} y={level} width={140} height={200} />
        </clipPath>
        <clipPath id="dab">
          <rect x={70} y={156} width={80} height={26} rx={12} />
        </clipPath>
      </defs>
      <path d={STEM[shape]} fill="var(--ink-2)" />
      <path d={TUFT[shape]} fill="var(--paper)" stroke="var(--line)" />
      <path d={TUFT[shape]} fill={colour} clipPath="url(#loaded)" />
      <rect x={48} y={144} width={124} height={50} fill="#fbfbf8" stroke="var(--line)" />
      <g clipPath="url(#dab)">
        {print(hand.shows).map(([x, y, r]) => (
          <circle key={`${x}`} cx={x} cy={y} r={r} fill={colour} />
        ))}
      </g>
    </svg>
  );
}

/** The lines of a card by hand: what each is, and its words. */
function linesOf(hand: Hand): [string, string][] {
  const all: [string, string][] = [
    ["Tool", hand.tool],
    ["Load", [hand.load, hand.wipe].filter(Boolean).join(", ")],
    ["How", hand.lead],
    ["Press", hand.press],
  ];
  return all.filter(([, words]) => words);
}

function Lines({ hand, className, label }: { hand: Hand; className: string; label: string }) {
  return (
    <dl className={`grid grid-cols-[auto_1fr] ${className}`}>
      {linesOf(hand).map(([name, words]) => (
        <div key={name} className="contents">
          <dt className={label}>{name}</dt>
          <dd>{told(words)}</dd>
        </div>
      ))}
    </dl>
  );
}

/** In small, beside something else that fills the stage. */
export function HandWords({ hand }: { hand: Hand }) {
  return (
    <div data-testid="by-hand">
      <Lines hand={hand} className="gap-x-3 text-sm" label="text-ink-2" />
    </div>
  );
}

export function HandStage({ card, hand, colour }: { card: Card; hand: Hand; colour: string }) {
  const shape = shapeOf(hand.tool);
  const wet = card.cup?.wet_film_um ?? 0;
  const film = (um: number) => (um < 10 ? um.toFixed(1) : Math.round(um).toString());
  const figures: [string, string][] = [];
  if (hand.passes > 1) figures.push([`${hand.passes}`, "passes"]);
  if (hand.pause) figures.push([hand.pause, "between them"]);
  if (hand.amount) figures.push([hand.amount, hand.amount_words]);
  return (
    <div
      className="flex min-h-full flex-wrap items-center gap-x-8 gap-y-4 min-[900px]:px-6"
      data-testid="by-hand"
    >
      {shape ? <Tool hand={hand} shape={shape} colour={colour} /> : null}
      <div className="min-w-0 flex-1 basis-72 space-y-5">
        <ul className="flex flex-wrap gap-x-10 gap-y-2 empty:hidden">
          {figures.map(([figure, words]) => (
            <li key={figure}>
              <strong className="block text-2xl whitespace-nowrap">{figure}</strong>
              <span className="text-sm">{words}</span>
            </li>
          ))}
        </ul>
        <Lines
          hand={hand}
          className="max-w-[38rem] items-baseline gap-x-4 gap-y-2 text-lg leading-snug"
          label="text-sm text-ink-2"
        />
        <p className="text-sm">
          {film(card.film_um)} µm dry{wet > card.film_um * 1.02 ? `, ${film(wet)} µm wet` : ""}
        </p>
      </div>
    </div>
  );
}
