"""What the chemistry asks of time: for each step, how old each coat below it must be, and must not be.

The seams are asked, not a table. Each step of a zone is laid on its stack in steady day air, as early as it may be, and
everything that happens there is weighed over a range of ages, at the hopeful, the best and the careful edge. What comes
out are stretches of allowed age on the lower coat's own hardening clock. Real bench air then turns them into instants
(`Ages.when`), by integration from wherever that coat is really laid. So a night between two sittings counts for what
it does to this film, and no more.

A clash that ends within `LONGEST_MIN` is waited for; a caution only as long as the user's patience. What no waiting
mends is no matter of time: it stands in `Net.hopeless` and asks nothing of the schedule.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

from ..judging import Stack, after, base_layer, conditions_of, landing_of, meetings, window_of
from ..judging.contacts import sight
from ..judging.resting import DRIES_OUT, puts_out, rest_of
from ..judging.stack import beside, spot_in
from ..judging.water import leaves_water, minds_water, stands_min
from ..knowledge import Knowledge
from ..memory import MEMORY, intern
from ..physics.colour import lightness_of
from ..physics.hardening import Drying, pick
from ..plan import (
    AnyStep,
    BenchAir,
    CoatStep,
    FittingStep,
    Hours,
    Plan,
    Timing,
    WorkingStep,
    is_fine,
    known_to,
    method_of,
    siblings,
)
from ..plan.affects import VERDICT, only
from ..plan.hours import Cleaning
from ..plan.masks import WET_MIN, wets
from ..remarks.pieces import HELD_FROM, holds_part
from ..seams.meeting import Meeting
from ..seams.registry import moving
from ..seams.severity import level_of
from ..vocabulary import AIRBRUSHED, JOINS, SPRAYED, Edge, FilmClass, FittingAction, Verdict, WaitBy, Word
from .problem import Paint, between

_NETS = MEMORY.door("what plans ask of time", 30)
AGES_MIN = (
    0, 3, 6, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 540, 720, 1080, 1440, 2160, 2880, 4320, 5760, 7200, 10080,
    14400, 20160, 28800, 43200,
)  # fmt: skip
LONGEST_MIN = 14 * 1440  # a clash that ends by then is waited for; what takes longer is for the plan to mend
FINE = 0.01  # of an age: how closely an edge is found, at least one minute
BLOCK_MIN = 5.0  # between laying and working by sections, which are one to the hands
MASK_H = 24.0  # how long tape may stay on where its own figure is not known; common practice

Span = tuple[float, float]


class What(Word):
    """Why two steps are tied: order in a zone, a seam, a window on a coat, a mask; a limit, a wait or a night of the
    user's.
    """

    ORDER = "order"
    SEAM = "seam"
    WINDOW = "window"
    MASK = "mask"
    LIMIT = "limit"
    WAIT = "wait"
    NIGHT = "night"


@dataclass(frozen=True)
class Ages:
    """Allowed ages of the lower coat, in its reference minutes (or plain minutes, `plain`), at three edges.

    `careful` is planned on. It is empty only where nothing is allowed even at the best guess. `risky`: the careful
    stretch was empty, so that the best guess stands in for it.
    """

    careful: tuple[Span, ...]
    best: tuple[Span, ...]
    hopeful: tuple[Span, ...]
    plain: bool = False
    risky: bool = False


EVER: tuple[Span, ...] = ((0.0, math.inf),)
ALWAYS = Ages(EVER, EVER, EVER, plain=True)
NOTHING_ASKED = Ages(EVER, EVER, EVER)


@dataclass(frozen=True)
class Link:
    """A step and one below it: `after` starts, and with `whole` also ends, while `before` is of an allowed age."""

    before: str
    after: str
    zones: tuple[str, ...]
    what: What
    ages: Ages
    whole: bool = False
    words: str = ""


def cleaning_min(clean: Cleaning, one: Paint, other: Paint) -> float:
    """Cleaning of an airbrush between two paints in one sitting, minutes."""
    return between(one, other, (clean.like_min, clean.dark_to_light_min, clean.other_min))


@dataclass(frozen=True)
class Fine:
    """Fine work of a step: minutes before its first rest, and after its last one; how many rests lie in it."""

    head: float
    tail: float
    rests: int


@dataclass(frozen=True)
class Task:
    """A step as work: all its zones in one go. `minutes`: at the bench, rests that lie in it included."""

    id: str
    name: str
    minutes: float
    zones: tuple[str, ...]
    mix: Paint | None
    coat: bool
    pieces: int = 1  # parts that it takes to dry
    sprays: bool = False  # whether the compressor, or a can, runs
    fine: Fine | None = None  # where fine work is to have its rests


@dataclass(frozen=True)
class Hopeless:
    """What stays a clash however long one waits: a matter for the plan, not for the calendar."""

    step: str
    below: str | None
    zone: str
    word: str


@dataclass(frozen=True)
class Net:
    """Tasks in the plan's order, and what ties them."""

    tasks: tuple[Task, ...]
    links: tuple[Link, ...]
    hopeless: tuple[Hopeless, ...]
    nominal: dict[str, Timing] = field(default_factory=dict)

    @cached_property
    def _tasks(self) -> dict[str, Task]:
        return {t.id: t for t in self.tasks}

    def task(self, step_id: str) -> Task:
        return self._tasks[step_id]


