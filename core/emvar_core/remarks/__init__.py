"""Remarks: what no seam says of a step. Its cup, its recipe, its place in the order, its cautions."""

from .at_step import AtSteps, at_steps, cup_out, in_order
from .remark import Said, remark_out
from .replace import Replaced, replaced
from .sequence import Closed, closings, film_budget_um
from .two_pack import pot_life_words

__all__ = [
    "AtSteps",
    "Closed",
    "Replaced",
    "Said",
    "at_steps",
    "closings",
    "cup_out",
    "film_budget_um",
    "in_order",
    "pot_life_words",
    "remark_out",
    "replaced",
]
