"""The last stage: what was judged of coats, seams and windows, as it is told, with ids, names and instants put in."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ..ids import coat_id, seam_id
from ..memory import MEMORY
from ..physics.hardening import Drying
from ..plan import AnyStep, CoatStep, Timing, WorkingStep
from ..seams.checks import Check
from ..seams.situation import Finding, Landing, Layer
from ..seams.windows import OpenWindow, sections, window_verdict, windows_of
from ..vocabulary import Basis, Contact, Edge, Event, FilmClass, FilmState, Kind, Sure, Verdict
from .contacts import ContactVerdict
from .laying import Laid
from .outcome import CoatOut, FindingOut, RangeOut, ReachOut, SeamOut, StateMark, WindowOut
from .stack import Lying
from .telling import NOTHING_SAID, Telling

NEVER_MIN = 1e9  # an instant beyond is never
Names = list[tuple[str | None, str]]  # of the layers in sight, nearest first: step (None the base material) and name

_COATS = MEMORY.door("coats as told", 60_000)
_SEAMS = MEMORY.door("seams as told", 60_000)


def finite(value: float) -> float | None:
    """A minute to two digits; None for never."""
    return round(value, 2) if value < NEVER_MIN else None


def later(value: float | None, by: float) -> float | None:
    """An instant counted from a landing (minutes), as minutes since the build's start."""
    return None if value is None else round(value + by, 3)


def range_out(edges: Any) -> RangeOut:
    """A range of instants as it is told; never becomes None."""
    return RangeOut.stated(early=finite(edges.early), best=finite(edges.best), late=finite(edges.late))


# --- coats -----------------------------------------------------------------------------------------------------


def coat_out(step: CoatStep, laid: Laid, zone_id: str, lies: Lying, timing: Timing) -> CoatOut:
    """A coat in a zone as it is told."""
    colour = step.colour.srgb if step.colour else laid.coat.colour
    coverage = lies.layer.coverage
    key = (laid.timed, lies.mark, step.id, zone_id, coverage, colour)
    return _COATS.once(key, lambda: _coat_out(step, laid, zone_id, lies.layer, colour, timing))


def _coat_out(step: CoatStep, laid: Laid, zone_id: str, layer: Layer, colour: str, timing: Timing) -> CoatOut:
    drying = layer.drying or laid.drying
    states, events, windows = _COATS.once((laid.timed, drying.speed), lambda: _in_time(drying, layer))
    return CoatOut.stated(
        id=coat_id(step.id, zone_id),
        step_id=step.id,
        zone_id=zone_id,
        start_min=timing.start_min,
        end_min=timing.end_min,
        film_um=laid.film_um,
        coverage=layer.coverage,
        colour=colour,
        sheen=laid.layer.sheen or laid.coat.sheen,
        system=laid.coat.system,
        states=states,
        events=events,
        windows=windows,
    )


def _in_time(drying: Drying, layer: Layer) -> tuple[list[StateMark], dict[str, RangeOut], list[WindowOut]]:
    return states_out(drying), events_out(drying), [window_out(w) for w in windows_of(layer)]


def window_out(w: OpenWindow) -> WindowOut:
    """A window as it is told."""
    return WindowOut.stated(
        action=w.action, opens=range_out(w.opens), easy_until_min=finite(w.easy_until_min), closes=range_out(w.closes),
        rests_on=w.rests_on,
    )  # fmt: skip


def events_out(drying: Drying) -> dict[str, RangeOut]:
    """The events of a film's hardening, each as a range of minutes since the build's start."""
    early, best, late = (drying.all_events(edge) for edge in (Edge.EARLY, Edge.BEST, Edge.LATE))
    return {
        name: RangeOut.stated(early=finite(early[name]), best=finite(best[name]), late=finite(late[name]))
        for name in best
    }


def states_out(drying: Drying) -> list[StateMark]:
    """From wet to hard, each state with the instant at which it begins by the best guess."""
    system = drying.system
    start = drying.end_min
    if system.film is FilmClass.LOOSE:
        return [StateMark.stated(state=FilmState.POWDER, from_min=start)]
    marks = [(FilmState.WET, start)]
    touch, recoat, hard = (drying.event(e, Edge.BEST) for e in (Event.TOUCH, Event.RECOAT, Event.HARD))
    if system.windows:
        closes = max(drying.when(w.closes[1]) for w in system.windows.values())
        marks += [(FilmState.WORKABLE, drying.flash_end_min), (FilmState.SOFT, closes)]
        marks += [(FilmState.FIRM, max(recoat, closes + 1)), (FilmState.HARD, hard)]
    else:
        marks += [(FilmState.SOFT, max(touch, drying.flash_end_min)), (FilmState.FIRM, recoat), (FilmState.HARD, hard)]
    kept: list[StateMark] = []
    for state, begins in marks:
        while kept and kept[-1].from_min >= begins:
            kept.pop()
        kept.append(StateMark.stated(state=state, from_min=round(begins, 2)))
    return kept


# --- seams -----------------------------------------------------------------------------------------------------


def seam_out(
    step: AnyStep, zone_id: str, landing: Landing, entry: ContactVerdict, names: Names, start_min: float
) -> SeamOut:
    """A judged contact as a seam; the same object where all that it says is the same, whatever changed deeper down."""
    key = (
        step.id,
        zone_id,
        start_min,
        tuple(i for i, _ in names),
        entry.key,
        entry.share,
        entry.zone_share,
        entry.slight,
    )
    return _SEAMS.once(key, lambda: _seam_out(step, zone_id, landing, entry, names, start_min))


