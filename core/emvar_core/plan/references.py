"""What a plan names has to be there: zones, materials, coats that are worked on, steps that a trial was of."""

from __future__ import annotations

from typing import Any

from ..errors import PlanError, Problem
from ..ids import BASE
from ..knowledge import knowledge
from ..memory import MEMORY
from ..vocabulary import SCHOOL_SIDES, Role
from .model import Plan
from .own import AnOwnMaterial, own_material_problems, unknown_material
from .steps import AnyStep, CoatStep, WorkingStep
from .timing import timing_problems

MOST_FILM_UM = 1000.0  # of a coat; what is poured is thicker
_CHECKED = MEMORY.door("references of a step", 30_000)


def check_references(plan: Plan) -> None:
    """Refuses dangling ids, working steps above nothing, and unknown materials. Raises PlanError."""
    own = plan.materials
    problems: list[Problem] = list(own_material_problems(own))

    def substrate(where: str, material_id: str | None) -> None:
        if material_id is not None and (hint := unknown_material(material_id, own, "substrate")):
            problems.append(Problem(where=where, what=hint))

    zone_ids = {z.id for z in plan.zones}
    if len(zone_ids) != len(plan.zones):
        problems.append(Problem(where="zones", what="two zones have the same id"))
    substrate("build.base_material", plan.build.base_material)
    for i, zone in enumerate(plan.zones):
        substrate(f"zones[{i}] '{zone.name}'.base_material", zone.base_material)
    among = _among(plan)
    seen: dict[str, AnyStep] = {}
    referring: list[tuple[int, AnyStep]] = []
    for i, step in enumerate(plan.steps):
        if step.id == BASE:
            what = f"the id '{BASE}' is reserved for the material of the model; give the step another"
            problems.append(Problem(where=_place_of(plan, i), what=what))
        if step.id in seen:
            problems.append(Problem(where=_place_of(plan, i), what=f"the id '{step.id}' is taken by an earlier step"))
        # Kept by object: steps never change, and an edit changes one of many.
        dangling, refers = _CHECKED.of(step, lambda s=step: (_dangling(s, zone_ids, own), _refers(s)), among)  # type: ignore[misc]
        for field, what in dangling:
            problems.append(Problem(where=_place_of(plan, i) + field, what=what))
        if refers:
            referring.append((i, step))
        if isinstance(step, WorkingStep):
            problems.extend(_acts_on_problems(plan, i, step, seen))
        seen.setdefault(step.id, step)
    for i, step in referring:
        if step.recipe_of is not None and step.recipe_of not in seen:
            what = f"there is no step '{step.recipe_of}'"
            problems.append(Problem(where=f"{_place_of(plan, i)}.recipe_of", what=what))
        if step.no_later is not None and _index(plan, step.no_later.after) >= i:
            what = f"there is no step '{step.no_later.after}' before this one"
            problems.append(Problem(where=f"{_place_of(plan, i)}.no_later.after", what=what))
        if isinstance(step, CoatStep):
            for field, ids in (("on", [step.on] if step.on is not None else []), ("beside", step.beside)):
                for other in ids:
                    if not isinstance(seen.get(other), CoatStep) or other == step.id:
                        problems.append(
                            Problem(where=f"{_place_of(plan, i)}.{field}", what=f"there is no other coat '{other}'")
                        )
    problems += _laid_before(plan)
    for i, trial in enumerate(plan.trials):
        for field, step_id in (("upper", trial.upper), ("lower", trial.lower)):
            if step_id is not None and step_id not in seen:
                problems.append(Problem(where=f"trials[{i}].{field}", what=f"there is no step '{step_id}'"))
    for pair, side in plan.schools.items():
        if side not in SCHOOL_SIDES[pair]:
            sides = " or ".join(SCHOOL_SIDES[pair])
            problems.append(Problem(where=f"schools.{pair.value}", what=f"the side must be {sides}"))
    if not problems:
        problems.extend(timing_problems(plan))
    if problems:
        raise PlanError(problems[:20])


