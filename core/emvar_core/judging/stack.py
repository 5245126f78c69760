"""The second stage: what lies on a zone after each step, bottom first. Pure: a step gives a new stack."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from ..knowledge import Knowledge
from ..memory import intern
from ..physics.blend import Blend
from ..physics.hansen import power_on
from ..physics.hardening import slowed
from ..plan import AnyStep, CoatStep, FittingStep, Timing, WorkingStep, coverage_of
from ..plan.masks import Mask
from ..seams.places import APART, EVERYWHERE, SHARE_OF_ZONE, Spot, shared
from ..seams.situation import Layer
from ..seams.windows import OPENS, REOPENS
from ..vocabulary import ABRASIVE, COVERS, JOINS, Edge, Event, FilmClass, Sheen, Use, WorkAction
from .conditions import Conditions
from .laying import Laid, lay

# Glueing and fitting touch the joint and where the fingers hold the part, so much of a zone (assumption).
JOINT = 0.02
USUAL_PATCH = 0.2  # of a zone, that a masked patch takes up where nobody says (assumption)
SIGHT = 8  # coats below that a seam looks at and a fixer binds; nothing that a bench can lay reaches further
# What abrasive leaves of the shine; a stick or pad on lettering as well as paper (common practice).
SHEEN_AFTER = {WorkAction.SAND: Sheen.MATT, WorkAction.SCUFF: Sheen.MATT, WorkAction.POLISH: Sheen.GLOSS}
MOSTLY = 0.5  # of a powder, that has to lie in what binds it
# Young films that take up what is laid on them: of solvents alone, and of alkyd while it is one wet film with it.
SOAK = (FilmClass.EVAPORATING, FilmClass.OXIDISING)
SOAKS_INTO, SOAKS_BELOW, LITTLE = 3, 0.6, 0.05  # layers; degree of hardening; share below which nothing is felt
LEAST_SHARE = 0.02  # of what lands: what less than that of it falls on is not met


@dataclass(frozen=True)
class Lying:
    """A coat as it lies on a zone, and where."""

    layer: Layer
    spot: Spot

    @cached_property
    def mark(self) -> int:
        """Stands for what it is there and then, in its air and by its name."""
        y = self.layer
        air = 0 if y.drying is None else y.drying.line.key
        return intern((y.key, y.step_id, y.name, y.end_min, air, y.coverage, self.spot))

    def left(self, share: float, action: WorkAction) -> Lying:
        """What working leaves of it; abrasive scuffs it and takes its shine, polishing gives it one."""
        coverage = self.layer.coverage * share
        scuffed = self.layer.scuffed or action in ABRASIVE
        sheen = SHEEN_AFTER.get(action, self.layer.sheen)
        layer = replace(self.layer, coverage=coverage, of_zone=coverage, scuffed=scuffed, sheen=sheen)
        return Lying(layer, replace(self.spot, coverage=layer.coverage))

    def bound(self) -> Lying:
        """A powder as it is once something holds it."""
        return Lying(replace(self.layer, bound=True), self.spot)

    def under(self, spot: Spot) -> Lying | None:
        """The coat as it is met at a spot: over as much of that as it shares with it; None where it shares nothing."""
        share = shared(spot, self.spot)
        if share <= 0:
            return None
        return self if share == self.layer.coverage else Lying(self.layer.over_share(share), self.spot)


Stack = tuple[Lying, ...]
Times = dict[str, Timing]


def place_of(stack: Sequence[Lying], step_id: str) -> int | None:
    """Where in a stack the coat of a step lies."""
    return next((i for i in range(len(stack) - 1, -1, -1) if stack[i].layer.step_id == step_id), None)


def lying(c: Conditions, step: CoatStep, zone_id: str, timing: Timing) -> Lying:
    """A coat as it lies on a zone."""
    laid = lay(c, step, timing)
    coverage = coverage_of(step, laid.coat, zone_id)
    off = tuple(Spot(None, 0.0, m.place, m.patch) for m in c.masked.get((step.id, zone_id), ()))
    if off:
        coverage *= _left_free(step, c.masked[step.id, zone_id])
    layer = laid.layer
    if layer.of_zone != coverage:
        layer = replace(layer, coverage=coverage, of_zone=coverage)
    return Lying(layer, replace(spot_of(step, coverage), off=off) if off else spot_of(step, coverage))


def laid_on(
    c: Conditions, step: CoatStep, zone_id: str, stack: Sequence[Lying], timing: Timing
) -> tuple[Lying, tuple[int, ...]]:
    """A coat as it lies on a stack, and where the powders lie that it binds from then on."""
    entry = _soaking(c, lying(c, step, zone_id, timing), lay(c, step, timing), stack, timing)
    near = range(max(len(stack) - SIGHT, 0), len(stack))
    if entry.layer.is_loose:
        held = any(
            _holds(stack[i].layer, timing.start_min) and shared(entry.spot, stack[i].spot) >= MOSTLY for i in near
        )
        return (entry.bound() if held else entry), ()
    if entry.layer.is_for(Use.FIXER):
        loose = (i for i in near if stack[i].layer.is_loose)
        return entry, tuple(i for i in loose if shared(stack[i].spot, entry.spot) >= MOSTLY)
    return entry, ()


def _soaking(c: Conditions, entry: Lying, laid: Laid, stack: Sequence[Lying], timing: Timing) -> Lying:
    """A coat as it dries on what lies there: what is young and soluble below takes solvent up and gives it back."""
    film = laid.layer.film
    if film not in SOAK:
        return entry
    soaked = 0.0
    for below in reversed(stack[-SOAKS_INTO:]):
        layer = below.layer
        if layer.system is None or layer.drying is None or shared(entry.spot, below.spot) < COVERS:
            break
        young = 1 - layer.degree(timing.start_min, Edge.BEST) / SOAKS_BELOW
        alike = layer.film is film and (layer.system is laid.landing.system or film is FilmClass.EVAPORATING)
        if young <= LITTLE or not alike:
            break
        if power_on(c.k, laid.landing.blend, layer.system).power <= OPENS:
            break
        soaked += layer.film_um * young
    if soaked <= 0:
        return entry
    drying = slowed(laid.drying, laid.film_um, laid.landing.passes, round(soaked, 1))
    return replace(entry, layer=replace(entry.layer, drying=drying))


def _holds(layer: Layer, at_min: float) -> bool:
    """Whether a powder that falls into a coat is held by it: a cement, a paste or a fixer that is still wet."""
    binds = layer.is_for(Use.PASTE, Use.FIXER) and layer.film is not FilmClass.OXIDISING
    return binds and not layer.past(Event.TOUCH, at_min, Edge.BEST)


def _left_free(step: CoatStep, masks: Sequence[Mask]) -> float:
    """How much of what a coat would cover is not masked."""
    own, left = Spot(step.id, 1.0, step.place, step.patch), 1.0
    for mask in masks:
        share = mask.share if mask.share is not None else SHARE_OF_ZONE.get(mask.place, USUAL_PATCH)
        if own.is_within(Spot(None, 0.0, mask.place, mask.patch)):
            return 0.0
        if frozenset((step.place, mask.place)) not in APART:
            left *= 1 - share
    return left


def spot_of(step: AnyStep, coverage: float = 1.0) -> Spot:
    """Where a step is at work in its zone."""
    if isinstance(step, CoatStep):
        return Spot(step.id, coverage, step.place, step.patch, step.on, frozenset(step.beside), step.recipe_of)
    if isinstance(step, FittingStep) and step.action in JOINS and step.place is None:
        return Spot(None, JOINT)
    if step.place is None:
        return EVERYWHERE
    if isinstance(step, FittingStep):
        coverage = step.share if step.share is not None else SHARE_OF_ZONE.get(step.place, USUAL_PATCH)
    return Spot(step.id, coverage, step.place, step.patch)


def spot_in(k: Knowledge, step: AnyStep, zone_id: str, stack: Stack) -> Spot:
    """Where a step is at work in a zone, on what lies there."""
    if isinstance(step, WorkingStep):
        return spot_worked(step, stack)
    return spot_of(step, coverage_of(step, k.coats[step.material], zone_id) if isinstance(step, CoatStep) else 1.0)


def spot_worked(step: WorkingStep, stack: Stack) -> Spot:
    """Where a working step is at work: where the coat that it acts on lies, or where the step says."""
    place = place_of(stack, step.acts_on)
    spot = stack[place].spot if place is not None else EVERYWHERE
    if step.place is not None:
        spot = replace(spot, place=step.place, patch=step.patch)
    if step.action is WorkAction.BLEND and spot.on is None:  # it sweeps the place where the marks are, not them alone
        swept = 1.0 if spot.place is None else SHARE_OF_ZONE.get(spot.place, spot.coverage)
        spot = replace(spot, coverage=max(spot.coverage, swept))
    return spot


def seen_at(spot: Spot, stack: Sequence[Lying]) -> Stack:
    """What of a stack is met at a spot, each coat over as much of it as it shares with it."""
    return tuple(met for entry in stack if (met := entry.under(spot)) is not None)


def worked_on(step: WorkingStep, stack: Stack) -> tuple[int, ...]:
    """Where the coats lie that a working step takes from: its own, and with chipping the live medium under it."""
    place = place_of(stack, step.acts_on)
    if place is None:
        return ()
    medium = medium_under(stack, place) if step.action is WorkAction.CHIP else None
    return (place,) if medium is None else (place, medium)


def medium_under(stack: Sequence[Lying], place: int) -> int | None:
    """Where the medium lies that lets a coat go: under it, or under what lies beside it or covers only in part."""
    spot = stack[place].spot
    for i in range(place - 1, -1, -1):
        met = stack[i].under(spot)
        if met is not None and met.layer.is_film(FilmClass.WATER_SOLUBLE):
            return i
        if met is not None and met.layer.coverage > COVERS:
            return None
    return None


SEALS_SHARE = 0.5  # of the height of grains, that a coat has to have to close over them
SEALS_UM = 5.0  # of a coat over what water takes off, from which it can no longer be worked (assumption)
BURIES = (Use.CLEAR, Use.COLOUR, Use.PRIMER)


def buried_by(k: Knowledge, stack: Sequence[Lying], place: int, carrier: Blend) -> Lying | None:
    """The coat that lies over another one as good as everywhere, so that nothing can be done to it any more.

    What the carrier opens does not bury: grime is scrubbed through an alcohol clear on purpose.
    """
    target = stack[place]
    soluble = target.layer.is_film(FilmClass.LOOSE, FilmClass.WATER_SOLUBLE)
    for over in stack[place + 1 :]:
        if soluble and over.layer.film_um < max(SEALS_UM, SEALS_SHARE * target.layer.film_um):
            continue  # grains come off from under what lies thinly on them
        covers = over.layer.is_for(*BURIES) and shared(target.spot, over.spot) > COVERS
        if covers and (over.layer.system is None or power_on(k, carrier, over.layer.system).power <= REOPENS):
            return over
    return None


def leave(c: Conditions, step: AnyStep, zone_id: str, lies: list[Lying], times: Times) -> set[int]:
    """Does a step to what lies on a zone; gives where something that lay there is other than it was."""
    if isinstance(step, CoatStep):
        entry, held = laid_on(c, step, zone_id, lies, times[step.id])
        for place in held:
            lies[place] = lies[place].bound()
        lies.append(entry)
        return set(held)
    if not isinstance(step, WorkingStep):
        return set()
    changed = worked_on(step, tuple(lies))
    for place in changed:
        lies[place] = lies[place].left(step.leaves, step.action)
    return set(changed)


def after(c: Conditions, step: AnyStep, zone_id: str, stack: Stack, times: Times) -> Stack:
    """What lies on a zone once a step is done there."""
    lies = list(stack)
    leave(c, step, zone_id, lies, times)
    return tuple(lies)


def beside(step: WorkingStep, stack: Stack) -> Stack:
    """What a working step meets beside the coat that it acts on."""
    place = place_of(stack, step.acts_on)
    others = tuple(entry for i, entry in enumerate(stack) if i != place)
    if step.action is WorkAction.CHIP:
        # The medium is meant to let go and the top coat with it: judge what lies below both.
        others = tuple(e for e in others if not e.layer.is_film(FilmClass.WATER_SOLUBLE))
    return others


def exposed(layers: tuple[Layer, ...]) -> list[tuple[int, float]]:
    """Which layers (nearest first) what lands will meet, and over what share of the zone."""
    bare, left = [], 1.0
    for i, layer in enumerate(layers):
        share = left * layer.coverage
        if share >= LEAST_SHARE:
            bare.append((i, share))
        left -= share
        if left < LEAST_SHARE:
            break
    return bare
