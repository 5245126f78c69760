"""Builds kept in the database: every write goes through the core's own models, so a stored plan is a valid plan."""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone
from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.judging import Assessment
from emvar_core.memory import MEMORY
from emvar_core.plan import AnyEdit, Plan, apply, check_moves, edits_json, parse_edits, parse_plan
from emvar_core.ways.waits import followed

from . import history
from .models import Build, Command

TRASH_DAYS = 30
OPENED = "open"  # the journal's word for a build that came out of a file
_PLANS = MEMORY.door("plans of builds", 40)
# What a revision is expected to be, so that it can be judged before the database is asked; never taken for granted.
_NEWEST = MEMORY.door("plans expected", 40)
_WRITTEN = MEMORY.door("steps as written", 20_000)
_ASSESSED = MEMORY.door("assessments", 12)
Judge = Callable[[Plan], object]
Work = Callable[[Build, Plan], tuple[Plan, Sequence[AnyEdit]]]


class Stale(Exception):
    """The edit was meant for an older revision."""


class Unreadable(Exception):
    """What is stored of a build is damaged: which one, and what is wrong."""

    def __init__(self, build_id: str, name: str, what: str) -> None:
        super().__init__(f"“{name}” cannot be read: {what[:300]}")
        self.build_id = build_id


class Nothing(Exception):
    """There is nothing to undo or redo."""


@dataclass
class Edited:
    """What a change did: `label` is its own, where it can be undone and nothing can be redone.

    `repeated`: the command was carried out before, and did nothing now.
    """

    build: Build
    plan: Plan
    before: Plan
    label: str | None = None
    repeated: bool = False


def plan_json(plan: Plan) -> dict[str, Any]:
    """A plan as it is written: only what was set, and what a reader needs."""
    data = plan.model_dump(mode="json", exclude_unset=True, exclude={"steps"})
    steps = [_step_json(step) for step in plan.steps]
    return {"format": plan.format, "version": plan.version, **data, "steps": steps}


def _step_json(step: Any) -> dict[str, Any]:
    """A step as it is written. Steps never change, so each is written out once."""
    return _WRITTEN.of(step, lambda: step.model_dump(mode="json", exclude_unset=True))


def new_id() -> str:
    """An id that nobody has."""
    return secrets.token_urlsafe(9).replace("-", "x").replace("_", "y")


def create(plan: Plan, build_id: str | None = None, outline: bool = False) -> Build:
    """Keeps a new build, or an outline of one's own. It is assessed first: what cannot be judged is not stored."""
    assessed(plan)
    build = Build(id=build_id or new_id(), outline=outline)
    put_plan(build, plan)
    build.save(force_insert=True)
    return build


def opened_once(command_id: str, make: Callable[[], Build]) -> tuple[Build, bool]:
    """A build out of a file, and whether it is new: the same command again gives the build that it has made."""
    with transaction.atomic():
        made = Command.objects.filter(kind=OPENED, command_id=command_id).first()
        if made is not None:
            return Build.objects.get(pk=made.build_id), False
        build = make()
        _journal(build, command_id, OPENED, "", None)
    return build, True


def put_plan(build: Build, plan: Plan) -> None:
    """Writes a plan into a build."""
    build.plan, build.name = plan_json(plan), plan.build.name


def plan_of(build: Build) -> Plan:
    """The build's plan; the last ones parsed are kept, so that the same writing of it gives the same object.

    Raises Unreadable where what is stored is damaged.
    """

    def parsed() -> Plan:
        try:
            return parse_plan(build.plan)
        except (PlanError, ValueError) as error:
            raise Unreadable(build.pk, build.name, str(error)) from None

    newest: tuple[str, Plan] | None = _NEWEST.get((build.pk, build.revision))
    if newest is not None and newest[0] == build.mark:
        return newest[1]
    plan = _PLANS.once((build.pk, build.mark), parsed)
    _NEWEST.put((build.pk, build.revision), (build.mark, plan))
    return plan


