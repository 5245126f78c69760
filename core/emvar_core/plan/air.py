"""Bench air, by day, by night and for dated stretches; and what hurries drying after a step."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from ..vocabulary import AidKind, Clock, Instant, Minutes, Model, Movement


class Air(Model):
    """Bench air: what dries where. Relative humidity in percent."""

    temp_c: Annotated[float, Field(ge=-10, le=60)] = 20.0
    rh_pct: Annotated[float, Field(ge=0, le=100)] = 50.0
    movement: Movement = Movement.STILL


class AirSpan(Model):
    """A dated stretch whose air replaces day and night air."""

    start: Instant
    end: Instant
    air: Air

    @model_validator(mode="after")
    def _ordered(self) -> AirSpan:
        if self.end <= self.start:
            raise ValueError("end must be after start")
        return self


class BenchAir(Model):
    """Air by day, by night from one time of the wall to another, and in dated stretches."""

    day: Air = Air()
    night: Air | None = None
    night_from: Clock = "22:00"
    night_to: Clock = "07:00"
    spans: Annotated[list[AirSpan], Field(max_length=200)] = []


class Aid(Model):
    """Something that hurries drying after a step, for a while. Temperature is the one at the part."""

    kind: AidKind
    duration_min: Minutes
    temp_c: Annotated[float, Field(ge=0, le=80)] | None = None
