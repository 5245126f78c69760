"""The bench card: complete for every coat of both demos, moved by thinning and measures, tools that refuse nonsense."""

import json
import unittest
from typing import Any

from emvar_core.assess import assess
from emvar_core.errors import Impossible, NotThere, OutOfRange
from emvar_core.judging.outcome import CupOut
from emvar_core.knowledge import knowledge
from emvar_core.mix_and_spray.card import Card, card
from emvar_core.mix_and_spray.gun_card import Setting
from emvar_core.mix_and_spray.needs import needs
from emvar_core.mix_and_spray.without_plan import in_hand
from emvar_core.physics.cup import cup_of, transfer_of
from emvar_core.physics.drops import poured
from emvar_core.physics.recipes import (
    Wash,
    box_cm2,
    combined,
    corrected,
    counted_drop_ml,
    cut_with_water,
    cylinder_cm2,
    drop_ml,
    ladder,
    model_area_cm2,
    sections,
    true_size_mm,
)
from emvar_core.physics.viscosity import figure_of, like, thickness
from emvar_core.plan import CoatStep, Plan, parse_plan, parse_step
from emvar_core.vocabulary import Method
from hypothesis import example, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.builders import ROOT, coat, mix, plan_json, tug, tug_json
from tests.lengths import at_length

K = knowledge()


def demos() -> list[Plan]:
    return [parse_plan(json.loads(p.read_text(encoding="utf-8"))) for p in sorted((ROOT / "demo").glob("*.json"))]


def cup(c: Card) -> CupOut:
    assert c.cup is not None
    return c.cup


def one(material: str, **more: Any) -> Plan:
    return parse_plan(plan_json([coat("c", material, **more)]))


