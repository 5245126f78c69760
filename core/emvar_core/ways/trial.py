"""Which scrap test settles it: the smallest trial that decides a seam, how long it must sit, what counts as a pass."""

from __future__ import annotations

from ..assess import assess
from ..errors import NotThere
from ..ids import read_seam_id
from ..judging import SeamOut
from ..judging.trials import age_min, fingerprint, holds
from ..plan import CoatStep, Plan, Trial, film_of, known_to, mix_of, ratio_words, step_times
from ..seams.mechanism import Scrap
from ..seams.registry import REGISTRY
from ..vocabulary import Kind, Model, Verdict

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
    seam = assess(untried, zones=[zone.id], opens=False).seams.get(seam_id)
    if seam is None:
        raise NotThere("seam", seam_id)
    base = known_to(plan).substrates[plan.base_of(zone)]
    times = step_times(plan)
    deepest = seam.responsible
    coats = _stack(plan, seam, deepest)
    needs = [f"a piece of {base.name.lower()}" + (" from the sprue" if base.sprue else "")]
    needs += [f"{s.name}: {_recipe(plan, s)}" for s in coats]
    do = []
    for i, step in enumerate(coats):
        wait = f"wait {_span(age_min(times, step.id, coats[i - 1].id))}, then " if i else ""
        do.append(f"{wait}lay {step.name} as planned, on half of the piece")
    upper = plan.step(seam.upper_step)
    assert upper is not None
    if coats and upper.id != coats[-1].id:
        do.append(f"wait {_span(age_min(times, upper.id, coats[-1].id))}, then do “{upper.name}” on a third of it")
    elif not coats:
        do.append(f"do “{upper.name}” on half of the piece")
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


def _stack(plan: Plan, seam: SeamOut, deepest: str | None) -> list[CoatStep]:
    """The coats from the responsible one up to just below the seam's upper step, and that one if it is a coat."""
    inside = [s for s in plan.steps if isinstance(s, CoatStep) and seam.zone_id in s.zones]
    ids = [s.id for s in inside]
    upper = next(i for i, s in enumerate(plan.steps) if s.id == seam.upper_step)
    below = [s for s in inside if plan.steps.index(s) < upper]
    first = ids.index(deepest) if deepest in ids else max(len(below) - 1, 0)
    coats = below[first:] if deepest is not None else []
    top = plan.steps[upper]
    return [*coats, top] if isinstance(top, CoatStep) else coats


def _recipe(plan: Plan, step: CoatStep) -> str:
    k = known_to(plan)
    mix = mix_of(k, step)
    thin = f", {ratio_words(mix)}" if mix is not None and len(mix.parts) > 1 else ""
    return f"{k.coats[step.material].name.lower()}{thin}, {film_of(k, step):g} µm"


def _span(minutes: float) -> str:
    if minutes < 90:
        return f"{minutes:.0f} min"
    return f"{minutes / 60:.0f} h" if minutes < 2880 else f"{minutes / 1440:.1f} days"
