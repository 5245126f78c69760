"""The search on small problems: against brute force, and against a checker that shares nothing with it."""

import itertools
import random
from collections.abc import Callable
from dataclasses import replace
from unittest import TestCase

from emvar_core.schedule.check import check
from emvar_core.schedule.problem import Cell, Cleaned, Job, Lag, Option, Paint, Problem, Solution, Unsolvable
from emvar_core.schedule.solve import solve
from emvar_core.vocabulary import Goal
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.lengths import at_length

RED, WHITE, CLEAR = Paint(1, "lacquer", 0.2), Paint(2, "lacquer", 0.9), Paint(3, "enamel", 0.5)


def lag(before: int, after: int, least: int = 0, most: int | None = None) -> Lag:
    return Lag(before, after, (Option((least,), None if most is None else (most,)),))


def brute_force(p: Problem, keeps: Callable[[tuple[int, ...]], bool] = lambda _: True) -> int | None:
    """The least finish over every way to place the jobs; None where there is none. `keeps`: a further rule."""
    best = None
    for starts in itertools.product(*(range(p.horizon - job.length + 1) for job in p.jobs)):
        end = max(a + job.length for a, job in zip(starts, p.jobs, strict=True))
        if (best is None or end < best) and not check(p, Solution(starts, (), ())) and keeps(starts):
            best = end
    return best


def solved_best(case: TestCase, p: Problem, best: int | None) -> Solution | None:
    """The search's answer, which has to be as good as the best of all ways, and none where there is none."""
    if best is None:
        with case.assertRaises(Unsolvable):
            solve(p, seconds=20)
        return None
    found = solve(p, seconds=20)
    case.assertEqual(check(p, found), [])
    case.assertEqual(max(a + j.length for a, j in zip(found.starts, p.jobs, strict=True)), best)
    case.assertTrue(found.proven)
    return found


@st.composite
def small(draw: st.DrawFn) -> Problem:
    """Three or four jobs in two or three sittings of a short horizon, with lags that may close."""
    n = draw(st.integers(2, 4))
    jobs = tuple(Job(f"j{i}", draw(st.integers(1, 3))) for i in range(n))
    lags = []
    for a, b in itertools.combinations(range(n), 2):
        if draw(st.booleans()):
            least = draw(st.integers(0, 4))
            lags.append(lag(a, b, least, draw(st.none() | st.integers(least, least + 4))))
    stretches = draw(st.sampled_from([((0, 4), (7, 12)), ((1, 5), (6, 8), (10, 13)), ((0, 13),)]))
    return Problem(jobs, tuple(lags), 13, stretches=stretches, clean=(0, 0, 0))


class AgainstBruteForce(TestCase):
    @settings(max_examples=at_length(10, 40))
    @given(small())
    def test_the_finish_is_the_best_of_all_ways(self, p: Problem) -> None:
        solved_best(self, p, brute_force(p))

    @settings(max_examples=at_length(7, 25))
    @given(small(), st.integers(0, 2), st.integers(1, 2))
    def test_a_longer_sitting_never_delays_a_proven_finish(self, p: Problem, which: int, more: int) -> None:
        which %= len(p.stretches)
        a, z = p.stretches[which]
        most = p.stretches[which + 1][0] if which + 1 < len(p.stretches) else p.horizon
        longer = list(p.stretches)
        longer[which] = (a, min(z + more, most))
        try:
            before = solve(p, seconds=20).reached[0]
        except Unsolvable:
            return
        after = solve(replace(p, stretches=tuple(longer)), seconds=20).reached[0]
        self.assertTrue(before.proven and after.proven)
        self.assertLessEqual(after.value, before.value)


def too_long_a_row(p: Problem, starts: tuple[int, ...]) -> bool:
    """Whether fine work goes on for too long, read off a timeline: a gap of a rest ends a row."""
    assert p.fine_most is not None
    times = sorted((a, a + j.length) for a, j in zip(starts, p.jobs, strict=True) if j.fine is not None)
    rows: list[list[tuple[int, int]]] = []
    for start, end in times:
        if rows and start - rows[-1][-1][1] < p.rest:
            rows[-1].append((start, end))
        else:
            rows.append([(start, end)])
    return any(row[-1][1] - row[0][0] > p.fine_most for row in rows)


