"""The way of a plan through the stages, zone by zone: laid coats, stacks, contacts, verdicts, words.

A zone is gone through in stretches of a few steps, remembered by what they are and by the coats that they start on. So
an edit works out its own stretch and the next one or two; the rest of the zone and other zones are taken as they were.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import NotThere
from ..ids import coat_id
from ..memory import MEMORY, intern
from ..plan import AnyStep, CoatStep, Plan, Timing, WorkingStep, Zone
from ..seams.places import Spot
from ..seams.severity import gravest
from ..seams.situation import Landing, Layer
from ..seams.windows import OpenWindow, buried, window_for
from ..vocabulary import Verdict, WorkAction
from .conditions import Conditions
from .contacts import judge_landing, sight
from .laying import landing_of, lay, whole_of, working
from .outcome import CoatOut, SeamOut
from .stack import (
    SIGHT,
    Lying,
    Stack,
    Times,
    beside,
    buried_by,
    laid_on,
    leave,
    medium_under,
    place_of,
    spot_of,
    spot_worked,
)
from .stories import Reason, reasons_of
from .writing import Worked, coat_out, later, seam_out, window_seam, worked

STRETCH = 5  # steps of a zone that are remembered together

_ZONES = MEMORY.door("whole zones", 120)
_STRETCHES = MEMORY.door("stretches of a zone", 20_000)
_MARKS = MEMORY.door("steps at their times", 40_000)
_MET = MEMORY.door("seams of a step", 60_000)


@dataclass(frozen=True, slots=True)
class Judged:
    """Steps of one zone: their coats and seams, and what is not sound."""

    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    unsound: list[SeamOut]
    reasons: list[Reason]


@dataclass(frozen=True, slots=True)
class Stretch(Judged):
    """A few steps, and what they leave of the stack."""

    added: Stack
    changed: tuple[tuple[int, Lying], ...]  # how far below the stretch's start, and what is there now

    def grown(self, stack: list[Lying]) -> None:
        """Leaves a stack as the stretch leaves it."""
        for depth, entry in self.changed:
            stack[-depth] = entry
        stack += self.added


def mark_of(step: AnyStep, timing: Timing) -> int:
    """Stands for a step, its name and its times."""
    start, end = timing.start_min, timing.end_min
    return _MARKS.of(step, lambda: intern((whole_of(step), start, end)), start, end)


Marks = dict[str, int]


def marks_of(steps: Sequence[AnyStep], times: Times) -> Marks:
    """A mark for each step by its id: made once for all zones."""
    return {s.id: mark_of(s, times[s.id]) for s in steps}


def judge_zone(c: Conditions, zone: Zone, base: Layer, steps: Sequence[AnyStep], times: Times, marked: Marks) -> Judged:
    """Up a zone, stretch by stretch. `marked`: the marks of all its steps."""
    marks = tuple([marked[s.id] for s in steps])
    masks: tuple[object, ...] = ()
    if c.masked or c.wetted:
        masks = tuple([(c.masked.get((s.id, zone.id), ()), s.id in c.wetted) for s in steps])
    key = (c.key, c.horizon, zone.id, base.key, marks, masks)
    return _ZONES.once(key, lambda: _up_a_zone(c, zone, base, steps, times, marks, masks))


def _up_a_zone(
    c: Conditions, zone: Zone, base: Layer, steps: Sequence[AnyStep], times: Times, marks: tuple[int, ...],
    masks: tuple[object, ...],
) -> Judged:  # fmt: skip
    stack: list[Lying] = []
    where: dict[str, int] = {}
    judged = Judged({}, {}, [], [])
    for first in range(0, len(steps), STRETCH):
        part = steps[first : first + STRETCH]
        near = tuple([entry.mark for entry in stack[: -SIGHT - 2 : -1]])
        deep = _worked_far_down(part, stack, where)
        here = slice(first, first + STRETCH)
        key = (c.key, c.horizon, zone.id, base.key, near, deep, marks[here], masks[here])
        stretch: Stretch | None = _STRETCHES.get(key)
        if stretch is None:
            stretch = _STRETCHES.put(key, judge_steps(c, zone.id, part, base, tuple(stack), times))
        stretch.grown(stack)
        for i in range(len(stack) - len(stretch.added), len(stack)):
            where[stack[i].layer.step_id or ""] = i
        judged.coats.update(stretch.coats)
        judged.seams.update(stretch.seams)
        judged.unsound.extend(stretch.unsound)
        judged.reasons.extend(stretch.reasons)
    return judged


def _worked_far_down(
    part: Sequence[AnyStep], stack: list[Lying], where: dict[str, int]
) -> tuple[tuple[int, int, int], ...]:
    """Coats far down that a working step of this stretch acts on."""
    deep = []
    for step in part:
        if isinstance(step, WorkingStep) and (at := where.get(step.acts_on)) is not None:
            under = medium_under(stack, at) if step.action is WorkAction.CHIP else None
            deep.append((len(stack) - at, stack[at].mark, -1 if under is None else stack[under].mark))
    return tuple(deep)


def judge_steps(
    c: Conditions,
    zone_id: str,
    steps: Sequence[AnyStep],
    base: Layer,
    stack: Stack,
    times: Times,
    written_from: int = 0,
) -> Stretch:
    """Some steps of a zone on what lies there; the steps before `written_from` only build it up."""
    lies, started, touched = list(stack), len(stack), set[int]()
    coats: dict[str, CoatOut] = {}
    seams: list[SeamOut] = []
    for i, step in enumerate(steps):
        here, timing = tuple(lies), times[step.id]
        touched |= leave(c, step, zone_id, lies, times)
        if i < written_from:
            continue
        if isinstance(step, CoatStep):
            entry, laid = lies[-1], lay(c, step, timing)
            if step.existing is None:  # what is there already has landed long ago
                seams += _meet(c, step, zone_id, laid.landing, here, entry.spot, base, timing.start_min)
            coats[coat_id(step.id, zone_id)] = coat_out(step, laid, zone_id, entry, timing)
        elif isinstance(step, WorkingStep):
            seams += _worked_seams(c, step, zone_id, here, base, times)
        else:
            landing = landing_of(c, step, timing)
            seams += _meet(c, step, zone_id, landing, here, spot_of(step), base, timing.start_min)
    unsound = [s for s in seams if s.verdict is not Verdict.SOUND]
    return Stretch(
        coats,
        {s.id: s for s in seams},
        unsound,
        reasons_of(unsound),
        tuple(lies[started:]),
        tuple((started - i, lies[i]) for i in sorted(touched) if i < started),
    )


def _worked_seams(
    c: Conditions, step: WorkingStep, zone_id: str, stack: Stack, base: Layer, times: Times
) -> list[SeamOut]:
    """A working step's window on the coat it acts on, and what its carrier does to the rest."""
    done = _in_window(c, step, stack, times)
    if done is None:
        return []
    start = times[step.id].start_min
    landing, others = working(c, step), beside(step, stack)
    seams = _meet(c, step, zone_id, landing, others, spot_worked(step, stack), base, start)
    return [window_seam(step, zone_id, done, start), *seams]