def steady(plan: Plan) -> Plan:
    """The plan in its day air all the time: ages are then one number, not a story."""
    return plan.model_copy(update={"air": BenchAir(day=plan.air.day)})


class _Scan:
    """The seams of one step on one stack, weighed over ages."""

    def __init__(self, meetings: list[Meeting], ready: float) -> None:
        self.meetings, self.ready = meetings, ready
        self._known: dict[tuple[float, Edge], dict[tuple[int, str], float]] = {}
        self.words: dict[tuple[int, str], str] = {}

    def at(self, minute: float, edge: Edge) -> dict[tuple[int, str], float]:
        """Severity by (layer, mechanism) of what moves with time, at an instant."""
        severities = self._known.get((minute, edge))
        if severities is None:
            severities = {}
            for m in self.meetings:
                for f in moving(m, minute, edge):
                    key = (f.on(m.index), f.mechanism)
                    if f.severity > severities.get(key, 0.0):
                        severities[key] = f.severity
                        self.words.setdefault(key, f.word)
            self._known[(minute, edge)] = severities
        return severities

    def level(self, minute: float, keys: tuple[tuple[int, str], ...], edges: tuple[Edge, ...]) -> Verdict:
        """The worst of some mechanisms at an instant, over some edges."""
        weighed = [self.at(minute, e) for e in edges]
        return level_of(max(sev.get(key, 0.0) for sev in weighed for key in keys))


CAREFUL, BEST, HOPEFUL = ALL = (Edge.EARLY, Edge.LATE), (Edge.BEST,), (Edge.EARLY,)


def _wanted(level: Callable[[float], Verdict], ready: float, patience_min: float) -> Verdict | None:
    """The verdict to be waited for; None where it is a clash all the way."""
    best = Verdict.CLASH
    for age in AGES_MIN:
        here = level(ready + age)
        if here is Verdict.SOUND and (age <= patience_min):
            return Verdict.SOUND
        if here.grave < best.grave and age <= LONGEST_MIN:
            best = Verdict.CAUTION
    return None if best is Verdict.CLASH else best


def _spans(level: Callable[[float], Verdict], ready: float, wanted: Verdict) -> list[Span]:
    """Stretches of time after `ready` in which a level is reached, edges found on the careful side."""

    def good(minute: float) -> bool:
        return level(minute).grave <= wanted.grave

    def edge(inside: float, outside: float) -> float:
        while abs(inside - outside) > max(1.0, FINE * (max(inside, outside) - ready)):
            mid = (inside + outside) / 2
            if good(mid):
                inside = mid
            else:
                outside = mid
        return inside

    spans: list[Span] = []
    start: float | None = -math.inf if good(ready) else None
    for a, b in zip(AGES_MIN, AGES_MIN[1:], strict=False):
        was, now = start is not None, good(ready + b)
        if now and not was:
            start = edge(ready + b, ready + a)
        elif was and not now:
            assert start is not None
            spans.append((start, edge(ready + a, ready + b)))
            start = None
    if start is not None:
        spans.append((start, math.inf))
    return spans


def _aged(spans: list[Span], drying: Drying) -> tuple[Span, ...]:
    """Instants on the nominal line as the coat's reference minutes."""

    def ref(minute: float) -> float:
        if minute == -math.inf:
            return 0.0
        return minute if minute == math.inf else round(drying.ref_minutes(minute), 7)  # past the noise of adding up

    return tuple((ref(a), ref(b)) for a, b in spans)