def _seam_out(
    step: AnyStep, zone_id: str, landing: Landing, entry: ContactVerdict, names: Names, start_min: float
) -> SeamOut:
    judged = entry.judged
    lower_id, lower_name = names[entry.index]
    worst = judged.findings[0] if judged.findings else None
    responsible = worst.on(entry.index) if worst else entry.index
    sentence, advice, word = sound_words(landing, lower_name), "", "sound"
    verdict = Verdict.SOUND if entry.slight else judged.verdict
    if worst is not None and verdict is not Verdict.SOUND:
        sentence, advice, word = worst.sentence, worst.advice, worst.word
    elif worst is not None and judged.verdict is not Verdict.SOUND:
        sentence = f"{worst.sentence} But they meet on {entry.zone_share * 100:.2g} % of the zone: a hint, no more."
    return SeamOut.stated(
        id=seam_id(step.id, zone_id, lower_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=lower_id,
        contact=landing.contact,
        at_min=start_min,
        share=entry.share,
        zone_share=entry.zone_share,
        verdict=verdict,
        word=word,
        sentence=sentence,
        advice=advice,
        kind=worst.kind if worst else Kind.TIMING,
        basis=worst.basis if worst else Basis.MODEL,
        rests_on=worst.rests_on if worst else "nothing found that harms it",
        responsible=names[responsible][0],
        depth=responsible - entry.index,
        opens_best_min=None if entry.slight else later(judged.opens_best_min, start_min),
        opens_careful_min=None if entry.slight else later(judged.opens_careful_min, start_min),
        eventual=None if entry.slight else judged.eventual,
        closes=None,
        missed=False,
        findings=[_finding_out(f, names, entry.index) for f in judged.findings],
        reach=[
            ReachOut.stated(step_id=names[r.layer][0], name=names[r.layer][1], share=r.share, power=r.power, red=r.red)
            for r in judged.reach
        ],
        sections=None,
        **_telling_fields(judged.telling),
    )


def _telling_fields(t: Telling) -> dict[str, Any]:
    return {
        "sure": t.sure,
        "would_change": t.would_change,
        "disputed": t.disputed,
        "check": t.check,
        "if_fails": t.if_fails,
        "assumes": t.assumes,
    }


def _finding_out(f: Finding, names: Names, index: int) -> FindingOut:
    return FindingOut.stated(
        mechanism=f.mechanism, kind=f.kind, severity=round(min(f.severity, 1.0), 3), word=f.word, sentence=f.sentence,
        advice=f.advice, basis=f.basis, rests_on=f.rests_on, step_id=names[min(f.on(index), len(names) - 1)][0],
        depth=f.on(index) - index, school=f.school.value if f.school else None,
    )  # fmt: skip


def sound_words(landing: Landing, lower: str) -> str:
    """What is said of a seam at which nothing happens."""
    if landing.contact is Contact.TOUCH:
        return f"“{lower}” is hard enough to be touched by then."
    if landing.contact is Contact.WORK:
        return f"What is used here leaves “{lower}” alone."
    if not landing.blend.parts:
        return f"Nothing wet: it lies on “{lower}” and harms nothing."
    return f"The {landing.carrier_words} leaves “{lower}” alone, or bites just enough to hold."


# --- windows of working steps ----------------------------------------------------------------------------------

MOVES_CLEAN = Check(
    "Try a corner nobody looks at with the same tool: it moves without tearing.",
    "If it does not move, leave it: force takes what lies below. If it smears, wait some minutes.",
)


def _window_telling(verdict: Verdict) -> Telling:
    if verdict is Verdict.SOUND:
        return NOTHING_SAID
    late = verdict is Verdict.CLASH
    return Telling(
        Sure.FIRM if late else Sure.FAIR,
        "when it is done, and what opens and closes the window: film, thinner, air",
        "",
        "" if late else MOVES_CLEAN.do,
        "" if late else MOVES_CLEAN.if_fails,
        "",
    )


def window_seam(
    step: WorkingStep, zone_id: str, target: Layer, window: OpenWindow, timing: Timing, laying_min: float
) -> SeamOut:
    """A working step's window on the coat that it acts on, as a seam; `laying_min`: how long that took to lay."""
    many, done_min = None, timing.end_min
    if step.by_sections and window.never is None:
        many = sections(window, laying_min, step.hands_on_min)
        # Each section by its own age: the work on it, and what of it was laid first.
        done_min = timing.start_min + (laying_min + step.hands_on_min) / many
    said = window_verdict(window, target, timing.start_min, done_min)
    if many is not None and many > 1 and said.verdict is not Verdict.CLASH:
        each = f"lay one in {round(laying_min / many, 1):g} min and work it before the next"
        said = replace(said, sentence=f"{said.sentence} In {many} sections: {each}.")
    never = window.never is not None
    return SeamOut.stated(
        id=seam_id(step.id, zone_id, target.step_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=target.step_id,
        contact=Contact.WORK,
        at_min=timing.start_min,
        share=round(target.coverage, 3),
        zone_share=round(target.coverage, 4),
        verdict=said.verdict,
        word=said.word,
        sentence=said.sentence,
        advice=said.advice,
        kind=Kind.TIMING,
        basis=Basis.PRACTICE,
        rests_on=window.rests_on,
        responsible=target.step_id,
        depth=0,
        opens_best_min=None if never else window.opens.best,
        opens_careful_min=None if never else window.opens.late,
        eventual=None,
        closes=None if never else range_out(window.closes),
        missed=said.verdict is Verdict.CLASH and not never,
        findings=[],
        reach=[],
        sections=many,
        **_telling_fields(_window_telling(said.verdict)),
    )
