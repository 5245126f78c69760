"""The materials' data holds together: whoever adds one learns at once what is missing."""

from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.knowledge import knowledge
from emvar_core.physics.cup import cup_of
from emvar_core.plan import OwnThinner, default_mix, parse_step, with_own
from emvar_core.vocabulary import FilmClass

from tests.builders import coat, plan

K = knowledge()
NEEDED = [
    "polystyrene",
    "abs",
    "resin",
    "hot_thinner",
    "mild_thinner",
    "white_spirit",
    "odourless_spirit",
    "isopropanol",
    "water",
    "lacquer_primer",
    "lacquer_colour",
    "alcohol_acrylic_colour",
    "waterborne_colour",
    "enamel_colour",
    "enamel_wash",
    "artists_oil",
    "lacquer_clear",
    "alcohol_acrylic_clear",
    "waterborne_clear",
    "enamel_clear",
    "hairspray",
    "decal",
    "decal_softener_mild",
    "decal_softener_strong",
    "dry_pigment",
]


class Data(TestCase):
    def test_what_the_first_slice_needs_is_there(self) -> None:
        self.assertEqual([m for m in NEEDED if m not in K.ids], [])

    def test_clears_come_in_three_sheens(self) -> None:
        for c in K.coats.values():
            if c.use == "clear" and c.id != "urethane_alkyd_clear":  # that one is glass-hard and glossy only
                self.assertEqual({s.value for s in c.sheens}, {"gloss", "satin", "matt"}, c.id)

    def test_ranges_run_from_early_to_late_and_events_in_order(self) -> None:
        for s in K.systems.values():
            for low, high in (s.touch, s.recoat, s.tape, s.spirit, s.hard):
                self.assertLessEqual(low, high, s.id)
            self.assertLessEqual(s.touch[0], s.recoat[0], s.id)
            if s.film is not FilmClass.LOOSE:
                self.assertLessEqual(s.spirit[0], s.hard[1], s.id)

    def test_windows_open_before_they_close(self) -> None:
        for s in K.systems.values():
            for w in s.windows.values():
                self.assertEqual(list(w.opens), sorted(w.opens))
                self.assertEqual(list(w.closes), sorted(w.closes))
                self.assertLess(w.opens[1], w.closes[1])

    def test_every_solvent_has_a_source_and_sane_figures(self) -> None:
        for s in K.solvents.values():
            self.assertTrue(s.source and s.cas, s.id)
            self.assertTrue(0.6 < s.density_g_ml < 1.2, s.id)
            self.assertTrue(1e-6 < s.d_air_m2_s < 5e-5, s.id)
            self.assertTrue(100 < s.heat_j_g < 3000, s.id)
            self.assertGreater(s.psat_pa(40), s.psat_pa(20))

    def test_every_usual_mix_makes_a_cup(self) -> None:
        for material in K.coats:
            step = parse_step(coat("a", material))
            cup = cup_of(K, step)  # type: ignore[arg-type]
            self.assertTrue(0 < cup.volume_solids <= 1, material)
            mix = default_mix(K, material)
            if mix is not None:
                self.assertEqual(mix.parts[0].material, material)

    def test_own_thinners_are_added_and_told_apart(self) -> None:
        mine = with_own(K, [OwnThinner(id="mine", name="Mine", percent={"acetone": 100})])
        other = with_own(K, [OwnThinner(id="mine", name="Mine", percent={"water": 100})])
        self.assertIn("mine", mine.thinners)
        self.assertNotIn("mine", K.thinners)
        self.assertNotEqual(mine.signature, other.signature)
        self.assertIs(with_own(K, []), K)


class Notes(TestCase):
    def notes(self, **step: object) -> str:
        made = coat("a", str(step.pop("material")), **step)
        return " ".join(n.text for n in assess(plan([made])).notes)

    def test_sprayed_coats_ask_for_extraction_and_a_mask_water_borne_included(self) -> None:
        self.assertIn("extraction", self.notes(material="waterborne_colour"))
        self.assertIn("extraction", self.notes(material="lacquer_colour"))

    def test_flammable_carriers_say_so_and_water_does_not(self) -> None:
        self.assertIn("no flame", self.notes(material="lacquer_colour"))
        self.assertNotIn("no flame", self.notes(material="waterborne_colour"))

    def test_oily_rags_heat_themselves(self) -> None:
        self.assertIn("Rags", self.notes(material="artists_oil"))

    def test_pigment_dust_asks_for_a_mask(self) -> None:
        self.assertIn("mask", self.notes(material="dry_pigment"))

    def test_heat_is_limited(self) -> None:
        hot = [{"kind": "warm_air", "duration_min": 20, "temp_c": 60}]
        self.assertIn("40–45 °C", self.notes(material="enamel_colour", aids=hot))

    def test_cautions_defer_and_never_permit(self) -> None:
        for material in K.coats:
            text = self.notes(material=material)
            self.assertNotIn("is safe to", text)
            if text:
                self.assertIn("data sheet", text)

    def test_thinning_past_the_limit_of_a_water_borne_paint(self) -> None:
        parts = [
            {"material": "waterborne_colour", "role": "paint", "amount": 1},
            {"material": "water", "role": "thinner", "amount": 2},
        ]

        def said() -> list[str]:
            made = coat("a", "waterborne_colour", mix={"parts": parts})
            return [r.sentence for r in assess(plan([made])).remarks if r.code == "water"]

        self.assertIn("past the 50%", said()[0])
        parts[1]["amount"] = 0.8
        self.assertEqual(said(), [])