class FineWork(TestCase):
    @settings(max_examples=at_length(10, 40))
    @given(small(), st.integers(3, 6), st.integers(1, 3), st.data())
    def test_rests_cost_no_more_than_they_must(self, p: Problem, most: int, rest: int, data: st.DataObject) -> None:
        jobs = tuple(replace(j, fine=(j.length,) * 2 if data.draw(st.booleans()) else None) for j in p.jobs)
        p = replace(p, jobs=jobs, fine_most=most, rest=rest)
        free = replace(p, fine_most=None)  # so that the rule is this test's own
        found = solved_best(self, p, brute_force(free, lambda starts: not too_long_a_row(p, starts)))
        self.assertFalse(found is not None and too_long_a_row(p, found.starts))

    def test_other_work_is_a_rest_too(self) -> None:
        fine = tuple(Job(f"f{i}", 4, fine=(4, 4)) for i in range(3))
        p = Problem(fine, (), 40, stretches=((0, 40),), fine_most=9, rest=2)
        self.assertEqual(solve(p, seconds=5).reached[0].value, 14)
        self.assertEqual(solve(replace(p, jobs=(*fine, Job("coarse", 2))), seconds=5).reached[0].value, 14)
        self.assertEqual(solve(replace(p, jobs=(*fine, Job("short", 1))), seconds=5).reached[0].value, 14)

    def test_after_long_work_only_what_follows_its_last_rest_counts(self) -> None:
        long, short = Job("long", 22, fine=(10, 2)), Job("short", 8, fine=(8, 8))  # two rests of 1 in twenty minutes
        p = Problem((long, short), (lag(0, 1),), 60, stretches=((0, 60),), fine_most=10, rest=1)
        self.assertEqual(solve(p, seconds=5).reached[0].value, 30)
        longer = replace(p, jobs=(long, Job("short", 9, fine=(9, 9))))
        self.assertEqual(solve(longer, seconds=5).reached[0].value, 32)


class Marks(TestCase):
    """What is left until a mark: an evening's work until the morning after it."""

    P = Problem(
        (Job("coat", 2), Job("next", 1)),
        (Lag(0, 1, (Option((0,)),), marks=((8, 12), (20, 24), (32, 36))),),
        40,
        stretches=((0, 40),),
    )

    def test_what_follows_starts_at_the_mark_that_its_end_leads_to(self) -> None:
        self.assertEqual(solve(self.P, seconds=5).starts, (0, 12))
        late = replace(self.P, jobs=(Job("coat", 2, release=7), Job("next", 1)))
        self.assertEqual(solve(late, seconds=5).starts, (7, 24))  # it ends at 9, past the first

    def test_what_holds_the_hands_before_it_moves_the_mark(self) -> None:
        busy = Job("busy", 8, release=0, deadline=8)
        p = replace(self.P, jobs=(*self.P.jobs, busy))
        self.assertEqual(solve(p, seconds=5).starts, (8, 24, 0))

    def test_each_sitting_leads_to_its_own(self) -> None:
        p = replace(self.P, stretches=((0, 5), (9, 15), (25, 40)), jobs=(Job("coat", 2, release=1), Job("next", 1)))
        self.assertEqual(solve(p, seconds=5).starts, (1, 12))
        p = replace(p, jobs=(Job("coat", 6), Job("next", 1)))
        self.assertEqual(solve(p, seconds=5).starts, (9, 25))

    def test_the_checker_notices_what_comes_before_it(self) -> None:
        self.assertEqual(check(self.P, Solution((0, 12), (), ())), [])
        self.assertIn("before its mark", " ".join(check(self.P, Solution((0, 11), (), ()))))


