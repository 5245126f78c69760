"""How thick a mix is: solvents by the Refutas blending index, paint by binder and pigment, flow cups to mm²/s.

A resin solution thickens exponentially with its binder (`System.thickening`, per volume fraction; assumption, ±50 %);
pigment by Krieger–Dougherty over that medium. A dispersion goes by Krieger–Dougherty alone, its particles counted
larger than they are since they swell and are thickened. The two are never used on the same solids
(docs/models/airbrush.md).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import OutOfRange
from ..knowledge import Coat, Knowledge, Solvent
from ..vocabulary import FilmClass, Sheen, SolventFamily, Use
from .blend import Blend, Cup, blend_of

MAX_PACKING = 0.64  # random close packing of spheres; general literature, from memory
INTRINSIC = 2.5  # Einstein
# The computed figure may be so many times too high or too low: what the practice points of the tests support.
UNCERTAIN, UNCERTAIN_DISPERSION, UNCERTAIN_PASTE = 2.0, 2.5, 4.0
DISPERSION_SWELL = 2.25  # fitted to one point: a bottle of water-borne colour pours like yoghurt, about 500 mPa·s
CROWDED = 0.85  # of the packing limit, from which soft swollen particles deform instead of jamming (assumption)
PASTE_MPAS = 2000.0  # from which a liquid forms no drops
PIGMENT_SHARE: dict[Use, float] = {
    Use.PRIMER: 0.4,
    Use.COLOUR: 0.25,
    Use.CLEAR: 0.02,
    Use.EFFECT: 0.35,
    Use.PASTE: 0.5,
    Use.MEDIUM: 0.0,
    Use.PUTTY: 0.6,
    Use.FIXER: 0.0,
    Use.MARKING: 0.0,
    Use.RUBBED: 0.5,
}
MATT_EXTRA = 0.1


# Alcohol with water at 20 °C by tenths of its mass, mPa·s: handbook tables (CRC Handbook of Chemistry and Physics),
# from
# memory, within a tenth.
ETHANOL = (1.00, 1.50, 2.14, 2.66, 2.84, 2.81, 2.54, 2.21, 1.88, 1.54, 1.20)
ISOPROPANOL = (1.00, 1.59, 2.40, 3.10, 3.55, 3.70, 3.65, 3.40, 3.05, 2.70, 2.40)
THICKENS = (SolventFamily.ALCOHOL, SolventFamily.GLYCOL_ETHER)
PROPANOL = 59.0  # molar mass, above which an alcohol goes by the second table


# --- solvents ----------------------------------------------------------------------------------------------


def blending_index(nu_mm2_s: float) -> float:
    """Refutas viscosity blending index of a liquid (Maples; ASTM D7152 describes the family; from memory).

    >>> round(blending_index(10.0), 2)
    23.57
    """
    return 14.534 * math.log(math.log(nu_mm2_s + 0.8)) + 10.975


def from_index(vbi: float) -> float:
    """Kinematic viscosity in mm²/s from a blending index.

    >>> round(from_index(blending_index(10.0)), 6)
    10.0
    """
    return math.exp(math.exp((vbi - 10.975) / 14.534)) - 0.8


def carrier_mpas(k: Knowledge, blend: Blend) -> float:
    """Viscosity of a blend of solvents at 20 °C, mPa·s, mass-weighted by the blending index.

    Below 0.25 mm²/s the index has no value and such parts are taken at 0.25. Alcohol with water is thicker than either,
    which the index does not know: there a table tells how much thicker than its line.

    >>> from emvar_core.knowledge import knowledge
    >>> round(carrier_mpas(knowledge(), Blend.of({"water": 1})), 1)
    1.0
    >>> round(carrier_mpas(knowledge(), Blend.of({"water": 50, "ethanol": 63})), 1)
    2.8
    """
    if not blend.parts:
        return 1.0
    masses = [(share * k.solvents[s].density_g_ml, k.solvents[s]) for s, share in blend.parts]
    whole = sum(m for m, _ in masses)
    vbi = sum(m / whole * blending_index(max(s.viscosity_mpas / s.density_g_ml, 0.25)) for m, s in masses)
    density = 1 / sum(m / whole / s.density_g_ml for m, s in masses)
    return from_index(vbi) * density * _watery([(m / whole, s) for m, s in masses])


def _watery(shares: list[tuple[float, Solvent]]) -> float:
    """How much thicker alcohols with water are than the index says, by mass shares; 1 without the one or the other."""
    water = sum(m for m, s in shares if s.family is SolventFamily.WATER)
    polar = [(m, s) for m, s in shares if s.family in THICKENS]
    both = water + sum(m for m, _ in polar)
    if water <= 0 or both <= water:
        return 1.0
    alcohol = (both - water) / both
    # Ethanol where it is ethanol, all others as 2-propanol.
    light = sum(m for m, s in polar if s.molar_mass < PROPANOL) / (both - water)
    told = light * _at(ETHANOL, alcohol) + (1 - light) * _at(ISOPROPANOL, alcohol)
    ends = (1 - alcohol) * blending_index(1.0) + alcohol * (
        light * blending_index(ETHANOL[-1] / 0.789) + (1 - light) * blending_index(ISOPROPANOL[-1] / 0.785)
    )
    line = from_index(ends) / ((1 - alcohol) / 0.998 + alcohol / 0.787)
    return float(max(told / line, 1.0) ** both)


def _at(table: tuple[float, ...], share: float) -> float:
    """A table over tenths, by straight lines."""
    place = min(max(share, 0.0), 1.0) * (len(table) - 1)
    low = min(int(place), len(table) - 2)
    return table[low] + (table[low + 1] - table[low]) * (place - low)


# What viscosity loses a kelvin near 20 °C, as a share of it: water, ethanol, 2-propanol (VDI Heat Atlas, 2010, as the
# library of the reference tests has it); all else 2 %, since resin solutions are steeper than their solvents (from
# memory). Half alcohol and half water lose up to 4 %, more than either (from memory, handbook tables).
WATER_PER_K, ETHANOL_PER_K, PROPANOL_PER_K, OTHERS_PER_K, BOTH_PER_K = 0.023, 0.019, 0.030, 0.020, 0.045


def thins_per_k(k: Knowledge, blend: Blend) -> float:
    """By what share a carrier is thinner a kelvin warmer, near 20 °C. Shares by volume.

    >>> from emvar_core.knowledge import knowledge
    >>> k = knowledge()
    >>> both = {"water": 1, "isopropanol": 1}
    >>> [round(thins_per_k(k, Blend.of(b)), 3) for b in ({"water": 1}, {"isopropanol": 1}, both)]
    [0.023, 0.03, 0.038]
    """
    lost = water = alcohol = 0.0
    for name, share in blend.parts:
        solvent = k.solvents[name]
        if solvent.family is SolventFamily.WATER:
            water += share
            lost += share * WATER_PER_K
        elif solvent.family is SolventFamily.ALCOHOL:
            alcohol += share
            lost += share * (ETHANOL_PER_K if solvent.molar_mass < PROPANOL else PROPANOL_PER_K)
        else:
            lost += share * OTHERS_PER_K
    return lost + BOTH_PER_K * water * alcohol if blend.parts else OTHERS_PER_K


# --- paint -------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Thickness:
    """Viscosity of a mix, mPa·s, as a best figure and its range; density g/mL. `basis`: model or measured."""

    mpas: float
    low_mpas: float
    high_mpas: float
    density_g_ml: float
    basis: str

    @property
    def mm2_s(self) -> float:
        """Kinematic viscosity, mm²/s."""
        return self.mpas / self.density_g_ml


def pigment_share(coat: Coat) -> float:
    """Share of a coat's solids that is pigment, 0–1 (typical of the use; from memory)."""
    extra = MATT_EXTRA if coat.sheen is Sheen.MATT and coat.use in (Use.CLEAR, Use.COLOUR) else 0.0
    return PIGMENT_SHARE[coat.use] + extra


