"""The trade's enums in the trade's words, as they stand in front of people: one place, for every screen."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..knowledge import Coat, Knowledge
from ..physics.spray import LETTER_OF
from ..physics.viscosity import WORDS as THICKNESSES
from ..vocabulary import (
    ABRASIVE,
    LAID_BY,
    METHOD_WORDS,
    PLACE_WORDS,
    WORKED_WITH,
    AidKind,
    Basis,
    BudTest,
    Carrier,
    Event,
    FilmClass,
    FilmState,
    FittingAction,
    Goal,
    Kind,
    Method,
    Model,
    Rescued,
    Role,
    School,
    Side,
    SprayZone,
    Sure,
    ThinnerRole,
    Unit,
    Urgency,
    Use,
    WorkAction,
)

ACTIONS: dict[WorkAction | FittingAction, str] = {
    WorkAction.WIPE: "Wipe back",
    WorkAction.BLEND: "Blend",
    WorkAction.STREAK: "Drag into streaks",
    WorkAction.CHIP: "Chip",
    WorkAction.SCRAPE: "Scrape",
    WorkAction.LIFT: "Lift single marks",
    WorkAction.SAND: "Sand",
    WorkAction.POLISH: "Polish",
    WorkAction.SCUFF: "Scuff or rub",
    WorkAction.SOFTEN: "Setting fluid or softener",
    FittingAction.MASK: "Mask",
    FittingAction.UNMASK: "Unmask",
    FittingAction.HANDLE: "Handle",
    FittingAction.GLUE: "Glue",
    FittingAction.REMOVE: "Take a part off",
    FittingAction.FIT: "Fit a part",
    FittingAction.INSPECT: "Inspect",
    FittingAction.WASH: "Wash",
    FittingAction.DEGREASE: "Degrease",
    FittingAction.WET: "Wet or mist",
    FittingAction.TURN_OVER: "Turn over",
    FittingAction.REFIT: "Put a part back on",
    FittingAction.SET_OUT: "Put paint out on card",
}
BASES: dict[Basis, str] = {
    Basis.MODEL: "Computed",
    Basis.RULE: "By rule",
    Basis.PRACTICE: "Common practice",
    Basis.UNKNOWN: "Nothing to go by",
    Basis.TRIAL: "Your own trial",
}
SURES: dict[Sure, str] = {Sure.FIRM: "clear-cut", Sure.FAIR: "fairly sure", Sure.OPEN: "could go either way"}
KINDS: dict[Kind, str] = {
    Kind.DAMAGE: "damage",
    Kind.HOLD: "poor hold",
    Kind.LOOK: "spoiled look",
    Kind.MIX: "the mix",
    Kind.ORDER: "the order",
    Kind.TIMING: "timing",
}
SCHOOLS: dict[School, tuple[str, dict[Side, str]]] = {
    School.CLEAR_BEFORE_DECALS: (
        "Before decals and washes",
        {
            Side.GLOSS_FIRST: "gloss first, always",
            Side.STRAIGHT_ON: "straight on: smooth satin or tight matt is enough",
        },
    ),
    School.SEALING: (
        "Between oil and enamel layers",
        {Side.SEAL_BETWEEN: "seal each with a clear", Side.LET_IT_HARDEN: "never seal, let it harden"},
    ),
    School.CHIPPING: (
        "Chips through the top colour",
        {
            Side.HAIRSPRAY: "hairspray: strong, big, less predictable",
            Side.CHIPPING_MEDIUM: "chipping medium: finer, predictable",
        },
    ),
    School.FILTER: (
        "Unifying the colours",
        {Side.FILTER_FIRST: "a filter, before the wash", Side.FADE_WITH_DOTS: "oil dots in its place"},
    ),
    School.PIGMENT: (
        "Pigments",
        {Side.LOOSE: "loose, with spirit only", Side.BOUND: "bound with fixer or cement"},
    ),
    School.CHIP_ORDER: (
        "Painted chips",
        {
            Side.LIGHT_THEN_DARK: "light scratches, dark cores inside",
            Side.BY_REMOVAL: "by removal: real layers show",
        },
    ),
    School.RUST_AND_DIRT: (
        "Rust and dirt",
        {Side.RUST_UNDER_DIRT: "rust under the dirt", Side.RUST_LAST: "rust last, fresh runs over it"},
    ),
    School.ASSEMBLY: (
        "Assembly",
        {
            Side.ASSEMBLE_THEN_PAINT: "assemble, then paint",
            Side.FIT_LATE: "paint parts apart, fit late",
        },
    ),
}
BUDS: dict[BudTest, str] = {
    BudTest.WATER: "water coloured the bud",
    BudTest.WHITE_SPIRIT: "white spirit coloured it",
    BudTest.ISOPROPANOL: "70 % isopropanol coloured it",
    BudTest.MILD_THINNER: "mild lacquer thinner coloured it",
    BudTest.NONE: "none of them did",
}
GOALS: dict[Goal, str] = {
    Goal.FINISH: "the earliest finish",
    Goal.SETUPS: "the fewest set-ups",
    Goal.SITTINGS: "the fewest sittings",
    Goal.SLACK: "the most slack to closing windows",
}


EVENTS: dict[Event, str] = {
    Event.TOUCH: "dry to the touch",
    Event.RECOAT: "another coat",
    Event.TAPE: "low-tack tape",
    Event.SPIRIT: "white-spirit work",
    Event.HARD: "hard",
}
READY: dict[Event, str] = {
    Event.TOUCH: "once the coat is dry to the touch",
    Event.RECOAT: "once another coat could go on",
    Event.TAPE: "once the coat bears low-tack tape",
    Event.SPIRIT: "once the coat bears white spirit",
    Event.HARD: "once the coat is hard",
}
USES: dict[Use, str] = {
    Use.PRIMER: "Primers",
    Use.COLOUR: "Colours",
    Use.CLEAR: "Clears",
    Use.EFFECT: "Washes, oils and effects",
    Use.MEDIUM: "Chipping media",
    Use.MARKING: "Markings",
    Use.PASTE: "Pastes and glues",
    Use.FIXER: "Fixers",
    Use.PUTTY: "Putties",
    Use.RUBBED: "Rubbed on",
}
STAGES: dict[int, str] = {
    3: "Priming",
    4: "Colour",
    5: "Chipping layers and markings",
    6: "Gloss and decals",
    7: "Filters and washes",
    8: "Chips and edges",
    9: "Oils and streaks",
    10: "Unifying clear",
    11: "Dust, mud, wet and late parts",
}
AIDS: dict[AidKind, str] = {
    AidKind.FAN: "a fan",
    AidKind.WARM_AIR: "warm air",
    AidKind.CABINET: "a drying cabinet",
}
FILMS: dict[FilmState, str] = {
    FilmState.WET: "wet",
    FilmState.WORKABLE: "workable",
    FilmState.SOFT: "soft",
    FilmState.FIRM: "firm",
    FilmState.HARD: "hard",
    FilmState.POWDER: "loose powder",
}
# What happens to a film as it hardens (`Drying.all_events`), in the order in which it is read.
HARDENING: dict[str, str] = {
    "touch": "dry to the touch",
    "same_until": "own system: until",
    "same": "own system again",
    "recoat": "another coat",
    "tack_until": "tack for pigment ends",
    "tape": "tape, handling",
    "spirit": "white-spirit work",
    "hard": "hard",
    "cured": "cured through",
}
RESCUED: dict[Rescued, str] = {
    Rescued.CLEAN: "comes off clean",
    Rescued.CARE: "comes off with care",
    Rescued.NONE: "no way back",
    Rescued.NOT_YET: "not there",
}
PARKED: dict[Urgency, str] = {
    Urgency.NOW: "Before you go",
    Urgency.HEED: "Heed while you are away",
    Urgency.LEAVE: "May be left",
}
SPRAYED: dict[SprayZone, str] = {
    SprayZone.GRAINY: "spatters",
    SprayZone.DRY: "dusty",
    SprayZone.GOOD: "even",
    SprayZone.WET: "wet",
    SprayZone.RUNS: "runs, spiders",
}
# What a search is after beside the goals: nothing yet, what is broken already, and what it tries.
SEARCHES: dict[str, str] = {
    "": "a first schedule",
    "broken": "what breaks least",
    "changes": "changes",
    "what_if": "questions",
}
UNITS: dict[Unit, str] = {
    Unit.PARTS: "parts",
    Unit.PERCENT: "%",
    Unit.DROPS: "drops",
    Unit.ML: "mL",
    Unit.GRAMS: "g",
}


class Word(Model):
    """One value of an enum, and the word for it."""

    id: str
    words: str


class SchoolWords(Model):
    """A pair of schools: what it is about, and its sides."""

    id: str
    title: str
    sides: list[Word]


class SprayWord(Word):
    """What paint does at a point of the map, and the letter that stands for it there."""

    letter: str


class Words(Model):
    """Every enum that people see, in its order. `laid_by` and `worked_with` are the methods of coats and of work;
    `ready` says from when on, after an event of hardening; `stages` are those of techniques; `films` the states of a
    film, `hardening` its events in time; `thicknesses` what paint is compared with, from thin to thick;
    `leaves` what each kind of work usually leaves of a coat; `tools` what people work with; `spelt` other spellings of
    a word, `meant` phrases of the trade and the ids of what is meant."""

    laid_by: list[Word]
    worked_with: list[Word]
    actions: list[Word]
    fittings: list[Word]
    bases: list[Word]
    sures: list[Word]
    kinds: list[Word]
    schools: list[SchoolWords]
    buds: list[Word]
    goals: list[Word]
    events: list[Word]
    ready: list[Word]
    uses: list[Word]
    stages: list[Word]
    aids: list[Word]
    films: list[Word]
    hardening: list[Word]
    rescued: list[Word]
    parked: list[Word]
    sprayed: list[SprayWord]
    roles: list[Word]
    units: list[Word]
    thicknesses: list[str]
    searches: list[Word]
    places: list[Word]
    leaves: dict[str, float]
    tools: list[str]
    spelt: dict[str, str]
    meant: dict[str, list[str]]


class Work(Model):
    """A kind of work that a coat takes, with what it is usually done: carrier, tool, what is left of the coat."""

    action: WorkAction
    carrier: str | None
    method: Method
    leaves: float
    words: str


def words(k: Knowledge) -> Words:
    """The words of all enums."""
    return Words(
        laid_by=[Word(id=m, words=METHOD_WORDS[m]) for m in LAID_BY],
        worked_with=[Word(id=m, words=METHOD_WORDS[m]) for m in WORKED_WITH],
        actions=_all(ACTIONS),
        fittings=[Word(id=a, words=ACTIONS[a]) for a in FittingAction],
        bases=_all(BASES),
        sures=_all(SURES),
        kinds=_all(KINDS),
        schools=[SchoolWords(id=s, title=title, sides=_all(sides)) for s, (title, sides) in SCHOOLS.items()],
        buds=_all(BUDS),
        goals=_all(GOALS),
        events=_all(EVENTS),
        ready=_all(READY),
        uses=_all(USES),
        stages=_all(STAGES),
        aids=_all(AIDS),
        films=_all(FILMS),
        hardening=_all(HARDENING),
        rescued=_all(RESCUED),
        parked=_all(PARKED),
        sprayed=[SprayWord(id=z, words=SPRAYED[z], letter=LETTER_OF[z]) for z in SprayZone],
        roles=[Word(id=r, words=r.value.replace("_", " ")) for r in Role],
        units=_all(UNITS),
        thicknesses=[word for word, _, _ in THICKNESSES],
        searches=_all(SEARCHES),
        places=_all(PLACE_WORDS),
        leaves={a.value: facts.leaves for a, facts in k.work.items()},
        tools=list(k.tools),
        spelt=dict(k.spelt),
        meant={phrase: list(ids) for phrase, ids in k.meant.items()},
    )


def _all(of: Mapping[Any, str]) -> list[Word]:
    return [Word(id=str(key), words=text) for key, text in of.items()]


# What is sanded, scuffed and polished: what covers, and holds as a film.
ABRADED = (Use.PRIMER, Use.COLOUR, Use.CLEAR, Use.PASTE, Use.PUTTY)
ABRADED_FILMS = (
    FilmClass.EVAPORATING,
    FilmClass.OXIDISING,
    FilmClass.DISPERSION,
    FilmClass.CROSSLINKED,
    FilmClass.UNKNOWN,
)


def works_of(k: Knowledge, coat: Coat) -> list[Work]:
    """The kinds of work that a coat takes: those that its system has a window for, and chipping of a colour."""
    windows = k.systems[coat.system].windows
    works = []
    for action, facts in k.work.items():
        like = WorkAction.WIPE if action is WorkAction.LIFT else action  # marks are lifted from what is wiped
        by: Carrier | None = windows[like].by if like in windows else None
        if by is None and action is WorkAction.CHIP and coat.use is Use.COLOUR:
            by = facts.carrier
        carrier = k.carriers[by].usual if by is not None else None
        if action is WorkAction.SOFTEN and coat.use is Use.MARKING:
            carrier = next((t.id for t in k.thinners_that(ThinnerRole.SOFTENS_DECALS)), None)
        abraded = action in ABRASIVE and coat.use in ABRADED and k.systems[coat.system].film in ABRADED_FILMS
        if carrier is not None or abraded:
            works.append(
                Work(action=action, carrier=carrier, method=facts.method, leaves=facts.leaves, words=facts.words)
            )
    return works
