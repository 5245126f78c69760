"""The solver's model of a problem: when each job starts, in which sitting, with what in which airbrush."""

from __future__ import annotations

from dataclasses import dataclass, field
from heapq import heappop, heappush
from typing import Any

from ortools.sat.python import cp_model

from ..vocabulary import Goal
from .problem import Cleaned, Lag, Problem, Reached, Solution, Unsolvable

MOST_AGAIN = 3  # runs of a paint before the last one in a sitting


@dataclass
class _Run:
    """One paint in one airbrush in one sitting, with its cleaning."""

    stretch: int
    gun: int
    key: int
    used: Any
    start: Any
    end: Any
    cleaned: Any
    length: Any


@dataclass
class SearchModel:
    """The solver's model of a problem."""

    p: Problem
    soft: bool
    m: Any = field(default_factory=cp_model.CpModel)
    start: list[Any] = field(default_factory=list)
    at_bench: list[dict[int, Any]] = field(default_factory=list)
    in_cell: list[dict[int, Any]] = field(default_factory=list)
    hands: list[Any] = field(default_factory=list)
    runs: list[_Run] = field(default_factory=list)
    same: list[tuple[int, Any]] = field(default_factory=list)  # one run straight after another of the same paint
    over: dict[int, Any] = field(default_factory=dict)
    slacks: list[Any] = field(default_factory=list)
    used_bench: dict[int, Any] = field(default_factory=dict)

    def build(self) -> SearchModel:
        earliest, latest = earliest_of(self.p), _latest(self.p, self.soft)
        for i, job in enumerate(self.p.jobs):
            self._job(i, earliest[i], latest[i] + job.length)
        for i, lag in enumerate(self.p.lags):
            self._lag(i, lag)
            self._marks(lag)
        self._fine_work(earliest, latest)
        for a, b in self.p.order:
            self.m.add(self.start[a] <= self.start[b])
        self._resources()
        if self.p.stretches:
            self._airbrushes()
            self._capacity()
        if self.p.hands:
            self.m.add_no_overlap(self.hands)
        return self

    def _job(self, i: int, earliest: int, last: int) -> None:
        """A job's start, in which sitting, and in which cell where waits differ. `last`: the latest it can end."""
        job = self.p.jobs[i]
        needs_cells = any(len(o.least) > 1 or len(o.most or ()) > 1 for lag in self.p.lags if lag.before == i
                          for o in lag.options)  # fmt: skip
        at: dict[int, Any] = {}
        cells: dict[int, Any] = {}
        if not job.stretch or not self.p.stretches:
            start = self.m.new_int_var(earliest, max(last - job.length, earliest), job.id)
        else:
            fits = [
                (b, max(a, earliest), min(z, last) - job.length)
                for b, (a, z) in enumerate(self.p.stretches)
                if min(z, last) - job.length >= max(a, earliest)
            ]
            if not fits:
                raise Unsolvable(known=True)
            allowed = [(a, z) for _, a, z in fits]
            if job.within is not None:
                both = ((max(a, w), min(z, e - job.length)) for a, z in allowed for w, e in job.within if w <= z)
                allowed = [(a, z) for a, z in both if z >= a]
                if not allowed:
                    raise Unsolvable(known=True)
            start = self.m.new_int_var_from_domain(cp_model.Domain.from_intervals(allowed), job.id)
            if needs_cells:
                for group in self._alike_cells(i):
                    first, last_cell = self.p.cells[group[0]], self.p.cells[group[-1]]
                    box = next(((a, z) for b, a, z in fits if b == first.stretch), None)
                    if box is None:
                        continue
                    low, high = max(box[0], first.start + 1 - job.length), min(box[1], last_cell.end - job.length)
                    if low <= high:
                        cells[group[0]] = self._inside(start, low, high, f"{job.id} in cell {group[0]}")
                self.m.add_exactly_one(cells.values())
            for b, a, z in fits:
                mine = [v for c, v in cells.items() if self.p.cells[c].stretch == b]
                if len(mine) == 1:
                    at[b] = mine[0]
                elif mine:
                    at[b] = self.m.new_bool_var(f"{job.id} at {b}")
                    self.m.add(sum(mine) == at[b])
                elif not needs_cells:
                    at[b] = self._inside(start, a, z, f"{job.id} at {b}")
            self.m.add_exactly_one(at.values())
        self.start.append(start)
        self.at_bench.append(at)
        self.in_cell.append(cells)
        if self.p.hands and job.hands and job.length:
            self.hands.append(self.m.new_fixed_size_interval_var(start, job.length, job.id))

    def _alike_cells(self, i: int) -> list[list[int]]:
        """Cells of one sitting, next to each other, in which all waits after a job are the same, are one."""
        values = [v for lag in self.p.lags if lag.before == i for o in lag.options for v in (o.least, o.most or ())]
        values = [v for v in values if len(v) > 1]
        groups: list[list[int]] = []
        for c, cell in enumerate(self.p.cells):
            group = groups[-1] if groups else None
            same = group is not None and self.p.cells[group[0]].stretch == cell.stretch
            if group is not None and same and all(v[group[0]] == v[c] for v in values):
                group.append(c)
            else:
                groups.append([c])
        return groups

    def _inside(self, start: Any, low: int, high: int, name: str) -> Any:
        chosen = self.m.new_bool_var(name)
        self.m.add_linear_expression_in_domain(start, cp_model.Domain(low, high)).only_enforce_if(chosen)
        return chosen

    def _lag(self, i: int, lag: Lag) -> None:
        end = self.start[lag.before] + self.p.jobs[lag.before].length
        after = self.start[lag.after]
        chosen: list[Any] = [[]]
        if len(lag.options) > 1:
            literals = [self.m.new_bool_var(f"lag {i} option {o}") for o in range(len(lag.options))]
            self.m.add_exactly_one(literals)
            chosen = [[x] for x in literals]
        over: Any = 0
        if any(o.most is not None for o in lag.options):
            if self.soft:
                over = self.over[i] = self.m.new_int_var(0, self.p.horizon, f"over {i}")
            elif Goal.SLACK in self.p.goals:
                over = self.m.new_int_var(0, self.p.slack_cap, f"slack {i}")
                self.slacks.append(over)
                over = -over
        for option, when in zip(lag.options, chosen, strict=True):
            for cell, least, most in self._values(lag, option):
                conditions = when if cell is None else [*when, cell]
                rule = self.m.add(after >= end + least)
                if conditions:
                    rule.only_enforce_if(conditions)
                if most is not None:
                    rule = self.m.add(after <= end + most + over)
                    if conditions:
                        rule.only_enforce_if(conditions)

    def _values(self, lag: Lag, option: Any) -> list[tuple[Any, int, int | None]]:
        many = len(option.least) > 1 or len(option.most or ()) > 1
        if not many:
            return [(None, option.least[0], option.most[0] if option.most else None)]

        def value(values: tuple[int, ...], c: int) -> int:
            return values[c] if len(values) > 1 else values[0]

        return [
            (x, value(option.least, c), value(option.most, c) if option.most else None)
            for c, x in self.in_cell[lag.before].items()
        ]

    def _marks(self, lag: Lag) -> None:
        """What comes after starts at the mark that the end before it leads to."""
        if not lag.marks:
            return
        length = self.p.jobs[lag.before].length
        end, after = self.start[lag.before] + length, self.start[lag.after]
        whole = [(None, 0, self.p.horizon)]
        sitting = [(x, *self.p.stretches[b]) for b, x in self.at_bench[lag.before].items()]
        for inside, a, z in sitting or whole:
            pieces, low = [], a + length
            for last, mark in lag.marks:
                if low <= min(last, z):
                    pieces.append((low, min(last, z), mark))
                    low = last + 1
            if len(pieces) == 1:
                rule = self.m.add(after >= pieces[0][2])
                if inside is not None:
                    rule.only_enforce_if(inside)
                continue
            chosen = [self.m.new_bool_var(f"ends in piece {n}") for n in range(len(pieces))]
            for x, (low, high, mark) in zip(chosen, pieces, strict=True):
                self.m.add_linear_expression_in_domain(end, cp_model.Domain(low, high)).only_enforce_if(x)
                self.m.add(after >= mark).only_enforce_if(x)
            self.m.add(sum(chosen) == (1 if inside is None else inside))

    def _fine_work(self, earliest: list[int], latest: list[int]) -> None:
        """Each piece of fine work belongs to a row of such work that is over before the most that is allowed.

        Two pieces have a rest between them, or the later one is of the row of the earlier one.
        """
        p = self.p
        fine = [(i, job.fine) for i, job in enumerate(p.jobs) if job.fine is not None]
        if p.fine_most is None or len(fine) < 2:
            return
        begins = {}
        for i, (head, _) in fine:
            begins[i] = row = self.m.new_int_var(0, p.horizon, f"row of {p.jobs[i].id}")
            self.m.add(row <= self.start[i])
            self.m.add(self.start[i] + head - row <= p.fine_most)
        for n, (i, _) in enumerate(fine):
            for j, _ in fine[n + 1 :]:
                ways = [*self._in_turn(i, j, begins, earliest, latest), *self._in_turn(j, i, begins, earliest, latest)]
                self.m.add_exactly_one(ways)

    def _in_turn(self, i: int, j: int, begins: dict[int, Any], earliest: list[int], latest: list[int]) -> list[Any]:
        """One piece of fine work before another: with a rest between, or in the same row."""
        p, (one, other) = self.p, (self.p.jobs[i], self.p.jobs[j])
        assert one.fine is not None and other.fine is not None and p.fine_most is not None
        end = self.start[i] + one.length
        rested = self.m.new_bool_var(f"{one.id} rest {other.id}")
        self.m.add(self.start[j] >= end + p.rest).only_enforce_if(rested)
        if earliest[i] + one.length + p.rest > latest[j]:
            self.m.add(rested == 0)
        ways = [rested]
        tail = one.fine[1]
        if tail + other.fine[0] <= p.fine_most and earliest[i] + one.length <= latest[j]:
            near = self.m.new_bool_var(f"{one.id} on {other.id}")
            self.m.add(self.start[j] >= end).only_enforce_if(near)
            row = begins[i] if tail == one.length else end - tail
            self.m.add(begins[j] <= row).only_enforce_if(near)
            ways.append(near)
        return ways

    def _resources(self) -> None:
        for name, capacity in self.p.resources.items():
            intervals, demands = [], []
            for job, start in zip(self.p.jobs, self.start, strict=True):
                need = dict(job.needs).get(name, 0)
                if need and job.length:
                    intervals.append(self.m.new_fixed_size_interval_var(start, job.length, f"{job.id} {name}"))
                    demands.append(need)
            if intervals:
                self.m.add_cumulative(intervals, demands, capacity)
        if self.p.places is not None:
            drying = [
                (self.m.new_fixed_size_interval_var(s, j.length + j.dries, f"{j.id} dries"), j.places)
                for j, s in zip(self.p.jobs, self.start, strict=True)
                if j.places
            ]
            if drying:
                self.m.add_cumulative([d[0] for d in drying], [d[1] for d in drying], self.p.places)

    def _airbrushes(self) -> None:
        """Runs of one paint in a sitting, one after the other in each airbrush, with cleaning after each.

        A paint has one run a sitting, and another one where a different paint has to come between.
        """
        by_key: dict[tuple[int, int], list[int]] = {}
        for i, (job, again) in enumerate(zip(self.p.jobs, _again(self.p), strict=True)):
            if job.paint is not None:
                by_key.setdefault((job.paint.key, again), []).append(i)
        paints = {key: self.p.jobs[js[0]].paint for (key, _), js in by_key.items()}
        for b in range(len(self.p.stretches)):
            here = {k: [i for i in js if b in self.at_bench[i]] for k, js in by_key.items()}
            here = {k: js for k, js in here.items() if js}
            of_gun: dict[int, list[_Run]] = {}
            for (key, again), jobs in here.items():
                choices = []
                for gun in range(self.p.guns):
                    run = self._run(b, gun, key, again, twice=(key, 1) in by_key)
                    of_gun.setdefault(gun, []).append(run)
                    choices.append(run.used)
                    for i in jobs:
                        both = [run.used, self.at_bench[i][b]]
                        self.m.add(run.start <= self.start[i]).only_enforce_if(both)
                        self.m.add(run.end >= self.start[i] + self.p.jobs[i].length).only_enforce_if(both)
                sprayed = [self.at_bench[i][b] for i in jobs]
                any_used = choices[0]
                if len(choices) > 1:
                    any_used = self.m.new_bool_var(f"{key} at {b}")
                    self.m.add(sum(choices) == any_used)
                self.m.add_max_equality(any_used, sprayed)
            for runs in of_gun.values():
                self._one_after_other(runs, paints)

    def _run(self, b: int, gun: int, key: int, again: int, twice: bool) -> _Run:
        """`twice`: the paint may have another run in the sitting; without another paint between, nothing is cleaned."""
        a, z = self.p.stretches[b]
        name, other = f"gun {gun} paint {key}.{again} at {b}", self.p.clean[2]
        used = self.m.new_bool_var(name)
        start, end = (self.m.new_int_var(a, z, f"{name} {w}") for w in ("start", "end"))
        length = self.m.new_int_var(0 if twice else min(self.p.clean), max(self.p.clean), f"{name} clean")
        cleaned = self.m.new_int_var(a, z, f"{name} cleaned")
        self.m.add(end >= start).only_enforce_if(used)
        begin = self.m.new_int_var(a, z, f"{name} cleaning")
        self.m.add(begin >= end).only_enforce_if(used)
        if other:
            interval = self.m.new_optional_interval_var(begin, length, cleaned, used, f"{name} cleaning")
            self.hands.append(interval)
        else:
            self.m.add(cleaned == begin)
            self.m.add(length == 0)
        run = _Run(b, gun, key, used, start, end, cleaned, length)
        self.runs.append(run)
        return run

    def _one_after_other(self, runs: list[_Run], paints: dict[int, Any]) -> None:
        arcs = []
        for i, run in enumerate(runs, 1):
            arcs.append((i, i, run.used.negated()))
            first, last = (self.m.new_bool_var(f"{w} {run.stretch} {run.gun} {run.key}") for w in ("first", "last"))
            arcs += [(0, i, first), (i, 0, last)]
            self.m.add(run.length == self.p.clean[2]).only_enforce_if(last)
            for j, other in enumerate(runs, 1):
                if i == j:
                    continue
                then = self.m.new_bool_var(f"{run.stretch} {run.gun} {run.key} then {other.key}")
                arcs.append((i, j, then))
                self.m.add(other.start >= run.cleaned).only_enforce_if(then)
                if run.key == other.key:
                    self.same.append((run.stretch, then))
                cleaning = self.p.cleaning(paints[run.key], paints[other.key])
                self.m.add(run.length == cleaning).only_enforce_if(then)
        empty = self.m.new_bool_var("gun rests")
        arcs.append((0, 0, empty))
        self.m.add_bool_and([r.used.negated() for r in runs]).only_enforce_if(empty)
        self.m.add_circuit(arcs)

    def _capacity(self) -> None:
        """What fits into a sitting at all: implied, but it gives the solver its bound."""
        if not self.p.hands:
            return
        for b, (a, z) in enumerate(self.p.stretches):
            work = [
                self.p.jobs[i].length * at[b] for i, at in enumerate(self.at_bench) if b in at and self.p.jobs[i].length
            ]
            least = min(self.p.clean)
            work += [least * r.used for r in self.runs if r.stretch == b]
            work += [-least * then for at, then in self.same if at == b]
            if len(work) > 1:
                self.m.add(sum(work) <= z - a)

    # --- goals ---------------------------------------------------------------------------------------------

    def goal(self, goal: Goal) -> Any:
        """What is to be as small as it can be."""
        if goal is Goal.FINISH:
            finish = self.m.new_int_var(0, self.p.horizon, "finish")
            for job, start in zip(self.p.jobs, self.start, strict=True):
                self.m.add(finish >= start + job.length)
            if self.p.hands and self.p.stretches and not self.soft:
                self._reach_of_benches(finish)
            return finish
        if goal is Goal.SETUPS:
            return sum(r.used for r in self.runs) - sum(then for _, then in self.same)
        if goal is Goal.SITTINGS:
            for b in range(len(self.p.stretches)):
                here = [at[b] for at in self.at_bench if b in at]
                if here:
                    used = self.used_bench[b] = self.m.new_bool_var(f"sitting {b}")
                    self.m.add_max_equality(used, here)
            return sum(self.used_bench.values())
        return -sum(self.slacks)

    def _reach_of_benches(self, finish: Any) -> None:
        """A sitting that is used carries the finish past its start: links the goal to the sittings' literals."""
        for i, at in enumerate(self.at_bench):
            for b, x in at.items():
                if b:
                    self.m.add(finish >= self.p.stretches[b][0] + self.p.jobs[i].length).only_enforce_if(x)

    def read(self, solver: Any, reached: tuple[Reached, ...]) -> Solution:
        """The values of a solver, or of a callback, as a solution."""
        value = solver.value
        starts = tuple(value(s) for s in self.start)
        cleanings = [
            Cleaned(r.gun, value(r.cleaned) - value(r.length), value(r.length), r.key)
            for r in self.runs
            if value(r.used) and value(r.length)
        ]
        over = tuple((i, value(v)) for i, v in self.over.items() if value(v))
        return Solution(starts, tuple(sorted(cleanings, key=lambda c: (c.gun, c.start))), reached, over)


