"""Asking for a job, joining one that is going on, and taking one's wish back."""

from collections.abc import Mapping
from typing import Any

from characters.models import Revision
from django.db import transaction
from problems import STOPPED

from jobs import runners
from jobs.models import Job
from jobs.perform import came_to_nothing


def ask(
    kind: str,
    title: str,
    key: str,
    asker: str,
    *,
    revision: Revision | None = None,
    params: Mapping[str, Any] | None = None,
    lasting: bool = False,
) -> Job:
    """A job for what has this key: the one that is going on, or a new one. `title` says what it does."""
    with transaction.atomic():
        job = Job.objects.filter(key=key, state__in=Job.GOING, stop_asked=False).first()
        if job is not None:
            if asker not in job.askers:
                job.askers = [*job.askers, asker]
                job.save(update_fields=["askers"])
            return job
        Job.objects.filter(key=key, state__in=Job.GOING).update(key=f"{key[:60]}-old")  # is being stopped
        job = Job.objects.create(
            kind=kind,
            title=title[:200],
            key=key,
            askers=[asker],
            lasting=lasting,
            character_id=revision and revision.character_id,
            base=revision and revision.number,
            params=dict(params or {}),
        )
        if lasting:
            runners.current().enqueue(job)
    runners.current().start(job)
    return job


def settled(job: Job, patience: float) -> Job:
    """The job as it is once it has ended, or after so many seconds."""
    runners.current().wait(job, patience)
    job.refresh_from_db()
    return job


def leave(job: Job, asker: str) -> None:
    """One window no longer wants it; it is stopped where nobody does."""
    with transaction.atomic():
        job = Job.objects.get(pk=job.pk)
        job.askers = [a for a in job.askers if a != asker]
        job.stop_asked = job.stop_asked or not job.askers
        job.save(update_fields=["askers", "stop_asked"])
        waits = job.stop_asked and job.state == Job.State.WAITING
    if waits:
        came_to_nothing(str(job.pk), Job.State.STOPPED, 409, STOPPED)
    elif job.stop_asked:
        runners.current().stop(job)
