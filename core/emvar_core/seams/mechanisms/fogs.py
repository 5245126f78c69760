"""The fumes of super glue fog clear parts."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind
from ..checks import Check
from ..mechanism import TOUCH, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Reads, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    base, touch = s.base, s.landing.touch
    if s.index != 0 or touch is None or not touch.fogs or base is None or not base.clear:
        return
    yield MECHANISM.found(
        Kind.LOOK,
        0.4,
        "fogs",
        "The fumes of super glue fog clear parts.",
        "Fit clear parts with white glue or a clear that dries hard.",
        layer=s.base_at,
    )


MECHANISM = Mechanism(
    id="fogs",
    says="Super glue fogs clear parts.",
    on=contacts(TOUCH),
    course=Course.NEVER,
    judge=judge,
    would_change="white glue, or a clear that dries hard",
    check=Check(
        "Glue a scrap of clear sprue under a glass overnight: it stays clear.",
        "Fit clear parts with white glue.",
    ),
    scrap=Scrap(720, "Clear the morning after.", "A white bloom round the joint."),
    fault=("fogged.fumes",),
    reads=Reads.BASE,
    cost=330,
)
