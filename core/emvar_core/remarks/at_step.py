"""What a step says apart from its seams: its cup, its cautions, remarks on it and on the order of steps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..judging import Conditions, CupOut, Marks, Remark, StepNote
from ..judging.laying import what_of, whole_of
from ..judging.outcome import PourOut
from ..judging.resting import puts_out
from ..judging.water import leaves_water
from ..knowledge import Knowledge
from ..memory import MEMORY
from ..physics.cup import CupFor, cup_for_area, cup_of, is_mixed
from ..plan import (
    AnyStep,
    CoatStep,
    FittingStep,
    Plan,
    Timing,
    WorkingStep,
    Zone,
    area_together,
    coverage_of,
    film_of,
    method_of,
)
from ..vocabulary import DEFER, Verdict
from .cautions import coat_cautions, touch_cautions, work_cautions
from .pieces import beside_on_part
from .recipe import cup_remarks, limit_remarks, technique_remarks
from .remark import Said, remark_out
from .sequence import Closed, closings, mirrored, tackless, too_late, zone_remarks
from .two_pack import two_pack_remarks

_AT_STEP = MEMORY.door("what a step says", 40_000)
_AT_STEPS = MEMORY.door("what some steps say", 6_000)
_ORDER = MEMORY.door("remarks on the order in a zone", 2_000)
Times = dict[str, Timing]
AGE_UNKNOWN = Said(
    "age_unknown",
    Verdict.SOUND,
    "age unknown",
    "Nobody knows how old this finish is: it is taken as two months old.",
    "Bud-test it, and try what goes over it where nobody looks.",
)


# What a step says whatever it is called: its cup, its cautions (which, and its text), remarks.
Unnamed = tuple[CupOut | None, list[tuple[str, str]], list[Said]]


TOGETHER = 10  # steps that are remembered together


@dataclass(frozen=True, slots=True)
class AtSteps:
    """What a few steps say by themselves."""

    cups: dict[str, CupOut]
    notes: list[StepNote]
    remarks: list[Remark]


def at_steps(
    c: Conditions, plan: Plan, steps: list[AnyStep], marked: Marks, times: Times, zones: dict[str, Zone], areas: int
) -> Iterator[AtSteps]:
    """Cups, cautions and remarks of steps, a few together. `areas` stands for the zones, `marked` for the steps."""
    for first in range(0, len(steps), TOGETHER):
        part = steps[first : first + TOGETHER]
        key = (c.key, areas, tuple([marked[s.id] for s in part]))
        yield _AT_STEPS.once(key, lambda part=part: _together(c, plan, part, times, zones, areas))  # type: ignore[misc]


def _together(
    c: Conditions, plan: Plan, steps: list[AnyStep], times: Times, zones: dict[str, Zone], areas: int
) -> AtSteps:
    said_by = AtSteps({}, [], [])
    for step in steps:
        # Of its times only the temperature matters (how near a flash point is), so a step that is moved says the same.
        temp = c.line.at(times[step.id].start_min).temp_c
        # How long it takes matters to what hardens in the cup, and to nothing else here.
        hands_on = step.hands_on_min if _hardens(c.k, step) else None
        key = (c.key, what_of(step), temp, areas, hands_on)
        cup, given, said = _AT_STEP.once(key, lambda s=step, t=temp: _worked_out(c, plan, s, t, zones))  # type: ignore[misc]
        if cup is not None:
            said_by.cups[step.id] = cup
        said_by.notes.extend(StepNote.stated(step_id=step.id, caution=i, text=text) for i, text in given)
        said_by.remarks.extend(remark_out(step.id, list(step.zones), one) for one in said)
    return said_by


def _worked_out(c: Conditions, plan: Plan, step: AnyStep, temp: float, zones: dict[str, Zone]) -> Unnamed:
    k = c.k
    said: list[Said] = []
    cup = None
    if isinstance(step, CoatStep) and step.existing is not None:
        return (None, [], [AGE_UNKNOWN] if step.existing.age_days is None else [])
    if isinstance(step, CoatStep):
        coat, mixed, method = k.coats[step.material], cup_of(k, step), method_of(k, step)
        bases = [k.substrates[b] for b in sorted({plan.base_of(zones[z]) for z in step.zones})]
        given = coat_cautions(k, coat, mixed, method, tuple(step.aids), temp, bases)
        said = [
            *cup_remarks(k, step, coat, mixed),
            *limit_remarks(k, step, coat, mixed),
            *two_pack_remarks(k, step, coat, temp),
            *technique_remarks(k, step, coat, mixed, film_of(k, step), plan.build.scale, plan.schools),
        ]
        cup = _cup_of_zones(k, step, zones) if is_mixed(coat, method) else None
    elif isinstance(step, WorkingStep):
        given = work_cautions(k, step, k.thinners[step.carrier] if step.carrier else None, temp)
    else:
        given = touch_cautions(k, step, k.touches[step.material] if step.material else None)
    if given:
        given.append(("defer", DEFER))
    return cup, given, said


def _hardens(k: Knowledge, step: AnyStep) -> bool:
    return isinstance(step, CoatStep) and k.coats[step.material].hardener is not None


def in_order(
    c: Conditions, plan: Plan, times: Times, by_zone: dict[str, list[AnyStep]], marked: Marks
) -> Iterator[Remark]:
    """Remarks on the order of steps, over all zones; a remark that holds in several is made once."""
    closed = closings(plan, times)
    # Times matter to masks, where a zone is closed, to what goes onto water and to what rests; to nothing else here.
    plain = {s.id: marked[s.id] if isinstance(s, FittingStep) else whole_of(s) for s in plan.steps if s.id in marked}
    wet = any(leaves_water(c.k, s) or puts_out(s) for s in plan.steps if not isinstance(s, CoatStep))
    merged: dict[tuple[str, str], tuple[Said, list[str]]] = {}
    for zone_id, steps in by_zone.items():
        for step, said in _zone_said(
            c, plan, times, zone_id, steps, closed, marked if wet or zone_id in closed else plain
        ):
            said_in = merged.setdefault((step.id, said.code), (said, []))
            said_in[1].append(zone_id)
    for step, zones, said in (
        *mirrored(c.k, plan),
        *too_late(plan, times),
        *tackless(c, plan, times),
        *beside_on_part(c, plan, times),
    ):
        merged.setdefault((step.id, said.code), (said, zones))
    for (step_id, _), (said, zones) in merged.items():
        yield remark_out(step_id, zones, said)


def _zone_said(
    c: Conditions,
    plan: Plan,
    times: Times,
    zone_id: str,
    steps: list[AnyStep],
    closed: dict[str, list[Closed]],
    marked: Marks,
) -> list[tuple[AnyStep, Said]]:
    shut = tuple(closed.get(zone_id, ()))
    key = (c.key, zone_id, tuple([marked[s.id] for s in steps]), shut)
    return _ORDER.once(key, lambda: list(zone_remarks(plan, zone_id, steps, c.k, times, closed)))


def _cup_of_zones(k: Knowledge, step: CoatStep, zones: dict[str, Zone]) -> CupOut:
    area = area_together(zones[z] for z in step.zones)
    return cup_out(cup_for_area(k, step, film_of(k, step), area, coverage_of(step, k.coats[step.material])))


def cup_out(cup: CupFor) -> CupOut:
    """A cup as it is shown: mL, drops, what lands and what is lost."""
    shown = {name: getattr(cup, name) for name in CupOut.model_fields}
    pours = [
        PourOut.stated(material=p.material, name=p.name, role=p.role, ml=p.ml, drops=p.drops, grams=p.grams)
        for p in cup.pours
    ]
    return CupOut.stated(**shown | {"pours": pours})
