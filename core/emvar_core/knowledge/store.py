"""All that is known, in one immutable value, and the questions that the rest asks of it by role instead of by id."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from ..vocabulary import BudTest, Carrier, Event, FilmClass, Method, SystemRole, ThinnerRole, Trait, Use, WorkAction
from .types import (
    ByHand,
    CarrierFacts,
    Coat,
    Fault,
    Means,
    Solvent,
    Sphere,
    Substrate,
    System,
    Technique,
    Thinner,
    Touch,
    Window,
    WorkFacts,
)

RUN_TO_RUN = 0.15  # spread (ln) of one coat about its paint's own figure; also taken for one observation of it
MIDDLE_90 = 1.645


def _slower(system: System, factor: float, sd: float) -> System:
    """A system whose times are so much longer, its ranges no wider than what was learned leaves open."""
    half = MIDDLE_90 * math.hypot(sd, RUN_TO_RUN)

    def pair(early: float, late: float) -> tuple[float, float]:
        middle, was = math.sqrt(early * late) * factor, math.log(late / early) / 2
        wide = min(was, half)
        return middle * math.exp(-wide), middle * math.exp(wide)

    def edges(e: tuple[float, float, float]) -> tuple[float, float, float]:
        def at(x: float) -> float:
            if e[1] <= 0 or x <= 0:
                return x * factor
            off = math.log(x / e[1])
            return e[1] * factor * math.exp(max(-half, min(half, off)))

        return at(e[0]), e[1] * factor, at(e[2])

    times = {event.value: pair(*system.event(event)) for event in Event}
    windows = {
        action: w.model_copy(
            update={"opens": edges(w.opens), "easy_until": w.easy_until * factor, "closes": edges(w.closes)}
        )
        for action, w in system.windows.items()
    }
    more = {} if system.recoat_again_before is None else {"recoat_again_before": system.recoat_again_before * factor}
    return system.model_copy(update={**times, **more, "windows": windows})


@dataclass(frozen=True, eq=False)
class Knowledge:
    """All materials and techniques known to an assessment. Immutable; `signature` tells two apart.

    `activities`: Wilson energies of (this solvent, that one), K.
    """

    solvents: Mapping[str, Solvent]
    activities: Mapping[tuple[str, str], float]
    spheres: Mapping[str, Sphere]
    systems: Mapping[str, System]
    substrates: Mapping[str, Substrate]
    thinners: Mapping[str, Thinner]
    coats: Mapping[str, Coat]
    touches: Mapping[str, Touch]
    carriers: Mapping[Carrier, CarrierFacts]
    work: Mapping[WorkAction, WorkFacts]
    by_hand: Mapping[Method | WorkAction, ByHand]
    means: tuple[Means, ...]
    bud_words: Mapping[BudTest, str]
    called: Mapping[str, str]
    techniques: Mapping[str, Technique]
    cautions: Mapping[str, str]
    tools: tuple[str, ...]
    chipping: Mapping[str, Window]
    spelt: Mapping[str, str]
    meant: Mapping[str, tuple[str, ...]]
    faults: Mapping[str, Fault]
    signature: str = "default"
    # What was learned at the bench, by quantity and paint or system: a factor, and the spread of its logarithm.
    learned: Mapping[tuple[str, str], tuple[float, float]] = field(default_factory=dict)

    def with_techniques(self, techniques: Mapping[str, Technique]) -> Knowledge:
        return replace(self, techniques=techniques)

    def with_materials(self, coats: Mapping[str, Coat], thinners: Mapping[str, Thinner], signature: str) -> Knowledge:
        """The same knowledge with other coats and thinners."""
        return replace(self, coats=coats, thinners=thinners, signature=signature)

    def with_learned(self, learned: Mapping[tuple[str, str], tuple[float, float]], signature: str) -> Knowledge:
        """The same knowledge with figures that were learned at the bench."""
        return replace(self, learned=learned, signature=signature)

    def learned_of(self, quantity: str, material_id: str) -> tuple[float, float] | None:
        """A factor that was learned of a paint, else of its system, with the spread of its logarithm; None if none."""
        own = self.learned.get((quantity, material_id))
        return own if own is not None else self.learned.get((quantity, self.coats[material_id].system))

    def drying_factor(self, material_id: str) -> float:
        """By how much longer a paint takes than what ships says."""
        found = self.learned_of("drying", material_id) if self.learned else None
        return found[0] if found is not None else 1.0

    def system_as_learned(self, material_id: str) -> System:
        """A paint's system with its times as they were learned of it: shifted, and no wider than what is known."""
        found = self.learned_of("drying", material_id) if self.learned else None
        if found is None:
            return self.system_of(material_id)
        known = self._slowed.get(material_id)
        if known is None:
            known = self._slowed[material_id] = _slower(self.system_of(material_id), *found)
        return known

    @cached_property
    def _slowed(self) -> dict[str, System]:
        """Systems as learned, each made once: what is remembered goes by the object."""
        return {}

    def system_of(self, material_id: str) -> System:
        return self.systems[self.coats[material_id].system]

    @cached_property
    def ids(self) -> set[str]:
        """The ids of all materials, whatever their kind."""
        return set(self.substrates) | set(self.thinners) | set(self.coats) | set(self.touches)

    # --- by role ---------------------------------------------------------------------------------------------

    @cached_property
    def unknown_coat(self) -> Coat:
        """What a paint is taken to be of which nothing is known."""
        return next(c for c in self.coats.values() if self.systems[c.system].film is FilmClass.UNKNOWN and not c.own)

    @cached_property
    def usual_mask(self) -> Touch:
        """What a mask is that does not say."""
        return next(t for t in self.touches.values() if t.usual)

    @cached_property
    def coats_by_role(self) -> Mapping[SystemRole, frozenset[str]]:
        """The ids of the coats whose system has a role."""
        return {
            role: frozenset(c.id for c in self.coats.values() if self.systems[c.system].is_a(role))
            for role in SystemRole
        }

    def coats_with(self, trait: Trait) -> list[Coat]:
        """Shipped coats of a trait, the usual ones first."""
        return [c for c in self.coats.values() if c.has(trait) and not c.own]

    def usual(self, trait: Trait, use: Use | None = None) -> Coat:
        """The first coat of a trait, and of a use where that is said."""
        return next(c for c in self.coats_with(trait) if use is None or c.use is use)

    def thinners_that(self, role: ThinnerRole) -> list[Thinner]:
        return [t for t in self.thinners.values() if t.is_a(role)]

    def like_bud(self, test: BudTest) -> Coat:
        """The coat that a bud test's answer stands for: a family, no more."""
        return next(c for c in self.coats.values() if c.bud_test is test and not c.own)

    def stands_in(self, coat: Coat, here: Coat) -> bool:
        """Whether a coat is of the same kind as another one: what somebody at the bench would reach for in its place.

        Not an ink for a wash, a powder or a washable colour for paint, a metal colour for a plain one, nor two-pack.
        """
        film, own = self.systems[coat.system].film, self.systems[here.system].film
        if coat.use is not here.use or self.is_unknown(coat) or coat.has(Trait.ISOCYANATE):
            return False
        apart = (FilmClass.LOOSE, FilmClass.CROSSLINKED, FilmClass.WATER_SOLUBLE, FilmClass.RUBBED)
        if film is not own and (film in apart or own in apart):
            return False
        if coat.use is Use.EFFECT and coat.method is not here.method:
            return False
        return all(coat.has(t) == here.has(t) for t in (Trait.METALLIC, Trait.BLEEDS))

    def is_unknown(self, coat: Coat) -> bool:
        """Whether a coat is the one that stands for not knowing."""
        return coat.id == self.unknown_coat.id
