"""A technique put into a plan: the edits that add its steps."""

from __future__ import annotations

import re
from typing import Any

from ..errors import PlanError
from ..ids import slug
from ..knowledge import Coat, Knowledge, Technique, knowledge
from ..knowledge.types import StepTemplate
from ..vocabulary import COVERS, Use, WaitBy, capital
from .edits import AddStep, AnyEdit, SetField
from .mixes import coverage_of, default_mix, thinned
from .model import Plan
from .parse import parse_step
from .steps import AnyStep, CoatStep, Mix

TONES = {"lighter": ("#f4f1e8", 0.4), "darker": ("#14110e", 0.6)}  # towards what, and how far


def technique_of(k: Knowledge, step: AnyStep) -> Technique | None:
    """The technique that a step is said to be, where it is a known one."""
    return k.techniques.get(step.technique) if step.technique else None


def _mix(k: Knowledge, template: StepTemplate) -> Mix | None:
    assert template.material is not None
    if template.mix is None:
        return default_mix(k, template.material)
    m = template.mix
    return thinned(k.coats[template.material], m.paint, m.thinner, m.with_)


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


def renamed(step: CoatStep, old: Coat, new: Coat) -> list[AnyEdit]:
    """The edit that renames a step which is called after its material, once that is replaced; none where it is not."""
    name = re.sub(re.escape(old.name), new.name, step.name, flags=re.IGNORECASE)
    if name == step.name:
        return []
    return [SetField(step_id=step.id, field="name", value=capital(name)[:120])]


def _colour(k: Knowledge, plan: Plan, template: StepTemplate, zones: list[str], index: int) -> str | None:
    """The colour that a step's name means: its own, or one lighter or darker than what covers below it."""
    if template.colour not in TONES:
        return template.colour
    for step in reversed(plan.steps[:index]):
        if not isinstance(step, CoatStep) or not set(step.zones) & set(zones):
            continue
        coat = k.coats[step.material]
        if coat.use in (Use.COLOUR, Use.PRIMER) and coverage_of(step, coat) > COVERS:
            return mixed(step.colour.srgb if step.colour else coat.colour, *TONES[template.colour])
    return None


def mixed(srgb: str, towards: str, share: float) -> str:
    """A colour moved some way towards another, plainly in sRGB: a first guess that people change.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#808080'
    """
    pairs = ((int(srgb[i : i + 2], 16), int(towards[i : i + 2], 16)) for i in (1, 3, 5))
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in pairs)


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
        if template.kind == "coat" and (colour := _colour(k, plan, template, zones, index)):
            data["colour"] = {"srgb": colour}
        if template.on is not None:
            data["on" if template.kind == "coat" else "acts_on"] = ids[template.on]
        edits.append(AddStep(step=parse_step(data), index=index + i))
    return edits
