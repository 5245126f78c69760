"""Paint that is put out on card before it is used: the card draws oil out of it, for some hours, until it gets too dry.

The act has a start of its own, and touches nothing on the model.
"""

from __future__ import annotations

from ..knowledge import Knowledge
from ..plan import AnyStep, CoatStep, FittingStep
from ..vocabulary import FittingAction

DRIES_OUT = 1.6  # times the longest rest, from which it crumbles (assumption)


def puts_out(step: AnyStep) -> bool:
    """Whether a step puts paint out to rest."""
    return isinstance(step, FittingStep) and step.action is FittingAction.SET_OUT


def rest_of(k: Knowledge, step: AnyStep) -> tuple[float, float] | None:
    """How long the paint of a coat rests on card, minutes at least and at most; None where it does not."""
    return k.coats[step.material].rests_min if isinstance(step, CoatStep) and step.existing is None else None
