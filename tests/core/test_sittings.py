"""Schedules: what the chemistry asks of time, what the search answers, and what the seams say of it."""

import math
from dataclasses import replace
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.plan import Hours, apply, at, parse_edits, parse_plan
from emvar_core.schedule.ageing import Ageing
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.changes import changes
from emvar_core.schedule.discrete import Discrete, Units
from emvar_core.schedule.net import Link, What, net_of
from emvar_core.schedule.schedule import first_schedule, make
from emvar_core.schedule.what_if import what_if_edits, with_cabinet
from emvar_core.vocabulary import Verdict
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan_json, tug
from tests.core.agendas import SECONDS, demo, demo_planned, evenings, link, mended, planned, wash_json, wash_plan


class WhatChemistryAsks(TestCase):
    def test_waits_are_those_of_the_seams(self) -> None:
        net = net_of(wash_plan())
        opens = link(net, "gloss", "wash").ages.careful[0][0]
        # Common practice: alcohol acrylic before white spirit overnight.
        self.assertAlmostEqual(opens / 60, 14, delta=0.5)
        self.assertAlmostEqual(link(net, "gloss", "wash").ages.hopeful[0][0] / 60, 8, delta=0.5)

    def test_the_window_of_a_wash_opens_and_closes(self) -> None:
        window = link(net_of(wash_plan()), "wash", "wipe", What.WINDOW)
        self.assertTrue(window.whole)
        opens, closes = window.ages.careful[0]
        self.assertLess(opens, 60)
        # Common practice: easy for some hours, with effort for a day.
        self.assertTrue(6 <= closes / 60 <= 24, closes)

    def test_an_enamel_recoats_at_once_or_after_days_never_between(self) -> None:
        steps = [coat("one", "enamel_colour", hands_on_min=20), coat("two", "enamel_colour", hands_on_min=20)]
        spans = link(net_of(parse_plan(plan_json(steps))), "one", "two").ages.careful
        self.assertEqual(len(spans), 2, spans)
        self.assertLessEqual(spans[0][1], 3 * 60)
        self.assertGreaterEqual(spans[1][0], 24 * 60)

    def test_what_no_waiting_mends_is_told_and_asks_nothing(self) -> None:
        net = net_of(tug())
        self.assertIn(("chip-deck", "never opens"), {(h.step, h.word) for h in net.hopeless})
        self.assertFalse([k for k in net.links if k.after == "chip-deck" and k.what is What.WINDOW])

    def test_less_patience_with_cautions_never_lengthens_the_whole(self) -> None:
        ends = [max(t.end_min for t in net_of(tug(), hours).nominal.values()) for hours in (0, 6, 48)]
        self.assertEqual(ends, sorted(ends))
        self.assertLess(ends[0], ends[2])

    def test_a_zone_that_is_closed_is_worked_before(self) -> None:
        net = net_of(demo("quay-crane"))
        before_roof = {k.before for k in net.links if k.after == "roof"}
        self.assertIn("cab-green", before_roof)

    def test_a_mask_comes_off_within_the_day(self) -> None:
        mask = link(net_of(tug()), "mask-band", "unmask-band", What.MASK)
        self.assertEqual(mask.ages.careful, ((0.0, 24 * 60.0),))

    def test_items_that_are_alike_are_asked_once(self) -> None:
        plan = demo("channel-buoys")
        net = net_of(plan)
        waits = {link(net, f"wash-{i}", f"wipe-{i}", What.WINDOW).ages for i in range(1, 7)}
        self.assertEqual(len(waits), 1)


