"""Techniques as data: what each needs below it, its recipe, tool, window, rescue and traps, and the steps it makes.

`catalogue()` is the whole of it, validated when first used; `put` turns a technique into edits of a plan.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib.resources import files
from typing import Annotated, Any, Literal

from pydantic import Field

from ..edits import AddStep, AnyEdit
from ..materials import Knowledge, knowledge
from ..mixing import default_mix
from ..plan import (
    SCHOOL_SIDES,
    AnyStep,
    FittingAction,
    Method,
    Mix,
    MixPart,
    Plan,
    Role,
    School,
    Sheen,
    WorkAction,
    parse_step,
    slug,
)
from ..values import Model, PlanError, Problem


class MixTemplate(Model):
    """Paint to thinner, in parts."""

    with_: Annotated[str, Field(alias="with")]
    paint: float
    thinner: float


class StepTemplate(Model):
    """One step that a technique puts into a plan. What is left out is the material's usual."""

    kind: Literal["coat", "working", "fitting"]
    name: str
    material: str | None = None
    method: Method | None = None
    mix: MixTemplate | None = None
    film_um: float | None = None
    passes: int | None = None
    sheen: Sheen | None = None
    coverage: float | None = None
    action: WorkAction | FittingAction | None = None
    on: str | None = None
    carrier: str | None = None
    leaves: float | None = None
    wait_min: float = 0
    hands_on_min: float = 20


class TechniqueText(Model):
    """What there is to read of a technique."""

    id: str
    name: str
    words: str
    stage: int
    summary: str
    tool: str
    recipe: str
    window: str
    rescue: str
    traps: list[str]


class Technique(TechniqueText):
    """One technique of the trade. Figures are common practice; shares 0–1, films µm dry, marks mm."""

    wants_below: list[Sheen] = []
    carried_by: Literal["spirit", "water", "alcohol"] | None = None
    else_: str = ""
    thinner: tuple[float, float] | None = None
    film_um: tuple[float, float] | None = None
    mark_mm: float | None = None
    real_mm: float | None = None
    school: tuple[School, str] | None = None
    tags: list[str] = []
    main: str | None = None
    steps: list[StepTemplate]

    @property
    def main_template(self) -> StepTemplate | None:
        """The step that its limits are meant for: the one named, or its first coat."""
        coats = [s for s in self.steps if s.kind == "coat"]
        return next((s for s in coats if s.name == self.main), coats[0] if coats else None)

    def is_main(self, use: str) -> bool:
        """Whether a coat of this use is the one that the technique's limits are meant for."""
        template = self.main_template
        if template is None or template.material is None:
            return False
        return knowledge().coats[template.material].use == use


@lru_cache(maxsize=1)
def catalogue() -> dict[str, Technique]:
    """All techniques by id, in the file's order. Raises ValueError where the data names what is not there."""
    text = files(__package__).joinpath("techniques.toml").read_text(encoding="utf-8")
    found = {key: Technique(id=key, **row) for key, row in tomllib.loads(text).items()}
    k = knowledge()
    for technique in found.values():
        _check(k, technique)
    return found


def _check(k: Knowledge, technique: Technique) -> None:
    where = f"techniques.toml: {technique.id}"
    if technique.school is not None and technique.school[1] not in SCHOOL_SIDES[technique.school[0]]:
        raise ValueError(f"{where}: no such side of a school {technique.school}")
    names: set[str] = set()
    for step in technique.steps:
        stores = {"coat": k.coats, "fitting": k.touches}
        if step.material is not None and step.material not in stores.get(step.kind, {}):
            raise ValueError(f"{where}: unknown material {step.material}")
        thinners = [t for t in (step.carrier, step.mix.with_ if step.mix else None) if t is not None]
        if unknown := [t for t in thinners if t not in k.thinners]:
            raise ValueError(f"{where}: unknown thinner {unknown[0]}")
        if step.on is not None and step.on not in names:
            raise ValueError(f"{where}: '{step.on}' is no earlier step of it")
        names.add(step.name)
    if technique.main is not None and technique.main not in names:
        raise ValueError(f"{where}: '{technique.main}' is none of its steps")


def _mix(k: Knowledge, template: StepTemplate) -> Mix | None:
    assert template.material is not None
    if template.mix is None:
        return default_mix(k, template.material)
    m = template.mix
    return Mix(
        parts=[
            MixPart(material=template.material, role=Role.PAINT, amount=m.paint),
            MixPart(material=m.with_, role=Role.THINNER, amount=m.thinner),
        ]
    )


def step_data(k: Knowledge, technique: Technique, template: StepTemplate) -> dict[str, Any]:
    """A template as plain step data, without ids, zones and what it acts on."""
    data: dict[str, Any] = {
        "kind": template.kind,
        "name": template.name,
        "technique": technique.id,
        "wait_min": template.wait_min,
        "hands_on_min": template.hands_on_min,
    }
    optional = {
        "material": template.material,
        "method": template.method,
        "passes": template.passes,
        "sheen": template.sheen,
        "coverage": template.coverage,
        "dry_film_um": template.film_um,
        "action": template.action,
        "carrier": template.carrier,
        "leaves": template.leaves,
    }
    data |= {key: getattr(v, "value", v) for key, v in optional.items() if v is not None}
    if template.kind == "coat" and (mix := _mix(k, template)) is not None:
        data["mix"] = mix.model_dump(mode="json")
    return data


def put(plan: Plan, technique_id: str, zones: list[str], index: int) -> list[AnyEdit]:
    """Edits that put a technique's steps into a plan at `index`, in these zones.

    Raises PlanError naming the field where there is no such technique or zone.
    """
    technique = catalogue().get(technique_id)
    if technique is None:
        raise PlanError([Problem(where="technique", what=f"there is no technique '{technique_id[:60]}'")])
    if not zones:
        raise PlanError([Problem(where="zones", what="at least one zone is needed")])
    k = knowledge()
    taken = {s.id for s in plan.steps}
    ids: dict[str, str] = {}
    edits: list[AnyEdit] = []
    for i, template in enumerate(technique.steps):
        data = step_data(k, technique, template)
        step_id = slug(template.name, taken)
        taken.add(step_id)
        ids[template.name] = step_id
        data |= {"id": step_id, "zones": list(zones)}
        if template.on is not None:
            data["acts_on"] = ids[template.on]
        if i == 0 and index == 0:
            data["wait_min"] = 0
        edits.append(AddStep(step=parse_step(data), index=index + i))
    return edits


def technique_of(step: AnyStep) -> Technique | None:
    """The technique that a step is said to be, where it is a known one."""
    return catalogue().get(step.technique) if step.technique else None
