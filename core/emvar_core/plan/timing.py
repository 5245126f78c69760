"""When each step of a plan starts and ends, by the plan's own waits."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from ..errors import Problem
from ..memory import MEMORY
from ..vocabulary import when_words
from .hours import instant
from .model import Plan
from .steps import AnyStep

_TIMED = MEMORY.door("times of a plan", 12)


@dataclass(slots=True)
class Timing:
    """Start and end of a step in minutes since the build's start."""

    start_min: float
    end_min: float


def minutes_since_start(plan: Plan, at: datetime) -> float:
    """Elapsed minutes between the build's start and an instant."""
    return (at - plan.build.starts_at) / timedelta(minutes=1)


def at(plan: Plan, minute: float) -> datetime:
    """A minute since the build's start as an instant in the build's own time zone."""
    return (plan.build.starts_at + timedelta(minutes=minute)).astimezone(plan.build.tz)


MORNING = "06:00"  # by the wall: what was left overnight is not touched before (a convention of this program)
NIGHT_MIN = 240.0  # what ends less than this before a morning is left until the next one


def morning_after(plan: Plan, minute: float) -> float:
    """The first morning, minutes since the build's start, with a night between an instant and it."""
    rested = plan.build.starts_at.astimezone(UTC) + timedelta(minutes=minute + NIGHT_MIN)
    day, zone = rested.astimezone(plan.build.tz).date(), plan.build.tz
    morning = instant(day, MORNING, zone)
    if morning < rested:
        morning = instant(day + timedelta(days=1), MORNING, zone)
    return minutes_since_start(plan, morning)


def begins_at(plan: Plan, step: AnyStep, ends: Iterable[float], wait_min: float | None = None) -> float:
    """When a step begins by the plan's own waits, where the steps before it in its zones end at `ends`.

    `wait_min`: another wait than its own.
    """
    wait = step.wait_min if wait_min is None else wait_min
    if step.fixed_start is not None:
        return minutes_since_start(plan, step.fixed_start)
    last = max(ends, default=None)
    if last is None:
        return wait
    return max(last + wait, morning_after(plan, last)) if step.overnight else last + wait


def step_times(plan: Plan) -> dict[str, Timing]:
    """Start and end of each step by id, minutes since `build.starts_at`. Linear in steps × zones.

    A step starts at the latest end, over its zones, of the step before it there, plus `wait_min`; where it is to be
    left overnight, not before a morning after that end; `fixed_start` wins.
    """
    return _TIMED.of(plan, lambda: _timed(plan))[0]


def timing_problems(plan: Plan) -> list[Problem]:
    """Steps that are fixed before what lies below them ends."""
    return _TIMED.of(plan, lambda: _timed(plan))[1]


def _timed(plan: Plan) -> tuple[dict[str, Timing], list[Problem]]:
    free: dict[str, float] = {}
    times: dict[str, Timing] = {}
    problems: list[Problem] = []
    for i, step in enumerate(plan.steps):
        ends = [free[z] for z in step.zones if z in free]
        ready = max(ends) if ends and len(ends) == len(step.zones) else max([0.0, *ends])
        start = begins_at(plan, step, ends)
        if start < ready - 1e-6:  # only a fixed start can be
            what = f"it is fixed before the step below it ends ({when_words(at(plan, ready))}); fix it later"
            problems.append(Problem(where=f"steps[{i}] '{step.name}'.fixed_start", what=what))
        end = start + step.hands_on_min
        times[step.id] = Timing(start, end)
        for zone_id in step.zones:
            free[zone_id] = end
    return times, problems
