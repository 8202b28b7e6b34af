"""Recipes: the edits of a character as a file, and what they make of another one."""

import hashlib
from collections.abc import Iterator
from dataclasses import asdict

from characters import history
from characters.blobs import BlobStore
from characters.models import Revision
from django.http import HttpRequest, HttpResponse
from ninja import Router
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.kept import kept_key
from tightseam.document.model import Character as Document
from tightseam.document.sections import SECTION_NAMES
from tightseam.edits.registry import EDITS
from tightseam.edits.together import MOST_STEPS, TOGETHER, NamedEdit
from tightseam.recipes.cut import cut_recipe
from tightseam.recipes.recipe import read_recipe
from tightseam.recipes.replay import replay

from bench.requests import REFUSED, character_of, download, revision_of
from bench.schemas import JobOut, OutcomeOut, ReplayIn, ReplayOut
from bench.waiting import report_or_job

router = Router()


@router.get("/characters/{int:id}/recipe", response=REFUSED)
def recipe(request: HttpRequest, id: int) -> HttpResponse:
    """All edits that led to the state on the bench, as a recipe (docs/handoff.md)."""
    head = character_of(id).head
    document, _ = history.load(head)
    cut = cut_recipe(document.about.name, _edits_before(head), document)
    return download(cut.json(), f"{document.about.name} recipe", "json", "application/json")


@router.post("/characters/{int:id}/replays", response={200: ReplayOut, 202: JobOut, **REFUSED})
def make_again(request: HttpRequest, id: int, body: ReplayIn) -> HttpResponse:
    """What the steps of a recipe would make of a revision, one by one; nothing is stored before their edit is."""
    read_recipe(body.recipe.encode(), body.file)  # refused at once where it is none
    revision = revision_of(id, body.base)
    about = hashlib.sha256(body.recipe.encode()).hexdigest()
    key = kept_key("replay", history.load(revision)[0], SECTION_NAMES, about, body.chosen)
    return report_or_job(request, "replay", f"Making {body.file} again", key, revision, body.dict())


def replayed(revision: Revision, asked: ReplayIn) -> ReplayOut:
    """What the steps of a recipe make of a revision."""
    document, store = history.load(revision, BlobStore())
    found = replay(document, store, read_recipe(asked.recipe.encode(), asked.file), asked.chosen)
    if len(found.edits) > MOST_STEPS:
        raise BadRequest(f"{len(found.edits)} steps could be made; {MOST_STEPS} at once are the most. Choose fewer.")
    step = {"edit": TOGETHER, "params": {"steps": [e.model_dump() for e in found.edits]}} if found.edits else None
    return ReplayOut(outcomes=[OutcomeOut(**asdict(o)) for o in found.outcomes], step=step)


def _edits_before(head: Revision) -> Iterator[tuple[Document, ArrayStore, NamedEdit, str]]:
    """From the first to the last: the state before each edit, the edit, and what was said of it."""
    line, revision = [], head
    while revision.parent is not None:
        line.append(revision)
        revision = revision.parent
    for revision in reversed(line):
        if revision.edit in EDITS:
            yield *history.load(revision.parent), NamedEdit(edit=revision.edit, params=revision.params), revision.text
