"""Builds kept in the database: every write goes through the core's own models, so a stored plan is a valid plan."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from emvar_core.assess import assess
from emvar_core.judging import Assessment
from emvar_core.memory import MEMORY
from emvar_core.plan import AnyEdit, Plan, apply, edits_json, parse_edits, parse_plan

from .models import Build, Change, Command

KEEP_CHANGES = 500
KEEP_COMMANDS = 200
_PLANS = MEMORY.door("plans of builds", 40)
_WRITTEN = MEMORY.door("steps as written", 20_000)
_ASSESSED = MEMORY.door("assessments", 12)
Work = tuple[Plan, Any]


class Stale(Exception):
    """The edit was meant for an older revision."""


class Nothing(Exception):
    """There is nothing to undo or redo."""


@dataclass
class Edited:
    """What a change did: `label` is its own, where it can be undone and nothing can be redone."""

    build: Build
    plan: Plan
    before: Plan
    label: str | None = None


def plan_json(plan: Plan) -> dict[str, Any]:
    """A plan as it is written: only what was set, and what a reader needs."""
    data = plan.model_dump(mode="json", exclude_unset=True, exclude={"steps"})
    steps = [_step_json(step) for step in plan.steps]
    return {"format": plan.format, "version": plan.version, **data, "steps": steps}


def _step_json(step: Any) -> dict[str, Any]:
    """A step as it is written. Steps never change, so each is written out once."""
    return _WRITTEN.of(step, lambda: step.model_dump(mode="json", exclude_unset=True))


def create(plan: Plan, build_id: str | None = None) -> Build:
    return Build.objects.create(
        id=build_id or secrets.token_urlsafe(9).replace("-", "x").replace("_", "y"),
        name=plan.build.name,
        plan=plan_json(plan),
    )


def plan_of(build: Build) -> Plan:
    """The build's plan; the last ones parsed are kept, so that the same revision gives the same object."""
    return _PLANS.once(_revision(build), lambda: parse_plan(build.plan))


def _revision(build: Build) -> tuple[str, Any, int]:
    return build.pk, build.created_at, build.revision


def edit(build_id: str, base_revision: int, command_id: str, label: str, data: Any) -> Edited:
    """Applies edits to a build and keeps them for undo. Repeating a command id changes nothing."""

    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        edits = parse_edits(data)
        after, inverse = apply(plan, edits)
        last = build.changes.order_by("-number").values_list("number", "undone").first()
        if last is not None and last[1]:  # what was undone lies at the end; a new edit ends its redo
            build.changes.filter(undone=True).delete()
            last = build.changes.order_by("-number").values_list("number", "undone").first()
        number = (last[0] if last else 0) + 1
        build.changes.create(number=number, label=label[:200], edits=edits_json(edits), inverse=edits_json(inverse))
        if number % 50 == 0:
            build.changes.filter(number__lte=number - KEEP_CHANGES).delete()
        return after, edits

    done = _change(build_id, base_revision, command_id, work)
    if done.plan is not done.before:
        done.label = label[:200]
    return done


def undo(build_id: str, base_revision: int, command_id: str) -> Edited:
    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        change = build.changes.filter(undone=False).last()
        return _replay(plan, change, "inverse", undone=True)

    return _change(build_id, base_revision, command_id, work)


def redo(build_id: str, base_revision: int, command_id: str) -> Edited:
    def work(build: Build, plan: Plan) -> tuple[Plan, list[AnyEdit]]:
        change = build.changes.filter(undone=True).first()
        return _replay(plan, change, "edits", undone=False)

    return _change(build_id, base_revision, command_id, work)


def _replay(plan: Plan, change: Change | None, which: str, undone: bool) -> tuple[Plan, list[AnyEdit]]:
    if change is None:
        raise Nothing
    edits = parse_edits(getattr(change, which))
    after, _ = apply(plan, edits)
    change.undone = undone
    change.save(update_fields=["undone"])
    return after, edits


def _change(
    build_id: str,
    base_revision: int,
    command_id: str,
    work: Callable[[Build, Plan], tuple[Plan, Sequence[AnyEdit]]],
) -> Edited:
    with transaction.atomic():
        build = Build.objects.select_for_update().defer("plan").get(pk=build_id)  # `plan_of` knows it mostly
        plan = plan_of(build)
        if build.commands.filter(command_id=command_id).exists():
            return Edited(build, plan, plan)
        if build.revision != base_revision:
            raise Stale
        after, _ = work(build, plan)
        build.revision += 1
        build.plan, build.name = plan_json(after), after.build.name
        build.save(update_fields=["revision", "plan", "name", "changed_at"])
        Command.objects.create(build=build, command_id=command_id, revision=build.revision)
        if build.revision % 50 == 0:
            build.commands.filter(revision__lte=build.revision - KEEP_COMMANDS).delete()
    _PLANS.put(_revision(build), after)
    return Edited(build, after, plan)


def is_assessed(plan: Plan) -> bool:
    return _ASSESSED.knows(plan)


def assessed(plan: Plan) -> Assessment:
    """The assessment of a plan object; the last few are kept, to tell what an edit changed."""
    return _ASSESSED.of(plan, lambda: assess(plan, opens=False))
