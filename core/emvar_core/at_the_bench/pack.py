"""The bench pack: for each step all that hands and eyes need at its moment, so that a device can go on by itself.

Nothing here decides anew: figures are the card's, verdicts and checks the seams', words the technique's.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from ..assess import assess
from ..errors import Impossible, NotThere, OutOfRange
from ..ids import coat_id
from ..judging import Assessment, CoatOut, Standing, stand
from ..knowledge import Knowledge
from ..memory import MEMORY
from ..mix_and_spray.card import Card, card
from ..mix_and_spray.gun_card import Setting
from ..mix_and_spray.hand_card import by_hand
from ..plan import (
    AnyStep,
    CoatStep,
    FittingStep,
    Plan,
    Record,
    Schedule,
    WorkingStep,
    as_placed,
    known_to,
    method_of,
    step_times,
)
from ..plan.documents import State
from ..plan.mixes import mix_of
from ..reading.words import ACTIONS
from ..schedule.agenda import Agenda
from ..vocabulary import (
    FilmState,
    FittingAction,
    Method,
    Model,
    Use,
    Verdict,
)
from ..ways.rescue import rescued
from .earlier_builds import AIMS, TrialAim
from .timers import TimerOut, timers

_TAKES_OFF = MEMORY.door("what takes a coat off, by its age", 4_000)
BARE = "#b9b7b2"  # what nothing covers yet, whatever it is made of
AHEAD = 16  # steps of the pack: what one may need before the server is heard again
RESCUE_AGES_MIN = (0.0, 10.0, 30.0, 120.0, 720.0, 2880.0, 10080.0)
DROPS_COUNTED = 40  # above that nobody counts drops
VERBS = {
    Method.MIST: "Mist", Method.SPRAY: "Spray", Method.WET_SPRAY: "Spray wet", Method.CAN: "Spray from the can",
    Method.BRUSH: "Brush", Method.SPONGE: "Sponge", Method.DRY_BRUSH: "Dry-brush", Method.WASH: "Put on",
    Method.FLOOD: "Flood on", Method.SPECKLE: "Speckle", Method.DUST: "Dust on", Method.PLACE: "Place",
}  # fmt: skip
BEFORE = {
    Use.PRIMER: "Clean, grease-free, dry; no dust in a slanting light.",
    Use.CLEAR: "Dry, clean, nothing loose on it; breathe on it: no oily patches.",
    Use.MARKING: "Glossy and smooth: a drop of water lies flat on it.",
    Use.MEDIUM: "Dry and even; nothing comes off on a fingertip.",
}
LOOK = {
    Method.MIST: "A haze that dries before the next pass; never wet.",
    Method.SPRAY: "Just wet for a few seconds, then dull; no dust, no runs at edges.",
    Method.WET_SPRAY: "An unbroken wet sheet that levels by itself; stop before it moves.",
}


class Pour(Model):
    """One part of the mix at the bench: drops where they can be counted, millilitres always; its colour."""

    material: str
    name: str
    role: str
    drops: int | None
    ml: float
    colour: str | None


class Figure(Model):
    """One of the three figures of the moment. `kind` names its unit for the screen: kpa, mm, min, or text."""

    kind: str
    value: float | None
    text: str
    words: str


class TakesOff(Model):
    """What takes the coat off from an age (minutes) on, standing alone as it was just laid."""

    from_min: float
    state: str
    sentence: str


class StateAge(Model):
    """A state of the film, and from which age in minutes it is in it."""

    state: FilmState
    from_min: float


class StepCard(Model):
    """A step as it is done. `planned_min`: when it is to begin, minutes since the build's start.

    `ground` and `colour` make the band at the edge; `states` are the film's, by age.
    """

    id: str
    kind: str
    name: str
    verb: str
    zones: list[str]
    zone_names: list[str]
    technique: str | None
    material: str | None
    colour: str | None
    ground: str
    figures: list[Figure]
    mix: list[Pour]
    lines: list[str]
    before: str
    look: str
    traps: list[str]
    cautions: list[str]
    takes_off: list[TakesOff]
    sections: int
    planned_min: float
    minutes: float
    acts_on: str | None
    clash: str
    states: list[StateAge]


class FirstAid(Model):
    """What something looks like, and the first minute whatever the cause turns out to be."""

    id: str
    name: str
    now: str
    dont: str


class Pack(Model):
    """All that a device needs to go on by itself. Steps in the order in which they come."""

    build: str
    starts_at: str
    timezone: str
    revision: int
    steps: list[StepCard]
    timers: list[TimerOut]
    first_aid: list[FirstAid]
    aims: list[TrialAim]


def pack(plan: Plan, schedule: Schedule | None, record: Record, revision: int = 0) -> Pack:
    """The pack of a build as things stand. Cards are made for the next steps; of those done, what still runs.

    Linear in the steps of the pack; a sprayed one costs the most, for its map.
    """
    agenda = Agenda(plan, record)
    placed = as_placed(plan, schedule, record)
    assessed = assess(placed, opens=False)
    states = record.states()
    over = {s for s, state in states.items() if state in (State.DONE, State.SKIPPED)}
    left = [s for s in placed.steps if s.id not in over and not _is_there(s)]
    told = {s.id for s in left[:AHEAD]}
    k = known_to(plan)
    steps = [_card(k, placed, assessed, s, s.id in told) for s in placed.steps if not _is_there(s)]
    return Pack(
        build=plan.build.name,
        starts_at=plan.build.starts_at.isoformat(),
        timezone=plan.build.timezone,
        revision=revision,
        steps=steps,
        timers=timers(agenda, assessed),
        first_aid=first_aid(k),
        aims=AIMS,
    )


def _is_there(step: AnyStep) -> bool:
    return isinstance(step, CoatStep) and step.existing is not None


def first_aid(k: Knowledge) -> list[FirstAid]:
    """For each appearance the likeliest cause's first minute: what a device can say by itself."""
    found = []
    for fault in k.faults.values():
        if fault.causes:
            likely = max(fault.causes, key=lambda c: c.prior)
            found.append(FirstAid(id=fault.id, name=fault.name, now=likely.now, dont=likely.dont))
    return found


