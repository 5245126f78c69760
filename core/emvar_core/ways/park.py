"""Park it: what is live if one stops now, what may be left, what must be wiped or sealed first."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta

from ..assess import assess
from ..ids import coat_id
from ..judging import WindowOut, conditions_of, stand
from ..judging.stack import Times
from ..knowledge import Knowledge
from ..plan import FittingStep, Plan, WorkingStep, minutes_since_start, sittings, step_times
from ..seams.situation import Layer
from ..vocabulary import Edge, Event, FilmClass, FittingAction, Model, Urgency, Use

STOPS_IN_MIN = 10.0
MASK_OFF_H = 24.0  # where nothing is said of the mask
AWAY_MIN = 2 * 1440.0  # where the plan has no hours
LOOKED_AT = timedelta(days=60)


class Parked(Model):
    """One thing that is live when one stops. `until_min`: when it can no longer be done, if ever, in the first zone."""

    zones: list[str]
    step_id: str | None
    urgency: Urgency
    what: str
    sentence: str
    until_min: float | None


class Parking(Model):
    """What is live from an instant until one is back. `next_sitting`: that is when the plan's hours begin again."""

    at_min: float
    back_min: float
    next_sitting: bool = False
    items: list[Parked]
    safe: bool


def park(plan: Plan, at_min: float, back_min: float | None = None) -> Parking:
    """What must be done before stopping at an instant and coming back at another, minutes since the build's start.

    Where it is not said when one is back, that is the next sitting of the plan's hours, else two days later.
    """
    sits = next_sitting_min(plan, at_min) if back_min is None else None
    back = back_min if back_min is not None else sits if sits is not None else at_min + AWAY_MIN
    leaves = at_min + STOPS_IN_MIN
    times = step_times(plan)
    c = conditions_of(plan, times)
    answer = assess(plan, opens=False)
    items: list[Parked] = []
    for zone in plan.zones:
        s = stand(plan, zone.id, at_min, c)
        for i, layer in enumerate(s.layers):
            if layer.system is None or layer.drying is None or layer.step_id is None:
                continue
            windows = answer.coats[coat_id(layer.step_id, zone.id)].windows
            items += _coat(plan, times, windows, s.layers, i, zone.id, leaves, back)
        items += _mask(c.k, plan, times, zone.id, at_min, back)
        items += _under_way(plan, times, zone.id, at_min)
    items = _merged(items)
    order = {Urgency.NOW: 0, Urgency.HEED: 1, Urgency.LEAVE: 2}
    items.sort(key=lambda x: (order[x.urgency], x.until_min if x.until_min is not None else 1e12))
    safe = all(x.urgency is not Urgency.NOW for x in items)
    return Parking(at_min=at_min, back_min=back, next_sitting=sits is not None, items=items, safe=safe)


def next_sitting_min(plan: Plan, at_min: float) -> float | None:
    """When the next sitting begins after an instant, minutes since the build's start; None where the plan has none."""
    if plan.hours is None:
        return None
    since = plan.build.starts_at + timedelta(minutes=at_min)
    starts = (s.start for s in sittings(plan.hours, plan.build.tz, since, since + LOOKED_AT))
    return next((minutes_since_start(plan, s) for s in starts if s > since + timedelta(minutes=STOPS_IN_MIN)), None)


def _merged(items: list[Parked]) -> list[Parked]:
    """The same thing in several zones, said once."""
    merged: dict[tuple[str | None, str, str], Parked] = {}
    for item in items:
        key = (item.step_id, item.what, item.sentence)
        known = merged.get(key)
        merged[key] = item if known is None else known.model_copy(update={"zones": known.zones + item.zones})
    return list(merged.values())


