"""Errors that a person can act on: what was wrong, where, what would do. Nothing bare leaves a public face."""

from __future__ import annotations

from .vocabulary import Model


class Problem(Model):
    """One thing that is wrong: its place in the document, and what would do."""

    where: str
    what: str


class EmvarError(Exception):
    """Whatever the core refuses. Its text is a sentence that can be shown."""


class PlanError(EmvarError, ValueError):
    """A plan, or a change to one, that cannot be taken. Each problem names the place and what would do."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__("; ".join(f"{p.where}: {p.what}" for p in problems))

    @classmethod
    def one(cls, where: str, what: str) -> PlanError:
        return cls([Problem(where=where, what=what)])


class NotThere(EmvarError, LookupError):
    """Something asked for by its id that is not in the plan, or not known. `kind`: seam, coat, zone, step, remark …"""

    def __init__(self, kind: str, which: str = "") -> None:
        self.kind, self.which = kind, which
        super().__init__(f"there is no such {kind}" + (f": '{which[:80]}'" if which else ""))


class KnowledgeError(EmvarError, ValueError):
    """Data that contradicts itself or names what is not there. `where`: its file and entry."""

    def __init__(self, where: str, what: str) -> None:
        self.where, self.what = where, what
        super().__init__(f"{where}: {what}")


class OutOfRange(EmvarError, ValueError):
    """A figure outside the range in which a formula or setting holds; says the range and what would do."""


class Impossible(EmvarError, ValueError):
    """Something that cannot be mixed or worked; says why and what would do."""


class NoBenchTime(EmvarError, ValueError):
    """A calendar without any sitting from now on."""


class NotSettable(EmvarError, ValueError):
    """A control that an instrument does not have, or a value that it cannot take; names the field."""
