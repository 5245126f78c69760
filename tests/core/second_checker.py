"""A checker that shares nothing with the search: it reads a plan and a schedule, and looks at clocks and calendars.

Minute by minute where that is simplest: it may be slow, and it has to be plain.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise

from emvar_core.assess import assess
from emvar_core.knowledge import knowledge
from emvar_core.plan import Plan, Schedule, known_to
from emvar_core.plan.steps import AnyStep, CoatStep, FittingStep
from emvar_core.vocabulary import Verdict
from holidays import country_holidays

DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
K = knowledge()
MINUTE = timedelta(minutes=1)
AIRBRUSHED = ("mist", "spray", "wet_spray")


@dataclass(frozen=True)
class Done:
    """One step as it is placed."""

    start: datetime
    end: datetime
    step: AnyStep

    @property
    def minutes(self) -> float:
        return (self.end - self.start) / MINUTE


def broken_rules(plan: Plan, made: Schedule, *, seams: bool = True) -> list[str]:
    """What a schedule breaks of what the plan says. `seams`: whether they are judged at its times as well."""
    wrong: list[str] = []
    placed: dict[str, tuple[datetime, datetime]] = {}
    for e in made.placed:
        if placed.setdefault(e.step, (e.starts_at, e.ends_at)) != (e.starts_at, e.ends_at):
            wrong.append(f"{e.step} is in two places")
    steps = {s.id: s for s in plan.steps}
    lacking = {s.id for s in plan.steps if getattr(s, "existing", None) is None} - set(placed)
    wrong += [f"{s} is nowhere" for s in sorted(lacking)]
    work = sorted((Done(a, b, steps[s]) for s, (a, b) in placed.items()), key=lambda w: (w.start, w.end))
    wrong += _hands(work, made)
    for w in work:
        wrong += _when(plan, w)
    wrong += _order(plan, {w.step.id: w for w in work})
    wrong += _eyes(plan, work)
    wrong += _gun(plan, work)
    wrong += _drying(plan, work, made)
    if seams:
        wrong += _chemistry(plan, made)
    return wrong


def _hands(work: list[Done], made: Schedule) -> list[str]:
    busy = [(w.start, w.end, w.step.id) for w in work]
    busy += [(c.starts_at, c.starts_at + c.length_min * MINUTE, "cleaning") for c in made.cleanings]
    return [f"{y[2]} begins before {x[2]} is over" for x, y in pairwise(sorted(busy)) if y[0] < x[1]]


def _sittings(plan: Plan, day: date) -> list[tuple[datetime, datetime]]:
    """When there is bench time from a day on, before anything that takes it."""
    hours, tz = plan.hours, plan.build.tz
    assert hours is not None
    starts = {d.start: d.length_min for d in hours.dates if d.date == day}
    away = any(o.first <= day <= o.last for o in hours.off)
    name: str | None = DAYS[day.weekday()]
    if hours.holidays and day in country_holidays(hours.holidays, years=day.year):
        name = hours.holidays_as.value if hours.holidays_as else None
    for row in hours.weekly:
        if not away and name in [d.value for d in row.days] and f"{day}T{row.start}" not in hours.cancelled:
            starts.setdefault(row.start, row.length_min)
    stretches = []
    for clock, length in starts.items():
        begins = datetime(day.year, day.month, day.day, int(clock[:2]), int(clock[3:]), tzinfo=tz).astimezone(UTC)
        stretches.append((begins, begins + length * MINUTE))
    return stretches


def _when(plan: Plan, w: Done) -> list[str]:
    hours, tz = plan.hours, plan.build.tz
    assert hours is not None
    day = w.start.astimezone(tz).date()
    open_ = _sittings(plan, day) + _sittings(plan, day - timedelta(days=1))
    wrong = []
    at = w.start
    while at < w.end:
        if not any(a <= at < b for a, b in open_):
            wrong.append(f"{w.step.id} is at no bench time at {at.astimezone(tz)}")
            break
        if any(b.start <= at < b.end for b in hours.busy):
            wrong.append(f"{w.step.id} is at a time that is taken")
            break
        at += MINUTE
    sprays = isinstance(w.step, CoatStep) and _method(plan, w.step) in (*AIRBRUSHED, "can")
    if sprays and hours.spray_from is not None and hours.spray_until is not None:
        first, last = (f"{x.astimezone(tz):%H:%M}" for x in (w.start, w.end))
        if first < hours.spray_from or last > hours.spray_until:
            wrong.append(f"{w.step.id} is sprayed at {first}")
    return wrong


def _method(plan: Plan, step: CoatStep) -> str:
    return str((step.method or known_to(plan).coats[step.material].method).value)


def _order(plan: Plan, by: dict[str, Done]) -> list[str]:
    """Order in zones, what a person typed, nights, and no later than."""
    wrong: list[str] = []
    last: dict[str, str] = {}
    tz = plan.build.tz
    for step in plan.steps:
        mine = by.get(step.id)
        for zone in step.zones:
            below = by.get(last.get(zone, ""))
            if mine is not None and below is not None:
                gap = (mine.start - below.end) / MINUTE
                if gap < 0:
                    wrong.append(f"{step.id} comes before {below.step.id}")
                if "wait_by" in step.model_fields_set and step.wait_by == "person" and gap < step.wait_min - 1e-6:
                    wrong.append(f"{step.id} does not wait as it was typed")
                if step.overnight:
                    # Until two in the morning it is still the evening before.
                    night = (below.end.astimezone(tz) - timedelta(hours=2, microseconds=1)).date() + DAY
                    if mine.start < datetime(night.year, night.month, night.day, 6, tzinfo=tz):
                        wrong.append(f"{step.id} does not wait for the morning")
            last[zone] = step.id
        limit = step.no_later if mine is not None else None
        since = by.get(limit.after) if limit is not None else None
        if mine and limit and since and (mine.start - since.end) / MINUTE > limit.than_min + 1e-6:
            wrong.append(f"{step.id} begins too late after {limit.after}")
    return wrong


def _eyes(plan: Plan, work: list[Done]) -> list[str]:
    """Fine work that the plan calls so: never more minutes in a row than may be, rests inside long work included."""
    hours = plan.hours
    assert hours is not None
    if hours.fine_at_most_min is None:
        return []
    wrong, row, ended = [], 0.0, None
    for w in (w for w in work if w.step.fine):
        rests = (w.minutes - w.step.hands_on_min) / hours.rest_min
        if abs(rests - round(rests)) > 1e-6 or w.step.hands_on_min > (round(rests) + 1) * hours.fine_at_most_min:
            wrong.append(f"{w.step.id} has no time for its rests")
        if ended is None or (w.start - ended) / MINUTE >= hours.rest_min:
            row = 0.0
        elif rests < 0.5:
            row += (w.start - ended) / MINUTE  # a pause that is no rest
        if rests < 0.5:
            row += w.minutes
            if row > hours.fine_at_most_min + 1e-6:
                wrong.append(f"{w.step.id}: {row:.0f} min of fine work in a row")
        else:
            if row + hours.fine_at_most_min > hours.fine_at_most_min + 1e-6:
                wrong.append(f"{w.step.id} begins without a rest")
            row = w.step.hands_on_min - round(rests) * hours.fine_at_most_min
        ended = w.end
    return wrong


def _gun(plan: Plan, work: list[Done]) -> list[str]:
    """With one airbrush: time to clean it before another paint, and before the sitting is over."""
    hours = plan.hours
    assert hours is not None
    if plan.kit is not None and len(plan.kit.guns) > 1:
        return []
    wrong = []
    sprayed = [w for w in work if isinstance(w.step, CoatStep) and _method(plan, w.step) in AIRBRUSHED]
    clean, k = hours.cleaning, known_to(plan)
    for w, then in pairwise([*sprayed, None]):
        assert w is not None and isinstance(w.step, CoatStep)
        day = w.start.astimezone(plan.build.tz).date()
        ends = max((b for d in (0, 1) for a, b in _sittings(plan, day - d * DAY) if a <= w.start < b), default=w.end)
        if then is not None and then.start < ends:
            other = then.step
            assert isinstance(other, CoatStep)
            mine = (w.step.material, w.step.mix, w.step.colour)
            if mine == (other.material, other.mix, other.colour):
                continue
            need = clean.like_min if k.coats[w.step.material].system == k.coats[other.material].system else (
                clean.other_min)  # fmt: skip
            until = then.start
        else:
            need, until = clean.other_min, ends
        taken = sum(x.minutes for x in work if w.end <= x.start < until)
        if (until - w.end) / MINUTE - taken < need - 1e-6:
            wrong.append(f"no time to clean the airbrush after {w.step.id}")
    return wrong


DAY = timedelta(days=1)


def _drying(plan: Plan, work: list[Done], made: Schedule) -> list[str]:
    """Parts that are wet at one time: never more than there are places."""
    hours = plan.hours
    assert hours is not None
    if hours.drying_places is None:
        return []
    part = {z.id: z.part or z.id for z in plan.zones}
    assessed = assess(plan, schedule=made)
    spans = []
    for w in work:
        if isinstance(w.step, CoatStep):
            dry = max(c.events["touch"].best for c in assessed.coats.values() if c.step_id == w.step.id)
            until = plan.build.starts_at + dry * MINUTE
            spans += [(w.start, max(until, w.end)) for _ in {part[z] for z in w.step.zones}]
    at_once = max((sum(a <= t < b for a, b in spans) for t, _ in spans), default=0)
    return [f"{at_once} parts dry at one time"] if at_once > hours.drying_places else []


def _chemistry(plan: Plan, made: Schedule) -> list[str]:
    """At the schedule's times nothing has to wait, no window is missed, and no tape stays on for longer than it may."""
    assessed = assess(plan, schedule=made)
    wrong = [
        f"{s.upper_step} on {s.lower_step} has to wait: {s.word}"
        for s in assessed.seams.values()
        if s.missed or (s.verdict is Verdict.WAIT and (s.opens_careful_min or 0) - s.at_min > 3)
    ]
    on: dict[str, tuple[float, float]] = {}
    for step in plan.steps:
        if not isinstance(step, FittingStep):
            continue
        for zone in step.zones:
            if step.action == "mask":
                hours = K.touches[step.material].off_within_h if step.material else None
                on[zone] = assessed.times[step.id].end_min, (hours or 24) * 60
            elif step.action == "unmask" and zone in on:
                since, most = on.pop(zone)
                if assessed.times[step.id].start_min - since > most + 1:
                    wrong.append(f"{step.id} takes its tape off too late")
    return wrong
