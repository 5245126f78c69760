import secrets
from typing import Any

from django.db import migrations, models


def count(apps: Any, schema_editor: Any) -> None:
    Build = apps.get_model("builds", "Build")
    for build in Build.objects.using(schema_editor.connection.alias).iterator(chunk_size=20):
        build.steps, build.zones = len(build.plan.get("steps", [])), len(build.plan.get("zones", []))
        build.mark = secrets.token_hex(8)
        build.save(update_fields=["steps", "zones", "mark"])


class Migration(migrations.Migration):
    dependencies = [("builds", "0001_initial")]

    operations = [
        migrations.AddField("build", "deleted_at", models.DateTimeField(default=None, null=True)),
        migrations.AddField("build", "mark", models.CharField(default="", max_length=32)),
        migrations.AddField("build", "steps", models.PositiveIntegerField(default=0)),
        migrations.AddField("build", "zones", models.PositiveIntegerField(default=0)),
        migrations.AlterModelOptions("build", {"base_manager_name": "everything", "ordering": ("-changed_at",)}),
        migrations.AlterModelManagers("build", [("objects", models.Manager()), ("everything", models.Manager())]),
        migrations.AddField("command", "at", models.DateTimeField(auto_now_add=True, null=True)),
        migrations.AddField("command", "kind", models.CharField(default="edit", max_length=20)),
        migrations.AddField("command", "label", models.CharField(default="", max_length=200)),
        migrations.AddField("command", "data", models.JSONField(default=None, null=True)),
        migrations.RunPython(count, migrations.RunPython.noop),
    ]
