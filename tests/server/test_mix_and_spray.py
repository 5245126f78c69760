"""Cards, small tools and the simulated instruments over the API."""

import json
import unittest
from typing import Any

from django.test import Client, TestCase
from emvar_core.errors import NotSettable, NotThere
from emvar_core.mix_and_spray.instruments import Bench, Compressor, Hygrometer, Scale

from tests.builders import tug_json


class OverTheApi(TestCase):
    def setUp(self) -> None:
        self.client = Client()
        answer = self.client.post("/api/builds", json.dumps(tug_json()), content_type="application/json")
        self.id = answer.json()["id"]

    def get(self, url: str, **query: Any) -> Any:
        return self.client.get(f"/api/{url}", query)

    def test_a_card_at_the_setting_that_was_asked(self) -> None:
        card = self.get(f"builds/{self.id}/card/ochre", pressure_kpa=150, distance_mm=90).json()
        self.assertEqual((card["point"]["pressure_kpa"], card["point"]["distance_mm"]), (150, 90))
        self.assertEqual(len(card["map"]["rows"]), 60)

    def test_each_working_step_tells_how_the_hand_does_it(self) -> None:
        told = self.get(f"builds/{self.id}/by-hand").json()
        self.assertEqual(set(told), {s["id"] for s in tug_json()["steps"] if s["kind"] == "working"})
        self.assertIn("wiped twice on a cloth", told["drag"])
        self.assertEqual(self.get("builds/nobody/by-hand").status_code, 404)

    def test_unknown_steps_and_absurd_settings_are_refused_by_name(self) -> None:
        self.assertEqual(self.get(f"builds/{self.id}/card/nothing").status_code, 404)
        for field, value in (("temp_c", 900), ("pressure_kpa", -4), ("trigger", 7), ("distance_mm", "near")):
            answer = self.get(f"builds/{self.id}/card/ochre", **{field: value})
            self.assertEqual(answer.status_code, 422, field)
            self.assertIn(field, answer.content.decode())

    def test_the_kit_is_an_edit_like_any_other(self) -> None:
        gun = {"id": "fine", "name": "Airbrush, 0.2 mm", "nozzle_mm": 0.2}
        body = {
            "base_revision": 1, "command_id": "kit-0000001", "label": "kit",
            "edits": [{"edit": "set_kit", "kit": {"guns": [gun], "most_kpa": 90}}],
        }  # fmt: skip
        answer = self.client.post(f"/api/builds/{self.id}/edits", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content[:200])
        card = self.get(f"builds/{self.id}/card/ochre").json()
        self.assertEqual(card["gun"]["nozzle_mm"], 0.2)
        self.assertLessEqual(card["best"]["pressure_kpa"], 90)

    def test_the_needs_of_a_build_and_a_paint_in_hand(self) -> None:
        told = self.get(f"builds/{self.id}/needs").json()
        self.assertEqual(told, sorted(told, key=lambda n: -n["ml"]))
        card = self.get("card", material="lacquer_primer", nozzle_mm=0.4, area_cm2=50).json()
        self.assertEqual(card["point"]["zone"], "good")
        self.assertEqual(self.get("card", material="porridge").status_code, 404)
        for field, value in (("nozzle_mm", 9), ("area_cm2", -1), ("parts", 1e9), ("method", "shouting")):
            self.assertEqual(self.get("card", **{"material": "lacquer_primer", field: value}).status_code, 422, field)

    def test_small_tools(self) -> None:
        for tool, query, wanted in (
            ("cup", {"cup": "iso_4", "seconds": 60}, {"mm2_s": 78.87}),
            ("cup", {"cup": "iso_4", "mm2_s": 78.87}, {"seconds": 60.0}),
            ("word", {"word": "milk"}, {"low_mpas": 2.6, "high_mpas": 5.0}),
            ("cut", {"ml": 10, "strength_pct": 99, "target_pct": 50}, {"water_ml": 9.8}),
            ("mark", {"mm": 0.3, "scale": 35}, {"real_mm": 10.5}),
            ("drops", {"drops": 25, "ml": 1}, {"drop_ml": 0.04}),
            ("units", {"amount": 1, "unit": "bar"}, {"value": 14.50377}),
            ("units", {"amount": 68, "unit": "°F"}, {"value": 20.0}),
            ("shape", {"length_cm": 1, "width_cm": 2, "height_cm": 3}, {"area_cm2": 22.0}),
            ("shape", {"diameter_cm": 2, "length_cm": 5}, {"area_cm2": 37.7}),
            ("coverage", {"ml": 5, "solids_pct": 24, "film_um": 12}, {"area_cm2": 1000.0}),
            ("combine", {"weak_pct": 10, "strength_pct": 40, "target_pct": 20}, {"weak": 0.6667, "strong": 0.3333}),
        ):  # fmt: skip
            told = self.get(f"tools/{tool}", **query)
            self.assertEqual(told.status_code, 200, (tool, told.content))
            self.assertEqual(told.json()["values"], wanted)
        self.assertEqual(self.get("tools/nothing").status_code, 404)
        for tool, query in (
            ("cup", {"cup": "iso_4", "seconds": 5}), ("cup", {"cup": "teacup", "seconds": 40}), ("area", {}),
            ("ratio", {"paint": 1}), ("word", {"word": "porridge"}), ("mark", {"mm": "wide"}),
            ("units", {"amount": 1, "unit": "furlong"}), ("shape", {"length_cm": 1}),
        ):  # fmt: skip
            self.assertEqual(self.get(f"tools/{tool}", **query).status_code, 422, (tool, query))
        self.assertEqual(len(self.get("tools/cups").json()), 13)

    def test_instruments_are_turned_and_misbehave(self) -> None:
        def turn(key: str, field: str, value: float | str) -> Any:
            body = json.dumps({"field": field, "value": value})
            return self.client.post(f"/api/instruments/{key}", body, content_type="application/json")

        try:
            told = {i["id"]: i for i in turn("hygrometer", "rh_pct", 71).json()}
            self.assertEqual(told["hygrometer"]["values"]["rh_pct"], 71)
            told = {i["id"]: i for i in turn("scale", "fault", "overload").json()}
            self.assertFalse(told["scale"]["trusted"])
            self.assertIn("tare", told["scale"]["words"])
            self.assertEqual(turn("hygrometer", "temp_c", 900).status_code, 422)
            self.assertEqual(turn("hygrometer", "mood", 1).status_code, 422)
            self.assertEqual(turn("kettle", "on", 1).status_code, 404)
        finally:
            turn("hygrometer", "rh_pct", 50)
            turn("scale", "fault", "none")


