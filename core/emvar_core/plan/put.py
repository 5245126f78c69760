"""A technique put into a plan: the edits that add its steps."""

from __future__ import annotations

from typing import Any

from ..errors import PlanError
from ..ids import slug
from ..knowledge import Knowledge, Technique, knowledge
from ..knowledge.types import StepTemplate
from ..vocabulary import Role, WaitBy
from .edits import AddStep, AnyEdit
from .mixes import default_mix
from .model import Plan
from .parse import parse_step
from .steps import AnyStep, Mix, MixPart


def technique_of(k: Knowledge, step: AnyStep) -> Technique | None:
    """The technique that a step is said to be, where it is a known one."""
    return k.techniques.get(step.technique) if step.technique else None


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
        "wait_by": WaitBy.PROGRAM.value,
        "hands_on_min": template.hands_on_min,
    }
    optional = {
        "material": template.material,
        "method": template.method,
        "passes": template.passes,
        "sheen": template.sheen,
        "coverage": template.coverage,
        "place": template.place,
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
    """Edits that put a technique's steps into a plan at `index`, in these zones; the program keeps their waits.

    Raises PlanError naming the field where there is no such technique or zone.
    """
    k = knowledge()
    technique = k.techniques.get(technique_id)
    if technique is None:
        raise PlanError.one("technique", f"there is no technique '{technique_id[:60]}'")
    if not zones:
        raise PlanError.one("zones", "at least one zone is needed")
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
        edits.append(AddStep(step=parse_step(data), index=index + i))
    return edits
