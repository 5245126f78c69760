"""How a build begins: outlines that are sound as they stand, on zones, materials and in air of one's own."""

import json
import unittest
from datetime import UTC, datetime

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.knowledge import knowledge
from emvar_core.mix_and_spray.card import card
from emvar_core.mix_and_spray.needs import needs
from emvar_core.plan import CoatStep, method_of, parse_plan
from emvar_core.vocabulary import AIRBRUSHED, Verdict
from emvar_core.ways.begin import Beginning, NewZone, Outline, begun, outlines

from tests.builders import coat, plan, tug

NOW = datetime(2026, 11, 26, 19, tzinfo=UTC)


def beginning(*zones: NewZone, **more: object) -> Beginning:
    return Beginning(name="Pilot cutter", starts_at=NOW, zones=list(zones) or [NewZone(name="Hull")], **more)


class Outlines(unittest.TestCase):
    def test_there_are_six_and_each_is_sound_as_it_stands(self) -> None:
        self.assertEqual(len(outlines()), 6)
        for outline in outlines():
            told = [(s.upper_step, s.word) for s in assess(outline.plan).stories]
            self.assertEqual(told, [], outline.id)
            self.assertGreaterEqual(len(outline.plan.steps), 6)

    def test_two_of_them_need_no_airbrush(self) -> None:
        def sprayed(outline: Outline) -> list[str]:
            coats = [s for s in outline.plan.steps if isinstance(s, CoatStep) and s.existing is None]
            return [s.name for s in coats if method_of(knowledge(), s) in AIRBRUSHED]

        self.assertEqual(sorted(o.id for o in outlines() if not sprayed(o)), ["brush-and-can", "made-old"])

    def test_an_outline_stays_sound_on_other_zones_materials_and_air(self) -> None:
        for outline in outlines():
            old = outline.plan.zones
            zones = [
                NewZone(name="Port side", like=old[0].id, area_cm2=80),
                NewZone(name="Starboard side", like=old[0].id),
                NewZone(name="Upper works", like=old[-1].id, base_material="resin"),
            ]
            for air in (None, {"day": {"temp_c": 16, "rh_pct": 60}}):
                made = begun(beginning(*zones, air=air), outline.plan)
                self.assertEqual([z.name for z in made.zones], ["Port side", "Starboard side", "Upper works"])
                bad = [s for s in assess(made).stories if s.verdict in (Verdict.CLASH, Verdict.WAIT)]
                self.assertEqual([(s.upper_step, s.word) for s in bad], [], f"{outline.id} {air}")


class Begun(unittest.TestCase):
    def test_from_nothing_there_are_zones_and_no_steps(self) -> None:
        made = begun(beginning(NewZone(name="Hull"), NewZone(name="Hull", area_cm2=40)))
        self.assertEqual([(z.id, z.area_cm2) for z in made.zones], [("hull", None), ("hull-2", 40)])
        self.assertEqual(made.steps, [])

    def test_a_copy_takes_the_steps_whose_zones_have_heirs_and_what_acts_on_them(self) -> None:
        source = tug()
        made = begun(beginning(NewZone(name="Working deck", like="deck")), source)
        wanted = [s.id for s in source.steps if "deck" in s.zones]
        self.assertEqual([s.id for s in made.steps], wanted)
        self.assertTrue(all(s.zones == ["working-deck"] for s in made.steps))
        self.assertEqual(made.build.name, "Pilot cutter")
        parse_plan(json.loads(made.model_dump_json(exclude_unset=True)) | {"format": "emvar-plan", "version": 2})

    def test_a_zone_like_one_that_is_not_there_is_refused_by_its_name(self) -> None:
        with self.assertRaisesRegex(PlanError, "no zone 'nowhere'"):
            begun(beginning(NewZone(name="Hull", like="nowhere")), tug())


class WithoutAnArea(unittest.TestCase):
    def setUp(self) -> None:
        steps = [coat("a", "waterborne_colour", zones=["z0", "z1"]), coat("b", "lacquer_colour", 600, zones=["z1"])]
        data = plan(steps, zones=["z0", "z1"])
        zones = [data.zones[0].model_copy(update={"area_cm2": None}), data.zones[1]]
        self.plan = data.model_copy(update={"zones": zones})

    def test_the_cup_is_the_ratio_and_says_so(self) -> None:
        cup = assess(self.plan).cups["a"]
        self.assertEqual(cup.pours[0].drops, 10)
        self.assertEqual((cup.landed_ml, cup.lost_ml), (0, 0))
        self.assertIn("not given", cup.basis)

    def test_the_card_tells_strokes_but_no_minutes(self) -> None:
        one = card(self.plan, "a")
        self.assertIsNotNone(one.laying)
        assert one.laying is not None
        self.assertIsNone(one.laying.spray_min)
        other = card(self.plan, "b").laying
        assert other is not None and other.spray_min is not None
        self.assertGreater(other.spray_min, 0)

    def test_what_the_build_needs_counts_what_is_known(self) -> None:
        self.assertEqual([n.material for n in needs(self.plan) if n.role == "paint"], ["lacquer_colour"])


class InWords(unittest.TestCase):
    def refused(self, **fields: object) -> str:
        with self.assertRaises(PlanError) as caught:
            plan([coat("a", "lacquer_colour", **fields)])
        return caught.exception.problems[0].what

    def test_a_refusal_speaks_of_films_and_waits(self) -> None:
        self.assertEqual(self.refused(dry_film_um=-1), "a film must be thicker than 0 µm")
        self.assertEqual(self.refused(coverage=3), "what is covered must be at most 100 %")
        self.assertEqual(self.refused(passes=0), "the number of passes must be at least 1")
        self.assertEqual(self.refused(hands_on_min="soon"), "the time at the bench must be a number")

    def test_a_working_step_under_its_coat_is_refused_by_their_names(self) -> None:
        wipe = {"kind": "working", "id": "wipe", "name": "Wipe the wash back", "zones": ["hull"], "action": "wipe",
                "acts_on": "wash"}  # fmt: skip
        with self.assertRaisesRegex(PlanError, "'Wipe the wash back' works on 'Pin wash', so it stays above it"):
            plan([wipe, coat("wash", "enamel_wash", name="Pin wash", zones=["hull"])], zones=["hull"])
