"""The ways in which one layer harms, or fails on, another. One function a mechanism; each says what it rests on.

A severity of 0–1 is compared with two fixed thresholds (`judge.py`). Constants that were fitted are listed with
their points in docs/models.md §1.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from ..drying.clock import Edge
from ..materials import FilmClass
from ..plan import FittingAction, Method
from . import hold, look, surroundings
from .chemistry import Power, crazing, log_d_of_red, power_on
from .contact import Contact, Finding, Kind, Landing, Layer, Reach, Situation

BITE_UM = 3.0  # depth at which an opened film moves visibly under a rub (fitted: alcohol scrub on lacquer)
REACH_LAYERS = 6
SPARSE = 0.15  # coverage below which a coat seals nothing in
SCRUBS = 0.75  # rub from which work is a scrub
STARVED_LOOSE = 0.45  # of a heavily thinned oil that never binds well (assumption: spirit re-opens it for weeks)
SWELLS = 0.8  # of a fully hot carrier on a hardened alkyd (assumption: one flood of it clashes, a mist does not)
PRACTICE = "common practice"

HSP = "Hansen solubility parameters of carrier and binder, and the hardening of the film by then"


def effective_log_d(power: Power, degree: float) -> float:
    """A young film lets solvent through faster: up to 100 times when fresh (assumption, from memory)."""
    return power.log_d + 2.0 * max(0.0, 1 - degree / 0.85) * (1 if power.power > 0 else 0)


def bite_um(log_d: float, wet_s: float) -> float:
    """Depth in µm that a solvent gets to in a time: √(2·D·t)."""
    return math.sqrt(2 * 10**log_d * wet_s) * 1e6


def reach(s: Situation, at_min: float, edge: Edge) -> Iterator[tuple[int, Layer, Power | None, float, float]]:
    """Walks down from the exposed layer: index, layer, power, seconds left there, share of it reached."""
    seconds, liquid = s.landing.wet_s, s.landing.liquid_um
    for i in range(s.index, min(len(s.layers), s.index + REACH_LAYERS)):
        layer = s.layers[i]
        if layer.system is None:
            yield i, layer, None, seconds, 1.0 if seconds > 0 else 0.0
            return
        power = power_on(s.k, s.landing.blend, layer.system)
        if layer.is_porous:
            yield i, layer, power, seconds, 1.0
            continue
        log_d = effective_log_d(power, layer.degree(at_min, edge))
        depth = min(bite_um(log_d, seconds), liquid * 3 if power.power > 0 else 0.5)
        share = min(depth / layer.film_um, 1.0)
        yield i, layer, power, seconds, share
        if share < 1.0:
            return
        seconds -= layer.film_um**2 * 1e-12 / (2 * 10**log_d)
        liquid -= layer.film_um / 3
        if seconds <= 0 or liquid <= 0:
            return


def deepest_reached(s: Situation, at_min: float) -> list[int]:
    """Layers that the carrier gets to at the careful edge; later, as they harden, it gets to no more."""
    return [i for i, *_ in reach(s, at_min, Edge.LATE)]


def reaches(s: Situation, at_min: float) -> list[Reach]:
    found = []
    for i, layer, power, _, share in reach(s, at_min, Edge.BEST):
        if layer.system is None:
            found.append(Reach(i, round(min(crazing_severity(s, layer, i), 1.0), 3), 1.0, None))
        elif power is not None:
            found.append(Reach(i, round(share, 3), round(power.power, 3), power.red))
    return found


def attack(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Re-opening, softening, wrinkling and crazing, here and in every layer that the carrier gets to."""
    if not s.landing.blend.parts or s.landing.wet_s <= 0:
        return
    for i, layer, power, seconds, share in reach(s, at_min, edge):
        if layer.system is None or power is None:
            yield from craze(s, layer, i)
        elif layer.system.film is FilmClass.UNKNOWN:
            yield from open_unknown(s, layer, i, power)
        elif layer.system.film is FilmClass.OXIDISING:
            yield from wrinkle(s, layer, i, power, share, at_min, edge)
            yield from swell(s, layer, i, power, share)
            yield from lift_oxidising(s, layer, i, power, seconds, at_min, edge)
        elif not layer.is_porous:
            yield from reopen(s, layer, i, power, seconds, at_min, edge)


def _deep(s: Situation, i: int) -> str:
    return "" if i == s.index else f" It gets there through {s.layers[s.index].words}."


