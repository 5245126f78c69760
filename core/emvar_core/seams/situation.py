"""What meets at a seam: the layers below as they are by then, and what lands on them or rubs over them.

A `Meeting` is the whole of it. A mechanism never gets that: it gets a `Situation`, which shows what the mechanism says
it reads (`Reads`) and nothing else. So what a verdict depends on is known, and a key made from it cannot be stale.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Sequence
from copy import copy
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from ..keys import APART, key_of
from ..knowledge import Coat, Knowledge, Substrate, System, Touch
from ..physics.air import Line
from ..physics.blend import NOTHING, Blend, carrier_words, hot_share, spirit_share
from ..physics.hardening import Drying, network
from ..plan.mixes import WET_UM
from ..vocabulary import (
    Basis,
    Contact,
    Edge,
    Event,
    FilmClass,
    FittingAction,
    Kind,
    Method,
    School,
    Sheen,
    SolventFamily,
    Trait,
    Use,
    WorkAction,
)

# Of an effect: thinner than this, and on less of the zone, it is a mark (assumption).
MARK_UM, STREWN = 6.0, 0.35
SPARSE = 0.15  # coverage below which a coat seals nothing in, and a mark is sparse
OVERNIGHT_MIN = 720.0  # after which a thin oil, still tacky, bears light passes (common practice)
WATERY = 0.4  # share of water from which a coat re-opens a chipping medium below
LASTS_S = 30.0  # wet for at least so long, for water to get that far


@dataclass(frozen=True)
class MethodFacts:
    """`arrives`: share of the carrier still in it on landing. `rub`: how much it moves what it opens, 0–1.
    `wet_cap_s`: how long it can be wet at most. `tool_um`: liquid that a wet tool leaves, µm. Common practice.
    `pools`: how much more hot solvent does where it lies in one wet sheet instead of passes, by its share (assumption).
    """

    arrives: float
    rub: float
    wet_cap_s: float | None = None
    tool_um: float = 20.0
    pools: float = 0.0


METHODS: dict[Method, MethodFacts] = {
    Method.MIST: MethodFacts(0.25, 0.05, 30),
    Method.SPRAY: MethodFacts(0.5, 0.12),
    Method.WET_SPRAY: MethodFacts(0.8, 0.28),
    Method.CAN: MethodFacts(0.5, 0.2, pools=0.7),
    Method.BRUSH: MethodFacts(1.0, 0.6),
    Method.SPONGE: MethodFacts(0.5, 0.25, 90),
    Method.DRY_BRUSH: MethodFacts(0.1, 0.3, 20),
    Method.WASH: MethodFacts(1.0, 0.55),
    Method.FLOOD: MethodFacts(1.0, 0.5, None, WET_UM[Method.FLOOD]),
    Method.SPECKLE: MethodFacts(0.6, 0.05, 240),
    Method.DUST: MethodFacts(0.0, 0.1, 0),
    Method.PLACE: MethodFacts(1.0, 0.1, 1800),
    Method.DAMP_WIPE: MethodFacts(1.0, 0.5, 30, 8),
    Method.WET_WIPE: MethodFacts(1.0, 0.75, 120, 40),
    Method.SCRUB: MethodFacts(1.0, 1.0, 60, 30),
    Method.DRY_TOOL: MethodFacts(0.0, 0.4, 0, 0),
}
CAN_RUB = METHODS[Method.CAN].rub  # up to which a thin, open film is misted on, which seals nothing in
LIGHT_PASS = METHODS[Method.SPRAY].rub  # a rub up to which a coat goes on in light passes


@dataclass(frozen=True)
class Layer:
    """One layer under a seam: a coat, or the base material where `substrate` is set.

    Its `key` holds all of it but what it is called, how old it is and how much of it is met.
    """

    step_id: str | None = field(metadata=APART)
    name: str = field(metadata=APART)
    film_um: float
    coverage: float = field(metadata=APART)
    sheen: Sheen | None
    material: Coat | None = None
    system: System | None = None
    substrate: Substrate | None = None
    drying: Drying | None = None
    carrier: Blend = NOTHING
    end_min: float = field(default=0.0, metadata=APART)
    starved: bool = False  # an oil thinned so far that it lacks binder
    of_zone: float = 1.0  # how much of its zone it covers; `coverage` is how much of what lands meets it
    scuffed: bool = False  # sanded or rubbed: what comes next keys to it
    bound: bool = False  # a powder that a cement, a paste or a fixer holds

    @cached_property
    def key(self) -> int:
        """Stands for what it is."""
        drying = self.drying
        own = self if drying is None else replace(self, drying=drying.moved(-drying.end_min, drying.line))
        return key_of(own)

    def told(self, step_id: str | None, name: str, drying: Drying | None) -> Layer:
        """The same by another name, and as old as its drying; `key` need not be made again."""
        end = self.end_min if drying is None else drying.end_min
        return self._with(step_id=step_id, name=name, drying=drying, end_min=end)

    def _with(self, **apart: Any) -> Layer:
        """The same but for what is no part of its key, which need not be made again."""
        made = object.__new__(Layer)
        made.__dict__.update(self.__dict__)
        made.__dict__.update(apart)
        return made

    def over_share(self, share: float) -> Layer:
        """The same, met by this share of what lands."""
        return self._with(coverage=share)

    def seen_from(self, at_min: float, line: Line | None, place: int) -> Layer:
        """The same as what lands at an instant meets it: by its place in the stack, with the instant as minute 0.

        `line`: the air from there on; None: its own, which is steady.
        """
        drying = self.drying
        if drying is not None:
            drying = drying.seen_from(at_min, line or drying.line)
        return self.told(None, token(place), drying)

    @property
    def is_loose(self) -> bool:
        """A powder that nothing holds."""
        return self.is_film(FilmClass.LOOSE) and not self.bound

    @property
    def is_mark(self) -> bool:
        """A thin mark of an effect: it smears where it is crossed, and does not wrinkle."""
        return self.is_for(Use.EFFECT) and self.film_um < MARK_UM and self.of_zone < STREWN

    @property
    def is_paint_mark(self) -> bool:
        """A thin mark of water-borne paint, a chip or a dry-brushed edge: crossed here and there, and hardly moved."""
        return self.film is FilmClass.DISPERSION and self.film_um < MARK_UM and self.of_zone < SPARSE

    def degree(self, at_min: float, edge: Edge) -> float:
        """Degree of hardening 0–1 at an instant, at one edge of its range; the base material is hard."""
        return 1.0 if self.drying is None else self.drying.degree(at_min, edge)

    def stiffness(self, at_min: float, edge: Edge) -> float:
        """How stiff it is at an instant, 0–1: of an oxidising film by its network, of others as they harden."""
        degree = self.degree(at_min, edge)
        oxidising = self.system is not None and self.system.film is FilmClass.OXIDISING
        return network(degree) if oxidising else degree

    def past(self, event: Event, at_min: float, edge: Edge) -> bool:
        """Whether an event of its hardening has come by then, at one edge of its range."""
        return self.drying is None or self.drying.has_come(event, at_min, edge)

    @property
    def is_porous(self) -> bool:
        """Loose powder or rubbed metal: nothing to dissolve, nothing to hold a carrier up."""
        return self.system is not None and (
            self.system.film is FilmClass.LOOSE or (self.system.film is FilmClass.RUBBED and not self.system.opened_by)
        )

    @property
    def film(self) -> FilmClass | None:
        """The class of its film; None for a bare base."""
        return None if self.system is None else self.system.film

    def has(self, trait: Trait) -> bool:
        return self.material is not None and trait in self.material.traits

    def is_for(self, *uses: Use) -> bool:
        return self.material is not None and self.material.use in uses

    def is_film(self, *films: FilmClass) -> bool:
        return self.system is not None and self.system.film in films

    @property
    def words(self) -> str:
        if self.substrate is not None:
            return f"the bare {self.substrate.name.split(',')[0].lower()}"
        return f"“{self.name}”"


# In what is judged layers have no names but their place, between marks that no name can hold; writing puts names in.
_OPEN, _SHUT = "\x02", "\x03"
_TOKEN = re.compile(f"{_OPEN}(\\d+){_SHUT}")


def token(place: int) -> str:
    """What stands for the name of the layer at a place, nearest first."""
    return f"{_OPEN}{place}{_SHUT}"


def named(text: str, names: Sequence[str]) -> str:
    """A text with the names of layers put in, nearest first.

    >>> named(f"“{token(1)}” is wet.", ["Wash", "Hull"])
    '“Hull” is wet.'
    """
    return _TOKEN.sub(lambda found: names[int(found[1])], text) if _OPEN in text else text


class Undeclared(RuntimeError):
    """A mechanism looked at what it does not say that it reads: a fault of the mechanism."""


class _Unseen:
    """What stands where a mechanism may not look."""

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)  # Python's own questions
        raise Undeclared(f"it reads '{name}' without saying so in `reads`")

    def _no(self, *_: Any) -> Any:
        raise Undeclared("it compares what it does not say that it reads")

    __lt__ = __gt__ = __le__ = __ge__ = __bool__ = __add__ = __mul__ = _no


UNSEEN: Any = _Unseen()


@dataclass(frozen=True)
class LandingAir:
    """The air that something lands in: °C, % humidity, coldest film temperature, dew point, warm air at the part."""

    temp_c: float = 20.0
    rh_pct: float = 50.0
    coldest_c: float | None = None
    dew_c: float | None = None
    heat_c: float | None = None


@dataclass(frozen=True)
class Landing:
    """What comes on top: a coat being laid, a carrier being worked with, or a touch.

    `liquid_um` µm of carrier that lands in a pass, `wet_s` seconds it stays, `rub` 0–1, `film_um` dry film of the coat.
    """

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
    work: WorkAction | None = None
    film_um: float = 0.0
    spirit: float = 0.0
    hot: float = 0.0
    water: float = 0.0
    shares: dict[SolventFamily, float] = field(default_factory=dict)
    touch: Touch | None = None
    passes: int = 1
    coverage: float = 1.0
    carrier_words: str = "nothing wet"
    alkaline: bool = False  # a cleaner with ammonia
    air: LandingAir = LandingAir()
    schools: dict[School, str] = field(default_factory=dict)
    wet: bool = field(init=False)  # whether a liquid lands that stays: without one nothing is got into
    _seen: dict[tuple[bool, bool], Landing] = field(
        default_factory=dict, init=False, repr=False, compare=False, metadata=APART
    )

    @cached_property
    def key(self) -> int:
        """Stands for all of it."""
        return key_of(self)

    @property
    def pools(self) -> float:
        """How much more its hot solvents do than in passes that flash off."""
        return 1.0 if self.method is None else 1.0 + METHODS[self.method].pools * self.hot

    @staticmethod
    def liquid(k: Knowledge, blend: Blend) -> dict[str, Any]:
        """What of a landing follows from its liquid alone."""
        return {
            "blend": blend,
            "spirit": spirit_share(k, blend),
            "hot": hot_share(k, blend),
            "water": blend.water,
            "shares": blend.family_shares(k),
            "carrier_words": carrier_words(k, blend),
        }

    def has(self, trait: Trait) -> bool:
        return self.material is not None and trait in self.material.traits

    def is_for(self, *uses: Use) -> bool:
        return self.material is not None and self.material.use in uses

    def __post_init__(self) -> None:
        object.__setattr__(self, "wet", bool(self.blend.parts) and self.wet_s > 0)

    @property
    def film(self) -> FilmClass | None:
        """The class of the film that lands; None for work and touches."""
        return None if self.system is None else self.system.film

    def seen(self, air: bool, schools: bool) -> Landing:
        """The landing as a mechanism sees it that reads its air, or the build's schools, or neither."""
        known = self._seen.get((air, schools))
        if known is None:
            known = copy(self)
            hidden = {name: UNSEEN for name, shown in (("air", air), ("schools", schools)) if not shown}
            vars(known).update(hidden, _seen={})
            self._seen[air, schools] = known
        return known


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
    basis: Basis
    why: Callable[[], str]
    layer: int | None = None  # of the layers below, nearest first; None: the one that is met
    event: Event | None = None  # the event of the layer's hardening that ends it, where one does
    school: School | None = None  # the pair of schools that it depends on, where one does
    _said: tuple[str, str] | None = None

    def on(self, met: int) -> int:
        """The layer that it speaks of, at a seam with the layer `met`."""
        return met if self.layer is None else self.layer

    @property
    def sentence(self) -> str:
        return self._words()[0]

    @property
    def rests_on(self) -> str:
        return self._words()[1]

    def _words(self) -> tuple[str, str]:
        if self._said is None:
            self._said = self.say(), self.why()
        return self._said