def _card(k: Knowledge, plan: Plan, a: Assessment, step: AnyStep, whole: bool) -> StepCard:
    technique = k.techniques.get(step.technique) if step.technique else None
    zones = [z for z in plan.zones if z.id in step.zones]
    sheet = _sheet(plan, step) if whole else None
    first = step.zones[0]
    coat = a.coats.get(coat_id(step.id, first))
    sections = max((s.sections or 1 for s in a.seams.values() if s.upper_step == step.id), default=1)
    clash = next((s.sentence for s in a.seams.values() if s.upper_step == step.id and s.verdict is Verdict.CLASH), "")
    return StepCard(
        id=step.id,
        kind=step.kind,
        name=step.name,
        verb=_verb(k, step),
        zones=list(step.zones),
        zone_names=[z.name for z in zones],
        technique=step.technique,
        material=step.material if isinstance(step, CoatStep) else None,
        colour=coat.colour if coat is not None else None,
        ground=_ground(plan, a, step, first),
        figures=_figures(step, sheet),
        mix=_mix(k, step, sheet),
        lines=_lines(k, plan, step, sheet),
        before=_before(k, a, step),
        look=_look(k, step),
        traps=list(technique.traps) if technique is not None else [],
        cautions=_cautions(a, step),
        takes_off=_takes_off(plan, a, step, first) if whole else [],
        sections=sections,
        planned_min=round(a.times[step.id].start_min, 1),
        minutes=step.hands_on_min,
        acts_on=step.acts_on if isinstance(step, WorkingStep) else None,
        clash=clash,
        states=_ages(coat),
    )


