"""Orders that mean something: a mask and what it is for, a medium and what is chipped off it, a coat and its work.

Nothing that the program offers turns one round; a person's own move that would is refused with the reason.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import PlanError
from ..vocabulary import FittingAction, Use, WorkAction
from .edits import AnyEdit, MoveStep
from .known import known_to
from .model import Plan
from .steps import AnyStep, CoatStep, FittingStep, WorkingStep


@dataclass(frozen=True, slots=True)
class Bond:
    """In a zone, one step has to stay before another, and why. `loose`: a person may turn it round all the same."""

    zone: str
    first: str
    then: str
    why: str
    loose: bool = False


def bonds(plan: Plan) -> list[Bond]:
    """All bonds of a plan, zone by zone."""
    k = known_to(plan)
    found: list[Bond] = []
    for zone in plan.zones:
        mask: FittingStep | None = None
        top: CoatStep | None = None
        medium: CoatStep | None = None
        over: dict[str, CoatStep] = {}  # the medium under each coat
        laid: list[CoatStep] = []  # while the mask is on
        for step in (s for s in plan.steps if zone.id in s.zones):
            if isinstance(step, CoatStep):
                if mask is not None:
                    why = f"“{step.name}” is laid while “{mask.name}” is on"
                    found.append(Bond(zone.id, mask.id, step.id, why))
                    laid.append(step)
                if k.coats[step.material].use is Use.MEDIUM:
                    medium = step
                elif medium is not None:
                    over[step.id] = medium
                top = step
            elif isinstance(step, WorkingStep):
                found.append(Bond(zone.id, step.acts_on, step.id, f"“{step.name}” works on it"))
                if step.action is WorkAction.CHIP and (under := over.get(step.acts_on)) is not None:
                    why = f"“{step.name}” needs “{under.name}” under what it chips"
                    found.append(Bond(zone.id, under.id, step.acts_on, why))
            elif step.action is FittingAction.MASK:
                if top is not None:
                    found.append(Bond(zone.id, top.id, step.id, f"“{step.name}” protects it", loose=True))
                mask, laid = step, []
            elif step.action is FittingAction.UNMASK and mask is not None:
                found.append(Bond(zone.id, mask.id, step.id, f"“{step.name}” takes it off"))
                found += [Bond(zone.id, s.id, step.id, f"“{mask.name}” stays on until it is laid") for s in laid]
                mask = None
    return found


def crossed(before: Plan, after: Plan, edits: Sequence[AnyEdit], *, loose: bool = True) -> Bond | None:
    """A bond of the plan before that edits have turned round in the plan after; None where all hold.

    Without `loose`, only of those that a person may not turn round either.
    """
    if not any(isinstance(e, MoveStep) for e in edits):
        return None
    place = {s.id: i for i, s in enumerate(after.steps)}
    for bond in bonds(before):
        if bond.loose and not loose:
            continue
        first, then = place.get(bond.first), place.get(bond.then)
        if first is not None and then is not None and first > then:
            zones = [after.steps[i].zones for i in (first, then)]
            if all(bond.zone in z for z in zones):
                return bond
    return None


def check_moves(before: Plan, after: Plan, edits: Sequence[AnyEdit]) -> None:
    """Refuses a person's moves that turn a bond round. Raises PlanError with the reason in words."""
    bond = crossed(before, after, edits, loose=False)
    if bond is None:
        return
    first, then = (_named(before, i) for i in (bond.first, bond.then))
    what = f"“{first.name}” has to stay before “{then.name}”: {bond.why}. Move the other one first, or take one out"
    raise PlanError.one("order", what)


def _named(plan: Plan, step_id: str) -> AnyStep:
    return next(s for s in plan.steps if s.id == step_id)
