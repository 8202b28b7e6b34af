"""Several files, folders and zips as one set of plain files."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Mapping
from pathlib import PurePosixPath

from tightseam.document.errors import BadDocument

MOST_FILES = 2_000
MOST_UNPACKED = 512 * 1024 * 1024
LONGEST_NAME = 200  # bytes; file systems hold 255
MOST_RATIO = 200  # unpacked to packed; text of numbers reaches about 10
NO_ZIP = (zipfile.BadZipFile, zlib.error, OSError, EOFError, RuntimeError, NotImplementedError, ValueError)  # damaged, or encrypted


def unpacked(files: Mapping[str, bytes]) -> dict[str, bytes]:
    """Files by their path, with each zip replaced by what is in it. BadDocument for archives that mean harm or are damaged."""
    found: dict[str, bytes] = {}
    for name, data in files.items():
        if PurePosixPath(name).suffix.lower() == ".zip":
            found |= _opened(name, data)
        else:
            found[_sound(name)] = data
    return {name: data for name, data in found.items() if not _hidden(name)}


def _opened(name: str, data: bytes) -> dict[str, bytes]:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile:
        raise BadDocument(f"{name} is not a zip, or it is cut off.") from None
    entries = [e for e in archive.infolist() if not e.is_dir()]
    if len(entries) > MOST_FILES:
        raise BadDocument(f"{name} holds {len(entries)} files; {MOST_FILES} are the most.")
    total = sum(e.file_size for e in entries)
    if total > MOST_UNPACKED or total > MOST_RATIO * max(len(data), 1):
        raise BadDocument(f"{name} would unpack to {total / 1e6:,.0f} MB from {len(data) / 1e6:.2f} MB; that is refused.")
    found = {}
    for entry in entries:
        path = _sound(entry.filename)
        if _hidden(path):
            continue
        try:
            with archive.open(entry) as stream:
                content = stream.read(entry.file_size + 1)
        except NO_ZIP as error:
            raise BadDocument(f"{path} in {name} cannot be unpacked ({type(error).__name__}); the zip is damaged or encrypted.") from None
        if len(content) > entry.file_size:
            raise BadDocument(f"{path} in {name} is larger than it says; that is refused.")
        found[path] = content
    return found


def _sound(name: str) -> str:
    path = PurePosixPath(name.replace("\\", "/"))
    if path.is_absolute() or ".." in path.parts or (path.parts and ":" in path.parts[0]) or not path.parts:
        raise BadDocument(f"The path “{name}” leads out of its folder; that is refused.")
    if any(len(part.encode()) > LONGEST_NAME for part in path.parts) or not name.isprintable():
        raise BadDocument(f"The name “{name[:40]}…” cannot be the name of a file: it is too long, or holds signs that cannot be seen.")
    return str(path)


def _hidden(name: str) -> bool:
    return any(part.startswith((".", "__MACOSX")) for part in PurePosixPath(name).parts)
