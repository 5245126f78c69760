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
from datetime import datetime, timedelta
from enum import StrEnum
from functools import lru_cache

from ..materials import FilmClass, Knowledge, System
from ..mixing import Blend
from ..plan import Aid, AidKind, Air, BenchAir, Movement, PigmentSpeed, Plan
from .evaporation import R, dew_point_c, evaporate

HORIZON_MIN = 60 * 24 * 60.0
MOST_DAYS = 800
REF_AIR = Air(temp_c=20, rh_pct=50, movement=Movement.STILL)
TACK_DEGREE = 0.5  # of hardening, up to which an oxidising film holds dry pigment; common practice puts no figure to it
UNKNOWN_DEGREE = 0.5  # what nobody knows is taken at its most sensitive
SPEED_LIMITS = (0.05, 12.0)
# How a pigment hurries or holds back an oxidising film: the order is common practice, the factors are assumptions.
PIGMENT_FACTOR = {PigmentSpeed.FAST: 1.8, PigmentSpeed.USUAL: 1.0, PigmentSpeed.SLOW: 0.55}
AID_DEFAULT_C = {AidKind.WARM_AIR: 40.0, AidKind.CABINET: 40.0}


class Edge(StrEnum):
    """Which end of a range is meant: the hopeful, the best guess, or the careful one."""

    EARLY = "early"
    BEST = "best"
    LATE = "late"


@dataclass(frozen=True)
class Piece:
    start_min: float
    air: Air


class AirLine:
    """Bench air as pieces of constant air, minutes since the build's start. Air before the start is the first."""

    def __init__(self, plan_start: datetime, tz_name: str, air: BenchAir, until_min: float) -> None:
        self.pieces = _pieces(plan_start, tz_name, air, until_min)
        self.starts = [p.start_min for p in self.pieces]
        self.constant = len(self.pieces) == 1
        self._totals: dict[str, tuple[list[float], list[float]]] = {}

    def at(self, minute: float) -> Air:
        return self.pieces[max(bisect_right(self.starts, minute) - 1, 0)].air

    def _cumulative(self, system: System) -> tuple[list[float], list[float]]:
        found = self._totals.get(system.id)
        if found is None:
            rates = [hardening_rate(system, p.air) for p in self.pieces]
            sums = [0.0]
            for i in range(1, len(self.pieces)):
                sums.append(sums[-1] + rates[i - 1] * (self.starts[i] - self.starts[i - 1]))
            found = self._totals[system.id] = (rates, sums)
        return found

    def level(self, system: System, minute: float) -> float:
        """Reference minutes between the build's start and an instant; differences count."""
        rates, sums = self._cumulative(system)
        if len(rates) == 1:
            return rates[0] * minute
        i = max(bisect_right(self.starts, minute) - 1, 0)
        return sums[i] + rates[i] * (minute - self.starts[i])

    def when(self, system: System, start: float, amount: float) -> float:
        """The instant at which `amount` reference minutes have been gained since `start`."""
        rates, sums = self._cumulative(system)
        target = self.level(system, start) + amount
        i = max(bisect_right(sums, target) - 1, 0)
        return self.starts[i] + (target - sums[i]) / rates[i]


@lru_cache(maxsize=64)
def _pieces_cached(start: datetime, tz_name: str, air_json: str, days: int) -> tuple[Piece, ...]:
    from zoneinfo import ZoneInfo

    air = BenchAir.model_validate_json(air_json)
    tz = ZoneInfo(tz_name)
    marks: set[datetime] = {start}
    if air.night is not None and air.night != air.day and air.night_from != air.night_to:
        first = start.astimezone(tz).date() - timedelta(days=1)
        for day in range(days + 2):
            date = first + timedelta(days=day)
            for clock in (air.night_from, air.night_to):
                hour, minute = map(int, clock.split(":"))
                marks.add(datetime(date.year, date.month, date.day, hour, minute, tzinfo=tz).astimezone(start.tzinfo))
    for span in air.spans:
        marks |= {span.start, span.end}
    pieces: list[Piece] = []
    for mark in sorted(marks):
        here = _air_at(air, mark, tz)
        elapsed = (mark - start) / timedelta(minutes=1)
        if elapsed < 0:
            pieces = [Piece(0.0, here)]
        elif pieces and pieces[-1].start_min == elapsed:
            pieces[-1] = Piece(elapsed, here)
        elif not pieces or pieces[-1].air != here:
            pieces.append(Piece(elapsed, here))
    return tuple(pieces)


