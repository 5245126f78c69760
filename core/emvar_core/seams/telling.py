"""How sure a verdict is, what would change it, and the physical check that proves a wait is over.

All of it is common practice or follows from the margins of the judgement; docs/models.md §1 says how.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..materials import FilmClass
from .contact import Contact, Finding, Situation, Verdict

UNDECIDED_RED = (0.9, 1.1)
FIRM_MARGIN, FAIR_MARGIN = 0.12, 0.05


class Sure(StrEnum):
    """How far a verdict lies from another one."""

    FIRM = "firm"
    FAIR = "fair"
    OPEN = "open"


@dataclass(frozen=True)
class Telling:
    """What is said besides the verdict. Empty strings where there is nothing to say."""

    sure: Sure = Sure.FIRM
    would_change: str = ""
    disputed: str = ""
    check: str = ""
    if_fails: str = ""
    assumes: str = ""


NOTHING_TOLD = Telling()

WOULD_CHANGE = {
    "wrinkle": "more or less hardening by then, a milder thinner, a drier pass, or the paint's own recoat figures",
    "swell": "a milder thinner or drier passes",
    "lift": "more time, a drier tool, or a clear of another system between",
    "reopen": "another carrier, a drier method, or a bud test that stays clean",
    "craze": "a milder thinner, a drier pass, or a trial on the sprue",
    "still_wet": "only time and moving air",
    "too_early": "time, warmth and moving air; the product's own figures win",
    "hard_over_soft": "a through-dry lower coat or a softer upper one",
    "blush": "drier air, a warmer part or a slower thinner",
    "beads": "a dull, dry surface or a mist of solvent clear first",
    "silvers": "a gloss surface, softener, and no air under the film",
    "stains": "a gloss or satin clear first",
    "cold": "a warmer bench and warmer paint",
    "unknown": "a bud test of a hidden spot, or knowing what it is",
    "live_medium": "a solvent clear misted over the medium",
    "stress_crack": "an eased fit, sealed joints or a water-borne wash",
    "vinyl": "a water-borne primer on every face",
    "bleeds": "a water-borne clear between",
    "softener": "a clear over the paint or a mild softener",
    "pigment_lost": "a fixer from the edge in place of a coat, or no coat",
    "sinks": "days for the putty to shrink",
    "ammonia": "a day more, or tape",
}

CHECKS: dict[str, tuple[str, str]] = {
    "touch": (
        "Touch an edge where nobody looks: it does not stick and takes no print.",
        "Leave it an hour in moving air and try again; if it stays sticky for a day, it was laid "
        "too thick or sealed in.",
    ),
    "recoat": (
        "Shut the part in a box for ten minutes: it must not smell of solvent when you open it.",
        "Give it another evening in moving air before anything goes over it.",
    ),
    "recoat_oxidising": (
        "Press a thumbnail into a hidden spot: no mark. Then a bud with the next thinner on a scrap of the same age: "
        "it stays clean and the film flat.",
        "Wait two more days, or put a clear of another system between and test that on the scrap.",
    ),
    "fused": (
        "A damp bud on a hidden spot stays clean.",
        "Warm the room and wait some hours more: its particles have not run together yet.",
    ),
    "spirit": (
        "Ten minutes in a closed box without a smell of solvent; then a bud with white spirit on a hidden spot "
        "stays clean.",
        "Wait until tomorrow evening; if the bud still colours, put a clear of another system over it first.",
    ),
    "tape": (
        "A thumbnail leaves no mark in a hidden spot, and a strip of the tape, stuck there for a minute, "
        "lifts nothing.",
        "Give it another night; take more tack off the tape on your hand.",
    ),
    "hard": (
        "A thumbnail leaves no mark, and a finger held on it for ten seconds no print.",
        "Hold the model by a handle and give it some days more.",
    ),
}


def tell(s: Situation, verdict: Verdict, careful: list[Finding], hopeful: Verdict | None, reds: list[float]) -> Telling:
    """What goes with a verdict. `hopeful`: the level at the best guess, where it was asked for."""
    worst = max((f.severity for f in careful), default=0.0)
    first = careful[0] if careful else None
    undecided = any(UNDECIDED_RED[0] <= red <= UNDECIDED_RED[1] for red in reds) and worst >= 0.1
    margin = min(abs(worst - 0.2), abs(worst - 0.5)) if worst < 0.8 else 1.0
    sure = Sure.FIRM if margin >= FIRM_MARGIN else Sure.FAIR if margin >= FAIR_MARGIN else Sure.OPEN
    if verdict is Verdict.SOUND:
        if worst < 0.1:
            return NOTHING_TOLD
        return Telling(Sure.FAIR if worst < 0.15 else Sure.OPEN)
    assert first is not None
    if first.basis == "unknown":
        sure = Sure.OPEN
    disputed = ""
    if first.school is not None:
        disputed = "The schools differ here; the build's own school has been followed."
        sure = Sure.FAIR if sure is Sure.FIRM else sure
    elif undecided and first.basis == "model":
        disputed = "The distance of solvent and binder lies where practice has to decide: some get away with it."
        sure = Sure.OPEN
    elif hopeful is Verdict.SOUND:
        disputed = "Only the careful edge of the range speaks against it; by the best guess it is ready."
        sure = Sure.OPEN
    check, if_fails = "", ""
    if verdict in (Verdict.WAIT, Verdict.CAUTION) and (key := _check_for(s, first)) is not None:
        check, if_fails = CHECKS[key]
    return Telling(sure, WOULD_CHANGE.get(first.mechanism, ""), disputed, check, if_fails, _assumes(s, first))


def _check_for(s: Situation, first: Finding) -> str | None:
    layer = s.layers[first.on(s.index)]
    oxidising = layer.is_film(FilmClass.OXIDISING)
    if first.mechanism == "too_early" and first.event is not None:
        return "recoat_oxidising" if first.event == "recoat" and oxidising else first.event
    if first.mechanism == "still_wet":
        return "touch"
    if first.mechanism in ("wrinkle", "lift", "hard_over_soft", "swell"):
        return "recoat_oxidising" if oxidising else "recoat"
    if first.mechanism == "reopen" and layer.is_film(FilmClass.DISPERSION):
        return "fused" if s.landing.water > 0.3 else "spirit"
    if first.mechanism == "ammonia":
        return "tape"
    return "recoat" if first.mechanism == "sinks" else None


def _assumes(s: Situation, first: Finding) -> str:
    layer = s.layers[first.on(s.index)]
    if layer.drying is None:
        return ""
    air = layer.drying.line.at(layer.drying.end_min)
    night = "" if layer.drying.line.constant else ", and the air that the plan gives afterwards"
    doing = "touching it" if s.landing.contact is Contact.TOUCH else "this"
    return (
        f"{layer.film_um:g} µm of {layer.words}, dried at {air.temp_c:g} °C, {air.rh_pct:g} %, {air.movement.value} air"
        f"{night}, before {doing}"
    )
