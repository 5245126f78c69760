"""The journal over the API: each entry once, in any order, from any device; record, plan and schedule follow."""

import io
import json
import random
import zipfile
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import mock

from builds import store
from builds.models import Build
from django.test import Client, TestCase
from emvar_core.at_the_bench.journal import Entry, record_of
from emvar_core.plan.documents import State
from journal import store as journal
from journal.clock import CLOCK
from journal.models import JournalEntry, Picture
from PIL import Image
from PIL.ExifTags import GPS, IFD, Base
from sittings.models import Timetable

from tests.builders import jpeg, tug

START = datetime(2026, 11, 28, 10, 0, tzinfo=UTC)
N = iter(range(10**6))


def entry(said: str, step: str = "", minute: float = 0, zones: list[str] | None = None, **more: Any) -> dict[str, Any]:
    at = (START + timedelta(minutes=minute)).isoformat()
    data = {"id": f"entry-{next(N):06}", "said": said, "at": at, "written_at": at, "device": "phone", **more}
    if step:
        zones = zones or list(next(s for s in tug().steps if s.id == step).zones)
        data |= {"step": step, "zones": zones, "name": step}
    return data


class Journal(TestCase):
    def setUp(self) -> None:
        self.client = Client()
        CLOCK.set(START + timedelta(hours=6), 0)
        self.addCleanup(CLOCK.set)
        store.create(tug(), "tug")
        self.url = "/api/builds/tug/journal"

    def send(self, *entries: dict[str, Any], **more: Any) -> dict[str, Any]:
        body = json.dumps({"entries": list(entries), **more})
        answer = self.client.post(self.url, body, content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        return answer.json()

    def states(self) -> dict[str, str]:
        shown = self.client.get("/api/builds/tug/sittings").json()
        return shown["view"]["states"]

    def test_what_is_sent_twice_counts_once(self) -> None:
        done = entry("done", "primer", 50)
        first = self.send(done)
        again = self.send(done, done)
        self.assertEqual(first["taken"], again["taken"][:1])
        self.assertEqual(JournalEntry.objects.count(), 1)
        self.assertEqual(self.states(), {"primer": "done"})
        self.assertEqual(len(Timetable.objects.get().record["entries"]), len(tug().step("primer").zones))

    def test_two_devices_agree_whatever_comes_first(self) -> None:
        said = [
            entry("begun", "primer", 0), entry("done", "primer", 45), entry("begun", "red-oxide", 60),
            entry("wrong", "red-oxide", 70, fault="runs"), entry("done", "red-oxide", 120),
            entry("skipped", "hull-green", 130), entry("done", "deck-buff", 140),
        ]  # fmt: skip
        back = entry("back", minute=150, corrects=said[-1]["id"])
        records = []
        for seed in range(6):
            order = [*said, back]
            random.Random(seed).shuffle(order)
            records.append(record_of(tug(), [Entry.model_validate(e) for e in order]))
        self.assertTrue(all(r == records[0] for r in records))
        self.assertEqual(
            {s: v.value for s, v in records[0].states().items()},
            {"primer": "done", "red-oxide": "done", "hull-green": "skipped"},
        )

    def test_what_is_taken_back_stands_no_more_and_can_stand_again(self) -> None:
        done = entry("done", "primer", 50)
        back = entry("back", minute=51, corrects=done["id"])
        self.send(done)
        self.send(back)
        self.assertEqual(self.states(), {})
        self.send(entry("back", minute=52, corrects=back["id"]))
        self.assertEqual(self.states(), {"primer": "done"})
        self.assertEqual(JournalEntry.objects.count(), 3)  # nothing was deleted

    def test_a_wrong_entry_holds_up_no_other_and_names_its_field(self) -> None:
        hostile = entry("note", note="\u202etxt") | {"id": "hostile-000001"}
        told = self.send(entry("done", "primer", 50), {"id": "bad-entry-1", "said": "flew"}, hostile, {"x": "y" * 5000})
        self.assertEqual(len(told["taken"]), 1)
        self.assertEqual(len(told["refused"]), 3)
        self.assertIn("said", told["refused"][0]["what"])
        self.assertIn("turn the direction", told["refused"][1]["what"])

    def test_one_zone_done_gets_a_step_of_its_own_and_the_rest_can_follow(self) -> None:
        zones = list(tug().step("primer").zones)
        self.send(entry("done", "primer", 50, zones[:1]))
        plan = store.plan_of(Build.objects.get(pk="tug"))
        self.assertEqual(len(plan.steps), len(tug().steps) + 1)
        # Another device knew nothing of that, and says so of all zones.
        self.send(entry("done", "primer", 90, zones))
        self.assertEqual(set(self.states().values()), {"done"})

    def test_a_device_whose_clock_is_wrong_is_put_right(self) -> None:
        done = entry("done", "primer", -600)
        device_now = (START + timedelta(hours=6) - timedelta(minutes=645)).isoformat()
        self.send(done, device_now=device_now)
        kept = journal.entries("tug")[0]
        self.assertEqual(kept.at, START + timedelta(minutes=45))

    def test_the_build_begins_when_it_is_begun(self) -> None:
        before = tug().build.starts_at
        self.send(entry("done", "primer", 0) | {"at": (before - timedelta(days=2)).isoformat()})
        plan = store.plan_of(Build.objects.get(pk="tug"))
        self.assertLess(plan.build.starts_at, before - timedelta(days=2))
        self.assertEqual(self.client.get("/api/builds/tug").json()["history"]["undo"], "It begins when it began")

    def test_others_entries_are_told_since_a_number(self) -> None:
        first = self.send(entry("done", "primer", 50))
        self.send(entry("note", "primer", 55, note="a fly in it"), after=first["last"])
        told = self.client.get(self.url, {"after": first["last"]}).json()
        self.assertEqual([e["note"] for e in told["entries"]], ["a fly in it"])

    def test_not_ready_moves_what_waits(self) -> None:
        self.send(entry("done", "primer", 50))
        self.send(entry("not_ready", "hull-green", 100, wait_min=9000))
        record = Timetable.objects.get().record["entries"]
        self.assertEqual(record[-1]["state"], State.WAITS.value)
        whole = self.client.get("/api/builds/tug", {"times": "schedule"}).json()
        start = datetime.fromisoformat(whole["plan"]["build"]["starts_at"])
        opens = whole["assessment"]["times"]["hull-green"]["start_min"]
        self.assertGreaterEqual(start + timedelta(minutes=opens), START + timedelta(minutes=9100))

    def test_what_is_done_is_done_by_either_clock(self) -> None:
        self.send(entry("begun", "primer", 700), entry("done", "primer", 760))
        for times in ("plan", "schedule"):
            whole = self.client.get("/api/builds/tug", {"times": times}).json()
            start = datetime.fromisoformat(whole["plan"]["build"]["starts_at"])
            laid = whole["assessment"]["coats"]["primer~hull"]["start_min"]
            self.assertEqual(start + timedelta(minutes=laid), START + timedelta(minutes=700), times)
            self.assertEqual((whole["times"], whole["scheduled"]), ("plan", False))

    def test_the_schedule_follows_and_says_what_moved(self) -> None:
        self.client.post("/api/builds/tug/sittings/search", json.dumps({"seconds": 3}), content_type="application/json")
        from emvar_core.plan import Record
        from emvar_core.schedule.agenda import Agenda
        from emvar_core.schedule.schedule import as_schedule, first_schedule

        plan = store.plan_of(Build.objects.get(pk="tug"))
        agenda = Agenda(plan, Record())
        from sittings import store as sittings

        sittings.keep("tug", plan, as_schedule(agenda, first_schedule(agenda)), [], 1)
        skipped = self.send(entry("skipped", "scuppers", 5))  # what is left out leaves no hole to fall into
        self.assertEqual(skipped["refused"], [])
        late = agenda.stretches[0][1] / 60 / 24 + 3
        told = self.send(entry("done", "primer", late * 1440))
        self.assertTrue(told["moved"])
        self.assertTrue(all(m["after_min"] is None or m["after_min"] > (m["before_min"] or 0) for m in told["moved"]))
        self.assertEqual(told["moved"][0]["name"], next(s.name for s in plan.steps if s.id == told["moved"][0]["step"]))

    def test_the_pack_holds_all_that_a_step_needs(self) -> None:
        pack = self.client.get("/api/builds/tug/pack").json()
        primer = pack["steps"][0]
        self.assertEqual(primer["verb"], "Spray")
        self.assertEqual([f["kind"] for f in primer["figures"]], ["text", "kpa", "mm"])
        self.assertTrue(primer["cautions"] and primer["look"] and primer["before"] and primer["takes_off"])
        wipe = next(t for t in pack["timers"] if t["after"] == "wipe")
        self.assertLess(wipe["opens"][2], wipe["closes"][0])
        self.assertTrue(pack["first_aid"])

    def test_the_log_tells_the_gap_and_goes_out_in_open_formats(self) -> None:
        planned = (START + timedelta(minutes=10)).isoformat()
        self.send(
            entry("begun", "primer", 30),
            entry("done", "primer", 75, planned_at=planned, actual={"pressure_kpa": 110, "passes": 4}),
            entry("note", "primer", 80, note="=cmd | *not* bold", fault="runs"),
        )
        rows = self.client.get("/api/builds/tug/log").json()["rows"]
        self.assertEqual([(r["said"], r["late_min"]) for r in rows], [("done", 20.0), ("note", None)])
        self.assertEqual(rows[1]["core"][0]["name"], rows[0]["name"])
        table = self.client.get("/api/builds/tug/log.csv").content.decode()
        self.assertIn("'=cmd", table)
        with zipfile.ZipFile(io.BytesIO(self.client.get("/api/builds/tug/log.md").content)) as packed:
            text = packed.read("logbook.md").decode()
        self.assertIn("1.10 bar, 4 passes", text)
        self.assertIn("20 min later than planned", text)
        self.assertIn(r"\*not\*", text)
        self.assertEqual(len(json.loads(self.client.get("/api/builds/tug/log.json").content)), 2)
        self.assertEqual(len(self.client.get("/api/log").json()["rows"]), 2)


class Pictures(TestCase):
    def setUp(self) -> None:
        store.create(tug(), "tug")

    def put(self, body: bytes, name: str = "picture-0001") -> Any:
        return self.client.post(f"/api/builds/tug/pictures/{name}", body, content_type="application/octet-stream")

    def test_is_turned_upright_and_nothing_of_the_camera_comes_along(self) -> None:
        exif = Image.Exif()
        exif[Base.Orientation] = 6
        exif[Base.Make] = "a camera"
        exif.get_ifd(IFD.GPSInfo)[GPS.GPSLatitude] = (38.0, 42.0, 0.0)
        sent = jpeg(exif=exif, comment=b"taken at home")
        self.assertIn(b"a camera", sent)
        told = self.put(sent).json()
        self.assertEqual((told["width"], told["height"]), (200, 300))
        kept = self.client.get("/api/builds/tug/pictures/picture-0001").content
        for mark in (b"at home", b"Exif", b"a camera", b"GPS", b"ICC_PROFILE", b"http"):
            self.assertNotIn(mark, kept)
        with Image.open(io.BytesIO(kept)) as image:
            self.assertEqual((image.size, dict(image.getexif())), ((200, 300), {}))
        small = self.client.get("/api/builds/tug/pictures/picture-0001", {"small": "true"}).content
        self.assertLess(len(small), len(kept) + 1)

    def test_is_made_smaller_and_counts_once(self) -> None:
        told = self.put(jpeg(5000, 2500)).json()
        self.assertEqual((told["width"], told["height"]), (2048, 1024))
        self.assertEqual(self.put(jpeg(10, 10)).json()["width"], 2048)  # the same id: sent again
        self.assertEqual(Picture.objects.count(), 1)

    def test_hostile_files_are_refused_with_a_reason(self) -> None:
        bomb = io.BytesIO()
        Image.new("1", (30_000, 30_000)).save(bomb, "PNG")
        whole = jpeg()
        gif = io.BytesIO()
        Image.new("P", (5, 5)).save(gif, "GIF")
        for body, words in (
            (b"", "no picture|damaged"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "no picture|damaged"),
            (b"PK\x03\x04" + b"0" * 100, "no picture|damaged"),
            (gif.getvalue(), "no picture|damaged"),
            (whole[: len(whole) // 3], "damaged|no picture"),
            (bomb.getvalue(), "million pixels|unpacks to more"),
            (b"\xff\xd8\xff" + b"\x00" * 400, "no picture|damaged"),
        ):
            answer = self.put(body)
            self.assertEqual(answer.status_code, 422, body[:20])
            self.assertRegex(answer.json()["problems"][0]["what"], words)
        self.assertEqual(Picture.objects.count(), 0)
        self.assertEqual(self.put(jpeg(), "../../etc").status_code, 404)
        self.assertEqual(self.put(jpeg(), "short").status_code, 422)
        answer = self.client.post("/api/builds/nobody/pictures/picture-0001", jpeg(), content_type="image/jpeg")
        self.assertEqual(answer.status_code, 404)


class LearningAndAgain(TestCase):
    def setUp(self) -> None:
        self.addCleanup(CLOCK.set)
        CLOCK.set(START + timedelta(days=2), 0)
        store.create(tug(), "tug")
        other = tug().model_copy(update={"build": tug().build.model_copy(update={"name": "Lighter"}), "steps": []})
        store.create(other, "lighter")

    def send(self, *entries: dict[str, Any]) -> None:
        body = json.dumps({"entries": list(entries)})
        self.assertEqual(
            self.client.post("/api/builds/tug/journal", body, content_type="application/json").status_code, 200
        )

    def slow(self, n: int) -> list[dict[str, Any]]:
        expected = [5.0, 10.0, 20.0]
        return [
            entry("seen", "primer", 60 + i,
                  observed={"what": "touch", "reached": True, "exact": True, "age_min": 15.0, "expected_min": expected})
            for i in range(n)
        ]  # fmt: skip

    def test_what_was_observed_moves_the_plan_when_it_is_asked_to_and_back(self) -> None:
        self.send(*self.slow(6))
        told = self.client.get("/api/learned", {"build": "tug"}).json()
        primer = next(f for f in told["figures"] if f["id"] == "drying~lacquer_primer")
        self.assertAlmostEqual(primer["figure"]["factor"], 1.5, delta=0.08)
        self.assertEqual((primer["figure"]["own"], primer["used"]), (6, None))
        self.assertIn("6 observations of its own", primer["words"])
        kin = next(f for f in told["figures"] if f["is_system"])
        self.assertLess(kin["figure"]["factor"], primer["figure"]["factor"])
        made = self.client.get("/api/builds/tug/learned-edits").json()
        before = self.client.get("/api/builds/tug").json()
        body = {"base_revision": before["revision"], "command_id": "learned-command", **made}
        answer = self.client.post("/api/builds/tug/edits", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        after = self.client.get("/api/builds/tug").json()
        touch = [b["assessment"]["coats"]["primer~hull"]["events"]["recoat"] for b in (before, after)]
        end = before["assessment"]["coats"]["primer~hull"]["end_min"]
        self.assertGreater((touch[1]["best"] - end) / (touch[0]["best"] - end), 1.2)
        self.assertLess(touch[1]["late"] / touch[1]["early"], touch[0]["late"] / touch[0]["early"])
        self.assertEqual(after["history"]["undo"], "Go by what was learned")

    def test_what_was_learned_can_begin_anew_or_hold_for_one_bench(self) -> None:
        self.send(*self.slow(4))
        for body, build, there in (
            ({"id": "drying~lacquer_primer", "bench": "tug"}, "lighter", False),
            ({"id": "drying~lacquer_primer", "bench": "tug"}, "tug", True),
            ({"id": "drying~lacquer_primer", "reset": True}, "tug", False),
        ):
            url = f"/api/learned?build={build}"
            told = self.client.post(url, json.dumps(body), content_type="application/json").json()
            found = {f["id"] for f in told["figures"]}
            self.assertEqual("drying~lacquer_primer" in found, there, body)

    def test_pace_and_thickness_are_learned_and_pace_begins_anew_too(self) -> None:
        self.send(entry("begun", "primer", 0), entry("done", "primer", 100))
        edit = {"edit": "set_field", "step_id": "primer", "field": "measured", "value": {"viscosity_mpas": 14.0}}
        store.edit("tug", 1, "measured-command", "measured", [edit])
        ids = {f["id"]: f["figure"]["factor"] for f in self.client.get("/api/learned").json()["figures"]}
        self.assertGreater(ids["pace~lacquer_primer"], 1.3)  # 100 min where 50 were planned
        self.assertGreater(ids["viscosity~lacquer_primer"], 1.3)
        body = json.dumps({"id": "pace~lacquer_primer", "reset": True})
        told = self.client.post("/api/learned", body, content_type="application/json").json()
        self.assertNotIn("pace~lacquer_primer", {f["id"] for f in told["figures"]})

    def test_a_fault_in_what_follows_does_not_unsay_what_was_said(self) -> None:
        with mock.patch("api.at_the_bench.move", side_effect=RuntimeError("no")), self.assertLogs("emvar"):
            from emvar_core.plan import Record
            from emvar_core.schedule.agenda import Agenda
            from emvar_core.schedule.schedule import as_schedule, first_schedule
            from sittings import store as sittings

            plan = store.plan_of(Build.objects.get(pk="tug"))
            agenda = Agenda(plan, Record())
            sittings.keep("tug", plan, as_schedule(agenda, first_schedule(agenda)), [], 1)
            self.send(entry("done", "primer", 50))
        self.assertEqual(JournalEntry.objects.count(), 1)

    def test_still_wet_is_a_bound_and_a_wrong_one_of_kind_says_nothing(self) -> None:
        wet = entry("seen", "primer", 61, observed={"what": "touch", "reached": False, "age_min": 30.0,
                                                    "expected_min": [5.0, 10.0, 20.0]})  # fmt: skip
        self.send(wet)
        told = self.client.get("/api/learned").json()["figures"]
        self.assertGreater(next(f for f in told if f["id"] == "drying~lacquer_primer")["figure"]["factor"], 1.2)

    def test_last_time_and_again_take_what_really_was(self) -> None:
        drops = {"lacquer_colour": 10, "mild_thinner": 25}
        self.send(
            entry("begun", "red-oxide", 60),
            entry("done", "red-oxide", 78, actual={"drops": drops, "pressure_kpa": 120, "passes": 3}, note="good"),
        )
        [last] = self.client.get("/api/last", {"material": "lacquer_colour"}).json()
        self.assertEqual([p["amount"] for p in last["mix"]["parts"]], [10, 25])
        self.assertEqual((last["pressure_kpa"], last["passes"], last["minutes"]), (120, 3, 18))
        zones = [z["id"] for z in self.client.get("/api/builds/lighter").json()["plan"]["zones"]]
        body = {"source": "tug", "steps": ["red-oxide"], "zones": zones[:2]}
        made = self.client.post("/api/builds/lighter/again", json.dumps(body), content_type="application/json").json()
        step = made["edits"][-1]["step"]
        self.assertEqual([p["amount"] for p in step["mix"]["parts"]], [10, 25])
        self.assertEqual((step["spray"]["pressure_kpa"], step["passes"], step["hands_on_min"]), (120, 3, 18))
        edit = {"base_revision": 1, "command_id": "again-command", **made}
        answer = self.client.post("/api/builds/lighter/edits", json.dumps(edit), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content[:300])

    def test_trials_are_found_by_material_in_any_build(self) -> None:
        trial = {"aims": ["chips"], "passed": False, "decides": "thin the colour more", "material": "lacquer_colour"}
        self.send(entry("trial", "worn-grey", 5, trial=trial))
        told = self.client.get("/api/trials", {"material": "lacquer_colour"}).json()
        self.assertEqual([t["trial"]["decides"] for t in told["made"]], ["thin the colour more"])
        self.assertEqual({a["id"] for a in told["aims"]}, {"consistency", "opacity", "chips", "sheen", "bite"})
        self.assertEqual(self.client.get("/api/trials", {"material": "enamel_wash"}).json()["made"], [])

    def test_the_shelf_follows_use_and_age(self) -> None:
        jar = {"id": "jar-1", "material": "enamel_wash", "name": "Brown wash", "full_ml": 35, "left_ml": 20,
               "opened_on": "2024-01-01"}  # fmt: skip
        CLOCK.set(START, 0)
        told = self.client.post("/api/shelf", json.dumps(jar), content_type="application/json").json()
        self.assertIn("settled", told[0]["words"])
        CLOCK.set(START + timedelta(days=2), 0)
        self.send(entry("done", "pin-wash", 60, poured={"enamel_wash": 2.5}))
        self.assertEqual(self.client.get("/api/shelf").json()[0]["left_ml"], 17.5)
        notes = self.client.get("/api/builds/tug/stock").json()
        self.assertEqual({n["step"] for n in notes}, {"pin-wash"})
        wash = next(s for s in self.client.get("/api/builds/tug/pack").json()["steps"] if s["id"] == "pin-wash")
        self.assertTrue(any("settled" in c for c in wash["cautions"]))
        self.assertEqual(self.client.delete("/api/shelf/jar-1").json(), [])
        bad = jar | {"material": "nothing"}
        self.assertEqual(
            self.client.post("/api/shelf", json.dumps(bad), content_type="application/json").status_code, 404
        )
