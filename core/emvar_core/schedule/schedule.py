"""The door: a plan, its hours and what has happened so far, made into a schedule that the core itself has checked."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from functools import cached_property

from ..assess import assess
from ..errors import NoBenchTime
from ..judging import Assessment, SeamOut
from ..plan import (
    USUAL,
    Hours,
    Plan,
    Record,
    Schedule,
    Sitting,
    Timing,
    at,
    minutes_since_start,
    morning_after,
    sittings,
)
from ..plan.documents import CleaningAt, GoalReached, State, placed_entries, remaining, schedule_times
from ..plan.hours import MOST_DAYS, free_of, spray_stretches
from ..plan.timing import NIGHT_MIN
from ..vocabulary import Edge, Event, Goal, Verdict, when_words
from . import problem as pr
from .ageing import Ageing
from .check import check
from .first import First
from .net import NOTHING_ASKED, Ages, Hopeless, Link, Net, What, net_of
from .problem import Progress, Unsolvable
from .shift import Missed, Rows, Shifted, Shifter

UNIT_MIN = 5  # starts fall on these minutes by the wall, unless a window is too short for that
NARROW_MIN = 20
MOST_ROUNDED = 0.1  # of all work: what rounding it up may waste
LOOKED_AT_DAYS = 366
SPARE_DAYS = 7.0
ROUNDS = 5
CELL_MIN = 15  # ends within it wait alike, by the longest of them; finer cells were no better in any plan tried
NOISE_MIN = 1e-3  # what is a sixteenth of a second past a mark of the grid is on it
TYPICAL_SLACK_MIN = 120
MANY = 80  # steps from which waits are taken alike over a whole sitting


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


@dataclass
class Bench:
    """A plan at its bench: what is to be done, when there is time, what has happened, how coats age. In minutes."""

    plan: Plan
    record: Record | None = None
    pins: dict[str, float] = field(default_factory=dict)
    taken: list[tuple[datetime, datetime]] = field(default_factory=list)  # by other builds with the same hands

    def __post_init__(self) -> None:
        self.left = remaining(self.plan, self.record)
        self.hours = self.plan.hours or USUAL
        self.states = self.record.states() if self.record else {}
        happened = self.record.times(self.plan) if self.record else {}
        self.done = {s.id: happened[s.id] for s in self.left.steps if s.id in happened}
        freed = self.record.freed(self.plan) if self.record else {}
        self.freed = {s.id: freed[s.id] for s in self.left.steps if s.id in freed}
        latest = max([0.0, *(t.end_min for s, t in self.done.items() if self.states.get(s) is State.DONE)])
        now = minutes_since_start(self.plan, self.record.now_at) if self.record and self.record.now_at else 0.0
        self.since = max(now, latest, 0.0)
        for step in self.left.steps:
            if step.fixed_start is not None and step.id not in self.done:
                self.pins.setdefault(step.id, minutes_since_start(self.plan, step.fixed_start))
        self.pins = {s: m for s, m in self.pins.items() if s not in self.done and self.left.step(s) is not None}

    @cached_property
    def net(self) -> Net:
        return net_of(self.left, self.hours.patience_h)

    @cached_property
    def ageing(self) -> Ageing:
        return Ageing(self.left, self.since + LOOKED_AT_DAYS * 1440)

    @cached_property
    def sittings(self) -> list[Sitting]:
        start = self.plan.build.starts_at + timedelta(minutes=self.since)
        return self._free(sittings(self.hours, self.plan.build.tz, start, start + timedelta(days=LOOKED_AT_DAYS)))

    def _free(self, listed: list[Sitting]) -> list[Sitting]:
        return free_of(listed, self.taken, self.plan.build.tz) if self.taken else listed

    @cached_property
    def sprays(self) -> list[tuple[float, float]] | None:
        """When the compressor may run, minutes since the build's start; None: always."""
        start = self.plan.build.starts_at + timedelta(minutes=self.since)
        until = start + timedelta(days=LOOKED_AT_DAYS)
        stretches = spray_stretches(self.hours, self.plan.build.tz, start, until)
        if not stretches:
            return None
        return [(minutes_since_start(self.plan, a), minutes_since_start(self.plan, b)) for a, b in stretches]

    @cached_property
    def benches(self) -> list[tuple[float, float]]:
        benches = (
            (minutes_since_start(self.plan, s.start), minutes_since_start(self.plan, s.end)) for s in self.sittings
        )
        return [(max(a, self.since), b) for a, b in benches]

    @cached_property
    def all_sittings(self) -> list[Sitting]:
        """Sittings from the build's start on, those that are over included."""
        start = self.plan.build.starts_at
        until = start + timedelta(minutes=self.since) + timedelta(days=LOOKED_AT_DAYS)
        return self._free(
            sittings(self.hours, self.plan.build.tz, start, min(until, start + timedelta(days=MOST_DAYS)))
        )

    def span(self, sitting: Sitting) -> tuple[float, float]:
        """A sitting in minutes since the build's start."""
        return minutes_since_start(self.plan, sitting.start), minutes_since_start(self.plan, sitting.end)

    def shifter(self, edge: str = "careful", grid_min: float = 1.0) -> Shifter:
        """For putting work into sittings without a search; `edge`: careful, best or hopeful."""
        known: dict[tuple[Link, float], list[tuple[float, float]]] = {}

        def instants(link: Link, end_min: float) -> list[tuple[float, float]]:
            key = (link, end_min)
            instants = known.get(key)
            if instants is None:
                instants = known[key] = self.ageing.instants(link, end_min, getattr(link.ages, edge))
            return instants

        return Shifter(self.net, self.benches, instants, grid_min, self.sprays, self.rows)

    @cached_property
    def rows(self) -> Rows | None:
        """How long fine work may go on in a row; None: as long as it takes."""
        most = self.hours.fine_at_most_min
        return Rows(most, self.hours.rest_min) if most is not None else None

    @cached_property
    def guns(self) -> int:
        return len(self.plan.kit.guns) if self.plan.kit is not None else 1


