"""What is known to a plan, beyond what ships."""

from __future__ import annotations

from ..knowledge import Knowledge, knowledge
from .model import Plan
from .own import with_learned, with_own


def known_to(plan: Plan) -> Knowledge:
    """What is known to a plan: what ships, its own materials, and what was learned and is used in it."""
    return with_learned(with_own(knowledge(), plan.materials), plan.learned)
