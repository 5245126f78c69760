"""The open plan format, version 1.

These models *are* the format: what validates here is a plan, and `docs/plan.schema.json` is written from
them. Units are fixed by field names (`film_um`, `wait_min`, `temp_c`), so a wrong unit is an unknown field
and is refused by name. Everything is frozen; edits make new plans (see `edits.py`).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Annotated, Any, Literal, cast
from zoneinfo import ZoneInfo, available_timezones

from pydantic import (
    AfterValidator,
    AwareDatetime,
    Discriminator,
    Field,
    StringConstraints,
    Tag,
    TypeAdapter,
    ValidationError,
    model_validator,
)

from .flow_cups import CALIBRATION_MM2_S, CUPS, DripCup, FlowCup, calibrated, kinematic_mm2_s
from .sittings.hours import Hours
from .values import (
    Clock,
    Film,
    Id,
    Minutes,
    Model,
    Name,
    PlanError,
    Problem,
    Share,
    Srgb,
    Text,
    when_words,
)

FORMAT = "emvar-plan"
VERSION = 1
MAX_STEPS = 2000
MAX_ZONES = 64


class Sheen(StrEnum):
    GLOSS = "gloss"
    SATIN = "satin"
    MATT = "matt"


class Movement(StrEnum):
    STILL = "still"
    DRAUGHT = "draught"
    FAN = "fan"


class Air(Model):
    """Bench air: what dries where. Relative humidity in percent."""

    temp_c: Annotated[float, Field(ge=-10, le=60)] = 20.0
    rh_pct: Annotated[float, Field(ge=0, le=100)] = 50.0
    movement: Movement = Movement.STILL


class AirSpan(Model):
    """A dated stretch whose air replaces day and night air."""

    start: AwareDatetime
    end: AwareDatetime
    air: Air

    @model_validator(mode="after")
    def _ordered(self) -> AirSpan:
        if self.end <= self.start:
            raise ValueError("end must be after start")
        return self


class BenchAir(Model):
    day: Air = Air()
    night: Air | None = None
    night_from: Clock = "22:00"
    night_to: Clock = "07:00"
    spans: Annotated[list[AirSpan], Field(max_length=200)] = []


class AidKind(StrEnum):
    FAN = "fan"
    WARM_AIR = "warm_air"
    CABINET = "cabinet"


class Aid(Model):
    """Something that hurries drying after a step, for a while. Temperature is the one at the part."""

    kind: AidKind
    duration_min: Minutes
    temp_c: Annotated[float, Field(ge=0, le=80)] | None = None


class Role(StrEnum):
    PAINT = "paint"
    THINNER = "thinner"
    RETARDER = "retarder"
    FLOW_IMPROVER = "flow_improver"
    PIGMENT = "pigment"
    BINDER = "binder"


class Unit(StrEnum):
    PARTS = "parts"
    PERCENT = "percent"
    DROPS = "drops"
    ML = "ml"
    GRAMS = "g"


class MixPart(Model):
    material: Id
    role: Role
    amount: Annotated[float, Field(gt=0, le=100000)]
    unit: Unit = Unit.PARTS


class Mix(Model):
    """What is in the cup. All parts in one unit; the thinner is a part like any other."""

    parts: Annotated[list[MixPart], Field(min_length=1, max_length=12)]

    @model_validator(mode="after")
    def _one_unit(self) -> Mix:
        if len({part.unit for part in self.parts}) > 1:
            raise ValueError("all parts of a mix must be in the same unit (parts, percent, drops, ml or g)")
        if self.parts[0].unit is Unit.PERCENT and abs(sum(p.amount for p in self.parts) - 100) > 0.5:
            raise ValueError(f"percent must add up to 100, not {sum(p.amount for p in self.parts):g}")
        return self


class Colour(Model):
    """A colour as it looks dry. `spectrum`: reflectance 0–1 from 380 to 730 nm in steps of 10 nm."""

    srgb: Srgb
    spectrum: Annotated[list[Share], Field(min_length=36, max_length=36)] | None = None


class Method(StrEnum):
    """How a coat or carrier gets onto the model; drives how wet it is, how long and how much it rubs."""

    MIST = "mist"
    SPRAY = "spray"
    WET_SPRAY = "wet_spray"
    CAN = "can"
    BRUSH = "brush"
    SPONGE = "sponge"
    DRY_BRUSH = "dry_brush"
    WASH = "wash"
    FLOOD = "flood"
    SPECKLE = "speckle"
    DUST = "dust"
    PLACE = "place"
    DAMP_WIPE = "damp_wipe"
    WET_WIPE = "wet_wipe"
    SCRUB = "scrub"
    DRY_TOOL = "dry_tool"


class WorkAction(StrEnum):
    WIPE = "wipe"
    BLEND = "blend"
    STREAK = "streak"
    CHIP = "chip"
    SCRAPE = "scrape"


class FittingAction(StrEnum):
    MASK = "mask"
    UNMASK = "unmask"
    HANDLE = "handle"
    GLUE = "glue"
    REMOVE = "remove"
    FIT = "fit"
    INSPECT = "inspect"


class Measured(Model):
    """What was measured of the mix in the cup; it wins over what is computed.

    Viscosity in mPa·s, or a flow cup (its id) and its seconds; grams of paint and thinner as weighed.
    """

    viscosity_mpas: Annotated[float, Field(gt=0.2, le=100_000)] | None = None
    flow_cup: FlowCup | None = None
    flow_cup_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    paint_g: Annotated[float, Field(gt=0, le=1000)] | None = None
    thinner_g: Annotated[float, Field(ge=0, le=1000)] | None = None
    drops_per_ml: Annotated[float, Field(gt=2, le=200)] | None = None

    @model_validator(mode="after")
    def _cup_in_range(self) -> Measured:
        if self.flow_cup in CUPS and self.flow_cup_s is not None:
            kinematic_mm2_s(self.flow_cup, self.flow_cup_s)
        return self


class DripKit(Model):
    """A home-made drip cup, by how long water and sugar syrups of 40 and 50 % by weight take at 20 °C."""

    water_s: Annotated[float, Field(gt=0, le=1000)]
    syrup_40_s: Annotated[float, Field(gt=0, le=1000)]
    syrup_50_s: Annotated[float, Field(gt=0, le=1000)] | None = None

    @model_validator(mode="after")
    def _fits(self) -> DripKit:
        self.cup()
        return self

    def cup(self) -> DripCup:
        """The cup's formula. Raises OutOfRange where the times make no cup."""
        times = zip((self.water_s, self.syrup_40_s, self.syrup_50_s), CALIBRATION_MM2_S, strict=True)
        return calibrated([(t, nu) for t, nu in times if t is not None])


