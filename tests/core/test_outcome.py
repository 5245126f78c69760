"""What an assessment says: states in order, coverage and exposure, stories, windows."""

from unittest import TestCase

from emvar_core.assess import assess, seam_in_full
from emvar_core.errors import NotThere
from emvar_core.judging.outcome import Assessment, RangeOut
from emvar_core.judging.stack import exposed
from emvar_core.knowledge import knowledge
from emvar_core.plan import parse_plan
from emvar_core.seams.situation import Layer

from tests.builders import DAY, coat, mix, plan, tall_json, tug

K = knowledge()


class States(TestCase):
    def test_each_coat_goes_from_wet_to_hard_once(self) -> None:
        order = ["powder", "wet", "workable", "soft", "firm", "hard"]
        for c in assess(tug()).coats.values():
            ranks = [order.index(m.state.value) for m in c.states]
            self.assertEqual(ranks, sorted(set(ranks)), c.id)
            times = [m.from_min for m in c.states]
            self.assertEqual(times, sorted(times), c.id)
            self.assertEqual(times[0], round(c.end_min, 2))

    def test_events_are_ranges_with_the_best_guess_inside(self) -> None:
        for c in assess(tug()).coats.values():
            for name, r in c.events.items():
                if r.best is None:  # powder and what is rubbed on never harden
                    self.assertIn(name, ("tape", "hard", "cured"))
                    self.assertIsNone(r.early)
                    continue
                assert r.early is not None and r.late is not None
                self.assertTrue(r.early <= r.best <= r.late, (c.id, name))

    def test_the_whole_assessment_validates_against_its_own_model(self) -> None:
        a = assess(parse_plan(tall_json(30)))
        self.assertEqual(Assessment.model_validate_json(a.model_dump_json()), a)


class Exposure(TestCase):
    def layers(self, *coverage: float) -> tuple[Layer, ...]:
        return tuple(Layer(f"s{i}", f"s{i}", 10, c, None) for i, c in enumerate(coverage))

    def test_shares_add_up_and_stop_at_what_covers(self) -> None:
        found = exposed(self.layers(0.3, 0.1, 1.0, 1.0))
        self.assertEqual([i for i, _ in found], [0, 1, 2])
        self.assertAlmostEqual(sum(share for _, share in found), 1.0)
        self.assertAlmostEqual(found[1][1], 0.07)

    def test_slivers_are_left_out(self) -> None:
        self.assertEqual([i for i, _ in exposed(self.layers(0.99, 1.0))], [0])

    def test_what_is_laid_meets_every_coat_that_a_broken_one_exposes(self) -> None:
        steps = [
            coat("ground", "lacquer_colour"),
            coat("wash", "enamel_wash", DAY, coverage=0.4),
            coat("clear", "waterborne_clear", 4 * DAY),
        ]
        seams = assess(plan(steps)).seams
        self.assertAlmostEqual(seams["clear~side~wash"].share, 0.4)
        self.assertAlmostEqual(seams["clear~side~ground"].share, 0.6)

    def test_wiping_leaves_less_of_the_coat(self) -> None:
        wipe = {
            "kind": "working", "id": "wipe", "name": "wipe", "zones": ["side"], "action": "wipe", "acts_on": "wash",
            "carrier": "odourless_spirit", "leaves": 0.5, "wait_min": 40,
        }  # fmt: skip
        steps = [coat("ground", "lacquer_colour"), coat("wash", "enamel_wash", DAY, coverage=0.4), wipe]
        seams = assess(plan([*steps, coat("clear", "waterborne_clear", 4 * DAY)])).seams
        self.assertAlmostEqual(seams["clear~side~wash"].share, 0.2)


class Stated(TestCase):
    def test_an_answer_is_stated_with_exactly_its_fields(self) -> None:
        whole = {"early": 1.0, "best": 2.0, "late": None}
        self.assertEqual(RangeOut.stated(**whole), RangeOut.model_validate(whole))
        self.assertEqual(RangeOut.stated(**whole).model_dump_json(), RangeOut.model_validate(whole).model_dump_json())
        for wrong, name in (({"early": 1.0, "best": 2.0}, "late"), (whole | {"soon": 0.0}, "soon")):
            with self.assertRaisesRegex(TypeError, name):
                RangeOut.stated(**wrong)


class Stories(TestCase):
    def test_the_same_in_several_zones_is_told_once(self) -> None:
        a = assess(tug())
        matt = [s for s in a.stories if s.upper_step == "matt" and s.verdict.value == "clash"]
        self.assertEqual([len(s.zones) for s in matt], [4])

    def test_gravest_first_and_every_unsound_seam_told(self) -> None:
        a = assess(tug())
        graves = [s.verdict.grave for s in a.stories]
        self.assertEqual(graves, sorted(graves, reverse=True))
        told = {seam for s in a.stories for seam in s.seams}
        self.assertEqual(told, {i for i, s in a.seams.items() if s.verdict.value != "sound"})

    def test_the_quick_answer_has_the_same_verdicts_as_the_full_one(self) -> None:
        for made in (tug(), parse_plan(tall_json(60))):
            quick, full = assess(made, opens=False), assess(made)
            self.assertEqual(
                {i: s.verdict for i, s in quick.seams.items()}, {i: s.verdict for i, s in full.seams.items()}
            )
            self.assertEqual(quick.score, full.score)

    def test_a_seam_in_full_says_when_a_clash_would_end(self) -> None:
        """Hot lacquer over thick enamel of three days: it would be over after weeks, which only the whole answer
        looks for.
        """
        steps = [coat("oil", "enamel_colour", dry_film_um=60), coat("matt", "lacquer_clear", 3 * DAY)]
        steps[1]["mix"] = mix("lacquer_clear", "hot_thinner", 1, 1.5)
        made, seam = plan(steps, build={"base_material": "resin"}), "matt~side~oil"
        told = assess(made, opens=False).seams[seam]
        self.assertEqual((told.verdict.value, told.opens_careful_min), ("clash", None))
        full = seam_in_full(made, seam)
        assert full.opens_careful_min is not None and full.opens_best_min is not None
        self.assertTrue(full.at_min < full.opens_best_min <= full.opens_careful_min)
        with self.assertRaises(NotThere):
            seam_in_full(made, "matt~side~nothing")

    def test_a_wait_that_is_waited_for_is_over(self) -> None:
        """The instant that a wait promises is not too early: starting then, the seam is no wait any more."""
        for material, above in [("alcohol_acrylic_clear", "enamel_wash"), ("enamel_wash", "enamel_wash")]:
            steps = [coat("below", material, coverage=1.0), coat("above", above, 30)]
            seam = assess(plan(steps, build={"base_material": "resin"})).seams["above~side~below"]
            self.assertEqual(seam.verdict.value, "wait")
            assert seam.opens_careful_min is not None
            steps[1]["wait_min"] = seam.opens_careful_min + 1
            later = assess(plan(steps, build={"base_material": "resin"})).seams["above~side~below"]
            self.assertEqual(later.verdict.value, "sound")
