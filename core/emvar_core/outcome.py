"""What an assessment says: its models, and how judged things become them.

Times are minutes since the build's start. Models are made with `model_construct`: their values come from the core
itself and are valid by construction; the tests round-trip them through validation.
"""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from typing import Any

from .drying.clock import Drying, Edge
from .materials import FilmClass
from .memo import Memo
from .mixing import CupFor
from .plan import Plan, Sheen, Timing, WorkAction
from .seams.contact import Contact, Finding, Landing, Verdict
from .seams.telling import Sure
from .seams.working import OpenWindow
from .values import Model

EVENTS = ("touch", "recoat", "tape", "spirit", "hard")


class FilmState(StrEnum):
    WET = "wet"
    WORKABLE = "workable"
    SOFT = "soft"
    FIRM = "firm"
    HARD = "hard"
    POWDER = "powder"


class RangeOut(Model):
    """An instant as a range: minutes since the build's start. None: never."""

    early: float | None
    best: float | None
    late: float | None


class StateMark(Model):
    state: FilmState
    from_min: float


class WindowOut(Model):
    action: WorkAction
    opens: RangeOut
    easy_until_min: float | None
    closes: RangeOut
    rests_on: str


class CoatOut(Model):
    """A coat (step, zone): how thick, how it looks, and how it changes with time."""

    id: str
    step_id: str
    zone_id: str
    start_min: float
    end_min: float
    film_um: float
    coverage: float
    colour: str
    sheen: Sheen
    system: str
    states: list[StateMark]
    events: dict[str, RangeOut]
    windows: list[WindowOut]


class FindingOut(Model):
    mechanism: str
    kind: str
    severity: float
    word: str
    sentence: str
    advice: str
    basis: str
    rests_on: str
    step_id: str | None
    depth: int
    school: str | None


class ReachOut(Model):
    step_id: str | None
    name: str
    share: float
    power: float
    red: float | None


class SeamOut(Model):
    """A contact and its verdict. `lower_step` None is the base material; `responsible` may lie deeper.

    `sure`: how far from another verdict. `check` proves a wait is over; `assumes` is the film and air it rests on.
    """

    id: str
    zone_id: str
    upper_step: str
    lower_step: str | None
    contact: Contact
    at_min: float
    share: float
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: str
    basis: str
    rests_on: str
    responsible: str | None
    depth: int
    opens_best_min: float | None
    opens_careful_min: float | None
    eventual: Verdict | None
    closes: RangeOut | None
    missed: bool
    findings: list[FindingOut]
    reach: list[ReachOut]
    sure: Sure
    would_change: str
    disputed: str
    check: str
    if_fails: str
    assumes: str


class PourOut(Model):
    material: str
    name: str
    role: str
    ml: float
    drops: int


class CupOut(Model):
    """The mix for a step, for the area of its zones."""

    pours: list[PourOut]
    total_ml: float
    ratio_error_pct: float
    wet_film_um: float
    landed_ml: float
    lost_ml: float
    left_ml: float
    basis: str


def cup_out(cup: CupFor) -> CupOut:
    return CupOut.model_construct(
        **cup.__dict__ | {"pours": [PourOut.model_construct(**p.__dict__) for p in cup.pours]}
    )


class Remark(Model):
    """Something about a step that no seam decides: its mix, its technique, its place in the order.

    Verdict sound is a hint, told at the step and counted nowhere.
    """

    id: str
    step_id: str
    zones: list[str]
    code: str
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: str
    basis: str
    rests_on: str
    school: str | None


class Story(Model):
    """What is not sound, told once: seams that tell the same in several zones, or a remark on a step (`remark`)."""

    upper_step: str
    lower_step: str | None
    contact: Contact
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    zones: list[str]
    seams: list[str]
    missed: bool
    remark: str | None = None


class Score(Model):
    clashes: int
    missed: int
    waits: int
    cautions: int
    sound: int

    @property
    def order(self) -> tuple[int, int, int, int]:
        return self.clashes, self.missed, self.waits, self.cautions


class StepNote(Model):
    """A usual caution at a step. It gives no leave."""

    step_id: str
    caution: str
    text: str


class Assessment(Model):
    times: dict[str, Timing]
    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    cups: dict[str, CupOut]
    notes: list[StepNote]
    remarks: list[Remark]
    stories: list[Story]
    score: Score
    end_min: float


def seam_id(upper: str, zone: str, lower: str | None) -> str:
    return f"{upper}~{zone}~{lower or 'base'}"


def plus(value: float | None, by: float) -> float | None:
    return None if value is None else round(value + by, 3)


def finite(value: float) -> float | None:
    return round(value, 2) if value < 1e9 else None


def range_out(edges: Any) -> RangeOut:
    return RangeOut.model_construct(early=finite(edges.early), best=finite(edges.best), late=finite(edges.late))


