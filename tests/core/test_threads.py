"""One memory for all threads of the server: what they get is what would be worked out from nothing."""

import random
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.memory import MEMORY, Memory, forget
from emvar_core.plan import Plan, apply, parse_edits, step_times

from tests.core.test_inverses import any_edit
from tests.core.test_memory import rough
from tests.lengths import at_length
from tests.random_plans import random_plan

THREADS = 6


def versions(seed: int, many: int) -> list[Plan]:
    """A random plan as it goes through some edits."""
    rng, made = random.Random(seed), random_plan(seed, 14)
    found = [made]
    for n in range(60):
        if len(found) == many:
            break
        try:
            made, _ = apply(made, parse_edits([any_edit(rng, made, n)]))
        except PlanError:
            continue
        found.append(made)
    return found


class Threads(TestCase):
    def test_six_threads_get_the_cold_answer_while_one_empties_the_memory(self) -> None:
        plans = [p for seed in at_length((11,), (11, 12, 13)) for p in versions(seed, 5)]
        cold: list[Any] = []
        for p in plans:
            forget()
            cold.append(rough(assess(p, opens=False).model_dump()))

        def ask(thread: int) -> list[tuple[int, Any]]:
            rng = random.Random(thread)
            order = rng.sample(range(len(plans)), len(plans))
            found = []
            for i in order:
                found.append((i, rough(assess(plans[i], opens=False).model_dump())))
                if thread == 0 and i % 3 == 0:
                    forget()
            return found

        with ThreadPoolExecutor(THREADS) as pool:
            for answers in pool.map(ask, range(THREADS)):
                for i, told in answers:
                    self.assertEqual(told, cold[i])

    def test_six_threads_may_ask_for_times_at_once(self) -> None:
        plans = versions(21, 12)
        wanted = [{s: (t.start_min, t.end_min) for s, t in step_times(p).items()} for p in plans]

        def ask(thread: int) -> int:
            rng = random.Random(thread)
            for _ in range(400):
                i = rng.randrange(len(plans))
                told = {s: (t.start_min, t.end_min) for s, t in step_times(plans[i]).items()}
                if told != wanted[i]:
                    return i
            return -1

        with ThreadPoolExecutor(THREADS) as pool:
            self.assertEqual(set(pool.map(ask, range(THREADS))), {-1})


class Cold(TestCase):
    def test_forgetting_empties_every_store(self) -> None:
        assess(random_plan(1, 8))
        self.assertGreater(sum(MEMORY.sizes().values()), 0)
        forget()
        self.assertEqual(set(MEMORY.sizes().values()), {0})

    def test_a_key_from_before_a_clearing_stands_for_nothing_else_afterwards(self) -> None:
        memory = Memory()
        old = memory.intern("a")
        memory.forget()
        self.assertNotEqual(memory.intern("b"), old)
        self.assertNotEqual(memory.intern("a"), old)

    def test_what_is_kept_of_an_object_is_not_given_for_another_in_its_place(self) -> None:
        door = Memory().door("objects", 9)
        one = ["one"]
        self.assertEqual(door.of(one, lambda: "of one"), "of one")
        self.assertEqual(door.of(one, lambda: "of another"), "of one")
        self.assertTrue(door.knows(one))
        self.assertFalse(door.knows(["one"]))
