"""Bench air along the build's time, as pieces of constant air, and how fast films harden in each."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache
from itertools import count
from zoneinfo import ZoneInfo

from ..knowledge import GAS_CONSTANT as R
from ..knowledge import System
from ..memory import MEMORY, intern
from ..plan import Air, BenchAir, Plan
from ..vocabulary import FilmClass, Movement

HORIZON_MIN = 60 * 24 * 60.0
MOST_DAYS = 800
_MONTHS = 64  # days
_LINES = MEMORY.door("air along a plan", 40)
REF_AIR = Air(temp_c=20, rh_pct=50, movement=Movement.STILL)


@dataclass(frozen=True)
class Piece:
    """A stretch of unchanging air, from a minute since the build's start on."""

    start_min: float
    air: Air


Like = tuple[FilmClass, float, tuple[float, float] | None]


class AirLine:
    """Bench air as pieces of constant air, minutes since the build's start. Air before the start is the first."""

    def __init__(self, pieces: tuple[Piece, ...]) -> None:
        self.pieces = pieces
        self.starts = [p.start_min for p in self.pieces]
        self.constant = len(self.pieces) == 1
        self._totals: dict[Like, tuple[list[float], list[float]]] = {}

    @cached_property
    def key(self) -> int:
        """Stands for the whole of it."""
        return intern((self.starts[0], self._onward[0]))

    @cached_property
    def _onward(self) -> list[int]:
        """For each piece, what stands for it and all that come after it."""
        keys, later = [0] * len(self.pieces), 0
        for i in range(len(self.pieces) - 1, -1, -1):
            lasts = self.starts[i + 1] - self.starts[i] if later else 0.0
            keys[i] = later = intern((self.pieces[i].air, round(lasts, 6), later))
        return keys

    def key_from(self, minute: float) -> int:
        """Stands for what the air is at an instant and does from there on, in minutes from there."""
        i = max(bisect_right(self.starts, minute) - 1, 0)
        if i + 1 == len(self.pieces):
            return self._onward[i]
        return intern((self.pieces[i].air, round(self.starts[i + 1] - minute, 6), self._onward[i + 1]))

    def at(self, minute: float) -> Air:
        return self.pieces[max(bisect_right(self.starts, minute) - 1, 0)].air

    @staticmethod
    def like(system: System) -> Like:
        """All of a system that its rate of hardening hangs on."""
        return system.film, system.ea_kj, system.mfft_c

    def _cumulative(self, system: System) -> tuple[list[float], list[float]]:
        like = self.like(system)
        totals = self._totals.get(like)
        if totals is None:
            rates = [hardening_rate(system, p.air) for p in self.pieces]
            sums = [0.0]
            for i in range(1, len(self.pieces)):
                sums.append(sums[-1] + rates[i - 1] * (self.starts[i] - self.starts[i - 1]))
            totals = self._totals[like] = (rates, sums)
        return totals

    def level(self, system: System, minute: float) -> float:
        """Reference minutes between the build's start and an instant; differences count."""
        rates, sums = self._cumulative(system)
        if len(rates) == 1:
            return rates[0] * minute
        i = max(bisect_right(self.starts, minute) - 1, 0)
        return sums[i] + rates[i] * (minute - self.starts[i])

    def reaches(self, system: System, level: float) -> float:
        """The instant at which so many reference minutes lie between the build's start and it."""
        rates, sums = self._cumulative(system)
        i = max(bisect_right(sums, level) - 1, 0)
        return self.starts[i] + (level - sums[i]) / rates[i]

    def steady_at(self, minute: float) -> tuple[AirLine, float]:
        """The air at an instant as if it stayed so, and until when it does."""
        i = max(bisect_right(self.starts, minute) - 1, 0)
        until = self.starts[i + 1] if i + 1 < len(self.starts) else math.inf
        return (self if self.constant else _steady(self.pieces[i].air)), until


@lru_cache(maxsize=200)
def _steady(air: Air) -> AirLine:
    return AirLine((Piece(0.0, air),))


class Ahead:
    """Bench air from an instant on, which is minute 0. `looks` is another number each time that somebody looked on."""

    constant = False

    def __init__(self, line: AirLine, at_min: float) -> None:
        self._line, self._at_min = line, at_min
        self._zeros: dict[Like, float] = {}
        self._count = count(1)  # drawn from, not added to: two threads never leave a number that stood there before
        self.looks = 0

    @property
    def key(self) -> int:
        """Stands for what the air is and does from there on."""
        self.looks = next(self._count)
        return self._line.key_from(self._at_min)

    def level(self, system: System, minute: float) -> float:
        """Reference minutes between minute 0 and another one."""
        if minute == 0:
            return 0.0
        self.looks = next(self._count)
        return self._line.level(system, self._at_min + minute) - self._zero(system)

    def _zero(self, system: System) -> float:
        like = self._line.like(system)
        known = self._zeros.get(like)
        if known is None:
            known = self._zeros[like] = self._line.level(system, self._at_min)
        return known

    def reaches(self, system: System, level: float) -> float:
        """The minute at which so many reference minutes lie between minute 0 and it."""
        self.looks = next(self._count)
        return self._line.reaches(system, self._zero(system) + level) - self._at_min


Line = AirLine | Ahead


def _pieces_over(start: datetime, tz_name: str, air: BenchAir, days: int) -> tuple[Piece, ...]:
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


def _air_at(air: BenchAir, at: datetime, tz: ZoneInfo) -> Air:
    for span in air.spans:
        if span.start <= at < span.end:
            return span.air
    if air.night is None:
        return air.day
    clock = f"{at.astimezone(tz):%H:%M}"
    a, b = air.night_from, air.night_to
    is_night = a <= clock < b if a < b else clock >= a or clock < b
    return air.night if is_night else air.day


def _pieces(start: datetime, tz_name: str, air: BenchAir, until_min: float) -> tuple[Piece, ...]:
    wanted = min((until_min + HORIZON_MIN) / 1440, MOST_DAYS) + 1
    return _pieces_over(start, tz_name, air, _MONTHS * math.ceil(wanted / _MONTHS))


def air_line(plan: Plan, until_min: float) -> AirLine:
    """A plan's air up to an instant (minutes since its start) and two months on, for what is still hardening then."""
    months = _MONTHS * math.ceil(max(until_min, 1.0) / 1440 / _MONTHS)  # so that small shifts share a line
    start, tz = plan.build.starts_at, plan.build.timezone
    return _LINES.of(plan.air, lambda: AirLine(_pieces(start, tz, plan.air, months * 1440.0)), start, tz, months)


def hardening_rate(system: System, air: Air) -> float:
    """Reference minutes per minute at this air; 1 at 20 °C, 50 %, still.

    >>> from emvar_core.knowledge import knowledge
    >>> round(hardening_rate(knowledge().systems["enamel"], Air(temp_c=10)), 2)
    0.44
    """
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
