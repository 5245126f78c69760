"""A decal on satin or matt traps air under its film and silvers."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, Kind, School, Sheen, Side, Trait, Use, capital
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, Scrap, contacts
from ..situation import Finding, Reads, Situation

ON_MATT, ON_SATIN, STRAIGHT = 0.6, 0.25, 0.5  # severity; of it, for those who go straight on


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if not landing.is_for(Use.MARKING) or landing.has(Trait.METALLIC):
        return  # foil shows the grain instead
    if layer.sheen is None or layer.sheen is Sheen.GLOSS:
        return
    straight = landing.schools.get(School.CLEAR_BEFORE_DECALS) == Side.STRAIGHT_ON
    severity = (ON_MATT if layer.sheen is Sheen.MATT else ON_SATIN) * (STRAIGHT if straight else 1)
    sheen = layer.sheen.value
    yield MECHANISM.found(
        Kind.LOOK,
        severity,
        "silvers",
        lambda: f"{capital(layer.words)} is {sheen}: a decal traps air on it and silvers.",
        "A gloss clear first; those who go straight on need it smooth and tight, and more softener.",
        Basis.PRACTICE,
        f"{PRACTICE}; the schools differ (gloss first, straight on)",
        school=School.CLEAR_BEFORE_DECALS,
    )


MECHANISM = Mechanism(
    id="silvers",
    says="Air under the film of a decal shows as silver.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a gloss surface, softener, and no air under the film",
    check=Check(
        "Look along the face against a lamp: its reflection has a sharp edge.",
        "Lay one thin gloss clear more where the decals go.",
    ),
    scrap=Scrap(720, "No silver under the film, looked at from the side.", "Silver that softener does not take away."),
    fault=("silvering.matt",),
    reads=Reads.SCHOOLS,
    cost=120,
)
