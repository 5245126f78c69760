"""What the order of a zone's steps brings with it: masks, parts that are on or off, schools of order, the film budget.

One walk up each zone, apart from the seams: nothing here depends on time but the liquid mask.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from ..judging import Conditions, lay
from ..judging.resting import DRIES_OUT, puts_out, rest_of
from ..judging.water import leaves_water, minds_water, stands_min
from ..knowledge import Coat, Knowledge, Technique
from ..plan import (
    AnyStep,
    CoatStep,
    FittingStep,
    Plan,
    Timing,
    WorkingStep,
    coverage_of,
    film_of,
    method_of,
    technique_of,
)
from ..vocabulary import (
    COVERS,
    JOINS,
    PRACTICE,
    SPRAYED,
    Basis,
    Edge,
    FilmClass,
    FittingAction,
    Kind,
    Method,
    School,
    Sheen,
    Side,
    SystemRole,
    TechniqueTag,
    Use,
    Verdict,
    capital,
)
from .remark import Said

# Film budget, primer to last clear, µm: common practice at 1:72 (60–80) and 1:35 (100–120); a power law between them.
BUDGET_UM = {72: (60.0, 80.0), 35: (100.0, 120.0)}
BUDGET_LEAST, BUDGET_MOST = 30.0, 400.0
SPILLS = 0.05  # by how much marks beside each other may cover more than there is, as people estimate
NO_BUDGET = (Use.PUTTY, Use.PASTE, Use.RUBBED)  # uses that lie apart from the film
FAR_BACK = 3
SIDES = (("port", "starboard"), ("left", "right"))


def film_budget_um(scale: int) -> tuple[float, float]:
    """Dry film that a model of a scale bears before detail suffers, µm, as (usual, most).

    >>> [round(um) for um in film_budget_um(72)]
    [60, 80]
    """

    def at(i: int) -> float:
        (s1, b1), (s2, b2) = ((s, b[i]) for s, b in BUDGET_UM.items())
        power = math.log(b2 / b1) / math.log(s2 / s1)
        return min(max(float(b1 * (scale / s1) ** power), BUDGET_LEAST), BUDGET_MOST)

    return at(0), at(1)


@dataclass(frozen=True)
class Closed:
    """A stretch in which a zone cannot be reached, minutes since the build's start, and the step that closed it."""

    from_min: float
    until_min: float
    by: str


@dataclass
class _Walk:
    """What is known of a zone on the way up."""

    film: float = 0.0
    over: bool = False
    sheen: Sheen | None = None
    masked: FittingStep | None = None
    fitted: FittingStep | None = None
    stage: int = 0
    staged: str = ""
    tags: dict[TechniqueTag, str] = field(default_factory=dict)
    oil: str | None = None
    clear_since_oil: bool = True
    coloured: str | None = None  # the first colour coat that covers
    before: AnyStep | None = None
    out: AnyStep | None = None  # what last put paint out on card
    covers: dict[str, float] = field(default_factory=dict)  # by step, of the zone


