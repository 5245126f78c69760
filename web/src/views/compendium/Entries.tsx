/** One entry of the compendium: a sentence, then drawings of what opens it and how it hardens, then the particulars. */
import { lastBuild } from "../../model/last";
import { temperature, told } from "../../drawing/units";
import { Link } from "react-router";
import type { Compendium } from "../../api/client";
import { coatFill, inkOn } from "../../drawing/colour";
import { span } from "../../drawing/time";
import { useWords } from "../../parts/BuildDoor";

type Coat = Compendium["coats"][number];
type Thinner = Compendium["thinners"][number];
type Base = Compendium["bases"][number];
type Touch = Compendium["touches"][number];
type Technique = Compendium["techniques"][number];
type Opened = Coat["opened"][number];

function Head(p: { title: string; under: string; children?: React.ReactNode }) {
  return (
    <header className="mb-5">
      <p className="text-sm text-ink-2">{p.under}</p>
      <h2 className="text-xl leading-tight font-semibold">{p.title}</h2>
      {p.children ? <p className="mt-2 text-lg leading-snug">{p.children}</p> : null}
    </header>
  );
}

function Links({ to }: { to: { id: string; name: string }[] }) {
  return to.map((entry, i) => (
    <span key={entry.id}>
      {i ? ", " : ""}
      <Link className="underline" to={`#${entry.id}`}>
        {entry.name.toLowerCase()}
      </Link>
    </span>
  ));
}

function Facts({ rows }: { rows: [string, React.ReactNode][] }) {
  return (
    <dl className="mt-6 grid grid-cols-[9rem_1fr] gap-x-4 gap-y-2 text-base">
      {rows
        .filter(([, v]) => v !== "" && v !== null && v !== undefined && v !== false)
        .map(([k, v]) => (
          <div key={k} className="contents">
            <dt className="text-sm leading-6 text-ink-2">{k}</dt>
            <dd>{v}</dd>
          </div>
        ))}
    </dl>
  );
}

const FILM_PX = 64;
const NOTCH_PX = 32;
/** A film in section; each carrier has eaten its notch into it, as deep as it opens the hardened film. */
function Notches(p: { opened: Opened[]; colour: string; sheen: string; label: string }) {
  const list = [...p.opened].sort(
    (a, b) => b.power - a.power || b.young - a.young || a.carrier.localeCompare(b.carrier),
  );
  const width = list.length * NOTCH_PX;
  return (
    <figure className="mt-6">
      <figcaption className="mb-1 text-sm text-ink-2">{p.label}</figcaption>
      <div className="relative" style={{ width, height: FILM_PX + 170 }}>
        <div
          className="absolute top-0 right-0 left-0 border border-line"
          style={{ height: FILM_PX, background: coatFill(p.colour, p.sheen, 1) }}
        />
        <div
          className="absolute right-0 left-0 border-x border-b border-line bg-paper-2"
          style={{ top: FILM_PX, height: 12 }}
        />
        {list.map((o, i) => (
          <div key={o.carrier} className="absolute" style={{ left: i * NOTCH_PX, top: 0, width: NOTCH_PX }}>
            {o.young > o.power + 0.02 ? (
              <div
                className="absolute border-x border-b border-dashed"
                style={{
                  left: 6,
                  width: NOTCH_PX - 12,
                  height: Math.max(o.young * FILM_PX, 2),
                  borderColor: inkOn(p.colour),
                }}
              />
            ) : null}
            <div
              className="relative mx-auto"
              title={`${o.carrier}: ${o.why}`}
              style={{
                width: NOTCH_PX - 12,
                height: Math.max(o.power * FILM_PX, o.power > 0.02 ? 2 : 0),
                background: "repeating-linear-gradient(45deg, var(--ink) 0 1.5px, var(--surround) 1.5px 5px)",
                borderInline: o.power > 0.02 ? "1px solid var(--ink)" : "none",
                borderBottom: o.power > 0.02 ? "1px solid var(--ink)" : "none",
              }}
            />
            <span
              className={`absolute text-xs whitespace-nowrap ${o.power >= 0.5 ? "font-semibold" : o.power < 0.05 ? "text-ink-2" : ""}`}
              style={{
                top: FILM_PX + 20,
                left: NOTCH_PX / 2 - 8,
                writingMode: "vertical-rl",
              }}
            >
              {o.carrier}
            </span>
          </div>
        ))}
      </div>
    </figure>
  );
}

