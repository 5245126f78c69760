"""A plan at its bench: what is left to do, when there is time, what has happened, how coats age."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property

from ..plan import (
    USUAL,
    Hours,
    Plan,
    Record,
    Schedule,
    Sitting,
    Timing,
    minutes_since_start,
    sittings,
)
from ..plan.documents import State, remaining, schedule_times
from ..plan.hours import MOST_DAYS, free_of, spray_stretches
from ..vocabulary import Edge, Event
from .ageing import Ageing
from .net import Link, Net, net_of
from .shift import Rows, Shifter
from .stretches import Stretch, lies_in

LOOKED_AT_DAYS = 366


@dataclass
class Agenda:
    """A plan at its bench: what is to be done, when there is time, what has happened, how coats age. In minutes."""

    plan: Plan
    record: Record | None = None
    pins: dict[str, float] = field(default_factory=dict)
    taken: list[tuple[datetime, datetime]] = field(default_factory=list)  # by other builds with the same hands

    def __post_init__(self) -> None:
        self.left = remaining(self.plan, self.record)
        self.hours = self.plan.hours or USUAL
        self.states = self.record.states() if self.record else {}
        happened = self.record.times(self.plan) if self.record else {}
        self.done = {s.id: happened[s.id] for s in self.left.steps if s.id in happened}
        freed = self.record.freed(self.plan) if self.record else {}
        self.freed = {s.id: freed[s.id] for s in self.left.steps if s.id in freed}
        latest = max([0.0, *(t.end_min for s, t in self.done.items() if self.states.get(s) is State.DONE)])
        now = minutes_since_start(self.plan, self.record.now_at) if self.record and self.record.now_at else 0.0
        self.since = max(now, latest, 0.0)
        for step in self.left.steps:
            if step.fixed_start is not None and step.id not in self.done:
                self.pins.setdefault(step.id, minutes_since_start(self.plan, step.fixed_start))
        self.pins = {s: m for s, m in self.pins.items() if s not in self.done and self.left.step(s) is not None}

    @cached_property
    def net(self) -> Net:
        return net_of(self.left, self.hours.patience_h)

    @cached_property
    def ageing(self) -> Ageing:
        return Ageing(self.left, self.since + LOOKED_AT_DAYS * 1440)

    @cached_property
    def sittings(self) -> list[Sitting]:
        start = self.plan.build.starts_at + timedelta(minutes=self.since)
        return self._free(sittings(self.hours, self.plan.build.tz, start, start + timedelta(days=LOOKED_AT_DAYS)))

    def _free(self, listed: list[Sitting]) -> list[Sitting]:
        return free_of(listed, self.taken, self.plan.build.tz) if self.taken else listed

    @cached_property
    def sprays(self) -> list[tuple[float, float]] | None:
        """When the compressor may run, minutes since the build's start; None: always."""
        start = self.plan.build.starts_at + timedelta(minutes=self.since)
        until = start + timedelta(days=LOOKED_AT_DAYS)
        stretches = spray_stretches(self.hours, self.plan.build.tz, start, until)
        if not stretches:
            return None
        return [(minutes_since_start(self.plan, a), minutes_since_start(self.plan, b)) for a, b in stretches]

    @cached_property
    def stretches(self) -> list[tuple[float, float]]:
        stretches = (
            (minutes_since_start(self.plan, s.start), minutes_since_start(self.plan, s.end)) for s in self.sittings
        )
        return [(max(a, self.since), b) for a, b in stretches]

    @cached_property
    def all_sittings(self) -> list[Sitting]:
        """Sittings from the build's start on, those that are over included."""
        start = self.plan.build.starts_at
        until = start + timedelta(minutes=self.since) + timedelta(days=LOOKED_AT_DAYS)
        return self._free(
            sittings(self.hours, self.plan.build.tz, start, min(until, start + timedelta(days=MOST_DAYS)))
        )

    def span(self, sitting: Sitting) -> tuple[float, float]:
        """A sitting in minutes since the build's start."""
        return minutes_since_start(self.plan, sitting.start), minutes_since_start(self.plan, sitting.end)

    def shifter(self, edge: str = "careful", grid_min: float = 1.0) -> Shifter:
        """For putting work into sittings without a search; `edge`: careful, best or hopeful."""
        known: dict[tuple[Link, float], list[tuple[float, float]]] = {}

        def instants(link: Link, end_min: float) -> list[tuple[float, float]]:
            key = (link, end_min)
            instants = known.get(key)
            if instants is None:
                instants = known[key] = self.ageing.instants(link, end_min, getattr(link.ages, edge))
            return instants

        return Shifter(self.net, self.stretches, instants, grid_min, self.sprays, self.rows)

    @cached_property
    def rows(self) -> Rows | None:
        """How long fine work may go on in a row; None: as long as it takes."""
        most = self.hours.fine_at_most_min
        return Rows(most, self.hours.rest_min) if most is not None else None

    def may_spray(self, start_min: float, end_min: float) -> bool:
        """Whether the compressor may run all that time."""
        return self.sprays is None or any(a <= start_min + 1e-6 and end_min <= b + 1e-6 for a, b in self.sprays)

    def touch_dry(self, step: str, end_min: float) -> float:
        """When a coat that is laid by then is dry to the touch at the careful edge, minutes since the start."""
        return self.ageing.drying(step, end_min).event(Event.TOUCH, Edge.LATE)

    def stretch(self, link: Link, times: dict[str, Timing], edge: str = "careful") -> Stretch:
        """From when to when the upper step of a link may be done, minutes since the build's start: of the link's
        stretches the one that the step lies in, or the nearest; the last, where the step has no time yet.
        """
        spans = self.ageing.instants(link, times[link.before].end_min, getattr(link.ages, edge))
        upper = times.get(link.after)
        if upper is None:
            return spans[-1]
        return spans[lies_in(spans, upper.start_min, upper.end_min if link.whole else upper.start_min)]

    @cached_property
    def guns(self) -> int:
        return len(self.plan.kit.guns) if self.plan.kit is not None else 1


def times_of(agenda: Agenda, schedule: Schedule) -> dict[str, Timing]:
    """All times by step: as scheduled, and as they were."""
    return schedule_times(agenda.left, schedule) | agenda.done


def hours_of(plan: Plan) -> Hours:
    """The plan's hours, or the usual ones where it has none."""
    return plan.hours or USUAL
