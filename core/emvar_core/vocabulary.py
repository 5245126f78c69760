"""The trade's enums and the plain values that every document is made of. Imports nothing of ours.

Each word here is one name for one thing, everywhere: in plan files, in the data, in the API and on the screen.
"""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from functools import lru_cache
from typing import Annotated, Any, Self

from pydantic import AfterValidator, AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

MAX_MINUTES = 366 * 24 * 60.0
PRACTICE = "common practice"
DEFER = (
    "The product's safety data sheet, local rules on solvents and waste, and qualified advice come first; "
    "this does not replace them."
)


class Word(StrEnum):
    """One of a closed set of words. Hashed as the text that it is: what an enum does of itself costs a call."""

    __hash__ = str.__hash__


class Model(BaseModel):
    """A plain value: frozen, and refusing fields that it does not know."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    @classmethod
    def stated(cls, **values: Any) -> Self:
        """A model of values that the core itself made, every field stated, without their being checked again.

        What pydantic's `model_construct` gives where no field is left out, at a tenth of its cost: an edit makes
        hundreds. Raises TypeError where a field is left out or is none of the model's.
        """
        if values.keys() != cls.__pydantic_fields__.keys():
            wrong = ", ".join(sorted(values.keys() ^ cls.__pydantic_fields__.keys()))
            raise TypeError(f"{cls.__name__} is stated with exactly its fields; look at {wrong}")
        made = cls.__new__(cls)
        put = object.__setattr__
        put(made, "__dict__", values)
        put(made, "__pydantic_fields_set__", cls._all_fields())
        put(made, "__pydantic_extra__", None)
        put(made, "__pydantic_private__", None)
        return made

    @classmethod
    @lru_cache(maxsize=200)
    def _all_fields(cls) -> set[str]:
        return set(cls.__pydantic_fields__)


# Direction marks that turn what stands after them round, and separators that break a line unseen.
TURNING = frozenset("\u061c\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")
BREAKING = frozenset("\u2028\u2029\u0085")


def _printable(text: str) -> str:
    for c in text:
        code = ord(c)
        if (code < 32 and c not in "\n\t") or 127 <= code < 160 or c in BREAKING:
            raise ValueError("control characters are not allowed")
        if c in TURNING:
            raise ValueError("characters that turn the direction of writing are not allowed")
        if 0xD800 <= code < 0xE000:
            raise ValueError("half of a character stands in it; write it again")
    return text


EARLIEST, LATEST = 1970, 2199  # years between which a plan can lie


def _in_our_time(at: datetime) -> datetime:
    if not EARLIEST <= at.year <= LATEST:
        raise ValueError(f"the year must lie between {EARLIEST} and {LATEST}")
    return at


Instant = Annotated[AwareDatetime, AfterValidator(_in_our_time)]
LEAST = 1e-6  # of any figure that has to be more than nothing


Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
Name = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=120),
    AfterValidator(_printable),
]
Text = Annotated[str, StringConstraints(max_length=4000), AfterValidator(_printable)]
Srgb = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$")]
Share = Annotated[float, Field(ge=0, le=1)]
Minutes = Annotated[float, Field(ge=0, le=MAX_MINUTES)]
Film = Annotated[float, Field(ge=LEAST, le=50000)]
Clock = Annotated[str, StringConstraints(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]


def when_words(at: datetime) -> str:
    """An instant as it is shown everywhere: Thu 3 Dec 20:45, by the wall of its own time zone."""
    return f"{at:%a} {at.day} {at:%b %H:%M}"


def day_words(at: datetime) -> str:
    """A day as it is shown: Thursday 3 Dec."""
    return f"{at:%A} {at.day} {at:%b}"


def capital(text: str) -> str:
    """The same words as they begin a sentence.

    >>> capital("a dry brush")
    'A dry brush'
    """
    return text[:1].upper() + text[1:]


# --- paint -----------------------------------------------------------------------------------------------------


class Sheen(Word):
    """How a dry film shines."""

    GLOSS = "gloss"
    SATIN = "satin"
    MATT = "matt"


class Place(Word):
    """Where in its zone a coat lies, or something is done."""

    ALL_OVER = "all_over"
    EDGES = "edges"
    RECESSES = "recesses"
    FASTENERS = "fasteners"
    RAISED = "raised"
    MIDDLES = "middles"
    UPWARD = "upward"
    LOW_BAND = "low_band"
    SOURCES = "sources"
    PATCH = "patch"
    SCATTERED = "scattered"


PLACE_WORDS = {
    Place.ALL_OVER: "all over",
    Place.EDGES: "on edges and corners",
    Place.RECESSES: "in recesses",
    Place.FASTENERS: "round fasteners",
    Place.RAISED: "on raised spots",
    Place.MIDDLES: "in panel middles",
    Place.UPWARD: "on upward faces",
    Place.LOW_BAND: "in a low band",
    Place.SOURCES: "under sources",
    Place.PATCH: "in a patch",
    Place.SCATTERED: "scattered",
}


class WaitBy(Word):
    """Who keeps a step's wait: a person has typed it, or the program keeps it at the earliest safe time."""

    PERSON = "person"
    PROGRAM = "program"


