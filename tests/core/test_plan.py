"""The plan format refuses what is wrong and names the place."""

import json
from typing import Any
from unittest import TestCase

from emvar_core.errors import PlanError
from emvar_core.ids import slug
from emvar_core.plan import MAX_STEPS, parse_plan, step_times

from tests.builders import coat, plan, plan_json, tug, tug_json


class Refusals(TestCase):
    def refused(self, data: Any, where: str, what: str) -> None:
        with self.assertRaises(PlanError) as caught:
            parse_plan(data)
        told = "; ".join(f"{p.where}: {p.what}" for p in caught.exception.problems)
        self.assertIn(where, told)
        self.assertIn(what, told)

    def test_other_json_and_other_versions(self) -> None:
        self.refused([], "plan", "one JSON object")
        self.refused({"format": "something"}, "format", "not a plan file")
        self.refused({"format": "emvar-plan", "version": 7}, "version", "only up to 2")

    def test_unknown_field_and_wrong_unit_are_named_with_the_step(self) -> None:
        data = plan_json([coat("a", "lacquer_primer", wait_hours=2)])
        self.refused(data, "steps[0] 'a'.wait_hours", "unknown field")

    def test_absurd_air(self) -> None:
        data = plan_json([], air={"day": {"temp_c": 900}})
        self.refused(data, "air.day.temp_c", "the temperature must be at most 60 °C")

    def test_absurd_ratio(self) -> None:
        part = {"material": "lacquer_primer", "role": "paint", "amount": 1e9}
        data = plan_json([coat("a", "lacquer_primer", mix={"parts": [part]})])
        self.refused(data, "mix.parts[0].amount", "an amount must be at most 100000")

    def test_ten_thousand_steps(self) -> None:
        data = plan_json([coat(f"s{i}", "lacquer_primer") for i in range(10_000)])
        self.refused(data, "steps", f"at most {MAX_STEPS}")

    def test_not_a_number_is_refused(self) -> None:
        data = json.loads(json.dumps(plan_json([coat("a", "lacquer_primer", dry_film_um=float("nan"))])))
        self.refused(data, "dry_film_um", "")

    def test_dangling_names(self) -> None:
        self.refused(plan_json([coat("a", "lacquer_primer", zones=["keel"])]), "steps[0] 'a'.zones", "no zone 'keel'")
        self.refused(plan_json([coat("a", "laquer_primer")]), "material", "is 'lacquer_primer' meant?")
        self.refused(plan_json([coat("a", "white_spirit")]), "material", "a coat is wanted")
        wipe = {
            "kind": "working",
            "id": "w",
            "name": "w",
            "zones": ["side"],
            "action": "wipe",
            "acts_on": "gone",
        }
        self.refused(plan_json([wipe]), "acts_on", "no coat 'gone' before")

    def test_work_must_lie_on_the_coat_it_names(self) -> None:
        wipe = {
            "kind": "working",
            "id": "w",
            "name": "w",
            "zones": ["deck"],
            "action": "wipe",
            "acts_on": "a",
        }
        data = plan_json([coat("a", "enamel_wash"), wipe], zones=["side", "deck"])
        self.refused(data, "acts_on", "does not cover the zone 'deck'")

    def test_same_id_twice(self) -> None:
        self.refused(plan_json([coat("a", "lacquer_primer")] * 2), "steps[1]", "taken by an earlier step")

    def test_mixed_units_and_percent_that_do_not_add_up(self) -> None:
        parts = [
            {"material": "lacquer_primer", "role": "paint", "amount": 60, "unit": "percent"},
            {"material": "mild_thinner", "role": "thinner", "amount": 60, "unit": "percent"},
        ]
        self.refused(plan_json([coat("a", "lacquer_primer", mix={"parts": parts})]), "mix", "add up to 100")
        parts[1]["unit"] = "drops"
        self.refused(plan_json([coat("a", "lacquer_primer", mix={"parts": parts})]), "mix", "same unit")

    def test_fixed_start_before_the_step_below_ends(self) -> None:
        steps = [
            coat("a", "lacquer_primer", hands_on_min=60),
            coat("b", "lacquer_colour", fixed_start="2026-03-02T10:30:00+00:00"),
        ]
        self.refused(plan_json(steps), "steps[1] 'b'.fixed_start", "before the step below it ends")

    def test_hostile_text(self) -> None:
        self.refused(plan_json([], build={"name": "a\u0000b"}), "build.name", "control characters")
        self.refused(plan_json([], build={"timezone": "../../etc/passwd"}), "build.timezone", "not a time zone")
        fine = plan([], build={"name": "<script>alert('x')</script> ' OR 1=1 --"})
        self.assertIn("<script>", fine.build.name)

    def test_own_thinner_must_be_whole_and_known(self) -> None:
        own = {"id": "mine", "name": "Mine", "percent": {"acetone": 50, "unobtainium": 50}}
        self.refused(plan_json([], materials=[own]), "materials[0] 'Mine'.percent", "no solvent 'unobtainium'")
        own["percent"] = {"acetone": 50}
        self.refused(plan_json([], materials=[own]), "materials[0] 'Mine'", "add up to 100")
        own |= {"percent": {"acetone": 100}, "id": "water"}
        self.refused(plan_json([], materials=[own]), "materials[0] 'Mine'", "taken by another material")

    def test_a_side_that_the_school_does_not_have(self) -> None:
        self.refused(plan_json([], schools={"pigment": "sideways"}), "schools.pigment", "loose or bound")

    def test_a_recipe_of_a_step_that_is_not_there_is_refused_at_its_place(self) -> None:
        with self.assertRaises(PlanError) as refused:
            plan([coat("a", "lacquer_primer"), coat("b", "lacquer_primer", recipe_of="gone")])
        (problem,) = refused.exception.problems
        self.assertEqual((problem.where, problem.what), ("steps[1] 'b'.recipe_of", "there is no step 'gone'"))


