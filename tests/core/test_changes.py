"""What would make it fit: goes, batches, other evenings, rows of them, hours of spraying; alone and together."""

from typing import Any
from unittest import TestCase

from emvar_core.plan import Hours, Plan, apply, parse_edits, parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.changes import Change, changes
from emvar_core.schedule.schedule import make
from emvar_core.schedule.view import proof_words

from tests.builders import coat, plan_json
from tests.core.agendas import evenings, hull
from tests.core.second_checker import DAYS, broken_rules


def hours(**more: Any) -> dict[str, Any]:
    return {"weekly": [{"days": DAYS, "start": "18:00", "length_min": 240}]} | more


def offered(plan: Plan) -> list[Change]:
    """What is offered; each of it has to be what it says."""
    agenda = Agenda(plan)
    found = changes(agenda, make(agenda, seconds=3))
    for change in found:
        changed, _ = apply(plan, parse_edits(change.edits))
        if change.fits:
            assert not broken_rules(changed, change.schedule), (change.title, broken_rules(changed, change.schedule))
    return found


class InGoes(TestCase):
    def test_work_longer_than_any_sitting_is_split_into_as_many_goes_as_it_takes(self) -> None:
        names = [f"z{i}" for i in range(6)]
        short = {"weekly": [{"days": DAYS, "start": "18:00", "length_min": 60}]}
        steps = [coat("primer", "lacquer_primer", hands_on_min=150, zones=names)]
        found = offered(parse_plan(plan_json(steps, zones=names, hours=short)))
        title = next(c.title for c in found if "Split" in c.title)
        self.assertIn("6 goes", title)  # 48 min are left beside the cleaning: one zone of 25 min, no two
        made, _ = apply(parse_plan(plan_json(steps, zones=names, hours=short)), parse_edits(found[0].edits))
        self.assertEqual(sum(len(s.zones) for s in made.steps), 6)

    def test_more_parts_than_can_dry_are_split_by_places(self) -> None:
        names = [f"z{i}" for i in range(5)]
        steps = [coat("primer", "lacquer_primer", hands_on_min=30, zones=names)]
        found = offered(parse_plan(plan_json(steps, zones=names, hours=hours(drying_places=2))))
        self.assertTrue(any("3 goes" in c.title for c in found), [c.title for c in found])


def washed(items: int, lay: float, wipe: float, length: int, *days: str) -> Plan:
    """A pin wash on some items and its wiping, in evenings of a length."""
    zones = [f"buoy{i}" for i in range(items)]
    wipe_ = {"kind": "working", "id": "wipe", "name": "Wipe it back", "zones": zones, "action": "wipe",
             "acts_on": "wash", "carrier": "white_spirit", "hands_on_min": wipe}  # fmt: skip
    steps = [coat("wash", "enamel_wash", hands_on_min=lay, name="Pin wash", zones=zones), wipe_]
    return parse_plan(plan_json(steps, zones=zones, hours=evenings(*days, length=length)))


def limited(*limits: float, length: int = 80) -> Plan:
    """Coats, each no later than so many minutes after the one before, on Tuesdays and Saturdays."""
    steps = [coat("s0", "waterborne_colour", hands_on_min=60)]
    for i, most in enumerate(limits, 1):
        steps.append(
            coat(f"s{i}", "waterborne_colour", hands_on_min=60, no_later={"after": f"s{i - 1}", "than_min": most})
        )
    return parse_plan(plan_json(steps, hours=evenings("tue", "sat", length=length)))


