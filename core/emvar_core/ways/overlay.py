"""What may go over this, now and later; and what should lie under this."""

from __future__ import annotations

from collections.abc import Iterable

from ..errors import NotThere
from ..judging import Conditions, SeamOut, Standing, base_layer, conditions_of, judge_steps, stand
from ..knowledge import Coat
from ..plan import CoatStep, Plan, Timing, default_mix, known_to, step_times
from ..vocabulary import Model, Sheen, Use, Verdict

HANDS_ON_MIN = 20.0
UNDER_AGES_MIN = (1440.0, 4320.0, 10080.0, 30240.0)  # a day, three, a week, three weeks
UNDER_USES = (Use.PRIMER, Use.COLOUR, Use.CLEAR)


class Over(Model):
    """One material on what lies there: the gravest that it meets now, and from when that ends."""

    material: str
    name: str
    use: str
    system: str
    colour: str
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    on: str
    opens_min: float | None
    then: Verdict | None
    techniques: list[str]


class Under(Model):
    """One material that could lie under a coat: what the coat does to it, and how old it has to be for that."""

    material: str
    name: str
    use: str
    sheen: Sheen
    colour: str
    verdict: Verdict
    word: str
    sentence: str
    age_min: float


def _probe(s: Standing, coat: Coat, sheen: Sheen | None = None) -> SeamOut | None:
    """The gravest seam of a material in its usual mix, laid on a zone as it stands."""
    step = CoatStep(
        id="probe-over", name=coat.name, zones=[s.zone.id], material=coat.id, mix=default_mix(s.k, coat.id), sheen=sheen
    )
    times = {**s.times, step.id: Timing(s.at_min, s.at_min + HANDS_ON_MIN)}
    return _gravest(judge_steps(s.conditions, s.zone.id, [step], s.base, s.stack, times).seams.values())


def _gravest(seams: Iterable[SeamOut]) -> SeamOut | None:
    return max(seams, key=lambda x: (x.verdict.grave, max((f.severity for f in x.findings), default=0)), default=None)


def over(plan: Plan, zone_id: str, at_min: float) -> list[Over]:
    """The whole shelf of materials on a zone as it stands at an instant, best first.

    Sound now first, then what waits (soonest first), cautions, clashes. Raises NotThere where there is no such zone.
    """
    s = stand(plan, zone_id, at_min, conditions_of(plan, step_times(plan), opens=True))
    laid: list[Over] = []
    for coat in s.k.coats.values():
        if s.k.is_unknown(coat):
            continue
        seam = _probe(s, coat)
        if seam is None:
            continue
        lower = s.base.name
        if seam.lower_step is not None and (step := plan.step(seam.lower_step)) is not None:
            lower = step.name
        laid.append(
            Over(
                material=coat.id,
                name=coat.name,
                use=coat.use,
                system=s.k.systems[coat.system].name,
                colour=coat.colour,
                verdict=seam.verdict,
                word=seam.word,
                sentence=seam.sentence,
                advice=seam.advice,
                on=lower,
                opens_min=seam.opens_careful_min,
                then=seam.eventual,
                techniques=[
                    t.name
                    for t in s.k.techniques.values()
                    if (m := t.main_template) is not None and m.material == coat.id
                ],
            )
        )
    rank = {Verdict.SOUND: 0, Verdict.WAIT: 1, Verdict.CAUTION: 2, Verdict.CLASH: 3}
    laid.sort(key=lambda o: (rank[o.verdict], o.opens_min if o.opens_min is not None else 1e12))
    return laid


def under(plan: Plan, step_id: str) -> list[Under]:
    """What could lie under a coat, in each sheen, and how old it must be: sound first, youngest first.

    Raises NotThere where the plan has no such coat.
    """
    step = plan.step(step_id)
    if not isinstance(step, CoatStep):
        raise NotThere("coat", step_id)
    k = known_to(plan)
    c = conditions_of(plan, step_times(plan))
    layers: list[Under] = []
    for coat in k.coats.values():
        if coat.use not in UNDER_USES or k.is_unknown(coat):
            continue
        for sheen in coat.sheens or [coat.sheen]:
            best: Under | None = None
            for age in UNDER_AGES_MIN:
                seam = _on(c, plan, step, coat, sheen, age)
                if seam is None:
                    continue
                here = Under(
                    material=coat.id, name=coat.name, use=coat.use, sheen=sheen, colour=coat.colour, age_min=age,
                    verdict=seam.verdict, word=seam.word, sentence=seam.sentence,
                )  # fmt: skip
                if best is None or here.verdict.grave < best.verdict.grave:
                    best = here
                if best.verdict is Verdict.SOUND:
                    break
            if best is not None:
                layers.append(best)
    layers.sort(key=lambda u: (u.verdict.grave, u.age_min))
    return layers


def _on(c: Conditions, plan: Plan, step: CoatStep, coat: Coat, sheen: Sheen, age_min: float) -> SeamOut | None:
    """The gravest that a coat does on another of some age, laid on its first zone and nothing else."""
    zones = step.zones[:1]
    below = CoatStep(
        id="probe-under", name=coat.name, zones=zones, material=coat.id, sheen=sheen, coverage=1.0,
        mix=None if coat.own else default_mix(c.k, coat.id), hands_on_min=0,
    )  # fmt: skip
    upper = step.model_copy(update={"zones": zones})
    zone = next(z for z in plan.zones if z.id == zones[0])
    times = {below.id: Timing(0.0, 0.0), upper.id: Timing(age_min, age_min + step.hands_on_min)}
    seen = c.until(plan, age_min + step.hands_on_min)
    base = base_layer(c.k, plan, zone)
    return _gravest(judge_steps(seen, zone.id, [below, upper], base, (), times, written_from=1).seams.values())