class FilmClass(Word):
    """How a film comes to be, which decides what can undo it."""

    EVAPORATING = "evaporating"
    OXIDISING = "oxidising"
    DISPERSION = "dispersion"
    WATER_SOLUBLE = "water_soluble"
    DECAL = "decal"
    LOOSE = "loose"
    CROSSLINKED = "crosslinked"
    RUBBED = "rubbed"
    UNKNOWN = "unknown"


class Use(Word):
    """What a coat is for."""

    PRIMER = "primer"
    COLOUR = "colour"
    CLEAR = "clear"
    EFFECT = "effect"
    MEDIUM = "medium"
    MARKING = "marking"
    PASTE = "paste"
    PUTTY = "putty"
    FIXER = "fixer"
    RUBBED = "rubbed"


class Surface(Word):
    """What wets and holds on a dry film: wax and grease lowest, then oil, gloss urethane, gloss alkyd, plain films."""

    PLAIN = "plain"
    OILY = "oily"
    WAXY = "waxy"
    POWDER = "powder"
    GLOSS_ALKYD = "gloss_alkyd"
    GLOSS_URETHANE = "gloss_urethane"
    UNKNOWN = "unknown"


class BaseSurface(Word):
    """What the bare material asks for before paint holds on it."""

    PLAIN = "plain"
    GREASY = "greasy"
    BARE_METAL = "bare_metal"
    VINYL = "vinyl"
    UNCURED = "uncured"
    POROUS = "porous"
    UNKNOWN = "unknown"


class SolventFamily(Word):
    """Solvents that act alike on films and plastics."""

    WATER = "water"
    ALCOHOL = "alcohol"
    GLYCOL = "glycol"
    GLYCOL_ETHER = "glycol_ether"
    KETONE = "ketone"
    SLOW_KETONE = "slow_ketone"
    FAST_ESTER = "fast_ester"
    SLOW_ESTER = "slow_ester"
    AROMATIC = "aromatic"
    ALIPHATIC = "aliphatic"
    TERPENE = "terpene"
    ETHER = "ether"
    ACID = "acid"


class SystemRole(Word):
    """What a paint system is to the trade, beyond its figures. Code asks for these, never for a system by its id."""

    OIL_LAYER = "oil_layer"  # oil or enamel work that one school seals before the next of its kind
    SEALS = "seals"  # a solvent clear of it ends a live chipping medium
    WASH = "wash"  # let down to several strengths from one bottle
    STARVES = "starves"  # thinned far, it lacks binder and re-opens for weeks
    BITES_MEDIUM = "bites_medium"  # laid over a chipping medium it seals it, so that nothing chips
    JUDGED_BY_WRINKLING = "judged_by_wrinkling"  # under spirit its wrinkling decides, not a wait of its own
    NO_FILM = "no_film"  # adds nothing to the film budget
    SELF_HEATING_RAGS = "self_heating_rags"
    FLAMMABLE_OVERSPRAY = "flammable_overspray"
    TUBE_PIGMENTS = "tube_pigments"  # its tubes may hold cadmium, cobalt or lead
    DUSTY = "dusty"
    SENSITISES = "sensitises"  # uncured it makes skin allergic, and a large cup of it runs hot
    COARSE = "coarse"  # ground so coarsely that fine needles clog


