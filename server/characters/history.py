"""Storing revisions and moving along them."""

from django.db import transaction
from django.db.models import Max
from tightseam.document.check import check_names
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadRequest
from tightseam.document.load import load_sections
from tightseam.document.model import Character as Document
from tightseam.document.sections import SECTION_NAMES, array_hashes, dump_section, keys_of
from tightseam.edits.registry import Step

from characters.blobs import BlobStore
from characters.models import Blob, Character, Revision


class StaleBase(Exception):
    """An edit was made on a revision that is no longer the one people see."""

    def __init__(self, head: Revision, since: list[Revision]) -> None:
        super().__init__(f"The character has changed since: {'; '.join(r.text for r in since) or head.text}.")
        self.head = head
        self.since = since


def load(revision: Revision, store: BlobStore | None = None) -> tuple[Document, BlobStore]:
    """The document of a revision and the store its arrays can be read from."""
    return DERIVED.get(_key(revision.sections), lambda: _read(revision)), store or BlobStore()


def _key(sections: dict[str, str]) -> tuple:
    return ("document", *sorted(sections.items()))


def _read(revision: Revision) -> Document:
    texts = {b.hash: bytes(b.data) for b in Blob.objects.filter(hash__in=revision.sections.values(), kind="section")}
    return load_sections({name: texts[key] for name, key in revision.sections.items() if key in texts})


@transaction.atomic
def create(document: Document, store: BlobStore, text: str) -> Character:
    """A new character on the shelf, with its first revision."""
    character = Character.objects.create(name=document.about.name)
    _advance(character, document, store, "create", {}, text)
    return character


@transaction.atomic
def edit(character_id: int, base: int, step: Step, fresh: BlobStore | None = None) -> Revision:
    """Apply an edit to revision `base`; StaleBase where that is not the head any more. All or nothing. `fresh` holds arrays that the edit
    speaks of and that are stored with it."""
    character = Character.objects.select_for_update(of=("self",)).select_related("head").get(pk=character_id)
    _check_base(character, base)
    document, store = load(character.head, fresh)
    changed = step.params.apply(document, store)
    text = step.params.describe(changed)
    return _advance(character, changed, store, step.edit, step.params.model_dump(mode="json"), text)


@transaction.atomic
def undo(character_id: int, base: int) -> Revision:
    character = Character.objects.get(pk=character_id)
    _check_base(character, base)
    if character.head.parent is None:
        raise BadRequest("There is nothing to undo.")
    character.head = character.head.parent
    character.save(update_fields=["head"])
    return character.head


@transaction.atomic
def redo(character_id: int, base: int) -> Revision:
    character = Character.objects.get(pk=character_id)
    _check_base(character, base)
    following = next_on_branch(character)
    if following is None:
        raise BadRequest("There is nothing to redo.")
    character.head = following
    character.save(update_fields=["head"])
    return following


def next_on_branch(character: Character) -> Revision | None:
    """The revision after the head on the way to the tip."""
    step = character.tip
    while step is not None and step.parent_id != character.head_id:
        step = step.parent
    return step


def _check_base(character: Character, base: int) -> None:
    if character.head.number != base:
        raise StaleBase(character.head, list(character.revisions.filter(number__gt=base).order_by("number")[:5]))


def _advance(character: Character, document: Document, store: BlobStore, edit: str, params: dict, text: str) -> Revision:
    check_names(document)
    store.save(array_hashes(document))
    sections = dict(zip(SECTION_NAMES, keys_of(document, SECTION_NAMES), strict=True))
    known = set(character.head.sections.values()) if character.head else set()
    fresh = {key: dump_section(document, name) for name, key in sections.items() if key not in known}
    Blob.objects.bulk_create([Blob(hash=key, kind="section", data=data) for key, data in fresh.items()], ignore_conflicts=True)
    newest = character.revisions.aggregate(newest=Max("number"))["newest"] or 0
    revision = Revision.objects.create(
        character=character, parent=character.head, number=newest + 1, sections=sections, edit=edit, params=params, text=text[:300]
    )
    character.head = character.tip = revision
    character.save(update_fields=["head", "tip"])
    DERIVED.put(_key(sections), document)
    return revision
