"""What is not sound, told once: the words belong to the seam that they are said of, and the gravest leads."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..memory import MEMORY
from ..plan import Plan
from ..vocabulary import Contact, Verdict
from .outcome import Remark, Score, SeamOut, Story

_STORIES = MEMORY.door("stories", 5_000)


@dataclass(frozen=True, slots=True)
class Reason:
    """What is not sound of a step in one zone and tells the same there; the seam that leads stands first."""

    upper_step: str
    tells: tuple[str, Verdict, str, str | None]
    seams: tuple[SeamOut, ...]


def reasons_of(unsound: Iterable[SeamOut]) -> list[Reason]:
    """The reasons of some seams that are not sound, whole steps of zones.

    A step waits once in a zone, until the last of its reasons is gone; anything else is called by what happens.
    """
    in_zone: dict[tuple[str, Verdict, str, str], list[SeamOut]] = {}
    for seam in unsound:
        what = "" if seam.verdict is Verdict.WAIT else seam.word
        in_zone.setdefault((seam.upper_step, seam.verdict, what, seam.zone_id), []).append(seam)
    reasons = []
    for (upper, verdict, _, _), group in in_zone.items():
        if len(group) > 1:
            group.sort(key=_leading, reverse=True)
        reasons.append(Reason(upper, (upper, verdict, group[0].sentence, group[0].lower_step), tuple(group)))
    return reasons


def stories_of(plan: Plan, reasons: Iterable[Reason], remarks: Iterable[Remark] = ()) -> list[Story]:
    """Seams that are not sound, told once where several zones tell the same, and remarks; gravest first.

    Zones share a story where the reason that leads is the same in them, word for word.
    """
    alike: dict[tuple[str, Verdict, str, str | None], list[Reason]] = {}
    for reason in reasons:
        alike.setdefault(reason.tells, []).append(reason)
    stories = [_story(same) for same in alike.values()]
    stories += [
        Story.stated(
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


def _story(same: list[Reason]) -> Story:
    """The story of zones in which the same leads; kept by the reasons themselves, since an edit changes few of them."""
    key = tuple([id(r) for r in same])
    kept: tuple[list[Reason], Story] | None = _STORIES.get(key)
    if kept is None or any(a is not b for a, b in zip(kept[0], same, strict=True)):
        kept = _STORIES.put(key, (same, _told_of(same)))
    return kept[1]


def _told_of(same: list[Reason]) -> Story:
    first = max((r.seams[0] for r in same), key=_leading)
    seams = [first.id] + [s.id for r in same for s in r.seams if s is not first]
    return Story.stated(
        upper_step=first.upper_step, lower_step=first.lower_step, contact=first.contact, verdict=first.verdict,
        word=first.word, sentence=first.sentence, advice=first.advice,
        zones=list(dict.fromkeys(r.seams[0].zone_id for r in same)), seams=seams, missed=first.missed, remark=None,
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
