"""How a coat dries and hardens in time-varying air.

Two stages. While wet, evaporation decides (`evaporation.py`). Then a hardening clock runs: it counts
*reference minutes*, the time the same film would have had at 20 °C, 50 % humidity, in still air, so that
common-practice figures can be read on it. Its rate is Arrhenius in temperature, a power of film thickness,
and depends on humidity and air movement by film class. Everything integrates over the air's pieces.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from ..keys import APART
from ..knowledge import Knowledge, System
from ..knowledge.types import EVER_MIN
from ..memory import MEMORY
from ..plan import Aid, Air
from ..vocabulary import AidKind, Edge, Event, FilmClass, Movement, PigmentSpeed
from .air import REF_AIR, AirLine, Line, hardening_rate
from .blend import Blend
from .evaporation import dew_point_c, evaporate, relative_rate

TACK_DEGREE = (
    0.37  # of hardening, up to which an oxidising film holds dry pigment; common practice puts no figure to it
)
UNKNOWN_DEGREE = 0.5  # what nobody knows is taken at its most sensitive
SPEED_LIMITS = (0.02, 12.0)
FEW_PASSES = 3  # that the figures of practice are for
SEEN = 2.5  # times the film that the figures are for, up to which the power law has been seen (assumption)
THIN_HURRIES = 1.6  # at most, until it is dry to the touch, of a thin oxidising film (assumption)
TOUCH_SPARED = 0.7  # a film that takes n times as long to harden takes only n^0.3 times to skin over (assumption)
THIN_GAINS = 1.5  # at most, of a film thinner than the usual one (settled)
# Oxygen has to get through an oxidising film: below this the film is hardened by chemistry at its own pace, above it a
# front moves inwards as √t. Thick films of alkyd and oil are known to take far longer; the figure is an assumption.
OXYGEN_UM = 20.0
# The slow tail of a solvent-borne film. Water counts by its own rate; what hardly leaves at all belongs to the binder.
LEAST_ARRIVES = 0.25
LITTLE = 0.01  # less than that of a carrier is none
# Films whose last carrier has to get out; glycols keep acrylics soft too, but by the root of it (assumption).
TAILED = (FilmClass.EVAPORATING, FilmClass.DISPERSION)
CURED, CURED_LATER = {FilmClass.CROSSLINKED: 1.6}, 4.0  # as often as old as hard (common practice)
TAIL_POWER, SLOWEST, MEASURE = 1.25, 40.0, "butyl_acetate"
SOAKED_POWER = (
    0.5  # of the time that a thicker film would take, where an older soluble one below took solvent up (assumption)
)
# How a pigment hurries or holds back an oxidising film: the order is common practice, the factors are assumptions.
PIGMENT_FACTOR = {PigmentSpeed.FAST: 1.8, PigmentSpeed.USUAL: 1.0, PigmentSpeed.SLOW: 0.55}
DIGITS = 7  # to which minutes from an instant are rounded, so that float noise makes no difference
CAREFUL = 0.5  # of the time within which a film takes its own next coat, that is relied on (assumption)
MOST_KEPT = 60  # instants that a film remembers itself at
INSTANT = 1e-6  # nearer than that, two instants are one
AID_DEFAULT_C = {AidKind.WARM_AIR: 40.0, AidKind.CABINET: 40.0}


Curve = tuple[tuple[float, ...], tuple[float, ...]]
_CURVES = MEMORY.door("hardening curve of a system", 1_000)


def _anchors(system: System, edge: Edge) -> Curve:
    """The hardening curve of a system at one edge of its ranges."""
    return _CURVES.of(system, lambda: _make_anchors(system, edge), edge)


def _make_anchors(system: System, edge: Edge) -> Curve:
    """Points of the hardening curve: ln(reference minutes) and degree 0–1, at one edge of the ranges."""

    def at(pair: tuple[float, float]) -> float:
        return pick(pair, edge)

    oxidising = system.film is FilmClass.OXIDISING
    wanted = [(at(system.touch) / 20, 0.0), (at(system.touch), 0.15)]
    later = [
        (at(system.recoat), 0.6 if oxidising else 0.5),
        (at(system.spirit), 0.85),
        (at(system.hard), 0.95),
        (at(system.hard) * 4, 0.99),
        (at(system.hard) * 12, 1.0),
    ]
    for minute, degree in sorted(later):
        if minute > wanted[-1][0] * 1.001:
            wanted.append((minute, max(degree, wanted[-1][1])))
    return tuple(math.log(m) for m, _ in wanted), tuple(d for _, d in wanted)


def pick(pair: tuple[float, float], edge: Edge) -> float:
    """One edge of a range in minutes; the best guess is the geometric mean.

    >>> pick((10.0, 40.0), Edge.BEST)
    20.0
    """
    if edge is Edge.EARLY:
        return pair[0]
    return pair[1] if edge is Edge.LATE else math.sqrt(pair[0] * pair[1])


def degree(system: System, ref_min: float, edge: Edge) -> float:
    """Degree of hardening 0–1 after reference minutes: monotone through the system's practice figures.

    >>> from emvar_core.knowledge import knowledge
    >>> round(degree(knowledge().systems["enamel"], 1440, Edge.BEST), 2)
    0.47
    """
    if system.film is FilmClass.LOOSE:
        return 1.0
    if system.film is FilmClass.UNKNOWN:
        return UNKNOWN_DEGREE
    xs, ys = _anchors(system, edge)
    if ref_min <= 0:
        return 0.0
    x = math.log(ref_min)
    if x <= xs[0]:
        return 0.0
    if x >= xs[-1]:
        return ys[-1]
    i = bisect_right(xs, x)
    share = (x - xs[i - 1]) / (xs[i] - xs[i - 1])
    return ys[i - 1] + share * (ys[i] - ys[i - 1])


def ref_at_degree(system: System, wanted: float, edge: Edge) -> float:
    """Reference minutes at which a degree of hardening is reached, at one edge; the inverse of `degree`.

    >>> from emvar_core.knowledge import knowledge
    >>> enamel = knowledge().systems["enamel"]
    >>> round(degree(enamel, ref_at_degree(enamel, 0.5, Edge.BEST), Edge.BEST), 3)
    0.5
    """
    xs, ys = _anchors(system, edge)
    i = next((i for i, y in enumerate(ys) if y >= wanted), len(ys) - 1)
    if i == 0 or ys[i] == ys[i - 1]:
        return math.exp(xs[i])
    return math.exp(xs[i - 1] + (wanted - ys[i - 1]) / (ys[i] - ys[i - 1]) * (xs[i] - xs[i - 1]))


# How far the network of an oxidising film has closed, by its degree of hardening. A swollen gel grows as its
# cross-links to the power of −3/5 (theory of swollen networks, from memory), so most of its give is lost early, long
# before the last of it is bound.
NETWORK = ((0.0, 0.0), (0.15, 0.15), (0.6, 0.88), (0.85, 0.92), (0.95, 0.95), (1.0, 1.0))

_NETWORK = tuple((d1, d0, n0, (n1 - n0) / (d1 - d0)) for (d0, n0), (d1, n1) in pairwise(NETWORK))


def network(degree: float) -> float:
    """How stiff the network of an oxidising film is, 0–1, by its degree of hardening.

    >>> network(0.6)
    0.88
    """
    for until, from_, n, slope in _NETWORK:
        if degree <= until:
            return n + slope * (degree - from_)
    return 1.0


@dataclass(frozen=True)
class Drying:
    """One coat's drying: wet until `flash_end_min`, hurried by aids until `clock_min`, then the clock at `speed`.

    The clock has counted `flash_ref_min` and `clock_ref` reference minutes at these two instants, evenly in between.
    `laid_in`: the air at the end of its laying. All but `line` counts its minutes from the same origin.
    """

    system: System
    end_min: float
    flash_end_min: float
    flash_ref_min: float
    clock_min: float
    clock_ref: float
    speed: float
    line: Line = field(metadata=APART)
    laid_in: Air
    coldest_c: float
    dew_c: float
    hurry: float = 1.0  # how much faster its clock runs until it is dry to the touch
    older_ref: float = 0.0  # reference minutes that it had behind it when it came to the build
    _degrees: dict[tuple[float, Edge], float] = field(default_factory=dict, compare=False, repr=False, metadata=APART)
    _events: dict[tuple[Event, Edge], float] = field(default_factory=dict, compare=False, repr=False, metadata=APART)
    _stands: dict[float, tuple[float, float, float]] = field(
        default_factory=dict, compare=False, repr=False, metadata=APART
    )
    _level: list[float] = field(default_factory=list, compare=False, repr=False, metadata=APART)

    def ref_minutes(self, at_min: float) -> float:
        """Reference minutes since it was laid, at an instant (minutes since the build's start)."""
        if self.older_ref:
            return self.older_ref + self._gained(at_min)
        return self._gained(at_min)

    def _gained(self, at_min: float) -> float:
        if at_min < self.end_min:
            return 0.0
        if at_min < self.flash_end_min:
            return self.flash_ref_min * (at_min - self.end_min) / (self.flash_end_min - self.end_min)
        if at_min <= self.clock_min:
            if self.clock_min <= self.flash_end_min:
                return self.clock_ref
            share = (at_min - self.flash_end_min) / (self.clock_min - self.flash_end_min)
            fast = self._fast(self.flash_ref_min)
            aided = _unhurried(self.clock_ref - self.flash_ref_min, self.hurry, fast)
            return self.flash_ref_min + _hurried(aided * share, self.hurry, fast)
        counted = (self.line.level(self.system, at_min) - self._at_clock()) * self.speed
        return self.clock_ref + _hurried(counted, self.hurry, self._fast(self.clock_ref))

    def _fast(self, ref_min: float) -> float:
        """What the clock has still to count, from there, until it is dry to the touch."""
        return max(self.system.touch[1] - ref_min, 0.0)

    def _at_clock(self) -> float:
        if not self._level:
            self._level.append(self.line.level(self.system, self.clock_min))
        return self._level[0]

    def when(self, ref_min: float) -> float:
        """The instant at which the clock has counted `ref_min`; of what is older, the end of its laying."""
        ref_min -= self.older_ref
        if ref_min <= 0:
            return self.end_min
        if ref_min < self.flash_ref_min:
            return self.end_min + (self.flash_end_min - self.end_min) * ref_min / self.flash_ref_min
        if ref_min <= self.clock_ref:
            if self.clock_ref <= self.flash_ref_min:
                return self.clock_min
            fast = self._fast(self.flash_ref_min)
            share = _unhurried(ref_min - self.flash_ref_min, self.hurry, fast)
            share /= _unhurried(self.clock_ref - self.flash_ref_min, self.hurry, fast)
            return self.flash_end_min + (self.clock_min - self.flash_end_min) * share
        rest = _unhurried(ref_min - self.clock_ref, self.hurry, self._fast(self.clock_ref))
        return self.line.reaches(self.system, self._at_clock() + rest / self.speed)

    def has_come(self, event: Event, at_min: float, edge: Edge) -> bool:
        """Whether an event has come by an instant, at one edge of its range; asks nothing of the air from then on."""
        return self.ref_minutes(at_min) >= pick(self.system.event(event), edge) - INSTANT

    def moved(self, by_min: float, line: Line) -> Drying:
        """The same, laid so many minutes later in a line of air that is no other until its clock has begun."""
        return self._with(
            line=line,
            end_min=round(self.end_min + by_min, DIGITS),
            flash_end_min=round(self.flash_end_min + by_min, DIGITS),
            clock_min=round(self.clock_min + by_min, DIGITS),
        )

    def stands(self, at_min: float) -> tuple[float, float, float]:
        """How it stands at an instant: its age, when its clock begins from there on, and what that shows then.

        What it has counted by then is counted; how it came to it no longer matters.
        """
        known = self._stands.get(at_min)
        if known is None:
            age, clock, ref = round(at_min - self.end_min, DIGITS), self.clock_min - at_min, self.clock_ref
            if clock < 0:
                clock, ref = 0.0, round(self._gained(at_min), DIGITS)
            known = self._stands[at_min] = (age, round(clock, DIGITS), ref)
            if len(self._stands) > MOST_KEPT:
                self._stands.clear()
        return known

    def seen_from(self, at_min: float, line: Line) -> Drying:
        """The same with its instants counted from another one, and with the air from there on alone."""
        age, clock, ref = self.stands(at_min)
        flash = round(self.flash_end_min - at_min, DIGITS)
        return self._with(end_min=-age, flash_end_min=flash, clock_min=clock, clock_ref=ref, line=line)

    def _with(self, **changed: Any) -> Drying:
        made = object.__new__(Drying)  # what `replace` does, at a third of its cost
        made.__dict__.update(self.__dict__)
        made.__dict__.update(changed, _degrees={}, _events={}, _stands={}, _level=[])
        return made

    def own_reference(self, minutes: float) -> float:
        """Reference minutes that stand for this film's own minutes at reference air, whatever its thickness."""
        past_flash = max(minutes - self.flash_ref_min, 0.0)
        return min(minutes, self.flash_ref_min) + past_flash * self.speed

    def degree(self, at_min: float, edge: Edge) -> float:
        """How hard it is at an instant (minutes since the build's start), 0–1, at one edge of the range."""
        known = self._degrees.get((at_min, edge))
        if known is None:
            if len(self._degrees) > MOST_KEPT:
                self._degrees.clear()
            known = self._degrees[(at_min, edge)] = degree(self.system, self.ref_minutes(at_min), edge)
        return known

    def event(self, event: Event, edge: Edge) -> float:
        """When an event comes, at one edge of its range, minutes since the build's start."""
        known = self._events.get((event, edge))
        if known is None:
            known = self._events[event, edge] = self.when(pick(self.system.event(event), edge))
        return known

    def own_coat_until(self, careful: bool) -> float | None:
        """Reference minutes within which it takes its own next coat, by half of them where care counts; None: none."""
        again = self.system.recoat_again_before
        return None if again is None else again * (CAREFUL if careful else 1.0)

    def takes_own_coat(self, at_min: float, careful: bool) -> bool:
        """Whether it takes its own next coat at an instant, before it has hardened."""
        until = self.own_coat_until(careful)
        return until is not None and self.ref_minutes(at_min) < until

    def all_events(self, edge: Edge) -> dict[str, float]:
        """Every event of the film at one edge, minutes since the build's start.

        `tape` stands for handling too. `same`: its own system again (light passes once it is dry to the touch; an
        oxidising film only hardened, and `same_until` before that). `tack_until`: how long its tack holds pigment.
        `cured`: four times as old as hard; what cross-links by itself sooner, a two-pack in seven to ten days.
        """
        s = self.system
        comes = {event: s.event(event)[0] < EVER_MIN for event in Event}  # powder never hardens
        instants = {event.value: self.event(event, edge) if comes[event] else math.inf for event in Event}
        oxidising = s.film is FilmClass.OXIDISING
        instants["same"] = instants["recoat" if oxidising or s.film is FilmClass.WATER_SOLUBLE else "touch"]
        cured = CURED.get(s.film, CURED_LATER) * pick(s.hard, edge)
        instants["cured"] = self.when(cured) if comes[Event.HARD] else math.inf
        if (until := self.own_coat_until(edge is Edge.EARLY)) is not None:
            instants["same_until"] = self.when(until)
        if oxidising:
            instants["tack_until"] = self.when(ref_at_degree(s, TACK_DEGREE, edge))
        return instants


def aid_air(air: Air, aid: Aid) -> tuple[float, float]:
    """Temperature and humidity at the part while an aid runs; warming the same air dries it."""
    temp = aid.temp_c if aid.temp_c is not None else AID_DEFAULT_C.get(aid.kind, air.temp_c)
    dew = dew_point_c(air.temp_c, air.rh_pct)
    rh = 100 * math.exp(17.62 * dew / (243.12 + dew) - 17.62 * temp / (243.12 + temp))
    return temp, min(rh, 100.0)


def _aided_rate(system: System, air: Air, aid: Aid) -> float:
    temp, rh = aid_air(air, aid)
    return hardening_rate(system, Air(temp_c=min(max(temp, -10), 60), rh_pct=rh, movement=Movement.FAN))


@dataclass(frozen=True)
class AsLaid:
    """A wet coat as it comes onto the model. `arrived`: what of the cup's carrier is left then; `liquid_um`: of a pass.

    `film_um`: the whole dry film. `arrives`: share of the carrier that gets there. What hurries it: aids, a pigment.
    """

    cup: Blend
    arrived: Blend
    liquid_um: float
    film_um: float
    passes: int
    arrives: float
    aids: tuple[Aid, ...] = ()
    pigment: PigmentSpeed | None = None


def dry(k: Knowledge, system: System, laid: AsLaid, usual: AsLaid, end_min: float, line: AirLine) -> Drying:
    """The drying of a coat laid by `end_min` (minutes since start).

    `usual`: the same material as it is usually laid, which the practice figures are taken to mean. The slow parts of
    both cups make the tail; what a mist has lost has not to dry.
    """
    aids, carrier, liquid_um = laid.aids, laid.arrived, laid.liquid_um
    air = line.at(end_min)
    aid = aids[0] if aids else None
    aid_min = sum(a.duration_min for a in aids)
    if aid is not None:
        temp, rh = aid_air(air, aid)
        wet = evaporate(k, carrier, liquid_um, temp, rh, aid.kind.value)
        # One after the other: their gains together, over their time together.
        gained = sum(_aided_rate(system, air, a) * a.duration_min for a in aids)
        aid_gain = gained / aid_min if aid_min else _aided_rate(system, air, aid)
        if wet.minutes > aid_min:
            rest = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value, cooled=False)
            flash = aid_min + rest.minutes * (1 - aid_min / wet.minutes)
        else:
            flash = wet.minutes
    else:
        wet = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value)
        flash, aid_gain = _wet_minutes(k, carrier, liquid_um, line, end_min, wet.minutes), 0.0
    usual_wet = evaporate(
        k, usual.arrived, usual.liquid_um, REF_AIR.temp_c, REF_AIR.rh_pct, REF_AIR.movement.value, cooled=False
    )
    meant, meant_passes = (usual.film_um, usual.passes) if system.film_um is None else (system.film_um, FEW_PASSES)
    thin = delay = time_of_film(system, laid.film_um, laid.passes) / time_of_film(system, meant, meant_passes)
    speed = 1 / delay
    if system.thickness_power is None:  # chemistry keeps its pace in a thin film, but there is less of it to skin over
        thin = math.sqrt(laid.film_um / meant)
    elif system.film_um is not None:  # to the touch a thinner film is dry sooner, though the last of its solvent is not
        fuses = system.film is FilmClass.DISPERSION  # a glaze is dry in minutes, whatever its material's usual film
        thin = _by_film(system, laid.film_um) / _by_film(system, meant if fuses else usual.film_um)
    if system.film in TAILED:
        slower = slow_part(k, laid.cup) / slow_part(k, usual.cup)
        if system.film is FilmClass.DISPERSION:
            slower = math.sqrt(slower)
        arrives = laid.arrives / max(usual.arrives, LITTLE)
        speed /= slower * min(max(arrives, LEAST_ARRIVES), 1.0)
    speed = min(speed, THIN_GAINS)
    ref = min(usual_wet.minutes, 0.9 * pick(system.touch, Edge.BEST))
    # To the touch a thin film is dry as soon as its carrier has left: what it gains at most counts from there on. One
    # that oxygen hardens skins over sooner, but by its own clock: it can be worked for as long as its binder is open.
    # A thick film has its skin long before it is hard all through.
    if system.thickness_power is None:
        hurry = min(1 / thin, THIN_HURRIES) if thin < 1 else max(delay / thin, 1.0)
    else:
        hurry = max(delay, 1.0) ** TOUCH_SPARED
        ref += max(pick(system.touch, Edge.LATE) - ref, 0.0) * max(1 - thin, 0.0)
    if laid.pigment is not None and system.film is FilmClass.OXIDISING:
        speed *= PIGMENT_FACTOR[laid.pigment]
    to_touch = speed * hurry
    speed = min(max(speed, SPEED_LIMITS[0]), SPEED_LIMITS[1])
    hurry = max(to_touch / speed, 1.0)  # a delay that the limit has cut short is not made up for twice
    aided = max(aid_min - flash, 0.0)
    by_aid = _hurried(aid_gain * aided * speed, hurry, max(pick(system.touch, Edge.LATE) - ref, 0.0))
    return Drying(
        system,
        end_min,
        end_min + flash,
        ref,
        end_min + flash + aided,
        ref + by_aid,
        speed,
        line,
        air,
        wet.coldest_c,
        dew_point_c(air.temp_c, air.rh_pct),
        hurry,
    )


