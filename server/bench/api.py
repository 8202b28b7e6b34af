"""The API of the bench."""

from characters import history
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, Form, NinjaAPI, Query, Status, UploadedFile
from ninja.errors import ValidationError
from tightseam.checkin.check import Check
from tightseam.document.change_bones import hanging_on
from tightseam.document.errors import TightSeamError
from tightseam.exchange.delivery import Cancelled
from tightseam.seams.effects import SideEffects

from bench import checkin, frames, marks, measuring, seats, shading, summary
from bench.controls_api import router as controls
from bench.findings_api import router as findings
from bench.imports import imports
from bench.jaw_api import router as jaw
from bench.lids_api import router as lids
from bench.requests import REFUSED, character_of, download, json_answer, msgpack_answer, revision_of, rig_of, uploaded
from bench.rigs import rigs
from bench.schemas import (
    BaseIn,
    CharacterOut,
    CheckInOut,
    CutOut,
    DamagedEntry,
    EditIn,
    EyeSeatOut,
    FrameIn,
    ImportOut,
    LandmarksOut,
    LatelyOut,
    MeasureIn,
    MeasureOut,
    PreviewOut,
    Problem,
    ProgressOut,
    ProposalOut,
    PullIn,
    PullOut,
    ShelfEntry,
    SideCutOut,
)
from bench.shapes_api import router as shapes
from bench.unforeseen import unforeseen
from bench.weights_api import router as weights

api = NinjaAPI(title="Tight Seam", version="1", docs_url=None)


@api.exception_handler(TightSeamError)
def _refuse(request: HttpRequest, error: TightSeamError) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=400)


@api.exception_handler(Cancelled)
def _stopped(request: HttpRequest, error: Cancelled) -> HttpResponse:
    return api.create_response(request, {"message": "Stopped. Nothing was stored.", "head": None, "changed": []}, status=409)


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


@api.exception_handler(Exception)
def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    message = unforeseen(f"{request.method} {request.path}")
    return api.create_response(request, {"message": message, "head": None, "changed": []}, status=500)


@api.exception_handler(Http404)
def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=404)


@api.get("/characters", response=list[ShelfEntry | DamagedEntry])
def shelf(request):
    """All characters, in the order in which they came; those that cannot be opened say why."""
    return summary.shelf()


@api.post("/imports/{token}", response={200: ImportOut, **REFUSED})
def take_in(request, token: str, files: File[list[UploadedFile]], paths: Form[list[str]] = ()):
    """OBJ, glTF, USD, zips of them or a character file, as a new character. `paths` are the files' places in a folder, in their order."""
    character, notes = imports.run(token, uploaded(files, paths))
    return ImportOut(entry=summary.shelf_entry(character), notes=notes)


@api.get("/imports/{token}", response={200: ProgressOut, 404: Problem})
def import_progress(request, token: str):
    found = imports.progress(token)
    if found is None:
        raise Http404("No such import is going on.")
    return ProgressOut(share=found[0], text=found[1])


@api.delete("/imports/{token}", response={204: None, 404: Problem})
def stop_import(request, token: str):
    """Stop it at the next step; nothing is stored."""
    if not imports.stop(token):
        raise Http404("No such import is going on.")
    return Status(204, None)


@api.get("/lately", response=list[LatelyOut])
def lately(request):
    """What was done last, to whomever."""
    return summary.lately()


@api.get("/characters/{int:id}", response={200: CharacterOut, 404: Problem})
def character(request, id: int):
    """The document in short, as it is at the head of its history."""
    found = character_of(id)
    return json_answer(summary.character_out(found, rigs.get(found.head)))


@api.get("/characters/{int:id}/meshes")
def meshes(request, id: int, revision: int):
    """Msgpack: what the stage draws, as far as no pose changes it."""
    return msgpack_answer(frames.meshes(rig_of(id, revision)))


@api.get("/characters/{int:id}/shading")
def shadings(request, id: int, revision: int):
    """Msgpack: what light needs to know of the meshes. It takes a second when first asked for; the stage draws without it until then."""
    return msgpack_answer(shading.shading(rig_of(id, revision)))


@api.post("/characters/{int:id}/frame", response=REFUSED)
def frame(request, id: int, body: FrameIn):
    """Msgpack: a posed frame."""
    pinned = rig_of(id, body.pinned) if body.tint == "pin" and body.pinned is not None else None
    return msgpack_answer(frames.frame(rig_of(id, body.revision), body, pinned))


@api.post("/characters/{int:id}/edits", response={200: CharacterOut, **REFUSED})
def edit(request, id: int, body: EditIn):
    """Apply an edit; 409 where another revision came in between."""
    history.edit(id, body.base, body.step)
    return character(request, id)


@api.post("/characters/{int:id}/undo", response={200: CharacterOut, **REFUSED})
def undo(request, id: int, body: BaseIn):
    character_of(id)
    history.undo(id, body.base)
    return character(request, id)


@api.post("/characters/{int:id}/redo", response={200: CharacterOut, **REFUSED})
def redo(request, id: int, body: BaseIn):
    character_of(id)
    history.redo(id, body.base)
    return character(request, id)