class Drying(TestCase):
    def opens(self, air: dict[str, Any], at_min: float, before: str = "gloss", after: str = "wash") -> float:
        data = wash_json(air=air)
        data["steps"][0]["material"] = "lacquer_clear"  # over by the evening
        plan = parse_plan(data)
        k = link(net_of(plan), before, after)
        return Ageing(plan, 60_000).instants(k, at_min, k.ages.careful)[0][0] - at_min

    def test_a_cold_night_is_integrated_not_averaged(self) -> None:
        day = {"temp_c": 22, "rh_pct": 50}
        cold = {"day": day, "night": {"temp_c": 10, "rh_pct": 70}, "night_from": "22:00", "night_to": "07:00"}
        steady = self.opens({"day": day}, 60)
        by_day = self.opens(cold, 60)  # 11:00: over by the evening, whatever the night is like
        at_night = self.opens(cold, 12 * 60 + 30)  # 22:30
        self.assertAlmostEqual(by_day, steady, places=6)
        self.assertGreater(at_night, 1.2 * steady)
        average = {"day": {"temp_c": 17.5, "rh_pct": 57.5}}
        self.assertGreater(at_night, self.opens(average, 0))

    @settings(max_examples=15)
    @given(st.floats(12, 30), st.floats(1, 8))
    def test_warmer_never_dries_slower(self, temp: float, more: float) -> None:
        # Not true of a warm draught over a thick wet film, which skins: this film is thin and the air still.
        cool = self.opens({"day": {"temp_c": temp, "rh_pct": 50}}, 0)
        warm = self.opens({"day": {"temp_c": temp + more, "rh_pct": 50}}, 0)
        self.assertLessEqual(warm, cool + 1)

    def test_a_cabinet_hurries_a_coat_and_is_not_offered_where_the_base_would_not_bear_it(self) -> None:
        edits = with_cabinet(mended())
        ids = {e.step_id for e in edits}  # type: ignore[union-attr]
        self.assertNotIn("pin-wash", ids, "heat would close the window of what is to be wiped")
        changed, _ = apply(mended(), edits)
        score = assess(changed).score
        self.assertLessEqual(score.clashes, assess(mended()).score.clashes)
        self.assertTrue(ids)


class Schedules(TestCase):
    def test_the_mended_tug_has_a_proven_schedule_without_clash_or_wait(self) -> None:
        agenda, found = planned()
        self.assertTrue(found.fits and all(g.proven for g in found.schedule.reached))
        score = found.assessment.score
        self.assertEqual((score.clashes, score.missed, score.waits), (0, 0, 0))
        placed = times_of(agenda, found.schedule)
        for t in placed.values():
            self.assertTrue(any(a <= t.start_min and t.end_min <= b for a, b in agenda.stretches))
        spans = sorted((t.start_min, t.end_min) for t in placed.values())
        self.assertTrue(all(a[1] <= b[0] for a, b in zip(spans, spans[1:], strict=False)), "one pair of hands")

    def test_every_demo_has_a_schedule_whose_seams_only_clash_where_waiting_does_not_help(self) -> None:
        for name in ("harbour-tug", "quay-crane", "channel-buoys"):
            with self.subTest(name):
                _, found = demo_planned(name)
                self.assertTrue(found.fits, [u.words for u in found.unfit])
                self.assertEqual(found.assessment.score.waits, 0)
                clashing = {s.upper_step for s in found.assessment.seams.values() if s.verdict is Verdict.CLASH}
                told = {h.step for h in found.hopeless}
                only_look = {"numbers"}  # a decal over a matt coat silvers at any age: a matter of look, not of time
                self.assertLessEqual(clashing - only_look, told)

    def test_the_finish_is_not_later_than_the_first_schedule_that_people_would_make(self) -> None:
        agenda, found = planned()
        first = first_schedule(agenda)
        self.assertFalse(first.missed or first.unplaced)
        finish = max(t.end_min for t in found.assessment.times.values())
        self.assertLessEqual(finish, first.finish_min)

    def test_work_that_is_longer_than_any_sitting_is_told_and_a_split_is_offered(self) -> None:
        data = plan_json([coat("prime", "lacquer_primer", hands_on_min=90, zones=["a", "b"])], zones=["a", "b"])
        data["hours"] = evenings("tue", length=60)
        agenda = Agenda(parse_plan(data))
        found = make(agenda)
        self.assertIn("longest sitting is 60 min", found.unfit[0].words)
        titles = [c.title for c in changes(agenda, found) if c.fits]
        self.assertTrue(any("longer" in t for t in titles), titles)
        self.assertTrue(any(t.startswith("Split") for t in titles), titles)

    def test_without_any_hours_it_says_so(self) -> None:
        plan = mended().model_copy(update={"hours": Hours()})
        with self.assertRaisesRegex(ValueError, "no sitting"):
            make(Agenda(plan))

    def test_what_is_pinned_stays_where_it_is(self) -> None:
        agenda, found = planned()
        was = times_of(agenda, found.schedule)["gloss"].start_min
        later = next(a for a, _ in agenda.stretches if a > was + 1440)
        again = make(Agenda(mended(), pins={"gloss": later}), seconds=SECONDS)
        self.assertEqual(times_of(agenda, again.schedule)["gloss"].start_min, later)
        self.assertIn("gloss", again.schedule.pins)
        self.assertEqual(again.assessment.score.waits, 0)

    def test_a_pin_that_cannot_hold_is_told_and_may_be_let_go(self) -> None:
        agenda = Agenda(mended(), pins={"pin-wash": 60.0, "primer": 3000.0})
        found = make(agenda, seconds=SECONDS)
        self.assertFalse(found.fits)
        self.assertTrue(any("cannot stay" in u.words for u in found.unfit), [u.words for u in found.unfit])

    def test_a_fixed_start_of_the_plan_is_a_pin(self) -> None:
        start = at(mended(), 9 * 1440 + 30)
        edit = {"edit": "set_field", "step_id": "gloss", "field": "fixed_start", "value": start.isoformat()}
        plan, _ = apply(mended(), parse_edits([edit]))
        found = make(Agenda(plan), seconds=SECONDS)
        self.assertEqual(found.assessment.times["gloss"].start_min, 9 * 1440 + 30)


