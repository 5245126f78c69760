"""The card by hand: words of the tool, passes, pauses, amounts. Common practice, no published source."""

import re
from typing import Any
from unittest import TestCase

from emvar_core.at_the_bench.pack import pack
from emvar_core.errors import KnowledgeError
from emvar_core.knowledge import knowledge
from emvar_core.knowledge.load import Source, load
from emvar_core.mix_and_spray.card import card
from emvar_core.mix_and_spray.hand_card import Hand, by_hand
from emvar_core.plan import CoatStep, Plan, Record, WorkingStep, parse_plan
from emvar_core.plan.placing import step_data
from emvar_core.vocabulary import AIRBRUSHED, Method, WorkAction

from tests.builders import coat, plan_json

K = knowledge()


def laid(*steps: dict[str, Any], area_cm2: float = 100, **more: Any) -> Plan:
    """A plan of steps on one zone, on a primer of a day."""
    data = plan_json([coat("ground", "lacquer_primer", zones=["a"]), *steps], zones=["a"], **more)
    data["zones"][0]["area_cm2"] = area_cm2
    return parse_plan(data)


def one(material: str, area_cm2: float = 100, air: dict[str, Any] | None = None, **more: Any) -> Hand:
    step = coat("c", material, 1440, zones=["a"], **more)
    hand = card(laid(step, area_cm2=area_cm2, **({"air": air} if air else {})), "c").hand
    assert hand is not None
    return hand


def hand_of(plan: Plan) -> Hand:
    """The card by hand of the first coat after the ground."""
    step = next(s for s in plan.steps[1:] if isinstance(s, CoatStep))
    hand = card(plan, step.id).hand
    assert hand is not None
    return hand


def technique_plan(name: str) -> Plan:
    steps: list[dict[str, Any]] = []
    for i, template in enumerate(K.techniques[name].steps):
        data = step_data(K, K.techniques[name], template) | {"id": f"s{i}", "zones": ["a"], "wait_min": 1440}
        if template.kind == "working":
            below = [s for s in steps if s["kind"] == "coat"]
            data["acts_on"] = next((s["id"] for s in below if s["name"] == template.on), below[-1]["id"])
        steps.append(data)
    return laid(*steps)


class Words(TestCase):
    def test_every_way_by_hand_and_every_work_has_its_words_and_nothing_else_stands_there(self) -> None:
        self.assertLessEqual(set(Method) - AIRBRUSHED, set(K.by_hand))
        text = Source().text("by_hand.toml")
        for broken, where in ((text.replace("[sponge]", "[spnge]"), "sponge"), (text + "\n[spray]\n", "spray")):
            with self.assertRaisesRegex(KnowledgeError, where):
                load(Source({"by_hand.toml": broken}))

    def test_every_step_of_every_technique_by_hand_is_told_whole(self) -> None:
        count = 0
        for name in K.techniques:
            plan = technique_plan(name)
            for step in plan.steps[1:]:
                if isinstance(step, CoatStep):
                    hand = card(plan, step.id).hand
                else:
                    hand = by_hand(K, step) if isinstance(step, WorkingStep) else None
                if hand is None:
                    continue
                count += 1
                with self.subTest(name, step=step.name):
                    self.assertTrue(hand.tool and hand.lead)
                    self.assertNotRegex(hand.sentences, r"[{}]|, ,|\.\.|: \.")
        self.assertGreater(count, 50)

    def test_the_technique_s_own_words_win_while_it_is_done_its_way(self) -> None:
        data = technique_plan("brush_chips").model_dump(mode="json", exclude_none=True)
        chips = parse_plan(data)
        self.assertIn("finest brush", hand_of(chips).sentences.lower())
        self.assertNotIn("flat soft brush", hand_of(chips).sentences.lower())
        data["steps"][1] |= {"method": "sponge"}
        self.assertIn("sponge", hand_of(parse_plan(data)).sentences.lower())
        for name in ("clay_wash", "pre_wetting"):
            self.assertNotIn("touched to the detail", hand_of(technique_plan(name)).sentences.lower(), name)

    def test_what_is_led_otherwise_is_not_said_to_look_as_usual(self) -> None:
        self.assertIn("runs along", hand_of(technique_plan("pin_wash")).look)
        self.assertIn("dull all over", hand_of(technique_plan("clay_wash")).look)
        self.assertEqual(hand_of(technique_plan("oil_dots")).look, "")  # a brush coat is flat and even
        blended = technique_plan("oil_dots").steps[-1]
        self.assertIn("fades", by_hand(K, blended).look)  # type: ignore[union-attr]

    def test_work_names_its_liquid_and_one_s_own_tool(self) -> None:
        data = technique_plan("pin_wash").model_dump(mode="json", exclude_none=True)
        self.assertIn("Load: dipped in odourless spirit, wiped twice", by_hand(K, parse_plan(data).steps[2]).sentences)  # type: ignore[union-attr]
        data["steps"][2] |= {"tool": "makeup bud"}
        self.assertTrue(by_hand(K, parse_plan(data).steps[2]).sentences.startswith("Makeup bud. Load: "))  # type: ignore[union-attr]

    def test_sanding_and_polishing_bring_their_own_tool_another_way_its_own(self) -> None:
        work = {"kind": "working", "name": "w", "zones": ["a"], "acts_on": "c", "wait_min": 2880, "hands_on_min": 5}
        steps = [coat("c", "lacquer_clear", 1440, zones=["a"])]
        usual = laid(*steps, work | {"id": "w", "action": "sand", "method": K.work[WorkAction.SAND].method.value})
        self.assertIn("abrasive", by_hand(K, usual.steps[-1]).tool)  # type: ignore[union-attr]
        wet = laid(*steps, work | {"id": "w", "action": "wipe", "method": "scrub", "carrier": "water"})
        self.assertEqual(by_hand(K, wet.steps[-1]).tool, "short stiff brush")  # type: ignore[union-attr]

    def test_an_airbrush_has_its_own_card(self) -> None:
        sprayed = card(laid(coat("c", "lacquer_colour", 1440, zones=["a"])), "c")
        self.assertIsNone(sprayed.hand)


