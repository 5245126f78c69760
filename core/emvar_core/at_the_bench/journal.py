"""What happened at the bench: an append-only journal of entries, and the record that follows from it.

Entries are made on devices that may be away from each other for hours. Whatever order they arrive in, the same entries
give the same record: they are taken in the order in which they were written, each id once.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

from pydantic import Field, StringConstraints, model_validator

from ..plan import Plan, Record
from ..plan.documents import Happened, State
from ..plan.steps import AnyStep, Mix
from ..plan.timing import at, minutes_since_start
from ..vocabulary import Event, Id, Instant, Minutes, Model, Srgb, Text, Word, WorkAction

MOST_SENT = 500  # entries in one parcel
MOST_SECTIONS = 60

EntryId = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{8,64}$")]
Short = Annotated[str, StringConstraints(max_length=120)]


class Said(Word):
    """What an entry says. `again`: what was done is to be done anew; `wrong`: it is off again, and still to be done."""

    BEGUN = "begun"
    PAUSED = "paused"
    RESUMED = "resumed"
    SECTION = "section"
    DONE = "done"
    SKIPPED = "skipped"
    WRONG = "wrong"
    AGAIN = "again"
    NOT_READY = "not_ready"
    SEEN = "seen"
    NOTE = "note"
    PICTURE = "picture"
    TRIAL = "trial"
    NOW = "now"
    BACK = "back"


STATE_OF = {
    Said.BEGUN: State.BEGUN,
    Said.DONE: State.DONE,
    Said.SKIPPED: State.SKIPPED,
    Said.WRONG: State.FAILED,
    Said.AGAIN: State.FAILED,
}


class Actual(Model):
    """What was really done: only what differed from the plan, or was measured. `minutes`: hands on, without pauses."""

    mix: Mix | None = None
    drops: Annotated[dict[Id, Annotated[int, Field(ge=0, le=100_000)]], Field(max_length=12)] | None = None
    used_ml: Annotated[float, Field(gt=0, le=1000)] | None = None
    pressure_kpa: Annotated[float, Field(ge=5, le=600)] | None = None
    distance_mm: Annotated[float, Field(ge=5, le=600)] | None = None
    passes: Annotated[int, Field(ge=1, le=100)] | None = None
    minutes: Minutes | None = None
    temp_c: Annotated[float, Field(ge=-10, le=60)] | None = None
    rh_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    colour: Srgb | None = None
    by_instrument: Annotated[list[Short], Field(max_length=12)] = []


class Observed(Model):
    """A check of a coat: whether it had reached an event of its film, or could be worked, at an age in minutes.

    `exact`: it was watched, and came just then; otherwise it is only known to have been so, or not yet so.
    `expected_min`: when it was expected, hopeful, best and careful, with what was learned before in it as `factor`.
    """

    what: Event | WorkAction
    reached: bool
    age_min: Minutes
    exact: bool = False
    expected_min: Annotated[list[Minutes], Field(min_length=3, max_length=3)] | None = None
    factor: Annotated[float, Field(gt=0, le=100)] = 1.0


class TrialDone(Model):
    """A trial before a step: what was to be learned, on which scrap, what counts as a pass, and what it decided."""

    aims: Annotated[list[Short], Field(max_length=8)]
    scrap: Short = ""
    pass_is: Text = ""
    passed: bool
    decides: Short = ""
    material: Id | None = None
    technique: Id | None = None


class Entry(Model):
    """One thing that was said of a build, once, by one device. `corrects`: the entry that it takes the place of.

    `at`: when it happened; `began_at`: when what is done began; `planned_at`: when it was to begin, as things stood;
    `written_at`: when it was said. `step` and `zones` are the plan's as they then were, `name` what it was called.
    `poured`: mL by material.
    """

    id: EntryId
    said: Said
    at: Instant
    written_at: Instant
    device: Short = ""
    step: Id | None = None
    zones: Annotated[list[Id], Field(max_length=64)] = []
    name: Annotated[str, StringConstraints(max_length=120)] = ""
    began_at: Instant | None = None
    planned_at: Instant | None = None
    corrects: EntryId | None = None
    as_planned: bool = True
    actual: Actual | None = None
    observed: Observed | None = None
    trial: TrialDone | None = None
    section: Annotated[int, Field(ge=1, le=MOST_SECTIONS)] | None = None
    sections: Annotated[int, Field(ge=1, le=MOST_SECTIONS)] | None = None
    wait_min: Minutes | None = None
    fault: Short = ""
    picture: EntryId | None = None
    poured: Annotated[dict[Id, Annotated[float, Field(ge=0, le=10_000)]], Field(max_length=12)] | None = None
    note: Text = ""

    @model_validator(mode="after")
    def _whole(self) -> Entry:
        needs = {Said.NOT_READY: "wait_min", Said.SEEN: "observed", Said.PICTURE: "picture", Said.TRIAL: "trial"}
        field = needs.get(self.said)
        if field is not None and getattr(self, field) is None:
            raise ValueError(f"an entry that says '{self.said}' needs {field}")
        if self.said is Said.BACK and self.corrects is None:
            raise ValueError("an entry that takes another back needs corrects")
        if self.said in STATE_OF and self.step is None:
            raise ValueError(f"an entry that says '{self.said}' needs a step")
        if self.began_at is not None and self.began_at > self.at:
            raise ValueError("began_at must not be after at")
        return self


def in_order(entries: Iterable[Entry]) -> list[Entry]:
    """Entries in the order in which they were written, each id once; what was written at once, by id."""
    once: dict[str, Entry] = {}
    for entry in entries:
        once.setdefault(entry.id, entry)
    return sorted(once.values(), key=lambda e: (e.written_at, e.id))


def standing(entries: Iterable[Entry]) -> list[Entry]:
    """What still stands: without what was taken back or corrected by an entry that stands itself."""
    ordered = in_order(entries)
    void: set[str] = set()
    for entry in reversed(ordered):
        if entry.corrects is not None and entry.id not in void:
            void.add(entry.corrects)
    return [e for e in ordered if e.id not in void and e.said is not Said.BACK]


def step_in(plan: Plan, step_id: str, zone_id: str) -> AnyStep | None:
    """The step that an entry means in a zone: itself, or the part of it that was split off for that zone."""
    step = plan.step(step_id)
    if step is not None and zone_id in step.zones:
        return step
    first = step_id if step is None else step.recipe_of or step.id
    return next(
        (s for s in plan.steps if (s.recipe_of or s.id) == first and s.id != step_id and zone_id in s.zones), None
    )


def record_of(plan: Plan, entries: Iterable[Entry]) -> Record:
    """The record that a journal makes of a plan. What the plan no longer has is passed over. Linear in the entries."""
    happened: list[Happened] = []
    begun: dict[tuple[str, str], Entry] = {}
    now = None
    for entry in standing(entries):
        now = entry.at if now is None else max(now, entry.at)
        if entry.step is None:
            continue
        for zone in entry.zones:
            step = step_in(plan, entry.step, zone)
            if step is None:
                continue
            key = (step.id, zone)
            if entry.said is Said.NOT_READY:
                later = at(plan, minutes_since_start(plan, entry.at) + (entry.wait_min or 0.0))
                happened.append(Happened(step=step.id, zone=zone, state=State.WAITS, starts_at=entry.at, ends_at=later))
            state = STATE_OF.get(entry.said)
            if state is None:
                continue
            first = begun.get(key)
            starts, ends = entry.began_at or (first.at if first is not None else None), entry.at
            if state is State.BEGUN:
                begun[key] = entry
                starts, ends = entry.at, at(plan, minutes_since_start(plan, entry.at) + step.hands_on_min)
            elif starts is None:
                starts = at(plan, minutes_since_start(plan, entry.at) - step.hands_on_min)
            if state is not State.BEGUN:
                begun.pop(key, None)
            happened.append(
                Happened(step=step.id, zone=zone, state=state, starts_at=min(starts, ends), ends_at=ends,
                         note=entry.note)
            )  # fmt: skip
    return Record(entries=happened, now_at=now)


def entry_of(happened: Happened, entry_id: str, name: str, written_at: Instant) -> Entry:
    """What was recorded without a journal, as an entry of it."""
    said = {
        State.DONE: Said.DONE,
        State.BEGUN: Said.BEGUN,
        State.FAILED: Said.WRONG,
        State.SKIPPED: Said.SKIPPED,
        State.WAITS: Said.NOT_READY,
    }[happened.state]
    begun = said in (Said.BEGUN, Said.NOT_READY)
    waits = (happened.ends_at - happened.starts_at).total_seconds() / 60 if said is Said.NOT_READY else None
    return Entry(
        id=entry_id, said=said, at=happened.starts_at if begun else happened.ends_at,
        began_at=None if begun else happened.starts_at, written_at=written_at, step=happened.step,
        zones=[happened.zone], name=name, note=happened.note, wait_min=waits,
    )  # fmt: skip


def hands_on_min(entries: Iterable[Entry], step_id: str) -> float | None:
    """How long hands were really on a step: from begun to done, without its pauses; None where that is not known."""
    begun = paused = None
    away = 0.0
    took: float | None = None
    for entry in standing(entries):
        if entry.step != step_id:
            continue
        if entry.said is Said.BEGUN:
            begun, paused, away = entry.at, None, 0.0
        elif entry.said is Said.PAUSED:
            paused = entry.at
        elif entry.said is Said.RESUMED and paused is not None:
            away, paused = away + (entry.at - paused).total_seconds() / 60, None
        elif entry.said is Said.DONE:
            if entry.actual is not None and entry.actual.minutes is not None:
                took = entry.actual.minutes
            elif begun is not None:
                took = (entry.at - begun).total_seconds() / 60 - away
            begun = None
    return took
