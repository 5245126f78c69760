"""A first schedule, made as people do it: what is ready goes first, like with like, and nothing is begun that cannot be
finished while its window is open. The search starts from it, and looks no further ahead than it ends.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from ..plan.hours import Cleaning
from .net import Link, Net, Task, What
from .shift import FRESH, Missed, Row, Shifted, Shifter

BENCHES_TRIED = 12


@dataclass(frozen=True)
class _Hands:
    """Where the hands are, and what is in the airbrush. `bench`: the sitting it got there in; `row`: fine work."""

    at: float
    paint: Task | None = None
    stretch: int = -1
    row: Row = FRESH


@dataclass
class _Group:
    """Tasks that hang together by closing windows, in order; alone where nothing closes."""

    tasks: tuple[str, ...]
    kind: tuple[object, ...]


@dataclass
class First:
    """The making of a first schedule. `alike`: what two tasks of a batch have in common.

    `not_before`: tasks that cannot start before an instant, minutes since the build's start.
    """

    shifter: Shifter
    cleaning: Cleaning
    alike: dict[str, object]
    not_before: dict[str, float] = field(default_factory=dict)
    shifted: Shifted = field(default_factory=Shifted)

    def make(self, since: float, done: dict[str, float]) -> Shifted:
        """Puts everything that is not done into sittings. About quadratic in groups that are ready at one time."""
        self.shifted = Shifted(ends=dict(done))
        net = self.shifter.net
        groups = _groups(net, self.alike, set(done))
        of = {t: i for i, g in enumerate(groups) for t in g.tasks}
        waits: list[set[int]] = [set() for _ in groups]
        follow: list[set[int]] = [set() for _ in groups]
        for link in net.links:
            if link.before in of and link.after in of and of[link.before] != of[link.after]:
                waits[of[link.after]].add(of[link.before])
                follow[of[link.before]].add(of[link.after])
        ready = sorted(i for i, w in enumerate(waits) if not w)
        hands = _Hands(since)
        while ready:
            chosen = self._next(groups, ready, hands)
            if chosen is None:
                self.shifted.unplaced += [t for i in ready for t in groups[i].tasks]
                break
            taken, placed, hands = chosen
            for step, start, missed in placed:
                self.shifted.starts[step] = start
                self.shifted.ends[step] = start + self.shifter.tasks[step].minutes
                self.shifted.missed += missed
            for i in taken:
                ready.remove(i)
                for j in follow[i]:
                    waits[j].discard(i)
                    if not waits[j]:
                        ready.append(j)
            ready.sort()
        return self.shifted

    def _next(
        self, groups: list[_Group], ready: list[int], hands: _Hands
    ) -> tuple[list[int], list[tuple[str, float, list[Missed]]], _Hands] | None:
        """Of what is ready, the kind that can start first, with as many of its like as fit."""
        best: tuple[float, int] | None = None
        for i in ready:
            at = self._start(groups[i].tasks[0], hands)
            if at is not None and (best is None or (at, i) < best):
                best = (at, i)
        if best is None:
            return None
        kind = groups[best[1]].kind
        like = [i for i in ready if groups[i].kind == kind]
        single = len(groups[best[1]].tasks) == 1
        if single:
            placed = self._place([groups[best[1]].tasks[0]], hands)
            return ([best[1]], *placed) if placed is not None else None
        at = best[0]
        for _ in range(BENCHES_TRIED):
            for many in range(len(like), 0, -1):
                tasks = [t for stage in zip(*(groups[i].tasks for i in like[:many]), strict=True) for t in stage]
                placed = self._place(tasks, replace(hands, at=max(hands.at, at)))
                if placed is not None and not any(missed for _, _, missed in placed[0]):
                    return like[:many], *placed
            stretch = bisect_right(self.shifter.ends, at)
            if stretch >= len(self.shifter.stretches):
                break
            at = self.shifter.stretches[stretch][1]
        placed = self._place(list(groups[best[1]].tasks), hands)
        return ([best[1]], *placed) if placed is not None else None

    def _start(self, step: str, hands: _Hands) -> float | None:
        placed = self._place([step], hands)
        return placed[0][0][1] if placed is not None else None

    def _place(
        self, steps: Sequence[str], hands: _Hands
    ) -> tuple[list[tuple[str, float, list[Missed]]], _Hands] | None:
        """Some steps one after the other from where the hands are; None where one finds no sitting."""
        ends: dict[str, float] = {}
        placed = []
        for step in steps:
            task = self.shifter.tasks[step]
            spans: list[tuple[Link, list[tuple[float, float]]]] = []
            for link in self.shifter.below.get(step, ()):
                end = ends.get(link.before, self.shifted.ends.get(link.before))
                if end is not None:
                    spans.append((link, self.shifter.instants(link, end)))
            slot = self._slot(task, spans, hands)
            if slot is None:
                return None
            at, hands = slot
            ends[step] = at + task.minutes
            missed = [
                Missed(link, max((b for _, b in allowed), default=at), at)
                for link, allowed in spans
                if not any(a <= at + 1e-6 and at + (task.minutes if link.whole else 0) <= b + 1e-6 for a, b in allowed)
            ]
            placed.append((step, at, missed))
        return placed, hands

    def _slot(
        self, task: Task, spans: list[tuple[Link, list[tuple[float, float]]]], hands: _Hands
    ) -> tuple[float, _Hands] | None:
        """The first start that links, bench and cleaning allow, and where the hands are then."""
        at = hands.at
        for _ in range(60):
            then = max(at, self.not_before.get(task.id, 0.0))
            for link, allowed in spans:
                need = task.minutes if link.whole else 0.0
                fits = [max(a, then) for a, b in allowed if max(a, then) + need <= b + 1e-6]
                then = max(then, fits[0]) if fits else then
            fitted = self._in_stretch(task, hands.row.rested(task, then, self.shifter.rows), hands)
            if fitted is None:
                return None
            start, stretch = fitted
            if start <= at + 1e-9:
                break
            at = start
        end = at + task.minutes
        paint = task if task.mix is not None else (hands.paint if hands.stretch == stretch else None)
        return at, _Hands(end, paint, stretch, hands.row.on(task, at, task.minutes, self.shifter.rows))

    def _in_stretch(self, task: Task, minute: float, hands: _Hands) -> tuple[float, int] | None:
        """The first start in a sitting that leaves time to clean the airbrush, before it and at the end."""
        for i in range(bisect_right(self.shifter.ends, minute), len(self.shifter.stretches)):
            a, b = self.shifter.stretches[i]
            dirty = hands.paint if hands.stretch == i else None
            start = max(minute, a)
            if task.mix is not None and dirty is not None and dirty.mix is not None and dirty.mix != task.mix:
                like = dirty.mix.system == task.mix.system
                start = max(start, hands.at + (self.cleaning.dark_to_light_min if like else self.cleaning.other_min))
            start = self.shifter.allowed(i, task, self.shifter.on_grid(i, start))
            reserve = self.cleaning.other_min if task.mix is not None or dirty is not None else 0
            if start + _up(task.minutes, self.shifter.grid) + _up(reserve, self.shifter.grid) <= b + 1e-6:
                return start, i
        return None


def _up(minutes: float, grid: float) -> float:
    return math.ceil(minutes / grid - 1e-9) * grid


def _groups(net: Net, alike: dict[str, object], done: set[str]) -> list[_Group]:
    """Tasks joined by closing windows, with whatever lies between them in time."""
    left = [t for t in net.tasks if t.id not in done]
    place = {t.id: i for i, t in enumerate(left)}
    follow: dict[str, list[str]] = {}
    for link in net.links:
        if link.before in place and link.after in place:
            follow.setdefault(link.before, []).append(link.after)
    parent = {t.id: t.id for t in left}

    def root(x: str) -> str:
        while parent[x] != x:
            parent[x] = parent[parent[x]]
            x = parent[x]
        return x

    for link in net.links:
        closes = link.what is not What.ORDER and any(b < math.inf for _, b in link.ages.careful)
        if closes and link.before in place and link.after in place:
            for between in _between(follow, place, link.before, link.after):
                parent[root(between)] = root(link.before)
    members: dict[str, list[str]] = {}
    for t in left:
        members.setdefault(root(t.id), []).append(t.id)
    return [_Group(tuple(m), tuple(alike[t] for t in m)) for m in sorted(members.values(), key=lambda m: place[m[0]])]


def _between(follow: dict[str, list[str]], place: dict[str, int], first: str, last: str) -> set[str]:
    """Tasks on a way from one to another, both included."""
    ahead, stack = {first}, [first]
    while stack:
        for nxt in follow.get(stack.pop(), ()):
            if nxt not in ahead and place[nxt] <= place[last]:
                ahead.add(nxt)
                stack.append(nxt)
    between = {last}
    for step in sorted(ahead, key=lambda s: -place[s]):
        if any(n in between for n in follow.get(step, ())):
            between.add(step)
    return between
