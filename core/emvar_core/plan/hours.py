"""When there is bench time: weekly sittings, single dates, days off, public holidays, in the build's own wall time.

A sitting starts by the wall clock and lasts so many real minutes: where the clock changes in between, its end by the
wall moves, not its length. A start that the clock skips in spring is taken an hour later; one that it shows twice in
autumn is the first of the two.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from typing import Annotated
from zoneinfo import ZoneInfo

from pydantic import AfterValidator, Field, StringConstraints, field_validator, model_validator

from ..errors import OutOfRange
from ..memory import MEMORY
from ..vocabulary import Clock, Goal, Instant, Model, Name, Weekday

MOST_DAYS = 800
MOST_BUSY = 2000
_LISTED = MEMORY.door("sittings of some hours", 20)


SittingId = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$")]


WEEK = list(Weekday)
Length = Annotated[int, Field(ge=5, le=1440)]
Day = Annotated[date, Field(ge=date(1990, 1, 1), le=date(2199, 12, 31))]


class Weekly(Model):
    """Sittings that come every week on some days."""

    days: Annotated[list[Weekday], Field(min_length=1, max_length=7)]
    start: Clock
    length_min: Length


class Dated(Model):
    """One sitting on one date. It replaces whatever else would start at the same minute."""

    date: Day
    start: Clock
    length_min: Length


class Off(Model):
    """Days without any weekly sitting, both ends included. Single dates still count."""

    first: Day
    last: Day
    why: Name | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Off:
        if self.last < self.first:
            raise ValueError("last must not be before first")
        return self


class Busy(Model):
    """A time at which there is no bench time whatever the week says; of a calendar that was read in, say."""

    start: Instant
    end: Instant
    why: Name | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Busy:
        if self.end <= self.start:
            raise ValueError("end must come after start")
        return self


class Cleaning(Model):
    """What cleaning an airbrush takes, minutes: like to like, dark to light, another system or the end of a sitting.

    Common practice: 1–3, 3–5 and 10–15 minutes.
    """

    like_min: Annotated[int, Field(ge=0, le=120)] = 2
    dark_to_light_min: Annotated[int, Field(ge=0, le=120)] = 4
    other_min: Annotated[int, Field(ge=0, le=240)] = 12


def _known_country(code: str) -> str:
    from holidays import list_supported_countries

    if code not in list_supported_countries(include_aliases=False):
        raise ValueError(f"'{code[:20]}' is no country whose public holidays are known; use two letters such as PT")
    return code


class Hours(Model):
    """The calendar of one bench, and what its schedules aim for.

    `cancelled`: single weekly sittings that do not take place, by date and start.
    `patience_h`: how long a schedule waits to be rid of a caution; clashes and waits are always waited for.
    `drying_places`: how many parts can dry at one time; none: no limit.
    `busy`: times that are taken. `spray_from`, `spray_until`: between which times of day the compressor may run.
    `fine_at_most_min`: how long fine work may go on without a rest of `rest_min` in between; none: no limit.
    `shared`: what other builds with shared hours have planned takes the same pair of hands.
    """

    weekly: Annotated[list[Weekly], Field(max_length=50)] = []
    cancelled: Annotated[list[SittingId], Field(max_length=500)] = []
    dates: Annotated[list[Dated], Field(max_length=500)] = []
    off: Annotated[list[Off], Field(max_length=200)] = []
    holidays: Annotated[str, Field(max_length=3), AfterValidator(_known_country)] | None = None
    holidays_as: Weekday | None = None
    cleaning: Cleaning = Cleaning()
    drying_places: Annotated[int, Field(ge=1, le=500)] | None = None
    patience_h: Annotated[float, Field(ge=0, le=240)] = 24
    goals: Annotated[list[Goal], Field(min_length=1, max_length=4)] = list(Goal)
    busy: Annotated[list[Busy], Field(max_length=MOST_BUSY)] = []
    spray_from: Clock | None = None
    spray_until: Clock | None = None
    fine_at_most_min: Annotated[int, Field(ge=5, le=480)] | None = None
    rest_min: Annotated[int, Field(ge=5, le=240)] = 10
    shared: bool = False

    @model_validator(mode="after")
    def _sprays(self) -> Hours:
        if (self.spray_from is None) != (self.spray_until is None):
            raise ValueError("spray_from and spray_until are given together")
        if self.spray_from is not None and self.spray_until is not None and self.spray_until <= self.spray_from:
            raise ValueError("spray_until must come after spray_from, on the same day")
        return self

    @field_validator("goals")
    @classmethod
    def _each_once(cls, goals: list[Goal]) -> list[Goal]:
        if len(set(goals)) != len(goals):
            raise ValueError("a goal is named twice")
        return goals


USUAL = Hours(
    weekly=[
        Weekly(days=[Weekday.TUE, Weekday.THU], start="19:30", length_min=120),
        Weekly(days=[Weekday.SAT], start="10:00", length_min=240),
        Weekly(days=[Weekday.SUN], start="10:00", length_min=180),
    ]
)


@dataclass(frozen=True)
class Sitting:
    """A stretch of bench time. `id` is its date and start by the wall."""

    id: str
    start: datetime
    end: datetime

    @property
    def minutes(self) -> int:
        return round((self.end - self.start) / timedelta(minutes=1))


def instant(day: date, clock: str, tz: ZoneInfo) -> datetime:
    """A wall-clock time as an instant (UTC). What the clock skips is moved on; what it shows twice is the first."""
    hour, minute = map(int, clock.split(":"))
    # Going to UTC with the fold before the change moves a skipped time on by the length of the gap.
    return datetime(day.year, day.month, day.day, hour, minute, tzinfo=tz, fold=0).astimezone(UTC)


@lru_cache(maxsize=64)
def _holidays(country: str, year: int) -> frozenset[date]:
    from holidays import country_holidays

    return frozenset(country_holidays(country, years=year))


def _on(hours: Hours, day: date) -> Iterable[tuple[str, int]]:
    """Start and length of the sittings that start on a day."""
    dated = {d.start: d.length_min for d in hours.dates if d.date == day}
    lengths = dict(dated)
    if not any(o.first <= day <= o.last for o in hours.off):
        weekday: Weekday | None = WEEK[day.weekday()]
        if hours.holidays is not None and day in _holidays(hours.holidays, day.year):
            weekday = hours.holidays_as
        for weekly in hours.weekly:
            if weekday in weekly.days and f"{day}T{weekly.start}" not in hours.cancelled:
                lengths.setdefault(weekly.start, weekly.length_min)
    return sorted(lengths.items())


def sittings(hours: Hours, tz: ZoneInfo, since: datetime, until: datetime) -> list[Sitting]:
    """All sittings that end after `since` and start before `until`, in order; those that overlap are made one.

    Raises OutOfRange where the two are more than `MOST_DAYS` apart.
    """
    if until - since > timedelta(days=MOST_DAYS):
        raise OutOfRange(f"at most {MOST_DAYS} days can be looked at")
    found: tuple[Sitting, ...] = _LISTED.of(hours, lambda: tuple(_listed(hours, tz, since, until)), tz, since, until)
    return list(found)


def _listed(hours: Hours, tz: ZoneInfo, since: datetime, until: datetime) -> list[Sitting]:
    day, last = since.astimezone(tz).date() - timedelta(days=1), until.astimezone(tz).date()
    listed: list[Sitting] = []
    while day <= last:
        for clock, length in _on(hours, day):
            start = instant(day, clock, tz)
            sitting = Sitting(f"{day}T{clock}", start, start + timedelta(minutes=length))
            if listed and sitting.start <= listed[-1].end:
                end = max(listed[-1].end, sitting.end)
                listed[-1] = Sitting(listed[-1].id, listed[-1].start, end)
            else:
                listed.append(sitting)
        day += timedelta(days=1)
    listed = [s for s in listed if s.end > since and s.start < until]
    return free_of(listed, [(b.start, b.end) for b in hours.busy], tz) if hours.busy else listed


SHORTEST_MIN = 5  # a rest of a sitting that is worth sitting down for


def free_of(listed: list[Sitting], taken: list[tuple[datetime, datetime]], tz: ZoneInfo) -> list[Sitting]:
    """What is left of sittings where some of the time is taken. A rest has the id of its own date and start."""
    taken = sorted((a, b) for a, b in taken if b > a)
    left: list[Sitting] = []
    for sitting in listed:
        at = sitting.start
        for a, b in taken:
            if b <= at or a >= sitting.end:
                continue
            if a - at >= timedelta(minutes=SHORTEST_MIN):
                left.append(_rest(sitting, at, a, tz))
            at = max(at, b)
        if sitting.end - at >= timedelta(minutes=SHORTEST_MIN):
            left.append(_rest(sitting, at, sitting.end, tz))
    return left


def _rest(sitting: Sitting, start: datetime, end: datetime, tz: ZoneInfo) -> Sitting:
    if start == sitting.start:
        return Sitting(sitting.id, start, end)
    wall = start.astimezone(tz)
    if wall.second or wall.microsecond:  # a sitting begins at a whole minute
        start += timedelta(seconds=60 - wall.second, microseconds=-wall.microsecond)
        wall = start.astimezone(tz)
    return Sitting(f"{wall:%Y-%m-%dT%H:%M}", start, end)


def spray_stretches(hours: Hours, tz: ZoneInfo, since: datetime, until: datetime) -> list[tuple[datetime, datetime]]:
    """When the compressor may run, day by day; nothing where there is no such limit."""
    if hours.spray_from is None or hours.spray_until is None:
        return []
    day, last = since.astimezone(tz).date() - timedelta(days=1), until.astimezone(tz).date()
    stretches = []
    while day <= last:
        stretches.append((instant(day, hours.spray_from, tz), instant(day, hours.spray_until, tz)))
        day += timedelta(days=1)
    return stretches
