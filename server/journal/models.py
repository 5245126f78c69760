"""What happened at the bench: entries that are only ever added, pictures, the devices that may write, the shelf."""

from django.db import models


class JournalEntry(models.Model):
    """An entry as it was said, once. What takes it back is another one; `id` is the order in which they came."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="journal")
    entry_id = models.CharField(max_length=64)
    body = models.JSONField()
    # The parcel that it came in: what was said in one go is taken back in one go.
    parcel = models.CharField(max_length=64, default="")
    received_at = models.DateTimeField()

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=["build", "entry_id"], name="one_entry_an_id"),)


class Picture(models.Model):
    """A picture of a build: upright, re-encoded, without anything that a camera writes beside it."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="pictures")
    picture_id = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    body = models.BinaryField()
    small = models.BinaryField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=["build", "picture_id"], name="one_picture_an_id"),)


class Device(models.Model):
    """A device that was paired and may write, until it is turned out. Its token is kept as a hash only."""

    id = models.CharField(primary_key=True, max_length=40)
    name = models.CharField(max_length=80)
    token_hash = models.CharField(max_length=64, unique=True)
    paired_at = models.DateTimeField()
    seen_at = models.DateTimeField(null=True, default=None)

    class Meta:
        ordering = ("paired_at",)

    def __str__(self) -> str:
        return self.name


class Jar(models.Model):
    """A paint, thinner or mask on the shelf: how much is left, since when it is open. The journal takes use off."""

    id = models.CharField(primary_key=True, max_length=40)
    material = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    full_ml = models.FloatField()
    opened_on = models.DateField(null=True, default=None)
    counted_at = models.DateTimeField()
    counted_ml = models.FloatField()

    class Meta:
        ordering = ("name", "id")


class Learning(models.Model):
    """What is made of observations: which are left out, which bench they hold for, since when they count."""

    id = models.CharField(primary_key=True, max_length=120)  # quantity~paint or system
    bench = models.CharField(max_length=80, default="")
    since = models.DateTimeField(null=True, default=None)