def crowding(fraction: float) -> float:
    """Krieger–Dougherty: (1 − φ/φm)^(−[η]·φm); beyond 85 % of the packing limit its logarithm goes on straight.

    Hard spheres jam at the limit. Particles of paint are soft, swollen and not alike, and a few per cent of water more
    or less do not change a bottle of it a hundredfold.

    >>> round(crowding(0.2), 2)
    1.82
    >>> round(crowding(0.66) / crowding(0.64), 2)
    1.4
    """
    power, full = INTRINSIC * MAX_PACKING, fraction / MAX_PACKING
    if full <= CROWDED:
        return float((1 - full) ** -power)
    return float((1 - CROWDED) ** -power * math.exp(power / (1 - CROWDED) * (full - CROWDED)))


def thickness(k: Knowledge, coat: Coat, cup: Cup, temp_c: float = 20.0, taught: float = 1.0) -> Thickness:
    """Viscosity of a mix as it is in the cup. `taught`: what measuring this paint before has shown, as a factor.

    Warmer it is thinner, by what its carrier loses a kelvin (`thins_per_k`).
    """
    medium = carrier_mpas(k, cup.carrier)
    raised = math.log(_raised(k, coat, cup.volume_solids))
    if coat.neat_mpas is not None:
        # The same curve, through how thick it is as it comes.
        neat = math.log(_raised(k, coat, coat.volume_solids))
        raised *= math.log(coat.neat_mpas / carrier_mpas(k, blend_of(coat))) / max(neat, 0.1)
    mpas = medium * math.exp(raised - thins_per_k(k, cup.carrier) * (temp_c - 20)) * taught
    density = cup.carrier.density_g_ml(k) * (1 - cup.volume_solids) + cup.volume_solids * (
        1.15 + 2.2 * pigment_share(coat)
    )
    film = k.systems[coat.system].film
    wide = UNCERTAIN_DISPERSION if film is FilmClass.DISPERSION else UNCERTAIN
    wide = UNCERTAIN_PASTE if mpas >= PASTE_MPAS else wide
    return Thickness(mpas, mpas / wide, mpas * wide, density, "computed" if taught == 1.0 else "taught")


