"""The waits that the program keeps: each step at the earliest time that is safe by the careful edge.

A step whose `wait_by` is "program" starts as soon as nothing that it meets would be better for waiting. When something
below it changes, its wait follows, as further edits of the same change. Waits that a person typed stay.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from copy import copy

from ..judging import Conditions, base_layer, conditions_of
from ..judging.contacts import age_of
from ..judging.laying import what_of
from ..judging.resting import puts_out, rest_of
from ..judging.stack import SIGHT, Lying, leave, place_of
from ..judging.water import leaves_water, minds_water, stands_min
from ..judging.zones import Weighed, weigh_step
from ..memory import MEMORY
from ..plan import (
    AnyEdit,
    AnyStep,
    CoatStep,
    Plan,
    Timing,
    WorkingStep,
    begins_at,
    coverage_of,
    step_times,
)
from ..plan.affects import PLACE, VERDICT, WHEN, only
from ..plan.edits import SetField
from ..plan.masks import WET_MIN, wets
from ..seams.severity import CLASH_FROM
from ..vocabulary import COVERS, Edge, Event, FilmClass, Use, Verdict, WaitBy

SHORT_MIN = 120.0  # up to which a caution is waited out
NEAR = 0.2
LONG_MIN = 720.0  # a wait that a caution would spare, from which it is put up with
DAYS_TRIED, HOURS_TRIED = (0, 1, 2, 3, 4, 5, 7, 10, 13), (1, 4, 8, 12)  # where it may be the air of the hour
COVERING = (Use.PRIMER, Use.COLOUR, Use.CLEAR)
MOST_TRIED = 8  # rounds through the zones of one step
PATIENCE_MIN = 14 * 1440.0  # beyond that a wait is no way
# Waits are rounded up to steps that people keep: minutes, then five, then a quarter of an hour.
STEPS_MIN = ((120.0, 1.0), (1440.0, 5.0), (math.inf, 15.0))


_KEPT = MEMORY.door("waits on what lies there", 20_000)


def rounded_up(minutes: float) -> float:
    """A wait as people keep it, never shorter.

    >>> rounded_up(11.2), rounded_up(301), rounded_up(2000.5)
    (12.0, 305.0, 2010.0)
    """
    step = next(s for most, s in STEPS_MIN if minutes < most)
    return math.ceil(minutes / step - 1e-6) * step


def followed(before: Plan | None, after: Plan) -> list[AnyEdit]:
    """Edits that bring the program's waits of `after` to the earliest safe time, where something below has changed.

    `before`: the plan before the change; None: all are looked at. A wait that the change itself has set, and that is
    another than the earliest, stays and is a person's from then on. Linear in coats above the change.
    """
    if not any(s.wait_by is WaitBy.PROGRAM for s in after.steps):
        return []
    stale = _stale(before, after)
    if not stale:
        return []
    typed = _typed(before, after)
    edits: list[AnyEdit] = []
    for step, wait in Waits(after, typed).kept(stale):
        if abs(wait - step.wait_min) <= 1e-6:
            continue
        if step.id in typed:
            edits.append(SetField(step_id=step.id, field="wait_by", value=WaitBy.PERSON.value))
        else:
            edits.append(SetField(step_id=step.id, field="wait_min", value=wait))
    return edits


def _typed(before: Plan | None, after: Plan) -> set[str]:
    """Steps whose wait the change itself has set: it stays, and is a person's from then on."""
    was = {s.id: s for s in before.steps} if before is not None else {}
    return {
        s.id
        for s in after.steps
        if (old := was.get(s.id)) is not None and old.wait_by is s.wait_by and old.wait_min != s.wait_min
    }


def _stale(before: Plan | None, after: Plan) -> set[str]:
    """Steps whose wait is the program's and which may lie above something that is other than it was."""
    first = 0
    if before is not None and _surroundings(before) == _surroundings(after):
        pairs = zip(before.steps, after.steps, strict=False)
        least = min(len(before.steps), len(after.steps))
        first = next((i for i, (old, new) in enumerate(pairs) if not _alike(old, new)), least)
        if first and (wets(after.steps[first - 1]) or puts_out(after.steps[first - 1])):
            first -= 1  # it is done for what comes next
    return {s.id for s in after.steps[first:] if s.wait_by is WaitBy.PROGRAM and s.fixed_start is None}


