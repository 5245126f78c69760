"""A schedule for other programs: iCalendar and CSV. Both only say what the schedule says."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event

from ..plan import Schedule, Sitting, at
from ..vocabulary import when_words
from .agenda import Agenda, times_of
from .net import What

BEFORE_SITTING_MIN = 30
BEFORE_CLOSING_MIN = 60
UID_AT = "emvar"


@dataclass(frozen=True)
class Line:
    """One step in a sitting."""

    step: str
    name: str
    zones: tuple[str, ...]
    start: datetime
    end: datetime


@dataclass(frozen=True)
class Closing:
    """A window that has to be met: what closes, when it opened and when it closes."""

    step: str
    name: str
    below: str
    what: str
    of: str
    opens: datetime
    closes: datetime


@dataclass(frozen=True)
class Page:
    """One sitting with its work in order. Work outside every sitting has a page of its own, without a sitting."""

    sitting: Sitting | None
    lines: tuple[Line, ...]
    cleanings: int
    cleaning_min: float


def pages(agenda: Agenda, schedule: Schedule) -> list[Page]:
    """The sittings that are used, in order of time."""
    plan = agenda.plan
    names = {z.id: z.name for z in plan.zones}
    times = {s: t for s, t in times_of(agenda, schedule).items() if s not in agenda.done}
    lines: dict[str | None, list[Line]] = {}
    by_id = {s.id: s for s in agenda.sittings}
    for step in plan.steps:
        t = times.get(step.id)
        if t is None:
            continue
        line = Line(step.id, step.name, tuple(names[z] for z in step.zones), at(plan, t.start_min), at(plan, t.end_min))
        sitting_id = next((s.id for s in agenda.sittings if s.start <= line.start < s.end), None)
        lines.setdefault(sitting_id, []).append(line)
    pages_ = []
    for key, mine in lines.items():
        sitting = by_id.get(key or "")
        cleanings = [
            c for c in schedule.cleanings if sitting is not None and sitting.start <= c.starts_at < sitting.end
        ]
        ordered = tuple(sorted(mine, key=lambda x: x.start))
        pages_.append(Page(sitting, ordered, len(cleanings), sum(c.length_min for c in cleanings)))
    return sorted(pages_, key=lambda p: p.lines[0].start)


def closings(agenda: Agenda, schedule: Schedule) -> list[Closing]:
    """Windows that close, at the careful edge, by the time of their closing: each the stretch that its step lies in."""
    times = times_of(agenda, schedule)
    closings_ = []
    for link in agenda.net.links:
        if link.what is What.ORDER or link.after in agenda.done or link.before not in times or link.after not in times:
            continue
        opens, closes = agenda.stretch(link, times)
        if closes < math.inf and closes - opens < 60 * 24 * 60:
            task, below = agenda.net.task(link.after), agenda.net.task(link.before)
            # To the whole minute, on the careful side.
            from_, to = at(agenda.plan, math.ceil(opens)), at(agenda.plan, math.floor(closes))
            closings_.append(Closing(task.id, task.name, below.id, link.what.value, below.name, from_, to))
    return sorted(closings_, key=lambda c: c.closes)


def calendar(build_id: str, agenda: Agenda, schedule: Schedule, stamp: datetime) -> bytes:
    """An iCalendar file (RFC 5545): one event a sitting with what is done in it, one a closing window, with alarms.

    Times are in UTC, so that no calendar has to know a time zone; each shows its own wall time.
    """
    plan = agenda.plan
    cal = Calendar()
    cal.add("prodid", "-//Emvar//Sittings//EN")
    cal.add("version", "2.0")
    cal.add("x-wr-calname", plan.build.name)
    for page in pages(agenda, schedule):
        if page.sitting is None:
            continue
        event = Event()
        event.add("uid", f"{build_id}-{page.sitting.id}@{UID_AT}")
        event.add("dtstamp", stamp)
        event.add("dtstart", page.sitting.start)
        event.add("dtend", page.sitting.end)
        event.add("summary", f"{plan.build.name}: {', '.join(x.name for x in page.lines[:3])}"
                  + (f" and {len(page.lines) - 3} more" if len(page.lines) > 3 else ""))  # fmt: skip
        lines = [f"{x.start:%H:%M} {x.name} ({', '.join(x.zones)})" for x in page.lines]
        if page.cleanings:
            lines.append(f"Cleaning the airbrush: {page.cleanings} times, {page.cleaning_min:.0f} min in all.")
        event.add("description", "\n".join(lines))
        _alarm(event, f"{plan.build.name}: {page.lines[0].name} first", BEFORE_SITTING_MIN)
        cal.add_component(event)
    for closing in closings(agenda, schedule):
        event = Event()
        event.add("uid", f"{build_id}-{closing.step}-{closing.below}-{closing.what}-closes@{UID_AT}")
        event.add("dtstamp", stamp)
        event.add("dtstart", closing.closes.astimezone(UTC) - timedelta(minutes=5))
        event.add("dtend", closing.closes.astimezone(UTC))
        event.add("summary", f"Closes: {closing.name}")
        event.add("transp", "TRANSPARENT")
        window = f"“{closing.of}” can be worked from {when_words(closing.opens)} until {when_words(closing.closes)}"
        event.add("description", f"{window} at the careful edge. An estimate: test before you trust it.")
        _alarm(event, f"{closing.name}: its window closes in an hour", BEFORE_CLOSING_MIN)
        cal.add_component(event)
    return bytes(cal.to_ical())


def _alarm(event: Event, words: str, before_min: int) -> None:
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", words)
    alarm.add("trigger", timedelta(minutes=-before_min))
    event.add_component(alarm)


COLUMNS = ("sitting", "start", "end", "minutes", "step", "zones", "kind", "opens", "closes")


def _plain(text: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return "'" + text if text[:1] in "=+-@\t" else text


def table(agenda: Agenda, schedule: Schedule, hours: int = 24) -> str:
    """The schedule as CSV (RFC 4180): a row a step, in order of time, with the window that it has to meet.

    `hours`: times of day by 24 hours, or by 12 with am and pm.
    """
    form = "%Y-%m-%d %I:%M %p" if hours == 12 else "%Y-%m-%d %H:%M"
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    kinds = {s.id: s.kind for s in agenda.plan.steps}
    closes: dict[str, tuple[datetime, datetime]] = {}  # by step: latest opening, earliest closing
    for c in closings(agenda, schedule):
        opens, shuts = closes.get(c.step, (c.opens, c.closes))
        closes[c.step] = max(opens, c.opens), min(shuts, c.closes)
    for page in pages(agenda, schedule):
        for line in page.lines:
            window = closes.get(line.step)
            writer.writerow(
                [
                    page.sitting.id if page.sitting else "",
                    line.start.strftime(form),
                    line.end.strftime(form),
                    round((line.end - line.start) / timedelta(minutes=1)),
                    _plain(line.name),
                    _plain("; ".join(line.zones)),
                    kinds[line.step],
                    window[0].strftime(form) if window else "",
                    window[1].strftime(form) if window else "",
                ]
            )
    return out.getvalue()


def words(agenda: Agenda, schedule: Schedule) -> str:
    """The schedule as plain text, for a terminal."""
    rows = []
    for page in pages(agenda, schedule):
        if page.sitting is None:
            rows.append("Outside your sittings")
        else:
            zone = agenda.plan.build.tz
            rows.append(f"{when_words(page.sitting.start.astimezone(zone))} to "
                        f"{page.sitting.end.astimezone(zone):%H:%M}")  # fmt: skip
        rows += [f"  {x.start:%H:%M}  {x.name} ({', '.join(x.zones)})" for x in page.lines]
        if page.cleanings:
            rows.append(f"         cleaning the airbrush {page.cleanings} times, {page.cleaning_min:.0f} min")
    return "\n".join(rows)
