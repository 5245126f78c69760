"""The one place that makes and reads the ids of what an assessment tells of.

A seam is `upper step~zone~lower step`, with `base` for the material of the model; a coat is `step~zone`; a remark is
`step~code`. Steps and zones have ids of letters, figures, `_` and `-`, so that `~` parts them.
"""

from __future__ import annotations

import re
from typing import NamedTuple

BASE = "base"
PART = "~"


class SeamId(NamedTuple):
    """What a seam's id says. `lower` None is the base material."""

    upper: str
    zone: str
    lower: str | None


def seam_id(upper: str, zone: str, lower: str | None) -> str:
    """Example: `seam_id("matt", "hull", None)` is `matt~hull~base`.

    >>> seam_id("matt", "hull", None)
    'matt~hull~base'
    """
    return f"{upper}{PART}{zone}{PART}{lower or BASE}"


def read_seam_id(text: str) -> SeamId | None:
    """The parts of a seam's id; None where it is none.

    >>> read_seam_id("matt~hull~base")
    SeamId(upper='matt', zone='hull', lower=None)
    """
    parts = text.split(PART)
    if len(parts) != 3 or not all(parts):
        return None
    return SeamId(parts[0], parts[1], None if parts[2] == BASE else parts[2])


def coat_id(step: str, zone: str) -> str:
    """A coat is a step in a zone. Example: `primer~hull`.

    >>> coat_id("primer", "hull")
    'primer~hull'
    """
    return f"{step}{PART}{zone}"


def remark_id(step: str, code: str) -> str:
    """A remark is one thing said of a step, by its code. Example: `matt~carrier`."""
    return f"{step}{PART}{code}"


def slug(name: str, taken: set[str]) -> str:
    """An id for a new thing, readable but opaque, never one that is taken.

    Example: `slug("Pin wash", {"pin-wash"})` is `pin-wash-2`.

    >>> slug("Pin wash", {"pin-wash"})
    'pin-wash-2'
    """
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "step"
    if base not in taken:
        return base
    number = 2
    while f"{base}-{number}" in taken:
        number += 1
    return f"{base}-{number}"
