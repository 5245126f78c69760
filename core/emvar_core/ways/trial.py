"""Which scrap test settles it: the smallest trial that decides a seam, how long it must sit, what counts as a pass."""

from __future__ import annotations

from ..assess import assess, default_knowledge
from ..mixing import default_mix, ratio_words
from ..outcome import SeamOut
from ..plan import CoatStep, Plan, Trial, step_times
from ..seams.contact import Verdict
from ..trials import age_min, fingerprint, holds
from ..values import Model

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


SIT: dict[str, tuple[float, str, str]] = {
    "craze": (120, "No haze, no crackle, edges as sharp as before, held to the light.", "Any dulling or crackle."),
    "stress_crack": (
        1440,
        "No line at the joint after a day, also under light finger pressure.",
        "A crack, even a hair.",
    ),
    "wrinkle": (1440, "Flat after a day, and a thumbnail leaves no mark.", "Any wrinkle, lifting or softening."),
    "swell": (1440, "Flat after a day.", "Any swelling that stays."),
    "lift": (60, "What lies below keeps its edge; the bud stays clean of it.", "Colour of the lower coat on the bud."),
    "reopen": (60, "What lies below keeps its edge; the bud stays clean of it.", "The lower coat moves or streaks."),
    "hard_over_soft": (4320, "No crack after three days, and after a light bend of the scrap.", "Any crack."),
    "beads": (
        30,
        "It lies down closed, and low-tack tape lifts nothing the day after.",
        "Beads, craters, or it peels.",
    ),
    "crawls": (
        30,
        "It lies down closed, and low-tack tape lifts nothing the day after.",
        "Beads, craters, or it peels.",
    ),
    "silvers": (720, "No silver under the film, looked at from the side.", "Silver that softener does not take away."),
    "bleeds": (1440, "The light colour stays as it was after a day.", "Any tint."),
    "too_early": (60, "No print, no mark, nothing lifts; a closed box does not smell.", "A mark, a lift, a smell."),
    "still_wet": (60, "It stays where it was laid.", "It runs together."),
    "blush": (60, "Clear and dark as laid.", "White or milky."),
    "live_medium": (60, "Nothing lets go under the wet bud.", "The colour slides."),
    "unknown": (1440, "The bud stays clean, the film flat and hard.", "Colour on the bud, or a soft film."),
}
ANYTHING = (1440.0, "It looks, holds and feels as the coat should after a day.", "Anything else.")


def scrap_test(plan: Plan, seam_id: str) -> ScrapTest:
    """The smallest trial that settles a seam. Raises KeyError where the plan has no such seam."""
    zone_id = seam_id.split("~")[1] if seam_id.count("~") == 2 else ""
    seam = assess(plan.model_copy(update={"trials": []}), zones=[zone_id], opens=False).seams[seam_id]
    k = default_knowledge().with_own(plan.materials)
    zone = next(z for z in plan.zones if z.id == zone_id)
    base = k.substrates[zone.base_material or plan.build.base_material]
    times = step_times(plan)
    deepest = seam.responsible
    coats = _stack(plan, seam, deepest)
    needs = [
        f"a piece of {base.name.lower()}" + (" from the sprue" if "tyrene" in base.name or base.id == "abs" else "")
    ]
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
    sit, passes, fails = SIT.get(mechanism, ANYTHING)
    if seam.kind == "look":
        passes += f" {LOOK}"
    made = {
        "upper": seam.upper_step,
        "lower": seam.lower_step,
        "of": fingerprint(plan, seam.upper_step, seam.lower_step),
        "age_min": age_min(times, seam.upper_step, seam.lower_step),
    }
    entered = next((t for t in plan.trials if (t.upper, t.lower) == (seam.upper_step, seam.lower_step)), None)
    return ScrapTest(
        seam_id=seam_id,
        needs=needs,
        do=do,
        wait_min=sit,
        passes=passes,
        fails=fails,
        spares="The rest of the piece stays as it is, to compare with."
        + (
            " A failed trial costs nothing; a passed one counts only for these recipes at this age."
            if seam.verdict is not Verdict.SOUND
            else ""
        ),
        passed=Trial(passed=True, **made),
        failed=Trial(passed=False, **made),
        entered=entered,
        entered_holds=entered is not None and holds(plan, times, entered),
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
    k = default_knowledge().with_own(plan.materials)
    mix = step.mix or default_mix(k, step.material)
    thin = f", {ratio_words(mix)}" if mix is not None and len(mix.parts) > 1 else ""
    film = step.dry_film_um or k.coats[step.material].dry_film_um
    return f"{k.coats[step.material].name.lower()}{thin}, {film:g} µm"


def _span(minutes: float) -> str:
    if minutes < 90:
        return f"{minutes:.0f} min"
    return f"{minutes / 60:.0f} h" if minutes < 2880 else f"{minutes / 1440:.1f} days"
