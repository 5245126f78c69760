"""What may make a schedule fit: small changes of plan or hours. None is tried here."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..ids import slug
from ..plan import (
    AnyEdit,
    AnyStep,
    CoatStep,
    Hours,
    Plan,
    Sitting,
    WorkingStep,
    area_together,
    at,
    default_mix,
    known_to,
    minutes_since_start,
)
from ..plan.documents import split_workers
from ..plan.edits import SetField, SetHours, SplitStep
from ..plan.hours import WEEK, Dated, Weekly, instant
from ..vocabulary import DAY_NAMES, Weekday, day_words
from .agenda import Agenda, hours_of
from .unfit import Fit

WAKING = (7, 23)  # hours by the wall between which an extra sitting is offered
LEAST_SITTING_MIN = 15
LONGER_AT_MOST_MIN = 240
LOOKED_AT_DAYS = 14


@dataclass(frozen=True)
class Idea:
    """A change that is not tried yet. `extra_min`: bench time that it costs; `unpin`: what may move again.

    `each`: a weekday and a time of day whose sittings cost that each time.
    """

    title: str
    edits: list[AnyEdit]
    extra_min: float = 0.0
    unpin: tuple[str, ...] = ()
    each: tuple[Weekday, str] | None = None


def clock_words(plan: Plan, minute: float) -> str:
    """A day and a time as a title says them."""
    then = at(plan, minute)
    return f"{day_words(then)}, {then:%H:%M}"


def up5(minute: float) -> float:
    """Up to the next five minutes."""
    return math.ceil(minute / 5 - 1e-6) * 5


def _with_sitting(hours: Hours, when: datetime, length: float) -> Hours:
    dated = Dated(date=when.date(), start=f"{when:%H:%M}", length_min=int(max(length, LEAST_SITTING_MIN)))
    kept = [d for d in hours.dates if (d.date, d.start) != (dated.date, dated.start)]
    return hours.model_copy(update={"dates": [*kept, dated]})


LOOKED_AT_MIN = 14 * 1440.0  # for a sitting of its own, where a window stays open


def _extra_sitting(agenda: Agenda, fit: Fit, need: float) -> Iterator[Idea]:
    """A sitting of its own while the window is open, at a waking hour: the first one, and the last."""
    plan, hours = agenda.plan, hours_of(agenda.plan)
    openings: list[float] = []
    minute = up5(max(fit.opened_min, agenda.since))
    until = min(fit.closes_min, minute + LOOKED_AT_MIN)
    while minute + need <= until + 1e-6:
        here, end = at(plan, minute), at(plan, minute + need)
        if WAKING[0] <= here.hour and end.hour < WAKING[1] and end.date() == here.date():
            openings.append(minute)
        minute += 30
    for minute in dict.fromkeys([*openings[:1], *openings[-1:]]):
        changed = _with_sitting(hours, at(plan, minute), up5(need))
        title = f"Find {up5(need):.0f} min on {clock_words(plan, minute)}"
        yield Idea(title, [SetHours(hours=changed)], need)


def _stay_longer(agenda: Agenda, fit: Fit, need: float) -> Iterator[Idea]:
    """The sitting that opened the window, long enough to close it; or the next one begun earlier."""
    plan, hours = agenda.plan, hours_of(agenda.plan)
    for sitting, (a, b) in zip(agenda.sittings, agenda.stretches, strict=True):
        wanted = up5(fit.opened_min + need)
        if a <= fit.opened_min and b < wanted <= min(fit.closes_min + 1, b + LONGER_AT_MOST_MIN):
            more = wanted - b
            changed = _with_sitting(hours, sitting.start.astimezone(plan.build.tz), sitting.minutes + more)
            title = f"Stay {more:.0f} min longer on {day_words(at(plan, a))}"
            yield Idea(title, [SetHours(hours=changed)], more)
        if a > fit.closes_min - need:
            start = math.floor((fit.closes_min - need) / 5) * 5
            if start >= max(fit.opened_min, agenda.since) and a - start <= LONGER_AT_MOST_MIN:
                changed = _with_sitting(hours, at(plan, start), b - start)
                title = f"Begin {a - start:.0f} min earlier on {day_words(at(plan, a))}"
                yield Idea(title, [SetHours(hours=changed)], a - start)
            return


def _let_move(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """What is pinned may move again."""
    for step_id in (fit.below, fit.step):
        if step_id is None or step_id not in agenda.pins:
            continue
        step = agenda.left.step(step_id)
        assert step is not None
        edits: list[AnyEdit] = []
        if step.fixed_start is not None:
            edits.append(SetField(step_id=step_id, field="fixed_start", absent=True))
        yield Idea(f"Move “{step.name}”", edits, 0.0, (step_id,))


def _swap(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """Another material for the coat whose window is too short."""
    below = agenda.left.step(fit.below) if fit.below else None
    worker = agenda.left.step(fit.step)
    if not isinstance(below, CoatStep) or not isinstance(worker, WorkingStep) or below.id in agenda.done:
        return
    k = known_to(agenda.plan)
    was = k.coats[below.material]
    for coat in k.coats.values():
        system = k.systems[coat.system]
        if coat.id == was.id or coat.use is not was.use or worker.action not in system.windows:
            continue
        mix = default_mix(k, coat.id)
        edits: list[AnyEdit] = [
            SetField(step_id=below.id, field="material", value=coat.id),
            SetField(step_id=below.id, field="mix", value=mix.model_dump(mode="json"))
            if mix
            else SetField(step_id=below.id, field="mix", absent=True),
        ]
        yield Idea(f"{coat.name} in place of {was.name.lower()}", edits)


def _split(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """Work that is longer than any sitting, or more parts than can dry, in as many goes as it takes, zone by zone."""
    step = agenda.left.step(fit.step)
    if step is None or len(step.zones) < 2:
        return
    goes = _goes(agenda, step)
    if len(goes) < 2:
        return
    names = {z.id: z.name for z in agenda.plan.zones}
    if len(goes) == 2:
        title = f"Split “{step.name}”: {', '.join(names[z] for z in goes[0])} in a go of its own"
    else:
        title = f"Split “{step.name}” into {len(goes)} goes: " + "; ".join(", ".join(names[z] for z in g) for g in goes)
    yield Idea(title, _parted(agenda, step, goes))


def _parted(agenda: Agenda, step: AnyStep, lots: list[list[str]]) -> list[AnyEdit]:
    """A step in lots of its zones, and what works on it with them; their time at the bench shared out by area."""
    taken = {s.id for s in agenda.plan.steps}
    edits: list[AnyEdit] = []
    for n, zones in enumerate(lots[1:], 2):
        new = slug(f"{step.id}-{n}", taken)
        taken.add(new)
        edits.append(SplitStep(step_id=step.id, zones=zones, new_id=new))
        edits += split_workers(agenda.left, step, zones, new, taken)
    return edits + _hands_shared(agenda, edits)


def _areas(agenda: Agenda) -> dict[str, float]:
    """By what the work of a step is shared out: the areas of zones, or alike where they are not given."""
    given = area_together(agenda.plan.zones) is not None
    return {z.id: (z.area_cm2 or 1.0) if given else 1.0 for z in agenda.plan.zones}


def _goes(agenda: Agenda, step: AnyStep) -> list[list[str]]:
    """Zones put together, in their order, as far as a sitting and the drying places hold them; none where one alone
    is too much for either.
    """
    task, areas = agenda.net.task(step.id), _areas(agenda)
    whole = sum(areas[z] for z in step.zones)
    clean = agenda.hours.cleaning.other_min if task.mix else 0
    longest = max(b - a for a, b in agenda.stretches)
    pieces = {z.id: z.piece for z in agenda.plan.zones}
    places = agenda.hours.drying_places if task.coat else None

    def fits(zones: list[str]) -> bool:
        minutes = up5(step.hands_on_min * sum(areas[z] for z in zones) / whole) + clean
        return minutes <= longest + 1e-6 and (places is None or len({pieces[z] for z in zones}) <= places)

    if not all(fits([z]) for z in step.zones):
        return []
    goes: list[list[str]] = []
    for zone in step.zones:
        if goes and fits([*goes[-1], zone]):
            goes[-1].append(zone)
        else:
            goes.append([zone])
    return goes


def _longer_sitting(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """One sitting as long as the work."""
    task = agenda.net.task(fit.step)
    need = up5(task.minutes + (agenda.hours.cleaning.other_min if task.mix else 0))
    for sitting in sorted(agenda.sittings[:14], key=lambda s: -s.minutes)[:2]:
        more = need - sitting.minutes
        if more <= 0:
            continue
        start = sitting.start.astimezone(agenda.plan.build.tz)
        changed = _with_sitting(hours_of(agenda.plan), start, need)
        yield Idea(f"Make {day_words(start)} {more:.0f} min longer", [SetHours(hours=changed)], more)


def _batches(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """A coat and what works on it in batches, zones by zones: each lot is worked before its coat closes."""
    plan, worker = agenda.left, agenda.left.step(fit.step)
    coat = plan.step(worker.acts_on) if isinstance(worker, WorkingStep) else None
    if not isinstance(coat, CoatStep) or coat.id in agenda.done or len(coat.zones) < 2:
        return
    names = {z.id: z.name for z in plan.zones}
    for many in dict.fromkeys((2, len(coat.zones))):
        lots = _lots(agenda, coat, many)
        told = "; ".join(", ".join(names[z] for z in lot) for lot in lots)
        yield Idea(f"“{coat.name}” and what works on it in {many} batches: {told}", _parted(agenda, coat, lots))


def _lots(agenda: Agenda, step: AnyStep, many: int) -> list[list[str]]:
    """The zones of a step in so many lots, in their order, of about the same area."""
    areas = _areas(agenda)
    whole = sum(areas[z] for z in step.zones)
    lots: list[list[str]] = [[]]
    so_far = 0.0
    for n, zone in enumerate(step.zones):
        left, lacking = len(step.zones) - n, many - len(lots)
        full = so_far + areas[zone] / 2 > whole * len(lots) / many
        if lots[-1] and lacking and (full or left <= lacking):
            lots.append([])
        lots[-1].append(zone)
        so_far += areas[zone]
    return lots


def _hands_shared(agenda: Agenda, edits: list[AnyEdit]) -> list[AnyEdit]:
    """The time at the bench of what is split, shared out by area."""
    shares: list[AnyEdit] = []
    parts: dict[str, list[tuple[str, list[str]]]] = {}
    for e in edits:
        if isinstance(e, SplitStep):
            parts.setdefault(e.step_id, []).append((e.new_id, e.zones))
    for step_id, split in parts.items():
        step = agenda.left.step(step_id)
        assert step is not None
        areas = _areas(agenda)
        gone = {z for _, zones in split for z in zones}
        whole = sum(areas[z] for z in step.zones)
        for part, zones in [(step_id, [z for z in step.zones if z not in gone]), *split]:
            minutes = up5(step.hands_on_min * sum(areas[z] for z in zones) / whole)
            shares.append(SetField(step_id=part, field="hands_on_min", value=minutes))
    return shares


def _weekly_of(hours: Hours, sitting: Sitting) -> int | None:
    """The row of the week that a sitting comes from; None where it is a single one, or a rest of one."""
    day, clock = sitting.id.split("T")
    if any(f"{d.date}T{d.start}" == sitting.id for d in hours.dates):
        return None
    name = WEEK[datetime.fromisoformat(day).weekday()]
    return next((i for i, w in enumerate(hours.weekly) if w.start == clock and name in w.days), None)


def _with_row(hours: Hours, row: int, day: Weekday, other: Weekly | None) -> Hours:
    """The hours with one day of a row as another row; None: without it."""
    was = hours.weekly[row]
    kept = [w for i, w in enumerate(hours.weekly) if i != row]
    days = [d for d in was.days if d is not day]
    rows = [*kept, *([was.model_copy(update={"days": days})] if days else []), *([other] if other else [])]
    return hours.model_copy(update={"weekly": rows})


def _other_evenings(agenda: Agenda, fit: Fit, need: float) -> Iterator[Idea]:
    """The sitting that comes too late, on a day on which the window is open: this once, and every week."""
    plan, hours = agenda.plan, hours_of(agenda.plan)
    each = zip(agenda.sittings, agenda.stretches, strict=True)
    late = next((s for s, (a, _) in each if a > fit.closes_min - need), None)
    row = _weekly_of(hours, late) if late is not None else None
    if late is None or row is None:
        return
    tz, was = plan.build.tz, late.start.astimezone(plan.build.tz)
    taken = {s.start.astimezone(tz).date() for s in agenda.sittings}
    first = max(fit.opened_min, agenda.since)
    for day in (at(plan, first).date() + timedelta(days=n) for n in range(LOOKED_AT_DAYS)):
        begins = instant(day, hours.weekly[row].start, tz)
        minute = minutes_since_start(plan, begins)
        if minute + need > fit.closes_min:
            return
        if minute < first or day in taken:
            continue
        dated = Dated(date=day, start=hours.weekly[row].start, length_min=hours.weekly[row].length_min)
        once = hours.model_copy(update={"cancelled": [*hours.cancelled, late.id], "dates": [*hours.dates, dated]})
        yield Idea(f"Sit on {day_words(begins.astimezone(tz))} in place of {day_words(was)}", [SetHours(hours=once)])
        old, new = WEEK[was.weekday()], WEEK[day.weekday()]
        if old is not new:
            other = hours.weekly[row].model_copy(update={"days": [new]})
            title = f"{DAY_NAMES[new]}s in place of {DAY_NAMES[old]}s, every week"
            yield Idea(title, [SetHours(hours=_with_row(hours, row, old, other))])
        return


def _longer_row(agenda: Agenda, fit: Fit, need: float) -> Iterator[Idea]:
    """The sittings of a weekday longer, every week: for what comes up again and again."""
    hours = hours_of(agenda.plan)
    for sitting, (a, b) in zip(agenda.sittings, agenda.stretches, strict=True):
        if a > fit.opened_min:
            return
        wanted = up5(fit.opened_min + need)
        row = _weekly_of(hours, sitting)
        if not (b < wanted <= min(fit.closes_min + 1, b + LONGER_AT_MOST_MIN)) or row is None:
            continue
        yield from _every_week(agenda, sitting, row, wanted - b)
        return


def _every_week(agenda: Agenda, sitting: Sitting, row: int, more: float) -> Iterator[Idea]:
    plan, hours = agenda.plan, hours_of(agenda.plan)
    was = hours.weekly[row]
    day = WEEK[sitting.start.astimezone(plan.build.tz).weekday()]
    if was.length_min + more > 1440:
        return
    longer = was.model_copy(update={"days": [day], "length_min": int(was.length_min + more)})
    title = f"Make every {DAY_NAMES[day]} {more:.0f} min longer"
    yield Idea(title, [SetHours(hours=_with_row(hours, row, day, longer))], more, each=(day, was.start))


def _longer_weeks(agenda: Agenda, unfit: tuple[Fit, ...]) -> Iterator[Idea]:
    """One weekday's sittings as long as the longest work of all that is too long, every week."""
    tasks, hours = [agenda.net.task(f.step) for f in unfit if f.below is None], hours_of(agenda.plan)
    need = up5(max(t.minutes + (agenda.hours.cleaning.other_min if t.mix else 0) for t in tasks))
    for sitting in sorted(agenda.sittings[:14], key=lambda s: -s.minutes)[:1]:
        row = _weekly_of(hours, sitting)
        if row is not None and need > sitting.minutes:
            yield from _every_week(agenda, sitting, row, need - sitting.minutes)