def _again(p: Problem) -> list[int]:
    """For each sprayed job, how many runs of its paint must be over before it, if all happens in one sitting.

    That is so where a chain of lags leads from its paint through another one back to it, and could fit into a sitting.
    """
    longest = max((z - a for a, z in p.stretches), default=0)
    after: list[list[tuple[int, int]]] = [[] for _ in p.jobs]
    for lag in p.lags:
        if lag.before < lag.after:
            after[lag.before].append((lag.after, min(min(o.least) for o in lag.options)))
    starts = [0] * len(p.jobs)
    for i, job in enumerate(p.jobs):
        if job.paint is None:
            continue
        ends, changed = {i: job.length}, {i: False}
        queue = [i]
        while queue:
            j = heappop(queue)  # by index, so that all that leads to a job is known when it comes
            mine = p.jobs[j].paint
            if j != i and mine is not None and mine.key == job.paint.key and changed[j]:
                starts[j] = min(max(starts[j], starts[i] + 1), MOST_AGAIN)
            other = changed[j] or (mine is not None and mine.key != job.paint.key)
            for k, least in after[j]:
                end = ends[j] + least + p.jobs[k].length
                if end > longest:
                    continue
                if k not in ends:
                    heappush(queue, k)
                ends[k] = max(ends.get(k, 0), end)
                changed[k] = changed.get(k, False) or other
    return starts


