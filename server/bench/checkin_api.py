"""The Check-in station: checks, previews of repairs, a twin file, the note to the modeller."""

from django.http import HttpResponse
from ninja import File, Router, UploadedFile
from tightseam.checkin.check import Check

from bench import checkin
from bench.requests import REFUSED, character_of, download, revision_of, uploaded
from bench.schemas import (
    CheckInOut,
    EditIn,
    PreviewOut,
)

router = Router()


@router.get("/characters/{int:id}/checkin", response={200: CheckInOut, **REFUSED})
def check_in(request, id: int, revision: int):
    """Is the head fit to be rigged?"""
    return checkin.report(revision_of(id, revision))


@router.post("/characters/{int:id}/preview", response={200: PreviewOut, **REFUSED})
def preview(request, id: int, body: EditIn):
    """What an edit would do to meshes and checks."""
    return checkin.preview(revision_of(id, body.base), body.step)


@router.post("/characters/{int:id}/twin", response={200: Check, **REFUSED})
def twin(request, id: int, revision: int, files: File[list[UploadedFile]]):
    """Compare the vertex order with a second file of the same head."""
    return checkin.twin(revision_of(id, revision), uploaded(files, ()))


@router.get("/characters/{int:id}/note.html")
def note_page(request, id: int):
    """The note to the modeller as a page to print."""
    _, made = checkin.note(character_of(id).head)
    return HttpResponse(made.html, content_type="text/html; charset=utf-8")


@router.get("/characters/{int:id}/note.zip")
def note_archive(request, id: int):
    """The same as Markdown with pictures."""
    document, made = checkin.note(character_of(id).head)
    return download(checkin.zipped(made), f"{document.about.name} note", "zip", "application/zip")
