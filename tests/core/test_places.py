"""Marks have a place: what two of them share is expected from it, and everything that meets is judged by that."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, apply, parse_edits, parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.schedule import make
from emvar_core.seams.places import SHARE_OF_ZONE, Spot, shared
from emvar_core.vocabulary import Place, Rescued, Verdict
from emvar_core.ways.rescue import rescue
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import DAY, coat, plan, plan_json, tug_json

SPOTS = st.builds(
    Spot,
    st.sampled_from(["a", "b", "c"]),
    st.floats(0.001, 1),
    st.sampled_from([None, *Place]),
    st.sampled_from([None, "stain", "weld"]),
    st.sampled_from([None, "a", "b", "c"]),
    st.sets(st.sampled_from(["a", "b", "c"]), max_size=1).map(frozenset),
)


def on_resin(steps: list[dict[str, Any]]) -> Plan:
    return plan(steps, build={"base_material": "resin"})


def met(made: Plan, upper: str) -> dict[str | None, float]:
    return {s.lower_step: s.share for s in assess(made).seams.values() if s.upper_step == upper}


class Shared(TestCase):
    @given(SPOTS, SPOTS)
    def test_it_is_a_share_and_what_is_beside_never_meets(self, upper: Spot, lower: Spot) -> None:
        share = shared(upper, lower)
        self.assertTrue(0 <= share <= 1)
        if lower.step_id in upper.beside or upper.step_id in lower.beside:
            self.assertEqual(share, 0)

    def test_in_one_place_marks_meet_by_how_thick_they_are_strewn_there(self) -> None:
        chips = Spot("chips", 0.05, Place.EDGES)
        self.assertAlmostEqual(shared(Spot("more", 0.02, Place.EDGES), chips), 0.05 / SHARE_OF_ZONE[Place.EDGES])
        self.assertEqual(shared(Spot("more", 0.02, Place.SCATTERED), chips), 0.05)
        self.assertEqual(shared(Spot("wash", 0.1, Place.RECESSES), chips), 0)

    def test_patches_of_one_name_are_one_spot_and_of_two_names_two(self) -> None:
        one, other = Spot("one", 0.1, Place.PATCH, "stain"), Spot("other", 0.1, Place.PATCH, "weld")
        self.assertEqual(shared(Spot("more", 0.05, Place.PATCH, "stain"), one), 1)
        self.assertEqual(shared(other, one), 0)


class Judged(TestCase):
    def marks(self, **second: Any) -> Plan:
        ground = coat("g", "alcohol_acrylic_clear", sheen="satin")
        first = coat("a", "enamel_wash", 2 * DAY, coverage=0.05, place="edges", method="brush")
        return on_resin([ground, first, coat("b", "enamel_wash", 5, coverage=0.03, method="brush", **second)])

    def test_marks_beside_each_other_have_no_seam(self) -> None:
        self.assertEqual(set(met(self.marks(place="edges"), "b")), {"a", "g"})
        self.assertEqual(set(met(self.marks(place="edges", beside=["a"]), "b")), {"g"})
        self.assertEqual(set(met(self.marks(place="recesses"), "b")), {"g"})

    def test_what_is_split_off_stays_beside_and_on_what_the_whole_was(self) -> None:
        for more, share in (({"beside": ["a"]}, None), ({"on": "a", "place": "edges"}, 1.0)):
            zones = ["bow", "stern"]
            ground = coat("g", "alcohol_acrylic_clear", sheen="satin", zones=zones)
            first = coat("a", "enamel_wash", 2 * DAY, coverage=0.05, place="edges", method="brush", zones=zones)
            over = coat("b", "enamel_wash", 5, coverage=0.03, method="brush", zones=zones, **more)
            made = plan([ground, first, over], zones=zones, build={"base_material": "resin"})
            split = {"edit": "split_step", "step_id": "a", "zones": ["stern"], "new_id": "a-stern"}
            after, _ = apply(made, parse_edits([split]))
            seams = assess(after).seams
            self.assertEqual(getattr(seams.get("b~stern~a-stern"), "share", None), share)
            self.assertEqual(getattr(seams.get("b~bow~a"), "share", None), share)

    def test_a_mark_on_another_s_marks_meets_nothing_else(self) -> None:
        self.assertEqual(met(self.marks(place="edges", on="a"), "b"), {"a": 1.0})

    def test_a_full_coat_meets_everything_at_its_share(self) -> None:
        made = self.marks(place="recesses")
        clear = coat("c", "alcohol_acrylic_clear", 3 * DAY)
        full = parse_plan(made.model_dump(mode="json") | {"steps": [*made.model_dump(mode="json")["steps"], clear]})
        shares = met(full, "c")
        self.assertEqual(shares["b"], 0.03)
        self.assertAlmostEqual(shares["a"] or 0, 0.05 * 0.97, 2)

    def test_two_colours_beside_each_other_over_one_medium_can_both_be_chipped(self) -> None:
        def chip(of: str) -> dict[str, Any]:
            return {
                "kind": "working", "id": f"chip-{of}", "name": "chip", "zones": ["side"], "action": "chip",
                "acts_on": of, "carrier": "water", "wait_min": 10, "hands_on_min": 10, "leaves": 0.8,
            }  # fmt: skip

        def colours(**more: Any) -> list[Verdict]:
            steps = [
                coat("g", "lacquer_colour"), coat("m", "hairspray", DAY),
                coat("one", "waterborne_colour", 10, coverage=0.5, dry_film_um=8),
                coat("two", "waterborne_colour", 10, dry_film_um=8, **{"coverage": 0.5} | more),
                chip("one"), chip("two"),
            ]  # fmt: skip
            seams = assess(on_resin(steps)).seams.values()
            return [s.verdict for s in seams if s.upper_step == "chip-two" and s.lower_step == "two"]

        self.assertNotIn(Verdict.CLASH, colours(beside=["one"]))
        self.assertIn(Verdict.CLASH, colours(coverage=1.0, on="one"))  # nothing but the first colour lies under it

    def test_what_is_spoiled_on_a_sliver_is_a_hint_unless_it_was_meant_to_lie_there(self) -> None:
        def worst(coverage: float, **more: Any) -> tuple[Verdict, str]:
            ground = coat("g", "alcohol_acrylic_clear", sheen="satin")
            first = coat("a", "enamel_wash", 2 * DAY, coverage=0.05, method="brush")
            over = coat("b", "enamel_wash", 60, coverage=coverage, method="brush", **more)
            seams = assess(on_resin([ground, first, over])).seams.values()
            seam = next(s for s in seams if s.upper_step == "b" and s.lower_step == "a")
            return seam.verdict, seam.sentence

        self.assertEqual(worst(0.5)[0], Verdict.WAIT)  # 2.5 % of the zone
        verdict, sentence = worst(0.1)  # 0.5 % of it, and a twentieth of the mark
        self.assertEqual(verdict, Verdict.SOUND)
        self.assertIn("0.5 % of the zone: a hint", sentence)
        self.assertEqual(worst(0.04)[0], Verdict.SOUND)
        self.assertEqual(
            worst(0.04, on="a")[0], Verdict.CAUTION
        )  # a thin mark drawn through a thin mark smears a little

    def test_taking_a_mark_off_harms_nothing_that_does_not_lie_there(self) -> None:
        for more, state in (({"place": "edges", "on": "a"}, Rescued.CARE), ({"place": "recesses"}, Rescued.CLEAN)):
            made = self.marks(**more)
            found = rescue(made, "b", "side", assess(made).coats["b~side"].end_min + 30)
            self.assertEqual(found.state, state, found.sentence)


class Scheduled(TestCase):
    def test_a_schedule_waits_for_what_is_met_and_not_for_a_sliver_whatever_it_was_asked_before(self) -> None:
        def waits(covers: float) -> float:
            steps = [
                coat("g", "alcohol_acrylic_clear", sheen="satin"),
                coat("a", "enamel_wash", 2 * DAY, coverage=0.05, method="brush", dry_film_um=4),
                coat("b", "enamel_wash", 5, coverage=0.5, method="brush", coverage_by_zone={"side": covers}),
            ]
            found = make(Agenda(on_resin(steps)), seconds=5).assessment.times
            return found["b"].start_min - found["a"].end_min

        self.assertGreater(waits(0.5), DAY / 2)
        self.assertLess(waits(0.1), DAY / 2)
        self.assertGreater(waits(0.5), DAY / 2)


class Kept(TestCase):
    def test_a_file_of_the_first_version_opens_and_says_the_same(self) -> None:
        older = tug_json() | {"version": 1}
        self.assertEqual(parse_plan(older), parse_plan(tug_json()))
        self.assertEqual(parse_plan(older).version, 2)

    def test_what_a_mark_is_said_to_lie_on_or_beside_has_to_be_there_and_stays(self) -> None:
        with self.assertRaisesRegex(PlanError, "beside.*no other coat 'nothing'"):
            parse_plan(plan_json([coat("a", "lacquer_primer"), coat("b", "lacquer_colour", beside=["nothing"])]))
        with self.assertRaisesRegex(PlanError, "no other coat 'b'"):
            parse_plan(plan_json([coat("a", "lacquer_primer"), coat("b", "lacquer_colour", on="b")]))
        made = plan([coat("a", "lacquer_primer"), coat("b", "lacquer_colour", on="a")])
        with self.assertRaisesRegex(PlanError, "is said to lie on it"):
            apply(made, parse_edits([{"edit": "remove_step", "step_id": "a"}]))
