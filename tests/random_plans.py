"""Any plan that the format takes, drawn from the format itself: fields from the steps' models, words from the enums,
materials, techniques and airs from what is known. So what is added to them is drawn from then on.

A field that refers to something by its id has to be named in `Draw.refers`: one that is not, raises.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from enum import Enum
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Len, Lt, MaxLen, MinLen
from emvar_core.errors import PlanError
from emvar_core.knowledge import knowledge
from emvar_core.plan import CoatStep, FittingStep, Plan, WorkingStep, parse_plan
from emvar_core.plan.affects import PLACE, VERDICT, WHEN, fields_that
from emvar_core.vocabulary import SCHOOL_SIDES, BudTest, Id, Model, Movement
from pydantic import StringConstraints, TypeAdapter, ValidationError
from pydantic.fields import FieldInfo

from tests.builders import plan_json

K = knowledge()
ZONES = ["z0", "z1", "z2"]
KINDS: dict[str, type[Model]] = {"coat": CoatStep, "working": WorkingStep, "fitting": FittingStep}
COATS, THINNERS = [*sorted(K.coats), "old-tin", "mystery"], [*sorted(K.thinners), "mine"]
PATTERNS = {"srgb": ["#123456", "#b03a2a", "#e8e4d8"]}
# Fields whose usual magnitudes matter more than their limits.
USUAL: dict[str, list[Any]] = {
    "wait_min": [0, 1, 3, 45, 600, 1500, 9000],
    "hands_on_min": [0, 5, 20, 40],
    "dry_film_um": [0.2, 3, 20, 60, 200],
    "coverage": [0.02, 0.3, 1.0],
    "leaves": [0, 0.3, 1],
    "age_days": [0, 3, 60, 2000],
    "duration_min": [5, 600],
    "amount": [0.01, 1, 2, 50],
}
SET = 0.22  # how often a field is set that may be left out


class Draw:
    """Draws steps; what was drawn before can be referred to."""

    def __init__(self, rng: random.Random) -> None:
        self.rng = rng
        self.steps: list[dict[str, Any]] = []

    def refers(self, kind: type[Model], name: str) -> Any:
        """The id that a field refers to."""
        rng, coats = self.rng, [s for s in self.steps if s["kind"] == "coat"]
        pools: dict[str, Callable[[], list[Any]]] = {
            "material": lambda: sorted(K.touches) if kind is FittingStep else [*COATS, *THINNERS],
            "carrier": lambda: THINNERS,
            "technique": lambda: ["moonshine", *K.techniques],
            "acts_on": lambda: [s["id"] for s in coats],
            "on": lambda: [s["id"] for s in coats],
            "beside": lambda: [s["id"] for s in coats],
            "recipe_of": lambda: [s["id"] for s in coats],
            "after": lambda: [s["id"] for s in self.steps],
            "gun": lambda: ["gun"],
            "closes": lambda: ZONES,
            "zones": lambda: ZONES,
        }
        if name not in pools:
            raise NotImplementedError(f"{kind.__name__}.{name} refers to something: `refers` has to say to what")
        found = COATS if kind is CoatStep and name == "material" else pools[name]()
        return rng.choice(found) if found else None

    def value(self, kind: type[Model], name: str, annotation: Any, more: tuple[Any, ...] = ()) -> Any:
        rng = self.rng
        origin, args = get_origin(annotation), get_args(annotation)
        if origin is Annotated:
            return self.value(kind, name, args[0], (*args[1:], *more))
        if origin in (Union, UnionType):
            return self.value(kind, name, rng.choice([a for a in args if a is not type(None)]), more)
        if origin is Literal:
            return rng.choice(args)
        if origin is list:
            limits = {type(m): m for m in _flat(more)}
            least = limits[MinLen].min_length if MinLen in limits else 0
            most = min(limits[MaxLen].max_length if MaxLen in limits else 3, max(least, 3))
            drawn = [self.value(kind, name, args[0]) for _ in range(rng.randint(least, most))]
            return list(dict.fromkeys(drawn)) if drawn and isinstance(drawn[0], str) else drawn
        if origin is dict:
            return {self.value(kind, "zones", args[0]): self.value(kind, name, args[1]) for _ in range(2)}
        if isinstance(annotation, type) and issubclass(annotation, Enum):
            return rng.choice(list(annotation)).value
        if isinstance(annotation, type) and issubclass(annotation, Model):
            return self.model(annotation)
        if annotation is bool:
            return rng.random() < 0.5
        if annotation in (int, float):
            return self.number(name, annotation, more)
        if annotation is str:
            return self.text(kind, name, more)
        raise NotImplementedError(f"{kind.__name__}.{name}: no plan is drawn with a {annotation}")

    def number(self, name: str, kind: type, more: tuple[Any, ...]) -> float:
        if name in USUAL:
            return self.rng.choice(USUAL[name])
        low, high = 0.0, 100.0
        for m in _flat(more):
            low = m.ge if isinstance(m, Ge) else m.gt if isinstance(m, Gt) else low
            high = m.le if isinstance(m, Le) else m.lt if isinstance(m, Lt) else high
        drawn = self.rng.choice([low, high, self.rng.uniform(low, min(high, low + 100))])
        return round(drawn) if kind is int else drawn

    def text(self, kind: type[Model], name: str, more: tuple[Any, ...]) -> Any:
        patterns = [m.pattern for m in more if isinstance(m, StringConstraints) and m.pattern]
        if _ID in patterns:
            return self.refers(kind, name)
        if patterns:
            return self.rng.choice(PATTERNS["srgb"])
        return self.rng.choice(["stain", "Any words", "z"])

    def model(self, kind: type[Model], given: dict[str, Any] | None = None) -> dict[str, Any]:
        made = dict(given or {})
        for name, field in kind.model_fields.items():
            if name in made or name == "fixed_start":  # fixed starts lie before what they stand on, as a rule
                continue
            if field.is_required() or self.rng.random() < SET:
                drawn = self.value(kind, name, *_typed(field))
                if drawn is not None and drawn != []:
                    made[name] = drawn
        return made

    def step(self, i: int) -> dict[str, Any] | None:
        """One step that the format takes; None where none came of some tries."""
        kind = self.rng.choices(["coat", "working", "fitting"], [5, 3, 2])[0]
        for _ in range(8):
            zones = self.rng.sample(ZONES, self.rng.randint(1, 3))
            given: dict[str, Any] = {"kind": kind, "id": f"s{i}", "name": f"Step {i}", "zones": zones}
            if self.rng.random() < 0.7:
                given["wait_min"] = self.rng.choice(USUAL["wait_min"])
            made = self.model(KINDS[kind], given)
            if kind == "working":
                target = next((s for s in self.steps if s["id"] == made.get("acts_on")), None)
                if target is None:
                    return None
                made["zones"] = target["zones"]
            if kind == "coat" and (m := made.get("mix")):
                m["parts"][0] |= {"material": made["material"], "role": "paint"}
                for part in m["parts"]:
                    part["unit"] = m["parts"][0].get("unit", "parts")
            if made.get("existing") is not None:
                made |= {"wait_min": 0, "hands_on_min": 0}
            try:
                TypeAdapter(KINDS[kind]).validate_python(made)
            except ValidationError:
                continue
            return made
        return None


@cache
def _pattern(of: Any) -> str:
    return next(m.pattern for m in get_args(of) if isinstance(m, StringConstraints))


_ID = _pattern(Id)


def _typed(field: FieldInfo) -> tuple[Any, tuple[Any, ...]]:
    return field.annotation, tuple(field.metadata)


def _flat(more: tuple[Any, ...]) -> list[Any]:
    """Limits one by one, however they were given."""
    found: list[Any] = []
    for m in more:
        if isinstance(m, FieldInfo):
            found += m.metadata
        elif isinstance(m, Len):
            found += [MinLen(m.min_length), *([MaxLen(m.max_length)] if m.max_length is not None else [])]
        else:
            found.append(m)
    return found


def random_air(rng: random.Random) -> dict[str, Any]:
    """Steady air, or another by night, or a dated span of another."""

    def air() -> dict[str, Any]:
        movement = rng.choice(list(Movement)).value
        return {"temp_c": rng.choice([12, 18, 20, 30]), "rh_pct": rng.choice([40, 50, 60, 75]), "movement": movement}

    made: dict[str, Any] = {"day": air()}
    if rng.random() < 0.4:
        made["night"] = air()
    if rng.random() < 0.3:
        made["spans"] = [{"start": "2026-03-03T00:00:00+00:00", "end": "2026-03-05T00:00:00+00:00", "air": air()}]
    return made


def own_materials(rng: random.Random) -> list[dict[str, Any]]:
    """A thinner by its composition, a paint told by its bud test, and one of which nothing is known."""
    return [
        {"kind": "thinner", "id": "mine", "name": "Mine", "percent": {"water": 20, "acetone": 30, "isopropanol": 50}},
        {"kind": "coat", "id": "old-tin", "name": "Old tin", "bud_test": rng.choice(list(BudTest)).value},
        {"kind": "coat", "id": "mystery", "name": "Mystery"},
    ]


def random_plan(seed: int, length: int = 24) -> Plan:
    """A plan of so many steps at most in three zones, with materials of one's own."""
    rng = random.Random(seed)
    draw = Draw(rng)
    schools = {pair.value: rng.choice(sides).value for pair, sides in SCHOOL_SIDES.items() if rng.random() < 0.5}
    base = {"base_material": rng.choice(sorted(K.substrates)), "scale": rng.choice([1, 35, 72, 2000])}
    data = plan_json([], zones=ZONES, air=random_air(rng), materials=own_materials(rng), schools=schools, build=base)
    data["zones"][0]["base_material"] = rng.choice(sorted(K.substrates))
    made = parse_plan(data)
    for i in range(length):
        step = draw.step(i)
        if step is None:
            continue
        try:
            made = parse_plan(data | {"steps": [*draw.steps, step]})
        except PlanError:
            continue
        draw.steps.append(step)
    return made