@api.post("/characters/{int:id}/measure", response={200: MeasureOut, **REFUSED})
def measure(request, id: int, body: MeasureIn):
    """All seams in one pose."""
    return measuring.measure(revision_of(id, body.revision), body)


@api.get("/characters/{int:id}/effects", response={200: SideEffects, **REFUSED})
def effects(request, id: int, before: int, after: int):
    """What changed in all test poses from one revision to another."""
    return measuring.effects(revision_of(id, before), revision_of(id, after))


@api.post("/characters/{int:id}/pull", response={200: PullOut, **REFUSED})
def pull(request, id: int, body: PullIn):
    """What moves a vertex and what holds it back."""
    return measuring.pull(rig_of(id, body.revision), body)


@api.get("/characters/{int:id}/checkin", response={200: CheckInOut, **REFUSED})
def check_in(request, id: int, revision: int):
    """Is the head fit to be rigged?"""
    return checkin.report(revision_of(id, revision))


@api.post("/characters/{int:id}/preview", response={200: PreviewOut, **REFUSED})
def preview(request, id: int, body: EditIn):
    """What an edit would do to meshes and checks."""
    return checkin.preview(revision_of(id, body.base), body.step)


@api.post("/characters/{int:id}/twin", response={200: Check, **REFUSED})
def twin(request, id: int, revision: int, files: File[list[UploadedFile]]):
    """Compare the vertex order with a second file of the same head."""
    return checkin.twin(revision_of(id, revision), uploaded(files, ()))


@api.get("/characters/{int:id}/eyes", response={200: list[EyeSeatOut], **REFUSED})
def eyes(request, id: int, revision: int):
    """How the eyes sit, and what they touch as they look about."""
    return seats.seats(rig_of(id, revision))


@api.get("/characters/{int:id}/eyes/{side}/proposals", response={200: list[ProposalOut], **REFUSED})
def eye_proposals(request, id: int, side: str, revision: int):
    return seats.proposals(rig_of(id, revision), side)


@api.get("/characters/{int:id}/eyes/{side}/cut", response={200: CutOut, **REFUSED})
def eye_cut(request, id: int, side: str, revision: int, gaze: int):
    return seats.cut(rig_of(id, revision), side, gaze)


@api.get("/characters/{int:id}/landmarks", response={200: LandmarksOut, **REFUSED})
def landmarks(request, id: int, revision: int):
    """Every landmark there should be: where it belongs, where it is, where it is found on the mesh."""
    return marks.landmarks(rig_of(id, revision))


@api.get("/characters/{int:id}/landmarks/{name}/cut", response={200: SideCutOut, **REFUSED})
def landmark_cut(request, id: int, name: str, revision: int):
    """A look into the head from the side, through a landmark."""
    return marks.side_cut(rig_of(id, revision), name)


@api.get("/characters/{int:id}/bones/hanging", response={200: list[str], **REFUSED})
def hanging(request, id: int, revision: int, bones: Query[list[str]]):
    """What hangs on bones that somebody means to remove, and what would become of it, in sentences."""
    return hanging_on(rig_of(id, revision).document, bones)


@api.get("/characters/{int:id}/note.html")
def note_page(request, id: int):
    """The note to the modeller as a page to print."""
    _, made = checkin.note(character_of(id).head)
    return HttpResponse(made.html, content_type="text/html; charset=utf-8")


@api.get("/characters/{int:id}/note.zip")
def note_archive(request, id: int):
    """The same as Markdown with pictures."""
    document, made = checkin.note(character_of(id).head)
    return download(checkin.zipped(made), f"{document.about.name} note", "zip", "application/zip")


@api.get("/characters/{int:id}/export.obj")
def export_obj(request, id: int, part: str | None = None):
    """The meshes as they stand, in the delivered order and unit."""
    from tightseam.document.lookup import part as find_part
    from tightseam.exchange.obj_write import write_obj

    document, store = history.load(character_of(id).head)
    chosen = None if part is None else [find_part(document, part)]
    return download(write_obj(document, store, chosen), f"{document.about.name}{f' {part}' if part else ''}", "obj", "model/obj")


@api.get("/characters/{int:id}/export.usd")
def export_usd(request, id: int):
    from tightseam.exchange.usd_write import write_usd

    document, store = history.load(character_of(id).head)
    return download(write_usd(document, store), document.about.name, "usdc", "model/vnd.usd")


@api.get("/characters/{int:id}/export.glb")
def export_glb(request, id: int):
    from tightseam.exchange.glb_write import write_glb

    document, store = history.load(character_of(id).head)
    return download(write_glb(document, store), document.about.name, "glb", "model/gltf-binary")


@api.get("/characters/{int:id}/export.seam")
def export_seam(request, id: int):
    from tightseam.exchange.character_file import write_character

    document, store = history.load(character_of(id).head)
    return download(write_character(document, store), document.about.name, "seam", "application/zip")


api.add_router("", weights)
api.add_router("", lids)
api.add_router("", jaw)
api.add_router("", shapes)
api.add_router("", controls)
api.add_router("", findings)
