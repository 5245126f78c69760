"""What was recorded before there was a journal becomes its first entries, in the order in which it was entered."""

from datetime import timedelta

from django.db import migrations

SAID = {"done": "done", "begun": "begun", "failed": "wrong", "skipped": "skipped"}


def enter(apps, schema_editor):  # type: ignore[no-untyped-def]
    alias = schema_editor.connection.alias
    Timetable = apps.get_model("sittings", "Timetable")
    Entry = apps.get_model("journal", "JournalEntry")
    for table in Timetable.objects.using(alias).select_related("build"):
        record = table.record or {}
        names = {s["id"]: s.get("name", "") for s in table.build.plan.get("steps", [])}
        rows = []
        for i, e in enumerate(record.get("entries", [])):
            written = (table.changed_at + timedelta(milliseconds=i)).isoformat()
            body = {
                "id": f"recorded-{i:06}", "said": SAID.get(e["state"], "note"), "written_at": written,
                "at": e["starts_at"] if e["state"] == "begun" else e["ends_at"],
                "step": e["step"], "zones": [e["zone"]], "name": names.get(e["step"], "")[:120],
            }
            if e["state"] != "begun":
                body["began_at"] = e["starts_at"]
            if e.get("note"):
                body["note"] = e["note"]
            rows.append(Entry(build_id=table.pk, entry_id=body["id"], body=body, parcel=body["id"],
                              received_at=table.changed_at))
        if record.get("now_at"):
            body = {"id": "recorded-now", "said": "now", "at": record["now_at"],
                    "written_at": table.changed_at.isoformat()}
            rows.append(Entry(build_id=table.pk, entry_id="recorded-now", body=body, parcel="recorded-now",
                              received_at=table.changed_at))
        Entry.objects.using(alias).bulk_create(rows)


class Migration(migrations.Migration):
    dependencies = [("journal", "0001_initial"), ("sittings", "0003_one_clock")]

    operations = [migrations.RunPython(enter, migrations.RunPython.noop)]
