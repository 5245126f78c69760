"""The API of the bench: cards, small tools without a plan, and the simulated instruments."""

from __future__ import annotations

from typing import Any

from builds.answers import Problems, plan_of, refused, told
from django.http import HttpRequest
from emvar_core.card import Card, Need, Setting, card, in_hand, needs
from emvar_core.flow_cups import (
    CALIBRATION_MM2_S,
    CUPS,
    FlowCup,
    OutOfRange,
    calibrated,
    cup_seconds,
    kinematic_mm2_s,
)
from emvar_core.mixing import recipes
from emvar_core.mixing.viscosity import figure_of, like
from emvar_core.plan import GunKit, Kit, Method
from ninja import Query, Router, Schema
from pydantic import Field

from .instruments import BENCH, NotSettable, describe

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


class FlowCupOut(Schema):
    id: str
    name: str
    low_s: float
    high_s: float
    source: str


class Told(Schema):
    """A small tool's answer: figures by name, and a sentence."""

    values: dict[str, float]
    words: str


class ToolIn(Schema):
    """What the small tools take; each uses its own."""

    cup: str = ""
    seconds: float | None = Field(None, gt=0, le=1000)
    mm2_s: float | None = Field(None, gt=0, le=1e5)
    word: str = Field("", max_length=40)
    ml: float | None = Field(None, gt=0, le=1e4)
    strength_pct: float | None = Field(None, gt=0, le=100)
    target_pct: float | None = Field(None, gt=0, le=100)
    weak_pct: float | None = Field(None, ge=0, le=100)
    paint: float | None = Field(None, gt=0, le=1e4)
    thinner: float | None = Field(None, ge=0, le=1e4)
    mm: float | None = Field(None, gt=0, le=1e4)
    scale: int | None = Field(None, ge=1, le=2000)
    length_m: float | None = Field(None, gt=0, le=1e4)
    beam_m: float | None = Field(None, gt=0, le=1e4)
    height_m: float | None = Field(None, gt=0, le=1e4)
    fill: float = Field(0.75, gt=0, le=3)
    drops: int | None = Field(None, ge=1, le=1000)
    water_s: float | None = Field(None, gt=0, le=1000)
    syrup_s: float | None = Field(None, gt=0, le=1000)
    unit: str = Field("", max_length=20)
    amount: float | None = Field(None, ge=-1e6, le=1e6)
    length_cm: float | None = Field(None, gt=0, le=1e4)
    width_cm: float | None = Field(None, gt=0, le=1e4)
    height_cm: float | None = Field(None, gt=0, le=1e4)
    diameter_cm: float | None = Field(None, gt=0, le=1e4)
    solids_pct: float | None = Field(None, gt=0, le=100)
    film_um: float | None = Field(None, gt=0, le=1e4)


@router.get("/builds/{build_id}/card/{step_id}", response={200: Card, 404: Problems, 422: Problems})
def read_card(request: HttpRequest, build_id: str, step_id: str, q: Query[Setting]) -> Any:
    """The bench card of a coat, at the setting that the gun is held at."""
    plan = plan_of(build_id)
    return told(Card, lambda: card(plan, step_id, q), "coat")


class InHand(Schema):
    """A paint in hand: its material, parts of thinner to one of paint, the area and the film that is wanted."""

    material: str = Field(max_length=60)
    parts: float | None = Field(None, ge=0, le=100)
    area_cm2: float = Field(100, gt=0, le=100_000)
    film_um: float | None = Field(None, gt=0, le=1000)
    method: Method | None = None
    nozzle_mm: float = Field(0.3, ge=0.15, le=0.8)


@router.get("/in-hand", response={200: Card, 404: Problems, 422: Problems})
def read_in_hand(request: HttpRequest, hand: Query[InHand], q: Query[Setting]) -> Any:
    """The bench card of a paint without any plan."""
    kit = Kit(guns=[GunKit(id="gun", name="Airbrush", nozzle_mm=hand.nozzle_mm)])

    def work() -> Card:
        return card(in_hand(hand.material, hand.parts, hand.area_cm2, hand.film_um, hand.method, kit), "coat", q)

    return told(Card, work, "material")