class Cleaning(TestCase):
    def sprayed(self, *paints: Paint | None, guns: int = 1, stretch: int = 60) -> Problem:
        jobs = tuple(Job(f"j{i}", 5, paint=p) for i, p in enumerate(paints))
        return Problem(
            jobs, (), 200, stretches=((0, stretch), (100, 100 + stretch)), guns=guns, clean=(2, 4, 12),
            goals=(Goal.FINISH, Goal.SETUPS, Goal.SITTINGS),
        )  # fmt: skip

    def test_one_paint_is_cleaned_out_once_at_the_end(self) -> None:
        p = self.sprayed(RED, RED, RED)
        found = solve(p)
        self.assertEqual(check(p, found), [])
        self.assertEqual([c.length for c in found.cleanings], [12])
        self.assertEqual(found.reached[0].value, 15)

    def test_dark_to_light_takes_longer_than_light_to_dark(self) -> None:
        found = solve(self.sprayed(RED, WHITE))
        self.assertEqual(sorted(c.length for c in found.cleanings), [2, 12])
        self.assertLess(found.starts[1], found.starts[0], "white is sprayed first: cleaning it out takes 2, not 4")

    def test_another_system_is_cleaned_out_in_full(self) -> None:
        found = solve(self.sprayed(RED, CLEAR))
        self.assertEqual(sorted(c.length for c in found.cleanings), [12, 12])

    def test_a_second_airbrush_saves_the_cleaning_between(self) -> None:
        one, two = solve(self.sprayed(RED, CLEAR)), solve(self.sprayed(RED, CLEAR, guns=2))
        self.assertEqual((one.reached[0].value, two.reached[0].value), (22, 10))

    def test_like_goes_with_like_where_the_order_is_free(self) -> None:
        found = solve(self.sprayed(RED, CLEAR, RED, CLEAR))
        self.assertEqual(found.reached[1].value, 2)

    def test_a_paint_comes_back_in_a_sitting_where_another_has_to_come_between(self) -> None:
        p = replace(self.sprayed(RED, CLEAR, RED), lags=(lag(0, 1), lag(1, 2)))
        found = solve(p)
        self.assertEqual(check(p, found), [])
        self.assertEqual((found.reached[0].value, found.reached[1].value), (39, 3))
        self.assertEqual([c.length for c in found.cleanings], [12, 12, 12])

    def test_what_need_not_come_between_goes_with_one_of_the_runs(self) -> None:
        p = replace(self.sprayed(RED, CLEAR, RED, RED, stretch=70), lags=(lag(0, 1), lag(1, 2)))
        found = solve(p)
        self.assertEqual(check(p, found), [])
        self.assertEqual((found.reached[0].value, found.reached[1].value), (44, 3))

    def test_cleaning_has_to_fit_before_the_sitting_ends(self) -> None:
        p = self.sprayed(RED, CLEAR, stretch=30)
        found = solve(p)
        self.assertEqual(check(p, found), [])
        self.assertGreaterEqual(max(found.starts), 100, "5 + 12 + 5 + 12 is more than 30")


class Rules(TestCase):
    def test_work_does_not_straddle_the_end_of_a_sitting(self) -> None:
        p = Problem((Job("a", 6), Job("b", 6)), (), 40, stretches=((0, 10), (20, 30)))
        self.assertEqual(sorted(solve(p).starts), [0, 20])

    def test_a_wash_waits_for_a_sitting_that_is_long_enough_for_its_window(self) -> None:
        p = Problem((Job("wash", 4), Job("wipe", 4)), (lag(0, 1, 3, 6),), 60, stretches=((0, 5), (40, 51)))
        self.assertEqual(solve(p).starts, (40, 47))

    def test_what_must_break_is_broken_as_little_as_can_be(self) -> None:
        p = Problem((Job("wash", 4), Job("wipe", 4)), (lag(0, 1, 3, 6),), 60, stretches=((0, 5), (20, 25)))
        with self.assertRaises(Unsolvable):
            solve(p)
        found = solve(p, soft=True)
        self.assertEqual(found.starts, (1, 20))
        self.assertEqual(found.over, ((0, 20 - 5 - 6),))

    def test_one_of_two_allowed_stretches_is_chosen(self) -> None:
        recoat = Lag(0, 1, (Option((0,), (2,)), Option((30,))))
        p = Problem((Job("a", 5), Job("b", 5), Job("c", 9)), (recoat, lag(0, 2), lag(2, 1)), 80)
        found = solve(p)
        self.assertEqual(check(p, found), [])
        self.assertGreaterEqual(found.starts[1] - 5, 30, "c lies between them, so the first stretch is missed")

    def test_waits_differ_by_when_the_coat_was_laid(self) -> None:
        cells = (Cell(0, 5, 0), Cell(5, 12, 0))
        later = Lag(0, 1, (Option((2, 30)),))
        p = Problem((Job("a", 5), Job("b", 3)), (later,), 90, stretches=((0, 12), (30, 50)), cells=cells)
        self.assertEqual(solve(p).starts, (0, 7))
        held = replace(p, jobs=(Job("a", 5, release=2), Job("b", 3)))
        self.assertGreaterEqual(solve(held).starts[1], 37)

    def test_drying_places_hold_back_what_would_have_none(self) -> None:
        p = Problem((Job("a", 2, places=1, dries=10), Job("b", 2, places=1, dries=10)), (), 60, places=1)
        self.assertGreaterEqual(abs(solve(p).starts[1] - solve(p).starts[0]), 12)

    def test_the_order_of_goals_is_the_users(self) -> None:
        jobs = (Job("a", 5, paint=RED), Job("b", 5), Job("c", 5, paint=RED))
        p = Problem(jobs, (lag(0, 1, 20), lag(1, 2)), 300, stretches=((0, 17), (20, 70)), clean=(2, 4, 12))
        quick = solve(replace(p, goals=(Goal.FINISH, Goal.SETUPS)))
        clean = solve(replace(p, goals=(Goal.SETUPS, Goal.FINISH)))
        self.assertLess(quick.reached[0].value, clean.reached[1].value)
        self.assertLess(clean.reached[0].value, quick.reached[1].value)

    def test_slack_to_closing_windows_is_sought_last(self) -> None:
        jobs = (Job("wash", 4), Job("wipe", 4), Job("glue", 40, hands=False))
        p = Problem(jobs, (lag(0, 1, 2, 20),), 60, goals=(Goal.FINISH, Goal.SLACK), slack_cap=99)
        found = solve(p)
        self.assertEqual(found.reached[0].value, 40)
        self.assertEqual(found.starts[1] - (found.starts[0] + 4), 2)
        self.assertEqual(found.reached[1].value, -18)


