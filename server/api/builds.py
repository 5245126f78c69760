"""The API of builds: the plan, what is judged of it, edits, undo. The browser draws what comes from here."""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable
from datetime import date, datetime, timedelta
from functools import partial
from typing import Annotated, Any

from builds import history, store
from builds.models import Build
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from emvar_core.assess import assess_near, seam_in_full
from emvar_core.at_the_bench.timers import stretches_of
from emvar_core.errors import NotThere
from emvar_core.judging import Assessment, CoatOut, CupOut, Remark, Score, SeamOut, StepNote, Story
from emvar_core.plan import Plan, Step, Timing, json_of, parse_edits, parse_plan, step_times
from emvar_core.schedule.agenda import Agenda
from emvar_core.vocabulary import Verdict
from emvar_core.ways.remedies import Remedy, remedies
from ninja import Query, Router, Schema
from pydantic import Field
from sittings.store import is_scheduled

from .answers import Problems, answer, file, no_larger_than, window_of
from .builds_at_times import Times, clock_of, judged, plan_at, plan_of
from .data import put_saved, saved_build

router = Router()
ZIP = b"PK\x03\x04"


class BuildRow(Schema):
    id: str
    name: str
    revision: int
    steps: int
    zones: int


CommandId = Annotated[str, Query(min_length=8, max_length=64)]


class TrashRow(Schema):
    id: str
    name: str
    steps: int
    zones: int
    deleted_at: datetime
    gone_on: date


class History(Schema):
    """What undo and redo would do next, by its label. `own`: undo takes back what the asking window has made itself."""

    undo: str | None
    redo: str | None
    own: bool = False


class BuildOut(Schema):
    """A whole build: its plan, its assessment and what can be undone.

    `clock`: by which it is looked at, as chosen; `times`: what it is judged at, the plan's own times or those of its
    sittings; `scheduled`: whether there are any.
    """

    id: str
    revision: int
    plan: Plan
    assessment: Assessment
    history: History
    clock: Times
    times: Times
    scheduled: bool


class Near(Schema):
    """Where the user is looking: this step in this zone is answered first."""

    zone: str
    step: str


class EditIn(Schema):
    base_revision: int
    command_id: str = Field(min_length=8, max_length=64)
    label: str = Field("", max_length=200)
    edits: list[dict[str, Any]] = Field(max_length=500)
    dry_run: bool = False
    near: Near | None = None
    times: Times = "plan"


class StepIn(Schema):
    base_revision: int
    command_id: str = Field(min_length=8, max_length=64)
    times: Times = "plan"
    # Undo: the last change of all, whoever made it, and not one's own first.
    last: bool = False


class Partial(Schema):
    zone: str
    steps: list[str]


class Changed(Schema):
    """What an edit changed; everything else stays as it was.

    `partial` lists the steps that were worked out so far, in one zone; the rest is to be asked for. Stories and score
    are then still those of before.
    """

    revision: int
    order: list[str]
    steps: dict[str, Step]
    head: dict[str, Any]
    times: dict[str, Timing]
    coats: dict[str, CoatOut]
    coats_gone: list[str]
    seams: dict[str, SeamOut]
    seams_gone: list[str]
    cups: dict[str, CupOut]
    notes: list[StepNote]
    remarks: list[Remark]
    stories: list[Story]
    score: Score
    end_min: float
    history: History
    partial: Partial | None = None


# 208: it was carried out before. 409: somebody else's write came first; the build as it is now.
WRITTEN: Any = {200: Changed, 208: BuildOut, 404: Problems, 409: BuildOut, 422: Problems}


class OpenFor(Schema):
    """From when until when a step may come, minutes after the coat below; `until` None: it stays open."""

    since: float
    until: float | None


class SeamDetail(Schema):
    """A seam in full, what it is at the plan's own times, what would mend it there, and all stretches of its window."""

    seam: SeamOut
    own: SeamOut | None
    remedies: list[Remedy]
    stretches: list[OpenFor]


def _history(request: HttpRequest, build: Build) -> History:
    window = window_of(request)
    last = history.to_undo(build, window)
    first = build.changes.filter(undone=True).first()
    own = bool(window) and last is not None and last.window == window
    return History(undo=last.label if last else None, redo=first.label if first else None, own=own)


def _whole(request: HttpRequest, build: Build, status: int = 200, times: Times | None = None) -> HttpResponse:
    plan = store.plan_of(build)
    scheduled = is_scheduled(build.pk)
    by: Times = "schedule" if scheduled and (times or clock_of(build)) == "schedule" else "plan"
    out = BuildOut.model_construct(
        id=build.pk,
        revision=build.revision,
        plan=plan,
        assessment=store.assessed(judged(build.pk, plan, by)),
        history=_history(request, build),
        clock=clock_of(build),
        times=by,
        scheduled=scheduled,
    )
    return answer(BuildOut, out, status)


def _head(plan: Plan) -> dict[str, Any]:
    return plan.model_dump(mode="json", exclude={"steps"})


