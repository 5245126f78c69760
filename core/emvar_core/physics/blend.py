"""A liquid by its solvents, and what follows from their shares alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..knowledge import WATER, Coat, Knowledge, Thinner, Touch
from ..vocabulary import Carrier, SolventFamily

# How strongly a family swells even a cured oxidised film (a ranking from memory).
HOT: dict[SolventFamily, float] = {
    SolventFamily.KETONE: 1.0,
    SolventFamily.AROMATIC: 1.0,
    SolventFamily.FAST_ESTER: 0.9,
    SolventFamily.SLOW_ESTER: 0.6,
    SolventFamily.SLOW_KETONE: 0.6,
    SolventFamily.ETHER: 0.6,
}


LACQUERED = 0.2  # share of these from which a liquid bites like a lacquer


@dataclass(frozen=True)
class Blend:
    """A liquid by volume fractions of solvents; sorted, so that equal blends are equal keys."""

    parts: tuple[tuple[str, float], ...]

    @staticmethod
    def of(fractions: Mapping[str, float]) -> Blend:
        """From amounts by volume in any unit. Example: `Blend.of({"water": 1, "isopropanol": 1})` is half and half."""
        total = sum(fractions.values())
        if total <= 0:
            return Blend(())
        return Blend(tuple(sorted((k, round(v / total, 6)) for k, v in fractions.items() if v > 0)))

    def family_shares(self, k: Knowledge) -> dict[SolventFamily, float]:
        """Volume share by solvent family.

        >>> from emvar_core.knowledge import knowledge
        >>> shares = Blend.of({"water": 3, "isopropanol": 1}).family_shares(knowledge())
        >>> [(family.value, share) for family, share in shares.items()]
        [('alcohol', 0.25), ('water', 0.75)]
        """
        shares: dict[SolventFamily, float] = {}
        for solvent, share in self.parts:
            family = k.solvents[solvent].family
            shares[family] = shares.get(family, 0.0) + share
        return shares

    def density_g_ml(self, k: Knowledge) -> float:
        """Density, volumes being additive; 1 for nothing at all.

        >>> from emvar_core.knowledge import knowledge
        >>> round(Blend.of({"water": 1, "isopropanol": 1}).density_g_ml(knowledge()), 2)
        0.89
        """
        return sum(share * k.solvents[solvent].density_g_ml for solvent, share in self.parts) or 1.0

    @property
    def water(self) -> float:
        """Share of water by volume, 0–1."""
        return dict(self.parts).get(WATER, 0.0)


NOTHING = Blend(())


def blend_of(material: Thinner | Coat | Touch) -> Blend:
    """The liquid of a material: of a paint what carries it, of a thinner all of it."""
    return Blend.of(material.percent)


def weighed(k: Knowledge, blend: Blend, weights: Mapping[SolventFamily, float]) -> float:
    """Share-weighted strength of the families that act, 0–1.

    >>> from emvar_core.knowledge import knowledge
    >>> weighed(knowledge(), Blend.of({"acetone": 1, "water": 3}), {SolventFamily.KETONE: 0.8})
    0.2
    """
    return min(sum(share * weights.get(f, 0.0) for f, share in blend.family_shares(k).items()), 1.0)


def hot_share(k: Knowledge, blend: Blend) -> float:
    """Share of the parts that swell even a cured oxidised film: ketones, aromatics, fast esters, some slow.

    >>> from emvar_core.knowledge import knowledge
    >>> hot_share(knowledge(), Blend.of({"acetone": 1, "water": 1}))
    0.5
    """
    return weighed(k, blend, HOT)


def carrier_share(k: Knowledge, blend: Blend, carrier: Carrier) -> float:
    """Share of a liquid that is of a carrier's families, 0–1.

    >>> from emvar_core.knowledge import knowledge
    >>> carrier_share(knowledge(), Blend.of({"water": 1, "isopropanol": 1}), Carrier.WATER)
    0.5
    """
    shares = blend.family_shares(k)
    return sum(shares.get(f, 0.0) for f in k.carriers[carrier].families)


def spirit_share(k: Knowledge, blend: Blend) -> float:
    """Share of white spirit, turpentine and their kind, 0–1.

    >>> from emvar_core.knowledge import knowledge
    >>> spirit_share(knowledge(), Blend.of({"decane": 3, "water": 1}))
    0.75
    """
    return carrier_share(k, blend, Carrier.SPIRIT)


def lowest_flash_c(k: Knowledge, blend: Blend) -> float | None:
    """The lowest flash point among the parts of a blend, °C; water-rich blends are left out.

    >>> from emvar_core.knowledge import knowledge
    >>> lowest_flash_c(knowledge(), Blend.of({"acetone": 1, "decane": 3}))
    -20.0
    """
    if blend.water >= 0.5:
        return None
    points = [k.solvents[s].flash_c for s, share in blend.parts if share > 0.02]
    return min((p for p in points if p is not None), default=None)


SOFTENS = 0.15  # share of glycol ether, ester or acid in water from which that is what acts


def carrier_words(k: Knowledge, blend: Blend) -> str:
    """What a liquid is called at the bench. Never a name that it does not bear: turpentine is not white spirit.

    >>> from emvar_core.knowledge import knowledge
    >>> carrier_words(knowledge(), Blend.of({"pinene": 1}))
    'turpentine'
    """
    shares = blend.family_shares(k)
    if not shares:
        return "nothing wet"

    def share(*families: SolventFamily) -> float:
        return sum(shares.get(f, 0.0) for f in families)

    f = SolventFamily
    if share(f.WATER) >= 0.6:
        return "softener" if share(f.GLYCOL_ETHER, f.ACID, f.SLOW_ESTER) >= SOFTENS else "water"
    if spirit_share(k, blend) >= 0.5:
        return _spirit_words(k, blend, share(f.TERPENE), share(f.ALIPHATIC))
    if share(f.ALCOHOL) >= 0.35 or share(f.ALCOHOL, f.WATER) >= 0.6:
        return "alcohol"
    if share(f.KETONE, f.AROMATIC, f.FAST_ESTER) >= 0.4:
        first, most = max(blend.parts, key=lambda part: part[1])
        return k.called[first] if most >= 0.9 and first in k.called else "hot thinner"
    if hot_share(k, blend) >= 0.2:
        return "lacquer thinner"
    return "carrier"


NAPHTHA_FLASH_C = 5.0  # light naphtha flashes below this; white spirit far above (general literature, from memory)


def _spirit_words(k: Knowledge, blend: Blend, terpene: float, aliphatic: float) -> str:
    """Which of the spirits: turpentine by its terpenes, light naphtha by its flash point, else white spirit."""
    if terpene > aliphatic:
        terpenes = [(share, s) for s, share in blend.parts if k.solvents[s].family is SolventFamily.TERPENE]
        return k.called.get(max(terpenes)[1], "terpenes")
    flash = lowest_flash_c(k, blend)
    if flash is not None and flash < NAPHTHA_FLASH_C:
        return "light naphtha"
    aromatic = blend.family_shares(k).get(SolventFamily.AROMATIC, 0.0)
    return "white spirit" if aromatic >= 0.02 else "odourless spirit"


@dataclass(frozen=True)
class Cup:
    """A mix as it lands: its carrier, its solids by volume, how much of it is thinner."""

    carrier: Blend
    volume_solids: float
    thinner_share: float
    water_share: float
