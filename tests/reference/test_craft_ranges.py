"""The recommended point against twenty-two ranges of the craft (common practice), half of them never tuned on.

Written down before the weights were set; `TUNED` are the ten that they were set by. The rest are only told.
"""

import math
from unittest import TestCase

from emvar_core.knowledge import knowledge
from emvar_core.physics.blend import Blend
from emvar_core.physics.cup import cup_of
from emvar_core.physics.flight import water_rates
from emvar_core.physics.spray import Best, Gun, Hand, Paint, best_setting, field, mean_drop_um, paint_of
from emvar_core.physics.viscosity import thickness
from emvar_core.plan import Air, CoatStep, parse_step
from emvar_core.vocabulary import Purpose, SprayZone
from numpy import array

from tests.builders import coat, mix
from tests.lengths import at_length

K = knowledge()
ROOM = Air(temp_c=20, rh_pct=50)
SIDE, SMALL = "side", "small"
AAC, AAT = "alcohol_acrylic_colour", "alcohol_acrylic_thinner"
# What, the mix (paint, thinner, parts), nozzle mm, external mix, what for, on what, bar from to, cm from to.
Mixed, Span = tuple[str, str | None, float, float], tuple[float, float]
Range = tuple[str, Mixed, float, bool, str, str, Span, Span]
TUNED: list[Range] = [
    ("gloss 1:1", ("alcohol_acrylic_clear", AAT, 1, 1), 0.5, False, "gloss", SIDE, (0.7, 1), (4, 12)),
    ("lacquer primer", ("lacquer_primer", "mild_thinner", 1, 2), 0.4, False, "even", SIDE, (1, 1.4), (8, 15)),
    ("lacquer lines", ("lacquer_colour", "mild_thinner", 1, 2), 0.2, False, "line", SMALL, (0.5, 0.8), (1, 3)),
    ("craft acrylic", ("craft_acrylic", "isopropanol_50", 1, 1.5), 0.5, True, "even", SIDE, (1.5, 2.2), (10, 20)),
    ("alcohol acrylic", (AAC, AAT, 1, 1.5), 0.3, False, "even", SIDE, (0.8, 1.3), (6, 12)),
    ("water-borne", ("waterborne_colour", "water_flow", 1, 1), 0.3, False, "even", SIDE, (0.9, 1.5), (5, 12)),
    ("pre-shade", ("lacquer_colour", "mild_thinner", 1, 2), 0.3, False, "preshade", SIDE, (0.6, 1), (2.5, 6)),
    ("dust 1:9", (AAC, AAT, 1, 9), 0.3, False, "dust", SIDE, (0.6, 1.1), (10, 20)),
    ("enamel 1:1", ("enamel_colour", "white_spirit", 1, 1), 0.4, False, "even", SIDE, (0.9, 1.6), (6, 15)),
    ("mottle", ("lacquer_colour", "mild_thinner", 1, 3), 0.2, False, "mottle", SMALL, (0.5, 0.9), (2, 5)),
]  # fmt: skip
UNSEEN: list[Range] = [
    ("lacquer 1:2", ("lacquer_colour", "mild_thinner", 1, 2), 0.3, False, "even", SIDE, (0.8, 1.3), (6, 12)),
    ("metallic", ("metallic_lacquer", None, 1, 0), 0.3, False, "even", SIDE, (0.7, 1.3), (6, 15)),
    ("enamel gloss", ("enamel_clear", "white_spirit", 1, 1), 0.5, False, "gloss", SIDE, (0.7, 1.4), (4, 12)),
    ("two-pack clear", ("two_pack_clear", "urethane_thinner", 2, 1), 0.5, False, "gloss", SIDE, (0.8, 1.6), (5, 15)),
    ("acrylic primer", ("pu_acrylic_primer", None, 1, 0), 0.5, False, "even", SIDE, (1, 2), (6, 15)),
    ("water-borne gloss", ("waterborne_clear", None, 1, 0), 0.4, False, "gloss", SIDE, (0.7, 1.4), (4, 12)),
    ("water-borne lines", ("waterborne_colour", "water_flow", 1, 2), 0.2, False, "line", SMALL, (0.6, 1.1), (0.8, 3)),
    ("water-borne dust", ("waterborne_colour", "water_flow", 1, 9), 0.3, False, "dust", SIDE, (0.6, 1.2), (8, 20)),
    ("alcohol lines", (AAC, AAT, 1, 2), 0.2, False, "line", SMALL, (0.5, 0.9), (1, 3)),
    ("lacquer clear", ("lacquer_clear", "mild_thinner", 1, 1.5), 0.4, False, "even", SIDE, (0.8, 1.4), (6, 15)),
    ("enamel primer", ("enamel_primer", "white_spirit", 2, 1), 0.4, False, "even", SIDE, (0.9, 1.6), (6, 15)),
    ("alcohol mottle", (AAC, AAT, 1, 2), 0.3, False, "mottle", SMALL, (0.5, 1), (2, 5)),
]  # fmt: skip


