"""What would make it fit, and what if: small changes of plan or hours, each scheduled before it is offered."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from ..assess import assess
from ..errors import NoBenchTime, PlanError
from ..ids import slug
from ..plan import (
    Aid,
    Air,
    AnyEdit,
    AnyStep,
    CoatStep,
    Hours,
    Plan,
    Record,
    Schedule,
    WorkingStep,
    apply,
    area_together,
    at,
    default_mix,
    edits_json,
    known_to,
)
from ..plan.edits import SetAir, SetField, SetHours, SplitStep
from ..plan.hours import WEEK, Dated
from ..vocabulary import AidKind, Model, Weekday, day_words
from .dry_run import dry_run
from .schedule import Bench, Fit, Planned, hours_of, make

TRIAL_S = 2.5
MOST_TRIALS = 12
WAKING = (7, 23)  # hours by the wall between which an extra sitting is offered
LEAST_SITTING_MIN = 15
LONGER_AT_MOST_MIN = 240
WHAT_IF_RUNS = 120
CABINET_MIN, CABINET_C = 120.0, 40.0
HOTTER_K, DAMPER_PCT = 8.0, 20.0
DAY_NAMES = dict(
    zip(Weekday, ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"), strict=True)
)


class Change(Model):
    """A small change after which everything fits, or more of it does. `unpin`: steps that may move again."""

    title: str
    edits: list[dict[str, Any]]
    unpin: list[str]
    extra_min: float
    fits: bool
    unfit_left: int
    finish_min: float
    schedule: Schedule


@dataclass(frozen=True)
class _Idea:
    title: str
    edits: list[AnyEdit]
    extra_min: float = 0.0
    unpin: tuple[str, ...] = ()


def _clock(plan: Plan, minute: float) -> str:
    then = at(plan, minute)
    return f"{day_words(then)}, {then:%H:%M}"


def _up5(minute: float) -> float:
    return math.ceil(minute / 5 - 1e-6) * 5


def _with_sitting(hours: Hours, when: datetime, length: float) -> Hours:
    dated = Dated(date=when.date(), start=f"{when:%H:%M}", length_min=int(max(length, LEAST_SITTING_MIN)))
    kept = [d for d in hours.dates if (d.date, d.start) != (dated.date, dated.start)]
    return hours.model_copy(update={"dates": [*kept, dated]})


LOOKED_AT_MIN = 14 * 1440.0  # for a sitting of its own, where a window stays open


def _extra_sitting(bench: Bench, fit: Fit, need: float) -> Iterator[_Idea]:
    """A sitting of its own while the window is open, at a waking hour: the first one, and the last."""
    plan, hours = bench.plan, hours_of(bench.plan)
    openings: list[float] = []
    minute = _up5(max(fit.opened_min, bench.since))
    until = min(fit.closes_min, minute + LOOKED_AT_MIN)
    while minute + need <= until + 1e-6:
        here, end = at(plan, minute), at(plan, minute + need)
        if WAKING[0] <= here.hour and end.hour < WAKING[1] and end.date() == here.date():
            openings.append(minute)
        minute += 30
    for minute in dict.fromkeys([*openings[:1], *openings[-1:]]):
        changed = _with_sitting(hours, at(plan, minute), _up5(need))
        title = f"Find {_up5(need):.0f} min on {_clock(plan, minute)}"
        yield _Idea(title, [SetHours(hours=changed)], need)


def _stay_longer(bench: Bench, fit: Fit, need: float) -> Iterator[_Idea]:
    """The sitting that opened the window, long enough to close it; or the next one begun earlier."""
    plan, hours = bench.plan, hours_of(bench.plan)
    for sitting, (a, b) in zip(bench.sittings, bench.benches, strict=True):
        wanted = _up5(fit.opened_min + need)
        if a <= fit.opened_min and b < wanted <= min(fit.closes_min + 1, b + LONGER_AT_MOST_MIN):
            more = wanted - b
            changed = _with_sitting(hours, sitting.start.astimezone(plan.build.tz), sitting.minutes + more)
            title = f"Stay {more:.0f} min longer on {day_words(at(plan, a))}"
            yield _Idea(title, [SetHours(hours=changed)], more)
        if a > fit.closes_min - need:
            start = math.floor((fit.closes_min - need) / 5) * 5
            if start >= max(fit.opened_min, bench.since) and a - start <= LONGER_AT_MOST_MIN:
                changed = _with_sitting(hours, at(plan, start), b - start)
                title = f"Begin {a - start:.0f} min earlier on {day_words(at(plan, a))}"
                yield _Idea(title, [SetHours(hours=changed)], a - start)
            return


def _let_move(bench: Bench, fit: Fit) -> Iterator[_Idea]:
    """What is pinned may move again."""
    for step_id in (fit.below, fit.step):
        if step_id is None or step_id not in bench.pins:
            continue
        step = bench.left.step(step_id)
        assert step is not None
        edits: list[AnyEdit] = []
        if step.fixed_start is not None:
            edits.append(SetField(step_id=step_id, field="fixed_start", absent=True))
        yield _Idea(f"Move “{step.name}”", edits, 0.0, (step_id,))


def _swap(bench: Bench, fit: Fit) -> Iterator[_Idea]:
    """Another material for the coat whose window is too short."""
    below = bench.left.step(fit.below) if fit.below else None
    worker = bench.left.step(fit.step)
    if not isinstance(below, CoatStep) or not isinstance(worker, WorkingStep) or below.id in bench.done:
        return
    k = known_to(bench.plan)
    was = k.coats[below.material]
    for coat in k.coats.values():
        system = k.systems[coat.system]
        if coat.id == was.id or coat.use is not was.use or worker.action not in system.windows:
            continue
        mix = default_mix(k, coat.id)
        edits: list[AnyEdit] = [
            SetField(step_id=below.id, field="material", value=coat.id),
            SetField(step_id=below.id, field="mix", value=mix.model_dump(mode="json"))
            if mix
            else SetField(step_id=below.id, field="mix", absent=True),
        ]
        yield _Idea(f"{coat.name} in place of {was.name.lower()}", edits)


def _split(bench: Bench, fit: Fit) -> Iterator[_Idea]:
    """Work that is longer than any sitting, or more parts than can dry, in as many goes as it takes, zone by zone."""
    step = bench.left.step(fit.step)
    if step is None or len(step.zones) < 2:
        return
    goes = _goes(bench, step)
    if len(goes) < 2:
        return
    areas = _areas(bench, step)
    whole = sum(areas[z] for z in step.zones)
    taken = {s.id for s in bench.plan.steps}
    edits: list[AnyEdit] = []
    parts = [(step.id, sum(areas[z] for z in goes[-1]) / whole)]
    for n, zones in enumerate(goes[:-1], 2):
        new = slug(f"{step.id}-{n}", taken)
        taken.add(new)
        edits.append(SplitStep(step_id=step.id, zones=zones, new_id=new))
        parts.append((new, sum(areas[z] for z in zones) / whole))
    for step_id, part in parts:
        edits.append(SetField(step_id=step_id, field="hands_on_min", value=_up5(step.hands_on_min * part)))
    names = {z.id: z.name for z in bench.plan.zones}
    if len(goes) == 2:
        title = f"Split “{step.name}”: {', '.join(names[z] for z in goes[0])} in a go of its own"
    else:
        title = f"Split “{step.name}” into {len(goes)} goes: " + "; ".join(", ".join(names[z] for z in g) for g in goes)
    yield _Idea(title, edits)


def _areas(bench: Bench, step: AnyStep) -> dict[str, float]:
    """By what the work of a step is shared out: the areas of zones, or alike where they are not given."""
    given = area_together(bench.plan.zones) is not None
    return {z.id: (z.area_cm2 or 1.0) if given else 1.0 for z in bench.plan.zones}


def _goes(bench: Bench, step: AnyStep) -> list[list[str]]:
    """Zones put together, in their order, as far as a sitting and the drying places hold them; none where one alone
    is too much for either.
    """
    task, areas = bench.net.task(step.id), _areas(bench, step)
    whole = sum(areas[z] for z in step.zones)
    clean = bench.hours.cleaning.other_min if task.mix else 0
    longest = max(b - a for a, b in bench.benches)
    pieces = {z.id: z.piece for z in bench.plan.zones}
    places = bench.hours.drying_places if task.coat else None

    def fits(zones: list[str]) -> bool:
        minutes = _up5(step.hands_on_min * sum(areas[z] for z in zones) / whole) + clean
        return minutes <= longest + 1e-6 and (places is None or len({pieces[z] for z in zones}) <= places)

    if not all(fits([z]) for z in step.zones):
        return []
    goes: list[list[str]] = []
    for zone in step.zones:
        if goes and fits([*goes[-1], zone]):
            goes[-1].append(zone)
        else:
            goes.append([zone])
    return goes


def _longer_sitting(bench: Bench, fit: Fit) -> Iterator[_Idea]:
    """One sitting as long as the work."""
    task = bench.net.task(fit.step)
    need = _up5(task.minutes + (bench.hours.cleaning.other_min if task.mix else 0))
    for sitting in sorted(bench.sittings[:14], key=lambda s: -s.minutes)[:2]:
        more = need - sitting.minutes
        if more <= 0:
            continue
        start = sitting.start.astimezone(bench.plan.build.tz)
        changed = _with_sitting(hours_of(bench.plan), start, need)
        yield _Idea(f"Make {day_words(start)} {more:.0f} min longer", [SetHours(hours=changed)], more)


def _ideas(bench: Bench, unfit: tuple[Fit, ...]) -> Iterator[_Idea]:
    for fit in unfit[:2]:
        task = bench.net.task(fit.step)
        need = task.minutes + (bench.hours.cleaning.other_min if task.mix else 0)
        if fit.below is None:
            yield from _let_move(bench, fit)
            yield from _split(bench, fit)
            yield from _longer_sitting(bench, fit)
            continue
        yield from _let_move(bench, fit)
        yield from _stay_longer(bench, fit, need)
        yield from _extra_sitting(bench, fit, need)
        yield from _swap(bench, fit)


def _tried(bench: Bench, idea: _Idea, was: Planned, seconds: float) -> Change | None:
    """An idea, scheduled. None where it does not fit the plan, mends nothing, or makes something clash."""
    try:
        plan, _ = apply(bench.plan, idea.edits)
    except PlanError:
        return None
    pins = {s: m for s, m in bench.pins.items() if s not in idea.unpin}
    trial = Bench(plan, bench.record, pins, bench.taken)
    try:
        planned = make(trial, seconds=seconds)
    except NoBenchTime:
        return None
    was_bad, now_bad = was.assessment.score, planned.assessment.score
    if len(planned.unfit) >= len(was.unfit) or now_bad.clashes > was_bad.clashes:
        return None
    finish = max((t.end_min for t in planned.assessment.times.values()), default=0.0)
    title = idea.title
    if idea.unpin:  # where to is known only now
        title += f" to {_clock(plan, planned.assessment.times[idea.unpin[0]].start_min)}"
    return Change(
        title=title, edits=edits_json(idea.edits), unpin=list(idea.unpin), extra_min=idea.extra_min,
        fits=planned.fits, unfit_left=len(planned.unfit), finish_min=finish, schedule=planned.schedule,
    )  # fmt: skip


def changes(
    bench: Bench, planned: Planned, *, seconds: float = TRIAL_S, tell: Callable[[int, int], None] = lambda a, b: None
) -> list[Change]:
    """The smallest changes that make a schedule fit, best first; each was scheduled and judged by the seams.

    Those that cost no bench time come first, then by bench time, then by the finish. `tell` gets how many were tried.
    """
    ideas = list(_ideas(bench, planned.unfit))[:MOST_TRIALS]
    kept = []
    for i, idea in enumerate(ideas):
        tell(i, len(ideas))
        change = _tried(bench, idea, planned, seconds)
        if change is not None:
            kept.append(change)
    return sorted(kept, key=lambda c: (c.unfit_left, c.extra_min, c.finish_min))


# --- what if ---------------------------------------------------------------------------------------------------


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
        bench = Bench(changed, record, dict(pins), taken or [])
        try:
            planned = make(bench, seconds=seconds)
        except NoBenchTime as error:
            cases.append(
                Case(title=title, note=note, edits=edits_json(edits), fits=False, proven=False, finish_min=0,
                     likely_min=0, whole=0, weakest=None, weakest_why="", score=None, words=f"{error}.")
            )  # fmt: skip
            continue
        played = dry_run(bench, planned.schedule, runs=WHAT_IF_RUNS)
        words = planned.unfit[0].words if planned.unfit else ""
        cases.append(
            Case(title=title, note=note, edits=edits_json(edits), fits=planned.fits,
                 proven=all(g.proven for g in planned.schedule.reached), finish_min=played.planned_min,
                 likely_min=played.likely_min, whole=played.whole, weakest=played.weakest,
                 weakest_why=played.weakest_why, score=planned.assessment.score, words=words)
        )  # fmt: skip
    return cases
