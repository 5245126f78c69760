"""Remarks: what no seam says of a step. Its cup, its recipe, its place in the order, its cautions."""

from .at_step import AtStep, at_step, cup_out, in_order
from .remark import Said, remark_out
from .replace import Replaced, replaced
from .sequence import Closed, closings, film_budget_um

__all__ = [
    "AtStep",
    "Closed",
    "Replaced",
    "Said",
    "at_step",
    "closings",
    "cup_out",
    "film_budget_um",
    "in_order",
    "remark_out",
    "replaced",
]
