"""Where jobs are done: in the request that asks, as tests do, or in processes beside the server."""

from typing import Protocol

from jobs.models import Job
from jobs.perform import perform


class Runner(Protocol):
    def enqueue(self, job: Job) -> None:
        """Note a lasting job, in the transaction that makes its row."""

    def start(self, job: Job) -> None:
        """Do it as soon as may be."""

    def stop(self, job: Job) -> None:
        """It has been asked to stop: see that it does."""

    def wait(self, job: Job, patience: float) -> None:
        """Return when it has ended, or after so many seconds."""


class Here:
    """Does each job at once, in the thread that asks."""

    def enqueue(self, job: Job) -> None: ...

    def start(self, job: Job) -> None:
        perform(str(job.pk))

    def stop(self, job: Job) -> None: ...

    def wait(self, job: Job, patience: float) -> None: ...


_current: list[Runner] = [Here()]


def current() -> Runner:
    return _current[0]


def use(runner: Runner) -> None:
    _current[0] = runner
