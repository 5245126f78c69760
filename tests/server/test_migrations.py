"""Data of earlier versions are brought up to date as they stand."""

import json
from importlib import import_module
from types import SimpleNamespace
from typing import Any

from builds import store
from builds.models import Build, Change
from django.apps import apps
from django.test import Client, TestCase
from emvar_core.plan import apply, parse_edits, parse_plan
from sittings.models import Timetable

from tests.builders import tug_json

base_is_no_step = import_module("builds.migrations.0003_base_is_no_step")


def earlier(data: Any, step: str) -> Any:
    """Data as an earlier version would have written them, had a step been called `base`."""
    return json.loads(json.dumps(data).replace(f'"{step}"', '"base"'))


class AStepCalledBase(TestCase):
    def setUp(self) -> None:
        plan = tug_json()
        plan["zones"][0] |= {"name": "base", "notes": "base"} if "notes" in plan["zones"][0] else {"name": "base"}
        store.create(parse_plan(plan), "tug")
        edits = [
            {"edit": "set_field", "step_id": "pin-wash", "field": "wait_min", "value": 700},
            {"edit": "set_field", "step_id": "sponge", "field": "recipe_of", "value": "pin-wash"},
        ]
        store.edit("tug", 1, "command-one", "wait", edits[:1])
        self.plan, self.edits = tug_json(), edits
        build = Build.objects.get(pk="tug")
        placed = {
            "step": "pin-wash",
            "zone": "hull",
            "starts_at": "2026-03-02T18:00:00Z",
            "ends_at": "2026-03-02T19:00:00Z",
        }
        self.schedule = {"format": "emvar-schedule", "version": 1, "placed": [placed], "pins": ["pin-wash"]}
        Build.objects.filter(pk="tug").update(plan=earlier(build.plan, "pin-wash"), mark="earlier")
        Change.objects.update(edits=earlier(edits, "pin-wash"))
        change = Change.objects.get()
        change.inverse = earlier(change.inverse, "pin-wash")
        change.save()
        Timetable.objects.create(build_id="tug", schedule=earlier(self.schedule, "pin-wash"))

    def test_takes_another_id_in_the_plan_its_history_and_its_sittings(self) -> None:
        with self.assertRaises(store.Unreadable):
            store.plan_of(Build.objects.get(pk="tug"))
        was = Build.objects.get(pk="tug").plan
        base_is_no_step.rename(apps, SimpleNamespace(connection=SimpleNamespace(alias="default")))
        plan = store.plan_of(Build.objects.get(pk="tug"))
        self.assertEqual(plan.step("wipe").acts_on, "base-step")
        self.assertEqual(plan.zones[0].name, "base")  # what is called so is no step
        self.assertEqual(len(plan.steps), len(was["steps"]))
        change = Change.objects.get()
        self.assertEqual(change.edits[1], {**self.edits[1], "value": "base-step"})
        undone, _ = apply(plan, parse_edits(change.inverse))
        self.assertNotEqual(undone, plan)
        table = Timetable.objects.get()
        self.assertEqual(table.schedule["pins"], ["base-step"])
        self.assertEqual(table.schedule["placed"][0]["step"], "base-step")
        answer = Client().get("/api/builds/tug")
        self.assertEqual(answer.status_code, 200)

    def test_leaves_alone_what_has_none(self) -> None:
        Build.objects.all().delete()
        store.create(parse_plan(tug_json()), "other")
        was = Build.objects.get(pk="other")
        base_is_no_step.rename(apps, SimpleNamespace(connection=SimpleNamespace(alias="default")))
        now = Build.objects.get(pk="other")
        self.assertEqual((now.plan, now.mark), (was.plan, was.mark))
