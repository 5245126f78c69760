"""What a carrier does to a dry film: Hansen distance where a polymer sphere is known, named rules elsewhere.

A blend's parameters are the volume-weighted mean of its parts; Ra² = 4(ΔδD)² + (ΔδP)² + (ΔδH)²; RED = Ra/R0
(Hansen, *Hansen Solubility Parameters: A User's Handbook*). Below 1 a solvent dissolves, about 1 it swells,
well above 1 it leaves alone. Water and aqueous blends go by rule, since the method fails for them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..knowledge import Knowledge, Solvent, Sphere, Substrate, System
from ..memory import MEMORY
from ..vocabulary import Basis, FilmClass, SolventFamily
from .blend import Blend, weighed

AQUEOUS = 0.3  # from this share of water on, the Hansen mean is not used
# RED to power and diffusion: anchors of docs/models/seams.md (orders of magnitude).
RED_STRONG, RED_NONE = 0.8, 1.4
# Alcohols on cellulose nitrate: what they count alone, and from which share of true solvents beside them in full.
LATENT_FOR, LATENT, WAKES_AT, HALF_LATENT = ("cellulose_nitrate",), 0.35, 0.25, 0.6
TRUE_SOLVENTS = (
    SolventFamily.KETONE, SolventFamily.SLOW_KETONE, SolventFamily.FAST_ESTER, SolventFamily.SLOW_ESTER,
    SolventFamily.GLYCOL_ETHER, SolventFamily.ETHER,
)  # fmt: skip
SWELLS = 0.8  # of a fully hot carrier on a hardened alkyd (assumption: one flood of it clashes, a mist does not)
LOG_D = ((0.8, -11.0), (1.0, -13.0), (1.4, -15.0))


@dataclass(frozen=True)
class Power:
    """How strongly a carrier opens a film. `power` 0–1, `log_d` log10 of diffusion in m²/s, RED if computed."""

    power: float
    log_d: float
    red: float | None
    basis: Basis
    why: str


def mean_parameters(k: Knowledge, blend: Blend) -> tuple[float, float, float]:
    """Volume-weighted Hansen parameters of a blend, MPa^½.

    >>> from emvar_core.knowledge import knowledge
    >>> [round(x, 1) for x in mean_parameters(knowledge(), Blend.of({"acetone": 1, "toluene": 1}))]
    [16.8, 5.9, 4.5]
    """
    d = p = h = 0.0
    for solvent, share in blend.parts:
        s = k.solvents[solvent]
        d, p, h = d + share * s.delta_d, p + share * s.delta_p, h + share * s.delta_h
    return d, p, h


def distance(of: tuple[float, float, float], sphere: Sphere) -> float:
    """Hansen distance Ra in MPa^½.

    >>> distance((15.0, 5.0, 5.0), Sphere(delta_d=16, delta_p=5, delta_h=5, radius=4))
    2.0
    """
    return math.sqrt(4 * (of[0] - sphere.delta_d) ** 2 + (of[1] - sphere.delta_p) ** 2 + (of[2] - sphere.delta_h) ** 2)


def red(k: Knowledge, blend: Blend, sphere_id: str) -> float:
    """Relative energy difference of a blend on a polymer: Ra/R0.

    >>> from emvar_core.knowledge import knowledge
    >>> round(red(knowledge(), Blend.of({"acetone": 1}), "pmma"), 2)
    0.72
    """
    sphere = k.spheres[sphere_id]
    return distance(mean_parameters(k, blend), sphere) / sphere.radius


def solvent_parameters(solvent: Solvent) -> tuple[float, float, float]:
    """A solvent's Hansen parameters δD, δP, δH, MPa^½."""
    return solvent.delta_d, solvent.delta_p, solvent.delta_h


def power_of_red(value: float) -> float:
    """Worked example:

    >>> [round(power_of_red(r), 3) for r in (0.8, 1.1, 1.4)]
    [1.0, 0.5, 0.0]
    """
    return min(max((RED_NONE - value) / (RED_NONE - RED_STRONG), 0.0), 1.0)


def log_d_of_red(value: float) -> float:
    """log10 of the diffusion coefficient, m²/s, by straight lines between the anchors.

    >>> log_d_of_red(1.0)
    -13.0
    """
    if value <= LOG_D[0][0]:
        return LOG_D[0][1]
    for (r0, d0), (r1, d1) in zip(LOG_D, LOG_D[1:], strict=False):
        if value <= r1:
            return d0 + (d1 - d0) * (value - r0) / (r1 - r0)
    return LOG_D[-1][1]


def family_words(family: SolventFamily) -> str:
    """A family of solvents as it is shown."""
    return family.value.replace("_", " ")


