"""What a means of taking off does to a coat at an instant, and to what lies below it."""

from __future__ import annotations

from ..judging import Standing
from ..judging.contacts import slight
from ..judging.stack import LEAST_SHARE, medium_under
from ..knowledge import Knowledge, Means
from ..memory import MEMORY
from ..physics.blend import LACQUERED, NOTHING, blend_of, hot_share
from ..physics.hansen import crazing, power_on
from ..seams.meeting import Meeting
from ..seams.registry import findings
from ..seams.severity import CAUTION_FROM
from ..seams.situation import METHODS, Landing, Layer
from ..seams.windows import OPENS, SEES_WATER, Edges, chip_window, window_for
from ..vocabulary import Contact, Edge, Event, FilmClass, Method, ThinnerRole, WorkAction, capital

BITES, STRIPS = 0.1, 0.6  # crazing of the bare base from which a thinner bites it, and how grave that is
TAKES_OFF = 0.5  # of a film's opening by a carrier, from which a whole coat comes off with it (assumption)
_WIPING = MEMORY.door("means of wiping", 200)
WIPED_S = 30.0  # wet so long where the method does not say


def wiping(k: Knowledge, means: Means) -> Landing:
    """A means as what lands on the layers below."""
    made: Landing = _WIPING.once((k.signature, means.id), lambda: _wiping(k, means))
    return made


def _wiping(k: Knowledge, means: Means) -> Landing:
    carrier = blend_of(k.thinners[means.carrier]) if means.carrier else NOTHING
    facts = METHODS[means.method]
    return Landing(
        contact=Contact.WORK,
        method=means.method,
        liquid_um=facts.tool_um if carrier.parts else 0,
        wet_s=float(facts.wet_cap_s or WIPED_S) if carrier.parts else 0,
        rub=facts.rub,
        alkaline=means.carrier is not None and k.thinners[means.carrier].is_a(ThinnerRole.AMMONIA),
        **Landing.liquid(k, carrier),
    )


def removes(s: Standing, layer: Layer, means: Means) -> tuple[bool, Edges | None]:
    """Whether a means takes a coat off at this instant, and until when; None: at any time."""
    k = s.k
    if layer.system is None or layer.drying is None:
        return False, None
    film = layer.system.film
    if film in (FilmClass.LOOSE, FilmClass.RUBBED) and not layer.system.opened_by:
        return means.carrier is None or means.method is not Method.SCRUB, None
    if means.carrier is None or film in (FilmClass.CROSSLINKED, FilmClass.UNKNOWN):
        return False, None
    blend = blend_of(k.thinners[means.carrier])
    if film is FilmClass.DECAL:
        closes = Edges(*(layer.drying.event(Event.TOUCH, e) for e in (Edge.EARLY, Edge.BEST, Edge.LATE)))
        return blend.water >= SEES_WATER and s.at_min <= closes.best, closes
    if film is FilmClass.OXIDISING and s.at_min < layer.drying.flash_end_min:
        return power_on(k, blend, layer.system).power > OPENS, None
    window = window_for(k, WorkAction.WIPE, layer, None, blend)
    if window.never is not None:
        return False, None
    closes = window.closes
    endless = closes.best > 1e9
    if endless and power_on(k, blend, layer.system).power < TAKES_OFF:
        return False, None  # it softens, but does not take a whole coat off
    # While it is still wet it comes off too, only not cleanly: the opening edge does not bind a rescue.
    return s.at_min <= closes.best, None if endless else closes


def chips(s: Standing, at: int, means: Means) -> tuple[int, Edges] | None:
    """Where the live medium lies that goes with a coat that can be chipped now, and until when; None: it cannot."""
    if means.carrier is None or blend_of(s.k.thinners[means.carrier]).water < SEES_WATER:
        return None
    medium = medium_under(s.there, at)
    layer = s.layers[at]
    if medium is None or layer.drying is None or layer.system is None:
        return None
    window = chip_window(s.k, layer, s.layers[medium])
    if window.never is not None or not s.at_min <= window.closes.best:
        return None
    return medium, window.closes


def harm(s: Standing, below: int, means: Means) -> list[tuple[Layer, float, str, str]]:
    """What a means does to the layers below index `below`, where it stops: (layer, severity, word, sentence).

    Only what reaches caution is listed; an empty list is harmless.
    """
    layers, there = s.down(below), s.layers
    bites = _bites_base(s, layers, means)
    if bites is not None:
        return [bites]
    covers = there[below].of_zone if below < len(there) else 1.0
    landing = wiping(s.k, means)
    harmed: dict[int, tuple[Layer, float, str, str]] = {}
    left = 1.0
    for i, layer in enumerate(layers):
        if left < LEAST_SHARE:
            break
        met = left * layer.coverage
        left -= met
        if met < LEAST_SHARE or slight(met, covers):
            continue
        for f in findings(Meeting(s.k, landing, layers, i, s.at_min), s.at_min, Edge.LATE):
            at = f.on(i)
            known = harmed.get(at)
            if f.severity >= CAUTION_FROM and (known is None or known[1] < f.severity):
                harmed[at] = (layers[at], f.severity, f.word, f.sentence)
    return [harmed[i] for i in sorted(harmed)]


def _bites_base(s: Standing, layers: tuple[Layer, ...], means: Means) -> tuple[Layer, float, str, str] | None:
    """Nobody wipes paint off down to bare plastic with a thinner that bites it, however short."""
    if len(layers) != 1 or means.carrier is None or layers[0].substrate is None:
        return None
    blend = blend_of(s.k.thinners[means.carrier])
    if hot_share(s.k, blend) < LACQUERED or crazing(s.k, blend, layers[0].substrate) < BITES:
        return None
    words = layers[0].words
    return layers[0], STRIPS, "crazes", f"{capital(means.name)} down to {words} softens it and takes its detail."


def grave(harmed: list[tuple[Layer, float, str, str]]) -> float:
    """The gravest of what was harmed, 0–1.

    >>> grave([])
    0.0
    """
    return max((h[1] for h in harmed), default=0.0)
