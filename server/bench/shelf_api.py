"""The shelf, imports, and characters with their edits."""

from characters import history
from django.http import Http404
from ninja import File, Form, Router, Status, UploadedFile

from bench import summary
from bench.imports import imports
from bench.requests import REFUSED, character_of, json_answer, uploaded
from bench.rigs import rigs
from bench.schemas import (
    BaseIn,
    CharacterOut,
    DamagedEntry,
    EditIn,
    ImportOut,
    LatelyOut,
    Problem,
    ProgressOut,
    ShelfEntry,
)

router = Router()


@router.get("/characters", response=list[ShelfEntry | DamagedEntry])
def shelf(request):
    """All characters, in the order in which they came; those that cannot be opened say why."""
    return summary.shelf()


@router.post("/imports/{token}", response={200: ImportOut, **REFUSED})
def take_in(request, token: str, files: File[list[UploadedFile]], paths: Form[list[str]] = ()):
    """OBJ, glTF, USD, zips of them or a character file, as a new character. `paths` are the files' places in a folder, in their order."""
    character, notes = imports.run(token, uploaded(files, paths))
    return ImportOut(entry=summary.shelf_entry(character), notes=notes)


@router.get("/imports/{token}", response={200: ProgressOut, 404: Problem})
def import_progress(request, token: str):
    found = imports.progress(token)
    if found is None:
        raise Http404("No such import is going on.")
    return ProgressOut(share=found[0], text=found[1])


@router.delete("/imports/{token}", response={204: None, 404: Problem})
def stop_import(request, token: str):
    """Stop it at the next step; nothing is stored."""
    if not imports.stop(token):
        raise Http404("No such import is going on.")
    return Status(204, None)


@router.get("/lately", response=list[LatelyOut])
def lately(request):
    """What was done last, to whomever."""
    return summary.lately()


@router.get("/characters/{int:id}", response={200: CharacterOut, 404: Problem})
def character(request, id: int):
    """The document in short, as it is at the head of its history."""
    found = character_of(id)
    return json_answer(summary.character_out(found, rigs.get(found.head)))


@router.post("/characters/{int:id}/edits", response={200: CharacterOut, **REFUSED})
def edit(request, id: int, body: EditIn):
    """Apply an edit; 409 where another revision came in between."""
    history.edit(id, body.base, body.step)
    return character(request, id)


@router.post("/characters/{int:id}/undo", response={200: CharacterOut, **REFUSED})
def undo(request, id: int, body: BaseIn):
    character_of(id)
    history.undo(id, body.base)
    return character(request, id)


@router.post("/characters/{int:id}/redo", response={200: CharacterOut, **REFUSED})
def redo(request, id: int, body: BaseIn):
    character_of(id)
    history.redo(id, body.base)
    return character(request, id)
