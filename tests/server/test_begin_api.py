"""Beginning builds and outlines through the API; a build from afar."""

import json
import tempfile
import uuid
from pathlib import Path

from builds.models import Build
from django.core.management import call_command
from django.test import TestCase
from vault import archive

START = {"name": "Pilot cutter", "starts_at": "2026-11-26T19:00:00+00:00"}


class Beginning(TestCase):
    def post(self, path: str, body: dict) -> tuple[int, dict]:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json()

    def begin(self, source: dict | None = None, **more: object) -> tuple[int, dict]:
        beginning = {**START, "zones": [{"name": "Hull"}], **more}
        return self.post("/api/begin", {"command_id": uuid.uuid4().hex, "beginning": beginning, "source": source or {}})

    def test_from_nothing_from_an_outline_and_as_a_copy(self) -> None:
        status, made = self.begin()
        self.assertEqual((status, made["plan"]["steps"]), (201, []))
        self.assertIsNone(made["plan"]["zones"][0].get("area_cm2"))
        for outline in self.client.get("/api/outlines").json():
            zones = [{"name": z["name"], "like": z["id"]} for z in outline["zones"]]
            status, made = self.begin({"outline": outline["id"]}, zones=zones)
            self.assertEqual((status, len(made["plan"]["steps"])), (201, outline["steps"]))
            self.assertEqual(made["assessment"]["stories"], [])
        status, copy = self.begin({"build": made["id"]}, name="The sister")
        self.assertEqual((status, copy["plan"]["build"]["name"]), (201, "The sister"))
        self.assertGreater(len(copy["plan"]["steps"]), 0)

    def test_sent_twice_it_is_one_build(self) -> None:
        body = {"command_id": "twice-twice", "beginning": {**START, "zones": [{"name": "Hull"}]}, "source": {}}
        first, second = self.post("/api/begin", body), self.post("/api/begin", body)
        self.assertEqual((first[0], second[0]), (201, 208))
        self.assertEqual(first[1]["id"], second[1]["id"])
        self.assertEqual(Build.objects.count(), 1)

    def test_what_cannot_stand_is_refused_in_words_and_nothing_is_stored(self) -> None:
        for more, said in (
            ({"zones": [{"name": "Hull", "area_cm2": -4}]}, "an area must be larger than 0 cm²"),
            ({"scale": 0}, "the scale, 1 to so many, must be at least 1"),
            ({"name": ""}, "a name must not be empty"),
            ({"air": {"day": {"temp_c": 900}}}, "the temperature must be at most 60 °C"),
        ):
            status, answer = self.begin(**more)
            self.assertEqual(status, 422)
            self.assertIn(said, [p["what"] for p in answer["problems"]])
        self.assertEqual(self.begin({"outline": "none-such"})[0], 404)
        self.assertEqual(Build.objects.count(), 0)

    def test_an_outline_of_ones_own_is_offered_and_is_no_build(self) -> None:
        _, made = self.begin({"outline": "clean"}, zones=[{"name": "Hull", "like": "hull"}])
        body = {"command_id": "own-outline-1", "name": "My way"}
        status, row = self.post(f"/api/builds/{made['id']}/outline", body)
        self.assertEqual((status, row["own"]), (201, True))
        self.assertEqual(self.post(f"/api/builds/{made['id']}/outline", body)[0], 208)
        self.assertEqual([b["name"] for b in self.client.get("/api/builds").json()], ["Pilot cutter"])
        self.assertEqual(len(self.client.get("/api/outlines").json()), 7)
        status, other = self.begin({"outline": row["id"]}, zones=[{"name": "Skiff"}])
        self.assertEqual((status, len(other["plan"]["steps"])), (201, row["steps"]))

    def test_outlines_of_ones_own_lie_in_every_copy(self) -> None:
        _, made = self.begin({"outline": "clean"}, zones=[{"name": "Hull", "like": "hull"}])
        self.post(f"/api/builds/{made['id']}/outline", {"command_id": "own-outline-2", "name": "My way"})
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "copy.zip"
            archive.write(path)
            kept = archive.read(path).builds
        named = sorted((k.plan.build.name, k.about.outline) for k in kept)
        self.assertEqual(named, [("My way", True), ("Pilot cutter", False)])
        Build.everything.all().delete()
        for k in kept:
            archive.put(k, k.about.id)
        self.assertEqual([o["name"] for o in self.client.get("/api/outlines").json() if o["own"]], ["My way"])


class FromAfar(TestCase):
    def test_a_build_is_a_small_rack_with_what_is_wrong_and_what_comes_next(self) -> None:
        call_command("load_demo", "--reset", verbosity=0)
        seen = self.client.get("/api/builds/demo-harbour-tug/glance").json()
        self.assertEqual([c["zone"] for c in seen["cores"]][:2], ["Hull below water", "Topsides"])
        self.assertEqual([len(c["coats"]) for c in seen["cores"]], [8, 10, 8, 9, 8])
        self.assertEqual((seen["counts"]["clash"], seen["counts"]["wait"]), (2, 5))
        self.assertTrue(seen["worst"])
        whole = self.client.get("/api/builds/demo-harbour-tug").json()["assessment"]
        self.assertEqual(sum(seen["counts"].values()), len(whole["stories"]))

    def test_a_very_long_one_is_drawn_and_not_judged(self) -> None:
        from builds import store
        from emvar_core.plan import parse_plan

        from tests.builders import tall_json

        build = store.create(parse_plan(tall_json(401)))
        seen = self.client.get(f"/api/builds/{build.pk}/glance").json()
        self.assertIsNone(seen["counts"])
        self.assertEqual(len(seen["cores"]), 5)