def _air_at(air: BenchAir, at: datetime, tz: object) -> Air:
    for span in air.spans:
        if span.start <= at < span.end:
            return span.air
    if air.night is None:
        return air.day
    clock = f"{at.astimezone(tz):%H:%M}"  # type: ignore[arg-type]
    a, b = air.night_from, air.night_to
    is_night = a <= clock < b if a < b else clock >= a or clock < b
    return air.night if is_night else air.day


def _pieces(start: datetime, tz_name: str, air: BenchAir, until_min: float) -> tuple[Piece, ...]:
    wanted = min((until_min + HORIZON_MIN) / 1440, MOST_DAYS) + 1
    days = 64 * math.ceil(wanted / 64)  # so that small shifts of a plan reuse the same pieces
    return _pieces_cached(start, tz_name, air.model_dump_json(), days)


def air_line(plan: Plan, until_min: float) -> AirLine:
    return _air_line(
        plan.build.starts_at,
        plan.build.timezone,
        plan.air.model_dump_json(),
        64 * math.ceil(max(until_min, 1.0) / 1440 / 64),
    )


@lru_cache(maxsize=32)
def _air_line(start: datetime, tz_name: str, air_json: str, months: int) -> AirLine:
    return AirLine(start, tz_name, BenchAir.model_validate_json(air_json), months * 1440.0)


def hardening_rate(system: System, air: Air) -> float:
    """Reference minutes per minute at this air; 1 at 20 °C, 50 %, still."""
    kelvin = air.temp_c + 273.15
    rate = math.exp(-system.ea_kj * 1e3 / R * (1 / kelvin - 1 / 293.15))
    rh = air.rh_pct / 100
    moving = 0 if air.movement is Movement.STILL else 1 if air.movement is Movement.DRAUGHT else 2
    if system.film is FilmClass.DISPERSION:
        rate *= min(max((1 - rh) / 0.5, 0.1), 1.6) * (1 + 0.1 * moving)
        if system.mfft_c and air.temp_c < sum(system.mfft_c) / 2:
            rate *= 0.05
    elif system.film is FilmClass.OXIDISING:
        rate *= (1.15 - 0.3 * rh) * (1 + 0.03 * moving)
    elif system.film in (FilmClass.WATER_SOLUBLE, FilmClass.DECAL):
        rate *= min(max((1 - rh) / 0.5, 0.1), 1.6) * (1 + 0.15 * moving)
    else:
        rate *= 1 + 0.12 * moving
    return max(rate, 1e-4)


Curve = tuple[tuple[float, ...], tuple[float, ...]]
_CURVES: dict[tuple[int, Edge], tuple[System, Curve]] = {}


def _anchors(system: System, edge: Edge) -> Curve:
    """The hardening curve of a system, kept by object (the system is held, so its id stays its own)."""
    found = _CURVES.get((id(system), edge))
    if found is None:
        if len(_CURVES) > 1000:
            _CURVES.clear()
        found = _CURVES[(id(system), edge)] = (system, _make_anchors(system, edge))
    return found[1]


def _make_anchors(system: System, edge: Edge) -> Curve:
    """Points of the hardening curve: ln(reference minutes) and degree 0–1, at one edge of the ranges."""

    def at(pair: tuple[float, float]) -> float:
        return pick(pair, edge)

    oxidising = system.film is FilmClass.OXIDISING
    wanted = [(at(system.touch) / 20, 0.0), (at(system.touch), 0.15)]
    later = [
        (at(system.recoat), 0.88 if oxidising else 0.5),
        (at(system.spirit), 0.92 if oxidising else 0.85),
        (at(system.hard), 0.95),
        (at(system.hard) * 4, 0.99),
        (at(system.hard) * 12, 1.0),
    ]
    for minute, degree in sorted(later):
        if minute > wanted[-1][0] * 1.001:
            wanted.append((minute, max(degree, wanted[-1][1])))
    return tuple(math.log(m) for m, _ in wanted), tuple(d for _, d in wanted)


