"""What a coat, and a whole build, need of paint and thinner."""

from __future__ import annotations

from ..judging import Laid, conditions_of, lay
from ..knowledge import Knowledge
from ..physics.cup import CupFor, Fill, cup_for_area
from ..plan import CoatStep, Plan, area_together, known_to, step_times
from ..vocabulary import Model, Use

NEEDS_UNCERTAIN = 1.5  # transfer and films of a whole build may be off by this factor (assumption)


class Need(Model):
    """What the whole build needs of a material: mL, its range, and for how many coats."""

    material: str
    name: str
    role: str
    ml: float
    low_ml: float
    high_ml: float
    coats: int


def area_of(plan: Plan, step: CoatStep) -> float | None:
    """The area of a step's zones, cm²; None where one of them has none."""
    return area_together(z for z in plan.zones if z.id in step.zones)


def poured_for(k: Knowledge, plan: Plan, step: CoatStep, laid: Laid, fill: Fill | None = None) -> CupFor | None:
    """The cup of a coat; None for what is no liquid."""
    dry = not laid.cup.carrier.parts and not laid.coat.is_poured
    if laid.coat.use in (Use.MARKING, Use.RUBBED) or dry:
        return None
    return cup_for_area(k, step, laid.film_um, area_of(plan, step), laid.layer.coverage, fill)


def needs(plan: Plan) -> list[Need]:
    """Paint and thinner for the whole build, most first: the cups of all its coats whose areas are given."""
    k, times = known_to(plan), step_times(plan)
    c = conditions_of(plan, times, knowledge=k)
    wanted: dict[str, Need] = {}
    for step in plan.steps:
        laid = isinstance(step, CoatStep) and step.existing is None
        cup = poured_for(k, plan, step, lay(c, step, times[step.id])) if isinstance(step, CoatStep) and laid else None
        if cup is None or cup.landed_ml <= 0:
            continue
        poured = sum(p.ml for p in cup.pours)
        for p in cup.pours:
            ml = cup.needed_ml * p.ml / poured
            old = wanted.get(p.material)
            total, coats = (ml, 1) if old is None else (old.ml + ml, old.coats + 1)
            wanted[p.material] = Need(
                material=p.material, name=p.name, role=p.role, ml=total, coats=coats,
                low_ml=total / NEEDS_UNCERTAIN, high_ml=total * NEEDS_UNCERTAIN,
            )  # fmt: skip
    return sorted(wanted.values(), key=lambda n: -n.ml)