class Reads:
    """Bits: what a mechanism looks at, beside the layer that is met, what lies sparsely over it, and what lands."""

    MET = 0
    NEXT = 1  # the layer below the one that is met
    REACHED = 2  # every layer that the carrier gets into, and the one below
    STACK = 4  # all layers in sight
    BASE = 8  # the material of the model, however deep it lies in sight
    COVER = 16  # how thick it is covered, where that decides what gets to it
    MEDIUM = 32  # a live chipping medium somewhere below, where water could get to it
    AIR = 64  # the air that it lands in
    SCHOOLS = 128  # the schools of the build
    GRAINS = 256  # salt that is left somewhere below, where a film goes over it


@dataclass(frozen=True)
class Medium:
    """A live chipping medium under other coats that do not seal it, or grains that are left, and where that lies."""

    at: int
    layer: Layer


class Shown:
    """The layers that a mechanism may look at which does not say that it looks further: one that does raises."""

    __slots__ = ("_layers",)

    def __init__(self, layers: tuple[Layer, ...]) -> None:
        self._layers = layers

    def __getitem__(self, at: int) -> Layer:
        if not 0 <= at < len(self._layers):
            raise Undeclared(f"it looks at layer {at} without saying so in `reads`")
        return self._layers[at]

    def __iter__(self) -> Iterator[Layer]:
        raise Undeclared("it goes through all layers without saying so in `reads`")

    __len__ = __bool__ = _Unseen._no


class Situation:
    """A seam as one mechanism sees it: what lands, the layers that it may look at (nearest first), what it reads."""

    __slots__ = (
        "ahead", "base", "base_at", "cover_um", "grains", "index", "k", "landing", "layer", "layers", "medium", "next",
        "reached", "reached_edge", "reached_min",
    )  # fmt: skip

    def __init__(
        self, k: Knowledge, landing: Landing, layers: tuple[Layer, ...], index: int, base: Substrate | None,
        base_at: int, cover_um: float, medium: Medium | None, grains: Medium | None, below: Layer | None,
    ) -> None:  # fmt: skip
        self.next = below  # the layer under the one that is met
        self.k, self.landing, self.layers, self.index = k, landing, layers, index
        self.layer = layers[index]  # the one that is met
        self.base, self.base_at, self.cover_um = base, base_at, cover_um
        self.medium, self.grains = medium, grains
        # The way down at the instant that was asked for last: once for all mechanisms that see the same (`reach.py`).
        self.reached_min, self.reached_edge = math.nan, Edge.LATE
        self.reached: list[Any] = []
        self.ahead: list[Any] = []
