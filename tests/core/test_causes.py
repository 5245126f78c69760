"""Causes that made verdicts wrong, each with its own check: what was sound where a coat is ruined, or the other
way round.
"""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import Assessment, SeamOut
from emvar_core.knowledge import knowledge
from emvar_core.vocabulary import Verdict

from tests.builders import DAY, coat, mix, plan

HOT = mix("lacquer_colour", "hot_thinner", 1, 2)


def seen(*steps: dict[str, Any], base: str = "resin", **more: Any) -> Assessment:
    return assess(plan(list(steps), build={"base_material": base}, **more))


def seam(found: Assessment, upper: str, lower: str) -> SeamOut:
    return next(s for s in found.seams.values() if (s.upper_step, s.lower_step or "base") == (upper, lower))


def wipe(acts_on: str, wait: float, carrier: str, method: str = "damp_wipe") -> dict[str, Any]:
    return {
        "kind": "working", "id": "w", "name": "w", "zones": ["side"], "action": "wipe", "acts_on": acts_on,
        "carrier": carrier, "method": method, "wait_min": wait, "hands_on_min": 5,
    }  # fmt: skip


def ready(event: str, *steps: dict[str, Any], base: str = "resin") -> float:
    """Minutes from the end of the last coat to an event of it, by the best guess."""
    found = seen(*steps, base=base).coats[f"{steps[-1]['id']}~side"]
    best = found.events[event].best
    assert best is not None
    return best - found.end_min


class Spirit(TestCase):
    def test_scrubbing_a_wash_off_young_enamel_waits_for_its_own_spirit_event(self) -> None:
        for days, verdicts in ((2, {"wait"}), (4, {"wait", "caution", "clash"}), (60, {"sound"})):
            wash = coat("wash", "enamel_wash", days * DAY, coverage=0.3)
            found = seen(coat("e", "enamel_colour"), wash, wipe("wash", 30, "white_spirit", "scrub"))
            self.assertIn(seam(found, "w", "e").verdict.value, verdicts, days)


class Dwell(TestCase):
    def test_what_only_lies_there_swells_a_film_that_is_no_glass(self) -> None:
        wet = coat("x", "lacquer_colour", 7 * DAY, method="wet_spray", mix=HOT)
        self.assertIn(
            seam(seen(coat("p", "pu_acrylic_primer"), wet), "x", "p").verdict, (Verdict.CAUTION, Verdict.CLASH)
        )
        mist = wet | {"method": "mist", "passes": 6}
        self.assertEqual(seam(seen(coat("p", "pu_acrylic_primer"), mist), "x", "p").verdict, Verdict.SOUND)

    def test_two_lacquers_fuse_and_that_is_all(self) -> None:
        found = seen(coat("p", "lacquer_primer"), coat("x", "lacquer_colour", DAY))
        self.assertEqual(seam(found, "x", "p").verdict, Verdict.SOUND)


class Barriers(TestCase):
    def test_what_is_left_where_the_carrier_arrives_crazes_the_plastic(self) -> None:
        told = []
        for film in (3, 12, 20):
            steps = [coat("p", "lacquer_primer", dry_film_um=film), coat("x", "lacquer_colour", 5 * DAY, mix=HOT)]
            steps[1]["method"] = "wet_spray"
            found = seam(seen(*steps, base="polystyrene"), "x", "p")
            told.append(max((f.severity for f in found.findings if f.mechanism == "craze"), default=0.0))
        self.assertGreater(told[0], 0.4)
        self.assertEqual(told[1:], [0.0, 0.0])

    def test_lacquer_waits_for_hard_alkyd_also_through_a_thin_clear(self) -> None:
        for film, through in ((3, True), (30, False)):
            barrier = coat("c", "waterborne_clear", 3 * DAY, dry_film_um=film)
            wet = coat("x", "lacquer_clear", DAY, method="wet_spray", mix=mix("lacquer_clear", "hot_thinner", 1, 2))
            found = seam(seen(coat("e", "enamel_colour"), barrier, wet), "x", "c")
            self.assertEqual(any(f.mechanism == "not_hard" for f in found.findings), through, film)