def _basis(power: Power) -> tuple[str, str]:
    if power.basis == "model":
        return "model", f"{HSP} ({power.why})"
    return "rule", f"rule by solvent family: {power.why}"


def wrinkle(
    s: Situation, layer: Layer, i: int, power: Power, share: float, at_min: float, edge: Edge
) -> Iterator[Finding]:
    """Oxidising films: the half-cured band swells and wrinkles; peaks between wet and hard, falls slowly."""
    assert layer.system is not None
    degree = layer.degree(at_min, edge)
    again = layer.system.recoat_again_before
    likeliest = layer.degree(at_min, Edge.BEST)
    if (
        again is not None
        and layer.drying is not None
        and s.landing.system is layer.system
        and layer.drying.ref_minutes(at_min) < again * (0.5 if edge is Edge.LATE else 1.0)
    ):
        return
    swollen = min(share, s.landing.liquid_um / max(layer.film_um, 0.5), 1.0)
    # The bump has a peak, so the careful view is the worst of the range, not its slow end.
    bump = max(half_cured(d, 1 + 3 * s.landing.hot) for d in {degree, likeliest})
    if degree < 0.5 < likeliest:
        bump = 1.0
    severity = power.power * swollen * bump
    if layer.film_um < 4:
        severity *= 0.55 + 0.45 * layer.film_um / 4  # too thin a film to wrinkle far; it smears instead
    if severity < 0.05:
        return
    basis, rests = _basis(power)
    what = "swells it while it is half hardened: it wrinkles and lifts"
    if layer.film_um < 4:
        what = "swells it while it is half hardened: it crazes and smears"
    yield Finding(
        "wrinkle",
        Kind.DAMAGE,
        severity,
        "wrinkles",
        lambda: f"The {s.landing.carrier_words} gets into {layer.words} and {what}.{_deep(s, i)}",
        "Let it harden through, use a carrier that leaves it alone, or put a clear of another system between.",
        basis,
        lambda: f"{rests}; hardened to {degree:.2f} of 1",
        i,
    )


def swell(s: Situation, layer: Layer, i: int, power: Power, share: float) -> Iterator[Finding]:
    """An oxidised film does not dissolve any more, but hot solvents that stay on it swell it at any age."""
    swollen = min(share, s.landing.liquid_um / max(layer.film_um, 0.5), 1.0)
    wet = min(s.landing.wet_s / 120, 1.0)
    severity = SWELLS * power.power * s.landing.hot * swollen * wet
    if severity < 0.05:
        return
    yield Finding(
        "swell",
        Kind.DAMAGE,
        severity,
        "swells",
        lambda: f"The {s.landing.carrier_words} swells even hardened {layer.words} while it is wet.{_deep(s, i)}",
        "Mist it on and let each pass flash off, or use a milder thinner.",
        "rule",
        lambda: "cross-linked films swell in hot solvents and go back; how much is an assumption",
        i,
    )


def open_unknown(s: Situation, layer: Layer, i: int, power: Power) -> Iterator[Finding]:
    """What nobody knows may be a soft varnish or a half-hardened enamel: judged as the worst that it may be."""
    # It may be one that the rub drags along, or one that the liquid swells: the worse of the two.
    wet = min(s.landing.wet_s / 20, 1.0)
    dragged = power.power * min(1.6 * s.landing.rub, 1.0)
    alkyds = [k for k in s.k.systems.values() if k.film is FilmClass.OXIDISING]
    swollen = max(power_on(s.k, s.landing.blend, alkyd).power for alkyd in alkyds)
    severity = wet * max(dragged, swollen * min(s.landing.liquid_um / max(layer.film_um, 0.5), 1.0))
    if severity < 0.1:
        return
    yield Finding(
        "unknown",
        Kind.DAMAGE,
        severity,
        "unknown",
        lambda: (
            f"What {layer.words} is made of is not known: if it is a soft varnish or a young enamel, the "
            f"{s.landing.carrier_words} ruins it.{_deep(s, i)}"
        ),
        "Bud-test a hidden spot with water, white spirit, 70 % isopropanol, mild thinner, in that order.",
        "unknown",
        lambda: f"nothing known of it; {power.why} decides",
        i,
    )


def half_cured(degree: float, hot: float) -> float:
    """The bump 0–1 over the degree of hardening: zero when wet or hard, one in between; `hot` ≥ 1 widens it."""

    def bump(x: float) -> float:
        return float((4 * x * (1 - x)) ** 1.5)

    late = degree**hot
    if degree > 0.5 > late:
        return 1.0
    return max(bump(degree), bump(late)) if degree > 0.5 else bump(degree)


