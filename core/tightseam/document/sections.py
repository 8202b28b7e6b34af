"""A character taken apart into sections, each canonical JSON under its own hash, and put together again."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass, fields
from functools import cache, partial
from typing import Any, get_args, get_type_hints

from pydantic import TypeAdapter

from tightseam.document.arrays import ArrayHash
from tightseam.document.cache import Cache, OfThings, one
from tightseam.document.fields import Array
from tightseam.document.model import Character
from tightseam.document.walk import fields_of

SECTION_NAMES = tuple(f.name for f in fields(Character))
ASIDE = {"about", "plan", "poses", "checkin", "skeleton", "selections", "mix", "intended"}  # what neither poses nor is measured
MEASURED = tuple(name for name in SECTION_NAMES if name not in ASIDE)


@cache
def adapter(section: str) -> TypeAdapter[Any]:
    """What writes and reads a section."""
    return TypeAdapter(get_type_hints(Character)[section])


@dataclass(frozen=True)
class Dump:
    """A section as text, its hash, and the things it was written from."""

    text: bytes
    key: str
    of: Any


def _dump(character: Character, section: str) -> Dump:
    """Made once by the very things that a section holds: those never change, and an edit leaves most of them as they are."""
    value = getattr(character, section)
    things = value if isinstance(value, tuple) else (value,)

    def made() -> Dump:
        text = _written(section, value)
        return Dump(text, section_hash(text), things)

    return _DUMPS.get((section, tuple(map(id, things))), made)  # by the ids of what the dump keeps alive


def dump_section(character: Character, section: str) -> bytes:
    """Canonical JSON: sorted keys, no spaces, UTF-8."""
    return _dump(character, section).text


def dump_sections(character: Character) -> dict[str, bytes]:
    return {name: dump_section(character, name) for name in SECTION_NAMES}


def keys_of(character: Character, sections: Iterable[str]) -> tuple[str, ...]:
    """The hashes of some sections."""
    found = _KEYS.get(character, _keys)
    return tuple(found[name] for name in sections)


def _keys(character: Character) -> dict[str, str]:
    return {name: _dump(character, name).key for name in SECTION_NAMES}


def section_hash(text: bytes) -> str:
    return hashlib.sha256(text).hexdigest()


def _written(section: str, value: Any) -> bytes:
    """Thing by thing, each written once: an edit leaves most of a section as it is."""
    if not isinstance(value, tuple):
        return _text(adapter(section), value)
    of_thing = _of_things(section)
    return b"[" + b",".join(_TEXTS.get(thing, partial(_text, of_thing)) for thing in value) + b"]"


@cache
def _of_things(section: str) -> TypeAdapter[Any]:
    return TypeAdapter(get_args(get_type_hints(Character)[section])[0])


def _text(of: TypeAdapter[Any], value: Any) -> bytes:
    plain = of.dump_python(value, mode="json")
    for name in getattr(value, "SELDOM", ()):
        if not plain[name]:
            del plain[name]
    return json.dumps(plain, sort_keys=True, separators=(",", ":"), ensure_ascii=False).encode()


_DUMPS = Cache(512, one)
_TEXTS, _KEYS = OfThings(), OfThings(512)


def array_hashes(character: Character) -> set[ArrayHash]:
    """Every array the character refers to."""
    return {field.value for field in fields_of(character, Array)}
