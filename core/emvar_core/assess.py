"""The one door: `assess(plan)` gives every coat's states, every seam's verdict, every window, cup, caution and remark.

It reads nothing but the plan and what is known of materials and techniques. It puts together what two rooms say:
`judging` of seams, `remarks` of the steps themselves.
"""

from __future__ import annotations

from collections.abc import Iterable

from .errors import NotThere
from .ids import read_seam_id
from .judging import Assessment, CoatOut, Conditions, CupOut, Remark, SeamOut, StepNote, base_layer, conditions_of
from .judging.stories import Reason, reasons_of, score_of, stories_of
from .judging.trials import settled_by_trials
from .judging.zones import judge_steps, judge_zone, marks_of, steps_of
from .knowledge import Knowledge
from .memory import forget, intern
from .plan import AnyStep, Plan, Record, Schedule, as_placed, known_to, step_times, with_own
from .remarks import at_steps, in_order
from .vocabulary import Verdict


def _conditions(plan: Plan, knowledge: Knowledge | None, opens: bool) -> Conditions:
    k = with_own(knowledge, plan.materials) if knowledge is not None else known_to(plan)
    return conditions_of(plan, step_times(plan), opens=opens, knowledge=k)


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
    the expensive part; waits always have it. The screen asks for that when a seam is chosen (`seam_in_full`).
    Never raises on a plan that `parse_plan` accepts. Linear in the number of coats.
    """
    if schedule is not None or record is not None:
        plan = as_placed(plan, schedule, record)
    times = step_times(plan)
    c = _conditions(plan, knowledge, opens)
    by_zone, listed = _by_zone(plan, zones)
    marked = marks_of(listed, times)
    coats: dict[str, CoatOut] = {}
    seams: dict[str, SeamOut] = {}
    unsound: list[SeamOut] = []
    reasons: list[Reason] = []
    for zone in plan.zones:
        if zone.id in by_zone:
            judged = judge_zone(c, zone, base_layer(c.k, plan, zone), by_zone[zone.id], times, marked)
            coats.update(judged.coats)
            seams.update(judged.seams)
            unsound += judged.unsound
            reasons += judged.reasons
    if plan.trials and (settled := settled_by_trials(plan, times, seams)):
        seams |= settled
        unsound = [s for s in unsound if s.id not in settled]
        unsound += [settled[i] for i in sorted(settled) if settled[i].verdict is not Verdict.SOUND]
        reasons = reasons_of(unsound)
    cups: dict[str, CupOut] = {}
    notes: list[StepNote] = []
    remarks: list[Remark] = []
    all_zones = {z.id: z for z in plan.zones}
    areas = intern(tuple((z.id, z.area_cm2, plan.base_of(z)) for z in plan.zones))
    for here in at_steps(c, plan, listed, marked, times, all_zones, areas):
        cups.update(here.cups)
        notes += here.notes
        remarks += here.remarks
    remarks += in_order(c, plan, times, by_zone, marked)
    return Assessment.stated(
        times=times,
        coats=coats,
        seams=seams,
        cups=cups,
        notes=notes,
        remarks=remarks,
        stories=stories_of(plan, reasons, remarks),
        score=score_of(unsound, sound=len(seams) - len(unsound), remarks=remarks),
        end_min=max((t.end_min for t in times.values()), default=0.0),
    )


def _by_zone(plan: Plan, zones: Iterable[str] | None) -> tuple[dict[str, list[AnyStep]], list[AnyStep]]:
    """The steps of the zones that are asked for, by zone, and each once in the plan's order."""
    chosen = set(zones) if zones is not None else None
    by_zone: dict[str, list[AnyStep]] = {z.id: [] for z in plan.zones if chosen is None or z.id in chosen}
    listed: list[AnyStep] = []
    for step in plan.steps:
        here = False
        for zone_id in step.zones:
            if zone_id in by_zone:
                by_zone[zone_id].append(step)
                here = True
        if here:
            listed.append(step)
    return by_zone, listed


def seam_in_full(plan: Plan, seam_id: str) -> SeamOut:
    """One seam with everything that can be said of it. Raises NotThere where the plan has no such seam."""
    parts = read_seam_id(seam_id)
    seam = assess(plan, zones=[parts.zone]).seams.get(seam_id) if parts is not None else None
    if seam is None:
        raise NotThere("seam", seam_id)
    return seam


NEAR_BELOW, NEAR_ABOVE = 24, 2


def assess_near(plan: Plan, zone_id: str, step_id: str) -> tuple[dict[str, CoatOut], dict[str, SeamOut], list[str]]:
    """The first answer to an edit of a long plan: one step in one zone and the few after it there.

    Gives their coats and seams, the same as `assess(opens=False)` gives, and the ids of the steps. Its cost does not
    grow with the plan, but for the times. Raises NotThere where the plan has no such step in that zone.
    """
    steps = steps_of(plan, zone_id)
    zone = plan.zone(zone_id)
    at = next((i for i, s in enumerate(steps) if s.id == step_id), None)
    if zone is None or at is None:
        raise NotThere("step", step_id)
    times = step_times(plan)
    c = _conditions(plan, None, opens=False)
    shown = steps[max(at - NEAR_BELOW, 0) : at + 1 + NEAR_ABOVE]
    stretch = judge_steps(c, zone_id, shown, base_layer(c.k, plan, zone), (), times, written_from=min(at, NEAR_BELOW))
    seams = stretch.seams | (settled_by_trials(plan, times, stretch.seams) if plan.trials else {})
    ids = [s.id for s in steps[at : at + 1 + NEAR_ABOVE]]
    chosen = set(ids)
    return (
        {i: c for i, c in stretch.coats.items() if c.step_id in chosen},
        {i: s for i, s in seams.items() if s.upper_step in chosen},
        ids,
    )


__all__ = ["Assessment", "assess", "assess_near", "forget", "seam_in_full"]
