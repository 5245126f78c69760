"""Two-pack in the cup: whether the hardener is in it, by the ratio of the sheet, and how long the cup stays usable."""

from __future__ import annotations

from collections.abc import Iterator

from ..knowledge import Coat, Hardener, Knowledge
from ..physics.cup import Counted, counted, part_ml
from ..plan import CoatStep, mix_of
from ..vocabulary import PRACTICE, Role, Unit, Verdict
from .remark import Said

BEARS, FAILS = 0.05, 0.15  # how far its ratio may be out; beyond the second it stays soft or goes brittle (assumption)
HALVES_K = 10.0  # warmer, and the cup lasts half as long (common practice)
REF_C = 20.0
BY_SHEET = "Mix it by the ratio of its sheet: weighed, or from 10 mL of each up by volume."


def pot_life_min(hardener: Hardener, temp_c: float) -> tuple[float, float]:
    """How long a mixed cup stays usable, minutes as (early, late), at a temperature in °C. Common practice.

    >>> from emvar_core.knowledge import knowledge
    >>> pot_life_min(knowledge().coats["two_pack_clear"].hardener, 30)
    (30.0, 120.0)
    """
    early, late = (minutes * 2 ** ((REF_C - temp_c) / HALVES_K) for minutes in hardener.pot_life_min)
    return early, late


def pot_life_words(coat: Coat, temp_c: float) -> str:
    """How long the cup is usable and what that asks of whoever sprays; nothing where no hardener is in it."""
    if coat.hardener is None:
        return ""
    early, late = pot_life_min(coat.hardener, temp_c)
    gun = "" if coat.is_poured else f" Clean the gun within {early / 2:.0f} min."
    usable = f"Usable for {early:.0f} to {late:.0f} min at {temp_c:.0f} °C; go by the data sheet."
    return f"{usable}{gun} Throw away a cup that thickens; never thin it."


def two_pack_remarks(k: Knowledge, step: CoatStep, coat: Coat, temp_c: float) -> Iterator[Said]:
    """Whether the hardener is in the cup, near enough to its ratio, and used up in time."""
    mix = mix_of(k, step)
    if coat.hardener is None or mix is None:
        return
    out = _out_of_ratio(k, step, coat.hardener, counted(step))
    if out is None:
        yield Said(
            "hardener",
            Verdict.CLASH,
            "no hardener",
            f"There is no hardener in the cup: {coat.name.lower()} dries to the touch at most and never cures.",
            f"Mix it {coat.hardener.paint:g} : {coat.hardener.hardener:g} with its hardener, or by its sheet.",
            rests_on=f"a two-pack film cures by its hardener alone; {PRACTICE}",
        )
    elif out > BEARS + 1e-9:
        drops = mix.parts[0].unit is Unit.DROPS
        why = "Counted in drops the" if drops else "The"
        yield Said(
            "hardener",
            Verdict.CLASH if out > FAILS else Verdict.CAUTION,
            "wrong ratio",
            f"{why} hardener may be {out:.0%} off its ratio, and it bears {BEARS:.0%}: the film stays soft, or turns "
            "brittle.",
            BY_SHEET,
            rests_on=f"ratio of hardener to paint by volume; {PRACTICE}",
        )
    early, _ = pot_life_min(coat.hardener, temp_c)
    if step.hands_on_min > early:
        yield Said(
            "pot_life",
            Verdict.CAUTION,
            "outlasts the cup",
            f"The work takes {step.hands_on_min:.0f} min; at {temp_c:.0f} °C the cup may thicken after {early:.0f}.",
            "Mix half of it, and the rest fresh. Never thin a cup that has begun to thicken.",
            rests_on=f"pot life, halved by each {HALVES_K:.0f} K; {PRACTICE}",
        )


def _out_of_ratio(k: Knowledge, step: CoatStep, hardener: Hardener, counts: Counted) -> float | None:
    """How far the hardener is off its ratio, as a share of it; None where there is none. One drop counts as well."""
    mix = mix_of(k, step)
    assert mix is not None
    ml = dict.fromkeys((Role.PAINT, Role.HARDENER), 0.0)
    drops = 0.0
    for part in mix.parts:
        if part.role in ml:
            ml[part.role] += part_ml(k, part, step.material, counts)
        if part.role is Role.HARDENER and part.unit is Unit.DROPS:
            drops += part.amount
    if not ml[Role.HARDENER] or not ml[Role.PAINT]:
        return None
    out = abs(ml[Role.HARDENER] / ml[Role.PAINT] * hardener.paint / hardener.hardener - 1)
    return out + 1 / drops if drops else out
