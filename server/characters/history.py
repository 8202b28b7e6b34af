"""Storing revisions and moving along them."""

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Max
from tightseam.document import older
from tightseam.document.check import check_names
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.kept import VERSION
from tightseam.document.load import load_sections
from tightseam.document.model import Character as Document
from tightseam.document.older import named_as_today
from tightseam.document.sections import SECTION_NAMES, dump_section, keys_of, section_hash
from tightseam.edits.registry import Step

from characters.blobs import BlobStore
from characters.models import Blob, Character, Draft, Revision


class StaleBase(Exception):
    """An edit was made on a revision that is no longer the one people see."""

    def __init__(self, head: Revision, since: list[Revision]) -> None:
        super().__init__(f"The character has changed since: {'; '.join(r.text for r in since) or head.text}.")
        self.head = head
        self.since = since


def load(revision: Revision | Draft, store: BlobStore | None = None) -> tuple[Document, BlobStore]:
    """The document of a revision or a draft and the store its arrays can be read from."""
    return DERIVED.get(_key(revision.sections), lambda: _read(revision)), store or BlobStore()


def _key(sections: dict[str, str]) -> tuple[object, ...]:
    return ("document", *sorted(sections.items()))


def _read(revision: Revision | Draft) -> Document:
    texts = {b.hash: bytes(b.data) for b in Blob.objects.filter(hash__in=revision.sections.values(), kind="section")}
    found = {name: texts[key] for name, key in revision.sections.items() if key in texts}
    for name, key in revision.sections.items():
        if name in found and section_hash(found[name]) != key:
            raise BadDocument(f"The section “{name}” of this character is damaged.")
    return load_sections(found if "eye_reliefs" in revision.sections else named_as_today(found, older.SECTIONS))


def create(document: Document, store: BlobStore, text: str) -> Character:
    """A new character on the shelf, with its first revision."""
    made = _made(document, store, {}, text)
    with transaction.atomic():
        character = Character.objects.create(name=document.about.name)
        character.head = character.tip = _stored(character, None, made, "create", {})
        character.save(update_fields=["head", "tip"])
    return character


def draft(revision: Revision, step: Step) -> tuple[Draft, Document, BlobStore]:
    """What an edit makes of a revision, stored so that the edit need only be taken: the draft, its document, and its arrays. A draft that
    is there is not made again."""
    key = draft_key(revision, step)
    found = Draft.objects.filter(key=key).first()
    if found is not None:
        return found, *load(found)
    made = _applied(revision, step, None)
    with transaction.atomic():
        made.write()
        found, _ = Draft.objects.get_or_create(key=key, defaults={"sections": made.sections, "text": made.text})
    return found, made.document, made.store


def draft_key(revision: Revision, step: Step) -> str:
    """SHA-256, as hex, of a revision and an edit of it."""
    return hashlib.sha256(json.dumps([VERSION, revision.sections, step.model_dump(mode="json")], sort_keys=True).encode()).hexdigest()


def is_drafted(revision: Revision, step: Step) -> bool:
    """Is it known already what an edit makes of a revision?"""
    return Draft.objects.filter(key=draft_key(revision, step)).exists()


def edit(character_id: int, base: int, step: Step, fresh: BlobStore | None = None) -> Revision:
    """Apply an edit to revision `base`; StaleBase where that is not the head any more. All or nothing. `fresh` holds arrays that the edit
    speaks of and that are stored with it.

    It is computed before the database is locked: whoever stores something else meanwhile does not wait, and if it is on the same
    character, this edit is the one that is refused.
    """
    character = Character.objects.select_related("head").get(pk=character_id)
    check_base(character, base)
    tried = fresh is None and not step.params.drawn
    ready = Draft.objects.filter(key=draft_key(character.head, step)).first() if tried else None
    made = _taken(ready) if ready is not None else _applied(character.head, step, fresh)
    with transaction.atomic():
        revision = _stored(character, character.head, made, step.edit, step.params.model_dump(mode="json"))
        moved = Character.objects.filter(pk=character_id, head=character.head).update(head=revision, tip=revision)
        if not moved:
            raise _stale(Character.objects.select_related("head").get(pk=character_id), base)
    character.head = character.tip = revision
    return revision


@transaction.atomic
def undo(character_id: int, base: int) -> Revision:
    character = Character.objects.get(pk=character_id)
    check_base(character, base)
    if character.head.parent is None:
        raise BadRequest("There is nothing to undo.")
    character.head = character.head.parent
    character.save(update_fields=["head"])
    return character.head


@transaction.atomic
def redo(character_id: int, base: int) -> Revision:
    character = Character.objects.get(pk=character_id)
    check_base(character, base)
    following = next_on_branch(character)
    if following is None:
        raise BadRequest("There is nothing to redo.")
    character.head = following
    character.save(update_fields=["head"])
    return following


def next_on_branch(character: Character) -> Revision | None:
    """The revision after the head on the way to the tip, in two queries however far that is."""
    if character.tip_id == character.head_id:
        return None
    later = character.revisions.filter(number__gt=character.head.number)  # a revision has a higher number than its parent
    parents = dict(later.values_list("pk", "parent_id"))
    step: int | None = character.tip_id
    while step is not None and parents.get(step) != character.head_id:
        step = parents.get(step)
    return None if step is None else Revision.objects.get(pk=step)


def check_base(character: Character, base: int) -> None:
    """StaleBase where a revision is not the one people see."""
    if character.head.number != base:
        raise _stale(character, base)


def _stale(character: Character, base: int) -> StaleBase:
    return StaleBase(character.head, list(character.revisions.filter(number__gt=base).order_by("number")[:5]))


@dataclass
class _Made:
    """A document that is not stored yet: `fresh` are its sections that may not be in the database."""

    document: Document
    store: BlobStore
    sections: dict[str, str]
    fresh: dict[str, bytes]
    text: str

    def write(self) -> None:
        """Its blobs; call within the transaction that writes what names them."""
        arrays = self.store.rows({key for key in self.store.fresh if any(key.encode() in text for text in self.fresh.values())})
        sections = [Blob(hash=key, kind="section", data=data) for key, data in self.fresh.items()]
        Blob.objects.bulk_create(arrays + sections, ignore_conflicts=True)


def _made(document: Document, store: BlobStore, before: dict[str, str], text: str) -> _Made:
    check_names(document)
    sections = dict(zip(SECTION_NAMES, keys_of(document, SECTION_NAMES), strict=True))
    known = set(before.values())
    fresh = {key: dump_section(document, name) for name, key in sections.items() if key not in known}
    return _Made(document, store, sections, fresh, text[:300])


def _applied(revision: Revision, step: Step, fresh: BlobStore | None) -> _Made:
    document, store = load(revision, fresh)
    changed = step.params.apply(document, store)
    return _made(changed, store, revision.sections, step.params.describe(changed) + step.params.remark(document, store))


def _taken(ready: Draft) -> _Made:
    document, store = load(ready)
    return _Made(document, store, ready.sections, {}, ready.text)


def _stored(character: Character, parent: Revision | None, made: _Made, edit: str, params: dict[str, Any]) -> Revision:
    """A new revision that nobody sees yet, with all that it names."""
    made.write()
    newest = character.revisions.aggregate(newest=Max("number"))["newest"] or 0
    revision = Revision.objects.create(
        character=character, parent=parent, number=newest + 1, sections=made.sections, edit=edit, params=params, text=made.text
    )
    DERIVED.put(_key(made.sections), made.document)
    return revision
