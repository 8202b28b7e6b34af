"""What is kept is answered at once; what has to be made first is made by a job, of which the answer tells (202)."""

from collections.abc import Mapping
from typing import Any
from uuid import uuid4

from characters import history
from characters.models import Revision
from characters.reports import KEEPER
from django.http import HttpRequest, HttpResponse
from jobs.asking import ask, settled
from jobs.models import Job
from problems import Problem
from tightseam.document.kept import Remembered

from bench import inbox
from bench.requests import json_answer
from bench.schemas import JobOut

AT_ONCE = 0.25  # s that a request waits for a job: what is quick needs no second request
NOBODY = "nobody"


class CameToNothing(Exception):
    """A job was refused, stopped or broke off."""

    def __init__(self, job: Job) -> None:
        super().__init__(job.title)
        self.status, self.problem = job.status, Problem(**job.problem)


def asker(request: HttpRequest) -> str:
    """The window that asks."""
    return request.headers.get("X-Window", NOBODY)[:64]


def report_or_job(
    request: HttpRequest, kind: str, title: str, key: str, revision: Revision, params: Mapping[str, Any] | None = None
) -> HttpResponse:
    """The report that is kept under the key, or the job that makes it."""
    data = KEEPER.load(key)
    if data is None:
        going = done_or_job(ask(kind, title, key, asker(request), revision=revision, params=params))
        if going is not None:
            return going
        data = KEEPER.load(key)
    assert data is not None
    return HttpResponse(data, content_type="application/json")


def remembered_or_job(
    request: HttpRequest, kind: str, title: str, found: Remembered[..., Any], revision: Revision, params: Mapping[str, Any] | None = None
) -> HttpResponse:
    """What a function of a head that is remembered gives for a revision, or the job that finds it; `params` are its other arguments."""
    document, _ = history.load(revision)
    return report_or_job(request, kind, title, found.key(document, *(params or {}).values()), revision, params)


def done_or_job(job: Job) -> HttpResponse | None:
    """None where the job is done soon; CameToNothing where it came to that; else the answer that tells of it."""
    job = settled(job, AT_ONCE)
    if job.going:
        return json_answer(JobOut.from_orm(job), status=202)
    if job.problem is not None:
        raise CameToNothing(job)
    return None


def lasting_job(request: HttpRequest, kind: str, title: str, files: Mapping[str, bytes], revision: Revision | None = None) -> HttpResponse:
    """A job that takes files in, done even if the server goes down meanwhile."""
    folder = uuid4().hex
    params = inbox.put(folder, files)
    job = ask(kind, title, folder, asker(request), revision=revision, params=params, lasting=True)
    return done_or_job(job) or json_answer(JobOut.from_orm(job))


def said_of(files: Mapping[str, bytes]) -> str:
    """Files in a few words."""
    return next(iter(files)) if len(files) == 1 else f"{len(files)} files"
