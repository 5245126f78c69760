"""The API of sittings: the schedule as it is shown, the search, drags, what happened, and files for other programs."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, Literal

from builds import store as builds
from builds.models import Build
from django.db import close_old_connections
from django.http import HttpRequest, HttpResponse
from emvar_core.at_the_bench.journal import Entry, Said, entry_of
from emvar_core.errors import NotThere, PlanError
from emvar_core.plan import USUAL, Busy, Hours, Plan, Record, Schedule, apply, parse, parse_edits
from emvar_core.plan.documents import check_document
from emvar_core.schedule import calendar_out
from emvar_core.schedule.calendar_in import busy_of
from emvar_core.schedule.changes import Change
from emvar_core.schedule.drag import Moved, UnfitOut, agenda_of, move
from emvar_core.schedule.dry_run import DryRun
from emvar_core.schedule.schedule import as_schedule, first_schedule
from emvar_core.schedule.view import SittingsOut, TakenOut, proof_words, taken_up, view
from emvar_core.schedule.what_if import Case
from emvar_core.vocabulary import Instant
from journal import store as journal
from journal.clock import CLOCK
from ninja import Router, Schema
from pydantic import Field
from sittings import store
from sittings.search import SEARCH, Job
from sittings.store import Kept

from .answers import Problems, answer, file, refused, window_of
from .at_the_bench import said
from .builds_at_times import keep, kept, plan_of

router = Router()
MOST_SECONDS = 300.0
Kind = Literal["search", "dry_run", "changes", "what_if"]


class Shown(Schema):
    """The schedule of a build, or what there is before one was made.

    `crossed`: steps at times that another build with the same pair of hands has taken since. `taken`: what of the bench
    time something else takes.
    """

    revision: int
    scheduled: bool
    stale: bool
    crossed: list[str]
    taken: list[TakenOut]
    can_go_back: bool
    can_unrecord: bool
    hours: Hours
    own_hours: bool
    proof: str
    view: SittingsOut


class SearchIn(Schema):
    kind: Kind = "search"
    seconds: float = Field(20, ge=1, le=MOST_SECONDS)
    keep_pins: bool = True


class SearchOut(Schema):
    """A job of the child process as it stands."""

    state: Literal["none", "waiting", "running", "done", "stopped", "failed"]
    waits_for: str = ""
    goal: str = ""
    value: float | None = None
    bound: float | None = None
    seconds: float = 0
    error: str = ""
    dry_run: DryRun | None = None
    changes: list[Change] | None = None
    cases: list[Case] | None = None


class MoveIn(Schema):
    """A step to be started elsewhere, or other hours to be tried. Minutes since the build's start."""

    step: str | None = Field(None, max_length=40)
    start_min: float = Field(0, ge=-(10**7), le=10**7)
    hours: dict[str, Any] | None = None
    keep: bool = False
    command_id: str | None = Field(None, min_length=8, max_length=64)


class CommandIn(Schema):
    """A write, told by the id of its own under which it counts once however often it is sent."""

    command_id: str = Field(min_length=8, max_length=64)


class PinIn(CommandIn):
    step: str = Field(max_length=40)
    pinned: bool


class TakeIn(Schema):
    """A change that makes it fit: its edits, and the schedule that was found for it."""

    base_revision: int
    command_id: str = Field(min_length=8, max_length=64)
    label: str = Field("", max_length=200)
    edits: list[dict[str, Any]] = Field(max_length=500)
    schedule: dict[str, Any]


class RecordIn(CommandIn):
    entries: list[dict[str, Any]] = Field([], max_length=2000)
    now_at: Instant | None = None


def _show(build_id: str) -> HttpResponse:
    h = kept(build_id)
    SEARCH.warm()
    schedule = h.schedule
    unfit = h.unfit
    if schedule is None:
        # Before a search: as it comes, so that there is something to look at.
        schedule = as_schedule(h.agenda, first_schedule(h.agenda)) if h.agenda.stretches else Schedule()
    shown = view(h.agenda, schedule, h.before, unfit)
    answered = Shown.model_construct(
        revision=h.revision,
        scheduled=h.schedule is not None,
        stale=h.stale,
        crossed=h.crossed,
        taken=_taken(h, shown),
        can_go_back=h.before is not None,
        can_unrecord=bool(journal.last_parcel(build_id)),
        hours=h.plan.hours or USUAL,
        own_hours=h.plan.hours is not None,
        proof=proof_words(schedule, not unfit) if h.schedule is not None else "not planned yet",
        view=shown,
    )
    return answer(Shown, answered)


def _taken(h: Kept, shown: SittingsOut) -> list[TakenOut]:
    busy = [(b.start, b.end, b.why or "something else") for b in (h.plan.hours.busy if h.plan.hours else [])]
    if not busy and not h.taken:
        return []
    last = max((s.end_min for s in shown.sittings), default=shown.finish_min)
    return taken_up(h.agenda, [*h.taken, *busy], last)