def _surroundings(plan: Plan) -> tuple[object, ...]:
    bases = tuple((z.id, plan.base_of(z)) for z in plan.zones)
    own = (plan.materials, plan.learned)
    return plan.air, plan.schools, own, plan.build.scale, plan.build.starts_at, plan.build.timezone, bases


def _alike(old: AnyStep, new: AnyStep) -> bool:
    if old is new:
        return True
    return old.id == new.id and only(old, VERDICT, PLACE, WHEN) == only(new, VERDICT, PLACE, WHEN)


class Waits:
    """Goes up a plan, step by step, with what lies in each zone, and finds the program's waits on the way.

    `typed`: steps whose wait stays as it is.
    """

    def __init__(self, plan: Plan, typed: set[str] | None = None) -> None:
        self.plan, self.typed = plan, typed or set()
        times = step_times(plan)
        self.quick = conditions_of(plan, times)
        self.whole: Conditions | None = None
        self.base = {z.id: base_layer(self.quick.k, plan, z) for z in plan.zones}
        self.lies: dict[str, list[Lying]] = {z.id: [] for z in plan.zones}
        self.free: dict[str, float] = {}
        self.times: dict[str, Timing] = {}
        self.last: dict[str, AnyStep] = {}
        self.out: dict[str, float] = {}  # by zone, when paint was last put out on card

    def fork(self) -> Waits:
        """The same as far as it has come; what is laid on either is not on the other."""
        made = copy(self)
        made.lies = {z: list(lies) for z, lies in self.lies.items()}
        made.free, made.times, made.last = dict(self.free), dict(self.times), dict(self.last)
        made.out = dict(self.out)
        return made

    def extend(self, step: AnyStep, wait_min: float | None = None) -> float:
        """Lays a step as the next, after a wait or at the earliest time that is safe. Gives the wait, minutes.

        The step may be one that the plan does not have.
        """
        ready = self._ready(step)
        wait = self._earliest(step, ready) if wait_min is None else wait_min
        ends = (self.free[z] for z in step.zones if z in self.free)
        self._lay(step, max(ready, begins_at(self.plan, step, ends, wait)))
        return wait

    def _ready(self, step: AnyStep) -> float:
        return max((self.free.get(z, 0.0) for z in step.zones), default=0.0)

    def kept(self, stale: set[str]) -> Iterable[tuple[AnyStep, float]]:
        """The steps of `stale` with their waits, in the plan's order."""
        left = len(stale)
        for step in self.plan.steps:
            if not left:
                return
            ready = self._ready(step)
            wait = step.wait_min
            if step.id in stale:
                left -= 1
                wait = self._earliest(step, ready)
                yield step, wait
                wait = step.wait_min if step.id in self.typed else wait
            self.extend(step, wait)

    def _lay(self, step: AnyStep, start: float) -> None:
        timing = self.times[step.id] = Timing(start, start + step.hands_on_min)
        for zone_id in step.zones:
            lies = self.lies[zone_id]
            leave(self.quick, step, zone_id, lies, self.times)
            self.free[zone_id] = timing.end_min
            self.last[zone_id] = step
            if puts_out(step):
                self.out[zone_id] = timing.end_min

    def _earliest(self, step: AnyStep, ready: float) -> float:
        """The shortest wait, minutes, after which nothing would be better for waiting.

        Where that is more than twelve hours off, the shortest after which nothing is worse than a caution by the
        careful edge: nobody waits three days for a light coat over streaks that it hardly smears after one. Where
        nothing helps, the better of that and of no wait.
        """
        wait: float = _KEPT.once(self._key(step, ready), lambda: self._by_itself(step, ready))
        return self._before_the_act(step, wait) if wets(step) or puts_out(step) else wait

    def _key(self, step: AnyStep, ready: float) -> tuple[object, ...]:
        """Stands for all that a wait hangs on: the step, and what lies in its zones, as old as that is by then."""
        c = self.quick
        laid = self.times.get(step.acts_on) if isinstance(step, WorkingStep) else None
        about = (
            c.key, c.horizon, None if c.constant else ready, what_of(step), step.hands_on_min, step.id in c.wetted,
            None if laid is None else laid.end_min - laid.start_min, self._on_water(step), self._rest(step, ready),
        )  # fmt: skip
        return (*about, *[self._zone_key(step, zone_id, ready) for zone_id in step.zones])

    def _zone_key(self, step: AnyStep, zone_id: str, ready: float) -> tuple[object, ...]:
        lies = self.lies[zone_id]
        deep = SIGHT + 2
        if isinstance(step, WorkingStep) and (at := place_of(lies, step.acts_on)) is not None:
            deep = max(deep, len(lies) - at + SIGHT)
        near = lies[-deep:]
        top = self.plan.step(near[-1].layer.step_id or "") if near else None
        return (
            self.base[zone_id].key, self.quick.masked.get((step.id, zone_id)),
            min(len(lies), deep), top.colour if isinstance(top, CoatStep) else None,
            tuple([(e.layer.step_id, e.spot, *age_of(e.layer, ready)) for e in near]),
        )  # fmt: skip

    def _hardened(self, step: CoatStep, ready: float, wait: float) -> float:
        """The wait until what oxidises below has hardened, where another paint of its system would go on in between.

        Within an hour or two it takes its own next coat, and dries with it as one film, for days. That is meant for the
        same paint in the same go; another paint or colour waits for the second stretch.
        """
        k = self.quick.k
        if k.coats[step.material].use not in COVERING or coverage_of(step, k.coats[step.material]) <= COVERS:
            return wait
        for zone_id in step.zones:
            below = self.lies[zone_id][-1].layer if self.lies[zone_id] else None
            if below is None or below.drying is None or below.system is not k.system_as_learned(step.material):
                continue
            same = self.plan.step(below.step_id or "")
            one_go = isinstance(same, CoatStep) and (same.material, same.colour) == (step.material, step.colour)
            if below.is_film(FilmClass.OXIDISING) and below.is_for(*COVERING) and not one_go:
                wait = max(wait, rounded_up(below.drying.event(Event.RECOAT, Edge.LATE) - ready))
        return wait

    def _before_the_act(self, step: AnyStep, wait: float) -> float:
        """The wait before a panel is wetted or paint put out to rest: what comes next comes at once, or after its rest,
        so that what it has to wait for is waited for before.
        """
        later = self.plan.steps[self.plan.steps.index(step) + 1 :]
        then = next((s for s in later if set(s.zones) & set(step.zones)), None)
        if not isinstance(then, CoatStep) or then.wait_by is not WaitBy.PROGRAM:
            return wait
        rest = rest_of(self.quick.k, then) if puts_out(step) else None
        least, most = (0.0, WET_MIN) if rest is None else rest
        for _ in range(MOST_TRIED):
            tried = self.fork()
            tried.extend(step, wait)
            more = tried._earliest(then, tried._ready(then))
            if more <= most:
                break
            wait = rounded_up(wait + more - least)
        return wait

    def _by_itself(self, step: AnyStep, ready: float) -> float:
        wait = self._best(step, ready)
        if not isinstance(step, CoatStep):
            return wait
        dry = rounded_up(stands_min(self.plan.air.day.rh_pct)[1]) if self._on_water(step) else 0.0
        return max(wait, self._hardened(step, ready, wait), dry, self._rest(step, ready))

    def _rest(self, step: AnyStep, ready: float) -> float:
        """What is left of the rest on card of a coat's paint, minutes."""
        rest = rest_of(self.quick.k, step)
        if rest is None:
            return 0.0
        return max([0.0, *(self.out[z] + rest[0] - ready for z in step.zones if z in self.out)])

    def _on_water(self, step: AnyStep) -> bool:
        """Whether a step right before it leaves water where a coat wants it dry."""
        k = self.quick.k
        return minds_water(k, step) and any(leaves_water(k, s) for z in step.zones if (s := self.last.get(z)))

    def _best(self, step: AnyStep, ready: float) -> float:
        wait = self._raised(step, ready, 0.0, self.quick)
        seams = self._seams(self.quick, step, ready + wait)
        if any(s.verdict is Verdict.CLASH and not s.missed for s in seams):  # searched only where nothing else is left
            wait = self._raised(step, ready, wait, self._searching())
            seams = self._seams(self.quick, step, ready + wait)
        told = _told(seams)
        if any(told) and not self.quick.constant:
            later = self._by_day(step, ready, wait)
            if later is not None:
                return later
        if any(told):
            now = self._seams(self.quick, step, ready)
            return wait if (told, _easing(seams)) < (_told(now), _easing(now)) else 0.0
        if wait > LONG_MIN:
            return self._bearable(step, ready, wait)
        return self._soon(step, ready, wait, seams) if _cautions(seams) else wait

    def _raised(self, step: AnyStep, ready: float, wait: float, c: Conditions) -> float:
        """A wait raised, zone by zone, until nothing in any of them asks for a longer one that is worth it."""
        for _ in range(MOST_TRIED):
            was = wait
            for zone_id in step.zones:
                opens = [o for s in self._in_zone(c, step, ready + wait, zone_id) if (o := _opens(s)) is not None]
                later = rounded_up(max(opens, default=0.0) - ready)
                if wait < later <= PATIENCE_MIN:
                    wait = later
            if wait == was:
                break
        return wait

    def _bearable(self, step: AnyStep, ready: float, sound: float) -> float:
        """The first wait, to an hour or a fifth, after which nothing is worse than a careful caution."""
        low, high = 0.0, sound
        while high - low > max(60.0, NEAR * high):
            middle = (low + high) / 2
            bears = all(_bears(self._in_zone(self.quick, step, ready + middle, z)) for z in step.zones)
            low, high = (low, middle) if bears else (middle, high)
        return rounded_up(high) if sound - high > LONG_MIN else sound

    def _by_day(self, step: AnyStep, ready: float, wait: float) -> float | None:
        """A wait after which nothing is worse than a careful caution, to an hour: what is ready in the cold of a night
        waits for the day.
        """

        def bad(minutes: float) -> bool:
            return not _bears(self._seams(self.quick, step, ready + minutes))

        low = wait
        for minutes in (wait + days * 1440.0 + hours * 60.0 for days in DAYS_TRIED for hours in HOURS_TRIED):
            if not bad(minutes):
                high = minutes
                while high - low > 60.0:
                    middle = (low + high) / 2
                    low, high = (middle, high) if bad(middle) else (low, middle)
                return rounded_up(high)
            low = minutes
        return None

    def _soon(self, step: AnyStep, ready: float, wait: float, seams: list[Weighed]) -> float:
        """A little later, where that spares cautions: to some minutes."""
        low, high, most = wait, wait + SHORT_MIN, _cautions(seams)
        later = self._seams(self.quick, step, ready + high)
        fewest = _cautions(later)
        if fewest >= most or any(_told(later)):
            return wait
        while high - low > SHORT_MIN / 16:
            middle = (low + high) / 2
            there = self._seams(self.quick, step, ready + middle)
            low, high = (low, middle) if _cautions(there) <= fewest and not any(_told(there)) else (middle, high)
        return rounded_up(high)

    def _searching(self) -> Conditions:
        """Conditions under which it is also searched when a clash would end."""
        if self.whole is None:
            self.whole = conditions_of(self.plan, step_times(self.plan), opens=True)
        return self.whole

    def _seams(self, c: Conditions, step: AnyStep, start: float) -> list[Weighed]:
        return [seam for zone_id in step.zones for seam in self._in_zone(c, step, start, zone_id)]

    def _in_zone(self, c: Conditions, step: AnyStep, start: float, zone_id: str) -> list[Weighed]:
        """The seams of a step in a zone, if it starts then."""
        self.times[step.id] = Timing(start, start + step.hands_on_min)
        if not c.constant:
            c = c.until(self.plan, start + step.hands_on_min)
        lies = tuple(self.lies[zone_id])
        return weigh_step(c, zone_id, step, self.base[zone_id], lies, self.times)


def _told(seams: list[Weighed]) -> tuple[int, ...]:
    """How many clash, have missed their window, have to wait."""
    return (
        sum(s.verdict is Verdict.CLASH for s in seams),
        sum(s.missed for s in seams),
        sum(s.verdict is Verdict.WAIT for s in seams),
    )


def _easing(seams: list[Weighed]) -> int:
    """How many would be better for waiting, if not sound."""
    return sum(_opens(s) is not None for s in seams)


def _cautions(seams: list[Weighed]) -> int:
    return sum(s.verdict is Verdict.CAUTION for s in seams)


def _bears(seams: list[Weighed]) -> bool:
    """Whether each seam is sound, or a caution that stays one at the careful edge."""
    return all(
        s.verdict is Verdict.SOUND or (s.verdict is Verdict.CAUTION and 0 < s.gravest < CLASH_FROM) for s in seams
    )


def _opens(seam: Weighed) -> float | None:
    """From when a seam is as good as waiting makes it, where it has to wait or clashes."""
    careful = seam.opens_careful_min
    if careful is None or careful <= seam.at_min or seam.missed:
        return None
    return careful if seam.verdict in (Verdict.WAIT, Verdict.CLASH) else None