class Trait(Word):
    """What one coat does that others of its system do not."""

    KEYS_METAL = "keys_metal"
    METALLIC = "metallic"
    BLEEDS = "bleeds"
    WETS_OIL = "wets_oil"
    ISOCYANATE = "isocyanate"
    BARRIER = "barrier"  # a clear to put between two coats that do not bear each other
    KEEPS_WAY_BACK = "keeps_way_back"  # a clear to put under an effect so that it comes off alone
    SOAKS = "soaks"  # meant to soak into a bare base that drinks
    CHIPPING = "chipping"  # a medium to lay under a coat that is to be chipped


class ThinnerRole(Word):
    """What a liquid is reached for, beyond thinning."""

    RETARDS = "retards"  # keeps a film wet: too much leaves it tacky
    SLOWS = "slows"  # a slower thinner, against blushing
    WIPES = "wipes"  # usual for wiping and blending work
    SOFTENS_DECALS = "softens_decals"
    AMMONIA = "ammonia"
    HARDENS = "hardens"  # no thinner at all: what a two-pack paint cures by


class BudTest(Word):
    """Which bud was the first to take colour from a dried drop: water, white spirit, 70 % isopropanol, mild thinner."""

    WATER = "water"
    WHITE_SPIRIT = "white_spirit"
    ISOPROPANOL = "isopropanol"
    MILD_THINNER = "mild_thinner"
    NONE = "none"


class PigmentSpeed(Word):
    """How the pigment of an oil or enamel dries it: umbers fast; titanium white, cadmiums and blacks slow."""

    FAST = "fast"
    USUAL = "usual"
    SLOW = "slow"


class FlowCup(Word):
    """Flow cups; readings outside a cup's valid range are refused."""

    ISO_3 = "iso_3"
    ISO_4 = "iso_4"
    ISO_5 = "iso_5"
    ISO_6 = "iso_6"
    D1200_2 = "d1200_2"
    D1200_3 = "d1200_3"
    D1200_4 = "d1200_4"
    D4212_1 = "d4212_1"
    D4212_2 = "d4212_2"
    D4212_3 = "d4212_3"
    D4212_4 = "d4212_4"
    D4212_5 = "d4212_5"
    DIN_4 = "din_4"
    OWN = "own"  # a drip cup of one's own, calibrated in the kit


# --- a plan ----------------------------------------------------------------------------------------------------


class Movement(Word):
    """How the air moves."""

    STILL = "still"
    DRAUGHT = "draught"
    FAN = "fan"


class AidKind(Word):
    """What hurries drying."""

    FAN = "fan"
    WARM_AIR = "warm_air"
    CABINET = "cabinet"


class Role(Word):
    """What a part of a mix is in it."""

    PAINT = "paint"
    THINNER = "thinner"
    HARDENER = "hardener"
    RETARDER = "retarder"
    FLOW_IMPROVER = "flow_improver"
    PIGMENT = "pigment"
    BINDER = "binder"


class Unit(Word):
    """In what the parts of a mix are counted."""

    PARTS = "parts"
    PERCENT = "percent"
    DROPS = "drops"
    ML = "ml"
    GRAMS = "g"


class Method(Word):
    """How a coat or carrier gets onto the model; drives how wet it is, how long and how much it rubs."""

    MIST = "mist"
    SPRAY = "spray"
    WET_SPRAY = "wet_spray"
    CAN = "can"
    BRUSH = "brush"
    SPONGE = "sponge"
    DRY_BRUSH = "dry_brush"
    WASH = "wash"
    FLOOD = "flood"
    SPECKLE = "speckle"
    DUST = "dust"
    PLACE = "place"
    DAMP_WIPE = "damp_wipe"
    WET_WIPE = "wet_wipe"
    SCRUB = "scrub"
    DRY_TOOL = "dry_tool"


