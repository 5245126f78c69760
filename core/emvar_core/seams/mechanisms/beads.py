"""Water-borne over oily, waxy or glossy films beads, and does not hold."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ...vocabulary import PRACTICE, Basis, Edge, FilmClass, Kind, Sheen, SolventFamily, Surface, Trait, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT
from ..situation import Finding, Landing, Layer, Situation

SURFACE_RULE = f"surface energy order, wax and grease lowest; {PRACTICE}"
WATER_BORNE = 0.5
WETS_ALL = 0.3  # share of alcohol and glycol ether from which a watery carrier wets like them (assumption)
OILY_BELOW = 0.85  # stiffness up to which an oxidising film is oily to water
OILIEST = 0.7  # stiffness up to which it is as oily as it gets (assumption)
WETS_OIL_BETTER = 0.4  # white glue and scenic cement against varnish
THIN_UM, THINNEST = 3.4, 0.25  # a film thinner than this is less oily, in proportion, and at least so much (assumption)
# Coverage from which beads run together, and what is left of the harm where they do not (assumptions).
SPREAD, ALONE = 0.3, 0.6
# How grave it is, 0–1 (ours): water on oil; on wax or hard gloss; where it may crawl.
ON_OIL, ON_WAX, PRESSED_DOWN, MAY_CRAWL, LEAST = 0.65, 0.6, 0.4, 0.3, 0.05


@dataclass(frozen=True, slots=True)
class Row:
    """A line of the table: on which surface, when else, how grave, word, why, what to do. `{it}`: the layer."""

    surface: tuple[Surface, ...]
    when: Callable[[Layer, Landing], bool]
    severity: float
    word: str
    why: str
    advice: str

    def fits(self, layer: Layer, landing: Landing) -> bool:
        assert layer.system is not None
        return layer.system.surface in self.surface and self.when(layer, landing)


def marking(_: Layer, landing: Landing) -> bool:
    return landing.is_for(Use.MARKING)


def gloss(layer: Layer, landing: Landing) -> bool:
    return layer.sheen is Sheen.GLOSS


def any_(layer: Layer, landing: Landing) -> bool:
    return True


DEWETS = Row(
    (Surface.GLOSS_URETHANE,), marking, PRESSED_DOWN, "dewets",
    "A water-slide decal draws back from {it}: hard gloss urethane is not wetted.",
    "Setting fluid first, then press it down; or lay a gloss acrylic or lacquer clear under the decals.",
)  # fmt: skip
WAX = Row(
    (Surface.WAXY,), any_, ON_WAX, "beads", "Water beads on the wax of {it}, and age does not change that.",
    "Rub wax metallics on last; if a coat must go over, mist a solvent clear that does not dissolve wax.",
)  # fmt: skip
NOT_FOR_MARKINGS = Row(tuple(Surface), marking, 0.0, "", "", "")
URETHANE = Row(
    (Surface.GLOSS_URETHANE,), gloss, MAY_CRAWL, "beads",
    "Water hardly wets {it}: what it carries may crawl and can be peeled off.",
    "Scuff it with a fine pad, wipe it clean, and mist the first pass.",
)  # fmt: skip
OILY = Row(
    tuple(s for s in Surface if s is not Surface.GLOSS_URETHANE), any_, ON_OIL, "beads",
    "Water does not wet {it} while it is oily: what it carries beads and crawls.",
    "Wait until it is dry and matt, mist a solvent clear first, or use a carrier that wets oil.",
)  # fmt: skip
ALKYD = Row(
    (Surface.GLOSS_ALKYD,), gloss, MAY_CRAWL, "beads",
    "Water hardly wets gloss {it}: what it carries beads at edges and may peel.",
    "Dull it with a fine pad, or mist a solvent clear first.",
)  # fmt: skip
TABLE = (WAX, DEWETS, NOT_FOR_MARKINGS, URETHANE, OILY, ALKYD)  # the first line that fits decides


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    wetted = landing.shares.get(SolventFamily.ALCOHOL, 0.0) + landing.shares.get(SolventFamily.GLYCOL_ETHER, 0.0)
    if landing.water < WATER_BORNE or wetted >= WETS_ALL or layer.system is None:
        return
    stiff = layer.stiffness(at_min, edge)
    oily = layer.system.surface is Surface.OILY or (layer.is_film(FilmClass.OXIDISING) and stiff < OILY_BELOW)
    row = next((r for r in TABLE if (r is not OILY or oily) and r.fits(layer, landing)), NOT_FOR_MARKINGS)
    severity = row.severity
    if row is OILY:
        severity *= min((1 - stiff) / (1 - OILIEST), 1.0)
        severity = max(severity, LEAST) * max(min(layer.film_um / THIN_UM, 1.0), THINNEST)
        severity *= ALONE + (1 - ALONE) * min(layer.coverage / SPREAD, 1.0)
    if row in (OILY, WAX) and landing.has(Trait.WETS_OIL):
        severity *= WETS_OIL_BETTER
    if severity >= SLIGHT:
        why = row.why.format(it=layer.words)
        yield MECHANISM.found(Kind.HOLD, severity, row.word, why, row.advice, Basis.RULE, SURFACE_RULE)


MECHANISM = Mechanism(
    id="beads",
    says="A water-borne coat does not wet an oily, waxy or glossy film.",
    on=contacts(LAY),
    course=Course.PEAKS,
    judge=judge,
    would_change="a dull, dry surface or a mist of solvent clear first",
    check=Check(
        "A drop of clean water on a hidden spot spreads and stays flat for a minute.",
        "Dull the spot with a fine pad, or mist a solvent clear over it, and try the drop again.",
    ),
    scrap=Scrap(
        30, "It lies down closed, and low-tack tape lifts nothing the day after.", "Beads, craters, or it peels."
    ),
    fault=("fish_eye.oily_film", "lifted_edge.no_hold", "wash_beads.slick"),
    cost=40,
)
