"""Films that dry by evaporation or fuse are opened by their own solvents, always; how far, and how much it rubs."""

from __future__ import annotations

from collections.abc import Iterator

from ...physics.hansen import RED_NONE, log_d_of_red
from ...vocabulary import Basis, Contact, Edge, Event, FilmClass, Kind, Method
from ..attack import MOSTLY_WATER, SOAKS_S, basis_of, reached_through
from ..checks import FUSED, SPIRIT, Check
from ..mechanism import ALL_CONTACTS, Course, Mechanism, Scrap, films
from ..reach import Reached, attacked, bite_um, effective_log_d
from ..severity import FAINT
from ..situation import CAN_RUB, SPARSE, Finding, Landing, Layer, Reads, Situation

BITE_UM = 3.0  # depth at which an opened film moves visibly under a rub (fitted: alcohol scrub on lacquer)
FUSED_FROM = 0.35  # degree of hardening from which a dispersion no longer re-opens with water
WATERED = 0.3
OPENED_RED = 0.6  # how much nearer to its solvents a film is that water opens (assumption)
MARK_MOVES = 0.4  # of it, of a thin mark that is crossed, or a glaze that another goes over (assumption)
GLAZE_UM = 4.0  # of a coat that is a glaze or a thin layer by brush (assumption)
BENEATH, UNDERMINED = 0.6, 1.5  # of the rub at a film that lies deeper; where what it carries lets go (assumption)
DISSOLVES = 0.6  # strength from which it is no mere softening
LIGHTLY = 0.3  # of it, where each pass flashes off before the next (assumption)
FUSES = (FilmClass.EVAPORATING, FilmClass.WATER_SOLUBLE)  # hairspray is a resin in alcohol
SWELLING = (FilmClass.DISPERSION, FilmClass.DECAL, FilmClass.EVAPORATING)
HARD_BEARS = 0.6  # how much less it swells when hard (assumption)
RUBBED_BY = {
    Method.BRUSH: "brush",
    Method.WASH: "brush",
    Method.SCRUB: "scrubbing",
    Method.DAMP_WIPE: "wiping",
    Method.WET_WIPE: "wiping",
}


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    for r in attacked(s, at_min, edge):
        system = r.layer.system
        if system is None or r.layer.is_porous or system.film in (FilmClass.OXIDISING, FilmClass.UNKNOWN):
            continue
        yield from _at(s, r, at_min, edge)


def _at(s: Situation, r: Reached, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, power = r.layer, r.power
    assert layer.system is not None and power is not None
    if power.power <= 0 and layer.system.film is not FilmClass.DISPERSION:
        return
    degree = layer.degree(at_min, edge)
    strength, basis, rests = power.power, *basis_of(power)
    unfused = layer.system.film is FilmClass.DISPERSION and degree < FUSED_FROM and s.landing.water > WATERED
    if unfused:
        strength, basis = max(strength, 1 - degree / FUSED_FROM), Basis.RULE
        rests = "a water-borne film re-opens with water until its particles have fused"
    log_d = effective_log_d(power, degree)
    soluble = layer.system.film is FilmClass.WATER_SOLUBLE
    if soluble or unfused:
        log_d = log_d_of_red(RED_NONE - OPENED_RED * strength)
    depth = bite_um(log_d, r.seconds)
    rub = s.landing.rub * (1.0 if r.at == s.index else BENEATH)
    if soluble and r.at > s.index:
        rub *= UNDERMINED  # it lets go from beneath: what lies on it moves
    severity = strength * min(depth / BITE_UM, 1.0) * rub + power.power * _swells(s, r, degree)
    if s.landing.contact is Contact.LAY and (_crosses(s, layer) or _glazes(s, layer, at_min, edge)):
        severity *= MARK_MOVES
    if severity < FAINT:
        return
    word = "dissolves" if strength > DISSOLVES else "softens"
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        word,
        lambda: (
            f"The {s.landing.carrier_words} {word} {layer.words}, and the {_rubbing(s.landing)} drags it along."
            f"{reached_through(s, r.at)}"
        ),
        "Use a carrier that leaves it alone, lay it in light passes, or put a clear between.",
        basis,
        rests,
        layer=r.at,
    )


def _crosses(s: Situation, layer: Layer) -> bool:
    """Whether light passes or another mark of its own cross a thin mark of paint."""
    own = s.landing.system is layer.system and s.landing.coverage < SPARSE
    return layer.is_paint_mark and (own or s.landing.rub <= CAN_RUB)


def _glazes(s: Situation, layer: Layer, at_min: float, edge: Edge) -> bool:
    """Whether thin water-borne paint goes over its own thin coat that is dry to the touch: glazes, minutes apart."""
    thin = max(layer.film_um, s.landing.film_um) <= GLAZE_UM
    own = layer.film is FilmClass.DISPERSION and s.landing.system is layer.system
    return own and thin and layer.past(Event.TOUCH, at_min, edge)


def _swells(s: Situation, r: Reached, degree: float) -> float:
    """What a solvent does that only lies there, 0–1: by the share of the film that it gets into, for how long,
    how soft.
    """
    system = r.layer.system
    assert system is not None
    if system.film not in SWELLING or s.landing.water > MOSTLY_WATER:
        return 0.0
    upper = s.landing.system
    if upper is not None and system.film is FilmClass.EVAPORATING and upper.film in FUSES:
        return 0.0  # two films of their own solvents fuse, which is what one wants of them
    lightly = LIGHTLY if s.landing.contact is Contact.LAY and s.landing.rub <= CAN_RUB else 1.0
    return lightly * r.share * min(r.seconds / SOAKS_S, 1.0) * (1 - HARD_BEARS * degree)


def _rubbing(landing: Landing) -> str:
    return RUBBED_BY.get(landing.method or Method.SPRAY, "wet coat")


def check(layer: Layer, _: Finding, s: Situation) -> Check | None:
    if layer.is_film(FilmClass.DISPERSION):
        return FUSED if s.landing.water > WATERED else SPIRIT
    return None


MECHANISM = Mechanism(
    id="reopen",
    says="A carrier opens a film that is soluble in it, and the rub of laying or working moves it.",
    on=ALL_CONTACTS,
    course=Course.PEAKS,
    judge=judge,
    acts_on=films(
        FilmClass.EVAPORATING,
        FilmClass.DISPERSION,
        FilmClass.WATER_SOLUBLE,
        FilmClass.DECAL,
        FilmClass.CROSSLINKED,
        FilmClass.RUBBED,
    ),
    would_change="another carrier, a drier method, or a bud test that stays clean",
    check=check,
    scrap=Scrap(60, "What lies below keeps its edge; the bud stays clean of it.", "The lower coat moves or streaks."),
    fault=("wrinkle.flood_decal", "ghost.soft_below", "bleed.dissolved"),
    reads=Reads.REACHED,
    explains=True,
    cost=83,
)
