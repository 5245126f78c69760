"""Keys of the memory, made from frozen values and from nothing else: a value that has a new field has it in its key.

A value is a frozen dataclass. Its key holds every field but those marked `APART`, which are kept apart where the value
is used: names and ids, which belong to writing, and instants. A value whose content cannot be read is refused.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import fields, is_dataclass
from functools import lru_cache
from types import MappingProxyType
from typing import Any

from .memory import MEMORY, intern
from .vocabulary import Model

APART: Mapping[str, bool] = MappingProxyType({"apart": True})  # of a field: it is no part of the value's key
_MODELS = MEMORY.door("what a model is", 10_000)
PLAIN = (str, int, float, type(None))


@lru_cache(maxsize=64)
def _counted(kind: Any) -> tuple[str, ...]:
    return tuple(f.name for f in fields(kind) if "apart" not in f.metadata)


def content(value: Any) -> Hashable:
    """All of a frozen value that its key is made from. Raises TypeError where it has none that can be read.

    >>> from emvar_core.physics.blend import Blend
    >>> content(Blend.of({"water": 1}))
    ('Blend', (('water', 1.0),))
    """
    if isinstance(value, PLAIN):
        return value
    if isinstance(value, Model):
        return _MODELS.of(value, lambda: intern((type(value).__name__, value.model_dump_json())))
    if isinstance(value, tuple):
        return tuple([content(v) for v in value])
    if isinstance(value, dict):
        return tuple(sorted((content(k), content(v)) for k, v in value.items()))
    if isinstance(value, frozenset):
        return frozenset(map(content, value))
    if is_dataclass(value) and type(value).__hash__ is not None:
        key: Hashable = getattr(value, "key", None)
        return _fields(value) if key is None else key
    raise TypeError(f"a {type(value).__name__} cannot be told from another by what it is")


def _fields(value: Any) -> Hashable:
    kind = type(value)
    return (kind.__name__, *[content(getattr(value, name)) for name in _counted(kind)])  # type: ignore[arg-type]


def key_of(value: Any) -> int:
    """A small integer that stands for all of a frozen value; what has parts with a `key` of their own goes by those."""
    return intern(_fields(value))


__all__ = ["APART", "content", "key_of"]
