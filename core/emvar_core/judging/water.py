"""Water that stands on a surface after it was washed, chipped or wiped wet, and how long it takes to leave."""

from __future__ import annotations

from ..knowledge import Knowledge
from ..physics.blend import blend_of
from ..plan import AnyStep, CoatStep, FittingStep, WorkingStep, method_of
from ..vocabulary import FittingAction, Method, Use, WorkAction

STANDS_MIN = (10.0, 30.0)  # until corners are dry, at half humidity: by the best guess, careful (common practice)
DAMPEST = 0.1  # of dry air, at least: beyond that nothing is known
WATERY = 0.4  # share of water from which a carrier leaves water
LEAVES_WATER = (Method.WET_WIPE, Method.SCRUB)
MINDS = (Use.PRIMER, Use.COLOUR, Use.CLEAR)


def leaves_water(k: Knowledge, step: AnyStep) -> bool:
    """Whether a step leaves water standing: a wash, a wet wipe with water, chipping."""
    if isinstance(step, FittingStep):
        washed = step.action is FittingAction.WASH
        return washed and (step.carrier is None or blend_of(k.thinners[step.carrier]).water >= WATERY)
    if not isinstance(step, WorkingStep) or step.carrier is None:
        return False
    wet = step.method in LEAVES_WATER or step.action is WorkAction.CHIP
    return wet and blend_of(k.thinners[step.carrier]).water >= WATERY


def minds_water(k: Knowledge, step: AnyStep) -> bool:
    """Whether a coat wants a dry ground: paint and varnish do; washes and what is powdered on go into the wet."""
    if not isinstance(step, CoatStep) or step.existing is not None:
        return False
    return k.coats[step.material].use in MINDS and method_of(k, step) not in (Method.WASH, Method.FLOOD)


def stands_min(rh_pct: float) -> tuple[float, float]:
    """How long water stands in corners in air of this humidity, minutes: by the best guess, and careful.

    >>> stands_min(50), stands_min(75)
    ((10.0, 30.0), (20.0, 60.0))
    """
    longer = 0.5 / max(1 - rh_pct / 100, DAMPEST)
    return STANDS_MIN[0] * longer, STANDS_MIN[1] * longer
