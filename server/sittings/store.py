"""Schedules and records kept beside the plan: every write goes through the core's own models.

Plans come from whoever asks; this app knows builds by their ids only.
"""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from datetime import datetime, timedelta
from functools import cached_property

from django.db import transaction
from emvar_core.memory import MEMORY
from emvar_core.plan import Plan, Record, Schedule, as_placed, parse
from emvar_core.plan.documents import check_document, content_key, pruned
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.drag import UnfitOut, agenda_of

from .models import Timetable


class Stale(Exception):
    """The schedule was made from an older one."""


Taken = tuple[tuple[datetime, datetime, str], ...]  # from, until, and the name of what takes it
_KEPT = MEMORY.door("sittings of a build", 12)
_PLACED = MEMORY.door("plans at their sittings", 12)


class Kept:
    """A build's plan, schedule and record as the core knows them, and the bench that they make."""

    def __init__(self, table: Timetable, plan: Plan, revision: int, taken: Taken = ()) -> None:
        self.plan, self.revision, self.plan_revision = plan, revision, table.plan_revision
        self.taken = taken
        self.plan_key = table.plan_key
        self.record = pruned(plan, parse(Record, table.record or {}))
        self.schedule = pruned(plan, parse(Schedule, table.schedule)) if table.schedule else None
        self.before = pruned(plan, parse(Schedule, table.before)) if table.before else None
        self.unfit = [UnfitOut.model_validate(u) for u in table.unfit]
        self.table_revision = table.revision

    @cached_property
    def agenda(self) -> Agenda:
        return agenda_of(self.plan, self.schedule, self.record, self.hands_taken)

    @property
    def hands_taken(self) -> list[tuple[datetime, datetime]]:
        """When other builds take the same pair of hands, whatever they are called."""
        return [(a, b) for a, b, _ in self.taken]

    @property
    def stale(self) -> bool:
        """Whether what the schedule was made from is another plan than now, whatever happened in between."""
        if self.schedule is None:
            return False
        if not self.plan_key:
            return self.plan_revision != self.revision
        return self.plan_key != content_key(self.plan)

    @property
    def crossed(self) -> list[str]:
        """Steps that are still to be done at times that other builds have taken since."""
        if self.schedule is None:
            return []
        states = self.record.states()
        at = {e.step: e for e in self.schedule.placed if e.step not in states}
        return [s for s, e in at.items() if any(a < e.ends_at and e.starts_at < b for a, b in self.hands_taken)]


def kept(build_id: str, plan: Plan, revision: int, taken: Taken = ()) -> Kept:
    """What there is of a build whose plan is this one at this revision, with what its bench has worked out.

    `taken`: what other builds take of the same pair of hands.
    """
    table = Timetable.objects.filter(build=build_id).first() or Timetable(build_id=build_id)
    return _KEPT.of(plan, lambda: Kept(table, plan, revision, taken), build_id, revision, table.mark, taken)


def placed_by(names: Mapping[str, str]) -> Taken:
    """When the schedules of some builds, by id with their names, have work or cleaning, each stretch once."""
    stretches: set[tuple[datetime, datetime, str]] = set()
    scheduled = Timetable.objects.filter(build__in=list(names)).exclude(schedule=None)
    for build, schedule in scheduled.values_list("build", "schedule"):
        made, by = parse(Schedule, schedule), names[build]
        stretches |= {(e.starts_at, e.ends_at, by) for e in made.placed if e.ends_at > e.starts_at}
        stretches |= {(c.starts_at, c.starts_at + timedelta(minutes=c.length_min), by) for c in made.cleanings}
    return tuple(sorted(stretches))


def placed(build_id: str, plan: Plan, by_sittings: bool = True) -> Plan | None:
    """A plan of a build at the times of what happened and, `by_sittings`, of its schedule; None where there is neither.

    The last few are kept, so that the same plan gives the same object.
    """
    table = Timetable.objects.filter(build=build_id).first()
    schedule = table.schedule if table is not None and by_sittings else None
    record = (table.record or {}) if table is not None else {}
    if table is None or (schedule is None and not record.get("entries")):
        return None

    def work() -> Plan:
        made = pruned(plan, parse(Schedule, schedule)) if schedule is not None else None
        return as_placed(plan, made, pruned(plan, parse(Record, record)))

    return _PLACED.of(plan, work, build_id, table.mark, by_sittings)


def is_scheduled(build_id: str) -> bool:
    """Whether a schedule was made for a build."""
    return Timetable.objects.filter(build=build_id).exclude(schedule=None).exists()


def _table(build_id: str) -> Timetable:
    return Timetable.objects.select_for_update().get_or_create(build_id=build_id)[0]


def keep(
    build_id: str,
    plan: Plan,
    schedule: Schedule,
    unfit: list[UnfitOut],
    plan_revision: int,
    base: int | None = None,
    *,
    current: bool = True,
) -> None:
    """Keeps a schedule; the one that it replaces stays as the one before. Raises PlanError where it does not fit.

    `current`: whether it was made for this plan, rather than for that of `plan_revision` before it.
    `base`: the timetable's revision that it was made from. Raises Stale where there is a newer one.
    """
    with transaction.atomic():
        table = _table(build_id)
        if base is not None and table.revision != base:
            raise Stale
        schedule = pruned(plan, schedule)
        check_document(plan, schedule)
        table.before, table.schedule = table.schedule, schedule.model_dump(mode="json")
        table.unfit = [u.model_dump(mode="json") for u in unfit]
        table.plan_revision = plan_revision
        table.plan_key = content_key(plan) if current else ""
        _save(table)


def pin(build_id: str, plan: Plan, step: str, pinned: bool) -> bool:
    """Lets a step stay where it is when the rest is planned again, or move; False where it is not in the schedule."""
    with transaction.atomic():
        table = _table(build_id)
        schedule = pruned(plan, parse(Schedule, table.schedule)) if table.schedule else Schedule()
        if all(e.step != step for e in schedule.placed):
            return False
        pins = set(schedule.pins) - {step} | ({step} if pinned else set())
        table.schedule = schedule.model_copy(update={"pins": sorted(pins)}).model_dump(mode="json")
        _save(table)
    return True


def back(build_id: str) -> None:
    """Swaps the schedule with the one before."""
    with transaction.atomic():
        table = _table(build_id)
        if table.before is not None:
            table.schedule, table.before, table.unfit = table.before, table.schedule, []
            _save(table)


def write_record(build_id: str, plan: Plan, record: Record) -> None:
    """Keeps what the journal makes of a plan. Raises PlanError where it does not fit the plan."""
    with transaction.atomic():
        table = _table(build_id)
        check_document(plan, record)
        table.record = record.model_dump(mode="json")
        _save(table)


def _save(table: Timetable) -> None:
    table.revision += 1
    table.mark = secrets.token_hex(8)
    table.save()