def _index(plan: Plan, step_id: str) -> int:
    return next((i for i, s in enumerate(plan.steps) if s.id == step_id), len(plan.steps))


def _laid_before(plan: Plan) -> list[Problem]:
    """What is there already comes first in its zones: nothing was laid before it."""
    problems, begun = [], set[str]()
    for i, step in enumerate(plan.steps):
        if isinstance(step, CoatStep) and step.existing is not None:
            if begun & set(step.zones):
                what = "what is there already comes before everything that is laid; move it down"
                problems.append(Problem(where=f"{_place_of(plan, i)}.existing", what=what))
        elif isinstance(step, CoatStep):
            begun.update(step.zones)
    return problems


def _among(plan: Plan) -> Any:
    """What a step's references are checked against: zones and own materials, as a key."""
    return (tuple(z.id for z in plan.zones), tuple(m.id + m.kind for m in plan.materials))


def _dangling(step: AnyStep, zone_ids: set[str], own: list[AnOwnMaterial]) -> list[tuple[str, str]]:
    """What a step names that is not there, as (field, what is wrong); apart from other steps."""
    dangling: list[tuple[str, str]] = []

    def material(field: str, material_id: str | None, kind: str) -> None:
        if material_id is not None and (hint := unknown_material(material_id, own, kind)):
            dangling.append((field, hint))

    for zone_id in step.zones:
        if zone_id not in zone_ids:
            dangling.append((".zones", f"there is no zone '{zone_id}'"))
    if len(set(step.zones)) != len(step.zones):
        dangling.append((".zones", "a zone is named twice"))
    if isinstance(step, CoatStep):
        material(".material", step.material, "coat")
        for j, part in enumerate(step.mix.parts if step.mix else ()):
            material(f".mix.parts[{j}].material", part.material, "part")
        if step.mix and not any(p.role is Role.PAINT or p.role is Role.PIGMENT for p in step.mix.parts):
            dangling.append((".mix", "no part has the role paint or pigment"))
        coat = knowledge().coats.get(step.material)
        poured = coat is not None and coat.is_poured
        if step.dry_film_um is not None and step.dry_film_um > MOST_FILM_UM and not poured:
            dangling.append(
                (".dry_film_um", f"a coat of this is at most {MOST_FILM_UM:g} µm; only what is poured is thicker")
            )
        for zone_id in step.coverage_by_zone:
            if zone_id not in step.zones:
                dangling.append((".coverage_by_zone", f"'{zone_id}' is no zone of the step"))
    elif isinstance(step, WorkingStep):
        material(".carrier", step.carrier, "thinner")
    else:
        material(".material", step.material, "touch")
        material(".carrier", step.carrier, "thinner")
        for zone_id in step.closes:
            if zone_id not in zone_ids:
                dangling.append((".closes", f"there is no zone '{zone_id}'"))
    return dangling


def _refers(step: AnyStep) -> bool:
    """Whether a step names other steps, beside the coat that it works on."""
    coats = isinstance(step, CoatStep) and (step.on is not None or step.beside)
    return bool(coats or step.recipe_of is not None or step.no_later is not None)


def _place_of(plan: Plan, i: int) -> str:
    return f"steps[{i}] '{plan.steps[i].name}'"


def _acts_on_problems(plan: Plan, i: int, step: WorkingStep, seen: dict[str, AnyStep]) -> list[Problem]:
    target = seen.get(step.acts_on)
    where = f"{_place_of(plan, i)}.acts_on"
    later = None if target is not None else next((s for s in plan.steps[i + 1 :] if s.id == step.acts_on), None)
    if later is not None:
        return [Problem(where=where, what=f"'{step.name}' works on '{later.name}', so it stays above it")]
    if not isinstance(target, CoatStep):
        return [Problem(where=where, what=f"there is no coat '{step.acts_on}' before this step")]
    if missing := [z for z in step.zones if z not in target.zones]:
        what = f"'{target.name}' does not cover the zone '{missing[0]}' that this step works on"
        return [Problem(where=where, what=what)]
    return []
