"""Water-borne over oily, waxy or glossy films beads, and does not hold."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, FilmClass, Kind, Sheen, SolventFamily, Surface, Trait, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT
from ..situation import Finding, Situation

SURFACE_RULE = f"surface energy order, wax and grease lowest; {PRACTICE}"
WATER_BORNE = 0.5
WETS_ALL = 0.3  # share of alcohol and glycol ether from which a watery carrier wets like them (assumption)
OILY_BELOW = 0.85  # stiffness up to which an oxidising film is oily to water
WETS_OIL_BETTER = 0.4  # white glue and scenic cement against varnish


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    wetted = landing.shares.get(SolventFamily.ALCOHOL, 0.0) + landing.shares.get(SolventFamily.GLYCOL_ETHER, 0.0)
    if landing.water < WATER_BORNE or wetted >= WETS_ALL or layer.system is None:
        return
    marking = landing.is_for(Use.MARKING)
    wets = WETS_OIL_BETTER if landing.has(Trait.WETS_OIL) else 1.0
    surface, word = layer.system.surface, "beads"
    stiff = layer.stiffness(at_min, edge)
    why = f"A water-borne coat does not wet {layer.words} while it is oily: it beads and crawls."
    advice = "Wait until it is dry and matt, mist a solvent clear first, or use a carrier that wets oil."
    oily = surface is Surface.OILY or (layer.is_film(FilmClass.OXIDISING) and stiff < OILY_BELOW)
    if surface is Surface.WAXY:
        severity = 0.6 * wets
        why = f"Water beads on the wax of {layer.words}, and age does not change that."
        advice = "Rub wax metallics on last; if a coat must go over, mist a solvent clear that does not dissolve wax."
    elif surface is Surface.GLOSS_URETHANE and marking:
        severity, word = 0.6, "dewets"
        why = f"A water-slide decal draws back from {layer.words}: hard gloss urethane is not wetted."
        advice = "Lay a gloss acrylic or lacquer clear under the decals."
    elif marking:
        return
    elif surface is Surface.GLOSS_URETHANE and layer.sheen is Sheen.GLOSS:
        severity = 0.3
        why = f"A water-borne coat hardly wets {layer.words}: it may crawl and can be peeled off."
        advice = "Scuff it with a fine pad, wipe it clean, and mist the first pass."
    elif oily and surface is not Surface.GLOSS_URETHANE:
        severity = 0.65 * (1 - stiff) / 0.3 if stiff > 0.7 else 0.65
        severity = max(min(severity, 0.65), 0.05) * (0.6 if layer.film_um < 3 else 1) * wets
        # Sparse streaks make beads only where they are.
        severity *= 0.6 + 0.4 * min(layer.coverage / 0.3, 1.0)
    elif surface is Surface.GLOSS_ALKYD and layer.sheen is Sheen.GLOSS:
        severity = 0.3
        why = f"A water-borne coat hardly wets gloss {layer.words}: it beads at edges and may peel."
        advice = "Dull it with a fine pad, or mist a solvent clear first."
    else:
        return
    if severity < SLIGHT:
        return
    yield MECHANISM.found(Kind.HOLD, severity, word, why, advice, Basis.RULE, SURFACE_RULE)


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