class GunKit(Model):
    """An airbrush of one's own. `flow_ml_min`: a timed cup at 1 bar with the trigger open wins over the nozzle."""

    id: Id
    name: Name
    nozzle_mm: Annotated[float, Field(ge=0.15, le=0.8)] = 0.3
    external_mix: bool = False
    flow_ml_min: Annotated[float, Field(gt=0.01, le=60)] | None = None


class Kit(Model):
    """What there is to spray with: airbrushes, what the compressor reaches (kPa gauge), the bench's height."""

    guns: Annotated[list[GunKit], Field(min_length=1, max_length=20)] = [GunKit(id="gun", name="Airbrush, 0.3 mm")]
    most_kpa: Annotated[float, Field(ge=20, le=1000)] = 250
    hose_loss_kpa: Annotated[float, Field(ge=0, le=100)] = 0
    altitude_m: Annotated[float, Field(ge=-400, le=5000)] = 0
    drip_cup: DripKit | None = None


class StepBase(Model):
    id: Id
    name: Name
    zones: Annotated[list[Id], Field(min_length=1, max_length=MAX_ZONES)]
    technique: Id | None = None
    wait_min: Minutes = 0
    hands_on_min: Minutes = 10
    fixed_start: AwareDatetime | None = None
    aids: Annotated[list[Aid], Field(max_length=8)] = []
    recipe_of: Id | None = None
    needs_part_off: bool = False
    note: Text = ""

    def model_post_init(self, _: Any) -> None:
        # A step is told by its kind, so the kind is always written, also where it was left to the class.
        self.model_fields_set.add("kind")


class PigmentSpeed(StrEnum):
    """How the pigment of an oil or enamel dries it: umbers fast; titanium white, cadmiums and blacks slow."""

    FAST = "fast"
    USUAL = "usual"
    SLOW = "slow"


