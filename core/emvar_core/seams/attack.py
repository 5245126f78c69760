"""What the mechanisms of attack share: the words for the way down, and what a power rests on."""

from __future__ import annotations

from ..physics.hansen import Power
from ..vocabulary import Basis
from .situation import Situation

# wet for so long a film has swollen; a liquid with more water swells none (assumptions)
SOAKS_S, MOSTLY_WATER = 120.0, 0.8
PULLS = 1.6  # how much of what a rub meets comes along where the film is open (assumption)
HSP = "Hansen solubility parameters of carrier and binder, and the hardening of the film by then"


def reached_through(s: Situation, at: int) -> str:
    """How a carrier gets to a deeper layer, where it does."""
    return "" if at == s.index else f" It gets there through {s.layers[s.index].words}."


def basis_of(power: Power) -> tuple[Basis, str]:
    """What a power rests on, and the words for it."""
    if power.basis is Basis.MODEL:
        return Basis.MODEL, f"{HSP} ({power.why})"
    return Basis.RULE, f"rule by solvent family: {power.why}"
