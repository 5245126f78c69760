"""An assessment told in plain text, for a terminal or a log."""

from __future__ import annotations

import re
import textwrap

from ..judging import Assessment, Remark, SeamOut, Story
from ..judging.outcome import PourOut
from ..plan import CoatStep, Plan, at, ratio_words
from ..vocabulary import Basis, Verdict, when_words

MOST_DROPS = 60
MARK = {
    Verdict.CLASH: "✗ clash",
    Verdict.WAIT: "… wait",
    Verdict.CAUTION: "! caution",
    Verdict.SOUND: "· sound",
}


BASIS = {Basis.MODEL: "a model: "}


def when(plan: Plan, minute: float) -> str:
    """An instant of the plan in the build's own time zone, as `Sat 5 Dec 10:25`."""
    return when_words(at(plan, minute))


def report(plan: Plan, a: Assessment, width: int = 100) -> str:
    """The plan step by step with its verdicts, then what to mend."""
    build, s = plan.build, a.score
    zones = {z.id: z.name for z in plan.zones}
    lines = [
        f"{build.name} · 1:{build.scale} · {len(plan.zones)} zones · {len(plan.steps)} steps",
        f"{_count(a, Verdict.CLASH)} · {_count(a, Verdict.WAIT)} · {_count(a, Verdict.CAUTION)} "
        f"· {s.sound} sound seams",
        "",
    ]
    stories: dict[str, list[Story]] = {}
    for story in a.stories:
        stories.setdefault(story.upper_step, []).append(story)
    for number, step in enumerate(plan.steps, 1):
        where = ", ".join(zones[z] for z in step.zones) if len(step.zones) < len(zones) else "all zones"
        lines.append(f"{number:3d}  {when(plan, a.times[step.id].start_min)}  {step.name} ({where})")
        if isinstance(step, CoatStep) and step.id in a.cups:
            cup = a.cups[step.id]
            pours = " + ".join(f"{_pour(p)} {p.name.lower()}" for p in cup.pours)
            ratio = f"{ratio_words(step.mix)}, " if step.mix else ""
            times = f", {cup.cups} such cups" if cup.cups > 1 else ""
            lines.append(f"       mix {ratio}{pours} = {cup.total_ml:g} mL{times}")
        for story in stories.get(step.id, []):
            lines.extend(_tell(plan, a, story, zones, width))
    if cautions := _cautions(a):
        lines += ["", "Cautions"]
        lines += [_wrap(f"- {text}", width, "  ") for text in cautions]
    return "\n".join(lines)


def _cautions(a: Assessment) -> list[str]:
    """Each caution once, of several flash points the lowest; the line that they are no permission comes last."""
    by_caution: dict[str, str] = {}
    for note in a.notes:
        known = by_caution.get(note.caution)
        if known is None or (note.caution == "flash" and _degrees(note.text) < _degrees(known)):
            by_caution[note.caution] = note.text
    defer = by_caution.pop("defer", None)
    return [*by_caution.values(), *([defer] if defer else [])]


def _degrees(text: str) -> int:
    degrees = re.search(r"-?\d+", text)
    return int(degrees[0]) if degrees else 0


def _pour(pour: PourOut) -> str:
    """Drops while anyone would count them, millilitres from there on; a paste is weighed."""
    if pour.drops is None:
        return f"{pour.grams:g} g"
    return f"{pour.drops} drops" if pour.drops <= MOST_DROPS else f"{pour.ml:.1f} mL"


def _count(a: Assessment, verdict: Verdict) -> str:
    stories = [s for s in a.stories if s.verdict is verdict]
    word = {"clash": "clash", "wait": "wait", "caution": "caution"}[verdict.value]
    plural = {"clash": "clashes"}.get(word, word + "s")
    return f"{len(stories)} {word if len(stories) == 1 else plural}"


def _tell(plan: Plan, a: Assessment, story: Story, zones: dict[str, str], width: int) -> list[str]:
    if story.remark is not None:
        return _tell_remark(next(r for r in a.remarks if r.id == story.remark), width)
    seam = a.seams[story.seams[0]]
    lines = [_wrap(f"{MARK[story.verdict]}: {story.sentence}", width, "       ")]
    if len(story.zones) > 1:
        lines.append(_wrap("in " + ", ".join(zones[z] for z in story.zones), width, "         "))
    lines.append(_wrap(f"→ {story.advice}{_opens(plan, seam)}", width, "         "))
    lines.append(_wrap(f"rests on: {BASIS.get(seam.basis, '')}{seam.rests_on}", width, "         "))
    return lines


def _tell_remark(remark: Remark, width: int) -> list[str]:
    return [
        _wrap(f"{MARK[remark.verdict]}: {remark.sentence}", width, "       "),
        _wrap(f"→ {remark.advice}", width, "         "),
        _wrap(f"rests on: {BASIS.get(remark.basis, '')}{remark.rests_on}", width, "         "),
    ]


def _opens(plan: Plan, seam: SeamOut) -> str:
    if seam.opens_careful_min is None or seam.verdict is Verdict.SOUND:
        return ""
    if seam.opens_careful_min <= seam.at_min:
        return ""
    best = seam.opens_best_min if seam.opens_best_min is not None else seam.opens_careful_min
    return f" Best guess {when(plan, best)}, safe from {when(plan, seam.opens_careful_min)}."


def _wrap(text: str, width: int, indent: str) -> str:
    return textwrap.fill(text, width, initial_indent=indent, subsequent_indent=indent + "  ")