class CoatStep(StepBase):
    """Adds material to each of its zones. What is left out is the material's usual."""

    kind: Literal["coat"] = "coat"
    material: Id
    method: Method | None = None
    mix: Mix | None = None
    passes: Annotated[int, Field(ge=1, le=30)] | None = None
    dry_film_um: Film | None = None
    colour: Colour | None = None
    sheen: Sheen | None = None
    coverage: Annotated[float, Field(gt=0, le=1)] | None = None
    coverage_by_zone: dict[Id, Annotated[float, Field(gt=0, le=1)]] = {}
    measured: Measured | None = None
    pigment_dries: PigmentSpeed | None = None


class WorkingStep(StepBase):
    """Acts on a coat while it can still be worked."""

    kind: Literal["working"] = "working"
    action: WorkAction
    acts_on: Id
    carrier: Id | None = None
    method: Method = Method.DAMP_WIPE
    leaves: Share = 0.35


class FittingStep(StepBase):
    """Masks, unmasks, handles, glues, removes, fits or inspects. `material`: the tape, mask or glue.

    `closes`: zones that can no longer be reached once this is done; a later `remove` in this zone opens them again.
    """

    kind: Literal["fitting"] = "fitting"
    action: FittingAction
    material: Id | None = None
    closes: Annotated[list[Id], Field(max_length=MAX_ZONES)] = []


AnyStep = CoatStep | WorkingStep | FittingStep
Step = Annotated[AnyStep, Field(discriminator="kind")]
_STEP: TypeAdapter[AnyStep] = TypeAdapter(cast(Any, Step))


class Zone(Model):
    id: Id
    name: Name
    area_cm2: Annotated[float, Field(gt=0, le=1_000_000)]
    base_material: Id | None = None


def _known_timezone(name: str) -> str:
    if name not in available_timezones():
        raise ValueError(f"'{name[:60]}' is not a time zone; use a name such as Europe/Lisbon or UTC")
    return name


class Build(Model):
    name: Name
    scale: Annotated[int, Field(ge=1, le=2000)]
    base_material: Id = "polystyrene"
    starts_at: AwareDatetime
    timezone: Annotated[str, AfterValidator(_known_timezone)] = "UTC"
    note: Text = ""

    @property
    def tz(self) -> ZoneInfo:
        return ZoneInfo(self.timezone)


class School(StrEnum):
    """The pairs of schools of the trade. A plan names the side it takes; an absent pair is undecided."""

    CLEAR_BEFORE_DECALS = "clear_before_decals"
    SEALING = "sealing"
    CHIPPING = "chipping"
    FILTER = "filter"
    PIGMENT = "pigment"
    CHIP_ORDER = "chip_order"
    RUST_AND_DIRT = "rust_and_dirt"
    ASSEMBLY = "assembly"


SCHOOL_SIDES: dict[School, tuple[str, str]] = {
    School.CLEAR_BEFORE_DECALS: ("gloss_first", "straight_on"),
    School.SEALING: ("seal_between", "let_it_harden"),
    School.CHIPPING: ("hairspray", "chipping_medium"),
    School.FILTER: ("filter_first", "fade_with_dots"),
    School.PIGMENT: ("loose", "bound"),
    School.CHIP_ORDER: ("light_then_dark", "by_removal"),
    School.RUST_AND_DIRT: ("rust_under_dirt", "rust_last"),
    School.ASSEMBLY: ("assemble_then_paint", "fit_late"),
}


Percent = Annotated[dict[str, Annotated[float, Field(gt=0, le=100)]], Field(min_length=1, max_length=20)]


def _adds_up(percent: dict[str, float] | None) -> dict[str, float] | None:
    if percent is not None and abs(sum(percent.values()) - 100) > 1:
        raise ValueError(f"percent must add up to 100, not {sum(percent.values()):g}")
    return percent


class OwnThinner(Model):
    """A thinner of one's own, by the composition on its data sheet: percent by volume of named solvents."""

    kind: Literal["thinner"] = "thinner"
    id: Id
    name: Name
    percent: Annotated[Percent, AfterValidator(_adds_up)]
    note: Text = ""


class BudTest(StrEnum):
    """Which bud was the first to take colour from a dried drop: water, white spirit, 70 % isopropanol, mild thinner."""

    WATER = "water"
    WHITE_SPIRIT = "white_spirit"
    ISOPROPANOL = "isopropanol"
    MILD_THINNER = "mild_thinner"
    NONE = "none"


