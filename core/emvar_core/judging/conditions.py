"""What a plan is judged under: what is known, its air along time, its schools; the same for every step."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from ..knowledge import Knowledge
from ..memory import intern
from ..physics.air import AirLine, air_line
from ..plan import Plan, Timing, Zone, known_to
from ..seams.situation import Layer
from ..vocabulary import School, Sheen


@dataclass(frozen=True)
class Conditions:
    """Everything beside steps and times that a verdict depends on. `key` stands for all of it.

    `opens`: whether to search when cautions and clashes would end, which is the dear part.
    """

    k: Knowledge
    line: AirLine
    schools: dict[School, str]
    key: int
    opens: bool

    @cached_property
    def constant(self) -> bool:
        """Whether the air is the same all the time, so that only ages matter."""
        return self.line.constant

    @cached_property
    def horizon(self) -> int:
        """How far the air is known, where it changes: films that harden beyond would read another end."""
        return 0 if self.line.constant else len(self.line.pieces)

    def instant(self, at_min: float) -> tuple[float, int] | None:
        """What of an instant matters besides ages: nothing in constant air."""
        return None if self.constant else (at_min, self.horizon)

    def until(self, plan: Plan, until_min: float) -> Conditions:
        """The same conditions with the air looked at up to another instant."""
        return replace(self, line=air_line(plan, until_min))


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
    return Conditions(k, line, dict(plan.schools), key, opens)


def base_layer(k: Knowledge, plan: Plan, zone: Zone) -> Layer:
    """What a zone is made of, as the layer at the bottom of its stack."""
    substrate = k.substrates[plan.base_of(zone)]
    return Layer(None, substrate.name, 1000.0, 1.0, Sheen.SATIN, substrate=substrate)
