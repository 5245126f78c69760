"""Ages as instants: when a coat laid by some minute is old enough, and when it is too old, in real bench air."""

from __future__ import annotations

import math

from ..errors import NotThere
from ..judging import conditions_of, lay
from ..physics.hardening import Drying
from ..plan import CoatStep, Plan, Timing, morning_after
from .net import Link, Span, What, kind_of

MOST_KEPT = 50_000  # coats at instants, in one search
Spans = tuple[Span, ...]


class Ageing:
    """The hardening clocks of a plan's coats, wherever they are laid. `until_min`: how far the air is looked at."""

    def __init__(self, plan: Plan, until_min: float) -> None:
        self.plan = plan
        self.conditions = conditions_of(plan, {}).until(plan, until_min)
        self.steps = {s.id: s for s in plan.steps}
        self.kinds = {s.id: kind_of(s) for s in plan.steps}
        self._known: dict[tuple[int, bool, float], Drying] = {}

    @property
    def constant(self) -> bool:
        """Whether the air is the same all the time, so that only ages matter."""
        return self.conditions.constant

    def drying(self, step_id: str, end_min: float) -> Drying:
        """How a coat dries that is laid by an instant. Raises NotThere where the step is no coat."""
        key = (self.kinds[step_id], step_id in self.conditions.wetted, end_min)
        known = self._known.get(key)
        if known is None:
            step = self.steps[step_id]
            if not isinstance(step, CoatStep):
                raise NotThere("coat", step_id)
            if len(self._known) > MOST_KEPT:
                self._known.clear()
            timing = Timing(end_min - step.hands_on_min, end_min)
            known = self._known[key] = lay(self.conditions, step, timing).drying
        return known

    def instants(self, link: Link, end_min: float, spans: Spans) -> list[tuple[float, float]]:
        """Stretches in minutes since the build's start that a link allows once its lower step ended at an instant."""
        if link.what is What.NIGHT:
            return [(morning_after(self.plan, end_min), math.inf)]
        if link.ages.plain:
            return [(end_min + a, end_min + b) for a, b in spans]
        drying = self.drying(link.before, end_min)
        return [(drying.when(a) if a else end_min, math.inf if b == math.inf else drying.when(b)) for a, b in spans]
