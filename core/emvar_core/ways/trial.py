"""Which scrap test settles it: the smallest trial that decides a seam, how long it must sit, what counts as a pass."""

from __future__ import annotations

import math

from ..assess import assess
from ..errors import NotThere
from ..ids import coat_id, read_seam_id
from ..judging import Assessment, SeamOut
from ..judging.trials import age_min, fingerprint, holds
from ..plan import AnyStep, CoatStep, Plan, Trial, WorkingStep, film_of, known_to, mix_of, ratio_words, step_times
from ..seams.mechanism import Scrap
from ..seams.registry import REGISTRY
from ..vocabulary import COVERS, METHOD_WORDS, Event, Kind, Model, Verdict

LOOK = "Put it beside the model under the bench light, dry, under the last clear if there is one."


class ScrapTest(Model):
    """A trial for one seam. `wait_min`: how long it must sit before it is judged. `trial`: ready to be entered."""

    seam_id: str
    needs: list[str]
    do: list[str]
    wait_min: float
    passes: str
    fails: str
    spares: str
    passed: Trial
    failed: Trial
    entered: Trial | None
    entered_holds: bool


ANYTHING = Scrap(1440.0, "It looks, holds and feels as the coat should after a day.", "Anything else.")


def scrap_test(plan: Plan, seam_id: str) -> ScrapTest:
    """The smallest trial that settles a seam. Raises NotThere where the plan has no such seam."""
    parts = read_seam_id(seam_id)
    zone = plan.zone(parts.zone) if parts is not None else None
    if zone is None:
        raise NotThere("seam", seam_id)
    untried = plan.model_copy(update={"trials": []})
    assessed = assess(untried, zones=[zone.id], opens=False)
    seam = assessed.seams.get(seam_id)
    if seam is None:
        raise NotThere("seam", seam_id)
    base = known_to(plan).substrates[plan.base_of(zone)]
    times = step_times(plan)
    stack = _piece(plan, seam, assessed)
    needs = [f"a piece of {base.name.lower()}" + (" from the sprue" if base.sprue else "")]
    needs += [f"{s.name}: {brought}" for s in stack if (brought := _brought(plan, s))]
    do = []
    for i, step in enumerate(stack):
        wait = f"wait {_span(age_min(times, step.id, stack[i - 1].id))}, then " if i else ""
        act = "lay" if isinstance(step, CoatStep) else "do"
        part = "a third of it" if i and step is stack[-1] else "half of the piece"
        do.append(f"{wait}{act} “{step.name}” as planned, on {part}")
    mechanism = seam.findings[0].mechanism if seam.findings else ""
    known = REGISTRY.by_id.get(mechanism)
    scrap = known.scrap if known is not None else ANYTHING
    passes = scrap.passes + (f" {LOOK}" if seam.kind is Kind.LOOK else "")
    made = {
        "upper": seam.upper_step,
        "lower": seam.lower_step,
        "of": fingerprint(plan, seam.upper_step, seam.lower_step, zone.id),
        "age_min": age_min(times, seam.upper_step, seam.lower_step),
    }
    mine = [t for t in plan.trials if (t.upper, t.lower) == (seam.upper_step, seam.lower_step)]
    holding = [t for t in mine if holds(plan, times, t, zone.id)]
    entered = next(iter([*holding, *mine]), None)
    return ScrapTest(
        seam_id=seam_id,
        needs=needs,
        do=do,
        wait_min=scrap.sit_min,
        passes=passes,
        fails=scrap.fails,
        spares="The rest of the piece stays as it is, to compare with."
        + (
            " A failed trial costs nothing; a passed one counts only for these recipes at this age."
            if seam.verdict is not Verdict.SOUND
            else ""
        ),
        passed=Trial(passed=True, **made),
        failed=Trial(passed=False, **made),
        entered=entered,
        entered_holds=bool(holding),
    )


def _piece(plan: Plan, seam: SeamOut, assessed: Assessment) -> list[AnyStep]:
    """The steps that the piece of scrap goes through, the one on trial last.

    They are the coat responsible, what lies over it, and what lies under it down to the first coat that is hard by
    then; where the base is responsible and not met bare, every coat. Marks that the seam is not with are left out; work
    on a coat comes with the coat.
    """
    here = [s for s in plan.steps if seam.zone_id in s.zones]
    *here, upper = here[: [s.id for s in here].index(seam.upper_step) + 1]
    if seam.lower_step is None:
        return [upper]
    laid = {s.id: assessed.coats[coat_id(s.id, seam.zone_id)] for s in here if isinstance(s, CoatStep)}
    named = {seam.responsible, seam.lower_step, *(f.step_id for f in seam.findings[:1])}
    coats = [i for i, c in laid.items() if i in named or c.coverage >= COVERS]
    first = coats.index(seam.responsible) if seam.responsible in coats else 0
    while first > 0:
        first -= 1
        if (laid[coats[first]].events[Event.HARD].best or math.inf) <= seam.at_min:
            break
    taken = set(coats[first:])
    return [*(s for s in here if s.id in taken or (isinstance(s, WorkingStep) and s.acts_on in taken)), upper]


def _brought(plan: Plan, step: AnyStep) -> str:
    """What is needed for a step; empty where it takes nothing but hands."""
    k = known_to(plan)
    if isinstance(step, CoatStep):
        mix = mix_of(k, step)
        thin = f", {ratio_words(mix)}" if mix is not None and len(mix.parts) > 1 else ""
        return f"{k.coats[step.material].name.lower()}{thin}, {film_of(k, step):g} µm"
    brought = [k.thinners[step.carrier].name.lower()] if step.carrier else []
    if isinstance(step, WorkingStep):
        brought.append(METHOD_WORDS[step.method].lower())
    elif step.material is not None:
        brought.insert(0, k.touches[step.material].name.lower())
    return ", ".join(brought)


def _span(minutes: float) -> str:
    if minutes < 90:
        return f"{minutes:.0f} min"
    return f"{minutes / 60:.0f} h" if minutes < 2880 else f"{minutes / 1440:.1f} days"
