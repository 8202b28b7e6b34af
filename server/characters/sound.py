"""Is a database file sound: read as it lies there, without the application's own connection, so that a backup can be looked at too."""

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from tightseam.document.arrays import array_of
from tightseam.document.errors import BadDocument
from tightseam.document.sections import section_hash

TABLES = {"characters_character", "characters_revision", "characters_blob"}
MOST_SAID = 20


def damage_of(file: Path) -> str | None:
    """Why a file is no sound database of ours, as SQLite sees it; None where it is one."""
    try:
        with closing(_opened(file)) as database:
            said = database.execute("PRAGMA integrity_check(1)").fetchone()[0]
            tables = {name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    except sqlite3.DatabaseError as error:
        return f"{error}."
    if said != "ok":
        return f"{said}."
    return None if tables >= TABLES else "it is no database of Tight Seam."


def faults_of(file: Path) -> list[str]:
    """What is wrong with the data blocks and the characters of a sound database, in words; the first twenty."""
    with closing(_opened(file)) as database:
        found = _faults(database)
        return [fault for fault, _ in zip(found, range(MOST_SAID), strict=False)]


def _opened(file: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)


def _faults(database: sqlite3.Connection) -> Iterator[str]:
    blocks = set()
    for key, kind, data in database.execute("SELECT hash, kind, data FROM characters_blob"):
        blocks.add(key)
        if not _is_what_it_says(key, kind, data):
            yield f"The data block {key[:12]} ({kind}) is damaged."
    newest = "SELECT c.name, r.number, r.sections FROM characters_character c JOIN characters_revision r ON r.id = c.head_id"
    for name, number, sections in database.execute(newest):
        lost = sorted(section for section, key in json.loads(sections).items() if key not in blocks)
        if lost:
            yield f"Of {name}, revision {number}, these are missing: {', '.join(lost)}."


def _is_what_it_says(key: str, kind: str, data: bytes) -> bool:
    if kind == "section":
        return section_hash(data) == key
    try:
        array_of(data, key)
    except BadDocument:
        return False
    return True