@dataclass
class Ready:
    """A plan that a write is expected to build on, read before the transaction: parsing a long one would hold it up."""

    mark: str
    revision: int
    plan: Plan

    def of(self, build: Build) -> Plan:
        """The plan of a build that is being written: this one, if nobody has written meanwhile."""
        return self.plan if build.mark == self.mark else plan_of(build)


def _ready(build_id: str, revision: int | None = None) -> Ready:
    """What a write of that revision builds on, as far as is known; where it is not, what is there."""
    known: tuple[str, Plan] | None = _NEWEST.get((build_id, revision)) if revision is not None else None
    if known is not None and revision is not None:
        return Ready(known[0], revision, known[1])
    build = Build.objects.defer("plan").get(pk=build_id)
    return Ready(build.mark, build.revision, plan_of(build))


def edit(
    build_id: str,
    base_revision: int,
    command_id: str,
    label: str,
    data: Any,
    judge: Judge | None = None,
    window: str = "",
) -> Edited:
    """Applies edits to a build and keeps them for undo. Repeating a command id changes nothing.

    The plan that they lead to is judged before it is stored, outside of the transaction: what cannot be judged is not
    stored. `judge` says how far; without it, all of it is.
    """
    edits, judge = parse_edits(data), judge or assessed
    ready = _ready(build_id, base_revision)
    made: Applied | None = None
    if ready.revision == base_revision:
        made = applied(ready.plan, edits)
        check_moves(ready.plan, made.plan, edits)
        judge(made.plan)
        plan_json(made.plan)  # so that it is written out already, a step at a time

    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        done = made
        if done is None or plan is not ready.plan:  # the data were brought back from a copy in between
            done = applied(plan, edits)
            judge(done.plan)
        return keep_edits(build, label, done, window), done.edits

    done = _change(build_id, base_revision, command_id, "edit", label, work, ready)
    if not done.repeated:
        done.label = label[:200]
    return done


@dataclass(frozen=True)
class Applied:
    """A plan after edits, what leads back, and the edits with those that follow from them: the program's waits."""

    plan: Plan
    inverse: list[AnyEdit]
    edits: list[AnyEdit]


_AFTER = MEMORY.door("plans after edits", 12)


def applied(plan: Plan, edits: list[AnyEdit]) -> Applied:
    """A plan after edits: the same object when it is asked for again, so that it is judged once."""

    def made() -> Applied:
        after, inverse = apply(plan, edits)
        more = followed(plan, after)
        if not more:
            return Applied(after, inverse, edits)
        last, back = apply(after, more)
        return Applied(last, [*back, *inverse], [*edits, *more])

    return _AFTER.of(plan, made, json.dumps(edits_json(edits), sort_keys=True))


def keep_edits(build: Build, label: str, made: Applied, window: str = "") -> Plan:
    """Enters edits into the history of a build that is being written. Gives the plan after them."""
    history.enter(build, label, made.edits, made.inverse, window)
    return made.plan


def undo(build_id: str, base_revision: int, command_id: str, window: str = "") -> Edited:
    """Takes back the last change of one's own window; where it has made none, or none is given, the last of all.

    Raises history.Entangled where one's own cannot be taken from under another's.
    """
    ready = _ready(build_id, base_revision)
    found: history.TakenBack | None = None
    build = Build.objects.defer("plan").get(pk=build_id)
    if build.mark == ready.mark and build.revision == base_revision and not _known(build, command_id):
        found = _taken_back(build, ready.plan, window)

    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        done = found if found is not None and plan is ready.plan else _taken_back(build, plan, window)
        if done is None:
            raise Nothing
        done.keep()
        return done.plan, done.edits

    return _change(build_id, base_revision, command_id, "undo", "", work, ready)


def _taken_back(build: Build, plan: Plan, window: str) -> history.TakenBack | None:
    change = history.to_undo(build, window)
    return None if change is None else history.taken_back(plan, change)


