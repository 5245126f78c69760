"""What is kept is not lost: copies, the way back, the trash, a folder that cannot be used, writes that come at once."""

import io
import json
import os
import shutil
import sqlite3
import tempfile
import threading
import time
import zipfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock, skipIf

from api.long_process import HELPER
from builds import store
from builds.models import Build, Change, DemoLoaded
from django.conf import settings
from django.db import connection, connections
from django.db.backends.base.base import BaseDatabaseWrapper
from django.test import Client, TestCase, TransactionTestCase
from django.utils import timezone
from emvar_core.plan import parse_plan
from emvar_core.ways.mend import mend
from journal.models import Jar, JournalEntry, Learning
from journal.pictures import keep
from sittings.models import Timetable
from vault import archive, copies, upkeep
from vault.archive import Broken
from vault.folder import NAME, Unusable, checked, locked, prepared, writable

from tests.builders import jpeg, tall_json, tug, tug_json

N = iter(range(10**6))


def edited(build_id: str, minutes: float) -> None:
    edit = {"edit": "set_field", "step_id": "gloss", "field": "wait_min", "value": minutes}
    build = Build.objects.get(pk=build_id)
    store.edit(build_id, build.revision, f"command-{next(N):05}", f"wait {minutes}", [edit])


class Folder(TransactionTestCase):
    """A data folder with the test's own database in it, as the server's would lie there."""

    @classmethod
    def ensure_connection_patch_method(cls) -> Any:
        return BaseDatabaseWrapper.ensure_connection  # copies are opened as databases beside the test's own

    def setUp(self) -> None:
        self.data = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.data, True)
        store.create(tug(), "tug")
        store.create(tug().model_copy(update={"build": tug().build.model_copy(update={"name": "Other"})}), "other")
        edited("tug", 700)
        edited("tug", 800)
        store.undo("tug", 3, "undo-command")
        store.to_trash("other", "trash-other")
        DemoLoaded.objects.create(pk="demo-harbour-tug")
        Timetable.objects.create(build_id="tug", record={"entries": []}, revision=3, mark="x")
        for i in range(3):
            at = f"2026-11-26T19:0{i}:00Z"
            body = {"id": f"entry-{i:04}", "said": "note", "at": at, "written_at": at, "note": f"dust, {i}"}
            JournalEntry.objects.create(
                build_id="tug", entry_id=body["id"], body=body, parcel=body["id"], received_at=timezone.now()
            )
        keep("tug", "picture-0001", jpeg())
        Jar.objects.create(
            pk="jar", material="enamel_wash", name="Wash", full_ml=35, counted_ml=20, counted_at=timezone.now()
        )
        Learning.objects.create(pk="drying~enamel", bench="tug")
        self.copy_into(self.data)

    def copy_into(self, data: Path) -> None:
        with closing(sqlite3.connect(data / NAME)) as there:
            connection.ensure_connection()
            connection.connection.backup(there)

    def kept(self, data: Path) -> dict[str, list[dict[str, Any]]]:
        """All rows of a folder's database, without what each writing makes anew."""
        with closing(sqlite3.connect(data / NAME)) as db:
            db.row_factory = sqlite3.Row
            tables = (
                "builds_build",
                "builds_change",
                "builds_command",
                "builds_demoloaded",
                "sittings_timetable",
                "journal_journalentry",
                "journal_picture",
                "journal_jar",
                "journal_learning",
            )
            return {
                t: [{k: json.loads(r[k]) if k == "body" and t == "journal_journalentry" else r[k]
                     for k in tuple(r.keys()) if k not in ("mark", "received_at", "id" if t != "builds_build" else "")
                     and (k, t) != ("changed_at", "sittings_timetable")}
                    for r in db.execute(f"SELECT * FROM {t} ORDER BY 1")]
                for t in tables
            }  # fmt: skip