_SCANNED = MEMORY.door("what a step asks of time", 20_000)


@dataclass(frozen=True)
class _Asked:
    """What one layer asks; without ages, that no waiting helps."""

    layer: int
    ages: Ages | None
    word: str


Keys = tuple[tuple[int, str], ...]


def _weigh(scan: _Scan, patience_min: float) -> list[_Asked]:
    """What each layer asks of the step's time, all its mechanisms together."""
    instants = [scan.ready + age for age in AGES_MIN]
    keys = {key for at in instants for e in Edge for key in scan.at(at, e)}
    asks: list[_Asked] = []
    for index in sorted({layer for layer, _ in keys}):
        layer = scan.meetings[0].layers[index]
        mine = tuple(sorted(k for k in keys if k[0] == index))
        moving = tuple(k for k in mine if len({scan.level(m, (k,), (e,)) for m in instants for e in Edge}) > 1)
        asks += [_Asked(index, None, scan.words[k]) for k in mine if k not in moving and _stays_clash(scan, k)]
        if layer.drying is None or not moving:
            continue
        asked = _asked(scan, moving, layer.drying, patience_min)
        if asked is None:  # what never lets up is kept apart, and the rest is asked without it
            last = scan.ready + LONGEST_MIN
            stuck = tuple(k for k in moving if scan.level(last, (k,), BEST) is Verdict.CLASH)
            asks += [_Asked(index, None, scan.words[k]) for k in stuck]
            rest = tuple(k for k in moving if k not in stuck)
            asked = _asked(scan, rest, layer.drying, patience_min) if rest else None
            moving = rest
        if asked is not None and asked != NOTHING_ASKED:
            asks.append(_Asked(index, asked, _last_word(scan, moving)))
    return asks


def _stays_clash(scan: _Scan, key: tuple[int, str]) -> bool:
    return scan.level(scan.ready, (key,), BEST) is Verdict.CLASH


def _last_word(scan: _Scan, keys: Keys) -> str:
    """What is still to be waited for when everything else is over: the mechanism that is grave for longest."""

    def until(key: tuple[int, str]) -> int:
        return max(
            (a for a in AGES_MIN if scan.level(scan.ready + a, (key,), CAREFUL) is not Verdict.SOUND), default=-1
        )

    return scan.words[max(keys, key=until)]


def _asked(scan: _Scan, keys: Keys, drying: Drying, patience_min: float) -> Ages | None:
    """The ages at which some mechanisms together are as good as waiting makes them; None where they stay a clash."""
    wanted = _wanted(partial(scan.level, keys=keys, edges=CAREFUL), scan.ready, patience_min)
    risky = wanted is None
    wanted = wanted or _wanted(partial(scan.level, keys=keys, edges=BEST), scan.ready, patience_min)
    if wanted is None:
        return None
    spans = {
        e: _aged(_spans(partial(scan.level, keys=keys, edges=e), scan.ready, wanted), drying) for e in ALL
    }  # fmt: skip
    best = spans[BEST] or spans[CAREFUL]
    return Ages(spans[CAREFUL] or best, best, spans[HOPEFUL] or best, risky=risky)


def _both(a: tuple[Span, ...], b: tuple[Span, ...]) -> tuple[Span, ...]:
    """Where two sets of stretches overlap."""
    overlaps = ((max(p[0], q[0]), min(p[1], q[1])) for p in a for q in b)
    return tuple(sorted(s for s in overlaps if s[0] <= s[1]))


def _joined(a: Ages, b: Ages) -> Ages:
    careful, best, hopeful = _both(a.careful, b.careful), _both(a.best, b.best), _both(a.hopeful, b.hopeful)
    risky = a.risky or b.risky
    if not careful:
        careful, risky = best, True
    return Ages(careful, best or careful, hopeful or best or careful, a.plain, risky)


def _fine(step: AnyStep, most: float) -> Fine:
    """Fine work with a rest after every `most` minutes of it."""
    rests = max(math.ceil(step.hands_on_min / most - 1e-9) - 1, 0)
    return Fine(min(step.hands_on_min, most), step.hands_on_min - rests * most, rests)


