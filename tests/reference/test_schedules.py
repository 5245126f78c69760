"""The search against published project-scheduling instances, and against a general-purpose integer-programming solver.

Sources beside each check; instances/README.md tells where the files come from.
"""

import random
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import numpy as np
from emvar_core.schedule.check import check
from emvar_core.schedule.problem import Job, Lag, Option, Problem, Solution, Unsolvable
from emvar_core.schedule.solve import solve
from emvar_core.vocabulary import Goal
from psplib import parse
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import lil_matrix

from tests.lengths import LONG, at_length

INSTANCES = Path(__file__).parent / "instances"

# Fisher and Thompson, "Probabilistic learning combinations of local job-shop scheduling rules", in Muth and Thompson
# (eds.), Industrial Scheduling, 1963: the 6 by 6 instance, (machine, time) in order. Typed in from memory. Optimum 55.
FT06 = [
    [(2, 1), (0, 3), (1, 6), (3, 7), (5, 3), (4, 6)],
    [(1, 8), (2, 5), (4, 10), (5, 10), (0, 10), (3, 4)],
    [(2, 5), (3, 4), (5, 8), (0, 9), (1, 1), (4, 7)],
    [(1, 5), (0, 5), (2, 5), (3, 3), (4, 8), (5, 9)],
    [(2, 9), (1, 3), (4, 5), (5, 4), (0, 3), (3, 1)],
    [(1, 3), (3, 3), (5, 9), (0, 10), (4, 4), (2, 1)],
]


def from_file(name: str, kind: str, horizon: int) -> Problem:
    """An instance of the published formats as a problem: start-to-start delays, or finish-to-start precedence."""
    instance = parse(INSTANCES / name, instance_format=kind)
    lengths = [a.modes[0].duration for a in instance.activities]
    jobs = tuple(
        Job(str(i), lengths[i], needs=tuple((str(r), n) for r, n in enumerate(a.modes[0].demands) if n))
        for i, a in enumerate(instance.activities)
    )
    lags = []
    for i, activity in enumerate(instance.activities):
        for n, j in enumerate(activity.successors):
            delay = activity.delays[n] if activity.delays else lengths[i]
            if delay >= 0 or not activity.delays:
                lags.append(Lag(i, j, (Option((delay - lengths[i],)),)))
            else:  # start i >= start j + delay: i comes at most -delay after j starts
                lags.append(Lag(j, i, (Option((-horizon,), (-delay - lengths[j],)),)))
    resources = {str(r): res.capacity for r, res in enumerate(instance.resources)}
    return Problem(jobs, tuple(lags), horizon, hands=False, resources=resources)


def job_shop(data: list[list[tuple[int, int]]], horizon: int) -> Problem:
    jobs, lags = [], []
    for row in data:
        for k, (machine, length) in enumerate(row):
            jobs.append(Job(f"{len(jobs)}", length, needs=((str(machine), 1),)))
            if k:
                lags.append(Lag(len(jobs) - 2, len(jobs) - 1, (Option((0,)),)))
    return Problem(tuple(jobs), tuple(lags), horizon, hands=False, resources={str(m): 1 for m in range(len(data))})


def finish(p: Problem, s: Solution) -> int:
    return max(a + job.length for a, job in zip(s.starts, p.jobs, strict=True))


