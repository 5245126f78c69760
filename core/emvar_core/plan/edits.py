"""The closed set of plan edits, each with its inverse.

Everything that changes a plan goes through here: the screen, undo, remedies and replanning. `apply` gives the new
plan and the edits that lead back to the old one, exactly. A plan that would not be valid is refused whole.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from ..errors import PlanError, Problem
from ..vocabulary import SCHOOL_SIDES, Id, Model, School
from .air import BenchAir
from .hours import Hours
from .kit import Kit
from .model import MAX_STEPS, Build, Plan, Trial, Zone
from .own import AnOwnMaterial, Learned
from .parse import HALF, parse_step, problems_of
from .references import check_references
from .steps import MAX_ZONES, AnyStep, CoatStep, Step


class AddStep(Model):
    """Puts a step at `index` of the list (0 first)."""

    edit: Literal["add_step"] = "add_step"
    step: Step
    index: Annotated[int, Field(ge=0)]


class RemoveStep(Model):
    """Takes a step away that nothing else stands on."""

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
    """The inverse of a split: the zones go back, in this order, and the split-off step is gone.

    Only what a split of the joined step would give can be joined, so that a split leads back from it.
    """

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


class _OfPlan(Model):
    """An edit of a part of the plan. `absent`: the part was left out before, and is left out again."""

    absent: bool = False


class SetAir(_OfPlan):
    """Writes the bench air."""

    edit: Literal["set_air"] = "set_air"
    air: BenchAir


class SetBuild(Model):
    """Writes what the build is: name, scale, material, start, time zone."""

    edit: Literal["set_build"] = "set_build"
    build: Build


class SetSchool(_OfPlan):
    """Takes a side in a pair of schools; None leaves it undecided."""

    edit: Literal["set_school"] = "set_school"
    pair: School
    side: str | None


class AddZone(Model):
    """Puts a zone at `index` of the list."""

    edit: Literal["add_zone"] = "add_zone"
    zone: Zone
    index: Annotated[int, Field(ge=0)]


class RemoveZone(Model):
    """Removes a zone that no step covers."""

    edit: Literal["remove_zone"] = "remove_zone"
    zone_id: Id


class SetZone(Model):
    """Writes one zone; its id stays."""

    edit: Literal["set_zone"] = "set_zone"
    zone: Zone


class SetTrials(_OfPlan):
    """Writes what trials on scrap have shown."""

    edit: Literal["set_trials"] = "set_trials"
    trials: list[Trial]


class SetKit(_OfPlan):
    """Writes the airbrushes and the compressor; None for the usual ones."""

    edit: Literal["set_kit"] = "set_kit"
    kit: Kit | None


class SetHours(_OfPlan):
    """Writes when one can be at the bench and what a schedule is to aim for; None for no calendar."""

    edit: Literal["set_hours"] = "set_hours"
    hours: Hours | None


class SetLearned(_OfPlan):
    """Writes what was learned at the bench and is used in this plan."""

    edit: Literal["set_learned"] = "set_learned"
    learned: list[Learned]


class SetOwnMaterials(_OfPlan):
    """Writes the plan's own thinners and paints."""

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
    | SetLearned
)
Edit = Annotated[AnyEdit, Field(discriminator="edit")]
_EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[Edit])


def parse_edits(data: Any) -> list[AnyEdit]:
    """Edits from plain JSON data. Raises PlanError naming the field."""
    try:
        return _EDITS.validate_python(data)
    except ValidationError as error:
        raise PlanError([Problem(where=f"edits{p.where}", what=p.what) for p in problems_of(error, data)]) from None
    except UnicodeError:
        raise PlanError.one("edits", HALF) from None


def edits_json(edits: Sequence[AnyEdit]) -> list[dict[str, Any]]:
    """Edits as plain data, only what was set, so that they come back the same."""
    return [e.model_dump(mode="json", exclude_unset=True) | {"edit": e.edit} for e in edits]


def apply(plan: Plan, edits: Sequence[AnyEdit]) -> tuple[Plan, list[AnyEdit]]:
    """Applies edits in order; all or none. Gives the new plan and the edits that undo them, in order.

    Raises PlanError where an edit does not fit or the plan would no longer be valid.
    """
    inverses: list[AnyEdit] = []
    for edit in edits:
        plan, inverse = apply_one(plan, edit)
        inverses.insert(0, inverse)
    if len(plan.steps) > MAX_STEPS:
        raise PlanError.one("steps", f"at most {MAX_STEPS} steps")
    if len(plan.zones) > MAX_ZONES:
        raise PlanError.one("zones", f"at most {MAX_ZONES} zones")
    check_references(plan)
    return plan, inverses


