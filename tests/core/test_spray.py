"""Properties of the map: what more air, distance, heat, height and a slower hand do; knobs that keep their promise."""

import math
import unittest
from dataclasses import replace

import numpy as np
from emvar_core.errors import OutOfRange
from emvar_core.knowledge import knowledge
from emvar_core.physics.cup import cup_of
from emvar_core.physics.spray import (
    ZONES,
    Gun,
    Hand,
    Paint,
    SprayZone,
    air_flow,
    at_point,
    best_setting,
    laying,
    liquid_ml_min,
    nearest,
    one_knob,
    paint_of,
)
from emvar_core.physics.viscosity import crowding, measured, thickness
from emvar_core.plan import Air, CoatStep, parse_step
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat
from tests.lengths import at_length

K = knowledge()
ROOM = Air(temp_c=20, rh_pct=50)
GOOD = SprayZone.GOOD


def paint(material: str) -> Paint:
    step = parse_step(coat("x", material))
    assert isinstance(step, CoatStep)
    cup = cup_of(K, step)
    return paint_of(K, K.coats[material], cup, thickness(K, K.coats[material], cup, 20))


PAINTS = {m: paint(m) for m in ("lacquer_primer", "alcohol_acrylic_colour", "waterborne_colour", "enamel_colour")}
NAMES = st.sampled_from(sorted(PAINTS))
PRESSURE, DISTANCE = st.floats(25, 270), st.floats(12, 290)


class Trends(unittest.TestCase):
    @given(NAMES, PRESSURE, DISTANCE)
    @settings(max_examples=at_length(15, 60))
    def test_farther_is_wider_drier_and_thinner(self, name: str, kpa: float, mm: float) -> None:
        near = at_point(K, PAINTS[name], Gun(), Hand(), ROOM, kpa, mm)
        far = at_point(K, PAINTS[name], Gun(), Hand(), ROOM, kpa, mm * 1.3)
        self.assertGreater(far.width_mm, near.width_mm)
        self.assertGreaterEqual(far.loss, near.loss)
        self.assertLess(far.film_um, near.film_um)
        self.assertLess(far.dry_um, near.dry_um)
        self.assertEqual(far.drop_um, near.drop_um)

    @given(NAMES, PRESSURE, DISTANCE)
    @settings(max_examples=at_length(15, 60))
    def test_everything_stays_in_bounds(self, name: str, kpa: float, mm: float) -> None:
        p = at_point(K, PAINTS[name], Gun(), Hand(), ROOM, kpa, mm)
        self.assertTrue(0 <= p.loss < 1)
        self.assertTrue(2 < p.drop_um < 500, p.drop_um)
        self.assertLessEqual(p.dry_um, p.film_um)
        for figure in (p.drop_um, p.loss, p.film_um, p.dry_um, p.width_mm, p.flow_ml_min):
            self.assertTrue(math.isfinite(figure))

    @given(NAMES, PRESSURE, DISTANCE, st.floats(0, 30))
    @settings(max_examples=at_length(10, 40))
    def test_warm_air_dries_more_in_flight(self, name: str, kpa: float, mm: float, temp: float) -> None:
        cool = at_point(K, PAINTS[name], Gun(), Hand(), Air(temp_c=temp, rh_pct=50), kpa, mm)
        warm = at_point(K, PAINTS[name], Gun(), Hand(), Air(temp_c=temp + 10, rh_pct=50), kpa, mm)
        self.assertGreaterEqual(warm.loss, cool.loss * 0.98)

    def test_damp_air_keeps_water_in_and_does_nothing_to_spirit(self) -> None:
        for name, moves in (("waterborne_colour", True), ("enamel_colour", False)):
            dry, damp = (
                at_point(K, PAINTS[name], Gun(), Hand(), Air(temp_c=20, rh_pct=rh), 100, 150).loss for rh in (20, 85)
            )
            self.assertEqual(damp < dry * 0.9, moves, name)

    def test_more_pressure_finer_drops_until_the_cap_is_choked(self) -> None:
        p = PAINTS["alcohol_acrylic_colour"]
        drops = [at_point(K, p, Gun(), Hand(), ROOM, kpa, 100).drop_um for kpa in (30, 50, 70, 90)]
        self.assertEqual(drops, sorted(drops, reverse=True))
        _, speed = air_flow(np.array([95.0, 150.0, 250.0]), 0.4)
        self.assertLess(float(np.ptp(speed)), 0.01)

    def test_up_a_mountain_it_chokes_at_less_on_the_gauge(self) -> None:
        def rises(altitude_m: float) -> float:
            slow, fast = air_flow(np.array([80.0, 140.0]), 0.4, altitude_m=altitude_m)[1]
            return float(fast - slow)

        self.assertGreater(rises(0), 3)
        self.assertLess(rises(1500), 0.1)

    @given(NAMES, PRESSURE, DISTANCE, st.floats(20, 200))
    @settings(max_examples=at_length(10, 40))
    def test_a_slower_hand_lays_as_much_more_as_it_is_slower(self, name: str, kpa: float, mm: float, v: float) -> None:
        one = at_point(K, PAINTS[name], Gun(), Hand(v), ROOM, kpa, mm)
        half = at_point(K, PAINTS[name], Gun(), Hand(v / 2), ROOM, kpa, mm)
        self.assertAlmostEqual(half.film_um / one.film_um, 2, delta=1e-6)

    def test_thick_paint_flows_less_and_a_timed_cup_wins(self) -> None:
        flows = [float(liquid_ml_min(Gun(), mpas, 100)) for mpas in (1, 5, 20, 80)]
        self.assertEqual(flows, sorted(flows, reverse=True))
        timed = Gun(flow_ml_min=3.3, trigger=1.0)
        self.assertEqual(float(liquid_ml_min(timed, 80, 100)), 3.3)

    def test_crowding_rises_and_stays_finite(self) -> None:
        self.assertEqual(crowding(0), 1)
        self.assertAlmostEqual(crowding(0.01), 1 + 2.5 * 0.01, delta=0.001)  # Einstein's dilute limit
        values = [crowding(x / 50) for x in range(60)]
        self.assertEqual(values, sorted(values))
        self.assertTrue(math.isfinite(values[-1]))

    def test_a_measured_figure_has_a_narrow_range(self) -> None:
        t = measured(12.0, 1.1)
        self.assertEqual((t.basis, round(t.mm2_s, 2)), ("measured", 10.91))
        self.assertLess(t.high_mpas / t.low_mpas, 1.3)


