"""Jobs: what takes longer than a request should."""

import uuid

from characters.models import Character
from django.db import models

SWEEP = "sweep"
DEFAULT, SWEEPS = QUEUES = ("default", "sweeps")


class Job(models.Model):
    """Work that somebody waits for, or waited for: `askers` are the windows that do. Two that want the same thing, by its `key`, share a
    job. It is `lasting` where it has to be done even if the server goes down meanwhile."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        REFUSED = "refused"
        STOPPED = "stopped"
        FAILED = "failed"

    GOING = (State.WAITING, State.RUNNING)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    kind = models.CharField(max_length=32)
    title = models.CharField(max_length=200)
    key = models.CharField(max_length=64, db_index=True)
    lasting = models.BooleanField(default=False)
    character = models.ForeignKey(Character, null=True, on_delete=models.CASCADE, related_name="jobs")
    base = models.PositiveIntegerField(null=True)  # number of the revision it looks at
    params = models.JSONField(default=dict)
    askers = models.JSONField(default=list)
    state = models.CharField(max_length=8, choices=State, default=State.WAITING, db_index=True)
    stop_asked = models.BooleanField(default=False)
    attempts = models.PositiveSmallIntegerField(default=0)
    share = models.FloatField(default=0.0)
    text = models.CharField(max_length=200, default="")
    status = models.PositiveSmallIntegerField(default=200)  # as of a request
    problem = models.JSONField(null=True)  # why it came to nothing
    result = models.JSONField(null=True)
    asked = models.DateTimeField(auto_now_add=True)
    started = models.DateTimeField(null=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["key"], condition=models.Q(state__in=["waiting", "running"]), name="one_job_at_a_time_for_the_same_thing"
            )
        ]

    @property
    def queue(self) -> str:
        """Where a lasting job stands in line: a sweep takes minutes, and nobody who brings a head waits behind one."""
        return SWEEPS if self.kind == SWEEP else DEFAULT

    @classmethod
    def lasting_in(cls, queue: str) -> models.QuerySet["Job"]:
        """The lasting jobs of a queue."""
        lasting = cls.objects.filter(lasting=True)
        return lasting.filter(kind=SWEEP) if queue == SWEEPS else lasting.exclude(kind=SWEEP)

    @property
    def going(self) -> bool:
        return self.state in self.GOING
