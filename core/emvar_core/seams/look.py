"""Spoiled look: silvering, staining, vanished pigment, dulled metal, bleeding dyes, frosting, lost shine.

Severities here are fixed by case (common practice); docs/models.md lists them.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..drying.clock import Edge
from ..materials import FilmClass
from ..plan import Method, School, Sheen
from .chemistry import power_on
from .contact import PRACTICE, Contact, Finding, Kind, Situation


def sheen_below(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """The sheen that a marking, a wash or a pigment wants below it."""
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.LAY or landing.material is None or layer.sheen is None:
        return
    straight = landing.schools.get(School.CLEAR_BEFORE_DECALS) == "straight_on"
    if landing.material.use == "marking" and layer.sheen is not Sheen.GLOSS:
        severity = (0.6 if layer.sheen is Sheen.MATT else 0.25) * (0.5 if straight else 1)
        sheen = layer.sheen.value
        yield Finding(
            "silvers",
            Kind.LOOK,
            severity,
            "silvers",
            lambda: f"A decal on {sheen} {layer.words} traps air and silvers.",
            "A gloss clear first; those who go straight on need it smooth and tight, and more softener.",
            "practice",
            lambda: f"{PRACTICE}; the schools differ (gloss first, straight on)",
            school=School.CLEAR_BEFORE_DECALS,
        )
    if landing.method is Method.WASH and layer.sheen is Sheen.MATT and landing.spirit > 0.5:
        yield Finding(
            "stains",
            Kind.LOOK,
            0.3,
            "stains",
            lambda: f"A wash on matt {layer.words} stains everywhere and leaves a ghost when wiped.",
            "A gloss or satin clear first if the detail alone is wanted.",
            "practice",
            lambda: PRACTICE,
        )


def over_pigment(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.is_film(FilmClass.LOOSE) or landing.contact is not Contact.LAY:
        return
    if landing.system is not None and landing.system.film is FilmClass.RUBBED:
        yield Finding(
            "mud",
            Kind.LOOK,
            0.6,
            "turns to mud",
            lambda: f"Rubbed metal over {layer.words} picks the pigment up and turns to mud.",
            "Keep the edges clean: rub metal on bare high spots, and keep pigment away from them.",
            "practice",
            lambda: PRACTICE,
        )
        return
    if landing.wet_s <= 0:
        return
    severity = 0.35 if landing.rub <= 0.12 else 0.6
    if landing.material is not None and landing.material.use == "fixer":
        severity = 0.25
    yield Finding(
        "pigment_lost",
        Kind.LOOK,
        severity,
        "vanishes" if severity > 0.3 else "darkens",
        lambda: f"A wet coat over {layer.words} darkens the pigment, or floats it away.",
        "Lay pigment last; if it must be held, touch fixer in from the edge, or mist it and expect it darker.",
        "practice",
        lambda: PRACTICE,
    )


def over_metal(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Clear coats kill the shine of rubbed metal and turn polished-metal lacquer grey."""
    layer, landing = s.layer, s.landing
    if not layer.has("metallic") or landing.contact is not Contact.LAY or landing.material is None:
        return
    if landing.material.use not in ("clear", "colour", "fixer", "medium") or landing.has("metallic"):
        return
    rubbed = layer.is_film(FilmClass.RUBBED)
    matt = landing.sheen is Sheen.MATT
    severity = 0.45 if rubbed else 0.4 if matt else 0.22
    yield Finding(
        "dulls",
        Kind.LOOK,
        severity,
        "dulls",
        lambda: (
            f"A coat over {layer.words} kills its shine."
            if rubbed
            else f"{'Matt' if matt else 'A'} clear over {layer.words} turns it grey."
        ),
        "Put metal on after the last clear, or keep the clear off it.",
        "practice",
        lambda: PRACTICE,
    )


