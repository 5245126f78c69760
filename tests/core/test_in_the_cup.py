"""What a person does at the cup: counts drops, weighs, mixes several cups, corrects one, thins a wash further."""

import math
from unittest import TestCase

from emvar_core.errors import Impossible, PlanError
from emvar_core.knowledge import knowledge
from emvar_core.knowledge.flow_cups import CALIBRATION_MM2_S, calibrated, calibration_mm2_s
from emvar_core.mix_and_spray.card import card
from emvar_core.mix_and_spray.gun_card import Setting
from emvar_core.physics.colour import lightness_of
from emvar_core.physics.cup import CUP_ML, Fill, cup_for_area, cup_of
from emvar_core.physics.drops import poured
from emvar_core.physics.recipes import corrected
from emvar_core.physics.viscosity import crowding, figure_of, is_paste, thickness
from emvar_core.plan import CoatStep, parse_plan, parse_step

from tests.builders import coat, mix, plan_json

K = knowledge()


def step_of(material: str, **more: object) -> CoatStep:
    step = parse_step(coat("c", material, **more))
    assert isinstance(step, CoatStep)
    return step


def in_drops(a: int, b: int) -> dict[str, object]:
    parts = [("waterborne_colour", "paint", a), ("water_flow", "thinner", b)]
    return {"parts": [{"material": m, "role": r, "amount": n, "unit": "drops"} for m, r, n in parts]}


class Drops(TestCase):
    def test_one_pipette_for_all_liquids_is_the_usual_case(self) -> None:
        # Counting the paint makes the thinner's drops larger or smaller by as much (Tate's law, same tip).
        usual, coarse = (
            cup_for_area(K, step_of("lacquer_colour", mix=mix("lacquer_colour", "mild_thinner", 1, 1), **m), 7, 300, 1)
            for m in ({}, {"measured": {"drops_per_ml": 12.5}})
        )
        for before, after in zip(usual.pours, coarse.pours, strict=True):
            assert before.drops is not None and after.drops is not None
            self.assertAlmostEqual(before.drops / after.drops, 2.0, delta=0.35)

    def test_a_second_dropper_is_counted_for_itself(self) -> None:
        same = mix("lacquer_colour", "mild_thinner", 1, 1)
        both = step_of("lacquer_colour", mix=same, measured={"drops_per_ml": 25, "thinner_drops_per_ml": 10})
        made = cup_for_area(K, both, 7, 300, 1)
        for pour, per_ml in zip(made.pours, (25, 10), strict=True):
            assert pour.drops is not None
            self.assertAlmostEqual(pour.ml, pour.drops / per_ml, delta=0.001)

    def test_a_recipe_in_drops_holds_when_drops_are_counted(self) -> None:
        counted = {"drops_per_ml": 30, "thinner_drops_per_ml": 15}
        step = step_of("waterborne_colour", mix=in_drops(8, 2), measured=counted)
        made = cup_for_area(K, step, 10, None, 1, Fill(paint_drops=8))
        self.assertEqual([p.drops for p in made.pours], [8, 2])
        # What lands is computed from the same drops: two of twice the size are a third of the cup.
        self.assertAlmostEqual(cup_of(K, step).thinner_share, 2 / 15 / (8 / 30 + 2 / 15), places=9)

    def test_five_cups_are_five_cups(self) -> None:
        step = step_of("lacquer_primer")
        made = cup_for_area(K, step, 15, 1200, 1)
        self.assertGreater(made.needed_ml, 4 * CUP_ML)
        self.assertGreaterEqual(made.cups * made.total_ml, made.needed_ml)
        self.assertEqual(made.cups, math.ceil(made.needed_ml / CUP_ML))
        for area in range(20, 2000, 17):  # a cup never runs over, however whole drops fall
            each = cup_for_area(K, step, 15, float(area), 1)
            self.assertLessEqual(each.total_ml, CUP_ML)
            self.assertGreaterEqual(each.cups * sum(pour.ml for pour in each.pours), each.needed_ml - 0.002 * each.cups)
        filled = cup_for_area(K, step, 15, 1200, 1, Fill(total_ml=2))
        self.assertLessEqual(filled.total_ml, 2)
        self.assertEqual(filled.cups, math.ceil(made.needed_ml / filled.total_ml))

    def test_a_better_ratio_is_no_reason_to_fill_a_cup_over_its_rim(self) -> None:
        free, capped = (poured([1, 1], [0.15, 0.2], need_ml=6.6, **m) for m in ({}, {"cup_ml": 7.0}))
        self.assertGreater(sum(free.ml), 7.0)
        self.assertLess(free.error_pct, capped.error_pct)
        self.assertTrue(6.6 <= sum(capped.ml) <= 7.0)
        counted = {"drops_per_ml": 1 / 0.15, "thinner_drops_per_ml": 5}
        step = step_of("alcohol_acrylic_colour", mix=mix("alcohol_acrylic_colour", "alcohol_acrylic_thinner", 1, 1),
                       measured=counted)  # fmt: skip
        for area in range(300, 370):
            self.assertLessEqual(cup_for_area(K, step, 10, float(area), 1).total_ml, CUP_ML)

    def test_a_cup_and_a_number_of_drops_hold_together(self) -> None:
        step = step_of("waterborne_clear", mix=mix("waterborne_clear", "water_flow", 1, 1))
        for asked in (
            Fill(total_ml=1, most_drops=30),
            Fill(total_ml=3, most_drops=12),
            Fill(total_ml=0.2, most_drops=40),
        ):
            made = cup_for_area(K, step, 10, 20, 1, asked)
            self.assertLessEqual(made.total_ml, asked.total_ml or 0)
            self.assertLessEqual(sum(p.drops or 0 for p in made.pours), asked.most_drops or 0)

    def test_grams_are_the_recipe_by_weight(self) -> None:
        made = cup_for_area(K, step_of("lacquer_colour", mix=mix("lacquer_colour", "mild_thinner", 1, 2)), 7, 300, 1)
        paint, thinner = made.pours
        density = K.coats["lacquer_colour"].density_g_ml
        self.assertAlmostEqual(paint.grams, made.total_ml / 3 * density, delta=0.011)
        self.assertAlmostEqual(thinner.grams / paint.grams, 2 * 0.87 / density, delta=0.06)

    def test_a_paste_is_weighed_and_never_dropped(self) -> None:
        for material in ("artists_oil", "alkyd_oil", "acrylic_paste", "solvent_putty", "water_mixable_oil"):
            self.assertTrue(is_paste(K, K.coats[material]), material)
        made = cup_for_area(K, step_of("artists_oil", method="brush"), 3, 100, 1)
        paint, *rest = made.pours
        self.assertIsNone(paint.drops)
        self.assertGreater(paint.grams, 0)
        self.assertTrue(all(p.drops for p in rest))
        self.assertLess(made.ratio_error_pct, 0.1)  # paste follows the whole drops of spirit
        for asked in (Fill(total_ml=0.5), Fill(total_ml=0.13), Fill(most_drops=7)):
            made = cup_for_area(K, step_of("artists_oil", method="brush"), 3, 100, 1, asked)
            self.assertLessEqual(made.total_ml, (asked.total_ml or 9) + 1e-9, asked)
            self.assertLessEqual(sum(p.drops or 0 for p in made.pours), asked.most_drops or 99, asked)


