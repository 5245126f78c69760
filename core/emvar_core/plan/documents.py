"""What the search placed, and what really happened: two documents beside the plan, keyed by (step, zone).

Record beats schedule beats plan. `as_placed` makes the plan that results, so that everything that judges a plan judges
the schedule as well.
"""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Sequence
from hashlib import sha256
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field, model_validator

from ..errors import PlanError, Problem
from ..ids import slug
from ..memory import MEMORY
from ..vocabulary import Id, Instant, Model, Text, Word
from .affects import ID, PLACE, VERDICT, WHEN, only
from .edits import AnyEdit, SetField, SplitStep
from .model import Plan
from .steps import AnyStep, CoatStep, WorkingStep
from .timing import Timing, at, begins_at, minutes_since_start, step_times

MOST_ENTRIES = 20_000


class Placed(Model):
    """When a step is done in a zone. All zones of a step are done in one go, so they share it."""

    step: Id
    zone: Id
    starts_at: Instant
    ends_at: Instant

    @model_validator(mode="after")
    def _ordered(self) -> Placed:
        if self.ends_at < self.starts_at:
            raise ValueError("ends_at must not be before starts_at")
        return self


class CleaningAt(Model):
    """An airbrush that is cleaned after a paint."""

    gun: Annotated[int, Field(ge=0, le=50)]
    starts_at: Instant
    length_min: Annotated[float, Field(ge=0, le=1440)]


class GoalReached(Model):
    """How well a goal was met: its value, the solver's bound, and whether nothing better exists.

    finish: minutes since the build's start; setups and sittings: how many; slack: minutes over all closing windows.
    """

    goal: Literal["finish", "setups", "sittings", "slack", "broken"]
    value: float
    bound: float
    proven: bool
    gap_pct: float


class Schedule(Model):
    """What the search, or a hand, has placed; `first`: as it comes, without a search. `pins`: steps that stay."""

    format: Literal["emvar-schedule"] = "emvar-schedule"
    version: Literal[1] = 1
    placed: Annotated[list[Placed], Field(max_length=MOST_ENTRIES)] = []
    cleanings: Annotated[list[CleaningAt], Field(max_length=MOST_ENTRIES)] = []
    pins: Annotated[list[Id], Field(max_length=2000)] = []
    reached: Annotated[list[GoalReached], Field(max_length=8)] = []
    made_by: Literal["search", "hand", "first"] = "search"


class State(Word):
    """What became of a step; `waits`: a check has shown that it is not ready, so it starts no earlier than then."""

    DONE = "done"
    BEGUN = "begun"
    FAILED = "failed"
    SKIPPED = "skipped"
    WAITS = "waits"


class Happened(Model):
    """What really happened to a step in a zone. A failed step is off again by `ends_at` and is still to be done."""

    step: Id
    zone: Id
    state: State
    starts_at: Instant
    ends_at: Instant
    note: Text = ""

    @model_validator(mode="after")
    def _ordered(self) -> Happened:
        if self.ends_at < self.starts_at:
            raise ValueError("ends_at must not be before starts_at")
        return self


class Record(Model):
    """All that has happened, in the order in which it was entered. The last word on a (step, zone) counts.

    `now_at`: up to when it is known what happened; nothing more can be placed before it.
    """

    format: Literal["emvar-record"] = "emvar-record"
    version: Literal[1] = 1
    entries: Annotated[list[Happened], Field(max_length=MOST_ENTRIES)] = []
    now_at: Instant | None = None

    def states(self) -> dict[str, State]:
        """What became of each step; one that is done in some of its zones only has begun."""
        states: dict[str, State] = {}
        for (step, _), entry in self.last().items():
            if entry.state is State.WAITS:
                continue
            known = states.get(step)
            mixed = known is not None and known is not entry.state
            states[step] = State.BEGUN if mixed else entry.state
        return states

    def last(self) -> dict[tuple[str, str], Happened]:
        return {(e.step, e.zone): e for e in self.entries}

    def times(self, plan: Plan) -> dict[str, Timing]:
        """Start and end of what is done or begun, minutes since the build's start."""
        times: dict[str, Timing] = {}
        for (step, _), e in self.last().items():
            if e.state not in (State.DONE, State.BEGUN):
                continue
            start, end = minutes_since_start(plan, e.starts_at), minutes_since_start(plan, e.ends_at)
            known = times.get(step)
            times[step] = Timing(min(start, known.start_min), max(end, known.end_min)) if known else Timing(start, end)
        return times

    def freed(self, plan: Plan) -> dict[str, float]:
        """From when on steps may begin that failed, or that a check has put off; minutes since the build's start."""
        freed: dict[str, float] = {}
        for (step, _), e in self.last().items():
            if e.state in (State.FAILED, State.WAITS):
                freed[step] = max(freed.get(step, 0.0), minutes_since_start(plan, e.ends_at))
        return freed


