"""Files that were sent and are not taken in yet: on the disk, so that they are there even if the server goes down meanwhile."""

import shutil
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from jobs.models import Job


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