class Use(StrEnum):
    PRIMER = "primer"
    COLOUR = "colour"
    CLEAR = "clear"
    EFFECT = "effect"


class OwnCoat(Model):
    """A paint of one's own: `like` a known coat, or told by its bud test; with neither it stays unknown."""

    kind: Literal["coat"]
    id: Id
    name: Name
    like: Id | None = None
    bud_test: BudTest | None = None
    use: Use | None = None
    percent: Annotated[Percent, AfterValidator(_adds_up)] | None = None
    volume_solids: Annotated[float, Field(gt=0.005, le=1)] | None = None
    dry_film_um: Film | None = None
    sheen: Sheen | None = None
    colour: Colour | None = None
    bleeds: bool = False
    note: Text = ""


def _own_kind(data: Any) -> str:
    return str((data.get("kind") if isinstance(data, dict) else getattr(data, "kind", None)) or "thinner")


OwnMaterial = OwnThinner | OwnCoat
AnOwnMaterial = Annotated[
    Annotated[OwnThinner, Tag("thinner")] | Annotated[OwnCoat, Tag("coat")], Discriminator(_own_kind)
]


class Trial(Model):
    """What a trial on scrap has shown of a contact: upper step on lower step, or on the base material (None).

    `of` and `age_min` say what was tried: if the recipes or the age have changed since, the trial no longer counts.
    """

    upper: Id
    lower: Id | None = None
    passed: bool
    of: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8,64}$")]
    age_min: Minutes
    note: Text = ""


class Plan(Model):
    """A whole build: what it is, its zones, its steps in order, its air, its schools, its own materials."""

    format: Literal["emvar-plan"] = "emvar-plan"
    version: Literal[1] = 1
    build: Build
    zones: Annotated[list[Zone], Field(min_length=1, max_length=MAX_ZONES)]
    steps: Annotated[list[Step], Field(max_length=MAX_STEPS)] = []
    air: BenchAir = BenchAir()
    schools: dict[School, str] = {}
    materials: Annotated[list[AnOwnMaterial], Field(max_length=200)] = []
    trials: Annotated[list[Trial], Field(max_length=500)] = []
    kit: Kit | None = None
    hours: Hours | None = None

    def step(self, step_id: str) -> AnyStep | None:
        return next((s for s in self.steps if s.id == step_id), None)


def _place(plan_like: Any, loc: tuple[int | str, ...]) -> str:
    """Turns a validator's location into words: `steps[3] 'Pin wash'.mix.parts[0].amount`."""
    words, here = "", plan_like
    for part in loc:
        if isinstance(part, str) and part in {"coat", "working", "fitting"} and isinstance(here, dict):
            continue
        if part == "thinner" and isinstance(here, dict):
            continue
        if isinstance(part, int):
            words += f"[{part}]"
            here = here[part] if isinstance(here, list) and part < len(here) else None
            if isinstance(here, dict) and isinstance(here.get("name"), str):
                words += f" '{here['name'][:40]}'"
        else:
            words += ("." if words else "") + part
            here = here.get(part) if isinstance(here, dict) else None
    return words or "plan"


def _problems(error: ValidationError, data: Any) -> list[Problem]:
    found = []
    for entry in error.errors(include_url=False)[:20]:
        what = entry["msg"].removeprefix("Value error, ")
        if entry["type"] == "extra_forbidden":
            what = "unknown field (units are part of the names, such as wait_min, film_um, temp_c)"
        elif entry["type"] == "too_long":
            what = what.replace("List should have", "there may be").replace(" after validation", "")
        found.append(Problem(where=_place(data, entry["loc"]), what=what))
    return found


def parse_plan(data: Any) -> Plan:
    """Plan from plain JSON data. Raises PlanError whose problems name each place that is wrong."""
    if not isinstance(data, dict):
        raise PlanError([Problem(where="plan", what="a plan file is one JSON object")])
    if data.get("format") != FORMAT:
        raise PlanError([Problem(where="format", what=f"this is not a plan file: format must be '{FORMAT}'")])
    if data.get("version") != VERSION:
        raise PlanError(
            [Problem(where="version", what=f"version {str(data.get('version'))[:20]} is not known here; only 1")]
        )
    for field, most in (("steps", MAX_STEPS), ("zones", MAX_ZONES)):
        if isinstance(data.get(field), list) and len(data[field]) > most:
            raise PlanError([Problem(where=field, what=f"{len(data[field])} are too many; at most {most}")])
    try:
        plan = Plan.model_validate(data)
    except ValidationError as error:
        raise PlanError(_problems(error, data)) from None
    check_references(plan)
    return plan