def out_of_step(plan: Plan, entries: Sequence[Happened]) -> tuple[list[AnyEdit], list[Happened]]:
    """What happened in some zones of a step only: the edits that give these a step of their own, and its entries.

    What works on such a coat is split along with it. What covers all zones of its step stays as it is.
    """
    taken = {s.id for s in plan.steps}
    edits: list[AnyEdit] = []
    undone: list[Happened] = []
    for step in plan.steps:
        left = list(step.zones)
        for state in (s for s in State if s is not State.WAITS):
            mine = [e for e in entries if e.step == step.id and e.state is state and e.zone in left]
            zones = [z for z in left if any(e.zone == z for e in mine)]
            if not zones or len(zones) == len(left):
                undone += mine
                continue
            new = _new_id(step.id, state.value, taken)
            left = [z for z in left if z not in zones]
            edits.append(SplitStep(step_id=step.id, zones=zones, new_id=new))
            edits += split_workers(plan, step, zones, new, taken)
            undone += [e.model_copy(update={"step": new}) for e in mine]
    return edits, undone


def _new_id(step_id: str, word: str, taken: set[str]) -> str:
    new = slug(f"{step_id[:16]}-{word}", taken)
    taken.add(new)
    return new


def split_workers(plan: Plan, coat: AnyStep, zones: list[str], new_coat: str, taken: set[str]) -> list[AnyEdit]:
    """Edits that split the steps that work on a coat as the coat is split. `taken`: ids; those given join them."""
    edits: list[AnyEdit] = []
    for worker in plan.steps:
        if not isinstance(worker, WorkingStep) or worker.acts_on != coat.id:
            continue
        shared = [z for z in worker.zones if z in zones]
        if not shared:
            continue
        which = worker.id
        if len(shared) < len(worker.zones):
            which = _new_id(worker.id, "apart", taken)
            edits.append(SplitStep(step_id=worker.id, zones=shared, new_id=which))
        edits.append(SetField(step_id=which, field="acts_on", value=new_coat))
    return edits


D = TypeVar("D", Schedule, Record)


def check_document(plan: Plan, document: Schedule | Record) -> None:
    """Refuses entries for steps or zones that the plan does not have. Raises PlanError."""
    zones = {s.id: set(s.zones) for s in plan.steps}
    entries: Sequence[Placed | Happened] = document.placed if isinstance(document, Schedule) else document.entries
    problems = []
    for i, e in enumerate(entries):
        if e.step not in zones:
            problems.append(Problem(where=f"entries[{i}].step", what=f"there is no step '{e.step}' in the plan"))
        elif e.zone not in zones[e.step]:
            problems.append(Problem(where=f"entries[{i}].zone", what=f"the step does not cover the zone '{e.zone}'"))
    if problems:
        raise PlanError(problems[:20])


def content_key(plan: Plan) -> str:
    """Stands for everything of a plan that a schedule is made from: names, notes and looks are not. 16 hex digits."""
    about = (
        [only(step, VERDICT, PLACE, WHEN, ID) for step in plan.steps],
        [(z.id, plan.base_of(z)) for z in plan.zones],
        sorted((pair.value, side) for pair, side in plan.schools.items()),
        [m.model_dump_json() for m in [*plan.materials, *plan.learned]],
        [p.model_dump_json(exclude_defaults=True) if p is not None else "" for p in (plan.air, plan.hours)],
        [plan.build.starts_at.isoformat(), plan.build.timezone, plan.build.scale],
    )
    return sha256(json.dumps(about).encode()).hexdigest()[:16]


def pruned(plan: Plan, document: D) -> D:
    """The document without entries for what the plan no longer has: a plan goes on being edited."""
    zones = {s.id: set(s.zones) for s in plan.steps}

    def fits(e: Placed | Happened) -> bool:
        return e.zone in zones.get(e.step, ())

    update: dict[str, Any]
    if isinstance(document, Schedule):
        update = {"placed": [e for e in document.placed if fits(e)], "pins": [s for s in document.pins if s in zones]}
    else:
        update = {"entries": [e for e in document.entries if fits(e)]}
    return document.model_copy(update=update)