def lift_oxidising(
    s: Situation, layer: Layer, i: int, power: Power, seconds: float, at_min: float, edge: Edge
) -> Iterator[Finding]:
    """What has not cross-linked yet comes off again in its own spirit when it is rubbed."""
    assert layer.system is not None
    degree = layer.degree(at_min, edge)
    strength, basis, rests = power.power, *_basis(power)
    depth = min(bite_um(power.log_d, seconds) / 2.0, 1.0)
    opens = layer.system.water_opens_until
    if opens is not None and s.landing.water >= 0.5 and degree < opens:
        strength, depth, basis = 1 - degree / opens, 1.0, "rule"
        rests = "a water-mixable oil re-opens with water while it is young"
    loose = 1 - degree
    if layer.starved:
        loose = max(loose, STARVED_LOOSE)
        rests += "; thinned so far that it is starved of binder"
    severity = strength * loose * s.landing.rub * 1.6 * (1.0 if i == s.index else 0.5) * depth
    if severity < 0.05:
        return
    yield Finding(
        "lift",
        Kind.DAMAGE,
        severity,
        "lifts",
        lambda: f"The {s.landing.carrier_words} re-opens {layer.words}, and the work pulls it up.{_deep(s, i)}",
        "Give it a day, or a clear coat of another system between the two.",
        basis,
        lambda: rests,
        i,
    )


def reopen(
    s: Situation, layer: Layer, i: int, power: Power, seconds: float, at_min: float, edge: Edge
) -> Iterator[Finding]:
    """Films that dry by evaporation or fuse: opened by their own solvents, always; how far, and how much it rubs."""
    assert layer.system is not None
    degree = layer.degree(at_min, edge)
    strength, basis, rests = power.power, *_basis(power)
    if layer.system.film is FilmClass.DISPERSION and degree < 0.35 and s.landing.water > 0.3:
        strength, basis = max(strength, 1 - degree / 0.35), "rule"
        rests = "a water-borne film re-opens with water until its particles have fused"
    log_d = effective_log_d(power, degree)
    if layer.system.film is FilmClass.WATER_SOLUBLE or (basis == "rule" and rests.startswith("a water")):
        log_d = log_d_of_red(1.4 - 0.6 * strength)
    depth = bite_um(log_d, seconds)
    rub = s.landing.rub * (1.0 if i == s.index else 0.6)
    if layer.system.film is FilmClass.WATER_SOLUBLE and i > s.index:
        rub *= 1.5  # it lets go from beneath: what lies on it moves
    severity = strength * min(depth / BITE_UM, 1.0) * rub
    if severity < 0.05:
        return
    word = "dissolves" if strength > 0.6 else "softens"
    yield Finding(
        "reopen",
        Kind.DAMAGE,
        severity,
        word,
        lambda: (
            f"The {s.landing.carrier_words} {word} {layer.words}, and the {_rubbing(s.landing)} drags it along."
            f"{_deep(s, i)}"
        ),
        "Use a carrier that leaves it alone, lay it in light passes, or put a clear between.",
        basis,
        lambda: rests,
        i,
    )


def _rubbing(landing: Landing) -> str:
    return {
        Method.BRUSH: "brush",
        Method.WASH: "brush",
        Method.SCRUB: "scrubbing",
        Method.DAMP_WIPE: "wiping",
        Method.WET_WIPE: "wiping",
    }.get(landing.method or Method.SPRAY, "wet coat")


def crazing_severity(s: Situation, layer: Layer, i: int) -> float:
    assert layer.substrate is not None
    rate = crazing(s.k, s.landing.blend, layer.substrate)
    wet = min(s.landing.wet_s / 60, 1.0) * min(s.landing.liquid_um / 20, 1.0)
    return rate * wet * (1.0 if i == s.index else 0.6)


def craze(s: Situation, layer: Layer, i: int) -> Iterator[Finding]:
    """Bare plastic by solvent family and how long it stays wet; solubility alone misleads here."""
    severity = crazing_severity(s, layer, i)
    if severity < 0.05:
        return
    yield Finding(
        "craze",
        Kind.DAMAGE,
        severity,
        "crazes",
        lambda: f"The {s.landing.carrier_words} attacks {layer.words}: it crazes and loses its detail.{_deep(s, i)}",
        "Thin with a mild levelling thinner, or mist the first coats on and let each flash off.",
        "rule",
        lambda: f"rule by solvent family and wet time; {PRACTICE}",
        i,
    )


