"""Nothing goes over a coat that is not dry to the touch, except its own light passes."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, Event, FilmClass, FittingAction, Kind, Method, Use, capital
from ..checks import TOUCH as DRY_TO_TOUCH
from ..mechanism import LAY, TOUCH, Course, Mechanism, Scrap, contacts
from ..situation import LIGHT_PASS, METHODS, OVERNIGHT_MIN, SPARSE, Finding, Situation

LIGHTLY = (FilmClass.EVAPORATING, FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE)  # take their own next pass while wet
OWN_COAT_RUB = METHODS[Method.WET_SPRAY].rub  # up to which an alkyd takes its own next coat


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.is_porous or layer.past(Event.TOUCH, at_min, edge):
        return
    if landing.material is not None and landing.material.use is Use.EFFECT and landing.method is Method.DUST:
        return  # pigment is put onto tack, and into a coat that is worked
    wet = at_min < layer.drying.flash_end_min
    same = landing.system is layer.system
    severity = 0.85 if wet else 0.6
    if same and landing.rub <= LIGHT_PASS and layer.is_film(*LIGHTLY):
        severity = 0.3 if wet else 0.1
    if same and layer.is_film(FilmClass.OXIDISING):
        severity = 0.3 if not wet and landing.rub <= OWN_COAT_RUB else severity
        again = layer.system.recoat_again_before if layer.system else None
        if again and not wet and layer.drying.ref_minutes(at_min) < again * (0.5 if edge is Edge.LATE else 1):
            severity = 0.1
    if layer.is_film(FilmClass.OXIDISING) and layer.is_mark:
        oxidises = landing.system is not None and landing.system.film is FilmClass.OXIDISING
        if oxidises and landing.coverage < SPARSE:
            severity = min(severity, 0.1)  # marks of one kind are drawn through each other
        elif landing.rub <= LIGHT_PASS and at_min >= layer.drying.flash_end_min + OVERNIGHT_MIN:
            severity = 0.3
    if landing.action is FittingAction.UNMASK:
        severity = 0.3  # a mask comes off while the coat over it is young, but past touch-dry
    word = "is still wet" if wet else "is not yet dry to the touch"
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "runs together",
        lambda: f"{capital(layer.words)} {word}: what goes on now moves it and seals it in.",
        "Wait until it is dry to the touch; a warm draught helps once it no longer smells.",
        Basis.PRACTICE,
        f"evaporation of the carrier, then {PRACTICE} for the touch-dry time",
        event=Event.TOUCH,
    )


MECHANISM = Mechanism(
    id="still_wet",
    says="What goes on a coat that is still wet runs together with it.",
    on=contacts(LAY, TOUCH),
    course=Course.PEAKS,
    judge=judge,
    would_change="only time and moving air",
    check=DRY_TO_TOUCH,
    scrap=Scrap(60, "It stays where it was laid.", "It runs together."),
    fault=("tacky.sealed_in",),
    cost=20,
)
