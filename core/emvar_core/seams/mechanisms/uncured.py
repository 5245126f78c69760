"""An uncured print sweats monomer: what is laid on it stays tacky and lifts."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import BaseSurface, Basis, Edge, Kind, capital
from ..bare import bare
from ..checks import Check
from ..mechanism import BARE, LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    if not bare(s, BaseSurface.UNCURED):
        return
    where = s.layer.words
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.7,
        "stays tacky",
        lambda: f"{capital(where)} still sweats monomer: the paint over it stays tacky and lifts.",
        "Wash it in isopropanol, dry it, and post-cure it fully under ultraviolet first.",
        Basis.RULE,
    )


MECHANISM = Mechanism(
    id="uncured",
    says="An uncured photopolymer keeps what lies on it tacky.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    acts_on=BARE,
    would_change="washing and a full post-cure",
    check=Check(
        "With gloves on, press a dry bud into a recess: it comes back dry, and the face is not sticky.",
        "Wash it once more and post-cure it for longer, turning it.",
    ),
    scrap=Scrap(2880, "The coat on a piece of the support is hard and dry after two days.", "It is tacky or lifts."),
    fault=("tacky.sealed_in",),
    explains=True,
    cost=102,
)
