"""The usual cautions on the steps where they arise.

They never give leave: each list ends with the product's safety data sheet, local rules and qualified advice.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib.resources import files

from .materials import Coat, Knowledge, Thinner, Touch
from .mixing import Blend, Cup
from .plan import Aid, AidKind, FittingAction, FittingStep, Method, WorkAction, WorkingStep
from .seams.chemistry import hot_share, spirit_share

DEFER = (
    "The product's safety data sheet, local rules on solvents and waste, and qualified advice come first; "
    "this is no leave."
)
SPRAYED = {Method.MIST, Method.SPRAY, Method.WET_SPRAY, Method.CAN}
OILY = {"oil", "oil_rested", "alkyd_oil", "water_oil", "enamel", "enamel_effect", "urethane_alkyd", "alkyd_paste"}
FLASH_MARGIN_C = 5.0
Told = list[tuple[str, str]]


@lru_cache(maxsize=1)
def texts() -> dict[str, str]:
    """The cautions by id, in plain words."""
    found: dict[str, str] = tomllib.loads(files(__package__).joinpath("cautions.toml").read_text(encoding="utf-8"))
    return found


def _say(told: Told, caution: str, **figures: float) -> None:
    told.append((caution, texts()[caution].format(**figures)))


def lowest_flash_c(k: Knowledge, blend: Blend) -> float | None:
    """The lowest flash point among the parts of a blend, °C; water-rich blends are left out."""
    if blend.water >= 0.5:
        return None
    points = [k.solvents[s].flash_c for s, share in blend.parts if share > 0.02]
    return min((p for p in points if p is not None), default=None)


def coat_cautions(
    k: Knowledge, coat: Coat, cup: Cup, method: Method, aids: tuple[Aid, ...], temp_c: float, base: str
) -> Told:
    """Cautions of a coat as mixed and laid at this air, as (id, text)."""
    told: Told = []
    blend = cup.carrier
    hot, spirit = hot_share(k, blend), spirit_share(k, blend)
    if "isocyanate" in coat.traits:
        _say(told, "isocyanate")
    if method in SPRAYED:
        _say(told, "mist")
    elif spirit > 0.3 or hot > 0.1:
        _say(told, "vapour")
    if method is Method.CAN:
        _say(told, "can")
    flash = lowest_flash_c(k, blend)
    if flash is not None and flash <= temp_c + FLASH_MARGIN_C and method is not Method.CAN:
        _say(told, "flash", flash=flash)
    if method in SPRAYED and coat.system in ("lacquer", "metallic"):
        _say(told, "nitro")
    if hot >= 0.3:
        _say(told, "gloves")
    if coat.system in OILY and method not in SPRAYED:
        _say(told, "rags")
    if coat.system in ("oil", "oil_rested", "water_oil", "alkyd_oil"):
        _say(told, "toxic_pigment")
    if coat.system in ("pigment", "rubbed") or coat.use == "putty":
        _say(told, "dust")
    if method in (Method.WASH, Method.BRUSH) and coat.use == "effect":
        _say(told, "lick")
    if base == "print_uncured":
        _say(told, "print")
    for aid in aids:
        if aid.kind is not AidKind.FAN:
            _say(told, "heat")
            if aid.temp_c is not None and aid.temp_c > 45:
                _say(told, "heat_hot", temp=aid.temp_c)
            break
    return told


def work_cautions(k: Knowledge, step: WorkingStep, carrier: Thinner | None, temp_c: float) -> Told:
    """Cautions of a working step with its carrier."""
    told: Told = []
    if carrier is not None:
        blend = Blend.of(dict(carrier.percent))
        if spirit_share(k, blend) > 0.3 or hot_share(k, blend) > 0.1:
            _say(told, "vapour")
            _say(told, "rags")
        flash = lowest_flash_c(k, blend)
        if flash is not None and flash <= temp_c + FLASH_MARGIN_C:
            _say(told, "flash", flash=flash)
        if step.action is WorkAction.WIPE:
            _say(told, "lick")
        if carrier.id == "glass_cleaner":
            _say(told, "ammonia")
    if step.action is WorkAction.SCRAPE:
        _say(told, "dust")
        _say(told, "blade")
    return told


def touch_cautions(step: FittingStep, touch: Touch | None) -> Told:
    """Cautions of a fitting step."""
    told: Told = []
    if touch is not None and touch.fogs:
        _say(told, "superglue")
    if touch is not None and touch.percent:
        _say(told, "cement")
    if touch is not None and touch.ammonia:
        _say(told, "ammonia")
    if step.action is FittingAction.MASK:
        _say(told, "blade")
    return told
