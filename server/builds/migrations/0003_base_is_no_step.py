"""A step called `base` takes another id, everywhere: that word stands for the material of the model.

Earlier versions took such a step, and hid the seam on it.
"""

import json
import secrets
from typing import Any

from django.db import migrations

BASE = "base"
STEP_KEYS = {"id", "acts_on", "recipe_of", "upper", "lower", "step", "step_id", "new_id", "split_id", "below"}
STEP_FIELDS = {"acts_on", "recipe_of"}  # of a step, when an edit sets one
OTHERS = {"zone", "zones", "material", "materials", "build", "air", "kit", "hours", "mix"}  # a `base` in there is none


def renamed(data: Any, new: str) -> Any:
    """A plan, edits or a document of sittings with the step named anew."""
    if isinstance(data, list):
        return [renamed(d, new) for d in data]
    if not isinstance(data, dict):
        return data
    sets_step = data.get("edit") == "set_field" and data.get("field") in STEP_FIELDS
    made = {}
    for key, value in data.items():
        if key in STEP_KEYS or (sets_step and key == "value"):
            made[key] = new if value == BASE else renamed(value, new)
        elif key == "pins":
            made[key] = [new if pin == BASE else pin for pin in value]
        else:
            made[key] = value if key in OTHERS else renamed(value, new)
    return made


def rename(apps: Any, schema_editor: Any) -> None:
    alias = schema_editor.connection.alias
    builds = apps.get_model("builds", "Build")._base_manager.using(alias)
    changes = apps.get_model("builds", "Change")._base_manager.using(alias)
    tables = apps.get_model("sittings", "Timetable")._base_manager.using(alias)
    for pk in list(builds.values_list("pk", flat=True)):
        build = builds.get(pk=pk)
        history = list(changes.filter(build_id=pk))
        written = json.dumps([build.plan, [(c.edits, c.inverse) for c in history]])
        if f'"{BASE}"' not in written:
            continue
        new = BASE + "-step"
        while f'"{new}"' in written:
            new += "-x"
        build.plan = renamed(build.plan, new)
        build.mark = secrets.token_hex(8)
        build.save(update_fields=["plan", "mark"])
        for change in history:
            change.edits, change.inverse = renamed(change.edits, new), renamed(change.inverse, new)
            change.save(update_fields=["edits", "inverse"])
        for table in tables.filter(build_id=pk):
            for field in ("schedule", "before", "record", "record_before", "unfit"):
                if hasattr(table, field):
                    setattr(table, field, renamed(getattr(table, field), new))
            table.mark = secrets.token_hex(8)
            table.save()


class Migration(migrations.Migration):
    dependencies = [("builds", "0002_journal_and_trash"), ("sittings", "0002_marks")]

    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