const AXIS = [1, 10, 60, 480, 1440, 10080, 43200] as const;
const AXIS_WORDS = ["1 min", "10 min", "1 h", "8 h", "1 day", "1 week", "1 month"];
const LEFT = 170;
const WIDE = 430;
const x = (m: number) =>
  LEFT + (Math.log10(Math.min(Math.max(m, 0.8), 60000) / 0.8) / Math.log10(60000 / 0.8)) * WIDE;

/** From wet to hard on a logarithmic scale: a wedge that thins, events as ranges, windows as brackets. */
function Hardens({ m }: { m: Coat }) {
  const words = useWords();
  const events = Object.entries(m.events);
  if (!events.length) return null;
  const rows = events.length + m.windows.length;
  const height = 40 + rows * 22 + 24;
  const hard = m.events["hard"]?.best ?? m.events["recoat"]?.best ?? 1440;
  return (
    <figure className="mt-6">
      <figcaption className="mb-1 text-sm text-ink-2">
        From wet to hard at {temperature(20)}, 50 %, still air, on its usual film. Bars are the range, the
        stroke is the best guess.
      </figcaption>
      <svg viewBox={`0 0 640 ${height}`} width="100%" role="img" aria-label={`How ${m.name} hardens`}>
        {AXIS.map((at, i) => (
          <g key={at}>
            <path d={`M${x(at)} 4V${height - 22}`} stroke="var(--line)" strokeWidth={0.75} opacity={0.6} />
            <text x={x(at)} y={height - 8} fontSize={11.5} textAnchor="middle" fill="var(--ink-2)">
              {AXIS_WORDS[i]}
            </text>
          </g>
        ))}
        <path
          d={`M${x(0.8)} 6L${x(m.events["touch"]?.best ?? 10)} 10L${x(hard)} 19.5V20.5L${x(m.events["touch"]?.best ?? 10)} 30L${x(0.8)} 34Z`}
          fill={m.colour}
          stroke="var(--line)"
        />
        <path d={`M${x(hard)} 20H${LEFT + WIDE}`} stroke="var(--line)" strokeWidth={1.5} />
        {events.map(([key, e], i) => (
          <g key={key} transform={`translate(0 ${44 + i * 22})`}>
            <text x={0} y={12} fontSize={13} fill="var(--ink)">
              {words.event(key)}
            </text>
            <path d={`M${x(e.early)} 8H${x(e.late)}`} stroke="var(--ink)" strokeWidth={7} opacity={0.28} />
            <path d={`M${x(e.best)} 2v12`} stroke="var(--ink)" strokeWidth={2} />
            <text x={LEFT + WIDE + 38} y={12} fontSize={12.5} textAnchor="end" fill="var(--ink)">
              {span(e.best)}
            </text>
          </g>
        ))}
        {m.windows.map((w, i) => {
          const y = 44 + (events.length + i) * 22;
          const closes = w.closes.best > 400_000 ? LEFT + WIDE : x(w.closes.best);
          return (
            <g key={w.action} transform={`translate(0 ${y})`}>
              <text x={0} y={12} fontSize={13} fill="var(--ink)">
                {words.action(w.action).toLowerCase()} with {w.by}
              </text>
              <path
                d={`M${x(w.opens.best)} 3v10h${closes - x(w.opens.best)}${w.closes.best > 400_000 ? "" : "v-10"}`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.75}
              />
              <path
                d={`M${x(w.opens.best)} 13H${Math.min(x(Math.min(w.easy_until, 60000)), closes)}`}
                stroke="var(--ink)"
                strokeWidth={4}
              />
            </g>
          );
        })}
      </svg>
      {m.windows.length ? (
        <p className="text-xs text-ink-2">
          A bracket is a window, opening to closing; thick where it is easy.
        </p>
      ) : null}
    </figure>
  );
}

