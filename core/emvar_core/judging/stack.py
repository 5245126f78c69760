"""The second stage: what lies on a zone after each step, bottom first. Pure: a step gives a new stack."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..memory import intern
from ..plan import AnyStep, CoatStep, Timing, WorkingStep, coverage_of
from ..seams.situation import Layer
from ..vocabulary import FilmClass, WorkAction
from .conditions import Conditions
from .laying import lay

LEAST_SHARE = 0.02  # of a zone: what is exposed over less than that is not met


@dataclass(frozen=True, slots=True)
class Lying:
    """A coat as it lies on a zone. `content` stands for what it is, `mark` for what it is there and then."""

    layer: Layer
    content: int
    mark: int

    def left(self, share: float) -> Lying:
        """What working leaves of it."""
        layer = replace(self.layer, coverage=self.layer.coverage * share)
        return Lying(layer, intern((self.content, "worked", share)), intern((self.mark, "worked", share)))


Stack = tuple[Lying, ...]
Times = dict[str, Timing]


def place_of(stack: Stack, step_id: str) -> int | None:
    """Where in a stack the coat of a step lies."""
    return next((i for i in range(len(stack) - 1, -1, -1) if stack[i].layer.step_id == step_id), None)


def lying(c: Conditions, step: CoatStep, zone_id: str, timing: Timing) -> Lying:
    """A coat as it lies on a zone."""
    laid = lay(c, step, timing)
    coverage = coverage_of(step, laid.coat, zone_id)
    layer = laid.layer
    if layer.coverage != coverage or layer.step_id != step.id:
        layer = replace(layer, coverage=coverage, step_id=step.id)
    return Lying(layer, laid.content, intern((laid.timed, coverage, step.id)))


def worked_on(step: WorkingStep, stack: Stack) -> tuple[int, ...]:
    """Where the coats lie that a working step takes from: its own, and with chipping the medium right under it."""
    place = place_of(stack, step.acts_on)
    if place is None:
        return ()
    chips = step.action is WorkAction.CHIP and place > 0
    return (place, place - 1) if chips and stack[place - 1].layer.is_film(FilmClass.WATER_SOLUBLE) else (place,)


def after(c: Conditions, step: AnyStep, zone_id: str, stack: Stack, times: Times) -> Stack:
    """What lies on a zone once a step is done there."""
    if isinstance(step, CoatStep):
        return (*stack, lying(c, step, zone_id, times[step.id]))
    if isinstance(step, WorkingStep) and (places := worked_on(step, stack)):
        changed = list(stack)
        for place in places:
            changed[place] = stack[place].left(step.leaves)
        return tuple(changed)
    return stack


def beside(step: WorkingStep, stack: Stack) -> Stack:
    """What a working step meets beside the coat that it acts on."""
    place = place_of(stack, step.acts_on)
    others = tuple(entry for i, entry in enumerate(stack) if i != place)
    if step.action is WorkAction.CHIP:
        # The medium is meant to let go and the top coat with it: judge what lies below both.
        others = tuple(e for e in others if not e.layer.is_film(FilmClass.WATER_SOLUBLE))
    return others


def exposed(layers: tuple[Layer, ...]) -> list[tuple[int, float]]:
    """Which layers (nearest first) what lands will meet, and over what share of the zone."""
    bare, left = [], 1.0
    for i, layer in enumerate(layers):
        share = left * layer.coverage
        if share >= LEAST_SHARE:
            bare.append((i, share))
        left -= share
        if left < LEAST_SHARE:
            break
    return bare