def zone_remarks(
    plan: Plan,
    zone_id: str,
    steps: Iterable[AnyStep],
    k: Knowledge,
    times: dict[str, Timing],
    closed: dict[str, list[Closed]],
) -> Iterator[tuple[AnyStep, Said]]:
    """Remarks on the steps of one zone in their order. `closed`: when a zone cannot be reached."""
    walk = _Walk()
    most = film_budget_um(plan.build.scale)[1]
    shut = closed.get(zone_id, ())
    filmless = k.coats_by_role[SystemRole.NO_FILM]
    for step in steps:
        before, walk.before = walk.before, step
        if before is not None and leaves_water(k, before) and minds_water(k, step):
            yield from _on_water(step, before, times, plan)
        if puts_out(step):
            walk.out = step
        elif walk.out is not None and (rest := rest_of(k, step)) is not None:
            yield from _rested(step, walk.out, rest, times)
        if shut or step.needs_part_off:
            yield from _reach(step, walk, times, shut)
        if isinstance(step, FittingStep):
            yield from _fitting(step, walk, k, times)
            if plan.schools:
                yield from _assembly(step, walk, plan.schools)
            continue
        if isinstance(step, WorkingStep):
            continue
        coat = k.coats[step.material]
        technique = technique_of(k, step)
        if technique is not None:
            yield from _sheen(k, step, coat, technique, walk)
            yield from _stage(step, technique, walk)
        if plan.schools:
            yield from _schools(k, step, coat, technique, walk, plan.schools)
        if walk.fitted is not None:
            yield from _over_fitted(k, step, walk, plan.schools)
        covered = coverage_of(step, coat, zone_id)
        walk.covers[step.id] = covered
        if step.beside:
            yield from _room_beside(step, walk)
        if coat.use not in NO_BUDGET and coat.id not in filmless:
            walk.film += film_of(k, step) * (1.0 if covered > COVERS else covered)
            if walk.film > most and not walk.over:
                walk.over = True
                yield step, _over_budget(walk.film, most, plan.build.scale)
        _remember(k, step, coat, technique, walk, covered)
    if walk.masked is not None:
        yield walk.masked, Said(
            "mask_on", Verdict.CAUTION, "stays masked", "The mask is never taken off again in this plan.",
            "Add the step that unmasks, while the coat over it is young.", kind=Kind.ORDER,
        )  # fmt: skip


def _reach(
    step: AnyStep, walk: _Walk, times: dict[str, Timing], closed: Iterable[Closed]
) -> Iterator[tuple[AnyStep, Said]]:
    at = times[step.id].start_min
    shut = next((c for c in closed if c.from_min <= at < c.until_min), None)
    opens_it = isinstance(step, FittingStep) and step.action in (FittingAction.REMOVE, FittingAction.INSPECT)
    if shut is not None and not opens_it:
        yield step, Said(
            "closed", Verdict.CLASH, "out of reach",
            f"“{shut.by}” has closed this zone by then: it can no longer be reached.",
            "Do it before, or take the part off first.", kind=Kind.ORDER, basis=Basis.RULE,
            rests_on="what the plan says is closed by that step",
        )  # fmt: skip
    if step.needs_part_off and walk.fitted is not None:
        yield step, Said(
            "part_on", Verdict.CLASH, "part is on",
            f"This needs the part off, and “{walk.fitted.name}” has put it on.",
            "Do it before the part is fitted, or take the part off first.", kind=Kind.ORDER, basis=Basis.RULE,
            rests_on="the order of the steps in this zone",
        )  # fmt: skip


def _fitting(step: FittingStep, walk: _Walk, k: Knowledge, times: dict[str, Timing]) -> Iterator[tuple[AnyStep, Said]]:
    if step.action is FittingAction.MASK:
        walk.masked = step
    elif step.action is FittingAction.UNMASK:
        if walk.masked is None:
            yield step, Said(
                "no_mask", Verdict.SOUND, "no mask", "No mask has been put on before this.",
                "Leave the step out, or put the mask in.", kind=Kind.ORDER,
            )  # fmt: skip
            return
        touch = k.touches.get(walk.masked.material) if walk.masked.material else k.usual_mask
        on_h = (times[step.id].start_min - times[walk.masked.id].end_min) / 60
        most = touch.off_within_h if touch is not None and touch.off_within_h is not None else 24.0
        if on_h > most:
            name = touch.name.lower() if touch is not None else "tape"
            yield step, Said(
                "mask_long", Verdict.CAUTION, "left on long",
                f"{capital(name)} stays on for {on_h:.0f} hours: after about {most:.0f} it grips harder, "
                "leaves residue and tears the edge.",
                "Take it off the same day, on itself, slowly.", kind=Kind.ORDER,
            )  # fmt: skip
        walk.masked = None
    elif step.action in (*JOINS, FittingAction.REFIT):
        walk.fitted = step
    elif step.action is FittingAction.REMOVE:
        walk.fitted = None
    elif step.action is FittingAction.TURN_OVER and walk.fitted is not None:
        yield from _set(step, walk.fitted, k, times)


