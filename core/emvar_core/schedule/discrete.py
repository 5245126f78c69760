"""The problem that a bench poses, in whole units of time, and the way back from its solution."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..plan import (
    Schedule,
    Timing,
    at,
    minutes_since_start,
    morning_after,
)
from ..plan.documents import CleaningAt, GoalReached, placed_entries
from ..plan.timing import NIGHT_MIN
from ..vocabulary import Goal
from . import problem as pr
from .agenda import Agenda
from .net import Ages, Link, What

UNIT_MIN = 5  # starts fall on these minutes by the wall, unless a window is too short for that
NARROW_MIN = 20
MOST_ROUNDED = 0.1  # of all work: what rounding it up may waste
CELL_MIN = 15  # ends within it wait alike, by the longest of them; finer cells were no better in any plan tried
NOISE_MIN = 1e-3  # what is a sixteenth of a second past a mark of the grid is on it
TYPICAL_SLACK_MIN = 120
MANY = 80  # steps from which waits are taken alike over a whole sitting


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


def units_of(agenda: Agenda) -> Units:
    """Five minutes by the wall, or one where a window is too narrow, or the work too small, for that."""
    any_end = agenda.stretches[0][0]
    narrow = any(
        b - a - agenda.net.task(link.after).minutes < NARROW_MIN
        for link in agenda.net.links
        if link.whole
        for a, b in agenda.ageing.instants(link, any_end, link.ages.careful)
        if b < math.inf
    )
    work = [t.minutes for t in agenda.net.tasks if t.id not in agenda.done]
    wasted = sum(_up(m, UNIT_MIN) - m for m in work) > MOST_ROUNDED * sum(work)
    unit = 1 if narrow or wasted else UNIT_MIN
    start = at(agenda.plan, min([agenda.since, *(t.start_min for t in agenda.done.values())]))
    past = start.minute % UNIT_MIN + start.second / 60
    return Units(minutes_since_start(agenda.plan, start) - past, unit)


class Discrete:
    """The problem that a bench poses, in whole units, and the way back from its solution."""

    def __init__(self, agenda: Agenda, horizon_min: float, ages: dict[Link, Ages] | None = None) -> None:
        self.agenda, self.units = agenda, units_of(agenda)
        self.ages = ages or {}
        self.horizon = self.units.up(horizon_min)
        self.tasks = agenda.net.tasks
        self.index = {t.id: i for i, t in enumerate(self.tasks)}
        self.stretches = [
            (self.units.up(a), self.units.down(b)) for a, b in agenda.stretches if self.units.up(a) < self.horizon
        ]
        self.cells = [] if agenda.ageing.constant else self._cells()
        self.sprays = self._sprays()
        self.marks = self._mornings()
        self.lags: list[tuple[Link, pr.Lag]] = []

    def _sprays(self) -> tuple[pr.Stretch, ...] | None:
        """When the compressor may run, as far as is looked ahead; None: always."""
        if self.agenda.sprays is None:
            return None
        stretches = ((self.units.up(a), self.units.down(b)) for a, b in self.agenda.sprays)
        return tuple((a, b) for a, b in stretches if a < self.horizon and b > a)

    def _mornings(self) -> tuple[tuple[int, int], ...]:
        """Ends up to which a night leads to a morning, and that morning; nothing where nothing is left overnight."""
        if not any(link.what is What.NIGHT for link in self.agenda.net.links):
            return ()
        pairs: list[tuple[int, int]] = []
        minute = self.units.origin
        while not pairs or pairs[-1][0] < self.horizon:
            morning = morning_after(self.agenda.plan, minute)
            minute = morning - NIGHT_MIN
            pairs.append((self.units.down(minute), self.units.up(morning)))
            minute += 1.0
        return tuple(pairs)

    def _cells(self) -> list[pr.Cell]:
        """Quarters of an hour by the wall within sittings: a longer sitting adds cells, and changes none."""
        size = round((CELL_MIN if len(self.tasks) <= MANY else 24 * 60) / self.units.unit)
        cells = []
        for b, (a, z) in enumerate(self.stretches):
            first = a // size * size
            cells += [pr.Cell(max(c, a), c + size, b) for c in range(first, z, size)]
        return cells

    def problem(self) -> pr.Problem:
        jobs = tuple(self._job(i) for i in range(len(self.tasks)))
        self.lags = [(link, lag) for link in self.agenda.net.links if (lag := self._lag(link)) is not None]
        clean = self.agenda.hours.cleaning
        cleaning = [
            self.units.length(m) if m else 0 for m in (clean.like_min, clean.dark_to_light_min, clean.other_min)
        ]
        rows = self.agenda.rows
        most = None
        if rows is not None:  # one piece may always fill it, however its length is rounded
            heads = (self.units.length(t.fine.head) for t in self.tasks if t.fine is not None)
            most = max([int(rows.most_min / self.units.unit), *heads])
        return pr.Problem(
            jobs=jobs,
            lags=tuple(lag for _, lag in self.lags),
            horizon=self.horizon,
            stretches=tuple(self.stretches),
            cells=tuple(self.cells),
            guns=self.agenda.guns,
            clean=(cleaning[0], cleaning[1], cleaning[2]),
            places=self.agenda.hours.drying_places,
            goals=tuple(self.agenda.hours.goals),
            slack_cap=round(TYPICAL_SLACK_MIN / self.units.unit),
            fine_most=most,
            rest=self.units.length(rows.rest_min) if rows is not None else 0,
            order=tuple(self._alike()),
        )

    def _alike(self) -> list[tuple[int, int]]:
        """Items of a batch that are alike all the way: they may as well go in their own order."""
        by_zone: dict[str, list[str]] = {}
        for step in self.agenda.left.steps:
            for zone in step.zones:
                by_zone.setdefault(zone, []).append(step.id)
        recipe = {s.id: (s.recipe_of or s.id) for s in self.agenda.left.steps}
        single = {z: ids for z, ids in by_zone.items() if all(len(self.agenda.net.task(i).zones) == 1 for i in ids)}
        last_of: dict[tuple[str, ...], list[str]] = {}
        pairs = []
        for ids in single.values():
            kind = tuple(recipe[i] for i in ids)
            before = last_of.get(kind)
            if before is not None and not any(i in self.agenda.done or i in self.agenda.pins for i in (*before, *ids)):
                pairs += [(self.index[a], self.index[b]) for a, b in zip(before, ids, strict=True)]
            last_of[kind] = ids
        return pairs

    def _job(self, i: int) -> pr.Job:
        task, agenda = self.tasks[i], self.agenda
        done = agenda.done.get(task.id)
        paint = task.mix
        if done is not None:
            end = self.units.up(done.end_min)
            return pr.Job(task.id, 1, stretch=False, hands=False, release=end - 1, deadline=end)
        length = self.units.length(task.minutes)
        pin = agenda.pins.get(task.id)
        if pin is not None:
            start = self.units.up(pin)
            inside = any(a <= start and start + length <= z for a, z in self.stretches)
            return pr.Job(task.id, length, stretch=inside, paint=paint, release=start, deadline=start + length)
        release = self.units.up(max(agenda.since, agenda.freed.get(task.id, 0.0)))
        places = task.pieces if task.coat and agenda.hours.drying_places is not None else 0
        within = self.sprays if task.sprays else None
        fine = None
        if task.fine is not None:
            inside = task.fine.rests > 0
            fine = (self.units.length(task.fine.head), self.units.length(task.fine.tail)) if inside else (length,) * 2
        return pr.Job(task.id, length, paint=paint, release=release, places=places,
                      dries=self._touch(task.id) if places else 0, within=within, fine=fine)  # fmt: skip

    def _touch(self, step: str) -> int:
        """How long a coat takes a drying place after its end: to the touch, at the careful edge, the slowest start."""
        ends = [b for _, b in self.agenda.stretches[:7]]
        slowest = max(self.agenda.touch_dry(step, e) - e for e in ends)
        return self.units.length(slowest)

    def _lag(self, link: Link) -> pr.Lag | None:
        if link.before not in self.index or link.after not in self.index or link.after in self.agenda.done:
            return None
        before, after = self.index[link.before], self.index[link.after]
        spans = self.ages.get(link, link.ages).careful
        done = self.agenda.done.get(link.before)
        task, follower = self.tasks[before], self.tasks[after]
        need = follower.minutes if link.whole else 0.0
        if link.what is What.NIGHT and done is None and link.before not in self.agenda.pins:
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
        if known is None and not job.stretch:
            known = self.agenda.pins[link.before] + task.minutes
        pad = self.units.length(task.minutes) * self.units.unit - task.minutes
        ends: list[tuple[int, list[float]]] = []
        if known is not None:
            ends = [(job.release + job.length, [known])]
        elif not self.cells:
            any_end = self.stretches[0][0] if self.stretches else 0
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
            opens, closes = self.agenda.ageing.instants(link, end, spans)[s]
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
            begin = self.agenda.pins.get(task.id, self.units.minute(start))
            times[task.id] = self.agenda.done.get(task.id) or Timing(begin, begin + task.minutes)
        return times

    def schedule(self, solution: pr.Solution) -> Schedule:
        plan, unit = self.agenda.plan, self.units.unit
        times = {s: t for s, t in self.times(solution.starts).items() if s not in self.agenda.done}
        cleanings = [
            CleaningAt(gun=c.gun, starts_at=at(plan, self.units.minute(c.start)), length_min=c.length * unit)
            for c in solution.cleanings
        ]
        return Schedule(
            placed=placed_entries(self.agenda.left, times),
            cleanings=cleanings,
            pins=sorted(self.agenda.pins),
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
