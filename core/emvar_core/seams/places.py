"""Where marks lie in their zone, and how much of one meets another.

A place is one of a closed set. What two marks share is expected from it and from how much of the zone they cover:
full coats meet everything; marks in one place meet by how thick they are strewn there; marks in places that exclude
each other do not meet; all others meet by chance. What is said to lie *on* another's marks lies on them whole, what
is said to lie *beside* them never meets them.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..vocabulary import Place

FULL = 0.95  # coverage from which a coat lies everywhere
# How much of a zone a place takes up (assumption: a mid-size model with panels, rails and rivets; by ÷2 to ×2).
# A patch takes up what it covers; what is scattered can lie anywhere.
SHARE_OF_ZONE = {
    Place.EDGES: 0.10,
    Place.RECESSES: 0.10,
    Place.FASTENERS: 0.04,
    Place.RAISED: 0.10,
    Place.MIDDLES: 0.50,
    Place.UPWARD: 0.40,
    Place.LOW_BAND: 0.25,
    Place.SOURCES: 0.06,
}
APART = {
    frozenset(pair)
    for pair in (
        (Place.EDGES, Place.RECESSES),
        (Place.EDGES, Place.MIDDLES),
        (Place.RAISED, Place.RECESSES),
        (Place.MIDDLES, Place.RECESSES),
        (Place.UPWARD, Place.LOW_BAND),
    )
}


@dataclass(frozen=True, slots=True)
class Spot:
    """Where something is in its zone. `on`: the step on whose marks it lies; `beside`: steps that it never meets."""

    step_id: str | None
    coverage: float = 1.0
    place: Place | None = None
    patch: str | None = None
    on: str | None = None
    beside: frozenset[str] = frozenset()
    kin: str | None = None  # the step that it was split off from: what is said of that holds for it too
    off: tuple[Spot, ...] = ()  # places that were masked while it was laid

    def is_one_of(self, steps: frozenset[str]) -> bool:
        return self.step_id in steps or self.kin in steps

    def is_within(self, other: Spot) -> bool:
        """Whether it lies nowhere but in a place: the same one, and of patches the one of the same name."""
        return self.place is not None and self.place is other.place and self.patch == other.patch

    @property
    def is_full(self) -> bool:
        return self.coverage >= FULL or self.place is Place.ALL_OVER


EVERYWHERE = Spot(None)


def shared(upper: Spot, lower: Spot) -> float:
    """How much of the upper mark meets the lower one, 0–1.

    >>> chips, wash = Spot("chips", 0.04, Place.EDGES), Spot("wash", 0.08, Place.RECESSES)
    >>> shared(chips, wash), shared(Spot("clear"), wash)
    (0.0, 0.08)
    >>> round(shared(Spot("cores", 0.01, Place.EDGES), chips), 3)
    0.4
    >>> shared(Spot("cores", 0.01, Place.EDGES, on="chips"), chips)
    1.0
    """
    if any(lower.is_within(m) for m in upper.off) or any(upper.is_within(m) for m in lower.off):
        return 0.0
    if lower.is_one_of(upper.beside) or upper.is_one_of(lower.beside):
        return 0.0
    if upper.on is not None and upper.on in (lower.step_id, lower.kin):
        return 1.0
    if lower.on is not None and lower.on in (upper.step_id, upper.kin):
        return min(1.0, lower.coverage / upper.coverage) if upper.coverage else 0.0
    if upper.place is Place.PATCH and lower.place is Place.PATCH and upper.patch and lower.patch:
        return 1.0 if upper.patch == lower.patch else 0.0
    if lower.is_full or upper.is_full:
        return lower.coverage
    if upper.place is not None and lower.place is not None:
        if frozenset((upper.place, lower.place)) in APART:
            return 0.0
        if upper.place is lower.place and (room := SHARE_OF_ZONE.get(lower.place)):
            return min(1.0, lower.coverage / room)
    return lower.coverage
