"""A zone as it stands at an instant: its coats with what has been worked off them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ..errors import NotThere
from ..knowledge import Knowledge
from ..plan import Plan, Zone, step_times
from ..seams.places import EVERYWHERE, shared
from ..seams.situation import Layer
from .conditions import Conditions, base_layer, conditions_of
from .contacts import age_of
from .stack import LEAST_SHARE, Stack, Times, after, seen_at

LEAST_THERE = 0.002  # coverage below which a coat is taken to be gone


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
    def mark(self) -> tuple[object, ...]:
        """Stands for the coats there, with their names and ages, and for the air from this instant on."""
        c, ahead = self.conditions, self.conditions.ahead(self.at_min)
        air = c.line.key if ahead is None else ahead.key
        lies = tuple([(e.layer.step_id, e.layer.name, e.spot, *age_of(e.layer, self.at_min)) for e in self.stack])
        return c.key, air, self.base.key, lies

    @cached_property
    def there(self) -> Stack:
        return tuple(entry for entry in self.stack if entry.layer.coverage >= LEAST_THERE)

    @property
    def layers(self) -> list[Layer]:
        return [entry.layer for entry in self.there]

    def over(self, at: int) -> list[int]:
        """Where the coats lie that cover some of what lies at an index, there: what lies beside it does not count."""
        there = self.there
        spot = there[at].spot
        return [i for i in range(at + 1, len(there)) if shared(spot, there[i].spot) >= LEAST_SHARE]

    def under(self, at: int) -> list[int]:
        """Where the coats lie that a coat lies on in part at least, nearest first."""
        there = self.there
        return [i for i in range(at - 1, -1, -1) if shared(there[at].spot, there[i].spot) >= LEAST_SHARE]

    def down(self, above: int) -> tuple[Layer, ...]:
        """The layers below what lies at index `above`, where that lies, nearest first, down to the base."""
        there = self.there
        spot = there[above].spot if above < len(there) else EVERYWHERE
        return (*(entry.layer for entry in reversed(seen_at(spot, there[:above]))), self.base)


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