class Copies(Folder):
    def test_a_copy_brings_everything_back_as_it_was(self) -> None:
        target = self.data / "all.zip"
        self.assertEqual(copies.backup(target, self.data), 2)
        elsewhere = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, elsewhere, True)
        done = copies.restore(target, elsewhere)
        self.assertEqual((done.builds, done.aside), (2, None))
        self.assertEqual(self.kept(elsewhere), self.kept(self.data))

    def test_what_is_replaced_is_kept_aside_and_can_be_brought_back_itself(self) -> None:
        target = self.data / "all.zip"
        copies.backup(target, self.data)
        was = self.kept(self.data)
        with closing(sqlite3.connect(self.data / NAME)) as db, db:
            db.execute("UPDATE builds_build SET name = 'Renamed' WHERE id = 'tug'")
        now = self.kept(self.data)
        done = copies.restore(target, self.data)
        self.assertEqual(self.kept(self.data), was)
        assert done.aside is not None
        copies.restore(done.aside / NAME, self.data)
        self.assertEqual(self.kept(self.data), now)

    def test_a_log_that_was_left_beside_the_database_does_not_spoil_what_comes_back(self) -> None:
        target = self.data / "all.zip"
        copies.backup(target, self.data)
        was = self.kept(self.data)
        db = sqlite3.connect(self.data / NAME)
        self.addCleanup(db.close)
        db.execute("PRAGMA journal_mode=WAL")
        with db:
            db.execute("UPDATE builds_build SET name = 'In the log' WHERE id = 'tug'")
        self.assertTrue((self.data / f"{NAME}-wal").stat().st_size)
        copies.restore(target, self.data)
        self.assertEqual(self.kept(self.data), was)

    def test_a_database_that_is_damaged_is_replaced_and_kept(self) -> None:
        target = self.data / "all.zip"
        copies.backup(target, self.data)
        was = self.kept(self.data)
        damaged = (self.data / NAME).read_bytes()[:5000] + os.urandom(20000)
        (self.data / NAME).write_bytes(damaged)
        done = copies.restore(target, self.data)
        self.assertEqual(self.kept(self.data), was)
        assert done.aside is not None
        self.assertEqual((done.aside / NAME).read_bytes(), damaged)

    def test_an_archive_that_was_changed_anywhere_is_refused_and_nothing_is_touched(self) -> None:
        target = self.data / "all.zip"
        copies.backup(target, self.data)
        was = (self.data / NAME).read_bytes()
        with zipfile.ZipFile(target) as whole:
            parts = {n: whole.read(n) for n in whole.namelist()}
        plan = parts["builds/tug/plan.json"]
        for name, spoilt in (
            ("a figure", parts | {"builds/tug/plan.json": plan.replace(b"700", b"701")}),
            ("a file less", {n: b for n, b in parts.items() if "history" not in n}),
            ("a file more", parts | {"builds/tug/more.json": b"{}"}),
            ("no manifest", {n: b for n, b in parts.items() if n != "manifest.json"}),
            ("newer", parts | {"manifest.json": parts["manifest.json"].replace(b'"version": 1', b'"version": 9')}),
        ):
            bad = self.data / "bad.zip"
            with zipfile.ZipFile(bad, "w") as out:
                for part, body in spoilt.items():
                    out.writestr(part, body)
            with self.assertRaises(Unusable, msg=name) as caught:
                copies.restore(bad, self.data)
            self.assertIn("nothing was changed", str(caught.exception))
        cut = self.data / "cut.zip"
        cut.write_bytes(target.read_bytes()[:-50])
        with self.assertRaises(Unusable):
            copies.restore(cut, self.data)
        self.assertEqual((self.data / NAME).read_bytes(), was)
        self.assertFalse(list(self.data.glob(".work-*")))

    def test_nothing_is_copied_where_there_is_nothing_and_no_file_is_written_over(self) -> None:
        empty = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, empty, True)
        with self.assertRaisesRegex(Unusable, "nothing to copy"):
            copies.backup(empty / "all.zip", empty)
        self.assertEqual(list(empty.iterdir()), [])
        (self.data / "all.zip").write_text("mine")
        with self.assertRaisesRegex(Unusable, "exists already"):
            copies.backup(self.data / "all.zip", self.data)
        self.assertEqual((self.data / "all.zip").read_text(), "mine")

    def test_a_full_disk_leaves_no_file_and_the_next_try_works(self) -> None:
        full = OSError(28, "No space left on device")
        with (
            mock.patch.object(archive.os, "fsync", side_effect=full),
            self.assertRaisesRegex(Unusable, "no space left"),
        ):
            copies.backup(self.data / "all.zip", self.data)
        self.assertEqual([p.name for p in self.data.iterdir() if "all" in p.name or "work" in p.name], [])
        self.assertEqual(copies.backup(self.data / "all.zip", self.data), 2)

    def test_seven_copies_stay_and_one_is_made_after_a_day_of_use(self) -> None:
        self.assertFalse(copies.due(self.data))  # the day is not over
        tomorrow = timezone.now() + timedelta(days=1)
        self.assertTrue(copies.due(self.data, tomorrow))
        for i in range(9):
            with mock.patch.object(copies, "_stamp", return_value=f"2026-11-2{i}-080000"):
                made = copies.keep_copy(self.data, "day")
                os.utime(made, (i * 86400 + 1e9,) * 2)
        left = [c.path.name for c in copies.copies(self.data)]
        self.assertEqual(len(left), 7)
        self.assertIn("2026-11-28", left[0])
        os.utime(self.data / "copies" / left[0], None)
        self.assertFalse(copies.due(self.data, tomorrow))  # the last copy holds everything

    def test_the_trash_is_emptied_after_thirty_days(self) -> None:
        long_ago = timezone.now() - timedelta(days=31)
        Build.everything.filter(pk="other").update(deleted_at=long_ago)
        upkeep.once_over(self.data)
        self.assertEqual(list(Build.everything.values_list("pk", flat=True)), ["tug"])

    @skipIf(os.name != "posix", "rights work differently there")
    def test_copies_are_their_owner_s_alone(self) -> None:
        made = copies.keep_copy(self.data, "day")
        self.assertEqual((made.stat().st_mode & 0o777, made.parent.stat().st_mode & 0o777), (0o600, 0o700))


