"""The usual cautions on the steps where they arise.

They never give leave: each list ends with the product's safety data sheet, local rules and qualified advice.
"""

from __future__ import annotations

from ..knowledge import Coat, Knowledge, Substrate, Thinner, Touch
from ..physics.blend import Cup, blend_of, hot_share, lowest_flash_c, spirit_share
from ..plan import Aid, FittingStep, WorkingStep
from ..vocabulary import (
    ABRASIVE,
    SPRAYED,
    AidKind,
    BaseSurface,
    FittingAction,
    Method,
    SystemRole,
    ThinnerRole,
    Trait,
    Use,
    WorkAction,
)

FLASH_MARGIN_C = 5.0
Said = list[tuple[str, str]]


def _say(k: Knowledge, said: Said, caution: str, **figures: float) -> None:
    said.append((caution, k.cautions[caution].format(**figures)))


def coat_cautions(
    k: Knowledge, coat: Coat, cup: Cup, method: Method, aids: tuple[Aid, ...], temp_c: float, bases: list[Substrate]
) -> Said:
    """Cautions of a coat as mixed and laid at this air, as (id, text)."""
    said: Said = []
    blend, system = cup.carrier, k.systems[coat.system]
    hot, spirit = hot_share(k, blend), spirit_share(k, blend)
    if coat.has(Trait.ISOCYANATE):
        _say(k, said, "isocyanate")
    if system.is_a(SystemRole.SENSITISES):
        _say(k, said, "sensitises")
    if method in SPRAYED:
        _say(k, said, "mist")
    elif spirit > 0.3 or hot > 0.1:
        _say(k, said, "vapour")
    if method is Method.CAN:
        _say(k, said, "can")
    flash = lowest_flash_c(k, blend)
    if flash is not None and flash <= temp_c + FLASH_MARGIN_C and method is not Method.CAN:
        _say(k, said, "flash", flash=flash)
    if method in SPRAYED and system.is_a(SystemRole.FLAMMABLE_OVERSPRAY):
        _say(k, said, "nitro")
    if hot >= 0.3:
        _say(k, said, "gloves")
    if system.is_a(SystemRole.SELF_HEATING_RAGS) and method not in SPRAYED:
        _say(k, said, "rags")
    if system.is_a(SystemRole.TUBE_PIGMENTS):
        _say(k, said, "toxic_pigment")
    if system.is_a(SystemRole.DUSTY) or coat.use is Use.PUTTY:
        _say(k, said, "dust")
    if method in (Method.WASH, Method.BRUSH) and coat.use is Use.EFFECT:
        _say(k, said, "lick")
    if any(b.surface is BaseSurface.UNCURED for b in bases):
        _say(k, said, "print")
    for aid in aids:
        if aid.kind is not AidKind.FAN:
            _say(k, said, "heat")
            if aid.temp_c is not None and aid.temp_c > 45:
                _say(k, said, "heat_hot", temp=aid.temp_c)
            break
    return said


def work_cautions(k: Knowledge, step: WorkingStep, carrier: Thinner | None, temp_c: float) -> Said:
    """Cautions of a working step with its carrier."""
    said: Said = []
    if carrier is not None:
        blend = blend_of(carrier)
        if spirit_share(k, blend) > 0.3 or hot_share(k, blend) > 0.1:
            _say(k, said, "vapour")
            _say(k, said, "rags")
        flash = lowest_flash_c(k, blend)
        if flash is not None and flash <= temp_c + FLASH_MARGIN_C:
            _say(k, said, "flash", flash=flash)
        if step.action is WorkAction.WIPE:
            _say(k, said, "lick")
        if carrier.is_a(ThinnerRole.AMMONIA):
            _say(k, said, "ammonia")
    if step.action in ABRASIVE:
        _say(k, said, "abraded")
        _say(k, said, "dust")
    if step.action is WorkAction.SCRAPE:
        _say(k, said, "dust")
        _say(k, said, "blade")
    return said


def touch_cautions(k: Knowledge, step: FittingStep, touch: Touch | None) -> Said:
    """Cautions of a fitting step."""
    said: Said = []
    if touch is not None and touch.fogs:
        _say(k, said, "superglue")
    if touch is not None and touch.percent:
        _say(k, said, "cement")
    if touch is not None and touch.ammonia:
        _say(k, said, "ammonia")
    if step.action is FittingAction.MASK:
        _say(k, said, "blade")
    return said