METHOD_WORDS: dict[Method, str] = {
    Method.MIST: "misted on",
    Method.SPRAY: "airbrushed, thin",
    Method.WET_SPRAY: "airbrushed, wet",
    Method.CAN: "spray can",
    Method.BRUSH: "brushed",
    Method.SPONGE: "sponged",
    Method.DRY_BRUSH: "dry-brushed",
    Method.WASH: "washed on",
    Method.FLOOD: "flooded",
    Method.SPECKLE: "speckled",
    Method.DUST: "dusted on",
    Method.PLACE: "placed",
    Method.DAMP_WIPE: "almost dry brush or bud",
    Method.WET_WIPE: "wet brush",
    Method.SCRUB: "scrubbed",
    Method.DRY_TOOL: "dry tool",
}
AIRBRUSHED = frozenset({Method.MIST, Method.SPRAY, Method.WET_SPRAY})
SPRAYED = AIRBRUSHED | {Method.CAN}
WORKED_WITH = (Method.DAMP_WIPE, Method.WET_WIPE, Method.SCRUB, Method.DRY_TOOL)
LAID_BY = tuple(m for m in Method if m not in WORKED_WITH)


class WorkAction(Word):
    """What is done to a coat while it can be worked."""

    WIPE = "wipe"
    BLEND = "blend"
    STREAK = "streak"
    CHIP = "chip"
    SCRAPE = "scrape"
    LIFT = "lift"
    SAND = "sand"
    POLISH = "polish"
    SCUFF = "scuff"
    SOFTEN = "soften"


# Done at once, while the coat is wet: only wiping has to wait until it is dry to the touch.
WHILE_WET = (WorkAction.BLEND, WorkAction.STREAK, WorkAction.LIFT)
ABRASIVE = frozenset({WorkAction.SAND, WorkAction.POLISH, WorkAction.SCUFF})
COVERS = 0.9  # coverage from which a coat covers, hides and seals (assumption)


class FittingAction(Word):
    """What is done to a part, or to a zone, without laying a coat."""

    MASK = "mask"
    UNMASK = "unmask"
    HANDLE = "handle"
    GLUE = "glue"
    REMOVE = "remove"
    FIT = "fit"
    INSPECT = "inspect"
    WASH = "wash"
    DEGREASE = "degrease"
    WET = "wet"
    TURN_OVER = "turn_over"
    REFIT = "refit"
    SET_OUT = "set_out"


JOINS = (FittingAction.GLUE, FittingAction.FIT)
# What is done with the part in the hand, or presses on it: it holds what else is on the part (common practice).
TOUCHES_NOTHING = frozenset({FittingAction.INSPECT, FittingAction.SET_OUT})  # of the model
HOLDS = frozenset(FittingAction) - TOUCHES_NOTHING - {FittingAction.WET, FittingAction.REMOVE}
PRESSES = frozenset({WorkAction.CHIP, WorkAction.SCRAPE, WorkAction.SAND, WorkAction.POLISH, WorkAction.SCUFF})


class School(Word):
    """The pairs of schools of the trade. A plan names the side it takes; an absent pair is undecided."""

    CLEAR_BEFORE_DECALS = "clear_before_decals"
    SEALING = "sealing"
    CHIPPING = "chipping"
    FILTER = "filter"
    PIGMENT = "pigment"
    CHIP_ORDER = "chip_order"
    RUST_AND_DIRT = "rust_and_dirt"
    ASSEMBLY = "assembly"


class Side(Word):
    """The sides of the schools."""

    GLOSS_FIRST = "gloss_first"
    STRAIGHT_ON = "straight_on"
    SEAL_BETWEEN = "seal_between"
    LET_IT_HARDEN = "let_it_harden"
    HAIRSPRAY = "hairspray"
    CHIPPING_MEDIUM = "chipping_medium"
    FILTER_FIRST = "filter_first"
    FADE_WITH_DOTS = "fade_with_dots"
    LOOSE = "loose"
    BOUND = "bound"
    LIGHT_THEN_DARK = "light_then_dark"
    BY_REMOVAL = "by_removal"
    RUST_UNDER_DIRT = "rust_under_dirt"
    RUST_LAST = "rust_last"
    ASSEMBLE_THEN_PAINT = "assemble_then_paint"
    FIT_LATE = "fit_late"


