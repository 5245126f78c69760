"""The thresholds of severity, in one place. A severity is 0–1: how grave what happens at a seam is.

Below `CAUTION_FROM` a seam is sound, from `CLASH_FROM` on it is a clash unless waiting ends it. Everything that weighs,
ranks or words a severity compares it with a figure of this page. They were set once; docs/models/seams.md tells how.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from ..vocabulary import Verdict

FAINT = 0.05  # below it nothing is said of it at all
SLIGHT = 0.1  # below it a mechanism of a fixed rule says nothing
DOUBTFUL = 0.15  # a sound seam from here on "could go either way"
CAUTION_FROM = 0.2
CLASH_FROM = 0.5
CROSSED = 0.4  # at most, where a thin mark is crossed by another or dusted over: it smears a little (assumption)
WORST = 0.9  # at most, where a rule of practice tells how grave it is
OVERWHELMING = 0.8  # from here on no small change would make another verdict of it
FIRM_MARGIN, FAIR_MARGIN = 0.12, 0.05  # distance to the nearest threshold from which a verdict is clear-cut, or fair


class Weighed(Protocol):
    """Anything with a severity, 0–1."""

    @property
    def severity(self) -> float: ...


def level_of(severity: float) -> Verdict:
    """The verdict of a severity, before it is asked whether waiting helps.

    >>> [str(level_of(s)) for s in (0.1, 0.3, 0.6)]
    ['sound', 'caution', 'clash']
    """
    if severity >= CLASH_FROM:
        return Verdict.CLASH
    return Verdict.CAUTION if severity >= CAUTION_FROM else Verdict.SOUND


def gravest(weighed: Iterable[Weighed]) -> float:
    """The gravest severity, 0–1; 0 where nothing happens.

    >>> from types import SimpleNamespace
    >>> gravest([SimpleNamespace(severity=0.2), SimpleNamespace(severity=0.7)])
    0.7
    """
    return max((f.severity for f in weighed), default=0.0)


def margin(severity: float) -> float:
    """How far a severity lies from becoming another verdict.

    >>> round(margin(0.28), 2)
    0.08
    """
    if severity >= OVERWHELMING:
        return 1.0
    return min(abs(severity - CAUTION_FROM), abs(severity - CLASH_FROM))
