"""Characters, their revisions, and the blobs that revisions are made of."""

from django.db import models


class Blob(models.Model):
    """A section or an array under its content hash; never changed."""

    hash = models.CharField(primary_key=True, max_length=64)
    kind = models.CharField(max_length=8, choices=[("section", "section"), ("array", "array")])
    data = models.BinaryField()


class Character(models.Model):
    """A head on the shelf. `head` is the revision people see, `tip` the end of the branch it is on: redo goes from one to the other."""

    name = models.CharField(max_length=200)
    created = models.DateTimeField(auto_now_add=True)
    head = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    tip = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")


class Revision(models.Model):
    """A state of a character: the table of its section hashes. None is ever changed."""

    character = models.ForeignKey(Character, on_delete=models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="children")
    number = models.PositiveIntegerField()
    sections = models.JSONField()
    edit = models.CharField(max_length=64)
    params = models.JSONField()
    text = models.CharField(max_length=300)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["character", "number"], name="one_number_a_revision")]


class PoseReport(models.Model):
    """What the seam meter found in one pose of one revision."""

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="reports")
    pose = models.CharField(max_length=100)
    report = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["revision", "pose"], name="one_report_a_pose")]


class CheckInReport(models.Model):
    """What Check-in found in one revision."""

    revision = models.OneToOneField(Revision, on_delete=models.CASCADE, related_name="checkin")
    report = models.JSONField()
