"""How a build begins: from nothing, from an outline, or as another build was done, on zones of its own.

An outline is a whole small plan of ours, sound as it stands. What is begun takes its steps onto the zones that are
named; the program's waits follow the base material, the air and the zones.
"""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Annotated, Any

from pydantic import Field

from ..errors import PlanError
from ..ids import slug
from ..knowledge import USUAL_BASE
from ..plan import MAX_ZONES, BenchAir, Plan, apply, parse_plan
from ..plan.model import FORMAT, VERSION, Zone
from ..vocabulary import Id, Instant, Model, Name
from .waits import followed


class Outline(Model):
    """A whole small plan to begin from: what it is called, what it is for."""

    id: Id
    name: Name
    words: str
    plan: Plan


class NewZone(Model):
    """A zone to begin with. `like`: the zone of what is begun from whose steps it gets; none, those of its first."""

    name: Name
    area_cm2: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    base_material: Id | None = None
    like: Id | None = None


class Beginning(Model):
    """What a build begins with: its name, scale, base material, zones, air, and when."""

    name: Name
    scale: Annotated[int, Field(ge=1, le=2000)] = 72
    base_material: Id = USUAL_BASE
    starts_at: Instant
    timezone: str = "UTC"
    zones: Annotated[list[NewZone], Field(min_length=1, max_length=MAX_ZONES)]
    air: BenchAir | None = None


@cache
def outlines() -> tuple[Outline, ...]:
    """The outlines that ship, in the order of their names."""
    found = [o for o in files(__package__).joinpath("outlines").iterdir() if o.name.endswith(".json")]
    made = [json.loads(o.read_text(encoding="utf-8")) for o in found]
    return tuple(sorted((Outline(**{**o, "plan": parse_plan(o["plan"])}) for o in made), key=lambda o: o.name))


def begun(beginning: Beginning, source: Plan | None = None) -> Plan:
    """The plan of a new build. Raises PlanError naming the field where something in it cannot stand.

    `source`: the steps, schools and own materials of what it is begun from are taken over; its times, trials and what
    is said of its bench are not.
    """
    taken: set[str] = set()
    zones: list[dict[str, Any]] = []
    for z in beginning.zones:
        zone_id = slug(z.name, taken)
        taken.add(zone_id)
        zones.append({"id": zone_id, **z.model_dump(mode="json", exclude={"like"}, exclude_none=True)})
    data: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "build": beginning.model_dump(mode="json", exclude={"zones", "air"}),
        "zones": zones,
        "steps": [],
    }
    if beginning.air is not None:
        data["air"] = beginning.air.model_dump(mode="json", exclude_unset=True)
    if source is None:
        return parse_plan(data)
    like = [_like(z, source.zones, i) for i, z in enumerate(beginning.zones)]
    given = source.model_dump(mode="json", exclude_unset=True, exclude={"steps"})
    data |= {key: given[key] for key in ("schools", "materials", "kit") if key in given}
    steps = [s.model_dump(mode="json", exclude_unset=True) | {"kind": s.kind} for s in source.steps]
    data["steps"] = _onto(steps, {z["id"]: old for z, old in zip(zones, like, strict=True)})
    plan = parse_plan(data)
    more = followed(None, plan)
    return apply(plan, more)[0] if more else plan


def _like(zone: NewZone, old: list[Zone], at: int) -> str:
    """Of which zone a new one gets the steps."""
    if zone.like is None:
        return old[0].id
    if zone.like not in {z.id for z in old}:
        raise PlanError.one(f"zones[{at}].like", f"there is no zone '{zone.like[:60]}' in what it begins from")
    return zone.like


def _onto(steps: list[dict[str, Any]], like: dict[str, str]) -> list[dict[str, Any]]:
    """Steps on other zones, each where its old zones have heirs; one without falls away, and what refers to it."""

    def heirs(zones: list[str]) -> list[str]:
        return [new for new, old in like.items() if old in zones]

    kept: list[dict[str, Any]] = []
    for old_step in steps:
        zones = heirs(old_step["zones"])
        if not zones:
            continue
        step = {**old_step, "zones": zones}
        for field in ("fixed_start", "no_later"):
            step.pop(field, None)
        if "closes" in step:
            step["closes"] = heirs(step["closes"])
        if by_zone := step.pop("coverage_by_zone", None):
            step["coverage_by_zone"] = {
                new: by_zone[old] for new, old in like.items() if old in by_zone and new in zones
            }
        kept.append(step)
    ids = {s["id"] for s in kept}
    for step in kept:
        if "beside" in step:
            step["beside"] = [i for i in step["beside"] if i in ids]
        for field in ("on", "recipe_of"):
            if step.get(field) not in (None, *ids):
                del step[field]
    return [s for s in kept if s.get("acts_on") is None or s["acts_on"] in ids]
