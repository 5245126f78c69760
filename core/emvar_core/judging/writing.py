"""The last stage: what was judged of coats, seams and windows, as it is shown, with ids, names and instants put in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..ids import coat_id, seam_id
from ..memory import MEMORY
from ..physics.hardening import Drying
from ..plan import AnyStep, CoatStep, Timing, WorkingStep
from ..seams.checks import Check
from ..seams.situation import Finding, Landing, Layer, named
from ..seams.windows import OpenWindow, WindowVerdict, sections, window_verdict, windows_of
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
    """A range of instants as it is shown; never becomes None."""
    return RangeOut.stated(early=finite(edges.early), best=finite(edges.best), late=finite(edges.late))


# --- coats -----------------------------------------------------------------------------------------------------


def coat_out(step: CoatStep, laid: Laid, zone_id: str, lies: Lying, timing: Timing) -> CoatOut:
    """A coat in a zone as it is shown."""
    colour = step.colour.srgb if step.colour else laid.coat.colour
    coverage = lies.layer.coverage
    key = (lies.mark, step.id, zone_id, timing.start_min, laid.film_um, laid.coat.system, coverage, colour)
    return _COATS.once(key, lambda: _coat_out(step, laid, zone_id, lies.layer, colour, timing))


def _coat_out(step: CoatStep, laid: Laid, zone_id: str, layer: Layer, colour: str, timing: Timing) -> CoatOut:
    drying = layer.drying or laid.drying
    states, events, windows = _COATS.once(
        (layer.key, layer.name, drying.line.key, drying.end_min), lambda: _in_time(drying, layer)
    )
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
    """A window as it is shown."""
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
        tuple(names),
        entry.key,
        entry.share,
        entry.zone_share,
        entry.slight,
    )
    return _SEAMS.once(key, lambda: _seam_out(step, zone_id, landing, entry, names, start_min))


def _seam_out(
    step: AnyStep, zone_id: str, landing: Landing, entry: ContactVerdict, names: Names, start_min: float
) -> SeamOut:
    judged, called = entry.judged, [name for _, name in names]
    lower_id, lower_name = names[entry.index]
    worst = judged.findings[0] if judged.findings else None
    responsible = worst.on(entry.index) if worst else entry.index
    sentence, advice, word = sound_words(landing, lower_name), "", "sound"
    verdict = Verdict.SOUND if entry.slight else judged.verdict
    if worst is not None and verdict is not Verdict.SOUND:
        sentence, advice, word = named(worst.sentence, called), worst.advice, worst.word
    elif worst is not None and judged.verdict is not Verdict.SOUND:
        little = f"But they meet on {entry.zone_share * 100:.2g} % of the zone: a hint, no more."
        sentence = f"{named(worst.sentence, called)} {little}"
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
        rests_on=named(worst.rests_on, called) if worst else "nothing found that harms it",
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
        **_telling_fields(judged.telling, called),
    )


def _telling_fields(t: Telling, called: Sequence[str] = ()) -> dict[str, Any]:
    told = vars(t)
    return told if t is NOTHING_SAID else {k: named(v, called) if type(v) is str else v for k, v in told.items()}


def _finding_out(f: Finding, names: Names, index: int) -> FindingOut:
    return FindingOut.stated(
        mechanism=f.mechanism, kind=f.kind, severity=round(min(f.severity, 1.0), 3), word=f.word,
        sentence=named(f.sentence, [name for _, name in names]), advice=f.advice, basis=f.basis,
        rests_on=named(f.rests_on, [name for _, name in names]), step_id=names[min(f.on(index), len(names) - 1)][0],
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


@dataclass(frozen=True, slots=True)
class Worked:
    """What is said of a working step on the coat that it acts on; `sections`: in how many it is laid and worked."""

    target: Layer
    window: OpenWindow
    said: WindowVerdict
    sections: int | None

    @property
    def missed(self) -> bool:
        return self.said.verdict is Verdict.CLASH and self.window.never is None

    @property
    def opens(self) -> tuple[float | None, float | None]:
        """When the window opens, by the best guess and by the careful edge; None: never."""
        never = self.window.never is not None
        return (None, None) if never else (self.window.opens.best, self.window.opens.late)


def worked(step: WorkingStep, target: Layer, window: OpenWindow, timing: Timing, laying_min: float) -> Worked:
    """A working step in the window of the coat that it acts on; `laying_min`: how long that took to lay."""
    many, done_min = None, timing.end_min
    if step.by_sections and window.never is None:
        many = sections(window, laying_min, step.hands_on_min)
        # Each section by its own age: the work on it, and what of it was laid first.
        done_min = timing.start_min + (laying_min + step.hands_on_min) / many
    said = window_verdict(window, target, timing.start_min, done_min)
    if many is not None and many > 1 and said.verdict is not Verdict.CLASH:
        each = f"lay one in {round(laying_min / many, 1):g} min and work it before the next"
        said = replace(said, sentence=f"{said.sentence} In {many} sections: {each}.")
    return Worked(target, window, said, many)


def window_seam(step: WorkingStep, zone_id: str, w: Worked, start_min: float) -> SeamOut:
    """A working step in a window, as a seam."""
    target, said = w.target, w.said
    best, careful = w.opens
    return SeamOut.stated(
        id=seam_id(step.id, zone_id, target.step_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=target.step_id,
        contact=Contact.WORK,
        at_min=start_min,
        share=round(target.coverage, 3),
        zone_share=round(target.coverage, 4),
        verdict=said.verdict,
        word=said.word,
        sentence=said.sentence,
        advice=said.advice,
        kind=Kind.TIMING,
        basis=Basis.PRACTICE,
        rests_on=w.window.rests_on,
        responsible=target.step_id,
        depth=0,
        opens_best_min=best,
        opens_careful_min=careful,
        eventual=None,
        closes=None if w.window.never is not None else range_out(w.window.closes),
        missed=w.missed,
        findings=[],
        reach=[],
        sections=w.sections,
        **_telling_fields(_window_telling(said.verdict)),
    )