class Faults(Folder):
    def known(self) -> set[tuple[str, str]]:
        return copies.migrations_known()

    def test_a_database_that_can_be_used_is_and_none_is_none(self) -> None:
        self.assertTrue(checked(self.data, self.known()))
        self.assertFalse(checked(self.data / "nothing", self.known()))

    def test_what_cannot_be_used_is_told_with_the_way_out_and_not_touched(self) -> None:
        with closing(sqlite3.connect(self.data / NAME)) as db:
            db.execute("VACUUM")  # no free pages: what is in those is nobody's loss, and is not told
        whole = (self.data / NAME).read_bytes()
        middle = len(whole) // 2
        for words, body in (
            ("is empty", b""),
            ("no database", os.urandom(4096)),
            ("cannot be read|damaged", whole[:middle] + os.urandom(len(whole) - middle)),
            ("cannot be read|damaged", whole[:2000]),
        ):
            (self.data / NAME).write_bytes(body)
            with self.assertRaisesRegex(Unusable, words) as caught:
                checked(self.data, self.known())
            self.assertIn("restore", str(caught.exception))
            self.assertNotIn("\n", str(caught.exception))
            self.assertEqual((self.data / NAME).read_bytes(), body)

    def test_newer_data_are_refused_before_they_are_touched(self) -> None:
        with closing(sqlite3.connect(self.data / NAME)) as db, db:
            db.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('builds', '0099_later', '')")
        was = (self.data / NAME).read_bytes()
        with self.assertRaisesRegex(Unusable, "newer Emvar .*0099_later"):
            checked(self.data, self.known())
        self.assertEqual((self.data / NAME).read_bytes(), was)

    def test_two_servers_do_not_share_a_folder(self) -> None:
        lock = locked(self.data)
        with self.assertRaisesRegex(Unusable, "running already"):
            locked(self.data)
        lock.release()
        locked(self.data).release()

    def test_a_file_in_the_place_of_the_folder_is_told(self) -> None:
        (self.data / "file").write_text("")
        with self.assertRaisesRegex(Unusable, "is a file"):
            prepared(self.data / "file")
        with self.assertRaisesRegex(Unusable, "cannot be made"):
            prepared(self.data / "file" / "below")

    def test_a_folder_that_takes_nothing_is_told(self) -> None:
        with mock.patch.object(Path, "write_bytes", side_effect=OSError(28, "No space left on device")):  # noqa: SIM117
            with self.assertRaisesRegex(Unusable, "no space left"):
                writable(self.data)

    def test_the_copy_before_a_migration_opens_again(self) -> None:
        made = copies.copy_before_migration(self.data)
        was = self.kept(self.data)
        (self.data / NAME).unlink()
        copies.restore(made, self.data)
        self.assertEqual(self.kept(self.data), was)