def _longer_spraying(agenda: Agenda, fit: Fit) -> Iterator[Idea]:
    """The hours of spraying as long as the work, where these are what it does not fit into."""
    task, hours = agenda.net.task(fit.step), hours_of(agenda.plan)
    if agenda.sprays is None or not task.sprays:
        return
    for sitting, (a, b) in zip(agenda.sittings[:14], agenda.stretches, strict=False):
        if b - a < task.minutes + (agenda.hours.cleaning.other_min if task.mix else 0):
            continue
        tz = agenda.plan.build.tz
        begins, ends = sitting.start.astimezone(tz), at(agenda.plan, a + up5(task.minutes))
        if ends.date() != begins.date():
            continue
        from_ = min(hours.spray_from or "23:59", f"{begins:%H:%M}")
        until = max(hours.spray_until or "00:00", f"{ends:%H:%M}")
        changed = hours.model_copy(update={"spray_from": from_, "spray_until": until})
        yield Idea(f"Allow spraying from {from_} to {until}", [SetHours(hours=changed)])
        return


def ideas(agenda: Agenda, unfit: tuple[Fit, ...]) -> list[Idea]:
    """Small changes that may help with what does not fit, each once."""
    return list({idea.title: idea for idea in _ideas(agenda, unfit)}.values())


def _ideas(agenda: Agenda, unfit: tuple[Fit, ...]) -> Iterator[Idea]:
    for fit in unfit[:2]:
        task = agenda.net.task(fit.step)
        need = task.minutes + (agenda.hours.cleaning.other_min if task.mix else 0)
        yield from _let_move(agenda, fit)
        if fit.below is None:
            yield from _split(agenda, fit)
            yield from _longer_spraying(agenda, fit)
            yield from _longer_sitting(agenda, fit)
            yield from _longer_weeks(agenda, unfit)
            continue
        yield from _batches(agenda, fit)
        yield from _other_evenings(agenda, fit, need)
        yield from _stay_longer(agenda, fit, need)
        yield from _extra_sitting(agenda, fit, need)
        yield from _longer_row(agenda, fit, need)
        yield from _swap(agenda, fit)