def redo(build_id: str, base_revision: int, command_id: str) -> Edited:
    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        change = build.changes.filter(undone=True).first()
        if change is None:
            raise Nothing
        edits = parse_edits(change.edits)
        after, inverse = apply(plan, edits)
        change.undone, change.inverse = False, edits_json(inverse)  # it may have been made on another plan
        change.save(update_fields=["undone", "inverse"])
        return after, edits

    return _change(build_id, base_revision, command_id, "redo", "", work)


def _change(
    build_id: str, base_revision: int, command_id: str, kind: str, label: str, work: Work, ready: Ready | None = None
) -> Edited:
    ready = ready or _ready(build_id)
    with transaction.atomic():
        build = _written_to(build_id)
        plan = ready.of(build)
        if _known(build, command_id):
            return Edited(build, plan, plan, repeated=True)
        if build.revision != base_revision:
            raise Stale
        after, _ = work(build, plan)
        keep_plan(build, after)
        _journal(build, command_id, kind, label, None)
    _PLANS.put((build.pk, build.mark), after)
    _NEWEST.put((build.pk, build.revision), (build.mark, after))
    return Edited(build, after, plan)


def keep_plan(build: Build, after: Plan) -> None:
    """Stores the plan of a build that is being written, as its next revision."""
    build.revision += 1
    put_plan(build, after)
    build.save(update_fields=["revision", "plan", "name", "changed_at"])


def once(build_id: str, command_id: str, kind: str, label: str, data: Any, work: Callable[[Build, Plan], None]) -> bool:
    """A write beside the plan: what it builds on is read inside of its transaction. False where it was done before."""
    ready = _ready(build_id)
    with transaction.atomic():
        build = _written_to(build_id)
        if _known(build, command_id):
            return False
        work(build, ready.of(build))
        _journal(build, command_id, kind, label, data)
    return True


def beside(build_id: str, work: Callable[[Build, Plan], None]) -> None:
    """A write beside the plan that keeps its own account of what it has done already."""
    ready = _ready(build_id)
    with transaction.atomic():
        build = _written_to(build_id)
        work(build, ready.of(build))


def _written_to(build_id: str) -> Build:
    return Build.objects.select_for_update().defer("plan").get(pk=build_id)  # `plan_of` knows it mostly


def _known(build: Build, command_id: str) -> bool:
    return build.commands.filter(command_id=command_id).exists()


def _journal(build: Build, command_id: str, kind: str, label: str, data: Any) -> None:
    Command.objects.create(
        build=build, command_id=command_id, revision=build.revision, kind=kind, label=label[:200], data=data
    )


# --- the trash -------------------------------------------------------------------------------------------------


def to_trash(build_id: str, command_id: str) -> None:
    """Lays a build in the trash, from which it can be taken for thirty days."""
    _lie(build_id, command_id, "trash", timezone.now())


def from_trash(build_id: str, command_id: str) -> None:
    """Takes a build out of the trash, as it was."""
    _lie(build_id, command_id, "untrash", None)


def _lie(build_id: str, command_id: str, kind: str, deleted_at: datetime | None) -> None:
    """Whether a build lies in the trash; a command that comes again, late, does not do it again."""
    with transaction.atomic():
        build = Build.everything.select_for_update().defer("plan").get(pk=build_id)
        if not _known(build, command_id) and (build.deleted_at is None) != (deleted_at is None):
            Build.everything.filter(pk=build_id).update(deleted_at=deleted_at)
            _journal(build, command_id, kind, "", None)


def empty_trash(build_id: str | None = None) -> int:
    """Deletes for good: one build that lies in the trash, or all that have lain there for thirty days."""
    lying = Build.everything.exclude(deleted_at=None)
    if build_id is not None:
        return lying.filter(pk=build_id).delete()[0]
    return lying.filter(deleted_at__lt=timezone.now() - timedelta(days=TRASH_DAYS)).delete()[0]


# --- what is judged --------------------------------------------------------------------------------------------


def is_assessed(plan: Plan) -> bool:
    return _ASSESSED.knows(plan)


def assessed(plan: Plan) -> Assessment:
    """The assessment of a plan object; the last few are kept, to tell what an edit changed."""
    return _ASSESSED.of(plan, lambda: assess(plan, opens=False))
