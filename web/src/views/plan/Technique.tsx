/** What the technique of a step asks for: recipe, window, rescue, traps; a sentence first, the rest on demand. */
import { Link } from "react-router";
import type { Technique } from "../../api/client";

export function TechniqueNote({ technique }: { technique: Technique }) {
  return (
    <details className="text-sm" data-testid="technique">
      <summary>
        <span className="font-semibold">{technique.name}.</span> {technique.recipe}
      </summary>
      <dl className="mt-1.5 grid grid-cols-[4.5rem_1fr] gap-x-2 gap-y-1 border-l-2 border-line pl-3 text-xs">
        <dt className="text-ink-2">Tool</dt>
        <dd>{technique.tool}</dd>
        <dt className="text-ink-2">Window</dt>
        <dd>{technique.window}</dd>
        <dt className="text-ink-2">Rescue</dt>
        <dd>{technique.rescue}</dd>
        <dt className="text-ink-2">Traps</dt>
        <dd>{technique.traps.join("; ")}</dd>
      </dl>
      <Link className="mt-1 inline-block pl-3 text-xs underline" to={`/compendium#technique~${technique.id}`}>
        In the compendium
      </Link>
    </details>
  );
}
