"""The API of what was learned: figures from observations, what was done last time, trials, and doing it again."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from builds import store as builds
from builds.models import Build
from django.http import HttpRequest
from emvar_core.at_the_bench import earlier_builds
from emvar_core.at_the_bench.earlier_builds import AIMS, LastTime, Past, TrialAim, TrialTold
from emvar_core.at_the_bench.learning import LearntFigure, Quantity, Seen, learn, prior_words
from emvar_core.errors import NotThere
from emvar_core.ids import slug
from emvar_core.knowledge import knowledge
from emvar_core.plan import CoatStep, Plan, WorkingStep, known_to
from emvar_core.plan.own import Learned
from emvar_core.plan.steps import AnyStep
from journal import store as journal
from journal.clock import CLOCK
from journal.models import JournalEntry, Learning
from ninja import Router, Schema
from pydantic import Field

from .answers import Problems, answer
from .builds_at_times import plan_of

router = Router()
MOST_BUILDS = 200


class LearntOut(Schema):
    """What was learned of a paint or system, in words and figures; `used`: the factor that this build goes by."""

    id: str
    name: str
    is_system: bool
    figure: LearntFigure
    bench: str
    since: datetime | None
    used: float | None
    here: bool
    words: str


class LearnedAll(Schema):
    """All that was learned, how wide the prior is, and from how many builds."""

    prior: str
    builds: int
    observations: int
    figures: list[LearntOut]


class KeepIn(Schema):
    """What is said of what was learned: for which bench it holds (none: all), or that it starts anew now."""

    id: str = Field(max_length=120)
    bench: str = Field("", max_length=80)
    reset: bool = False


class AgainIn(Schema):
    """Steps of a build to be repeated in another one, after its last step in these zones, as they were really done."""

    source: str = Field(max_length=40)
    steps: list[str] = Field(max_length=200)
    zones: list[str] = Field(max_length=64)


class AgainOut(Schema):
    """The edits that repeat them."""

    label: str
    edits: list[dict[str, Any]]


def pasts(only: str | None = None) -> list[Past]:
    """Builds with a journal, the last written first."""
    ids = list(JournalEntry.objects.values_list("build", flat=True).distinct()[:MOST_BUILDS])
    chosen = Build.objects.filter(pk__in=[only] if only else ids)
    return [Past(b.pk, b.name, builds.plan_of(b), journal.entries(b.pk)) for b in chosen]


def _counted(past: Past, quantity: Quantity, said: dict[str, Learning], bench: str) -> list[Seen]:
    """Observations of a build, without those from before a reset, and without those kept for another bench."""

    def counts(seen: Seen, at: datetime | None) -> bool:
        for of in (seen.paint, seen.system):
            rule = said.get(f"{quantity.value}~{of}")
            if rule is None:
                continue
            if rule.since is not None and (at is None or at < rule.since):
                return False
            if rule.bench and bench and rule.bench != bench:
                return False
        return True

    return [seen for seen, at in earlier_builds.observations(past, quantity) if counts(seen, at)]


@router.get("/learned", response=LearnedAll)
def read_learned(request: HttpRequest, build: str = "") -> Any:
    """What observations have taught, and what of it a build goes by."""
    k = knowledge()
    all_pasts, said = pasts(), {row.pk: row for row in Learning.objects.all()}
    used: dict[tuple[str, str], float] = {}
    if build:
        used = {(x.quantity, x.of): x.factor for x in plan_of(build).learned}
        k = known_to(plan_of(build))
    figures, count = [], 0
    for quantity in Quantity:
        seen = [s for past in all_pasts for s in _counted(past, quantity, said, build)]
        count += len(seen)
        for of, figure in learn(seen, quantity).items():
            rule = said.get(f"{quantity.value}~{of}")
            system = k.systems.get(of)
            name = system.name if system is not None else k.coats[of].name if of in k.coats else of
            figures.append(
                LearntOut(
                    id=f"{quantity.value}~{of}", name=name, is_system=system is not None, figure=figure,
                    bench=rule.bench if rule else "", since=rule.since if rule else None,
                    used=used.get((quantity.value, of)), here=not rule or not rule.bench or rule.bench == build,
                    words=_words(name, quantity, figure),
                )
            )  # fmt: skip
    return LearnedAll(prior=prior_words(), builds=len(all_pasts), observations=count, figures=figures)


def _words(name: str, quantity: Quantity, f: LearntFigure) -> str:
    off = f.factor - 1
    slow, quick, same = {
        Quantity.DRYING: ("dries more slowly than what ships says", "dries more quickly than what ships says",
                          "dries as what ships says"),
        Quantity.VISCOSITY: ("comes out thicker than computed", "comes out thinner than computed",
                             "is as thick as computed"),
        Quantity.PACE: ("takes you longer than planned", "takes you less time than planned",
                        "takes you as long as planned"),
        Quantity.COATS: ("takes more passes than planned", "takes fewer passes than planned",
                         "takes as many passes as planned"),
    }[quantity]  # fmt: skip
    counts = [
        f"{n} observation{'s' if n != 1 else ''} of {what}"
        for n, what in ((f.own, "its own"), (f.kin, "its kin" if f.own else "its paints"))
        if n
    ]
    said = same if abs(off) < 0.03 else f"{slow if off > 0 else quick}, by {abs(off) * 100:.0f} %"
    return f"{name} {said} (×{f.low:.2f} to ×{f.high:.2f}); from {' and '.join(counts)}."


@router.post("/learned", response={200: LearnedAll, 422: Problems})
def keep_learned(request: HttpRequest, body: KeepIn, build: str = "") -> Any:
    """Keeps what was learned for one bench only, or for all; or begins anew, from now on."""
    since = CLOCK.now() if body.reset else None
    row = Learning.objects.filter(pk=body.id).first() or Learning(pk=body.id)
    row.bench = body.bench
    row.since = since or row.since
    row.save()
    return read_learned(request, build)


@router.get("/builds/{build_id}/learned-edits", response={200: AgainOut, 404: Problems})
def learned_edits(request: HttpRequest, build_id: str) -> Any:
    """The edit by which a build goes by all that was learned and holds here; it can be undone like any other."""
    told = read_learned(request, build_id)
    use = [
        Learned(of=x.figure.of, quantity=x.figure.quantity.value, factor=x.figure.factor, sd=x.figure.sd,
                seen=x.figure.own + x.figure.kin)
        for x in told.figures
        if x.here and x.figure.quantity in (Quantity.DRYING, Quantity.VISCOSITY)
    ]  # fmt: skip
    edit = {"edit": "set_learned", "learned": [x.model_dump(mode="json") for x in use]}
    return AgainOut(label="Go by what was learned", edits=[edit])


@router.get("/last", response=list[LastTime])
def read_last(request: HttpRequest, material: str = "", technique: str = "", but: str = "") -> Any:
    """What was done before with a paint or by a technique, the last first; `but`: another build than this."""
    found = earlier_builds.done_before((p for p in pasts() if p.build != but), material or None, technique or None)
    return answer(list[LastTime], found[:10])


class TrialsOut(Schema):
    """What a trial can be for, and the trials that were made of this before."""

    aims: list[TrialAim]
    made: list[TrialTold]


@router.get("/trials", response=TrialsOut)
def read_trials(request: HttpRequest, material: str = "", technique: str = "") -> Any:
    """Trials of a paint, or of a technique, in any build."""
    made = earlier_builds.trials(pasts(), material or None, technique or None)
    return TrialsOut(aims=AIMS, made=made[:20])


@router.post("/builds/{build_id}/again", response={200: AgainOut, 404: Problems, 422: Problems})
def again(request: HttpRequest, build_id: str, body: AgainIn) -> Any:
    """The edits that repeat steps of another build here, with mixes, pressures and passes as they really were."""
    plan, source = plan_of(build_id), plan_of(body.source)
    entries = journal.entries(body.source)
    zones = [z.id for z in plan.zones if z.id in body.zones]
    if not zones:
        raise NotThere("zone", ", ".join(body.zones))
    taken = {s.id for s in plan.steps}
    new_ids: dict[str, str] = {}
    edits: list[dict[str, Any]] = []
    at = len(plan.steps)
    for step in source.steps:
        if step.id not in body.steps:
            continue
        if isinstance(step, WorkingStep) and step.acts_on not in new_ids:
            continue
        new_ids[step.id] = slug(step.name, taken)
        taken.add(new_ids[step.id])
        made = _repeated(source, step, entries, new_ids, zones)
        edits.append({"edit": "add_step", "index": at, "step": made})
        at += 1
    own = [m for m in source.materials if m.id not in {x.id for x in plan.materials}]
    used = {s.material for s in source.steps if isinstance(s, CoatStep) and s.id in new_ids}
    wanted = [m.model_dump(mode="json", exclude_unset=True) for m in own if m.id in used]
    if wanted:
        kept = [m.model_dump(mode="json", exclude_unset=True) for m in plan.materials]
        edits.insert(0, {"edit": "set_own_materials", "materials": [*kept, *wanted]})
    return AgainOut(label=f"Again, from {source.build.name}", edits=edits)


def _repeated(
    source: Plan, step: AnyStep, entries: list[Any], new_ids: dict[str, str], zones: list[str]
) -> dict[str, Any]:
    made = step.model_dump(mode="json", exclude_unset=True)
    for field in (
        "fixed_start",
        "recipe_of",
        "coverage_by_zone",
        "on",
        "beside",
        "no_later",
        "needs_part_off",
        "closes",
    ):
        made.pop(field, None)
    made |= {"id": new_ids[step.id], "zones": zones, "kind": step.kind, "name": step.name}
    if isinstance(step, WorkingStep):
        made["acts_on"] = new_ids[step.acts_on]
    if isinstance(step, CoatStep):
        made.pop("existing", None)
        past = earlier_builds.done_before([Past("", "", source, entries)], step.material, None)
        real = next((x for x in past if x.step == step.id), None)
        if real is not None:
            if real.mix is not None:
                made["mix"] = real.mix.model_dump(mode="json", exclude_unset=True)
            if real.pressure_kpa is not None or real.distance_mm is not None:
                spray = dict(made.get("spray") or {})
                spray |= {
                    k: v for k, v in (("pressure_kpa", real.pressure_kpa), ("distance_mm", real.distance_mm)) if v
                }
                made["spray"] = spray
            if real.passes is not None:
                made["passes"] = real.passes
            if real.minutes is not None and real.minutes >= 1:
                made["hands_on_min"] = round(real.minutes, 1)
    return made
