"""What is not sound, told once: the words belong to the seam that they are said of, and the gravest leads."""

from __future__ import annotations

from collections.abc import Iterable

from ..memory import MEMORY
from ..plan import Plan
from ..vocabulary import Contact, Verdict
from .outcome import Remark, Score, SeamOut, Story

_STORIES = MEMORY.door("stories", 5_000)


def stories_of(plan: Plan, seams: Iterable[SeamOut], remarks: Iterable[Remark] = ()) -> list[Story]:
    """Seams that are not sound, told once where several zones tell the same, and remarks; gravest first.

    A step waits once in a zone, until the last of its reasons is gone; what else it does there is told by what happens.
    Zones share a story where the reason that leads is the same in them, word for word.
    """
    in_zone: dict[tuple[str, Verdict, str, str], list[SeamOut]] = {}
    for seam in seams:
        what = "" if seam.verdict is Verdict.WAIT else seam.word
        in_zone.setdefault((seam.upper_step, seam.verdict, what, seam.zone_id), []).append(seam)
    alike: dict[tuple[str, Verdict, str, str | None], list[list[SeamOut]]] = {}
    for (upper, verdict, _, _), group in in_zone.items():
        if len(group) > 1:
            group.sort(key=_leading, reverse=True)
        alike.setdefault((upper, verdict, group[0].sentence, group[0].lower_step), []).append(group)
    stories = [_story(groups) for groups in alike.values()]
    stories += [
        Story.model_construct(
            upper_step=r.step_id, lower_step=None, contact=Contact.LAY, verdict=r.verdict, word=r.word,
            sentence=r.sentence, advice=r.advice, zones=r.zones, seams=[], missed=False, remark=r.id,
        )
        for r in remarks
        if r.verdict is not Verdict.SOUND
    ]  # fmt: skip
    order = {step.id: i for i, step in enumerate(plan.steps)}
    return sorted(stories, key=lambda s: (-s.verdict.grave, order[s.upper_step]))


def _leading(seam: SeamOut) -> tuple[float, float]:
    """What makes a seam lead: of waits the one that lasts longest, else the gravest."""
    grave = seam.findings[0].severity if seam.findings else 0.0
    return (seam.opens_careful_min or 0.0, grave) if seam.verdict is Verdict.WAIT else (grave, 0.0)


def _story(groups: list[list[SeamOut]]) -> Story:
    """The story of zones in which the same leads; kept by the seams themselves, since an edit changes few of them."""
    seams = [s for group in groups for s in group]
    key = tuple([id(s) for s in seams])
    kept: tuple[list[SeamOut], Story] | None = _STORIES.get(key)
    if kept is None or any(a is not b for a, b in zip(kept[0], seams, strict=True)):
        kept = _STORIES.put(key, (seams, _story_of_groups(groups)))
    return kept[1]


def _story_of_groups(groups: list[list[SeamOut]]) -> Story:
    first = max((group[0] for group in groups), key=_leading)
    seams = [first.id] + [s.id for group in groups for s in group if s is not first]
    return Story.model_construct(
        upper_step=first.upper_step, lower_step=first.lower_step, contact=first.contact, verdict=first.verdict,
        word=first.word, sentence=first.sentence, advice=first.advice,
        zones=list(dict.fromkeys(group[0].zone_id for group in groups)), seams=seams, missed=first.missed, remark=None,
    )  # fmt: skip


def score_of(seams: Iterable[SeamOut], sound: int = 0, remarks: Iterable[Remark] = ()) -> Score:
    """Counts seams and remarks by verdict; `sound` seams may have been counted already, hints are not counted."""
    counts = dict.fromkeys(Verdict, 0)
    for remark in remarks:
        if remark.verdict is not Verdict.SOUND:
            counts[remark.verdict] += 1
    counts[Verdict.SOUND] = sound
    missed = 0
    for seam in seams:
        if seam.missed:
            missed += 1
        else:
            counts[seam.verdict] += 1
    return Score(
        clashes=counts[Verdict.CLASH], missed=missed, waits=counts[Verdict.WAIT],
        cautions=counts[Verdict.CAUTION], sound=counts[Verdict.SOUND],
    )  # fmt: skip
