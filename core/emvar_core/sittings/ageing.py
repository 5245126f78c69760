"""Ages as instants: when a coat laid by some minute is old enough, and when it is too old, in real bench air."""

from __future__ import annotations

import math

from ..assess import default_knowledge
from ..drying.clock import Drying, air_line
from ..plan import CoatStep, Plan, Timing
from ..walk import Walker
from .net import Link, Span, kind_of

Spans = tuple[Span, ...]


class Ageing:
    """The hardening clocks of a plan's coats, wherever they are laid. `until_min`: how far the air is looked at."""

    def __init__(self, plan: Plan, until_min: float) -> None:
        self.walker = Walker(plan, default_knowledge().with_own(plan.materials), opens=False)
        self.walker.line = air_line(plan, until_min)
        self.walker.horizon = 0 if self.walker.line.constant else len(self.walker.line.pieces)
        self.times: dict[str, Timing] = {}
        self.walker.times = self.times
        self.steps = {s.id: s for s in plan.steps}
        self._held: dict[tuple[int, float], Drying] = {}

    @property
    def constant(self) -> bool:
        """Whether the air is the same all the time, so that only ages matter."""
        return self.walker.line.constant

    def drying(self, step_id: str, end_min: float) -> Drying:
        """How a coat dries that is laid by an instant. Raises KeyError where the step is no coat."""
        step = self.steps[step_id]
        key = (kind_of(step), end_min)
        found = self._held.get(key)
        if found is None:
            if not isinstance(step, CoatStep):
                raise KeyError(step_id)
            self.times[step_id] = Timing(end_min - step.hands_on_min, end_min)
            self.walker.drop(step_id)
            if len(self._held) > 50_000:
                self._held.clear()
            found = self._held[key] = self.walker.lay(step).drying
        return found

    def instants(self, link: Link, end_min: float, spans: Spans) -> list[tuple[float, float]]:
        """Stretches in minutes since the build's start that a link allows once its lower step ended at an instant."""
        if link.ages.plain:
            return [(end_min + a, end_min + b) for a, b in spans]
        drying = self.drying(link.before, end_min)
        return [(drying.when(a) if a else end_min, math.inf if b == math.inf else drying.when(b)) for a, b in spans]
