"""Wetting and adhesion, apart from attack: what will not take a coat, or lets it go again.

Surface energy orders the surfaces: wax and grease lowest, then oil, gloss urethane, gloss alkyd, lacquer, matt films.
Severities here are fixed by case (common practice); docs/models.md lists them.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..drying.clock import TACK_DEGREE, Edge
from ..materials import FilmClass
from ..plan import FittingAction, Sheen
from .contact import PRACTICE, Contact, Finding, Kind, Layer, Situation, cap

SURFACE_RULE = f"surface energy order, wax and grease lowest; {PRACTICE}"


def _water_borne(s: Situation) -> bool:
    return s.landing.contact is Contact.LAY and s.landing.water >= 0.5


def _wets(s: Situation) -> float:
    """White glue and scenic cement wet oil better than varnish does."""
    return 0.4 if s.landing.has("wets_oil") else 1.0


def wetting(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Water-borne over oily, waxy or glossy films beads, and does not hold."""
    layer = s.layer
    if not _water_borne(s) or layer.system is None:
        return
    marking = s.landing.material is not None and s.landing.material.use == "marking"
    surface, word = layer.system.surface, "beads"
    degree = layer.degree(at_min, edge)
    why = f"A water-borne coat does not wet {layer.words} while it is oily: it beads and crawls."
    advice = "Wait until it is dry and matt, mist a solvent clear first, or use a carrier that wets oil."
    oily = surface == "oily" or (layer.is_film(FilmClass.OXIDISING) and degree < 0.85)
    if surface == "waxy":
        severity = 0.6 * _wets(s)
        why = f"Water beads on the wax of {layer.words}, and age does not change that."
        advice = "Rub wax metallics on last; if a coat must go over, mist a solvent clear that does not dissolve wax."
    elif surface == "gloss_urethane" and marking:
        severity, word = 0.6, "dewets"
        why = f"A water-slide decal draws back from {layer.words}: hard gloss urethane is not wetted."
        advice = "Lay a gloss acrylic or lacquer clear under the decals."
    elif marking:
        return
    elif surface == "gloss_urethane" and layer.sheen is Sheen.GLOSS:
        severity = 0.3
        why = f"A water-borne coat hardly wets {layer.words}: it may crawl and can be peeled off."
        advice = "Scuff it with a fine pad, wipe it clean, and mist the first pass."
    elif oily and surface != "gloss_urethane":
        severity = 0.65 * (1 - degree) / 0.3 if degree > 0.7 else 0.65
        severity = max(min(severity, 0.65), 0.05) * (0.6 if layer.film_um < 3 else 1) * _wets(s)
        # Sparse streaks make beads only where they are.
        severity *= 0.6 + 0.4 * min(layer.coverage / 0.3, 1.0)
    elif surface == "gloss_alkyd" and layer.sheen is Sheen.GLOSS:
        severity = 0.3
        why = f"A water-borne coat hardly wets gloss {layer.words}: it beads at edges and may peel."
        advice = "Dull it with a fine pad, or mist a solvent clear first."
    else:
        return
    if severity < 0.1:
        return
    yield Finding("beads", Kind.HOLD, severity, word, lambda: why, advice, "rule", lambda: SURFACE_RULE)


