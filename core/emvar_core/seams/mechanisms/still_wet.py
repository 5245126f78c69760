"""Nothing goes over a coat that is not dry to the touch, except its own light passes."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Contact, Edge, Event, FilmClass, FittingAction, Kind, Method, Use, capital
from ..checks import TOUCH as DRY_TO_TOUCH
from ..mechanism import LAY, TOUCH, Course, Mechanism, Scrap, contacts
from ..situation import CAN_RUB, LIGHT_PASS, METHODS, OVERNIGHT_MIN, SPARSE, Finding, Situation

LIGHTLY = (FilmClass.EVAPORATING, FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE)  # take their own next pass while wet
OWN_COAT_RUB = METHODS[Method.WET_SPRAY].rub  # up to which an alkyd takes its own next coat
# How grave it is, 0–1 (ours): to move a wet film; one that is not dry to the touch; what people get away with; nothing.
MOVED, PRINTED, A_RISK, HARMLESS = 0.85, 0.6, 0.3, 0.1


def severity(s: Situation, at_min: float, edge: Edge, wet: bool) -> float:
    """How grave it is; the first line that fits decides."""
    layer, landing = s.layer, s.landing
    assert layer.drying is not None
    oxidises, own = layer.is_film(FilmClass.OXIDISING), landing.system is layer.system
    mark, light = oxidises and layer.is_mark, landing.rub <= LIGHT_PASS
    table = (
        # A mask comes off while the coat over it is young, but past touch-dry.
        (landing.action is FittingAction.UNMASK, A_RISK),
        # Marks of one kind are drawn through each other; after a night they bear light passes of anything.
        (mark and landing.film is FilmClass.OXIDISING and landing.coverage < SPARSE, HARMLESS),
        (mark and light and at_min >= layer.drying.flash_end_min + OVERNIGHT_MIN, A_RISK),
        # A chip is set into a chip as soon as its shine has gone.
        (
            own and layer.is_paint_mark and not wet and landing.contact is Contact.LAY and landing.coverage < SPARSE,
            HARMLESS,
        ),
        # What cures by itself reacts into its own next coat.
        (own and layer.is_film(FilmClass.CROSSLINKED) and not wet, HARMLESS),
        # Its own next coat
        (own and oxidises and not wet and layer.drying.takes_own_coat(at_min, edge is Edge.LATE), HARMLESS),
        (own and oxidises and not wet and landing.rub <= OWN_COAT_RUB, A_RISK),
        (own and light and layer.is_film(*LIGHTLY), A_RISK if wet else HARMLESS),
        (own and landing.rub <= CAN_RUB and layer.is_film(*LIGHTLY) and not wet, HARMLESS),
        (True, MOVED if wet else PRINTED),
    )
    return next(grave for fits, grave in table if fits)


def _powder(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Powder is put onto tack and into work that is still open; a wet coat of paint or varnish drowns it."""
    layer = s.layer
    assert layer.drying is not None
    if s.landing.film is FilmClass.RUBBED and at_min < layer.drying.event(Event.TOUCH, Edge.EARLY):
        yield MECHANISM.found(
            Kind.LOOK,
            PRINTED,
            "drowns",
            lambda: f"{capital(layer.words)} is still wet: leaf drowns in it and loses its shine.",
            "Wait until a knuckle sticks to it and comes away clean.",
        )
        return
    if not layer.is_for(Use.CLEAR, Use.COLOUR, Use.PRIMER) or layer.is_film(FilmClass.OXIDISING):
        return
    wet = at_min < layer.drying.flash_end_min
    yield MECHANISM.found(
        Kind.LOOK,
        PRINTED if wet else A_RISK,
        "drowns",
        lambda: f"{capital(layer.words)} is not dry to the touch: powder sinks into it and goes dark and patchy.",
        "Wait until it is dry to the touch; if it is to hold by tack, put it onto oil or a fixer.",
        event=Event.TOUCH,
    )


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.is_porous or layer.past(Event.TOUCH, at_min, edge):
        return
    if landing.is_for(Use.EFFECT) and landing.method is Method.DUST:
        yield from _powder(s, at_min, edge)
        return
    wet = at_min < layer.drying.flash_end_min
    word = "is still wet" if wet else "is not yet dry to the touch"
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity(s, at_min, edge, wet),
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
