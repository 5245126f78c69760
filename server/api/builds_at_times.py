"""Builds and their sittings brought together: the two apps do not know each other."""

from __future__ import annotations

import secrets
from typing import Literal

from builds import store as builds
from builds.models import Build
from emvar_core.plan import Plan, Schedule
from emvar_core.schedule.drag import UnfitOut
from sittings import store as sittings
from sittings.store import Kept

Times = Literal["plan", "schedule"]  # at the waits that the plan asks for, or as it is scheduled; what is done is done


def plan_of(build_id: str) -> Plan:
    return builds.plan_of(Build.objects.get(pk=build_id))


def judged(build_id: str, plan: Plan, times: Times) -> Plan:
    """A plan of a build at the times at which it is to be judged: its own, or its schedule's; record beats both."""
    return sittings.placed(build_id, plan, times == "schedule") or plan


def clock_of(build: Build) -> Times:
    """The clock by which a build is looked at, as it was last chosen."""
    return "schedule" if build.clock == "schedule" else "plan"


def plan_shown(build_id: str) -> Plan:
    """A build's plan as it stands, by the clock that was chosen for it."""
    build = Build.objects.get(pk=build_id)
    return judged(build_id, builds.plan_of(build), clock_of(build))


def plan_at(build_id: str, times: Times) -> Plan:
    """A build's plan as it stands, at the times at which it is to be judged."""
    return judged(build_id, plan_of(build_id), times)


def kept(build_id: str) -> Kept:
    """The sittings of a build as it stands."""
    build = Build.objects.get(pk=build_id)
    plan = builds.plan_of(build)
    return sittings.kept(build.pk, plan, build.revision, _taken(build, plan))


def _taken(build: Build, plan: Plan) -> sittings.Taken:
    """What other builds with shared hours have planned: one calendar, one pair of hands."""
    if plan.hours is None or not plan.hours.shared:
        return ()
    others = Build.objects.filter(plan__hours__shared=True, outline=False).exclude(pk=build.pk)
    return sittings.placed_by(dict(others.values_list("pk", "name")))


def keep(
    build_id: str, schedule: Schedule, unfit: list[UnfitOut], revision: int | None = None, base: int | None = None,
    command_id: str | None = None, kind: str = "schedule",
) -> None:  # fmt: skip
    """Keeps a schedule for a build as it stands; `revision`: of the plan that it was made for."""

    def work(build: Build, plan: Plan) -> None:
        made_for = revision or build.revision
        sittings.keep(build.pk, plan, schedule, unfit, made_for, base, current=made_for == build.revision)

    builds.once(build_id, command_id or secrets.token_hex(12), kind, "", None, work)
