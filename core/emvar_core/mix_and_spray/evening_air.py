"""What the air of the evening says of a coat: whether to lay it, thinned with what, or what else to do."""

from __future__ import annotations

from ..judging import Conditions, base_layer, lay
from ..judging.stack import Times
from ..knowledge import Knowledge
from ..physics.blend import blend_of
from ..physics.cup import (
    cup_of,
)
from ..plan import (
    Air,
    CoatStep,
    MixPart,
    Plan,
    method_of,
    mix_of,
)
from ..remarks.recipe import cup_remarks
from ..seams.meeting import Meeting
from ..seams.registry import REGISTRY
from ..seams.situation import Finding, Layer, Reads
from ..vocabulary import (
    AIRBRUSHED,
    SPRAYED,
    Contact,
    Edge,
    FilmClass,
    Role,
    ThinnerRole,
)
from .gun_card import TIP_DRIES

BLUSHES = "blush"  # the mechanism that a slower thinner ends
HOT_C, DAMP_PCT, WATERY = 28.0, 75.0, 0.5  # when water-borne paint dries at the needle, or hardly (common practice)
SOAKED_PCT = 82.0  # humidity from which lacquers and cans bloom more often than not (common practice)
LITTLE = 0.1  # of retarder to the paint, that does no harm (common practice)


def _air_says(c: Conditions, times: Times, step: CoatStep, base: Layer) -> list[Finding]:
    """What the seams would say of this air, whatever lies below: all that looks at nothing but the air."""
    m = Meeting(c.k, lay(c, step, times[step.id]).landing, (base,), 0)
    return [
        f
        for mechanism in REGISTRY
        if mechanism.reads == Reads.AIR and Contact.LAY in mechanism.on
        for f in mechanism.judge(m.view(mechanism.reads), 0.0, Edge.LATE)
    ]


def tonight_of(c: Conditions, plan: Plan, times: Times, step: CoatStep, air: Air) -> tuple[list[str], bool]:
    """With this air: put it on or not, with which thinner, or what else of the plan is better done; and whether."""
    k, laid = c.k, lay(c, step, times[step.id])
    base = base_layer(k, plan, next(z for z in plan.zones if z.id in step.zones))
    against = _air_says(c, times, step, base)
    said = [f"{f.sentence} {f.advice}" for f in against]
    if any(f.mechanism == BLUSHES for f in against):
        slower = k.thinners_that(ThinnerRole.SLOWS)
        clear = [t.name.lower() for t in slower if _stays_clear(c, times, step, t.id, base)]
        if clear:
            said.append(f"With {' or '.join(clear)} it stays clear.")
    sprays = method_of(k, step) in SPRAYED
    film = laid.layer.film
    dries = film in TIP_DRIES
    ok = not against
    if air.temp_c > HOT_C and dries:
        where = "at the needle" if sprays else "in the brush"
        said.append(f"At {air.temp_c:g} °C it dries {where}: {_retarded(k, step)}work in the cool of the day.")
    if air.rh_pct > DAMP_PCT and laid.cup.carrier.water > WATERY:
        said.append(f"At {air.rh_pct:g} % humidity water leaves slowly: double the waits, or a fan.")
    elif air.rh_pct > SOAKED_PCT and sprays and film is FilmClass.EVAPORATING and not against:
        ok = False
        said.append(
            f"At {air.rh_pct:g} % humidity lacquers and cans easily bloom and the hose spits water: wait for a drier "
            "hour if you can, and try it on scrap first."
        )
    elif air.rh_pct > SOAKED_PCT and film is FilmClass.OXIDISING:
        said.append(f"At {air.rh_pct:g} % humidity alkyds and oils harden more slowly.")
    if said and method_of(k, step) in AIRBRUSHED and (other := _dry_job(k, plan, step)):
        said.append(f"A dry job instead: “{other}”.")
    return said or ["Nothing in this air speaks against it."], ok


def _retarded(k: Knowledge, step: CoatStep) -> str:
    """A retarder to add, where the cup bears it and has none yet."""
    mix = mix_of(k, step)
    if mix is None or any(p.role is Role.RETARDER for p in mix.parts):
        return ""
    system = k.systems[k.coats[step.material].system]
    least = min(p.amount for p in mix.parts if p.role is Role.PAINT)
    if any(p.unit is not mix.parts[0].unit for p in mix.parts):
        return ""
    for thinner in k.thinners_that(ThinnerRole.RETARDS):
        part = MixPart(material=thinner.id, role=Role.RETARDER, amount=least * LITTLE, unit=mix.parts[0].unit)
        other = step.model_copy(update={"mix": mix.model_copy(update={"parts": [*mix.parts, part]})})
        alike = (blend_of(thinner).water > 0) == (system.film is FilmClass.DISPERSION)
        if alike and not _more_said(k, step, other):
            return f"up to {LITTLE:.0%} of {thinner.name.lower()}, or "
    return ""


def _stays_clear(c: Conditions, times: Times, step: CoatStep, thinner: str, base: Layer) -> bool:
    """Whether another thinner ends the blush, and the cup bears it."""
    mix = mix_of(c.k, step)
    if mix is None:
        return False
    parts = [p.model_copy(update={"material": thinner}) if p.role is Role.THINNER else p for p in mix.parts]
    other = step.model_copy(update={"mix": mix.model_copy(update={"parts": parts})})
    if _air_says(c, times, other, base):
        return False
    return not _more_said(c.k, step, other)


def _more_said(k: Knowledge, step: CoatStep, other: CoatStep) -> bool:
    """Whether another mix of a step is objected to where its own is not."""
    coat = k.coats[step.material]
    known = {s.code for s in cup_remarks(k, step, coat, cup_of(k, step))}
    return any(s.code not in known for s in cup_remarks(k, other, coat, cup_of(k, other)))


def _dry_job(k: Knowledge, plan: Plan, step: CoatStep) -> str | None:
    """Another step of the plan that needs no spraying, not yet done by then."""
    ids = [s.id for s in plan.steps]
    for other in plan.steps[ids.index(step.id) + 1 :]:
        if isinstance(other, CoatStep):
            if method_of(k, other) not in SPRAYED and not set(other.zones) & set(step.zones):
                return other.name
        elif not set(other.zones) & set(step.zones):
            return other.name
    return None
