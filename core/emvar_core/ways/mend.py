"""Mending a whole plan, making a series of effects undoable, and telling versions of a plan apart."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..assess import assess
from ..errors import PlanError
from ..ids import slug
from ..judging import Assessment, Score, conditions_of
from ..judging.stack import Times
from ..knowledge import Knowledge
from ..plan import (
    AnyEdit,
    CoatStep,
    Plan,
    apply,
    coverage_of,
    default_mix,
    edits_json,
    film_of,
    known_to,
    parse_edits,
    step_times,
)
from ..plan.edits import AddStep, SetField
from ..seams.situation import STREWN
from ..vocabulary import COVERS, Method, Model, Rescued, Sheen, Trait, Use, Verdict
from .remedies import remark_remedies, remedies
from .rescue import rescue

MOST_ROUNDS = 24
# Told how many seams or effects were looked at; False: look at no more.
GoOn = Callable[[int], bool]
SEEN_MIN, FRESH_MIN = 30.0, 5.0  # after laying: when an effect is looked at; a chip of paint is wiped off at once
WORTH_UNDOING = (Use.EFFECT, Use.PASTE, Use.FIXER)  # uses whose coats one wants to be able to take off again


def _worth_undoing(k: Knowledge, step: CoatStep) -> bool:
    """Effects, pastes and fixers, and marks of paint: chips, dry brush."""
    coat = k.coats[step.material]
    return coat.use in WORTH_UNDOING or (coat.use is Use.COLOUR and coverage_of(step, coat) < STREWN)


class Made(Model):
    """One change that was made, and for what."""

    title: str
    what_for: str


class Version(Model):
    """A plan as it would be: the edits that lead to it, what it costs, and what is left."""

    title: str
    edits: list[dict[str, Any]]
    made: list[Made]
    left: list[str]
    before: Score
    after: Score
    added_coats: int
    added_min: float
    thickest_um: float


def thickest_um(plan: Plan) -> float:
    """The thickest stack of covering coats over all zones, µm."""
    k = known_to(plan)
    films = dict.fromkeys((z.id for z in plan.zones), 0.0)
    for step in plan.steps:
        if isinstance(step, CoatStep):
            coat = k.coats[step.material]
            for zone in step.zones:
                covered = coverage_of(step, coat, zone)
                films[zone] += film_of(k, step) * (1.0 if covered > COVERS else covered)
    return round(max(films.values(), default=0.0), 1)


def _coats(plan: Plan) -> int:
    return sum(isinstance(s, CoatStep) for s in plan.steps)


def _version(
    title: str, plan: Plan, now: Plan, edits: list[dict[str, Any]], made: list[Made], left: list[str],
    before: Assessment, after: Assessment,
) -> Version:  # fmt: skip
    return Version(
        title=title,
        edits=edits,
        made=made,
        left=left,
        before=before.score,
        after=after.score,
        added_coats=_coats(now) - _coats(plan),
        added_min=round(after.end_min - before.end_min),
        thickest_um=thickest_um(now),
    )


def to_the_end(looked_at: int) -> bool:
    """Goes on until everything was looked at."""
    return True


def mend(plan: Plan, go_on: GoOn = to_the_end) -> Version:
    """A whole set of remedies for all clashes, missed windows and waits, the gravest first.

    Each is the best that was found for its seam at that point; `left` names what could not be mended. `go_on` is
    asked before each seam; where it says no, what was found so far is given, and `left` says so.
    """
    before = now = assess(plan)
    current, edits, made = plan, list[dict[str, Any]](), list[Made]()
    tried: set[str] = set()
    late = False
    for looked_at in range(MOST_ROUNDS):
        bad = [
            s
            for s in now.stories
            if (s.verdict in (Verdict.CLASH, Verdict.WAIT) or s.missed) and (s.remark or s.seams[0]) not in tried
        ]
        if not bad or (late := not go_on(looked_at)):
            break
        story = bad[0]
        key = story.remark or story.seams[0]
        version = remark_remedies(current, story.remark) if story.remark else remedies(current, story.seams[0])
        step = current.step(story.upper_step)
        assert step is not None
        taken = False
        for remedy in version:
            try:
                changed, _ = apply(current, parse_edits(remedy.edits))
            except PlanError:
                continue
            after = assess(changed)
            if after.score.order < now.score.order:
                current, now, taken = changed, after, True
                edits += remedy.edits
                made.append(Made(title=remedy.title, what_for=f"{step.name}: {story.word}"))
                break
        if not taken:
            tried.add(key)
    left = [
        f"{step.name}: {s.word}"
        for s in now.stories
        if s.verdict in (Verdict.CLASH, Verdict.WAIT) and (step := current.step(s.upper_step)) is not None
    ]
    return _version("Mended", plan, current, edits, made, [*_late(late), *left], before, now)


def _late(late: bool) -> list[str]:
    """The first words of an answer that did not look at everything."""
    return ["Stopped before everything was looked at; keep this, and ask again for the rest"] if late else []


def mended_and_undoable(plan: Plan, go_on: GoOn = to_the_end) -> Version:
    """The plan mended first, then made undoable, as one version; what was looked at is counted through both."""
    seams = 0

    def first_go_on(looked_at: int) -> bool:
        nonlocal seams
        seams = looked_at + 1
        return go_on(looked_at)

    first = mend(plan, first_go_on)
    between, _ = apply(plan, parse_edits(first.edits))
    second = make_undoable(between, lambda looked_at: go_on(seams + looked_at))
    now, _ = apply(between, parse_edits(second.edits))
    return _version(
        "With a way back", plan, now, first.edits + second.edits, first.made + second.made,
        list(dict.fromkeys(first.left + second.left)), assess(plan), assess(now),
    )  # fmt: skip


class Undoable(Model):
    """Whether a coat can come off clean just before the next thing is done to its zone."""

    step_id: str
    zone_id: str
    state: Rescued
    sentence: str


def undoable_states(plan: Plan) -> list[Undoable]:
    """Each effect of the plan, and whether it comes off clean at the end of its own step, in each of its zones."""
    k = known_to(plan)
    times = step_times(plan)
    c = conditions_of(plan, times, knowledge=k)
    states = []
    for step in plan.steps:
        if not isinstance(step, CoatStep) or step.existing is not None or not _worth_undoing(k, step):
            continue
        for zone in step.zones:
            undoing = rescue(plan, step.id, zone, judged_at(plan, times, step, zone), c)
            states.append(Undoable(step_id=step.id, zone_id=zone, state=undoing.state, sentence=undoing.sentence))
    return states


def judged_at(plan: Plan, times: Times, step: CoatStep, zone: str) -> float:
    """When one looks at an effect and might want it off: once it can be seen, before anything else goes over it."""
    ended = times[step.id].end_min
    after = [
        times[s.id].start_min
        for s in plan.steps
        if zone in s.zones and times[s.id].start_min >= ended and isinstance(s, CoatStep) and s.id != step.id
    ]
    paint = known_to(plan).coats[step.material].use is Use.COLOUR
    return min([ended + (FRESH_MIN if paint else SEEN_MIN), *after])


def make_undoable(plan: Plan, go_on: GoOn = to_the_end) -> Version:
    """The fewest clears, or waits, that let each effect come off without touching what lies below it.

    An effect that its rescue would hurt gets a clear of another system below it; one in the same system as the effect
    below it only has to wait where waiting is enough. `left` names what stays stuck. `go_on` is asked
    before each effect; where it says no, what was found so far is given, and `left` says so.
    """
    late = False
    before = assess(plan)
    current, edits, made = plan, list[dict[str, Any]](), list[Made]()
    stuck: set[str] = set()
    for looked_at in range(MOST_ROUNDS):
        bad = [u for u in undoable_states(current) if u.state is not Rescued.CLEAN and u.step_id not in stuck]
        if not bad or (late := not go_on(looked_at)):
            break
        step = current.step(bad[0].step_id)
        assert isinstance(step, CoatStep)
        done = _free(current, step)
        if done is None:
            stuck.add(step.id)
            continue
        current, more, title = done
        edits += more
        made.append(Made(title=title, what_for=f"so that “{step.name}” comes off clean"))
    names = {s.id: s.name for s in current.steps}
    left = sorted(
        {f"{names[u.step_id]}: {u.sentence}" for u in undoable_states(current) if u.state is not Rescued.CLEAN}
    )
    told = [*_late(late), *left]
    return _version("With a way back", plan, current, edits, made, told, before, assess(current))


def _clean(plan: Plan, step_id: str) -> bool:
    return all(u.state is Rescued.CLEAN for u in undoable_states(plan) if u.step_id == step_id)


def _free(plan: Plan, step: CoatStep) -> tuple[Plan, list[dict[str, Any]], str] | None:
    """The cheapest change after which an effect comes off clean: a wait of up to some days, else a clear below it."""
    was = assess(plan)
    for days in (1, 2, 4, 7):
        edit: AnyEdit = SetField(step_id=step.id, field="wait_min", value=step.wait_min + days * 1440)
        tried = _tried(plan, [edit], was)
        if tried is not None and _clean(tried, step.id):
            return tried, edits_json([edit]), f"Wait {days} day{'s' if days > 1 else ''} more before it"
    k = known_to(plan)
    at = [s.id for s in plan.steps].index(step.id)
    for coat in k.coats_with(Trait.KEEPS_WAY_BACK):
        material = coat.id
        clear = CoatStep(
            id=slug("clear-below", {s.id for s in plan.steps}),
            name=f"{coat.name} below {step.name}"[:110],
            zones=list(step.zones),
            material=material,
            method=Method.MIST,
            mix=default_mix(k, material),
            passes=3,
            dry_film_um=8,
            sheen=Sheen.SATIN,
            wait_min=1440,
            hands_on_min=20,
        )
        for below, above in ((1440, 1440), (4320, 2880), (10080, 4320)):
            edits: list[AnyEdit] = [
                AddStep(step=clear.model_copy(update={"wait_min": float(below)}), index=at),
                SetField(step_id=step.id, field="wait_min", value=max(step.wait_min, above)),
            ]
            tried = _tried(plan, edits, was)
            if tried is not None and _clean(tried, step.id):
                return tried, edits_json(edits), f"{coat.name}, misted, below it"
    return None


def _tried(plan: Plan, edits: list[AnyEdit], was: Assessment) -> Plan | None:
    """The plan with the edits, unless they do not fit or make something clash that did not."""
    try:
        changed, _ = apply(plan, edits)
    except PlanError:
        return None
    now = assess(changed)
    if now.score.clashes + now.score.missed > was.score.clashes + was.score.missed:
        return None
    return changed


__all__ = ["Made", "Undoable", "Version", "make_undoable", "mend", "thickest_um", "undoable_states"]
