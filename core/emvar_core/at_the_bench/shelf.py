"""What stands on the shelf: how much is left after what was used, and what age does to it. Common practice."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime

from ..at_the_bench.journal import Entry, Said, standing
from ..knowledge import Knowledge
from ..plan import CoatStep, FittingStep, Plan
from ..vocabulary import FilmClass, FittingAction, Model, SystemRole

MASK_YEARS, SKIN_DAYS, SETTLED_DAYS, YEAR = 2.0, 365, 30, 365.25


class StockNote(Model):
    """What age or use has done to what a step uses."""

    step: str
    words: str


def used_ml(entries: Iterable[Entry], since: datetime | None = None) -> dict[str, float]:
    """What was poured of each material after an instant, mL."""
    used: dict[str, float] = {}
    for entry in standing(entries):
        if entry.said is not Said.DONE or entry.poured is None or (since is not None and entry.at <= since):
            continue
        for material, ml in entry.poured.items():
            used[material] = used.get(material, 0.0) + ml
    return used


def aged_words(k: Knowledge, material: str, opened_on: date | None, today: date) -> str:
    """What age does to an open jar; "" where there is nothing to say."""
    if opened_on is None:
        return ""
    days = (today - opened_on).days
    touch = k.touches.get(material)
    if touch is not None:
        if not (touch.ammonia and FittingAction.MASK in touch.serves and days > MASK_YEARS * YEAR):
            return ""
        return f"{touch.name}, open for over two years: it may tear or stay on. Try it on scrap, or take fresh."
    coat = k.coats.get(material)
    if coat is None:
        return ""
    system = k.systems[coat.system]
    if system.is_a(SystemRole.WASH) and days > SETTLED_DAYS:
        return (
            f"{coat.name}, open for {days} days: it has settled. Stir up from the bottom, shake a minute, then decant."
        )
    if system.film is FilmClass.OXIDISING and days > SKIN_DAYS:
        return f"{coat.name}, open for over a year: lift a skin off whole, strain it, and try how it dries on scrap."
    return ""


def stock_notes(
    k: Knowledge, plan: Plan, opened: dict[str, list[date | None]], left: dict[str, float], today: date
) -> list[StockNote]:
    """What to heed at the steps that use what is old or used up. Linear in the steps.

    `opened`: since when each jar of a material is open; `left`: mL of it in all its jars.
    """
    notes = []
    for step in plan.steps:
        material = step.material if isinstance(step, CoatStep | FittingStep) else None
        if material is None or material not in opened:
            continue
        told = [w for since in opened[material] if (w := aged_words(k, material, since, today))]
        if len(told) == len(opened[material]):  # a fresh jar beside an old one needs no word
            notes.append(StockNote(step=step.id, words=told[0]))
        if left.get(material, 1.0) <= 0:
            notes.append(StockNote(step=step.id, words="By what was used, the jar is empty."))
    return notes
