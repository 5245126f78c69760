"""What the fields of a step bear on, marked once at the field; whoever needs a list of fields asks here.

`VERDICT`: decides what happens at a seam. `PLACE`: where and over how much it is done. `WHEN`: its times. `LOOK`: how
it is drawn and told. `NOTHING`: is only kept. `ID` and `NAME` belong to writing. A field without a mark is refused when
the module is read, so that a new one cannot be forgotten.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from ..vocabulary import Model, Word


class Affects(Word):
    """What a field of a step bears on."""

    VERDICT = "verdict"
    PLACE = "place"
    WHEN = "when"
    LOOK = "look"
    ID = "id"
    NAME = "name"
    NOTHING = "nothing"


VERDICT, PLACE, WHEN, LOOK, ID, NAME, NOTHING = Affects


@lru_cache(maxsize=64)
def fields_that(kind: type[Model], *affect: Affects) -> frozenset[str]:
    """The fields of a kind of step that bear on some of these. Raises TypeError where a field has no mark."""
    fields = set()
    for name, field in kind.model_fields.items():
        marks = [m for m in field.metadata if isinstance(m, Affects)]
        if len(marks) != 1:
            raise TypeError(f"{kind.__name__}.{name} has to say what it affects, once")
        if marks[0] in affect:
            fields.add(name)
    return frozenset(fields)


def only(step: Model, *affect: Affects) -> str:
    """What of a step bears on some of these, as text; what is as the class leaves it is not written.

    So a field that is added later, and left as it is, changes nothing here.
    """
    wanted = set(fields_that(type(step), *affect))
    return f"{type(step).__name__} {step.model_dump_json(include=wanted, exclude_defaults=True, exclude_none=True)}"


@lru_cache(maxsize=16)
def left_out(kind: type[Model], *affect: Affects) -> dict[str, Any]:
    """The fields that bear on none of these, each as the class leaves it; empty where it has to be stated."""
    kept = fields_that(kind, *affect)
    empty: dict[str, Any] = {"id": "", "name": "", "zones": []}
    return {
        name: empty[name] if field.is_required() else field.get_default(call_default_factory=True)
        for name, field in kind.model_fields.items()
        if name not in kept
    }


def check(*kinds: type[Model]) -> None:
    """Refuses kinds of which a field has no mark."""
    for kind in kinds:
        fields_that(kind, *Affects)


__all__: list[Any] = [
    "ID", "LOOK", "NAME", "NOTHING", "PLACE", "VERDICT", "WHEN", "Affects", "check", "fields_that", "left_out", "only",
]  # fmt: skip
