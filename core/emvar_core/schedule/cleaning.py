"""Cleaning of an airbrush where a hand has placed the work: what is owed after each spraying, and when it is done."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from datetime import timedelta
from itertools import pairwise

from ..plan import Schedule, Timing, at
from ..plan.documents import CleaningAt
from .agenda import Agenda
from .net import cleaning_min


def _sitting(agenda: Agenda, minute: float) -> tuple[float, float] | None:
    i = bisect_right(agenda.stretches, (minute + 1e-6, float("inf"))) - 1
    return agenda.stretches[i] if i >= 0 and minute < agenda.stretches[i][1] else None


def owed(agenda: Agenda, order: Sequence[str], starts: dict[str, float]) -> dict[str, float]:
    """Minutes of cleaning after each sprayed step, in an order, where steps start at about these minutes."""
    sprayed = [s for s in order if agenda.net.task(s).mix is not None]
    clean = agenda.hours.cleaning
    owes: dict[str, float] = {}
    for one, other in pairwise([*sprayed, None]):
        assert one is not None
        mine = agenda.net.task(one).mix
        theirs = agenda.net.task(other).mix if other is not None else None
        sitting = _sitting(agenda, starts[one])
        if other is None or sitting is None or sitting != _sitting(agenda, starts[other]):
            owes[one] = clean.other_min
        elif mine is not None and theirs is not None:
            owes[one] = cleaning_min(clean, mine, theirs) if agenda.guns == 1 else 0.0
    return owes


def cleaned(agenda: Agenda, schedule: Schedule, times: dict[str, Timing]) -> tuple[list[CleaningAt], list[str]]:
    """Cleanings for work at these times, those of the schedule kept where they still do; and after which steps there is
    no time for one.
    """
    start = agenda.plan.build.starts_at
    work = sorted((t.start_min, t.end_min) for t in times.values())
    order = sorted(times, key=lambda s: times[s].start_min)
    owes = owed(agenda, order, {s: t.start_min for s, t in times.items()})
    old = [((c.starts_at - start) / timedelta(minutes=1), c) for c in schedule.cleanings]
    old = [(a, c) for a, c in old if not any(b < a + c.length_min - 1e-6 and a < e - 1e-6 for b, e in work)]
    made: list[CleaningAt] = []
    lacking: list[str] = []
    sprayed = list(owes)
    for step, then in pairwise([*sprayed, None]):
        assert step is not None
        need, since = owes[step], times[step].end_min
        sitting = _sitting(agenda, times[step].start_min)
        until = sitting[1] if sitting is not None else since + need
        if then is not None:
            until = min(until, times[then].start_min)
        there = [c for a, c in old if since - 1e-6 <= a and a + c.length_min <= until + 1e-6]
        if sum(c.length_min for c in there) >= need - 1e-6:
            made += there
            continue
        gap = next((a for a, b in _gaps(work, since, until) if b - a >= need - 1e-6), None)
        if gap is None:
            lacking.append(step)
        else:
            made.append(CleaningAt(gun=0, starts_at=at(agenda.plan, gap), length_min=need))
    return sorted(made, key=lambda c: c.starts_at), lacking


def _gaps(work: list[tuple[float, float]], since: float, until: float) -> list[tuple[float, float]]:
    """Stretches without work."""
    gaps, free = [], since
    for a, b in work:
        if b > since and a < until:
            gaps.append((free, a))
            free = max(free, b)
    return [*gaps, (free, until)]