def _set(
    step: FittingStep, glued: FittingStep, k: Knowledge, times: dict[str, Timing]
) -> Iterator[tuple[AnyStep, Said]]:
    """Whether a glue has set before the part is turned over."""
    touch = k.touches.get(glued.material) if glued.material else None
    if touch is None or touch.sets_min is None:
        return
    since = times[step.id].start_min - times[glued.id].end_min
    if since >= touch.sets_min[1]:
        return
    yield step, Said(
        "glue_wet", Verdict.CAUTION if since >= touch.sets_min[0] else Verdict.WAIT, "glue not set",
        f"“{glued.name}” is {since:.0f} min old by then: {touch.name.lower()} takes "
        f"{touch.sets_min[0]:g} to {touch.sets_min[1]:g} min before the part may be turned over.",
        "Turn it later, or hold the part while you do.", kind=Kind.TIMING,
    )  # fmt: skip


def _room_beside(step: CoatStep, walk: _Walk) -> Iterator[tuple[AnyStep, Said]]:
    """Whether what is said to lie beside each other fits beside each other."""
    together = walk.covers[step.id] + sum(walk.covers.get(other, 0.0) for other in step.beside)
    if together > 1 + SPILLS:
        yield step, Said(
            "no_room_beside", Verdict.CAUTION, "overlaps",
            f"It is said to lie beside others, and together they would cover {together * 100:.0f} % of the zone.",
            "Make them smaller, or take it that they meet.", kind=Kind.ORDER, basis=Basis.RULE,
            rests_on="what the plan says they cover",
        )  # fmt: skip


def _on_water(step: AnyStep, before: AnyStep, times: dict[str, Timing], plan: Plan) -> Iterator[tuple[AnyStep, Said]]:
    """Paint on a surface that is still wet from washing, wiping or chipping."""
    best, careful = stands_min(plan.air.day.rh_pct)
    since = times[step.id].start_min - times[before.id].end_min
    if since >= careful - 0.01:
        return
    yield step, Said(
        "on_water", Verdict.CAUTION if since >= best else Verdict.WAIT, "water stands",
        f"“{before.name}” leaves water in corners for {best:.0f} to {careful:.0f} min: “{step.name}” runs in it and "
        "lifts.",
        "Let it dry, or draw the water out with the corner of a cloth.", kind=Kind.TIMING,
    )  # fmt: skip


def _rested(
    step: AnyStep, out: AnyStep, rest: tuple[float, float], times: dict[str, Timing]
) -> Iterator[tuple[AnyStep, Said]]:
    """Paint that has rested on card for too short a time, or too long."""
    since = times[step.id].start_min - times[out.id].end_min
    least, most = rest
    if least - 0.01 <= since <= most * DRIES_OUT:
        return
    early = since < least
    yield step, Said(
        "rested", Verdict.CAUTION, "still oily" if early else "dried out",
        f"“{out.name}” is {since / 60:.1f} h before; it rests {least / 60:g} to {most / 60:g} h"
        + (": it is oily still, and stays wet and shiny." if early else ": by then it drags and crumbles."),
        "Wait until the card round it is oily and the paint is dull." if early else "Put fresh paint out.",
        kind=Kind.TIMING,
    )  # fmt: skip