def metal_wants_gloss(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.LAY or not landing.has("metallic") or landing.system is None:
        return
    if landing.system.film is FilmClass.RUBBED or layer.sheen is Sheen.GLOSS or layer.system is None:
        return
    yield Finding(
        "grey_metal",
        Kind.LOOK,
        0.35,
        "looks grey",
        lambda: f"Polished-metal lacquer on {layer.sheen.value if layer.sheen else 'matt'} {layer.words} looks grey.",
        "Lay a flawless, cured gloss black first, and mist the metal on.",
        "practice",
        lambda: PRACTICE,
    )


def bleeds(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Dyes travel into a coat whose solvent opens theirs."""
    layer, landing = s.layer, s.landing
    if not layer.has("bleeds") or landing.contact is not Contact.LAY or layer.system is None or not landing.blend.parts:
        return
    power = power_on(s.k, landing.blend, layer.system).power
    severity = 0.45 * power * (0.5 if landing.rub <= 0.05 else 1.0)
    if severity < 0.1:
        return
    yield Finding(
        "bleeds",
        Kind.LOOK,
        severity,
        "bleeds",
        lambda: f"The dye of {layer.words} comes up into what goes over it and tints it.",
        "Seal it with a water-borne clear first, or paint the light colour before the dye.",
        "practice",
        lambda: f"{PRACTICE}; how far the carrier opens the dyed film",
    )


def softener_on_paint(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if landing.material is None or landing.material.use != "marking" or layer.material is None:
        return
    strong = landing.shares.get("glycol_ether", 0) + landing.shares.get("ester", 0)
    if strong < 0.05 or layer.material.use == "clear" or layer.is_film(FilmClass.OXIDISING, FilmClass.CROSSLINKED):
        return
    yield Finding(
        "softener",
        Kind.DAMAGE,
        0.4,
        "bites",
        lambda: f"A strong decal softener on {layer.words}, with no clear over it, can bite the paint.",
        "A gloss clear first, or a mild softener and patience.",
        "practice",
        lambda: PRACTICE,
    )


def frosts(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Matt clear that lies thick, wet or in damp air whitens in recesses."""
    landing = s.landing
    if s.index != 0 or landing.contact is not Contact.LAY or landing.material is None:
        return
    if landing.material.use != "clear" or landing.sheen is not Sheen.MATT:
        return
    pass_um = landing.film_um / max(landing.passes, 1)
    flood = landing.method in (Method.WET_SPRAY, Method.BRUSH, Method.FLOOD)
    causes = [pass_um > 12, landing.rh_pct > 75, flood]
    severity = 0.15 * sum(causes)
    if severity < 0.2:
        return
    yield Finding(
        "frosts",
        Kind.LOOK,
        severity,
        "frosts",
        lambda: "Matt clear that is thick, wet or laid in damp air frosts white in recesses.",
        "Stir all of the matting agent up; thin passes in dry air. Rescue: thin gloss or satin, then matt again.",
        "practice",
        lambda: PRACTICE,
    )


def shine_lost(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Wet-looking and greasy spots vanish under a later matt clear."""
    layer, landing = s.layer, s.landing
    if landing.contact is not Contact.LAY or landing.material is None or landing.material.use != "clear":
        return
    if landing.sheen is Sheen.GLOSS or layer.sheen is not Sheen.GLOSS or layer.coverage > 0.45 or layer.system is None:
        return
    if layer.is_film(FilmClass.DECAL):
        return
    yield Finding(
        "shine_lost",
        Kind.LOOK,
        0.3,
        "vanishes",
        lambda: f"The shine of {layer.words} vanishes under a {landing.sheen.value if landing.sheen else ''} clear.",
        "Put wet and greasy spots on after the last clear.",
        "practice",
        lambda: PRACTICE,
    )


def tone(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Gloss and wet deepen a colour, matt lightens it: no fault, but told."""
    layer, landing = s.layer, s.landing
    if s.index != 0 or landing.contact is not Contact.LAY or landing.material is None or layer.system is None:
        return
    if landing.material.use != "clear" or landing.sheen is layer.sheen or Sheen.SATIN in (landing.sheen, layer.sheen):
        return
    deeper = landing.sheen is Sheen.GLOSS
    yield Finding(
        "tone",
        Kind.LOOK,
        0.08,
        "deepens" if deeper else "lightens",
        lambda: f"Under this {layer.words} looks {'deeper and richer' if deeper else 'lighter and flatter'}.",
        "Judge colours under the last clear, on a trial piece.",
        "practice",
        lambda: PRACTICE,
    )


LAY_TIMELESS = (
    sheen_below,
    over_pigment,
    over_metal,
    metal_wants_gloss,
    bleeds,
    softener_on_paint,
    frosts,
    shine_lost,
    tone,
)