def _ages(coat: CoatOut | None) -> list[StateAge]:
    if coat is None:
        return []
    return [StateAge(state=m.state, from_min=round(max(m.from_min - coat.end_min, 0.0), 1)) for m in coat.states]


def _sheet(plan: Plan, step: AnyStep) -> Card | None:
    """The card of a coat; None where a step is none, or where nothing can be said of it."""
    if not isinstance(step, CoatStep):
        return None
    try:
        return card(plan, step.id, Setting())
    except (Impossible, OutOfRange, NotThere):
        return None


def _verb(k: Knowledge, step: AnyStep) -> str:
    if isinstance(step, CoatStep):
        return VERBS.get(method_of(k, step), "Lay")
    return ACTIONS[step.action]


def _ground(plan: Plan, a: Assessment, step: AnyStep, zone: str) -> str:
    """The colour of what lies under a step in its first zone: the last coat before it that covers a third."""
    colour = None
    for other in plan.steps:
        if other.id == step.id:
            break
        coat = a.coats.get(coat_id(other.id, zone))
        if coat is not None and coat.coverage >= 1 / 3:
            colour = coat.colour
    return colour or BARE


def _figures(step: AnyStep, sheet: Card | None) -> list[Figure]:
    """At most three: the mix, the pressure, the distance; else what counts most for this kind of step."""
    figures: list[Figure] = []
    if sheet is not None and sheet.cup is not None and sheet.mixed and len(sheet.cup.pours) > 1:
        drops = [p.drops for p in sheet.cup.pours]
        counted = all(d is not None and 0 < d <= DROPS_COUNTED for d in drops)
        text = " : ".join(str(d) for d in drops) if counted else sheet.ratio.split(" · ")[0]
        words = "drops" if counted else "parts"
        if counted and sheet.cup.cups > 1:
            words += f", {sheet.cup.cups} such cups"
        figures.append(Figure(kind="text", value=None, text=text, words=words))
    if sheet is not None and sheet.point is not None:
        figures.append(Figure(kind="kpa", value=sheet.point.pressure_kpa, text="", words="trigger open"))
        figures.append(Figure(kind="mm", value=sheet.point.distance_mm, text="", words="away"))
    elif sheet is not None and sheet.hand is not None:
        hand = sheet.hand
        if sheet.method == Method.CAN.value:
            figures.append(Figure(kind="mm", value=300.0, text="", words="away"))
        if hand.passes > 1:
            between = f"{hand.pause} between" if hand.pause else "passes"
            figures.append(Figure(kind="text", value=None, text=f"{hand.passes} ×", words=between))
        if hand.amount:
            figures.append(Figure(kind="text", value=None, text=hand.amount, words=hand.amount_words))
    if len(figures) < 3:
        figures.append(Figure(kind="min", value=step.hands_on_min, text="", words="hands on"))
    return figures[:3]


def _mix(k: Knowledge, step: AnyStep, sheet: Card | None) -> list[Pour]:
    if not isinstance(step, CoatStep) or sheet is None or sheet.cup is None or not sheet.mixed:
        return []
    mix = mix_of(k, step)
    tones = [p.colour for p in mix.parts] if mix is not None else []
    # One measure for all of a cup: nobody counts drops of one part and measures the other.
    counted = all(p.drops is not None and 0 < p.drops <= DROPS_COUNTED for p in sheet.cup.pours)
    pours = []
    for i, p in enumerate(sheet.cup.pours):
        tone = tones[i] if i < len(tones) else None
        if tone is None and p.role == "paint":
            tone = step.colour.srgb if step.colour is not None else k.coats[p.material].colour
        pours.append(
            Pour(
                material=p.material,
                name=p.name,
                role=p.role,
                drops=p.drops if counted else None,
                ml=round(p.ml, 2),
                colour=tone,
            )
        )
    return pours


