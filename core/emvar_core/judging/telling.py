"""How sure a verdict is, what would change it, and the physical check that proves a wait is over."""

from __future__ import annotations

from dataclasses import dataclass

from ..seams.checks import Check
from ..seams.meeting import Meeting
from ..seams.registry import REGISTRY
from ..seams.severity import DOUBTFUL, FAIR_MARGIN, FIRM_MARGIN, SLIGHT, gravest, margin
from ..seams.situation import Finding
from ..vocabulary import Basis, Contact, Sure, Verdict

UNDECIDED_RED = (0.9, 1.1)  # there practice decides: some get away with it (Hansen's handbook, from memory)


@dataclass(frozen=True)
class Telling:
    """What is said besides the verdict. Empty strings where there is nothing to say."""

    sure: Sure = Sure.FIRM
    would_change: str = ""
    disputed: str = ""
    check: str = ""
    if_fails: str = ""
    assumes: str = ""


NOTHING_SAID = Telling()


def tell(m: Meeting, verdict: Verdict, careful: list[Finding], hopeful: Verdict | None, reds: list[float]) -> Telling:
    """What goes with a verdict. `hopeful`: the level at the best guess, where it was asked for."""
    worst = gravest(careful)
    if verdict is Verdict.SOUND:
        if worst < SLIGHT:
            return NOTHING_SAID
        return Telling(Sure.FAIR if worst < DOUBTFUL else Sure.OPEN)
    first = careful[0]
    apart = margin(worst)
    sure = Sure.FIRM if apart >= FIRM_MARGIN else Sure.FAIR if apart >= FAIR_MARGIN else Sure.OPEN
    if first.basis is Basis.UNKNOWN:
        sure = Sure.OPEN
    disputed = ""
    undecided = any(UNDECIDED_RED[0] <= red <= UNDECIDED_RED[1] for red in reds) and worst >= SLIGHT
    if first.school is not None:
        disputed = "The schools differ here; the build's own school has been followed."
        sure = Sure.FAIR if sure is Sure.FIRM else sure
    elif undecided and first.basis is Basis.MODEL:
        disputed = "The distance of solvent and binder lies where practice has to decide: some get away with it."
        sure = Sure.OPEN
    elif hopeful is Verdict.SOUND:
        disputed = "Only the careful edge of the range speaks against it; by the best guess it is ready."
        sure = Sure.OPEN
    mechanism = REGISTRY.by_id[first.mechanism]
    check = check_of(m, first) if verdict in (Verdict.WAIT, Verdict.CAUTION) else None
    return Telling(
        sure, mechanism.would_change, disputed, check.do if check else "", check.if_fails if check else "",
        _assumes(m, first),
    )  # fmt: skip


def check_of(m: Meeting, finding: Finding) -> Check | None:
    """The physical check that proves that what was found is over, or was never so."""
    mechanism = REGISTRY.by_id[finding.mechanism]
    if isinstance(mechanism.check, Check):
        return mechanism.check
    return mechanism.check(m.layers[finding.on(m.index)], finding, m.view(mechanism.reads))


def _assumes(m: Meeting, first: Finding) -> str:
    layer = m.layers[first.on(m.index)]
    if layer.drying is None:
        return ""
    air = layer.drying.laid_in
    night = "" if layer.drying.line.constant else ", and the air that the plan gives afterwards"
    doing = "touching it" if m.landing.contact is Contact.TOUCH else "this"
    return (
        f"{layer.film_um:g} µm of {layer.words}, dried at {air.temp_c:g} °C, {air.rh_pct:g} %, {air.movement.value} air"
        f"{night}, before {doing}"
    )
