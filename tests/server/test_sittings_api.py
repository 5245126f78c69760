"""Sittings over the API: the child process that searches, what is kept, drags, records, and files."""

import csv
import io
import itertools
import json
import os
import random
import subprocess
import sys
import time
from typing import Any
from unittest.mock import patch

from builds.models import Build
from django.test import Client, TransactionTestCase
from emvar_core.plan import parse_plan
from emvar_core.schedule.drag import move
from icalendar import Calendar
from sittings.search import SEARCH, Search

from tests.builders import batch_json, coat, plan_json, short_tug_json
from tests.core.test_memory import random_change

WAIT_S = 300


def put_together(build: dict[str, Any], changed: dict[str, Any]) -> dict[str, Any]:
    """A build with what an edit changed, by the words of the API."""
    was = build["assessment"]
    steps = {s["id"]: s for s in build["plan"]["steps"]} | changed["steps"]

    def merged(part: str, gone: list[str]) -> dict[str, Any]:
        return {k: v for k, v in (was[part] | changed[part]).items() if k not in gone}

    left = [s for s in was["times"] if s not in changed["order"]]
    same = {k: changed[k] for k in ("notes", "remarks", "stories", "score", "end_min")}
    return build | {
        "revision": changed["revision"],
        "plan": build["plan"] | changed["head"] | {"steps": [steps[i] for i in changed["order"]]},
        "assessment": same
        | {"times": merged("times", left), "cups": merged("cups", left)}
        | {"coats": merged("coats", changed["coats_gone"]), "seams": merged("seams", changed["seams_gone"])},
    }


N = iter(range(10**6))