class Cards(unittest.TestCase):
    def test_every_coat_of_both_demos_has_a_complete_card(self) -> None:
        seen = 0
        for plan in demos():
            assessed = assess(plan)
            for step in plan.steps:
                if not isinstance(step, CoatStep):
                    continue
                c = card(plan, step.id)
                seen += 1
                self.assertTrue(c.tonight, step.id)
                self.assertTrue(c.how or c.map, step.id)
                if c.map is not None:
                    assert c.best is not None and c.point is not None and c.laying is not None, step.id
                    self.assertEqual((len(c.map.rows), len(c.map.rows[0])), (60, 80))
                    self.assertEqual(c.point.zone, "good", step.id)
                    self.assertTrue(40 < c.best.pressure_kpa < 220, (step.id, c.best.pressure_kpa))
                    low, high = c.best.distance_range_mm
                    self.assertTrue(low <= c.best.distance_mm <= high)
                    self.assertAlmostEqual(
                        c.laying.coats * c.laying.dry_per_coat_um, c.film_um, delta=c.laying.dry_per_coat_um
                    )
                    assert c.thickness is not None
                    self.assertEqual(c.thickness.ready, "ready", (step.id, c.thickness.mm2_s))
                self.assertEqual(c.mixed, step.id in assessed.cups)
                if c.mixed:
                    self.assertEqual(c.cup, assessed.cups[step.id])  # one answer, on whichever screen
        self.assertGreaterEqual(seen, 35)

    def test_washes_have_a_ladder_and_a_working_area(self) -> None:
        c = card(tug(), "pin-wash")
        self.assertEqual([r.use for r in c.ladder], ["deep lines", "fasteners", "speckle", "shallow welds", "grime"])
        for r in c.ladder:
            self.assertTrue(r.range[0] < r.darkness < r.range[1])
        self.assertIn("cm²", c.split)

    def test_thinner_moves_the_map_the_film_and_the_windows(self) -> None:
        def with_thinner(parts: float) -> tuple[Card, float]:
            plan = one(
                "waterborne_colour", mix=mix("waterborne_colour", "water_flow_improver", 2, parts)
                if "water_flow_improver" in K.thinners
                else mix("waterborne_colour", "water", 2, parts),
            )  # fmt: skip
            a = assess(plan)
            return card(plan, "c"), next(iter(a.coats.values())).events["touch"].best

        (thick, thick_hard), (thin, thin_hard) = with_thinner(0.2), with_thinner(2.0)
        assert thick.thickness and thin.thickness and thick.map and thin.map
        self.assertGreater(thick.thickness.mm2_s, thin.thickness.mm2_s * 2)
        self.assertNotEqual(thick.map.rows, thin.map.rows)
        assert thick.cup and thin.cup
        self.assertGreater(thin.cup.wet_film_um, thick.cup.wet_film_um)
        self.assertNotEqual(thick_hard, thin_hard)
        grainy = [sum(row.count("g") for row in c.map.rows) for c in (thick, thin) if c.map]
        self.assertGreater(grainy[0], grainy[1])

    def test_a_measured_viscosity_wins_and_teaches_the_other_steps(self) -> None:
        steps = [coat("a", "lacquer_colour"), coat("b", "lacquer_colour", 1440)]
        before = card(parse_plan(plan_json(steps)), "b").thickness
        steps[0]["measured"] = {"viscosity_mpas": 20.0}
        plan = parse_plan(plan_json(steps))
        own, taught = card(plan, "a").thickness, card(plan, "b").thickness
        assert before and own and taught
        self.assertEqual((own.basis, own.mpas), ("measured", 20.0))
        self.assertEqual(taught.basis, "taught")
        self.assertAlmostEqual(taught.mpas, 20.0, delta=0.5)
        self.assertLess(before.mpas, 15)

    def test_flow_cup_seconds_count_as_measured(self) -> None:
        c = card(one("lacquer_colour", measured={"flow_cup": "iso_3", "flow_cup_s": 40}), "c")
        assert c.thickness
        self.assertEqual(c.thickness.basis, "measured")
        self.assertAlmostEqual(c.thickness.mm2_s, 12.7, delta=0.1)

    def test_a_weighed_cup_is_corrected(self) -> None:
        same = mix("lacquer_colour", "mild_thinner", 1, 1)
        too_thick = card(one("lacquer_colour", mix=same, measured={"paint_g": 2.0, "thinner_g": 0.5}), "c")
        self.assertRegex(too_thick.correction, r"Too thick: add \d\.\d+ mL of mild .*thinner \(\d\.\d+ g\)")
        too_thin = card(one("lacquer_colour", mix=same, measured={"paint_g": 1.0, "thinner_g": 3.0}), "c")
        self.assertIn("Too thin", too_thin.correction)

    def test_counted_drops_change_the_pours(self) -> None:
        few = cup(card(one("lacquer_colour", measured={"drops_per_ml": 15}), "c")).pours[0].drops
        many = cup(card(one("lacquer_colour", measured={"drops_per_ml": 60}), "c")).pours[0].drops
        self.assertGreater(many, few * 2)

    def test_the_setting_moves_the_point_and_absurd_ones_are_refused(self) -> None:
        plan = tug()
        far = card(plan, "primer", Setting(pressure_kpa=120, distance_mm=280)).point
        assert far
        self.assertEqual((far.zone, far.pressure_kpa), ("dry", 120))
        self.assertTrue(card(plan, "primer", Setting(pressure_kpa=120, distance_mm=280)).knobs)
        with self.assertRaisesRegex(ValidationError, "trigger"):
            Setting(trigger=3.0)
        with self.assertRaises(NotThere):
            card(plan, "nothing")

    def test_a_cup_or_a_number_of_drops_instead_of_the_area(self) -> None:
        by_cup = card(tug(), "gloss", Setting(total_ml=3.0))
        self.assertAlmostEqual(sum(p.ml for p in cup(by_cup).pours), 3.0, delta=0.3)
        by_drops = card(tug(), "gloss", Setting(paint_drops=10))
        self.assertEqual((cup(by_drops).pours[0].drops, cup(by_drops).pours[0].role), (10, "paint"))
        self.assertEqual(cup(by_cup).landed_ml, cup(by_drops).landed_ml)  # what the area needs is another question

    def test_thinner_asked_for_is_thinner_stored(self) -> None:
        asked = card(one("lacquer_colour", mix=mix("lacquer_colour", "mild_thinner", 1, 1)), "c", Setting(thinner=3.0))
        stored = card(one("lacquer_colour", mix=mix("lacquer_colour", "mild_thinner", 1, 3)), "c")
        self.assertEqual(asked.map, stored.map)
        self.assertEqual(asked.cup, stored.cup)

    def test_needs_of_a_build_add_up_to_its_cards(self) -> None:
        plan = tug()
        told = {n.material: n for n in needs(plan)}
        self.assertNotIn("decal", told)
        wash = cup(card(plan, "pin-wash"))
        self.assertAlmostEqual(told["enamel_wash"].ml, wash.landed_ml + wash.lost_ml + wash.left_ml, places=6)
        self.assertEqual(told["waterborne_colour"].coats, 4)
        for n in told.values():
            self.assertTrue(n.low_ml <= n.ml <= n.high_ml)

    def test_too_little_and_too_much_film_are_said(self) -> None:
        self.assertIn("may not cover", card(one("lacquer_colour", dry_film_um=3), "c").film_words)
        self.assertIn("fills detail", card(one("lacquer_colour", dry_film_um=60), "c").film_words)
        self.assertEqual(card(one("lacquer_colour", dry_film_um=15), "c").film_words, "")
        data = tug_json()
        grey = next(s for s in data["steps"] if s["id"] == "worn-grey")
        self.assertEqual(card(parse_plan(data), "worn-grey").film_words, "")
        grey["dry_film_um"] = 30
        self.assertIn("chips may not start", card(parse_plan(data), "worn-grey").film_words)
        self.assertNotIn("chips", card(parse_plan(data), "gloss").film_words)  # laid after the chipping

    def test_a_can_is_bought_mixed(self) -> None:
        plan = one("lacquer_primer", method="can")
        self.assertEqual([n.material for n in needs(plan)], ["lacquer_primer"])
        self.assertEqual((card(plan, "c").ratio, card(plan, "c").mixed), ("as it comes", False))

    def test_a_paint_in_hand_needs_no_plan(self) -> None:
        usual = card(in_hand("alcohol_acrylic_colour", None, 100, None, None, None), "coat")
        thin = card(in_hand("alcohol_acrylic_colour", 3, 100, 5, None, None), "coat")
        assert usual.thickness and thin.thickness
        self.assertLess(thin.thickness.mpas, usual.thickness.mpas)
        self.assertEqual(thin.film_um, 5)
        neat = card(in_hand("waterborne_colour", 0, 100, None, Method.BRUSH, None), "coat")
        self.assertEqual((neat.ratio, neat.map), ("as it comes", None))
        with self.assertRaises(NotThere):
            in_hand("porridge", 1, 100, None, None, None)

    def test_a_wide_side_is_not_sprayed_with_a_pencil(self) -> None:
        point = card(tug(), "gloss").best
        assert point
        self.assertGreater(point.width_mm, 9)

    def test_damp_and_cold_air_speak_up(self) -> None:
        damp = card(one("lacquer_colour", mix=mix("lacquer_colour", "hot_thinner", 1, 2)), "c", Setting(rh_pct=80))
        self.assertIn("moisture whitens it", damp.tonight[0])
        self.assertIn("stays clear", " ".join(damp.tonight))
        self.assertFalse(damp.tonight_ok)
        cold = card(one("waterborne_colour"), "c", Setting(temp_c=8))
        self.assertIn("may not fuse", cold.tonight[0])


