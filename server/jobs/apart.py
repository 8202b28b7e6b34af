"""A job over files that somebody sent is done in a process of its own, within limits: it may die of them, and nothing else does."""

import multiprocessing
import resource
import signal
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from django.db import connections
from problems import Problem
from tightseam.mix.parent import end_with_parent

from jobs.models import Job
from jobs.perform import came_to_nothing, perform

STANDS_STILL = 8.0  # seconds on the clock to one of the processor
DIED = Problem(message="The files are damaged, or ask for more memory than files of their size may. Nothing was stored.")
ENDLESS = Problem(message="The files could not be read in the time that sound ones of their size take. Nothing was stored.")
FORK = multiprocessing.get_context("fork")  # the process that asks has one thread that works, and never read a file itself


@dataclass(frozen=True)
class Limits:
    """Bytes of memory beyond what the process begins with, and seconds of the processor."""

    memory: int
    seconds: int


@dataclass(frozen=True)
class Apart:
    """For a kind of job: its limits, and what clears away what it leaves should it die."""

    limits: Callable[[Job], Limits]
    forget: Callable[[Job], None]


APART: dict[str, Apart] = {}  # by the kind of job


def perform_apart(job: Job, apart: Apart) -> None:
    """Do a job in a process of its own. It has ended when this returns, whatever became of the process."""
    limits = apart.limits(job)
    connections.close_all()  # none is taken along
    process = FORK.Process(target=_limited, args=(str(job.pk), limits))
    process.start()
    process.join(STANDS_STILL * limits.seconds)
    endless = process.exitcode in (None, -signal.SIGXCPU)
    process.kill()
    process.join()
    if process.exitcode != 0:
        came_to_nothing(str(job.pk), Job.State.REFUSED, 400, ENDLESS if endless else DIED)
        apart.forget(job)


def _limited(id: str, limits: Limits) -> None:
    end_with_parent()
    memory = _taken() + limits.memory
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (limits.seconds, limits.seconds + 5))  # told first, then killed
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    perform(id)


def _taken() -> int:
    """Bytes that this process has for data (proc(5), VmData)."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) * 1024 for line in lines if line.startswith("VmData"))