@dataclass
class Units:
    """Whole units of time: from `origin` minutes since the build's start, in steps of `unit` minutes."""

    origin: float
    unit: float

    def up(self, minute: float) -> int:
        return math.ceil((minute - self.origin - NOISE_MIN) / self.unit)

    def down(self, minute: float) -> int:
        return math.floor((minute - self.origin + NOISE_MIN) / self.unit)

    def minute(self, units: float) -> float:
        return self.origin + units * self.unit

    def length(self, minutes: float) -> int:
        return max(math.ceil(minutes / self.unit - 1e-6), 1)


def _up(minutes: float, unit: float) -> float:
    return math.ceil(minutes / unit - 1e-6) * unit


def _units(bench: Bench) -> Units:
    """Five minutes by the wall, or one where a window is too narrow, or the work too small, for that."""
    any_end = bench.benches[0][0]
    narrow = any(
        b - a - bench.net.task(link.after).minutes < NARROW_MIN
        for link in bench.net.links
        if link.whole
        for a, b in bench.ageing.instants(link, any_end, link.ages.careful)
        if b < math.inf
    )
    work = [t.minutes for t in bench.net.tasks if t.id not in bench.done]
    wasted = sum(_up(m, UNIT_MIN) - m for m in work) > MOST_ROUNDED * sum(work)
    unit = 1 if narrow or wasted else UNIT_MIN
    start = at(bench.plan, min([bench.since, *(t.start_min for t in bench.done.values())]))
    past = start.minute % UNIT_MIN + start.second / 60
    return Units(minutes_since_start(bench.plan, start) - past, unit)


