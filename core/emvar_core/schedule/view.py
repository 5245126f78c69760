"""What the screen shows of a schedule: sittings with their work, windows that open and close across them, what dries.

Everything is in minutes since the build's start, and computed here; the browser draws.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any

from ..assess import assess
from ..judging import Assessment
from ..plan import Record, Schedule, Sitting, Timing, minutes_since_start, sittings
from ..plan.documents import GoalReached, State, schedule_times
from ..plan.hours import MOST_DAYS
from ..vocabulary import FilmState, Model, Verdict
from .agenda import Agenda, times_of
from .drag import MovedStep, UnfitOut, differences
from .net import Link, What
from .schedule import first_schedule
from .shift import FRESH
from .stretches import SAME

FAR_MIN = 60 * 1440.0
LEAST_REST_MIN = 1.0  # a shorter gap is rounding
FIRM_ENOUGH = (FilmState.FIRM, FilmState.HARD, FilmState.POWDER)


class LineOut(Model):
    """One step in a sitting, the cleaning of an airbrush, or a rest (`step` None). `rests`: how many lie in a step."""

    step: str | None
    start_min: float
    end_min: float
    pinned: bool
    state: State | None
    rest: bool = False
    rests: int = 0


class SittingOut(Model):
    """A stretch of bench time with its work. `spare_min`: what is left of it; `goes_on`: what dries when it ends."""

    id: str
    start_min: float
    end_min: float
    lines: list[LineOut]
    setups: int
    cleaning_min: float
    spare_min: float
    live: list[str]


class WindowSpan(Model):
    """A window on a coat: when it opens (hopeful, best, careful) and closes (careful, best, hopeful), if it does.

    `met`: whether its work is placed inside it, at the careful edges. `near`: minutes to the closing edge.
    """

    before: str
    after: str
    zones: list[str]
    what: What
    words: str
    opens: list[float]
    closes: list[float | None]
    met: bool
    near: float | None
    risky: bool


class HopelessOut(Model):
    """What no waiting mends, with the seam to look at."""

    step: str
    below: str | None
    word: str
    seam: str | None


class TakenOut(Model):
    """A stretch of what would be bench time that something else takes: another build, or an entry of a calendar."""

    start_min: float
    end_min: float
    by: str


class SittingsOut(Model):
    """A schedule as it is shown. `hopeful_min`: when it would be finished if every coat were as quick as it can be."""

    schedule: Schedule
    record: Record
    now_min: float
    finish_min: float
    hopeful_min: float
    sittings: list[SittingOut]
    windows: list[WindowSpan]
    outside: list[LineOut]
    unplaced: list[str]
    hopeless: list[HopelessOut]
    unfit: list[UnfitOut]
    moved: list[MovedStep]
    states: dict[str, State]
    assessment: Assessment


def view(agenda: Agenda, schedule: Schedule, before: Schedule | None, unfit: list[UnfitOut]) -> SittingsOut:
    """The schedule on its bench. `before`: the one that it replaced, to show what moved."""
    times = times_of(agenda, schedule)
    assessed = assess(agenda.plan, schedule=schedule, record=agenda.record, opens=False)
    now_placed = {s: t for s, t in times.items() if s in {x.id for x in agenda.left.steps}}
    moved: list[MovedStep] = []
    if before is not None:
        moved = differences(schedule_times(agenda.left, before) | agenda.done, now_placed)
    placed = {s: t for s, t in now_placed.items() if s not in agenda.done}
    finish = max((t.end_min for t in now_placed.values()), default=agenda.since)
    last = max([agenda.since, *(t.end_min for t in now_placed.values())])
    near = [s for s in agenda.all_sittings if agenda.span(s)[0] <= last + 1440]
    shown = [_sitting(agenda, schedule, now_placed, assessed, s) for s in near]
    inside = {line.step for s in shown for line in s.lines}
    return SittingsOut(
        schedule=schedule,
        record=agenda.record or Record(),
        now_min=agenda.since,
        finish_min=finish,
        hopeful_min=min(_hopeful(agenda), finish) if schedule.placed else finish,
        sittings=shown,
        windows=[w for link in agenda.net.links if (w := _window(agenda, link, now_placed)) is not None],
        outside=[_line(agenda, schedule, s, t) for s, t in placed.items() if s not in inside],
        unplaced=[t.id for t in agenda.net.tasks if t.id not in now_placed],
        hopeless=_hopeless(agenda, assessed),
        unfit=unfit,
        moved=moved,
        states=agenda.states,
        assessment=assessed,
    )


NEXT_TO_MIN = 15.0  # what one thing takes, with no longer pause in it, is one stretch


def taken_up(agenda: Agenda, named: Iterable[tuple[datetime, datetime, str]], until_min: float) -> list[TakenOut]:
    """What of the sittings is taken, by whom, up to an instant; stretches of the same with no pause between are one."""
    plan = agenda.plan
    start = plan.build.starts_at
    until = start + timedelta(minutes=min(max(until_min, 0.0), (MOST_DAYS - 1) * 1440))
    free = agenda.hours.model_copy(update={"busy": []})
    rows = sittings(free, plan.build.tz, start, until)
    took: list[TakenOut] = []
    for a, b, by in sorted(named, key=lambda n: (n[2], n[0])):
        for row in rows:
            if a < row.end and row.start < b:
                first, last = (minutes_since_start(plan, x) for x in (max(a, row.start), min(b, row.end)))
                if took and took[-1].by == by and first - took[-1].end_min <= NEXT_TO_MIN:
                    took[-1] = took[-1].model_copy(update={"end_min": max(took[-1].end_min, last)})
                else:
                    took.append(TakenOut(start_min=first, end_min=last, by=by))
    return sorted(took, key=lambda t: t.start_min)


def _hopeful(agenda: Agenda) -> float:
    """When a first schedule on the hopeful edges ends; no search, so it may be better still."""
    hopeful = first_schedule(agenda, "hopeful") if agenda.stretches else None
    return hopeful.finish_min if hopeful is not None and not hopeful.unplaced else math.inf


def _line(agenda: Agenda, schedule: Schedule, step: str, t: Timing) -> LineOut:
    pinned = step in schedule.pins or step in agenda.pins
    fine = agenda.net.task(step).fine if step not in agenda.done else None
    return LineOut(
        step=step, start_min=t.start_min, end_min=t.end_min, pinned=pinned, state=agenda.states.get(step),
        rests=fine.rests if fine is not None else 0,
    )  # fmt: skip


def _rests(agenda: Agenda, lines: list[LineOut]) -> list[LineOut]:
    """Gaps between pieces of work that are there for the eyes: without them fine work would go on for too long."""
    rows = agenda.rows
    if rows is None:
        return []
    rests, row, busy = [], FRESH, -math.inf
    for line in sorted(lines, key=lambda x: x.start_min):
        task = agenda.net.task(line.step) if line.step is not None and line.step not in agenda.done else None
        needed = task is not None and row.rested(task, busy, rows) > busy + 1e-6
        if needed and line.start_min - busy >= LEAST_REST_MIN:
            gap = LineOut(step=None, start_min=busy, end_min=line.start_min, pinned=False, state=None, rest=True)
            rests.append(gap)
        if task is not None:
            row = row.on(task, line.start_min, line.end_min - line.start_min, rows)
        busy = max(busy, line.end_min)
    return rests


def _sitting(
    agenda: Agenda, schedule: Schedule, times: dict[str, Timing], assessed: Assessment, sitting: Sitting
) -> SittingOut:  # fmt: skip
    a, b = agenda.span(sitting)
    lines = [_line(agenda, schedule, s, t) for s, t in times.items() if a - 1e-6 <= t.start_min < b]
    work = sum(x.end_min - x.start_min for x in lines)
    cleaning = [c for c in schedule.cleanings if sitting.start <= c.starts_at < sitting.end]
    for c in cleaning:
        start = (c.starts_at - agenda.plan.build.starts_at).total_seconds() / 60
        lines.append(LineOut(step=None, start_min=start, end_min=start + c.length_min, pinned=False, state=None))
    lines += _rests(agenda, lines)
    live = []
    for coat in assessed.coats.values():
        firm = next((m.from_min for m in coat.states if m.state in FIRM_ENOUGH), coat.end_min)
        if coat.end_min <= b < firm and coat.step_id not in live:
            live.append(coat.step_id)
    cleaning_min = sum(c.length_min for c in cleaning)
    return SittingOut(
        id=sitting.id, start_min=a, end_min=b, lines=sorted(lines, key=lambda x: x.start_min), setups=len(cleaning),
        cleaning_min=cleaning_min, live=live,
        spare_min=max(b - max(a, min(agenda.since, b)) - work - cleaning_min, 0.0),
    )  # fmt: skip


def _finite(value: float) -> float | None:
    return None if value == math.inf else round(value, 2)


def _window(agenda: Agenda, link: Link, times: dict[str, Timing]) -> WindowSpan | None:
    """A link as the window that it is; order alone, and what is open at once and for ever, is none."""
    if link.what is What.ORDER or link.before not in times or link.after not in times:
        return None
    end, upper = times[link.before].end_min, times[link.after]
    at_edge: dict[str, Any] = {}
    for edge in ("hopeful", "best", "careful"):
        need = upper.end_min if link.whole else upper.start_min
        a, b = at_edge[edge] = agenda.stretch(link, times, edge)
        at_edge[edge + " met"] = a <= upper.start_min + SAME and need <= b + SAME
    opens = [at_edge[e][0] for e in ("hopeful", "best", "careful")]
    closes = [at_edge[e][1] for e in ("careful", "best", "hopeful")]
    if closes[0] - end > FAR_MIN:
        closes = [math.inf] * 3
    near = closes[0] - (upper.end_min if link.whole else upper.start_min)
    return WindowSpan(
        before=link.before, after=link.after, zones=list(link.zones), what=link.what, words=link.words,
        opens=[round(x, 2) for x in opens], closes=[_finite(c) for c in closes],
        met=at_edge["careful met"], near=_finite(near), risky=link.ages.risky,
    )  # fmt: skip


def _hopeless(agenda: Agenda, assessed: Assessment) -> list[HopelessOut]:
    hopeless = []
    for h in agenda.net.hopeless:
        seams = [
            s
            for s in assessed.seams.values()
            if s.upper_step == h.step and s.zone_id == h.zone and s.verdict in (Verdict.CLASH, Verdict.CAUTION)
        ]
        seam = max(seams, key=lambda s: s.verdict.grave).id if seams else None
        if seams and all(s.verdict is not Verdict.CLASH for s in seams):
            continue
        hopeless.append(HopelessOut(step=h.step, below=h.below, word=h.word, seam=seam))
    return list({(h.step, h.word): h for h in hopeless}.values())


def proof_words(schedule: Schedule, fits: bool = True) -> str:
    """How good a schedule is, said honestly. `fits`: whether all of it does."""
    reached: list[GoalReached] = schedule.reached
    if not schedule.placed:
        return "nothing to plan yet" if fits else "nothing fits yet"
    if not reached:
        if schedule.made_by == "hand":
            return "placed by hand"
        return "as it comes: the search did not end in the time" if fits else "as it comes: not all of it fits"
    if any(g.goal == "broken" for g in reached):
        return "does not fit"
    if all(g.proven for g in reached):
        return "proven best"
    finish = next((g for g in reached if g.goal == "finish"), None)
    if finish is not None and finish.proven:
        return "proven earliest; the other goals are the best so far"
    return f"best so far, at most {finish.gap_pct:g} % from the earliest there is" if finish else "best so far"
