"""Every expression on every other: asking for a sweep, and what came of it."""

from characters import history, sweeps
from characters.reports import KEEPER
from django.http import HttpRequest, HttpResponse
from jobs.asking import ask, settled
from jobs.models import SWEEP, Job
from ninja import Router
from tightseam.mix.report import mix_key

from bench.requests import REFUSED, json_answer, revision_of
from bench.schemas import JobOut, MixOut, SweepIn
from bench.waiting import AT_ONCE, asker

router = Router()


@router.get("/characters/{int:id}/mix", response={200: MixOut, **REFUSED})
def mix(request: HttpRequest, id: int, revision: int) -> HttpResponse:
    """The report on a revision, or where it has none that on the last one that was swept; and the sweep that is going on."""
    key = mix_key(history.load(revision_of(id, revision))[0])
    going = Job.objects.filter(kind=SWEEP, character_id=id, state__in=Job.GOING, stop_asked=False).first()
    data, of, last = KEEPER.load(key), revision, sweeps.last_ended(id)
    if data is None and last is not None:
        data, of = KEEPER.load(last.key), last.revision
    job = "null" if going is None else JobOut.from_orm(going).model_dump_json()
    report = "null" if data is None else data.decode()
    fresh = str(data is not None and of == revision).lower()
    body = f'{{"report":{report},"revision":{of if data else "null"},"fresh":{fresh},"job":{job}}}'  # a report is long, and JSON already
    return HttpResponse(body, content_type="application/json")


@router.post("/characters/{int:id}/sweep", response={202: JobOut, **REFUSED})
def sweep(request: HttpRequest, id: int, body: SweepIn) -> HttpResponse:
    """Sweep a revision. It goes on though nobody waits for it, and though the server is started anew meanwhile."""
    revision = revision_of(id, body.revision)
    key = f"s{mix_key(history.load(revision)[0])[1:]}"  # of the job, not of its report
    job = ask(SWEEP, "Sweeping all expressions", key, asker(request), revision=revision, lasting=True)
    return json_answer(JobOut.from_orm(settled(job, AT_ONCE)), status=202)
