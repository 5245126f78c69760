"""How a build begins, and how it looks from afar: outlines, copies, and each build as a small rack for the list."""

from __future__ import annotations

from functools import partial
from typing import Any

from builds import store
from builds.models import Build
from django.http import HttpRequest
from django.utils import timezone
from emvar_core.errors import NotThere
from emvar_core.judging import Assessment
from emvar_core.plan import CoatStep, Plan, at, minutes_since_start, parse, parse_plan
from emvar_core.vocabulary import Verdict
from emvar_core.ways.begin import Beginning, begun, outlines
from ninja import Router, Schema
from pydantic import Field

from .answers import Problems, answer
from .builds import BuildOut, _whole
from .builds_at_times import clock_of, judged

router = Router()
MOST_JUDGED = 400  # steps, up to which a build is judged for the list of builds
MOST_ZONES = 12  # drawn of a build in the list


class SmallCoat(Schema):
    """A coat of a small core: its colour and its dry film, µm."""

    colour: str
    film_um: float


class SmallCore(Schema):
    """A zone as a small core, and its gravest verdict."""

    zone: str
    coats: list[SmallCoat]
    worst: Verdict


class NextEvent(Schema):
    """What begins next by the chosen clock, and when."""

    step: str
    starts_at: str
    done: int


class Glance(Schema):
    """A build from afar. `counts`: stories by verdict; none where it was not judged, being long."""

    cores: list[SmallCore]
    more_zones: int
    counts: dict[Verdict, int] | None
    worst: str | None
    next: NextEvent | None
    end_at: str | None


class OutlineRow(Schema):
    """An outline: what it is for, its zones, how it looks."""

    id: str
    name: str
    words: str
    own: bool
    scale: int
    base_material: str
    zones: list[dict[str, Any]]
    steps: int
    cores: list[SmallCore]


class From(Schema):
    """What a build begins from: an outline, or a copy of another build; neither: nothing."""

    outline: str | None = None
    build: str | None = None


class BeginIn(Schema):
    command_id: str = Field(min_length=8, max_length=64)
    beginning: dict[str, Any]
    source: From = From()


class OutlineIn(Schema):
    command_id: str = Field(min_length=8, max_length=64)
    name: str = Field(min_length=1, max_length=120)


def _cores(plan: Plan, a: Assessment | None) -> list[SmallCore]:
    gravity = list(Verdict)
    worst: dict[str, Verdict] = {}
    for seam in a.seams.values() if a else ():
        held = worst.get(seam.zone_id, Verdict.SOUND)
        worst[seam.zone_id] = max(held, seam.verdict, key=gravity.index)
    cores = []
    for zone in plan.zones[:MOST_ZONES]:
        coats = []
        for step in plan.steps:
            if not isinstance(step, CoatStep) or zone.id not in step.zones:
                continue
            coat = a.coats.get(f"{step.id}~{zone.id}") if a else None
            colour = coat.colour if coat else (step.colour.srgb if step.colour else "#999999")
            coats.append(SmallCoat(colour=colour, film_um=coat.film_um if coat else 10.0))
        cores.append(SmallCore(zone=zone.name, coats=coats, worst=worst.get(zone.id, Verdict.SOUND)))
    return cores


def glance_of(build: Build) -> Glance:
    """A build from afar, by its chosen clock, at this moment."""
    plan = store.plan_of(build)
    if len(plan.steps) > MOST_JUDGED:
        cores = _cores(plan, None)
        return Glance(
            cores=cores,
            more_zones=max(len(plan.zones) - MOST_ZONES, 0),
            counts=None,
            worst=None,
            next=None,
            end_at=None,
        )
    shown = judged(build.pk, plan, clock_of(build))
    a = store.assessed(shown)
    names = {s.id: s.name for s in plan.steps}
    now = minutes_since_start(plan, timezone.now())
    starts = sorted((t.start_min, i) for i, t in a.times.items())
    coming = next(((m, i) for m, i in starts if m > now), None)
    counts = {v: sum(s.verdict is v for s in a.stories) for v in (Verdict.CLASH, Verdict.WAIT, Verdict.CAUTION)}
    gravest = a.stories[0] if a.stories else None
    return Glance(
        cores=_cores(plan, a),
        more_zones=max(len(plan.zones) - MOST_ZONES, 0),
        counts=counts,
        worst=f"{names[gravest.upper_step]}: {gravest.word}" if gravest else None,
        next=NextEvent(
            step=names[coming[1]],
            starts_at=_instant(plan, coming[0]),
            done=sum(m <= now for m, _ in starts),
        )
        if coming
        else None,
        end_at=_instant(plan, a.end_min) if plan.steps else None,
    )


