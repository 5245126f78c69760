"""A way in which one layer harms, or fails on, another: one object, one file, everything that is known of it.

A mechanism says what it judges and on which contacts, what it reads, how time changes it, what would change it, by
which physical check its end is proven, which scrap test settles it, and of which fault it is a cause. One that leaves
any of these out is refused when the core is loaded. Adding a mechanism is adding a file to `mechanisms/`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..knowledge.types import CauseData
from ..vocabulary import Basis, Contact, Edge, Event, FilmClass, Kind, School, Word
from .checks import Check
from .situation import Finding, Layer, Reads, Situation


class Course(Word):
    """How time changes what a mechanism finds at a seam, all else being as it is."""

    NEVER = "never"  # it is as it is, at any age
    EASES = "eases"  # the older what lies below, the milder
    PEAKS = "peaks"  # grave again in between, milder before and after
    WORSENS = "worsens"  # the older what lies below, the graver


@dataclass(frozen=True)
class Scrap:
    """The scrap test that settles it: minutes until it is judged, what counts as a pass, what as a fail."""

    sit_min: float
    passes: str
    fails: str


BUD_SCRAP = Scrap(1440, "The bud stays clean, the film flat and hard.", "Colour on the bud, or a soft film.")


@dataclass(frozen=True)
class Cause:
    """A fault that a mechanism brings itself: the appearance, its words where it is new, and the cause."""

    appearance: str
    cause: CauseData


@dataclass(frozen=True)
class NoFault:
    """Why a mechanism shows as none of the faults that people ask about."""

    why: str


CheckFor = Callable[[Layer, Finding, Situation], "Check | None"]
Judge = Callable[[Situation, float, Edge], Iterator[Finding]]


@dataclass(frozen=True, eq=False)
class Mechanism:
    """One mechanism. `judge` gives what it finds at an instant (minutes since the build's start) and an edge.

    `acts_on`: the films that it acts on, None among them for the bare material; without it, on any.
    `fault`: causes that it speaks for, as `appearance.cause`, or brings itself. `explains`: it says why, so that it is
    told before what is merely too soon. `cost`: where it stands in the order of asking, the cheap ones first.
    """

    id: str
    says: str
    on: frozenset[Contact]
    course: Course
    judge: Judge
    would_change: str
    check: Check | CheckFor
    scrap: Scrap
    fault: tuple[str, ...] | Cause | NoFault
    reads: int = Reads.MET
    acts_on: frozenset[FilmClass | None] | None = None
    explains: bool = False
    cost: int = 500

    def __post_init__(self) -> None:
        for name in ("id", "says", "would_change"):
            if not getattr(self, name):
                raise Incomplete(self.id or "?", name)
        if not self.on or not self.fault:
            raise Incomplete(self.id, "on" if not self.on else "fault")
        if self.scrap.sit_min <= 0 or not self.scrap.passes or not self.scrap.fails:
            raise Incomplete(self.id, "scrap")
        if self.acts_on is not None and self.reads & Reads.STACK:
            raise TypeError(f"the mechanism '{self.id}' looks at all layers: `acts_on` would go by the one met alone")
        if isinstance(self.check, Check) and not (self.check.do and self.check.if_fails):
            raise Incomplete(self.id, "check")

    @property
    def moves(self) -> bool:
        """Whether waiting can change it."""
        return self.course is not Course.NEVER

    def found(
        self, kind: Kind, severity: float, word: str, say: str | Callable[[], str], advice: str,
        basis: Basis = Basis.PRACTICE, why: str | Callable[[], str] = "common practice", *, layer: int | None = None,
        event: Event | None = None, school: School | None = None,
    ) -> Finding:  # fmt: skip
        """A finding of this mechanism. Sentences that are expensive to make are given as functions."""

        def text(of: str | Callable[[], str]) -> Callable[[], str]:
            return of if callable(of) else lambda: of

        return Finding(self.id, kind, severity, word, text(say), advice, basis, text(why), layer, event, school)


def films(*which: FilmClass | None) -> frozenset[FilmClass | None]:
    """A set of films, None for the bare material."""
    return frozenset(which)


BARE = films(None)


class Incomplete(TypeError):
    """A mechanism that leaves out what every mechanism has to say."""

    def __init__(self, mechanism: str, what: str) -> None:
        super().__init__(f"the mechanism '{mechanism}' says nothing of its {what}")


def contacts(*which: Contact) -> frozenset[Contact]:
    """A set of contacts."""
    return frozenset(which)


LAY, WORK, TOUCH = Contact.LAY, Contact.WORK, Contact.TOUCH
ALL_CONTACTS = contacts(*Contact)
__all__: list[Any] = [
    "ALL_CONTACTS",
    "BARE",
    "LAY",
    "TOUCH",
    "WORK",
    "Cause",
    "Course",
    "Incomplete",
    "Mechanism",
    "NoFault",
    "Scrap",
    "contacts",
    "films",
]
