"""Techniques: each can be put into a plan, and a plan is judged against the one it names."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.judging.outcome import Remark
from emvar_core.knowledge import Technique, knowledge
from emvar_core.plan import Plan, apply, put
from emvar_core.reading.compendium import compendium

from tests.builders import coat, mix, plan

K = knowledge()
BENCH = [
    coat("p", "lacquer_primer"),
    coat("b", "lacquer_colour", 1440),
    coat("g", "lacquer_clear", 1440, sheen="satin"),
]


def remarks(made: Plan, *codes: str) -> list[Remark]:
    return [r for r in assess(made).remarks if not codes or r.code in codes]


def alone(material: str, technique: str, scale: int = 72, **more: Any) -> list[Remark]:
    step = coat("x", material, technique=technique, **more)
    return remarks(plan([step], build={"scale": scale}))


class Catalogue(TestCase):
    def test_every_technique_goes_into_a_plan_and_holds_there_once_it_is_waited_for(self) -> None:
        for technique in K.techniques.values():
            with self.subTest(technique=technique.id):
                edits = put(plan(BENCH), technique.id, ["side"], 3)
                self.assertEqual(len(edits), len(technique.steps))
                made, inverse = apply(plan(BENCH), edits)
                self.assertTrue(all(s.technique == technique.id for s in made.steps[3:]))
                self.assertEqual(apply(made, inverse)[0], plan(BENCH))
                late = made.steps[3].model_copy(update={"wait_min": 4000.0})
                waited = made.model_copy(update={"steps": [*made.steps[:3], late, *made.steps[4:]]})
                bad = {(s.upper_step, s.word) for s in assess(waited).stories if s.verdict.value == "clash"}
                self.assertEqual(bad, set())

    def test_its_own_recipe_raises_no_remark_on_the_mix(self) -> None:
        for technique in K.techniques.values():
            made, _ = apply(plan(BENCH), put(plan(BENCH), technique.id, ["side"], 3))
            told = [(r.code, r.sentence) for r in remarks(made) if r.kind == "mix"]
            self.assertEqual(told, [], technique.id)

    def test_what_is_not_there_is_refused_by_name(self) -> None:
        for bad, where in ((("moonshine", ["side"]), "technique"), (("prime", []), "zones")):
            with self.assertRaises(PlanError) as caught:
                put(plan(BENCH), bad[0], bad[1], 0)
            self.assertEqual(caught.exception.problems[0].where, where)
        with self.assertRaises(PlanError):
            apply(plan(BENCH), put(plan(BENCH), "prime", ["nowhere"], 0))

    def test_ids_stay_apart_when_a_technique_is_put_in_twice(self) -> None:
        once, _ = apply(plan(BENCH), put(plan(BENCH), "pin_wash", ["side"], 3))
        twice, _ = apply(once, put(once, "pin_wash", ["side"], 5))
        self.assertEqual(len({s.id for s in twice.steps}), len(twice.steps))


class Judged(TestCase):
    def words(self, found: list[Remark]) -> set[str]:
        return {r.word for r in found if r.verdict.value != "sound"}

    def test_a_speckle_in_water_is_the_wrong_carrier(self) -> None:
        wet = mix("waterborne_colour", "water", 1, 1)
        self.assertEqual(alone("enamel_wash", "speckle", method="speckle"), [])
        # A water-borne colour is another use than the technique's own coat; an effect carried by water is judged.
        found = alone("water_mixable_oil", "speckle", method="speckle", mix=mix("water_mixable_oil", "water", 1, 3))
        self.assertIn("wrong carrier", self.words(found))
        self.assertNotIn("wrong carrier", self.words(alone("waterborne_colour", "speckle", mix=wet)))

    def test_a_filter_has_to_be_thin(self) -> None:
        for thinner, word in ((1, "too thick"), (9, None), (200, "too thin")):
            step = {"mix": mix("enamel_wash", "odourless_spirit", 1, thinner), "dry_film_um": 0.6, "method": "brush"}
            found = self.words(alone("enamel_wash", "filter", **step))
            self.assertEqual(found, {word} if word else set(), thinner)

    def test_marks_are_judged_by_their_true_size(self) -> None:
        step = {"method": "sponge", "coverage": 0.05, "dry_film_um": 4}
        for scale, coarse in ((35, False), (72, False), (350, True)):
            found = [r.code for r in alone("waterborne_colour", "sponge_chips", scale, **step)]
            self.assertEqual("scale" in found, coarse, scale)

    def test_a_school_that_the_build_does_not_follow_is_a_hint_and_no_fault(self) -> None:
        step = coat("x", "dry_pigment", technique="pigment_loose")
        found = remarks(plan([step], schools={"pigment": "bound"}), "school")
        self.assertEqual([(r.verdict.value, r.school) for r in found], [("sound", "pigment")])
        self.assertEqual(assess(plan([step], schools={"pigment": "bound"})).score.cautions, 0)
        self.assertEqual(remarks(plan([step]), "school"), [])

    def test_an_unknown_technique_is_said_to_be_unknown(self) -> None:
        found = alone("lacquer_colour", "moonshine")
        self.assertEqual([(r.code, r.basis) for r in found], [("technique", "unknown")])

    def test_matt_below_an_oil_effect_stains(self) -> None:
        steps = [*BENCH[:2], coat("m", "lacquer_clear", 1440, sheen="matt")]
        made, _ = apply(plan(steps), put(plan(steps), "oil_dots", ["side"], 3))
        self.assertIn("stains", self.words(remarks(made, "sheen")))


class Cup(TestCase):
    def cup(self, paint: str, thinner: str, a: float = 1, b: float = 1) -> list[tuple[str, str]]:
        made = plan([coat("x", paint, mix=mix(paint, thinner, a, b))])
        return [(r.verdict.value, r.word) for r in remarks(made, "cup", "systems")]

    def test_what_curdles_splits_or_holds(self) -> None:
        for paint, thinner, told in (
            ("waterborne_colour", "white_spirit", [("clash", "curdles")]),
            ("waterborne_colour", "hot_thinner", [("clash", "curdles")]),
            ("enamel_colour", "isopropanol", [("clash", "splits")]),
            ("enamel_colour", "water", [("clash", "splits")]),
            ("lacquer_colour", "water", [("clash", "clouds")]),
            ("lacquer_colour", "hot_thinner", []),
            ("alcohol_acrylic_colour", "mild_thinner", []),
            ("craft_acrylic", "isopropanol_50", []),
            ("enamel_colour", "odourless_spirit", []),
        ):
            self.assertEqual(self.cup(paint, thinner), told, (paint, thinner))

    def test_the_usual_mix_of_every_material_holds(self) -> None:
        for material in K.coats:
            self.assertEqual(remarks(plan([coat("x", material)]), "cup", "water", "retarder", "systems"), [], material)

    def test_two_systems_in_one_cup_are_not_known_to_harden(self) -> None:
        parts = [
            {"material": "enamel_colour", "role": "paint", "amount": 3},
            {"material": "artists_oil", "role": "paint", "amount": 1},
        ]
        found = remarks(plan([coat("x", "enamel_colour", mix={"parts": parts})]), "systems")
        self.assertEqual([(r.verdict.value, r.basis) for r in found], [("caution", "unknown")])

    def test_an_unknown_paint_does_not_default_to_bearing_its_thinner(self) -> None:
        self.assertEqual(self.cup("unknown_paint", "water"), [("caution", "unknown")])

    def test_too_much_retarder_stays_tacky_but_not_in_specks(self) -> None:
        strong = mix("waterborne_colour", "acrylic_retarder", 4, 1)
        sprayed = remarks(plan([coat("x", "waterborne_colour", mix=strong)]), "retarder")
        specks = remarks(plan([coat("x", "waterborne_colour", mix=strong, method="sponge", coverage=0.05)]), "retarder")
        self.assertEqual(([r.word for r in sprayed], specks), (["stays tacky"], []))
        for parts, verdict in ((20, None), (4, "caution"), (1, "clash")):  # a part in 21, in 5, in 2
            told = remarks(
                plan([coat("x", "waterborne_colour", mix=mix("waterborne_colour", "acrylic_retarder", parts, 1))]),
                "retarder",
            )
            self.assertEqual(told[0].verdict.value if told else None, verdict, parts)

    def test_a_label_does_not_decide_what_lands(self) -> None:
        """An alcohol acrylic let down with hot thinner bites like a lacquer."""
        below = coat("e", "enamel_colour")
        hot = mix("alcohol_acrylic_colour", "hot_thinner", 1, 2)
        for steps, bites in (
            ([below, coat("a", "alcohol_acrylic_colour", 2880, method="wet_spray", mix=hot)], True),
            ([below, coat("a", "alcohol_acrylic_colour", 30000)], False),
        ):
            seam = assess(plan(steps, build={"base_material": "resin"})).seams["a~side~e"]
            self.assertEqual(seam.verdict.value in ("clash", "wait"), bites, seam.sentence)


class Compendium(TestCase):
    def test_it_is_the_same_data(self) -> None:
        c = compendium()
        self.assertEqual([t.id for t in c.techniques], list(K.techniques))
        self.assertEqual({m.id for m in c.coats}, set(K.coats))
        self.assertEqual({t.id for t in c.thinners}, {t.id for t in K.thinners.values() if t.percent})
        self.assertEqual({b.id for b in c.bases}, set(K.substrates))

    def test_every_technique_tells_recipe_tool_window_rescue_and_traps(self) -> None:
        for t in K.techniques.values():
            self.assertIsInstance(t, Technique)
            for text in (t.summary, t.recipe, t.tool, t.window, t.rescue, *t.traps):
                self.assertGreater(len(text), 2, t.id)
            self.assertTrue(t.traps, t.id)

    def test_an_entry_says_what_opens_a_film(self) -> None:
        lacquer = next(m for m in compendium().coats if m.id == "lacquer_colour")
        power = {o.carrier: o.power for o in lacquer.opened}
        self.assertGreater(power["Hot lacquer thinner"], 0.6)
        self.assertEqual(power["Water"], 0)
        self.assertLess(power["White spirit"], 0.1)