def _lines(k: Knowledge, plan: Plan, step: AnyStep, sheet: Card | None) -> list[str]:
    """How it is done, a line each: what it is wetted with first, needle and strokes, or how the hand does it."""
    lines: list[str] = []
    wet = _wetted_with(k, plan, step)
    if wet:
        lines.append(f"Wet the panel with {wet} first; lay into it while it shines.")
    if sheet is not None:
        if sheet.gun is not None:
            lines.append(f"Needle {sheet.gun.nozzle_mm:g} mm" + (", external mix" if sheet.gun.external_mix else ""))
        if sheet.laying is not None:
            lines.append(sheet.laying.words)
        elif sheet.how:
            lines.append(sheet.how)
        if sheet.split:
            lines.append(sheet.split)
        if sheet.gun is not None and isinstance(step, CoatStep) and step.pause_min:
            lines.append(f"{step.pause_min:g} min between passes.")
    if isinstance(step, WorkingStep) and (hand := by_hand(k, step)) is not None:
        lines.append(hand.sentences)
    elif isinstance(step, FittingStep) and step.material:
        lines.append(k.touches[step.material].name)
    if step.note:
        lines.append(step.note)
    return [line for line in lines if line]


def _wetted_with(k: Knowledge, plan: Plan, step: AnyStep) -> str:
    before = None
    for a, b in pairwise(plan.steps):
        if b.id == step.id:
            before = a
    if isinstance(before, FittingStep) and before.action is FittingAction.WET and before.carrier:
        return k.thinners[before.carrier].name.lower()
    return ""


def _before(k: Knowledge, a: Assessment, step: AnyStep) -> str:
    """What the surface must look like before: the check of the seams, else what this kind of coat wants."""
    checks = [s.check for s in a.seams.values() if s.upper_step == step.id and s.check]
    if checks:
        return checks[0]
    if isinstance(step, CoatStep):
        return BEFORE.get(k.coats[step.material].use, "Dry to the touch, clean, even in a slanting light.")
    if isinstance(step, WorkingStep):
        return "Try a corner that is not seen first."
    return ""


def _look(k: Knowledge, step: AnyStep) -> str:
    if (hand := by_hand(k, step)) is not None:
        return hand.look
    return LOOK[method_of(k, step)] if isinstance(step, CoatStep) else ""


def _cautions(a: Assessment, step: AnyStep) -> list[str]:
    """The safety lines of the step, then what the seams and remarks say of it that is grave."""
    safety = [n.text for n in a.notes if n.step_id == step.id]
    care = [
        s.advice or s.sentence
        for s in a.seams.values()
        if s.upper_step == step.id and s.verdict in (Verdict.CAUTION, Verdict.CLASH)
    ]
    return list(dict.fromkeys([*safety, *care]))


def _takes_off(plan: Plan, a: Assessment, step: AnyStep, zone: str) -> list[TakesOff]:
    """What takes the coat off by its age, as long as nothing lies on it."""
    target = step.acts_on if isinstance(step, WorkingStep) else step.id
    coat = a.coats.get(coat_id(target, zone))
    if coat is None:
        return []
    bare = plan.model_copy(update={"steps": _up_to(plan, target)})
    laid = stand(bare, zone, step_times(plan)[target].end_min + 0.01)
    phases: list[TakesOff] = _TAKES_OFF.once((laid.mark, target), lambda: _phases(laid, target))
    return phases


def _phases(laid: Standing, step_id: str) -> list[TakesOff]:
    phases: list[TakesOff] = []
    for age in RESCUE_AGES_MIN:
        told = rescued(replace(laid, at_min=laid.at_min + age), step_id)
        if not phases or phases[-1].sentence != told.sentence:
            phases.append(TakesOff(from_min=age, state=told.state.value, sentence=told.sentence))
    return phases


def _up_to(plan: Plan, step_id: str) -> list[AnyStep]:
    steps: list[AnyStep] = []
    for step in plan.steps:
        steps.append(step)
        if step.id == step_id:
            break
    return steps