def pick(pair: tuple[float, float], edge: Edge) -> float:
    if edge is Edge.EARLY:
        return pair[0]
    return pair[1] if edge is Edge.LATE else math.sqrt(pair[0] * pair[1])


def degree(system: System, ref_min: float, edge: Edge) -> float:
    """Degree of hardening 0–1 after reference minutes: monotone through the system's practice figures."""
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
    """Reference minutes at which a degree of hardening is reached, at one edge; the inverse of `degree`."""
    xs, ys = _anchors(system, edge)
    i = next((i for i, y in enumerate(ys) if y >= wanted), len(ys) - 1)
    if i == 0 or ys[i] == ys[i - 1]:
        return math.exp(xs[i])
    return math.exp(xs[i - 1] + (wanted - ys[i - 1]) / (ys[i] - ys[i - 1]) * (xs[i] - xs[i - 1]))


@dataclass(frozen=True)
class Drying:
    """One coat's drying: wet until `flash_end_min`, then the hardening clock at `speed`."""

    system: System
    end_min: float
    flash_end_min: float
    flash_ref_min: float
    speed: float
    line: AirLine
    aid_end_min: float
    aid_gain: float  # reference minutes per minute while an aid runs, before `speed`
    coldest_c: float
    dew_c: float
    _degrees: dict[tuple[float, Edge], float] = field(default_factory=dict, compare=False, repr=False)
    _flash_level: list[float] = field(default_factory=list, compare=False, repr=False)

    def ref_minutes(self, at_min: float) -> float:
        """Reference minutes since it was laid, at an instant (minutes since the build's start)."""
        if at_min <= self.end_min:
            return 0.0
        if at_min < self.flash_end_min:
            return self.flash_ref_min * (at_min - self.end_min) / (self.flash_end_min - self.end_min)
        start, gained = self.flash_end_min, 0.0
        if self.aid_end_min > start:
            until = min(at_min, self.aid_end_min)
            gained += self.aid_gain * (until - start)
            start = until
            if at_min > start:
                gained += self.line.level(self.system, at_min) - self.line.level(self.system, start)
        else:
            if not self._flash_level:
                self._flash_level.append(self.line.level(self.system, start))
            gained = self.line.level(self.system, at_min) - self._flash_level[0]
        return self.flash_ref_min + gained * self.speed

    def when(self, ref_min: float) -> float:
        """The instant at which the clock has counted `ref_min`."""
        if ref_min <= 0:
            return self.end_min
        if ref_min < self.flash_ref_min:
            return self.end_min + (self.flash_end_min - self.end_min) * ref_min / self.flash_ref_min
        left = (ref_min - self.flash_ref_min) / self.speed
        start = self.flash_end_min
        if self.aid_end_min > start:
            by_aid = self.aid_gain * (self.aid_end_min - start)
            if left <= by_aid:
                return start + left / self.aid_gain
            left -= by_aid
            start = self.aid_end_min
        return self.line.when(self.system, start, left)

    def own_reference(self, minutes: float) -> float:
        """Reference minutes that stand for this film's own minutes at reference air, whatever its thickness."""
        past_flash = max(minutes - self.flash_ref_min, 0.0)
        return min(minutes, self.flash_ref_min) + past_flash * self.speed

    def degree(self, at_min: float, edge: Edge) -> float:
        found = self._degrees.get((at_min, edge))
        if found is None:
            if len(self._degrees) > 60:
                self._degrees.clear()
            found = self._degrees[(at_min, edge)] = degree(self.system, self.ref_minutes(at_min), edge)
        return found

    def event(self, name: str, edge: Edge) -> float:
        """When an event (touch, recoat, tape, spirit, hard) comes, at one edge of its range."""
        return self.when(pick(getattr(self.system, name), edge))

    def all_events(self, edge: Edge) -> dict[str, float]:
        """Every event of the film at one edge, minutes since the build's start.

        `tape` stands for handling too. `same`: its own system again (light passes once it is dry to the touch; an
        oxidising film only hardened, and `same_until` before that). `tack_until`: how long its tack holds pigment.
        `cured`: four times as old as hard.
        """
        s = self.system
        found = {name: self.event(name, edge) for name in ("touch", "recoat", "tape", "spirit", "hard")}
        oxidising = s.film is FilmClass.OXIDISING
        found["same"] = found["recoat" if oxidising or s.film is FilmClass.WATER_SOLUBLE else "touch"]
        found["cured"] = self.when(4 * pick(s.hard, edge))
        if s.recoat_again_before is not None:
            found["same_until"] = self.when(s.recoat_again_before * (0.5 if edge is Edge.EARLY else 1.0))
        if oxidising:
            found["tack_until"] = self.when(ref_at_degree(s, TACK_DEGREE, edge))
        return found