class InBatches(TestCase):
    def test_what_is_too_much_for_an_evening_is_laid_and_worked_lot_by_lot(self) -> None:
        plan = washed(4, 60, 60, 100, "tue")
        found = offered(plan)
        best = found[0]
        self.assertIn("batches", best.title)
        self.assertEqual((best.extra_min, best.fits), (0, True))
        made, _ = apply(plan, parse_edits(best.edits))
        for worker in (s for s in made.steps if s.kind == "working"):
            below = made.step(worker.acts_on)
            assert below is not None
            self.assertEqual(worker.zones, below.zones)  # each lot is worked on its own coat
        self.assertEqual(sum(s.hands_on_min for s in made.steps), 120)
        self.assertTrue(any("in 2 batches: Buoy0, Buoy1; Buoy2, Buoy3" in c.title for c in found))

    def test_one_zone_is_no_batch(self) -> None:
        self.assertFalse([c for c in offered(washed(1, 60, 60, 100, "tue")) if "batches" in c.title])

    def test_what_works_on_a_coat_is_split_along_with_it_where_the_coat_is_too_long(self) -> None:
        plan = washed(4, 240, 40, 110, "tue", "wed", "thu")
        split = next(c for c in offered(plan) if c.title.startswith("Split"))
        made, _ = apply(plan, parse_edits(split.edits))
        pairs = {s.id: s.zones for s in made.steps if s.kind == "coat"}
        self.assertGreater(len(pairs), 1)
        self.assertEqual({s.acts_on: s.zones for s in made.steps if s.kind == "working"}, pairs)


class OtherEvenings(TestCase):
    def test_an_evening_is_moved_to_where_the_window_is_open_once_or_every_week(self) -> None:
        found = offered(limited(2880))
        self.assertEqual(
            [c.title for c in found][:2],
            ["Sit on Sunday 8 Mar in place of Tuesday 10 Mar", "Sundays in place of Tuesdays, every week"],
        )
        self.assertEqual([c.extra_min for c in found][:2], [0, 0])

    def test_longer_evenings_every_week_cost_as_often_as_they_come(self) -> None:
        found = offered(washed(1, 60, 60, 100, "tue"))
        row = next(c for c in found if c.title.startswith("Make every Tuesday"))
        self.assertEqual(row.title, "Make every Tuesday 75 min longer")
        self.assertEqual(row.extra_min, 75)
        three = parse_plan(
            plan_json([coat(f"p{i}", "waterborne_colour", hands_on_min=90) for i in range(3)],
                      hours=evenings("tue", length=60))
        )  # fmt: skip
        row = next(c for c in offered(three) if c.title.startswith("Make every Tuesday"))
        self.assertEqual((row.title, row.extra_min), ("Make every Tuesday 45 min longer", 3 * 45))


class Together(TestCase):
    def test_where_none_will_do_alone_two_are_tried_together(self) -> None:
        found = offered(limited(1500, 1500))
        self.assertTrue(found[0].fits)
        self.assertIn(", and sit on ", found[0].title)
        alone = offered(limited(2880))
        self.assertFalse([c for c in alone if ", and " in c.title])

    def test_what_comes_to_light_only_when_all_has_a_place_is_mended_too(self) -> None:
        """Work that fits into no sitting hides the windows that are missed: a change that gives it a place is one."""
        plan = hull().model_copy(update={"hours": Hours.model_validate(evenings("tue", length=44))})
        found = offered(plan)
        self.assertTrue(found)
        made = make(Agenda(plan), seconds=3)
        self.assertTrue({f.below is None for f in made.unfit} == {True, False})  # places and windows
        self.assertEqual(proof_words(made.schedule, made.fits), "as it comes: not all of it fits")
        self.assertIn(", and ", found[0].title)
        self.assertTrue(found[0].fits)


class HoursOfSpraying(TestCase):
    def test_they_are_widened_as_far_as_the_work_needs(self) -> None:
        steps = [coat("paint", "waterborne_colour", hands_on_min=90)]
        limits = evenings("tue", "sat", length=180) | {"spray_from": "19:00", "spray_until": "20:00"}
        found = offered(parse_plan(plan_json(steps, hours=limits)))
        self.assertEqual([c.title for c in found], ["Allow spraying from 19:00 to 21:00"])
