"""The character file: a zip of JSON sections and NPY arrays. Described in docs/character-file.md."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from tightseam.document import older
from tightseam.document.arrays import ArrayStore, array_of, bytes_of
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument
from tightseam.document.load import load_sections
from tightseam.document.model import Character
from tightseam.document.older import named_as_today
from tightseam.document.sections import SECTION_NAMES, array_hashes, dump_sections
from tightseam.exchange.archive import MOST_RATIO, MOST_UNPACKED, NO_ZIP

FORMAT = "tight-seam-character"
VERSION = RELIEFS_RENAMED = 3  # 1 had other names for the ends of bones, 2 for the reliefs, which are still read
SMALL = 64 * 1024 * 1024  # that any file may unpack to: zeros pack well
DATE = (2000, 1, 1, 0, 0, 0)  # fixed, so that the same character gives the same file


def write_character(character: Character, store: ArrayStore) -> bytes:
    """The file's bytes; the same character gives the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: bytes) -> None:
            archive.writestr(zipfile.ZipInfo(name, DATE), data, zipfile.ZIP_DEFLATED, 6)

        add("manifest.json", json.dumps({"format": FORMAT, "version": VERSION}).encode())
        for name, text in dump_sections(character).items():
            add(f"sections/{name}.json", text)
        for key in sorted(array_hashes(character)):
            add(f"arrays/{key}.npy", bytes_of(store.get(key)))
    return out.getvalue()


def read_character(data: bytes, store: ArrayStore) -> Character:
    """The character of a file; its arrays go into `store`. BadDocument for anything that is not a sound character file."""
    archive = _opened(data)
    present = set(archive.namelist())
    sections = {name: f"sections/{name}.json" for name in {*SECTION_NAMES, *older.SECTIONS}}
    texts = {name: _read(archive, file) for name, file in sections.items() if file in present}
    manifest = _manifest(_read(archive, "manifest.json"))
    character = load_sections(texts if manifest["version"] >= RELIEFS_RENAMED else named_as_today(texts, older.SECTIONS))
    for key in array_hashes(character):
        if f"arrays/{key}.npy" not in present:
            raise BadDocument(f"The data block {key[:12]} is missing from the file.")
        store.put(array_of(_read(archive, f"arrays/{key}.npy"), key))
    check_arrays(character, store)
    return character


def _opened(data: bytes) -> zipfile.ZipFile:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        total = sum(info.file_size for info in archive.infolist())
    except NO_ZIP as error:
        raise _damaged(error) from None
    if total > min(MOST_UNPACKED, max(SMALL, MOST_RATIO * len(data))):
        raise BadDocument(f"The file unpacks to {total / 1e6:.0f} MB from {len(data) / 1e6:.2f} MB; that is refused.")
    return archive


def _read(archive: zipfile.ZipFile, name: str) -> bytes:
    try:
        return archive.read(name)
    except KeyError as error:
        raise BadDocument(f"This is not a whole character file: {error.args[0]}") from None
    except NO_ZIP as error:
        raise _damaged(error) from None


def _damaged(error: Exception) -> BadDocument:
    return BadDocument(f"This is not a character file, or it is damaged ({error}).")


def _manifest(text: bytes) -> dict[str, Any]:
    try:
        manifest = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise _damaged(error) from None
    if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
        raise BadDocument("This zip is not a Tight Seam character.")
    if manifest.get("version") not in range(1, VERSION + 1):
        raise BadDocument(f"This character file is of version {manifest.get('version')}; this program reads versions 1 to {VERSION}.")
    return manifest
