"""What takes a step off again without hurting anything below it, until when; and how far back one could still go.

Agrees with the seams by construction: what is called harmless here is what the seams' own mechanisms find nothing in.
"""

from __future__ import annotations

import math

from ..errors import NotThere
from ..judging import Conditions, RangeOut, Standing, stand
from ..judging.writing import range_out
from ..knowledge import Means
from ..plan import CoatStep, Plan
from ..seams.severity import CAUTION_FROM, CLASH_FROM
from ..seams.situation import Layer
from ..seams.windows import Edges
from ..vocabulary import Edge, Event, FilmClass, Model, Rescued, Use, capital
from .wiping import chips, grave, harm, removes

STRIP: dict[FilmClass, str] = {
    FilmClass.EVAPORATING: "Stripping, as a last resort: alcohol takes acrylics in minutes to a day; a lacquer "
    "goes only with what eats plastic too. Joints and filler may go with it.",
    FilmClass.DISPERSION: "Stripping, as a last resort: isopropanol, minutes to a day, with gloves and air; "
    "joints and filler may go with it.",
    FilmClass.OXIDISING: "Stripping, as a last resort: old enamel on plastic goes in caustic (eyes and "
    "gloves: it burns), never in hot thinner on polystyrene.",
    FilmClass.CROSSLINKED: "Nothing dissolves it: only abrasion takes it off, wet, with a mask.",
    FilmClass.UNKNOWN: "Bud-test it first: water, white spirit, 70 % isopropanol, mild thinner, in that order.",
}


class HarmOut(Model):
    """What a means does to one layer below."""

    step_id: str | None
    name: str
    severity: float
    word: str
    sentence: str


class RescueWay(Model):
    """One means: whether it is clean, until when, and what it harms on the way down.

    `effort`: it hardly comes any more. `along`: what goes too from below it. `comes_off`: ids of all that goes.
    """

    means: str
    name: str
    carrier: str | None
    state: Rescued
    until: RangeOut | None
    harms: list[HarmOut]
    effort: bool = False
    along: list[str] = []
    comes_off: list[str] = []


class Rescue(Model):
    """How to take a coat (step, zone) off at an instant: the best means, others, and what is left as a last resort.

    `over`: coats that lie on it and come off with it, newest first.
    """

    step_id: str
    zone_id: str
    at_min: float
    state: Rescued
    sentence: str
    until: RangeOut | None
    over: list[str]
    ways: list[RescueWay]
    last_resort: str


def _index(s: Standing, step_id: str) -> int | None:
    return next((i for i, layer in enumerate(s.layers) if layer.step_id == step_id), None)


def _harms(harmed: list[tuple[Layer, float, str, str]]) -> list[HarmOut]:
    return [
        HarmOut(step_id=layer.step_id, name=layer.name, severity=round(min(sev, 1.0), 3), word=word, sentence=sentence)
        for layer, sev, word, sentence in harmed
    ]


def _way(s: Standing, at: int, means: Means, along: tuple[int, ...] = ()) -> RescueWay | None:
    """A means on the coat at an index, on all that lies over it there, and on what is to go along from below it.

    None where it does not take all of them off. A colour over a live medium goes with it, while it can be chipped.
    """
    until: Edges | None = None
    effort, lowest = False, min((at, *along))
    for i in (at, *along, *(i for i in s.over(at) if i not in along)):
        layer = s.layers[i]
        gone, closes = removes(s, layer, means)
        if not gone and (chipped := chips(s, i, means)) is not None:
            medium, closes = chipped
            gone, lowest = True, min(lowest, medium)
        if not gone:
            return None
        effort = effort or (closes is not None and layer.is_film(FilmClass.OXIDISING) and s.at_min > closes.early)
        if closes is not None and (until is None or closes.best < until.best):
            until = closes
    harmed = harm(s, lowest, means)
    worst = grave(harmed)
    state = Rescued.CLEAN if worst < CAUTION_FROM else Rescued.CARE if worst < CLASH_FROM else Rescued.NONE
    if effort and state is Rescued.CLEAN:
        state = Rescued.CARE
    return RescueWay(
        means=means.id,
        name=means.name,
        carrier=means.carrier,
        state=state,
        until=range_out(until) if until is not None else None,
        harms=_harms(harmed),
        effort=effort,
        along=[s.layers[i].name for i in _along(at, lowest, along)],
        comes_off=[s.layers[i].step_id or "" for i in (*_along(at, lowest, along), at, *s.over(at))],
    )


def _along(at: int, lowest: int, along: tuple[int, ...]) -> list[int]:
    return [i for i in range(lowest, at) if i in (lowest, *along)]


