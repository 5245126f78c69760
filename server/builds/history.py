"""What was changed in a build, in order, and how it is taken back: one's own first, also from under another's."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from emvar_core.errors import PlanError
from emvar_core.plan import AnyEdit, Plan, apply, edits_json, parse_edits

from .models import Build, Change

MOST_BETWEEN = 200  # changes of others that are looked at; beyond that one's own is not taken from under them


class Entangled(Exception):
    """One's own change cannot be taken back by itself: a later one, of another window, builds on it."""

    def __init__(self, own: str, later: str) -> None:
        super().__init__(
            f"“{own}” cannot be undone by itself: “{later}” came after it, from another window, and builds on it. "
            f"Press again to undo “{later}” first"
        )


def enter(build: Build, label: str, edits: list[AnyEdit], inverse: list[AnyEdit], window: str) -> None:
    """Enters edits into the history of a build that is being written. What was undone is then gone."""
    last = build.changes.order_by("-number").values_list("number", "undone").first()
    if last is not None and last[1]:  # what was undone lies at the end; a new edit ends its redo
        build.changes.filter(undone=True).delete()
        last = build.changes.order_by("-number").values_list("number", "undone").first()
    number = (last[0] if last else 0) + 1
    build.changes.create(
        number=number, label=label[:200], edits=edits_json(edits), inverse=edits_json(inverse), window=window
    )


def to_undo(build: Build, window: str) -> Change | None:
    """What undo takes back: the last change of one's own window; where it has made none, the last of anybody."""
    made = build.changes.filter(undone=False)
    last = made.last()
    if last is None or not window or last.window == window:
        return last
    return made.filter(window=window).last() or last


@dataclass
class TakenBack:
    """A plan without a change, and how each later change is taken back from now on."""

    change: Change
    plan: Plan
    edits: list[AnyEdit]
    later: list[Change]
    inverses: list[list[dict[str, Any]]]

    def keep(self) -> None:
        """Puts the change behind the later ones, as undone. Called inside of the transaction that writes the plan."""
        numbers = [self.change.number, *(c.number for c in self.later)]
        if self.later:
            Change.objects.filter(pk=self.change.pk).update(number=Change.objects.latest("number").number + 1)
        for change, inverse, number in zip(self.later, self.inverses, numbers, strict=False):
            change.number, change.inverse = number, inverse
            change.save(update_fields=["number", "inverse"])
        self.change.number, self.change.undone = numbers[-1], True
        self.change.save(update_fields=["number", "undone"])


def taken_back(plan: Plan, change: Change) -> TakenBack:
    """The plan without a change that may lie under others'.

    It can be taken from under them where both ways lead to one plan: taken back from what is there, and all of them
    taken back and the others made again without it. Raises Entangled otherwise.
    """
    later = list(change.build.changes.filter(undone=False, number__gt=change.number)[: MOST_BETWEEN + 1])
    edits = parse_edits(change.inverse)
    if not later:
        return TakenBack(change, apply(plan, edits)[0], edits, [], [])
    try:
        if len(later) > MOST_BETWEEN:
            raise Entangled(change.label, later[-1].label)
        after, was = apply(plan, edits)[0], plan
        for other in reversed(later):
            was = apply(was, parse_edits(other.inverse))[0]
        was, inverses = apply(was, edits)[0], []
        for other in later:
            was, inverse = apply(was, parse_edits(other.edits))
            inverses.append(edits_json(inverse))
    except PlanError:
        raise Entangled(change.label, later[-1].label) from None
    if was != after:
        raise Entangled(change.label, later[-1].label)
    return TakenBack(change, after, edits, later, inverses)
