"""The fourth stage: from findings to a verdict, judged at the careful edge, with the time that waiting would take.

A clash is a wait where waiting ends it: sound within `WAIT_HORIZON_MIN`, or in a caution within `CAUTION_HORIZON_MIN`.
Good only at the best guess: caution.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..seams.meeting import Meeting
from ..seams.reach import Reach, reaches
from ..seams.registry import findings, worst
from ..seams.severity import CAUTION_FROM, CLASH_FROM, FAINT, gravest, level_of
from ..seams.situation import Finding, Reads
from ..vocabulary import Edge, Verdict
from .telling import Telling, tell

WAIT_HORIZON_MIN = 14 * 1440.0  # a modeller's patience where it ends sound (settled)
CAUTION_HORIZON_MIN = 3 * 1440.0  # and where it ends in a caution
# Coarse on purpose: it finds the band in which a level is reached, bisection then finds when.
LOOK_AHEAD_MIN = (20, 60, 240, 720, 1440, 2880, 4320, 7200, 14400, 20160, 28800, 86400)
LEAST_WAIT_MIN, FINE = 2.0, 0.03  # to which an instant is found, and as a share of the wait


@dataclass(frozen=True)
class Judged:
    """A verdict on one meeting. Times are minutes since the build's start; None where waiting does not help.

    `eases_min`: of a clash that no waiting ends, from when nothing else stands in the way any more.
    """

    verdict: Verdict
    findings: tuple[Finding, ...]
    reach: tuple[Reach, ...]
    opens_best_min: float | None
    opens_careful_min: float | None
    eventual: Verdict | None
    telling: Telling
    eases_min: float | None = None


@dataclass(frozen=True)
class Waiting:
    """What waiting would do: the verdict now, the best level it leads to, and from when. Minutes from the landing."""

    verdict: Verdict
    eventual: Verdict | None
    opens_best: float | None
    opens_careful: float | None
    hopeful: Verdict | None = None


def judge(m: Meeting, at_min: float, *, opens: bool = True) -> Judged:
    """Judges a landing on the layer that it meets, at an instant (minutes since the build's start).

    What waiting would do is the expensive part. Without `opens` only waits get their instants; whether a caution or a
    clash would ever end is left open.
    """
    careful = findings(m, at_min, Edge.LATE)
    shown = tuple(f for f in careful if f.severity >= FAINT)
    reached = tuple(reaches(m.view(Reads.REACHED), at_min))
    here = level_of(gravest(careful))
    reds = [r.red for r in reached if r.red is not None]
    if here is Verdict.SOUND:
        return Judged(here, shown, reached, None, None, None, tell(m, here, careful, None, reds))
    waiting = _waiting(m, at_min, here, careful, opens)
    eases = None
    if waiting.verdict is Verdict.CLASH and (stays := [f for f in careful if _stays(m, f)]):
        passes = [f for f in careful if not _stays(m, f)]
        careful = [*stays, *passes]  # what no waiting ends is what is told first
        shown = tuple(f for f in careful if f.severity >= FAINT)
        eases = _eases(m, at_min, passes)
    return Judged(
        waiting.verdict,
        shown,
        reached,
        None if waiting.opens_best is None else at_min + waiting.opens_best,
        None if waiting.opens_careful is None else at_min + waiting.opens_careful,
        waiting.eventual,
        tell(m, waiting.verdict, careful, waiting.hopeful, reds),
        eases,
    )


def _stays(m: Meeting, finding: Finding) -> bool:
    """Whether no waiting ends a finding that clashes."""
    return finding.severity >= CLASH_FROM and finding in m.timeless


def _eases(m: Meeting, at_min: float, passes: list[Finding]) -> float | None:
    drying = m.layer.drying
    events = [f.event for f in passes if f.event is not None and f.severity >= CAUTION_FROM]
    if drying is None or not events:
        return None
    eases = max(drying.event(event, Edge.LATE) for event in events)
    return eases if eases > at_min else None


def _level(m: Meeting, at_min: float, edge: Edge) -> Verdict:
    return level_of(worst(m, at_min, edge, CLASH_FROM))


def _is_at_best(m: Meeting, at_min: float, edge: Edge, level: Verdict) -> bool:
    """Whether nothing graver than a level stands there; asks no further than the first that is."""
    if level.grave >= Verdict.CLASH.grave:
        return True
    enough = CAUTION_FROM if level is Verdict.SOUND else CLASH_FROM
    return worst(m, at_min, edge, enough) < enough


def _waiting(m: Meeting, at_min: float, here: Verdict, careful_findings: list[Finding], opens: bool) -> Waiting:
    hopeful = _level(m, at_min, Edge.BEST)
    if here is Verdict.CLASH and _good_at_best(m, at_min, hopeful, careful_findings):
        here = Verdict.CAUTION
    if not opens and not _may_wait(m, at_min, here):
        return Waiting(here, None, None, None, hopeful)
    if (known := _by_events(m, at_min, here, careful_findings)) is not None:
        return replace(known, hopeful=hopeful)
    target, careful = _opens(m, at_min, Edge.LATE, here)
    if careful is None:
        return Waiting(here, None, None, None, hopeful)
    best = at_min
    if hopeful.grave > target.grave:
        best = _between(m, at_min, at_min, careful, Edge.BEST, target)
    if here is Verdict.CLASH and careful - at_min <= _patience(target):
        here = Verdict.WAIT  # waiting ends it, if only in a caution (settled)
    return Waiting(here, target, best - at_min, careful - at_min, hopeful)


def _patience(target: Verdict) -> float:
    return WAIT_HORIZON_MIN if target is Verdict.SOUND else CAUTION_HORIZON_MIN


def _good_at_best(m: Meeting, at_min: float, hopeful: Verdict, careful: list[Finding]) -> bool:
    """Whether all that clashes at the careful edge is gone at the best guess; what is doubtful there still counts."""
    if hopeful is not Verdict.CAUTION:
        return hopeful is Verdict.SOUND
    doubtful = {(f.mechanism, f.layer) for f in findings(m, at_min, Edge.BEST) if f.severity >= CAUTION_FROM}
    return not any((f.mechanism, f.layer) in doubtful for f in careful if f.severity >= CLASH_FROM)


def _may_wait(m: Meeting, at_min: float, here: Verdict) -> bool:
    """Whether a clash is perhaps only a wait: something better stands at the horizon."""
    if here is not Verdict.CLASH:
        return False
    bears = _is_at_best(m, at_min + CAUTION_HORIZON_MIN, Edge.LATE, Verdict.CAUTION)
    return bears or _is_at_best(m, at_min + WAIT_HORIZON_MIN, Edge.LATE, Verdict.SOUND)


def _by_events(m: Meeting, at_min: float, here: Verdict, careful_findings: list[Finding]) -> Waiting | None:
    """Where only events of the layer's hardening stand in the way, their instants are the answer, exactly."""
    grave = [f for f in careful_findings if f.severity >= CAUTION_FROM]
    drying = m.layer.drying
    if drying is None or any(f.event is None for f in grave):
        return None
    events = [f.event for f in grave if f.event is not None]
    careful = max(drying.event(e, Edge.LATE) for e in events)
    if not _is_at_best(m, careful, Edge.LATE, Verdict.SOUND):
        return None
    best = max(at_min, *(drying.event(e, Edge.BEST) for e in events))
    wait = here is Verdict.CLASH and careful - at_min <= WAIT_HORIZON_MIN
    return Waiting(Verdict.WAIT if wait else here, Verdict.SOUND, best - at_min, careful - at_min)


def _opens(m: Meeting, at_min: float, edge: Edge, here: Verdict) -> tuple[Verdict, float | None]:
    """The best level that waiting gives, and when; None where waiting gives nothing better."""
    target, low, high = here, 0.0, 0.0
    before = 0.0
    for ahead in LOOK_AHEAD_MIN:
        if ahead > WAIT_HORIZON_MIN and target.grave < here.grave:
            break  # something better within the horizon is what counts
        enough = CAUTION_FROM if target is Verdict.CAUTION else CLASH_FROM
        there = level_of(worst(m, at_min + ahead, edge, enough))
        if there.grave < target.grave:
            target, low, high = there, before, float(ahead)
        if target is Verdict.SOUND:
            break
        before = float(ahead)
    if target.grave >= here.grave:
        return target, None
    return target, _between(m, at_min, at_min + low, at_min + high, edge, target)


def _between(m: Meeting, at_min: float, low: float, high: float, edge: Edge, target: Verdict) -> float:
    """The instant between two at which a level is reached, to 3 % of the wait; never earlier than it is."""
    while high - low > max(LEAST_WAIT_MIN, FINE * (high - at_min)):
        middle = (low + high) / 2
        if _is_at_best(m, middle, edge, target):
            high = middle
        else:
            low = middle
    return high