def task_of(
    k: Knowledge, step: AnyStep, pieces: dict[str, str] | None = None, hours: Hours | None = None
) -> Task:  # fmt: skip
    """A step as work: minutes of hands, zones, and what it puts into the airbrush. `pieces`: what zones are held by."""
    mix = None
    laid = isinstance(step, CoatStep) and step.existing is None
    sprays = isinstance(step, CoatStep) and laid and method_of(k, step) in SPRAYED
    if isinstance(step, CoatStep) and step.existing is None and method_of(k, step) in AIRBRUSHED:
        coat = k.coats[step.material]
        colour = step.colour.srgb if step.colour else coat.colour
        mixed = step.mix.model_dump_json() if step.mix else ""
        mix = Paint(intern(("gun", step.material, mixed, colour)), coat.system, lightness_of(colour) / 100)
    held = len({(pieces or {}).get(z, z) for z in step.zones})
    minutes, fine = step.hands_on_min, None
    if hours is not None and hours.fine_at_most_min is not None and is_fine(k, step):
        fine = _fine(step, hours.fine_at_most_min)
        minutes += fine.rests * hours.rest_min
    return Task(step.id, step.name, minutes, tuple(step.zones), mix, isinstance(step, CoatStep), held, sprays, fine)


_KINDS = MEMORY.door("kinds of steps", 20_000)


def kind_of(step: AnyStep) -> int:
    """What a step is, whatever it is called: the items of a batch are weighed once."""
    return _KINDS.of(step, lambda: intern(("kind", only(step, VERDICT))))