def window_out(w: OpenWindow) -> WindowOut:
    return WindowOut.model_construct(
        action=w.action, opens=range_out(w.opens), easy_until_min=finite(w.easy_until_min), closes=range_out(w.closes),
        rests_on=w.rests_on,
    )  # fmt: skip


def events_out(drying: Drying) -> dict[str, RangeOut]:
    early, best, late = (drying.all_events(edge) for edge in (Edge.EARLY, Edge.BEST, Edge.LATE))
    return {
        name: RangeOut.model_construct(early=finite(early[name]), best=finite(best[name]), late=finite(late[name]))
        for name in best
    }


def states_out(drying: Drying) -> list[StateMark]:
    system = drying.system
    start = drying.end_min
    if system.film is FilmClass.LOOSE:
        return [StateMark.model_construct(state=FilmState.POWDER, from_min=start)]
    marks = [(FilmState.WET, start)]
    best = {name: drying.event(name, Edge.BEST) for name in ("touch", "recoat", "hard")}
    if system.windows:
        closes = max(drying.when(w.closes[1]) for w in system.windows.values())
        marks += [(FilmState.WORKABLE, drying.flash_end_min), (FilmState.SOFT, closes)]
        marks += [(FilmState.FIRM, max(best["recoat"], closes + 1)), (FilmState.HARD, best["hard"])]
    else:
        marks += [
            (FilmState.SOFT, max(best["touch"], drying.flash_end_min)),
            (FilmState.FIRM, best["recoat"]),
        ]
        marks += [(FilmState.HARD, best["hard"])]
    kept: list[StateMark] = []
    for state, at in marks:
        while kept and kept[-1].from_min >= at:
            kept.pop()
        kept.append(StateMark.model_construct(state=state, from_min=round(at, 2)))
    return kept


def finding_out(f: Finding, names: list[tuple[str | None, str]], index: int) -> FindingOut:
    return FindingOut.model_construct(
        mechanism=f.mechanism, kind=f.kind.value, severity=round(min(f.severity, 1.0), 3), word=f.word,
        sentence=f.sentence, advice=f.advice, basis=f.basis, rests_on=f.rests_on,
        step_id=names[min(f.on(index), len(names) - 1)][0], depth=f.on(index) - index,
        school=f.school.value if f.school else None,
    )  # fmt: skip


def sound_words(landing: Landing, lower: str) -> str:
    if landing.contact is Contact.TOUCH:
        return f"“{lower}” is hard enough to be touched by then."
    if landing.contact is Contact.WORK:
        return f"What is used here leaves “{lower}” alone."
    if not landing.blend.parts:
        return f"Nothing wet: it lies on “{lower}” and harms nothing."
    return f"The {landing.carrier_words} leaves “{lower}” alone, or bites just enough to hold."


def stories_of(plan: Plan, seams: Iterable[SeamOut], remarks: Iterable[Remark] = ()) -> list[Story]:
    """Seams that are not sound, told once where several zones tell the same, and remarks; gravest first."""
    grouped: dict[tuple[str, Verdict, str], list[SeamOut]] = {}
    for seam in seams:
        # A step waits once, until the last of its reasons is gone.
        key = (seam.upper_step, seam.verdict, "" if seam.verdict is Verdict.WAIT else seam.word)
        held = grouped.get(key)
        if held is None:
            grouped[key] = [seam]
        else:
            held.append(seam)
    stories = [_story(group) for group in grouped.values()]
    stories += [
        Story.model_construct(
            upper_step=r.step_id, lower_step=None, contact=Contact.LAY, verdict=r.verdict, word=r.word,
            sentence=r.sentence, advice=r.advice, zones=r.zones, seams=[], missed=False, remark=r.id,
        )
        for r in remarks
        if r.verdict is not Verdict.SOUND
    ]  # fmt: skip
    order = {step.id: i for i, step in enumerate(plan.steps)}
    gravity = {verdict: -verdict.grave for verdict in Verdict}
    return sorted(stories, key=lambda s: (gravity[s.verdict], order[s.upper_step]))


_STORIES = Memo(5_000)


def _story(group: list[SeamOut]) -> Story:
    """Kept by the seams themselves: an edit changes few of them."""
    key = tuple([id(s) for s in group])
    held: tuple[list[SeamOut], Story] | None = _STORIES.get(key)
    if held is None or any(a is not b for a, b in zip(held[0], group, strict=True)):
        held = (group, _story_now(group))
        _STORIES.put(key, held)
    return held[1]


def _story_now(group: list[SeamOut]) -> Story:
    first = group[0]
    if len(group) > 1:
        first = max(group, key=lambda s: (s.opens_careful_min or 0.0, s.findings[0].severity if s.findings else 0.0))
    return Story.model_construct(
        upper_step=first.upper_step, lower_step=first.lower_step, contact=first.contact,
        verdict=first.verdict, word=first.word, sentence=first.sentence, advice=first.advice,
        zones=list(dict.fromkeys(s.zone_id for s in group)),
        seams=[first.id] + [s.id for s in group if s is not first], missed=first.missed, remark=None,
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
