"""Jobs through HTTP: how far they are, and no longer wanting them."""

from django.http import Http404, HttpRequest, HttpResponse
from jobs.asking import leave, settled
from jobs.models import Job
from ninja import Router, Status
from problems import Problem

from bench.requests import REFUSED, json_answer
from bench.schemas import JobOut
from bench.waiting import asker

router = Router()
PATIENCE = 0.5  # s that a question waits for the end


@router.get("/jobs/{uuid:id}", response={200: JobOut, **REFUSED})
def job(request: HttpRequest, id: str) -> HttpResponse:
    """How far it is, or how it ended. Waits a moment for the end."""
    return json_answer(JobOut.from_orm(settled(_job(id), PATIENCE)))


@router.delete("/jobs/{uuid:id}", response={204: None, 404: Problem})
def stop(request: HttpRequest, id: str) -> Status[None]:
    """This window does not want it any more; where nobody does, it is stopped and leaves nothing behind."""
    leave(_job(id), asker(request))
    return Status(204, None)


def _job(id: str) -> Job:
    found = Job.objects.filter(pk=id).first()
    if found is None:
        raise Http404("No such work is going on.")
    return found
