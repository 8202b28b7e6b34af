"""Name lists: what a receiver wants shapes to be called, and how ours match."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from importlib.resources import files

from pydantic.dataclasses import dataclass as checked

from tightseam.document.basics import STRICT
from tightseam.document.errors import BadRequest
from tightseam.document.json_text import from_json, text_of

SHIPPED = ("action_units", "lantern_post")
MOST_NAMES = 5000
NEAR = 0.72  # of two names alike from which one is proposed for the other
SIDES = {"l": "l", "left": "l", "lft": "l", "r": "r", "right": "r", "rgt": "r"}
WORDS = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+|\d+")


@checked(frozen=True, config=STRICT)
class WantedShape:
    """One name of a list, its twin on the other side, what it means and which file shows it."""

    name: str
    twin: str | None = None
    meaning: str = ""
    example: str = ""


@checked(frozen=True, config=STRICT)
class NameList:
    """The names a receiver wants, in its order."""

    name: str
    shapes: tuple[WantedShape, ...]
    about: str = ""


@dataclass(frozen=True)
class NameMatch:
    """How our names stand to a list: the same in both, ours that are near one of theirs (ours -> theirs), theirs that are missing, and
    ours that it does not know."""

    same: tuple[str, ...]
    near: tuple[tuple[str, str], ...]
    missing: tuple[str, ...]
    extra: tuple[str, ...]


def shipped_list(key: str) -> NameList:
    """One of the lists that ship with the application; BadRequest for another."""
    if key not in SHIPPED:
        raise BadRequest(f"There is no name list “{key}”. There are: {', '.join(SHIPPED)}.")
    return read_names(files("tightseam.shapes").joinpath("lists", f"{key}.json").read_bytes(), f"{key}.json")


def read_names(data: bytes, file: str) -> NameList:
    """A list from JSON ({"name", "shapes": [{"name", "twin", "meaning", "example"}]}, or the shapes alone) or CSV with these columns.

    BadRequest says what is wrong with it.
    """
    text = text_of(data, file)
    found = _from_csv(text, file) if file.lower().endswith(".csv") else _from_json(text, file)
    names = [s.name for s in found.shapes]
    if not 0 < len(names) <= MOST_NAMES:
        raise BadRequest(f"{file} has {len(names)} names; a list has 1 to {MOST_NAMES}.")
    twice = next((n for n in names if names.count(n) > 1 or not n.strip()), None) if len(set(names)) < len(names) or "" in names else None
    if twice is not None:
        raise BadRequest(f"{file} has the name “{twice}” twice." if twice.strip() else f"A name in {file} is empty.")
    unknown = next((s for s in found.shapes if s.twin is not None and s.twin not in set(names)), None)
    if unknown is not None:
        raise BadRequest(f"{file} gives “{unknown.name}” the twin “{unknown.twin}”, which it does not have.")
    return found


def matched(ours: Sequence[str], wanted: NameList) -> NameMatch:
    """Each of our names with at most one of theirs: the same, else the same words in another form or order, else one that is nearly the
    same on the same side, the best first."""
    theirs = [s.name for s in wanted.shapes]
    same = [n for n in theirs if n in set(ours)]
    left, open_names = [n for n in ours if n not in set(same)], [n for n in theirs if n not in set(same)]
    pairs = sorted(((-_alike(a, b), i, k) for i, a in enumerate(left) for k, b in enumerate(open_names) if _alike(a, b) >= NEAR))
    near: dict[int, int] = {}
    for _, i, k in pairs:
        if i not in near and k not in near.values():
            near[i] = k
    return NameMatch(
        tuple(same),
        tuple((left[i], open_names[k]) for i, k in sorted(near.items())),
        tuple(n for k, n in enumerate(open_names) if k not in near.values()),
        tuple(n for i, n in enumerate(left) if i not in near),
    )


def _alike(one: str, other: str) -> float:
    """How alike two names are, 0 to 1; nothing where they name different sides or numbers."""
    a, b = _words(one), _words(other)
    if _marks(a) != _marks(b):
        return 0.0
    return 1.0 if sorted(a) == sorted(b) else SequenceMatcher(None, " ".join(a), " ".join(b)).ratio()


def _words(name: str) -> list[str]:
    words = [w.lower() for w in WORDS.findall(name)]
    return [SIDES.get(w, w.lstrip("0") or w) for w in words]


def _marks(words: list[str]) -> list[str]:
    return sorted(w for w in words if w in ("l", "r") or w.isdigit())


def _from_json(text: str, file: str) -> NameList:
    return from_json(text, file, NameList, "name list", lambda found: {"name": file, "shapes": found} if isinstance(found, list) else found)


def _from_csv(text: str, file: str) -> NameList:
    rows = csv.DictReader(io.StringIO(text))
    if "name" not in (rows.fieldnames or ()):
        raise BadRequest(f"{file} has no column “name”.")
    shapes = []
    for row in rows:
        kept = {key: (row.get(key) or "").strip() for key in ("name", "twin", "meaning", "example")}
        shapes.append(WantedShape(kept["name"], kept["twin"] or None, kept["meaning"], kept["example"]))
    return NameList(file, tuple(shapes))