@router.get("/builds/{build_id}/needs", response=list[Need])
def read_needs(request: HttpRequest, build_id: str) -> Any:
    """Paint and thinner for the whole build."""
    plan = plan_of(build_id)
    return told(list[Need], lambda: needs(plan), "build")


@router.get("/instruments", response=list[InstrumentOut])
def read_instruments(request: HttpRequest) -> Any:
    return [describe(key, i, r) for key, (i, r) in BENCH.read_all().items()]


@router.post("/instruments/{key}", response={200: list[InstrumentOut], 404: Problems, 422: Problems})
def set_instrument(request: HttpRequest, key: str, body: ControlIn) -> Any:
    """Turns a knob of a simulated instrument, or makes it misbehave."""
    try:
        BENCH.set(key, body.field, body.value)
    except KeyError:
        return refused("instrument", "there is no such instrument on this bench", 404)
    except NotSettable as error:
        return refused("control", str(error))
    return read_instruments(request)


@router.get("/tools/cups", response=list[FlowCupOut])
def flow_cups(request: HttpRequest) -> Any:
    """The flow cups that are known, with the seconds between which each holds."""
    return [FlowCupOut(id=c.value, name=f.name, low_s=f.low, high_s=f.high, source=f.source) for c, f in CUPS.items()]


@router.get("/tools/{tool}", response={200: Told, 404: Problems, 422: Problems})
def small_tool(request: HttpRequest, tool: str, q: Query[ToolIn]) -> Any:
    """One of the small tools that need no plan."""
    work = TOOLS.get(tool)
    if work is None:
        return refused("tool", f"there is no such tool; known: {', '.join(TOOLS)}", 404)
    try:
        values, words = work(q)
    except (OutOfRange, recipes.Impossible) as error:
        return refused(tool, str(error))
    except (TypeError, ValueError):
        return refused(tool, "a figure is missing, or none of the kind that is wanted")
    return Told(values=values, words=words)


Answer = tuple[dict[str, float], str]


def _given(*figures: float | None) -> list[float]:
    """The figures that a tool needs. Raises ValueError where one is missing."""
    if any(f is None for f in figures):
        raise ValueError("missing")
    return [float(f) for f in figures if f is not None]


def _cup(q: ToolIn) -> Answer:
    cup = FlowCup(q.cup)
    if q.seconds is not None:
        nu = kinematic_mm2_s(cup, q.seconds)
        return {"mm2_s": round(nu, 2)}, f"{q.seconds:g} s is {nu:.3g} mm²/s: like {like(nu)}."
    (nu,) = _given(q.mm2_s)
    seconds = cup_seconds(cup, nu)
    return {"seconds": round(seconds, 1)}, f"{nu:g} mm²/s takes {seconds:.0f} s."


def _word(q: ToolIn) -> Answer:
    low, high = figure_of(q.word)
    return {"low_mpas": low, "high_mpas": high}, f"“{q.word}” is about {low:g} to {high:g} mPa·s."


def _drip(q: ToolIn) -> Answer:
    water_s, syrup_s = _given(q.water_s, q.syrup_s)
    drip = calibrated([(water_s, CALIBRATION_MM2_S[0]), (syrup_s, CALIBRATION_MM2_S[1])])
    if q.seconds is None:
        return {"a": round(drip.a, 4), "b": round(drip.b, 4)}, f"ν = {drip.a:.3g}·t − {drip.b:.3g}/t."
    nu = drip.kinematic_mm2_s(q.seconds)
    return {"mm2_s": round(nu, 2)}, f"{q.seconds:g} s in your cup is {nu:.3g} mm²/s: like {like(nu)}."


def _cut(q: ToolIn) -> Answer:
    ml, strength, target = _given(q.ml, q.strength_pct, q.target_pct)
    water = recipes.cut_with_water(ml, strength / 100, target / 100)
    return {"water_ml": round(water, 2)}, f"Add {water:.1f} mL of water to {ml:g} mL; it shrinks by 2 to 4 %."


