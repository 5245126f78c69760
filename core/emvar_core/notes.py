"""What to heed at a step that is no seam: mixes past their limit, and the usual cautions.

Cautions never give leave: they defer to the product's safety data sheet, local rules and qualified advice.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from .materials import Knowledge
from .outcome import StepNote
from .plan import AidKind, CoatStep, Method

if TYPE_CHECKING:
    from .assess import _Laid

DEFER = "Follow the product's safety data sheet and local rules."
SPRAYED = {Method.MIST, Method.SPRAY, Method.WET_SPRAY, Method.CAN}


def step_notes(k: Knowledge, laid: Iterable[tuple[CoatStep, _Laid]]) -> list[StepNote]:
    """Notes on the coats of a plan, in their order."""
    found: list[StepNote] = []

    def add(step_id: str, text: str, hazard: bool = True) -> None:
        found.append(StepNote.model_construct(step_id=step_id, hazard=hazard, text=text))

    for step, entry in laid:
        cup, system = entry.cup, k.systems[entry.coat.system]
        limit = system.water_limit
        if limit is not None and cup.water_share > limit + 0.005:
            add(
                step.id,
                f"{cup.water_share:.0%} water is past the {limit:.0%} that a water-borne paint bears: its binder "
                "thins out and it crawls or rubs off. Use thinning medium for the rest.",
                hazard=False,
            )
        if entry.landing.method in SPRAYED:
            add(
                step.id,
                "Spray under extraction that leads outdoors, with a mask for organic vapour and particles. " + DEFER,
            )
        elif entry.landing.spirit > 0.3 or entry.landing.hot > 0.1:
            add(step.id, "Solvent vapour: air the room. " + DEFER)
        flash = [k.solvents[s].flash_c for s, share in cup.carrier.parts if share > 0.02]
        lowest = min((f for f in flash if f is not None), default=None)
        if lowest is not None and cup.carrier.water < 0.5 and lowest <= entry.landing.temp_c + 5:
            add(step.id, f"Its vapour can catch fire at bench temperature (flash point from {lowest:.0f} °C): "
                "no flame, heater or spark near cup, rag or booth.")  # fmt: skip
        if system.id in {"oil", "enamel", "enamel_effect"} and entry.landing.method not in SPRAYED:
            add(step.id, "Rags and paper with drying oil or alkyd can heat up and catch fire by themselves: lay them "
                "flat outdoors or in water, then in a closed metal bin.")  # fmt: skip
        if entry.coat.use == "effect" and system.id == "pigment":
            add(step.id, "Pigment dust: wear a mask, wipe wet, do not blow.")
        for aid in step.aids:
            if aid.kind is not AidKind.FAN:
                add(step.id, "No heat while solvent can be smelt; then at most 45 °C at the part.")
                if aid.temp_c is not None and aid.temp_c > 45:
                    add(
                        step.id,
                        f"{aid.temp_c:g} °C softens polystyrene and resin: 40–45 °C at the part is the most.",
                    )
    return found
