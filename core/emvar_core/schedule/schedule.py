"""The door: a plan, its hours and what has happened so far, made into a schedule that the core itself has checked."""

from __future__ import annotations

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
from .agenda import LOOKED_AT_DAYS, Agenda
from .check import check
from .discrete import Discrete, units_of
from .first import First
from .net import NOTHING_ASKED, Ages, Hopeless, Link, What
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


def make(agenda: Agenda, *, seconds: float = 20.0, report: Report = lambda p, s: None, workers: int = 2) -> Planned:
    """The best schedule for a bench that can be found in the time, checked twice: by `check`, and by the seams.

    Where nothing fits, the schedule that breaks the fewest windows by the least, and what it breaks in `unfit`.
    Raises NoBenchTime where there is no bench time at all.
    """
    began = pr.clock()
    if not agenda.stretches:
        raise NoBenchTime("there is no sitting in the calendar from now on")
    long = [*too_long(agenda), *too_many(agenda)]
    first = first_schedule(agenda)
    if long or first.unplaced:
        return _as_first(agenda, first, long, began)
    from .solve import solve  # here, so that whoever never searches does not carry the solver

    ages: dict[Link, Ages] = {}
    last: tuple[Schedule, Assessment] | None = None
    horizon = _horizon(agenda, first)
    for round_ in range(ROUNDS + 1):
        discrete = Discrete(agenda, horizon, ages)
        p = discrete.problem()
        left = max(seconds - (pr.clock() - began), 0.5)

        def tell(progress: Progress, discrete: Discrete = discrete) -> None:
            if progress.goal == Goal.FINISH and progress.value is not None and progress.bound is not None:
                value, bound = (round(discrete.units.minute(u)) for u in (progress.value, progress.bound))
                progress = replace(progress, value=value, bound=bound)
            report(progress, discrete.schedule(progress.solution) if progress.solution is not None else None)

        hint = tuple(
            discrete.units.up(first.starts[t.id])
            if t.id in first.starts
            else discrete.units.up(agenda.done[t.id].end_min) - 1
            for t in discrete.tasks
        )
        try:
            solution = solve(p, seconds=left, tell=tell, hint=hint, workers=workers)
        except Unsolvable as no:
            if last is not None and not no.known:  # what was found before stands, and says what it leaves open
                return _planned(agenda, *last, open_seams(agenda, last[1]), began)
            if not no.known and not first.missed:
                return _as_first(agenda, first, [], began)  # what people would do, for want of a better one
            wider = max(horizon, _far(agenda, first))
            if wider > horizon:
                horizon = wider
                continue
            return _broken(agenda, discrete, p, first, hint, max(seconds / 2, 2.0), workers, began)
        wrong = check(p, solution)
        if wrong:
            raise AssertionError("the search gave a schedule that is none: " + "; ".join(wrong[:3]))
        schedule = discrete.schedule(solution)
        assessment = assess(agenda.plan, schedule=schedule, record=agenda.record, opens=False)
        last = schedule, assessment
        more = _tightened(agenda, assessment, ages)
        if not more or round_ >= ROUNDS - 1:
            break
        ages |= more
    if last is None:
        return _as_first(agenda, first, [], began)
    return _planned(agenda, *last, open_seams(agenda, last[1]), began)


def first_schedule(agenda: Agenda, edge: str = "careful") -> Shifted:
    """A schedule without a search, on one edge of the ranges; it lists what it misses."""
    alike: dict[str, object] = {s.id: (s.recipe_of or s.id) for s in agenda.left.steps}
    maker = First(agenda.shifter(edge, units_of(agenda).unit), agenda.hours.cleaning, alike, agenda.freed)
    return maker.make(agenda.since, {s: t.end_min for s, t in agenda.done.items()})


def _planned(
    agenda: Agenda, schedule: Schedule, assessment: Assessment, unfit: tuple[Fit, ...], began: float
) -> Planned:
    risky = tuple(dict.fromkeys(k.after for k in agenda.net.links if k.ages.risky))
    return Planned(schedule, assessment, unfit, agenda.net.hopeless, risky, pr.clock() - began)


def _horizon(agenda: Agenda, first: Shifted) -> float:
    """How far ahead is looked: no later than a first schedule ends, where that one is whole and finish counts first."""
    if not first.missed and agenda.hours.goals[0] is Goal.FINISH and not agenda.pins:
        return first.finish_min + 30
    return _far(agenda, first)


