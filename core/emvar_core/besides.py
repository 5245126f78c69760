"""What is told of a step apart from its seams: its cup, its cautions, remarks on it and on the order of steps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from .cautions import DEFER, coat_cautions, touch_cautions, work_cautions
from .materials import Knowledge
from .memo import Memo
from .mixing import cup_for_area, is_mixed
from .order import Closed, closings, mirrored, zone_remarks
from .outcome import CupOut, Remark, StepNote, cup_out
from .plan import AnyStep, CoatStep, WorkingStep, Zone
from .techniques.judge import Said, cup_remarks, limit_remarks, technique_remarks
from .walk import Laid, Walker

_AT_STEPS, _ORDER = Memo(40_000), Memo(2_000)


@dataclass(frozen=True)
class AtStep:
    """What is told of a step by itself."""

    cup: CupOut | None
    notes: list[StepNote]
    said: list[Said]


def at_step(w: Walker, step: AnyStep, zones: dict[str, Zone], areas: int) -> AtStep:
    """Cup, cautions and remarks of a step, remembered by the step and its times."""
    key = (w.world, w.horizon, w.mark(step), areas)
    found: AtStep | None = _AT_STEPS.get(key)
    if found is None:
        found = _told(w, step, zones)
        _AT_STEPS.put(key, found)
    return found


def _told(w: Walker, step: AnyStep, zones: dict[str, Zone]) -> AtStep:
    k, temp = w.k, w.line.at(w.times[step.id].start_min).temp_c
    if isinstance(step, CoatStep):
        laid = w.lay(step)
        method = laid.landing.method or laid.coat.method
        bases = {zones[z].base_material or w.plan.build.base_material for z in step.zones}
        base = "print_uncured" if "print_uncured" in bases else ""
        told = coat_cautions(k, laid.coat, laid.cup, method, tuple(step.aids), temp, base)
        said = [
            *cup_remarks(k, step, laid.coat, laid.cup),
            *limit_remarks(k, step, laid.coat, laid.cup),
            *technique_remarks(k, step, laid.coat, laid.cup, laid.film_um, w.plan.build.scale, w.plan.schools),
        ]
        cup = _cup_out(k, step, laid, zones) if is_mixed(laid.coat, method) else None
    elif isinstance(step, WorkingStep):
        told = work_cautions(k, step, k.thinners[step.carrier] if step.carrier else None, temp)
        said, cup = [], None
    else:
        told = touch_cautions(step, k.touches[step.material] if step.material else None)
        said, cup = [], None
    if told:
        told.append(("defer", DEFER))
    notes = [StepNote.model_construct(step_id=step.id, caution=c, text=text) for c, text in told]
    return AtStep(cup, notes, said)


def in_order(w: Walker, by_zone: dict[str, list[AnyStep]]) -> Iterator[Remark]:
    """Remarks on the order of steps, over all zones; the same remark in several zones is told once."""
    closed = closings(w.plan, w.times)
    merged: dict[tuple[str, str], tuple[Said, list[str]]] = {}
    for zone_id, steps in by_zone.items():
        for step, said in _zone_said(w, zone_id, steps, closed):
            held = merged.setdefault((step.id, said.code), (said, []))
            held[1].append(zone_id)
    for step, zones, said in mirrored(w.plan):
        merged.setdefault((step.id, said.code), (said, zones))
    for (step_id, _), (said, zones) in merged.items():
        yield remark_out(step_id, zones, said)


def _zone_said(
    w: Walker, zone_id: str, steps: list[AnyStep], closed: dict[str, list[Closed]]
) -> list[tuple[AnyStep, Said]]:
    shut = tuple(closed.get(zone_id, ()))
    # Times matter to masks and where a zone is closed, and to nothing else here.
    marks = tuple([w.mark(s) if shut or s.kind == "fitting" else w.timeless_mark(s) for s in steps])
    key = (w.world, zone_id, marks, shut)
    found: list[tuple[AnyStep, Said]] | None = _ORDER.get(key)
    if found is None:
        found = list(zone_remarks(w.plan, zone_id, steps, w.k, w.times, closed))
        _ORDER.put(key, found)
    return found


def remark_out(step_id: str, zones: list[str], said: Said) -> Remark:
    return Remark.model_construct(
        id=f"{step_id}~{said.code}",
        step_id=step_id,
        zones=zones,
        code=said.code,
        verdict=said.verdict,
        word=said.word,
        sentence=said.sentence,
        advice=said.advice,
        kind=said.kind,
        basis=said.basis,
        rests_on=said.rests_on,
        school=said.school.value if said.school else None,
    )


def _cup_out(k: Knowledge, step: CoatStep, laid: Laid, zones: dict[str, Zone]) -> CupOut:
    area = sum(zones[z].area_cm2 for z in step.zones)
    return cup_out(cup_for_area(k, step, laid.film_um, area, laid.layer.coverage))
