"""The door: a plan, its hours and what has happened so far, made into a schedule that the core itself has checked."""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace

from ..assess import assess
from ..errors import NoBenchTime
from ..judging import Assessment, SeamOut
from ..plan import (
    Schedule,
    Timing,
)
from ..plan.documents import placed_entries
from ..vocabulary import Goal, Verdict
from . import problem as pr
from .bench import LOOKED_AT_DAYS, Bench
from .check import check
from .first import First
from .net import NOTHING_ASKED, Ages, Hopeless, Link, What
from .posed import Posed, units_of
from .problem import Progress, Unsolvable
from .shift import Shifted
from .unfit import Fit, cannot_stay, missed_words, open_seams, too_long, too_many, unfit_words

SPARE_DAYS = 7.0
ROUNDS = 5


@dataclass(frozen=True)
class Planned:
    """A schedule, how good it is, and what of it does not fit or stays at risk."""

    schedule: Schedule
    assessment: Assessment
    unfit: tuple[Fit, ...]
    hopeless: tuple[Hopeless, ...]
    risky: tuple[str, ...]
    seconds: float

    @property
    def fits(self) -> bool:
        return not self.unfit


Report = Callable[[Progress, Schedule | None], None]


def make(bench: Bench, *, seconds: float = 20.0, report: Report = lambda p, s: None, workers: int = 2) -> Planned:
    """The best schedule for a bench that can be found in the time, checked twice: by `check`, and by the seams.

    Where nothing fits, the schedule that breaks the fewest windows by the least, and what it breaks in `unfit`.
    Raises NoBenchTime where there is no bench time at all.
    """
    began = time.monotonic()
    if not bench.benches:
        raise NoBenchTime("there is no sitting in the calendar from now on")
    long = [*too_long(bench), *too_many(bench)]
    first = first_schedule(bench)
    if long or first.unplaced:
        return _as_first(bench, first, long, began)
    from .solve import solve  # here, so that whoever never searches does not carry the solver

    ages: dict[Link, Ages] = {}
    last: tuple[Schedule, Assessment] | None = None
    horizon = _horizon(bench, first)
    for round_ in range(ROUNDS + 1):
        posed = Posed(bench, horizon, ages)
        p = posed.problem()
        left = max(seconds - (time.monotonic() - began), 0.5)

        def tell(progress: Progress, posed: Posed = posed) -> None:
            if progress.goal == Goal.FINISH and progress.value is not None and progress.bound is not None:
                value, bound = (round(posed.units.minute(u)) for u in (progress.value, progress.bound))
                progress = replace(progress, value=value, bound=bound)
            report(progress, posed.schedule(progress.solution) if progress.solution is not None else None)

        hint = tuple(
            posed.units.up(first.starts[t.id]) if t.id in first.starts else posed.units.up(bench.done[t.id].end_min) - 1
            for t in posed.tasks
        )
        try:
            solution = solve(p, seconds=left, tell=tell, hint=hint, workers=workers)
        except Unsolvable as no:
            if last is not None and not no.known:  # what was found before stands, and what it leaves open is told
                return _planned(bench, *last, open_seams(bench, last[1]), began)
            if not no.known and not first.missed:
                return _as_first(bench, first, [], began)  # what people would do, for want of a better one
            wider = max(horizon, _far(bench, first))
            if wider > horizon:
                horizon = wider
                continue
            return _broken(bench, posed, p, first, hint, max(seconds / 2, 2.0), workers, began)
        wrong = check(p, solution)
        if wrong:
            raise AssertionError("the search gave a schedule that is none: " + "; ".join(wrong[:3]))
        schedule = posed.schedule(solution)
        assessment = assess(bench.plan, schedule=schedule, record=bench.record, opens=False)
        last = schedule, assessment
        more = _tightened(bench, assessment, ages)
        if not more or round_ >= ROUNDS - 1:
            break
        ages |= more
    if last is None:
        return _as_first(bench, first, [], began)
    return _planned(bench, *last, open_seams(bench, last[1]), began)


def first_schedule(bench: Bench, edge: str = "careful") -> Shifted:
    """A schedule without a search, on one edge of the ranges; what it misses is told in it."""
    alike: dict[str, object] = {s.id: (s.recipe_of or s.id) for s in bench.left.steps}
    maker = First(bench.shifter(edge, units_of(bench).unit), bench.hours.cleaning, alike, bench.freed)
    return maker.make(bench.since, {s: t.end_min for s, t in bench.done.items()})


def _planned(bench: Bench, schedule: Schedule, assessment: Assessment, unfit: tuple[Fit, ...], began: float) -> Planned:
    risky = tuple(dict.fromkeys(k.after for k in bench.net.links if k.ages.risky))
    return Planned(schedule, assessment, unfit, bench.net.hopeless, risky, time.monotonic() - began)


