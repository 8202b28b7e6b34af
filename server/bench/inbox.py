"""Files that were sent and are not taken in yet: on the disk, so that they are there even if the server goes down meanwhile."""

import shutil
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from jobs.apart import Apart, Limits
from jobs.models import Job

LEAST_MEMORY, MEMORY_A_BYTE = 1_200_000_000, 40  # bytes
LEAST_SECONDS, SECONDS_A_MB = 25, 6  # of the processor


def put(folder: str, files: Mapping[str, bytes]) -> dict[str, list[str]]:
    """Lay files by; parameters of the job that takes them in."""
    place = _place(folder)
    place.mkdir(parents=True)
    for k, data in enumerate(files.values()):  # by number: their own names are other people's
        (place / str(k)).write_bytes(data)
    return {"names": list(files)}


@contextmanager
def files_of(job: Job) -> Iterator[dict[str, bytes]]:
    """The files of a job by their names. They are gone once it is done, well or badly."""
    place = _place(job.key)
    try:
        yield {name: (place / str(k)).read_bytes() for k, name in enumerate(job.params["names"])}
    finally:
        forget(job.key)


def limits(job: Job) -> Limits:
    """What files of their size may ask for."""
    size = sum(file.stat().st_size for file in _place(job.key).iterdir()) if _place(job.key).is_dir() else 0
    return Limits(LEAST_MEMORY + MEMORY_A_BYTE * size, LEAST_SECONDS + SECONDS_A_MB * size // 1_000_000)


def forget(folder: str) -> None:
    shutil.rmtree(_place(folder), ignore_errors=True)


def clear() -> None:
    """Forget what belongs to no job that is still to be done."""
    wanted = set(Job.objects.filter(state__in=Job.GOING).values_list("key", flat=True))
    root = settings.DATA / "inbox"
    for place in root.iterdir() if root.is_dir() else ():
        if place.name not in wanted:
            forget(place.name)


def _place(folder: str) -> Path:
    return settings.DATA / "inbox" / folder


READING = Apart(limits, lambda job: forget(job.key))  # for jobs over files
