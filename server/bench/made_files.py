"""Files that go out, made once for all revisions that are alike; the last few are kept."""

import os
from collections.abc import Callable
from pathlib import Path

from characters.history import load
from characters.models import Revision
from django.conf import settings
from pydantic import TypeAdapter
from tightseam.bake.strip import BakedStrip, LeftOut
from tightseam.document.kept import kept_key
from tightseam.document.labels import part_label
from tightseam.document.progress import tell
from tightseam.document.sections import SECTION_NAMES
from tightseam.document.units import CM_TO_MM
from tightseam.exchange.character_file import write_character
from tightseam.exchange.glb_write import glb_of, glb_strip
from tightseam.exchange.obj_write import write_obj
from tightseam.exchange.usd_write import usd_of, usd_strip

from bench import mix_pages
from bench.schemas import LeftOutOut

KEEP = 12  # files
BESIDE = ".left"  # what lies beside a file, and tells what it leaves out
LEFT_OUT = TypeAdapter(list[LeftOutOut])


WRITERS: dict[str, Callable[..., bytes]] = {  # from a document and its arrays, some of them from an earlier document too
    "obj": write_obj,
    "seam": write_character,
    "mix": mix_pages.write,
}
PLAYED: dict[str, tuple[Callable[..., BakedStrip], Callable[[BakedStrip], bytes]]] = {  # by bones and shapes: the strip, and its file
    "usd": (usd_strip, usd_of),
    "glb": (glb_strip, glb_of),
}


def key_of(revision: Revision, kind: str, before: Revision | None = None) -> str:
    earlier = [] if before is None else [kept_key("before", load(before)[0], SECTION_NAMES)]
    return kept_key(f"made {kind}", load(revision)[0], SECTION_NAMES, *earlier)


def make(revision: Revision, kind: str, key: str, before: Revision | None = None) -> None:
    tell(0.0, f"Writing {kind.upper()}")
    if kind in PLAYED:
        baked, written = PLAYED[kind]
        strip = baked(*load(revision))
        keep(key, written(strip), LEFT_OUT.dump_json([_told(x) for x in strip.left_out()]))
    else:
        keep(key, WRITERS[kind](*load(revision), *([] if before is None else [load(before)[0]])))


def keep(key: str, data: bytes, told: bytes | None = None) -> None:
    """Keep a file under its key, and beside it what there is to tell of it; the oldest make room."""
    place = _place(key)
    place.parent.mkdir(parents=True, exist_ok=True)
    if told is not None:
        _write(place.with_suffix(BESIDE), told)
    _write(place, data)
    files = [f for f in place.parent.iterdir() if not f.suffix]
    for old in sorted(files, key=lambda f: f.stat().st_mtime)[:-KEEP]:
        old.unlink(missing_ok=True)
        old.with_suffix(BESIDE).unlink(missing_ok=True)


def _write(place: Path, data: bytes) -> None:
    whole = place.with_suffix(f".{os.getpid()}")
    whole.write_bytes(data)
    whole.replace(place)  # never half there


def found(key: str) -> bytes | None:
    try:
        return _place(key).read_bytes()
    except FileNotFoundError:
        return None


def left_out(revision: Revision, kind: str) -> list[LeftOutOut] | None:
    """What bones and shapes by themselves leave out in such a file, the worst first; None before one was made."""
    data = beside(key_of(revision, kind))
    return None if data is None else LEFT_OUT.validate_json(data)


def beside(key: str) -> bytes | None:
    """What there is to tell of a file that was kept."""
    try:
        return _place(key).with_suffix(BESIDE).read_bytes()
    except FileNotFoundError:
        return None


def _told(left: LeftOut) -> LeftOutOut:
    return LeftOutOut(pose=left.pose.label, part=part_label(left.part), mm=CM_TO_MM * left.cm)


def _place(key: str) -> Path:
    return settings.DATA / "made" / key