def _sheen(
    k: Knowledge, step: CoatStep, coat: Coat, technique: Technique | None, walk: _Walk
) -> Iterator[tuple[AnyStep, Said]]:
    """The sheen that the technique wants under it, where no seam tells it already."""
    if technique is None or not technique.wants_below or walk.sheen is None or not technique.is_main(coat.use):
        return
    bears = coat.use is Use.MARKING or method_of(k, step) in (Method.WASH, Method.DUST)
    if walk.sheen in technique.wants_below or bears:
        return
    wanted = " or ".join(s.value for s in technique.wants_below)
    rough = walk.sheen is Sheen.MATT
    yield step, Said(
        "sheen", Verdict.CAUTION if rough else Verdict.SOUND, "stains" if rough else "other sheen",
        f"“{technique.name}” wants {wanted} under it; what lies there is {walk.sheen.value}"
        + (", and holds stain everywhere." if rough else "."),
        f"A {technique.wants_below[0].value} clear first, or accept a ghost when it is wiped.", kind=Kind.LOOK,
    )  # fmt: skip


def _schools(
    k: Knowledge, step: CoatStep, coat: Coat, technique: Technique | None, walk: _Walk, schools: dict[School, str]
) -> Iterator[tuple[AnyStep, Said]]:
    def out_of(pair: School, word: str, sentence: str, advice: str) -> tuple[AnyStep, Said]:
        side = schools[pair].replace("_", " ")
        return step, Said(
            f"order_{pair.value}",
            Verdict.CAUTION,
            word,
            f"{sentence} The build's school is “{side}”.",
            advice,
            kind=Kind.ORDER,
            rests_on=f"the schools differ here; {PRACTICE}",
            school=pair,
        )

    tags = set(technique.tags) if technique is not None else set[TechniqueTag]()
    rust = schools.get(School.RUST_AND_DIRT)
    if rust == Side.RUST_UNDER_DIRT and TechniqueTag.RUST in tags and TechniqueTag.DIRT in walk.tags:
        yield out_of(
            School.RUST_AND_DIRT,
            "rust over dirt",
            f"Rust comes from the metal and dirt falls on it, but “{walk.tags[TechniqueTag.DIRT]}” lies below this.",
            "Move it below the dirt, or choose the other school.",
        )
    if rust == Side.RUST_LAST and TechniqueTag.DIRT in tags and TechniqueTag.RUST in walk.tags:
        yield out_of(
            School.RUST_AND_DIRT,
            "dirt over rust",
            f"Fresh runs lie over the dirt, but “{walk.tags[TechniqueTag.RUST]}” is below this.",
            "Move the rust above it, or choose the other school.",
        )
    order = schools.get(School.CHIP_ORDER)
    if order == Side.LIGHT_THEN_DARK and TechniqueTag.CHIP_LIGHT in tags and TechniqueTag.CHIP_DARK in walk.tags:
        yield out_of(
            School.CHIP_ORDER,
            "light over dark",
            "Light scratches come first, the dark cores inside them: "
            f"“{walk.tags[TechniqueTag.CHIP_DARK]}” is below this.",
            "Put the light chips first.",
        )
    if (
        schools.get(School.FILTER) == Side.FILTER_FIRST
        and TechniqueTag.FILTER in tags
        and TechniqueTag.WASH in walk.tags
    ):
        yield out_of(
            School.FILTER,
            "filter late",
            f"The filter comes before the wash, which “{walk.tags[TechniqueTag.WASH]}” is.",
            "Move the filter below the wash.",
        )
    oily = TechniqueTag.OIL in tags or coat.id in k.coats_by_role[SystemRole.OIL_LAYER]
    if oily and schools.get(School.SEALING) == Side.LET_IT_HARDEN and walk.oil is not None and walk.clear_since_oil:
        yield out_of(
            School.SEALING,
            "sealed between",
            f"A clear lies between “{walk.oil}” and this oil or enamel layer.",
            "Leave the clear out and give the lower layer its time, or choose the other school.",
        )
    if oily and schools.get(School.SEALING) == Side.SEAL_BETWEEN and walk.oil is not None and not walk.clear_since_oil:
        yield out_of(
            School.SEALING,
            "not sealed",
            f"“{walk.oil}” has no clear over it before this oil or enamel layer.",
            "Put a light clear of another system between, or let it harden and choose that school.",
        )