def _horizon(bench: Bench, first: Shifted) -> float:
    """How far ahead is looked: no later than a first schedule ends, where that one is whole and finish counts first."""
    if not first.missed and bench.hours.goals[0] is Goal.FINISH and not bench.pins:
        return first.finish_min + 30
    return _far(bench, first)


def _far(bench: Bench, first: Shifted) -> float:
    """A first schedule's end, and days to spare."""
    spare = max(SPARE_DAYS * 1440, 0.5 * (first.finish_min - bench.since))
    last = max([first.finish_min, *bench.pins.values()])
    return min(last + spare, bench.since + (LOOKED_AT_DAYS - 1) * 1440)


def _tightened(bench: Bench, assessment: Assessment, kept: dict[Link, Ages]) -> dict[Link, Ages]:
    """Links that the seams find too loose at the times that were given, made as tight as the seams say."""
    more: dict[Link, Ages] = {}
    for seam in assessment.seams.values():
        if seam.verdict is not Verdict.WAIT or seam.opens_careful_min is None:
            continue
        link = _link_of(bench, seam)
        if link is None:
            continue
        end = assessment.times[link.before].end_min
        age = bench.ageing.drying(link.before, end).ref_minutes(seam.opens_careful_min) * 1.005 + 0.5
        now = kept.get(link, link.ages)
        spans = tuple((max(a, age), b) for a, b in now.careful if b > age)
        if spans and spans != now.careful:
            more[link] = replace(now, careful=spans)
    return more


def _link_of(bench: Bench, seam: SeamOut) -> Link | None:
    """The link that stands for a seam; one that asked for nothing so far is made anew."""
    wanted = {seam.responsible, seam.lower_step} - {None}
    links = [
        k
        for k in bench.net.links
        if k.after == seam.upper_step and k.before in wanted and not k.ages.plain and not k.whole
    ]
    if links:
        return next((k for k in links if k.before == seam.responsible), links[0])
    below = seam.responsible or seam.lower_step
    if below is None or not any(t.id == below and t.coat for t in bench.net.tasks):
        return None
    link = Link(below, seam.upper_step, (seam.zone_id,), What.SEAM, NOTHING_ASKED, words=seam.word)
    bench.net = replace(bench.net, links=(*bench.net.links, link))
    return link


def as_schedule(bench: Bench, first: Shifted) -> Schedule:
    """What was put into sittings without a search, as a schedule."""
    times = {s: Timing(a, first.ends[s]) for s, a in first.starts.items()}
    return Schedule(placed=placed_entries(bench.left, times), pins=sorted(bench.pins), made_by="first")


def _as_first(bench: Bench, first: Shifted, long: list[Fit], began: float) -> Planned:
    """What can be placed, as it comes; the rest is told."""
    times = {s: Timing(a, first.ends[s]) for s, a in first.starts.items()}
    schedule = as_schedule(bench, first)
    assessment = assess(bench.plan, schedule=schedule, record=bench.record, opens=False)
    missed = missed_words(bench, first.missed, times | bench.done)
    told = {(f.step, f.below) for f in missed}
    unfit = [*long, *missed, *(f for f in open_seams(bench, assessment) if (f.step, f.below) not in told)]
    for step in first.unplaced[: 0 if long else 1]:
        task = bench.net.task(step)
        words = f"“{task.name}” finds no sitting within {LOOKED_AT_DAYS} days."
        unfit.append(Fit(task.id, None, task.zones, bench.since, bench.since, None, words))
    return _planned(bench, schedule, assessment, tuple(unfit), began)


def _broken(
    bench: Bench, posed: Posed, p: pr.Problem, first: Shifted, hint: tuple[int, ...], seconds: float, workers: int,
    began: float,
) -> Planned:  # fmt: skip
    """The schedule that breaks the fewest windows by the least, and what it breaks, in words."""
    from .solve import solve

    try:
        solution = solve(p, seconds=seconds, soft=True, hint=hint, workers=workers)
    except Unsolvable:
        return _as_first(bench, first, [], began)
    if not solution.over:  # it fits after all: found on the softer way, and bettered from there
        with suppress(Unsolvable):
            solution = solve(p, seconds=seconds, hint=solution.starts, workers=workers)
    times = posed.times(solution.starts)
    schedule = posed.schedule(solution)
    unfit = []
    for i, _ in solution.over:
        if i < len(posed.lags):
            unfit.append(unfit_words(bench, posed.lags[i][0], times))
        else:
            unfit.append(cannot_stay(bench, posed.tasks[i - len(posed.lags)].id))
    assessment = assess(bench.plan, schedule=schedule, record=bench.record, opens=False)
    return _planned(bench, schedule, assessment, tuple(unfit), began)