class Films(TestCase):
    def test_figures_mean_the_film_that_they_state_whatever_is_usual_for_a_material(self) -> None:
        usual = ready("tape", coat("x", "lacquer_colour"))
        self.assertTrue(60 <= usual <= 240, usual)
        hard = ready("hard", coat("x", "lacquer_colour"))
        stated = knowledge().systems["lacquer"].film_um
        assert stated is not None
        thin, there, twice = (
            ready("hard", coat("x", "lacquer_colour", dry_film_um=um)) for um in (5, stated, 2 * stated)
        )
        self.assertAlmostEqual(hard / thin, 1, delta=0.02)
        self.assertAlmostEqual(there / hard, 1, delta=0.02)
        self.assertAlmostEqual(twice / there, 4, delta=0.1)

    def test_a_thick_lacquer_is_hard_within_a_fortnight(self) -> None:
        self.assertLess(ready("hard", coat("x", "lacquer_colour", dry_film_um=60)), 14 * 1440)

    def test_a_fifth_of_retarder_at_least_doubles_the_time_to_tape(self) -> None:
        """Common practice: beyond a tenth of it films stay tacky."""
        parts = [
            ("lacquer_colour", "paint", 1.0),
            ("mild_thinner", "thinner", 2.0),
            ("lacquer_retarder", "thinner", 0.75),
        ]
        slow = {"parts": [{"material": m, "role": r, "amount": a} for m, r, a in parts]}
        self.assertGreater(
            ready("tape", coat("x", "lacquer_colour", mix=slow)) / ready("tape", coat("x", "lacquer_colour")), 2
        )

    def test_fresh_primer_drinks_thinner_and_gives_it_back(self) -> None:
        primer = coat("p", "lacquer_primer")
        alone, fresh = (
            ready("hard", coat("x", "lacquer_colour")),
            ready("hard", primer, coat("x", "lacquer_colour", 20)),
        )
        old = ready("hard", primer, coat("x", "lacquer_colour", 5 * DAY))
        self.assertGreater(fresh, 1.1 * alone)
        self.assertAlmostEqual(old / alone, 1, places=3)

    def test_enamel_on_wet_enamel_is_one_film(self) -> None:
        one = ready("hard", coat("x", "enamel_colour"))
        two = ready("hard", coat("e", "enamel_colour"), coat("x", "enamel_colour", 30))
        self.assertGreater(two, 1.5 * one)

    def test_a_two_pack_is_cured_in_seven_to_ten_days(self) -> None:
        self.assertTrue(6 * DAY <= ready("cured", coat("x", "two_pack_clear")) <= 11 * DAY)


class Others(TestCase):
    def test_a_wash_of_clay_sealed_under_a_clear_is_not_wiped_any_more(self) -> None:
        clay = coat("clay", "clay_wash", DAY, coverage=0.4)
        for film, verdict in ((10, "clash"), (3, "sound")):
            found = seen(coat("g", "lacquer_clear"), clay, coat("c", "lacquer_clear", DAY, dry_film_um=film),
                         wipe("clay", DAY, "water"))  # fmt: skip
            self.assertEqual(seam(found, "w", "clay").verdict.value, verdict)

    def test_spirit_on_bare_metal_and_on_bare_decals_is_told_and_under_a_clear_not(self) -> None:
        for below, word in (("metallic_lacquer", "dulls"), ("decal", "creeps under")):
            bare = seen(
                coat("g", "lacquer_clear", sheen="gloss"), coat("m", below, DAY), coat("w", "enamel_wash", 3 * DAY)
            )
            self.assertEqual((seam(bare, "w", "m").verdict.value, seam(bare, "w", "m").word), ("caution", word))
            steps = [coat("g", "lacquer_clear", sheen="gloss"), coat("m", below, DAY),
                     coat("c", "lacquer_clear", DAY, sheen="gloss"), coat("w", "enamel_wash", 3 * DAY)]  # fmt: skip
            self.assertNotIn(word, [s.word for s in seen(*steps).seams.values() if s.upper_step == "w"])

    def test_glass_cleaner_strips_acrylics_and_leaves_lacquer(self) -> None:
        for paint, hurt in (("waterborne_colour", True), ("alcohol_acrylic_colour", True), ("lacquer_colour", False)):
            found = seen(coat("p", paint), coat("c", "clay_wash", 7 * DAY, coverage=0.3),
                         wipe("c", DAY, "glass_cleaner", "scrub"))  # fmt: skip
            self.assertEqual(seam(found, "w", "p").verdict is not Verdict.SOUND, hurt, paint)

    def test_aerosols_blush_in_damp_heat(self) -> None:
        for material, below in (("picture_varnish", "lacquer_primer"), ("hairspray", "lacquer_clear")):
            told = []
            for rh in (50, 88):
                air = {"day": {"temp_c": 29 if rh > 60 else 20, "rh_pct": rh}}
                found = seam(seen(coat("p", below), coat("x", material, 2 * DAY), air=air), "x", "p")
                told.append(any(f.mechanism == "blush" for f in found.findings))
            self.assertEqual(told, [False, True], material)