def _differs(before: dict[str, Any], after: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
    changed = {key: value for key, value in after.items() if (old := before.get(key)) is not value and old != value}
    return changed, [key for key in before if key not in after]


def _changed(before: Plan, after: Plan, build: Build, told: History, times: Times) -> HttpResponse:
    was, now = (store.assessed(judged(build.pk, p, times)) for p in (before, after))
    old_steps = {s.id: s for s in before.steps}
    coats, coats_gone = _differs(was.coats, now.coats)
    seams, seams_gone = _differs(was.seams, now.seams)
    out = Changed.model_construct(
        revision=build.revision,
        order=[s.id for s in after.steps],
        steps={s.id: s for s in after.steps if old_steps.get(s.id) is not s},
        head=_head(after),
        times=_differs(was.times, now.times)[0],
        coats=coats,
        coats_gone=coats_gone,
        seams=seams,
        seams_gone=seams_gone,
        cups=_differs(was.cups, now.cups)[0],
        notes=now.notes,
        remarks=now.remarks,
        stories=now.stories,
        score=now.score,
        end_min=now.end_min,
        history=told,
    )
    return answer(Changed, out)


FirstAnswer = tuple[dict[str, CoatOut], dict[str, SeamOut], list[str]]


def _first(plan: Plan, near: Near | None) -> FirstAnswer | None:
    """What is answered first of a plan, worked out; None where it is all of it, assessed."""
    if near is not None and not store.is_assessed(plan):
        try:
            return assess_near(plan, near.zone, near.step)
        except NotThere:
            pass  # the step is gone from that zone
    store.assessed(plan)
    return None


def _partly(done: store.Edited, first: FirstAnswer, zone: str, told: History, times: Times) -> HttpResponse:
    before, after = done.before, done.plan
    was, now = (judged(done.build.pk, p, times) for p in (before, after))
    coats, seams, ids = first
    old_steps = {s.id: s for s in before.steps}
    out = Changed.model_construct(
        revision=done.build.revision,
        order=[s.id for s in after.steps],
        steps={s.id: s for s in after.steps if old_steps.get(s.id) is not s},
        head=_head(after),
        times=_differs(step_times(was), step_times(now))[0],
        coats=coats,
        coats_gone=[],
        seams=seams,
        seams_gone=[],
        cups={},
        notes=[],
        remarks=[],
        stories=[],
        score=Score(clashes=0, missed=0, waits=0, cautions=0, sound=0),
        end_min=0.0,
        history=told,
        partial=Partial(zone=zone, steps=ids),
    )
    return answer(Changed, out)


@router.get("/builds", response=list[BuildRow])
def list_builds(request: HttpRequest) -> Any:
    return list(Build.objects.filter(outline=False).values("id", "name", "revision", "steps", "zones"))


@router.post("/builds", response={201: BuildOut, 208: BuildOut, 422: Problems})
def import_build(request: HttpRequest, command_id: Annotated[str, Query("", max_length=64)]) -> Any:
    """Takes a plan file as the body, or a build that was saved whole. A broken one is refused with its reasons, and
    nothing is stored. Sent twice under one command id, it counts once."""
    no_larger_than(request, settings.DATA_UPLOAD_MAX_MEMORY_SIZE)
    body, command_id = request.body, command_id or secrets.token_hex(12)
    # Read and judged before the database is held.
    if body.startswith(ZIP):
        build, new = store.opened_once(command_id, partial(put_saved, saved_build(body)))
    else:
        plan = parse_plan(json_of(body))
        store.assessed(plan)
        build, new = store.opened_once(command_id, partial(store.create, plan))
    return _whole(request, build, 201 if new else 208)


@router.get("/builds/{build_id}", response={200: BuildOut, 404: Problems})
def get_build(request: HttpRequest, build_id: str, times: Times | None = None) -> Any:
    """The whole build. `times`: at the plan's own, or at those of its sittings; without, by the clock chosen for it."""
    return _whole(request, Build.objects.get(pk=build_id), times=times)


@router.delete("/builds/{build_id}", response={204: None, 404: Problems})
def delete_build(request: HttpRequest, build_id: str, command_id: CommandId) -> Any:
    """Lays a build in the trash; it can be taken out again for thirty days."""
    store.to_trash(build_id, command_id)
    return HttpResponse(status=204)


@router.get("/trash", response=list[TrashRow])
def list_trash(request: HttpRequest) -> Any:
    """What lies in the trash, the last first, with the day on which it is deleted for good."""
    lying = Build.everything.exclude(deleted_at=None).order_by("-deleted_at")
    for_days = timedelta(days=store.TRASH_DAYS)
    return [
        TrashRow(
            id=b.pk,
            name=b.name,
            steps=b.steps,
            zones=b.zones,
            deleted_at=b.deleted_at,
            gone_on=(b.deleted_at + for_days).date(),
        )
        for b in lying.defer("plan")
        if b.deleted_at is not None
    ]


@router.post("/trash/{build_id}/back", response={204: None, 404: Problems})
def take_from_trash(request: HttpRequest, build_id: str, command_id: CommandId) -> Any:
    """Takes a build out of the trash, as it was."""
    store.from_trash(build_id, command_id)
    return HttpResponse(status=204)


@router.delete("/trash/{build_id}", response={204: None})
def delete_for_good(request: HttpRequest, build_id: str) -> Any:
    """Deletes a build that lies in the trash, for good."""
    store.empty_trash(build_id)
    return HttpResponse(status=204)


@router.get("/builds/{build_id}/plan.json", response={200: dict[str, Any], 404: Problems})
def export_build(request: HttpRequest, build_id: str) -> Any:
    """The plan file, in the open format."""
    build = Build.objects.get(pk=build_id)
    body = json.dumps(build.plan, indent=1, ensure_ascii=False) + "\n"
    return file(body.encode("utf-8"), "application/json; charset=utf-8", f"{build.pk}.plan.json")


@router.post("/builds/{build_id}/edits", response=WRITTEN)
def edit_build(request: HttpRequest, build_id: str, body: EditIn) -> Any:
    """Applies edits, or with `dry_run` only tells what they would change.

    A command that was carried out before is answered with the whole build (208): its first answer may have been lost.
    """
    if body.dry_run:
        build = Build.objects.get(pk=build_id)
        plan = store.plan_of(build)
        after = store.applied(plan, parse_edits(body.edits)).plan
        return _changed(plan, after, build, _history(request, build), body.times)
    near, times = body.near, body.times
    first: FirstAnswer | None = None

    def judge(after: Plan) -> None:
        nonlocal first
        first = _first(judged(build_id, after, times), near)

    try:
        done = store.edit(
            build_id, body.base_revision, body.command_id, body.label, body.edits, judge, window_of(request)
        )
    except store.Stale:
        return _whole(request, Build.objects.get(pk=build_id), 409, times)
    if done.repeated:
        return _whole(request, done.build, 208, times)
    if done.label is None:
        told = _history(request, done.build)
    else:
        told = History(undo=done.label, redo=None, own=bool(window_of(request)))
    if near is not None and first is not None:
        return _partly(done, first, near.zone, told, times)
    return _changed(done.before, done.plan, done.build, told, times)


class ClockIn(Schema):
    clock: Times
    command_id: str = Field(min_length=8, max_length=64)


@router.post("/builds/{build_id}/clock", response={200: BuildOut, 404: Problems, 422: Problems})
def turn_clock(request: HttpRequest, build_id: str, body: ClockIn) -> Any:
    """Chooses the clock by which a build is looked at, in every view, until it is turned again."""

    def work(build: Build, plan: Plan) -> None:
        Build.objects.filter(pk=build.pk).update(clock=body.clock)

    store.once(build_id, body.command_id, "clock", "", {"clock": body.clock}, work)
    return _whole(request, Build.objects.get(pk=build_id))


@router.post("/builds/{build_id}/undo", response=WRITTEN)
def undo_build(request: HttpRequest, build_id: str, body: StepIn) -> Any:
    """Takes back the last change of the asking window (`X-Window`); without any, or with `last`, the last of all."""
    return _back_or_forth(request, partial(store.undo, window="" if body.last else window_of(request)), build_id, body)


@router.post("/builds/{build_id}/redo", response=WRITTEN)
def redo_build(request: HttpRequest, build_id: str, body: StepIn) -> Any:
    return _back_or_forth(request, store.redo, build_id, body)


def _back_or_forth(
    request: HttpRequest, way: Callable[[str, int, str], store.Edited], build_id: str, body: StepIn
) -> HttpResponse:
    try:
        done = way(build_id, body.base_revision, body.command_id)
    except store.Stale:
        return _whole(request, Build.objects.get(pk=build_id), 409, body.times)
    if done.repeated:
        return _whole(request, done.build, 208, body.times)
    return _changed(done.before, done.plan, done.build, _history(request, done.build), body.times)


@router.get("/builds/{build_id}/seams/{seam_id}", response={200: SeamDetail, 404: Problems})
def seam_detail(request: HttpRequest, build_id: str, seam_id: str, times: Times = "plan") -> Any:
    """A seam in full, and what would mend it, tried at these times too; empty where nothing helps."""
    plan, here = plan_of(build_id), plan_at(build_id, times)
    seam = seam_in_full(here, seam_id)
    own = seam if times == "plan" else store.assessed(plan).seams.get(seam_id)
    seen = None if judged(build_id, plan, times) is plan else partial(_seen, build_id, times)
    ways = _remedies(plan, seam_id, seen) if seam.verdict is not Verdict.SOUND else []
    lower = seam.responsible or seam.lower_step
    found = stretches_of(Agenda(here), store.assessed(here), lower, seam.upper_step) if lower is not None else []
    open_ = [OpenFor.model_construct(since=a, until=b) for a, b in found]
    return answer(SeamDetail, SeamDetail.model_construct(seam=seam, own=own, remedies=ways, stretches=open_))


def _seen(build_id: str, times: Times, plan: Plan) -> Plan:
    return judged(build_id, plan, times)


def _remedies(plan: Plan, seam_id: str, seen: Callable[[Plan], Plan] | None) -> list[Remedy]:
    """None for a seam that is there only as things are scheduled, where a step was left out."""
    try:
        return remedies(plan, seam_id, seen)
    except NotThere:
        return []
