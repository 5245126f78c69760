"""What a paint is not known to bear in the cup is named, and never offered as the best way out."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.knowledge import knowledge
from emvar_core.physics.blend import Blend, blend_of, carrier_words
from emvar_core.plan import CoatStep, default_mix, parse_step
from emvar_core.plan.edits import SetField
from emvar_core.remarks import replaced
from emvar_core.vocabulary import Method, Use, Verdict
from emvar_core.ways.substitutes import substitutes

from tests.builders import coat, mix, plan

K = knowledge()


def cup(material: str, thinner: str, a: float = 1, b: float = 1) -> list[tuple[str, Verdict]]:
    made = plan([coat("a", material, mix=mix(material, thinner, a, b))])
    return [(r.word, r.verdict) for r in assess(made).remarks if r.code == "cup"]


class Foreign(TestCase):
    def test_turpentine_in_craft_acrylic_does_not_pass(self) -> None:
        craft = next(c.id for c in K.coats.values() if "craft" in f"{c.name} {c.words}".lower())
        found = cup(craft, "turpentine")
        self.assertTrue(found)
        self.assertNotEqual(found[0][1], Verdict.SOUND)

    def test_acetone_in_what_is_water_borne_or_unlisted_is_told(self) -> None:
        for material in ("pva_glue", "scenic_cement", "acrylic_paste", "clay_wash", "craft_acrylic", "washable_colour"):
            if material in K.coats and K.coats[material].percent:
                parts = {"hot_thinner": 1.0}
                for thinner in parts:
                    self.assertTrue(cup(material, thinner), material)

    def test_every_thinner_in_every_paint_is_borne_limited_or_told_as_not_known(self) -> None:
        """Nothing foreign passes in silence: at one to three, a family of which nothing is known is named."""
        for c in K.coats.values():
            s = K.systems[c.system]
            if not c.percent or s.film.value in ("unknown", "decal", "loose", "rubbed"):
                continue
            for t in K.thinners.values():
                shares = blend_of(t).family_shares(K)
                foreign = [f for f, share in shares.items() if share > 0.5 and f in s.cup.untried]
                if foreign:
                    self.assertTrue(cup(c.id, t.id, 1, 3), (c.id, t.id))

    def test_a_trace_and_the_usual_mix_s_own_solvents_are_not_told(self) -> None:
        for c in K.coats.values():
            if default_mix(K, c.id) is not None:
                made = plan([coat("a", c.id, mix=default_mix(K, c.id).model_dump(mode="json"))])  # type: ignore[union-attr]
                self.assertEqual([r.sentence for r in assess(made).remarks if r.code in ("cup", "water")], [], c.id)

    def test_what_is_not_known_to_hold_in_the_cup_is_never_the_best_substitute(self) -> None:
        for c in K.coats.values():
            usual = default_mix(K, c.id)
            if usual is None or c.thin_with is None:
                continue
            found = substitutes(plan([coat("p", "lacquer_primer"), coat("a", c.id, 3000)]), "a", c.thin_with)
            doubts = [bool(s.doubt) for s in found]
            self.assertEqual(doubts, sorted(doubts), c.id)
            for s in found:
                if s.doubt:
                    self.assertRegex(s.doubt, "not known|may ", c.id)

    def test_nobody_is_sent_to_a_thinner_of_another_world(self) -> None:
        """Turpentine for isopropanol in a craft acrylic, hot thinner for water in an oil: not even at the end."""
        for material, lacking, never in (
            ("craft_acrylic", "isopropanol_50", {"Turpentine", "Acetone", "Acrylic retarder"}),
            ("water_mixable_oil", "water", {"Hot lacquer thinner", "Turpentine", "Acetone"}),
        ):
            found = substitutes(plan([coat("p", "lacquer_primer"), coat("a", material, 3000)]), "a", lacking)
            self.assertTrue(found)
            self.assertEqual({s.title for s in found} & never, set())


class Names(TestCase):
    def test_each_carrier_is_called_what_it_is(self) -> None:
        for thinner, words in (
            ("turpentine", "turpentine"), ("white_spirit", "white spirit"), ("odourless_spirit", "odourless spirit"),
            ("water", "water"),
        ):  # fmt: skip
            if thinner in K.thinners:
                self.assertEqual(carrier_words(K, blend_of(K.thinners[thinner])), words)
        self.assertEqual(carrier_words(K, Blend.of({"limonene": 1})), "citrus spirit")
        self.assertEqual(carrier_words(K, Blend.of({"acetone": 1})), "acetone")

    def test_no_spirit_but_white_spirit_is_called_white_spirit(self) -> None:
        for t in K.thinners.values():
            if carrier_words(K, blend_of(t)) == "white spirit":
                self.assertIn("white spirit", f"{t.name} {t.words}".lower(), t.id)


class Replaced(TestCase):
    def step(self, **more: Any) -> CoatStep:
        made = parse_step(coat("a", "enamel_wash", zones=["side"], technique="pin_wash", **more))
        assert isinstance(made, CoatStep)
        return made

    def after(self, step: CoatStep, material: str) -> tuple[dict[str, Any], list[str], list[str]]:
        found = replaced(K, step, material)
        fields: dict[str, Any] = {}
        for e in found.edits:
            assert isinstance(e, SetField)
            fields[e.field] = None if e.absent else e.value
        return fields, list(found.kept), list(found.lost)

    def test_how_where_and_how_much_stays_where_the_new_material_can_keep_it(self) -> None:
        step = self.step(method="wash", coverage=0.15, coverage_by_zone={"side": 0.2}, dry_film_um=2, passes=2)
        fields, kept, lost = self.after(step, "artists_oil")
        self.assertEqual(fields, {"material": "artists_oil"})
        self.assertEqual(len(kept), 5)
        self.assertEqual(lost, [])

    def test_what_cannot_stay_is_let_go_and_said(self) -> None:
        step = self.step(method="wash", dry_film_um=2, measured={"viscosity_mpas": 5})
        fields, _, lost = self.after(step, "decal")
        self.assertIsNone(fields["method"])
        self.assertIsNone(fields["measured"])
        self.assertTrue(
            any("washed on before" in words for words in lost) and any("measured" in words for words in lost)
        )

    def test_a_sheen_that_the_new_material_has_not_is_let_go(self) -> None:
        gloss = next(
            c for c in K.coats.values() if (c.use is Use.CLEAR and c.sheens == []) or c.id == "urethane_alkyd_clear"
        )
        step = parse_step(coat("a", "lacquer_clear", sheen="matt"))
        assert isinstance(step, CoatStep)
        fields, _, lost = self.after(step, gloss.id)
        self.assertIsNone(fields["sheen"])
        self.assertTrue(any("gloss" in words for words in lost), lost)

    def test_a_mix_stays_in_its_proportions_where_the_new_paint_bears_it(self) -> None:
        step = self.step(mix=mix("enamel_wash", "odourless_spirit", 1, 8))
        fields, kept, _ = self.after(step, "artists_oil")
        self.assertEqual([p["amount"] for p in fields["mix"]["parts"]], [1, 8])
        self.assertEqual(fields["mix"]["parts"][0]["material"], "artists_oil")
        self.assertIn("the mix", kept)

    def test_a_mix_that_would_curdle_is_exchanged_for_one_that_holds(self) -> None:
        step = self.step(mix=mix("enamel_wash", "white_spirit", 1, 8))
        fields, _, lost = self.after(step, "waterborne_colour")
        made = plan([coat("a", "waterborne_colour", mix=fields["mix"])])
        self.assertEqual([r for r in assess(made).remarks if r.code == "cup"], [])
        self.assertTrue(any("mix" in words or "thinner" in words for words in lost))

    def test_a_usual_mix_becomes_the_new_material_s_usual_mix_without_a_word(self) -> None:
        usual = default_mix(K, "lacquer_colour")
        assert usual is not None
        step = parse_step(coat("a", "lacquer_colour", mix=usual.model_dump(mode="json")))
        assert isinstance(step, CoatStep)
        fields, _, lost = self.after(step, "waterborne_colour")
        new = default_mix(K, "waterborne_colour")
        assert new is not None
        self.assertEqual(fields["mix"], new.model_dump(mode="json", exclude_unset=True))
        self.assertEqual(lost, [])

    def test_every_material_can_take_every_coat_s_place_and_the_plan_stays_valid(self) -> None:
        from emvar_core.plan import apply

        made = plan([coat("a", "enamel_wash", method="wash", coverage=0.2, dry_film_um=1, technique="pin_wash",
                          mix=mix("enamel_wash", "white_spirit", 1, 3))])  # fmt: skip
        step = made.steps[0]
        assert isinstance(step, CoatStep)
        for c in K.coats.values():
            found = replaced(K, step, c.id)
            changed, inverse = apply(made, found.edits)
            self.assertEqual(apply(changed, inverse)[0], made, c.id)
            now = changed.steps[0]
            assert isinstance(now, CoatStep)
            self.assertEqual(now.coverage, 0.2, c.id)
            self.assertTrue(now.method is None or now.method is Method.WASH)
