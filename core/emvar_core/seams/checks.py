"""Physical checks that prove a wait is over, or a doubt unfounded, and what to do if they fail. Common practice."""

from __future__ import annotations

from dataclasses import dataclass

from ..vocabulary import Event, FilmClass
from .situation import Layer


@dataclass(frozen=True)
class Check:
    """What to do on the model itself, and what if it fails."""

    do: str
    if_fails: str


TOUCH = Check(
    "Touch an edge where nobody looks: it does not stick and takes no print.",
    "Leave it an hour in moving air and try again; if it stays sticky for a day, it was laid too thick or sealed in.",
)
RECOAT = Check(
    "Shut the part in a box for ten minutes: it must not smell of solvent when you open it.",
    "Give it another evening in moving air before anything goes over it.",
)
RECOAT_OXIDISING = Check(
    "Press a thumbnail into a hidden spot: no mark. Then a bud with the next thinner on a scrap of the same age: "
    "it stays clean and the film flat.",
    "Wait two more days, or put a clear of another system between and test that on the scrap.",
)
FUSED = Check(
    "A damp bud on a hidden spot stays clean.",
    "Warm the room and wait some hours more: its particles have not run together yet.",
)
SPIRIT = Check(
    "Ten minutes in a closed box without a smell of solvent; then a bud with white spirit on a hidden spot stays "
    "clean.",
    "Wait until tomorrow evening; if the bud still colours, put a clear of another system over it first.",
)
TAPE = Check(
    "A thumbnail leaves no mark in a hidden spot, and a strip of the tape, stuck there for a minute, lifts nothing.",
    "Give it another night; take more tack off the tape on your hand.",
)
HARD = Check(
    "A thumbnail leaves no mark, and a finger held on it for ten seconds no print.",
    "Hold the model by a handle and give it some days more.",
)
BUD_TEST = "Bud-test a hidden spot with water, white spirit, 70 % isopropanol, mild thinner, in that order"
BUD = Check(
    f"{BUD_TEST}: the bud stays clean.",
    "The first bud that colours tells what opens it: use nothing of that kind over it.",
)

BY_EVENT = {Event.TOUCH: TOUCH, Event.RECOAT: RECOAT, Event.TAPE: TAPE, Event.SPIRIT: SPIRIT, Event.HARD: HARD}


def through_dry(layer: Layer, *_: object) -> Check:
    """What proves that a coat is dry through: oxidising films want the thumbnail, the others the closed box."""
    return RECOAT_OXIDISING if layer.is_film(FilmClass.OXIDISING) else RECOAT


def of_event(layer: Layer, event: Event) -> Check:
    """What proves that an event of a coat's hardening has come."""
    return through_dry(layer) if event is Event.RECOAT else BY_EVENT[event]
