"""Masks that keep paint off their place: which are on while a coat is laid, zone by zone."""

from __future__ import annotations

from dataclasses import dataclass

from ..memory import MEMORY
from ..vocabulary import FittingAction, Place
from .model import Plan
from .steps import AnyStep, CoatStep, FittingStep
from .timing import step_times

WET_MIN = 5.0  # as long as a panel that was wetted stays wet (common practice: minutes)
_WETTED = MEMORY.door("wetted panels of a plan", 40)
_MASKED = MEMORY.door("masks of a plan", 40)


@dataclass(frozen=True, slots=True)
class Mask:
    """A place in a zone that a mask covers; `share`: of the zone, where the step says so."""

    place: Place
    patch: str | None
    share: float | None


def wets(step: AnyStep) -> bool:
    """Whether a step wets a panel for what comes next."""
    return isinstance(step, FittingStep) and step.action is FittingAction.WET


def wetted(plan: Plan) -> frozenset[str]:
    """Coats that go onto a panel wetted right before, by step id.

    Right before: nothing else is laid or done in between in one of its zones, and it begins within `WET_MIN` minutes.
    """
    return _WETTED.of(plan, lambda: _wet_found(plan))


def _wet_found(plan: Plan) -> frozenset[str]:
    last: dict[str, AnyStep] = {}
    found: set[str] = set()
    if not _any(plan, FittingAction.WET):
        return frozenset()
    times = step_times(plan)
    for step in plan.steps:
        if isinstance(step, CoatStep):
            for zone in step.zones:
                before = last.get(zone)
                if before is None or not wets(before):
                    continue
                if times[step.id].start_min - times[before.id].end_min <= WET_MIN:
                    found.add(step.id)
        for zone in step.zones:
            last[zone] = step
    return frozenset(found)


Masked = dict[tuple[str, str], tuple[Mask, ...]]


def masked(plan: Plan) -> Masked:
    """The masks that are on in a zone while a coat is laid there, by (step, zone); coats without any are left out.

    Only masks that say where they are: of one without a place nobody knows what it keeps free.
    """
    return _MASKED.of(plan, lambda: _found(plan))


def _any(plan: Plan, action: FittingAction) -> bool:
    return any(isinstance(s, FittingStep) and s.action is action for s in plan.steps)


def _found(plan: Plan) -> Masked:
    on: dict[str, tuple[Mask, ...]] = {}
    found: Masked = {}
    if not _any(plan, FittingAction.MASK):
        return found
    for step in plan.steps:
        if isinstance(step, CoatStep) and on:
            found |= {(step.id, z): on[z] for z in step.zones if on.get(z)}
        elif isinstance(step, FittingStep):
            for zone in step.zones:
                if step.action is FittingAction.MASK and step.place not in (None, Place.ALL_OVER):
                    assert step.place is not None
                    on[zone] = (*on.get(zone, ()), Mask(step.place, step.patch, step.share))
                elif step.action is FittingAction.UNMASK:
                    on[zone] = tuple(m for m in on.get(zone, ()) if not _comes_off(m, step))
    return found


def _comes_off(mask: Mask, step: FittingStep) -> bool:
    """Whether a mask comes off with a step: all of them, or those of the place that it names."""
    return step.place in (None, Place.ALL_OVER) or (step.place is mask.place and step.patch in (None, mask.patch))