class Corrections(TestCase):
    def test_a_cup_is_corrected_with_all_that_is_in_it(self) -> None:
        parts = [("lacquer_colour", "paint", 10), ("mild_thinner", "thinner", 10), ("lacquer_retarder", "retarder", 1)]
        three = {"parts": [{"material": m, "role": r, "amount": n, "unit": "parts"} for m, r, n in parts]}
        measured = {"paint_g": 2.0, "thinner_g": 1.0, "retarder_g": 0.0}

        def told(**more: float) -> str:
            return card(
                parse_plan(plan_json([coat("c", "lacquer_colour", mix=three, measured=measured | more)])), "c"
            ).correction

        self.assertRegex(told(), r"Too thick: add \d\.\d+ mL of mild.* and 0\.\d+ mL of .*retarder")
        full = float(told().split("add ")[1].split(" mL")[0])
        half = float(told(sprayed_g=1.5).split("add ")[1].split(" mL")[0])
        self.assertAlmostEqual(half / full, 0.5, delta=0.02)  # half of it was sprayed: half as much is missing
        self.assertIn("pour off", told(paint_g=6.5, thinner_g=0.5))

    def test_retarder_that_the_recipe_does_not_have_is_told(self) -> None:
        same = mix("lacquer_colour", "mild_thinner", 1, 1)
        measured = {"paint_g": 1.0, "thinner_g": 1.0, "retarder_g": 0.5}
        told = card(parse_plan(plan_json([coat("c", "lacquer_colour", mix=same, measured=measured)])), "c").correction
        self.assertIn("retarder in the cup", told)

    def test_more_than_was_weighed_cannot_have_been_sprayed(self) -> None:
        with self.assertRaisesRegex(PlanError, "sprayed"):
            parse_plan(plan_json([coat("c", "lacquer_colour", measured={"paint_g": 1.0, "sprayed_g": 2.0})]))

    def test_the_cup_never_passes_what_it_holds(self) -> None:
        for present in ([4.0, 0.0], [6.9, 0.05], [1.0, 6.0]):
            c = corrected(present, [1, 1], most_ml=7.0)
            self.assertLessEqual(sum(present) - c.pour_off_ml + sum(c.adds), 7.0 + 1e-9)
            kept = 1 - c.pour_off_ml / sum(present)
            self.assertAlmostEqual(present[0] * kept + c.adds[0], present[1] * kept + c.adds[1], places=9)
        with self.assertRaises(Impossible):
            corrected([1, 1], [0, 0])


