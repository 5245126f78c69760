"""A zone as it stands at an instant: its coats with what has been worked off them, and how to judge on it."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..assess import default_knowledge
from ..drying.clock import Edge
from ..materials import FilmClass, Knowledge, Thinner
from ..mixing import blend_of
from ..plan import CoatStep, Method, Plan, WorkAction, Zone
from ..seams.chemistry import hot_share, power_on, spirit_share
from ..seams.contact import METHODS, NOTHING, Contact, Landing, Layer, Situation
from ..seams.judge import level_of
from ..seams.mechanisms import findings
from ..seams.working import Edges, window_for
from ..walk import Entry, Walker

TAKES_OFF = 0.5  # of a film's opening by a carrier, from which a whole coat comes off with it (assumption)
LEAST_THERE = 0.02  # coverage below which a coat is taken to be gone


@dataclass(frozen=True)
class Means:
    """A way of taking something off, gentlest first in `MEANS`."""

    id: str
    name: str
    carrier: str | None
    method: Method
    danger: str = ""


# Gentlest first. All common practice; two-pack and heat are left out on purpose.
MEANS: tuple[Means, ...] = (
    Means("dry", "a dry soft brush", None, Method.DRY_TOOL),
    Means("water_damp", "an almost dry brush with water", "water", Method.DAMP_WIPE),
    Means("water_wet", "a wet brush with water", "water", Method.WET_WIPE),
    Means("spirit_damp", "an almost dry brush with odourless spirit", "odourless_spirit", Method.DAMP_WIPE, "vapour"),
    Means("spirit_wet", "a bud wet with white spirit", "white_spirit", Method.WET_WIPE, "vapour"),
    Means("alcohol_half", "a bud damp with half-strength isopropanol", "isopropanol_50", Method.DAMP_WIPE, "flash"),
    Means("alcohol_70", "a bud wet with 70 % isopropanol", "isopropanol_70", Method.WET_WIPE, "flash"),
    Means("alcohol_scrub", "scrubbing with isopropanol", "isopropanol", Method.SCRUB, "flash"),
    Means("mild", "a bud wet with mild lacquer thinner", "mild_thinner", Method.WET_WIPE, "flash"),
)


@dataclass
class Standing:
    """One zone at one instant: layers bottom first, the base material apart; minutes since the build's start."""

    plan: Plan
    zone: Zone
    at_min: float
    walker: Walker
    base: Layer
    layers: list[Layer]
    whole: list[Entry] = field(default_factory=list)

    @property
    def k(self) -> Knowledge:
        return self.walker.k

    def entries(self) -> list[Entry]:
        """The stack as the walker takes it; a copy."""
        return list(self.whole)

    def down(self, above: int) -> tuple[Layer, ...]:
        """The layers below index `above`, nearest first, down to the base."""
        return (*reversed(self.layers[:above]), self.base)


def stand(plan: Plan, zone_id: str, at_min: float, walker: Walker | None = None) -> Standing:
    """A zone as it stands at an instant. Raises KeyError where there is no such zone."""
    zone = next((z for z in plan.zones if z.id == zone_id), None)
    if zone is None:
        raise KeyError(zone_id)
    walker = walker or Walker(plan, default_knowledge().with_own(plan.materials), opens=False)
    steps = [s for s in plan.steps if zone_id in s.zones and walker.times[s.id].end_min <= at_min + 1e-6]
    base = walker.base(zone)
    stretch = walker.walk(zone_id, steps, base, [], told_from=len(steps) + 1)
    layers = [entry[0] for entry in stretch.added if entry[0].coverage >= LEAST_THERE]
    return Standing(plan, zone, at_min, walker, base, layers, stretch.added)


def wiping(k: Knowledge, means: Means) -> Landing:
    """A means as what lands on the layers below."""
    carrier = blend_of(k.thinners[means.carrier]) if means.carrier else NOTHING
    facts = METHODS[means.method]
    return Landing(
        name=means.name,
        contact=Contact.WORK,
        method=means.method,
        blend=carrier,
        liquid_um=facts.tool_um if carrier.parts else 0,
        wet_s=float(facts.wet_cap_s or 30) if carrier.parts else 0,
        rub=facts.rub,
        spirit=spirit_share(k, carrier),
        hot=hot_share(k, carrier),
        shares=carrier.family_shares(k),
    )


def removes(s: Standing, layer: Layer, means: Means) -> tuple[bool, Edges | None]:
    """Whether a means takes a coat off at this instant, and until when; None: at any time."""
    k = s.k
    if layer.system is None or layer.drying is None:
        return False, None
    film = layer.system.film
    if film in (FilmClass.LOOSE, FilmClass.RUBBED) and not layer.system.opened_by:
        return means.carrier is None or means.method is not Method.SCRUB, None
    if means.carrier is None or film in (FilmClass.CROSSLINKED, FilmClass.UNKNOWN):
        return False, None
    blend = blend_of(k.thinners[means.carrier])
    if film is FilmClass.DECAL:
        closes = Edges(*(layer.drying.event("touch", e) for e in (Edge.EARLY, Edge.BEST, Edge.LATE)))
        return blend.water >= 0.5 and s.at_min <= closes.best, closes
    step = s.plan.step(layer.step_id or "")
    assert isinstance(step, CoatStep)
    if film is FilmClass.OXIDISING and s.at_min < layer.drying.flash_end_min:
        return power_on(k, blend, layer.system).power > 0.5, None
    window = window_for(k, WorkAction.WIPE, layer, None, s.walker.lay(step).cup, blend)
    if window.never is not None:
        return False, None
    closes = window.closes
    endless = closes.best > 1e9
    if endless and power_on(k, blend, layer.system).power < TAKES_OFF:
        return False, None  # it softens, but does not take a whole coat off
    # While it is still wet it comes off too, only not cleanly: the opening edge does not bind a rescue.
    return s.at_min <= closes.best, None if endless else closes


def harm(s: Standing, below: int, means: Means) -> list[tuple[Layer, float, str, str]]:
    """What a means does to the layers below index `below`, where it stops: (layer, severity, word, sentence).

    Only what reaches caution is told; an empty list is harmless.
    """
    layers = s.down(below)
    landing = wiping(s.k, means)
    found: dict[int, tuple[Layer, float, str, str]] = {}
    left = 1.0
    for i, layer in enumerate(layers):
        if left < 0.02:
            break
        for f in findings(Situation(s.k, landing, layers, i), s.at_min, Edge.LATE):
            at = f.on(i)
            held = found.get(at)
            if f.severity >= 0.2 and (held is None or held[1] < f.severity):
                found[at] = (layers[at], f.severity, f.word, f.sentence)
        left -= left * layer.coverage
    return [found[i] for i in sorted(found)]


def grave(harmed: list[tuple[Layer, float, str, str]]) -> float:
    """The gravest of what was harmed, 0–1."""
    return max((h[1] for h in harmed), default=0.0)


def thinner_name(k: Knowledge, carrier: str | None) -> str:
    found: Thinner | None = k.thinners[carrier] if carrier else None
    return found.name.lower() if found else "nothing wet"


__all__ = ["MEANS", "Means", "Standing", "grave", "harm", "level_of", "removes", "stand", "thinner_name", "wiping"]