# --- timing ------------------------------------------------------------------------------------------------


def still_wet(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Nothing goes over a coat that is not dry to the touch, except its own light passes."""
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.is_porous or landing.contact is Contact.WORK:
        return
    if layer.past("touch", at_min, edge):
        return
    wet = at_min < layer.drying.flash_end_min
    same = landing.system is layer.system
    severity = 0.85 if wet else 0.6
    if same and landing.rub <= 0.12 and layer.is_film(FilmClass.EVAPORATING, FilmClass.DISPERSION):
        severity = 0.3 if wet else 0.1
    if same and layer.is_film(FilmClass.OXIDISING):
        severity = 0.3 if not wet and landing.rub <= 0.25 else severity
        again = layer.system.recoat_again_before if layer.system else None
        if again and not wet and layer.drying.ref_minutes(at_min) < again * (0.5 if edge is Edge.LATE else 1):
            severity = 0.1
    word = "is still wet" if wet else "is not yet dry to the touch"
    yield Finding(
        "still_wet",
        Kind.DAMAGE,
        severity,
        "runs together",
        lambda: f"{_cap(layer.words)} {word}: what goes on now moves it and seals it in.",
        "Wait until it is dry to the touch; a warm draught helps once it no longer smells.",
        "practice",
        lambda: f"evaporation of the carrier, then {PRACTICE} for the touch-dry time",
        event="touch",
    )


def too_early(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """Common practice's waits before the next thing: own system, another system, spirit work, tape, handling."""
    layer, landing = s.layer, s.landing
    if layer.drying is None or layer.system is None or layer.is_porous:
        return
    event, why, severity = _needed(layer, landing)
    if event is None or layer.past(event, at_min, edge):
        return
    name = layer.system.name.lower()
    yield Finding(
        "too_early",
        Kind.DAMAGE if landing.contact is not Contact.LAY or severity >= 0.5 else Kind.HOLD,
        severity,
        "too early",
        lambda: why,
        "Wait; then prove it: a sniff in a closed box, a thumbnail where nobody looks.",
        "practice",
        lambda: f"{PRACTICE} for {name}, moved by this film, thinner and air",
        event=event,
    )


def _needed(layer: Layer, landing: Landing) -> tuple[str | None, str, float]:
    assert layer.system is not None
    words = _cap(layer.words)
    if landing.contact is Contact.TOUCH:
        if landing.action is FittingAction.MASK:
            event = landing.touch.after if landing.touch is not None else "tape"
            name = landing.touch.name.lower() if landing.touch is not None else "tape"
            return event, f"{words} is too soft for {name}: it lifts or keeps the mark.", 0.65
        if landing.action in (
            FittingAction.HANDLE,
            FittingAction.GLUE,
            FittingAction.FIT,
            FittingAction.REMOVE,
        ):
            return "tape", f"{words} is too soft to be handled: fingers leave their print in it.", 0.6
        return None, "", 0.0
    same = landing.system is layer.system
    oxidising = layer.system.film is FilmClass.OXIDISING
    spirited = landing.spirit >= 0.5 and landing.wet_s > 20
    worked = landing.method in (Method.WASH, Method.FLOOD, Method.BRUSH, Method.WET_WIPE, Method.SCRUB)
    if layer.system.film is FilmClass.WATER_SOLUBLE:
        return "recoat", f"{words} is not dry yet: the coat runs into it.", 0.6
    if spirited and not oxidising:
        if landing.contact is Contact.WORK and landing.rub < SCRUBS:
            return None, "", 0.0  # the coat worked on was laid with the same spirit: its own seam has said it
        if worked or landing.contact is Contact.WORK:
            return (
                "spirit",
                f"{words} still holds thinner: spirit softens it and a wash stains or lifts it.",
                0.6,
            )
        return "recoat", f"{words} has not let its thinner go: it stays soft under the next coat.", 0.55
    if spirited and oxidising and landing.contact is Contact.LAY:
        if landing.method is Method.SPECKLE:
            return "touch", f"{words} is still open: the specks run into it.", 0.55
        if layer.system.id != "enamel":
            return "recoat", f"{words} is still open to spirit: the new work pulls it up.", 0.6
        return None, "", 0.0
    if same and not oxidising:
        return None, "", 0.0
    if oxidising and landing.contact is Contact.LAY and landing.hot >= 0.2 and layer.film_um >= 8:
        return "hard", f"{words} is not hard: lacquer solvents swell and wrinkle half-hardened alkyd.", 0.55
    if oxidising and landing.contact is Contact.LAY and landing.coverage < SPARSE:
        return "touch", f"{words} is still open: what is dabbed on smears it.", 0.55
    if oxidising and landing.contact is Contact.LAY and landing.method is not Method.DUST:
        return (
            "recoat",
            f"{words} has not hardened through: sealed in now, it stays soft and crazes later.",
            0.55,
        )
    if landing.contact is Contact.LAY and landing.blend.parts:
        if layer.system.film is FilmClass.DISPERSION and landing.hot >= 0.2:
            return "spirit", f"{words} has only just fused: lacquer bites into it.", 0.55
        return "recoat", f"{words} has not let its carrier go: it stays soft under the next coat.", 0.55
    return None, "", 0.0


def hard_over_soft(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    """A hard, quick film over a soft, slow or thick one cracks even where no solvent attacks."""
    layer, upper = s.layer, s.landing.system
    if s.landing.contact is not Contact.LAY or upper is None or layer.system is None or layer.drying is None:
        return
    if upper is layer.system:
        return
    if upper.film in (FilmClass.LOOSE, FilmClass.DECAL, FilmClass.WATER_SOLUBLE) or layer.is_film(
        FilmClass.LOOSE, FilmClass.WATER_SOLUBLE, FilmClass.DECAL
    ):
        return
    soft = layer.system.hardness * layer.degree(at_min, edge)
    gap = upper.hardness * min(s.landing.film_um / 6, 1) - soft - 0.35
    severity = gap * 2.5 * min(layer.film_um / 12, 1) * (1.0 if layer.is_film(FilmClass.OXIDISING) else 0.5)
    if severity < 0.1:
        return
    yield Finding(
        "hard_over_soft",
        Kind.DAMAGE,
        min(severity, 0.9),
        "cracks",
        lambda: f"A hard, quick film over {layer.words}, which is still soft: it cracks as the softer one moves.",
        "Let the lower coat dry through, or top it with something no harder.",
        "rule",
        lambda: "relative hardness of the two films by then (ranking from memory)",
    )


# What attacks is told before what is merely too soon: it says why.
TELLING = {"wrinkle", "lift", "reopen", "craze", "stress_crack", "vinyl", "uncured", "unknown", "live_medium"}
Mechanism = Callable[[Situation, float, Edge], Iterator[Finding]]
MOVING: dict[Contact, tuple[Mechanism, ...]] = {
    # The cheap ones first: `worst` stops at what is grave enough.
    Contact.LAY: (too_early, still_wet, hard_over_soft, *hold.LAY, *surroundings.LAY, attack),
    Contact.WORK: (too_early, attack),
    Contact.TOUCH: (too_early, still_wet, *hold.TOUCH, attack),
}
TIMELESS: dict[Contact, tuple[Mechanism, ...]] = {
    Contact.LAY: (*hold.LAY_TIMELESS, *look.LAY_TIMELESS, *surroundings.LAY_TIMELESS),
    Contact.WORK: surroundings.WORK_TIMELESS,
    Contact.TOUCH: (*hold.TOUCH_TIMELESS, *surroundings.TOUCH_TIMELESS),
}


def _rank(f: Finding) -> float:
    return -f.severity - (0.5 if f.mechanism in TELLING and f.severity >= 0.2 else 0)


def findings(s: Situation, at_min: float, edge: Edge) -> list[Finding]:
    """All that happens at a seam at an instant, gravest first."""
    found = [*_timeless(s), *(f for mechanism in MOVING[s.landing.contact] for f in mechanism(s, at_min, edge))]
    found.sort(key=_rank)
    return found


def worst(s: Situation, at_min: float, edge: Edge, enough: float = 1.0) -> float:
    """The gravest severity at an instant, 0–1; 0 where nothing happens. Stops at the first that is `enough`."""
    most = max((f.severity for f in _timeless(s)), default=0.0)
    for mechanism in MOVING[s.landing.contact]:
        if most >= enough:
            break
        for f in mechanism(s, at_min, edge):
            most = max(most, f.severity)
    return most


def _timeless(s: Situation) -> list[Finding]:
    if not s.timeless:
        s.timeless.append([f for mechanism in TIMELESS[s.landing.contact] for f in mechanism(s, 0.0, Edge.LATE)])
    return s.timeless[0]


def _cap(text: str) -> str:
    return text[:1].upper() + text[1:]