def apply_one(plan: Plan, edit: AnyEdit) -> tuple[Plan, AnyEdit]:
    """One edit and its inverse; references are not checked yet (see `apply`)."""
    match edit:
        case AddStep(step=step, index=index):
            if plan.step(step.id) is not None:
                raise PlanError.one("step.id", f"the id '{step.id}' is taken")
            if index > len(plan.steps):
                raise PlanError.one("index", f"there are only {len(plan.steps)} steps")
            steps = [*plan.steps[:index], step, *plan.steps[index:]]
            return _with_steps(plan, steps), RemoveStep(step_id=step.id)
        case RemoveStep(step_id=step_id):
            return _remove(plan, step_id)
        case MoveStep(step_id=step_id, to_index=to_index):
            place = _index(plan, step_id)
            if to_index >= len(plan.steps):
                raise PlanError.one("to_index", f"there are only {len(plan.steps)} steps")
            steps = [*plan.steps[:place], *plan.steps[place + 1 :]]
            steps.insert(to_index, plan.steps[place])
            return _with_steps(plan, steps), MoveStep(step_id=step_id, to_index=place)
        case SplitStep():
            return _split(plan, edit)
        case JoinStep():
            return _join(plan, edit)
        case SetField():
            return _set_field(plan, edit)
        case SetBuild(build=build):
            return plan.model_copy(update={"build": build}), SetBuild(build=plan.build)
        case AddZone() | RemoveZone() | SetZone():
            return _zones(plan, edit)
        case _OfPlan():
            return _part(plan, edit)


def _index(plan: Plan, step_id: str, field: str = "step_id") -> int:
    for i, step in enumerate(plan.steps):
        if step.id == step_id:
            return i
    raise PlanError.one(field, f"there is no step '{step_id}'")


def _with_steps(plan: Plan, steps: list[AnyStep]) -> Plan:
    return plan.model_copy(update={"steps": steps})


def _remove(plan: Plan, step_id: str) -> tuple[Plan, AnyEdit]:
    place = _index(plan, step_id)
    _not_needed(plan, step_id, "step_id")
    steps = [*plan.steps[:place], *plan.steps[place + 1 :]]
    return _with_steps(plan, steps), AddStep(step=plan.steps[place], index=place)


def _not_needed(plan: Plan, step_id: str, field: str) -> None:
    """Refuses to take a step away that others stand on."""
    if users := [s.name for s in plan.steps if getattr(s, "acts_on", None) == step_id]:
        raise PlanError.one(field, f"'{users[0]}' acts on this coat; remove that step first, or both at once")
    for s in plan.steps:
        if isinstance(s, CoatStep) and (s.on == step_id or step_id in s.beside):
            what = f"'{s.name}' is said to lie on it or beside it: say first where that lies"
            raise PlanError.one(field, what)
    if any(step_id in (t.upper, t.lower) for t in plan.trials):
        raise PlanError.one(field, "a trial was entered for this step; take that result out first")


# --- parts of the plan -----------------------------------------------------------------------------------------


def _with_part(plan: Plan, field: str, value: Any, absent: bool) -> Plan:
    """The plan with a part of it changed; `absent`: as if it had never been said."""
    changed = plan.model_copy(update={field: value})
    if absent:
        changed.model_fields_set.discard(field)
    return changed


_PART_OF: dict[type[_OfPlan], str] = {
    SetAir: "air", SetKit: "kit", SetHours: "hours", SetTrials: "trials", SetLearned: "learned",
    SetOwnMaterials: "materials",
}  # fmt: skip


def _part(plan: Plan, edit: _OfPlan) -> tuple[Plan, AnyEdit]:
    if isinstance(edit, SetSchool):
        return _school(plan, edit)
    field = _PART_OF[type(edit)]
    inverse: Any = type(edit)(**{field: getattr(plan, field), "absent": field not in plan.model_fields_set})
    return _with_part(plan, field, getattr(edit, field), edit.absent), inverse


def _school(plan: Plan, edit: SetSchool) -> tuple[Plan, AnyEdit]:
    pair, side = edit.pair, edit.side
    if side is not None and side not in SCHOOL_SIDES[pair]:
        raise PlanError.one("side", f"must be {' or '.join(SCHOOL_SIDES[pair])}")
    sides = {**plan.schools, pair: side}
    ordered = {p: sides[p] for p in School if sides.get(p) is not None}
    inverse = SetSchool(pair=pair, side=plan.schools.get(pair), absent="schools" not in plan.model_fields_set)
    return _with_part(plan, "schools", ordered, edit.absent), inverse


def _zones(plan: Plan, edit: AddZone | RemoveZone | SetZone) -> tuple[Plan, AnyEdit]:
    zones = list(plan.zones)
    if isinstance(edit, AddZone):
        if edit.index > len(zones):
            raise PlanError.one("index", f"there are only {len(zones)} zones")
        zones.insert(edit.index, edit.zone)
        return plan.model_copy(update={"zones": zones}), RemoveZone(zone_id=edit.zone.id)
    wanted = edit.zone_id if isinstance(edit, RemoveZone) else edit.zone.id
    place = next((i for i, z in enumerate(zones) if z.id == wanted), None)
    if place is None:
        raise PlanError.one("zone_id", f"there is no zone '{wanted}'")
    before = zones[place]
    if isinstance(edit, SetZone):
        zones[place] = edit.zone
        return plan.model_copy(update={"zones": zones}), SetZone(zone=before)
    if users := [s.name for s in plan.steps if wanted in s.zones]:
        raise PlanError.one("zone_id", f"'{users[0]}' covers this zone; take it off that step first")
    if closers := [s.name for s in plan.steps if wanted in getattr(s, "closes", ())]:
        raise PlanError.one("zone_id", f"'{closers[0]}' closes this zone; take it off that step first")
    if len(zones) == 1:
        raise PlanError.one("zone_id", "a build has at least one zone")
    del zones[place]
    return plan.model_copy(update={"zones": zones}), AddZone(zone=before, index=place)


