"""The memory is bounded: what is asked for stays, the rest goes, and no answer depends on it."""

import random
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.memory import EVERY_PUTS, MEMORY, Memory
from emvar_core.plan import apply, parse_edits

from tests.builders import tug
from tests.lengths import at_length


class Room(TestCase):
    def test_what_is_asked_for_stays_and_the_rest_goes(self) -> None:
        memory = Memory()
        door = memory.door("door", 100)
        for i in range(1000):
            door.put(i, str(i))
            self.assertEqual(door.get(0), "0")  # asked for again and again
        self.assertLessEqual(len(door), 200)
        self.assertIsNone(door.get(1))
        self.assertEqual(door.get(999), "999")

    def test_as_many_as_a_door_is_made_for_stay_however_they_are_asked_for(self) -> None:
        memory = Memory()
        door = memory.door("door", 100)
        for turn in range(5):
            for i in range(100):
                door.once(i, lambda i=i, turn=turn: (i, turn))  # type: ignore[misc]
        self.assertEqual([door.get(i) for i in range(100)], [(i, 0) for i in range(100)])

    def test_when_the_process_is_too_large_the_old_go_and_it_grows_no_more(self) -> None:
        memory = Memory()
        door = memory.door("door", 10**6)
        memory.limit_bytes = 2_000_000
        memory.measure = lambda: 10 * len(door)  # ten bytes a result, given back at once
        most = 0
        for i in range(600 * EVERY_PUTS):
            door.put(i, str(i))
            most = max(most, len(door))
        self.assertLess(10 * most, 1.3 * memory.limit_bytes)
        self.assertGreater(len(door), 30_000)  # and not everything goes

    def test_a_process_that_gives_nothing_back_is_not_emptied_again_and_again(self) -> None:
        memory = Memory()
        door = memory.door("door", 10**6)
        memory.limit_bytes, high = 2_000_000, [0]

        def held() -> int:
            high[0] = max(high[0], 10 * len(door))
            return high[0]

        memory.measure = held
        least = 10**9
        for i in range(600 * EVERY_PUTS):
            door.put(i, str(i))
            if i > 300 * EVERY_PUTS:
                least = min(least, len(door))
        self.assertGreater(least, 30_000)
        self.assertLess(high[0], 1.16 * memory.limit_bytes)

    def test_an_interned_key_keeps_its_integer_while_it_is_remembered_and_never_gets_another_s(self) -> None:
        memory = Memory()
        first = memory.intern("a")
        memory.make_room()
        self.assertEqual(memory.intern("a"), first)
        memory.make_room()
        memory.make_room()
        self.assertNotIn(memory.intern("b"), {first})
        self.assertNotEqual(memory.intern("a"), memory.intern("b"))

    def test_answers_are_the_same_however_little_room_there_is(self) -> None:
        rng, plan = random.Random(4), tug()
        cold = []
        coats = [s.id for s in plan.steps if s.kind == "coat"]
        edits = [
            parse_edits([{"edit": "set_field", "step_id": rng.choice(coats), "field": "dry_film_um", "value": 5 + i}])
            for i in range(at_length(4, 12))
        ]
        for edit in edits:
            plan = apply(plan, edit)[0]
            MEMORY.forget()
            cold.append(assess(plan, opens=False))
        plan = tug()
        for edit, wanted in zip(edits, cold, strict=True):
            plan = apply(plan, edit)[0]
            MEMORY.make_room()
            if rng.random() < 0.3:
                MEMORY.make_room()
            self.assertEqual(assess(plan, opens=False), wanted)
