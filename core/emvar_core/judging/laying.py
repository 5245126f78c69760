"""The first stage: a step, its times and the air make what lands; a coat also what it is from then on.

Each is a pure function of its arguments. A coat is worked out from one frozen value, `Laying`, which is its key too;
what it is from then on, and what it lands as, are frozen values in their turn, and keys further up are made from them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from ..keys import key_of
from ..knowledge import Coat, Knowledge
from ..memory import MEMORY, intern
from ..physics.air import REF_AIR, AirLine
from ..physics.blend import NOTHING, Cup, blend_of, carrier_words
from ..physics.cup import cup_of
from ..physics.flight import landed
from ..physics.hardening import AsLaid, Drying, aid_air, already, dry
from ..plan import AnyStep, CoatStep, FittingStep, Timing, WorkingStep, coverage_of, film_of, method_of, passes_of
from ..plan.affects import LOOK, PLACE, VERDICT, left_out, only
from ..seams.situation import METHODS, Landing, LandingAir, Layer
from ..vocabulary import Contact, FilmClass, FittingAction, Method, School, SystemRole, ThinnerRole
from .conditions import Conditions

UNKNOWN_DAYS = 60.0  # old, where nobody knows how old a finish is (assumption; the seam says so)
CAN_CHILLS_K = 5.0  # what a can sprays is chilled by its propellant before it lands (assumption)
STARVED_FROM = 0.88  # share of thinner from which an oil lacks binder; common practice
LEAST_SOLIDS = 0.005
WIPED_S = 30.0  # a tool is wet so long where its method does not say
WETTED_UM, WETTED_S, WETTED_RUB = 20.0, 300.0, 0.2  # a panel wetted with a soft brush: a sheen, for minutes
LAID_INTO_UM = 8.0  # of a sheen of liquid, that is still there when the coat comes (assumption)
LIES_RUB = 0.1  # what is left to lie is hardly moved
WASHED_WITH = "water"  # where a wash does not say
GLUED_UM, GLUED_S, GLUED_RUB = 40.0, 60.0, 0.4  # solvent glue is wet for a minute

_LAID = MEMORY.door("coats as laid", 20_000)
_BARE = MEMORY.door("steps without what they are called", 5_000)
_RECIPES = MEMORY.door("what a coat step is", 20_000)
_WHAT = MEMORY.door("what a step is", 40_000)
_USUALLY = MEMORY.door("materials as they are usually laid", 2_000)


@dataclass(frozen=True)
class Recipe:
    """What a coat step is, whatever it is called and wherever and whenever it is laid. All of it bears on verdicts.

    `step`: the step with nothing in it but what affects verdicts. `coverage`: what it covers, unless a zone says more.
    """

    step: CoatStep
    cup: Cup
    coverage: float

    @cached_property
    def key(self) -> int:
        """Stands for all of it."""
        return key_of(self)


@dataclass(frozen=True)
class Laying:
    """All that a laid coat is worked out from, beside what is known (`known`: its signature) and the air (`air`: its
    key). Where the air stays as it is until the coat has flashed off, the end of the laying is minute 0."""

    recipe: Recipe
    into_liquid: bool
    start_min: float
    end_min: float
    schools: dict[School, str]
    air: int
    known: str


@dataclass(frozen=True)
class Laid:
    """A coat step before it meets a zone: the same in all its zones."""

    coat: Coat
    cup: Cup
    drying: Drying
    landing: Landing
    layer: Layer
    film_um: float


def what_of(step: AnyStep) -> int:
    """Stands for everything of a step that is judged, drawn or told, apart from its times and what it is called."""
    return _WHAT.of(step, lambda: intern(only(step, VERDICT, LOOK, PLACE)))


def whole_of(step: AnyStep) -> int:
    """The same with what it is called."""
    return _WHAT.of(step, lambda: intern((what_of(step), step.id, step.name)), "called")


def recipe_of(k: Knowledge, step: CoatStep) -> Recipe:
    """What a coat step is."""

    def work() -> Recipe:
        bare = _BARE.once(only(step, VERDICT), lambda: step.model_copy(update=left_out(CoatStep, VERDICT)))
        return Recipe(bare, cup_of(k, step), coverage_of(step, k.coats[step.material]))

    return _RECIPES.of(step, work, k.signature)


def lay(c: Conditions, step: CoatStep, timing: Timing) -> Laid:
    """A coat as it is laid at these times (minutes since the build's start), and how it dries from then on."""
    times = (id(step), timing.start_min, timing.end_min)
    known = c.laid.get(times)
    if known is None or known[0] is not step:
        known = c.laid[times] = (step, _lay_named(c, step, timing))
    laid: Laid = known[1]
    return laid


def _lay_named(c: Conditions, step: CoatStep, timing: Timing) -> Laid:
    steady, until = c.line.steady_at(timing.start_min)
    origin = timing.end_min
    laid, key = _laid(c, step, steady, timing, origin)
    if laid.drying.clock_min + origin > until:  # the air changes while it is laid, wet, or hurried by an aid
        origin = 0.0
        laid, key = _laid(c, step, c.line, timing, origin)
    return _LAID.once((key, step.id, step.name, origin, c.line.key), lambda: _named(laid, step, origin, c.line))


def _laid(c: Conditions, step: CoatStep, line: AirLine, timing: Timing, origin: float) -> tuple[Laid, int]:
    times = (timing.start_min - origin, timing.end_min - origin)
    laying = Laying(recipe_of(c.k, step), step.id in c.wetted, *times, c.schools, line.key, c.k.signature)
    key = key_of(laying)
    return _LAID.once(key, lambda: _lay(c.k, line, laying)), key


def _named(laid: Laid, step: CoatStep, later_min: float, line: AirLine) -> Laid:
    """A laid coat with its name and id, so many minutes later."""
    drying = laid.drying.moved(later_min, line)
    return replace(laid, drying=drying, layer=laid.layer.told(step.id, step.name, drying))


def _pass_liquid_um(film_um: float, passes: int, cup: Cup) -> float:
    """Liquid of one pass on the brush or at the nozzle, µm."""
    return film_um / passes / max(cup.volume_solids, LEAST_SOLIDS) * (1 - cup.volume_solids)


def _usually(k: Knowledge, coat: Coat) -> AsLaid:
    """A material as it is usually laid."""
    cup = cup_of(k, CoatStep(id="usual", name="usual", zones=["usual"], material=coat.id))
    arrived, share = landed(k, cup.carrier, coat.method, REF_AIR)
    arrives = METHODS[coat.method].arrives * share
    liquid = _pass_liquid_um(coat.dry_film_um, coat.passes, cup) * arrives
    return AsLaid(cup.carrier, arrived, liquid, coat.dry_film_um, coat.passes, arrives)


def _lay(k: Knowledge, line: AirLine, laying: Laying) -> Laid:
    step, cup, coverage = laying.recipe.step, laying.recipe.cup, laying.recipe.coverage
    coat = k.coats[step.material]
    system = k.system_as_learned(coat.id)
    film, method, passes = film_of(k, step), method_of(k, step), passes_of(k, step)
    facts, air = METHODS[method], line.at(laying.start_min)
    arrived, share = landed(k, cup.carrier, method, air)
    liquid = _pass_liquid_um(film, passes, cup) * min(facts.arrives * share, 1.0)
    if method is Method.FLOOD:
        liquid = max(liquid, facts.tool_um)  # however strong it is, a flood is that wet
    if laying.into_liquid:
        liquid += LAID_INTO_UM  # what it is laid into keeps it open longer
    usual = _USUALLY.of(coat, lambda: _usually(k, coat), k.signature)
    laid = AsLaid(
        cup.carrier, arrived, liquid, film, passes, facts.arrives * share, tuple(step.aids), step.pigment_dries
    )
    drying = dry(k, system, laid, usual, laying.end_min, line)
    if step.existing is not None:
        days = UNKNOWN_DAYS if step.existing.age_days is None else step.existing.age_days
        drying = already(drying, days * 1440 * drying.speed)
    wet_s = (drying.flash_end_min - drying.end_min) * 60
    if facts.wet_cap_s is not None:
        wet_s = min(wet_s, facts.wet_cap_s)
    sheen = step.sheen or coat.sheen
    coldest = min(drying.coldest_c, air.temp_c - CAN_CHILLS_K) if method is Method.CAN else drying.coldest_c
    heat = max((aid_air(air, aid)[0] for aid in step.aids), default=None)
    landing = Landing(
        contact=Contact.LAY,
        method=method,
        liquid_um=liquid,
        wet_s=wet_s,
        rub=facts.rub,
        material=coat,
        system=system,
        sheen=sheen,
        film_um=film,
        schools=laying.schools,
        passes=passes,
        coverage=coverage,
        air=LandingAir(air.temp_c, air.rh_pct, coldest, drying.dew_c, heat),
        **{**Landing.liquid(k, arrived), "carrier_words": carrier_words(k, cup.carrier)},
    )
    layer = Layer(
        None,
        "",
        film,
        coverage,
        sheen,
        coat,
        system,
        drying=drying,
        carrier=cup.carrier,
        end_min=drying.end_min,
        of_zone=coverage,
        starved=system.film is FilmClass.OXIDISING
        and system.is_a(SystemRole.STARVES)
        and cup.thinner_share > STARVED_FROM,
    )
    return Laid(coat, cup, drying, landing, layer, film)


def touching(c: Conditions, step: FittingStep) -> Landing:
    """A fitting step as a contact: tape, fingers, glue."""
    touch = c.k.touches[step.material] if step.material else None
    blend = blend_of(touch) if touch is not None else NOTHING
    liquid, wet_s, rub = GLUED_UM, GLUED_S, GLUED_RUB
    carrier = step.carrier or (WASHED_WITH if step.action is FittingAction.WASH else None)
    if carrier is not None:
        blend = blend_of(c.k.thinners[carrier])
        liquid, wet_s, rub = WETTED_UM, WETTED_S, WETTED_RUB
    wet = bool(blend.parts)
    return Landing(
        contact=Contact.TOUCH,
        method=None,
        liquid_um=liquid if wet else 0,
        wet_s=wet_s if wet else 0,
        rub=rub if wet else 0,
        action=step.action,
        touch=touch,
        alkaline=step.carrier is not None and c.k.thinners[step.carrier].is_a(ThinnerRole.AMMONIA),
        **Landing.liquid(c.k, blend),
    )


def working(c: Conditions, step: WorkingStep) -> Landing:
    """What a working step brings onto the model: its carrier and its tool."""
    carrier = blend_of(c.k.thinners[step.carrier]) if step.carrier else NOTHING
    facts = METHODS[step.method]
    wet = bool(carrier.parts)
    return Landing(
        contact=Contact.WORK,
        method=step.method,
        liquid_um=facts.tool_um if wet else 0,
        wet_s=0 if not wet else step.lies_min * 60 if step.lies_min is not None else float(facts.wet_cap_s or WIPED_S),
        rub=LIES_RUB if step.lies_min is not None else facts.rub,
        work=step.action,
        schools=c.schools,
        alkaline=step.carrier is not None and c.k.thinners[step.carrier].is_a(ThinnerRole.AMMONIA),
        **Landing.liquid(c.k, carrier),
    )


def landing_of(c: Conditions, step: AnyStep, timing: Timing) -> Landing:
    """What a step brings onto what lies there."""
    if isinstance(step, CoatStep):
        return lay(c, step, timing).landing
    return working(c, step) if isinstance(step, WorkingStep) else touching(c, step)
