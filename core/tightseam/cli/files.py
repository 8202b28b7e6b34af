"""Files and values as commands take them."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character

MOST_BYTES = 600 * 1024 * 1024


def open_character(path: str) -> tuple[Character, MemoryStore]:
    """A character file."""
    from tightseam.exchange.character_file import read_character

    store = MemoryStore()
    return read_character(read_file(path), store), store


def taken_in(paths: Sequence[str], store: MemoryStore) -> tuple[Character, tuple[str, ...]]:
    """A character from files, which may refer to their neighbours (buffers, layers)."""
    from tightseam.intake.take_in import take_in

    found = {Path(p).name: read_file(p) for p in paths}
    taken = take_in(found, store)
    return taken.character, taken.notes


def read_file(path: str) -> bytes:
    size = Path(path).stat().st_size
    if size > MOST_BYTES:
        raise BadRequest(f"{path} has {size / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB are the most.")
    return Path(path).read_bytes()


def write_character(character: Character, store: MemoryStore, path: str) -> None:
    from tightseam.exchange import character_file

    Path(path).write_bytes(character_file.write_character(character, store))


def assignments(texts: Sequence[str]) -> dict[str, float]:
    values = {}
    for text in texts:
        name, equals, value = text.partition("=")
        try:
            values[name] = float(value)
        except ValueError:
            raise BadRequest(f"“{text}” is not of the form control=value.") from None
        if not equals:
            raise BadRequest(f"“{text}” is not of the form control=value.")
    return values
