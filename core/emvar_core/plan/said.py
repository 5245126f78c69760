"""What a validator says, in the words of the trade: a film, a wait, an area, instead of an input."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..vocabulary import LEAST


@dataclass(frozen=True)
class Subject:
    """What a field is called, in which unit it is shown, and how many of that unit make one of the field's."""

    words: str
    unit: str = ""
    times: float = 1
    more: str = "more than"


SUBJECTS = {
    "dry_film_um": Subject("a film", "µm", more="thicker than"),
    "area_cm2": Subject("an area", "cm²", more="larger than"),
    "coverage": Subject("what is covered", "%", 100),
    "share": Subject("the share of a zone", "%", 100),
    "leaves": Subject("what is left of the coat", "%", 100),
    "wait_min": Subject("a wait", "min", more="longer than"),
    "hands_on_min": Subject("the time at the bench", "min", more="longer than"),
    "pause_min": Subject("a pause", "min", more="longer than"),
    "duration_min": Subject("the time", "min", more="longer than"),
    "lies_min": Subject("the time that it lies", "min", more="longer than"),
    "than_min": Subject("the limit", "min", more="longer than"),
    "length_min": Subject("a sitting", "min", more="longer than"),
    "fine_at_most_min": Subject("fine work in a row", "min", more="longer than"),
    "rest_min": Subject("a rest", "min", more="longer than"),
    "temp_c": Subject("the temperature", "°C"),
    "rh_pct": Subject("the humidity", "%"),
    "passes": Subject("the number of passes"),
    "amount": Subject("an amount"),
    "scale": Subject("the scale, 1 to so many,"),
    "nozzle_mm": Subject("a nozzle", "mm", more="wider than"),
    "pressure_kpa": Subject("the pressure", "bar", 0.01),
    "most_kpa": Subject("what the compressor reaches", "bar", 0.01),
    "hose_loss_kpa": Subject("what the hose takes", "bar", 0.01),
    "distance_mm": Subject("the distance", "cm", 0.1),
    "altitude_m": Subject("the altitude", "m"),
    "age_days": Subject("an age", "days"),
    "flow_ml_min": Subject("the flow", "mL/min"),
    "viscosity_mpas": Subject("the viscosity", "mPa·s"),
    "drops_per_ml": Subject("the drops in a millilitre"),
    "name": Subject("a name"),
}
NUMBERS = (
    "float_parsing",
    "float_type",
    "int_parsing",
    "int_type",
    "int_from_float",
    "finite_number",
    "decimal_parsing",
)

PATTERNS = (
    (r"^\d{4}-\d{2}-\d{2}T", "write a day and a time, as in 2026-12-05T19:30"),
    (r"^([01]\d|2[0-3])", "write a time of day, as in 19:30"),
    ("^#", "write a colour, as in #a0522d"),
    ("^[A-Za-z0-9_-]", "an id has letters, digits, - and _, at most 40 of them"),
)


def said(entry: Mapping[str, Any]) -> str:
    """One of a validator's errors as a person would say it.

    >>> said({"type": "greater_than_equal", "loc": ("dry_film_um",), "ctx": {"ge": LEAST}, "msg": ""})
    'a film must be thicker than 0 µm'
    >>> said({"type": "less_than_equal", "loc": ("pressure_kpa",), "ctx": {"le": 600.0}, "msg": ""})
    'the pressure must be at most 6 bar'
    """
    field = next((p for p in reversed(entry["loc"]) if isinstance(p, str) and p in SUBJECTS), None)
    subject = SUBJECTS[field] if field is not None else Subject("it")
    limits, kind = entry.get("ctx", {}), entry["type"]

    def must(how: str, limit: Any) -> str:
        if not isinstance(limit, int | float):
            return f"{subject.words} must be {how} {limit}"
        return f"{subject.words} must be {how} {limit * subject.times:g} {subject.unit}".rstrip()

    if kind in ("greater_than", "greater_than_equal"):
        least = limits.get("gt", limits.get("ge"))
        if kind == "greater_than" or least == LEAST:
            return must(subject.more, 0 if least == LEAST else least)
        return must("at least", least)
    if kind == "less_than_equal":
        return must("at most", limits["le"])
    if kind == "less_than":
        return must("less than", limits["lt"])
    if kind in NUMBERS:
        return f"{subject.words} must be a number"
    if kind == "string_too_short":
        return f"{subject.words} must not be empty"
    if kind == "string_too_long":
        return f"{subject.words} may have at most {limits['max_length']} characters"
    if kind == "string_pattern_mismatch":
        return next((words for start, words in PATTERNS if limits["pattern"].startswith(start)), str(entry["msg"]))
    if kind == "missing":
        return "this has to be said"
    return str(entry["msg"]).removeprefix("Value error, ")