def earliest_of(p: Problem) -> list[int]:
    """Earliest starts by the least lags alone, moved into bench time; a longest path, so a bound for every schedule."""
    earliest = [job.release for job in p.jobs]
    for _ in range(len(p.jobs) + 1):
        moved = False
        for i, job in enumerate(p.jobs):
            if job.stretch and p.stretches:
                fits = [max(a, earliest[i]) for a, z in p.stretches if z - job.length >= max(a, earliest[i])]
                if not fits:
                    raise Unsolvable(known=True)
                if fits[0] > earliest[i]:
                    earliest[i], moved = fits[0], True
        for lag in p.lags:
            end = earliest[lag.before] + p.jobs[lag.before].length
            then = max(end + min(min(o.least) for o in lag.options), lag.mark(end))
            if then > earliest[lag.after]:
                earliest[lag.after], moved = then, True
        if not moved:
            return earliest
    raise Unsolvable(known=True)


def _latest(p: Problem, soft: bool) -> list[int]:
    """Latest starts from which everything that follows can still end by the horizon; moved into bench time."""
    latest = []
    for job in p.jobs:
        free = job.deadline is None or (soft and job.hands)  # what is done is done: only plans can be late
        latest.append((p.horizon if free else min(job.deadline or 0, p.horizon)) - job.length)
    for _ in range(len(p.jobs) + 1):
        moved = False
        for i, job in enumerate(p.jobs):
            if job.stretch and p.stretches:
                fits = [min(z - job.length, latest[i]) for a, z in p.stretches if min(z - job.length, latest[i]) >= a]
                if not fits:
                    raise Unsolvable(known=True)
                if fits[-1] < latest[i]:
                    latest[i], moved = fits[-1], True
        for lag in p.lags:
            least = min(min(o.least) for o in lag.options)
            then = latest[lag.after] - least - p.jobs[lag.before].length
            if then < latest[lag.before]:
                latest[lag.before], moved = then, True
        if not moved:
            return latest
    raise Unsolvable(known=True)