class Checker(TestCase):
    """The second opinion is worth what it notices: each rule broken on purpose."""

    def setUp(self) -> None:
        jobs = (
            Job("a", 5, paint=RED),
            Job("b", 5, paint=CLEAR),
            Job("c", 4, places=1, dries=6, release=2, deadline=50),
        )
        self.p = Problem(
            jobs, (lag(0, 1, 3, 40),), 100, stretches=((0, 40), (60, 90)), clean=(2, 4, 12), places=1,
            resources={"r": 1},
        )  # fmt: skip
        self.good = solve(self.p)

    def broken(self, s: Solution, p: Problem | None = None) -> str:
        return "; ".join(check(p or self.p, s))

    def with_start(self, i: int, at: int) -> Solution:
        starts = list(self.good.starts)
        starts[i] = at
        return replace(self.good, starts=tuple(starts))

    def test_a_good_one_passes(self) -> None:
        self.assertEqual(self.broken(self.good), "")

    def test_each_broken_rule_is_noticed(self) -> None:
        self.assertIn("before it may", self.broken(self.with_start(2, 1)))
        self.assertIn("after it must", self.broken(self.with_start(2, 70)))
        self.assertIn("straddles", self.broken(self.with_start(1, 38)))
        self.assertIn("too early or too late", self.broken(self.with_start(1, self.good.starts[0] + 6)))
        self.assertIn("starts before", self.broken(self.with_start(2, self.good.starts[1])))
        self.assertIn("uncleaned", self.broken(replace(self.good, cleanings=())))
        self.assertIn("left in an airbrush", self.broken(replace(self.good, cleanings=self.good.cleanings[:1])))
        short = tuple(replace(c, length=1) for c in self.good.cleanings[:1]) + self.good.cleanings[1:]
        self.assertIn("without the cleaning", self.broken(replace(self.good, cleanings=short)))

    def test_resources_and_places_are_counted(self) -> None:
        p = replace(self.p, jobs=tuple(replace(j, needs=(("r", 1),), places=1, dries=30) for j in self.p.jobs))
        told = self.broken(replace(self.good, starts=(0, 0, 0)), p)
        self.assertIn("of r are needed", told)
        self.assertIn("parts dry at one time", told)

    def test_random_shifts_of_a_good_schedule_are_mostly_refused(self) -> None:
        rng = random.Random(3)
        refused = sum(bool(self.broken(self.with_start(i, rng.randrange(95)))) for i in (0, 1, 2) for _ in range(30))
        self.assertGreater(refused, 45)

    def test_a_cleaning_that_overlaps_work_is_noticed(self) -> None:
        overlap = (*self.good.cleanings, Cleaned(0, self.good.starts[2], 3, 9))
        self.assertIn("cleaning", self.broken(replace(self.good, cleanings=overlap)))
