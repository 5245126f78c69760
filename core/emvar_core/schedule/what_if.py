"""What if: the same plan in hotter or damper air, without an evening, with a cabinet; each scheduled and played."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any

from ..assess import assess
from ..errors import NoBenchTime, PlanError
from ..plan import Aid, Air, AnyEdit, CoatStep, Hours, Plan, Record, WorkingStep, apply, edits_json
from ..plan.edits import SetAir, SetField, SetHours
from ..plan.hours import WEEK
from ..vocabulary import DAY_NAMES, AidKind, Model, Weekday
from .agenda import Agenda, hours_of
from .dry_run import dry_run
from .schedule import make

WHAT_IF_RUNS = 120
CABINET_MIN, CABINET_C = 120.0, 40.0
HOTTER_K, DAMPER_PCT = 8.0, 20.0


class Case(Model):
    """One what-if beside today's: when it would be finished, and how likely all windows are met."""

    title: str
    note: str
    edits: list[dict[str, Any]]
    fits: bool
    proven: bool
    finish_min: float
    likely_min: float
    whole: float
    weakest: str | None
    weakest_why: str
    score: Any
    words: str


def what_if_edits(plan: Plan) -> list[tuple[str, str, list[AnyEdit]]]:
    """The questions: hotter, damper, without one weekday, with a cabinet. Title, note, edits."""
    cases: list[tuple[str, str, list[AnyEdit]]] = [("As it is", "", [])]
    cases.append((f"{HOTTER_K:.0f} °C hotter", "day and night", [SetAir(air=_air(plan, HOTTER_K, 0))]))
    cases.append((f"{DAMPER_PCT:.0f} % damper", "day and night", [SetAir(air=_air(plan, 0, DAMPER_PCT))]))
    hours = hours_of(plan)
    used = [d for d in WEEK if any(d in w.days for w in hours.weekly)]
    if len(used) > 1:
        day = Weekday.THU if Weekday.THU in used else used[0]
        cases.append(
            (f"No {DAY_NAMES[day]}s", "all the other hours as they are", [SetHours(hours=without(hours, day))])
        )
    cabinet = with_cabinet(plan)
    if cabinet:
        note = f"{CABINET_C:.0f} °C for {CABINET_MIN / 60:.0f} h after {len(cabinet)} coats that bear it"
        cases.append(("A drying cabinet", note, cabinet))
    return cases


def _air(plan: Plan, warmer: float, damper: float) -> Any:
    def changed(air: Air) -> Air:
        return air.model_copy(
            update={"temp_c": min(air.temp_c + warmer, 60.0), "rh_pct": min(air.rh_pct + damper, 100.0)}
        )

    air = plan.air
    return air.model_copy(update={"day": changed(air.day), "night": changed(air.night) if air.night else None})


def without(hours: Hours, day: Weekday) -> Hours:
    """The hours without one weekday."""
    weekly = [
        w.model_copy(update={"days": [d for d in w.days if d is not day]}) for w in hours.weekly if w.days != [day]
    ]
    return hours.model_copy(update={"weekly": weekly})


def with_cabinet(plan: Plan) -> list[AnyEdit]:
    """A drying cabinet after each coat that bears it: nowhere a clash or a caution that was not there before."""
    edits: list[AnyEdit] = []
    was = assess(plan, opens=False)
    aid = Aid(kind=AidKind.CABINET, duration_min=CABINET_MIN, temp_c=CABINET_C)
    current, now = plan, was
    worked = {s.acts_on for s in plan.steps if isinstance(s, WorkingStep)}  # heat would close their windows
    for step in plan.steps:
        if not isinstance(step, CoatStep) or step.aids or step.id in worked:
            continue
        edit = SetField(step_id=step.id, field="aids", value=[aid.model_dump(mode="json")])
        try:
            changed, _ = apply(current, [edit])
        except PlanError:
            continue
        then = assess(changed, opens=False)
        if then.score.order[:2] > now.score.order[:2] or then.score.cautions > now.score.cautions:
            continue
        current, now = changed, then
        edits.append(edit)
    return edits


def what_if(
    plan: Plan, record: Record | None, pins: dict[str, float],
    taken: list[tuple[datetime, datetime]] | None = None, *, seconds: float = 4.0,
    tell: Callable[[int, int, list[Case]], None] = lambda a, b, c: None,
) -> list[Case]:  # fmt: skip
    """Each question scheduled and played; the first is the plan as it is."""
    asked = what_if_edits(plan)
    cases: list[Case] = []
    for i, (title, note, edits) in enumerate(asked):
        tell(i, len(asked), cases)
        changed, _ = apply(plan, edits)
        agenda = Agenda(changed, record, dict(pins), taken or [])
        try:
            planned = make(agenda, seconds=seconds)
        except NoBenchTime as error:
            cases.append(
                Case(title=title, note=note, edits=edits_json(edits), fits=False, proven=False, finish_min=0,
                     likely_min=0, whole=0, weakest=None, weakest_why="", score=None, words=f"{error}.")
            )  # fmt: skip
            continue
        played = dry_run(agenda, planned.schedule, runs=WHAT_IF_RUNS)
        words = planned.unfit[0].words if planned.unfit else ""
        cases.append(
            Case(title=title, note=note, edits=edits_json(edits), fits=planned.fits,
                 proven=all(g.proven for g in planned.schedule.reached), finish_min=played.planned_min,
                 likely_min=played.likely_min, whole=played.whole, weakest=played.weakest,
                 weakest_why=played.weakest_why, score=planned.assessment.score, words=words)
        )  # fmt: skip
    return cases
