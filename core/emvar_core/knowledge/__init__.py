"""What is known: solvents, polymers, paint systems and their coats, base materials, touches, techniques, work, faults.

It is data, one file a paint system and one a technique, typed (`types.py`) and loaded strictly (`load.py`). Code asks
for roles, traits and families, never for a material by its id.
"""

from .load import Source, knowledge, load
from .store import Knowledge
from .types import (
    GAS_CONSTANT,
    USUAL_BASE,
    WATER,
    Coat,
    Hardener,
    Means,
    Solvent,
    Sphere,
    Substrate,
    System,
    Technique,
    Thinner,
    Touch,
    Window,
)

__all__ = [
    "GAS_CONSTANT",
    "USUAL_BASE",
    "WATER",
    "Coat",
    "Hardener",
    "Knowledge",
    "Means",
    "Solvent",
    "Source",
    "Sphere",
    "Substrate",
    "System",
    "Technique",
    "Thinner",
    "Touch",
    "Window",
    "knowledge",
    "load",
]
