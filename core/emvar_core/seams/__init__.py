"""Seams: what happens where a layer meets what lies below it.

`situation.py` is what meets, `mechanisms/` the ways in which one harms or fails on the other, one a file, `registry.py`
all of them, `windows.py` when a coat can be worked, `severity.py` the thresholds.
"""

from ..knowledge import knowledge
from .registry import REGISTRY

REGISTRY.check(knowledge())
