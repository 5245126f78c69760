"""What a drag would break, before letting go: one step put elsewhere, or other hours, the rest shifting right.

What lies on a step goes along with it, also where it was to stay: nothing is put before its coat. Cleaning stays where
it is as far as it can; what is sprayed elsewhere gets its own.
"""

from __future__ import annotations

import math
from datetime import datetime

from ..assess import assess
from ..errors import NotThere
from ..judging import Score, Story
from ..plan import Plan, Record, Schedule, Timing
from ..plan.documents import placed_entries, schedule_times
from ..vocabulary import Model
from .agenda import Agenda, times_of
from .cleaning import cleaned, owed
from .net import What
from .shift import FRESH
from .unfit import Fit, missed_words

NOTICED_MIN = 1.0


class MovedStep(Model):
    """A step that is elsewhere than before. Minutes since the build's start; None: it had, or has, no place."""

    step: str
    before_min: float | None
    after_min: float | None


class UnfitOut(Model):
    """What does not fit, in words; `below` is the step that opened the window. `closes_min` None: it stays open."""

    step: str
    below: str | None
    zones: list[str]
    opened_min: float
    closes_min: float | None
    next_min: float | None
    words: str


class Moved(Model):
    """A schedule as it would be, and what it would break."""

    schedule: Schedule
    moved: list[MovedStep]
    unfit: list[UnfitOut]
    said: list[str]
    finish_min: float
    finish_before_min: float
    score: Score
    stories: list[Story]


def unfit_out(fit: Fit) -> UnfitOut:
    """What does not fit, as it is shown."""
    return UnfitOut(
        step=fit.step, below=fit.below, zones=list(fit.zones), opened_min=fit.opened_min,
        closes_min=fit.closes_min if math.isfinite(fit.closes_min) else None,
        next_min=fit.next_min, words=fit.words,
    )  # fmt: skip


def differences(before: dict[str, Timing], after: dict[str, Timing]) -> list[MovedStep]:
    """What is elsewhere, in the new order of time."""
    moves = []
    for step in before.keys() | after.keys():
        a, b = before.get(step), after.get(step)
        if a is None or b is None or abs(a.start_min - b.start_min) >= NOTICED_MIN:
            moves.append(
                MovedStep(step=step, before_min=a.start_min if a else None, after_min=b.start_min if b else None)
            )
    return sorted(moves, key=lambda m: (m.after_min if m.after_min is not None else 1e12, m.step))


def move(agenda: Agenda, schedule: Schedule, step: str | None = None, start_min: float = 0.0) -> Moved:
    """The schedule with one step started elsewhere (or, without one, played on other hours), the order of times kept.

    The moved step and those pinned stand where they are put, whatever that breaks, but never before what they lie on:
    what would is taken along. The rest starts no earlier than it did. Raises NotThere where the step is not in the
    schedule or is done already.
    """
    left = {s.id for s in agenda.left.steps}  # what was skipped is in the schedule still, and is not moved
    times = {s: t for s, t in times_of(agenda, schedule).items() if s in left}
    if step is not None and (step not in times or step in agenda.done):
        raise NotThere("step that can be moved", step)
    fixed = {s: times[s].start_min for s in schedule.pins if s in times and s not in agenda.done}
    held: list[str] = []
    if step is not None:
        start_min, held = _not_before_its_coat(agenda, times, step, start_min)
        fixed[step] = start_min
    wish = {s: t.start_min for s, t in times.items() if s not in agenda.done} | fixed
    for link in agenda.net.links:
        # What works on a coat comes along with it.
        if link.before == step and link.what is What.WINDOW and link.after in wish and link.after not in fixed:
            wish[link.after] += start_min - times[link.before].start_min
    loose = _taken_along(agenda, wish, fixed, step)
    place = {t.id: i for i, t in enumerate(agenda.net.tasks)}
    under = _under(agenda, step)
    order = sorted(wish, key=lambda s: (wish[s], s not in under, s != step, place[s]))
    out = agenda.shifter(grid_min=5).in_order(
        order, not_before=wish, done={s: t.end_min for s, t in agenda.done.items()}, since=agenda.since, fixed=fixed,
        owes=owed(agenda, order, wish),
    )  # fmt: skip
    after = {s: Timing(a, out.ends[s]) for s, a in out.starts.items()}
    stays = "was to stay where it was; it lies on what is moved, and goes along."
    said = held + [f"“{agenda.net.task(s).name}” {stays}" for s in loose]
    cleanings, uncleaned = cleaned(agenda, schedule, after)
    said += _said(agenda, step, after)
    said += _strain(agenda, after)
    said += [f"There is no time to clean the airbrush after “{agenda.net.task(s).name}”." for s in uncleaned]
    said += [f"“{agenda.net.task(s).name}” finds no sitting any more." for s in out.unplaced]
    entries = placed_entries(agenda.left, after)
    pins = sorted((set(schedule.pins) | ({step} if step is not None else set())) - set(loose))
    changed = Schedule(placed=entries, cleanings=cleanings, pins=pins, made_by="hand")
    assessed = assess(agenda.plan, schedule=changed, record=agenda.record, opens=False)
    whole = after | agenda.done
    return Moved(
        schedule=changed,
        moved=differences(times, whole),
        unfit=[unfit_out(f) for f in missed_words(agenda, out.missed, whole)],
        said=said,
        finish_min=max((t.end_min for t in whole.values()), default=0.0),
        finish_before_min=max((t.end_min for t in times.values()), default=0.0),
        score=assessed.score,
        stories=assessed.stories,
    )


