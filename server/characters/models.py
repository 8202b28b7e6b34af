"""Characters, their revisions, the blobs that revisions are made of, and reports on them."""

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


class Report(models.Model):
    """What was measured, as JSON under the hash of all it depends on. It can be dropped at any time, and is measured again."""

    key = models.CharField(primary_key=True, max_length=64)
    data = models.BinaryField()


class Draft(models.Model):
    """What an edit would make of a head, under the hash of both: a revision that nobody has taken yet. Its arrays and sections are there
    as blobs. It can be dropped at any time."""

    key = models.CharField(primary_key=True, max_length=64)
    sections = models.JSONField()
    text = models.CharField(max_length=300)
    made = models.DateTimeField(auto_now_add=True)
