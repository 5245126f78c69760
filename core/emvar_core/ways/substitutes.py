"""I do not have that: what stands in, and how mix, windows, seams and rescue change."""

from __future__ import annotations

from typing import Any

from ..assess import assess
from ..errors import NotThere, PlanError
from ..judging import Assessment, Score, conditions_of
from ..knowledge import Coat, Knowledge
from ..knowledge.types import EVER_MIN
from ..physics.blend import Blend, blend_of
from ..physics.cup import cup_of
from ..plan import (
    AnyEdit,
    CoatStep,
    Plan,
    apply,
    default_mix,
    edits_json,
    known_to,
    method_of,
    mix_of,
    ratio_words,
    renamed,
    step_times,
)
from ..plan.edits import SetField
from ..remarks.cautions import coat_cautions
from ..remarks.recipe import cup_remarks
from ..vocabulary import DEFER, Model, Rescued, Role, ThinnerRole, Verdict
from .mend import judged_at
from .rescue import rescue

MOST = 8
MOST_UNLIKE = 1.5  # of solvent families: a doubtful thinner farther from the lacking one is not offered
ENOUGH_KNOWN, MOST_DOUBTFUL = 3, 2  # so many that hold are enough; otherwise so many doubtful ones are added


class Substitute(Model):
    """Something that stands in for a step's material or thinner, with what changes.

    `doubt`: why it is not known to hold together in the cup; such ones stand last, whatever else speaks for them.
    """

    title: str
    kind: str
    edits: list[dict[str, Any]]
    mix: str
    before: Score
    after: Score
    windows: list[str]
    rescue: Rescued
    rescue_sentence: str
    changes: list[str]
    doubt: str
    caution: str


def substitutes(plan: Plan, step_id: str, lacking: str) -> list[Substitute]:
    """What stands in for a material that one lacks: the step's paint, or its thinner.

    Fewest clashes, missed windows and waits first. Raises NotThere where the step is no coat or does not use it.
    """
    step = plan.step(step_id)
    if not isinstance(step, CoatStep):
        raise NotThere("coat", step_id)
    k = known_to(plan)
    mix = mix_of(k, step)
    used = {p.material for p in mix.parts} if mix else {step.material}
    if lacking not in used | {step.material}:
        raise NotThere("material in this step", lacking)
    zones = list(step.zones)
    before = assess(plan, zones=zones, opens=False)
    known: list[tuple[float, Substitute]] = []
    doubtful: list[tuple[float, Substitute]] = []
    offered = _thinners(k, step, lacking) if lacking in k.thinners else _paints(k, step)
    for title, kind, edits, unlike in offered:
        try:
            changed, _ = apply(plan, edits)
        except PlanError:
            continue
        now = changed.step(step_id)
        assert isinstance(now, CoatStep)
        cup = cup_of(k, now)
        doubts = [s for s in cup_remarks(k, now, k.coats[now.material], cup) if s.verdict is not Verdict.SOUND]
        if any(said.verdict is Verdict.CLASH for said in doubts):
            continue  # it does not hold together in the cup
        doubt = doubts[0].sentence if doubts else ""
        if doubt and unlike > MOST_UNLIKE:
            continue  # nobody reaches for that
        made = _substitute(k, changed, now, title, kind, edits, before, zones, doubt)
        (doubtful if doubt else known).append((unlike, made))
    # What is not known to hold together in the cup comes last, whatever else speaks for it, and only where little else
    # is left.
    for group in (known, doubtful):
        # What people who use this paint have on the shelf comes first: nobody thins a clear with acetone to save a
        # wait.
        group.sort(key=lambda s: (s[0] > 0, s[1].after.order, s[1].rescue is not Rescued.CLEAN, s[0]))
    room = MOST_DOUBTFUL if len(known) >= ENOUGH_KNOWN else MOST
    return [substitute for _, substitute in [*known, *doubtful[:room]]][:MOST]


def _unlike(k: Knowledge, one: Blend, other: Blend) -> float:
    """How far two liquids differ in their solvent families, 0 alike to 2 nothing in common; in tenths."""
    a, b = one.family_shares(k), other.family_shares(k)
    return round(sum(abs(a.get(f, 0.0) - b.get(f, 0.0)) for f in {*a, *b}), 1)


Offered = list[tuple[str, str, list[AnyEdit], float]]