def _combine(q: ToolIn) -> Answer:
    given = _given(q.weak_pct, q.strength_pct, q.target_pct)
    weak, strong = recipes.combined(given[0] / 100, given[1] / 100, given[2] / 100)
    return {"weak": round(weak, 4), "strong": round(strong, 4)}, f"{weak:.0%} of the weak, {strong:.0%} of the strong."


def _ratio(q: ToolIn) -> Answer:
    paint, thinner, ml = _given(q.paint, q.thinner, q.ml)
    s = recipes.scaled([paint, thinner], [0.04, 0.025], ml)
    values = {"paint_drops": float(s.drops[0]), "thinner_drops": float(s.drops[1]), "error_pct": s.error_pct}
    return (
        values,
        f"{s.drops[0]} drops to {s.drops[1]}: {s.ml[0] + s.ml[1]:.2f} mL, the ratio off by {s.error_pct:g} %.",
    )


def _mark(q: ToolIn) -> Answer:
    mm, scale = _given(q.mm, q.scale)
    real = recipes.true_size_mm(mm, int(scale))
    return {"real_mm": round(real, 2)}, f"{mm:g} mm at 1:{scale:.0f} is {real:.3g} mm on the real thing."


def _area(q: ToolIn) -> Answer:
    length, beam, height, scale = _given(q.length_m, q.beam_m, q.height_m, q.scale)
    area = recipes.model_area_cm2(length, beam, height, int(scale), q.fill)
    return {"area_cm2": round(area, 1)}, f"About {area:.0f} cm² to paint at 1:{scale:.0f}."


def _drops(q: ToolIn) -> Answer:
    drops, ml = _given(q.drops, q.ml)
    size = recipes.counted_drop_ml(int(drops), ml)
    return {"drop_ml": round(size, 4)}, f"A drop is {size:.3f} mL: {1 / size:.0f} to the millilitre."


# Exact by definition (SI brochure; international inch and pound), but the degree Fahrenheit's offset.
UNITS: dict[str, tuple[float, float, str]] = {
    "bar": (14.503774, 0.0, "psi"),
    "psi": (0.06894757, 0.0, "bar"),
    "°C": (1.8, 32.0, "°F"),
    "°F": (1 / 1.8, -32 / 1.8, "°C"),
    "mm": (1 / 25.4, 0.0, "in"),
    "in": (25.4, 0.0, "mm"),
    "µm": (1 / 25.4, 0.0, "mil"),
    "mil": (25.4, 0.0, "µm"),
    "mL": (1 / 29.5735296, 0.0, "US fl oz"),
    "US fl oz": (29.5735296, 0.0, "mL"),
}


def _units(q: ToolIn) -> Answer:
    (amount,) = _given(q.amount)
    if q.unit not in UNITS:
        raise ValueError(q.unit)
    factor, offset, other = UNITS[q.unit]
    value = amount * factor + offset
    return {"value": round(value, 5)}, f"{amount:g} {q.unit} is {value:.4g} {other}."


def _shape(q: ToolIn) -> Answer:
    if q.diameter_cm is not None:
        diameter, length = _given(q.diameter_cm, q.length_cm)
        area = recipes.cylinder_cm2(diameter, length)
        return {"area_cm2": round(area, 1)}, f"{area:.0f} cm² with both ends."
    length, width, height = _given(q.length_cm, q.width_cm, q.height_cm)
    area = recipes.box_cm2(length, width, height)
    return {"area_cm2": round(area, 1)}, f"{area:.0f} cm² over all six faces."


def _coverage(q: ToolIn) -> Answer:
    ml, solids, film = _given(q.ml, q.solids_pct, q.film_um)
    area = ml * solids / 100 / film * 1e4
    return {"area_cm2": round(area, 1)}, f"{area:.0f} cm² if all of it lands; half of that from an airbrush."


TOOLS = {
    "cup": _cup, "word": _word, "drip": _drip, "cut": _cut, "combine": _combine, "ratio": _ratio, "mark": _mark,
    "area": _area, "drops": _drops, "units": _units, "shape": _shape, "coverage": _coverage,
}  # fmt: skip