def paint(material: str, thinner: str | None = None, a: float = 1, b: float = 1) -> Paint:
    neat = {"parts": [{"material": material, "role": "paint", "amount": 1, "unit": "parts"}]}
    step = parse_step(coat("x", material, mix=mix(material, thinner, a, b) if thinner else neat))
    assert isinstance(step, CoatStep)
    cup = cup_of(K, step)
    return paint_of(K, K.coats[material], cup, thickness(K, K.coats[material], cup, 20))


def best_of(r: Range, air: Air = ROOM) -> Best | None:
    _, mixed, nozzle, external, purpose, part, _, _ = r
    gun = Gun(nozzle, external_mix=external)
    return best_setting(K, paint(*mixed), gun, Hand(part=part, purpose=Purpose(purpose)), air)


def outside(ranges: list[Range]) -> dict[str, str]:
    told = {}
    for r in ranges:
        found = best_of(r)
        if found is None:
            told[r[0]] = "nothing is good"
            continue
        bar, cm = found.point.pressure_kpa / 100, found.point.distance_mm / 10
        if not (r[6][0] <= bar <= r[6][1] and r[7][0] <= cm <= r[7][1]):
            told[r[0]] = f"{bar:.2f} bar of {r[6]}, {cm:.1f} cm of {r[7]}"
    return told


class CraftRanges(TestCase):
    def test_those_that_it_was_tuned_on(self) -> None:
        self.assertLessEqual(len(outside(TUNED)), 1, outside(TUNED))

    def test_those_that_it_was_never_tuned_on(self) -> None:
        self.assertLessEqual(len(outside(UNSEEN)), 2, outside(UNSEEN))

    def test_pressures_differ_by_what_is_sprayed(self) -> None:
        # It was one figure for nearly all before: 0.90 to 1.15 bar in 83 of 100 cases.
        found = [b.point.pressure_kpa for r in TUNED + UNSEEN if (b := best_of(r)) is not None]
        usual = sum(90 <= kpa <= 115 for kpa in found)
        self.assertLess(usual / len(found), 0.5)
        self.assertGreater(max(found) / min(found), 2.5)

    def test_a_line_of_two_millimetres_is_sprayed_close_with_the_trigger_hardly_open(self) -> None:
        for r in (TUNED[2], UNSEEN[8]):
            found = best_of(r)
            assert found is not None
            self.assertLess(found.point.width_mm, 3.2)
            self.assertLess(found.trigger, 0.2)
            self.assertLess(found.point.distance_mm, 30)
        wide = best_setting(K, paint(*TUNED[2][1]), Gun(0.2), Hand(purpose=Purpose.LINE, width_mm=4.0), ROOM)
        narrow = best_setting(K, paint(*TUNED[2][1]), Gun(0.2), Hand(purpose=Purpose.LINE, width_mm=1.5), ROOM)
        assert wide is not None and narrow is not None
        self.assertGreater(wide.point.width_mm, narrow.point.width_mm * 1.4)


class Steady(TestCase):
    def test_the_point_moves_with_the_air_and_never_jumps(self) -> None:
        mixes = (TUNED[0][1], TUNED[2][1], TUNED[5][1], ("lacquer_colour", "hot_thinner", 1, 2))
        # It leapt from 157 to 238 mm and back within four per cent of humidity.
        for mixed in at_length(mixes[2:], mixes):
            p = paint(*mixed)
            for purpose in Purpose:
                for airs in (
                    [Air(temp_c=20, rh_pct=rh) for rh in range(*at_length((45, 50), (38, 58)))],
                    [Air(temp_c=t / 2, rh_pct=50) for t in range(*at_length((49, 52), (44, 60)))],
                ):
                    found = [best_setting(K, p, Gun(0.3), Hand(purpose=purpose), air) for air in airs]
                    for a, b in zip(found, found[1:], strict=False):
                        if a is None or b is None:
                            continue
                        for one, two in (
                            (a.point.pressure_kpa, b.point.pressure_kpa),
                            (a.point.distance_mm, b.point.distance_mm),
                        ):
                            self.assertLess(abs(math.log(one / two)), 0.04, (mixed, purpose))

    def test_it_never_sits_on_the_edge_of_runs_of_dust_or_of_spatter(self) -> None:
        for r in TUNED + UNSEEN:
            for air in (ROOM, Air(temp_c=30, rh_pct=35), Air(temp_c=15, rh_pct=70)):
                found = best_of(r, air)
                if found is None:
                    continue
                for kpa, mm in ((0.93, 1.0), (1.07, 1.0), (1.0, 0.93), (1.0, 1.07)):
                    f = field(
                        K, paint(*r[1]), Gun(r[2], found.trigger, r[3]), found.hand, air,
                        array([found.point.pressure_kpa * kpa]), array([found.point.distance_mm * mm]),
                    )  # fmt: skip
                    zone = list(SprayZone)[int(f.zone[0, 0])]
                    self.assertIn(zone, (SprayZone.GOOD, SprayZone.WET), (r[0], air, kpa, mm))

    def test_dust_that_is_far_thinned_lands_drier_than_an_even_coat_and_is_wider(self) -> None:
        for mixed in (TUNED[7][1], UNSEEN[7][1]):
            dust, even = (
                best_setting(K, paint(*mixed), Gun(0.3), Hand(purpose=p), ROOM) for p in (Purpose.DUST, Purpose.EVEN)
            )
            assert dust is not None and even is not None
            self.assertGreater(dust.point.loss, even.point.loss)
            self.assertGreater(dust.point.width_mm, even.point.width_mm)
            self.assertLess(dust.point.film_um, even.point.film_um)

    def test_grit_comes_for_water_borne_and_enamel_too_from_some_fifteen_to_twenty_centimetres(self) -> None:
        for mixed in (TUNED[5][1], TUNED[8][1]):
            p = paint(*mixed)
            zones = [
                list(SprayZone)[int(field(K, p, Gun(0.3), Hand(120), ROOM, array([120.0]), array([mm])).zone[0, 0])]
                for mm in (100.0, 120.0, 260.0)
            ]
            self.assertEqual(zones, [SprayZone.GOOD, SprayZone.GOOD, SprayZone.DRY], mixed)