def bare_base(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """What the base material itself asks for: washing, a metal primer, post-curing, isolation."""
    base = s.layer.substrate
    if base is None or s.landing.contact is not Contact.LAY or s.landing.material is None:
        return
    landing, where = s.landing, s.layer.words
    loose = landing.system is not None and landing.system.film in (FilmClass.LOOSE, FilmClass.RUBBED)
    if loose or base.surface in ("plain", "vinyl"):
        return
    if base.surface == "greasy":
        severity, word, kind = (0.65 if landing.water >= 0.5 else 0.4), "crawls", Kind.HOLD
        why = f"Mould oil or grease on {where}: {landing.name} crawls away from it or peels with the first tape."
        advice = "Wash it with dish soap and a brush, rinse, let it dry, and handle it with gloves."
        name = "crawls"
    elif base.surface == "bare_metal":
        if landing.has("keys_metal"):
            return
        hold = landing.hot >= 0.2 or landing.spirit >= 0.5
        severity, word, kind = (0.4 if hold else 0.6), "peels", Kind.HOLD
        why = f"Paint finds no hold on {where}: it chips at the first touch."
        advice = "Degrease it and lay a metal primer first."
        name = "peels"
    elif base.surface == "uncured":
        severity, word, kind = 0.7, "stays tacky", Kind.DAMAGE
        why = f"{cap(where)} still sweats monomer: the paint over it stays tacky and lifts."
        advice = "Wash it in isopropanol, dry it, and post-cure it fully under ultraviolet first."
        name = "uncured"
    else:
        severity, word, kind = 0.3, "unknown", Kind.HOLD
        why = f"What lies at the bottom is not known, so nothing says that {landing.name} holds on it or spares it."
        advice = "Try the carrier on a hidden spot, and a piece of tape on the dry coat the day after."
        name = "unknown"
    basis = "unknown" if base.surface == "unknown" else "rule"
    yield Finding(name, kind, severity, word, lambda: why, advice, basis, lambda: PRACTICE)


def soft_vinyl(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Plasticiser from soft vinyl softens alkyd and oil for ever, also through a thin coat."""
    base, landing = s.base, s.landing
    if base is None or base.surface != "vinyl" or landing.contact is not Contact.LAY or landing.system is None:
        return
    if s.index != 0 or landing.system.film in (FilmClass.LOOSE, FilmClass.RUBBED, FilmClass.DECAL):
        return
    bare = s.layer.substrate is not None
    cover = s.cover_um()
    if landing.system.film is FilmClass.OXIDISING:
        severity = 0.7 if cover < 10 else 0.35 if cover < 25 else 0.15
        why = "Plasticiser from the soft vinyl keeps alkyd and oil soft: it never dries through."
        advice = "Isolate the vinyl with a water-borne primer on every face, and paint it with water-borne colour."
        word = "never dries"
    elif bare:
        severity = 0.25 if landing.water >= 0.5 else 0.45
        why = "Soft vinyl moves and gives off plasticiser: paint on it cracks, peels or turns sticky."
        advice = "Use an elastic water-borne coat, thin, on washed vinyl."
        word = "peels"
    else:
        return
    if severity < 0.1:
        return
    kind = Kind.DAMAGE if word == "never dries" else Kind.HOLD
    yield Finding("vinyl", kind, severity, word, lambda: why, advice, "rule", lambda: PRACTICE, len(s.layers) - 1)


def unscuffed(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Another coat over hard two-pack holds only inside its window or on a scuffed face."""
    layer, landing = s.layer, s.landing
    if not layer.is_film(FilmClass.CROSSLINKED) or landing.contact is not Contact.LAY or landing.material is None:
        return
    if layer.drying is None or landing.material.use not in ("primer", "colour", "clear"):
        return
    assert layer.system is not None
    until = layer.system.recoat_again_before or 0.0
    if layer.drying.ref_minutes(at_min) < until:
        return
    yield Finding(
        "unscuffed",
        Kind.HOLD,
        0.35,
        "peels",
        lambda: f"{cap(layer.words)} is past its recoat window: a new coat lies on it like on glass.",
        "Scuff it with a fine pad and wipe it clean first; the product's own recoat window wins.",
        "practice",
        lambda: PRACTICE,
    )


def no_grip(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.LAY or landing.system is None or landing.system.film is not FilmClass.LOOSE:
        return
    if layer.sheen is not Sheen.GLOSS or layer.system is None:
        return
    if layer.is_film(FilmClass.OXIDISING) and layer.degree(at_min, edge) < TACK_DEGREE:
        return  # tack holds it
    yield Finding(
        "no_grip",
        Kind.HOLD,
        0.35,
        "slides off",
        lambda: f"Dry pigment finds no hold on gloss {layer.words}.",
        "A matt clear first, or bind the pigment.",
        "practice",
        lambda: PRACTICE,
    )


def rubs_off(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Loose pigment, rubbed metal and wax come off on fingers and tape until they are sealed."""
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.TOUCH or layer.system is None:
        return
    if landing.action in (None, FittingAction.INSPECT, FittingAction.UNMASK):
        return
    if not (layer.is_porous or layer.system.surface == "waxy"):
        return
    loose = layer.is_film(FilmClass.LOOSE)
    yield Finding(
        "rubs_off",
        Kind.HOLD,
        0.6 if loose else 0.3,
        "rubs off",
        lambda: f"{cap(layer.words)} is not sealed: fingers and tape take it off.",
        "Touch the model elsewhere, on a stand or a handle; do it before this goes on; or fix it first.",
        "practice",
        lambda: PRACTICE,
    )


def tape_lifts(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Tape on paint that holds badly: on bare plastic, or on polished metal lacquer."""
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.TOUCH or landing.action is not FittingAction.MASK:
        return
    tack = landing.touch.tack if landing.touch is not None else 0.3
    if tack <= 0.1 or layer.system is None:
        return
    below = s.layers[s.index + 1] if s.index + 1 < len(s.layers) else None
    unprimed = below is not None and below.substrate is not None and layer.material is not None
    if layer.has("metallic") and not layer.is_porous:
        severity, why = 0.3, f"{cap(layer.words)} is fragile: tape may lift it at any age."
    elif unprimed and layer.is_film(FilmClass.DISPERSION) and _use(layer) != "primer":
        severity, why = 0.3, f"{cap(layer.words)} lies on bare material without a primer: tape lifts it."
    else:
        return
    yield Finding(
        "tape_lifts",
        Kind.HOLD,
        severity + 0.25 * (tack - 0.3),
        "lifts",
        lambda: why,
        "Take most of its tack off on your hand, mask over a clear, and peel it back on itself within the day.",
        "practice",
        lambda: PRACTICE,
    )


def _use(layer: Layer) -> str:
    return layer.material.use if layer.material is not None else ""


def ammonia_mask(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.TOUCH or landing.touch is None or not landing.touch.ammonia:
        return
    if layer.drying is None or not layer.is_film(FilmClass.DISPERSION, FilmClass.WATER_SOLUBLE, FilmClass.DECAL):
        return
    needs = (landing.touch.needs_h or 0) * 60
    if layer.drying.ref_minutes(at_min) >= needs * (1.2 if edge is Edge.LATE else 1.0) and not layer.is_film(
        FilmClass.WATER_SOLUBLE
    ):
        return
    yield Finding(
        "ammonia",
        Kind.DAMAGE,
        0.6,
        "softens",
        lambda: f"Liquid mask carries ammonia and water: they soften {layer.words} while it is young.",
        "Give the paint at least a day, try it on scrap, and take the mask off within the day.",
        "practice",
        lambda: PRACTICE,
    )


LAY, LAY_TIMELESS = (wetting, unscuffed, no_grip), (bare_base, soft_vinyl)
TOUCH, TOUCH_TIMELESS = (ammonia_mask,), (rubs_off, tape_lifts)