def parse_step(data: Any) -> AnyStep:
    """One step from plain JSON data; the same errors as in a plan."""

    try:
        return _STEP.validate_python(data)
    except ValidationError as error:
        raise PlanError([Problem(where=f"step.{p.where}", what=p.what) for p in _problems(error, data)]) from None


_CHECKED: dict[int, tuple[AnyStep, str, list[tuple[str, str]]]] = {}
_WORLDS: dict[tuple[Any, ...], str] = {}


def _world_of(plan: Plan) -> str:
    """What a step's references are checked against: zones and own materials, as a key."""
    key = (tuple(z.id for z in plan.zones), tuple(m.id + m.kind for m in plan.materials))
    if len(_WORLDS) > 2000:
        _WORLDS.clear()
        _CHECKED.clear()
    return _WORLDS.setdefault(key, str(len(_WORLDS)))


def _dangling(step: AnyStep, zone_ids: set[str], own: list[AnOwnMaterial]) -> list[tuple[str, str]]:
    """What a step names that is not there, as (field, what is wrong); apart from other steps."""
    from .materials import unknown_material

    found: list[tuple[str, str]] = []

    def material(field: str, material_id: str | None, kind: str) -> None:
        if material_id is not None and (hint := unknown_material(material_id, own, kind)):
            found.append((field, hint))

    for zone_id in step.zones:
        if zone_id not in zone_ids:
            found.append((".zones", f"there is no zone '{zone_id}'"))
    if len(set(step.zones)) != len(step.zones):
        found.append((".zones", "a zone is named twice"))
    if isinstance(step, CoatStep):
        material(".material", step.material, "coat")
        for j, part in enumerate(step.mix.parts if step.mix else ()):
            material(f".mix.parts[{j}].material", part.material, "part")
        if step.mix and not any(p.role is Role.PAINT or p.role is Role.PIGMENT for p in step.mix.parts):
            found.append((".mix", "no part has the role paint or pigment"))
        for zone_id in step.coverage_by_zone:
            if zone_id not in step.zones:
                found.append((".coverage_by_zone", f"'{zone_id}' is no zone of the step"))
    elif isinstance(step, WorkingStep):
        material(".carrier", step.carrier, "thinner")
    else:
        material(".material", step.material, "touch")
        for zone_id in step.closes:
            if zone_id not in zone_ids:
                found.append((".closes", f"there is no zone '{zone_id}'"))
    return found


def _dangling_kept(step: AnyStep, world: str, zone_ids: set[str], own: list[AnOwnMaterial]) -> list[tuple[str, str]]:
    """The same, kept by object: steps never change, and an edit changes one of many."""
    held = _CHECKED.get(id(step))
    if held is None or held[0] is not step or held[1] != world:
        if len(_CHECKED) > 30_000:
            _CHECKED.clear()
        held = _CHECKED[id(step)] = (step, world, _dangling(step, zone_ids, own))
    return held[2]


def _place_of(plan: Plan, i: int) -> str:
    return f"steps[{i}] '{plan.steps[i].name}'"


