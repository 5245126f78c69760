"""Common practice's waits before the next thing: own system, another system, spirit work, tape, handling."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

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
    Trait,
    Use,
    capital,
)
from ..checks import Check, of_event
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap
from ..severity import CLASH_FROM
from ..situation import CAN_RUB, LIGHT_PASS, OVERNIGHT_MIN, SPARSE, WATERY, Finding, Landing, Layer, Situation

SCRUBS = 0.75  # rub from which work is a scrub
FILTER_UM = 2.0  # of an effect, below which it is ready for the next once it is dry to the touch (common practice)
THIN_UM = 6.0  # of acrylic or lacquer, up to which it holds no solvent once it is dry to the touch (common practice)
BREATHES_UM = 4.0  # of a pass, through which an evaporating film below goes on drying (assumption)
USUAL_UM = 25.0  # of that film, at most
MARKS_TAPED_MIN = 120.0  # reference minutes after which thin marks of water-borne paint bear tape (common practice)
NORMAL_UM = 15.0  # of water-borne acrylic, up to which it bears a wash after a night (common practice)
POURED_UM = 500.0  # from which a water-borne film is a pour
PASTE_UM = 60.0  # from which a water-borne film is a paste, wet inside for hours
SPIRITED, SPIRIT_STAYS_S = 0.5, 20  # share of spirit, and seconds that it stays, from which it is work with spirit
MISTED = (Method.MIST, Method.SPRAY, Method.CAN)
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
BEARS_LIGHT = (FilmClass.EVAPORATING, FilmClass.DISPERSION)  # light passes, before they have let all their carrier go
# How grave it is to come before the event, 0–1 (ours; on either side of a clash by whether people regret it).
LIFTED, MOVED, SEALED_IN, LIGHTLY, A_RISK = 0.65, 0.6, 0.55, 0.4, 0.35


@dataclass(frozen=True, slots=True)
class Over:
    """What lands on a layer, in the words of the table."""

    layer: Layer
    landing: Landing

    @property
    def same(self) -> bool:
        return self.landing.system is self.layer.system

    @property
    def spirited(self) -> bool:
        return self.landing.spirit >= SPIRITED and self.landing.wet_s > SPIRIT_STAYS_S

    @property
    def working(self) -> bool:
        return self.landing.contact is Contact.WORK

    @property
    def worked(self) -> bool:
        return self.working or self.landing.method in WORKED

    @property
    def wet(self) -> bool:
        return bool(self.landing.blend.parts)

    @property
    def sparse(self) -> bool:
        return self.landing.coverage < SPARSE

    @property
    def lacquered(self) -> bool:
        return self.landing.hot >= LACQUERED

    @property
    def breathes(self) -> bool:
        """Light passes, each so thin that what lies below goes on drying through them."""
        o = self.landing
        return o.rub <= LIGHT_PASS and o.film_um / o.passes <= BREATHES_UM and self.layer.film_um <= USUAL_UM

    @property
    def thin_film(self) -> bool:
        return self.layer.film in BEARS_LIGHT and self.layer.film_um <= THIN_UM

    @property
    def rests(self) -> bool:
        """A mask that only rests there."""
        touch = self.landing.touch
        return self.masks and touch is not None and touch.after is Event.TOUCH

    @property
    def masks(self) -> bool:
        return self.landing.action is FittingAction.MASK


@dataclass(frozen=True, slots=True)
class Row:
    """A line of the table: on which films, at which contact, when else; which event has to have come, why, how grave it
    is before. Without an event nothing has to be waited for. `{it}` is the layer, `{mask}` what it is masked with."""

    film: FilmClass | tuple[FilmClass, ...] | None
    contact: Contact | None
    when: Callable[[Over], bool]
    event: Event | None = None
    words: str = ""
    severity: float = 0.0


OXI, DISP, SOLUBLE = FilmClass.OXIDISING, FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE
NOT_OXI = tuple(f for f in FilmClass if f is not OXI)
LAY, WORK, TOUCH = Contact.LAY, Contact.WORK, Contact.TOUCH


HOLDS_CARRIER = "{it} has not let its carrier go: it stays soft under the next coat."


def always(_: Over) -> bool:
    return True


# The first line that fits decides.
TABLE = (
    # Touch
    Row(None, TOUCH, lambda o: o.rests and not o.landing.touch.tack, Event.TOUCH,  # type: ignore[union-attr]
        "{it} is not dry to the touch: {mask} marks it.", MOVED),
    # Barely pressed it may go on early, and is a risk until the coat bears tape.
    Row(None, TOUCH, lambda o: o.rests, Event.TAPE, "{it} is young: even {mask} may lift an edge of it.", A_RISK),
    Row(None, TOUCH, lambda o: o.masks, Event.TAPE, "{it} is too soft for {mask}: it lifts or keeps the mark.", LIFTED),
    Row(None, TOUCH, lambda o: o.landing.action in HANDLED, Event.TAPE,
        "{it} is too soft to be handled: fingers leave their print in it.", MOVED),
    Row(None, TOUCH, always),
    # A marking traps what is still leaving the coat below it, and its softener bites it: a gloss coat has its night.
    Row(BEARS_LIGHT, LAY, lambda o: o.landing.is_for(Use.MARKING) and o.layer.film_um > THIN_UM, Event.TAPE,
        "{it} still lets its carrier go: a decal seals it in, and softener bites it.", SEALED_IN),
    # On what water re-opens
    Row(SOLUBLE, None, lambda o: o.same),
    Row(SOLUBLE, None, always, Event.RECOAT, "{it} is not dry yet: the coat runs into it.", MOVED),
    # Spirit on what does not oxidise. The coat that is worked was laid with the same spirit: its own seam has said it.
    Row(NOT_OXI, WORK, lambda o: o.spirited and o.landing.rub < SCRUBS),
    Row(NOT_OXI, None, lambda o: o.spirited and o.thin_film, Event.TOUCH,
        "{it} is not dry to the touch: spirit floats it off.", MOVED),
    Row(NOT_OXI, None, lambda o: o.spirited and o.worked, Event.SPIRIT,
        "{it} still holds thinner: spirit softens it and a wash stains or lifts it.", MOVED),
    Row(NOT_OXI, None, lambda o: o.spirited, Event.RECOAT,
        "{it} has not let its thinner go: it stays soft under the next coat.", SEALED_IN),
    # Spirit on what oxidises. Marks of one kind are drawn through each other.
    Row(OXI, WORK, lambda o: o.spirited and o.landing.rub >= SCRUBS, Event.SPIRIT,
        "{it} is young: its own spirit still takes it off when it is rubbed wet.", MOVED),
    Row(OXI, LAY, lambda o: o.spirited and o.layer.is_mark and o.sparse and o.landing.film is OXI),
    Row(OXI, LAY, lambda o: o.spirited and o.landing.method is Method.SPECKLE, Event.TOUCH,
        "{it} is still open: the specks run into it.", SEALED_IN),
    Row(OXI, LAY, lambda o: o.spirited and o.layer.film_um < FILTER_UM, Event.TOUCH,
        "{it} is still wet: what goes over it runs into it.", SEALED_IN),
    Row(OXI, LAY, lambda o: o.spirited and not o.layer.system.is_a(SystemRole.JUDGED_BY_WRINKLING),  # type: ignore[union-attr]
        Event.RECOAT, "{it} is still open to spirit: the new work pulls it up.", MOVED),
    Row(OXI, LAY, lambda o: o.spirited and o.landing.method in WORKED and o.landing.is_for(Use.EFFECT), Event.SPIRIT,
        "{it} is young: a wash and its wiping still take it along.", SEALED_IN),
    Row(OXI, LAY, lambda o: o.spirited),
    # A pour is wet inside for a day, whatever goes on it.
    Row(DISP, LAY, lambda o: o.layer.film_um >= POURED_UM, Event.RECOAT,
        "{it} is still wet inside: what goes on now stays milky or cracks.", SEALED_IN),
    # Its own system again, light passes; water-borne over water-borne as soon as that is dry to the touch
    Row(NOT_OXI, None, lambda o: o.same),
    Row(DISP, None, lambda o: o.layer.film_um <= PASTE_UM and o.landing.film is DISP and o.landing.water >= WATERY),
    Row(DISP, WORK, lambda o: o.landing.rub >= SCRUBS and o.landing.water >= WATERY, Event.TAPE,
        "{it} has only just fused: a stiff wet scrub rubs it through.", MOVED),
    Row(None, WORK, always),
    # Another system on what oxidises. Powder goes into what is wet, and onto tack.
    Row(OXI, LAY, lambda o: o.landing.method is Method.DUST and not o.wet),
    Row(OXI, LAY, lambda o: o.sparse or o.layer.film_um < FILTER_UM, Event.TOUCH,
        "{it} is still open: what goes on smears it.", SEALED_IN),
    Row(OXI, LAY, lambda o: o.layer.is_mark and o.landing.has(Trait.WETS_OIL), Event.TOUCH,
        "{it} is still open: what goes on smears it.", SEALED_IN),
    Row(OXI, LAY, lambda o: o.landing.method is not Method.DUST, Event.RECOAT,
        "{it} has not hardened through: sealed in now, it stays soft and crazes later.", SEALED_IN),
    Row(OXI, LAY, always, Event.RECOAT, HOLDS_CARRIER, SEALED_IN),
    # Another system on the rest. What is sparse, and a mist of medium, seal nothing in.
    Row(None, LAY, lambda o: not o.wet),
    Row(None, LAY, lambda o: (o.sparse or o.thin_film) and (not o.lacquered or o.landing.method is Method.MIST),
        Event.TOUCH, "{it} is not dry to the touch: what goes on smears it.", SEALED_IN),
    Row(None, LAY, lambda o: o.landing.film is SOLUBLE and o.landing.rub <= CAN_RUB and o.landing.method in MISTED,
        Event.TOUCH, "{it} is not dry to the touch: the medium runs into it.", SEALED_IN),
    Row(DISP, LAY, lambda o: o.lacquered and o.landing.method is Method.MIST, Event.RECOAT,  # a mist hardly wets it
        "{it} has only just fused: lacquer bites into it.", SEALED_IN),
    Row(DISP, LAY, lambda o: o.lacquered, Event.SPIRIT, "{it} has only just fused: lacquer bites into it.", SEALED_IN),
    Row(FilmClass.EVAPORATING, LAY, lambda o: o.breathes and not o.lacquered, Event.TOUCH,
        "{it} is not dry to the touch: what goes on smears it.", SEALED_IN),
    Row(BEARS_LIGHT, LAY, lambda o: o.landing.rub <= LIGHT_PASS and not o.lacquered, Event.RECOAT,
        "{it} still lets its thinner go: only light passes go over it now.", LIGHTLY),
    Row(None, LAY, always, Event.RECOAT, HOLDS_CARRIER, SEALED_IN),
)  # fmt: skip


def _lines(film: FilmClass, contact: Contact) -> tuple[Row, ...]:
    def concerns(row: Row) -> bool:
        films = row.film if isinstance(row.film, tuple) else (row.film,)
        return (row.film is None or film in films) and row.contact in (None, contact)

    return tuple(row for row in TABLE if concerns(row))


LINES = {(film, contact): _lines(film, contact) for film in FilmClass for contact in Contact}


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.system is None or layer.is_porous:
        return
    over = Over(layer, landing)
    row = next(row for row in LINES[layer.system.film, landing.contact] if row.when(over))
    event = landing.touch.after if over.masks and not over.rests and landing.touch is not None else row.event
    if event is None or layer.past(event, at_min, edge):
        return
    lightly = layer.is_mark and landing.contact is LAY and landing.rub <= LIGHT_PASS
    if lightly and layer.is_film(OXI) and at_min >= layer.end_min + OVERNIGHT_MIN:
        return  # a thin mark of it bears light passes after a night
    wiped = event is Event.SPIRIT or landing.is_for(Use.MARKING)
    wiped = wiped and layer.film is DISP and landing.contact is LAY and landing.rub < SCRUBS
    wiped = wiped and layer.film_um <= NORMAL_UM
    if wiped and layer.drying.ref_minutes(at_min) >= OVERNIGHT_MIN:
        return  # what is only wiped there is borne after a night
    marked = over.masks and layer.is_paint_mark
    if marked and layer.drying.ref_minutes(at_min) >= MARKS_TAPED_MIN:
        return  # specks and chips bear tape within an hour or two
    name, mask = layer.system.name.lower(), landing.touch.name.lower() if landing.touch is not None else "tape"
    yield MECHANISM.found(
        Kind.DAMAGE if landing.contact is not LAY or row.severity >= CLASH_FROM else Kind.HOLD,
        row.severity,
        "too early",
        lambda: row.words.format(it=capital(layer.words), mask=mask),
        "Wait; then prove it: a sniff in a closed box, a thumbnail where nobody looks.",
        Basis.PRACTICE,
        lambda: f"{PRACTICE} for {name}, moved by this film, thinner and air",
        event=None if lightly or wiped or marked else event,
    )


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
