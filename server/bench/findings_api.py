"""What is wrong at each station, and what an edit would do about it."""

from characters import history
from django.http import HttpRequest, HttpResponse
from ninja import Router
from tightseam.findings.finding import Finding
from tightseam.tryout.stations import FINDINGS, Station

from bench.requests import REFUSED, revision_of
from bench.schemas import EditIn, JobOut, TryOut
from bench.waiting import report_or_job

router = Router()


@router.get("/characters/{int:id}/findings/{station}", response={200: list[Finding], 202: JobOut, **REFUSED})
def findings(request: HttpRequest, id: int, station: Station, revision: int) -> HttpResponse:
    """All that a station finds wrong; measured once for all revisions that are alike."""
    looked_at = revision_of(id, revision)
    key = FINDINGS[station].key(history.load(looked_at)[0])
    return report_or_job(request, "findings", f"Looking for what is wrong with {station}", key, looked_at, {"station": station})


@router.post("/characters/{int:id}/try", response={200: TryOut, 202: JobOut, **REFUSED})
def try_out(request: HttpRequest, id: int, body: EditIn) -> HttpResponse:
    """What an edit would do. Nothing is stored."""
    revision, step = revision_of(id, body.base), body.step.model_dump(mode="json")
    key = history.draft_key(revision, body.step)
    return report_or_job(request, "try", "Trying a repair", key, revision, {"step": step})
