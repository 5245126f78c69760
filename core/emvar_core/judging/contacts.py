"""The third stage: which layers a landing meets, and what each meeting's verdict depends on, as a key.

The key is made from what the mechanisms say they read, and a mechanism is shown no more than that
(`seams/situation.py`), so that a verdict that is remembered is the verdict that would be worked out.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import TypeVar

from ..memory import MEMORY, Door, intern
from ..physics.air import Ahead
from ..seams.meeting import Meeting
from ..seams.places import Spot
from ..seams.registry import REGISTRY
from ..seams.situation import Landing, Layer, Reads
from ..vocabulary import TOUCHES_NOTHING
from .conditions import Conditions
from .stack import SIGHT, Lying, Stack, exposed, seen_at
from .verdicts import Judged, judge

# What is spoiled on less than this is a hint: of the zone at all, or of the zone and of the mark itself.
LEAST_OF_ZONE, SLIGHT_ZONE, SLIGHT_MARK = 0.001, 0.02, 0.10

T = TypeVar("T")
_CONTACTS = MEMORY.door("meetings of a landing", 60_000)
_VERDICTS = MEMORY.door("verdicts", 60_000)


@dataclass(frozen=True, slots=True)
class ContactVerdict:
    """What was judged of one layer that is met. Its times count from the landing; `key` stands for all of it.

    `share` of what lands meets it, which is `zone_share` of the zone. `slight`: so little that it is a hint at most.
    """

    index: int
    share: float
    judged: Judged
    key: int
    zone_share: float
    slight: bool


def slight(share: float, coverage: float) -> bool:
    """Whether what happens on a share of a mark, which covers so much of its zone, is a hint at most.

    >>> slight(0.05, 0.04), slight(0.5, 0.04), slight(0.5, 0.001)
    (True, False, True)
    """
    zone = share * coverage
    return zone < LEAST_OF_ZONE or (zone < SLIGHT_ZONE and share < SLIGHT_MARK)


@dataclass(frozen=True, slots=True)
class Sight:
    """What something meets on a stack: the coats there, bottom first, each over its share, and whether the base
    material can be seen under them."""

    stack: Stack
    whole: bool
    spot: Spot

    def slight(self, share: float) -> bool:
        """Whether what is spoiled over this share of what lands is a hint at most, unless it was meant to lie there."""
        return self.spot.on is None and slight(share, self.spot.coverage)

    def layers(self, base: Layer) -> tuple[Layer, ...]:
        """The layers below, nearest first, down to the base material where the stack is short enough to see it."""
        near = tuple(entry.layer for entry in reversed(self.stack))
        return (*near, base) if self.whole else near


def sight(spot: Spot, stack: Sequence[Lying]) -> Sight:
    """What is met at a spot of a stack; nothing that a bench can lay reaches further down than `SIGHT` coats."""
    return Sight(seen_at(spot, stack[-SIGHT:]), len(stack) < SIGHT, spot)


def meetings(c: Conditions, landing: Landing, met: Sight, base: Layer) -> list[Meeting]:
    """What lands, on each layer that it meets, with the instant left open: for the schedule, and for what would be."""
    if landing.action in TOUCHES_NOTHING:
        return []
    layers = met.layers(base)
    return [Meeting(c.k, landing, layers, i) for i, share in exposed(layers) if not met.slight(share)]


def judge_landing(
    c: Conditions, landing: Landing, met: Sight, base: Layer, at_min: float
) -> tuple[int, list[ContactVerdict]]:
    """Judges what lands on each layer that it meets, and gives a key for all of it.

    `at_min` is its instant in minutes since the build's start. All is seen from there: layers as old as they are by
    then, with what their clocks have counted and without their names. What is judged is what the key is made from.
    """
    layers = met.layers(base)
    ages = tuple([age_of(y, at_min) for y in layers])
    about = (c.k.signature, c.opens, landing.key, c.line.key if c.constant else None)
    key = intern((about, ages, met.spot.coverage, met.spot.on is None))
    if landing.action in TOUCHES_NOTHING:
        return key, []
    ahead = c.ahead(at_min)

    def work() -> list[ContactVerdict]:
        there, found = tuple([c.seen(y, i, at_min) for i, y in enumerate(layers)]), []
        for i, share in exposed(there):
            m = Meeting(c.k, landing, there, i, 0.0)
            own = intern((about, i, reading(m, ages)))
            own, verdict = _once(_VERDICTS, own, ahead, partial(judge, m, 0.0, opens=c.opens))
            zone = round(share * met.spot.coverage, 4)
            found.append(ContactVerdict(i, round(share, 3), verdict, own, zone, met.slight(share)))
        return found

    return _once(_CONTACTS, key, ahead, work)


def age_of(layer: Layer, at_min: float) -> tuple[object, ...]:
    """Stands for a layer as old as it is at an instant, without its name."""
    drying = layer.drying
    return (layer.key, layer.coverage) if drying is None else (layer.key, layer.coverage, *drying.stands(at_min))


LOOKS_AHEAD = object()  # remembered for a key: what it stands for hangs on what the air does from there on, too


def _once(door: Door, key: int, ahead: Ahead | None, work: Callable[[], T]) -> tuple[int, T]:
    """A result and its key; in changing air by what the air does from there on too, where the work looked at that."""
    known = door.get(key)
    if ahead is None:
        return key, door.put(key, work()) if known is None else known
    if known is LOOKS_AHEAD:
        key = intern((key, ahead.key))
        return key, door.once(key, work)
    if known is not None:
        return key, known
    before = ahead.looks
    result = work()
    if ahead.looks != before:
        door.put(key, LOOKS_AHEAD)
        key = intern((key, ahead.key))
    return key, door.put(key, result)


def reading(m: Meeting, ages: tuple[tuple[object, ...], ...]) -> tuple[object, ...]:
    """What of the stack the mechanisms of a contact are shown, as a key. `ages`: each layer in sight and its age."""
    reads = REGISTRY.reads[m.landing.contact]
    shown: tuple[object, ...] = ages[: m.shown(reads)]
    if reads & Reads.BASE and m.base is not None:
        shown += (m.base.id, len(m.layers))
    if reads & Reads.COVER:
        shown += (m.cover_um,)
    if reads & Reads.MEDIUM and m.medium is not None:
        shown += (m.medium.at, ages[m.medium.at])
    if reads & Reads.GRAINS and (grains := m.grains) is not None:
        shown += (grains.at, ages[grains.at])
    return shown
