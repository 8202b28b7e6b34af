"""Wavefront OBJ: objects or groups become meshes; polygons and vertex order are kept."""

from __future__ import annotations

from pathlib import PurePosixPath

import numpy as np

from tightseam.document.errors import BadDocument
from tightseam.document.limits import MOST_VERTICES
from tightseam.document.progress import tell
from tightseam.exchange.delivery import Delivery, Mesh
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints

STEP = 50_000  # lines between two reports of progress
MOST_FACES = 5_000_000


def read_obj(data: bytes, file: str) -> Delivery:
    """The meshes of an OBJ file. BadDocument names the line that is wrong.

    With two or more objects (`o`) each is a mesh; else each group (`g`); else the file is one. Vertices that no face uses go
    to the object they were listed in.
    """
    reader = _ObjReader(file, PurePosixPath(file).stem)
    reader.read(_text(data, file))
    return Delivery(file, reader.meshes())


def _text(data: bytes, file: str) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\0" in data[:4096]:
        raise BadDocument(f"{file} is not plain text: it is binary, or saved as UTF-16. Export it as OBJ in UTF-8.")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")  # names with accents from older programs; numbers are the same


class _ObjReader:
    def __init__(self, file: str, stem: str) -> None:
        self._file, self._stem = file, stem
        self._vertices: list[list[str]] = []
        self._vertex_owner: list[int] = []
        self._faces: list[list[int]] = []
        self._face_object: list[int] = []
        self._face_group: list[int] = []
        self._objects: list[str] = [stem]
        self._groups: list[str] = [stem]

    def read(self, text: str) -> None:
        if "\\\n" in text or "\\\r\n" in text:
            text = text.replace("\\\r\n", " ").replace("\\\n", " ")
        lines = text.splitlines()
        here, group = 0, 0
        for number, line in enumerate(lines):
            if number % STEP == 0:
                tell(number / max(len(lines), 1), f"Reading {self._file}")
            words = line.split()
            if not words:
                continue
            word = words[0]
            if word == "v":
                self._vertices.append(words[1:])
                self._vertex_owner.append(here)
            elif word == "f":
                self._faces.append(self._face(words[1:], number))
                self._face_object.append(here)
                self._face_group.append(group)
            elif word == "o":
                here = self._named(self._objects, words[1:])
            elif word == "g":
                group = self._named(self._groups, words[1:])
            elif word in ("l", "p", "curv", "surf"):
                continue  # lines and points carry no surface
            if len(self._vertices) > MOST_VERTICES or len(self._faces) > MOST_FACES:
                raise BadDocument(f"{self._file} has more than {MOST_VERTICES:,} vertices or {MOST_FACES:,} faces.")

    def _named(self, names: list[str], words: list[str]) -> int:
        name = " ".join(words) or self._stem
        if name not in names[1:]:
            names.append(name)
        return names.index(name, 1)

    def _face(self, words: list[str], line: int) -> list[int]:
        if len(words) < 3:
            raise BadDocument(f"{self._file}, line {line + 1}: a face needs three corners, this one has {len(words)}.")
        count = len(self._vertices)
        corners = []
        for word in words:
            try:
                index = int(word.split("/", 1)[0])
            except ValueError:
                raise BadDocument(f"{self._file}, line {line + 1}: “{word[:20]}” is not a vertex number.") from None
            if abs(index) > MOST_VERTICES:
                raise BadDocument(f"{self._file}, line {line + 1}: there is no vertex {word[:20]}; there are {count:,} so far.")
            # numbers count from one; negative ones count back from the vertex listed last
            corners.append(index - 1 if index > 0 else count + index if index < 0 else -1)
        return corners

    def meshes(self) -> tuple[Mesh, ...]:
        points, colours = self._points()
        if not self._faces:
            raise BadDocument(f"{self._file} holds no faces.")
        polygons = Polygons.from_lists(self._faces)
        low, high = int(polygons.corners.min()), int(polygons.corners.max())
        if low < 0 or high >= len(points):
            wrong = low + 1 if low < 0 else high + 1
            raise BadDocument(f"{self._file}: a face speaks of vertex {wrong}; there are {len(points):,}. The file is cut off or damaged.")
        # objects name the parts; where all faces are in one, groups do, if there are any
        by_object = len(set(self._face_object)) > 1 or set(self._face_group) == {0}
        label = np.array(self._face_object if by_object else self._face_group)
        names = self._objects if by_object else self._groups
        owner = np.array(self._vertex_owner) if by_object else np.full(len(points), label[0])
        used = np.zeros(len(points), bool)
        used[polygons.corners] = True
        found = []
        for number in dict.fromkeys(label.tolist()):
            chosen = label == number
            loose = np.flatnonzero(~used & (owner == number))
            found.append(_part(names[number], points, colours, polygons, chosen, loose))
        return tuple(found)

    def _points(self) -> tuple[Floats, Floats | None]:
        width = min((len(v) for v in self._vertices), default=3)
        if width < 3:
            bad = next(k for k, v in enumerate(self._vertices) if len(v) < 3)
            raise BadDocument(f"{self._file}: vertex {bad + 1} has {len(self._vertices[bad])} coordinates instead of three.")
        try:
            numbers = np.array([v[:6] if width >= 6 else v[:3] for v in self._vertices], dtype=np.float64).reshape(
                -1, 6 if width >= 6 else 3
            )
        except ValueError:
            bad = next(k for k, v in enumerate(self._vertices) if not _numeric(v[:3]))
            raise BadDocument(
                f"{self._file}: vertex {bad + 1} is “{' '.join(self._vertices[bad])[:40]}”, which is not three numbers."
            ) from None
        if not np.isfinite(numbers).all():
            bad = int(np.flatnonzero(~np.isfinite(numbers).all(axis=1))[0])
            raise BadDocument(f"{self._file}: vertex {bad + 1} is not at a finite place.")
        return numbers[:, :3], np.clip(numbers[:, 3:6], 0, 1) if width >= 6 else None


def _numeric(words: list[str]) -> bool:
    try:
        [float(w) for w in words]
    except ValueError:
        return False
    return True


def _part(name: str, points: Floats, colours: Floats | None, polygons: Polygons, chosen: Ints, loose: Ints) -> Mesh:
    corners = polygons.corners[np.repeat(chosen, polygons.sizes)]
    own = np.unique(np.concatenate([corners, loose]))
    inner = Polygons(polygons.sizes[chosen], np.searchsorted(own, corners).astype(np.int32))
    same = len(own) == len(points)
    return Mesh(name, points[own], inner, len(points), None if same else own, colours=None if colours is None else colours[own])