def _together(s: Standing, at: int, ways: list[RescueWay]) -> list[RescueWay]:
    """Means that take the marks and media right below off too, where nothing takes the coat off by itself."""
    if any(w.state is Rescued.CLEAN for w in ways):
        return []
    found: list[RescueWay] = []
    along: tuple[int, ...] = ()
    for i in s.under(at):
        layer = s.layers[i]
        if len(along) >= MOST_ALONG or not (layer.is_for(Use.EFFECT) or layer.is_film(FilmClass.WATER_SOLUBLE)):
            break
        along = (*along, i)
        found += [w for m in s.k.means if (w := _way(s, at, m, along)) is not None and w.state is not Rescued.NONE]
        if found:
            break
    # What is given up along with it was not meant to go: with care, however clean the rest stays.
    return [w.model_copy(update={"state": Rescued.CARE}) for w in found]


def _by_hand(s: Standing, at: int) -> list[RescueWay]:
    """What is left where no liquid does it: a scraper on paste, fine abrasive on a coat that is hard enough for it."""
    layer = s.layers[at]
    if layer.drying is None or s.over(at):
        return []
    name = ""
    if layer.is_for(Use.PASTE) and layer.past(Event.TOUCH, s.at_min, Edge.LATE):
        name = "a wooden scraper and a stiff dry brush"
    elif layer.is_film(*SANDS) and layer.film_um >= LEAST_SANDED_UM and layer.past(Event.TAPE, s.at_min, Edge.LATE):
        name = "fine abrasive, used wet,"
    if not name:
        return []
    return [
        RescueWay(
            means="by_hand",
            name=name,
            carrier=None,
            state=Rescued.CARE,
            until=None,
            harms=[],
            effort=True,
            comes_off=[layer.step_id or ""],
        )
    ]


MOST_ALONG = 2  # marks that are given up with the one above them
SANDS = (FilmClass.EVAPORATING, FilmClass.DISPERSION, FilmClass.OXIDISING, FilmClass.CROSSLINKED)
LEAST_SANDED_UM = 6.0
ORDER = {Rescued.CLEAN: 0, Rescued.CARE: 1, Rescued.NONE: 2, Rescued.NOT_YET: 3}


def rescue(plan: Plan, step_id: str, zone_id: str, at_min: float, conditions: Conditions | None = None) -> Rescue:
    """How to take a coat off at an instant, minutes since the build's start.

    Raises NotThere where the plan has no such coat in that zone. Linear in the layers of the zone.
    """
    step = plan.step(step_id)
    if not isinstance(step, CoatStep) or zone_id not in step.zones:
        raise NotThere("coat in this zone", step_id)
    return rescued(stand(plan, zone_id, at_min, conditions), step_id)


def rescued(s: Standing, step_id: str) -> Rescue:
    """How to take a coat of a zone off as the zone stands."""
    zone_id, at_min = s.zone.id, s.at_min
    at = _index(s, step_id)
    if at is None:
        return Rescue(
            step_id=step_id, zone_id=zone_id, at_min=at_min, state=Rescued.NOT_YET, until=None, over=[], ways=[],
            sentence="It is not there at this moment: not laid yet, or worked off.", last_resort="",
        )  # fmt: skip
    ways = [w for m in s.k.means if (w := _way(s, at, m)) is not None]
    together = _together(s, at, ways)
    ways = [w for w in ways if w.means not in {t.means for t in together}] + together
    if not any(w.state is not Rescued.NONE for w in ways):
        ways += _by_hand(s, at)
    ways.sort(key=lambda w: ORDER[w.state])
    target = s.layers[at]
    over = [s.layers[i].name for i in reversed(s.over(at))]
    best = ways[0] if ways else None
    state = best.state if best is not None else Rescued.NONE
    assert target.system is not None
    return Rescue(
        step_id=step_id,
        zone_id=zone_id,
        at_min=at_min,
        state=state,
        sentence=_sentence(target, over, best),
        until=best.until if best is not None and state is not Rescued.NONE else None,
        over=over,
        ways=ways,
        last_resort=STRIP.get(target.system.film, "") if state is not Rescued.CLEAN else "",
    )


def _sentence(target: Layer, over: list[str], best: RescueWay | None) -> str:
    also = f", and “{over[0]}”{' and more' if len(over) > 1 else ''} over it," if over else ""
    if best is not None and best.along:
        also += f", together with “{best.along[-1]}” under it,"
    if best is None:
        if over:
            return f"Nothing takes “{target.name}”{also} off together any more."
        return f"Nothing that is usual at the bench takes “{target.name}” off any more."
    if best.state is Rescued.CLEAN:
        return f"{capital(best.name)} takes “{target.name}”{also} off and leaves what lies below alone."
    hurt = best.harms[0] if best.harms else None
    where = f" It {hurt.word} “{hurt.name}”." if hurt is not None else ""
    if best.means == "by_hand":
        return f"No liquid does it any more; {best.name} takes “{target.name}” down, and edges and detail with it."
    if best.state is Rescued.CARE and best.effort and hurt is None:
        return (
            f"{capital(best.name)} takes “{target.name}”{also} off, with effort: it is setting, and some of it stays."
        )
    if best.state is Rescued.CARE:
        return f"{capital(best.name)} takes “{target.name}”{also} off, with care.{where}"
    return f"What takes “{target.name}”{also} off hurts what lies below.{where}"


