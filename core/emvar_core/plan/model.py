"""The open plan format, version 2.

These models *are* the format: what validates here is a plan, and `docs/plan.schema.json` is written from
them. Units are fixed by field names (`film_um`, `wait_min`, `temp_c`), so a wrong unit is an unknown field
and is refused by name. Everything is frozen; edits make new plans (see `edits.py`).
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo, available_timezones

from pydantic import AfterValidator, Field, StringConstraints

from ..knowledge import USUAL_BASE
from ..vocabulary import LEAST, Id, Instant, Minutes, Model, Name, School, Text
from .air import BenchAir
from .hours import Hours
from .kit import Kit
from .own import AnOwnMaterial, Learned
from .steps import MAX_ZONES, AnyStep, Step

FORMAT = "emvar-plan"
VERSION = 2
OLDER = (1,)  # read too: they say less
MAX_STEPS = 2000


class Zone(Model):
    """A part of the model that is painted as one: its area in cm², if it is given, and its own material if not the
    build's. Zones with the same `part` are one piece: it is held, turned and dried as one.
    """

    id: Id
    name: Name
    area_cm2: Annotated[float, Field(ge=LEAST, le=1_000_000)] | None = None
    base_material: Id | None = None
    part: Name | None = None

    @property
    def piece(self) -> str:
        """What it is held by: the part that it belongs to, or itself."""
        return f"part {self.part}" if self.part is not None else f"zone {self.id}"


def siblings(zones: Iterable[Zone]) -> dict[str, list[str]]:
    """The zones of each part that has several, itself among them; nothing for a zone that is held by itself."""
    by_piece: dict[str, list[str]] = {}
    for zone in zones:
        by_piece.setdefault(zone.piece, []).append(zone.id)
    return {z: together for together in by_piece.values() if len(together) > 1 for z in together}


def area_together(zones: Iterable[Zone]) -> float | None:
    """The area of zones, cm²; None where that of one of them is not given: then amounts are ratios."""
    areas = [z.area_cm2 for z in zones]
    given = [a for a in areas if a is not None]
    return sum(given) if len(given) == len(areas) else None


@cache
def _timezones() -> set[str]:
    return available_timezones()  # looks through the disk


def _known_timezone(name: str) -> str:
    if name not in _timezones():
        raise ValueError(f"'{name[:60]}' is not a time zone; use a name such as Europe/Lisbon or UTC")
    return name


class Build(Model):
    """What is built: its scale (1 to), what it is made of, when it starts, in which time zone."""

    name: Name
    scale: Annotated[int, Field(ge=1, le=2000)]
    base_material: Id = USUAL_BASE
    starts_at: Instant
    timezone: Annotated[str, AfterValidator(_known_timezone)] = "UTC"
    note: Text = ""

    @property
    def tz(self) -> ZoneInfo:
        return ZoneInfo(self.timezone)


class Trial(Model):
    """What a trial on scrap has shown of a contact: upper step on lower step, or on the base material (None).

    `of` and `age_min` say what was tried: if the recipes, what they are made of, the material of the model or the age
    have changed since, the trial no longer counts.
    """

    upper: Id
    lower: Id | None = None
    passed: bool
    of: Annotated[str, StringConstraints(pattern=r"^(2:)?[0-9a-f]{8,64}$")]
    age_min: Minutes
    note: Text = ""


class Plan(Model):
    """A whole build: what it is, its zones, its steps in order, its air, its schools, its own materials."""

    format: Literal["emvar-plan"] = "emvar-plan"
    version: Literal[2] = 2
    build: Build
    zones: Annotated[list[Zone], Field(min_length=1, max_length=MAX_ZONES)]
    steps: Annotated[list[Step], Field(max_length=MAX_STEPS)] = []
    air: BenchAir = BenchAir()
    schools: dict[School, str] = {}
    materials: Annotated[list[AnOwnMaterial], Field(max_length=200)] = []
    trials: Annotated[list[Trial], Field(max_length=500)] = []
    kit: Kit | None = None
    hours: Hours | None = None
    learned: Annotated[list[Learned], Field(max_length=500)] = []

    def model_post_init(self, _: Any) -> None:
        # Steps are always written, also where there are none yet.
        self.model_fields_set.add("steps")

    def step(self, step_id: str) -> AnyStep | None:
        return next((s for s in self.steps if s.id == step_id), None)

    def zone(self, zone_id: str) -> Zone | None:
        return next((z for z in self.zones if z.id == zone_id), None)

    def base_of(self, zone: Zone) -> str:
        """What a zone is made of: its own material, or the build's."""
        return zone.base_material or self.build.base_material
