"""The API of the bench: cards, small tools without a plan, and the simulated instruments."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from emvar_core.mix_and_spray.card import Card, card
from emvar_core.mix_and_spray.gun_card import Setting
from emvar_core.mix_and_spray.hand_card import by_hand
from emvar_core.mix_and_spray.instruments import BENCH, describe
from emvar_core.mix_and_spray.needs import Need, needs
from emvar_core.mix_and_spray.small_tools import FlowCupOut, ToolAnswer, ToolIn, flow_cups, tool
from emvar_core.mix_and_spray.without_plan import STEP, in_hand
from emvar_core.plan import GunKit, Kit, known_to
from emvar_core.vocabulary import Method
from ninja import Query, Router, Schema
from pydantic import Field

from .answers import Problems, answer
from .builds_at_times import plan_of, plan_shown

router = Router()


class InstrumentOut(Schema):
    id: str
    name: str
    values: dict[str, float]
    trusted: bool
    words: str
    fault: str
    faults: list[str]


class ControlIn(Schema):
    field: str = Field(max_length=40)
    value: float | str


@router.get("/builds/{build_id}/card/{step_id}", response={200: Card, 404: Problems, 422: Problems})
def read_card(request: HttpRequest, build_id: str, step_id: str, q: Query[Setting]) -> Any:
    """The bench card of a coat, at the setting that the gun is held at, by the clock that was chosen for the build."""
    shown = plan_shown(build_id)
    return answer(Card, card(shown if shown.step(step_id) is not None else plan_of(build_id), step_id, q))


@router.get("/builds/{build_id}/by-hand", response={200: dict[str, str], 404: Problems})
def read_by_hand(request: HttpRequest, build_id: str) -> Any:
    """How each working step of a build is done: tool, load, stroke, press, in a line."""
    plan = plan_of(build_id)
    k = known_to(plan)
    return {s.id: hand.sentences for s in plan.steps if s.kind == "working" and (hand := by_hand(k, s)) is not None}


class InHand(Schema):
    """A paint in hand: its material, parts of thinner to one of paint, the area and the film that is wanted."""

    material: str = Field(max_length=60)
    parts: float | None = Field(None, ge=0, le=100)
    area_cm2: float = Field(100, gt=0, le=100_000)
    film_um: float | None = Field(None, gt=0, le=1000)
    method: Method | None = None
    nozzle_mm: float = Field(0.3, ge=0.15, le=0.8)


@router.get("/card", response={200: Card, 404: Problems, 422: Problems})
def read_in_hand(request: HttpRequest, hand: Query[InHand], q: Query[Setting]) -> Any:
    """The bench card of a paint without any plan."""
    kit = Kit(guns=[GunKit(id="gun", name="Airbrush", nozzle_mm=hand.nozzle_mm)])
    made = in_hand(hand.material, hand.parts, hand.area_cm2, hand.film_um, hand.method, kit)
    return answer(Card, card(made, STEP, q))


@router.get("/builds/{build_id}/needs", response=list[Need])
def read_needs(request: HttpRequest, build_id: str) -> Any:
    """Paint and thinner for the whole build."""
    return answer(list[Need], needs(plan_of(build_id)))


@router.get("/instruments", response=list[InstrumentOut])
def read_instruments(request: HttpRequest) -> Any:
    return [describe(key, i, r) for key, (i, r) in BENCH.read_all().items()]


@router.post("/instruments/{key}", response={200: list[InstrumentOut], 404: Problems, 422: Problems})
def set_instrument(request: HttpRequest, key: str, body: ControlIn) -> Any:
    """Turns a knob of a simulated instrument, or makes it misbehave."""
    BENCH.set(key, body.field, body.value)
    return read_instruments(request)


@router.get("/tools/cups", response=list[FlowCupOut])
def read_flow_cups(request: HttpRequest) -> Any:
    """The flow cups that are known, with the seconds between which each holds."""
    return flow_cups()


@router.get("/tools/{name}", response={200: ToolAnswer, 404: Problems, 422: Problems})
def small_tool(request: HttpRequest, name: str, q: Query[ToolIn]) -> Any:
    """One of the small tools that need no plan."""
    return answer(ToolAnswer, tool(name, q))
