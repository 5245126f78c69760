import type { Assessment, Plan, Story } from "../../api/client";
import { LineSample } from "../../drawing/Line";
import type { Clockwork } from "../../drawing/time";
import type { Verdict } from "../../drawing/tokens";
import { told } from "../../drawing/units";
import { useBaseName } from "../../parts/BuildDoor";
import { countsWords } from "../../model/live";
import { tagWords } from "./RackVerdicts";
import { zoneNames } from "../../model/zones";
import { Welcome } from "./Welcome";
import { Push } from "../../parts/Push";

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** What is wrong and what must wait, gravest first. The way in for whoever has chosen nothing yet. */
export function Overview(p: {
  plan: Plan;
  a: Assessment;
  /** As scheduled: how many steps were skipped. Null at the plan's own times. */
  left: number | null;
  clock: Clockwork;
  onStory: (s: Story) => void;
  onVersions: () => void;
  onAdd: () => void;
}) {
  const { plan, a } = p;
  const base = useBaseName();
  const of = (v: Verdict) => a.stories.filter((s) => s.verdict === v);
  const steps = plan.steps ?? [];
  if (steps.length === 0) {
    return (
      <div className="space-y-3" data-testid="overview">
        <h2 className="text-lg font-semibold">Nothing laid yet</h2>
        <p className="text-sm">
          Each column will be a zone of the model, cut through its coats. Where two coats do not bear each
          other, a crack is drawn between them; where it is only too early, dashes.
        </p>
        <p>Begin with what touches the bare {base(plan.build.base_material)}: a primer.</p>
        <Push data-strong onClick={p.onAdd}>
          Lay the first coat
        </Push>
        <p className="text-sm text-ink-2">
          Or press <kbd className="font-semibold">A</kbd> and type what you have in hand.
        </p>
      </div>
    );
  }
  const bad = of("clash").length + of("wait").length;
  return (
    <div className="space-y-3" data-testid="overview">
      <Welcome />
      <h2 className="text-lg leading-tight font-semibold">
        {bad
          ? [
              of("clash").length ? count(of("clash").length, "clash", "clashes") : null,
              of("wait").length ? count(of("wait").length, "wait", "waits") : null,
            ]
              .filter(Boolean)
              .join(", ")
          : of("caution").length
            ? "Nothing clashes, nothing waits"
            : "All seams are sound"}
      </h2>
      <p className="text-sm text-ink-2">
        {count(of("caution").length, "caution", "cautions")}, {a.score.sound} sound seams. Done{" "}
        {p.clock.long(a.end_min)}
        {p.left !== null ? ", as scheduled" : ""}.
        {p.left ? ` ${count(p.left, "step", "steps")} skipped.` : ""}
      </p>
      <Push className="w-full" data-strong={bad ? true : undefined} onClick={p.onVersions}>
        {bad ? "Mend the plan" : "Keep a way back"}
      </Push>
      <ul>
        {alike(a.stories).map((stories) =>
          stories.length === 1 ? (
            <StoryLine key={keyOf(stories[0]!)} {...p} s={stories[0]!} />
          ) : (
            <li key={keyOf(stories[0]!)} className="border-t border-line-soft">
              <details>
                <summary className="flex min-h-9 items-center gap-2.5 py-1.5">
                  <LineSample verdict={stories[0]!.verdict} width={34} />
                  <span className="text-sm">
                    <strong>{stories[0]!.word}</strong>, at {stories.length} steps
                  </span>
                </summary>
                <ul className="pl-3">
                  {stories.map((s) => (
                    <StoryLine key={keyOf(s)} {...p} s={s} />
                  ))}
                </ul>
              </details>
            </li>
          ),
        )}
      </ul>
      {steps.length && !a.stories.length ? (
        <p className="text-sm">Every coat lies on something that bears it, at a time that suits it.</p>
      ) : null}
    </div>
  );
}

const keyOf = (s: Story) => s.remark ?? s.seams[0]!;
const FOLDED_FROM = 3;

/** Stories of one kind fold into one where there are several; their order is that of the gravest. */
export function alike(stories: Story[]): Story[][] {
  const kinds = new Map<string, Story[]>();
  for (const s of stories) {
    const kind = `${s.verdict}~${s.word}`;
    const held = kinds.get(kind);
    if (held) held.push(s);
    else kinds.set(kind, [s]);
  }
  return [...kinds.values()].flatMap((group) =>
    group.length < FOLDED_FROM ? group.map((s) => [s]) : [group],
  );
}

function StoryLine(p: {
  plan: Plan;
  a: Assessment;
  clock: Clockwork;
  onStory: (s: Story) => void;
  s: Story;
}) {
  const { plan, a, s } = p;
  const seam = s.seams.length ? a.seams[s.seams[0]!] : undefined;
  if (!seam && !s.remark) return null; // told again with the rest of the answer
  const at = seam?.at_min ?? a.times[s.upper_step]?.start_min ?? 0;
  const upper = plan.steps?.find((x) => x.id === s.upper_step);
  return (
    <li className="border-t border-line-soft">
      <button
        type="button"
        className="flex w-full items-start gap-2.5 py-2 text-left hover:bg-paper-2"
        onClick={() => p.onStory(s)}
      >
        <LineSample verdict={s.verdict} width={34} />
        <span className="min-w-0 flex-1">
          <span className="block text-sm font-semibold">
            {upper?.name}
            <span className="font-normal"> · {s.verdict === "wait" && seam ? tagWords(seam) : s.word}</span>
          </span>
          <span className="line-clamp-2 block text-sm text-ink-2">{told(s.sentence)}</span>
          <span className="block text-xs text-ink-2">
            {p.clock.short(at)} · {zoneNames(plan, s.zones)}
          </span>
        </span>
      </button>
    </li>
  );
}

/** On a narrow screen the list lies behind one line, which tells how the whole stands. */
export function CountsLine({ a, onOpen }: { a: Assessment; onOpen: () => void }) {
  const worst = a.stories[0]?.verdict ?? "sound";
  return (
    <button
      type="button"
      className="flex min-h-10 w-full items-center gap-2 border-t border-line bg-paper px-4 text-left text-sm font-semibold no-print"
      data-testid="counts"
      onClick={onOpen}
    >
      <LineSample verdict={worst} width={34} />
      <span className="first-letter:uppercase">{countsWords(a)}</span>
      <span aria-hidden="true" className="ml-auto">
        ▴
      </span>
    </button>
  );
}