def saturated(strength: float) -> float:
    """A blend need not be pure to dissolve: half of a true solvent opens a film nearly as well as all of it.

    >>> saturated(0.5)
    0.75
    """
    return 1 - (1 - strength) ** 2


_POWERS = MEMORY.door("power of a carrier on a film", 20_000)


def power_on(k: Knowledge, blend: Blend, system: System) -> Power:
    """How strongly a carrier opens a hardened film of a system: Hansen distance, or a rule by solvent family."""
    return _POWERS.once((k.signature, blend, system.id), lambda: _power(k, blend, system))


def _power(k: Knowledge, blend: Blend, system: System) -> Power:
    if not blend.parts or system.film is FilmClass.LOOSE:
        return Power(0.0, -15.0, None, Basis.RULE, "nothing in it dissolves anything")
    if system.film is FilmClass.UNKNOWN:
        # It may be any of them, so the worst of them counts; no sphere is invented for it.
        worst = max(
            (power_on(k, blend, s) for s in k.systems.values() if s.film is not FilmClass.UNKNOWN),
            key=lambda p: (p.power, p.log_d),
        )
        return Power(worst.power, worst.log_d, None, Basis.RULE, "the most sensitive paint that it may be")
    rule = saturated(weighed(k, blend, system.opened_by))
    ruled = Power(rule, log_d_of_red(RED_NONE - 0.6 * rule), None, Basis.RULE, _families(k, blend, system.opened_by))
    if not system.spheres:
        return ruled
    organic = {s: share for s, share in blend.parts if k.solvents[s].family is not SolventFamily.WATER}
    share = sum(organic.values())
    if share < 0.02:
        return Power(rule, -15.0, None, Basis.RULE, "water does not dissolve this film once it has set")
    value = min(red(k, Blend.of(organic), s) for s in system.spheres)
    power, log_d = power_of_red(value), log_d_of_red(value)
    latent = latent_weight(k, blend, system)
    power *= latent
    if blend.water >= AQUEOUS:
        # Diluted in water the organic part acts at its share, and water carries it in more slowly.
        power, log_d = power * share, max(log_d + math.log10(share) - 0.5, -15.0)
        computed = Power(power, log_d, None, Basis.RULE, "an aqueous blend, judged by the share of its organic part")
    else:
        value = min(red(k, blend, s) for s in system.spheres)
        why = f"RED {value:.2f}" + (", most of it alcohol, a latent solvent" if latent < HALF_LATENT else "")
        computed = Power(power_of_red(value) * latent, log_d_of_red(value), value, Basis.MODEL, why)
    return computed if computed.power >= ruled.power else ruled


def latent_weight(k: Knowledge, blend: Blend, system: System) -> float:
    """What the Hansen distance of a blend counts on cellulose nitrate, 0–1: alcohols dissolve it only beside true
    solvents.

    Nitrocellulose is shipped damped with isopropanol, though its distance is that of a near-solvent. Alone an alcohol
    counts a third; with a quarter of esters, ketones or glycol ethers in what dissolves, in full (assumption).

    >>> from emvar_core.knowledge import knowledge
    >>> k = knowledge()
    >>> lacquer = k.systems["lacquer"]
    >>> latent_weight(k, Blend.of({"isopropanol": 1}), lacquer), latent_weight(k, Blend.of({"acetone": 1}), lacquer)
    (0.35, 1.0)
    """
    if not any(s in LATENT_FOR for s in system.spheres):
        return 1.0
    shares = blend.family_shares(k)
    alcohol = shares.get(SolventFamily.ALCOHOL, 0.0)
    if alcohol <= 0:
        return 1.0
    true = sum(shares.get(f, 0.0) for f in TRUE_SOLVENTS)
    woken = min(true / (alcohol + true) / WAKES_AT, 1.0)
    asleep = alcohol / max(1 - shares.get(SolventFamily.WATER, 0.0), 1e-6) * (1 - woken)
    return 1 - asleep * (1 - LATENT)


def _families(k: Knowledge, blend: Blend, opened_by: dict[SolventFamily, float]) -> str:
    shares = blend.family_shares(k)
    strongest = max(shares, key=lambda f: shares[f] * opened_by.get(f, 0.0))
    return f"{shares[strongest]:.0%} {family_words(strongest)} in it"


def crazing(k: Knowledge, blend: Blend, substrate: Substrate) -> float:
    """How fast a carrier crazes bare plastic, 0–1: by solvent family and share (rule, common practice).

    >>> from emvar_core.knowledge import knowledge
    >>> crazing(knowledge(), Blend.of({"toluene": 1, "water": 1}), knowledge().substrates["polystyrene"])
    0.5
    """
    return weighed(k, blend, substrate.crazed_by)
