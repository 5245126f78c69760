"""Calendars read in: an iCalendar file (RFC 5545) as times at which there is no bench time."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo

from dateutil.rrule import rruleset, rrulestr
from icalendar import Calendar

from ..errors import OutOfRange
from ..plan.hours import MOST_BUSY, MOST_DAYS, Busy
from .calendar_out import UID_AT

MOST_BYTES = 5_000_000
MOST_TIMES = 4_000  # of one event that comes again
LONGEST_DAYS = 60


def busy_of(body: bytes, tz: ZoneInfo, since: datetime, days: int = 366) -> list[Busy]:
    """The busy times of a calendar from an instant on, so many days ahead, those that overlap made one.

    Events that are free, cancelled, or our own sittings are left out; so are whole days, which are mostly birthdays and
    holidays, unless they say that they are busy. What comes again is counted out. Times without a zone are the build's.
    Raises OutOfRange for what is no calendar, is too large, or holds more than a plan can.
    """
    if not 1 <= days <= MOST_DAYS:
        raise OutOfRange(f"days: 1 to {MOST_DAYS} can be looked at")
    if len(body) > MOST_BYTES:
        raise OutOfRange(f"calendar: it is larger than {MOST_BYTES // 1_000_000} MB; export a shorter span of it")
    try:
        calendars = Calendar.from_ical(body, multiple=True)
        events: list[Any] = [e for c in calendars for e in c.walk("VEVENT")]
    except (ValueError, TypeError, IndexError, KeyError, UnicodeDecodeError) as error:
        raise OutOfRange("calendar: this is no iCalendar file; export one that ends in .ics") from error
    until = since + timedelta(days=days)
    moved = {(str(e.get("uid")), _instant(e["recurrence-id"].dt, tz)) for e in events if e.get("recurrence-id")}
    found: list[tuple[datetime, datetime, str]] = []
    for event in events:
        if _is_free(event):
            continue
        try:
            spans = list(_spans(event, tz, since, until, moved))
        except (ValueError, TypeError, KeyError, AttributeError, OverflowError):
            continue  # an event that makes no sense takes no time
        found += [(a, b, str(event.get("summary") or "busy")[:60]) for a, b in spans]
    merged = _merged(found)
    if len(merged) > MOST_BUSY:
        raise OutOfRange(f"calendar: it holds {len(merged)} busy times; a build takes {MOST_BUSY} at most")
    return [Busy(start=a, end=b, why=_name(why)) for a, b, why in merged]


def _is_free(event: Any) -> bool:
    free = str(event.get("transp", "")).upper() == "TRANSPARENT" or str(event.get("status", "")).upper() == "CANCELLED"
    ours = str(event.get("uid", "")).endswith(f"@{UID_AT}")
    start = event.get("dtstart")
    if start is None:
        return True
    whole_day = not isinstance(start.dt, datetime)
    says_busy = str(event.get("x-microsoft-cdo-busystatus", "")).upper() in ("BUSY", "OOF")
    says_busy = says_busy or str(event.get("transp", "")).upper() == "OPAQUE"
    return free or ours or (whole_day and not says_busy)


def _instant(when: date | datetime, tz: ZoneInfo) -> datetime:
    if not isinstance(when, datetime):
        when = datetime(when.year, when.month, when.day, tzinfo=tz)
    if when.tzinfo is None:
        when = when.replace(tzinfo=tz)
    return when.astimezone(UTC)


def _spans(
    event: Any, tz: ZoneInfo, since: datetime, until: datetime, moved: set[tuple[str, datetime]]
) -> Iterable[tuple[datetime, datetime]]:
    """When an event takes place between two instants."""
    first = event["dtstart"].dt
    start = _instant(first, tz)
    if event.get("dtend") is not None:
        length = _instant(event["dtend"].dt, tz) - start
    elif event.get("duration") is not None:
        length = event["duration"].dt
    else:
        length = timedelta(days=0 if isinstance(first, datetime) else 1)
    if not timedelta(0) < length <= timedelta(days=LONGEST_DAYS):
        return
    rule = event.get("rrule")
    if rule is None:
        starts: Iterable[datetime] = [start]
    else:
        starts = _again(event, first, tz, since - length, until)
    uid, is_moved = str(event.get("uid")), event.get("recurrence-id") is not None
    for at in starts:
        if at + length > since and at < until and (is_moved or (uid, at) not in moved):
            yield at, at + length


def _again(event: Any, first: date | datetime, tz: ZoneInfo, since: datetime, until: datetime) -> Iterable[datetime]:
    """The starts of an event that comes again, by the wall of its own zone, so that summer time moves it along."""
    zone = (first.tzinfo or tz) if isinstance(first, datetime) else tz
    wall = _instant(first, tz).astimezone(zone).replace(tzinfo=None)
    rules = rruleset()
    text = event["rrule"].to_ical().decode()
    if "UNTIL=" in text:  # the rule is counted by the wall, so its end is too
        kept = [p for p in text.split(";") if not p.startswith("UNTIL=")]
        ends = _instant(event["rrule"]["UNTIL"][0], tz).astimezone(zone).replace(tzinfo=None)
        kept.append(f"UNTIL={ends:%Y%m%dT%H%M%S}")
        text = ";".join(kept)
    rules.rrule(rrulestr(text, dtstart=wall))
    out = event.get("exdate")
    for dates in out if isinstance(out, list) else [out] if out is not None else []:
        for d in dates.dts:
            rules.exdate(_instant(d.dt, tz).astimezone(zone).replace(tzinfo=None))
    low = since.astimezone(zone).replace(tzinfo=None)
    high = until.astimezone(zone).replace(tzinfo=None)
    for at in islice(rules.xafter(low, inc=True), MOST_TIMES):
        if at > high:
            break
        yield at.replace(tzinfo=zone).astimezone(UTC)


def _merged(found: list[tuple[datetime, datetime, str]]) -> list[tuple[datetime, datetime, str]]:
    merged: list[tuple[datetime, datetime, str]] = []
    for a, b, why in sorted(found):
        if merged and a <= merged[-1][1]:
            one, end, known = merged[-1]
            merged[-1] = (one, max(end, b), known if known == why else f"{known}, {why}"[:60])
        else:
            merged.append((a, b, why))
    return merged


def _name(why: str) -> str:
    """A calendar's words as a name that a plan takes."""
    plain = "".join(c for c in why if c.isprintable()).strip()
    return plain or "busy"
