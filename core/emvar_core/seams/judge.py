"""From findings to a verdict: judged at the careful edge, with the time that waiting would take.

Below `CAUTION_FROM` a seam is sound, from `CLASH_FROM` on it is a clash, unless waiting helps within
`WAIT_HORIZON_MIN`: then it is a wait. Good only at the best guess: caution.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..drying.clock import Edge
from .contact import Finding, Reach, Situation, Verdict
from .mechanisms import findings, reaches, worst
from .telling import Telling, tell

CAUTION_FROM = 0.2
CLASH_FROM = 0.5
WAIT_HORIZON_MIN = 3 * 1440.0
# Coarse on purpose: it finds the band in which a level is reached, bisection then finds when.
LOOK_AHEAD_MIN = (20, 60, 240, 720, 1440, 2880, 4320, 7200, 14400, 28800, 86400)
NEAR_HOME = 0.05


@dataclass(frozen=True)
class Judged:
    """A verdict on one contact. Times are minutes since the build's start; None where waiting does not help."""

    verdict: Verdict
    findings: tuple[Finding, ...]
    reach: tuple[Reach, ...]
    opens_best_min: float | None
    opens_careful_min: float | None
    eventual: Verdict | None
    telling: Telling


def level_of(severity: float) -> Verdict:
    if severity >= CLASH_FROM:
        return Verdict.CLASH
    return Verdict.CAUTION if severity >= CAUTION_FROM else Verdict.SOUND


def level(found: list[Finding]) -> Verdict:
    return level_of(max((f.severity for f in found), default=0.0))


def _level(s: Situation, at_min: float, edge: Edge) -> Verdict:
    return level_of(worst(s, at_min, edge, CLASH_FROM))


@dataclass(frozen=True)
class Waiting:
    """What waiting would do: the verdict now, the best level it leads to, and from when. Minutes from the landing."""

    verdict: Verdict
    eventual: Verdict | None
    opens_best: float | None
    opens_careful: float | None
    hopeful: Verdict | None = None


def judge(s: Situation, at_min: float, *, opens: bool = True) -> Judged:
    """Judges a landing on the layer that it meets, at an instant.

    What waiting would do is the dear part. Without `opens` only waits get their instants; whether a caution or a clash
    would ever end is left open.
    """
    careful = findings(s, at_min, Edge.LATE)
    told = tuple(f for f in careful if f.severity >= NEAR_HOME)
    reached = tuple(reaches(s, at_min))
    here = level(careful)
    reds = [r.red for r in reached if r.red is not None]
    if here is Verdict.SOUND:
        return Judged(here, told, reached, None, None, None, tell(s, here, careful, None, reds))
    found = _waiting(s, at_min, here, careful, opens)
    return Judged(
        found.verdict,
        told,
        reached,
        None if found.opens_best is None else at_min + found.opens_best,
        None if found.opens_careful is None else at_min + found.opens_careful,
        found.eventual,
        tell(s, found.verdict, careful, found.hopeful, reds),
    )


def _waiting(s: Situation, at_min: float, here: Verdict, careful_findings: list[Finding], opens: bool) -> Waiting:
    hopeful = _level(s, at_min, Edge.BEST)
    if here is Verdict.CLASH and hopeful is Verdict.SOUND:
        here = Verdict.CAUTION
    if not opens and not _may_wait(s, at_min, here):
        return Waiting(here, None, None, None, hopeful)
    if (known := _by_events(s, at_min, here, careful_findings)) is not None:
        return replace(known, hopeful=hopeful)
    target, careful = _opens(s, at_min, Edge.LATE, here)
    if careful is None:
        return Waiting(here, None, None, None, hopeful)
    best = at_min
    if hopeful.grave > target.grave:
        best = _between(s, at_min, at_min, careful, Edge.BEST, target)
    if here is Verdict.CLASH and careful - at_min <= WAIT_HORIZON_MIN:
        # A wait ends as well as it ever will; what stays doubtful for weeks is no wait but a clash.
        at_last = _level(s, at_min + LOOK_AHEAD_MIN[-1], Edge.LATE)
        if target.grave <= at_last.grave:
            here = Verdict.WAIT
    return Waiting(here, target, best - at_min, careful - at_min, hopeful)


def _may_wait(s: Situation, at_min: float, here: Verdict) -> bool:
    """Whether a clash is perhaps only a wait: something better stands at the horizon."""
    if here is not Verdict.CLASH:
        return False
    return _level(s, at_min + WAIT_HORIZON_MIN, Edge.LATE) is not Verdict.CLASH


def _by_events(s: Situation, at_min: float, here: Verdict, told: list[Finding]) -> Waiting | None:
    """Where only events of the layer's hardening stand in the way, their instants are the answer, exactly."""
    grave = [f for f in told if f.severity >= CAUTION_FROM]
    drying = s.layer.drying
    if drying is None or any(f.event is None for f in grave):
        return None
    events = [f.event for f in grave if f.event is not None]
    careful = max(drying.event(e, Edge.LATE) for e in events)
    if _level(s, careful, Edge.LATE) is not Verdict.SOUND:
        return None
    best = max(at_min, *(drying.event(e, Edge.BEST) for e in events))
    wait = here is Verdict.CLASH and careful - at_min <= WAIT_HORIZON_MIN
    return Waiting(Verdict.WAIT if wait else here, Verdict.SOUND, best - at_min, careful - at_min)


def _opens(s: Situation, at_min: float, edge: Edge, here: Verdict) -> tuple[Verdict, float | None]:
    """The best level that waiting gives, and when; None where waiting gives nothing better."""
    target, low, high = here, 0.0, 0.0
    before = 0.0
    for ahead in LOOK_AHEAD_MIN:
        if ahead > WAIT_HORIZON_MIN and target.grave < here.grave:
            break  # something better within the horizon is what counts
        there = _level(s, at_min + ahead, edge)
        if there.grave < target.grave:
            target, low, high = there, before, float(ahead)
        if target is Verdict.SOUND:
            break
        before = float(ahead)
    if target.grave >= here.grave:
        return target, None
    return target, _between(s, at_min, at_min + low, at_min + high, edge, target)


def _between(s: Situation, at_min: float, low: float, high: float, edge: Edge, target: Verdict) -> float:
    """The instant between two at which a level is reached, to 3 % of the wait; never earlier than it is."""
    while high - low > max(2.0, 0.03 * (high - at_min)):
        mid = (low + high) / 2
        if _level(s, mid, edge).grave <= target.grave:
            high = mid
        else:
            low = mid
    return high
