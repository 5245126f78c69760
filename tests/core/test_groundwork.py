"""Figures and groundwork: pours, stain, glazes, foil and leaf behave as practice says. Common practice."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.knowledge import knowledge
from emvar_core.physics.cup import POUR_ML, cup_for_area
from emvar_core.plan import CoatStep, Plan, apply, put
from emvar_core.vocabulary import Verdict
from emvar_core.ways.waits import followed

from tests.builders import DAY, coat, mix, plan

K = knowledge()


def on(base: str, *steps: dict[str, Any]) -> Plan:
    return plan(list(steps), build={"base_material": base})


def told(made: Plan, step: str) -> tuple[Verdict, str]:
    seams = [s for s in assess(made).seams.values() if s.upper_step == step]
    worst = max(seams, key=lambda s: s.verdict.grave)
    return worst.verdict, worst.word


class Pours(TestCase):
    def test_only_what_is_poured_is_thicker_than_a_millimetre(self) -> None:
        on("resin", coat("a", "pouring_resin", dry_film_um=20_000))
        for material in ("lacquer_colour", "acrylic_paste"):
            with self.assertRaises(PlanError) as refused:
                on("resin", coat("a", material, dry_film_um=2000))
            self.assertIn("dry_film_um", refused.exception.problems[0].where)

    def test_a_layer_of_water_waits_for_the_day_before(self) -> None:
        for wait, sound in ((6 * 60, False), (1.5 * DAY, True)):
            made = on("resin", coat("a", "ready_water"), coat("b", "ready_water", wait))
            self.assertEqual(told(made, "b")[0] is Verdict.SOUND, sound, wait)

    def test_a_thicker_layer_takes_longer(self) -> None:
        waits = []
        for film in (1000, 2000, 4000):
            steps = [coat("a", "ready_water", dry_film_um=film), coat("b", "ready_water") | {"wait_by": "program"}]
            made = on("resin", *steps)
            waits.append(apply(made, followed(None, made))[0].step("b").wait_min)
        self.assertEqual(waits, sorted(set(waits)))

    def test_resin_is_poured_onto_its_own_gel_or_scuffed_after_a_day(self) -> None:
        scuff = {"kind": "working", "id": "s", "name": "s", "zones": ["side"], "action": "scuff", "acts_on": "a",
                 "method": "dry_tool", "wait_min": 3 * DAY, "hands_on_min": 5}  # fmt: skip
        first, second = coat("a", "pouring_resin"), coat("b", "pouring_resin")
        self.assertEqual(told(on("resin", first, second | {"wait_min": 8 * 60}), "b")[0], Verdict.SOUND)
        over = coat("b", "lacquer_clear", 3 * DAY)
        self.assertEqual(told(on("resin", first, over), "b")[1], "peels")
        self.assertEqual(told(on("resin", first, scuff, over | {"wait_min": 10}), "b")[0], Verdict.SOUND)

    def test_its_cups_stay_small_and_are_weighed(self) -> None:
        step = CoatStep(id="a", name="a", zones=["z"], material="pouring_resin")
        cup = cup_for_area(K, step, 10_000, 400, 1.0)
        self.assertGreater(cup.cups, 4)
        self.assertLessEqual(cup.total_ml, POUR_ML)
        self.assertTrue(all(p.drops is None for p in cup.pours))
        self.assertEqual([p.role for p in cup.pours], ["paint", "hardener"])
        notes = {n.caution for n in assess(on("resin", coat("a", "pouring_resin"))).notes}
        self.assertIn("sensitises", notes)

    def test_it_adds_nothing_to_the_budget_of_detail(self) -> None:
        remarks = assess(on("resin", coat("a", "ready_water", dry_film_um=3000))).remarks
        self.assertNotIn("film too thick", {r.word for r in remarks})


class Figures(TestCase):
    def test_a_glaze_in_medium_has_no_thinning_fault_and_in_water_it_has(self) -> None:
        for thinner, fault in (("glaze_medium", False), ("water", True)):
            step = coat("a", "acrylic_glaze", mix=mix("acrylic_glaze", thinner, 1, 6))
            said = {r.code for r in assess(on("resin", step)).remarks}
            self.assertEqual("water" in said, fault, thinner)

    def test_glazes_go_over_each_other_within_minutes(self) -> None:
        made = on("resin", coat("a", "acrylic_glaze", coverage=0.9), coat("b", "acrylic_glaze", 10, coverage=0.9))
        self.assertEqual(told(made, "b")[0], Verdict.SOUND)


class WoodAndMetal(TestCase):
    def test_a_stain_is_meant_to_soak_in_and_paint_is_not(self) -> None:
        for material, word in (("spirit_stain", "sound"), ("water_stain", "sound"), ("waterborne_colour", "soaks in")):
            self.assertEqual(told(on("wood_bare", coat("a", material)), "a")[1], word, material)

    def test_foil_wants_hard_gloss(self) -> None:
        for sheen, wait, word in (("gloss", DAY, "sound"), ("gloss", 20, "too early"), ("matt", DAY, "shows grain")):
            made = on("resin", coat("g", "lacquer_clear", sheen=sheen), coat("f", "metal_foil", wait))
            self.assertEqual(told(made, "f")[1], word, (sheen, wait))

    def test_leaf_goes_onto_the_tack_of_its_size(self) -> None:
        ground = on("resin", coat("g", "lacquer_clear", sheen="gloss"))
        made = apply(ground, put(ground, "gold_leaf", ["side"], 1))[0]
        made = apply(made, followed(ground, made))[0]
        self.assertGreater(made.step("leaf").wait_min, 120)
        self.assertEqual([s.word for s in assess(made).stories], [])
        for wait, word in ((5, "drowns"), (20 * DAY, "no tack")):
            steps = [s.model_copy(update={"wait_min": wait}) if s.id == "leaf" else s for s in made.steps]
            answer = assess(made.model_copy(update={"steps": steps}))
            self.assertIn(word, {s.word for s in answer.stories}, wait)
