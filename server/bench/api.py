"""The API of the bench."""

import re

from characters import history
from characters.blobs import BlobStore
from characters.models import Character, Revision
from django.conf import settings
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, NinjaAPI, Status, UploadedFile
from ninja.errors import ValidationError
from tightseam.document.errors import TightSeamError

from bench import frames, measuring, summary
from bench.rigs import Rig, rigs
from bench.schemas import BaseIn, CharacterOut, EditIn, FrameIn, MeasureIn, MeasureOut, Problem, PullIn, PullOut, ShelfEntry

api = NinjaAPI(title="Tight Seam", version="1", docs_url=None)
REFUSED = {400: Problem, 404: Problem, 409: Problem, 413: Problem, 422: Problem}


@api.exception_handler(TightSeamError)
def _refuse(request: HttpRequest, error: TightSeamError) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=400)


@api.exception_handler(history.StaleBase)
def _stale(request: HttpRequest, error: history.StaleBase) -> HttpResponse:
    body = {"message": f"{error} Look again, then repeat your edit.", "head": error.head.number, "changed": [r.text for r in error.since]}
    return api.create_response(request, body, status=409)


@api.exception_handler(ValidationError)
def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    where = " › ".join(str(step) for step in first["loc"][2:])
    return api.create_response(request, {"message": f"{where or 'The request'}: {first['msg']}.", "head": None, "changed": []}, status=422)


@api.exception_handler(OperationalError)
def _busy(request: HttpRequest, error: OperationalError) -> HttpResponse:
    full = "full" in str(error)
    message = (
        "The disk is full: make room, then try again." if full else "The database is busy or cannot be written: try again in a moment."
    )
    return api.create_response(request, {"message": f"{message} Nothing was changed.", "head": None, "changed": []}, status=503)


@api.exception_handler(Http404)
def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=404)


@api.get("/characters", response=list[ShelfEntry])
def shelf(request):
    """All characters, in the order in which they came."""
    return [summary.shelf_entry(c) for c in Character.objects.select_related("head__parent").order_by("pk")]


@api.post("/characters", response={200: ShelfEntry, **REFUSED})
def take_in(request, file: File[UploadedFile]):
    """A character file or a GLB of ours, as a new character."""
    if file.size > settings.MOST_UPLOAD_BYTES:
        limit = settings.MOST_UPLOAD_BYTES / 1e6
        return Status(413, Problem(message=f"The file has {file.size / 1e6:.0f} MB; {limit:.0f} MB are the most. Nothing was stored."))
    store = BlobStore()
    document = _read(file.read(), store)
    return summary.shelf_entry(history.create(document, store, f"Took in {_plain(file.name)}"))


@api.get("/characters/{int:id}", response={200: CharacterOut, 404: Problem})
def character(request, id: int):
    """The document in short, as it is at the head of its history."""
    found = _character(id)
    return summary.character_out(found, rigs.get(found.head))


@api.get("/characters/{int:id}/meshes")
def meshes(request, id: int, revision: int):
    """Msgpack: what the stage draws, as far as no pose changes it."""
    return _msgpack(frames.meshes(_rig(id, revision)))


@api.post("/characters/{int:id}/frame", response=REFUSED)
def frame(request, id: int, body: FrameIn):
    """Msgpack: a posed frame."""
    return _msgpack(frames.frame(_rig(id, body.revision), body))


@api.post("/characters/{int:id}/edits", response={200: CharacterOut, **REFUSED})
def edit(request, id: int, body: EditIn):
    """Apply an edit; 409 where another revision came in between."""
    _character(id)
    history.edit(id, body.base, body.step)
    return character(request, id)


@api.post("/characters/{int:id}/undo", response={200: CharacterOut, **REFUSED})
def undo(request, id: int, body: BaseIn):
    _character(id)
    history.undo(id, body.base)
    return character(request, id)


@api.post("/characters/{int:id}/redo", response={200: CharacterOut, **REFUSED})
def redo(request, id: int, body: BaseIn):
    _character(id)
    history.redo(id, body.base)
    return character(request, id)


@api.post("/characters/{int:id}/measure", response={200: MeasureOut, **REFUSED})
def measure(request, id: int, body: MeasureIn):
    """All seams in one pose."""
    return measuring.measure(_revision(id, body.revision), body)


@api.post("/characters/{int:id}/pull", response={200: PullOut, **REFUSED})
def pull(request, id: int, body: PullIn):
    """What moves a vertex and what holds it back."""
    return measuring.pull(_rig(id, body.revision), body)


@api.get("/characters/{int:id}/export.glb")
def export_glb(request, id: int):
    from tightseam.exchange.glb_write import write_glb

    document, store = history.load(_character(id).head)
    return _download(write_glb(document, store), document.about.name, "glb", "model/gltf-binary")


@api.get("/characters/{int:id}/export.seam")
def export_seam(request, id: int):
    from tightseam.exchange.character_file import write_character

    document, store = history.load(_character(id).head)
    return _download(write_character(document, store), document.about.name, "seam", "application/zip")


def _read(data: bytes, store: BlobStore):
    from tightseam.exchange.character_file import read_character
    from tightseam.exchange.glb_read import read_glb

    return read_glb(data, store) if data[:4] == b"glTF" else read_character(data, store)


def _character(id: int) -> Character:
    found = Character.objects.select_related("head__parent", "tip").filter(pk=id).first()
    if found is None:
        raise Http404(f"There is no character {id} on the shelf.")
    return found


def _rig(id: int, number: int) -> Rig:
    return rigs.find(id, number, lambda: _revision(id, number))


def _revision(id: int, number: int) -> Revision:
    found = Revision.objects.filter(character_id=id, number=number).first()
    if found is None:
        raise Http404(f"Character {id} has no revision {number}.")
    return found


def _msgpack(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="application/vnd.msgpack", headers={"Content-Length": str(len(data))})


def _download(data: bytes, name: str, ending: str, kind: str) -> HttpResponse:
    return HttpResponse(data, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{_plain(name)}.{ending}"'})


def _plain(name: str | None) -> str:
    return re.sub(r"[^\w .-]", "", (name or "").rsplit("/", 1)[-1])[:80].strip(" .") or "character"