def check_references(plan: Plan) -> None:
    """Refuses dangling ids, working steps above nothing, and unknown materials. Raises PlanError."""
    from .materials import own_material_problems, unknown_material

    own = plan.materials
    problems: list[Problem] = list(own_material_problems(own))

    def substrate(where: str, material_id: str | None) -> None:
        if material_id is not None and (hint := unknown_material(material_id, own, "substrate")):
            problems.append(Problem(where=where, what=hint))

    zone_ids = {z.id for z in plan.zones}
    if len(zone_ids) != len(plan.zones):
        problems.append(Problem(where="zones", what="two zones have the same id"))
    substrate("build.base_material", plan.build.base_material)
    for i, zone in enumerate(plan.zones):
        substrate(f"zones[{i}] '{zone.name}'.base_material", zone.base_material)
    world = _world_of(plan)
    seen: dict[str, AnyStep] = {}
    for i, step in enumerate(plan.steps):
        if step.id in seen:
            problems.append(Problem(where=_place_of(plan, i), what=f"the id '{step.id}' is taken by an earlier step"))
        for field, what in _dangling_kept(step, world, zone_ids, own):
            problems.append(Problem(where=_place_of(plan, i) + field, what=what))
        if isinstance(step, WorkingStep):
            problems.extend(_acts_on_problems(plan, i, step, seen))
        seen.setdefault(step.id, step)
    for i, step in enumerate(plan.steps):
        if step.recipe_of is not None and step.recipe_of not in seen:
            problems.append(
                Problem(where=f"{_place_of(plan, i)}.recipe_of", what=f"there is no step '{step.recipe_of}'")
            )
    for i, trial in enumerate(plan.trials):
        for field, step_id in (("upper", trial.upper), ("lower", trial.lower)):
            if step_id is not None and step_id not in seen:
                problems.append(Problem(where=f"trials[{i}].{field}", what=f"there is no step '{step_id}'"))
    for pair, side in plan.schools.items():
        if side not in SCHOOL_SIDES[pair]:
            sides = " or ".join(SCHOOL_SIDES[pair])
            problems.append(Problem(where=f"schools.{pair.value}", what=f"the side must be {sides}"))
    if not problems:
        problems.extend(timing_problems(plan))
    if problems:
        raise PlanError(problems[:20])


def _acts_on_problems(plan: Plan, i: int, step: WorkingStep, seen: dict[str, AnyStep]) -> list[Problem]:
    target = seen.get(step.acts_on)
    where = f"{_place_of(plan, i)}.acts_on"
    if not isinstance(target, CoatStep):
        return [Problem(where=where, what=f"there is no coat '{step.acts_on}' before this step")]
    if missing := [z for z in step.zones if z not in target.zones]:
        what = f"'{target.name}' does not cover the zone '{missing[0]}' that this step works on"
        return [Problem(where=where, what=what)]
    return []


@dataclass(slots=True)
class Timing:
    """Start and end of a step in minutes since the build's start."""

    start_min: float
    end_min: float


def minutes_since_start(plan: Plan, at: datetime) -> float:
    return (at - plan.build.starts_at) / timedelta(minutes=1)


_WALKED: dict[int, tuple[Plan, tuple[dict[str, Timing], list[Problem]]]] = {}


def _walk(plan: Plan) -> tuple[dict[str, Timing], list[Problem]]:
    """Times and what is wrong with them; the last few plans' are kept, since several questions need them."""
    held = _WALKED.get(id(plan))
    if held is None or held[0] is not plan:
        while len(_WALKED) >= 8:
            del _WALKED[next(iter(_WALKED))]
        held = _WALKED[id(plan)] = (plan, _walk_now(plan))
    return held[1]


def _walk_now(plan: Plan) -> tuple[dict[str, Timing], list[Problem]]:
    free: dict[str, float] = {}
    times: dict[str, Timing] = {}
    problems: list[Problem] = []
    for i, step in enumerate(plan.steps):
        ready = max((free.get(z, 0.0) for z in step.zones), default=0.0)
        start = ready + step.wait_min
        if step.fixed_start is not None:
            start = minutes_since_start(plan, step.fixed_start)
            if start < ready - 1e-6:
                busy = (plan.build.starts_at + timedelta(minutes=ready)).astimezone(plan.build.tz)
                problems.append(
                    Problem(
                        where=f"steps[{i}] '{step.name}'.fixed_start",
                        what=f"it is fixed before the step below it ends ({when_words(busy)}); fix it later",
                    )
                )
        end = start + step.hands_on_min
        times[step.id] = Timing(start, end)
        for zone_id in step.zones:
            free[zone_id] = end
    return times, problems


def timing_problems(plan: Plan) -> list[Problem]:
    return _walk(plan)[1]


def step_times(plan: Plan) -> dict[str, Timing]:
    """Start and end of each step by id, minutes since `build.starts_at`. Linear in steps × zones."""
    return _walk(plan)[0]


def slug(name: str, taken: set[str]) -> str:
    """An id for a new thing, readable but opaque, never one that is taken."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "step"
    if base not in taken:
        return base
    number = 2
    while f"{base}-{number}" in taken:
        number += 1
    return f"{base}-{number}"
