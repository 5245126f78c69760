"""It looks wrong: from the appearance and the plan's own history to the likely causes, and the next minute.

A cause's weight is its prior times what the plan did that speaks for it; a cause that the coat cannot have is left out.
The weights rank; they are no probabilities.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib.resources import files

from pydantic import Field

from ..assess import assess, default_knowledge
from ..outcome import SeamOut
from ..plan import CoatStep, Plan
from ..seams.contact import Contact
from ..values import Model
from ..walk import Walker

SPEAKS, AGAINST = 3.0, 0.35
LEAST = 0.08


class CauseData(Model):
    id: str
    cause: str
    prior: float
    needs: dict[str, list[str]] = {}
    mechanisms: list[str] = []
    remarks: list[str] = []
    air: dict[str, float] = {}
    state: str = ""
    now: str
    dont: str
    mend: str
    avoid: str


class Fault(Model):
    """An appearance and its possible causes."""

    name: str
    words: str
    causes: list[CauseData] = Field(alias="cause")


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
    appearance: str
    name: str
    step_id: str
    zone_id: str
    causes: list[Cause]


@lru_cache(maxsize=1)
def faults() -> dict[str, Fault]:
    """All appearances by id, in the file's order."""
    rows = tomllib.loads(files(__package__).joinpath("faults.toml").read_text(encoding="utf-8"))
    return {key: Fault(**row) for key, row in rows.items()}


def diagnose(plan: Plan, step_id: str, zone_id: str, appearance: str, at_min: float) -> Diagnosis:
    """Likely causes of what a coat looks like at an instant, ranked by what this plan did.

    Raises KeyError where there is no such coat or appearance.
    """
    fault = faults()[appearance]
    step = plan.step(step_id)
    if not isinstance(step, CoatStep) or zone_id not in step.zones:
        raise KeyError(step_id)
    told = assess(plan, zones=[zone_id], opens=False)
    seams = [s for s in told.seams.values() if _concerns(plan, s, step) and s.at_min <= at_min + 1e-6]
    remarks = [r for r in told.remarks if r.step_id == step_id or _touches(plan, r.step_id, step_id)]
    walker = Walker(plan, default_knowledge().with_own(plan.materials), opens=False)
    laid = walker.lay(step)
    air = walker.line.at(walker.times[step_id].start_min)
    film = walker.k.systems[laid.coat.system].film.value
    is_so = {
        "film": film,
        "system": laid.coat.system,
        "method": (laid.landing.method or laid.coat.method).value,
        "use": laid.coat.use,
        "sheen": (step.sheen or laid.coat.sheen).value,
    }
    young = at_min < (told.coats[f"{step_id}~{zone_id}"].events["touch"].late or 0.0)
    old = at_min > (told.coats[f"{step_id}~{zone_id}"].events["hard"].best or 1e12)
    names = {s.id: s.name for s in plan.steps}
    found: list[Cause] = []
    for c in fault.causes:
        if any(is_so[what] not in allowed for what, allowed in c.needs.items()):
            continue
        weight, because = c.prior, list[str]()
        for seam in seams:
            for f in seam.findings:
                if f.mechanism in c.mechanisms and f.severity >= LEAST:
                    weight += c.prior * SPEAKS * min(f.severity, 1.0)
                    because.append(f.sentence)
            if "window" in c.mechanisms and seam.contact is Contact.WORK and seam.missed:
                weight += c.prior * SPEAKS
                because.append(seam.sentence)
        for r in remarks:
            if r.code in c.remarks:
                weight += c.prior * SPEAKS * 0.5
                because.append(r.sentence)
        for key, said in (
            ("rh_over", air.rh_pct > c.air.get("rh_over", 101)),
            ("temp_over", air.temp_c > c.air.get("temp_over", 999)),
            ("temp_under", air.temp_c < c.air.get("temp_under", -999)),
        ):
            if said:
                weight += c.prior * SPEAKS * 0.4
                what = f"{air.rh_pct:g} % humidity" if key == "rh_over" else f"{air.temp_c:g} °C"
                because.append(f"“{names[step_id]}” was laid at {what}.")
        if c.state and {"young": young, "old": old}[c.state]:
            weight += c.prior * SPEAKS * 0.6
            because.append(
                "By the clock it is not dry to the touch yet." if c.state == "young" else "By the clock it is hard."
            )
        if not because and (c.mechanisms or c.remarks or c.air or c.state):
            weight *= AGAINST  # nothing in this plan speaks for it
        found.append(
            Cause(
                id=c.id, cause=c.cause, weight=weight, because=list(dict.fromkeys(because))[:3],
                now=c.now, dont=c.dont, mend=c.mend, avoid=c.avoid,
            )
        )  # fmt: skip
    whole = sum(c.weight for c in found) or 1.0
    ranked = sorted(
        (c.model_copy(update={"weight": round(c.weight / whole, 3)}) for c in found), key=lambda c: -c.weight
    )
    return Diagnosis(appearance=appearance, name=fault.name, step_id=step_id, zone_id=zone_id, causes=ranked)


def _concerns(plan: Plan, seam: SeamOut, step: CoatStep) -> bool:
    """Seams that this coat makes, and what was done to it or laid on it since."""
    if step.id in (seam.upper_step, seam.responsible, seam.lower_step):
        return True
    return _touches(plan, seam.upper_step, step.id)


def _touches(plan: Plan, other: str, step_id: str) -> bool:
    found = plan.step(other)
    return found is not None and getattr(found, "acts_on", None) == step_id
