"""Ways out of a seam that is not sound: real plan edits, each tried on the plan before it is offered.

A remedy is offered only if the plan's score gets better (clashes, missed windows, waits, cautions, in that
order) and no seam becomes a clash. Deleting the step is no remedy. Where nothing helps, the answer is empty and
the caller suggests a trial on scrap.

On a long plan a try is judged on the steps up to some way past the seam; what lies further on moves along, keeps its
ages, and is judged when the remedy is looked at.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..assess import assess
from ..errors import NotThere, PlanError
from ..ids import read_seam_id, slug
from ..judging import Assessment, Remark, Score, SeamOut
from ..knowledge import Knowledge
from ..physics.blend import hot_share, lowest_flash_c
from ..physics.cup import cup_of
from ..plan import (
    AnyEdit,
    AnyStep,
    CoatStep,
    FittingStep,
    Plan,
    WorkingStep,
    apply,
    crossed,
    default_mix,
    edits_json,
    film_of,
    known_to,
    method_of,
    passes_of,
    renamed,
    step_data,
    technique_of,
)
from ..plan.edits import AddStep, MoveStep, SetField, SetZone, SplitStep
from ..vocabulary import (
    DEFER,
    BaseSurface,
    FittingAction,
    Kind,
    Method,
    Model,
    Role,
    Sheen,
    ThinnerRole,
    Trait,
    Use,
    Verdict,
    WorkAction,
)

ROUND_MIN = 5
FOR_A_CAUTION_MIN = 5 * 1440.0  # that is waited until a mended seam is sound instead of a caution
SAFE, BETTER = "Wait until it is safe", "Wait until it is no worse than a caution"
FEW_DAYS_MIN = 3 * 1440  # ways out that take as many more of these are equal in time
SETTLE_ROUNDS = 4
MOST = 7
WHOLE_UP_TO, AHEAD = 60, 8  # plans of more steps are judged up to this many past the seam


class Remedy(Model):
    """Edits that mend a seam, what they cost, and the score of the zones concerned before and after."""

    title: str
    detail: str
    edits: list[dict[str, Any]]
    added_coats: int
    added_min: float
    before: Score
    after: Score
    leaves: Verdict
    detour: int = 0
    caution: str | None = None


@dataclass(frozen=True)
class _Try:
    title: str
    edits: list[AnyEdit]
    added_coats: int = 0
    caution: str | None = None
    split_as: str | None = None
    detour: int = 0  # another order or a split is worth about as much trouble as a coat


def remedies(plan: Plan, seam_id: str, as_shown: Callable[[Plan], Plan] | None = None) -> list[Remedy]:
    """Remedies for a seam of the plan, cheapest first: fewest added coats, then least added time.

    `as_shown`: makes of a plan what is judged of it, the plan at the times of its sittings; without, the plan itself.
    Raises NotThere where the plan has no such seam.
    """
    parts = read_seam_id(seam_id)
    if parts is None:
        raise NotThere("seam", seam_id)
    zone_id = parts.zone
    zones = _concerned(plan, parts.upper, zone_id, seam_id)
    clip = _clip_at(plan, parts.upper, as_shown)
    near_before, before = assess(clip(plan), zones=[zone_id]), assess(clip(plan), zones=zones)
    seam = before.seams.get(seam_id)
    if seam is None:
        raise NotThere("seam", seam_id)
    if seam.verdict is Verdict.SOUND:
        return []
    k = known_to(plan)
    offered: list[Remedy] = []
    seen: set[str] = set()
    for attempt in _tries(k, plan, before, seam):
        # First in the seam's own zone, which is cheap; what holds there is settled and judged in all its zones.
        near = _settle(plan, attempt.edits, near_before, seam, [zone_id], clip)
        if near is None or _new_clash(near_before, near[1]) or _still(near[1], seam):
            continue
        done = near if zones == [zone_id] else _settle(plan, near[0], before, seam, zones, clip)
        if done is None:
            continue
        edits, after = done
        if not after.score.order < before.score.order or _new_clash(before, after) or _still(after, seam):
            continue
        if attempt.split_as is not None and zones == [zone_id]:
            continue
        mark = str(edits_json(edits))
        if mark in seen:
            continue
        seen.add(mark)
        added = round(after.end_min - before.end_min)
        offered.append(
            Remedy(
                title=attempt.title,
                detail=_detail(after, seam),
                edits=edits_json(edits),
                added_coats=attempt.added_coats,
                added_min=max(added, 0),
                before=before.score,
                after=after.score,
                leaves=_left(after, seam),
                detour=attempt.detour,
                caution=attempt.caution,
            )
        )
    # What only comes too early is first of all waited for, if that ends well within a few days; all else first avoided.
    soon = seam.opens_careful_min is not None and seam.opens_careful_min - seam.at_min <= FEW_DAYS_MIN
    waits = seam.verdict is Verdict.WAIT and soon and seam.eventual is Verdict.SOUND
    offered.sort(
        key=lambda r: (
            waits and not r.title.startswith("Wait"),
            r.after.order[:2],
            r.leaves.grave,
            r.added_coats + r.detour,
            r.added_min // FEW_DAYS_MIN,
            r.after.order[2:],
            r.added_min,
        )
    )
    return offered[:MOST]


Clip = Callable[[Plan], Plan]


def _clip_at(plan: Plan, upper: str, as_shown: Callable[[Plan], Plan] | None) -> Clip:
    """What of a plan is judged for a seam: all of a short one, of a long one the steps up to some way past it."""
    shown = as_shown or (lambda p: p)
    if len(plan.steps) <= WHOLE_UP_TO:
        return shown
    last = next((i for i, s in enumerate(plan.steps) if s.id == upper), 0) + AHEAD

    def clip(p: Plan) -> Plan:
        return shown(p.model_copy(update={"steps": p.steps[: last + len(p.steps) - len(plan.steps)]}))

    return clip


def _concerned(plan: Plan, upper_id: str, zone_id: str, seam_id: str) -> list[str]:
    """The zones of the seam's upper step, and of whatever acts with it."""
    upper = plan.step(upper_id)
    if upper is None or zone_id not in upper.zones:
        raise NotThere("seam", seam_id)
    zones = set(upper.zones)
    if isinstance(upper, WorkingStep) and (target := plan.step(upper.acts_on)) is not None:
        zones |= set(target.zones)
    return [z.id for z in plan.zones if z.id in zones]


