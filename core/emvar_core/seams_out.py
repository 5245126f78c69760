"""Seams as they are told: a judgement, or a window, with ids, names and times."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from .memo import Memo
from .outcome import ReachOut, SeamOut, finding_out, plus, range_out, seam_id, sound_words
from .plan import AnyStep, Timing, WorkingStep
from .seams.contact import Contact, Landing, Layer, Verdict
from .seams.judge import Judged
from .seams.telling import NOTHING_TOLD, Sure, Telling
from .seams.working import OpenWindow, window_verdict

_ONE_SEAM = Memo(60_000)


@dataclass(frozen=True)
class Judgement:
    """A judged seam without ids; its times count from the landing."""

    index: int
    share: float
    judged: Judged
    narrow: int


def seam_kept(
    placed: tuple[object, ...],
    step: AnyStep,
    zone_id: str,
    landing: Landing,
    entry: Judgement,
    names: list[tuple[str | None, str]],
    start: float,
) -> SeamOut:
    """The same seam where what it depends on is the same, whatever changed deeper down."""
    key = (placed, entry.narrow, entry.share)
    found: SeamOut | None = _ONE_SEAM.get(key)
    if found is None:
        found = _seam(step, zone_id, landing, entry, names, start)
        _ONE_SEAM.put(key, found)
    return found


def _seam(
    step: AnyStep,
    zone_id: str,
    landing: Landing,
    entry: Judgement,
    names: list[tuple[str | None, str]],
    start: float,
) -> SeamOut:
    judged = entry.judged
    lower_id, lower_name = names[entry.index]
    worst = judged.findings[0] if judged.findings else None
    responsible = worst.on(entry.index) if worst else entry.index
    sentence, advice, word = sound_words(landing, lower_name), "", "sound"
    if worst is not None and judged.verdict is not Verdict.SOUND:
        sentence, advice, word = worst.sentence, worst.advice, worst.word
    return SeamOut.model_construct(
        id=seam_id(step.id, zone_id, lower_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=lower_id,
        contact=landing.contact,
        at_min=start,
        share=entry.share,
        verdict=judged.verdict,
        word=word,
        sentence=sentence,
        advice=advice,
        kind=worst.kind.value if worst else "timing",
        basis=worst.basis if worst else "model",
        rests_on=worst.rests_on if worst else "nothing found that harms it",
        responsible=names[responsible][0],
        depth=responsible - entry.index,
        opens_best_min=plus(judged.opens_best_min, start),
        opens_careful_min=plus(judged.opens_careful_min, start),
        eventual=judged.eventual,
        closes=None,
        missed=False,
        findings=[finding_out(f, names, entry.index) for f in judged.findings],
        reach=[
            ReachOut.model_construct(
                step_id=names[r.layer][0], name=names[r.layer][1], share=r.share, power=r.power, red=r.red
            )
            for r in judged.reach
        ],
        **_telling(judged.telling),
    )


def _telling(t: Telling) -> dict[str, Any]:
    return {
        "sure": t.sure,
        "would_change": t.would_change,
        "disputed": t.disputed,
        "check": t.check,
        "if_fails": t.if_fails,
        "assumes": t.assumes,
    }


def _window_telling(verdict: Verdict) -> Telling:
    if verdict is Verdict.SOUND:
        return NOTHING_TOLD
    missed = verdict is Verdict.CLASH
    check = "" if missed else "Try a corner nobody looks at with the same tool: it moves without tearing."
    return Telling(
        Sure.FIRM if missed else Sure.FAIR,
        "when it is done, and what opens and closes the window: film, thinner, air",
        "",
        check,
        "If it does not move, leave it: force takes what lies below. If it smears, wait some minutes." if check else "",
        "",
    )


def window_seam(step: WorkingStep, zone_id: str, target: Layer, window: OpenWindow, timing: Timing) -> SeamOut:
    told = window_verdict(window, target, timing.start_min, timing.end_min)
    never = window.never is not None
    return SeamOut.model_construct(
        id=seam_id(step.id, zone_id, target.step_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=target.step_id,
        contact=Contact.WORK,
        at_min=timing.start_min,
        share=round(target.coverage, 3),
        verdict=told.verdict,
        word=told.word,
        sentence=told.sentence,
        advice=told.advice,
        kind="timing",
        basis="practice",
        rests_on=window.rests_on,
        responsible=target.step_id,
        depth=0,
        opens_best_min=None if never else window.opens.best,
        opens_careful_min=None if never else window.opens.late,
        eventual=None,
        closes=None if never else range_out(window.closes),
        missed=told.verdict is Verdict.CLASH and not never,
        findings=[],
        reach=[],
        **_telling(_window_telling(told.verdict)),
    )
