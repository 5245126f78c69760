"""The API of the bench: the pack that a device goes on with, the journal that it writes, pictures, the time."""

from __future__ import annotations

import logging
import secrets
from datetime import datetime
from typing import Any

from builds import store as builds
from builds.models import Build
from django.http import HttpRequest, HttpResponse
from emvar_core.at_the_bench.journal import MOST_SENT, STATE_OF, Entry, Said, record_of
from emvar_core.at_the_bench.pack import Pack, pack
from emvar_core.errors import NotThere, PlanError
from emvar_core.plan import Plan, parse_edits
from emvar_core.plan.documents import out_of_step
from emvar_core.schedule.drag import MovedStep, move
from emvar_core.vocabulary import Instant
from journal import pictures
from journal import store as journal
from journal.clock import CLOCK
from journal.models import Picture
from ninja import Router, Schema
from pydantic import Field
from sittings import store as sittings

from .answers import Problems, answer, no_larger_than, refused
from .builds_at_times import keep, kept
from .shelf import stock_of

router = Router()
LOG = logging.getLogger("emvar")
START_ROUNDS_MIN = 5


class NowOut(Schema):
    """The time by the server's clock, and how many times faster than the wall it runs."""

    now: datetime
    pace: float


class MovedOut(Schema):
    """A step that moved because of what happened."""

    step: str
    name: str
    before_min: float | None
    after_min: float | None


class JournalIn(Schema):
    """Entries from a device. `device_now`: what it takes the time to be as it sends them. `after`: what it has."""

    device_now: Instant | None = None
    after: int = Field(0, ge=0)
    parcel: str = Field("", max_length=64)
    entries: list[dict[str, Any]] = Field([], max_length=MOST_SENT)


class JournalOut(Schema):
    """What has been taken, what was refused, what others said since, and what moved.

    `last`: the number of the last entry given; ask for what follows it next time.
    """

    now: datetime
    pace: float
    taken: list[str]
    refused: list[journal.Refused]
    entries: list[Entry]
    last: int
    revision: int
    moved: list[MovedOut]


@router.get("/clock", response=NowOut)
def read_now(request: HttpRequest) -> Any:
    """What time it is at the bench."""
    return NowOut(now=CLOCK.now(), pace=CLOCK.pace)


@router.get("/builds/{build_id}/pack", response={200: Pack, 404: Problems})
def read_pack(request: HttpRequest, build_id: str) -> Any:
    """All that a device needs to go on by itself, as things stand."""
    h = kept(build_id)
    packed = pack(h.plan, h.schedule, h.record, h.revision)
    notes: dict[str, list[str]] = {}
    for note in stock_of(build_id):
        notes.setdefault(note.step, []).append(note.words)
    if notes:
        steps = [
            s.model_copy(update={"cautions": [*s.cautions[:1], *notes[s.id], *s.cautions[1:]]}) if s.id in notes else s
            for s in packed.steps
        ]
        packed = packed.model_copy(update={"steps": steps})
    return answer(Pack, packed)


@router.get("/builds/{build_id}/journal", response={200: JournalOut, 404: Problems})
def read_journal(request: HttpRequest, build_id: str, after: int = 0) -> Any:
    """What was said of a build since an entry."""
    build = Build.objects.defer("plan").get(pk=build_id)
    return _told(build.pk, build.revision, after, [], [], [])


@router.post("/builds/{build_id}/journal", response={200: JournalOut, 404: Problems, 422: Problems})
def write_journal(request: HttpRequest, build_id: str, body: JournalIn) -> Any:
    """Takes entries, each once however often it is sent. One that is wrong is refused by itself, with the reason."""
    good, wrong = journal.read(body.entries, build_id)
    good = journal.by_our_clock(good, body.device_now, CLOCK.now())
    moved = said(build_id, good, body.parcel or secrets.token_hex(8))
    build = Build.objects.defer("plan").get(pk=build_id)
    return _told(build.pk, build.revision, body.after, list(dict.fromkeys(e.id for e in good)), wrong, moved)


def _told(
    build_id: str, revision: int, after: int, taken: list[str], wrong: list[journal.Refused], moved: list[MovedOut]
) -> HttpResponse:
    found = journal.numbered(build_id, after)
    out = JournalOut.model_construct(
        now=CLOCK.now(), pace=CLOCK.pace, taken=taken, refused=wrong, entries=[e for _, e in found],
        last=found[-1][0] if found else after, revision=revision, moved=moved,
    )  # fmt: skip
    return answer(JournalOut, out)


