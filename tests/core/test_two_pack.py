"""Two-pack: the hardener is in the cup by its ratio, weighed, and the cup is used up in time. Common practice."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import Remark
from emvar_core.knowledge import knowledge
from emvar_core.mix_and_spray.card import card
from emvar_core.physics.cup import Fill, cup_for_area, cup_of
from emvar_core.plan import CoatStep
from emvar_core.ways.substitutes import substitutes
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import coat, plan

K = knowledge()
CLEAR = "two_pack_clear"


def of(paint: float, hardener: float, thinner: float = 0.0, unit: str = "parts") -> dict[str, Any]:
    rows = [
        (CLEAR, "paint", paint),
        ("urethane_hardener", "hardener", hardener),
        ("urethane_thinner", "thinner", thinner),
    ]
    return {"parts": [{"material": m, "role": r, "amount": a, "unit": unit} for m, r, a in rows if a]}


def said(code: str, *, temp_c: float = 20, **step: Any) -> Remark | None:
    made = plan([coat("clear", CLEAR, **step)], air={"day": {"temp_c": temp_c, "rh_pct": 50, "movement": "still"}})
    return next((r for r in assess(made).remarks if r.code == code), None)


class Hardener(TestCase):
    def test_the_usual_mix_has_it_and_nothing_is_said(self) -> None:
        self.assertIsNone(said("hardener"))
        self.assertIsNone(said("pot_life"))

    def test_without_it_the_coat_is_a_clash(self) -> None:
        found = said("hardener", mix=of(2, 0, 1))
        assert found is not None
        self.assertEqual((found.verdict.value, found.word), ("clash", "no hardener"))

    def test_five_per_cent_is_borne_more_is_not(self) -> None:
        for hardener, verdict in ((1.0, None), (1.05, None), (0.95, None), (1.06, "caution"), (0.9, "caution"),
                                  (1.2, "clash"), (0.8, "clash")):  # fmt: skip
            found = said("hardener", mix=of(2, hardener, 0.5))
            self.assertEqual(found and found.verdict.value, verdict, hardener)

    def test_drops_in_a_small_cup_are_refused(self) -> None:
        for paint, verdict in ((10, "clash"), (20, "caution"), (40, None)):
            found = said("hardener", mix=of(paint, paint / 2, unit="drops"))
            self.assertEqual(found and found.verdict.value, verdict, paint)

    @given(st.floats(0.2, 5), st.floats(1, 1.5))
    def test_the_further_off_the_graver(self, ratio: float, more: float) -> None:
        grave = []
        for off in (ratio, ratio * more if ratio > 1 else ratio / more):
            found = said("hardener", mix=of(2, off))
            grave.append(0 if found is None else found.verdict.grave)
        self.assertLessEqual(grave[0], grave[1])

    def test_the_cup_is_weighed_and_large_enough_to_weigh(self) -> None:
        step = CoatStep(id="a", name="a", zones=["z"], material=CLEAR)
        for area in (1.0, 60.0, 900.0):
            cup = cup_for_area(K, step, 50, area, 1.0)
            hardener = next(p for p in cup.pours if p.role == "hardener")
            self.assertTrue(all(p.drops is None for p in cup.pours))
            self.assertGreaterEqual(hardener.grams, 0.199, area)
        self.assertIn("weighed", cup_for_area(K, step, 50, 60.0, 1.0, Fill(paint_drops=10)).helps)

    def test_it_is_no_thinner_and_stays_in_the_film(self) -> None:
        step = CoatStep.model_validate(coat("a", CLEAR, mix=of(4, 2, 1)))
        cup = cup_of(K, step)
        self.assertAlmostEqual(cup.thinner_share, 1 / 7, places=3)
        solids = K.thinners["urethane_hardener"].volume_solids
        self.assertAlmostEqual(cup.volume_solids, (4 * K.coats[CLEAR].volume_solids + 2 * solids) / 7, places=3)

    def test_nothing_stands_in_for_it_and_it_stands_in_for_nothing(self) -> None:
        made = plan([coat("clear", CLEAR)])
        self.assertEqual(substitutes(made, "clear", "urethane_hardener"), [])
        for offer in substitutes(made, "clear", "urethane_thinner"):
            self.assertNotIn('"urethane_hardener", "role": "thinner"', str(offer.edits).replace("'", '"'))


class PotLife(TestCase):
    def test_it_halves_with_ten_kelvin_and_a_long_go_is_split(self) -> None:
        self.assertIsNone(said("pot_life", hands_on_min=50))
        self.assertIsNotNone(said("pot_life", hands_on_min=50, temp_c=30))
        self.assertIsNotNone(said("pot_life", hands_on_min=65))
        self.assertIsNone(said("pot_life", hands_on_min=110, temp_c=11))

    def test_the_card_tells_it_for_two_pack_alone(self) -> None:
        told = card(plan([coat("clear", CLEAR)]), "clear").pot_life
        self.assertIn("60 to 240 min at 20 °C", told)
        self.assertIn("never thin it", told)
        self.assertIn("Clean the gun", told)
        poured = card(plan([coat("pour", "pouring_resin")]), "pour").pot_life
        self.assertNotIn("gun", poured)
        self.assertIn("20 to 45 min", poured)
        self.assertEqual(card(plan([coat("clear", "lacquer_clear")]), "clear").pot_life, "")


class Polishing(TestCase):
    def test_it_is_easy_for_three_days_and_never_too_late(self) -> None:
        for hours, verdict, word in (
            (4, "wait", "too early"), (30, "sound", "in its window"), (10 * 24, "sound", "hard to polish"),
        ):  # fmt: skip
            work = {"kind": "working", "id": "p", "name": "p", "zones": ["side"], "action": "polish",
                    "acts_on": "clear", "method": "dry_tool", "wait_min": hours * 60, "hands_on_min": 10}  # fmt: skip
            seams = assess(plan([coat("clear", CLEAR), work])).seams.values()
            told = next(s for s in seams if s.upper_step == "p" and s.lower_step == "clear")
            self.assertEqual((told.verdict.value, told.word), (verdict, word), hours)
