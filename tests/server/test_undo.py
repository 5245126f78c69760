"""Undo takes back what one's own window has made, also from under what another made; or says why it cannot."""

import random
from typing import Any

from builds import history, store
from builds.models import Build
from django.test import TestCase
from emvar_core.plan import Plan

from tests.builders import tug_json
from tests.lengths import at_length

from .test_api import N

ONE, TWO = {"X-Window": "window-one"}, {"X-Window": "window-two"}
Edits = list[dict[str, Any]]


def field(step: str, name: str, value: Any) -> Edits:
    return [{"edit": "set_field", "step_id": step, "field": name, "value": value}]


class Windows(TestCase):
    def setUp(self) -> None:
        self.id = self.client.post("/api/builds", tug_json(), content_type="application/json").json()["id"]

    def send(self, way: str, window: dict[str, str], base: int | None = None, **more: Any) -> Any:
        revision = base if base is not None else Build.objects.get(pk=self.id).revision
        body = {"base_revision": revision, "command_id": f"window-{next(N):05}", **more}
        return self.client.post(
            f"/api/builds/{self.id}/{way}", body, content_type="application/json", headers=dict(window)
        )

    def edit(self, window: dict[str, str], label: str, edits: Edits) -> Any:
        answer = self.send("edits", window, label=label, edits=edits)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def step(self, step_id: str) -> dict[str, Any]:
        steps = Build.objects.get(pk=self.id).plan["steps"]
        return dict(next(s for s in steps if s["id"] == step_id))

    def told(self, window: dict[str, str]) -> dict[str, Any]:
        return dict(self.client.get(f"/api/builds/{self.id}", headers=dict(window)).json()["history"])

    def test_one_s_own_is_taken_from_under_another_s_and_made_again(self) -> None:
        was = self.step("gloss")["wait_min"]
        self.edit(ONE, "mine", field("gloss", "wait_min", 700))
        self.edit(TWO, "theirs", field("matt", "note", "thin"))
        self.assertEqual(self.told(ONE), {"undo": "mine", "redo": None, "own": True})
        self.assertEqual(self.told(TWO), {"undo": "theirs", "redo": None, "own": True})
        self.assertEqual(self.told({}), {"undo": "theirs", "redo": None, "own": False})
        # The window has not heard of the other's edit: it gets that first, and asks again.
        stale = self.send("undo", ONE, base=1)
        self.assertEqual((stale.status_code, stale.json()["history"]["own"]), (409, True))
        answer = self.send("undo", ONE)
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer.json()["history"], {"undo": "theirs", "redo": "mine", "own": False})
        self.assertEqual((self.step("gloss")["wait_min"], self.step("matt")["note"]), (was, "thin"))
        self.send("redo", ONE)
        self.assertEqual((self.step("gloss")["wait_min"], self.step("matt")["note"]), (700, "thin"))
        self.send("undo", TWO)
        self.assertEqual((self.step("gloss")["wait_min"], self.step("matt").get("note", "")), (700, ""))

    def test_what_was_undone_is_gone_once_something_else_is_done(self) -> None:
        self.edit(ONE, "first", field("gloss", "wait_min", 700))
        self.send("undo", ONE)
        self.assertEqual(self.told(ONE)["redo"], "first")
        self.edit(ONE, "second", field("matt", "note", "thin"))
        self.assertIsNone(self.told(ONE)["redo"])
        was = Build.objects.get(pk=self.id).plan
        self.assertNotEqual(self.send("redo", ONE).status_code, 200)
        self.assertEqual(Build.objects.get(pk=self.id).plan, was)

    def test_what_another_builds_on_is_not_taken_from_under_it(self) -> None:
        new = {"kind": "fitting", "id": "look", "name": "Look", "zones": ["deck"], "action": "inspect"}
        self.edit(ONE, "a look", [{"edit": "add_step", "index": 3, "step": new}])
        self.edit(TWO, "its name", field("look", "name", "Look closely"))
        answer = self.send("undo", ONE)
        self.assertEqual(answer.status_code, 422)
        problem = answer.json()["problems"][0]
        self.assertEqual(problem["where"], "undo")
        for name in ("“a look” cannot be undone by itself", "“its name” came after it"):
            self.assertIn(name, problem["what"])
        self.assertEqual(self.step("look")["name"], "Look closely")
        self.assertEqual(self.send("undo", ONE, last=True).status_code, 200)
        self.assertEqual(self.step("look")["name"], "Look")
        self.assertEqual(self.send("undo", ONE).status_code, 200)
        self.assertNotIn("look", {s["id"] for s in Build.objects.get(pk=self.id).plan["steps"]})

    def test_the_same_field_set_twice_is_not_exchanged(self) -> None:
        self.edit(ONE, "mine", field("gloss", "wait_min", 700))
        self.edit(TWO, "theirs", field("gloss", "wait_min", 800))
        self.assertEqual(self.send("undo", ONE).status_code, 422)
        self.assertEqual(self.step("gloss")["wait_min"], 800)

    def test_a_window_that_has_made_nothing_undoes_the_last_of_all(self) -> None:
        self.edit(ONE, "mine", field("gloss", "wait_min", 700))
        self.assertEqual(self.send("undo", TWO).status_code, 200)
        self.assertNotEqual(self.step("gloss")["wait_min"], 700)

    def test_whatever_two_windows_do_undo_leaves_what_the_other_did(self) -> None:
        """At random, against making it again from the beginning without what was undone."""
        rng, taken, refused = random.Random(7), 0, 0
        steps = ["gloss", "matt", "decals", "wash", "streaks", "primer"]
        steps = [s for s in steps if s in {x["id"] for x in tug_json()["steps"]}]
        self.assertGreater(len(steps), 3)
        for _ in range(at_length(20, 40)):
            first = store.plan_of(Build.objects.get(pk=self.id))
            made: list[tuple[str, Edits]] = []
            for n in range(rng.randint(2, 6)):
                window = rng.choice([ONE, TWO])
                step = rng.choice(steps)
                edits = rng.choice([
                    field(step, "wait_min", rng.choice([500, 700, 900])),
                    field(step, "note", f"note {n}"),
                    [{"edit": "move_step", "step_id": "look", "index": rng.randint(0, 5)}],
                    [{"edit": "add_step", "index": rng.randint(0, 5), "step": {
                        "kind": "fitting", "id": f"look-{n}", "name": "Look", "zones": ["deck"], "action": "inspect"}}],
                ])  # fmt: skip
                if edits[0]["edit"] == "move_step":
                    if not any(e[0]["edit"] == "add_step" for _, e in made):
                        continue
                    edits[0]["step_id"] = rng.choice(
                        [e[0]["step"]["id"] for _, e in made if e[0]["edit"] == "add_step"]
                    )
                answer = self.send("edits", window, label=str(n), edits=edits)
                if answer.status_code == 200:
                    made.append((window["X-Window"], edits))
            window = rng.choice([ONE, TWO])
            own = [i for i, (by, _) in enumerate(made) if by == window["X-Window"]]
            if own:
                answer = self.send("undo", window)
                if answer.status_code == 200:
                    left = [edits for i, (_, edits) in enumerate(made) if i != own[-1]]
                    self.assertEqual(store.plan_of(Build.objects.get(pk=self.id)), self.remade(first, left))
                    made.pop(own[-1])
                    taken += own[-1] < len(made)
                else:
                    refused += 1
            for _ in made:
                self.assertEqual(self.send("undo", {}).status_code, 200)
            self.assertEqual(store.plan_of(Build.objects.get(pk=self.id)), first)
        self.assertGreater(taken, at_length(2, 5), refused)
        self.assertGreater(refused, at_length(0, 1), taken)

    def remade(self, plan: Plan, all_of: list[Edits]) -> Plan:
        for edits in all_of:
            plan = store.applied(plan, store.parse_edits(edits)).plan
        return plan

    def test_too_much_in_between_is_said(self) -> None:
        self.edit(ONE, "mine", field("gloss", "wait_min", 700))
        most = history.MOST_BETWEEN
        self.addCleanup(setattr, history, "MOST_BETWEEN", most)
        history.MOST_BETWEEN = 1
        for n in range(2):
            self.edit(TWO, f"theirs {n}", field("matt", "note", str(n)))
        self.assertEqual(self.send("undo", ONE).status_code, 422)