const percent = (v: number) => `${Math.round(v * 100)} %`;

export function CoatEntry({ m, c }: { m: Coat; c: Compendium }) {
  const used = c.techniques.filter((t) => m.techniques.includes(t.id));
  return (
    <article>
      <Head title={m.name} under={`${m.system} · ${m.binder}`}>
        {m.film[0]!.toUpperCase() + m.film.slice(1)}.
      </Head>
      <Hardens m={m} />
      <Notches
        opened={m.opened}
        colour={m.colour}
        sheen={m.sheens[0]!}
        label="What opens it: hatched, once it has hardened; dashed, while it is young"
      />
      <Facts
        rows={[
          ["Usual mix", m.mix || "as it comes"],
          [
            "Lands with",
            Object.entries(m.carried_by)
              .sort((a, b) => b[1] - a[1])
              .map(([f, v]) => `${percent(v)} ${f}`)
              .join(", ") || "nothing wet",
          ],
          ["Film", `${m.dry_film_um} µm dry, ${percent(m.volume_solids)} solids by volume`],
          ["Sheen", m.sheens.join(", ")],
          ["Water", m.water_limit !== null ? `at most ${percent(m.water_limit)} of the mix` : ""],
          [
            "Warmth",
            m.mfft_c ? told(`needs ${m.mfft_c[0]}–${m.mfft_c[1]} °C, by paint, for its film to form`) : "",
          ],
          [
            "The cup bears",
            Object.entries(m.cup_limits)
              .map(([f, [doubt, fail]]) => `${f} to ${percent(doubt)}, spoiled from ${percent(fail)}`)
              .join("; "),
          ],
          ["Used for", used.length ? <Links key="used" to={used} /> : ""],
          ["Basis", "composition and solids typical of the family, from memory; times common practice"],
        ]}
      />
      <Cautions list={m.cautions} />
    </article>
  );
}

function Cautions({ list }: { list: string[] }) {
  if (!list.length) return null;
  return (
    <section className="mt-6 border-t border-line pt-3 text-sm">
      <h3 className="font-semibold">Cautions</h3>
      <ul className="mt-1 list-disc space-y-1 pl-5">
        {list.map((text) => (
          <li key={text}>{text}</li>
        ))}
        <li>
          The product’s safety data sheet, local rules and qualified advice come first; this does not replace
          them.
        </li>
      </ul>
    </section>
  );
}

export function ThinnerEntry({ t }: { t: Thinner }) {
  const parts = Object.entries(t.percent).sort((a, b) => b[1] - a[1]);
  return (
    <article>
      <Head title={t.name} under="Thinner or solvent" />
      <figure>
        <figcaption className="mb-1 text-sm text-ink-2">By volume</figcaption>
        <div className="flex h-12 border border-line bg-paper-2 text-xs">
          {parts.map(([name, v], i) => (
            <div
              key={name}
              className="flex min-w-0 items-center overflow-hidden border-r border-line px-1.5 last:border-0"
              style={{ width: `${v}%`, background: i % 2 ? "var(--surround)" : undefined }}
              title={`${name} ${v} %`}
            >
              <span className="truncate">
                {name} {v} %
              </span>
            </div>
          ))}
        </div>
      </figure>
      <Notches
        opened={t.opens}
        colour="#8d9092"
        sheen="satin"
        label="What it opens: hatched, hardened films; dashed, while they are young"
      />
      <Facts
        rows={[
          [
            "Evaporates",
            t.rate[0] === t.rate[1]
              ? `${t.rate[0]} against n-butyl acetate = 1`
              : `${t.rate[0]} (fastest part) to ${t.rate[1]} (the tail), n-butyl acetate = 1`,
          ],
          [
            "Flash point",
            t.flash_c !== null ? `from ${temperature(t.flash_c)} in its lightest part` : "none",
          ],
          [
            "Basis",
            "typical of the family, from memory; your bottle’s data sheet is better: enter it as your own",
          ],
        ]}
      />
    </article>
  );
}