class Instruments(unittest.TestCase):
    def test_the_gauge_falls_when_the_trigger_opens_and_the_tank_runs_down(self) -> None:
        now = [0.0]
        c = Compressor(lambda: now[0])
        still = c.read().values["gauge_kpa"]
        c.set("flow_l_min", 30.0)
        flowing = c.read().values
        self.assertLess(flowing["gauge_kpa"], still)
        now[0] += 20
        later = c.read().values
        self.assertLess(later["tank_kpa"], flowing["tank_kpa"])
        now[0] += 600
        self.assertFalse(c.read().trusted)  # it draws more than the motor gives
        c.set("flow_l_min", 0)
        now[0] += 120
        self.assertTrue(c.read().trusted)
        self.assertTrue(300 <= c.read().values["tank_kpa"] <= 410)

    def test_the_tank_gives_and_takes_what_it_is_said_to(self) -> None:
        now = [0.0]
        c = Compressor(lambda: now[0])
        c.set("flow_l_min", 2.0)
        before = c.read().values["tank_kpa"]
        now[0] += 30  # the motor stands still above 300 kPa: 1 L of free air out of 3 L
        self.assertAlmostEqual(before - c.read().values["tank_kpa"], 101.325 / 3, delta=0.2)

    def test_faults(self) -> None:
        now = [0.0]
        c = Compressor(lambda: now[0])
        c.set("fault", "gauge_stuck")
        c.set("regulator_kpa", 180)
        self.assertEqual((c.read().values["gauge_kpa"], c.read().trusted), (100.0, False))
        h = Hygrometer()
        h.set("fault", "wet_sensor")
        self.assertFalse(h.read().trusted)
        h.set("fault", "drift")  # a drifting sensor does not know that it drifts
        self.assertEqual((h.read().values["rh_pct"], h.read().trusted), (56.0, True))
        s = Scale()
        s.set("load_g", 12.3)
        s.set("tare", 0)
        s.set("load_g", 14.55)
        self.assertEqual(s.read().values["grams"], 2.25)
        s.set("fault", "unsteady")
        self.assertEqual(len({s.read().values["grams"] for _ in range(5)} | {-1.0}) > 3, True)
        with self.assertRaisesRegex(NotSettable, "fault"):
            s.set("fault", "haunted")
        with self.assertRaisesRegex(NotSettable, "not a number"):
            s.set("load_g", "heavy")
        with self.assertRaises(NotThere):
            Bench().set("kettle", "on", 1)
