"""Seams that practice knows: what goes over what, and when. Common practice, unless a case says otherwise."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import Assessment
from emvar_core.seams.mechanisms.wrinkle import half_cured

from tests.builders import DAY, coat, mix, plan

HOT = mix("lacquer_clear", "hot_thinner", 1, 1.5)
MILD = mix("lacquer_colour", "mild_thinner", 1, 2)
#         below, how it was laid, age in minutes, above, how, expected
CASES: list[tuple[str, dict[str, Any], float, str, dict[str, Any], str]] = [
    ("lacquer_primer", {}, DAY, "lacquer_colour", {"mix": MILD}, "sound"),
    ("lacquer_primer", {}, DAY, "waterborne_colour", {}, "sound"),
    ("lacquer_primer", {}, 2, "waterborne_colour", {}, "wait"),
    ("lacquer_colour", {}, DAY, "enamel_wash", {}, "sound"),
    ("lacquer_colour", {}, 25, "enamel_wash", {}, "wait"),
    ("waterborne_colour", {}, 4 * DAY, "enamel_wash", {"method": "wash"}, "caution"),  # matt: it stains
    ("waterborne_clear", {"sheen": "gloss"}, 3 * DAY, "enamel_wash", {}, "sound"),
    ("waterborne_clear", {"sheen": "gloss"}, 240, "enamel_wash", {}, "wait"),
    ("alcohol_acrylic_clear", {"dry_film_um": 25}, 5 * 60, "enamel_wash", {}, "wait"),
    ("alcohol_acrylic_clear", {}, 2 * DAY, "enamel_wash", {}, "sound"),
    ("artists_oil", {}, DAY, "lacquer_clear", {"mix": HOT}, "clash"),
    ("enamel_colour", {}, DAY, "lacquer_clear", {"mix": HOT}, "clash"),
    ("enamel_colour", {}, 60, "enamel_colour", {}, "sound"),
    ("enamel_colour", {}, DAY / 2, "enamel_colour", {}, "wait"),
    ("enamel_colour", {}, 14 * DAY, "enamel_colour", {}, "sound"),
    ("artists_oil", {}, 120, "waterborne_clear", {}, "wait"),
    ("artists_oil", {"dry_film_um": 15}, DAY, "waterborne_clear", {}, "wait"),
    ("enamel_wash", {}, 60, "enamel_wash", {}, "wait"),
    ("enamel_wash", {}, 3 * DAY, "artists_oil", {}, "sound"),
    ("lacquer_clear", {"sheen": "matt"}, DAY, "decal", {}, "clash"),
    ("lacquer_clear", {"sheen": "gloss"}, DAY, "decal", {}, "sound"),
    ("dry_pigment", {"coverage": 1.0}, DAY, "lacquer_clear", {"mix": HOT}, "caution"),
    ("dry_pigment", {"coverage": 1.0}, DAY, "waterborne_clear", {"method": "brush"}, "clash"),
    ("lacquer_clear", {"sheen": "matt"}, DAY, "dry_pigment", {}, "sound"),
    ("hairspray", {}, 30, "waterborne_colour", {}, "sound"),
    ("hairspray", {}, 30, "waterborne_colour", {"method": "brush"}, "clash"),
    ("lacquer_colour", {}, DAY, "lacquer_colour", {"mix": MILD, "method": "brush"}, "clash"),
    ("lacquer_colour", {}, DAY, "waterborne_colour", {"method": "brush"}, "sound"),
]


def judged(below: str, how: dict[str, Any], age: float, above: str, way: dict[str, Any]) -> Assessment:
    lower = {"coverage": 1.0, **how}
    usual = {
        "enamel_wash": "wash",
        "artists_oil": "brush",
        "dry_pigment": "dust",
        "hairspray": "can",
        "decal": "place",
    }
    lower.setdefault("method", usual.get(below, "spray"))
    way = {"method": usual.get(above, "spray"), **way}
    steps = [coat("below", below, **lower), coat("above", above, age, **way)]
    return assess(plan(steps, build={"base_material": "resin"}))  # a base that none of this attacks


class Practice(TestCase):
    def test_cases(self) -> None:
        for below, how, age, above, way, expected in CASES:
            with self.subTest(below=below, age=age, above=above, way=way):
                seam = judged(below, how, age, above, way).seams["above~side~below"]
                self.assertEqual(seam.verdict.value, expected, (seam.word, seam.sentence))

    def test_hot_thinner_crazes_polystyrene_and_a_mist_of_it_does_not(self) -> None:
        for method, expected in (("wet_spray", "clash"), ("mist", "sound")):
            step = coat("a", "lacquer_primer", mix=mix("lacquer_primer", "hot_thinner", 1, 2), method=method, passes=6)
            self.assertEqual(assess(plan([step])).seams["a~side~base"].verdict.value, expected)

    def test_resin_bears_what_polystyrene_does_not(self) -> None:
        step = coat("a", "lacquer_primer", mix=mix("lacquer_primer", "hot_thinner", 1, 2), method="wet_spray")
        found = assess(plan([step], build={"base_material": "resin"}))
        self.assertEqual(found.seams["a~side~base"].verdict.value, "sound")

    def test_blush_in_damp_air_only(self) -> None:
        step = coat("a", "lacquer_clear", mix=mix("lacquer_clear", "hot_thinner", 1, 2), method="wet_spray")
        words = {}
        for rh in (45, 75):
            found = assess(plan([step], air={"day": {"temp_c": 20, "rh_pct": rh}}, build={"base_material": "resin"}))
            words[rh] = [f.word for f in found.seams["a~side~base"].findings]
        self.assertNotIn("blushes", words[45])
        self.assertIn("blushes", words[75])

    def test_a_wet_coat_works_through_a_thin_barrier_to_a_soft_layer(self) -> None:
        """The layer responsible is the deeper one, and a thick barrier of another system stops it."""

        def seam(barrier_um: float) -> tuple[str | None, list[str | None]]:
            steps = [
                coat("oil", "artists_oil", coverage=1.0, dry_film_um=12),
                coat("barrier", "lacquer_clear", 2 * DAY, dry_film_um=barrier_um, method="mist"),
                coat("top", "lacquer_clear", DAY, mix=HOT, method="wet_spray"),
            ]
            found = assess(plan(steps)).seams["top~side~barrier"]
            return found.responsible, [f.step_id for f in found.findings]

        self.assertIn("oil", seam(3)[1])
        self.assertNotIn("oil", seam(200)[1])

    def test_what_is_told_of_a_coat_that_a_sparse_one_leaves_bare_is_told_of_that_coat(self) -> None:
        steps = [
            coat("oil", "artists_oil", coverage=1.0),
            coat("chips", "waterborne_colour", DAY, coverage=0.2, method="sponge"),
            coat("top", "alcohol_acrylic_colour", 6 * 60),
        ]
        found = assess(plan(steps)).seams
        bare = found["top~side~oil"]
        self.assertEqual((bare.responsible, bare.depth), ("oil", 0))
        self.assertEqual({(f.step_id, f.depth) for f in bare.findings if f.mechanism == "too_early"}, {("oil", 0)})
        self.assertNotIn("too_early", {f.mechanism for f in found["top~side~chips"].findings})

    def test_a_bare_patch_that_is_only_too_young_is_answered_for_by_its_own_coat(self) -> None:
        steps = [
            coat("clear", "waterborne_clear", sheen="gloss", coverage=1.0),
            coat("chips", "lacquer_colour", 60, coverage=0.2, method="sponge"),
            coat("wash", "enamel_wash", 9 * 60),
        ]
        bare = assess(plan(steps)).seams["wash~side~clear"]
        self.assertEqual((bare.word, bare.responsible, bare.depth), ("too early", "clear", 0))

    def test_the_half_cured_bump(self) -> None:
        values = [half_cured(d / 100, 1.0) for d in range(101)]
        peak = values.index(max(values))
        self.assertTrue(30 < peak < 70)
        self.assertTrue(all(a <= b + 1e-9 for a, b in zip(values[:peak], values[1 : peak + 1], strict=False)))
        self.assertTrue(all(a >= b - 1e-9 for a, b in zip(values[peak:], values[peak + 1 :], strict=False)))
        self.assertGreater(half_cured(0.9, 3.0), half_cured(0.9, 1.0))

    def test_an_own_thinner_is_judged_by_its_composition(self) -> None:
        own = [{"id": "mine", "name": "Mine", "percent": {"acetone": 60, "toluene": 40}}]
        gentle = [{"id": "mine", "name": "Mine", "percent": {"isopropanol": 100}}]
        verdicts = []
        for materials in (own, gentle):
            steps = [
                coat("a", "alcohol_acrylic_colour"),
                coat("b", "lacquer_clear", 9 * DAY, mix=mix("lacquer_clear", "mine", 1, 6), method="wet_spray"),
            ]
            found = assess(plan(steps, materials=materials, zones=["side"])).seams["b~side~a"]
            verdicts.append(found.reach[-1].name == "Polystyrene")
        self.assertEqual(verdicts, [True, True])  # both open an alcohol acrylic; its own alcohol does too


class Touch(TestCase):
    def test_tape_on_young_paint_waits(self) -> None:
        for material, soon, later in [
            ("alcohol_acrylic_colour", 30, DAY),
            ("enamel_colour", 2 * DAY, 7 * DAY),
        ]:
            for wait, expected in ((soon, "wait"), (later, "sound")):
                mask = {
                    "kind": "fitting",
                    "id": "m",
                    "name": "m",
                    "zones": ["side"],
                    "action": "mask",
                    "wait_min": wait,
                }
                seam = assess(plan([coat("a", material), mask])).seams["m~side~a"]
                self.assertEqual(seam.verdict.value, expected, (material, wait))


def work(action: str, acts_on: str, wait: float, carrier: str | None = None, hands: float = 5) -> dict[str, Any]:
    return {
        "kind": "working", "id": "w", "name": "w", "zones": ["side"], "action": action, "acts_on": acts_on,
        "wait_min": wait, "hands_on_min": hands, "carrier": carrier,
    }  # fmt: skip


class Windows(TestCase):
    def window(self, steps: list[dict[str, Any]], acts_on: str) -> tuple[str, bool]:
        seam = assess(plan(steps)).seams[f"w~side~{acts_on}"]
        return seam.verdict.value, seam.missed

    def test_a_wash_opens_and_closes(self) -> None:
        gloss = coat("gloss", "lacquer_clear", sheen="gloss")
        wash = coat("wash", "enamel_wash", 2 * DAY, method="wash")
        for wait, expected in [
            (1, ("wait", False)),
            (40, ("sound", False)),
            (5 * 60, ("sound", False)),
            (20 * 60, ("caution", False)),
            (4 * DAY, ("clash", True)),  # opened on Sunday night, wiped on Thursday
        ]:
            with self.subTest(wait=wait):
                steps = [gloss, wash, work("wipe", "wash", wait, "odourless_spirit")]
                self.assertEqual(self.window(steps, "wash"), expected)

    def test_chipping_goes_by_what_thinned_the_top_coat(self) -> None:
        def chip(material: str, thinner: str, wait: float) -> tuple[str, bool]:
            top = coat("top", material, 20, mix=mix(material, thinner, 1, 2), dry_film_um=10, method="spray")
            steps = [coat("ground", "lacquer_colour"), coat("hair", "hairspray", DAY, method="can"), top]
            return self.window([*steps, work("chip", "top", wait, "water")], "top")

        self.assertEqual(chip("waterborne_colour", "water_flow", 30), ("sound", False))
        self.assertEqual(chip("waterborne_colour", "water_flow", 3 * DAY), ("clash", True))
        self.assertEqual(chip("lacquer_colour", "mild_thinner", 30), ("clash", False))

    def test_nothing_chips_without_a_medium_or_through_a_thick_coat(self) -> None:
        base, top = coat("ground", "lacquer_colour"), coat("top", "waterborne_colour", 20)
        self.assertEqual(self.window([base, top, work("chip", "top", 30, "water")], "top")[0], "clash")
        thick = [
            coat("hair", "hairspray", method="can"),
            coat("top", "waterborne_colour", 20, dry_film_um=60),
        ]
        self.assertEqual(self.window([*thick, work("chip", "top", 30, "water")], "top")[0], "clash")

    def test_alcohol_scrubbed_over_an_acrylic_base_lifts_it(self) -> None:
        steps = [
            coat("ground", "waterborne_colour"),
            coat("wash", "enamel_wash", 4 * DAY, method="wash"),
            work("wipe", "wash", 60, "isopropanol") | {"method": "scrub"},
        ]
        self.assertIn(assess(plan(steps)).seams["w~side~ground"].verdict.value, ("caution", "clash"))

    def test_spirit_over_cured_lacquer_is_harmless(self) -> None:
        steps = [
            coat("ground", "lacquer_clear", sheen="gloss"),
            coat("wash", "enamel_wash", 2 * DAY, method="wash"),
            work("wipe", "wash", 60, "white_spirit") | {"method": "wet_wipe"},
        ]
        self.assertEqual(assess(plan(steps)).seams["w~side~ground"].verdict.value, "sound")