def by_integer_programme(p: Problem) -> int | None:
    """The least finish by a time-indexed programme (Pritsker and others, 1969), by HiGHS; None: there is none."""
    n, h = len(p.jobs), p.horizon
    last = [h - job.length for job in p.jobs]
    columns = {(i, t): k for k, (i, t) in enumerate((i, t) for i in range(n) for t in range(last[i] + 1))}
    size = len(columns) + 1
    rows: list[tuple[dict[int, float], float, float]] = []
    for i in range(n):
        starts = range(last[i] + 1)
        rows.append(({columns[i, t]: 1.0 for t in starts}, 1, 1))
        ends = {columns[i, t]: -float(t + p.jobs[i].length) for t in starts}
        rows.append(({size - 1: 1.0} | ends, 0, np.inf))
    for lag in p.lags:
        option, length = lag.options[0], p.jobs[lag.before].length
        row = {columns[lag.after, t]: float(t) for t in range(last[lag.after] + 1)}
        for t in range(last[lag.before] + 1):
            row[columns[lag.before, t]] = row.get(columns[lag.before, t], 0.0) - t
        rows.append((row, option.least[0] + length, option.most[0] + length if option.most else np.inf))
    for name, capacity in p.resources.items():
        for at in range(h):
            row = {}
            for i, job in enumerate(p.jobs):
                need = dict(job.needs).get(name, 0)
                for t in range(max(at - job.length + 1, 0), min(at, last[i]) + 1) if need else ():
                    row[columns[i, t]] = float(need)
            if row:
                rows.append((row, -np.inf, capacity))
    matrix = lil_matrix((len(rows), size))
    for r, (row, _, _) in enumerate(rows):
        for c, v in row.items():
            matrix[r, c] = v
    cost = np.zeros(size)
    cost[-1] = 1
    found = milp(
        cost, integrality=np.ones(size), bounds=Bounds(np.zeros(size), np.append(np.ones(size - 1), h)),
        constraints=LinearConstraint(matrix.tocsr(), [r[1] for r in rows], [r[2] for r in rows]),
    )  # fmt: skip
    return round(found.fun) if found.status == 0 else None


class Published(TestCase):
    def settle(self, p: Problem, optimum: int) -> None:
        found = solve(p, seconds=60)
        self.assertTrue(found.proven, found.reached)
        self.assertEqual(finish(p, found), optimum)
        self.assertEqual(check(p, found), [])

    def test_psplib_j30_1_1_has_its_known_makespan(self) -> None:
        self.settle(from_file("j301_1.sm", "psplib", 158), 43)

    def test_fisher_and_thompson_6_by_6_has_its_known_makespan(self) -> None:
        self.settle(job_shop(FT06, 197), 55)

    def agree(self, p: Problem) -> int | None:
        best = by_integer_programme(p)
        if best is None:
            with self.assertRaises(Unsolvable) as refused:
                solve(p, seconds=60)
            self.assertTrue(refused.exception.known)
        else:
            self.settle(p, best)
        return best

    def test_ubo10_1_with_maximum_lags_agrees_with_an_integer_programme(self) -> None:
        p = from_file("UBO10_01.sch", "rcpsp_max", 80)
        self.assertIsNone(self.agree(p), "its maximum lags and resources contradict each other")
        if not LONG:  # a looser one of the same size is agreed upon at length
            return
        roomy = replace(p, resources={name: 2 * n for name, n in p.resources.items()})
        self.assertIsNotNone(self.agree(roomy))

    def test_random_instances_with_maximum_lags_agree_with_an_integer_programme(self) -> None:
        rng, found = random.Random(7), set()
        for _ in range(at_length(4, 12)):
            jobs = tuple(Job(f"j{i}", rng.randint(1, 6), needs=(("r", rng.randint(1, 3)),)) for i in range(6))
            lags = []
            for a in range(6):
                for b in range(a + 1, 6):
                    if rng.random() < 0.35:
                        least = rng.randint(0, 6)
                        most = (least + rng.randint(0, 5),) if rng.random() < 0.5 else None
                        lags.append(Lag(a, b, (Option((least,), most),)))
            best = self.agree(Problem(jobs, tuple(lags), 45, hands=False, resources={"r": 3}))
            found.add(best is None)
        self.assertEqual(found, {True, False}, "both kinds were met")

    def test_below_its_optimum_the_first_instance_has_no_schedule_at_all(self) -> None:
        with self.assertRaises(Unsolvable) as refused:
            solve(from_file("j301_1.sm", "psplib", 42), seconds=60)
        self.assertTrue(refused.exception.known)

    def test_goals_are_the_finish_alone_where_nothing_is_sprayed(self) -> None:
        p = job_shop(FT06, 197)
        self.assertEqual([r.goal for r in solve(p, seconds=60).reached], [Goal.FINISH])