class Recipes(unittest.TestCase):
    @given(st.floats(0.1, 20), st.floats(0.1, 20), st.floats(0.3, 30))
    @settings(max_examples=at_length(20, 80))
    def test_scaling_keeps_its_stated_error(self, a: float, b: float, ml: float) -> None:
        s = poured([a, b], [0.04, 0.025], need_ml=ml)
        share = s.ml[0] / sum(s.ml)
        wanted = a / (a + b)
        stated = s.error_pct / 100 + 0.001
        self.assertLessEqual(abs(share - wanted) / wanted, stated)
        self.assertLessEqual(abs((1 - share) - (1 - wanted)) / (1 - wanted), stated)

    @given(st.floats(0.01, 5), st.floats(0.01, 5), st.floats(0.1, 5), st.floats(0.1, 5))
    @settings(max_examples=at_length(20, 80))
    @example(4.125, 0.25, 3.875, 0.25)  # hardly any thinner: half a percent of the cup is much of the ratio
    def test_a_corrected_cup_has_the_ratio_and_nothing_is_taken_out(
        self, p: float, t: float, a: float, b: float
    ) -> None:
        c = corrected([p, t], [a, b])
        self.assertTrue(all(ml >= 0 for ml in c.adds))
        now = (p + c.adds[0]) / (t + c.adds[1])
        if not c.is_right:
            self.assertAlmostEqual(now / (a / b), 1.0, delta=1e-6)
        else:
            self.assertAlmostEqual(t / (p + t), b / (a + b), delta=0.0052)

    @given(st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
    @settings(max_examples=at_length(20, 80))
    def test_strong_and_weak_meet_the_target_or_refuse(self, weak: float, strong: float, target: float) -> None:
        try:
            x, y = combined(weak, strong, target)
        except Impossible:
            self.assertFalse(min(weak, strong) + 1e-9 <= target <= max(weak, strong) - 1e-9)
            return
        self.assertAlmostEqual(x + y, 1)
        if weak != strong:
            self.assertAlmostEqual(x * weak + y * strong, target, delta=1e-6)

    @given(st.sampled_from(["lacquer_colour", "alcohol_acrylic_clear", "enamel_colour", "waterborne_colour"]))
    @settings(max_examples=8)
    def test_thinner_never_thickens(self, material: str) -> None:
        thinner = {
            "lacquer_colour": "mild_thinner",
            "alcohol_acrylic_clear": "alcohol_acrylic_thinner",
            "enamel_colour": "white_spirit",
            "waterborne_colour": "water",
        }[material]
        last = float("inf")
        for parts in (0.1, 0.3, 0.6, 1.0, 2.0, 4.0, 8.0):
            step = parse_step(coat("x", material, mix=mix(material, thinner, 1, parts)))
            assert isinstance(step, CoatStep)
            now = thickness(K, K.coats[material], cup_of(K, step), 20).mpas
            self.assertLess(now, last, (material, parts))
            last = now

    def test_worked_recipes(self) -> None:
        self.assertAlmostEqual(cut_with_water(10, 0.99, 0.5), 9.8, places=6)
        self.assertAlmostEqual(drop_ml(72.7, 0.998), 0.05)
        self.assertTrue(0.018 < drop_ml(22.0, 0.785) < 0.03)  # alcohol from the same tip, common practice
        self.assertEqual(counted_drop_ml(25, 1), 0.04)
        self.assertEqual(true_size_mm(0.3, 35), 10.5)
        self.assertEqual(box_cm2(1, 2, 3), 22)
        self.assertAlmostEqual(cylinder_cm2(2, 5), 37.7, delta=0.01)
        # 30 × 8 × 6 m: deck 240 and sides 456 m²; over 72², three quarters.
        self.assertAlmostEqual(model_area_cm2(30, 8, 6, 72), 696e4 / 5184 * 0.75, places=6)

    def test_what_cannot_be_is_refused_in_words(self) -> None:
        for work in (
            lambda: cut_with_water(10, 0.5, 0.7), lambda: counted_drop_ml(0, 1),
            lambda: poured([1, 0], [1, 1], need_ml=1),
            lambda: corrected([0, 0], [1, 1]), lambda: corrected([1, 1], [1, 0]), lambda: model_area_cm2(0, 1, 1, 72),
            lambda: sections(100, 60, 30, 20, 10), lambda: combined(0.1, 0.2, 0.5),
        ):  # fmt: skip
            with self.assertRaises(Impossible) as told:
                work()
            self.assertGreater(len(str(told.exception)), 15)

    def test_a_wash_darkens_with_its_strength(self) -> None:
        rungs = {r.use: r for r in ladder(Wash(0.05, 0.35, 20.0, 0.95, 0.04, False), 0.022, 0.5)}
        self.assertGreater(rungs["deep lines"].darkness, rungs["fasteners"].darkness)
        self.assertGreater(rungs["fasteners"].darkness, rungs["grime"].darkness)

    def test_a_large_side_is_split_when_the_window_is_short(self) -> None:
        whole = sections(50, 5, 60, 25, 15)
        split = sections(2000, 5, 60, 25, 15)
        self.assertEqual(whole.sections, 1)
        self.assertGreater(split.sections, 1)
        self.assertAlmostEqual(split.sections * split.each_cm2, 2000, delta=1)
        # In each section the last-laid part is worked before it closes.
        lay, work = split.each_cm2 / 25, split.each_cm2 / 15
        self.assertLessEqual(max(lay, 5) + work, lay + 60 + 1e-6)

    def test_the_trades_words_go_both_ways(self) -> None:
        for word in ("skim milk", "milk", "cream", "yoghurt"):
            low, high = figure_of(word)
            self.assertEqual(like((low + high) / 2), word)
        with self.assertRaises(OutOfRange):
            figure_of("porridge")


class Practice(unittest.TestCase):
    """Common practice: an airbrush lands 0.3 to 0.6 of its paint, a can less, a brush nearly all."""

    def landed(self, material: str, method: str) -> float:
        c = cup(card(one(material, method=method), "c"))
        return c.landed_ml / (c.landed_ml + c.lost_ml)

    def test_what_lands_by_method(self) -> None:
        sprayed = self.landed("lacquer_colour", "spray")
        self.assertTrue(0.3 <= sprayed <= 0.6, sprayed)
        self.assertAlmostEqual(self.landed("enamel_colour", "brush"), 0.95, delta=0.03)
        self.assertLess(transfer_of(Method.CAN), sprayed)
        self.assertGreaterEqual(transfer_of(Method.CAN), 0.1)

    def test_a_thinner_named_for_tonight_really_helps_and_none_is_named_where_none_does(self) -> None:
        named = 0
        for rh in (62, 68, 74, 80, 90, 98):
            for material in ("lacquer_clear", "lacquer_colour", "alcohol_acrylic_clear"):
                plan = one(material, mix=mix(material, "hot_thinner"))
                told = card(plan, "c", Setting(rh_pct=rh))
                for thinner in K.thinners.values():
                    if not told.tonight_ok and thinner.name.lower() in " ".join(told.tonight).lower():
                        slow = card(one(material, mix=mix(material, thinner.id)), "c", Setting(rh_pct=rh))
                        self.assertTrue(slow.tonight_ok, (material, rh, thinner.name, slow.tonight))
                        named += 1
        self.assertGreater(named, 0)
        self.assertFalse(
            card(one("lacquer_clear", mix=mix("lacquer_clear", "hot_thinner")), "c", Setting(rh_pct=99)).tonight_ok
        )

    @settings(max_examples=at_length(20, 80))
    @given(st.floats(0.3, 20), st.integers(1, 9), st.integers(1, 9))
    def test_a_cup_that_was_asked_for_is_not_overfilled(self, ml: float, paint: int, thinner: int) -> None:
        plan = one("lacquer_colour", method="spray", mix=mix("lacquer_colour", "mild_thinner", paint, thinner))
        c = cup(card(plan, "c", Setting(total_ml=ml)))
        self.assertLessEqual(c.total_ml, ml + 0.06, "by a drop at most")