def _under(agenda: Agenda, step: str | None) -> set[str]:
    """The steps that a step follows in its zones, all the way down."""
    below, under = _below(agenda), set()
    stack = list(below.get(step or "", ()))
    while stack:
        top = stack.pop()
        if top not in under:
            under.add(top)
            stack += below.get(top, ())
    return under


def _below(agenda: Agenda) -> dict[str, list[str]]:
    """The steps right below each, in its zones."""
    below: dict[str, list[str]] = {}
    for link in agenda.net.links:
        if link.what is What.ORDER:
            below.setdefault(link.after, []).append(link.before)
    return below


def _taken_along(agenda: Agenda, wish: dict[str, float], fixed: dict[str, float], step: str | None) -> list[str]:
    """Moves the wishes of what lies on a step behind it; those that were to stay are let go, and given back."""
    below = _below(agenda)
    loose = []
    for task in agenda.net.tasks:  # in the plan's order, so that what lies below is known
        if task.id not in wish:
            continue
        ends = [wish[b] + agenda.net.task(b).minutes for b in below.get(task.id, ()) if b in wish]
        if not ends or wish[task.id] >= max(ends) - 1e-6 or task.id == step:
            continue
        wish[task.id] = max(ends)
        if fixed.pop(task.id, None) is not None:
            loose.append(task.id)
    return loose


def _not_before_its_coat(
    agenda: Agenda, times: dict[str, Timing], step: str, start_min: float
) -> tuple[float, list[str]]:
    """A start that does not come before the steps that it follows in its zones, and what is said where it would."""
    below_it = (k.before for k in agenda.net.links if k.after == step and k.what is What.ORDER and k.before in times)
    ends = [(times[b].end_min, b) for b in below_it]
    last, below = max(ends, default=(-math.inf, ""))
    if start_min >= last - 1e-6:
        return start_min, []
    name, under = agenda.net.task(step).name, agenda.net.task(below).name
    return last, [f"“{name}” cannot come before “{under}”: it is put right after it."]


def _said(agenda: Agenda, step: str | None, after: dict[str, Timing]) -> list[str]:
    """What a hand-placed step does to hands and hours."""
    if step is None or step not in after:
        return []
    said, mine = [], after[step]
    name = agenda.net.task(step).name
    if not any(a <= mine.start_min and mine.end_min <= b + 1e-6 for a, b in agenda.stretches):
        said.append(f"“{name}” would lie outside your sittings.")
    for other, t in after.items():
        if other != step and t.start_min < mine.end_min - 1e-6 and mine.start_min < t.end_min - 1e-6:
            said.append(f"“{agenda.net.task(other).name}” needs your hands at the same time.")
    if agenda.net.task(step).sprays and not agenda.may_spray(mine.start_min, mine.end_min):
        said.append(f"“{name}” would be sprayed outside your hours of spraying.")
    for link in agenda.net.links:
        if link.before == step and link.after in after and after[link.after].start_min < mine.end_min - 1e-6:
            said.append(f"“{agenda.net.task(link.after).name}” would come before it.")
        if link.after == step and link.before in after and mine.start_min < after[link.before].end_min - 1e-6:
            said.append(f"It would come before “{agenda.net.task(link.before).name}”, which lies below it.")
    return list(dict.fromkeys(said))


def _strain(agenda: Agenda, after: dict[str, Timing]) -> list[str]:
    """Fine work without its rest, and more parts that dry than there are places for."""
    said, row = [], FRESH
    for step in sorted(after, key=lambda s: after[s].start_min):
        task, t = agenda.net.task(step), after[step]
        if step not in agenda.done and row.rested(task, t.start_min, agenda.rows) > t.start_min + 1e-6:
            said.append(f"“{task.name}” would come without a rest before it.")
        row = row.on(task, t.start_min, t.end_min - t.start_min, agenda.rows)
    places = agenda.hours.drying_places
    if places is not None:
        wet = [(t.start_min, agenda.touch_dry(s, t.end_min), agenda.net.task(s)) for s, t in after.items()
               if agenda.net.task(s).coat and s not in agenda.done]  # fmt: skip
        for start, _, task in sorted(wet, key=lambda w: w[0]):
            count = sum(other.pieces for a, b, other in wet if a <= start < b)
            if count > places:
                said.append(f"With “{task.name}”, {count} parts would dry at one time; you have {places} places.")
                break
    return said


def agenda_of(
    plan: Plan, schedule: Schedule | None, record: Record | None,
    taken: list[tuple[datetime, datetime]] | None = None,
) -> Agenda:  # fmt: skip
    """A bench with the pins of its schedule. `taken`: what other builds take of the same pair of hands."""
    pins: dict[str, float] = {}
    if schedule is not None and schedule.pins:
        times = schedule_times(plan, schedule)
        pins = {s: times[s].start_min for s in schedule.pins if s in times}
    return Agenda(plan, record, pins, taken or [])
