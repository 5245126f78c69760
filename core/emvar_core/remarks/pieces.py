"""Zones of one part know each other: what is sprayed drifts onto its neighbours, and what is held is held by them."""

from __future__ import annotations

from collections.abc import Iterator

from ..judging import Conditions, lay
from ..plan import AnyStep, CoatStep, FittingStep, Plan, Timing, WorkingStep, at, method_of, siblings
from ..vocabulary import HOLDS, PRESSES, SPRAYED, Edge, Event, FilmClass, FittingAction, Kind, Use, Verdict, when_words
from .remark import Said

SEALS_POWDER = (Use.CLEAR, Use.FIXER)
HELD_FROM = Event.TAPE  # from which a coat bears a hand, at its best guess: a hand is milder than tape (assumption)


def holds_part(step: AnyStep) -> bool:
    """Whether a step is done with the part in the hand, or presses on it."""
    if isinstance(step, FittingStep):
        return step.action in HOLDS
    return isinstance(step, WorkingStep) and step.action in PRESSES


def beside_on_part(c: Conditions, plan: Plan, times: dict[str, Timing]) -> Iterator[tuple[AnyStep, list[str], Said]]:
    """What a step does to the other zones of the part that it is on. Nothing where no part has several zones."""
    beside_of = siblings(plan.zones)
    if not beside_of:
        return
    top: dict[str, CoatStep] = {}  # the coat that lies uppermost in each zone
    powder: dict[str, CoatStep] = {}  # loose powder that nothing has sealed
    masked: set[str] = set()
    names = {z.id: z.name for z in plan.zones}
    for step in plan.steps:
        beside = sorted({s for z in step.zones for s in beside_of.get(z, ())} - set(step.zones))
        if step.id in times and beside:
            yield from _drifts(c, step, beside, powder, masked, names)
            yield from _held(c, plan, step, beside, top, times, names)
        for here in step.zones:
            if isinstance(step, CoatStep):
                top[here] = step
                if c.k.system_of(step.material).film is FilmClass.LOOSE:
                    powder[here] = step
                elif c.k.coats[step.material].use in SEALS_POWDER:
                    powder.pop(here, None)
            elif isinstance(step, FittingStep) and step.action is FittingAction.MASK:
                masked.add(here)
            elif isinstance(step, FittingStep) and step.action is FittingAction.UNMASK:
                masked.discard(here)


def _drifts(
    c: Conditions, step: AnyStep, beside: list[str], powder: dict[str, CoatStep], masked: set[str],
    names: dict[str, str],
) -> Iterator[tuple[AnyStep, list[str], Said]]:  # fmt: skip
    """Spray that drifts onto powder beside it."""
    if not isinstance(step, CoatStep) or method_of(c.k, step) not in SPRAYED:
        return
    hit = [z for z in beside if z in powder and z not in masked]
    if not hit:
        return
    where = ", ".join(names[z].lower() for z in hit)
    yield step, list(step.zones), Said(
        "drifts_onto_powder", Verdict.CAUTION, "drifts onto powder",
        f"“{step.name}” is sprayed beside “{powder[hit[0]].name}” ({where}): what drifts over darkens it.",
        "Mask the powder, spray first, or put the powder on after it.", kind=Kind.LOOK,
    )  # fmt: skip


def _held(
    c: Conditions, plan: Plan, step: AnyStep, beside: list[str], top: dict[str, CoatStep], times: dict[str, Timing],
    names: dict[str, str],
) -> Iterator[tuple[AnyStep, list[str], Said]]:  # fmt: skip
    """A part that is held by a coat which cannot be held yet."""
    if not holds_part(step):
        return
    starts, latest = times[step.id].start_min, None
    for zone in beside:
        coat = top.get(zone)
        if coat is None or coat.id not in times or coat.existing is not None:
            continue
        drying = lay(c, coat, times[coat.id]).drying
        if drying.system.film is FilmClass.LOOSE:
            continue
        ready = drying.event(HELD_FROM, Edge.BEST)
        if ready > starts and (latest is None or ready > latest[0]):
            latest = (ready, coat, zone)
    if latest is None:
        return
    ready, coat, zone = latest
    yield step, list(step.zones), Said(
        "held_beside", Verdict.CAUTION, "held by a soft coat",
        f"“{step.name}” holds the part while “{coat.name}” on it ({names[zone].lower()}) is still soft: it can be "
        f"held from {when_words(at(plan, ready))}.",
        "Hold it by a stick or a stand, do it later, or before that coat.", kind=Kind.TIMING,
    )  # fmt: skip