def _in_window(c: Conditions, step: WorkingStep, stack: Stack, times: Times) -> Worked | None:
    found = window_of(c, step, stack)
    if found is None:
        return None
    laid = times.get(step.acts_on)
    return worked(step, *found, times[step.id], laid.end_min - laid.start_min if laid is not None else 0.0)


@dataclass(frozen=True, slots=True)
class Weighed:
    """What a step meets in a zone, weighed and not written out. Instants are minutes since the build's start."""

    lower_step: str | None
    verdict: Verdict
    missed: bool
    at_min: float
    opens_careful_min: float | None
    gravest: float


def weigh_step(c: Conditions, zone_id: str, step: AnyStep, base: Layer, stack: Stack, times: Times) -> list[Weighed]:
    """What a step meets on what lies in a zone: the verdicts that `judge_steps` writes out as seams."""
    timing, start = times[step.id], times[step.id].start_min
    weighed: list[Weighed] = []
    lies, spot = stack, spot_of(step)
    if isinstance(step, CoatStep):
        if step.existing is not None:
            return []
        spot = laid_on(c, step, zone_id, stack, timing)[0].spot
    elif isinstance(step, WorkingStep):
        done = _in_window(c, step, stack, times)
        if done is None:
            return []
        weighed.append(Weighed(done.target.step_id, done.said.verdict, done.missed, start, done.opens[1], 0.0))
        lies, spot = beside(step, stack), spot_worked(step, stack)
    met = sight(spot, lies)
    _, judged = judge_landing(c, landing_of(c, step, timing), met, base, start)
    for entry in judged:
        findings, opens = entry.judged.findings, entry.judged.opens_careful_min or entry.judged.eases_min
        lower = met.stack[-1 - entry.index].layer.step_id if entry.index < len(met.stack) else None
        weighed.append(
            Weighed(
                lower,
                Verdict.SOUND if entry.slight else entry.judged.verdict,
                False,
                start,
                None if entry.slight else later(opens, start),
                gravest(findings),
            )
        )
    return weighed


def window_of(c: Conditions, step: WorkingStep, stack: Stack) -> tuple[Layer, OpenWindow] | None:
    """The coat that a working step acts on, and its window there; None where it is not on this stack."""
    place = place_of(stack, step.acts_on)
    if place is None:
        return None
    target = stack[place].layer
    if (over := buried_by(c.k, stack, place, working(c, step).blend)) is not None and target.drying is not None:
        return target, buried(step.action, target, over.layer)
    medium = medium_under(stack, place)
    below = stack[medium if medium is not None else place - 1].layer if place > 0 else None
    return target, window_for(c.k, step.action, target, below, working(c, step).blend, step.method)


def _meet(
    c: Conditions, step: AnyStep, zone_id: str, landing: Landing, stack: Sequence[Lying], spot: Spot, base: Layer,
    start: float,
) -> list[SeamOut]:  # fmt: skip
    """What a landing at a spot does on each layer that it meets there, as seams."""
    met = sight(spot, stack)
    key, judged = judge_landing(c, landing, met, base, start)
    names = [(e.layer.step_id, e.layer.name) for e in reversed(met.stack)]
    if met.whole:
        names.append((None, base.name))
    placed = (key, step.id, zone_id, start, tuple(names))
    return _MET.once(placed, lambda: [seam_out(step, zone_id, landing, entry, names, start) for entry in judged])


def steps_of(plan: Plan, zone_id: str) -> list[AnyStep]:
    """The steps of a zone, in their order. Raises NotThere where there is no such zone."""
    if plan.zone(zone_id) is None:
        raise NotThere("zone", zone_id)
    return [s for s in plan.steps if zone_id in s.zones]