def _paints(k: Knowledge, step: CoatStep) -> Offered:
    here = k.coats[step.material]
    offered: Offered = []
    for coat in k.coats.values():
        if coat.id == here.id or not k.stands_in(coat, here):
            continue
        if step.sheen is not None and here.sheens and step.sheen not in (coat.sheens or [coat.sheen]):
            continue
        edits: list[AnyEdit] = [SetField(step_id=step.id, field="material", value=coat.id)]
        mix = default_mix(k, coat.id)
        edits.append(
            SetField(step_id=step.id, field="mix", value=mix.model_dump(mode="json"))
            if mix is not None
            else SetField(step_id=step.id, field="mix", absent=True)
        )
        offered.append((coat.name, "material", [*edits, *renamed(step, here, coat)], 0.0))
    return offered


def _thinners(k: Knowledge, step: CoatStep, lacking: str) -> Offered:
    mix = mix_of(k, step)
    assert mix is not None
    offered: Offered = []
    for thinner in k.thinners.values():
        softens = thinner.is_a(ThinnerRole.SOFTENS_DECALS)
        retards = thinner.is_a(ThinnerRole.RETARDS) and not k.thinners[lacking].is_a(ThinnerRole.RETARDS)
        if k.thinners[lacking].is_a(ThinnerRole.HARDENS) or thinner.is_a(ThinnerRole.HARDENS):
            continue  # a hardener is its paint's own
        if thinner.id == lacking or retards or softens != k.thinners[lacking].is_a(ThinnerRole.SOFTENS_DECALS):
            continue
        parts = [
            p.model_dump(mode="json") | ({"material": thinner.id} if p.material == lacking else {}) for p in mix.parts
        ]
        edit = SetField(step_id=step.id, field="mix", value={"parts": parts})
        unlike = _unlike(k, blend_of(thinner), blend_of(k.thinners[lacking]))
        if thinner.id in {*k.system_of(step.material).milder_thinners, k.coats[step.material].thin_with}:
            unlike = 0.0  # what people who use this paint have on the shelf
        offered.append((thinner.name, "thinner", [edit], unlike))
    return offered


def _substitute(
    k: Knowledge, changed: Plan, now: CoatStep, title: str, kind: str, edits: list[AnyEdit],
    before: Assessment, zones: list[str], doubt: str,
) -> Substitute:  # fmt: skip
    after = assess(changed, zones=zones, opens=False)
    times = step_times(changed)
    c = conditions_of(changed, times, knowledge=k)
    undoing = rescue(changed, now.id, zones[0], judged_at(changed, times, now, zones[0]), c)
    mix = mix_of(k, now)
    parts = {p.material: p.role for p in mix.parts} if mix else {}
    thin = next(
        (k.thinners[m].name.lower() for m, role in parts.items() if role is Role.THINNER and m in k.thinners), ""
    )
    coat = k.coats[now.material]
    return Substitute(
        title=title,
        kind=kind,
        edits=edits_json(edits),
        mix=f"{ratio_words(mix)} with {thin}" if mix is not None and thin else "as it comes",
        before=before.score,
        after=after.score,
        windows=_windows(k, coat),
        rescue=undoing.state,
        rescue_sentence=undoing.sentence,
        changes=_changes(before, after, now.id),
        doubt=doubt,
        caution=_caution(k, coat, now),
    )


def _windows(k: Knowledge, coat: Coat) -> list[str]:
    system = k.systems[coat.system]
    changed = [f"{a.value} from {_min(w.opens[1])} to {_min(w.closes[1])}" for a, w in system.windows.items()]
    lasting = system.touch[1] < EVER_MIN
    return changed + ([f"dry to the touch in {_min(system.touch[0])} to {_min(system.touch[1])}"] if lasting else [])


def _min(minutes: float) -> str:
    if minutes < 90:
        return f"{minutes:g} min"
    if minutes >= EVER_MIN:
        return "for good"
    return f"{minutes / 60:.0f} h" if minutes < 2880 else f"{minutes / 1440:.0f} days"


def _changes(before: Assessment, after: Assessment, step_id: str) -> list[str]:
    """Seams of the step, and on it, whose verdict is another now."""
    changed = []
    for sid, seam in after.seams.items():
        was = before.seams.get(sid)
        if step_id in (seam.upper_step, seam.lower_step) and was is not None and was.verdict is not seam.verdict:
            changed.append(f"{was.verdict.value} → {seam.verdict.value}: {seam.sentence}")
    return list(dict.fromkeys(changed))[:4]


def _caution(k: Knowledge, coat: Coat, step: CoatStep) -> str:
    said = coat_cautions(k, coat, cup_of(k, step), method_of(k, step), (), 20.0, [])
    grave = [text for caution, text in said if caution in ("isocyanate", "flash", "can", "nitro")]
    return f"{grave[0]} {DEFER}" if grave else ""
