"""Files that go out, made once for all revisions that are alike; the last few are kept."""

import os
from collections.abc import Callable
from pathlib import Path

from characters.history import load
from characters.models import Revision
from django.conf import settings
from tightseam.document.kept import kept_key
from tightseam.document.progress import tell
from tightseam.document.sections import SECTION_NAMES
from tightseam.exchange.character_file import write_character
from tightseam.exchange.glb_write import write_glb
from tightseam.exchange.obj_write import write_obj
from tightseam.exchange.usd_write import write_usd

from bench import mix_pages

KEEP = 12  # files


WRITERS: dict[str, Callable[..., bytes]] = {  # from a document and its arrays, some of them from an earlier document too
    "obj": write_obj,
    "usd": write_usd,
    "glb": write_glb,
    "seam": write_character,
    "mix": mix_pages.write,
}


def key_of(revision: Revision, kind: str, before: Revision | None = None) -> str:
    earlier = [] if before is None else [kept_key("before", load(before)[0], SECTION_NAMES)]
    return kept_key(f"file {kind}", load(revision)[0], SECTION_NAMES, *earlier)


def make(revision: Revision, kind: str, key: str, before: Revision | None = None) -> None:
    tell(0.0, f"Writing {kind.upper()}")
    place = _place(key)
    place.parent.mkdir(parents=True, exist_ok=True)
    whole = place.with_suffix(f".{os.getpid()}")
    whole.write_bytes(WRITERS[kind](*load(revision), *([] if before is None else [load(before)[0]])))
    whole.replace(place)  # never half there
    for old in sorted(place.parent.iterdir(), key=lambda f: f.stat().st_mtime)[:-KEEP]:
        old.unlink(missing_ok=True)


def found(key: str) -> bytes | None:
    try:
        return _place(key).read_bytes()
    except FileNotFoundError:
        return None


def _place(key: str) -> Path:
    return settings.DATA / "made" / key
