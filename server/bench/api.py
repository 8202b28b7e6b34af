"""The API of the bench."""

import re

from characters import history
from characters.models import Character, Revision
from django.conf import settings
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, Form, NinjaAPI, Status, UploadedFile
from ninja.errors import ValidationError
from tightseam.checkin.check import Check
from tightseam.document.errors import TightSeamError
from tightseam.exchange.delivery import Cancelled
from tightseam.exchange.weights_csv import Match

from bench import checkin, frames, marks, measuring, seats, selections, summary, tryout
from bench.imports import imports
from bench.painting import painting
from bench.rigs import Rig, rigs
from bench.schemas import (
    BaseIn,
    BoneFindingOut,
    CharacterOut,
    CheckInOut,
    CutOut,
    EditIn,
    EffectsOut,
    EyeSeatOut,
    FrameIn,
    ImportOut,
    IslandOut,
    LandmarksOut,
    MeasureIn,
    MeasureOut,
    PaintIn,
    PreviewOut,
    Problem,
    ProgressOut,
    ProposalOut,
    PullIn,
    PullOut,
    SelectIn,
    SelectionIn,
    SelectionOut,
    SelectOut,
    ShelfEntry,
    SideCutOut,
    TableIn,
    TableOut,
    TryOut,
    WeightFindingOut,
)

api = NinjaAPI(title="Tight Seam", version="1", docs_url=None)
REFUSED = {400: Problem, 404: Problem, 409: Problem, 413: Problem, 422: Problem}


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


@api.exception_handler(Http404)
def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "head": None, "changed": []}, status=404)


@api.get("/characters", response=list[ShelfEntry])
def shelf(request):
    """All characters, in the order in which they came."""
    return [summary.shelf_entry(c) for c in Character.objects.select_related("head__parent").order_by("pk")]


@api.post("/imports/{token}", response={200: ImportOut, **REFUSED})
def take_in(request, token: str, files: File[list[UploadedFile]], paths: Form[list[str]] = ()):
    """OBJ, glTF, USD, zips of them or a character file, as a new character. `paths` are the files' places in a folder, in their order."""
    found = _uploaded(files, paths)
    if isinstance(found, Status):
        return found
    character, notes = imports.run(token, found)
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
    pinned = _rig(id, body.pinned) if body.tint == "pin" and body.pinned is not None else None
    return _msgpack(frames.frame(_rig(id, body.revision), body, pinned))


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


@api.get("/characters/{int:id}/effects", response={200: EffectsOut, **REFUSED})
def effects(request, id: int, before: int, after: int):
    """What changed in all test poses from one revision to another."""
    return measuring.effects(_revision(id, before), _revision(id, after))


@api.post("/characters/{int:id}/pull", response={200: PullOut, **REFUSED})
def pull(request, id: int, body: PullIn):
    """What moves a vertex and what holds it back."""
    return measuring.pull(_rig(id, body.revision), body)


@api.get("/characters/{int:id}/checkin", response={200: CheckInOut, **REFUSED})
def check_in(request, id: int, revision: int):
    """Is the head fit to be rigged?"""
    return checkin.report(_revision(id, revision))


@api.post("/characters/{int:id}/preview", response={200: PreviewOut, **REFUSED})
def preview(request, id: int, body: EditIn):
    """What an edit would do to meshes and checks."""
    return checkin.preview(_revision(id, body.base), body.step)


@api.post("/characters/{int:id}/twin", response={200: Check, **REFUSED})
def twin(request, id: int, revision: int, files: File[list[UploadedFile]]):
    """Compare the vertex order with a second file of the same head."""
    found = _uploaded(files, ())
    return found if isinstance(found, Status) else checkin.twin(_revision(id, revision), found)


@api.get("/characters/{int:id}/eyes", response={200: list[EyeSeatOut], **REFUSED})
def eyes(request, id: int, revision: int):
    """How the eyes sit, and what they touch as they look about."""
    return seats.seats(_rig(id, revision))


@api.get("/characters/{int:id}/eyes/{side}/proposals", response={200: list[ProposalOut], **REFUSED})
def eye_proposals(request, id: int, side: str, revision: int):
    return seats.proposals(_rig(id, revision), side)


@api.get("/characters/{int:id}/eyes/{side}/cut", response={200: CutOut, **REFUSED})
def eye_cut(request, id: int, side: str, revision: int, gaze: int):
    return seats.cut(_rig(id, revision), side, gaze)


@api.get("/characters/{int:id}/landmarks", response={200: LandmarksOut, **REFUSED})
def landmarks(request, id: int, revision: int):
    """Every landmark there should be: where it belongs, where it is, where it is found on the mesh."""
    return marks.landmarks(_rig(id, revision))