def _assembly(step: FittingStep, walk: _Walk, schools: dict[School, str]) -> Iterator[tuple[AnyStep, Said]]:
    """Parts that are put on after painting has begun, where the build's school assembles first."""
    puts_on = step.action in JOINS
    if not puts_on or step.closes or walk.coloured is None or schools.get(School.ASSEMBLY) != Side.ASSEMBLE_THEN_PAINT:
        return
    yield step, Said(
        "order_assembly", Verdict.CAUTION, "fitted late",
        f"“{walk.coloured}” is painted before this part goes on. The build's school is “assemble then paint”.",
        "Fit it before the first colour, or choose the other school.", kind=Kind.ORDER,
        rests_on=f"the schools differ here; {PRACTICE}", school=School.ASSEMBLY,
    )  # fmt: skip


def _stage(step: CoatStep, technique: Technique | None, walk: _Walk) -> Iterator[tuple[AnyStep, Said]]:
    if technique is None or walk.stage - technique.stage < FAR_BACK:
        return
    yield step, Said(
        "stage", Verdict.SOUND, "unusual order", f"“{technique.name}” usually comes before “{walk.staged}”.",
        "Going back is normal; see that what lies there bears it.", kind=Kind.ORDER,
    )  # fmt: skip


def _over_fitted(
    k: Knowledge, step: CoatStep, walk: _Walk, schools: dict[School, str]
) -> Iterator[tuple[AnyStep, Said]]:
    if walk.fitted is None or walk.masked is not None or method_of(k, step) not in SPRAYED:
        return
    if walk.fitted.action is FittingAction.FIT and schools.get(School.ASSEMBLY) != Side.ASSEMBLE_THEN_PAINT:
        late = schools.get(School.ASSEMBLY) == Side.FIT_LATE  # who fits late does not spray over what is fitted
        yield step, Said(
            "over_fitted", Verdict.CAUTION if late else Verdict.SOUND, "over a part",
            f"“{walk.fitted.name}” comes before this is sprayed: the part gets it too.",
            "Fit late parts after the last spraying, or mask them.", kind=Kind.ORDER,
            school=School.ASSEMBLY if late else None,
        )  # fmt: skip


def _over_budget(film_um: float, most: float, scale: int) -> Said:
    return Said(
        "budget",
        Verdict.CAUTION,
        "film too thick",
        f"With this the coats add up to {film_um:.0f} µm; at 1:{scale} more than about {most:.0f} µm fills engraved "
        "lines and softens edges.",
        "Fewer or thinner passes, one clear less, or a wash in place of a coat.",
        kind=Kind.LOOK,
        rests_on=f"{PRACTICE} at 1:72 and 1:35, a power law of the scale between and beyond",
    )


def _remember(
    k: Knowledge, step: CoatStep, coat: Coat, technique: Technique | None, walk: _Walk, covered: float
) -> None:
    if covered > COVERS and coat.use not in (Use.EFFECT, Use.MEDIUM, Use.FIXER):
        walk.sheen = step.sheen or coat.sheen
    if covered > COVERS and coat.use is Use.COLOUR and walk.coloured is None:
        walk.coloured = step.name
    if coat.id in k.coats_by_role[SystemRole.OIL_LAYER]:
        walk.oil, walk.clear_since_oil = step.name, False
    elif coat.use is Use.CLEAR and covered > COVERS:
        walk.clear_since_oil = True
    if technique is not None:
        if technique.stage > walk.stage:
            walk.stage, walk.staged = technique.stage, technique.name
        for tag in technique.tags:
            if technique.is_main(coat.use):
                walk.tags.setdefault(tag, step.name)


