"""Evaporation cools the film; below the dew point water condenses in it and it whitens."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, FilmClass, Kind, Method, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import DOUBTFUL, WORST
from ..situation import Finding, Reads, Situation

AQUEOUS = 0.2  # a carrier with more water than this is cooled by it and does not blush
# It begins a little above the dew point, since what flies takes up moisture too; so much colder it is as grave as it
# gets.
# Fitted to: no fast lacquer above 70 to 75 % at 20 °C (common practice).
BEARS_K, OVER_K = -1.5, 4.0
MEDIUM_MOST = 0.35  # a chipping medium that goes milky is covered anyway


CANNED = (FilmClass.WATER_SOLUBLE,)  # hairspray: a resin in alcohol and propellant


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing, air = s.landing, s.landing.air
    coldest, dew = air.coldest_c, air.dew_c
    can, system = landing.method is Method.CAN, landing.system
    canned = can and system is not None and system.film in CANNED
    if coldest is None or dew is None or (landing.water > AQUEOUS and not canned):
        return
    if system is None or not (canned or system.film is FilmClass.EVAPORATING):
        return
    if landing.material is not None and landing.material.use is Use.PUTTY:
        return  # it is sanded and painted over
    severity = min((dew - coldest - BEARS_K) / OVER_K, WORST)
    if canned:
        severity = min(severity, MEDIUM_MOST)
    if severity < DOUBTFUL:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "blushes",
        lambda: (
            f"The propellant chills what the can sprays below the dew point of {dew:.0f} °C: moisture whitens it."
            if can
            else f"The fast thinner cools the film to about {coldest:.0f} °C, {_against(coldest, dew)} the dew "
            f"point of {dew:.0f} °C: moisture whitens it."
        ),
        "Warm the can in the hand, and wait for drier air."
        if can
        else "Use a slower thinner or a retarder, or wait for drier air.",
        Basis.MODEL,
        "heat balance of the evaporating film against the dew point of the bench air",
    )


def _against(coldest: float, dew: float) -> str:
    """Where a temperature lies against the dew point, as both are shown, in whole degrees."""
    cold, wet = round(coldest), round(dew)
    return "below" if cold < wet else "at" if cold == wet else "hardly above"


MECHANISM = Mechanism(
    id="blush",
    says="A fast thinner cools the film below the dew point, and moisture whitens it.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="drier air, a warmer part or a slower thinner",
    check=Check(
        "Spray one pass on a scrap of dark plastic in this air: it dries clear within five minutes.",
        "Add a slow thinner or retarder, or wait for a drier evening.",
    ),
    scrap=Scrap(60, "Clear and dark as laid.", "White or milky."),
    fault=("white_bloom.blush",),
    reads=Reads.AIR,
    cost=210,
)