@api.get("/characters/{int:id}/landmarks/{name}/cut", response={200: SideCutOut, **REFUSED})
def landmark_cut(request, id: int, name: str, revision: int):
    """A look into the head from the side, through a landmark."""
    return marks.side_cut(_rig(id, revision), name)


@api.get("/characters/{int:id}/bones/findings", response={200: list[BoneFindingOut], **REFUSED})
def bone_findings(request, id: int, revision: int):
    """What is wrong with the bones."""
    return marks.findings(_rig(id, revision))


@api.post("/characters/{int:id}/select", response={200: SelectOut, **REFUSED})
def select(request, id: int, body: SelectIn):
    """A selection of vertices, changed."""
    return selections.changed(_rig(id, body.revision), body)


@api.post("/characters/{int:id}/selection", response={200: SelectionOut, **REFUSED})
def selection(request, id: int, body: SelectionIn):
    """What carries a selection."""
    return selections.summary(_rig(id, body.revision), body)


@api.post("/characters/{int:id}/paint", response=REFUSED)
def paint(request, id: int, body: PaintIn):
    """Msgpack: what some more dabs of a stroke change. Nothing is stored before the edit that holds the whole stroke."""
    return _msgpack(painting.paint(_rig(id, body.revision), body))


@api.post("/characters/{int:id}/try", response={200: TryOut, **REFUSED})
def try_out(request, id: int, body: EditIn):
    """What an edit would do to all test poses. Nothing is stored."""
    return tryout.tried(_revision(id, body.base), body.step)


@api.get("/characters/{int:id}/islands", response={200: list[IslandOut], **REFUSED})
def part_islands(request, id: int, revision: int, part: str):
    """What carries each island of a part."""
    return selections.islands_of(_rig(id, revision), part)


@api.post("/characters/{int:id}/weights/table", response={200: TableOut, **REFUSED})
def weight_table(request, id: int, body: TableIn):
    """The weights of some vertices, bone by bone."""
    return selections.table(_rig(id, body.revision), body)


@api.post("/characters/{int:id}/weights.csv", response={200: CharacterOut, **REFUSED})
def import_weights(request, id: int, base: int, part: str, match: Match, file: File[UploadedFile]):
    """Give a part the weights of a CSV table, matched by vertex number or by position."""
    found = _uploaded([file], ())
    if isinstance(found, Status):
        return found
    history.edit(id, base, selections.read_table(_rig(id, base), next(iter(found.values())), part, match))
    return character(request, id)


@api.get("/characters/{int:id}/weights.csv")
def export_weights(request, id: int, part: str):
    from tightseam.exchange.weights_csv import write_weights_csv

    document, store = history.load(_character(id).head)
    return _download(write_weights_csv(document, store, part), f"{document.about.name} {part} weights", "csv", "text/csv")


@api.get("/characters/{int:id}/weights/findings", response={200: list[WeightFindingOut], **REFUSED})
def weight_findings(request, id: int, revision: int):
    """What is wrong with the weights."""
    return selections.findings(_rig(id, revision))


@api.get("/characters/{int:id}/note.html")
def note_page(request, id: int):
    """The note to the modeller as a page to print."""
    _, made = checkin.note(_character(id).head)
    return HttpResponse(made.html, content_type="text/html; charset=utf-8")


@api.get("/characters/{int:id}/note.zip")
def note_archive(request, id: int):
    """The same as Markdown with pictures."""
    document, made = checkin.note(_character(id).head)
    return _download(checkin.zipped(made), f"{document.about.name} note", "zip", "application/zip")


@api.get("/characters/{int:id}/export.obj")
def export_obj(request, id: int, part: str | None = None):
    """The meshes as they stand, in the delivered order and unit."""
    from tightseam.document.lookup import part as find_part
    from tightseam.exchange.obj_write import write_obj

    document, store = history.load(_character(id).head)
    chosen = None if part is None else [find_part(document, part)]
    return _download(write_obj(document, store, chosen), f"{document.about.name}{f' {part}' if part else ''}", "obj", "model/obj")


@api.get("/characters/{int:id}/export.usd")
def export_usd(request, id: int):
    from tightseam.exchange.usd_write import write_usd

    document, store = history.load(_character(id).head)
    return _download(write_usd(document, store), document.about.name, "usdc", "model/vnd.usd")


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


def _uploaded(files: list[UploadedFile], paths: list[str] | tuple[str, ...]) -> dict[str, bytes] | Status:
    """Files by their path; a refusal where they are too large."""
    size = sum(f.size or 0 for f in files)
    if size > settings.MOST_UPLOAD_BYTES:
        limit = settings.MOST_UPLOAD_BYTES / 1e6
        return Status(413, Problem(message=f"The files have {size / 1e6:.0f} MB; {limit:.0f} MB are the most. Nothing was stored."))
    names = paths if len(paths) == len(files) else [f.name or "file" for f in files]
    return {name: f.read() for name, f in zip(names, files, strict=True)}


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
