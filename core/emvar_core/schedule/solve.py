"""The search: a problem given to a constraint solver, one goal after the other.

Each goal is minimised with the ones before it held at what was reached. "Proven" means optimal at every goal; where
time runs out first, the bound says how far the best so far may be from the best there is.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ortools.sat.python import cp_model

from ..vocabulary import Goal
from .problem import PATIENCE, Problem, Progress, Reached, Solution, Tell, Unsolvable, clock
from .search_model import SearchModel, earliest_of

SHARES = (0.6, 0.5, 0.5, 1.0)  # of the time that is left, for each goal in turn
TIDY_S = 1.0
FIRST_S = 2.0
LARGE = 60  # jobs from which the finish is settled sitting by sitting
LAST_RESORT = 0.3  # of the time that is kept for the search at large
BROKEN = 100_000  # what breaking one more lag costs against breaking it by a unit


class _Watch(cp_model.CpSolverSolutionCallback):
    """Tells of every better schedule as it is found."""

    def __init__(self, model: SearchModel, goal: str, reached: tuple[Reached, ...], tell: Tell, began: float) -> None:
        super().__init__()
        self.model, self.goal, self.reached, self.tell, self.began = model, goal, reached, tell, began

    def on_solution_callback(self) -> None:
        value, bound = round(self.objective_value), round(self.best_objective_bound)
        here = (*self.reached, Reached(self.goal, value, bound, False))
        self.tell(Progress(self.goal, value, bound, clock() - self.began, self.model.read(self, here)))


def solve(
    p: Problem,
    *,
    seconds: float = 20.0,
    tell: Tell = lambda _: None,
    soft: bool = False,
    hint: tuple[int, ...] | None = None,
    workers: int = 2,
    tidy: bool = True,
) -> Solution:
    """The best schedule of a problem, goal by goal, within a time in seconds.

    With `soft`, lags' `most` and deadlines may be broken, as few and by as little as can be: what is broken stands in
    `over`. Raises Unsolvable where there is none, or none was found in the time.
    """
    if soft or len(p.jobs) < LARGE or not p.stretches or p.goals[0] is not Goal.FINISH:
        return _solve(p, seconds=seconds, tell=tell, soft=soft, hint=hint, workers=workers, tidy=tidy)
    # A large problem is easier to settle sitting by sitting: can it end in this one? A proof that it cannot lifts the
    # bound; the first in which it can holds the best there is.
    began = clock()
    finish = _least_finish(p)
    for _, last in p.stretches:
        left = seconds - (clock() - began)
        if last < finish or last >= p.horizon or left < seconds * LAST_RESORT:
            continue
        within = left - seconds * LAST_RESORT / 2
        try:
            return _solve(replace(p, horizon=last), seconds=within, tell=tell, workers=workers, tidy=tidy)
        except Unsolvable as no:
            if not no.known:
                break
    left = max(seconds - (clock() - began), 1.0)
    return _solve(p, seconds=left, tell=tell, hint=hint, workers=workers, tidy=tidy)


def _least_finish(p: Problem) -> int:
    """No schedule ends before this: the longest path, and the work that must fit into bench time."""
    path = max((a + job.length for a, job in zip(earliest_of(p), p.jobs, strict=True)), default=0)
    work = sum(j.length for j in p.jobs if j.stretch and j.hands) if p.hands else 0
    for a, z in p.stretches:
        if work <= z - a:
            return max(path, a + work)
        work -= z - a
    return path


def _solve(
    p: Problem, *, seconds: float, tell: Tell = lambda _: None, soft: bool = False, hint: tuple[int, ...] | None = None,
    workers: int = 2, tidy: bool = True,
) -> Solution:  # fmt: skip
    began = clock()
    model = SearchModel(p, soft).build()
    if hint is not None:
        _take_up(model, hint, workers)
    goals: list[tuple[str, Any]] = []
    if soft:
        goals.append(("broken", _broken(model)))
    for goal in p.goals:
        if goal is Goal.SLACK and (soft or not model.slacks):
            continue
        goals.append((goal.value, model.goal(goal)))
    reached: tuple[Reached, ...] = ()
    best: Solution | None = None
    for i, (name, expression) in enumerate(goals):
        left = seconds - (clock() - began)
        if best is not None and left < 0.05:
            break
        share = SHARES[min(i, len(SHARES) - 1)] if i + 1 < len(goals) else 1.0
        solver = _solver(max(left * share, 0.2), workers)
        model.m.minimize(expression)
        status = solver.solve(model.m, _Watch(model, name, reached, tell, began))
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            if best is None:
                raise Unsolvable(known=status == cp_model.INFEASIBLE)
            break
        value = round(solver.objective_value)
        proven = status == cp_model.OPTIMAL
        bound = value if proven else round(solver.best_objective_bound)
        reached = (*reached, Reached(name, value, bound, proven))
        best = model.read(solver, reached)
        model.m.add(expression <= value)
        _hint(model, solver)
    for name, _ in goals[len(reached) :]:
        reached = (*reached, Reached(name, 0, 0, False))
    assert best is not None
    if tidy and not soft:
        best = _tidied(model, best, min(TIDY_S, max(seconds - (clock() - began), 0.1)), workers)
    return Solution(best.starts, best.cleanings, reached, best.over)


def _solver(seconds: float, workers: int) -> Any:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds * PATIENCE
    solver.parameters.num_workers = workers
    solver.parameters.random_seed = 1
    return solver


def _take_up(model: SearchModel, starts: tuple[int, ...], workers: int) -> None:
    """A schedule that is known already, made whole (cleanings and all) so that the search starts from it."""
    for var, at in zip(model.start, starts, strict=True):
        model.m.add_hint(var, at)
    solver = _solver(FIRST_S, workers)
    solver.parameters.fix_variables_to_their_hinted_value = True
    model.m.clear_objective()
    if solver.solve(model.m) in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        _hint(model, solver)


def _hint(model: SearchModel, solver: Any) -> None:
    """The last schedule is where the next goal starts from."""
    model.m.clear_hints()
    for i in range(len(model.m.proto.variables)):
        var = model.m.get_int_var_from_proto_index(i)
        model.m.add_hint(var, solver.value(var))


def _tidied(model: SearchModel, best: Solution, seconds: float, workers: int) -> Solution:
    """The same schedule with everything as early as it can be: nothing is left to chance. Proves nothing."""
    n = len(model.start)  # a little more weight on what stands first in the plan: like items keep their order
    early = sum((2 * n - i) * start for i, start in enumerate(model.start))
    model.m.minimize(early + n * sum(r.cleaned for r in model.runs))
    solver = _solver(seconds, workers)
    if solver.solve(model.m) in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return model.read(solver, best.reached)
    return best


def _broken(model: SearchModel) -> Any:
    """How many lags and deadlines are broken, and by how much."""
    m, p = model.m, model.p
    for i, (job, start) in enumerate(zip(p.jobs, model.start, strict=True)):
        if job.deadline is not None and job.hands:
            late = model.over[len(p.lags) + i] = m.new_int_var(0, p.horizon, f"late {job.id}")
            m.add(start + job.length <= job.deadline + late)
    cost = 0
    for i, over in model.over.items():
        broken = m.new_bool_var(f"broken {i}")
        m.add(over == 0).only_enforce_if(broken.negated())
        cost = cost + BROKEN * broken + over
    return cost


__all__ = ["Progress", "Tell", "Unsolvable", "solve"]
