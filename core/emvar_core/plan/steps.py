"""The steps of a plan: coats, work on coats, fittings. Each field says at its place what it affects (`affects.py`)."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..knowledge import knowledge
from ..vocabulary import (
    LEAST,
    Film,
    FittingAction,
    Id,
    Instant,
    Method,
    Minutes,
    Model,
    Name,
    PigmentSpeed,
    Place,
    Purpose,
    Role,
    Share,
    Sheen,
    Srgb,
    Text,
    Unit,
    WaitBy,
    WorkAction,
)
from .affects import ID, LOOK, NAME, NOTHING, PLACE, VERDICT, WHEN, check
from .air import Aid
from .kit import Measured

MAX_ZONES = 64


class MixPart(Model):
    """One part of a mix: how much of which material, and what it is in it; what it is called, and its colour."""

    material: Id
    role: Role
    name: Name | None = None
    colour: Srgb | None = None
    amount: Annotated[float, Field(ge=LEAST, le=100000)]
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


Coverage = Annotated[float, Field(ge=LEAST, le=1)]


class SprayWith(Model):
    """With what a coat is sprayed: the gun of the kit, its pressure with the trigger open, how far away; what for, how
    wide a pattern is wanted, how fast the hand moves. What is left out is as recommended.
    """

    gun: Id | None = None
    purpose: Purpose | None = None
    width_mm: Annotated[float, Field(ge=0.5, le=100)] | None = None
    speed_mm_s: Annotated[float, Field(ge=1, le=1000)] | None = None
    pressure_kpa: Annotated[float, Field(ge=10, le=600)] | None = None
    distance_mm: Annotated[float, Field(ge=5, le=600)] | None = None


class Existing(Model):
    """A finish that is there already: how old it is when the build starts, days; None: nobody knows."""

    age_days: Annotated[float, Field(ge=0, le=36500)] | None = None


class NoLater(Model):
    """A step begins no later than so many minutes after the end of another one."""

    after: Id
    than_min: Minutes


class StepBase(Model):
    """What every step has: where, when, how long, with what help.

    `tool`: what people call it. `wait_by`: who keeps its wait; the program's follows what lies below. `place`: where in
    its zones; None: by chance. `patch`: a patch's name; patches of one name are the same spot. `no_later`: by when it
    has to begin. `overnight`: a night lies between what was done before and it. `fine`: work for eyes and a steady
    hand; None: as its kind usually is.
    """

    id: Annotated[Id, ID]
    name: Annotated[Name, NAME]
    zones: Annotated[list[Id], Field(min_length=1, max_length=MAX_ZONES), PLACE]
    technique: Annotated[Id | None, LOOK] = None
    wait_min: Annotated[Minutes, WHEN] = 0
    wait_by: Annotated[WaitBy, WHEN] = WaitBy.PERSON
    overnight: Annotated[bool, WHEN] = False
    hands_on_min: Annotated[Minutes, WHEN] = 10
    fixed_start: Annotated[Instant | None, WHEN] = None
    aids: Annotated[list[Aid], Field(max_length=8), VERDICT] = []
    recipe_of: Annotated[Id | None, NOTHING] = None
    needs_part_off: Annotated[bool, PLACE] = False
    tool: Annotated[Name | None, LOOK] = None
    note: Annotated[Text, NOTHING] = ""
    place: Annotated[Place | None, PLACE] = None
    patch: Annotated[Name | None, PLACE] = None
    no_later: Annotated[NoLater | None, WHEN] = None
    fine: Annotated[bool | None, WHEN] = None

    def model_post_init(self, _: Any) -> None:
        # The kind says what a step is, so it is always written, also where it was left to the class.
        self.model_fields_set.add("kind")


class CoatStep(StepBase):
    """Adds material to each of its zones. What is left out is the material's usual.

    `on`: the coat on whose marks it lies; `beside`: coats that it never meets. `existing`: it was there before.
    `pause_min`: between its passes. `spray`: the gun that it is kept with.
    """

    kind: Annotated[Literal["coat"], VERDICT] = "coat"
    material: Annotated[Id, VERDICT]
    method: Annotated[Method | None, VERDICT] = None
    mix: Annotated[Mix | None, VERDICT] = None
    passes: Annotated[int | None, Field(ge=1, le=30), VERDICT] = None
    pause_min: Annotated[Minutes | None, LOOK] = None
    spray: Annotated[SprayWith | None, LOOK] = None
    dry_film_um: Annotated[Film | None, VERDICT] = None
    colour: Annotated[Colour | None, LOOK] = None
    sheen: Annotated[Sheen | None, VERDICT] = None
    coverage: Annotated[Coverage | None, PLACE] = None
    coverage_by_zone: Annotated[dict[Id, Coverage], PLACE] = {}
    on: Annotated[Id | None, PLACE] = None
    beside: Annotated[list[Id], Field(max_length=64), PLACE] = []
    measured: Annotated[Measured | None, LOOK] = None
    pigment_dries: Annotated[PigmentSpeed | None, VERDICT] = None
    existing: Annotated[Existing | None, VERDICT] = None

    @model_validator(mode="after")
    def _there_already(self) -> CoatStep:
        if self.existing is not None and (self.hands_on_min or self.wait_min):
            raise ValueError("what is there already takes no time: hands_on_min and wait_min have to be 0")
        return self


def _usually_left(given: dict[str, Any]) -> float:
    """What a kind of work usually leaves of a coat, 0–1."""
    action = given.get("action")
    return 1.0 if action is None else knowledge().work[action].leaves


class WorkingStep(StepBase):
    """Acts on a coat while it can still be worked.

    `leaves`: of the coat that it works on, 0–1; by default what the kind of work usually leaves.
    `lies_min`: how long its liquid is left to lie. `by_sections`: its coat is laid and worked section by section, each
    section's age counting from its own laying.
    """

    kind: Annotated[Literal["working"], VERDICT] = "working"
    action: Annotated[WorkAction, VERDICT]
    acts_on: Annotated[Id, PLACE]
    carrier: Annotated[Id | None, VERDICT] = None
    method: Annotated[Method, VERDICT] = Method.DAMP_WIPE
    leaves: Annotated[Share, PLACE] = Field(default_factory=_usually_left)
    by_sections: Annotated[bool, VERDICT] = False
    lies_min: Annotated[Minutes | None, VERDICT] = None


class FittingStep(StepBase):
    """Masks, unmasks, handles, glues, removes, fits or inspects, washes, wets. `material`: the tape, mask or glue;
    `carrier`: the liquid that it washes, degreases or wets with.

    A mask with a `place` keeps paint off it until it is taken off; `share`: how much of the zone that is.
    `closes`: zones that can no longer be reached once this is done; a later `remove` in this zone opens them again.
    """

    kind: Annotated[Literal["fitting"], VERDICT] = "fitting"
    action: Annotated[FittingAction, VERDICT]
    material: Annotated[Id | None, VERDICT] = None
    carrier: Annotated[Id | None, VERDICT] = None
    closes: Annotated[list[Id], Field(max_length=MAX_ZONES), PLACE] = []
    share: Annotated[Coverage | None, PLACE] = None


AnyStep = CoatStep | WorkingStep | FittingStep
Step = Annotated[AnyStep, Field(discriminator="kind")]
check(CoatStep, WorkingStep, FittingStep)
