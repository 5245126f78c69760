"""Common practice's waits before the next thing: own system, another system, spirit work, tape, handling."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.blend import LACQUERED
from ...vocabulary import (
    PRACTICE,
    Basis,
    Contact,
    Edge,
    Event,
    FilmClass,
    FittingAction,
    Kind,
    Method,
    SystemRole,
    Use,
    capital,
)
from ..checks import Check, of_event
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap
from ..severity import CLASH_FROM
from ..situation import CAN_RUB, LIGHT_PASS, OVERNIGHT_MIN, SPARSE, WATERY, Finding, Landing, Layer, Situation

SCRUBS = 0.75  # rub from which work is a scrub
FILTER_UM = 2.0  # of an effect, below which it is ready for the next once it is dry to the touch (common practice)
THIN_UM = 6.0  # of water-borne acrylic, up to which it holds no solvent once it is dry to the touch (common practice)
MISTED = (Method.MIST, Method.SPRAY, Method.CAN)
PASTE_UM = 60.0  # from which a water-borne film is a paste, wet inside for hours
SPIRITED, SPIRIT_STAYS_S = 0.5, 20
WORKED = (Method.WASH, Method.FLOOD, Method.BRUSH, Method.WET_WIPE, Method.SCRUB)
HANDLED = (
    FittingAction.HANDLE,
    FittingAction.GLUE,
    FittingAction.FIT,
    FittingAction.REMOVE,
    FittingAction.REFIT,
    FittingAction.TURN_OVER,
    FittingAction.WASH,
)
Needed = tuple[Event | None, str, float]
BEARS_LIGHT = (FilmClass.EVAPORATING, FilmClass.DISPERSION)  # light passes, before they have let all their carrier go
WET_STILL = "has not let its carrier go: it stays soft under the next coat."
NOTHING_NEEDED: Needed = (None, "", 0.0)


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.system is None or layer.is_porous:
        return
    event, why, severity = needed(layer, landing)
    if event is None or layer.past(event, at_min, edge):
        return
    lightly = layer.is_mark and landing.contact is Contact.LAY and landing.rub <= LIGHT_PASS
    if lightly and layer.is_film(FilmClass.OXIDISING) and at_min >= layer.end_min + OVERNIGHT_MIN:
        return  # a thin mark of it bears light passes after a night
    name = layer.system.name.lower()
    yield MECHANISM.found(
        Kind.DAMAGE if landing.contact is not Contact.LAY or severity >= CLASH_FROM else Kind.HOLD,
        severity,
        "too early",
        why,
        "Wait; then prove it: a sniff in a closed box, a thumbnail where nobody looks.",
        Basis.PRACTICE,
        lambda: f"{PRACTICE} for {name}, moved by this film, thinner and air",
        event=None if lightly else event,
    )


def needed(layer: Layer, landing: Landing) -> Needed:
    """Which event of a coat has to have come before something lands on it, why, and how grave it is before that."""
    words = capital(layer.words)
    if landing.contact is Contact.TOUCH:
        return _before_touch(landing, words)
    assert layer.system is not None
    same = landing.system is layer.system
    oxidising = layer.system.film is FilmClass.OXIDISING
    spirited = landing.spirit >= SPIRITED and landing.wet_s > SPIRIT_STAYS_S
    if layer.system.film is FilmClass.WATER_SOLUBLE:
        if same:
            return NOTHING_NEEDED
        return Event.RECOAT, f"{words} is not dry yet: the coat runs into it.", 0.6
    if spirited and not oxidising:
        return _before_spirit(layer, landing, words)
    if spirited and oxidising and landing.contact is Contact.WORK and landing.rub >= SCRUBS:
        return Event.SPIRIT, f"{words} is young: its own spirit still takes it off when it is rubbed wet.", 0.6
    if spirited and oxidising and landing.contact is Contact.LAY:
        if layer.is_mark and landing.coverage < SPARSE and _oxidises(landing):
            return NOTHING_NEEDED  # marks of one kind are drawn through each other
        if landing.method is Method.SPECKLE:
            return Event.TOUCH, f"{words} is still open: the specks run into it.", 0.55
        if layer.film_um < FILTER_UM:
            return Event.TOUCH, f"{words} is still wet: what goes over it runs into it.", 0.55
        if not layer.system.is_a(SystemRole.JUDGED_BY_WRINKLING):
            return Event.RECOAT, f"{words} is still open to spirit: the new work pulls it up.", 0.6
        if landing.method in WORKED and landing.is_for(Use.EFFECT):
            return Event.SPIRIT, f"{words} is young: a wash and its wiping still take it along.", 0.55
        return NOTHING_NEEDED
    if same and not oxidising:
        return NOTHING_NEEDED
    if layer.film is FilmClass.DISPERSION and layer.film_um <= PASTE_UM and _is_watery(landing):
        return NOTHING_NEEDED  # water-borne over water-borne goes on as soon as it is dry to the touch
    if landing.contact is not Contact.LAY:
        return NOTHING_NEEDED
    if oxidising:
        return _before_coat_on_alkyd(layer, landing, words)
    if landing.blend.parts:
        mist = landing.method is Method.MIST
        if (landing.hot < LACQUERED or mist) and (landing.coverage < SPARSE or _is_thin_acrylic(layer)):
            return Event.TOUCH, f"{words} is not dry to the touch: what goes on smears it.", 0.55  # it seals nothing in
        medium = landing.system is not None and landing.system.film is FilmClass.WATER_SOLUBLE
        if medium and landing.rub <= CAN_RUB and landing.method in MISTED:
            return (
                Event.TOUCH,
                f"{words} is not dry to the touch: the medium runs into it.",
                0.55,
            )  # it seals nothing in
        if layer.system.film is FilmClass.DISPERSION and landing.hot >= LACQUERED:
            event = Event.RECOAT if landing.method is Method.MIST else Event.SPIRIT  # a mist hardly wets it
            return event, f"{words} has only just fused: lacquer bites into it.", 0.55
        if layer.is_film(*BEARS_LIGHT) and landing.rub <= LIGHT_PASS and landing.hot < LACQUERED:
            return Event.RECOAT, f"{words} still lets its thinner go: only light passes go over it now.", 0.4
        return Event.RECOAT, f"{words} {WET_STILL}", 0.55
    return NOTHING_NEEDED


def _is_thin_acrylic(layer: Layer) -> bool:
    return layer.film is FilmClass.DISPERSION and layer.film_um <= THIN_UM


def _oxidises(landing: Landing) -> bool:
    return landing.system is not None and landing.system.film is FilmClass.OXIDISING


def _is_watery(landing: Landing) -> bool:
    return landing.system is not None and landing.system.film is FilmClass.DISPERSION and landing.water >= WATERY


def _before_touch(landing: Landing, words: str) -> Needed:
    if landing.action is FittingAction.MASK:
        event = landing.touch.after if landing.touch is not None else Event.TAPE
        name = landing.touch.name.lower() if landing.touch is not None else "tape"
        if event is Event.TOUCH and landing.touch is not None and not landing.touch.tack:  # it only lies there
            return event, f"{words} is not dry to the touch: {name} marks it.", 0.6
        if event is Event.TOUCH:  # barely pressed: it may go on early, and is a risk until the coat bears tape
            return Event.TAPE, f"{words} is young: even {name} may lift an edge of it.", 0.35
        return event, f"{words} is too soft for {name}: it lifts or keeps the mark.", 0.65
    if landing.action in HANDLED:
        return Event.TAPE, f"{words} is too soft to be handled: fingers leave their print in it.", 0.6
    return NOTHING_NEEDED


def _before_spirit(layer: Layer, landing: Landing, words: str) -> Needed:
    working = landing.contact is Contact.WORK
    if working and landing.rub < SCRUBS:
        return NOTHING_NEEDED  # the coat worked on was laid with the same spirit: its own seam has said it
    if _is_thin_acrylic(layer):
        return Event.TOUCH, f"{words} is not dry to the touch: spirit floats it off.", 0.6
    if landing.method in WORKED or working:
        why = f"{words} still holds thinner: spirit softens it and a wash stains or lifts it."
        return Event.SPIRIT, why, 0.6
    return Event.RECOAT, f"{words} has not let its thinner go: it stays soft under the next coat.", 0.55


def _before_coat_on_alkyd(layer: Layer, landing: Landing, words: str) -> Needed:
    if landing.method is Method.DUST and not landing.blend.parts:
        return NOTHING_NEEDED  # powder goes into what is wet, and onto tack
    if landing.coverage < SPARSE or layer.film_um < FILTER_UM:
        return Event.TOUCH, f"{words} is still open: what goes on smears it.", 0.55
    if landing.method is not Method.DUST:
        why = f"{words} has not hardened through: sealed in now, it stays soft and crazes later."
        return Event.RECOAT, why, 0.55
    return (Event.RECOAT, f"{words} {WET_STILL}", 0.55) if landing.blend.parts else NOTHING_NEEDED


def check(layer: Layer, finding: Finding, _: Situation) -> Check | None:
    return of_event(layer, finding.event) if finding.event is not None else None


MECHANISM = Mechanism(
    id="too_early",
    says="Something goes on, or over, before the coat below is ready for it.",
    on=ALL_CONTACTS,
    course=Course.EASES,
    judge=judge,
    would_change="time, warmth and moving air; the product's own figures win",
    check=check,
    scrap=Scrap(60, "No print, no mark, nothing lifts; a closed box does not smell.", "A mark, a lift, a smell."),
    fault=("lifted_edge.tape_soft", "tacky.sealed_in", "ghost.soft_below", "crack.hard_over_soft"),
    cost=10,
)
