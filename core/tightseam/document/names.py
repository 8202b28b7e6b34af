"""What a document can speak of, by name."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import is_dataclass
from functools import partial

from tightseam.document.cache import OfThings
from tightseam.document.channels import own_spans
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadDocument
from tightseam.document.fields import SAID, Named, Noun, Refers
from tightseam.document.model import Character
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.document.sections import SECTION_NAMES, keys_of
from tightseam.document.walk import fields_of

NAMING = ("parts", "bones", "shapes", "reliefs", "lids", "lips", "controls")  # sections with names that others speak of
NAMED = (*NAMING, "landmarks", "plan", "seams", "poses", "selections", "caps")
Names = dict[Noun, Collection[str]]
_KNOWN = OfThings()


def names_of(character: Character) -> Names:
    """All names of things, by what they are, with those that follow from others: of lids, of the seal of lips, of controls that bones
    and shapes have of their own."""
    controls = [c.name for c in character.controls]
    return {
        "part": {p.name for p in character.parts},
        "bone": {b.name for b in character.bones},
        "shape": {s.name for s in character.shapes},
        "relief": {r.name for r in character.reliefs},
        "lid": {name for pair in character.lids for name in pair.names},
        "seal": SEALS if character.lips else (),
        "corner": CORNERS if character.lips else (),
        "control": set(controls),
        "channel": {*controls, *own_spans(character)},
    }


def check_known(character: Character) -> None:
    """BadDocument where two things of a kind share a name, or something speaks of what is not there. A section is looked at once for as
    long as it stays, and all that is named."""
    named = keys_of(character, NAMING)
    DERIVED.get(("named once", keys_of(character, NAMED)), lambda: _check_single(character))
    for section in SECTION_NAMES:
        key = ("known", section, *keys_of(character, (section,)), named)
        DERIVED.get(key, lambda section=section: _check_section(character, section, named))  # type: ignore[misc]


def _check_section(character: Character, section: str, named: tuple[str, ...]) -> None:
    """Each thing of it by the very object: an edit leaves most of them as they are."""
    value, check = getattr(character, section), partial(_check_thing, character, named)
    for thing in value if isinstance(value, tuple) else (value,):
        if is_dataclass(thing):
            _KNOWN.get(thing, check, named)


def _check_thing(character: Character, named: tuple[str, ...], thing: object) -> None:
    there = DERIVED.get(("names", named), lambda: names_of(character))
    for field in fields_of(thing, Refers):
        mark = field.mark(Refers)
        if mark is not None and mark.strict:
            noun = mark.noun or field.beside(mark.noun_in)
            if field.value not in there[noun]:
                raise BadDocument(f"The {field.said} speaks of a {SAID.get(noun, noun)} “{field.value}” that is not there.")


def _check_single(character: Character) -> None:
    seen = set()
    for field in fields_of(character, Named):
        mark = field.mark(Named)
        assert mark is not None
        said = SAID.get(mark.noun, mark.noun)
        if not field.value or (mark.noun, field.value) in seen:
            raise BadDocument(f"Two things of kind {said} are called “{field.value}”." if field.value else f"A {said} has no name.")
        seen.add((mark.noun, field.value))