class Posed:
    """The problem that a bench poses, in whole units, and the way back from its solution."""

    def __init__(self, bench: Bench, horizon_min: float, ages: dict[Link, Ages] | None = None) -> None:
        self.bench, self.units = bench, _units(bench)
        self.ages = ages or {}
        self.horizon = self.units.up(horizon_min)
        self.tasks = bench.net.tasks
        self.index = {t.id: i for i, t in enumerate(self.tasks)}
        self.benches = [
            (self.units.up(a), self.units.down(b)) for a, b in bench.benches if self.units.up(a) < self.horizon
        ]
        self.cells = [] if bench.ageing.constant else self._cells()
        self.sprays = self._sprays()
        self.marks = self._mornings()
        self.lags: list[tuple[Link, pr.Lag]] = []

    def _sprays(self) -> tuple[pr.Stretch, ...] | None:
        """When the compressor may run, as far as is looked ahead; None: always."""
        if self.bench.sprays is None:
            return None
        stretches = ((self.units.up(a), self.units.down(b)) for a, b in self.bench.sprays)
        return tuple((a, b) for a, b in stretches if a < self.horizon and b > a)

    def _mornings(self) -> tuple[tuple[int, int], ...]:
        """Ends up to which a night leads to a morning, and that morning; nothing where nothing is left overnight."""
        if not any(link.what is What.NIGHT for link in self.bench.net.links):
            return ()
        pairs: list[tuple[int, int]] = []
        minute = self.units.origin
        while not pairs or pairs[-1][0] < self.horizon:
            morning = morning_after(self.bench.plan, minute)
            minute = morning - NIGHT_MIN
            pairs.append((self.units.down(minute), self.units.up(morning)))
            minute += 1.0
        return tuple(pairs)

    def _cells(self) -> list[pr.Cell]:
        """Quarters of an hour by the wall within sittings: a longer sitting adds cells, and changes none."""
        size = round((CELL_MIN if len(self.tasks) <= MANY else 24 * 60) / self.units.unit)
        cells = []
        for b, (a, z) in enumerate(self.benches):
            first = a // size * size
            cells += [pr.Cell(max(c, a), c + size, b) for c in range(first, z, size)]
        return cells

    def problem(self) -> pr.Problem:
        jobs = tuple(self._job(i) for i in range(len(self.tasks)))
        self.lags = [(link, lag) for link in self.bench.net.links if (lag := self._lag(link)) is not None]
        clean = self.bench.hours.cleaning
        cleaning = [
            self.units.length(m) if m else 0 for m in (clean.like_min, clean.dark_to_light_min, clean.other_min)
        ]
        rows = self.bench.rows
        most = None
        if rows is not None:  # one piece may always fill it, however its length is rounded
            heads = (self.units.length(t.fine.head) for t in self.tasks if t.fine is not None)
            most = max([int(rows.most_min / self.units.unit), *heads])
        return pr.Problem(
            jobs=jobs,
            lags=tuple(lag for _, lag in self.lags),
            horizon=self.horizon,
            benches=tuple(self.benches),
            cells=tuple(self.cells),
            guns=self.bench.guns,
            clean=(cleaning[0], cleaning[1], cleaning[2]),
            places=self.bench.hours.drying_places,
            goals=tuple(self.bench.hours.goals),
            slack_cap=round(TYPICAL_SLACK_MIN / self.units.unit),
            fine_most=most,
            rest=self.units.length(rows.rest_min) if rows is not None else 0,
            order=tuple(self._alike()),
        )

    def _alike(self) -> list[tuple[int, int]]:
        """Items of a batch that are alike all the way: they may as well go in their own order."""
        by_zone: dict[str, list[str]] = {}
        for step in self.bench.left.steps:
            for zone in step.zones:
                by_zone.setdefault(zone, []).append(step.id)
        recipe = {s.id: (s.recipe_of or s.id) for s in self.bench.left.steps}
        single = {z: ids for z, ids in by_zone.items() if all(len(self.bench.net.task(i).zones) == 1 for i in ids)}
        last_of: dict[tuple[str, ...], list[str]] = {}
        pairs = []
        for ids in single.values():
            kind = tuple(recipe[i] for i in ids)
            before = last_of.get(kind)
            if before is not None and not any(i in self.bench.done or i in self.bench.pins for i in (*before, *ids)):
                pairs += [(self.index[a], self.index[b]) for a, b in zip(before, ids, strict=True)]
            last_of[kind] = ids
        return pairs

    def _job(self, i: int) -> pr.Job:
        task, bench = self.tasks[i], self.bench
        done = bench.done.get(task.id)
        paint = pr.Paint(task.mix.key, task.mix.system, task.mix.lightness) if task.mix else None
        if done is not None:
            end = self.units.up(done.end_min)
            return pr.Job(task.id, 1, bench=False, hands=False, release=end - 1, deadline=end)
        length = self.units.length(task.minutes)
        pin = bench.pins.get(task.id)
        if pin is not None:
            start = self.units.up(pin)
            inside = any(a <= start and start + length <= z for a, z in self.benches)
            return pr.Job(task.id, length, bench=inside, paint=paint, release=start, deadline=start + length)
        release = self.units.up(max(bench.since, bench.freed.get(task.id, 0.0)))
        places = task.pieces if task.coat and bench.hours.drying_places is not None else 0
        within = self.sprays if task.sprays else None
        fine = None
        if task.fine is not None:
            inside = task.fine.rests > 0
            fine = (self.units.length(task.fine.head), self.units.length(task.fine.tail)) if inside else (length,) * 2
        return pr.Job(task.id, length, paint=paint, release=release, places=places,
                      dries=self._touch(task.id) if places else 0, within=within, fine=fine)  # fmt: skip

    def _touch(self, step: str) -> int:
        """How long a coat takes a drying place after its end: to the touch, at the careful edge, the slowest start."""
        ends = [b for _, b in self.bench.benches[:7]]
        slowest = max(self.bench.ageing.drying(step, e).event(Event.TOUCH, Edge.LATE) - e for e in ends)
        return self.units.length(slowest)

    def _lag(self, link: Link) -> pr.Lag | None:
        if link.before not in self.index or link.after not in self.index or link.after in self.bench.done:
            return None
        before, after = self.index[link.before], self.index[link.after]
        spans = self.ages.get(link, link.ages).careful
        done = self.bench.done.get(link.before)
        task, follower = self.tasks[before], self.tasks[after]
        need = follower.minutes if link.whole else 0.0
        if link.what is What.NIGHT and done is None and link.before not in self.bench.pins:
            return pr.Lag(before, after, (pr.Option((0,)),), link.words, self.marks)
        if link.ages.plain and link.what is not What.NIGHT and done is None:
            least = tuple(0 if not a else self.units.up(self.units.origin + a) for a, _ in spans)
            pad = self.units.length(task.minutes) * self.units.unit - task.minutes
            options = [
                pr.Option((low,), None if b == math.inf else (self.units.down(self.units.origin + b - pad - need),))
                for low, (_, b) in zip(least, spans, strict=True)
            ]
            return pr.Lag(before, after, tuple(options), link.words)
        job = self._job(before)
        known = done.end_min if done is not None else None
        if known is None and not job.bench:
            known = self.bench.pins[link.before] + task.minutes
        pad = self.units.length(task.minutes) * self.units.unit - task.minutes
        ends: list[tuple[int, list[float]]] = []
        if known is not None:
            ends = [(job.release + job.length, [known])]
        elif not self.cells:
            any_end = self.benches[0][0] if self.benches else 0
            ends = [(any_end, [self.units.minute(any_end) - pad])]
        for cell in self.cells if known is None else ():
            mine = sorted({cell.start + 1, (cell.start + cell.end) // 2, cell.end})
            ends.append((-1, [self.units.minute(e) - pad for e in mine]))
        options = []
        for s in range(len(spans)):
            low, high = [], []
            for whole, minutes in ends:
                a, b = self._edges(link, s, spans, minutes, whole, need, pad)
                low.append(a)
                high.append(b)
            most = None if all(h is None for h in high) else tuple(h if h is not None else self.horizon for h in high)
            options.append(pr.Option(tuple(low), most))
        return pr.Lag(before, after, tuple(options), link.words)

    def _edges(
        self, link: Link, s: int, spans: tuple[tuple[float, float], ...], minutes: list[float], whole: int, need: float,
        pad: float,
    ) -> tuple[int, int | None]:  # fmt: skip
        """Least and most units after the end of the lower step, on the careful side of all instants that are given.

        `whole`: that end in units where it is known; −1: it is each instant's own. `pad`: what rounding adds to it.
        """
        low: int | None = None
        high: int | None = None
        for end in minutes:
            opens, closes = self.bench.ageing.instants(link, end, spans)[s]
            at_unit = whole if whole >= 0 else round((end + pad - self.units.origin) / self.units.unit)
            a = max(self.units.up(opens) - at_unit, 0)
            low = a if low is None else max(low, a)
            if closes < math.inf:
                b = self.units.down(closes - need) - at_unit
                high = b if high is None else min(high, b)
        return low or 0, high

    def times(self, starts: tuple[int, ...]) -> dict[str, Timing]:
        """Minutes of all steps: those done as they were, the rest as placed."""
        times = {}
        for task, start in zip(self.tasks, starts, strict=True):
            begin = self.bench.pins.get(task.id, self.units.minute(start))
            times[task.id] = self.bench.done.get(task.id) or Timing(begin, begin + task.minutes)
        return times

    def schedule(self, solution: pr.Solution) -> Schedule:
        plan, unit = self.bench.plan, self.units.unit
        times = {s: t for s, t in self.times(solution.starts).items() if s not in self.bench.done}
        cleanings = [
            CleaningAt(gun=c.gun, starts_at=at(plan, self.units.minute(c.start)), length_min=c.length * unit)
            for c in solution.cleanings
        ]
        return Schedule(
            placed=placed_entries(self.bench.left, times),
            cleanings=cleanings,
            pins=sorted(self.bench.pins),
            reached=[_goal(r, self.units) for r in solution.reached],
        )


def _goal(r: pr.Reached, units: Units) -> GoalReached:
    value, bound = float(r.value), float(r.bound)
    if r.goal == Goal.FINISH:
        value, bound = units.minute(r.value), units.minute(r.bound)
    elif r.goal == Goal.SLACK:
        value, bound = -value * units.unit, -bound * units.unit
    gap = r.gap
    if r.goal == Goal.FINISH and not r.proven:
        gap = max(value - bound, 0.0) / max(value, 1.0)
    return GoalReached.model_validate(
        {"goal": r.goal, "value": value, "bound": bound, "proven": r.proven, "gap_pct": round(100 * gap, 2)}
    )


def make(bench: Bench, *, seconds: float = 20.0, report: Report = lambda p, s: None, workers: int = 2) -> Planned:
    """The best schedule for a bench that can be found in the time, checked twice: by `check`, and by the seams.

    Where nothing fits, the schedule that breaks the fewest windows by the least, and what it breaks in `unfit`.
    Raises NoBenchTime where there is no bench time at all.
    """
    began = time.monotonic()
    if not bench.benches:
        raise NoBenchTime("there is no sitting in the calendar from now on")
    long = [*_too_long(bench), *_too_many(bench)]
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
                return _planned(bench, *last, _open(bench, last[1]), began)
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
    return (
        _planned(bench, *last, _open(bench, last[1]), began) if last is not None else _as_first(bench, first, [], began)
    )


def _open(bench: Bench, assessment: Assessment) -> tuple[Fit, ...]:
    """Seams that would still have to wait at the times of a schedule, once for a pair of steps."""
    left: dict[tuple[str, str | None], Fit] = {}
    for seam in assessment.seams.values():
        if seam.verdict is not Verdict.WAIT or seam.opens_careful_min is None or seam.upper_step in bench.done:
            continue
        upper = assessment.times[seam.upper_step]
        late = seam.opens_careful_min - upper.start_min
        if late < LEAST_OPEN_MIN:
            continue
        name = bench.net.task(seam.upper_step).name
        words = f"“{name}” would come {_long(late)} too early ({seam.word}); it is safe from "
        words += (
            f"{when_words(at(bench.plan, seam.opens_careful_min))}. Look at the seam, or plan again with more time."
        )
        key = (seam.upper_step, seam.lower_step)
        known = left.get(key)
        if known is None or known.opened_min < seam.opens_careful_min:
            left[key] = Fit(*key, (seam.zone_id,), seam.opens_careful_min, math.inf, None, words)
    return tuple(left.values())


LEAST_OPEN_MIN = 3.0  # what bisection and rounding leave open is not told


def _long(minutes: float) -> str:
    return f"{minutes:.0f} min" if minutes < 90 else f"{minutes / 60:.1f} h"


def first_schedule(bench: Bench, edge: str = "careful") -> Shifted:
    """A schedule without a search, on one edge of the ranges; what it misses is told in it."""
    alike: dict[str, object] = {s.id: (s.recipe_of or s.id) for s in bench.left.steps}
    maker = First(bench.shifter(edge, _units(bench).unit), bench.hours.cleaning, alike, bench.freed)
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


def _too_long(bench: Bench) -> list[Fit]:
    """Work that is longer than any sitting."""
    longest = max(b - a for a, b in bench.benches)
    misfits = []
    for task in bench.net.tasks:
        if task.id in bench.done or task.id in bench.pins:
            continue
        clean = bench.hours.cleaning.other_min if task.mix else 0
        if task.minutes + clean > longest + 1e-6:
            with_clean = f" and {clean} min to clean the airbrush" if clean else ""
            most = f"the longest sitting is {longest:.0f} min."
            words = f"“{task.name}” takes {task.minutes:.0f} min{with_clean}; {most}"
            misfits.append(Fit(task.id, None, task.zones, bench.since, bench.since, None, words))
    return misfits


def _too_many(bench: Bench) -> list[Fit]:
    """Work that no order makes possible: more parts at once than can dry, or spraying that is never allowed."""
    misfits = []
    places = bench.hours.drying_places
    longest = max((b - a for a, b in _sprayable(bench)), default=0.0)
    for task in bench.net.tasks:
        if task.id in bench.done or task.id in bench.pins:
            continue
        words = ""
        if places is not None and task.coat and task.pieces > places:
            words = (
                f"“{task.name}” is {task.pieces} parts at once, and {places} can dry at one time: split it, say which "
            )
            words += "zones are one part, or allow more drying places."
        elif bench.sprays is not None and task.sprays and task.minutes > longest + 1e-6:
            words = f"“{task.name}” takes {task.minutes:.0f} min of spraying; in your sittings it is allowed for "
            words += f"{longest:.0f} min at most."
        if words:
            misfits.append(Fit(task.id, None, task.zones, bench.since, bench.since, None, words))
    return misfits


def _sprayable(bench: Bench) -> list[tuple[float, float]]:
    """Sittings as far as the compressor may run in them."""
    if bench.sprays is None:
        return bench.benches
    near = bench.benches[:60]
    return [(max(a, s), min(b, e)) for a, b in near for s, e in bench.sprays if min(b, e) > max(a, s)]


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
    unfit = list(long) or [*missed, *(f for f in _open(bench, assessment) if (f.step, f.below) not in told)]
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
            unfit.append(_cannot_stay(bench, posed.tasks[i - len(posed.lags)].id))
    assessment = assess(bench.plan, schedule=schedule, record=bench.record, opens=False)
    return _planned(bench, schedule, assessment, tuple(unfit), began)


def _cannot_stay(bench: Bench, step: str) -> Fit:
    """A step that was to stay where it is, and cannot."""
    task, pin = bench.net.task(step), bench.pins[step]
    words = f"“{task.name}” cannot stay at {when_words(at(bench.plan, pin))}: what lies below it is not ready by then."
    return Fit(step, None, task.zones, pin, pin, None, words)


def unfit_words(bench: Bench, link: Link, times: dict[str, Timing]) -> Fit:
    """A window that is missed, in words: what opened it, when it closes, when there is bench time next."""
    below, after = bench.net.task(link.before), bench.net.task(link.after)
    end = times[link.before].end_min
    spans = bench.ageing.instants(link, end, link.ages.careful)
    opens, closes = spans[-1]
    following = bench.shifter(grid_min=UNIT_MIN).bench_at(max(opens, end), after.minutes, after)

    def clock(minute: float) -> str:
        return when_words(at(bench.plan, minute))

    when = "is done" if link.before in bench.done else "would be done"
    words = f"“{below.name}” {when} {clock(end)}; "
    words += f"“{after.name}” may start {clock(opens)}"
    by = "over" if link.whole else "begun"
    words += f" and must be {by} by {clock(closes)}." if closes < math.inf else "."
    if following is not None:
        words += f" The next time that you have for it is {clock(following)}."
    return Fit(link.after, link.before, link.zones, opens, closes, following, words)


def missed_words(bench: Bench, missed: list[Missed], times: dict[str, Timing]) -> list[Fit]:
    """The same for what a hand has placed."""
    return [unfit_words(bench, m.link, times) for m in missed if m.link.what is not What.ORDER]


def times_of(bench: Bench, schedule: Schedule) -> dict[str, Timing]:
    """All times by step: as scheduled, and as they were."""
    return schedule_times(bench.left, schedule) | bench.done


def hours_of(plan: Plan) -> Hours:
    """The plan's hours, or the usual ones where it has none."""
    return plan.hours or USUAL