class Figures(TestCase):
    def test_hairspray_goes_on_twice_with_a_minute_between(self) -> None:
        hand = one("hairspray")
        self.assertEqual((hand.passes, hand.pause, hand.amount), (2, "60 s", ""))

    def test_between_two_brushed_coats_the_first_flashes_off_first_and_in_the_cold_later(self) -> None:
        def minutes(temp_c: float) -> float:
            air = {"day": {"temp_c": temp_c, "rh_pct": 50}}
            found = re.fullmatch(r"(\d+) min", one("waterborne_colour", method="brush", passes=2, air=air).pause)
            assert found
            return float(found[1])

        self.assertTrue(5 <= minutes(20) <= 15, minutes(20))  # two or three thin coats, 5 to 15 min apart
        self.assertGreater(minutes(12), minutes(20))
        own = one("waterborne_colour", method="brush", passes=2, pause_min=20)
        self.assertEqual(own.pause, "20 min")

    def test_powder_for_a_side_is_weighed_as_people_weigh_it_and_grows_with_the_area(self) -> None:
        grams = [float(one("dry_pigment", area_cm2=a).amount.split()[0]) for a in (100, 200, 400)]
        self.assertTrue(0.05 <= grams[1] <= 0.2, grams)
        self.assertEqual(grams, sorted(set(grams)))

    def test_paste_is_told_by_its_size(self) -> None:
        self.assertRegex(hand_of(technique_plan("oil_dots")).amount, "pin-head")
        self.assertRegex(one("acrylic_paste", area_cm2=50).amount, "pea")

    def test_what_a_can_sprays_and_what_is_placed_is_not_measured(self) -> None:
        for material in ("hairspray", "decal", "metal_foil"):
            self.assertEqual(one(material).amount, "", material)


class AtTheBench(TestCase):
    def test_the_card_of_the_moment_tells_passes_pause_amount_and_the_hand(self) -> None:
        steps = [
            coat("h", "hairspray", 1440, zones=["a"]),
            coat("d", "dry_pigment", 1440, zones=["a"], technique="pigment_loose"),
        ]
        cards = {c.id: c for c in pack(laid(*steps), None, Record()).steps}
        self.assertIn(("2 ×", "60 s between"), [(f.text, f.words) for f in cards["h"].figures])
        self.assertTrue(any(f.text.endswith(" g") for f in cards["d"].figures))
        self.assertEqual(cards["h"].mix, [])  # nothing is poured out of a can
        self.assertEqual(sum("rim" in line for line in cards["d"].lines), 1)