export function BaseEntry({ b }: { b: Base }) {
  return (
    <article>
      <Head title={b.name} under="Base material">
        {b.surface ? `${b.surface[0]!.toUpperCase()}${b.surface.slice(1)}.` : ""}
        {b.stressed ? " Stressed: spirit creeps into its joints and cracks it." : ""}
      </Head>
      <Notches
        opened={b.crazed}
        colour="#c9c8c2"
        sheen="satin"
        label="What crazes it bare, by solvent family: each carrier, and how fast it bites"
      />
      <Facts
        rows={[
          ["Warmth", `at most ${temperature(b.heat_limit_c)} at the part`],
          ["Basis", "a rule by solvent family, common practice: solubility alone misleads on plastics"],
        ]}
      />
    </article>
  );
}

export function TouchEntry({ t }: { t: Touch }) {
  const words = useWords();
  return (
    <article>
      <Head title={t.name} under="Touches a coat without laying one">
        Goes on {words.ready(t.after)}.
      </Head>
      <Facts rows={[["For", t.serves.join(", ")]]} />
      <Cautions list={t.cautions} />
    </article>
  );
}

/** A technique is put into the build that was open last. */
function IntoBuild({ technique }: { technique: string }) {
  const last = lastBuild();
  if (!last) return null;
  return (
    <Link className="push my-3" data-strong to={`/build/${last.id}#add=${technique}`}>
      Put it into “{last.name}”
    </Link>
  );
}

export function TechniqueEntry({ t, c }: { t: Technique; c: Compendium }) {
  const words = useWords();
  const school = t.school?.split(": ") as [string, string] | undefined;
  const materials = [...new Set(t.materials)].map((id) => c.coats.find((m) => m.id === id)!);
  return (
    <article>
      <Head title={t.name} under={t.steps.length > 1 ? `${t.steps.length} steps` : "One step"}>
        {t.summary}
      </Head>
      <IntoBuild technique={t.id} />
      <StepsDrawn t={t} />
      <Facts
        rows={[
          ["Recipe", told(t.recipe)],
          ["Tool", told(t.tool)],
          ["Window", told(t.window)],
          ["Rescue", told(t.rescue)],
          [
            "Traps",
            <ul key="traps" className="list-disc pl-4">
              {t.traps.map((trap) => (
                <li key={trap}>{told(trap)}</li>
              ))}
            </ul>,
          ],
          ["Carried by", t.carried_by ?? ""],
          ["School", school ? words.school(school[0], school[1]) : ""],
          ["With", <Links key="with" to={materials} />],
          ["Basis", told("common practice, at about 20 °C")],
        ]}
      />
    </article>
  );
}

/** What it puts into a core, bottom first, on the sheen that it wants below. */
function StepsDrawn({ t }: { t: Technique }) {
  const below = t.wants_below.length ? `on ${t.wants_below.join(" or ")}` : "on what lies there";
  return (
    <figure className="flex flex-col-reverse" style={{ width: 320 }}>
      <div
        className="flex h-8 items-center border border-line px-3 text-sm"
        style={{ background: coatFill("#a7a8a6", t.wants_below[0] ?? "matt", 1), color: "#000000" }}
      >
        {below}
      </div>
      {t.steps.map(({ name, kind, colour }, i) => {
        return kind === "coat" ? (
          <div
            key={i}
            className="flex h-9 items-center border-x border-t border-line px-3 text-sm"
            style={{ background: coatFill(colour ?? "#999999", "matt", 0.6) }}
          >
            <span className="rounded-sm bg-paper px-1 text-ink">{name}</span>
          </div>
        ) : (
          <div key={i} className="mx-4 flex h-7 items-center border-y border-line text-sm italic">
            {name}
          </div>
        );
      })}
    </figure>
  );
}