def _hurried(counted: float, hurry: float, fast: float) -> float:
    """What a clock shows that runs faster until it has counted `fast`, where it would have counted so much."""
    return counted * hurry if counted * hurry <= fast else counted + fast - fast / hurry


def _unhurried(shown: float, hurry: float, fast: float) -> float:
    """The inverse: what such a clock would have counted by itself."""
    return shown / hurry if shown <= fast else shown - fast + fast / hurry


def already(drying: Drying, ref_min: float) -> Drying:
    """A coat that was there before the build began, so many reference minutes old: long dry, no aid runs on it."""
    at = drying.end_min
    return drying._with(flash_end_min=at, clock_min=at, clock_ref=drying.flash_ref_min, older_ref=ref_min, hurry=1.0)


def time_of_film(system: System, film_um: float, passes: int = 1) -> float:
    """How long a film of so many µm, laid in so many passes, takes to harden; only ratios of it mean anything.

    An oxidising film by the oxygen that has to get through it, 1 + (film / 20 µm)²; others by a power of thickness, and
    what dries by evaporation alone dries between its passes too. Where the system says which film its figures are for,
    a thinner one that dries by evaporation gains nothing (the last of its solvent leaves at its own pace), and beyond
    what has been seen a thicker one takes longer in proportion only.

    >>> from emvar_core.knowledge import knowledge
    >>> enamel, lacquer = knowledge().systems["enamel"], knowledge().systems["lacquer"]
    >>> round(time_of_film(enamel, 72) / time_of_film(enamel, 36), 1)
    3.3
    >>> time_of_film(lacquer, 50, 3) / time_of_film(lacquer, 25, 3), time_of_film(lacquer, 5, 3)
    (4.0, 1.0)
    """
    if system.thickness_power is None:
        return _by_film(system, film_um)
    if system.film is FilmClass.EVAPORATING:
        film_um *= math.sqrt(FEW_PASSES / min(passes, 6))
    if system.film_um is None:
        return _by_film(system, film_um)
    thicker = film_um / system.film_um
    if system.film is FilmClass.EVAPORATING:
        thicker = max(thicker, 1.0)
    seen = min(thicker, SEEN)
    return float(seen**system.thickness_power * thicker / seen)


