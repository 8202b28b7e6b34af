"""What a document can speak of, by name."""

from __future__ import annotations

from collections.abc import Collection

from tightseam.document.channels import own_spans
from tightseam.document.errors import BadDocument
from tightseam.document.fields import SAID, Named, Noun, Refers
from tightseam.document.model import Character
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.document.walk import fields_of

Names = dict[Noun, Collection[str]]


def names_of(character: Character) -> Names:
    """All names of things, by what they are, with those that follow from others: of lids, of the seal of lips, of controls that bones
    and shapes have of their own."""
    controls = [c.name for c in character.controls]
    return {
        "part": {p.name for p in character.parts},
        "bone": {b.name for b in character.bones},
        "shape": {s.name for s in character.shapes},
        "relief": {r.name for r in character.surface_reliefs},
        "lid": {name for pair in character.lids for name in pair.names},
        "seal": SEALS if character.lips else (),
        "corner": CORNERS if character.lips else (),
        "control": set(controls),
        "channel": {*controls, *own_spans(character)},
    }


def check_known(character: Character) -> None:
    """BadDocument where two things of a kind share a name, or something speaks of what is not there."""
    there, seen = names_of(character), set()
    for field in fields_of(character):
        if (own := field.mark(Named)) is not None:
            said = SAID.get(own.noun, own.noun)
            if not field.value or (own.noun, field.value) in seen:
                raise BadDocument(f"Two things of kind {said} are called “{field.value}”." if field.value else f"A {said} has no name.")
            seen.add((own.noun, field.value))
        if (mark := field.mark(Refers)) is not None and mark.strict:
            noun = mark.noun or field.beside(mark.noun_in)
            if field.value not in there[noun]:
                raise BadDocument(f"The {field.said} speaks of a {SAID.get(noun, noun)} “{field.value}” that is not there.")
