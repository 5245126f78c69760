"""The cup: drops, volumes, what lands."""

from unittest import TestCase

from emvar_core.knowledge import knowledge
from emvar_core.physics.cup import cup_for_area, cup_of, part_ml
from emvar_core.plan import CoatStep, MixPart, parse_step
from emvar_core.vocabulary import Role, Unit

from tests.builders import coat, mix

K = knowledge()


def step(**fields: object) -> CoatStep:
    made = parse_step(coat("a", "lacquer_colour", **fields))  # type: ignore[arg-type]
    assert isinstance(made, CoatStep)
    return made


class Cups(TestCase):
    def test_solids_and_volume_are_conserved(self) -> None:
        cup = cup_of(K, step(mix=mix("lacquer_colour", "mild_thinner", 1, 3)))
        self.assertAlmostEqual(cup.volume_solids, K.coats["lacquer_colour"].volume_solids / 4)
        self.assertAlmostEqual(sum(share for _, share in cup.carrier.parts), 1, places=5)
        self.assertAlmostEqual(cup.thinner_share, 0.75)

    def test_a_cup_poured_out_has_the_ratio_it_says(self) -> None:
        made = step(mix=mix("lacquer_colour", "mild_thinner", 1, 2))
        cup = cup_for_area(K, made, 14, 100, 1)
        ml = {p.material: p.ml for p in cup.pours}
        self.assertAlmostEqual(
            ml["mild_thinner"] / ml["lacquer_colour"], 2, delta=2 * 2 * cup.ratio_error_pct / 100 + 0.01
        )

    def test_double_the_area_takes_about_double_the_paint(self) -> None:
        made = step(mix=mix("lacquer_colour", "mild_thinner", 1, 2))
        one, two = (c.total_ml * c.cups for c in (cup_for_area(K, made, 14, area, 1) for area in (100, 200)))
        self.assertTrue(1.7 < two / one < 2.3)

    def test_grams_count_by_density(self) -> None:
        part = step(mix=mix("lacquer_colour", "white_spirit", 10, 10, "g")).mix.parts[1]  # type: ignore[union-attr]
        density = 0.85 * K.solvents["decane"].density_g_ml + 0.15 * K.solvents["trimethylbenzene"].density_g_ml
        self.assertAlmostEqual(part_ml(K, part, part.material), 10 / density, places=6)


class DropSizes(TestCase):
    def test_a_part_in_drops_has_the_size_of_its_own_liquid_s_drops(self) -> None:
        paint, spirit = K.coats["enamel_colour"], K.thinners["white_spirit"]
        for material, size in ((paint.id, paint.drop_ml), (spirit.id, spirit.drop_ml)):
            part = MixPart(material=material, role=Role.PAINT, amount=10, unit=Unit.DROPS)
            self.assertAlmostEqual(part_ml(K, part, paint.id), 10 * size)
        self.assertNotAlmostEqual(paint.drop_ml, spirit.drop_ml)

    def test_the_same_number_of_drops_is_not_the_same_volume_in_the_cup(self) -> None:
        """Ten drops of paint of 0.04 mL to ten of spirit of 0.022 mL: 35 % thinner by volume, not half."""
        drops = mix("enamel_colour", "white_spirit", 10, 10, unit="drops")
        made = parse_step(coat("a", "enamel_colour", mix=drops))
        assert isinstance(made, CoatStep)
        paint, spirit = K.coats["enamel_colour"].drop_ml, K.thinners["white_spirit"].drop_ml
        self.assertAlmostEqual(cup_of(K, made).thinner_share, spirit / (paint + spirit), places=6)