class Older(TestCase):
    def test_a_first_version_plan_with_a_step_called_base_opens_and_keeps_what_refers_to_it(self) -> None:
        work = {"kind": "working", "id": "w", "name": "w", "zones": ["side"], "action": "wipe", "acts_on": "base"}
        steps = [coat("base", "enamel_wash"), work | {"carrier": "white_spirit"}, coat("base-coat", "lacquer_clear")]
        data = plan_json(
            steps, version=1, trials=[{"upper": "w", "lower": "base", "passed": True, "of": "a" * 12, "age_min": 5}]
        )
        made = parse_plan(data)
        first, second = made.steps[0], made.steps[1]
        self.assertNotIn(first.id, ("base", "base-coat"))
        self.assertEqual((second.acts_on, made.trials[0].lower), (first.id, first.id))  # type: ignore[union-attr]
        with self.assertRaises(PlanError):
            parse_plan(data | {"version": 2})


class Times(TestCase):
    def test_a_step_starts_after_the_latest_of_its_zones(self) -> None:
        steps = [
            coat("a", "lacquer_primer", hands_on_min=30, zones=["side"]),
            coat("b", "lacquer_primer", 100, hands_on_min=10, zones=["deck"]),
            coat("c", "lacquer_colour", 5, hands_on_min=10, zones=["side", "deck"]),
        ]
        times = step_times(plan(steps, zones=["side", "deck"]))
        self.assertEqual((times["a"].end_min, times["b"].start_min), (30, 100))
        self.assertEqual((times["c"].start_min, times["c"].end_min), (115, 125))

    def test_ages_are_elapsed_minutes_across_a_clock_change(self) -> None:
        """Lisbon's clocks go forward on 29 March 2026 at 01:00: 24 elapsed hours end an hour later by the wall."""
        build = {"starts_at": "2026-03-28T12:00:00+00:00", "timezone": "Europe/Lisbon"}
        made = plan([coat("a", "lacquer_primer"), coat("b", "lacquer_colour", 1440)], build=build)
        self.assertEqual(step_times(made)["b"].start_min, 1440)

    def test_the_demo_round_trips(self) -> None:
        data = tug_json()
        self.assertEqual(parse_plan(tug().model_dump(mode="json")), parse_plan(data))

    def test_ids_are_never_taken(self) -> None:
        self.assertEqual(slug("Gloss clear!", set()), "gloss-clear")
        self.assertEqual(slug("Gloss clear!", {"gloss-clear", "gloss-clear-2"}), "gloss-clear-3")
