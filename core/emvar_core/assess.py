"""The one door: `assess(plan)` gives every coat's states, every seam's verdict, every window, cup, caution and remark.

Reads nothing but the plan and the package's data. Results are remembered by content (`walk.py`).
"""

from __future__ import annotations

from collections.abc import Iterable

from .besides import at_step, in_order, remark_out
from .materials import Knowledge, knowledge
from .memo import forget, intern
from .mixing import Blend
from .outcome import Assessment, CoatOut, CupOut, Remark, Score, SeamOut, StepNote, score_of, stories_of
from .plan import AnyStep, Plan
from .seams.contact import Verdict
from .sittings.documents import Record, Schedule, as_placed
from .trials import apply_trials
from .walk import Walker


def assess(
    plan: Plan,
    *,
    schedule: Schedule | None = None,
    record: Record | None = None,
    knowledge: Knowledge | None = None,
    zones: Iterable[str] | None = None,
    opens: bool = True,
) -> Assessment:
    """Assesses a plan; with a schedule or a record, at the times that they give (record beats schedule beats plan).

    `zones` limits the seams and coats to some zones (times stay those of the whole plan).

    Without `opens`, cautions and clashes are judged but not searched for the time at which they would end, which is
    the dear part; waits always have it. The screen asks for that when a seam is chosen (`seam_in_full`).
    Never raises on a plan that `parse_plan` accepts. Linear in the number of coats.
    """
    if schedule is not None or record is not None:
        plan = as_placed(plan, schedule, record)
    k = (knowledge or default_knowledge()).with_own(plan.materials)
    work = Walker(plan, k, opens)
    chosen = set(zones) if zones is not None else None
    by_zone: dict[str, list[AnyStep]] = {z.id: [] for z in plan.zones if chosen is None or z.id in chosen}
    told: list[AnyStep] = []
    for step in plan.steps:
        here = False
        for zone_id in step.zones:
            if zone_id in by_zone:
                by_zone[zone_id].append(step)
                here = True
        if here:
            told.append(step)
    coats: dict[str, CoatOut] = {}
    seams: dict[str, SeamOut] = {}
    unsound: list[SeamOut] = []
    for zone in plan.zones:
        if zone.id in by_zone:
            for stretch in work.zone(zone, by_zone[zone.id]):
                coats.update(stretch.coats)
                seams.update(stretch.seams)
                unsound += stretch.unsound
    if plan.trials and (settled := apply_trials(plan, work.times, seams)):
        unsound = [s for s in unsound if s.id not in settled]
        unsound += [seams[i] for i in sorted(settled) if seams[i].verdict is not Verdict.SOUND]
    cups: dict[str, CupOut] = {}
    notes: list[StepNote] = []
    remarks: list[Remark] = []
    all_zones = {z.id: z for z in plan.zones}
    areas = intern(tuple((z.id, z.area_cm2, z.base_material) for z in plan.zones))
    for step in told:
        here_told = at_step(work, step, all_zones, areas)
        if here_told.cup is not None:
            cups[step.id] = here_told.cup
        notes += here_told.notes
        remarks += [remark_out(step.id, list(step.zones), said) for said in here_told.said]
    remarks += in_order(work, by_zone)
    return Assessment.model_construct(
        times=work.times,
        coats=coats,
        seams=seams,
        cups=cups,
        notes=notes,
        remarks=remarks,
        stories=stories_of(plan, unsound, remarks),
        score=score_of(unsound, sound=len(seams) - len(unsound), remarks=remarks),
        end_min=work.end,
    )


def seam_in_full(plan: Plan, seam_id: str) -> SeamOut:
    """One seam with everything that can be said of it. Raises KeyError where the plan has no such seam."""
    zone = seam_id.split("~")[1] if seam_id.count("~") == 2 else ""
    return assess(plan, zones=[zone]).seams[seam_id]


NEAR_BELOW, NEAR_ABOVE = 24, 2


def assess_near(plan: Plan, zone_id: str, step_id: str) -> tuple[dict[str, CoatOut], dict[str, SeamOut], list[str]]:
    """The first answer to an edit of a long plan: one step in one zone and the few after it there.

    Gives their coats and seams, the same as `assess(opens=False)` gives, and the ids of the steps. Its cost does not
    grow with the plan, but for the times. Raises KeyError where the plan has no such step in that zone.
    """
    zone = next((z for z in plan.zones if z.id == zone_id), None)
    steps: list[AnyStep] = [s for s in plan.steps if zone_id in s.zones]
    at = next((i for i, s in enumerate(steps) if s.id == step_id), None)
    if zone is None or at is None:
        raise KeyError(step_id)
    work = Walker(plan, default_knowledge().with_own(plan.materials), opens=False)
    shown = steps[max(at - NEAR_BELOW, 0) : at + 1 + NEAR_ABOVE]
    found = work.walk(zone_id, shown, work.base(zone), [], told_from=min(at, NEAR_BELOW))
    if plan.trials:
        apply_trials(plan, work.times, found.seams)
    ids = [s.id for s in steps[at : at + 1 + NEAR_ABOVE]]
    chosen = set(ids)
    return (
        {i: c for i, c in found.coats.items() if c.step_id in chosen},
        {i: s for i, s in found.seams.items() if s.upper_step in chosen},
        ids,
    )


def default_knowledge() -> Knowledge:
    return knowledge()


__all__ = ["Assessment", "Blend", "Score", "assess", "assess_near", "default_knowledge", "forget", "seam_in_full"]
