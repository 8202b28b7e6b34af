"""The shelf, imports, and characters with their edits."""

from characters import history
from characters.models import Character
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from jobs.asking import ask
from ninja import File, Form, Router, Status, UploadedFile
from problems import Problem

from bench import summary
from bench.character_out import change_answer, character_answer
from bench.requests import REFUSED, character_of, rig_of, uploaded
from bench.schemas import (
    BaseIn,
    CharacterChange,
    CharacterOut,
    DamagedEntry,
    EditIn,
    JobOut,
    LatelyOut,
    RevisionOut,
    ShelfEntry,
    TakenOffOut,
)
from bench.waiting import asker, done_or_job, lasting_job, said_of

router = Router()


@router.get("/characters", response=list[ShelfEntry | DamagedEntry])
def shelf(request: HttpRequest) -> list[ShelfEntry | DamagedEntry]:
    """All characters, in the order in which they came; those that cannot be opened say why."""
    return summary.shelf()


@router.get("/characters/taken-off", response=list[TakenOffOut])
def taken_off(request: HttpRequest) -> list[TakenOffOut]:
    """What was taken off the shelf and can be put back."""
    return summary.taken_off()


@router.post("/characters/{int:id}/take-off", response={204: None, 404: Problem})
def take_off(request: HttpRequest, id: int) -> Status[None]:
    """Take a character off the shelf. Nothing of it is lost for thirty days, and not before the data are tidied."""
    character_of(id)
    Character.objects.filter(pk=id, taken_off=None).update(taken_off=timezone.now())
    return Status(204, None)


@router.post("/characters/{int:id}/put-back", response={204: None, 404: Problem})
def put_back(request: HttpRequest, id: int) -> Status[None]:
    """Put a character that was taken off back on the shelf."""
    character_of(id)
    Character.objects.filter(pk=id).update(taken_off=None)
    return Status(204, None)


@router.post("/imports", response={200: JobOut, 202: JobOut, **REFUSED})
def take_in(request: HttpRequest, files: File[list[UploadedFile]], paths: Form[list[str]] = ()) -> HttpResponse:
    """OBJ, glTF, USD, zips of them or a character file, as a new character. `paths` are the files' places in a folder, in their order.
    The job's result is the `character`, and `notes` on how it came."""
    given = uploaded(files, paths)
    return lasting_job(request, "import", f"Adding {said_of(given)}", given)


@router.get("/lately", response=list[LatelyOut])
def lately(request: HttpRequest) -> list[LatelyOut]:
    """What was done last, to whomever."""
    return summary.lately()


@router.get("/characters/{int:id}", response={200: CharacterOut, 404: Problem})
def character(request: HttpRequest, id: int) -> HttpResponse:
    """The document in short, as it is at the head of its history."""
    return character_answer(character_of(id))


@router.get("/characters/{int:id}/head", response={200: RevisionOut, 404: Problem})
def head(request: HttpRequest, id: int) -> RevisionOut:
    """The newest revision: what a window asks for to learn what others did."""
    return summary.revision_out(character_of(id).head)


@router.post("/characters/{int:id}/edits", response={200: CharacterChange, 202: JobOut, **REFUSED})
def edit(request: HttpRequest, id: int, body: EditIn) -> HttpResponse:
    """Apply an edit; 409 where another revision came in between. A long one is made as a job, unless a Try has made it already."""
    if body.step.params.takes_long:
        found = character_of(id)
        history.check_base(found, body.base)
        if not history.is_drafted(found.head, body.step):
            return _made_beside(request, found, body) or _changed(character_of(id), body.base)
    return _changed(history.edit(id, body.base, body.step).character, body.base)


def _changed(found: Character, base: int) -> HttpResponse:
    return change_answer(found, rig_of(found.pk, base).document)


def _made_beside(request: HttpRequest, found: Character, body: EditIn) -> HttpResponse | None:
    """A long edit as a job; None where it is made already."""
    key = f"{history.draft_key(found.head, body.step)[:50]}-{found.pk}-edit"
    params = {"step": body.step.model_dump(mode="json")}
    return done_or_job(ask("edit", "Making the change", key, asker(request), revision=found.head, params=params))


@router.post("/characters/{int:id}/undo", response={200: CharacterChange, **REFUSED})
def undo(request: HttpRequest, id: int, body: BaseIn) -> HttpResponse:
    character_of(id)
    history.undo(id, body.base)
    return _changed(character_of(id), body.base)


@router.post("/characters/{int:id}/redo", response={200: CharacterChange, **REFUSED})
def redo(request: HttpRequest, id: int, body: BaseIn) -> HttpResponse:
    character_of(id)
    history.redo(id, body.base)
    return _changed(character_of(id), body.base)