def closings(plan: Plan, times: dict[str, Timing]) -> dict[str, list[Closed]]:
    """When zones are closed by fitting steps, and by which; a `remove` in the zone opens it again."""
    closed: dict[str, list[Closed]] = {}
    for step in plan.steps:
        if not isinstance(step, FittingStep):
            continue
        if step.action is FittingAction.REMOVE:
            for zone_id in step.zones:
                spans = closed.get(zone_id)
                if spans and spans[-1].until_min == math.inf:
                    spans[-1] = Closed(spans[-1].from_min, times[step.id].end_min, spans[-1].by)
        for zone_id in step.closes:
            closed.setdefault(zone_id, []).append(Closed(times[step.id].end_min, math.inf, step.name))
    return closed


def mirrored(k: Knowledge, plan: Plan) -> Iterator[tuple[AnyStep, list[str], Said]]:
    """Left and right worn alike in one go: a hint, no verdict."""
    names = {z.id: z.name.lower() for z in plan.zones}
    pairs = [
        (a, b)
        for left, right in SIDES
        for a, na in names.items()
        if left in na.split()
        for b, nb in names.items()
        if nb == na.replace(left, right) and a != b
    ]
    if not pairs:
        return
    for step in plan.steps:
        technique = technique_of(k, step)
        if not isinstance(step, CoatStep) or technique is None or technique.stage < 7:
            continue
        if (step.coverage or 1) > COVERS:
            continue
        for a, b in pairs:
            alike = step.coverage_by_zone.get(a) == step.coverage_by_zone.get(b)
            if a in step.zones and b in step.zones and alike:
                yield step, [a, b], Said(
                    "mirrored", Verdict.SOUND, "alike on both sides",
                    "Both sides get the same wear; real ones are never mirror images.",
                    "Give one side more of it, or split the step and do them apart.", kind=Kind.LOOK,
                )  # fmt: skip


def too_late(plan: Plan, times: dict[str, Timing]) -> Iterator[tuple[AnyStep, list[str], Said]]:
    """Steps that begin later after another than they say they have to."""
    for step in plan.steps:
        limit = step.no_later
        if limit is None or step.id not in times or limit.after not in times:
            continue
        since = times[step.id].start_min - times[limit.after].end_min
        other = plan.step(limit.after)
        if since <= limit.than_min + 1e-6 or other is None:
            continue
        yield step, list(step.zones), Said(
            "too_late", Verdict.CLASH, "too late",
            f"It begins {since:.0f} min after “{other.name}”, and has to by {limit.than_min:g} min.",
            "Begin it sooner, or allow it longer.", kind=Kind.TIMING, basis=Basis.RULE,
            rests_on="what the plan itself says",
        )  # fmt: skip


def tackless(c: Conditions, plan: Plan, times: dict[str, Timing]) -> Iterator[tuple[AnyStep, list[str], Said]]:
    """Powder or leaf that is meant for tack, laid when what is below it has none left."""
    for i, step in enumerate(plan.steps):
        technique = technique_of(c.k, step) if isinstance(step, CoatStep) else None
        if technique is None or not technique.wants_tack or not isinstance(step, CoatStep) or step.id not in times:
            continue
        powder = c.k.system_of(step.material).film is FilmClass.LOOSE
        if not powder and method_of(c.k, step) is not Method.DUST:
            continue
        below = next(
            (s for s in reversed(plan.steps[:i]) if isinstance(s, CoatStep) and set(s.zones) & set(step.zones)), None
        )
        if below is None or below.id not in times:
            continue
        ends = lay(c, below, times[below.id]).drying.all_events(Edge.BEST).get("tack_until")
        if ends is not None and times[step.id].start_min <= ends:
            continue
        yield step, list(step.zones), Said(
            "no_tack", Verdict.CAUTION, "no tack",
            f"“{below.name}” has no tack left by then: {'the powder' if powder else 'what goes on'} lies on it loose.",
            "Put it on sooner, into fresh work" + (", or take it as loose pigment." if powder else "."),
            kind=Kind.TIMING,
        )  # fmt: skip
