"""Doing a job, in whichever process: told of by steps, stopped between two of them, and what came of it written down."""

import time
from collections.abc import Callable
from typing import Any

from characters.reports import KEEPER
from django.db.models import QuerySet
from django.utils import timezone
from problems import Problem, problem_of
from tightseam.document.progress import Cancelled, heard_by

from jobs.models import Job

TELL_EVERY = 0.2  # s between two notes of how far it is
Work = Callable[[Job], dict[str, Any] | None]
WORK: dict[str, Work] = {}  # what does a job, by its kind


def work(kind: str) -> Callable[[Work], Work]:
    """Says that a function does jobs of a kind. It gives what the job's result is to be, or None where what it made is kept elsewhere."""

    def known(does: Work) -> Work:
        WORK[kind] = does
        return does

    return known


def perform(id: str) -> None:
    """Do a job that waits; one that was stopped meanwhile, or done, is left as it is."""
    begun = Job.objects.filter(pk=id, state=Job.State.WAITING).update(state=Job.State.RUNNING, started=timezone.now())
    if not begun:
        return
    job = Job.objects.select_related("character").get(pk=id)
    try:
        with KEEPER.together(), heard_by(_Listener(job)):
            result = WORK[job.kind](job)
    except Exception as error:
        state = Job.State.STOPPED if isinstance(error, Cancelled) else Job.State.REFUSED
        came_to_nothing(id, state, *problem_of(error, f"the job {job.kind} {id}"))
    else:
        _going(id).update(state=Job.State.DONE, result=result, share=1.0, ended=timezone.now())


def came_to_nothing(id: str, state: str, status: int, problem: Problem) -> None:
    """Write down how a job ended; the first who says so is believed."""
    _going(id).update(state=state, status=status, problem=problem.model_dump(), ended=timezone.now())


def _going(id: str) -> QuerySet[Job]:
    return Job.objects.filter(pk=id, state__in=Job.GOING)


class _Listener:
    """Writes down how far a job is, now and then, and stops it where that was asked for."""

    def __init__(self, job: Job) -> None:
        self._id, self._last = job.pk, time.monotonic()

    def __call__(self, share: float, text: str) -> None:
        now = time.monotonic()
        if now - self._last < TELL_EVERY:
            return
        self._last = now
        if not Job.objects.filter(pk=self._id, stop_asked=False).update(share=share, text=text[:200]):
            raise Cancelled
