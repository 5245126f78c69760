"""A zone as it stands at an instant: its coats with what has been worked off them."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import NotThere
from ..knowledge import Knowledge
from ..plan import Plan, Zone, step_times
from ..seams.situation import Layer
from .conditions import Conditions, base_layer, conditions_of
from .stack import Stack, Times, after

LEAST_THERE = 0.02  # coverage below which a coat is taken to be gone


@dataclass(frozen=True)
class Standing:
    """One zone at one instant: its stack, bottom first, and the base material apart; minutes since the build's start.

    `layers`: what can still be seen of it.
    """

    plan: Plan
    zone: Zone
    at_min: float
    conditions: Conditions
    times: Times
    base: Layer
    stack: Stack

    @property
    def k(self) -> Knowledge:
        return self.conditions.k

    @property
    def layers(self) -> list[Layer]:
        return [entry.layer for entry in self.stack if entry.layer.coverage >= LEAST_THERE]

    def down(self, above: int) -> tuple[Layer, ...]:
        """The layers below index `above`, nearest first, down to the base."""
        return (*reversed(self.layers[:above]), self.base)


def stand(plan: Plan, zone_id: str, at_min: float, conditions: Conditions | None = None) -> Standing:
    """A zone as it stands at an instant. Raises NotThere where there is no such zone."""
    zone = plan.zone(zone_id)
    if zone is None:
        raise NotThere("zone", zone_id)
    times = step_times(plan)
    c = conditions or conditions_of(plan, times)
    stack: Stack = ()
    for step in plan.steps:
        if zone_id in step.zones and times[step.id].end_min <= at_min + 1e-6:
            stack = after(c, step, zone_id, stack, times)
    return Standing(plan, zone, at_min, c, times, base_layer(c.k, plan, zone), stack)
