"""An unnamed layer never defaults to safe."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Basis, Contact, Edge, FilmClass, FittingAction, Kind
from ..checks import BUD, BUD_TEST
from ..mechanism import ALL_CONTACTS, BUD_SCRAP, Course, Mechanism, NoFault, films
from ..situation import Finding, Situation


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not layer.is_film(FilmClass.UNKNOWN) or landing.action is FittingAction.INSPECT:
        return
    dry = landing.contact is Contact.LAY and not landing.blend.parts
    yield MECHANISM.found(
        Kind.DAMAGE,
        0.22 if dry else 0.3,
        "unknown",
        lambda: f"What {layer.words} is made of, and how old it is, is not known: nothing says that it bears this.",
        f"{BUD_TEST}.",
        Basis.UNKNOWN,
        "nothing: an unnamed layer is never taken to be safe",
    )


MECHANISM = Mechanism(
    id="unknown",
    says="Nothing is known of the layer that is met.",
    on=ALL_CONTACTS,
    course=Course.NEVER,
    judge=judge,
    acts_on=films(FilmClass.UNKNOWN),
    would_change="a bud test of a hidden spot, or knowing what it is",
    check=BUD,
    scrap=BUD_SCRAP,
    fault=NoFault("an unknown layer is asked about before, not after"),
    explains=True,
    cost=270,
)