class _Maker:
    def __init__(self, plan: Plan, patience_h: float) -> None:
        self.plan = steady(plan)
        self.k = known_to(plan)
        self.times: dict[str, Timing] = {}
        self.c = conditions_of(self.plan, self.times, knowledge=self.k)
        self.patience = patience_h * 60
        self.stacks: dict[str, Stack] = {z.id: () for z in plan.zones}
        self.bases = {z.id: base_layer(self.k, plan, z) for z in plan.zones}
        self.links: dict[tuple[str, str, What, bool], Link] = {}
        self.hopeless: dict[tuple[str, str | None, str], Hopeless] = {}
        self.free: dict[str, float] = {}
        self.last: dict[str, str] = {}
        self.masks: dict[str, FittingStep] = {}
        self.out: dict[str, str] = {}  # by zone, the step that put paint out on card
        self.glued: dict[str, FittingStep] = {}
        self.steps = {s.id: s for s in plan.steps}
        self.top: dict[str, str] = {}  # the coat that lies uppermost in each zone
        self.siblings = siblings(plan.zones)

    def make(self) -> Net:
        for step in self.plan.steps:
            ready = max((self.free.get(z, 0.0) for z in step.zones), default=0.0)
            self._time(step, ready)
            mine: list[tuple[Link, Drying | None]] = []
            if step.no_later is not None:
                span = ((0.0, step.no_later.than_min),)
                ages = Ages(span, span, span, plain=True)
                self._tie(step.no_later.after, step, step.zones[0], What.LIMIT, ages, words="begun in time")
            self._held(step)
            for zone in step.zones:
                if zone in self.last:
                    self._tie(self.last[zone], step, zone, What.ORDER, ALWAYS)
                    self._on_wet(step, zone)
                    self._asked_for(step, zone)
                mine += self._seams(step, zone, ready)
                mine += self._window(step, zone)
                self._fitting(step, zone)
            self._time(step, self._earliest(ready, mine))
            for zone in step.zones:
                self.stacks[zone] = after(self.c, step, zone, self.stacks[zone], self.times)
                self.free[zone] = self.times[step.id].end_min
                self.last[zone] = step.id
                if puts_out(step):
                    self.out[zone] = step.id
                if isinstance(step, CoatStep):
                    self.top[zone] = step.id
        self._closings()
        pieces = {z.id: z.piece for z in self.plan.zones}
        tasks = tuple(task_of(self.k, s, pieces, self.plan.hours) for s in self.plan.steps)
        return Net(tasks, tuple(self.links.values()), tuple(self.hopeless.values()), dict(self.times))

    def _on_wet(self, step: AnyStep, zone: str) -> None:
        """Paint waits until water that was left right before has dried; what goes into a wetted panel goes at once."""
        before = self.steps[self.last[zone]]
        typed = step.fixed_start is not None or (step.wait_by is WaitBy.PERSON and step.wait_min > WET_MIN)
        if wets(before) and isinstance(step, CoatStep) and not typed:
            span = ((0.0, WET_MIN),)
            self._tie(before.id, step, zone, What.LIMIT, Ages(span, span, span, plain=True), words="into the wet")
        if (rest := rest_of(self.k, step)) is not None and zone in self.out:
            careful, best = (rest,), ((rest[0], rest[1] * DRIES_OUT),)
            ages = Ages(careful, best, best, plain=True)
            self._tie(self.out[zone], step, zone, What.SEAM, ages, words="rested on card")
        if leaves_water(self.k, before) and minds_water(self.k, step):
            best, careful = (((minutes, math.inf),) for minutes in stands_min(self.plan.air.day.rh_pct))
            self._tie(before.id, step, zone, What.SEAM, Ages(careful, best, best, plain=True), words="the water dries")

    def _held(self, step: AnyStep) -> None:
        """Work that holds the part waits until what lies on its other zones can be held."""
        if not self.siblings or not holds_part(step):
            return
        for zone in {s for z in step.zones for s in self.siblings.get(z, ())} - set(step.zones):
            coat = self.steps.get(self.top.get(zone, ""))
            if not isinstance(coat, CoatStep) or coat.existing is not None:
                continue
            system = self.k.systems[self.k.coats[coat.material].system]
            if system.film is FilmClass.LOOSE:
                continue
            best, hopeful = (((pick(system.event(HELD_FROM), e), math.inf),) for e in (Edge.BEST, Edge.EARLY))
            self._tie(coat.id, step, zone, What.SEAM, Ages(best, best, hopeful), words="held by a soft coat")

    def _asked_for(self, step: AnyStep, zone: str) -> None:
        """A wait that a person has typed, or a night, binds: it may mean something that chemistry does not know."""
        if step.overnight and step.fixed_start is None:
            self._tie(self.last[zone], step, zone, What.NIGHT, ALWAYS, words="left overnight")
        said = "wait_by" in step.model_fields_set and step.wait_by is WaitBy.PERSON
        if said and step.wait_min > 0 and step.fixed_start is None:
            span = ((step.wait_min, math.inf),)
            self._tie(
                self.last[zone], step, zone, What.WAIT, Ages(span, span, span, plain=True), words="a wait of yours"
            )

    def _time(self, step: AnyStep, start: float) -> None:
        self.times[step.id] = Timing(start, start + step.hands_on_min)

    def _tie(
        self, before: str, after: AnyStep, zone: str, what: What, ages: Ages, whole: bool = False, words: str = ""
    ) -> Link:
        key = (before, after.id, what, ages.plain)
        known = self.links.get(key)
        link = Link(before, after.id, (zone,), what, ages, whole, words)
        if known is not None:
            zones = known.zones if zone in known.zones else (*known.zones, zone)
            joined = known.ages if known.ages == ages else _joined(known.ages, ages)
            tighter = ages.careful[0][0] > known.ages.careful[0][0]
            link = replace(known, zones=zones, ages=joined, words=words if tighter else known.words)
        self.links[key] = link
        return link

    def _seams(self, step: AnyStep, zone: str, ready: float) -> list[tuple[Link, Drying | None]]:
        stack = self.stacks[zone]
        met = beside(step, stack) if isinstance(step, WorkingStep) else stack
        landing = landing_of(self.c, step, self.times[step.id])
        spot = spot_in(self.k, step, zone, stack)
        seen = sight(spot, met)
        here = meetings(self.c, landing, seen, self.bases[zone])
        if not here:
            return []
        layers = here[0].layers
        below = tuple((e.layer.key, e.layer.coverage, round(ready - e.layer.end_min, 3)) for e in seen.stack)
        where = (spot.coverage, spot.on is None, seen.whole)  # what is slight goes by it
        about = (self.k.signature, self.c.line.key, landing.key, self.patience)
        key = (about, where, below, self.bases[zone].key)
        asks: list[_Asked] = _SCANNED.once(key, lambda: _weigh(_Scan(here, ready), self.patience))
        links: list[tuple[Link, Drying | None]] = []
        for f in asks:
            on = layers[f.layer]
            if f.ages is None:
                self._give_up(step, on.step_id, zone, f.word)
            elif on.step_id is not None:
                links.append((self._tie(on.step_id, step, zone, What.SEAM, f.ages, words=f.word), on.drying))
        return links

    def _give_up(self, step: AnyStep, below: str | None, zone: str, word: str) -> None:
        self.hopeless.setdefault((step.id, below, word), Hopeless(step.id, below, zone, word))

    def _window(self, step: AnyStep, zone: str) -> list[tuple[Link, Drying | None]]:
        if not isinstance(step, WorkingStep):
            return []
        links = window_of(self.c, step, self.stacks[zone])
        if links is None:
            return []
        layer, window = links
        drying = layer.drying
        if drying is None or window.never is not None:
            self._give_up(step, step.acts_on, zone, "never opens")
            return []
        if step.by_sections:
            return [(self._block(step, zone, drying), drying)]
        o, c = window.opens, window.closes

        def span(a: float, b: float) -> tuple[Span, ...]:
            ref = (drying.ref_minutes(a), math.inf if b == math.inf else drying.ref_minutes(b))
            need = step.hands_on_min
            return (ref,) if b == math.inf or drying.when(ref[1]) - drying.when(ref[0]) >= need else ()

        careful, best, hopeful = span(o.late, c.early), span(o.best, c.best), span(o.early, c.late)
        widest = hopeful or ((drying.ref_minutes(o.early), math.inf),)
        best = best or widest
        ages = Ages(careful or best, best, widest, risky=not careful)
        link = self._tie(
            step.acts_on, step, zone, What.WINDOW, ages, whole=True, words=f"{step.action.value} while it can be"
        )
        return [(link, drying)]

    def _block(self, step: WorkingStep, zone: str, drying: Drying) -> Link:
        """Laying and working section by section are one block: the work follows at once, in the same sitting."""
        span = ((0.0, drying.ref_minutes(drying.end_min + BLOCK_MIN)),)
        words = f"{step.action.value} it section by section"
        return self._tie(step.acts_on, step, zone, What.WINDOW, Ages(span, span, span), words=words)

    def _fitting(self, step: AnyStep, zone: str) -> None:
        if not isinstance(step, FittingStep):
            return
        if step.action in JOINS:
            self.glued[zone] = step
        elif step.action is FittingAction.TURN_OVER and zone in self.glued:
            glue = self.glued[zone]
            sets = self.k.touches[glue.material].sets_min if glue.material else None
            if sets is not None:
                careful, best = ((sets[1], math.inf),), ((sets[0], math.inf),)
                self._tie(glue.id, step, zone, What.SEAM, Ages(careful, best, best, plain=True), words="the glue sets")
        if step.action is FittingAction.MASK:
            self.masks[zone] = step
        elif step.action is FittingAction.UNMASK and zone in self.masks:
            mask = self.masks.pop(zone)
            touch = self.k.touches[mask.material] if mask.material else self.k.usual_mask
            most = (touch.off_within_h if touch.off_within_h is not None else MASK_H) * 60
            span = ((0.0, most),)
            self._tie(mask.id, step, zone, What.MASK, Ages(span, span, span, plain=True), words="tape off in time")

    def _earliest(self, ready: float, links: list[tuple[Link, Drying | None]]) -> float:
        at = ready
        for _ in range(20):
            moved = at
            for link, drying in links:
                if drying is None:
                    continue
                age = drying.ref_minutes(moved)
                later = [a for a, b in link.ages.careful if b >= age - 1e-9]
                if later and later[0] > age:
                    moved = max(moved, drying.when(later[0]))
            if moved <= at + 1e-6:
                return moved
            at = moved
        return at

    def _closings(self) -> None:
        """What closes a zone comes after everything that the plan does there before it, and before what comes later."""
        seen: dict[str, list[AnyStep]] = {}
        shut: dict[str, AnyStep] = {}
        for step in self.plan.steps:
            for zone in step.zones:
                if zone in shut and shut[zone].id != step.id:
                    self._tie(shut[zone].id, step, zone, What.ORDER, ALWAYS)
                seen.setdefault(zone, []).append(step)
            for zone in step.closes if isinstance(step, FittingStep) else ():
                for before in seen.get(zone, ()):
                    if before.id != step.id:
                        self._tie(before.id, step, zone, What.ORDER, ALWAYS)
                shut[zone] = step


def net_of(plan: Plan, patience_h: float = 24.0) -> Net:
    """The net of a plan. `patience_h`: how long a caution is waited for. Linear in coats, apart from the weighing."""
    made: Net = _NETS.of(plan, lambda: _Maker(plan, patience_h).make(), patience_h)
    return made
