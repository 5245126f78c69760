"""All mechanisms, found in their folder and checked; and what they find at a meeting."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from ..errors import KnowledgeError
from ..knowledge import Knowledge
from ..knowledge.load import check_cause
from ..knowledge.types import CauseData
from ..vocabulary import Contact, Edge, FilmClass, Verdict
from . import mechanisms
from .mechanism import Cause, Judge, Mechanism, NoFault
from .meeting import Meeting
from .severity import level_of
from .situation import Finding, Reads, Situation


@dataclass(frozen=True, slots=True)
class Panel:
    """The mechanisms that can find anything at meetings of one kind, each with the place of its view among `reads`."""

    reads: tuple[int, ...]
    timeless: tuple[tuple[Judge, int], ...]
    moving: tuple[tuple[Judge, int], ...]


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
        self._panels: dict[tuple[Contact, FilmClass | None, frozenset[FilmClass | None]], Panel] = {}
        self.reads: dict[Contact, int] = {}
        for c in Contact:
            union = Reads.MET
            for m in ordered:
                if c in m.on:
                    union |= m.reads
            self.reads[c] = union

    def __iter__(self) -> Iterator[Mechanism]:
        return iter(self.by_id.values())

    def panel(self, contact: Contact, met: FilmClass | None, reached: frozenset[FilmClass | None]) -> Panel:
        """Those that act on the film that is met, or on one of those that the carrier gets into; chosen once.

        None stands for a bare base.
        """
        panel = self._panels.get((contact, met, reached))
        if panel is None:
            here = frozenset([met])

            def concerned(which: tuple[Mechanism, ...]) -> list[Mechanism]:
                chosen = []
                for x in which:
                    films = reached if x.reads & Reads.REACHED else here
                    if films if x.acts_on is None else x.acts_on & films:
                        chosen.append(x)
                return chosen

            timeless, moving = concerned(self.timeless[contact]), concerned(self.moving[contact])
            reads = tuple(sorted({x.reads for x in (*timeless, *moving)}))
            panel = self._panels[contact, met, reached] = Panel(
                reads,
                tuple((x.judge, reads.index(x.reads)) for x in timeless),
                tuple((x.judge, reads.index(x.reads)) for x in moving),
            )
        return panel

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
        causes: list[tuple[CauseData, set[str]]] = []
        for cause in k.faults[appearance].causes:
            name = f"{appearance}.{cause.id}"
            speak = {m.id for m in self if isinstance(m.fault, tuple) and name in m.fault}
            causes.append((cause, speak))
        for m in self:
            if isinstance(m.fault, Cause) and m.fault.appearance == appearance:
                causes.append((m.fault.cause, {m.id}))
        return causes


def _all() -> list[Mechanism]:
    all_ = []
    for module in pkgutil.iter_modules(mechanisms.__path__):
        made = importlib.import_module(f"{mechanisms.__name__}.{module.name}").MECHANISM
        if made.id != module.name:
            raise KnowledgeError(f"seams/mechanisms/{module.name}.py", f"its mechanism is called '{made.id}'")
        all_.append(made)
    return all_


REGISTRY = Registry(_all())
NO_FILMS: frozenset[FilmClass | None] = frozenset()


def _rank(f: Finding) -> tuple[int, bool, float]:
    """The gravest leads; of two as grave, the one that says why comes before the one that is merely too soon."""
    level = level_of(f.severity)
    return -level.grave, level is Verdict.SOUND or not REGISTRY.by_id[f.mechanism].explains, -f.severity


def _ask(m: Meeting) -> None:
    """Calls those that can find anything here, and weighs at once what does not depend on the instant."""
    panel, views = panel_of(m)
    timeless: list[Finding] = []
    for judge, i in panel.timeless:
        timeless += judge(views[i], 0.0, Edge.LATE)
    m.timeless, m.panel, m.views = timeless, panel, views
    m.always = max([f.severity for f in timeless], default=0.0)


def panel_of(m: Meeting) -> tuple[Panel, list[Situation]]:
    """Those that can find anything here, and what they see of the meeting."""
    reached = frozenset([y.film for y in m.layers[m.index : m.depth]]) if m.landing.wet else NO_FILMS
    panel = REGISTRY.panel(m.landing.contact, m.layer.film, reached)
    return panel, [m.view(reads) for reads in panel.reads]


def moving(m: Meeting, at_min: float, edge: Edge) -> list[Finding]:
    """What happens at a meeting at an instant, of what waiting can change."""
    if m.panel is None:
        _ask(m)
    findings: list[Finding] = []
    views = m.views
    for judge, i in m.panel.moving:
        findings += judge(views[i], at_min, edge)
    return findings


def findings(m: Meeting, at_min: float, edge: Edge) -> list[Finding]:
    """All that happens at a meeting at an instant, gravest first."""
    all_ = moving(m, at_min, edge)
    all_ = m.timeless + all_
    if len(all_) > 1:
        all_.sort(key=_rank)
    return all_


def worst(m: Meeting, at_min: float, edge: Edge, enough: float = 1.0) -> float:
    """The gravest severity at an instant, 0–1; 0 where nothing happens. Stops at the first that is `enough`."""
    if m.panel is None:
        _ask(m)
    most, views, asked = m.always, m.views, m.panel.moving
    if most >= enough:
        return most
    first = m.spoke  # who spoke up last speaks up again, as a rule
    for n in (first, *range(len(asked))) if first else range(len(asked)):
        judge, i = asked[n]
        for f in judge(views[i], at_min, edge):
            most = max(most, f.severity)
        if most >= enough:
            m.spoke = n
            break
    return most
