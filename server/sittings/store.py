"""Schedules and records kept beside the plan: every write goes through the core's own models."""

from __future__ import annotations

from functools import cached_property
from typing import Any, Literal

from builds.models import Build
from builds.store import plan_of
from django.db import transaction
from emvar_core.memo import Memo
from emvar_core.plan import Plan
from emvar_core.sittings.documents import Record, Schedule, as_placed, check, parse, pruned
from emvar_core.sittings.moved import UnfitOut, bench_of
from emvar_core.sittings.schedule import Bench

from .models import Timetable

KEEP_RECORDS = 50
Times = Literal["plan", "schedule"]  # a build at the waits that its plan asks for, or as it is scheduled and was done


class Held:
    """A build's plan, schedule and record as the core knows them, and the bench that they make."""

    def __init__(self, build: Build, table: Timetable, plan: Plan) -> None:
        self.build, self.table, self.plan = build, table, plan
        self.record = pruned(plan, parse(Record, table.record or {}))
        self.schedule = pruned(plan, parse(Schedule, table.schedule)) if table.schedule else None
        self.before = pruned(plan, parse(Schedule, table.before)) if table.before else None
        self.unfit = [UnfitOut.model_validate(u) for u in table.unfit]

    @cached_property
    def bench(self) -> Bench:
        return bench_of(self.plan, self.schedule, self.record)

    @property
    def stale(self) -> bool:
        """Whether the plan has changed since the schedule was made."""
        return self.schedule is not None and self.table.plan_revision != self.build.revision


_HELD: dict[str, tuple[tuple[int, Any], Held]] = {}


def held(build_id: str) -> Held:
    """What there is of a build; the last one of each is kept, with what its bench has worked out."""
    build = Build.objects.get(pk=build_id)
    table = Timetable.objects.filter(build=build).first() or Timetable(build=build)
    key = (build.revision, table.changed_at)
    known = _HELD.get(build_id)
    if known is not None and known[0] == key:
        return known[1]
    found = Held(build, table, plan_of(build))
    if len(_HELD) > 12:
        _HELD.clear()
    _HELD[build_id] = (key, found)
    return found


_PLACED = Memo(12)


def placed(build_id: str, plan: Plan) -> Plan | None:
    """A plan of a build at the times of its schedule and of what happened; None where no schedule was made yet.

    The last few are kept, so that the same plan gives the same object.
    """
    table = Timetable.objects.filter(build=build_id).first()
    if table is None or table.schedule is None:
        return None
    known: tuple[Plan, Any, Plan] | None = _PLACED.get(id(plan))
    if known is not None and known[0] is plan and known[1] == table.changed_at:
        return known[2]
    schedule, record = pruned(plan, parse(Schedule, table.schedule)), pruned(plan, parse(Record, table.record or {}))
    found = as_placed(plan, schedule, record)
    _PLACED.put(id(plan), (plan, table.changed_at, found))
    return found


def judged(build_id: str, plan: Plan, times: Times) -> Plan:
    """A plan of a build at the times at which it is to be judged: its own, or those of schedule and record."""
    return (placed(build_id, plan) or plan) if times == "schedule" else plan


def plan_at(build_id: str, times: Times) -> Plan:
    """A build's plan as it stands, at the times at which it is to be judged."""
    return judged(build_id, plan_of(Build.objects.get(pk=build_id)), times)


def _table(build_id: str) -> Timetable:
    build = Build.objects.select_for_update().get(pk=build_id)
    return Timetable.objects.get_or_create(build=build)[0]


def keep(build_id: str, schedule: Schedule, unfit: list[UnfitOut], plan_revision: int | None = None) -> None:
    """Keeps a schedule; the one that it replaces stays as the one before. Raises PlanError where it does not fit."""
    with transaction.atomic():
        table = _table(build_id)
        plan = plan_of(table.build)
        schedule = pruned(plan, schedule)
        check(plan, schedule)
        table.before, table.schedule = table.schedule, schedule.model_dump(mode="json")
        table.unfit = [u.model_dump(mode="json") for u in unfit]
        table.plan_revision = plan_revision if plan_revision is not None else table.build.revision
        table.save()


def back(build_id: str) -> None:
    """Swaps the schedule with the one before."""
    with transaction.atomic():
        table = _table(build_id)
        if table.before is not None:
            table.schedule, table.before, table.unfit = table.before, table.schedule, []
            table.save()


def write_record(build_id: str, record: Record) -> None:
    """Keeps a record; the ones before it can be gone back to. Raises PlanError where it does not fit the plan."""
    with transaction.atomic():
        table = _table(build_id)
        check(plan_of(table.build), record)
        table.record_before = [*table.record_before, table.record][-KEEP_RECORDS:]
        table.record = record.model_dump(mode="json")
        table.save()


def unrecord(build_id: str) -> bool:
    """Takes the last entry into the record back; False where there is none."""
    with transaction.atomic():
        table = _table(build_id)
        if not table.record_before:
            return False
        table.record, table.record_before = table.record_before[-1], table.record_before[:-1]
        table.save()
        return True