def _coat(
    plan: Plan,
    times: Times,
    windows: list[WindowOut],
    layers: list[Layer],
    i: int,
    zone_id: str,
    leaves: float,
    back: float,
) -> Iterator[Parked]:
    layer = layers[i]
    drying, system = layer.drying, layer.system
    assert drying is not None and system is not None
    later = [
        s for s in plan.steps
        if isinstance(s, WorkingStep) and s.acts_on == layer.step_id and zone_id in s.zones
        and times[s.id].start_min >= leaves - STOPS_IN_MIN
    ]  # fmt: skip

    def item(urgency: Urgency, what: str, sentence: str, until: float | None = None) -> Parked:
        return Parked(
            zones=[zone_id], step_id=layer.step_id, urgency=urgency, what=what, sentence=sentence, until_min=until
        )

    for work in later:
        window = next((w for w in windows if w.action is work.action), None)
        closes = window.closes.best if window is not None else None
        if closes is not None and closes < back:
            yield item(
                Urgency.NOW,
                f"{work.action.value} first",
                f"“{layer.name}” is still to be worked (“{work.name}”), and its window closes before you are back: "
                f"{work.action.value} it now, or wipe it off.",
                closes,
            )
    if layer.is_film(FilmClass.WATER_SOLUBLE) and layer.is_for(Use.MEDIUM):
        top = layers[i + 1] if i + 1 < len(layers) else None
        chip = next(
            (s for s in plan.steps if isinstance(s, WorkingStep) and top is not None and s.acts_on == top.step_id), None
        )
        if top is None:
            yield item(
                Urgency.LEAVE, "leave", f"“{layer.name}” keeps for hours; lay the colour over it when you are back."
            )
        elif chip is None or times[chip.id].start_min >= leaves - STOPS_IN_MIN:
            yield item(
                Urgency.HEED, "gets harder",
                f"“{layer.name}” is live under “{top.name}”: chips come harder by the hour; keep water away from it.",
            )  # fmt: skip
        return
    touch = drying.event(Event.TOUCH, Edge.LATE)
    if touch > leaves:
        yield item(
            Urgency.HEED,
            "wet",
            f"“{layer.name}” is wet: leave it level under a box that does not touch it, in clean air, until it is dry "
            "to the touch.",
            touch,
        )
    elif drying.event(Event.RECOAT, Edge.BEST) > leaves and system.film is not FilmClass.LOOSE:
        yield item(
            Urgency.LEAVE, "soft", f"“{layer.name}” is soft: it may be left, but not masked, boxed tight or handled.",
            drying.event(Event.RECOAT, Edge.LATE),
        )  # fmt: skip
    elif system.film is FilmClass.LOOSE:
        yield item(Urgency.HEED, "loose", f"“{layer.name}” is loose: no draught, no fingers, no tape.")


def _under_way(plan: Plan, times: Times, zone_id: str, at_min: float) -> Iterator[Parked]:
    """What one is in the middle of."""
    for step in plan.steps:
        timing = times[step.id]
        if zone_id in step.zones and timing.start_min <= at_min < timing.end_min:
            yield Parked(
                zones=[zone_id], step_id=step.id, urgency=Urgency.NOW, what="under way", until_min=None,
                sentence=f"You are in the middle of “{step.name}”: finish it zone by zone, or take off what is wet.",
            )  # fmt: skip


def _mask(k: Knowledge, plan: Plan, times: Times, zone_id: str, at_min: float, back: float) -> list[Parked]:
    """A mask that is on when one stops."""
    on: FittingStep | None = None
    for step in plan.steps:
        if isinstance(step, FittingStep) and zone_id in step.zones and times[step.id].end_min <= at_min:
            if step.action is FittingAction.MASK:
                on = step
            elif step.action is FittingAction.UNMASK:
                on = None
    if on is None:
        return []
    touch = k.touches[on.material] if on.material else k.usual_mask
    hours = touch.off_within_h if touch.off_within_h is not None else MASK_OFF_H
    until = times[on.id].end_min + hours * 60
    late = until < back
    sentence = f"“{on.name}” is on: take it off " + ("before you go" if late else "when you are back")
    return [
        Parked(
            zones=[zone_id], step_id=on.id, urgency=Urgency.NOW if late else Urgency.HEED, what="mask on",
            sentence=sentence + f", within {hours:g} hours of putting it on.", until_min=until,
        )
    ]  # fmt: skip
