"""What does not fit, found and told: windows that close, work longer than any sitting, more parts than can dry."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..judging import Assessment
from ..plan import (
    Timing,
    at,
)
from ..vocabulary import Verdict, when_words
from .agenda import Agenda
from .discrete import UNIT_MIN
from .net import Link, What
from .shift import Missed

LEAST_OPEN_MIN = 3.0  # what bisection and rounding leave open is not told


@dataclass(frozen=True)
class Fit:
    """What does not fit: a window that closes before its work can be done, or work longer than any sitting."""

    step: str
    below: str | None
    zones: tuple[str, ...]
    opened_min: float
    closes_min: float
    next_min: float | None
    words: str


def open_seams(agenda: Agenda, assessment: Assessment) -> tuple[Fit, ...]:
    """Seams that would still have to wait at the times of a schedule, once for a pair of steps."""
    left: dict[tuple[str, str | None], Fit] = {}
    for seam in assessment.seams.values():
        if seam.verdict is not Verdict.WAIT or seam.opens_careful_min is None or seam.upper_step in agenda.done:
            continue
        upper = assessment.times[seam.upper_step]
        late = seam.opens_careful_min - upper.start_min
        if late < LEAST_OPEN_MIN:
            continue
        name = agenda.net.task(seam.upper_step).name
        words = f"“{name}” would come {_long(late)} too early ({seam.word}); it is safe from "
        words += (
            f"{when_words(at(agenda.plan, seam.opens_careful_min))}. Look at the seam, or plan again with more time."
        )
        key = (seam.upper_step, seam.lower_step)
        known = left.get(key)
        if known is None or known.opened_min < seam.opens_careful_min:
            left[key] = Fit(*key, (seam.zone_id,), seam.opens_careful_min, math.inf, None, words)
    return tuple(left.values())


def _long(minutes: float) -> str:
    if minutes >= 2 * 1440:
        return f"{minutes / 1440:.1f} days"
    return f"{minutes:.0f} min" if minutes < 90 else f"{minutes / 60:.1f} h"


def too_long(agenda: Agenda) -> list[Fit]:
    """Work that is longer than any sitting."""
    longest = max(b - a for a, b in agenda.stretches)
    misfits = []
    for task in agenda.net.tasks:
        if task.id in agenda.done or task.id in agenda.pins:
            continue
        clean = agenda.hours.cleaning.other_min if task.mix else 0
        if task.minutes + clean > longest + 1e-6:
            with_clean = f" and {clean} min to clean the airbrush" if clean else ""
            most = f"the longest sitting is {longest:.0f} min."
            words = f"“{task.name}” takes {task.minutes:.0f} min{with_clean}; {most}"
            misfits.append(Fit(task.id, None, task.zones, agenda.since, agenda.since, None, words))
    return misfits


def too_many(agenda: Agenda) -> list[Fit]:
    """Work that no order makes possible: more parts at once than can dry, or spraying that is never allowed."""
    misfits = []
    places = agenda.hours.drying_places
    longest = max((b - a for a, b in _sprayable(agenda)), default=0.0)
    for task in agenda.net.tasks:
        if task.id in agenda.done or task.id in agenda.pins:
            continue
        words = ""
        if places is not None and task.coat and task.pieces > places:
            words = (
                f"“{task.name}” is {task.pieces} parts at once, and {places} can dry at one time: split it, say which "
            )
            words += "zones are one part, or allow more drying places."
        elif agenda.sprays is not None and task.sprays and task.minutes > longest + 1e-6:
            words = f"“{task.name}” takes {task.minutes:.0f} min of spraying; in your sittings it is allowed for "
            words += f"{longest:.0f} min at most."
        if words:
            misfits.append(Fit(task.id, None, task.zones, agenda.since, agenda.since, None, words))
    return misfits


def _sprayable(agenda: Agenda) -> list[tuple[float, float]]:
    """Sittings as far as the compressor may run in them."""
    if agenda.sprays is None:
        return agenda.stretches
    near = agenda.stretches[:60]
    return [(max(a, s), min(b, e)) for a, b in near for s, e in agenda.sprays if min(b, e) > max(a, s)]


def cannot_stay(agenda: Agenda, step: str) -> Fit:
    """A step that was to stay where it is, and cannot."""
    task, pin = agenda.net.task(step), agenda.pins[step]
    words = f"“{task.name}” cannot stay at {when_words(at(agenda.plan, pin))}: what lies below it is not ready by then."
    return Fit(step, None, task.zones, pin, pin, None, words)


def unfit_words(agenda: Agenda, link: Link, times: dict[str, Timing]) -> Fit:
    """A window that is missed, in words: what opened it, when it closes, when there is bench time next."""
    below, after = agenda.net.task(link.before), agenda.net.task(link.after)
    end = times[link.before].end_min
    opens, closes = agenda.stretch(link, times)
    following = agenda.shifter(grid_min=UNIT_MIN).stretch_at(max(opens, end), after.minutes, after)

    def clock(minute: float) -> str:
        return when_words(at(agenda.plan, minute))

    when = "is done" if link.before in agenda.done else "would be done"
    words = f"“{below.name}” {when} {clock(end)}; "
    words += f"“{after.name}” may start {clock(opens)}"
    by = "over" if link.whole else "begun"
    words += f" and must be {by} by {clock(closes)}." if closes < math.inf else "."
    if following is not None:
        words += f" The next time that you have for it is {clock(following)}."
    return Fit(link.after, link.before, link.zones, opens, closes, following, words)


def missed_words(agenda: Agenda, missed: list[Missed], times: dict[str, Timing]) -> list[Fit]:
    """The same for what a hand has placed."""
    return [unfit_words(agenda, m.link, times) for m in missed if m.link.what is not What.ORDER]
