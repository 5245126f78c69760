"""From findings to a verdict: judged at the careful edge, with the time that waiting would take.

Below `CAUTION_FROM` a seam is sound, from `CLASH_FROM` on it is a clash, unless waiting helps within
`WAIT_HORIZON_MIN`: then it is a wait. Good only at the best guess: caution.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..drying.clock import Edge
from .contact import Finding, Reach, Situation, Verdict
from .mechanisms import findings, reaches

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


def level(found: list[Finding]) -> Verdict:
    worst = max((f.severity for f in found), default=0.0)
    if worst >= CLASH_FROM:
        return Verdict.CLASH
    return Verdict.CAUTION if worst >= CAUTION_FROM else Verdict.SOUND


def judge(s: Situation, at_min: float) -> Judged:
    """Judges a landing on the layer that it meets, at an instant."""
    careful, best = findings(s, at_min, Edge.LATE), findings(s, at_min, Edge.BEST)
    here, hopeful = level(careful), level(best)
    if here is Verdict.CLASH and hopeful is Verdict.SOUND:
        here = Verdict.CAUTION
    told = tuple(f for f in (careful or best) if f.severity >= NEAR_HOME)
    if here is Verdict.SOUND:
        return Judged(here, told, tuple(reaches(s, at_min)), None, None, None)
    target, opens_careful = _opens(s, at_min, Edge.LATE, here)
    opens_best = opens_careful if opens_careful is None else _opens_at(s, at_min, Edge.BEST, target)
    if here is Verdict.CLASH and opens_careful is not None and opens_careful - at_min <= WAIT_HORIZON_MIN:
        here = Verdict.WAIT
    eventual = target if opens_careful is not None else None
    return Judged(here, told, tuple(reaches(s, at_min)), opens_best, opens_careful, eventual)


def _opens(s: Situation, at_min: float, edge: Edge, here: Verdict) -> tuple[Verdict, float | None]:
    """The best level that waiting gives, and when; None where waiting gives nothing better."""
    target = here
    for ahead in LOOK_AHEAD_MIN:
        if ahead > WAIT_HORIZON_MIN and target.grave < here.grave:
            break  # something better within the horizon is what counts
        there = level(findings(s, at_min + ahead, edge))
        if there.grave < target.grave:
            target = there
        if target is Verdict.SOUND:
            break
    if target.grave >= here.grave:
        return target, None
    return target, _opens_at(s, at_min, edge, target)


def _opens_at(s: Situation, at_min: float, edge: Edge, target: Verdict) -> float | None:
    low = 0.0
    for ahead in (0, *LOOK_AHEAD_MIN):
        if level(findings(s, at_min + ahead, edge)).grave <= target.grave:
            high = float(ahead)
            break
        low = float(ahead)
    else:
        return None
    while high - low > max(2.0, 0.02 * high):
        mid = (low + high) / 2
        if level(findings(s, at_min + mid, edge)).grave <= target.grave:
            high = mid
        else:
            low = mid
    return at_min + high


