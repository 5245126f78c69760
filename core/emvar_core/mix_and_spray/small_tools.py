"""Small tools that need no plan: cups, cutting, ratios, areas, drops, units. Each gives figures and words."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import Field

from ..errors import NotThere, OutOfRange
from ..knowledge.flow_cups import CUPS, calibrated, calibration_mm2_s, cup_seconds, kinematic_mm2_s
from ..physics import recipes
from ..physics.drops import poured
from ..physics.viscosity import figure_of, like
from ..vocabulary import FlowCup, Model

MISSING = "a figure is missing, or none of the kind that is wanted"
DROPS_ML = (0.04, 0.025)  # of paint and of thinner, where nothing is said (common practice)


class FlowCupOut(Model):
    """A flow cup that is known, with the seconds between which it holds, and its source."""

    id: str
    name: str
    low_s: float
    high_s: float
    source: str


class ToolAnswer(Model):
    """A small tool's answer: figures by name, and a sentence."""

    values: dict[str, float]
    words: str


class ToolIn(Model):
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
    temp_c: float = Field(20, ge=5, le=40)
    unit: str = Field("", max_length=20)
    amount: float | None = Field(None, ge=-1e6, le=1e6)
    length_cm: float | None = Field(None, gt=0, le=1e4)
    width_cm: float | None = Field(None, gt=0, le=1e4)
    height_cm: float | None = Field(None, gt=0, le=1e4)
    diameter_cm: float | None = Field(None, gt=0, le=1e4)
    solids_pct: float | None = Field(None, gt=0, le=100)
    film_um: float | None = Field(None, gt=0, le=1e4)


def flow_cups() -> list[FlowCupOut]:
    """The flow cups that are known, with the seconds between which each holds."""
    return [FlowCupOut(id=c.value, name=f.name, low_s=f.low, high_s=f.high, source=f.source) for c, f in CUPS.items()]


def tool(name: str, asked: ToolIn) -> ToolAnswer:
    """One of the small tools by name.

    Raises NotThere for a tool that is not there, OutOfRange and Impossible for figures that it cannot work with.
    """
    work = TOOLS.get(name)
    if work is None:
        raise NotThere("tool", name)
    values, words = work(asked)
    return ToolAnswer(values=values, words=words)


Answer = tuple[dict[str, float], str]


def _given(*figures: float | None) -> list[float]:
    """The figures that a tool needs. Raises OutOfRange where one is missing."""
    if any(f is None for f in figures):
        raise OutOfRange(MISSING)
    return [float(f) for f in figures if f is not None]


def _cup(q: ToolIn) -> Answer:
    if q.cup not in {c.value for c in CUPS}:
        raise OutOfRange(f"there is no flow cup '{q.cup[:30]}'; known: {', '.join(c.value for c in CUPS)}")
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
    water, syrup, _ = calibration_mm2_s(q.temp_c)
    drip = calibrated([(water_s, water), (syrup_s, syrup)])
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
    s = poured([paint, thinner], list(DROPS_ML), need_ml=ml)
    values = {"paint_drops": float(s.drops[0]), "thinner_drops": float(s.drops[1]), "error_pct": s.error_pct}
    return (
        values,
        f"{s.drops[0]} drops to {s.drops[1]}: {s.ml[0] + s.ml[1]:.2f} mL, the ratio off by {s.error_pct:g} %."
        + (f" {s.helps}" if s.helps else ""),
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
        raise OutOfRange(f"there is no unit '{q.unit[:20]}'; known: {', '.join(UNITS)}")
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


TOOLS: dict[str, Callable[[ToolIn], Answer]] = {
    "cup": _cup, "word": _word, "drip": _drip, "cut": _cut, "combine": _combine, "ratio": _ratio, "mark": _mark,
    "area": _area, "drops": _drops, "units": _units, "shape": _shape, "coverage": _coverage,
}  # fmt: skip