class WipeNow(Model):
    """The strongest thing that a spot may be wiped with now, and to which layer it would cut.

    `cuts_to`: the layer that is left bare; None is the base material. `removes`: what comes off, newest first.
    """

    zone_id: str
    at_min: float
    means: str | None
    name: str
    removes: list[str]
    cuts_to: str | None
    cuts_to_name: str
    sentence: str
    next_harm: HarmOut | None


def wipe_now(plan: Plan, zone_id: str, at_min: float, conditions: Conditions | None = None) -> WipeNow:
    """The strongest thing this very spot may be wiped with now. Raises NotThere where there is no such zone."""
    s = stand(plan, zone_id, at_min, conditions)
    best: tuple[Means, int] | None = None
    stopped: HarmOut | None = None
    for means in s.k.means:
        left = len(s.layers)
        while left > 0 and removes(s, s.layers[left - 1], means)[0]:
            left -= 1
        harmed = harm(s, left, means)
        if left == 0 and len(s.layers) > 1:
            # Taking everything off is stripping, not wiping, even where the material below would bear it.
            sentence = f"{capital(means.name)} strips everything down to {s.base.words}."
            stopped = stopped or HarmOut(
                step_id=s.layers[0].step_id, name=s.layers[0].name, severity=1.0, word="strips", sentence=sentence
            )
            continue
        if grave(harmed) >= CAUTION_FROM:
            stopped = stopped or _harms(harmed)[0]
            continue
        if best is None or left <= best[1]:  # what cuts deepest is the strongest here, whatever it is elsewhere
            best = (means, left)
    if best is None:
        return WipeNow(
            zone_id=zone_id, at_min=at_min, means=None, name="nothing", removes=[], next_harm=stopped,
            cuts_to=s.layers[-1].step_id if s.layers else None,
            cuts_to_name=s.layers[-1].name if s.layers else s.base.name,
            sentence="Nothing: even a dry brush hurts what lies on top now. Leave it alone.",
        )  # fmt: skip
    means, left = best
    under = s.layers[left - 1] if left else s.base
    gone = [layer.name for layer in reversed(s.layers[left:])]
    what = f"takes off {', '.join(f'“{g}”' for g in gone)} and stops at" if gone else "takes nothing off and leaves"
    return WipeNow(
        zone_id=zone_id,
        at_min=at_min,
        means=means.id,
        name=means.name,
        removes=gone,
        cuts_to=under.step_id,
        cuts_to_name=under.name,
        sentence=f"At most {means.name}: it {what} {under.words}.",
        next_harm=stopped,
    )


class Reach(Model):
    """How far down one could still go back in a zone, coat by coat, without hurting what stays.

    `undoable`: step ids that can come off, newest first; `stops_at`: what cannot, None the base material.
    """

    zone_id: str
    undoable: list[str]
    stops_at: str | None
    until_min: float | None


def undo_reach(plan: Plan, zone_id: str, at_min: float, conditions: Conditions | None = None) -> Reach:
    """Goes down coat by coat, each with a means that leaves the rest alone."""
    s = stand(plan, zone_id, at_min, conditions)
    undoable: list[str] = []
    soonest = math.inf
    for at in range(len(s.layers) - 1, -1, -1):
        layer = s.layers[at]
        until: float | None = None
        for means in s.k.means:
            gone, closes = removes(s, layer, means)
            if gone and grave(harm(s, at, means)) < CAUTION_FROM:
                until = math.inf if closes is None else closes.early
                break
        if until is None:
            return Reach(
                zone_id=zone_id,
                undoable=undoable,
                stops_at=layer.step_id,
                until_min=None if soonest == math.inf else soonest,
            )
        undoable.append(layer.step_id or "")
        soonest = min(soonest, until)
    return Reach(zone_id=zone_id, undoable=undoable, stops_at=None, until_min=None if soonest == math.inf else soonest)


def all_reaches(plan: Plan, at_min: float, conditions: Conditions | None = None) -> list[Reach]:
    """The undo reach of every zone at an instant."""
    return [undo_reach(plan, zone.id, at_min, conditions) for zone in plan.zones]