class Doors(TestCase):
    def setUp(self) -> None:
        self.client = Client()
        store.create(tug(), "tug")
        edited("tug", 700)

    def send(self, body: bytes, kind: str = "application/json") -> Any:
        return self.client.post("/api/builds", body, content_type=kind)

    def test_a_build_is_saved_as_one_file_and_opened_again_as_it_was(self) -> None:
        file = self.client.get("/api/builds/tug/build.zip").content
        store.to_trash("tug", "trash-tug")
        store.empty_trash("tug")
        opened = self.send(file, "application/zip")
        self.assertEqual((opened.status_code, opened.json()["id"], opened.json()["revision"]), (201, "tug", 2))
        self.assertEqual(opened.json()["history"]["undo"], "wait 700")
        again = self.send(file, "application/zip").json()["id"]  # the id is taken: a second one beside it
        self.assertNotEqual(again, "tug")
        self.assertEqual(Change.objects.filter(build_id=again).count(), 1)
        broken = self.send(file[:-30], "application/zip")
        self.assertEqual(broken.status_code, 422)
        self.assertIn("archive", broken.json()["problems"][0]["where"])

    def test_a_file_that_is_sent_twice_makes_one_build(self) -> None:
        file = self.client.get("/api/builds/tug/build.zip").content
        for name, body in (("plan", json.dumps(tug_json()).encode()), ("saved", file)):
            answers = [
                self.client.post(f"/api/builds?command_id=open-{name}", body, content_type="application/zip")
                for _ in range(2)
            ]
            self.assertEqual([a.status_code for a in answers], [201, 208])
            self.assertEqual(answers[0].json()["id"], answers[1].json()["id"])
        self.assertEqual(Build.objects.count(), 3)

    def test_a_plan_that_cannot_be_judged_is_not_stored(self) -> None:
        bad = mock.patch.object(store, "assess", side_effect=RuntimeError("cannot be judged"))
        with bad:
            answers = [self.send(json.dumps(tug_json()).encode()), self.edit_after("note", 3)]
        self.assertEqual([a.status_code for a in answers], [500, 500])
        self.assertEqual((Build.objects.count(), Build.objects.get(pk="tug").revision), (1, 2))

    def edit_after(self, name: str, minutes: float) -> Any:
        edit = {"edit": "set_field", "step_id": "gloss", "field": "wait_min", "value": minutes}
        body = {"base_revision": 2, "command_id": f"edit-{name}-command", "edits": [edit]}
        return self.client.post("/api/builds/tug/edits", json.dumps(body), content_type="application/json")

    @mock.patch("api.long_process.LONG_STEPS", 20)
    def test_long_questions_about_long_plans_are_answered_beside_and_one_at_a_time(self) -> None:
        beside = self.client.get("/api/builds/tug/mended")
        self.assertEqual(beside.status_code, 200, beside.content[:300])
        plan = store.plan_of(Build.objects.get(pk="tug"))
        self.assertEqual(beside.json(), mend(plan).model_dump(mode="json"))
        store.create(tug().model_copy(update={"steps": tug().steps[:3]}), "short")
        with HELPER.asking:
            busy = self.client.get("/api/builds/tug/mended")
            self.assertEqual((busy.status_code, busy.json()["problems"][0]["where"]), (503, "server"))
            self.assertEqual(self.client.get("/api/builds/short/mended").status_code, 200)
        HELPER.end()
        self.assertEqual(self.client.get("/api/builds/tug/mended").status_code, 200)  # it is started again

    def test_a_long_question_says_how_far_it_is_and_stops_with_what_it_found(self) -> None:
        answers: list[str] = []
        plan = parse_plan(tall_json(150))
        asking = threading.Thread(target=lambda: answers.append(HELPER.ask("tug", "mended", plan)))
        asking.start()
        seen = None
        while asking.is_alive() and not (seen and seen["looked_at"]):
            seen = self.client.get("/api/builds/tug/looking").json()
            time.sleep(0.05)
        self.assertEqual(seen["kind"] if seen else None, "mended")
        self.assertEqual(self.client.post("/api/builds/other/looking/stop").status_code, 204)  # not that one's
        self.assertIsNone(self.client.get("/api/builds/other/looking").json())
        self.assertEqual(self.client.post("/api/builds/tug/looking/stop").status_code, 204)
        asking.join()
        stopped = json.loads(answers[0])
        self.assertIn("Stopped", stopped["left"][0])
        self.assertTrue(stopped["made"])
        self.assertIsNone(self.client.get("/api/builds/tug/looking").json())
        HELPER.ask("tug", "mended", parse_plan(tall_json(30)))  # a stop holds for its own question
        self.assertNotIn("Stopped", HELPER.ask("tug", "mended", parse_plan(tall_json(30))))

    def test_the_trash_gives_back_what_was_deleted(self) -> None:
        self.assertEqual(self.client.delete("/api/builds/tug").status_code, 422)  # no command
        self.assertEqual(self.client.delete("/api/builds/tug?command_id=delete-one").status_code, 204)
        self.assertEqual(self.client.delete("/api/builds/tug?command_id=delete-two").status_code, 204)  # twice is once
        self.assertEqual(self.client.get("/api/builds/tug").status_code, 404)
        self.assertEqual(self.client.get("/api/builds").json(), [])
        (row,) = self.client.get("/api/trash").json()
        self.assertEqual(row["name"], "Harbour tug")
        self.client.post("/api/trash/tug/back?command_id=back-again")
        self.assertEqual(self.client.get("/api/builds/tug").json()["history"]["undo"], "wait 700")
        # The first one is sent again, late: its answer had been lost. It counts once.
        self.assertEqual(self.client.delete("/api/builds/tug?command_id=delete-one").status_code, 204)
        self.assertEqual(self.client.get("/api/builds/tug").status_code, 200)
        self.client.delete("/api/trash/tug")  # does not lie there
        self.assertTrue(Build.objects.filter(pk="tug").exists())

    def test_lists_do_not_read_the_plans(self) -> None:
        with self.assertNumQueries(1) as asked:
            row = self.client.get("/api/builds").json()[0]
        self.assertNotIn('"plan"', asked.captured_queries[0]["sql"])
        self.assertEqual((row["steps"], row["zones"]), (len(tug().steps), len(tug().zones)))

    def test_a_damaged_build_is_named_and_the_others_open(self) -> None:
        store.create(tug(), "whole")
        Build.objects.filter(pk="tug").update(plan={"format": "emvar-plan"}, mark="other")
        self.assertEqual(self.client.get("/api/builds").status_code, 200)
        answer = self.client.get("/api/builds/tug")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("“Harbour tug” cannot be read", answer.json()["problems"][0]["what"])
        self.assertEqual(self.client.get("/api/builds/whole").status_code, 200)

    def test_hostile_plan_files_are_refused_with_the_field(self) -> None:
        text = json.dumps(tug_json())
        tiny = json.dumps(tug_json() | {"zones": [{"id": "z", "name": "Z", "area_cm2": 1e-320}], "steps": []})
        for place, hostile in (
            ("scale", text.replace('"scale"', '"scale": 1, "scale"', 1)),
            ("starts_at", text.replace("2026-11-", "9999-11-", 1)),
            ("name", text.replace('"Harbour tug"', '"Harbour \\u202e tug"', 1)),
            ("name", text.replace('"Harbour tug"', '"Harbour \\u2028 tug"', 1)),
            ("name", text.replace('"Harbour tug"', '"Harbour \\ud800 tug"', 1)),
            ("area_cm2", tiny),
            ("plan", "{" * 100_000),
            ("steps[0]", text.replace('"kind": "coat"', '"kind": "\\ud800"', 1)),
            ("", text.replace('"timezone": "', '"timezone": "\\ud800', 1)),
            ("", text.replace('"material": "', '"material": "\\ud800', 1)),
            ("plan", text.replace('"scale": ', '"scale": NaN, "x": ', 1)),
        ):
            answer = self.send(hostile.encode("utf-8", "surrogatepass"))
            self.assertEqual(answer.status_code, 422, (place, answer.content[:300]))
            self.assertIn(place, answer.json()["problems"][0]["where"], answer.content)
        self.assertEqual(Build.objects.count(), 1)

    def test_a_step_cannot_be_called_as_the_base_is(self) -> None:
        step = {"kind": "fitting", "id": "base", "name": "Look", "zones": ["deck"], "action": "inspect"}
        body = {
            "base_revision": 2,
            "command_id": "a-step-called-base",
            "edits": [{"edit": "add_step", "index": 0, "step": step}],
        }
        answer = self.client.post("/api/builds/tug/edits", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("reserved", answer.json()["problems"][0]["what"])

    def test_malformed_bodies_are_answered_in_the_documented_form(self) -> None:
        for body in (b"", b"{", b"[]", b'{"base_revision": "x"}', b"\xff\xfe", b'{"edits": 3, "command_id": ""}'):
            for url in ("/api/builds/tug/edits", "/api/builds/tug/undo", "/api/builds/tug/sittings/pin"):
                answer = self.client.post(url, body, content_type="application/json")
                self.assertIn(answer.status_code, (400, 422), (url, body))
                self.assertTrue(answer.json()["problems"][0]["what"], (url, body))

    def test_an_over_large_file_is_refused(self) -> None:
        answer = self.send(b"x" * (settings.DATA_UPLOAD_MAX_MEMORY_SIZE + 1))
        self.assertEqual((answer.status_code, answer.json()["problems"][0]["where"]), (422, "file"))

    def test_a_failing_database_is_told_in_words(self) -> None:
        from django.db import OperationalError

        for words, error in (("full", "database or disk is full"), ("damaged", "database disk image is malformed"),
                             ("rights", "attempt to write a readonly database")):  # fmt: skip
            with mock.patch("builds.models.Live.get_queryset", side_effect=OperationalError(error)):
                answer = self.client.get("/api/builds")
            self.assertEqual(answer.status_code, 503)
            self.assertEqual(answer.json()["problems"][0]["where"], "data")
            self.assertIn(words, answer.json()["problems"][0]["what"])

    def test_a_build_made_anew_by_somebody_else_is_not_served_from_memory(self) -> None:
        before = store.plan_of(Build.objects.get(pk="tug"))
        row = Build.objects.get(pk="tug")
        Build.objects.filter(pk="tug").delete()
        other = tug().model_copy(update={"steps": tug().steps[:3]})
        made = Build(pk="tug", revision=row.revision)
        store.put_plan(made, other)
        made.save(force_insert=True)
        Build.objects.filter(pk="tug").update(created_at=row.created_at)
        after = store.plan_of(Build.objects.get(pk="tug"))
        self.assertEqual((len(before.steps), len(after.steps)), (len(tug().steps), 3))

    def test_a_zip_that_is_none_of_ours_is_refused(self) -> None:
        foreign = io.BytesIO()
        with zipfile.ZipFile(foreign, "w") as out:
            out.writestr("hello.txt", "hello")
        answer = self.send(foreign.getvalue(), "application/zip")
        self.assertEqual((answer.status_code, answer.json()["problems"][0]["where"]), (422, "manifest.json"))
        with self.assertRaises(Broken):
            archive.read(io.BytesIO(b"PK\x03\x04"))


class Beside(Folder):
    def test_a_copy_disturbs_nobody_who_goes_through_the_databases_meanwhile(self) -> None:
        """Every request goes through them at its end; a table that changed under it would be a failure of that."""
        other = self.data / "other.sqlite3"
        shutil.copy(self.data / NAME, other)
        going = iter(connections)
        next(going)
        with copies.opened(other) as alias:
            self.assertIn(alias, connections)
            self.assertEqual(list(going), [])
        self.assertNotIn(alias, connections)


class AtOnce(TransactionTestCase):
    """Writes that come at the same time all count, each once."""

    def setUp(self) -> None:
        store.create(tug(), "tug")
        self.errors: list[Any] = []

    def post(self, path: str, body: dict[str, Any]) -> None:
        try:
            answer = Client().post(f"/api/builds/tug/{path}", json.dumps(body), content_type="application/json")
            if answer.status_code != 200:
                self.errors.append(answer.content[:200])
        finally:
            connection.close()

    def all_at_once(self, calls: list[tuple[str, dict[str, Any]]]) -> None:
        threads = [threading.Thread(target=self.post, args=call) for call in calls]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(self.errors, [])

    def entry(self, step: str, zone: str) -> dict[str, Any]:
        times = {"starts_at": "2026-11-26T19:00:00Z", "ends_at": "2026-11-26T19:30:00Z"}
        return {"step": step, "zone": zone, "state": "skipped", **times}

    def test_six_records_at_once_are_six(self) -> None:
        places = [(s.id, s.zones) for s in tug().steps if s.kind == "coat"][:6]
        calls = [
            ("sittings/record", {"command_id": f"record-{i:04}", "entries": [self.entry(s, z) for z in zones]})
            for i, (s, zones) in enumerate(places)
        ]
        self.all_at_once([*calls, *calls])  # and each twice: counts once
        record = Timetable.objects.get(build="tug").record
        self.assertEqual(len(record["entries"]), sum(len(zones) for _, zones in places))
        self.assertEqual(len({e.parcel for e in JournalEntry.objects.filter(build="tug")}), len(places))
        self.assertEqual(JournalEntry.objects.filter(build="tug").count(), len(record["entries"]))