def _far(agenda: Agenda, first: Shifted) -> float:
    """A first schedule's end, and days to spare."""
    spare = max(SPARE_DAYS * 1440, 0.5 * (first.finish_min - agenda.since))
    last = max([first.finish_min, *agenda.pins.values()])
    return min(last + spare, agenda.since + (LOOKED_AT_DAYS - 1) * 1440)


def _tightened(agenda: Agenda, assessment: Assessment, kept: dict[Link, Ages]) -> dict[Link, Ages]:
    """Links that the seams find too loose at the times that were given, made as tight as the seams say."""
    more: dict[Link, Ages] = {}
    for seam in assessment.seams.values():
        if seam.verdict is not Verdict.WAIT or seam.opens_careful_min is None:
            continue
        link = _link_of(agenda, seam)
        if link is None:
            continue
        end = assessment.times[link.before].end_min
        age = agenda.ageing.drying(link.before, end).ref_minutes(seam.opens_careful_min) * 1.005 + 0.5
        now = kept.get(link, link.ages)
        spans = tuple((max(a, age), b) for a, b in now.careful if b > age)
        if spans and spans != now.careful:
            more[link] = replace(now, careful=spans)
    return more


def _link_of(agenda: Agenda, seam: SeamOut) -> Link | None:
    """The link that stands for a seam; one that asked for nothing so far is made anew."""
    wanted = {seam.responsible, seam.lower_step} - {None}
    links = [
        k
        for k in agenda.net.links
        if k.after == seam.upper_step and k.before in wanted and not k.ages.plain and not k.whole
    ]
    if links:
        return next((k for k in links if k.before == seam.responsible), links[0])
    below = seam.responsible or seam.lower_step
    if below is None or not any(t.id == below and t.coat for t in agenda.net.tasks):
        return None
    link = Link(below, seam.upper_step, (seam.zone_id,), What.SEAM, NOTHING_ASKED, words=seam.word)
    agenda.net = replace(agenda.net, links=(*agenda.net.links, link))
    return link


def as_schedule(agenda: Agenda, first: Shifted) -> Schedule:
    """What was put into sittings without a search, as a schedule."""
    times = {s: Timing(a, first.ends[s]) for s, a in first.starts.items()}
    return Schedule(placed=placed_entries(agenda.left, times), pins=sorted(agenda.pins), made_by="first")


def _as_first(agenda: Agenda, first: Shifted, long: list[Fit], began: float) -> Planned:
    """What can be placed, as it comes; the rest is listed."""
    times = {s: Timing(a, first.ends[s]) for s, a in first.starts.items()}
    schedule = as_schedule(agenda, first)
    assessment = assess(agenda.plan, schedule=schedule, record=agenda.record, opens=False)
    missed = missed_words(agenda, first.missed, times | agenda.done)
    told = {(f.step, f.below) for f in missed}
    unfit = [*long, *missed, *(f for f in open_seams(agenda, assessment) if (f.step, f.below) not in told)]
    for step in first.unplaced[: 0 if long else 1]:
        task = agenda.net.task(step)
        words = f"“{task.name}” finds no sitting within {LOOKED_AT_DAYS} days."
        unfit.append(Fit(task.id, None, task.zones, agenda.since, agenda.since, None, words))
    return _planned(agenda, schedule, assessment, tuple(unfit), began)


def _broken(
    agenda: Agenda, discrete: Discrete, p: pr.Problem, first: Shifted, hint: tuple[int, ...], seconds: float,
    workers: int, began: float,
) -> Planned:  # fmt: skip
    """The schedule that breaks the fewest windows by the least, and what it breaks, in words."""
    from .solve import solve

    try:
        solution = solve(p, seconds=seconds, soft=True, hint=hint, workers=workers)
    except Unsolvable:
        return _as_first(agenda, first, [], began)
    if not solution.over:  # it fits after all: found on the softer way, and bettered from there
        with suppress(Unsolvable):
            solution = solve(p, seconds=seconds, hint=solution.starts, workers=workers)
    times = discrete.times(solution.starts)
    schedule = discrete.schedule(solution)
    unfit = []
    for i, _ in solution.over:
        if i < len(discrete.lags):
            unfit.append(unfit_words(agenda, discrete.lags[i][0], times))
        else:
            unfit.append(cannot_stay(agenda, discrete.tasks[i - len(discrete.lags)].id))
    assessment = assess(agenda.plan, schedule=schedule, record=agenda.record, opens=False)
    return _planned(agenda, schedule, assessment, tuple(unfit), began)
