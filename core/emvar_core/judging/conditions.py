"""What a plan is judged under: what is known, its air along time, its schools; the same for every step."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from ..knowledge import Knowledge
from ..memory import MEMORY, intern
from ..physics.air import Ahead, AirLine, air_line
from ..plan import AnyStep, CoatStep, FittingStep, Plan, Timing, Zone, known_to
from ..plan.masks import Masked, masked, wetted
from ..seams.situation import Layer
from ..vocabulary import BaseSurface, FittingAction, School, Sheen

_AHEAD = MEMORY.door("air from an instant on", 4_000)
_SEEN = MEMORY.door("layers as they are met", 30_000)


@dataclass(frozen=True)
class Conditions:
    """Everything beside steps and times that a verdict depends on. `key` stands for all of it.

    `opens`: whether to search when cautions and clashes would end, which is the expensive part. `masked`: the masks
    that are on while a coat is laid in a zone, `wetted`: the coats that are laid into a liquid.
    """

    k: Knowledge
    line: AirLine
    schools: dict[School, str]
    key: int
    opens: bool
    masked: Masked = field(default_factory=dict)
    wetted: frozenset[str] = frozenset()
    # Coats as they were laid under these very conditions, by the step itself and its times.
    laid: dict[tuple[int, float, float], tuple[AnyStep, Any]] = field(default_factory=dict, compare=False, repr=False)

    @cached_property
    def constant(self) -> bool:
        """Whether the air is the same all the time, so that only ages matter."""
        return self.line.constant

    @cached_property
    def horizon(self) -> int:
        """How far the air is known, where it changes: films that harden beyond would read another end."""
        return 0 if self.line.constant else len(self.line.pieces)

    def ahead(self, at_min: float) -> Ahead | None:
        """The air from an instant on; None where it never changes."""
        if self.line.constant:
            return None
        ahead: Ahead = _AHEAD.once((self.line.key, at_min), lambda: Ahead(self.line, at_min))
        return ahead

    def seen(self, layer: Layer, place: int, at_min: float) -> Layer:
        """A layer as what lands at an instant meets it; the same object for all that land then."""
        key = (layer.key, layer.end_min, layer.coverage, place, at_min, self.line.key)
        return _SEEN.once(key, lambda: layer.seen_from(at_min, self.ahead(at_min), place))

    def until(self, plan: Plan, until_min: float) -> Conditions:
        """The same conditions with the air looked at up to another instant."""
        line = air_line(plan, until_min)
        return self if line is self.line else replace(self, line=line, laid={})


def conditions_of(
    plan: Plan, times: dict[str, Timing], *, opens: bool = False, knowledge: Knowledge | None = None
) -> Conditions:
    """The conditions of a plan whose steps are done at these times."""
    k = knowledge or known_to(plan)
    end = max((t.end_min for t in times.values()), default=0.0)
    line = air_line(plan, end)
    schools = tuple(sorted((p.value, s) for p, s in plan.schools.items()))
    # In constant air only ages matter; in changing air also when it is.
    where = () if line.constant else (plan.build.timezone, plan.build.starts_at)
    key = intern((k.signature, plan.air.model_dump_json(), schools, where, opens, plan.build.scale))
    return Conditions(k, line, dict(plan.schools), key, opens, masked(plan), wetted(plan))


CLEANED = (FittingAction.WASH, FittingAction.DEGREASE)


def _washed(plan: Plan, zone: Zone) -> bool:
    """Whether the plan washes or degreases a zone before anything is laid on it."""
    first = next((s for s in plan.steps if zone.id in s.zones and (isinstance(s, CoatStep) or _cleans(s))), None)
    return first is not None and _cleans(first)


def _cleans(step: AnyStep) -> bool:
    return isinstance(step, FittingStep) and step.action in CLEANED


def base_layer(k: Knowledge, plan: Plan, zone: Zone) -> Layer:
    """What a zone is made of, as the layer at the bottom of its stack; washed, where the plan washes it first."""
    substrate = k.substrates[plan.base_of(zone)]
    if substrate.surface is BaseSurface.GREASY and substrate.prepared_as and _washed(plan, zone):
        substrate = k.substrates[substrate.prepared_as]
    return Layer(None, substrate.name, 1000.0, 1.0, Sheen.SATIN, substrate=substrate)
