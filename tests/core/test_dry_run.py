"""Dry runs under several laws, and what-ifs."""

import random
from unittest import TestCase

from emvar_core.plan import Hours, parse_plan
from emvar_core.plan.hours import Weekly
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.drag import agenda_of, move
from emvar_core.schedule.dry_run import Law, _Play, draw, dry_run, spans_at
from emvar_core.schedule.net import Ages
from emvar_core.schedule.schedule import make
from emvar_core.schedule.what_if import what_if, what_if_edits, without
from emvar_core.vocabulary import Weekday

from tests.builders import coat, plan_json
from tests.core.agendas import evenings, mended, planned, wash_plan


class DryRuns(TestCase):
    def test_a_careful_plan_holds_and_the_same_seed_says_the_same(self) -> None:
        agenda, found = planned()
        one, two = (dry_run(agenda, found.schedule, runs=120, seed=5) for _ in range(2))
        self.assertEqual(one, two)
        self.assertGreater(one.whole, 0.9)
        self.assertLessEqual(one.early_min, one.likely_min)
        self.assertLessEqual(one.likely_min, one.late_min)

    def test_a_plan_that_is_broken_by_hand_is_found_weak_where_it_was_broken(self) -> None:
        agenda, found = planned()
        times = times_of(agenda, found.schedule)
        end = next(b for a, b in agenda.stretches if a <= times["pin-wash"].start_min < b)
        broken = move(agenda, found.schedule, "pin-wash", end - 40).schedule
        told = dry_run(agenda_of(mended(), broken, None), broken, runs=120)
        kept = {(w.before, w.after): w.share for w in told.windows}
        self.assertEqual(min(kept, key=lambda pair: kept[pair]), ("pin-wash", "wipe"))
        self.assertLess(told.whole, 0.9)
        self.assertGreater(dry_run(agenda, found.schedule, runs=120).whole, told.whole)

    def test_hands_are_quicker_or_slower_even_where_nothing_dries(self) -> None:
        look = {"kind": "fitting", "action": "inspect", "zones": ["side"], "hands_on_min": 30}
        data = plan_json([look | {"id": f"s{i}", "name": f"Look {i}"} for i in range(3)])
        agenda = Agenda(parse_plan(data | {"hours": evenings("tue", "thu", length=240)}))
        told = dry_run(agenda, make(agenda, seconds=5).schedule, runs=200)
        self.assertGreater(told.late_min - told.early_min, 3)
        self.assertLess(told.late_min - told.early_min, 90)

    def test_other_laws_than_the_models_own(self) -> None:
        agenda, found = planned()
        likely = {law: dry_run(agenda, found.schedule, runs=150, law=law) for law in Law}
        # Inside the ranges the careful plan bears every law; beyond them it does not quite.
        for law in (Law.MODEL, Law.EVEN, Law.SLOW):
            self.assertGreater(likely[law].whole, 0.9, law)
        self.assertLess(likely[Law.BEYOND].whole, likely[Law.EVEN].whole)
        self.assertGreaterEqual(likely[Law.BEYOND].late_min, likely[Law.MODEL].late_min)

    def test_laws_draw_what_they_say(self) -> None:
        rng = random.Random(1)
        drawn = {law: sorted(draw(rng, law) for _ in range(4000)) for law in Law}
        for law in (Law.MODEL, Law.EVEN, Law.SLOW):
            self.assertTrue(drawn[law][0] >= -1 and drawn[law][-1] <= 1)
        self.assertGreater(drawn[Law.BEYOND][-1], 1.5)
        middle = {law: x[2000] for law, x in drawn.items()}
        self.assertAlmostEqual(middle[Law.MODEL], 0, delta=0.06)
        self.assertAlmostEqual(middle[Law.EVEN], 0, delta=0.06)
        self.assertGreater(middle[Law.SLOW], 0.2)
        near = {law: sum(abs(x) < 0.25 for x in d) for law, d in drawn.items()}
        self.assertGreater(near[Law.MODEL], near[Law.EVEN] * 1.2, "the log-normal crowds round the best guess")

    def test_a_slow_coat_opens_late_and_closes_late(self) -> None:
        ages = Ages(((20.0, 100.0),), ((10.0, 200.0),), ((5.0, 400.0),))
        self.assertEqual(spans_at(ages, 0), ((10.0, 200.0),))
        self.assertEqual([round(v, 6) for v in spans_at(ages, 1)[0]], [20, 400])
        self.assertEqual([round(v, 6) for v in spans_at(ages, -1)[0]], [5, 100])

    def test_nobody_sprays_outside_the_hours_of_spraying_however_late_it_gets(self) -> None:
        steps = [coat(s, "lacquer_colour", hands_on_min=20) for s in ("first", "then")]
        evening = evenings("mon", "tue", "wed", "thu", "fri", start="18:00", length=240)
        free = parse_plan(plan_json(steps, hours=evening))
        ends = max(e.ends_at for e in make(Agenda(free), seconds=3).schedule.placed)
        limits = evening | {"spray_from": "18:00", "spray_until": f"{ends:%H:%M}"}
        agenda = Agenda(parse_plan(plan_json(steps, hours=limits)))
        play = _Play(agenda, make(agenda, seconds=3).schedule)
        rng, days = random.Random(1), set()
        for _ in range(60):
            out = play.play(rng, Law.BEYOND)
            for step, start in out.starts.items():
                self.assertTrue(agenda.may_spray(start, out.ends[step]), (step, start))
                days.add(int(start // 1440))
        self.assertGreater(len(days), 1)  # what came too late went to the next evening

    def test_order_is_kept(self) -> None:
        from emvar_core.schedule.dry_run import _Play

        agenda, found = planned()
        play = _Play(agenda, found.schedule)
        for seed in range(5):
            out_ = play.play(random.Random(seed), Law.BEYOND)
            begun = [out_.starts[s] for s in play.order if s in out_.starts]
            self.assertEqual(begun, sorted(begun))
            self.assertTrue(all(out_.starts[s] >= play.planned[s] - 1e-6 for s in out_.starts))


class WhatIf(TestCase):
    def test_the_questions_stand_beside_today(self) -> None:
        asked = wash_plan(hours=evenings("tue", "thu", "sun", length=150))
        cases = what_if(asked, None, {}, seconds=5)
        self.assertEqual(cases[0].title, "As it is")
        self.assertEqual(len(cases), len(what_if_edits(asked)))
        by = {c.title: c for c in cases}
        self.assertGreaterEqual(by["No Thursdays"].finish_min, cases[0].finish_min)
        hotter = next(c for t, c in by.items() if "hotter" in t)
        self.assertLessEqual(hotter.finish_min, cases[0].finish_min)
        self.assertTrue(all(0 <= c.whole <= 1 for c in cases))

    def test_a_calendar_without_its_only_day_says_what_is_wrong(self) -> None:
        hours = Hours(weekly=[Weekly(days=[Weekday.THU], start="19:00", length_min=60)])
        self.assertEqual(without(hours, Weekday.THU).weekly, [])
