"""Salt that was not brushed out draws water through the film above it, which blisters."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Edge, Kind
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Reads, Situation

BLISTERS = 0.45  # how grave, 0–1 (ours): it may take weeks, and nothing mends it


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    salt = s.grains
    if salt is None:
        return
    yield MECHANISM.found(
        Kind.DAMAGE,
        BLISTERS,
        "blisters",
        lambda: (
            f"{salt.layer.words} is still there: soluble salt under a film draws water through it, and it blisters."
        ),
        "Brush every grain out, then wipe with a damp bud and let it dry.",
        Basis.RULE,
        "soluble salts under coatings blister them (from memory, after ISO 8502-9)",
        layer=salt.at,
    )


MECHANISM = Mechanism(
    id="salt_left",
    says="Salt grains are left under a film.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="salt that is brushed out and wiped off",
    check=Check("Draw a damp dark cloth over it: no grain, no white edge when it dries.", "Brush and wipe once more."),
    scrap=Scrap(2880, "Flat after two days in a damp box.", "Blisters or a white edge."),
    fault=NoFault("blisters of salt come weeks later and look like nothing that is asked about here"),
    reads=Reads.GRAINS,
    explains=True,
    cost=265,
)