class Careful(TestCase):
    """Waits are taken alike within a quarter of an hour: on the careful side of every instant in it."""

    def test_no_end_within_a_cell_opens_later_or_closes_sooner_than_it_is_taken(self) -> None:
        agenda = Agenda(mended())
        posed = Discrete(agenda, 30 * 1440)
        problem = posed.problem()
        self.assertTrue(problem.cells, "night air differs from day air")
        seen = 0
        for tie, lag in posed.lags:
            if tie.ages.plain or len(lag.options[0].least) == 1:
                continue
            task, after = agenda.net.task(tie.before), agenda.net.task(tie.after)
            for c, cell in enumerate(problem.cells):
                for end in (cell.start + 1, (2 * cell.start + cell.end) // 3, cell.end - 1, cell.end):
                    true_end = posed.units.minute(end - posed.units.length(task.minutes)) + task.minutes
                    opens, closes = agenda.ageing.instants(tie, true_end, tie.ages.careful)[0]
                    least, most = lag.options[0].least[c], lag.options[0].most
                    self.assertGreaterEqual(posed.units.minute(end + least) + 1, opens)
                    if most is not None and closes < math.inf:
                        need = after.minutes if tie.whole else 0
                        self.assertLessEqual(posed.units.minute(end + most[c]) + need - 1, closes)
                    seen += 1
        self.assertGreater(seen, 500)

    def test_a_net_that_is_too_loose_is_tightened_by_the_seams(self) -> None:
        week = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
        agenda = Agenda(wash_plan(hours=evenings(*week, start="08:00", length=840)))

        def loose(k: Link) -> Link:
            spans = tuple((a * 0.3, b) for a, b in k.ages.careful)
            return replace(k, ages=replace(k.ages, careful=spans)) if k.what is What.SEAM else k

        agenda.net = replace(agenda.net, links=tuple(loose(k) for k in agenda.net.links))
        found = make(agenda, seconds=SECONDS)
        self.assertEqual(found.assessment.score.waits, 0)
        self.assertGreaterEqual(found.assessment.times["wash"].start_min - found.assessment.times["gloss"].end_min, 300)

    def test_a_first_schedule_leaves_time_to_clean_the_airbrush_before_the_sitting_ends(self) -> None:
        steps = [coat(f"c{i}", "lacquer_colour", hands_on_min=20, zones=[f"z{i}"], method="spray") for i in range(6)]
        data = plan_json(steps, zones=[f"z{i}" for i in range(6)]) | {"hours": evenings("mon", "tue", length=70)}
        agenda = Agenda(parse_plan(data))
        first = first_schedule(agenda)
        self.assertFalse(first.unplaced)
        for step, end in first.ends.items():
            bench_end = next(b for a, b in agenda.stretches if a <= first.starts[step] < b)
            self.assertLessEqual(end + 12, bench_end, step)

    def test_a_wait_that_ends_on_a_mark_of_the_grid_is_not_pushed_to_the_next(self) -> None:
        units = Units(origin=0.0, unit=5)
        self.assertEqual((units.up(30 + 5e-5), units.down(30 - 5e-5)), (6, 6))
        self.assertEqual((units.up(30.1), units.down(29.9)), (7, 5))

    def test_a_damper_tug_is_finished_as_early_as_its_waits_allow(self) -> None:
        """A schedule that is said to be proven finds the sitting that its waits allow."""
        damp = next(edits for title, _, edits in what_if_edits(tug()) if "damper" in title)
        plan, _ = apply(tug(), damp)
        found = make(Agenda(plan), seconds=SECONDS)
        self.assertTrue(all(g.proven for g in found.schedule.reached))
        finish = max(t.end_min for t in found.assessment.times.values())
        self.assertEqual(f"{at(plan, finish):%a %d %H:%M}", "Sat 19 10:15")