@router.get("/builds/{build_id}/sittings", response={200: Shown, 404: Problems})
def read_sittings(request: HttpRequest, build_id: str) -> Any:
    """The schedule as it is shown; before the first search, everything as it comes."""
    return _show(build_id)


@router.post("/builds/{build_id}/sittings/search", response={200: SearchOut, 404: Problems, 422: Problems})
def start_search(request: HttpRequest, build_id: str, body: SearchIn) -> Any:
    """Starts a search, a dry run, the changes that make it fit, or the what-ifs, in the child process."""
    h = kept(build_id)
    if not h.agenda.stretches:
        return refused("hours", "there is no sitting from now on: add hours first")
    if body.kind == "dry_run" and h.schedule is None:
        return refused("schedule", "there is no schedule to play yet: plan the sittings first")
    revision = h.revision
    work = {
        "plan": builds.plan_json(h.plan),
        "record": h.record.model_dump(mode="json"),
        "schedule": h.schedule.model_dump(mode="json") if h.schedule is not None else None,
        "pins": h.agenda.pins if body.keep_pins else {},
        "taken": [[a.isoformat(), b.isoformat()] for a, b in h.hands_taken],
        "seconds": body.seconds,
    }

    def done(job: Job) -> None:
        if job.kind == "search":
            _keep(build_id, job, revision)

    return answer(SearchOut, _search_out(SEARCH.start(build_id, body.kind, work, done)))


def _keep(build_id: str, job: Job, revision: int | None = None) -> None:
    """What a search found, or had found when it was stopped, becomes the schedule."""
    schedule = job.result["schedule"] if job.result else job.schedule
    if schedule is not None:
        unfit = [UnfitOut.model_validate(u) for u in (job.result or {}).get("unfit", [])]
        keep(build_id, parse(Schedule, schedule), unfit, revision)
    close_old_connections()


def _waits_for(job: Job) -> str:
    """The name of the build whose search stands before a waiting one."""
    before = SEARCH.before(job)
    if before is None:
        return ""
    return Build.everything.filter(pk=before.build).values_list("name", flat=True).first() or ""


def _search_out(job: Job | None) -> SearchOut:
    if job is None:
        return SearchOut(state="none")
    searched = SearchOut.model_validate(
        {
            "state": job.state, "goal": job.goal, "value": job.value, "bound": job.bound, "seconds": job.seconds,
            "error": job.error, "waits_for": _waits_for(job),
        }
    )  # fmt: skip
    if job.state == "done":
        searched.dry_run = DryRun.model_validate(job.result) if job.kind == "dry_run" else None
        searched.changes = [Change.model_validate(c) for c in job.result] if job.kind == "changes" else None
        searched.cases = [Case.model_validate(c) for c in job.result] if job.kind == "what_if" else None
    return searched


@router.get("/builds/{build_id}/sittings/search/{kind}", response=SearchOut)
def read_search(request: HttpRequest, build_id: str, kind: Kind) -> Any:
    return answer(SearchOut, _search_out(SEARCH.job(build_id, kind)))


@router.post("/builds/{build_id}/sittings/search/{kind}/stop", response=SearchOut)
def stop_search(request: HttpRequest, build_id: str, kind: Kind) -> Any:
    """Stops a search; what it had found by then is kept."""
    running = SEARCH.job(build_id, kind)
    was_running = running is not None and running.state == "running"
    job = SEARCH.stop(build_id, kind)
    if was_running and job is not None and kind == "search" and job.schedule is not None:
        _keep(build_id, job)
    return answer(SearchOut, _search_out(job))


@router.post("/builds/{build_id}/sittings/move", response={200: Moved, 404: Problems, 422: Problems})
def move_step(request: HttpRequest, build_id: str, body: MoveIn) -> Any:
    """What a drag of a step, or of a sitting, would break; with `keep` the step's drag is kept."""
    h = kept(build_id)
    if h.schedule is None:
        return refused("schedule", "there is no schedule yet: plan the sittings first")
    agenda = h.agenda
    if body.hours is not None:
        changed, _ = apply(h.plan, parse_edits([{"edit": "set_hours", "hours": body.hours}]))
        agenda = agenda_of(changed, h.schedule, h.record, h.hands_taken)
    try:
        moved = move(agenda, h.schedule, body.step, body.start_min)
    except NotThere:
        return refused("step", "it is not in the schedule, or done already")
    if body.keep and body.step is not None:
        try:
            keep(
                build_id,
                moved.schedule,
                moved.unfit,
                h.plan_revision if h.stale else h.revision,
                h.table_revision,
                body.command_id,
                "move",
            )
        except store.Stale:
            return refused("schedule", "it was planned anew in between: look at it and move the step again", 409)
    return answer(Moved, moved)


@router.post("/builds/{build_id}/sittings/pin", response={200: Shown, 404: Problems, 422: Problems})
def pin_step(request: HttpRequest, build_id: str, body: PinIn) -> Any:
    """Lets a step stay where it is when the rest is planned again, or move again."""

    def work(build: Build, plan: Plan) -> None:
        if not store.pin(build.pk, plan, body.step, body.pinned):
            raise PlanError.one("step", "it is not in the schedule")

    builds.once(build_id, body.command_id, "pin", "", {"step": body.step, "pinned": body.pinned}, work)
    return _show(build_id)


