"""The first stage: a step, its times and the air make what lands; a coat also what it is from then on.

Each is a pure function of its arguments. A coat is remembered by what it is, when it is laid and in which air.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..knowledge import Coat, Knowledge
from ..memory import MEMORY, intern
from ..physics.air import REF_AIR
from ..physics.blend import NOTHING, Blend, blend_of, carrier_words
from ..physics.cup import Cup, cup_of
from ..physics.flight import landed
from ..physics.hardening import Drying, aid_air, dry
from ..plan import AnyStep, CoatStep, FittingStep, Timing, WorkingStep, coverage_of, film_of, method_of, passes_of
from ..plan.affects import LOOK, PLACE, VERDICT, only
from ..seams.situation import METHODS, Landing, LandingAir, Layer
from ..vocabulary import Contact, FilmClass, Method, SystemRole, ThinnerRole
from .conditions import Conditions

UNKNOWN_DAYS = 60.0  # old, where nobody knows how old a finish is (assumption; it is told)
CAN_CHILLS_K = 5.0  # what a can sprays is chilled by its propellant before it lands (assumption)
STARVED_FROM = 0.88  # share of thinner from which an oil lacks binder; common practice
LEAST_SOLIDS = 0.005
WIPED_S = 30.0  # a tool is wet so long where its method does not say
WETTED_UM, WETTED_S, WETTED_RUB = 20.0, 300.0, 0.2  # a panel wetted with a soft brush: a sheen, for minutes
LAID_INTO_UM = 8.0  # of a sheen of liquid, that is still there when the coat comes (assumption)
LIES_RUB = 0.1  # what is left to lie is hardly moved
GLUED_UM, GLUED_S, GLUED_RUB = 40.0, 60.0, 0.4  # solvent glue is wet for a minute

_LAID = MEMORY.door("coats as laid", 20_000)
_CONTENT = MEMORY.door("what a step is", 40_000)
_USUALLY = MEMORY.door("materials as they are usually laid", 2_000)


@dataclass(frozen=True)
class Laid:
    """A coat step before it meets a zone: the same in all its zones.

    `content` stands for what it is, without its times; `timed` for what it is there and then.
    """

    coat: Coat
    cup: Cup
    drying: Drying
    landing: Landing
    layer: Layer
    film_um: float
    content: int
    timed: int


def content_of(step: AnyStep) -> int:
    """Stands for what a step is and how it is called, apart from its id, zones and times."""

    def key() -> int:
        covers = step.coverage if isinstance(step, CoatStep) else None
        more = (step.leaves, step.acts_on) if isinstance(step, WorkingStep) else ()
        return intern((only(step, VERDICT), step.name, covers, more))

    return _CONTENT.of(step, key)


def whole_of(step: AnyStep) -> int:
    """Stands for everything of a step that is judged, drawn or told, apart from its times."""
    return _CONTENT.of(step, lambda: intern(("told", only(step, VERDICT, LOOK, PLACE))), "told")


def lay(c: Conditions, step: CoatStep, timing: Timing) -> Laid:
    """A coat as it is laid at these times (minutes since the build's start), and how it dries from then on."""
    content = content_of(step)
    key = (c.key, c.horizon, content, timing.start_min, timing.end_min, step.id in c.wetted)
    return _LAID.once(key, lambda: _lay(c, step, timing, content, intern(key)))


def _pass_liquid_um(film_um: float, passes: int, cup: Cup) -> float:
    """Liquid of one pass on the brush or at the nozzle, µm."""
    return film_um / passes / max(cup.volume_solids, LEAST_SOLIDS) * (1 - cup.volume_solids)


def _usually(k: Knowledge, coat: Coat) -> tuple[Cup, Blend, float, float]:
    """A material as it is usually laid: its cup, what of the carrier arrives, what share of it, and µm of liquid."""
    cup = cup_of(k, CoatStep(id="usual", name="usual", zones=["usual"], material=coat.id))
    arrived, share = landed(k, cup.carrier, coat.method, REF_AIR)
    liquid = _pass_liquid_um(coat.dry_film_um, coat.passes, cup) * METHODS[coat.method].arrives * share
    return cup, arrived, share, liquid


def _lay(c: Conditions, step: CoatStep, timing: Timing, content: int, timed: int) -> Laid:
    k = c.k
    coat = k.coats[step.material]
    system = k.system_as_learned(coat.id)
    cup = cup_of(k, step)
    film, method, passes = film_of(k, step), method_of(k, step), passes_of(k, step)
    facts = METHODS[method]
    arrived, share = landed(k, cup.carrier, method, c.line.at(timing.start_min))
    liquid = _pass_liquid_um(film, passes, cup) * min(facts.arrives * share, 1.0)
    if step.id in c.wetted:
        liquid += LAID_INTO_UM  # what it is laid into keeps it open longer
    usual_cup, usual_arrived, usual_share, usual_liquid = _USUALLY.of(coat, lambda: _usually(k, coat), k.signature)
    drying = dry(
        k,
        system,
        end_min=timing.end_min,
        carrier=arrived,
        liquid_um=liquid,
        reference_liquid=(usual_arrived, usual_liquid),
        film_um=film,
        passes=passes,
        usual=(coat.dry_film_um, coat.passes),
        cups=(cup.carrier, usual_cup.carrier),
        arrives=facts.arrives * share / max(METHODS[coat.method].arrives * usual_share, 0.01),
        line=c.line,
        aids=tuple(step.aids),
        pigment=step.pigment_dries,
    )
    if step.existing is not None:
        days = UNKNOWN_DAYS if step.existing.age_days is None else step.existing.age_days
        drying = replace(drying, flash_end_min=drying.end_min, older_ref=days * 1440 * drying.speed)
    wet_s = (drying.flash_end_min - drying.end_min) * 60
    if facts.wet_cap_s is not None:
        wet_s = min(wet_s, facts.wet_cap_s)
    air = c.line.at(timing.start_min)
    sheen, coverage = step.sheen or coat.sheen, coverage_of(step, coat)
    coldest = min(drying.coldest_c, air.temp_c - CAN_CHILLS_K) if method is Method.CAN else drying.coldest_c
    heat = max((aid_air(air, aid)[0] for aid in step.aids), default=None)
    landing = Landing(
        name=step.name,
        contact=Contact.LAY,
        method=method,
        liquid_um=liquid,
        wet_s=wet_s,
        rub=facts.rub,
        material=coat,
        system=system,
        sheen=sheen,
        film_um=film,
        schools=c.schools,
        passes=passes,
        coverage=coverage,
        air=LandingAir(air.temp_c, air.rh_pct, coldest, drying.dew_c, heat),
        **{**Landing.liquid(k, arrived), "carrier_words": carrier_words(k, cup.carrier)},
    )
    layer = Layer(
        step.id,
        step.name,
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
    return Laid(coat, cup, drying, landing, layer, film, content, timed)


def touching(c: Conditions, step: FittingStep) -> Landing:
    """A fitting step as a contact: tape, fingers, glue."""
    touch = c.k.touches[step.material] if step.material else None
    blend = blend_of(touch) if touch is not None else NOTHING
    liquid, wet_s, rub = GLUED_UM, GLUED_S, GLUED_RUB
    if step.carrier is not None:
        blend = blend_of(c.k.thinners[step.carrier])
        liquid, wet_s, rub = WETTED_UM, WETTED_S, WETTED_RUB
    wet = bool(blend.parts)
    return Landing(
        name=step.name,
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
        name=step.name,
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