def random_siblings(rng: random.Random) -> list[Plan]:
    """A coat on another one in one zone, as a rule with something done in between; and the same with one field of one
    step as the format might have it otherwise. The answer to the one must not be given for the other.
    """
    draw = Draw(rng)
    while len([s for s in draw.steps if s["kind"] == "coat"]) < 2 and len(draw.steps) < 4:
        step = draw.step(len(draw.steps))
        if step is not None and (draw.steps or step["kind"] == "coat"):
            draw.steps.append(step | {"zones": ["z0"]})
            draw.steps[-1].pop("coverage_by_zone", None)
    base = {"base_material": rng.choice(sorted(K.substrates))}
    data = plan_json([], zones=["z0"], air=random_air(rng), materials=own_materials(rng), build=base)
    return [p for steps in (draw.steps, _otherwise(draw)) if (p := _parsed(data | {"steps": steps})) is not None]


def _otherwise(draw: Draw) -> list[dict[str, Any]]:
    step = draw.rng.choice(draw.steps)
    kind = KINDS[step["kind"]]
    bearing = fields_that(kind, VERDICT, PLACE, WHEN) - {"kind", "zones", "fixed_start"}
    name = draw.rng.choice(sorted(bearing))
    other = {k: v for k, v in step.items() if k != name}
    if name not in step or draw.rng.random() < 0.7 or kind.model_fields[name].is_required():
        other[name] = draw.value(kind, name, *_typed(kind.model_fields[name]))
    return [other if s is step else s for s in draw.steps]


def _parsed(data: dict[str, Any]) -> Plan | None:
    try:
        return parse_plan(data)
    except PlanError:
        return None
