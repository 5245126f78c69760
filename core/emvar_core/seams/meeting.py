"""A landing and what it meets, whole; a mechanism is shown no more of it than it says that it reads."""

from __future__ import annotations

from typing import Any

from ..knowledge import Knowledge, Substrate
from ..vocabulary import COVERS, FilmClass, SystemRole, Use
from .reach import careful
from .situation import LASTS_S, UNSEEN, WATERY, Finding, Landing, Layer, Medium, Reads, Shown, Situation


class Meeting:
    """A landing and the layers below (nearest first), of which the one at `index` is exposed and met.

    `at_min`: the instant for which it is judged, where that is settled; then nothing is shown that the carrier does not
    get to by then. Without it (for the schedule, which asks of many instants) all layers are shown to who reads them.
    """

    def __init__(
        self, k: Knowledge, landing: Landing, layers: tuple[Layer, ...], index: int = 0, at_min: float | None = None
    ) -> None:
        self.k, self.landing, self.layers, self.index, self.at_min = k, landing, layers, index, at_min
        self._views: dict[int, Situation] = {}
        # What happens here at any time, weighed once: most of it does not depend on the instant.
        self.timeless: list[Finding] = []
        self.always = 0.0  # how grave the gravest of them is
        # The mechanisms that can find anything here and what they see, once they are chosen (`registry.py`).
        self.panel: Any = None
        self.views: list[Situation] = []
        self.spoke = 0  # who of the panel found enough when it was asked last
        self._depth: int | None = None
        self.ahead: list[Any] = []
        self._way_down: list[Any] = []  # what the carrier gets to at the careful edge; filled with `depth`

    @property
    def layer(self) -> Layer:
        return self.layers[self.index]

    @property
    def depth(self) -> int:
        """How many layers the carrier concerns at most: those that it gets into at the careful edge, and one more."""
        if self._depth is None:
            self._depth = self._deep()
        return self._depth

    def _deep(self) -> int:
        if self.at_min is None:
            return len(self.layers)
        self._way_down = careful(self, self.at_min)
        return min((self._way_down[-1].at if self._way_down else self.index) + 2, len(self.layers))

    @property
    def medium(self) -> Medium | None:
        landing = self.landing
        if self.index != 0:
            return None
        if landing.water < WATERY or landing.wet_s < LASTS_S:
            return None
        return live_medium(self.layers)

    @property
    def grains(self) -> Medium | None:
        """Salt that is left below; thin colours go over it on purpose."""
        seals = self.landing.is_for(Use.CLEAR, Use.PRIMER, Use.MARKING)
        return next((Medium(i, y) for i, y in enumerate(self.layers) if is_salt(y)), None) if seals else None

    @property
    def base(self) -> Substrate | None:
        """What the model is made of, where the stack is short enough to see it."""
        return self.layers[-1].substrate

    @property
    def next(self) -> Layer | None:
        """The layer under the one that is met; None where that is the lowest in sight."""
        return self.layers[self.index + 1] if self.index + 1 < len(self.layers) else None

    @property
    def cover_um(self) -> float:
        """Film that covers the base whole, µm, where that decides what gets to it: sparse effects protect nothing."""
        if self.base is None or not self.base.answers_to_cover:
            return 0.0
        return sum(y.film_um for y in self.layers if y.substrate is None and y.coverage > COVERS)

    def shown(self, reads: int) -> int:
        """How many layers are shown to whoever reads this."""
        if reads & Reads.STACK:
            return len(self.layers)
        if reads & Reads.REACHED:
            return self.depth
        return min(self.index + (2 if reads & Reads.NEXT else 1), len(self.layers))

    def view(self, reads: int) -> Situation:
        """The meeting as a mechanism sees it that reads this, and no more."""
        known = self._views.get(reads)
        if known is None:
            base = self.base if reads & Reads.BASE else UNSEEN
            layers: Any = self.layers[: self.shown(reads)]
            if not reads & (Reads.REACHED | Reads.STACK):
                layers = Shown(layers)
            known = self._views[reads] = Situation(
                self.k,
                self.landing.seen(bool(reads & Reads.AIR), bool(reads & Reads.SCHOOLS)),
                layers,
                self.index,
                base,
                self.index if base is UNSEEN or base is None else len(self.layers) - 1,
                self.cover_um if reads & Reads.COVER else UNSEEN,
                self.medium if reads & Reads.MEDIUM else UNSEEN,
                self.grains if reads & Reads.GRAINS else UNSEEN,
                self.next if reads & (Reads.NEXT | Reads.STACK) else UNSEEN,
            )
            if reads & Reads.REACHED and self.at_min is not None and self.depth:  # `depth` finds the way down
                known.reached_min, known.reached, known.ahead = self.at_min, self._way_down, self.ahead
        return known


LEAST_SALT = 0.01  # of the zone, below which what is left of it is dust


def is_salt(layer: Layer) -> bool:
    """Whether salt grains lie there."""
    if layer.system is None or layer.coverage < LEAST_SALT:
        return False
    return layer.is_film(FilmClass.WATER_SOLUBLE) and layer.system.is_a(SystemRole.NO_FILM)


def live_medium(layers: tuple[Layer, ...]) -> Medium | None:
    """A chipping medium under other coats of which none seals it; None where it is met directly or sealed."""
    for i, layer in enumerate(layers):
        if layer.substrate is not None:
            return None
        if layer.is_film(FilmClass.WATER_SOLUBLE) and layer.is_for(Use.MEDIUM):
            above = layers[:i]
            sealed = any(
                a.coverage > COVERS and a.system is not None and a.system.is_a(SystemRole.SEALS) for a in above
            )
            return Medium(i, layer) if above and not sealed else None
    return None