def _new_clash(before: Assessment, after: Assessment) -> bool:
    for sid, seam in after.seams.items():
        was = before.seams.get(sid)
        if seam.verdict is Verdict.CLASH and (was is None or was.verdict is not Verdict.CLASH):
            return True
    clashing = {r.id for r in before.remarks if r.verdict is Verdict.CLASH}
    return any(r.verdict is Verdict.CLASH and r.id not in clashing for r in after.remarks)


def _still(after: Assessment, seam: SeamOut) -> bool:
    now = after.seams.get(seam.id)
    return now is not None and now.verdict.grave >= seam.verdict.grave


def _left(after: Assessment, seam: SeamOut) -> Verdict:
    """What is left at the seam itself; sound where the two no longer meet."""
    now = after.seams.get(seam.id)
    return Verdict.SOUND if now is None else now.verdict


def _detail(after: Assessment, seam: SeamOut) -> str:
    now = after.seams.get(seam.id)
    if now is None:
        return "The two no longer meet."
    return now.sentence if now.verdict is Verdict.SOUND else f"Leaves a {now.verdict.value}: {now.sentence}"


def _settle(
    plan: Plan, edits: list[AnyEdit], before: Assessment, seam: SeamOut, zones: list[str], clip: Clip
) -> tuple[list[AnyEdit], Assessment] | None:
    """Applies a try, then gives each changed or added step the wait that its own seams ask for."""
    touched = {e.step_id for e in edits if isinstance(e, SetField | MoveStep)}
    touched |= {e.step.id for e in edits if isinstance(e, AddStep)}
    touched |= {e.new_id for e in edits if isinstance(e, SplitStep)}
    touched.add(seam.upper_step)
    try:
        changed, _ = apply(plan, edits)
    except PlanError:
        return None
    if crossed(plan, changed, edits):
        return None  # nobody would: a mask under what it protects, paint under its medium
    edits = list(edits)
    after = assess(clip(changed), zones=zones)
    for _ in range(SETTLE_ROUNDS):
        waits = _waits(after, before, touched, seam.id)
        if not waits:
            return edits, after
        for step_id, until in waits.items():
            step = changed.step(step_id)
            if step is None or step.fixed_start is not None:
                return None
            extra = until - after.times[step_id].start_min
            wait = ROUND_MIN * -(-(step.wait_min + extra + 0.5) // ROUND_MIN)
            more: AnyEdit = SetField(step_id=step_id, field="wait_min", value=wait)
            try:
                changed, _ = apply(changed, [more])
            except PlanError:
                return None
            edits = [
                e for e in edits if not (isinstance(e, SetField) and e.field == "wait_min" and e.step_id == step_id)
            ]
            edits.append(more)
            break  # later steps move with the first one: look again
        after = assess(clip(changed), zones=zones)
    return edits, after


def _waits(after: Assessment, before: Assessment, touched: set[str], mended: str) -> dict[str, float]:
    """Steps that should start later, and when: those that were touched, or that the change made worse.

    A caution is waited out only at the seam that is to be mended, and not for weeks.
    """
    wanted: dict[str, float] = {}
    for seam in after.seams.values():
        was = before.seams.get(seam.id)
        if seam.opens_careful_min is None or seam.verdict is Verdict.SOUND:
            continue
        new = was is not None and was.verdict is Verdict.SOUND
        soon = seam.id == mended and seam.opens_careful_min - seam.at_min <= FOR_A_CAUTION_MIN
        if seam.verdict is Verdict.CAUTION and not new and not soon:
            continue
        if seam.upper_step in touched or was is None or seam.verdict.grave > was.verdict.grave:
            wanted[seam.upper_step] = max(wanted.get(seam.upper_step, 0.0), seam.opens_careful_min)
    order = sorted(wanted, key=lambda s: after.times[s].start_min)
    return {s: wanted[s] for s in order}


def _tries(k: Knowledge, plan: Plan, before: Assessment, seam: SeamOut) -> Iterator[_Try]:
    upper = plan.step(seam.upper_step)
    assert upper is not None
    if seam.opens_careful_min is not None and upper.fixed_start is None:
        yield _wait(upper, before, seam.opens_careful_min, SAFE if seam.eventual is Verdict.SOUND else BETTER)
        if seam.opens_best_min is not None and seam.opens_best_min < seam.opens_careful_min - 60:
            yield _wait(upper, before, seam.opens_best_min + 1, "Wait to the best guess, then test it")
    if isinstance(upper, WorkingStep):
        yield from _for_work(k, plan, before, upper, seam)
        return
    if not isinstance(upper, CoatStep):
        yield from _touch_sooner(plan, upper, seam)
        return
    yield from _cooler(upper)
    yield from _prepared_base(k, plan, seam)
    yield from _primed(k, plan, seam)
    yield from _milder_thinner(k, upper)
    yield from _thinner_film(k, upper)
    yield from _lighter_method(k, upper)
    yield from _other_system(k, upper, "instead")
    yield from _barrier(k, plan, upper, seam)
    yield from _gloss_first(k, plan, upper, seam)
    yield from _other_order(plan, upper, seam)
    yield from _split_off(plan, upper, seam)


def _wait(upper: AnyStep, before: Assessment, until: float, title: str) -> _Try:
    extra = max(until - before.times[upper.id].start_min, 0)
    wait = ROUND_MIN * -(-(upper.wait_min + extra) // ROUND_MIN)
    return _Try(title, [SetField(step_id=upper.id, field="wait_min", value=wait)])


def _milder_thinner(k: Knowledge, upper: CoatStep) -> Iterator[_Try]:
    if upper.mix is None:
        return
    for thinner in k.system_of(upper.material).milder_thinners:
        parts = [
            p.model_dump(mode="json") | ({"material": thinner} if p.role is Role.THINNER else {})
            for p in upper.mix.parts
        ]
        if parts != [p.model_dump(mode="json") for p in upper.mix.parts]:
            name = k.thinners[thinner].name
            yield _Try(
                f"Thin it with {name[0].lower()}{name[1:]}",
                [SetField(step_id=upper.id, field="mix", value={"parts": parts})],
            )


def _lighter_method(k: Knowledge, upper: CoatStep) -> Iterator[_Try]:
    passes = passes_of(k, upper)
    if method_of(k, upper) in (Method.WET_SPRAY, Method.SPRAY) and passes < 12:
        yield _Try(
            "Mist it on, in twice the passes",
            [
                SetField(step_id=upper.id, field="method", value="mist"),
                SetField(step_id=upper.id, field="passes", value=passes * 2),
            ],
        )


def _touch_sooner(plan: Plan, upper: AnyStep, seam: SeamOut) -> Iterator[_Try]:
    """Handling and masking before what must not be touched goes on."""
    ids = [s.id for s in plan.steps]
    if seam.lower_step is not None:
        lower = plan.step(seam.lower_step)
        assert lower is not None
        yield _Try(
            f"Before “{lower.name}”", [MoveStep(step_id=upper.id, to_index=ids.index(seam.lower_step))], detour=1
        )


def _cooler(upper: CoatStep) -> Iterator[_Try]:
    """Warm air at the most that plastics bear."""
    if any((a.temp_c or 0) > MOST_WARM_C for a in upper.aids):
        aids = [
            a.model_dump(mode="json", exclude_unset=True) | {"temp_c": min(a.temp_c or MOST_WARM_C, MOST_WARM_C)}
            for a in upper.aids
        ]
        yield _Try("40 °C at the part, no more", [SetField(step_id=upper.id, field="aids", value=aids)])


MOST_WARM_C = 40.0


def _prepared_base(k: Knowledge, plan: Plan, seam: SeamOut) -> Iterator[_Try]:
    """What the base material asks for before any paint: washing, post-curing, a metal primer."""
    zone = next(z for z in plan.zones if z.id == seam.zone_id)
    base = k.substrates[plan.base_of(zone)]
    if seam.lower_step is not None:
        return
    if base.prepared_as is not None:
        zones = [z for z in plan.zones if plan.base_of(z) == base.id]
        edits: list[AnyEdit] = [SetZone(zone=z.model_copy(update={"base_material": base.prepared_as})) for z in zones]
        yield _Try(base.prepare, edits)
    if base.surface is BaseSurface.BARE_METAL:
        upper = plan.step(seam.upper_step)
        assert isinstance(upper, CoatStep)
        primer = k.usual(Trait.KEYS_METAL, Use.PRIMER)
        step = CoatStep(
            id=slug(primer.name, {s.id for s in plan.steps}), name=primer.name, zones=list(upper.zones),
            material=primer.id, hands_on_min=20,
        )  # fmt: skip
        at = [s.id for s in plan.steps].index(upper.id)
        yield _Try("Metal primer below", [AddStep(step=step, index=at)], added_coats=1)


def _primed(k: Knowledge, plan: Plan, seam: SeamOut) -> Iterator[_Try]:
    """A primer on every face first, one that the bare material bears: what keeps spirit out of joints."""
    upper = plan.step(seam.upper_step)
    if seam.lower_step is not None or not isinstance(upper, CoatStep) or k.coats[upper.material].use is Use.PRIMER:
        return
    at = [s.id for s in plan.steps].index(upper.id)
    for primer in k.coats.values():
        if primer.use is Use.PRIMER and not primer.own and not k.is_unknown(primer):
            step = CoatStep(
                id=slug(primer.name, {s.id for s in plan.steps}), name=f"{primer.name}, on every face",
                zones=list(upper.zones), material=primer.id, mix=default_mix(k, primer.id), passes=primer.passes,
                hands_on_min=20,
            )  # fmt: skip
            yield _Try(f"{primer.name} on every face first", [AddStep(step=step, index=at)], added_coats=1)


def _thinner_film(k: Knowledge, upper: CoatStep) -> Iterator[_Try]:
    """Half the film, so that it is wet for a shorter time; its passes stay."""
    film = film_of(k, upper)
    if film >= 6:
        yield _Try("Lay it half as thick", [SetField(step_id=upper.id, field="dry_film_um", value=round(film / 2, 1))])


def _gloss_first(k: Knowledge, plan: Plan, upper: CoatStep, seam: SeamOut) -> Iterator[_Try]:
    """Where only the sheen below is wrong: the clear that lies there, in gloss."""
    lower = plan.step(seam.lower_step) if seam.lower_step else None
    if (
        seam.kind is not Kind.LOOK
        or not isinstance(lower, CoatStep)
        or Sheen.GLOSS not in k.coats[lower.material].sheens
    ):
        return
    if (lower.sheen or k.coats[lower.material].sheen) is not Sheen.GLOSS:
        yield _Try(f"“{lower.name}” in gloss", [SetField(step_id=lower.id, field="sheen", value="gloss")])


def _other_order(plan: Plan, upper: CoatStep, seam: SeamOut) -> Iterator[_Try]:
    """The two the other way round: what must not be covered, after what covers it, with the work that acts on it."""
    if seam.lower_step is None:
        return
    ids = [s.id for s in plan.steps]
    at = ids.index(upper.id)
    lower = plan.step(seam.lower_step)
    assert lower is not None
    group = [lower.id] + [s.id for s in plan.steps[:at] if isinstance(s, WorkingStep) and s.acts_on == lower.id]
    if any(s not in lower.zones for s in upper.zones) and len(upper.zones) > 1:
        return
    edits: list[AnyEdit] = [MoveStep(step_id=s, to_index=at) for s in group]
    yield _Try(f"“{lower.name}” after it", edits, detour=1)


def _split_off(plan: Plan, upper: CoatStep, seam: SeamOut) -> Iterator[_Try]:
    """Where only some zones clash: these apart and later, the others as they are."""
    if len(upper.zones) < 2 or seam.opens_careful_min is None or upper.fixed_start is not None:
        return
    new_id = slug(f"{upper.name}-apart"[:24], {s.id for s in plan.steps})
    zone = next(z.name for z in plan.zones if z.id == seam.zone_id)
    split = SplitStep(step_id=upper.id, zones=[seam.zone_id], new_id=new_id)
    yield _Try(f"{zone} apart, later", [split], split_as=new_id, detour=1)


def _other_system(k: Knowledge, upper: CoatStep, word: str) -> Iterator[_Try]:
    """The same coat in another paint system: same use, colour, sheen and film."""
    here = k.coats[upper.material]
    for coat in k.coats.values():
        if coat.system == here.system or not k.stands_in(coat, here):
            continue
        if upper.sheen is not None and here.sheens and upper.sheen not in (coat.sheens or [coat.sheen]):
            continue
        edits: list[AnyEdit] = [SetField(step_id=upper.id, field="material", value=coat.id)]
        mix = default_mix(k, coat.id)
        if mix is None:
            edits.append(SetField(step_id=upper.id, field="mix", absent=True))
        else:
            edits.append(SetField(step_id=upper.id, field="mix", value=mix.model_dump(mode="json")))
        edits += renamed(upper, here, coat)
        yield _Try(f"{coat.name} {word}", edits, caution=_caution(k, upper, coat.id))


def _caution(k: Knowledge, now: CoatStep, material: str) -> str | None:
    """What to say where a remedy brings a carrier that is more dangerous than the one it replaces."""
    new = cup_of(k, CoatStep(id="x", name="x", zones=["x"], material=material)).carrier
    was, is_now = lowest_flash_c(k, cup_of(k, now).carrier), lowest_flash_c(k, new)
    hotter = hot_share(k, new) > hot_share(k, cup_of(k, now).carrier) + 0.1
    if hotter or (is_now is not None and (was is None or is_now < was - 5)):
        return f"A stronger or more flammable carrier than now: extraction, a mask, no flame. {DEFER}"
    return None


def _barrier(k: Knowledge, plan: Plan, upper: CoatStep, seam: SeamOut) -> Iterator[_Try]:
    """A clear of another system just below the upper coat, in all its zones."""
    at = next(i for i, s in enumerate(plan.steps) if s.id == upper.id)
    taken = {s.id for s in plan.steps}
    lower = plan.step(seam.responsible) if seam.responsible else None
    lower_system = k.system_of(lower.material).id if isinstance(lower, CoatStep) else ""
    for coat in k.coats_with(Trait.BARRIER):
        if coat.system == lower_system:
            continue
        mix = default_mix(k, coat.id)
        step = CoatStep(
            id=slug("barrier-clear", taken),
            name=f"Satin {coat.name.lower()}, barrier",
            zones=list(upper.zones),
            material=coat.id,
            method=Method.SPRAY,
            mix=mix,
            passes=2,
            sheen=Sheen.GLOSS if k.coats[upper.material].use is Use.MARKING else Sheen.SATIN,
            wait_min=30,
            hands_on_min=20,
        )
        yield _Try(f"{coat.name} between", [AddStep(step=step, index=at)], added_coats=1)


def _medium_below(k: Knowledge, plan: Plan, target: CoatStep) -> _Try:
    """A chipping medium right under the coat that is to be chipped."""
    medium = k.usual(Trait.CHIPPING)
    step = CoatStep(
        id=slug(medium.name, {s.id for s in plan.steps}), name=medium.name, zones=list(target.zones),
        material=medium.id, hands_on_min=15, wait_min=target.wait_min,
    )  # fmt: skip
    at = [s.id for s in plan.steps].index(target.id)
    dry: AnyEdit = SetField(step_id=target.id, field="wait_min", value=20)
    return _Try(f"{medium.name} under it", [AddStep(step=step, index=at), dry], added_coats=1)


def _for_work(k: Knowledge, plan: Plan, before: Assessment, upper: WorkingStep, seam: SeamOut) -> Iterator[_Try]:
    target = plan.step(upper.acts_on)
    if not isinstance(target, CoatStep):
        return
    if seam.missed and seam.closes is not None and seam.closes.early is not None:
        room = seam.closes.early - upper.hands_on_min - before.times[target.id].end_min
        if room > 0:
            wait = max(min(ROUND_MIN * (room // ROUND_MIN), upper.wait_min), 0)
            yield _Try("Work it sooner, while it is open", [SetField(step_id=upper.id, field="wait_min", value=wait)])
    ids = [s.id for s in plan.steps]
    if ids.index(upper.id) > ids.index(target.id) + 1:  # earlier, before what covers it
        move = MoveStep(step_id=upper.id, to_index=ids.index(target.id) + 1)
        yield _Try(f"Right after “{target.name}”", [move])
    if upper.action is WorkAction.CHIP:
        yield _medium_below(k, plan, target)
        yield from _other_system(k, target, "for the coat to be chipped")
        if target.dry_film_um is not None and target.dry_film_um > 12:
            yield _Try("Lay it thinner", [SetField(step_id=target.id, field="dry_film_um", value=10)])
    if upper.carrier is not None:
        for carrier in k.thinners_that(ThinnerRole.WIPES):
            if carrier.id != upper.carrier:
                edit = SetField(step_id=upper.id, field="carrier", value=carrier.id)
                yield _Try(f"Work it with {carrier.name.lower()}", [edit])


# --- remarks -----------------------------------------------------------------------------------------------


def remark_remedies(plan: Plan, remark_id: str) -> list[Remedy]:
    """Remedies for a remark on a step, each tried on the plan. Raises NotThere where the plan has no such remark."""
    before = assess(plan)
    remark = next((r for r in before.remarks if r.id == remark_id), None)
    if remark is None:
        raise NotThere("remark", remark_id)
    k = known_to(plan)
    offered: list[Remedy] = []
    for attempt in _for_remark(k, plan, remark):
        try:
            changed, _ = apply(plan, attempt.edits)
        except PlanError:
            continue
        if crossed(plan, changed, attempt.edits):
            continue
        after = assess(changed)
        gone = all(r.id != remark_id or r.verdict.grave < remark.verdict.grave for r in after.remarks)
        if not gone or _new_clash(before, after) or after.score.order > before.score.order:
            continue
        offered.append(
            Remedy(
                title=attempt.title,
                detail="What was said of this step is settled by it.",
                edits=edits_json(attempt.edits),
                added_coats=0,
                added_min=max(round(after.end_min - before.end_min), 0),
                before=before.score,
                after=after.score,
                leaves=Verdict.SOUND,
            )
        )
    return offered


def _for_remark(k: Knowledge, plan: Plan, remark: Remark) -> Iterator[_Try]:
    step = plan.step(remark.step_id)
    assert step is not None
    if isinstance(step, CoatStep) and remark.kind is Kind.MIX:
        yield from _usual_mix(k, step)
    if isinstance(step, CoatStep) and remark.code == "carrier":
        yield from _other_system(k, step, "instead")
    if isinstance(step, CoatStep) and remark.code == "budget":
        yield from _thinner_film(k, step)
    if remark.code == "mask_on":
        off = FittingStep(
            id=slug("unmask", {s.id for s in plan.steps}), name="Take the mask off", zones=list(step.zones),
            action=FittingAction.UNMASK, wait_min=40, hands_on_min=10,
        )  # fmt: skip
        after = _next_coat(plan, step)
        yield _Try("Take the mask off after the next coat", [AddStep(step=off, index=after + 1)])
    if remark.code == "mask_long":
        yield _Try("Take it off after 40 minutes", [SetField(step_id=step.id, field="wait_min", value=40)])
    if remark.code in ("closed", "part_on") or remark.code.startswith("order"):
        at = [s.id for s in plan.steps].index(step.id)
        for to in range(at - 1, -1, -1):
            if set(plan.steps[to].zones) & set(step.zones) or remark.code == "closed":
                yield _Try(f"Before “{plan.steps[to].name}”", [MoveStep(step_id=step.id, to_index=to)], detour=1)


def _usual_mix(k: Knowledge, step: CoatStep) -> Iterator[_Try]:
    technique = technique_of(k, step)
    if technique is not None and (t := technique.main_template) is not None and t.material == step.material:
        data = step_data(k, technique, t)
        fields = {f: data[f] for f in ("mix", "dry_film_um") if f in data}
        yield _Try("Mix it to the recipe", [SetField(step_id=step.id, field=f, value=v) for f, v in fields.items()])
    mix = default_mix(k, step.material)
    if mix is not None:
        value = mix.model_dump(mode="json")
        yield _Try("Mix it as usual", [SetField(step_id=step.id, field="mix", value=value)])
    elif step.mix is not None:
        yield _Try("Use it as it comes", [SetField(step_id=step.id, field="mix", absent=True)])


def _next_coat(plan: Plan, step: AnyStep) -> int:
    """The index of the first coat after a step in one of its zones, or of the last step there."""
    at = [s.id for s in plan.steps].index(step.id)
    for i in range(at + 1, len(plan.steps)):
        if isinstance(plan.steps[i], CoatStep) and set(plan.steps[i].zones) & set(step.zones):
            return i
    return at
