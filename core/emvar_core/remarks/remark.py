"""A remark on a step before it has ids."""

from __future__ import annotations

from dataclasses import dataclass

from ..ids import remark_id
from ..judging.outcome import Remark
from ..vocabulary import PRACTICE, Basis, Kind, School, Verdict


@dataclass(frozen=True)
class Said:
    """One remark on a step before it has ids. Verdict SOUND is a hint: told at the step, counted nowhere."""

    code: str
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: Kind = Kind.MIX
    basis: Basis = Basis.PRACTICE
    rests_on: str = PRACTICE
    school: School | None = None


def remark_out(step_id: str, zones: list[str], said: Said) -> Remark:
    """A remark with its ids, as it is shown."""
    return Remark.stated(
        id=remark_id(step_id, said.code),
        step_id=step_id,
        zones=zones,
        code=said.code,
        verdict=said.verdict,
        word=said.word,
        sentence=said.sentence,
        advice=said.advice,
        kind=said.kind,
        basis=said.basis,
        rests_on=said.rests_on,
        school=said.school.value if said.school else None,
    )
