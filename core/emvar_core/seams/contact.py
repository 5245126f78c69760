"""What meets at a seam: the layer below as it is by then, and what lands on it or rubs over it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum

from ..drying.clock import Drying, Edge
from ..materials import Coat, FilmClass, Knowledge, Substrate, System, Touch
from ..mixing import Blend
from ..plan import FittingAction, Method, School, Sheen


class Contact(StrEnum):
    LAY = "lay"
    WORK = "work"
    TOUCH = "touch"


class Verdict(StrEnum):
    """In order of gravity; lists and scores sort by `grave`."""

    SOUND = "sound"
    CAUTION = "caution"
    WAIT = "wait"
    CLASH = "clash"

    @property
    def grave(self) -> int:
        return list(Verdict).index(self)


class Kind(StrEnum):
    DAMAGE = "damage"
    HOLD = "hold"
    LOOK = "look"
    TIMING = "timing"


NOTHING = Blend(())


@dataclass(frozen=True)
class MethodFacts:
    """`arrives`: share of the carrier still in it on landing. `rub`: how much it moves what it opens, 0–1.
    `wet_cap_s`: how long it can be wet at most. `tool_um`: liquid that a wet tool leaves, µm. Common practice."""

    arrives: float
    rub: float
    wet_cap_s: float | None = None
    tool_um: float = 20.0


METHODS: dict[Method, MethodFacts] = {
    Method.MIST: MethodFacts(0.25, 0.05, 30),
    Method.SPRAY: MethodFacts(0.5, 0.12),
    Method.WET_SPRAY: MethodFacts(0.8, 0.25),
    Method.CAN: MethodFacts(0.5, 0.2),
    Method.BRUSH: MethodFacts(1.0, 0.6),
    Method.SPONGE: MethodFacts(0.5, 0.25, 90),
    Method.DRY_BRUSH: MethodFacts(0.1, 0.3, 20),
    Method.WASH: MethodFacts(1.0, 0.55),
    Method.FLOOD: MethodFacts(1.0, 0.5, None, 80),
    Method.SPECKLE: MethodFacts(0.6, 0.05, 240),
    Method.DUST: MethodFacts(0.0, 0.1, 0),
    Method.PLACE: MethodFacts(1.0, 0.1, 1800),
    Method.DAMP_WIPE: MethodFacts(1.0, 0.5, 30, 8),
    Method.WET_WIPE: MethodFacts(1.0, 0.75, 120, 40),
    Method.SCRUB: MethodFacts(1.0, 1.0, 60, 30),
    Method.DRY_TOOL: MethodFacts(0.0, 0.4, 0, 0),
}


@dataclass(frozen=True)
class Layer:
    """One layer under a seam: a coat, or the base material where `substrate` is set."""

    step_id: str | None
    name: str
    film_um: float
    coverage: float
    sheen: Sheen | None
    material: Coat | None = None
    system: System | None = None
    substrate: Substrate | None = None
    drying: Drying | None = None
    carrier: Blend = NOTHING
    end_min: float = 0.0
    starved: bool = False  # an oil thinned so far that it lacks binder

    def degree(self, at_min: float, edge: Edge) -> float:
        return 1.0 if self.drying is None else self.drying.degree(at_min, edge)

    def past(self, event: str, at_min: float, edge: Edge) -> bool:
        """Whether an event of its hardening has come by then, at one edge of its range."""
        return self.drying is None or at_min >= self.drying.event(event, edge) - 1e-6

    @property
    def is_porous(self) -> bool:
        """Loose powder or rubbed metal: nothing to dissolve, nothing to hold a carrier up."""
        return self.system is not None and (
            self.system.film is FilmClass.LOOSE or (self.system.film is FilmClass.RUBBED and not self.system.opened_by)
        )

    def has(self, trait: str) -> bool:
        return self.material is not None and trait in self.material.traits

    def has_use(self, use: str) -> bool:
        return self.material is not None and self.material.use == use

    def is_film(self, *films: FilmClass) -> bool:
        return self.system is not None and self.system.film in films

    @property
    def words(self) -> str:
        if self.substrate is not None:
            return f"the bare {self.substrate.name.split(',')[0].lower()}"
        return f"“{self.name}”"


@dataclass(frozen=True)
class Landing:
    """What comes on top: a coat being laid, a carrier being worked with, or a touch."""

    name: str
    contact: Contact
    method: Method | None
    blend: Blend
    liquid_um: float
    wet_s: float
    rub: float
    material: Coat | None = None
    system: System | None = None
    sheen: Sheen | None = None
    action: FittingAction | None = None
    coldest_c: float | None = None
    dew_c: float | None = None
    temp_c: float = 20.0
    rh_pct: float = 50.0
    film_um: float = 0.0
    schools: dict[School, str] = field(default_factory=dict)
    spirit: float = 0.0
    hot: float = 0.0
    shares: dict[str, float] = field(default_factory=dict)
    touch: Touch | None = None
    passes: int = 1
    coverage: float = 1.0
    heat_c: float | None = None

    def has(self, trait: str) -> bool:
        return self.material is not None and trait in self.material.traits

    @property
    def water(self) -> float:
        return self.blend.water

    @property
    def carrier_words(self) -> str:
        shares = self.shares
        if not shares:
            return "nothing wet"
        if shares.get("water", 0) >= 0.6:
            return "water"
        if self.spirit >= 0.5:
            return "white spirit"
        if shares.get("alcohol", 0) >= 0.35 or shares.get("alcohol", 0) + shares.get("water", 0) >= 0.6:
            return "alcohol"
        if shares.get("ketone", 0) + shares.get("aromatic", 0) + shares.get("fast_ester", 0) >= 0.4:
            return "hot thinner"
        if self.hot >= 0.2:
            return "lacquer thinner"
        return "carrier"


@dataclass(slots=True)
class Finding:
    """One mechanism at work at a seam, in one scenario.

    `say` and `why` make the sentence and the basis when they are asked for: most findings are only weighed.
    """

    mechanism: str
    kind: Kind
    severity: float
    word: str
    say: Callable[[], str]
    advice: str
    basis: str
    why: Callable[[], str]
    layer: int | None = None  # of the layers below, nearest first; None: the one that is met
    event: str | None = None  # the event of the layer's hardening that ends it, where one does
    school: School | None = None  # the pair of schools that it depends on, where one does

    def on(self, met: int) -> int:
        """The layer that it speaks of, at a seam with the layer `met`."""
        return met if self.layer is None else self.layer

    @property
    def sentence(self) -> str:
        return self.say()

    @property
    def rests_on(self) -> str:
        return self.why()


@dataclass(frozen=True)
class Reach:
    """How deep the carrier goes: share of a layer's thickness that it gets into while wet."""

    layer: int
    share: float
    power: float
    red: float | None


@dataclass(frozen=True)
class Situation:
    """A seam to be judged: the landing, the layers below (nearest first), the exposed one being met."""

    k: Knowledge
    landing: Landing
    layers: tuple[Layer, ...]
    index: int = 0
    # What happens here at any time, found once: most of what is judged does not depend on the instant.
    timeless: list[list[Finding]] = field(default_factory=list, compare=False, repr=False)

    @property
    def layer(self) -> Layer:
        return self.layers[self.index]

    @property
    def base(self) -> Substrate | None:
        """What the model is made of, where the stack is short enough to see it."""
        return self.layers[-1].substrate

    def cover_um(self) -> float:
        """Film that covers the base whole, µm: sparse effects protect nothing."""
        return sum(layer.film_um for layer in self.layers if layer.substrate is None and layer.coverage > 0.9)


PRACTICE = "common practice"


def cap(text: str) -> str:
    return text[:1].upper() + text[1:]
