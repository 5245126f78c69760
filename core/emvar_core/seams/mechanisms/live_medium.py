"""A chipping medium left unsealed re-opens under later water: decals, clay, cement, a wet clear."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Contact, Edge, Kind, Method, capital
from ..checks import Check
from ..mechanism import ALL_CONTACTS, Course, Mechanism, NoFault, Scrap
from ..situation import LIGHT_PASS, Finding, Reads, Situation

# How grave it is, 0–1 (ours): washed or wiped wet; laid wet over it; in light passes.
UNDER_WATER, WETTED, MISTED = 0.6, 0.45, 0.15


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    medium = s.medium
    if medium is None:
        return
    wet = s.landing.rub > LIGHT_PASS or s.landing.method is Method.PLACE
    washed = s.landing.contact is not Contact.LAY
    yield MECHANISM.found(
        Kind.DAMAGE,
        UNDER_WATER if washed and wet else WETTED if wet else MISTED,
        "re-opens",
        lambda: (
            f"{capital(medium.layer.words)} is still live under the colour: water gets in at every chip and it lets "
            "go again."
        ),
        "When it is dry, seal it with mist coats of a solvent clear; that ends the chipping for good.",
        layer=medium.at,
    )


MECHANISM = Mechanism(
    id="live_medium",
    says="Water gets to a chipping medium that no clear has sealed, and it lets go again.",
    on=ALL_CONTACTS,
    course=Course.NEVER,
    judge=judge,
    would_change="a solvent clear misted over the medium",
    check=Check(
        "Touch a wet bud to a chip in a hidden spot and wait a minute: the colour round it does not move.",
        "Mist a solvent clear over it, in light passes, and try again.",
    ),
    scrap=Scrap(60, "Nothing lets go under the wet bud.", "The colour slides."),
    fault=NoFault("a medium that lets go is foreseen; afterwards one chips on"),
    reads=Reads.MEDIUM,
    explains=True,
    cost=260,
)