def aid_air(air: Air, aid: Aid) -> tuple[float, float]:
    """Temperature and humidity at the part while an aid runs; warming the same air dries it."""
    temp = aid.temp_c if aid.temp_c is not None else AID_DEFAULT_C.get(aid.kind, air.temp_c)
    dew = dew_point_c(air.temp_c, air.rh_pct)
    rh = 100 * math.exp(17.62 * dew / (243.12 + dew) - 17.62 * temp / (243.12 + temp))
    return temp, min(rh, 100.0)


def dry(
    k: Knowledge,
    system: System,
    *,
    end_min: float,
    carrier: Blend,
    liquid_um: float,
    reference_liquid: tuple[Blend, float],
    film_um: float,
    passes: int,
    line: AirLine,
    aids: tuple[Aid, ...] = (),
    pigment: PigmentSpeed | None = None,
) -> Drying:
    """The drying of a coat laid by `end_min` (minutes since start).

    `liquid_um` is the liquid of one pass, `film_um` the whole dry film; `reference_liquid` is the usual mix
    of the same material, which the practice figures are taken to mean.
    """
    air = line.at(end_min)
    aid = aids[0] if aids else None
    aid_min = sum(a.duration_min for a in aids)
    if aid is not None:
        temp, rh = aid_air(air, aid)
        wet = evaporate(k, carrier, liquid_um, temp, rh, aid.kind.value)
        aid_gain = hardening_rate(system, Air(temp_c=min(max(temp, -10), 60), rh_pct=rh, movement=Movement.FAN))
        if wet.minutes > aid_min:
            rest = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value)
            flash = aid_min + rest.minutes * (1 - aid_min / wet.minutes)
        else:
            flash = wet.minutes
    else:
        wet = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value)
        flash, aid_gain = _wet_minutes(k, carrier, liquid_um, line, end_min, wet.minutes), 0.0
    ref = evaporate(k, *reference_liquid, REF_AIR.temp_c, REF_AIR.rh_pct, REF_AIR.movement.value).minutes
    effective = film_um * (math.sqrt(3 / min(passes, 6)) if system.film is FilmClass.EVAPORATING else 1.0)
    speed = (system.ref_film_um / effective) ** system.thickness_power
    if pigment is not None and system.film is FilmClass.OXIDISING:
        speed *= PIGMENT_FACTOR[pigment]
    return Drying(
        system,
        end_min,
        end_min + flash,
        min(ref, 0.9 * pick(system.touch, Edge.BEST)),
        min(max(speed, SPEED_LIMITS[0]), SPEED_LIMITS[1]),
        line,
        end_min + aid_min,
        aid_gain,
        wet.coldest_c,
        dew_point_c(air.temp_c, air.rh_pct),
    )


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
        minutes = evaporate(k, carrier, liquid_um, air.temp_c, air.rh_pct, air.movement.value).minutes
    return now + minutes * (1 - done) - start
