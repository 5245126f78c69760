/** What sheets share: the page, its head, a box to tick, a pour with its colour. */
import type { ReactNode } from "react";
import type { Card } from "../../api/client";
import { told, volume } from "../../drawing/units";

export function Page(p: { wide?: boolean; title: ReactNode; beside?: ReactNode; children: ReactNode }) {
  return (
    <article className="paper paper-page" data-wide={p.wide ? "yes" : undefined}>
      <header className="paper-head">
        <h2>{p.title}</h2>
        <p>{p.beside}</p>
      </header>
      {p.children}
      <footer className="paper-foot">
        Emvar: estimates, to be tested on scrap. The data sheet, local rules and qualified advice come first.
      </footer>
    </article>
  );
}

/** Cautions stand first, whatever else has to make room. */
export function Cautions({ all }: { all: string[] }) {
  const once = [...new Set(all)];
  if (!once.length) return null;
  return (
    <section className="paper-cautions" aria-label="Cautions">
      <h3>First of all</h3>
      <ul>
        {once.map((text) => (
          <li key={text}>{told(text)}</li>
        ))}
      </ul>
    </section>
  );
}

export const Tick = () => <span className="paper-tick" aria-hidden="true" />;

export function Swatch({ colour, small }: { colour: string | undefined; small?: boolean }) {
  return (
    <span
      className="paper-swatch"
      data-small={small ? "yes" : undefined}
      style={colour ? { background: colour } : {}}
      aria-hidden="true"
    />
  );
}

/** What goes into the cup, each part with its colour, in drops where they can be counted. */
export function Pours({ card, colour }: { card: Card; colour: string | undefined }) {
  if (!card.cup) return null;
  const counted = card.cup.pours.every((x) => x.drops === null || x.drops <= 60);
  return (
    <ul className="paper-pours">
      {card.cup.pours.map((x) => (
        <li key={x.material + x.role}>
          <Swatch small colour={x.role === "paint" ? colour : undefined} />
          <strong>
            {x.drops === null
              ? `${x.grams.toFixed(2)} g`
              : counted
                ? x.drops === 1
                  ? "1 drop"
                  : `${x.drops} drops`
                : volume(x.ml)}
          </strong>{" "}
          {x.name.toLowerCase()}
          {counted ? ` (${volume(x.ml)})` : ""}
        </li>
      ))}
      {card.cups > 1 ? <li>{card.cups} such cups</li> : null}
    </ul>
  );
}
