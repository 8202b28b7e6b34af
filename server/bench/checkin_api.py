"""The Check-in station: checks, previews of repairs, a twin file, the note to the modeller."""

from characters import history
from characters.reports import KEEPER
from django.http import HttpRequest, HttpResponse
from jobs.asking import ask
from ninja import File, Router, UploadedFile
from tightseam.checkin.check import Check

from bench import checkin
from bench.requests import REFUSED, character_of, download, revision_of, uploaded
from bench.schemas import (
    CheckInOut,
    EditIn,
    JobOut,
    PreviewOut,
)
from bench.waiting import asker, done_or_job, report_or_job

router = Router()


@router.get("/characters/{int:id}/checkin", response={200: CheckInOut, 202: JobOut, **REFUSED})
def check_in(request: HttpRequest, id: int, revision: int) -> CheckInOut | HttpResponse:
    """Is the head fit to be rigged?"""
    looked_at = revision_of(id, revision)
    if KEEPER.load(key := checkin.key_of(looked_at)) is None:
        going = done_or_job(ask("check-in", "Checking the head in", key, asker(request), revision=looked_at))
        if going is not None:
            return going
    return checkin.report(looked_at)


@router.post("/characters/{int:id}/preview", response={200: PreviewOut, 202: JobOut, **REFUSED})
def preview(request: HttpRequest, id: int, body: EditIn) -> HttpResponse:
    """What an edit would do to meshes and checks."""
    revision, step = revision_of(id, body.base), body.step.model_dump(mode="json")
    key = f"{history.draft_key(revision, body.step)[:56]}-preview"
    return report_or_job(request, "preview", "Trying a repair", key, revision, {"step": step})


@router.post("/characters/{int:id}/twin", response={200: Check, **REFUSED})
def twin(request: HttpRequest, id: int, revision: int, files: File[list[UploadedFile]]) -> Check:
    """Compare the vertex order with a second file of the same head."""
    return checkin.twin(revision_of(id, revision), uploaded(files, ()))


@router.get("/characters/{int:id}/note.html")
def note_page(request: HttpRequest, id: int) -> HttpResponse:
    """The note to the modeller as a page to print."""
    _, made = checkin.note(character_of(id).head)
    return HttpResponse(made.html, content_type="text/html; charset=utf-8")


@router.get("/characters/{int:id}/note.zip")
def note_archive(request: HttpRequest, id: int) -> HttpResponse:
    """The same as Markdown with pictures."""
    document, made = checkin.note(character_of(id).head)
    return download(checkin.zipped(made), f"{document.about.name} note", "zip", "application/zip")