# --- steps -----------------------------------------------------------------------------------------------------


def _parted(step: AnyStep, zones: list[str], new_id: str) -> tuple[AnyStep, AnyStep]:
    """A step without some of its zones, and the step that these get."""
    stays = [z for z in step.zones if z not in zones]
    goes = [z for z in step.zones if z in zones]
    update: dict[str, Any] = {"zones": stays}
    split: dict[str, Any] = {"id": new_id, "zones": goes, "recipe_of": step.recipe_of or step.id}
    covered = getattr(step, "coverage_by_zone", {})
    if covered:
        update["coverage_by_zone"] = {z: c for z, c in covered.items() if z in stays}
        split["coverage_by_zone"] = {z: c for z, c in covered.items() if z in goes}
    return step.model_copy(update=update), step.model_copy(update=split)


def _split(plan: Plan, edit: SplitStep) -> tuple[Plan, AnyEdit]:
    place = _index(plan, edit.step_id)
    step = plan.steps[place]
    if not set(edit.zones) < set(step.zones):
        raise PlanError.one("zones", f"some, but not all, of the zones of '{step.name}' can be split off")
    if plan.step(edit.new_id) is not None:
        raise PlanError.one("new_id", f"the id '{edit.new_id}' is taken")
    inverse = JoinStep(
        step_id=step.id, split_id=edit.new_id, zones=list(step.zones),
        coverage_by_zone=dict(getattr(step, "coverage_by_zone", {})),
    )  # fmt: skip
    steps = [*plan.steps[:place], *_parted(step, edit.zones, edit.new_id), *plan.steps[place + 1 :]]
    return _with_steps(plan, steps), inverse


def _join(plan: Plan, edit: JoinStep) -> tuple[Plan, AnyEdit]:
    place, other = _index(plan, edit.step_id), _index(plan, edit.split_id, "split_id")
    step, gone = plan.steps[place], plan.steps[other]
    if other != place + 1:
        raise PlanError.one("split_id", f"'{gone.name}' does not stand right after '{step.name}'; move it there first")
    if sorted(edit.zones) != sorted([*step.zones, *gone.zones]):
        raise PlanError.one("zones", "they have to be the zones of the two steps, each once")
    _not_needed(plan, gone.id, "split_id")
    if heirs := [s.name for s in plan.steps if s.recipe_of == gone.id]:
        raise PlanError.one("split_id", f"'{heirs[0]}' has its recipe from this step; it has to stay")
    update: dict[str, Any] = {"zones": list(edit.zones)}
    if "coverage_by_zone" in step.model_fields_set:
        update["coverage_by_zone"] = dict(edit.coverage_by_zone)
    joined = step.model_copy(update=update)
    # What a split of it would give has to be what is there: then, and only then, a split leads back.
    for was, again in zip((step, gone), _parted(joined, gone.zones, gone.id), strict=True):
        if field := _differs(was, again):
            what = f"'{gone.name}' is no split of '{step.name}': they differ in {field.replace('_', ' ')}"
            raise PlanError.one("split_id", what)
    steps = [*plan.steps[:place], joined, *plan.steps[other + 1 :]]
    return _with_steps(plan, steps), SplitStep(step_id=step.id, zones=list(gone.zones), new_id=gone.id)


def _differs(one: AnyStep, other: AnyStep) -> str | None:
    """The first field in which two steps differ as they are written; None where they are alike."""
    a, b = (s.model_dump(mode="json", exclude_unset=True) for s in (one, other))
    return next((f for f in {**a, **b} if f not in a or f not in b or a[f] != b[f]), None)


def _set_field(plan: Plan, edit: SetField) -> tuple[Plan, AnyEdit]:
    place = _index(plan, edit.step_id)
    step = plan.steps[place]
    if edit.field in {"id", "kind"}:
        raise PlanError.one(edit.field, "cannot be changed; remove the step and add another")
    data = step.model_dump(mode="json", exclude_unset=True)
    data |= {"kind": step.kind}
    was_set = edit.field in data
    before = data.get(edit.field)
    if edit.absent:
        data.pop(edit.field, None)
    else:
        data[edit.field] = edit.value
    changed = parse_step(data)
    steps = [*plan.steps[:place], changed, *plan.steps[place + 1 :]]
    inverse = SetField(step_id=step.id, field=edit.field, value=before, absent=not was_set)
    return _with_steps(plan, steps), inverse
