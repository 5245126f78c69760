"""Plain JSON data to plans and steps, with errors that name each place that is wrong."""

from __future__ import annotations

import json
from typing import Any, TypeVar, cast

from pydantic import TypeAdapter, ValidationError

from ..errors import PlanError, Problem
from ..ids import BASE, slug
from ..vocabulary import Model
from .model import FORMAT, MAX_STEPS, OLDER, VERSION, Plan
from .references import check_references
from .said import said
from .steps import MAX_ZONES, AnyStep, Step

_STEP: TypeAdapter[AnyStep] = TypeAdapter(cast(Any, Step))
M = TypeVar("M", bound=Model)
HALF = "half of a character stands in it; write it again"


def json_of(body: bytes | str) -> Any:
    """Plain data from JSON. Raises PlanError for what is no JSON, and for a field that stands twice in one object."""

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) < len(pairs):
            names = [name for name, _ in pairs]
            twice = next(name for name in names if names.count(name) > 1)
            raise PlanError.one(shown(twice), "this field stands twice in one object; leave one")
        return found

    def no_figure(text: str) -> Any:
        raise PlanError.one("plan", f"{text} is no figure that can be reckoned with")

    try:
        return json.loads(body, object_pairs_hook=once, parse_constant=no_figure)
    except (ValueError, RecursionError) as error:
        if isinstance(error, PlanError):
            raise
        raise PlanError.one("plan", "this file is not JSON, so it is no plan file") from None


def shown(text: str, most: int = 60) -> str:
    """Somebody's text as it can be shown in an answer: short, and nothing that cannot be written."""
    return text[:most].encode("utf-8", "replace").decode("utf-8")


def parse_plan(data: Any) -> Plan:
    """Plan from plain JSON data. Raises PlanError whose problems name each place that is wrong."""
    if not isinstance(data, dict):
        raise PlanError.one("plan", "a plan file is one JSON object")
    if data.get("format") != FORMAT:
        raise PlanError.one("format", f"this is not a plan file: format must be '{FORMAT}'")
    if data.get("version") not in OLDER and data.get("version") != VERSION:
        what = f"version {shown(str(data.get('version')), 20)} is not known here; only up to {VERSION}"
        raise PlanError.one("version", what)
    if data["version"] in OLDER:
        data = _without_base(data)
    data = {**data, "version": VERSION}  # version 1 knew no places: its marks meet by chance, as they did
    for field, most in (("steps", MAX_STEPS), ("zones", MAX_ZONES)):
        if isinstance(data.get(field), list) and len(data[field]) > most:
            raise PlanError.one(field, f"{len(data[field])} are too many; at most {most}")
    plan = parse(Plan, data)
    check_references(plan)
    return plan


NAMES_A_STEP = ("id", "acts_on", "on", "recipe_of")


def _without_base(data: dict[str, Any]) -> dict[str, Any]:
    """An older plan in which no step has the id that stands for the material of the model since: it gets another."""
    steps = data.get("steps")
    if not isinstance(steps, list) or not any(isinstance(s, dict) and s.get("id") == BASE for s in steps):
        return data
    taken = {str(s.get("id")) for s in steps if isinstance(s, dict)}
    new = slug("base coat", taken)

    def other(value: Any) -> Any:
        return new if value == BASE else value

    def renamed(step: Any) -> Any:
        if not isinstance(step, dict):
            return step
        step = step | {field: other(step[field]) for field in NAMES_A_STEP if field in step}
        if isinstance(step.get("beside"), list):
            step["beside"] = [other(s) for s in step["beside"]]
        if isinstance(step.get("no_later"), dict):
            step["no_later"] = step["no_later"] | {"after": other(step["no_later"].get("after"))}
        return step

    data = data | {"steps": [renamed(s) for s in steps]}
    if isinstance(data.get("trials"), list):
        named = ("upper", "lower")
        data["trials"] = [
            t | {k: other(t[k]) for k in named if k in t} if isinstance(t, dict) else t for t in data["trials"]
        ]
    return data


def parse_step(data: Any) -> AnyStep:
    """One step from plain JSON data; the same errors as in a plan."""
    try:
        return _STEP.validate_python(data)
    except ValidationError as error:
        raise PlanError([Problem(where=f"step.{p.where}", what=p.what) for p in problems_of(error, data)]) from None
    except UnicodeError:
        raise PlanError.one("step", HALF) from None


def parse(kind: type[M], data: Any) -> M:
    """A document from plain JSON data. Raises PlanError naming the field."""
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        raise PlanError(problems_of(error, data)) from None
    except UnicodeError:  # from within the validator, which then names no place
        raise PlanError.one("plan", HALF) from None


def problems_of(error: ValidationError, data: Any) -> list[Problem]:
    """A validator's errors as problems that a person can act on; the first twenty."""
    problems = []
    for entry in error.errors(include_url=False)[:20]:
        what = said(entry)
        if entry["type"] == "extra_forbidden":
            what = "unknown field (units are part of the names, such as wait_min, film_um, temp_c)"
        elif entry["type"] == "too_long":
            what = what.replace("List should have", "there may be").replace(" after validation", "")
        problems.append(Problem(where=shown(_place(data, entry["loc"]), 200), what=shown(what, 400)))
    return problems


def _place(plan_like: Any, loc: tuple[int | str, ...]) -> str:
    """Turns a validator's location into words: `steps[3] 'Pin wash'.mix.parts[0].amount`."""
    words, here = "", plan_like
    for part in loc:
        if isinstance(part, str) and part in {"coat", "working", "fitting"} and isinstance(here, dict):
            continue
        if part == "thinner" and isinstance(here, dict):
            continue
        if isinstance(part, int):
            words += f"[{part}]"
            here = here[part] if isinstance(here, list) and part < len(here) else None
            if isinstance(here, dict) and isinstance(here.get("name"), str):
                words += f" '{here['name'][:40]}'"
        else:
            words += ("." if words else "") + part
            here = here.get(part) if isinstance(here, dict) else None
    return words or "plan"
