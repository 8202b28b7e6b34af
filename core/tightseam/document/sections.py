"""A character taken apart into sections, each canonical JSON under its own hash, and put together again."""

from __future__ import annotations

import hashlib
import json
from dataclasses import fields
from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter, ValidationError

from tightseam.document.arrays import ArrayHash
from tightseam.document.errors import BadDocument
from tightseam.document.fields import Array
from tightseam.document.model import Character
from tightseam.document.walk import fields_of

SECTION_NAMES = tuple(f.name for f in fields(Character))
ADDED_LATER = {"checkin", "skeleton", "selections", "lids", "surface_reliefs", "lips", "plan"}  # files of earlier versions do not have them


@cache
def _adapter(section: str) -> TypeAdapter[Any]:
    return TypeAdapter(get_type_hints(Character)[section])


def dump_section(character: Character, section: str) -> bytes:
    """Canonical JSON: sorted keys, no spaces, UTF-8."""
    plain = _adapter(section).dump_python(getattr(character, section), mode="json")
    return json.dumps(plain, sort_keys=True, separators=(",", ":"), ensure_ascii=False).encode()


def dump_sections(character: Character) -> dict[str, bytes]:
    return {name: dump_section(character, name) for name in SECTION_NAMES}


def section_hash(text: bytes) -> str:
    return hashlib.sha256(text).hexdigest()


def load_sections(texts: dict[str, bytes | str]) -> Character:
    """The character; BadDocument names the first thing that is missing or wrong. Checks that names are single and known."""
    from tightseam.document.check import check_names

    found: dict[str, Any] = {}
    for name in SECTION_NAMES:
        if name not in texts and name in ADDED_LATER:
            continue
        if name not in texts:
            raise BadDocument(f"The section “{name}” is missing.")
        try:
            found[name] = _adapter(name).validate_json(texts[name])
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(step) for step in first["loc"])
            raise BadDocument(f"The section “{name}” is not as it should be at {where or 'its start'}: {first['msg']}.") from None
    character = Character(**found)
    check_names(character)
    return character


def array_hashes(character: Character) -> set[ArrayHash]:
    """Every array the character refers to."""
    return {field.value for field in fields_of(character) if any(isinstance(m, Array) for m in field.marks)}
