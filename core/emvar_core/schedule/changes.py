"""What would make it fit: small changes of plan or hours, each scheduled, and judged, before it is offered."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from ..errors import NoBenchTime, PlanError
from ..plan import Schedule, apply, at, edits_json
from ..plan.hours import WEEK
from ..vocabulary import Model
from .agenda import Agenda
from .ideas import Idea, clock_words, ideas
from .schedule import Planned, make

TRIAL_S = 2.5
MOST_TRIALS = 16
TOGETHER = 3  # changes that are tried together at most, where none will do alone
BASES = 2  # changes that further ones are tried on
TRIED_ON = 5  # further changes that are tried on one that helps


class Change(Model):
    """A small change after which everything fits, or more of it does. `unpin`: steps that may move again."""

    title: str
    edits: list[dict[str, Any]]
    unpin: list[str]
    extra_min: float
    fits: bool
    unfit_left: int
    finish_min: float
    schedule: Schedule


@dataclass(frozen=True)
class _Tried:
    """A change with the bench and the schedule that it leads to."""

    change: Change
    agenda: Agenda
    planned: Planned

    @property
    def order(self) -> tuple[float, ...]:
        return *_lacks(self.planned), self.change.extra_min, self.change.finish_min


def _ends(planned: Planned) -> float:
    return max((t.end_min for t in planned.assessment.times.values()), default=0.0)


def _lacks(planned: Planned) -> tuple[int, int]:
    """How much does not fit: first what finds no place at all, then windows. Only where all has one are those known."""
    return sum(f.below is None for f in planned.unfit), len(planned.unfit)


def _tried(agenda: Agenda, idea: Idea, was: Planned, seconds: float) -> _Tried | None:
    """An idea, scheduled. None where it does not fit the plan, mends nothing, or makes something clash."""
    try:
        plan, _ = apply(agenda.plan, idea.edits)
    except PlanError:
        return None
    pins = {s: m for s, m in agenda.pins.items() if s not in idea.unpin}
    trial = Agenda(plan, agenda.record, pins, agenda.taken)
    try:
        planned = make(trial, seconds=seconds)
    except NoBenchTime:
        return None
    if _lacks(planned) >= _lacks(was) or planned.assessment.score.clashes > was.assessment.score.clashes:
        return None
    title = idea.title
    if idea.unpin:  # where to is known only now
        title += f" to {clock_words(plan, planned.assessment.times[idea.unpin[0]].start_min)}"
    change = Change(
        title=title, edits=edits_json(idea.edits), unpin=list(idea.unpin), extra_min=_extra(idea, trial, planned),
        fits=planned.fits, unfit_left=len(planned.unfit), finish_min=_ends(planned), schedule=planned.schedule,
    )  # fmt: skip
    return _Tried(change, trial, planned)


def _extra(idea: Idea, trial: Agenda, planned: Planned) -> float:
    """What an idea costs in bench time; a row of evenings as often as it comes until all is done."""
    if idea.each is None:
        return idea.extra_min
    day, clock = idea.each
    starts = (s.start.astimezone(trial.plan.build.tz) for s in trial.sittings)
    last = at(trial.plan, _ends(planned))
    return idea.extra_min * sum(s < last and WEEK[s.weekday()] is day and f"{s:%H:%M}" == clock for s in starts)


def _and(first: _Tried, then: _Tried) -> _Tried:
    """Two changes as one: the second was tried on the first."""
    a, b = first.change, then.change
    change = b.model_copy(
        update={
            "title": f"{a.title}, and {b.title[:1].lower()}{b.title[1:]}",
            "edits": [*a.edits, *b.edits],
            "unpin": [*a.unpin, *b.unpin],
            "extra_min": a.extra_min + b.extra_min,
        }
    )
    return replace(then, change=change)


def _together(first: _Tried, seconds: float, told: Callable[[], None]) -> _Tried | None:
    """Further changes on one that helps but does not make all fit; None where they never do."""
    whole = first
    for _ in range(TOGETHER - 1):
        agenda, planned = whole.agenda, whole.planned
        further = ideas(agenda, planned.unfit)[:TRIED_ON]
        best: _Tried | None = None
        for idea in further:
            told()
            then = _tried(agenda, idea, planned, seconds)
            if then is not None and (best is None or then.order < best.order):
                best = then
        if best is None:
            return None
        whole = _and(whole, best)
        if whole.change.fits:
            return whole
    return None


def changes(
    agenda: Agenda, planned: Planned, *, seconds: float = TRIAL_S, tell: Callable[[int, int], None] = lambda a, b: None
) -> list[Change]:
    """The smallest changes that make a schedule fit, best first; each was scheduled and judged by the seams.

    Those that cost no bench time come first, then by bench time, then by the finish. Where none makes all fit, the two
    best are tried together with further ones; what only makes more of it fit is offered where nothing does better.
    `tell` gets how many were tried, of how many.
    """
    listed = ideas(agenda, planned.unfit)[:MOST_TRIALS]
    kept: list[_Tried] = []
    for i, idea in enumerate(listed):
        tell(i, len(listed))
        tried = _tried(agenda, idea, planned, seconds)
        if tried is not None:
            kept.append(tried)
    kept.sort(key=lambda t: t.order)
    if kept and not kept[0].change.fits:
        count, most = len(listed), len(listed) + BASES * (TOGETHER - 1) * TRIED_ON

        def told() -> None:
            nonlocal count
            tell(count, most)
            count += 1

        kept += [t for first in kept[:BASES] if (t := _together(first, seconds, told)) is not None]
        kept.sort(key=lambda t: t.order)
    whole = [t.change for t in kept if t.change.fits]
    return whole or [t.change for t in kept]
