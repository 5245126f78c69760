"""The API: what is stored, what is refused, undo that survives, nothing half-written."""

import json
from typing import Any

from builds.models import Build, Change
from django.core.management import call_command
from django.test import Client, TestCase
from emvar_core.plan import parse_plan

from tests.builders import coat, plan_json, tall_json, tug, tug_json

N = iter(range(10**6))


class Api(TestCase):
    def setUp(self) -> None:
        self.client = Client()
        answer = self.post("/api/builds", tug_json())
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        self.id = answer.json()["id"]

    def post(self, url: str, body: Any) -> Any:
        return self.client.post(url, json.dumps(body), content_type="application/json")

    def edit(self, edits: list[dict[str, Any]], base: int | None = None, **more: Any) -> Any:
        base = base or Build.objects.get(pk=self.id).revision
        body = {"base_revision": base, "command_id": f"command-{next(N):04}", "edits": edits, **more}
        return self.post(f"/api/builds/{self.id}/edits", body)

    def wait(self, minutes: float, **more: Any) -> Any:
        return self.edit([{"edit": "set_field", "step_id": "gloss", "field": "wait_min", "value": minutes}], **more)

    def stored_wait(self) -> float:
        steps = Build.objects.get(pk=self.id).plan["steps"]
        return float(next(s for s in steps if s["id"] == "gloss")["wait_min"])

    def test_an_edit_is_stored_and_tells_only_what_it_changed(self) -> None:
        answer = self.edit([{"edit": "set_field", "step_id": "matt", "field": "note", "value": "thin"}]).json()
        self.assertEqual(answer["revision"], 2)
        self.assertEqual((list(answer["steps"]), answer["seams"], answer["coats"]), (["matt"], {}, {}))
        answer = self.edit([{"edit": "set_field", "step_id": "matt", "field": "method", "value": "mist"}]).json()
        self.assertTrue(answer["seams"])
        self.assertTrue(all("matt" in key.split("~") for key in answer["seams"]))

    def test_the_same_command_twice_does_nothing_twice(self) -> None:
        body = {
            "base_revision": 1, "command_id": "the-same-command",
            "edits": [{"edit": "add_step", "index": 0, "step": {
                "kind": "fitting", "id": "look", "name": "Look", "zones": ["deck"], "action": "inspect"}}],
        }  # fmt: skip
        first = self.post(f"/api/builds/{self.id}/edits", body)
        second = self.post(f"/api/builds/{self.id}/edits", body)
        self.assertEqual((first.status_code, second.status_code), (200, 208))
        self.assertEqual(Build.objects.get(pk=self.id).revision, 2)
        # The first answer may have been lost: the second tells everything, not an empty difference.
        self.assertIn("look", {s["id"] for s in second.json()["plan"]["steps"]})
        for way in ("undo", "redo"):
            again = {"base_revision": Build.objects.get(pk=self.id).revision, "command_id": f"{way}-command"}
            codes = [self.post(f"/api/builds/{self.id}/{way}", again).status_code for _ in range(2)]
            self.assertEqual(codes, [200, 208])

    def test_a_stale_edit_gets_the_plan_as_it_is(self) -> None:
        self.wait(500)
        answer = self.wait(600, base=1)
        self.assertEqual(answer.status_code, 409)
        self.assertEqual(answer.json()["revision"], 2)
        self.assertEqual(self.stored_wait(), 500)

    def test_refused_edits_leave_nothing_half_written(self) -> None:
        before = Build.objects.get(pk=self.id).plan
        good = {"edit": "set_field", "step_id": "gloss", "field": "wait_min", "value": 9}
        bad = {"edit": "set_field", "step_id": "gloss", "field": "wait_min", "value": -9}
        answer = self.edit([good, bad])
        self.assertEqual(answer.status_code, 422)
        self.assertIn("wait_min", answer.json()["problems"][0]["where"])
        self.assertEqual(Build.objects.get(pk=self.id).plan, before)
        self.assertEqual(Change.objects.count(), 0)

    def test_a_technique_comes_as_edits_that_change_nothing_yet(self) -> None:
        body = {"technique": "pin_wash", "zones": ["deck"], "index": 3}
        url = f"/api/builds/{self.id}/technique"
        answer = self.client.post(url, body, content_type="application/json")
        self.assertEqual([e["edit"] for e in answer.json()["edits"]], ["add_step", "add_step"])
        self.assertEqual(Build.objects.get(pk=self.id).revision, 1)
        self.assertEqual(self.edit(answer.json()["edits"]).status_code, 200)
        for bad, where in (({"technique": "moonshine"}, "technique"), ({"zones": []}, "zones")):
            refused = self.client.post(url, body | bad, content_type="application/json")
            self.assertEqual((refused.status_code, refused.json()["problems"][0]["where"]), (422, where))

    def test_own_materials_are_told_like_the_others(self) -> None:
        own = [
            {"kind": "thinner", "id": "mine", "name": "My thinner", "percent": {"water": 50, "isopropanol": 50}},
            {"kind": "coat", "id": "old-tin", "name": "Old tin", "bud_test": "mild_thinner"},
        ]
        self.assertEqual(self.edit([{"edit": "set_own_materials", "materials": own}]).status_code, 200)
        told = self.client.get(f"/api/builds/{self.id}/materials").json()
        self.assertEqual([t["id"] for t in told["thinners"]], ["mine"])
        self.assertEqual([(c["id"], c["system"]) for c in told["coats"]], [("old-tin", "lacquer")])

    def test_the_compendium_is_whole(self) -> None:
        told = self.client.get("/api/compendium").json()
        self.assertEqual(set(told), {"coats", "thinners", "bases", "touches", "techniques"})
        self.assertTrue(all(told.values()))

    def test_undo_and_redo_come_from_the_database(self) -> None:
        original = self.stored_wait()
        self.wait(500, label="Gloss clear: wait")
        whole = self.client.get(f"/api/builds/{self.id}").json()
        self.assertEqual(whole["history"], {"undo": "Gloss clear: wait", "redo": None, "own": False})
        self.step("undo")
        self.assertEqual(self.stored_wait(), original)
        self.step("redo")
        self.assertEqual(self.stored_wait(), 500)
        self.step("undo")
        self.wait(700)  # a new edit after an undo: what was undone is gone
        self.assertEqual(self.step("redo").status_code, 422)

    def step(self, way: str) -> Any:
        base = Build.objects.get(pk=self.id).revision
        body = {"base_revision": base, "command_id": f"command-{next(N):04}"}
        return self.post(f"/api/builds/{self.id}/{way}", body)

    def test_a_dry_run_changes_nothing(self) -> None:
        answer = self.wait(900, dry_run=True)
        self.assertTrue(answer.json()["times"])
        self.assertEqual(Build.objects.get(pk=self.id).revision, 1)

    def test_remedies_for_a_seam_and_none_for_no_seam(self) -> None:
        answer = self.client.get(f"/api/builds/{self.id}/seams/matt~hull~streaks").json()
        self.assertTrue(answer["remedies"][0]["edits"])
        self.assertIsNotNone(answer["seam"]["opens_careful_min"])
        self.assertEqual(self.client.get(f"/api/builds/{self.id}/seams/nothing").status_code, 404)

    def test_a_window_that_closes_again_is_told_in_all_its_stretches(self) -> None:
        steps = [coat("one", "enamel_colour"), coat("two", "enamel_colour", 1000), coat("top", "lacquer_clear", 90000)]
        made = self.client.post("/api/builds", json.dumps(plan_json(steps)), content_type="application/json").json()

        def told(seam: str) -> list[list[float | None]]:
            detail = self.client.get(f"/api/builds/{made['id']}/seams/{seam}").json()
            return [[s["since"], s["until"]] for s in detail["stretches"]]

        early, late = told("two~side~one")
        self.assertLess(early[1], 300)  # the same enamel in one go
        self.assertIsNone(late[1])
        opens = made["assessment"]["seams"]["two~side~one"][
            "opens_careful_min"
        ]  # the first ends at 0: the same instant
        self.assertAlmostEqual(late[0] / opens, 1, delta=0.01)
        self.assertEqual(told("one~side~base"), [])

    def test_broken_plans_are_refused_with_their_reasons(self) -> None:
        broken = tug_json()
        broken["steps"][3]["wait_hours"] = 3
        answer = self.post("/api/builds", broken)
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["problems"][0]["where"], "steps[3] 'Deck buff'.wait_hours")
        not_json = self.client.post("/api/builds", "{", content_type="application/json")
        self.assertIn("not JSON", not_json.json()["problems"][0]["what"])
        self.assertEqual(Build.objects.count(), 1)

    def test_the_plan_file_comes_back_as_it_was(self) -> None:
        answer = self.client.get(f"/api/builds/{self.id}/plan.json")
        self.assertEqual(parse_plan(json.loads(answer.content)), parse_plan(tug_json()))

    def test_a_deleted_build_is_gone_and_said_to_be(self) -> None:
        self.assertEqual(self.client.delete(f"/api/builds/{self.id}?command_id=delete-it").status_code, 204)
        self.assertEqual(self.client.get(f"/api/builds/{self.id}").status_code, 404)