class Sittings(TransactionTestCase):
    """A transaction case: the search is kept by a thread of its own."""

    def setUp(self) -> None:
        self.client = Client()
        self.id = self.post("/api/builds", short_tug_json()).json()["id"]
        self.url = f"/api/builds/{self.id}/sittings"

    def tearDown(self) -> None:
        for kind in ("search", "dry_run", "changes", "what_if"):
            SEARCH.stop(self.id, kind)

    def post(self, url: str, body: Any) -> Any:
        if url.endswith(("/pin", "/record", "/unrecord", "/back")):
            body = {"command_id": f"command-{next(N):04}"} | body
        return self.client.post(url, json.dumps(body), content_type="application/json")

    def shown(self) -> Any:
        answer = self.client.get(self.url)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def search(self, kind: str = "search", seconds: float = 20) -> Any:
        answer = self.post(f"{self.url}/search", {"kind": kind, "seconds": seconds})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return self.ended(kind)

    def ended(self, kind: str = "search") -> Any:
        until = time.monotonic() + WAIT_S
        while time.monotonic() < until:
            job = self.client.get(f"{self.url}/search/{kind}").json()
            if job["state"] not in ("waiting", "running"):
                return job
            time.sleep(0.05)
        raise AssertionError("the search does not end")

    def placed(self) -> dict[str, str]:
        return {e["step"]: e["starts_at"] for e in self.shown()["view"]["schedule"]["placed"]}

    def test_before_a_search_there_is_something_to_look_at_but_no_schedule(self) -> None:
        shown = self.shown()
        self.assertFalse(shown["scheduled"])
        self.assertEqual(shown["proof"], "not planned yet")
        self.assertTrue(any(s["lines"] for s in shown["view"]["sittings"]))
        refused = self.post(f"{self.url}/move", {"step": "gloss", "start_min": 0})
        self.assertEqual((refused.status_code, refused.json()["problems"][0]["where"]), (422, "schedule"))

    def test_a_search_is_kept_and_survives(self) -> None:
        self.assertEqual(self.search()["state"], "done")
        shown = self.shown()
        self.assertTrue(shown["scheduled"])
        self.assertEqual(shown["proof"], "proven best")
        self.assertEqual(
            {e["step"] for e in shown["view"]["schedule"]["placed"]}, {s["id"] for s in short_tug_json()["steps"]}
        )
        self.assertEqual(shown["view"]["assessment"]["score"]["waits"], 0)

    def test_seams_rescues_and_stops_can_be_asked_for_as_scheduled(self) -> None:
        build = self.client.get(f"/api/builds/{self.id}").json()
        self.assertFalse(build["scheduled"])
        own = build["assessment"]
        waits = next(i for i, s in own["seams"].items() if s["verdict"] == "wait")
        url = f"/api/builds/{self.id}/seams/{waits}"
        self.assertEqual(self.client.get(f"{url}?times=schedule").json(), self.client.get(url).json())
        self.search()
        at_own = self.client.get(f"/api/builds/{self.id}").json()
        self.assertEqual((at_own["scheduled"], at_own["times"], at_own["assessment"]), (True, "plan", own))
        at_sittings = self.client.get(f"/api/builds/{self.id}?times=schedule").json()
        self.assertEqual(at_sittings["times"], "schedule")
        placed = self.shown()["view"]["assessment"]
        self.assertEqual(at_sittings["assessment"]["times"], placed["times"])
        detail = self.client.get(f"{url}?times=schedule").json()
        self.assertEqual(detail["seam"]["verdict"], placed["seams"][waits]["verdict"])
        self.assertEqual(detail["seam"]["at_min"], placed["seams"][waits]["at_min"])
        self.assertEqual(self.client.get(url).json()["seam"]["verdict"], "wait")
        self.assertEqual(detail["own"]["verdict"], "wait")
        self.assertNotIn(detail["seam"]["verdict"], ("wait", "clash"))  # the sittings see to it
        self.assertTrue(self.client.get(url).json()["remedies"])
        bad = next(
            i for i, s in placed["seams"].items() if s["verdict"] != "sound" and own["seams"][i]["verdict"] == "clash"
        )
        both = [self.client.get(f"/api/builds/{self.id}/seams/{bad}?times={t}").json() for t in ("plan", "schedule")]
        # Each is tried by its own clock, and starts from what that clock tells.
        for times, told in (("plan", own), ("schedule", placed)):
            ways = both[times == "schedule"]["remedies"]
            self.assertTrue(all(w["before"]["clashes"] <= told["score"]["clashes"] for w in ways))
        self.assertTrue(both[0]["remedies"])
        # The pin wash is on the model by the schedule, hours or days after the plan's own times would have it there.
        step, zone = "pin-wash", "hull"
        end = placed["times"][step]["end_min"]
        self.assertNotAlmostEqual(end, own["times"][step]["end_min"], delta=60)
        asked = f"/api/builds/{self.id}/rescue/{zone}/{step}?at={end + 5}"
        early = f"/api/builds/{self.id}/rescue/{zone}/{step}?at={end - 600}"
        self.assertNotEqual(self.client.get(f"{asked}&times=schedule").json()["rescue"]["state"], "not_yet")
        self.assertEqual(self.client.get(f"{early}&times=schedule").json()["rescue"]["state"], "not_yet")
        for path in (f"reach?at={end}", f"park?at={end}", f"over/{zone}?at={end}"):
            by = {t: self.client.get(f"/api/builds/{self.id}/{path}&times={t}").json() for t in ("plan", "schedule")}
            self.assertNotEqual(by["plan"], by["schedule"], path)
        self.assertEqual(self.client.get(f"{asked}&times=dream").status_code, 422)

    def test_the_clock_is_turned_by_hand_only_and_kept_with_the_build(self) -> None:
        def looked_at() -> tuple[str, str]:
            told = self.client.get(f"/api/builds/{self.id}").json()
            return told["clock"], told["times"]

        def turn(clock: str) -> Any:
            body = {"clock": clock, "command_id": f"turn-it-{next(N):04}"}
            return self.post(f"/api/builds/{self.id}/clock", body)

        self.assertEqual(turn("schedule").json()["times"], "plan")  # nothing is planned yet
        self.search()
        self.assertEqual(looked_at(), ("schedule", "schedule"))
        card = self.client.get(f"/api/builds/{self.id}/card/gloss").json()
        self.assertEqual(turn("plan").json()["clock"], "plan")
        self.assertEqual(looked_at(), ("plan", "plan"))
        self.shown()
        self.assertEqual(looked_at(), ("plan", "plan"))  # looking at the sittings turns nothing
        self.assertEqual(self.client.get(f"/api/builds/{self.id}/card/gloss").json()["name"], card["name"])
        self.assertEqual(turn("yesterday").status_code, 422)

    def test_an_edit_that_is_undone_makes_the_schedule_current_again(self) -> None:
        self.search()
        self.assertFalse(self.shown()["stale"])

        def send(way: str, **more: Any) -> None:
            revision = Build.objects.get(pk=self.id).revision
            body = {"base_revision": revision, "command_id": f"stale-{next(N):04}", **more}
            self.assertEqual(self.post(f"/api/builds/{self.id}/{way}", body).status_code, 200)

        send("edits", edits=[{"edit": "set_field", "step_id": "gloss", "field": "note", "value": "thin"}])
        self.assertFalse(self.shown()["stale"])  # a note moves nothing
        send("edits", edits=[{"edit": "set_field", "step_id": "gloss", "field": "dry_film_um", "value": 55}])
        self.assertTrue(self.shown()["stale"])
        send("undo")
        self.assertFalse(self.shown()["stale"])

    def test_edits_are_answered_as_scheduled_where_that_is_shown(self) -> None:
        self.search()
        edit = {"edit": "set_field", "step_id": "gloss", "field": "dry_film_um", "value": 55}
        whole = self.client.get(f"/api/builds/{self.id}?times=schedule").json()
        body = {
            "base_revision": whole["revision"],
            "command_id": "as-scheduled-1",
            "edits": [edit],
            "times": "schedule",
        }
        changed = self.post(f"/api/builds/{self.id}/edits", body).json()
        after = self.client.get(f"/api/builds/{self.id}?times=schedule").json()
        self.assertEqual(changed["times"], {})  # what is placed stays where it is
        self.assertTrue(changed["coats"])
        self.assertEqual(
            {k: v for k, v in after["assessment"]["coats"].items() if whole["assessment"]["coats"][k] != v},
            changed["coats"],
        )
        self.assertEqual(after["assessment"]["stories"], changed["stories"])
        back = {"base_revision": after["revision"], "command_id": "as-scheduled-2", "times": "schedule"}
        self.assertEqual(
            self.post(f"/api/builds/{self.id}/undo", back).json()["stories"], whole["assessment"]["stories"]
        )
        stale = self.post(f"/api/builds/{self.id}/edits", body | {"command_id": "as-scheduled-3"})
        self.assertEqual((stale.status_code, stale.json()["times"]), (409, "schedule"))

    def test_what_changed_and_what_was_there_before_make_the_whole_whichever_times_are_shown(self) -> None:
        """As the screen does it: the answers to random edits, put together, are what the server would tell afresh."""
        self.search()
        plan = parse_plan(short_tug_json())
        for times in ("schedule", "plan"):
            rng = random.Random(f"edits {times}")
            shown = self.client.get(f"/api/builds/{self.id}?times={times}").json()
            done = 0
            for i in range(14):
                body = {"base_revision": shown["revision"], "command_id": f"random-{times}-{i}", "times": times}
                answer = self.post(f"/api/builds/{self.id}/edits", body | {"edits": [random_change(rng, plan)]})
                if answer.status_code == 422:
                    continue
                done += 1
                shown = put_together(shown, answer.json())
                fresh = self.client.get(f"/api/builds/{self.id}?times={times}").json()
                self.assertEqual(shown["plan"], fresh["plan"])
                for part in ("times", "coats", "seams", "cups", "notes", "remarks", "stories", "score", "end_min"):
                    self.assertEqual(shown["assessment"][part], fresh["assessment"][part], part)
                plan = parse_plan(fresh["plan"])
            self.assertGreater(done, 5)

    def test_a_search_that_is_stopped_keeps_the_best_so_far(self) -> None:
        self.post(f"{self.url}/search", {"kind": "search", "seconds": 60})
        until = time.monotonic() + WAIT_S
        while (time.monotonic() < until and not (job := SEARCH.job(self.id, "search"))) or job.schedule is None:
            time.sleep(0.01)
        stopped = self.post(f"{self.url}/search/search/stop", {}).json()
        self.assertIn(stopped["state"], ("stopped", "done"))
        self.assertTrue(self.shown()["scheduled"])

    def test_a_plan_that_changed_since_is_told_and_a_removed_step_is_gone_from_the_schedule(self) -> None:
        self.search()
        build = Build.objects.get(pk=self.id)
        body = {
            "base_revision": build.revision,
            "command_id": "remove-dust-1",
            "edits": [{"edit": "remove_step", "step_id": "dust"}],
        }
        self.assertEqual(self.post(f"/api/builds/{self.id}/edits", body).status_code, 200)
        shown = self.shown()
        self.assertTrue(shown["stale"])
        self.assertNotIn("dust", {e["step"] for e in shown["view"]["schedule"]["placed"]})

    def test_a_drag_is_tried_without_keeping_and_kept_on_demand_and_gone_back_on(self) -> None:
        self.search()
        was = self.placed()
        start = self.shown()["view"]["assessment"]["times"]["matt"]["start_min"] + 1440
        tried = self.post(f"{self.url}/move", {"step": "matt", "start_min": start})
        self.assertEqual(tried.status_code, 200)
        self.assertEqual(self.placed(), was)
        self.post(f"{self.url}/move", {"step": "matt", "start_min": start, "keep": True})
        now = self.placed()
        self.assertNotEqual(now["matt"], was["matt"])
        shown = self.shown()
        self.assertIn("matt", shown["view"]["schedule"]["pins"])
        self.assertTrue(shown["can_go_back"])
        self.assertIn("matt", {m["step"] for m in shown["view"]["moved"]})
        self.post(f"{self.url}/back", {})
        self.assertEqual(self.placed(), was)

    def test_a_drag_of_a_schedule_that_was_planned_anew_meanwhile_is_refused(self) -> None:
        self.search()
        was = self.placed()

        def meanwhile(*args: Any) -> Any:
            self.post(f"{self.url}/pin", {"step": "gloss", "pinned": True})
            return move(*args)

        drag = {"step": "matt", "start_min": 40_000, "keep": True, "command_id": "late-drag-command"}
        with patch("api.sittings.move", side_effect=meanwhile):
            answer = self.post(f"{self.url}/move", drag)
        self.assertEqual((answer.status_code, answer.json()["problems"][0]["where"]), (409, "schedule"))
        self.assertEqual(self.placed(), was)

    def test_pins_hold_in_the_next_search_until_let_go(self) -> None:
        self.search()
        start = self.shown()["view"]["assessment"]["times"]["gloss"]["start_min"]
        later = next(s["start_min"] for s in self.shown()["view"]["sittings"] if s["start_min"] > start + 300)
        self.post(f"{self.url}/move", {"step": "gloss", "start_min": later, "keep": True})
        self.search()
        self.assertEqual(self.shown()["view"]["assessment"]["times"]["gloss"]["start_min"], later)
        self.post(f"{self.url}/pin", {"step": "gloss", "pinned": False})
        self.search()
        self.assertLess(self.shown()["view"]["assessment"]["times"]["gloss"]["start_min"], later)

    def test_what_happened_is_recorded_stays_and_can_be_taken_back(self) -> None:
        self.search()
        placed = self.shown()["view"]["schedule"]["placed"]
        entries = [e | {"state": "done"} for e in placed if e["step"] == "primer"]
        answer = self.post(f"{self.url}/record", {"entries": entries, "now_at": entries[0]["ends_at"]})
        self.assertEqual(answer.json()["view"]["states"], {"primer": "done"})
        self.search()
        shown = self.shown()
        self.assertNotIn("primer", {e["step"] for e in shown["view"]["schedule"]["placed"]})
        self.assertGreaterEqual(shown["view"]["now_min"], 50)
        self.assertEqual(self.post(f"{self.url}/unrecord", {}).json()["view"]["states"], {})
        self.assertEqual(self.post(f"{self.url}/unrecord", {}).status_code, 422)

    def test_a_step_done_in_some_zones_only_is_split_and_the_rest_is_planned(self) -> None:
        self.search()
        placed = [e for e in self.shown()["view"]["schedule"]["placed"] if e["step"] == "primer"]
        done = [e | {"state": "done"} for e in placed if e["zone"] in ("hull", "deck")]
        answer = self.post(f"{self.url}/record", {"entries": done, "now_at": done[0]["ends_at"]})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        steps = {s["id"]: s["zones"] for s in Build.objects.get(pk=self.id).plan["steps"]}
        self.assertEqual(steps["primer"], ["topsides", "house", "funnel"])
        split = next(s for s in steps if s.startswith("primer-done"))
        self.assertEqual(answer.json()["view"]["states"], {split: "done"})
        self.search()
        self.assertIn("primer", self.placed())
        self.assertNotIn(split, self.placed())

    def test_a_record_of_what_is_not_in_the_plan_is_refused_and_nothing_is_kept(self) -> None:
        entry = {"step": "nothing", "zone": "hull", "state": "done", "starts_at": "2026-11-26T19:00:00Z",
                 "ends_at": "2026-11-26T20:00:00Z"}  # fmt: skip
        answer = self.post(f"{self.url}/record", {"entries": [entry]})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("nothing", answer.json()["problems"][0]["what"])
        self.assertFalse(self.shown()["can_unrecord"])

    def test_a_missed_sitting_is_planned_round(self) -> None:
        self.search()
        first = next(s for s in self.shown()["view"]["sittings"] if s["lines"])
        missed = {"entries": [], "now_at": short_tug_json()["build"]["starts_at"].replace("19:00", "21:30")}
        self.post(f"{self.url}/record", missed)
        self.search()
        starts = [t["start_min"] for t in self.shown()["view"]["assessment"]["times"].values()]
        self.assertGreaterEqual(min(starts), first["end_min"])
        self.assertTrue(self.shown()["view"]["moved"])

    def test_hours_are_tried_by_a_drag_and_taken_with_their_schedule_in_one_go(self) -> None:
        self.search()
        hours = self.shown()["hours"] | {"cancelled": ["2026-11-28T10:00"]}
        tried = self.post(f"{self.url}/move", {"hours": hours})
        self.assertEqual(tried.status_code, 200, tried.content[:300])
        self.assertGreater(len(tried.json()["moved"]), 3)
        body = {
            "base_revision": self.shown()["revision"],
            "command_id": "hours-0001",
            "label": "No Saturday",
            "edits": [{"edit": "set_hours", "hours": hours}],
            "schedule": tried.json()["schedule"],
        }
        taken = self.post(f"{self.url}/take", body)
        self.assertEqual(taken.status_code, 200, taken.content[:300])
        self.assertNotIn("2026-11-28T10:00", {s["id"] for s in taken.json()["view"]["sittings"]})
        stale = self.post(f"{self.url}/take", body | {"command_id": "hours-0002"})
        self.assertEqual(stale.status_code, 409)
        bad = self.post(f"{self.url}/move", {"hours": {"weekly": [{"days": ["x"], "start": "1", "length_min": 1}]}})
        self.assertEqual(bad.status_code, 422)

    def test_dry_run_and_changes_come_from_the_child_as_well(self) -> None:
        refused = self.post(f"{self.url}/search", {"kind": "dry_run"})
        self.assertEqual(refused.status_code, 422)
        self.search()
        played = self.search("dry_run")
        self.assertEqual(played["dry_run"]["runs"], 300)
        self.assertEqual(self.search("changes")["changes"], [])

    def test_without_hours_it_says_so(self) -> None:
        build = Build.objects.get(pk=self.id)
        edits = [{"edit": "set_hours", "hours": {"weekly": []}}]
        body = {"base_revision": build.revision, "command_id": "no-hours-1", "edits": edits}
        self.post(f"/api/builds/{self.id}/edits", body)
        self.assertEqual(self.shown()["view"]["sittings"], [])
        refused = self.post(f"{self.url}/search", {"kind": "search"})
        self.assertEqual((refused.status_code, refused.json()["problems"][0]["where"]), (422, "hours"))

    def test_a_child_that_dies_is_told_and_the_next_search_works(self) -> None:
        self.post(f"{self.url}/search", {"kind": "search", "seconds": 60})
        child = SEARCH._child
        assert child is not None
        child.kill()
        job = self.ended()
        self.assertEqual(job["state"], "failed")
        self.assertIn("start it again", job["error"])
        self.assertEqual(self.search()["state"], "done")

    def test_a_new_search_ends_the_one_before(self) -> None:
        self.post(f"{self.url}/search", {"kind": "what_if", "seconds": 60})
        self.assertEqual(self.search()["state"], "done")
        self.assertEqual(self.client.get(f"{self.url}/search/what_if").json()["state"], "stopped")

    def test_what_is_sent_twice_counts_once_whatever_it_is(self) -> None:
        """As when the first answer is lost: the same command again changes nothing more, and tells what is."""
        self.search()
        was = self.placed()
        start = self.shown()["view"]["assessment"]["times"]["matt"]["start_min"] + 1440
        move = {"step": "matt", "start_min": start, "keep": True, "command_id": "move-command"}
        for _ in range(2):
            self.assertEqual(self.post(f"{self.url}/move", move).status_code, 200)
        moved = self.placed()
        for _ in range(2):
            self.post(f"{self.url}/back", {"command_id": "back-command"})
        self.assertEqual(self.placed(), was)  # and not there and back again
        self.post(f"{self.url}/back", {})
        self.assertEqual(self.placed(), moved)
        for step in ("primer", "bollards"):
            entries = [e | {"state": "done"} for e in self.shown()["view"]["schedule"]["placed"] if e["step"] == step]
            for _ in range(2):
                self.post(f"{self.url}/record", {"command_id": f"{step}-command", "entries": entries})
        for _ in range(2):
            states = self.post(f"{self.url}/unrecord", {"command_id": "unrecord-command"}).json()["view"]["states"]
        self.assertEqual(states, {"primer": "done"})  # one entry was taken back, not two
        for pinned in (True, False):
            for _ in range(2):
                body = {"step": "gloss", "pinned": pinned, "command_id": f"pin-{pinned}-command"}
                shown = self.post(f"{self.url}/pin", body).json()
            self.assertEqual("gloss" in shown["view"]["schedule"]["pins"], pinned)

    def test_drags_anywhere_are_answered_in_figures(self) -> None:
        self.search()
        steps = list(self.placed())
        rng = random.Random(5)
        for _ in range(60):
            drag = {
                "step": rng.choice(steps),
                "start_min": rng.choice([rng.uniform(-2000, 6000), rng.uniform(0, 86400)]),
            }
            answer = self.post(f"{self.url}/move", drag)
            self.assertEqual(answer.status_code, 200, (drag, answer.content[:200]))
            for unfit in answer.json()["unfit"]:
                self.assertTrue(unfit["words"].endswith("."), unfit)

    def test_another_build_s_search_waits_its_turn_and_ends_nothing(self) -> None:
        long = self.post("/api/builds", batch_json(12)).json()["id"]
        self.post(f"/api/builds/{long}/sittings/search", {"kind": "search", "seconds": 60})
        asked = self.post(f"{self.url}/search", {"kind": "search", "seconds": 20}).json()
        self.assertEqual((asked["state"], asked["waits_for"]), ("waiting", "A batch of buoys"))
        other = f"/api/builds/{long}/sittings/search"
        self.assertEqual(self.client.get(f"{other}/search").json()["state"], "running")
        self.client.post(f"{other}/search/stop", "{}", content_type="application/json")
        self.assertEqual(self.ended()["state"], "done")

    def test_the_child_ends_with_the_server_that_asked_it(self) -> None:
        work = {"plan": batch_json(12), "record": {}, "pins": {}, "seconds": 60, "job": 1, "kind": "search"}
        env = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
        child = subprocess.Popen(
            [sys.executable, "-m", "sittings.worker"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=env
        )
        assert child.stdin is not None and child.stdout is not None
        child.stdin.write(json.dumps(work) + "\n")
        child.stdin.flush()
        self.assertIn('"job": 1', child.stdout.readline())  # it is at it
        child.stdin.close()  # as when the server is killed
        self.assertEqual(child.wait(timeout=2), 0)
        child.stdout.close()

    def test_files_are_read_back(self) -> None:
        self.search()
        calendar = self.client.get(f"/api/builds/{self.id}/sittings.ics")
        self.assertIn("text/calendar", calendar["Content-Type"])
        events = list(Calendar.from_ical(calendar.content).walk("VEVENT"))
        used = [s for s in self.shown()["view"]["sittings"] if s["lines"]]
        self.assertGreaterEqual(len(events), len(used))
        rows = list(
            csv.DictReader(io.StringIO(self.client.get(f"/api/builds/{self.id}/sittings.csv").content.decode()))
        )
        self.assertEqual(len(rows), len(short_tug_json()["steps"]))

    def test_no_such_build_is_404_everywhere(self) -> None:
        for url in ("/api/builds/none/sittings", "/api/builds/none/sittings.ics", "/api/builds/none/sittings.csv"):
            self.assertEqual(self.client.get(url).status_code, 404, url)
        self.assertEqual(self.post("/api/builds/none/sittings/back", {}).status_code, 404)

    def test_deleting_a_build_takes_its_timetable_along(self) -> None:
        self.search()
        self.client.delete(f"/api/builds/{self.id}?command_id=delete-it")
        self.assertEqual(self.client.get(self.url).status_code, 404)


class Taken(TransactionTestCase):
    """One calendar for several builds, and calendars that are read in."""

    def build(self, name: str, **hours: Any) -> str:
        every_day = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "start": "18:00", "length_min": 120}
        steps = [coat("primer", "lacquer_primer", hands_on_min=60), coat("colour", "lacquer_colour", hands_on_min=45)]
        plan = plan_json(steps, hours={"weekly": [every_day]} | hours)
        plan["build"]["name"] = name
        answer = self.client.post("/api/builds", json.dumps(plan), content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return str(answer.json()["id"])

    def planned(self, build: str) -> list[tuple[str, str]]:
        url = f"/api/builds/{build}/sittings"
        started = self.client.post(f"{url}/search", json.dumps({"seconds": 5}), content_type="application/json")
        self.assertEqual(started.status_code, 200, started.content[:300])
        ends = time.monotonic() + WAIT_S
        while self.client.get(f"{url}/search/search").json()["state"] in ("waiting", "running"):
            self.assertLess(time.monotonic(), ends)
            time.sleep(0.1)
        placed = self.client.get(url).json()["view"]["schedule"]["placed"]
        return sorted({(e["starts_at"], e["ends_at"]) for e in placed})

    def test_two_builds_share_one_pair_of_hands_where_both_say_so(self) -> None:
        one = self.planned(self.build("One", shared=True))
        other = self.planned(self.build("Other", shared=True))
        apart = self.planned(self.build("Apart"))
        self.assertFalse([(a, b) for a in one for b in other if a[0] < b[1] and b[0] < a[1]])
        self.assertTrue([(a, b) for a in one for b in apart if a[0] < b[1] and b[0] < a[1]])

    def test_what_another_build_has_taken_since_is_told(self) -> None:
        one, other = self.build("One", shared=True), self.build("Other", shared=True)
        self.planned(one)
        self.planned(other)

        def shown(build: str) -> dict[str, Any]:
            answer: dict[str, Any] = self.client.get(f"/api/builds/{build}/sittings").json()
            return answer

        self.assertEqual((shown(one)["crossed"], shown(other)["crossed"]), ([], []))
        there = shown(other)["view"]["assessment"]["times"]["colour"]["start_min"]
        moved = self.client.post(
            f"/api/builds/{one}/sittings/move",
            json.dumps({"step": "colour", "start_min": there, "keep": True, "command_id": "0123456789"}),
            content_type="application/json",
        )
        self.assertEqual(moved.status_code, 200, moved.content[:300])
        self.assertEqual(shown(other)["crossed"], ["colour"])
        # What the other one takes of this bench time is named, and each stretch appears once.
        took = shown(other)["taken"]
        self.assertEqual({t["by"] for t in took}, {"One"})
        self.assertTrue(any(t["start_min"] <= there < t["end_min"] for t in took))
        for t, later in itertools.pairwise(took):
            self.assertGreater(later["start_min"], t["end_min"])
        self.assertFalse(shown(other)["stale"])
        self.planned(other)
        self.assertEqual(shown(other)["crossed"], [])

    def test_a_calendar_file_becomes_busy_times_that_nothing_is_kept_of_until_they_are_taken(self) -> None:
        build = self.build("One")
        url = f"/api/builds/{build}/sittings/busy"
        body = "\r\n".join((
            "BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:choir", "DTSTART:20260101T190000Z",
            "DTEND:20260101T210000Z", "RRULE:FREQ=WEEKLY", "SUMMARY:Choir", "END:VEVENT", "END:VCALENDAR", "",
        ))  # fmt: skip
        read = self.client.post(url, body, content_type="text/calendar")
        self.assertEqual(read.status_code, 200, read.content[:300])
        busy = read.json()["busy"]
        self.assertGreater(len(busy), 45)
        self.assertEqual(busy[0]["why"], "Choir")
        self.assertIn("busy times", read.json()["words"])
        self.assertEqual(self.client.get(f"/api/builds/{build}").json()["revision"], 1)
        bad = self.client.post(url, "porridge", content_type="text/calendar")
        self.assertIn(bad.status_code, (200, 422))
        self.assertEqual(bad.json().get("busy", []), [])
        self.assertEqual(self.client.post("/api/builds/nobody/sittings/busy", body, content_type="text/calendar")
                         .status_code, 404)  # fmt: skip


class Keeping(TransactionTestCase):
    def test_what_cannot_be_kept_is_a_failed_search_not_a_lost_one(self) -> None:
        search, client = Search(), Client()
        answer = client.post("/api/builds", json.dumps(short_tug_json()), content_type="application/json")
        with patch("api.sittings.SEARCH", search), patch("sittings.store.keep", side_effect=OSError("disk full")):
            url = f"/api/builds/{answer.json()['id']}/sittings/search"
            client.post(url, json.dumps({"kind": "search"}), content_type="application/json")
            until = time.monotonic() + WAIT_S
            while (job := client.get(f"{url}/search").json())["state"] == "running" and time.monotonic() < until:
                time.sleep(0.05)
        self.assertEqual(job["state"], "failed")
        self.assertIn("disk full", job["error"])
        search.stop("", "")
        assert search._child is not None
        search._child.kill()
