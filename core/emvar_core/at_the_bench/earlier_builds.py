"""What earlier builds say: observations for learning, what was done last time with a paint, trials that were made.

All of it is derived from journals and the plans that they belong to; nothing is kept twice.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..plan import CoatStep, Mix, Plan, known_to, mix_of
from ..plan.steps import AnyStep
from ..vocabulary import Instant, Model, Unit
from .journal import Actual, Entry, Said, TrialDone, hands_on_min, standing, step_in
from .learning import Quantity, Seen


@dataclass(frozen=True)
class Past:
    """A build with its journal, as it is looked back on."""

    build: str
    name: str
    plan: Plan
    entries: Sequence[Entry]


def _step(past: Past, entry: Entry) -> AnyStep | None:
    if entry.step is None:
        return None
    zones = entry.zones or [z for s in past.plan.steps if s.id == entry.step for z in s.zones]
    return next((s for z in zones if (s := step_in(past.plan, entry.step, z)) is not None), None)


def observations(past: Past, quantity: Quantity) -> list[tuple[Seen, Instant | None]]:
    """What a build says of a quantity, as ratios to what ships, each with when it was said (None: in the plan).

    A check that found a film ready without being watched for says that it came no later; one that found it wet, that
    it comes later. How thick a mix is was measured at the bench or stands at the step. Linear in the entries.
    """
    k = known_to(past.plan)
    found: list[tuple[Seen, Instant | None]] = []
    if quantity is Quantity.VISCOSITY:
        for coat in past.plan.steps:
            if isinstance(coat, CoatStep) and coat.measured is not None:
                of = (coat.material, k.coats[coat.material].system)
                found += [(Seen(*of, ratio), None) for ratio in _thicker(past.plan, coat)]
    live = standing(past.entries)
    for entry in live:
        step = _step(past, entry)
        if not isinstance(step, CoatStep):
            continue
        of = (step.material, k.coats[step.material].system)
        seen = entry.observed
        if quantity is Quantity.DRYING and seen is not None and seen.expected_min:
            ratio = max(seen.age_min, 0.05) / max(seen.expected_min[1], 0.1) * seen.factor
            bound = "" if seen.exact else "below" if seen.reached else "above"
            found.append((Seen(*of, ratio, bound), entry.written_at))
        if entry.said is not Said.DONE:
            continue
        actual = entry.actual
        if quantity is Quantity.PACE:
            took = hands_on_min(live, step.id)
            if took is not None and took >= 1 and step.hands_on_min:
                found.append((Seen(*of, took / step.hands_on_min), entry.written_at))
        elif quantity is Quantity.COATS and actual is not None and actual.passes is not None:
            planned = step.passes or k.coats[step.material].passes
            found.append((Seen(*of, actual.passes / planned), entry.written_at))
    return found


def _thicker(plan: Plan, step: CoatStep) -> list[float]:
    """How much thicker a mix was measured than it is computed; nothing where what was measured is not its thickness."""
    from ..mix_and_spray.card import thickness_of

    k = known_to(plan.model_copy(update={"learned": []}))
    temp = plan.air.day.temp_c
    told = thickness_of(k, plan.model_copy(update={"steps": [step]}), step, temp)
    bare = step.model_copy(update={"measured": None})
    computed = thickness_of(k, plan.model_copy(update={"steps": [bare]}), bare, temp)
    return [told.mpas / computed.mpas] if told.mpas != computed.mpas else []


class LastTime(Model):
    """What was done the last time with a paint or by a technique: in which build, when, how, how it went."""

    build: str
    build_name: str
    step: str
    name: str
    at: Instant
    material: str
    technique: str | None
    mix: Mix | None
    pressure_kpa: float | None
    distance_mm: float | None
    passes: int | None
    minutes: float | None
    temp_c: float | None
    rh_pct: float | None
    wrong: list[str]
    note: str


def done_before(pasts: Iterable[Past], material: str | None, technique: str | None) -> list[LastTime]:
    """What was done before with a paint, or by a technique, the last first."""
    found: list[LastTime] = []
    for past in pasts:
        live = standing(past.entries)
        for entry in live:
            step = _step(past, entry)
            if entry.said is not Said.DONE or not isinstance(step, CoatStep):
                continue
            if (material and step.material != material) or (technique and step.technique != technique):
                continue
            found.append(_last(past, live, entry, step))
    return sorted(found, key=lambda x: x.at, reverse=True)


def really_mixed(plan: Plan, step: CoatStep, actual: Actual | None) -> Mix | None:
    """The mix as it was: what was said of it, the drops that were counted, else as planned."""
    planned = mix_of(known_to(plan), step)
    if actual is None or planned is None:
        return planned
    if actual.mix is not None:
        return actual.mix
    if actual.drops:
        parts = [
            p.model_copy(update={"amount": float(actual.drops.get(p.material, 0)), "unit": Unit.DROPS})
            for p in planned.parts
            if actual.drops.get(p.material, 0) > 0
        ]
        return Mix(parts=parts) if len(parts) == len(planned.parts) else planned
    return planned


def _last(past: Past, live: list[Entry], entry: Entry, step: CoatStep) -> LastTime:
    actual = entry.actual
    spray = step.spray
    wrong = [e.fault for e in live if e.step == entry.step and e.fault]
    return LastTime(
        build=past.build, build_name=past.name, step=step.id, name=step.name, at=entry.at, material=step.material,
        technique=step.technique, mix=really_mixed(past.plan, step, actual),
        pressure_kpa=(actual.pressure_kpa if actual else None) or (spray.pressure_kpa if spray else None),
        distance_mm=(actual.distance_mm if actual else None) or (spray.distance_mm if spray else None),
        passes=actual.passes if actual else None, minutes=hands_on_min(live, entry.step or ""),
        temp_c=actual.temp_c if actual else None, rh_pct=actual.rh_pct if actual else None,
        wrong=list(dict.fromkeys(wrong)), note=entry.note,
    )  # fmt: skip


class TrialTold(Model):
    """A trial that was made before, and where."""

    build: str
    build_name: str
    at: Instant
    trial: TrialDone
    note: str


def trials(pasts: Iterable[Past], material: str | None, technique: str | None) -> list[TrialTold]:
    """Trials of a paint, or of a technique, in any build, the last first."""
    found = []
    for past in pasts:
        for entry in standing(past.entries):
            t = entry.trial
            if t is None or (material and t.material != material) or (technique and t.technique != technique):
                continue
            found.append(TrialTold(build=past.build, build_name=past.name, at=entry.at, trial=t, note=entry.note))
    return sorted(found, key=lambda x: x.at, reverse=True)


# --- trials: what can be learned on scrap ----------------------------------------------------------------------


class TrialAim(Model):
    """What a trial can be for, how it is done, what counts as a pass, and what else one would try."""

    id: str
    words: str
    how: str
    passes: str
    otherwise: list[str]


AIMS = [
    TrialAim(
        id="consistency", words="consistency", how="Spray or brush it on an upright spoon, set as the card says.",
        passes="It goes on without spatter, spiders or dry dust, and stays where it is put.",
        otherwise=["thin more", "thin less", "less pressure", "more pressure"],
    ),
    TrialAim(
        id="opacity", words="opacity", how="Lay it over a scrap that is half white, half black, in the planned passes.",
        passes="The border between white and black no longer shows from arm's length.",
        otherwise=["another pass", "thin less", "another ground"],
    ),
    TrialAim(
        id="chips", words="chips", how="Ground, medium and colour on scrap as planned; chip it after the planned wait.",
        passes="First flecks come off within a minute of damp brushing, and the ground stays.",
        otherwise=["thin the colour more", "more medium", "chip sooner", "the other school"],
    ),
    TrialAim(
        id="sheen", words="sheen", how="Lay the clear on scrap of the same colour; look at it dry, in slanting light.",
        passes="Even, and as dull or bright as wanted; no frost in corners.",
        otherwise=["stir it up", "thinner coat", "another clear"],
    ),
    TrialAim(
        id="bite", words="bite", how="Rub a bud with the next carrier on the coat below, on scrap of the same age.",
        passes="The bud stays clean and the coat keeps its shine.",
        otherwise=["wait longer", "a clear between", "a milder carrier"],
    ),
]  # fmt: skip
