"""All mechanisms, found in their folder and checked; and what they find at a meeting."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterable, Iterator
from functools import lru_cache

from ..errors import KnowledgeError
from ..knowledge import Knowledge
from ..knowledge.load import check_cause
from ..knowledge.types import CauseData
from ..vocabulary import Contact, Edge, FilmClass, Verdict
from . import mechanisms
from .mechanism import Cause, Judge, Mechanism, NoFault
from .severity import level_of
from .situation import Finding, Layer, Meeting, Reads, Situation

Asked = tuple[Judge, Situation]


class Registry:
    """Mechanisms by id, and by contact: those that time moves, the cheap ones first, and those that it does not."""

    def __init__(self, all_: Iterable[Mechanism]) -> None:
        ordered = sorted(all_, key=lambda m: (m.cost, m.id))
        self.by_id: dict[str, Mechanism] = {}
        for m in ordered:
            if m.id in self.by_id:
                raise KnowledgeError(f"seams/mechanisms: {m.id}", "two mechanisms have this id")
            self.by_id[m.id] = m
        self.moving = {c: tuple(m for m in ordered if c in m.on and m.moves) for c in Contact}
        self.timeless = {c: tuple(m for m in ordered if c in m.on and not m.moves) for c in Contact}
        self.reads: dict[Contact, int] = {}
        for c in Contact:
            union = Reads.MET
            for m in ordered:
                if c in m.on:
                    union |= m.reads
            self.reads[c] = union

    def __iter__(self) -> Iterator[Mechanism]:
        return iter(self.by_id.values())

    def check(self, k: Knowledge) -> None:
        """Refuses mechanisms that speak for a cause that is not there, and causes of their own that do not fit."""
        known = {f"{f.id}.{c.id}" for f in k.faults.values() for c in f.causes}
        for m in self:
            where = f"seams/mechanisms/{m.id}.py"
            if isinstance(m.fault, Cause):
                if m.fault.appearance not in k.faults:
                    raise KnowledgeError(where, f"there is no appearance '{m.fault.appearance}'")
                check_cause(k, where, m.fault.cause)
            elif not isinstance(m.fault, NoFault) and (unknown := [f for f in m.fault if f not in known]):
                raise KnowledgeError(where, f"there is no cause '{unknown[0]}'")

    def causes_of(self, k: Knowledge, appearance: str) -> list[tuple[CauseData, set[str]]]:
        """The causes of an appearance, each with the mechanisms that speak for it."""
        found: list[tuple[CauseData, set[str]]] = []
        for cause in k.faults[appearance].causes:
            name = f"{appearance}.{cause.id}"
            speak = {m.id for m in self if isinstance(m.fault, tuple) and name in m.fault}
            found.append((cause, speak))
        for m in self:
            if isinstance(m.fault, Cause) and m.fault.appearance == appearance:
                found.append((m.fault.cause, {m.id}))
        return found


def _all() -> list[Mechanism]:
    found = []
    for module in pkgutil.iter_modules(mechanisms.__path__):
        made = importlib.import_module(f"{mechanisms.__name__}.{module.name}").MECHANISM
        if made.id != module.name:
            raise KnowledgeError(f"seams/mechanisms/{module.name}.py", f"its mechanism is called '{made.id}'")
        found.append(made)
    return found


REGISTRY = Registry(_all())


def _rank(f: Finding) -> tuple[int, bool, float]:
    """The gravest leads; of what is as grave, what says why is told before what is merely too soon."""
    level = level_of(f.severity)
    return -level.grave, level is Verdict.SOUND or not REGISTRY.by_id[f.mechanism].explains, -f.severity


def timeless(m: Meeting) -> list[Finding]:
    """What happens at a meeting whatever the instant; weighed once."""
    if m.timeless is None:
        found: list[Finding] = []
        for judge, view in asked_at(REGISTRY.timeless[m.landing.contact], m):
            found.extend(judge(view, 0.0, Edge.LATE))
        m.timeless = found
    return m.timeless


def asked_at(which: tuple[Mechanism, ...], m: Meeting) -> list[Asked]:
    """Those of some mechanisms that can find anything here, each with what it sees of the meeting."""
    reached = films_of(m.layers[m.index : m.shown(Reads.REACHED)]) if m.landing.wet else frozenset()
    chosen = _concerned(which, films_of((m.layer,)), reached)
    views = {reads: m.view(reads) for reads in {x.reads for x in chosen}}
    return [(x.judge, views[x.reads]) for x in chosen]


@lru_cache(maxsize=4096)
def _concerned(
    which: tuple[Mechanism, ...], met: frozenset[FilmClass | None], reached: frozenset[FilmClass | None]
) -> tuple[Mechanism, ...]:
    """Those of some mechanisms that act on the film that is met, or on one of those that the carrier gets into."""
    found = []
    for x in which:
        here = reached if x.reads & Reads.REACHED else met
        if here if x.acts_on is None else x.acts_on & here:
            found.append(x)
    return tuple(found)


def films_of(layers: tuple[Layer, ...]) -> frozenset[FilmClass | None]:
    """The classes of film among some layers; None stands for a bare base."""
    return frozenset([y.system.film if y.system is not None else None for y in layers])


def _moving(m: Meeting) -> list[Asked]:
    if m.moving is None:
        m.moving = asked_at(REGISTRY.moving[m.landing.contact], m)
    return m.moving


def moving(m: Meeting, at_min: float, edge: Edge) -> list[Finding]:
    """What happens at a meeting at an instant, of what waiting can change."""
    found: list[Finding] = []
    for judge, view in _moving(m):
        found.extend(judge(view, at_min, edge))
    return found


def findings(m: Meeting, at_min: float, edge: Edge) -> list[Finding]:
    """All that happens at a meeting at an instant, gravest first."""
    found = [*timeless(m), *moving(m, at_min, edge)]
    found.sort(key=_rank)
    return found


def worst(m: Meeting, at_min: float, edge: Edge, enough: float = 1.0) -> float:
    """The gravest severity at an instant, 0–1; 0 where nothing happens. Stops at the first that is `enough`."""
    most = max((f.severity for f in timeless(m)), default=0.0)
    for judge, view in _moving(m):
        if most >= enough:
            break
        for f in judge(view, at_min, edge):
            most = max(most, f.severity)
    return most
