"""It looks wrong: from the appearance and the plan's own history to the likely causes, and the next minute.

A cause's weight is its prior times what the plan did that speaks for it; a cause that the coat cannot have is left out.
The weights rank; they are no probabilities.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..assess import assess
from ..errors import NotThere
from ..ids import coat_id
from ..judging import Remark, SeamOut, conditions_of
from ..knowledge import Knowledge
from ..knowledge.types import CauseData
from ..physics.cup import cup_of
from ..plan import Air, AnyStep, CoatStep, Plan, WorkingStep, known_to, method_of
from ..seams.registry import REGISTRY
from ..vocabulary import Contact, Event, Model

SPEAKS, AGAINST = 3.0, 0.35
LEAST = 0.08
BY_REMARK, BY_AIR, BY_AGE = 0.5, 0.4, 0.6  # of what a finding says for a cause


class Cause(Model):
    """A likely cause, why it is thought so, and what to do. `weight` 0–1 ranks the causes of one appearance."""

    id: str
    cause: str
    weight: float
    because: list[str]
    now: str
    dont: str
    mend: str
    avoid: str


class Diagnosis(Model):
    """The likely causes of an appearance on a coat, likeliest first."""

    appearance: str
    name: str
    step_id: str
    zone_id: str
    causes: list[Cause]


def diagnose(plan: Plan, step_id: str, zone_id: str, appearance: str, at_min: float) -> Diagnosis:
    """Likely causes of what a step looks like at an instant (minutes since the build's start), by what this plan did.

    A step that lays nothing is asked about for its part: a clear one fogs without any coat. Raises NotThere where there
    is no such step in the zone, or no such appearance.
    """
    k = known_to(plan)
    fault, step = k.faults.get(appearance), plan.step(step_id)
    if fault is None:
        raise NotThere("appearance", appearance)
    if step is None or zone_id not in step.zones:
        raise NotThere("step in this zone", step_id)
    history = _history(k, plan, step, zone_id, at_min)
    causes = []
    for cause, mechanisms in REGISTRY.causes_of(k, appearance):
        if all(history.is_so.get(what) in allowed for what, allowed in cause.needs.items()):
            causes.append(_weighed(cause, mechanisms, history))
    whole = sum(c.weight for c in causes) or 1.0
    ranked = sorted(
        (c.model_copy(update={"weight": round(c.weight / whole, 3)}) for c in causes), key=lambda c: -c.weight
    )
    return Diagnosis(appearance=appearance, name=fault.name, step_id=step_id, zone_id=zone_id, causes=ranked)


@dataclass(frozen=True)
class _History:
    """What the plan did to a coat up to an instant."""

    name: str
    seams: list[SeamOut]
    remarks: list[Remark]
    air: Air
    is_so: dict[str, str]
    young: bool = False
    old: bool = False
    film_um: float = 0.0
    thinner: float = 0.0
    usual_thinner: float = 0.0
    coverage: float = 0.0


def _history(k: Knowledge, plan: Plan, step: AnyStep, zone_id: str, at_min: float) -> _History:
    answer = assess(plan, zones=[zone_id], opens=False)
    line = conditions_of(plan, answer.times, knowledge=k).line
    zone = plan.zone(zone_id)
    assert zone is not None
    base = k.substrates[plan.base_of(zone)]
    so_far = _History(
        name=step.name,
        seams=[s for s in answer.seams.values() if _concerns(plan, s, step) and s.at_min <= at_min + 1e-6],
        remarks=[r for r in answer.remarks if r.step_id == step.id or _touches(plan, r.step_id, step.id)],
        air=line.at(answer.times[step.id].start_min),
        is_so={"base": "clear" if base.clear else base.surface},
    )
    if not isinstance(step, CoatStep):
        return so_far
    coat, laid = k.coats[step.material], answer.coats[coat_id(step.id, zone_id)]
    return replace(
        so_far,
        is_so=so_far.is_so
        | {
            "film": k.systems[coat.system].film,
            "system": coat.system,
            "method": method_of(k, step),
            "use": coat.use,
            "sheen": step.sheen or coat.sheen,
        },
        young=at_min < (laid.events[Event.TOUCH].late or 0.0),
        old=at_min > (laid.events[Event.HARD].best or math.inf),
        film_um=laid.film_um,
        thinner=cup_of(k, step).thinner_share,
        usual_thinner=cup_of(k, step.model_copy(update={"mix": None})).thinner_share,
        coverage=laid.coverage,
    )


def _weighed(c: CauseData, mechanisms: set[str], h: _History) -> Cause:
    """A cause, with what the plan did that speaks for it."""
    weight, because = c.prior, list[str]()
    for seam in h.seams:
        for f in seam.findings:
            if f.mechanism in mechanisms and f.severity >= LEAST:
                weight += c.prior * SPEAKS * min(f.severity, 1.0)
                because.append(f.sentence)
        if any(part in seam.sentence for part in c.sentences):
            weight += c.prior * SPEAKS
            because.append(seam.sentence)
        if c.missed_window and seam.contact is Contact.WORK and seam.missed:
            weight += c.prior * SPEAKS
            because.append(seam.sentence)
    for r in h.remarks:
        if r.code in c.remarks:
            weight += c.prior * SPEAKS * BY_REMARK
            because.append(r.sentence)
    for is_so, what in (
        (h.air.rh_pct > c.air.get("rh_over", math.inf), f"{h.air.rh_pct:g} % humidity"),
        (h.air.temp_c > c.air.get("temp_over", math.inf), f"{h.air.temp_c:g} °C"),
        (h.air.temp_c < c.air.get("temp_under", -math.inf), f"{h.air.temp_c:g} °C"),
    ):
        if is_so:
            weight += c.prior * SPEAKS * BY_AIR
            because.append(f"“{h.name}” was laid at {what}.")
    for is_so, what in (
        (c.film_over is not None and h.film_um > c.film_over, f"“{h.name}” is {h.film_um:.0f} µm thick."),
        (c.thinner_over is not None and h.thinner > c.thinner_over, f"“{h.name}” is {h.thinner:.0%} thinner."),
        (
            c.thinner_under is not None and h.thinner < c.thinner_under * h.usual_thinner,
            f"“{h.name}” is {h.thinner:.0%} thinner, and {h.usual_thinner:.0%} are usual.",
        ),
        (c.coverage_over is not None and h.coverage > c.coverage_over, f"“{h.name}” covers {h.coverage:.0%} of it."),
    ):
        if is_so:
            weight += c.prior * SPEAKS * BY_AGE
            because.append(what)
    if c.state and {"young": h.young, "old": h.old}[c.state]:
        weight += c.prior * SPEAKS * BY_AGE
        because.append(
            "By the clock it is not dry to the touch yet." if c.state == "young" else "By the clock it is hard."
        )
    measured = any(x is not None for x in (c.film_over, c.thinner_over, c.thinner_under, c.coverage_over))
    told_by = c.missed_window or c.remarks or c.air or c.state or c.sentences or measured
    if not because and (mechanisms or told_by):
        weight *= AGAINST  # nothing in this plan speaks for it
    return Cause(
        id=c.id, cause=c.cause, weight=weight, because=list(dict.fromkeys(because))[:3],
        now=c.now, dont=c.dont, mend=c.mend, avoid=c.avoid,
    )  # fmt: skip


def _concerns(plan: Plan, seam: SeamOut, step: AnyStep) -> bool:
    """Seams that this step makes, what was done to it or laid on it since, and what its zone's base took: all peels
    with what does not hold there.
    """
    if seam.lower_step is None:
        return True
    if step.id in (seam.upper_step, seam.responsible, seam.lower_step):
        return True
    return _touches(plan, seam.upper_step, step.id)


def _touches(plan: Plan, other: str, step_id: str) -> bool:
    step = plan.step(other)
    return isinstance(step, WorkingStep) and step.acts_on == step_id
