"""What the mechanisms share that speak of the bare material of the model."""

from __future__ import annotations

from ..vocabulary import BaseSurface, FilmClass
from .situation import Situation


def bare(s: Situation, surface: BaseSurface) -> bool:
    """Whether a coat that forms a film lands on bare material of this surface."""
    base, landing = s.layer.substrate, s.landing
    if base is None or base.surface is not surface or landing.material is None:
        return False
    return landing.system is None or landing.system.film not in (FilmClass.LOOSE, FilmClass.RUBBED)