SCHOOL_SIDES: dict[School, tuple[Side, Side]] = {
    School.CLEAR_BEFORE_DECALS: (Side.GLOSS_FIRST, Side.STRAIGHT_ON),
    School.SEALING: (Side.SEAL_BETWEEN, Side.LET_IT_HARDEN),
    School.CHIPPING: (Side.HAIRSPRAY, Side.CHIPPING_MEDIUM),
    School.FILTER: (Side.FILTER_FIRST, Side.FADE_WITH_DOTS),
    School.PIGMENT: (Side.LOOSE, Side.BOUND),
    School.CHIP_ORDER: (Side.LIGHT_THEN_DARK, Side.BY_REMOVAL),
    School.RUST_AND_DIRT: (Side.RUST_UNDER_DIRT, Side.RUST_LAST),
    School.ASSEMBLY: (Side.ASSEMBLE_THEN_PAINT, Side.FIT_LATE),
}


class TechniqueTag(Word):
    """What a technique is, for the rules of order."""

    RUST = "rust"
    DIRT = "dirt"
    CHIP_LIGHT = "chip_light"
    CHIP_DARK = "chip_dark"
    BY_REMOVAL = "by_removal"
    FILTER = "filter"
    WASH = "wash"
    DOTS = "dots"
    OIL = "oil"
    SEAL = "seal"
    METAL = "metal"
    WET = "wet"
    LOOSE = "loose"
    BOUND = "bound"


class Carrier(Word):
    """What a technique or a film is worked with, in one word."""

    SPIRIT = "spirit"
    WATER = "water"
    ALCOHOL = "alcohol"


class Weekday(Word):
    """Days of the week, Monday first."""

    MON = "mon"
    TUE = "tue"
    WED = "wed"
    THU = "thu"
    FRI = "fri"
    SAT = "sat"
    SUN = "sun"


DAY_NAMES = dict(
    zip(Weekday, ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"), strict=True)
)


class Goal(Word):
    """What a schedule aims for; their order in a plan's hours is the user's."""

    FINISH = "finish"
    SETUPS = "setups"
    SITTINGS = "sittings"
    SLACK = "slack"


# --- verdicts --------------------------------------------------------------------------------------------------


class Edge(Word):
    """Which end of a range is meant: the hopeful, the best guess, or the careful one."""

    EARLY = "early"
    BEST = "best"
    LATE = "late"


class Event(Word):
    """What a film is hard enough for, in the order in which it comes."""

    TOUCH = "touch"
    RECOAT = "recoat"
    TAPE = "tape"
    SPIRIT = "spirit"
    HARD = "hard"


class FilmState(Word):
    """What a film is like, from wet to hard."""

    WET = "wet"
    WORKABLE = "workable"
    SOFT = "soft"
    FIRM = "firm"
    HARD = "hard"
    POWDER = "powder"


class Rescued(Word):
    """How a step can be taken off: clean, with care, or not without hurting what lies below."""

    CLEAN = "clean"
    CARE = "care"
    NONE = "none"
    NOT_YET = "not_yet"


class Urgency(Word):
    """What has to happen before one leaves."""

    NOW = "now"
    HEED = "heed"
    LEAVE = "leave"


class Purpose(Word):
    """What spraying is for."""

    EVEN = "even"
    GLOSS = "gloss"
    LINE = "line"
    MOTTLE = "mottle"
    PRESHADE = "preshade"
    DUST = "dust"


class SprayZone(Word):
    """What the paint does at a point of the map."""

    GRAINY = "grainy"
    DRY = "dry"
    GOOD = "good"
    WET = "wet"
    RUNS = "runs"


class Contact(Word):
    """How two things meet: a coat on a coat, work on a coat, a touch."""

    LAY = "lay"
    WORK = "work"
    TOUCH = "touch"


class Verdict(Word):
    """In order of gravity; lists and scores sort by `grave`."""

    SOUND = "sound"
    CAUTION = "caution"
    WAIT = "wait"
    CLASH = "clash"

    @property
    def grave(self) -> int:
        return _GRAVITY[self]


_GRAVITY = {verdict: i for i, verdict in enumerate(Verdict)}


class Kind(Word):
    """What a finding or remark is about."""

    DAMAGE = "damage"
    HOLD = "hold"
    LOOK = "look"
    TIMING = "timing"
    MIX = "mix"
    ORDER = "order"


class Basis(Word):
    """What a verdict rests on."""

    MODEL = "model"
    RULE = "rule"
    PRACTICE = "practice"
    UNKNOWN = "unknown"
    TRIAL = "trial"


class Sure(Word):
    """How far a verdict lies from another one."""

    FIRM = "firm"
    FAIR = "fair"
    OPEN = "open"
