"""The closed set of plan edits, each with its inverse.

Everything that changes a plan goes through here: the screen, undo, remedies and replanning. `apply` gives the new
plan and the edits that lead back to the old one, exactly. A plan that would not be valid is refused whole.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from .plan import (
    SCHOOL_SIDES,
    AnOwnMaterial,
    AnyStep,
    BenchAir,
    Build,
    Kit,
    Plan,
    School,
    Step,
    Trial,
    Zone,
    check_references,
    parse_step,
)
from .sittings.hours import Hours
from .values import Id, Model, PlanError, Problem


class AddStep(Model):
    """Puts a step at `index` of the list (0 first)."""

    edit: Literal["add_step"] = "add_step"
    step: Step
    index: Annotated[int, Field(ge=0)]


class RemoveStep(Model):
    edit: Literal["remove_step"] = "remove_step"
    step_id: Id


class MoveStep(Model):
    """Moves a step so that it stands at `to_index` afterwards."""

    edit: Literal["move_step"] = "move_step"
    step_id: Id
    to_index: Annotated[int, Field(ge=0)]


class SplitStep(Model):
    """Gives some zones of a step a step of their own, right after it, sharing its recipe."""

    edit: Literal["split_step"] = "split_step"
    step_id: Id
    zones: Annotated[list[Id], Field(min_length=1)]
    new_id: Id


class JoinStep(Model):
    """The inverse of a split: the zones go back, in their old order, and the split-off step is gone."""

    edit: Literal["join_step"] = "join_step"
    step_id: Id
    split_id: Id
    zones: list[Id]
    coverage_by_zone: dict[Id, float] = {}


class SetField(Model):
    """Sets one field of a step; the whole step is validated again. `absent` removes the field."""

    edit: Literal["set_field"] = "set_field"
    step_id: Id
    field: Annotated[str, Field(max_length=40)]
    value: Any = None
    absent: bool = False


class SetAir(Model):
    edit: Literal["set_air"] = "set_air"
    air: BenchAir


class SetBuild(Model):
    edit: Literal["set_build"] = "set_build"
    build: Build


class SetSchool(Model):
    """Takes a side in a pair of schools; None leaves it undecided."""

    edit: Literal["set_school"] = "set_school"
    pair: School
    side: str | None


class AddZone(Model):
    edit: Literal["add_zone"] = "add_zone"
    zone: Zone
    index: Annotated[int, Field(ge=0)]


class RemoveZone(Model):
    """Removes a zone that no step covers."""

    edit: Literal["remove_zone"] = "remove_zone"
    zone_id: Id


class SetZone(Model):
    edit: Literal["set_zone"] = "set_zone"
    zone: Zone


class SetTrials(Model):
    """Writes what trials on scrap have shown."""

    edit: Literal["set_trials"] = "set_trials"
    trials: list[Trial]


class SetKit(Model):
    """Writes the airbrushes and the compressor; None for the usual ones."""

    edit: Literal["set_kit"] = "set_kit"
    kit: Kit | None


class SetHours(Model):
    """Writes when one can be at the bench and what a schedule is to aim for; None for no calendar."""

    edit: Literal["set_hours"] = "set_hours"
    hours: Hours | None


class SetOwnMaterials(Model):
    edit: Literal["set_own_materials"] = "set_own_materials"
    materials: list[AnOwnMaterial]


AnyEdit = (
    AddStep
    | RemoveStep
    | MoveStep
    | SplitStep
    | JoinStep
    | SetField
    | SetAir
    | SetBuild
    | SetSchool
    | AddZone
    | RemoveZone
    | SetZone
    | SetOwnMaterials
    | SetTrials
    | SetKit
    | SetHours
)
Edit = Annotated[AnyEdit, Field(discriminator="edit")]
_EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[Edit])


def parse_edits(data: Any) -> list[AnyEdit]:
    """Edits from plain JSON data. Raises PlanError naming the field."""
    from .plan import _problems

    try:
        return _EDITS.validate_python(data)
    except ValidationError as error:
        raise PlanError([Problem(where=f"edits{p.where}", what=p.what) for p in _problems(error, data)]) from None


def _refuse(where: str, what: str) -> PlanError:
    return PlanError([Problem(where=where, what=what)])


def _index(plan: Plan, step_id: str) -> int:
    for i, step in enumerate(plan.steps):
        if step.id == step_id:
            return i
    raise _refuse("step_id", f"there is no step '{step_id}'")


def _with_steps(plan: Plan, steps: list[AnyStep]) -> Plan:
    return plan.model_copy(update={"steps": steps})


def apply_one(plan: Plan, edit: AnyEdit) -> tuple[Plan, AnyEdit]:
    """One edit and its inverse; references are not checked yet (see `apply`)."""
    match edit:
        case AddStep(step=step, index=index):
            if plan.step(step.id) is not None:
                raise _refuse("step.id", f"the id '{step.id}' is taken")
            if index > len(plan.steps):
                raise _refuse("index", f"there are only {len(plan.steps)} steps")
            steps = [*plan.steps[:index], step, *plan.steps[index:]]
            return _with_steps(plan, steps), RemoveStep(step_id=step.id)
        case RemoveStep(step_id=step_id):
            at = _index(plan, step_id)
            held = [s.name for s in plan.steps if getattr(s, "acts_on", None) == step_id]
            if held:
                raise _refuse("step_id", f"'{held[0]}' acts on this coat; remove that step first, or both at once")
            if any(step_id in (t.upper, t.lower) for t in plan.trials):
                raise _refuse("step_id", "a trial was entered for this step; take that result out first")
            return (
                _with_steps(plan, [*plan.steps[:at], *plan.steps[at + 1 :]]),
                AddStep(step=plan.steps[at], index=at),
            )
        case MoveStep(step_id=step_id, to_index=to_index):
            at = _index(plan, step_id)
            if to_index >= len(plan.steps):
                raise _refuse("to_index", f"there are only {len(plan.steps)} steps")
            steps = [*plan.steps[:at], *plan.steps[at + 1 :]]
            steps.insert(to_index, plan.steps[at])
            return _with_steps(plan, steps), MoveStep(step_id=step_id, to_index=at)
        case SplitStep() | JoinStep():
            return _split_or_join(plan, edit)
        case SetField():
            return _set_field(plan, edit)
        case SetAir(air=air):
            return plan.model_copy(update={"air": air}), SetAir(air=plan.air)
        case SetBuild(build=build):
            return plan.model_copy(update={"build": build}), SetBuild(build=plan.build)
        case SetSchool(pair=pair, side=side):
            if side is not None and side not in SCHOOL_SIDES[pair]:
                raise _refuse("side", f"must be {' or '.join(SCHOOL_SIDES[pair])}")
            schools = {p: s for p, s in plan.schools.items() if p is not pair}
            if side is not None:
                schools[pair] = side
            ordered = {p: schools[p] for p in School if p in schools}
            return plan.model_copy(update={"schools": ordered}), SetSchool(pair=pair, side=plan.schools.get(pair))
        case SetKit(kit=kit):
            return plan.model_copy(update={"kit": kit}), SetKit(kit=plan.kit)
        case SetHours(hours=hours):
            return plan.model_copy(update={"hours": hours}), SetHours(hours=plan.hours)
        case SetTrials(trials=trials):
            return plan.model_copy(update={"trials": trials}), SetTrials(trials=list(plan.trials))
        case SetOwnMaterials(materials=materials):
            return (
                plan.model_copy(update={"materials": materials}),
                SetOwnMaterials(materials=list(plan.materials)),
            )
        case _:
            return _zones(plan, edit)


def _zones(plan: Plan, edit: AddZone | RemoveZone | SetZone) -> tuple[Plan, AnyEdit]:
    zones = list(plan.zones)
    if isinstance(edit, AddZone):
        if edit.index > len(zones):
            raise _refuse("index", f"there are only {len(zones)} zones")
        zones.insert(edit.index, edit.zone)
        return plan.model_copy(update={"zones": zones}), RemoveZone(zone_id=edit.zone.id)
    wanted = edit.zone_id if isinstance(edit, RemoveZone) else edit.zone.id
    at = next((i for i, z in enumerate(zones) if z.id == wanted), None)
    if at is None:
        raise _refuse("zone_id", f"there is no zone '{wanted}'")
    before = zones[at]
    if isinstance(edit, SetZone):
        zones[at] = edit.zone
        return plan.model_copy(update={"zones": zones}), SetZone(zone=before)
    users = [s.name for s in plan.steps if wanted in s.zones]
    if users:
        raise _refuse("zone_id", f"'{users[0]}' covers this zone; take it off that step first")
    if len(zones) == 1:
        raise _refuse("zone_id", "a build has at least one zone")
    del zones[at]
    return plan.model_copy(update={"zones": zones}), AddZone(zone=before, index=at)


def _split_or_join(plan: Plan, edit: SplitStep | JoinStep) -> tuple[Plan, AnyEdit]:
    at = _index(plan, edit.step_id)
    step = plan.steps[at]
    covered = getattr(step, "coverage_by_zone", {})
    if isinstance(edit, SplitStep):
        if not set(edit.zones) < set(step.zones):
            raise _refuse("zones", f"some, but not all, of the zones of '{step.name}' can be split off")
        if plan.step(edit.new_id) is not None:
            raise _refuse("new_id", f"the id '{edit.new_id}' is taken")
        stays = [z for z in step.zones if z not in edit.zones]
        goes = [z for z in step.zones if z in edit.zones]
        update: dict[str, Any] = {"zones": stays}
        split: dict[str, Any] = {"id": edit.new_id, "zones": goes, "recipe_of": step.recipe_of or step.id}
        if covered:
            update["coverage_by_zone"] = {z: c for z, c in covered.items() if z in stays}
            split["coverage_by_zone"] = {z: c for z, c in covered.items() if z in goes}
        steps = [
            *plan.steps[:at],
            step.model_copy(update=update),
            step.model_copy(update=split),
            *plan.steps[at + 1 :],
        ]
        return _with_steps(plan, steps), JoinStep(
            step_id=step.id, split_id=edit.new_id, zones=list(step.zones), coverage_by_zone=dict(covered)
        )
    other = _index(plan, edit.split_id)
    gone = plan.steps[other]
    update = {"zones": edit.zones}
    if "coverage_by_zone" in step.model_fields_set:
        update["coverage_by_zone"] = edit.coverage_by_zone
    steps = [step.model_copy(update=update) if s.id == step.id else s for s in plan.steps if s.id != gone.id]
    return _with_steps(plan, steps), SplitStep(step_id=step.id, zones=list(gone.zones), new_id=gone.id)


def _set_field(plan: Plan, edit: SetField) -> tuple[Plan, AnyEdit]:
    at = _index(plan, edit.step_id)
    step = plan.steps[at]
    if edit.field in {"id", "kind"}:
        raise _refuse(edit.field, "cannot be changed; remove the step and add another")
    data = step.model_dump(mode="json", exclude_unset=True)
    data |= {"kind": step.kind}
    was_set = edit.field in data
    before = data.get(edit.field)
    if edit.absent:
        data.pop(edit.field, None)
    else:
        data[edit.field] = edit.value
    changed = parse_step(data)
    steps = [*plan.steps[:at], changed, *plan.steps[at + 1 :]]
    inverse = SetField(step_id=step.id, field=edit.field, value=before, absent=not was_set)
    return _with_steps(plan, steps), inverse


def apply(plan: Plan, edits: Sequence[AnyEdit]) -> tuple[Plan, list[AnyEdit]]:
    """Applies edits in order; all or none. Gives the new plan and the edits that undo them, in order.

    Raises PlanError where an edit does not fit or the plan would no longer be valid.
    """
    inverses: list[AnyEdit] = []
    for edit in edits:
        plan, inverse = apply_one(plan, edit)
        inverses.insert(0, inverse)
    check_limits(plan)
    check_references(plan)
    return plan, inverses


def check_limits(plan: Plan) -> None:
    from .plan import MAX_STEPS, MAX_ZONES

    if len(plan.steps) > MAX_STEPS:
        raise _refuse("steps", f"at most {MAX_STEPS} steps")
    if len(plan.zones) > MAX_ZONES:
        raise _refuse("zones", f"at most {MAX_ZONES} zones")


def edits_json(edits: Sequence[AnyEdit]) -> list[dict[str, Any]]:
    """Edits as plain data, only what was set, so that they come back the same."""
    return [e.model_dump(mode="json", exclude_unset=True) | {"edit": e.edit} for e in edits]
