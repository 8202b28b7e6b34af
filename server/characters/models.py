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
    taken_off = models.DateTimeField(null=True)  # the shelf; it can be put back until it is tidied away
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


class Sweep(models.Model):
    """A sweep of a character under the key of its report, in which revision it was asked for; the newest one of each character is kept, so
    that the next one measures only what has changed since."""

    character = models.ForeignKey(Character, on_delete=models.CASCADE, related_name="sweeps")
    key = models.CharField(max_length=64)
    revision = models.PositiveIntegerField()
    ended = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["character", "key"], name="one_sweep_of_a_state")]


class SweptCells(models.Model):
    """Some cells of a sweep with what was found in them, as JSON."""

    sweep = models.ForeignKey(Sweep, on_delete=models.CASCADE, related_name="cells")
    data = models.BinaryField()


class Draft(models.Model):
    """What an edit would make of a head, under the hash of both: a revision that nobody has taken yet. Its arrays and sections are there
    as blobs. It can be dropped at any time."""

    key = models.CharField(primary_key=True, max_length=64)
    sections = models.JSONField()
    text = models.CharField(max_length=300)
    made = models.DateTimeField(auto_now_add=True)
