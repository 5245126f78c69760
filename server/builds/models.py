"""A build is one plan document with a revision; its changes are kept so that undo survives a reload."""

from django.db import models


class Build(models.Model):
    id = models.CharField(primary_key=True, max_length=40)
    name = models.CharField(max_length=120)
    revision = models.PositiveIntegerField(default=1)
    plan = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("-changed_at",)

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

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=["build", "number"], name="one_change_a_number"),)


class Command(models.Model):
    """Command ids already carried out, so that a repeated request does nothing twice."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="commands")
    command_id = models.CharField(max_length=64)
    revision = models.PositiveIntegerField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=["build", "command_id"], name="one_command_an_id"),)


class DemoLoaded(models.Model):
    """Demo builds that were loaded once; they do not come back after deletion."""

    build_id = models.CharField(primary_key=True, max_length=40)