class Ladders(TestCase):
    def test_it_starts_from_the_mix_of_the_step_and_knows_those_of_other_steps(self) -> None:
        thin = mix("enamel_wash", "white_spirit", 1, 1)
        plan = parse_plan(
            plan_json(
                [coat("a", "enamel_wash", mix=thin, name="Pin wash"), coat("b", "enamel_wash", 60, name="Neat lines")]
            )
        )
        own = {r.use: r for r in card(plan, "a", Setting(rungs=[9.0])).ladder}
        self.assertAlmostEqual(own["deep lines"].strength, 0.5)
        self.assertAlmostEqual(own["1 : 9"].strength, 0.1)
        self.assertEqual(own["Neat lines"].step_id, "b")
        self.assertAlmostEqual(own["Neat lines"].strength, 1.0)
        self.assertEqual({r.use for r in card(plan, "b").ladder if r.step_id}, {"Pin wash"})

    def test_a_light_wash_darkens_little_and_an_oil_is_weighed(self) -> None:
        dark, light = (
            card(parse_plan(plan_json([coat("a", "enamel_wash", colour={"srgb": c})])), "a").ladder[0].darkness
            for c in ("#2a1d12", "#d8c8a0")
        )
        self.assertGreater(dark, 2 * light)
        for rung in card(parse_plan(plan_json([coat("a", "artists_oil", method="wash")])), "a").ladder:
            self.assertIsNone(rung.wash_drops)
            self.assertGreater(rung.wash_g, 0)

    def test_lightness_is_that_of_the_standard(self) -> None:
        # CIE 1976 L* of the sRGB primaries and of mid grey (published tables; from memory).
        for colour, lightness in (("#ff0000", 53.24), ("#00ff00", 87.73), ("#0000ff", 32.30), ("#808080", 53.59)):
            self.assertAlmostEqual(lightness_of(colour), lightness, delta=0.02)


class HowThick(TestCase):
    def test_a_drip_cup_may_be_calibrated_on_a_warm_day(self) -> None:
        # Sucrose of 40 % by weight: 5.19 mPa·s at 25 °C, 4.38 at 30 (CRC Handbook, from memory), over 1.18 g/mL.
        for temp, mpas in ((25, 5.19), (30, 4.38)):
            self.assertAlmostEqual(calibration_mm2_s(temp)[1] * 1.176, mpas, delta=0.12)
        self.assertEqual(calibration_mm2_s(20), CALIBRATION_MM2_S)
        a, b = 0.12, 12.0
        warm = [((nu + math.sqrt(nu * nu + 4 * a * b)) / (2 * a), nu) for nu in calibration_mm2_s(28)]
        found = calibrated(warm)
        self.assertAlmostEqual(found.a, a, places=9)
        wrong = calibrated([(t, nu) for (t, _), nu in zip(warm, CALIBRATION_MM2_S, strict=True)])
        self.assertGreater(wrong.a / a, 1.15)  # what the same times told before

    def test_a_per_cent_of_solids_changes_no_bottle_tenfold(self) -> None:
        for fraction in (0.40, 0.54, 0.60, 0.64, 0.70, 0.80):
            self.assertLess(crowding(fraction * 32 / 30) / crowding(fraction), 2.6, fraction)
            self.assertGreater(crowding(fraction * 32 / 30), crowding(fraction))
        jump = [crowding(0.544 + d) for d in (-1e-6, 1e-6)]
        self.assertAlmostEqual(jump[1] / jump[0], 1.0, delta=1e-4)

    def test_the_range_that_is_told_holds_what_people_say(self) -> None:
        # Common practice, in the trade's words: what a paint is like from the bottle and as it is sprayed.
        for material, thinner, a, b, words in (
            ("waterborne_colour", None, 1, 0, ("yoghurt",)), ("craft_acrylic", None, 1, 0, ("yoghurt",)),
            ("lacquer_colour", None, 1, 0, ("cream", "syrup")), ("enamel_colour", None, 1, 0, ("cream", "syrup")),
            ("artists_oil", None, 1, 0, ("paste",)), ("acrylic_paste", None, 1, 0, ("paste",)),
            ("solvent_putty", None, 1, 0, ("paste",)), ("enamel_wash", None, 1, 0, ("milk", "skim milk")),
            ("lacquer_colour", "mild_thinner", 1, 2, ("milk",)), ("craft_acrylic", "isopropanol_50", 1, 1.5, ("milk",)),
            ("alcohol_acrylic_colour", "alcohol_acrylic_thinner", 1, 1.5, ("milk",)),
            ("waterborne_colour", "water_flow", 1, 1, ("milk", "thin cream")),
            ("enamel_colour", "white_spirit", 1, 1, ("milk", "thin cream")),
            ("waterborne_urethane_clear", None, 1, 0, ("thin cream",)),
        ):  # fmt: skip
            neat = {"parts": [{"material": material, "role": "paint", "amount": 1, "unit": "parts"}]}
            more = {"mix": mix(material, thinner, a, b) if thinner else neat}
            step = step_of(material, **more)
            told = thickness(K, K.coats[material], cup_of(K, step))
            lows, highs = zip(*(figure_of(w) for w in words), strict=True)
            self.assertTrue(told.low_mpas <= max(highs) and told.high_mpas >= min(lows), (material, thinner, told))