def _by_film(system: System, film_um: float) -> float:
    """The law by film alone, whatever the figures are for."""
    if system.thickness_power is None:
        return 1 + (film_um / OXYGEN_UM) ** 2
    return float(film_um**system.thickness_power)


def slowed(drying: Drying, film_um: float, passes: int, soaked_um: float) -> Drying:
    """The drying of a coat whose carrier also went into so many µm of young film below: it has to come out of both.

    Like paint onto a coat of its own that is still wet is one film; what dries by evaporation alone gives up what it
    soaked into a half-dry primer somewhat sooner.
    """
    system = drying.system
    longer = _by_film(system, film_um + soaked_um) / _by_film(system, film_um)
    if system.film is FilmClass.EVAPORATING:
        longer **= SOAKED_POWER
    speed = max(drying.speed / longer, SPEED_LIMITS[0])
    aided = (drying.clock_ref - drying.flash_ref_min) * speed / drying.speed
    return drying._with(speed=speed, clock_ref=drying.flash_ref_min + aided)


def slow_part(k: Knowledge, carrier: Blend) -> float:
    """How slowly the last of a carrier leaves a setting film; only ratios of it mean anything.

    What is left once the film has flashed off diffuses out of it, the slower the less volatile it is: the mean, over
    what is left, of (rate of butyl acetate / its rate)^1.25. The power is fitted to one point: a fifth of retarder in
    the cup doubles the time to tape (common practice).

    >>> from emvar_core.knowledge import knowledge
    >>> from emvar_core.physics.blend import blend_of
    >>> k = knowledge()
    >>> mild, slow = (blend_of(k.thinners[t]) for t in ("mild_thinner", "lacquer_retarder"))
    >>> slow_part(k, slow) > 1.3 * slow_part(k, mild)
    True
    """
    residue = evaporate(k, carrier, 1.0, REF_AIR.temp_c, REF_AIR.rh_pct, REF_AIR.movement.value, cooled=False).residue
    if not residue:
        return 1.0
    left = sum(share * _slowness(k, s) for (s, _), share in zip(carrier.parts, residue, strict=True))
    return max(left, 1e-3)


_SLOW = MEMORY.door("how slowly a solvent leaves", 500)


def _slowness(k: Knowledge, solvent: str) -> float:
    def slow() -> float:
        rate = relative_rate(k.solvents[solvent], k.solvents[MEASURE])
        return float(min(max(1 / rate, 1 / SLOWEST), SLOWEST) ** TAIL_POWER)

    return _SLOW.once((k.signature, solvent), slow)


def _wet_minutes(
    k: Knowledge, carrier: Blend, liquid_um: float, line: AirLine, start: float, first_guess: float
) -> float:
    """Wet time through pieces of different air: the share evaporated adds up to one."""
    i = max(bisect_right(line.starts, start) - 1, 0)
    now, done, minutes = start, 0.0, first_guess
    while i + 1 < len(line.pieces) and now + minutes * (1 - done) > line.starts[i + 1]:
        done += (line.starts[i + 1] - now) / minutes
        now = line.starts[i + 1]
        i += 1
        air = line.pieces[i].air
        minutes = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value, cooled=False).minutes
    return now + minutes * (1 - done) - start
