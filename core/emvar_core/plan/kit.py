"""What there is to spray with, and what was measured of a mix."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from ..knowledge.flow_cups import CUPS, DripCup, calibrated, calibration_mm2_s, kinematic_mm2_s
from ..vocabulary import LEAST, FlowCup, Id, Model, Name


class Measured(Model):
    """What was measured of the mix in the cup; it wins over what is computed.

    Viscosity in mPa·s, or a flow cup (its id) and its seconds; grams of paint, thinner and retarder as weighed, and of
    the mix as sprayed since; drops of paint and of thinner counted into a millilitre.
    """

    viscosity_mpas: Annotated[float, Field(gt=0.2, le=100_000)] | None = None
    flow_cup: FlowCup | None = None
    flow_cup_s: Annotated[float, Field(ge=LEAST, le=1000)] | None = None
    paint_g: Annotated[float, Field(ge=LEAST, le=1000)] | None = None
    thinner_g: Annotated[float, Field(ge=0, le=1000)] | None = None
    retarder_g: Annotated[float, Field(ge=0, le=1000)] | None = None
    sprayed_g: Annotated[float, Field(ge=0, le=1000)] | None = None
    drops_per_ml: Annotated[float, Field(gt=2, le=200)] | None = None
    thinner_drops_per_ml: Annotated[float, Field(gt=2, le=200)] | None = None

    @model_validator(mode="after")
    def _cup_in_range(self) -> Measured:
        if self.flow_cup in CUPS and self.flow_cup_s is not None:
            kinematic_mm2_s(self.flow_cup, self.flow_cup_s)
        weighed = sum(g or 0.0 for g in (self.paint_g, self.thinner_g, self.retarder_g))
        if self.paint_g is not None and (self.sprayed_g or 0.0) >= weighed:
            raise ValueError(f"sprayed_g: no more can be sprayed than the {weighed:g} g that were weighed in")
        return self


class DripKit(Model):
    """A home-made drip cup, by how long water and sugar syrups of 40 and 50 % by weight take, all at `temp_c`."""

    water_s: Annotated[float, Field(ge=LEAST, le=1000)]
    syrup_40_s: Annotated[float, Field(ge=LEAST, le=1000)]
    syrup_50_s: Annotated[float, Field(ge=LEAST, le=1000)] | None = None
    temp_c: Annotated[float, Field(ge=5, le=40)] = 20

    @model_validator(mode="after")
    def _fits(self) -> DripKit:
        self.cup()
        return self

    def cup(self) -> DripCup:
        """The cup's formula. Raises OutOfRange where the times make no cup."""
        times = zip((self.water_s, self.syrup_40_s, self.syrup_50_s), calibration_mm2_s(self.temp_c), strict=True)
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
