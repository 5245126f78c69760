"""Spirit that creeps into stressed joints cracks plastic that it does not dissolve: a rule of its own."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import PRACTICE, Basis, Edge, Kind, Method, SolventFamily
from ..checks import Check
from ..mechanism import LAY, WORK, Course, Mechanism, Scrap, contacts
from ..severity import SLIGHT
from ..situation import Finding, Reads, Situation

BY_METHOD: dict[Method, float] = {
    Method.MIST: 0.12,
    Method.SPRAY: 0.25,
    Method.WET_SPRAY: 0.55,
    Method.CAN: 0.4,
    Method.BRUSH: 0.6,
    Method.SPONGE: 0.15,
    Method.DRY_BRUSH: 0.05,
    Method.WASH: 0.8,
    Method.FLOOD: 0.95,
    Method.SPECKLE: 0.15,
    Method.DAMP_WIPE: 0.35,
    Method.WET_WIPE: 0.7,
    Method.SCRUB: 0.5,
}
ANY_OTHER = 0.1
HOT_CREEPS, ALCOHOL_CREEPS = 0.5, 0.3  # as much as so much spirit (assumption)
SEALED_UM = 15.0  # primer and clear on every face and joint (assumption)
STILL_CREEPS = 0.4  # of it, at joints that no coat has closed


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    base, landing = s.base, s.landing
    if base is None or not base.stressed or s.index != 0 or landing.wet_s <= 0 or landing.method is None:
        return
    spirit = landing.spirit + HOT_CREEPS * landing.hot + ALCOHOL_CREEPS * landing.shares.get(SolventFamily.ALCOHOL, 0.0)
    severity = BY_METHOD.get(landing.method, ANY_OTHER) * min(spirit, 1.0)
    sealed = s.cover_um >= SEALED_UM
    if sealed:
        severity *= STILL_CREEPS
    if severity < SLIGHT:
        return
    where = f"the bare {base.name.split(',')[0].lower()}"
    yield MECHANISM.found(
        Kind.DAMAGE,
        severity,
        "cracks",
        lambda: (
            f"The {landing.carrier_words} creeps into stressed joints of {where} and cracks them"
            + (", where the coats do not close them." if sealed else ".")
        ),
        "Ease the fit, prime every face and joint, wash with water-borne washes, or use odourless spirit sparingly.",
        Basis.RULE,
        f"stress cracking is no matter of solubility; {PRACTICE}",
        layer=s.base_at,
    )


MECHANISM = Mechanism(
    id="stress_crack",
    says="Spirit in a stressed joint cracks plastic that it does not dissolve.",
    on=contacts(LAY, WORK),
    course=Course.NEVER,
    judge=judge,
    would_change="an eased fit, sealed joints or a water-borne wash",
    check=Check(
        "Bend the joint a little by hand and look at it under a lens: no white line, and it can be taken apart without "
        "force.",
        "Ease the fit with a file, and prime the joint on every face.",
    ),
    scrap=Scrap(1440, "No line at the joint after a day, also under light finger pressure.", "A crack, even a hair."),
    fault=("crack.plastic",),
    reads=Reads.BASE | Reads.COVER,
    explains=True,
    cost=250,
)
