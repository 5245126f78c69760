"""What a coat is when the plan leaves it to the material: its usual mix, method, passes, film and coverage; and which
work is fine work.
"""

from __future__ import annotations

from ..knowledge import Coat, Knowledge
from ..vocabulary import Method, Place, Role, Unit, Use, WorkAction
from .steps import AnyStep, CoatStep, Mix, MixPart, WorkingStep


def default_mix(k: Knowledge, material_id: str) -> Mix | None:
    """The usual mix of a material by common practice, or None where it is used as it comes."""
    coat = k.coats[material_id]
    if coat.thin_with is not None and coat.thin_ratio is not None:
        paint, thinner = coat.thin_ratio
        return thinned(coat, paint, thinner, coat.thin_with)
    return None if coat.hardener is None else thinned(coat, coat.hardener.paint)


def thinned(coat: Coat, paint: float, thinner: float = 0.0, with_: str | None = None) -> Mix:
    """A paint with so much of a thinner, in parts, and with the hardener that it cures by, if there is one."""
    parts = [MixPart(material=coat.id, role=Role.PAINT, amount=paint)]
    if (h := coat.hardener) is not None:
        parts.append(MixPart(material=h.with_, role=Role.HARDENER, amount=paint * h.hardener / h.paint))
    if with_ is not None and thinner > 0:
        parts.append(MixPart(material=with_, role=Role.THINNER, amount=thinner))
    return Mix(parts=parts)


def mix_of(k: Knowledge, step: CoatStep) -> Mix | None:
    """A step's own mix, or its material's usual one; None where it is used as it comes."""
    return step.mix or default_mix(k, step.material)


def method_of(k: Knowledge, step: CoatStep) -> Method:
    """How a coat is put on: the step's own way, or its material's usual."""
    return step.method or k.coats[step.material].method


def passes_of(k: Knowledge, step: CoatStep) -> int:
    """In how many passes a coat is laid: the step's own, or its material's usual; one, where a brush or a sponge lays
    what is sprayed as a rule. A dry brush takes many strokes.
    """
    coat, method = k.coats[step.material], method_of(k, step)
    in_one = _by_hand_instead(coat, method) and method is not Method.DRY_BRUSH
    return step.passes or (1 if in_one else coat.passes)


RUNS_OUT = (Method.WASH, Method.FLOOD, Method.BRUSH, Method.SPECKLE)  # laid as wet as they run, however thinned

# µm of wet film that a way of laying leaves, however strong it is (common practice): a wash, a flood, a soft brush
# loaded a third, the dabs of a sponge, what a brush leaves on relief that was wiped until nothing shows.
WET_UM = {
    Method.WASH: 40.0,
    Method.FLOOD: 80.0,
    Method.BRUSH: 35.0,
    Method.SPONGE: 20.0,
    Method.DRY_BRUSH: 2.5,
}
CAN_UM = 20.0  # dry, of a coat out of a can, which lays three times what an airbrush does (common practice)
PAINT = (Use.PRIMER, Use.COLOUR, Use.CLEAR)


def _by_hand_instead(coat: Coat, method: Method) -> bool:
    """Whether a paint that is sprayed as a rule is laid by hand."""
    return coat.use in PAINT and method in WET_UM and method is not coat.method


def film_of(k: Knowledge, step: CoatStep) -> float:
    """Dry film of the whole coat, µm: the step's own, or its material's usual.

    An effect that is thinned further than usual keeps its wet film, so its dry one is thinner by as much. A paint that
    is laid by hand instead of sprayed leaves what is in the wet film of a brush, a sponge or a wash: by its body and
    its strength. Out of a can it is thicker than from an airbrush.

    >>> from emvar_core.knowledge import knowledge
    >>> k, parts = knowledge(), [{"material": "enamel_wash", "role": "paint", "amount": 1}]
    >>> neat = CoatStep(id="a", name="a", zones=["z"], material="enamel_wash")
    >>> thinner = {"material": "white_spirit", "role": "thinner", "amount": 9}
    >>> film_of(k, neat), round(film_of(k, neat.model_copy(update={"mix": Mix(parts=[*parts, thinner])})), 2)
    (2.0, 0.2)
    """
    coat = k.coats[step.material]
    if step.dry_film_um:
        return step.dry_film_um
    method = method_of(k, step)
    if coat.use in PAINT and method is Method.CAN and method is not coat.method:
        return max(coat.dry_film_um, CAN_UM)
    if _by_hand_instead(coat, method):
        mix = mix_of(k, step)
        held = WET_UM[method] * coat.volume_solids * (1.0 if mix is None else _paint_share(mix))
        return held * (step.passes or 1)
    if step.mix is None or method not in RUNS_OUT or coat.use is not Use.EFFECT:
        return coat.dry_film_um
    usual = default_mix(k, step.material)
    return coat.dry_film_um * min(1.0, _paint_share(step.mix) / (1.0 if usual is None else _paint_share(usual)))


def _paint_share(mix: Mix) -> float:
    paint = sum(p.amount for p in mix.parts if p.role in (Role.PAINT, Role.PIGMENT))
    return paint / sum(p.amount for p in mix.parts)


def coverage_of(step: CoatStep, coat: Coat, zone_id: str | None = None) -> float:
    """How much of a zone a coat covers, 0–1; without a zone, what it covers where nothing else is said.

    >>> from emvar_core.knowledge import knowledge
    >>> coat = knowledge().coats["lacquer_primer"]
    >>> coverage_of(CoatStep(id="a", name="a", zones=["z"], material=coat.id, coverage=0.4), coat)
    0.4
    """
    usual = step.coverage or coat.coverage
    return step.coverage_by_zone.get(zone_id, usual) if zone_id is not None else usual


MARKS_AT_MOST = 0.2  # of a zone: what is brushed onto more than that is no marks (assumption)
FINE_WORK = (WorkAction.STREAK, WorkAction.BLEND, WorkAction.LIFT)
NOT_FINE = (Use.PASTE, Use.PUTTY, Use.RUBBED)


def is_fine(k: Knowledge, step: AnyStep) -> bool:
    """Whether a step is work for eyes and a steady hand: as it says; else decals, marks made with a brush, pin washes,
    and drawing them out. Common practice.
    """
    if step.fine is not None:
        return step.fine
    if isinstance(step, WorkingStep):
        return step.action in FINE_WORK
    if not isinstance(step, CoatStep) or step.existing is not None:
        return False
    coat, method = k.coats[step.material], method_of(k, step)
    if coat.use is Use.MARKING:
        return True
    if method is Method.WASH:
        return step.place in (Place.FASTENERS, Place.RECESSES)
    return method is Method.BRUSH and coat.use not in NOT_FINE and coverage_of(step, coat) <= MARKS_AT_MOST


def ratio_words(mix: Mix) -> str:
    """A mix as people say it: `1 : 2`, or `4 : 1 drops`."""
    words = " : ".join(f"{p.amount:g}" for p in mix.parts)
    unit = mix.parts[0].unit
    return words if unit is Unit.PARTS else f"{words} {unit.value}"
