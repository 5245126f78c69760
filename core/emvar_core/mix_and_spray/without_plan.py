"""A paint in hand without any plan, as a plan of one coat."""

from __future__ import annotations

from datetime import UTC, datetime

from ..errors import NotThere
from ..knowledge import knowledge
from ..plan import Build, CoatStep, Kit, Plan, Zone, default_mix, thinned
from ..vocabulary import Method, Role

STEP, SIDE = "coat", "side"


def in_hand(
    material: str, thinner: float | None, area_cm2: float, film_um: float | None, method: Method | None, kit: Kit | None
) -> Plan:
    """A plan of one coat on one side, for a paint in hand without any plan. Raises NotThere for an unknown material.

    `thinner` to one part of paint replaces the usual mix's. The side is 1:1, bare, in air of 20 °C and 50 %.
    """
    k = knowledge()
    coat = k.coats.get(material)
    if coat is None:
        raise NotThere("material", material)
    mix = default_mix(k, material)
    if thinner is not None:
        with_ = next((p.material for p in mix.parts if p.role is Role.THINNER), None) if mix else coat.thin_with
        mix = thinned(coat, 1.0, thinner, with_)
    step = CoatStep(
        id=STEP, name=coat.name, zones=[SIDE], material=material, mix=mix, method=method, dry_film_um=film_um
    )
    build = Build(name="In hand", scale=1, starts_at=datetime(2026, 1, 1, tzinfo=UTC))
    zone = Zone(id=SIDE, name="Side", area_cm2=area_cm2)
    return Plan(build=build, zones=[zone], steps=[step], kit=kit)