def schedule_times(plan: Plan, schedule: Schedule) -> dict[str, Timing]:
    """Start and end of what is placed, minutes since the build's start."""
    times: dict[str, Timing] = {}
    for e in schedule.placed:
        start, end = minutes_since_start(plan, e.starts_at), minutes_since_start(plan, e.ends_at)
        known = times.get(e.step)
        times[e.step] = Timing(min(start, known.start_min), max(end, known.end_min)) if known else Timing(start, end)
    return times


def placed_entries(plan: Plan, times: dict[str, Timing]) -> list[Placed]:
    """Times as entries, zone by zone."""
    return [
        Placed(step=s.id, zone=z, starts_at=at(plan, times[s.id].start_min), ends_at=at(plan, times[s.id].end_min))
        for s in plan.steps
        if s.id in times
        for z in s.zones
    ]


def skipped(plan: Plan, record: Record | None) -> set[str]:
    """Steps that are left out, and with a coat whatever works on it."""
    gone = {s for s, state in record.states().items() if state is State.SKIPPED} if record is not None else set()
    return gone | {s.id for s in plan.steps if isinstance(s, WorkingStep) and s.acts_on in gone}


def remaining(plan: Plan, record: Record | None) -> Plan:
    """The plan without what was skipped."""
    gone = skipped(plan, record)
    return plan.model_copy(update={"steps": [s for s in plan.steps if s.id not in gone]}) if gone else plan


_PLACED = MEMORY.door("steps as placed", 20_000)


def _placed_step(plan: Plan, step: AnyStep, t: Timing) -> AnyStep:
    """A step at a time; the same object for the same step and time, so that what is known of it stays known."""

    def placed() -> AnyStep:
        update = {"fixed_start": at(plan, t.start_min), "hands_on_min": t.end_min - t.start_min, "wait_min": 0.0}
        return step.model_copy(update=update)

    return _PLACED.of(step, placed, t.start_min, t.end_min, plan.build.starts_at, plan.build.timezone)


def _floors(plan: Plan, schedule: Schedule | None, record: Record | None) -> Callable[[AnyStep], float]:
    """Before when a step that has no time of its own cannot begin, minutes since the build's start.

    What failed or is not ready has its instant; without a schedule nothing that is still to be done lies in the past.
    """
    freed = record.freed(plan) if record is not None else {}
    now = -math.inf
    if schedule is None and record is not None and record.now_at is not None:
        now = minutes_since_start(plan, record.now_at)

    def floor(step: AnyStep) -> float:
        if isinstance(step, CoatStep) and step.existing is not None:
            return -math.inf
        return max(now, freed.get(step.id, -math.inf))

    return floor


def as_placed(plan: Plan, schedule: Schedule | None = None, record: Record | None = None) -> Plan:
    """The plan with the times that a schedule and a record give it; what was skipped is left out.

    What neither says anything of keeps its place after the step before it. Steps stand in the order of their times.
    """
    if schedule is None and record is None:
        return plan
    plan = remaining(plan, record)
    times = schedule_times(plan, schedule) if schedule is not None else {}
    times |= record.times(plan) if record is not None else {}
    floors = _floors(plan, schedule, record)
    steps: list[AnyStep] = []
    free: dict[str, float] = {}
    for step in plan.steps:
        t = times.get(step.id)
        if t is None:
            begins = begins_at(plan, step, (free[z] for z in step.zones if z in free))
            later = floors(step)
            t = Timing(begins, begins + step.hands_on_min)
            if later > begins:
                t = Timing(later, later + step.hands_on_min)
            steps.append(_placed_step(plan, step, t) if later > begins else step)
        else:
            steps.append(_placed_step(plan, step, t))
        free.update(dict.fromkeys(step.zones, t.end_min))
    placed = plan.model_copy(update={"steps": steps})
    when = step_times(placed)
    acted = {s.id: s for s in steps}

    def place(step: AnyStep) -> tuple[float, bool]:
        late = isinstance(step, WorkingStep) and step.acts_on in acted
        return when[step.id].start_min, late

    return placed.model_copy(update={"steps": sorted(steps, key=place)})
