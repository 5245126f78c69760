"""Work put into sittings in a given order, each as early as it may be. No search: this is what happens at a bench.

It tells at once what a drag would break, and plays the dry run. Windows that have closed count as missed; the work
is then done as soon as it can be.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from .net import Link, Net, Task

Stretch = tuple[float, float]
# The stretches that a link allows, given the end of its lower step.
Instants = Callable[[Link, float], list[tuple[float, float]]]
ROUNDS = 60


@dataclass(frozen=True)
class Missed:
    """A window that closed before its work could be done, and by how much."""

    link: Link
    closed_min: float
    done_min: float


@dataclass(frozen=True)
class Rows:
    """How long fine work may go on in a row, and the rest after it, minutes."""

    most_min: float
    rest_min: float


@dataclass(frozen=True)
class Row:
    """Fine work in a row: since when, and until when so far."""

    since: float = -math.inf
    until: float = -math.inf

    def rested(self, task: Task, at: float, rows: Rows | None) -> float:
        """The first start from an instant on at which fine work has had its rest."""
        if rows is None or task.fine is None or at - self.until >= rows.rest_min - 1e-6:
            return at
        return at if at + task.fine.head - self.since <= rows.most_min + 1e-6 else self.until + rows.rest_min

    def on(self, task: Task, at: float, length: float, rows: Rows | None) -> Row:
        """With a piece of work done; what is no fine work does not make a rest shorter."""
        if rows is None or task.fine is None:
            return self
        since = self.since if at - self.until < rows.rest_min - 1e-6 else at
        return Row(at + length - task.fine.tail if task.fine.rests else since, at + length)


FRESH = Row()


@dataclass
class Shifted:
    """Starts and ends by step, and what was missed. `unplaced`: what found no bench time at all."""

    starts: dict[str, float] = field(default_factory=dict)
    ends: dict[str, float] = field(default_factory=dict)
    missed: list[Missed] = field(default_factory=list)
    unplaced: list[str] = field(default_factory=list)

    @property
    def finish_min(self) -> float:
        return max(self.ends.values(), default=0.0)


class Shifter:
    """The links and the bench time of one plan, ready to be played many times."""

    def __init__(
        self, net: Net, stretches: Sequence[Stretch], instants: Instants, grid_min: float = 1.0,
        sprays: Sequence[Stretch] | None = None, rows: Rows | None = None,
    ) -> None:  # fmt: skip
        self.net, self.stretches, self.instants, self.grid = net, stretches, instants, grid_min
        self.sprays = sprays  # when the compressor may run; None: always
        self.rows = rows
        self.spray_ends = [b for _, b in sprays or ()]
        self.ends = [b for _, b in stretches]
        self.below: dict[str, list[Link]] = {}
        self.above: dict[str, list[Link]] = {}
        for link in net.links:
            self.below.setdefault(link.after, []).append(link)
            self.above.setdefault(link.before, []).append(link)

    def stretch_at(
        self, minute: float, length: float, task: Task | None = None, work: float | None = None
    ) -> float | None:  # fmt: skip
        """The first start from an instant on at which work of a length fits into one sitting.

        `work`: what of it is the task itself, where that is not as long as is planned.
        """
        for i in range(bisect_left(self.ends, minute), len(self.stretches)):
            a, b = self.stretches[i]
            start = self.on_grid(i, max(minute, a))
            if task is not None:
                start = self.allowed(i, task, start, work)
            if start + length <= b + 1e-6:
                return start
        return None

    def on_grid(self, stretch: int, minute: float) -> float:
        """The first mark of the grid in a sitting from an instant on."""
        a, _ = self.stretches[stretch]
        return a + math.ceil((minute - a - 1e-6) / self.grid) * self.grid

    def allowed(self, stretch: int, task: Task, start: float, work: float | None = None) -> float:
        """The first start from one on in a sitting at which a task may run; beyond its end where it may not."""
        if self.sprays is None or not task.sprays:
            return start
        minutes = task.minutes if work is None else work
        for a, b in self.sprays[bisect_left(self.spray_ends, start + minutes - 1e-6) :]:
            here = self.on_grid(stretch, max(start, a))
            if here + minutes <= b + 1e-6:
                return here
        return math.inf

    def earliest(
        self, task: Task, since: float, ends: dict[str, float], length: float, block: float, row: Row
    ) -> tuple[float | None, list[Missed]]:
        """The first start from an instant on that all links allow; windows that have closed are missed.

        `block`: the bench time it takes with its cleaning. `row`: fine work so far.
        """
        spans = []
        for link in self.below.get(task.id, ()):
            end = ends.get(link.before)
            if end is not None:
                spans.append((link, self.instants(link, end)))
        at = since
        for _ in range(ROUNDS):
            then = at
            for link, allowed in spans:
                need = length if link.whole else 0.0
                fits = [max(a, then) for a, b in allowed if max(a, then) + need <= b + 1e-6]
                then = fits[0] if fits else max([then, *(a for a, _ in allowed if a > then)][-1:])
            placed = self.stretch_at(row.rested(task, then, self.rows), block, task, length)
            if placed is None:
                return None, []
            if placed <= at + 1e-9:
                break
            at = placed
        missed = []
        for link, allowed in spans:
            need = length if link.whole else 0.0
            if not any(a <= at + 1e-6 and at + need <= b + 1e-6 for a, b in allowed):
                closed = max((b for a, b in allowed if a <= at + 1e-6), default=math.inf)
                if closed < math.inf:
                    missed.append(Missed(link, closed, at + need))
        return at, missed

    def in_order(
        self,
        order: Sequence[str],
        *,
        not_before: dict[str, float] | None = None,
        lengths: dict[str, float] | None = None,
        cleaning: dict[str, float] | None = None,
        done: dict[str, float] | None = None,
        since: float = 0.0,
        fixed: dict[str, float] | None = None,
        owes: dict[str, float] | None = None,
    ) -> Shifted:
        """Keeps an order and shifts to the right: each step starts no earlier than asked, and when it may.

        `done`: ends of what is over already. `fixed`: starts that stand, whatever they break. Work takes `lengths`
        (else its own hands-on time) and `cleaning` right after it; what it `owes` of cleaning has to find its time
        before the next spraying, or before the sitting is over. Linear in steps and links.
        """
        shifted, hands, row = Shifted(ends=dict(done or {})), since, FRESH
        owed, sitting = 0.0, -1
        for step_id in order:
            task = self.tasks[step_id]
            length = (lengths or {}).get(step_id, task.minutes)
            block = length + (cleaning or {}).get(step_id, 0.0)
            wish = max(hands + (owed if task.mix is not None else 0.0), (not_before or {}).get(step_id, 0.0))
            then_owed = (owes or {}).get(step_id, 0.0) if task.mix is not None else max(owed - max(wish - hands, 0), 0)
            at: float | None
            if fixed and step_id in fixed:
                at, missed = fixed[step_id], self.missed_at(task, fixed[step_id], length, shifted.ends)
            else:
                at, missed = self.earliest(task, wish, shifted.ends, length, block + then_owed, row)
            if at is None:
                shifted.unplaced.append(step_id)
                continue
            shifted.starts[step_id], shifted.ends[step_id] = at, at + length
            shifted.missed += missed
            here = bisect_left(self.ends, at + 1e-6)
            if task.mix is None:
                owed = max(owed - max(at - hands, 0.0), 0.0) if here == sitting else 0.0
            else:
                owed = then_owed
            hands, row, sitting = max(hands, at + block), row.on(task, at, length, self.rows), here
        return shifted

    def missed_at(self, task: Task, at: float, length: float, ends: dict[str, float]) -> list[Missed]:
        """Which links a start breaks: too late by a closing edge, or too early by an opening one."""
        missed = []
        for link in self.below.get(task.id, ()):
            end = ends.get(link.before)
            if end is None:
                continue
            allowed = self.instants(link, end)
            need = length if link.whole else 0.0
            if not any(a <= at + 1e-6 and at + need <= b + 1e-6 for a, b in allowed):
                edge = next((a for a, _ in allowed if a > at), max((b for _, b in allowed), default=at))
                missed.append(Missed(link, edge, at + need))
        return missed

    @property
    def tasks(self) -> dict[str, Task]:
        by_id: dict[str, Task] | None = self.__dict__.get("_tasks")
        if by_id is None:
            by_id = self.__dict__["_tasks"] = {t.id: t for t in self.net.tasks}
        return by_id
