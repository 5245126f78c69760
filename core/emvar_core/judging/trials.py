"""Trials on scrap: what they were of, and how their results override a doubt, visibly and for what was tried alone."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from ..plan import AnyStep, CoatStep, FittingStep, Plan, Timing, Trial, WorkingStep, known_to, mix_of
from ..plan.affects import VERDICT, only
from ..vocabulary import Basis, Sure, Verdict
from .outcome import SeamOut

AGE_TOLERANCE = 0.15  # a trial holds for the age at which it was made, give or take this share
LEAST_AGE_MIN = 30.0
VERSION = "2:"
# What counted in the fingerprints of the first version, which had no number. A field that came later is none of them.
FIRST_VERSION: dict[type[AnyStep], dict[str, Any]] = {
    CoatStep: dict.fromkeys(
        ("aids", "kind", "material", "method", "passes", "dry_film_um", "sheen", "pigment_dries"), True
    ) | {"mix": {"parts": {"__all__": {"material", "role", "amount", "unit"}}}},
    WorkingStep: dict.fromkeys(("aids", "kind", "action", "carrier", "method", "leaves"), True),
    FittingStep: dict.fromkeys(("aids", "kind", "action", "material", "closes"), True),
}  # fmt: skip


def fingerprint(plan: Plan, upper: str, lower: str | None, zone_id: str) -> str:
    """What a trial of two steps in a zone is of: their recipes, what an own material of theirs is, and the base.

    It is made of the fields that affect the verdict, as far as they are set: a field that is added to the format later
    changes no fingerprint. 16 hex digits behind the number of the version.
    """
    zone = plan.zone(zone_id)
    base = plan.base_of(zone) if zone is not None else plan.build.base_material
    parts = [_recipe(plan, plan.step(upper)), _recipe(plan, plan.step(lower)) if lower is not None else "", base]
    return VERSION + hashlib.sha256("|".join(parts).encode()).hexdigest()[:16]


def _recipe(plan: Plan, step: AnyStep | None) -> str:
    """Everything of a step that was tried: what it is, and of its own materials what they are made of."""
    if step is None:
        return ""
    used: set[str] = set()
    if isinstance(step, CoatStep):
        mix = mix_of(known_to(plan), step)
        used = {step.material, *(p.material for p in (mix.parts if mix else ()))}
    elif isinstance(step, WorkingStep) and step.carrier is not None:
        used = {step.carrier}
    own = [m for m in plan.materials if m.id in used]
    composed = [m.model_dump(mode="json", exclude={"name", "note"}, exclude_defaults=True) for m in own]
    return only(step, VERDICT) + json.dumps(sorted(composed, key=lambda m: str(m["id"])), sort_keys=True)


def _first_version(plan: Plan, upper: str, lower: str | None) -> str:
    """The fingerprint as the first version of the format made it: without own materials, with the build's base."""

    def recipe(step: AnyStep | None) -> str:
        return step.model_dump_json(include=FIRST_VERSION[type(step)]) if step is not None else ""

    parts = [recipe(plan.step(upper)), recipe(plan.step(lower)) if lower is not None else plan.build.base_material]
    return hashlib.sha256("|".join(parts).encode()).hexdigest()[:16]


def age_min(times: dict[str, Timing], upper: str, lower: str | None) -> float:
    """Minutes between the lower step's end and the upper step's start; 0 on the base material."""
    return max(times[upper].start_min - times[lower].end_min, 0.0) if lower is not None else 0.0


def holds(plan: Plan, times: dict[str, Timing], trial: Trial, zone_id: str) -> bool:
    """Whether a trial is of what the plan does in a zone now."""
    if trial.of.startswith(VERSION):
        same = trial.of == fingerprint(plan, trial.upper, trial.lower, zone_id)
    else:
        zone = plan.zone(zone_id)
        own = zone is not None and plan.base_of(zone) != plan.build.base_material
        same = trial.of == _first_version(plan, trial.upper, trial.lower) and not own and not plan.materials
    if not same:
        return False
    now = age_min(times, trial.upper, trial.lower)
    return abs(now - trial.age_min) <= AGE_TOLERANCE * max(trial.age_min, LEAST_AGE_MIN)


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
            "verdict": verdict, "word": word, "sentence": sentence, "basis": Basis.TRIAL,
            "rests_on": "your own trial of these recipes at this age" + (f": {trial.note}" if trial.note else ""),
            "sure": Sure.FAIR, "disputed": "", "opens_best_min": None, "opens_careful_min": None, "eventual": None,
        }
    )  # fmt: skip


def settled_by_trials(plan: Plan, times: dict[str, Timing], seams: dict[str, SeamOut]) -> dict[str, SeamOut]:
    """The seams that trials were made for, as they have settled them, by id; each zone by what was tried there."""
    settled: dict[str, SeamOut] = {}
    for trial in plan.trials:
        for seam in seams.values():
            if (seam.upper_step, seam.lower_step) != (trial.upper, trial.lower):
                continue
            if seam.verdict is Verdict.SOUND and trial.passed:
                continue
            if holds(plan, times, trial, seam.zone_id):
                settled[seam.id] = overridden(seam, trial)
    return settled


__all__ = ["age_min", "fingerprint", "holds", "overridden", "settled_by_trials"]