def _raised(k: Knowledge, coat: Coat, solids: float) -> float:
    """How many times thicker than its carrier a coat is with so many solids, by volume."""
    system = k.systems[coat.system]
    if system.film is FilmClass.DISPERSION:
        return crowding(DISPERSION_SWELL * solids)
    pigment = solids * pigment_share(coat)
    return math.exp(min(system.thickening * (solids - pigment), 25.0)) * crowding(pigment)


def is_paste(k: Knowledge, coat: Coat) -> bool:
    """Whether it comes as a paste, which is weighed or judged by eye: no dropper counts it.

    >>> from emvar_core.knowledge import knowledge
    >>> k = knowledge()
    >>> is_paste(k, k.coats["artists_oil"]), is_paste(k, k.coats["waterborne_colour"])
    (True, False)
    """
    if coat.neat_mpas is not None:
        return coat.neat_mpas >= PASTE_MPAS
    return carrier_mpas(k, blend_of(coat)) * _raised(k, coat, coat.volume_solids) >= PASTE_MPAS


def measured(mpas: float, density_g_ml: float) -> Thickness:
    """A measured viscosity: it wins, within 10 %."""
    return Thickness(mpas, mpas * 0.9, mpas * 1.1, density_g_ml, "measured")


# The trade's words as figures, mPa·s at 20 °C: what people compare paint with (from memory).
WORDS: tuple[tuple[str, float, float], ...] = (
    ("water", 0.8, 1.4),
    ("skim milk", 1.4, 2.6),
    ("milk", 2.6, 5.0),
    ("thin cream", 5.0, 25.0),
    ("cream", 25.0, 120.0),
    ("syrup", 120.0, 400.0),
    ("yoghurt", 400.0, 2000.0),
    ("paste", 2000.0, math.inf),
)


def like(mpas: float) -> str:
    """What a viscosity is like, in the trade's words.

    >>> like(1.0)
    'water'
    """
    return next((word for word, low, high in WORDS if low <= mpas < high), "water")


def figure_of(word: str) -> tuple[float, float]:
    """The range in mPa·s that a word of the trade stands for. Raises OutOfRange for an unknown word.

    >>> figure_of("milk")
    (2.6, 5.0)
    """
    for name, low, high in WORDS:
        if name == word.strip().lower():
            return low, min(high, 200_000.0)
    raise OutOfRange(f"'{word[:40]}' is no word for it here; known: {', '.join(w for w, *_ in WORDS)}")
