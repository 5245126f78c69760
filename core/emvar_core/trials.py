"""Trials on scrap: what they were of, and how their results override a doubt, visibly and for this plan only."""

from __future__ import annotations

import hashlib

from .outcome import SeamOut
from .plan import AnyStep, Plan, Timing, Trial
from .seams.contact import Verdict
from .seams.telling import Sure

AGE_TOLERANCE = 0.15  # a trial holds for the age at which it was made, give or take this share
UNLIKE = {"id", "name", "zones", "wait_min", "hands_on_min", "fixed_start", "note", "recipe_of", "colour", "technique"}
UNLIKE |= {"coverage", "coverage_by_zone", "acts_on", "needs_part_off", "measured"}


def fingerprint(plan: Plan, upper: str, lower: str | None) -> str:
    """What a trial of two steps was of: their recipes and the base material, as 16 hex digits."""
    told = [_recipe(plan.step(upper)), _recipe(plan.step(lower)) if lower is not None else plan.build.base_material]
    return hashlib.sha256("|".join(told).encode()).hexdigest()[:16]


def _recipe(step: AnyStep | None) -> str:
    return step.model_dump_json(exclude=UNLIKE) if step is not None else ""


def age_min(times: dict[str, Timing], upper: str, lower: str | None) -> float:
    """Minutes between the lower step's end and the upper step's start; 0 on the base material."""
    return max(times[upper].start_min - times[lower].end_min, 0.0) if lower is not None else 0.0


def holds(plan: Plan, times: dict[str, Timing], trial: Trial) -> bool:
    """Whether a trial is still of what the plan does."""
    if trial.of != fingerprint(plan, trial.upper, trial.lower):
        return False
    now = age_min(times, trial.upper, trial.lower)
    return abs(now - trial.age_min) <= AGE_TOLERANCE * max(trial.age_min, 30.0)


def overridden(seam: SeamOut, trial: Trial) -> SeamOut:
    """A seam as a trial has settled it. A pass against a clear-cut clash leaves a caution; a fail is a clash."""
    if seam.missed:
        return seam
    if not trial.passed:
        verdict, word = Verdict.CLASH, "failed on scrap"
        sentence = f"Your trial on scrap failed. The judgement had been: {seam.sentence}"
    else:
        firm = seam.verdict is Verdict.CLASH and seam.sure is Sure.FIRM and not seam.disputed
        verdict, word = (Verdict.CAUTION if firm else Verdict.SOUND), "passed on scrap"
        sentence = f"Your trial on scrap passed. The judgement had been: {seam.sentence}"
    return seam.model_copy(
        update={
            "verdict": verdict, "word": word, "sentence": sentence, "basis": "trial",
            "rests_on": "your own trial of these recipes at this age" + (f": {trial.note}" if trial.note else ""),
            "sure": Sure.FAIR, "disputed": "", "opens_best_min": None, "opens_careful_min": None, "eventual": None,
        }
    )  # fmt: skip


def apply_trials(plan: Plan, times: dict[str, Timing], seams: dict[str, SeamOut]) -> set[str]:
    """Overrides the seams that trials were made for, in place; gives their ids."""
    changed: set[str] = set()
    for trial in plan.trials:
        upper = plan.step(trial.upper)
        if upper is None or not holds(plan, times, trial):
            continue
        for zone in upper.zones:
            seam = seams.get(f"{trial.upper}~{zone}~{trial.lower or 'base'}")
            if seam is not None and (seam.verdict is not Verdict.SOUND or not trial.passed):
                seams[seam.id] = overridden(seam, trial)
                changed.add(seam.id)
    return changed


def stale(plan: Plan, times: dict[str, Timing]) -> list[Trial]:
    """Trials that were made of something else than the plan does now."""
    return [t for t in plan.trials if not holds(plan, times, t)]