class AlcoholInADispersion(TestCase):
    """Craft acrylic thinned with half-strength isopropanol: that the alcohol flies off makes no grit."""

    CRAFT: Mixed = ("craft_acrylic", "isopropanol_50", 1, 1.5)

    def test_it_is_sprayed_at_the_pressure_and_from_where_people_do(self) -> None:
        # Higher pressure than other paints of that needle, 8 to 12 cm (common practice). It was 0.7 bar from 5.6 cm.
        for nozzle in (0.3, 0.5):
            found = best_setting(K, paint(*self.CRAFT), Gun(nozzle), Hand(), ROOM)
            assert found is not None
            self.assertGreater(found.point.pressure_kpa, 105, nozzle)
            self.assertTrue(80 <= found.point.distance_mm <= 120, nozzle)

    def test_it_is_grit_from_afar_all_the_same(self) -> None:
        zones = [
            list(SprayZone)[int(field(K, paint(*self.CRAFT), Gun(0.3), Hand(120), ROOM, array([120.0]), array([mm]))
                                .zone[0, 0])]
            for mm in (120.0, 260.0)
        ]  # fmt: skip
        self.assertEqual(zones, [SprayZone.GOOD, SprayZone.DRY])

    def test_the_water_s_loss_against_small_steps_in_time(self) -> None:
        rates = water_rates(K, paint(*self.CRAFT).carrier, 15.0, ROOM)
        assert rates is not None
        self.assertGreater(rates.later, rates.first)  # the alcohol chills the drop and keeps the water back
        water, fast, step = 1.0, 1.0, 5e5
        for n in range(1, 601):
            water -= water * (rates.later + (rates.first - rates.later) * fast) * step
            fast -= fast * rates.faster * step
            if n % 100 == 0:
                self.assertAlmostEqual(float(rates.lost(array(n * step))), 1 - water, delta=0.01)
        self.assertGreater(1 - water, 0.05)

    def test_plain_water_leaves_at_one_rate(self) -> None:
        rates = water_rates(K, Blend.of({"water": 1}), 15.0, ROOM)
        assert rates is not None
        self.assertEqual(rates.first, rates.later)
        self.assertIsNone(water_rates(K, Blend.of({"acetone": 1}), 15.0, ROOM))


class Drops(TestCase):
    def test_the_drop_by_hand(self) -> None:
        # Rizk and Lefebvre (1984), in Lefebvre & McDonell, Atomization and Sprays (from memory), by hand for water in a
        # jet of 0.5 mm, air of 1.2 kg/m³ at 100 m/s, five times its mass: 0.48·(0.0728/(1.2·10⁴·5e-4))^0.4·1.2^0.4
        # = 0.48·0.1711·1.0757 = 0.08834; 0.15·√(1e-6/(0.0728·998·5e-4))·1.2 = 0.00094; times 500 µm: 44.6 µm.
        self.assertAlmostEqual(float(mean_drop_um(0.5, 100.0, 1.2, 72.8, 0.998, 1.0, 5.0)), 44.6, delta=0.3)

    def test_a_finer_needle_and_thinner_paint_make_finer_drops(self) -> None:
        coarse = float(mean_drop_um(0.5, 250.0, 1.2, 30.0, 1.0, 10.0, 10.0))
        self.assertLess(float(mean_drop_um(0.2, 250.0, 1.2, 30.0, 1.0, 10.0, 10.0)), coarse)
        self.assertLess(float(mean_drop_um(0.5, 250.0, 1.2, 30.0, 1.0, 3.0, 10.0)), coarse)
