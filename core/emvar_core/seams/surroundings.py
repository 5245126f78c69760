"""What comes from around the seam: air, heat, stress in the plastic, live media, and what nobody knows."""

from __future__ import annotations

from collections.abc import Iterator

from ..drying.clock import Edge
from ..materials import FilmClass
from ..plan import FittingAction, Method
from .contact import PRACTICE, Contact, Finding, Kind, Situation, cap

STRESS_BY_METHOD: dict[Method, float] = {
    Method.MIST: 0.12,
    Method.SPRAY: 0.25,
    Method.WET_SPRAY: 0.55,
    Method.CAN: 0.4,
    Method.BRUSH: 0.6,
    Method.SPONGE: 0.15,
    Method.DRY_BRUSH: 0.05,
    Method.WASH: 0.8,
    Method.FLOOD: 0.95,
    Method.SPECKLE: 0.15,
    Method.DAMP_WIPE: 0.35,
    Method.WET_WIPE: 0.7,
    Method.SCRUB: 0.5,
}
SEALED_UM = 15.0  # primer and clear on every face and joint (assumption)


def blush(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Evaporation cools the film; below the dew point water condenses in it and it whitens."""
    landing = s.landing
    if landing.contact is not Contact.LAY or landing.coldest_c is None or landing.dew_c is None:
        return
    if landing.system is None or landing.system.film is not FilmClass.EVAPORATING or landing.water > 0.2:
        return
    severity = min((landing.dew_c - landing.coldest_c - 0.5) / 9, 0.9)
    if severity < 0.15:
        return
    yield Finding(
        "blush",
        Kind.LOOK,
        severity,
        "blushes",
        lambda: (
            f"The fast thinner cools the film to about {landing.coldest_c:.0f} °C, below the dew point of "
            f"{landing.dew_c:.0f} °C: moisture whitens it."
        ),
        "Use a slower thinner or a retarder, or wait for drier air.",
        "model",
        lambda: "heat balance of the evaporating film against the dew point of the bench air",
    )


def cold_dispersion(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing = s.landing
    if landing.contact is not Contact.LAY or landing.system is None or landing.system.mfft_c is None:
        return
    if landing.temp_c >= 15:
        return
    middle = sum(landing.system.mfft_c) / 2
    yield Finding(
        "cold",
        Kind.HOLD,
        0.6 if landing.temp_c < middle else 0.3,
        "stays powdery",
        lambda: f"At {landing.temp_c:.0f} °C a water-borne film may not fuse: it stays powdery or cracks.",
        "Warm the bench and the paint to 15 °C or more before spraying.",
        "practice",
        lambda: f"film-forming temperatures of 0–20 °C by paint; {PRACTICE}",
    )


def cold_alkyd(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    landing = s.landing
    if s.index != 0 or landing.contact is not Contact.LAY or landing.system is None:
        return
    if landing.system.film is not FilmClass.OXIDISING or landing.temp_c >= 10:
        return
    yield Finding(
        "cold_alkyd",
        Kind.DAMAGE,
        0.3,
        "stays soft",
        lambda: (
            f"At {landing.temp_c:.0f} °C alkyd and oil take up oxygen so slowly that they stay soft for a long time."
        ),
        "Dry it in a warm, light room; do not go on before a thumbnail in a hidden spot says so.",
        "model",
        lambda: "Arrhenius rate of hardening at this temperature",
    )


def heat(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Warm air that softens the plastic: the limit is that of the base material, at the part."""
    landing = s.landing
    limit = s.base.heat_limit_c if s.base is not None else 45.0
    if s.index != 0 or landing.heat_c is None or landing.heat_c <= limit:
        return
    over = landing.heat_c - limit
    yield Finding(
        "heat",
        Kind.DAMAGE,
        min(0.4 + over / 50, 0.9),
        "softens",
        lambda: f"{landing.heat_c:g} °C at the part softens and warps it: {limit:g} °C is the most it bears.",
        "Keep warm air at 40–45 °C at the part, moving, and only once no solvent can be smelt.",
        "practice",
        lambda: PRACTICE,
        # Under more coats than are looked at the base stands for itself no longer: told at the seam then.
        len(s.layers) - 1 if s.base is not None else s.index,
    )


def stress_crack(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Spirit that creeps into stressed joints cracks plastic that it does not dissolve: a rule of its own."""
    base, landing = s.base, s.landing
    if base is None or not base.stressed or s.index != 0 or landing.wet_s <= 0 or landing.method is None:
        return
    spirit = landing.spirit + 0.5 * landing.hot + 0.3 * landing.shares.get("alcohol", 0.0)
    severity = STRESS_BY_METHOD.get(landing.method, 0.1) * min(spirit, 1.0)
    sealed = s.cover_um() >= SEALED_UM
    if sealed:
        severity *= 0.4  # it still creeps in at joints that no coat has closed
    if severity < 0.1:
        return
    yield Finding(
        "stress_crack",
        Kind.DAMAGE,
        severity,
        "cracks",
        lambda: (
            f"The {landing.carrier_words} creeps into stressed joints of {s.layers[-1].words} and cracks them"
            + (", where the coats do not close them." if sealed else ".")
        ),
        "Ease the fit, prime every face and joint, wash with water-borne washes, or use odourless spirit sparingly.",
        "rule",
        lambda: f"stress cracking is no matter of solubility; {PRACTICE}",
        len(s.layers) - 1,
    )


def _live_under(s: Situation) -> tuple[int, bool] | None:
    """Where a live chipping medium lies under other coats, and whether one of them seals it."""
    for i, layer in enumerate(s.layers):
        if layer.substrate is not None:
            return None
        if layer.is_film(FilmClass.WATER_SOLUBLE) and layer.material is not None and layer.material.use == "medium":
            above = s.layers[:i]
            if not above:
                return None  # it is met directly, and judged as such
            return i, any(a.coverage > 0.9 and _seals(a.system.id if a.system else "") for a in above)
    return None


def live_medium_key(s: Situation) -> tuple[object, ...]:
    """What `live_medium` asks of the stack, and what is then told of that layer, as a key."""
    found = _live_under(s) if s.index == 0 else None
    if found is None:
        return ()
    layer = s.layers[found[0]]
    air = None if layer.drying is None else layer.drying.line.at(layer.drying.end_min)
    told = () if air is None else (air.temp_c, air.rh_pct, air.movement)
    return (*found, layer.name, layer.film_um, *told)


def live_medium(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """A chipping medium left unsealed re-opens under later water: decals, clay, cement, a wet clear."""
    landing = s.landing
    if s.index != 0 or landing.contact is not Contact.LAY or landing.water < 0.4 or landing.wet_s < 30:
        return
    found = _live_under(s)
    if found is None or found[1]:
        return
    words = s.layers[found[0]].words
    wet = landing.rub > 0.12 or landing.method is Method.PLACE
    yield Finding(
        "live_medium",
        Kind.DAMAGE,
        0.45 if wet else 0.15,
        "re-opens",
        lambda: f"{cap(words)} is still live under the colour: water gets in at every chip and it lets go again.",
        "When it is dry, seal it with mist coats of a solvent clear; that ends the chipping for good.",
        "practice",
        lambda: PRACTICE,
        found[0],
    )


def _seals(system: str) -> bool:
    return system in {"lacquer", "alcohol_acrylic", "enamel", "urethane_alkyd", "two_pack", "butyl_methacrylate"}


def sinks(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Putty that has not shrunk through sinks under a hot wet coat."""
    layer, landing = s.layer, s.landing
    if layer.material is None or layer.material.use != "putty" or landing.contact is not Contact.LAY:
        return
    degree = layer.degree(at_min, edge)
    severity = (1 - degree) * (0.3 + 0.9 * landing.hot)
    if severity < 0.1:
        return
    yield Finding(
        "sinks",
        Kind.LOOK,
        severity,
        "sinks",
        lambda: f"{cap(layer.words)} has not shrunk through: it sinks under the coat and the seam shows again.",
        "Give the putty days, sand it, and mist the first coat over it.",
        "practice",
        lambda: PRACTICE,
    )


def unknown_layer(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """An unnamed layer never defaults to safe."""
    layer = s.layer
    if not layer.is_film(FilmClass.UNKNOWN) or s.landing.action is FittingAction.INSPECT:
        return
    dry = s.landing.contact is Contact.LAY and not s.landing.blend.parts
    yield Finding(
        "unknown",
        Kind.DAMAGE,
        0.22 if dry else 0.3,
        "unknown",
        lambda: f"What {layer.words} is made of, and how old it is, is not known: nothing says that it bears this.",
        "Bud-test a hidden spot with water, white spirit, 70 % isopropanol, mild thinner, in that order.",
        "unknown",
        lambda: "nothing: an unnamed layer is never taken to be safe",
    )


def fogs(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    base, touch = s.base, s.landing.touch
    if s.index != 0 or touch is None or not touch.fogs or base is None or base.id != "glazing":
        return
    yield Finding(
        "fogs",
        Kind.LOOK,
        0.4,
        "fogs",
        lambda: "The fumes of super glue fog clear parts.",
        "Fit clear parts with white glue or a clear that dries hard.",
        "practice",
        lambda: PRACTICE,
        len(s.layers) - 1,
    )


LAY, LAY_TIMELESS = (sinks,), (blush, cold_dispersion, cold_alkyd, heat, stress_crack, live_medium, unknown_layer)
WORK_TIMELESS = (stress_crack, unknown_layer)
TOUCH_TIMELESS = (unknown_layer, fogs)