@router.post("/builds/{build_id}/sittings/take", response={200: Shown, 404: Problems, 409: Problems, 422: Problems})
def take_change(request: HttpRequest, build_id: str, body: TakeIn) -> Any:
    """Takes a change that makes it fit: its edits into the plan, undoable there, and its schedule."""
    schedule = parse(Schedule, body.schedule)
    edits = parse_edits(body.edits)
    if edits:
        builds.assessed(builds.applied(plan_of(build_id), edits).plan)

    def work(build: Build, plan: Plan) -> None:
        if build.revision != body.base_revision:
            raise builds.Stale
        if edits:
            plan = builds.keep_edits(build, body.label, builds.applied(plan, edits), window_of(request))
            builds.keep_plan(build, plan)
        store.keep(build.pk, plan, schedule, [], build.revision)

    try:
        builds.once(build_id, body.command_id, "take", body.label, None, work)
    except builds.Stale:
        return refused("base_revision", "the plan has changed in between: look for changes again", 409)
    return _show(build_id)


@router.post("/builds/{build_id}/sittings/back", response={200: Shown, 404: Problems})
def go_back(request: HttpRequest, build_id: str, body: CommandIn) -> Any:
    """The schedule before this one; once more brings this one back."""
    builds.once(build_id, body.command_id, "back", "", None, lambda build, _: store.back(build.pk))
    return _show(build_id)


@router.post("/builds/{build_id}/sittings/record", response={200: Shown, 404: Problems, 409: Problems, 422: Problems})
def add_record(request: HttpRequest, build_id: str, body: RecordIn) -> Any:
    """Enters what happened. What is done stays where it was; the rest can then be planned again.

    What was done in some zones of a step only gets a step of its own, an edit of the plan that can be undone there.
    """

    plan = plan_of(build_id)
    more = parse(Record, {"entries": body.entries, "now_at": body.now_at})
    check_document(plan, more)
    names, now = {s.id: s.name for s in plan.steps}, CLOCK.now()
    entries = [entry_of(e, f"{body.command_id}-{i:04}"[-64:], names[e.step], now) for i, e in enumerate(more.entries)]
    if more.now_at is not None:
        known_at = f"{body.command_id}-now"[-64:]
        entries.append(Entry(id=known_at, said=Said.NOW, at=more.now_at, written_at=now))
    said(build_id, entries, body.command_id)
    return _show(build_id)


@router.post("/builds/{build_id}/sittings/unrecord", response={200: Shown, 404: Problems, 422: Problems})
def take_back_record(request: HttpRequest, build_id: str, body: CommandIn) -> Any:
    """Takes back what was said last, in one go."""
    Build.objects.defer("plan").get(pk=build_id)
    if not journal.knows(build_id, body.command_id):
        last = journal.last_parcel(build_id)
        if not last:
            raise PlanError.one("record", "there is nothing to take back")
        now = CLOCK.now()
        ids = [body.command_id, *(f"{body.command_id}-{i:04}"[-64:] for i in range(1, len(last)))]
        backs = [
            Entry(id=i, said=Said.BACK, at=now, written_at=now, corrects=e.id) for i, e in zip(ids, last, strict=True)
        ]
        said(build_id, backs, body.command_id)
    return _show(build_id)


@router.get("/builds/{build_id}/sittings.ics", response={404: Problems})
def read_calendar(request: HttpRequest, build_id: str) -> Any:
    """The sittings and their closing windows as an iCalendar file."""
    h = kept(build_id)
    body = calendar_out.calendar(build_id, h.agenda, h.schedule or Schedule(), datetime.now(UTC))
    return file(body, "text/calendar; charset=utf-8", f"{build_id}.ics")


class BusyOut(Schema):
    """The busy times of a calendar that was read in."""

    busy: list[Busy]
    words: str


@router.post("/builds/{build_id}/sittings/busy", response={200: BusyOut, 404: Problems, 422: Problems})
def read_busy(request: HttpRequest, build_id: str) -> Any:
    """Reads an iCalendar file into busy times. Nothing is kept: who wants them sets them as hours."""
    plan = plan_of(build_id)
    busy = busy_of(request.body, plan.build.tz, CLOCK.now())
    hours = sum((b.end - b.start).total_seconds() for b in busy) / 3600
    words = f"{len(busy)} busy times in a year from now, {hours:.0f} hours." if busy else "Nothing in it is busy."
    return answer(BusyOut, BusyOut(busy=busy, words=words))


@router.get("/builds/{build_id}/sittings.csv", response={404: Problems})
def read_table(request: HttpRequest, build_id: str, hours: Literal[24, 12] = 24) -> Any:
    h = kept(build_id)
    body = calendar_out.table(h.agenda, h.schedule or Schedule(), hours).encode("utf-8")
    return file(body, "text/csv; charset=utf-8", f"{build_id}.csv")
