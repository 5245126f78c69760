"""A build's schedule and record, beside its plan, and the schedule that came before, to show what moved."""

from django.db import models


class Timetable(models.Model):
    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="timetable", primary_key=True)
    schedule = models.JSONField(null=True)
    before = models.JSONField(null=True)
    # What the journal makes of the plan, written anew with each entry.
    record = models.JSONField(default=dict)
    unfit = models.JSONField(default=list)
    plan_revision = models.PositiveIntegerField(default=0)
    # What of the plan the schedule was made from: an edit that is undone makes it current again.
    plan_key = models.CharField(max_length=16, default="")
    # How often it was written, and another mark with each writing: what is remembered of it goes by the mark.
    revision = models.PositiveIntegerField(default=0)
    mark = models.CharField(max_length=32, default="")
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"sittings of {self.build_id}"