def said(build_id: str, entries: list[Entry], parcel: str) -> list[MovedOut]:
    """Adds entries to a journal, and lets record, plan and schedule follow. Gives what moved."""
    now = CLOCK.now()
    new: list[str] = []

    def work(build: Build, plan: Plan) -> None:
        new.extend(journal.take(build.pk, entries, parcel, now))
        if new:
            _follow(build, plan)

    builds.beside(build_id, work)
    states = {e.id for e in entries if e.said in STATE_OF or e.said in (Said.NOT_READY, Said.BACK)}
    if not states & set(new):
        return []
    try:
        return _shifted(build_id)
    except Exception:  # what was said is kept already: a fault of ours in what follows is no reason to say otherwise
        LOG.exception("the schedule of %s did not follow", build_id)
        return []


def _follow(build: Build, plan: Plan) -> None:
    """The record that the journal makes; zones that run out of step get steps of their own, as an edit of the plan."""
    entries = journal.entries(build.pk)
    record = record_of(plan, entries)
    first = min((e.starts_at for e in record.entries), default=None)
    if first is not None and first < plan.build.starts_at:
        begun = first.replace(minute=first.minute // START_ROUNDS_MIN * START_ROUNDS_MIN, second=0, microsecond=0)
        new = plan.build.model_copy(update={"starts_at": begun.astimezone(plan.build.tz)})
        edit = parse_edits([{"edit": "set_build", "build": new.model_dump(mode="json", exclude_unset=True)}])
        plan = builds.keep_edits(build, "It begins when it began", builds.applied(plan, edit))
        builds.keep_plan(build, plan)
    splits, _ = out_of_step(plan, list(record.last().values()))
    if splits:
        plan = builds.keep_edits(build, "Done in some zones only", builds.applied(plan, splits))
        builds.keep_plan(build, plan)
        record = record_of(plan, entries)
    sittings.write_record(build.pk, plan, record)


def _shifted(build_id: str) -> list[MovedOut]:
    """What is still to be done moves where what happened leaves it no room; nobody has to ask for that."""
    h = kept(build_id)
    if h.schedule is None or not h.agenda.stretches:
        return []
    try:
        told = move(h.agenda, h.schedule)
    except (NotThere, PlanError):
        return []
    names = {s.id: s.name for s in h.plan.steps}
    moved: list[MovedStep] = [m for m in told.moved if m.step not in h.agenda.done]
    if moved:
        try:
            keep(build_id, told.schedule, told.unfit, h.revision, h.table_revision, kind="followed")
        except sittings.Stale:
            return []  # somebody else's entry came in between, and moves it again
    return [MovedOut(step=m.step, name=names.get(m.step, ""), before_min=m.before_min, after_min=m.after_min)
            for m in moved]  # fmt: skip


class PictureOut(Schema):
    """A picture that was taken in."""

    id: str
    width: int
    height: int


@router.post("/builds/{build_id}/pictures/{picture_id}", response={200: PictureOut, 404: Problems, 422: Problems})
def put_picture(request: HttpRequest, build_id: str, picture_id: str) -> Any:
    """Takes a picture in: upright, written anew, without place or other metadata. Sent twice, it counts once."""
    Build.objects.defer("plan").get(pk=build_id)
    if not 8 <= len(picture_id) <= 64 or not picture_id.replace("-", "").replace("_", "").isalnum():
        return refused("picture", "its name is none of those that the bench gives")
    no_larger_than(request, pictures.MOST_BYTES)
    try:
        kept_picture = pictures.keep(build_id, picture_id, request.body)
    except pictures.Unfit as error:
        return refused("picture", str(error))
    return PictureOut(id=picture_id, width=kept_picture.width, height=kept_picture.height)


@router.get("/builds/{build_id}/pictures/{picture_id}", response={404: Problems})
def read_picture(request: HttpRequest, build_id: str, picture_id: str, small: bool = False) -> Any:
    """A picture, or a small one of it, as JPEG."""
    found = Picture.objects.filter(build=build_id, picture_id=picture_id)
    body = found.values_list("small" if small else "body", flat=True).first()
    if body is None:
        raise NotThere("picture", picture_id)
    response = HttpResponse(bytes(body), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