def _instant(plan: Plan, minute: float) -> str:
    return at(plan, minute).isoformat()


@router.get("/builds/{build_id}/glance", response={200: Glance, 404: Problems})
def glance(request: HttpRequest, build_id: str) -> Any:
    """A build as a small rack, with what is wrong and what comes next."""
    return answer(Glance, glance_of(Build.objects.get(pk=build_id)))


@router.get("/outlines", response=list[OutlineRow])
def list_outlines(request: HttpRequest) -> Any:
    """What a build can begin from: the outlines that ship, then one's own."""
    shipped = [_row(o.id, o.name, o.words, False, o.plan) for o in outlines()]
    own = [
        _row(b.pk, b.name, store.plan_of(b).build.note, True, store.plan_of(b))
        for b in Build.objects.filter(outline=True)
    ]
    return [*shipped, *own]


def _row(outline_id: str, name: str, words: str, own: bool, plan: Plan) -> OutlineRow:
    return OutlineRow(
        id=outline_id,
        name=name,
        words=words,
        own=own,
        scale=plan.build.scale,
        base_material=plan.build.base_material,
        zones=[z.model_dump(mode="json") for z in plan.zones],
        steps=len(plan.steps),
        cores=_cores(plan, store.assessed(plan) if len(plan.steps) <= MOST_JUDGED else None),
    )


def _source(wanted: From) -> Plan | None:
    if wanted.build is not None:
        return store.plan_of(Build.objects.get(pk=wanted.build))
    if wanted.outline is None:
        return None
    shipped = next((o.plan for o in outlines() if o.id == wanted.outline), None)
    if shipped is not None:
        return shipped
    own = Build.objects.filter(outline=True, pk=wanted.outline).first()
    if own is None:
        raise NotThere("outline", wanted.outline)
    return store.plan_of(own)


@router.post("/begin", response={201: BuildOut, 208: BuildOut, 404: Problems, 422: Problems})
def begin(request: HttpRequest, body: BeginIn) -> Any:
    """Begins a build on zones of its own, from nothing, an outline or another build. Sent twice, it counts once."""
    plan = begun(parse(Beginning, body.beginning), _source(body.source))
    store.assessed(plan)
    build, new = store.opened_once(body.command_id, partial(store.create, plan))
    return _whole(request, build, 201 if new else 208)


@router.post("/builds/{build_id}/outline", response={201: OutlineRow, 208: OutlineRow, 404: Problems})
def save_outline(request: HttpRequest, build_id: str, body: OutlineIn) -> Any:
    """Keeps the steps of a build as an outline of one's own."""
    plan = store.plan_of(Build.objects.get(pk=build_id))
    data = store.plan_json(plan)
    data["build"] = {**data["build"], "name": body.name}
    named = parse_plan(data)
    build, new = store.opened_once(body.command_id, partial(store.create, named, None, True))
    return answer(OutlineRow, _row(build.pk, build.name, "", True, store.plan_of(build)), 201 if new else 208)


@router.get("/builds/{build_id}/zones", response={200: list[dict[str, Any]], 404: Problems})
def zones_of(request: HttpRequest, build_id: str) -> Any:
    """The zones of a build that a copy begins from."""
    return [z.model_dump(mode="json") for z in store.plan_of(Build.objects.get(pk=build_id)).zones]
