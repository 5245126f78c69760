"""A build is one plan document with a revision; its changes are kept so that undo survives a reload."""

import secrets
from typing import Any

from django.db import models


class Live(models.Manager["Build"]):
    """Builds that do not lie in the trash."""

    def get_queryset(self) -> models.QuerySet["Build"]:
        return super().get_queryset().filter(deleted_at=None)


class Build(models.Model):
    id = models.CharField(primary_key=True, max_length=40)
    name = models.CharField(max_length=120)
    revision = models.PositiveIntegerField(default=1)
    plan = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    deleted_at = models.DateTimeField(null=True, default=None)
    # Another with each writing of the plan, whoever writes it: what is remembered of a build goes by it.
    mark = models.CharField(max_length=32, default="")
    # By which clock it is looked at: as soon as it is safe ("plan"), or by its sittings ("schedule").
    clock = models.CharField(max_length=10, default="plan")
    # Kept to begin others from, and not to be built itself.
    outline = models.BooleanField(default=False)
    # Told in lists, which then need not read the plans.
    steps = models.PositiveIntegerField(default=0)
    zones = models.PositiveIntegerField(default=0)

    objects = Live()
    everything = models.Manager["Build"]()

    class Meta:
        ordering = ("-changed_at",)
        base_manager_name = "everything"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Whoever writes the plan gives it another mark, and the figures that lists tell."""
        fields = kwargs.get("update_fields")
        if fields is None or "plan" in fields:
            self.mark = secrets.token_hex(8)
            self.steps, self.zones = len(self.plan.get("steps", [])), len(self.plan.get("zones", []))
            if fields is not None:
                kwargs["update_fields"] = {*fields, "mark", "steps", "zones"}
        super().save(*args, **kwargs)

    def __str__(self) -> str:
        return self.name


class Change(models.Model):
    """One set of edits that was made, with what leads back. `undone` ones can be made again, in order."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=200)
    edits = models.JSONField()
    inverse = models.JSONField()
    undone = models.BooleanField(default=False)
    # The browser window that made it: undo takes back one's own first.
    window = models.CharField(max_length=64, default="")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=["build", "number"], name="one_change_a_number"),)


class Command(models.Model):
    """The journal: every write that was carried out, once. A command that comes again does nothing again."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="commands")
    command_id = models.CharField(max_length=64)
    revision = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True, null=True)
    kind = models.CharField(max_length=20, default="edit")
    label = models.CharField(max_length=200, default="")
    data = models.JSONField(null=True, default=None)

    class Meta:
        constraints = (models.UniqueConstraint(fields=["build", "command_id"], name="one_command_an_id"),)


class DemoLoaded(models.Model):
    """Demo builds that were loaded once; they do not come back after deletion."""

    build_id = models.CharField(primary_key=True, max_length=40)