class LongPlans(TestCase):
    def test_the_first_answer_is_in_part_and_the_rest_is_there_to_ask_for(self) -> None:
        made = self.client.post("/api/builds", json.dumps(tall_json(90)), content_type="application/json").json()
        body = {
            "base_revision": 1,
            "command_id": "a-long-command",
            "near": {"zone": "z3", "step": "s40"},
            "edits": [{"edit": "set_field", "step_id": "s40", "field": "wait_min", "value": 1}],
        }
        url = f"/api/builds/{made['id']}"
        part = self.client.post(f"{url}/edits", json.dumps(body), content_type="application/json").json()
        self.assertEqual((part["partial"]["zone"], part["partial"]["steps"][0]), ("z3", "s40"))
        whole = self.client.get(url).json()["assessment"]
        self.assertTrue(part["seams"])
        for key, seam in part["seams"].items():
            self.assertEqual(seam, whole["seams"][key])


class Guards(TestCase):
    def test_csrf_is_checked_on_every_write(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        answer = strict.post("/api/builds", "{}", content_type="application/json")
        self.assertEqual(answer.status_code, 403)

    def test_other_hosts_are_turned_away(self) -> None:
        self.assertEqual(self.client.get("/api/builds", HTTP_HOST="elsewhere.example").status_code, 400)

    def test_no_style_runs_but_the_page_s_own_with_a_nonce_of_this_answer(self) -> None:
        policies = [self.client.get("/").headers["Content-Security-Policy"] for _ in range(2)]
        self.assertNotEqual(*policies)
        for told in (*policies, self.client.get("/api/builds").headers["Content-Security-Policy"]):
            self.assertNotIn("unsafe-inline", told)

    def test_static_files_answer_our_host_alone_and_no_other_origin(self) -> None:
        self.assertEqual(self.client.get("/icon.svg", HTTP_HOST="elsewhere.example").status_code, 400)
        self.assertNotIn("Access-Control-Allow-Origin", self.client.get("/icon.svg").headers)

    def test_a_policy_stands_on_every_answer(self) -> None:
        self.assertIn("default-src 'self'", self.client.get("/api/builds").headers["Content-Security-Policy"])


class Demo(TestCase):
    def test_it_loads_once_and_stays_deleted_until_reset(self) -> None:
        call_command("load_demo", verbosity=0)
        build = Build.objects.get(pk="demo-harbour-tug")
        build.name = "My tug"
        build.save()
        call_command("load_demo", verbosity=0)
        self.assertEqual(Build.objects.get(pk="demo-harbour-tug").name, "My tug")
        build.delete()
        call_command("load_demo", verbosity=0)
        self.assertFalse(Build.objects.filter(pk="demo-harbour-tug").exists())
        call_command("load_demo", "--reset", verbosity=0)
        self.assertEqual(Build.objects.get(pk="demo-harbour-tug").name, "Harbour tug")


class Ways(TestCase):
    """What only reads: rescue, reach, over and under, substitutes, faults, trials, parking, mending."""

    def setUp(self) -> None:
        from builds import store

        self.id = store.create(tug(), "tug").pk

    def get(self, path: str, status: int = 200) -> Any:
        answer = self.client.get(f"/api/builds/{self.id}/{path}")
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def test_each_answers_and_changes_nothing(self) -> None:
        rescue = self.get("rescue/hull/pin-wash?at=3700")
        self.assertEqual(rescue["rescue"]["state"], "clean")
        self.assertEqual(rescue["wipe"]["zone_id"], "hull")
        self.assertEqual(len(self.get("reach?at=3700")), 5)
        self.assertEqual(self.get("over/hull?at=3700")[0]["verdict"] in ("sound", "wait"), True)
        self.assertTrue(self.get("under/pin-wash"))
        self.assertTrue(self.get("substitutes/matt/hot_thinner"))
        self.assertEqual(self.get("diagnose/hull/matt/wrinkle?at=9000")["causes"][0]["id"], "half_cured")
        self.assertTrue(self.get("scrap-test/matt~hull~streaks")["do"])
        self.assertFalse(self.get("park?at=2960")["safe"])
        self.assertEqual(self.get("mended")["after"]["clashes"], 0)
        self.assertEqual(self.get("undoable")["left"], [])
        self.assertTrue(self.get("remarks/worn-grey~carrier"))
        self.assertEqual(Build.objects.get(pk=self.id).revision, 1)

    def test_another_material_is_worked_out_and_nothing_is_changed_yet(self) -> None:
        def ask(step: str, material: str) -> Any:
            body = {"step": step, "material": material}
            return self.client.post(f"/api/builds/{self.id}/replace", body, content_type="application/json")

        told = ask("pin-wash", "artists_oil").json()
        self.assertEqual(told["edits"][0]["value"], "artists_oil")
        self.assertTrue(told["kept"])
        self.assertTrue(ask("pin-wash", "decal").json()["lost"])
        self.assertEqual(Build.objects.get(pk=self.id).revision, 1)
        self.assertEqual(ask("pin-wash", "moonshine").status_code, 404)
        self.assertEqual(ask("nothing", "decal").status_code, 404)

    def test_words_thresholds_and_work_come_from_the_api(self) -> None:
        known = self.client.get("/api/knowledge").json()
        self.assertIn({"id": "mist", "words": "misted on"}, known["words"]["laid_by"])
        self.assertEqual((known["caution_from"], known["clash_from"]), (0.2, 0.5))
        clay = next(c for c in known["coats"] if c["system"] == "clay" and c["works"])
        self.assertEqual({w["carrier"] for w in clay["works"]}, {"water"})

    def test_what_is_not_there_is_said_in_words(self) -> None:
        for path in (
            "rescue/hull/nothing?at=1", "over/nowhere?at=1", "under/wipe", "substitutes/matt/moonshine",
            "diagnose/hull/matt/haunted?at=1", "scrap-test/x~y~z", "remarks/x~y",
        ):  # fmt: skip
            self.assertIn("no such", self.get(path, 404)["problems"][0]["what"])
        for path in ("reach?at=-5", "reach?at=nan", "park?at=1e12", "reach"):
            self.get(path, 422)