class Choice(unittest.TestCase):
    def test_the_recommended_point_is_good_and_so_is_all_of_its_tolerance(self) -> None:
        for name, p in PAINTS.items():
            found = best_setting(K, p, Gun(), Hand(), ROOM)
            assert found is not None, name
            best, gun, hand = found.point, Gun(trigger=found.trigger), found.hand
            self.assertIs(best.zone, SprayZone.GOOD)
            for kpa in np.linspace(*best.pressure_range_kpa, 5):
                self.assertIs(at_point(K, p, gun, hand, ROOM, float(kpa), best.distance_mm).zone, SprayZone.GOOD, name)
            for mm in np.linspace(*best.distance_range_mm, 5):
                self.assertIs(at_point(K, p, gun, hand, ROOM, best.pressure_kpa, float(mm)).zone, SprayZone.GOOD, name)

    def test_it_stays_within_what_the_compressor_reaches(self) -> None:
        for most in (60, 90, 150):
            found = best_setting(K, PAINTS["enamel_colour"], Gun(), Hand(), ROOM, most)
            assert found is not None
            self.assertLessEqual(found.point.pressure_kpa, most)
        self.assertIsNone(best_setting(K, replace(PAINTS["enamel_colour"], mpas=4000), Gun(), Hand(), ROOM))

    def test_a_knob_that_is_named_leads_to_good(self) -> None:
        p = PAINTS["lacquer_primer"]
        for kpa, mm in ((120.0, 280.0), (200.0, 30.0)):
            self.assertIsNot(at_point(K, p, Gun(), Hand(), ROOM, kpa, mm).zone, SprayZone.GOOD)
            told = dict(one_knob(K, p, Gun(), Hand(), ROOM, kpa, mm))
            self.assertIn("distance", told)
            cm = float(told["distance"].split()[2])
            self.assertIs(at_point(K, p, Gun(), Hand(), ROOM, kpa, cm * 10).zone, SprayZone.GOOD, told)

    def test_coats_add_up_to_the_film_and_wait_for_the_carrier(self) -> None:
        for name, p in PAINTS.items():
            found = best_setting(K, p, Gun(), Hand(), ROOM)
            assert found is not None
            point, hand = found.point, found.hand
            for um in (4.0, 12.0, 30.0):
                lay = laying(K, p, point, hand, ROOM, um, 100)
                self.assertAlmostEqual(lay.coats * lay.dry_per_coat_um, um, places=6, msg=name)
                self.assertGreaterEqual(laying(K, p, point, hand, ROOM, um, 100, planned=4).coats, max(lay.coats, 4))
                self.assertTrue(0.5 <= lay.pause_min <= 60)
            damp = laying(K, p, point, hand, Air(temp_c=20, rh_pct=90), 12.0, 100).pause_min
            self.assertGreaterEqual(damp, laying(K, p, point, hand, ROOM, 12.0, 100).pause_min)

    def test_for_the_one_pressure_that_there_is_the_distance_is_sought(self) -> None:
        p = PAINTS["alcohol_acrylic_colour"]
        for kpa in (60.0, 160.0, 240.0):
            found = best_setting(K, p, Gun(0.5, 0.6), Hand(), ROOM, pressures_kpa=np.array([kpa]))
            assert found is not None
            self.assertAlmostEqual(found.point.pressure_kpa, kpa, places=9)
            gun = Gun(0.5, found.trigger)
            self.assertIs(at_point(K, p, gun, found.hand, ROOM, kpa, found.point.distance_mm).zone, SprayZone.GOOD)

    def test_absurd_guns_are_refused_by_name(self) -> None:
        p = PAINTS["enamel_colour"]
        for gun, hand, word in (
            (Gun(trigger=0), Hand(), "trigger"), (Gun(0.05), Hand(), "nozzle_mm"), (Gun(), Hand(0), "speed_mm_s"),
        ):  # fmt: skip
            with self.assertRaisesRegex(OutOfRange, word):
                at_point(K, p, gun, hand, ROOM, 100, 100)
        self.assertAlmostEqual(nearest({0.2: 1.0, 0.4: 3.0}, 0.3), 2.0)
        self.assertEqual(len(ZONES), 5)
