"""Wavefront OBJ: objects or groups become meshes; polygons and vertex order are kept."""

from __future__ import annotations

import io
from array import array
from collections.abc import Iterator
from pathlib import PurePosixPath

import numpy as np

from tightseam.document.errors import BadDocument
from tightseam.document.limits import MOST_VERTICES
from tightseam.document.progress import tell
from tightseam.exchange.delivery import Delivery, Mesh
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import AnyArray, Floats, Ints

STEP = 50_000  # lines between two reports of progress
MOST_FACES = 5_000_000
MOST_GROUPS = 500  # that are taken for parts; more of them are patches of one surface


def read_obj(data: bytes, file: str) -> Delivery:
    """The meshes of an OBJ file. BadDocument names the line that is wrong.

    With two or more objects (`o`) each is a mesh; else each group (`g`), unless there are hundreds; else the file is one. Vertices that
    no face uses go to the object they were listed in.
    """
    reader = _ObjReader(file, PurePosixPath(file).stem)
    reader.read(_text(data, file))
    return Delivery(file, reader.meshes(), notes=tuple(reader.notes))


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
        self.notes: list[str] = []
        self._points, self._colours = array("d"), array("d")
        self._coloured = True  # as long as every vertex has been
        self._vertex_owner, self._face_object, self._face_group = array("i"), array("i"), array("i")
        self._sizes, self._corners = array("i"), array("i")
        self._objects: dict[str, int] = {}  # numbered from one: nothing said yet is zero
        self._groups: dict[str, int] = {}

    def read(self, text: str) -> None:
        if "\\\n" in text or "\\\r\n" in text:
            text = text.replace("\\\r\n", " ").replace("\\\n", " ")
        here, group, done = 0, 0, 0
        for number, line in enumerate(io.StringIO(text, newline=None)):  # one line at a time: all at once take ten times the file
            if number % STEP == 0:
                tell(done / max(len(text), 1), f"Reading {self._file}")
            done += len(line)
            words = line.split()
            if not words:
                continue
            word = words[0]
            if word == "v":
                self._vertex(words[1:])
                self._vertex_owner.append(here)
            elif word == "f":
                self._face(words[1:], number)
                self._face_object.append(here)
                self._face_group.append(group)
            elif word == "o":
                here = self._numbered(self._objects, words[1:])
            elif word == "g":
                group = self._numbered(self._groups, words[1:])
            if len(self._vertex_owner) > MOST_VERTICES or len(self._sizes) > MOST_FACES:
                raise BadDocument(f"{self._file} has more than {MOST_VERTICES:,} vertices or {MOST_FACES:,} faces.")

    def _numbered(self, names: dict[str, int], words: list[str]) -> int:
        return names.setdefault(" ".join(words) or self._stem, len(names) + 1)

    def _vertex(self, words: list[str]) -> None:
        number = len(self._vertex_owner) + 1
        if len(words) < 3:
            raise BadDocument(f"{self._file}: vertex {number} has {len(words)} coordinates instead of three.")
        try:
            place = [float(w) for w in words[:3]]
            self._coloured = self._coloured and len(words) >= 6
            self._colours.extend([float(w) for w in words[3:6]] if self._coloured else ())
        except ValueError:
            said = " ".join(words)[:40]
            raise BadDocument(f"{self._file}: vertex {number} is “{said}”, which is not three numbers.") from None
        self._points.extend(place)

    def _face(self, words: list[str], line: int) -> None:
        if len(words) < 3:
            raise BadDocument(f"{self._file}, line {line + 1}: a face needs three corners, this one has {len(words)}.")
        count = len(self._vertex_owner)
        for word in words:
            try:
                index = int(word.split("/", 1)[0])
            except ValueError:
                raise BadDocument(f"{self._file}, line {line + 1}: “{word[:20]}” is not a vertex number.") from None
            if abs(index) > MOST_VERTICES:
                raise BadDocument(f"{self._file}, line {line + 1}: there is no vertex {word[:20]}; there are {count:,} so far.")
            # numbers count from one; negative ones count back from the vertex listed last
            self._corners.append(index - 1 if index > 0 else count + index if index < 0 else -1)
        self._sizes.append(len(words))

    def meshes(self) -> tuple[Mesh, ...]:
        points, colours = self._vertices()
        if not self._sizes:
            raise BadDocument(f"{self._file} holds no faces.")
        polygons = Polygons(_array(self._sizes, np.int32), _array(self._corners, np.int32))
        low, high = int(polygons.corners.min()), int(polygons.corners.max())
        if low < 0 or high >= len(points):
            wrong = low + 1 if low < 0 else high + 1
            raise BadDocument(f"{self._file}: a face speaks of vertex {wrong}; there are {len(points):,}. The file is cut off or damaged.")
        label, names, owner = self._labels(len(points))
        unused = np.ones(len(points), bool)
        unused[polygons.corners] = False
        loose = np.flatnonzero(unused)
        left = {k: loose[rows] for k, rows in _rows_by(owner[loose])}
        parts = sorted(_rows_by(label), key=lambda found: int(found[1][0]))  # in the order of their first faces
        cut = _Cut(points, colours, polygons)
        return tuple(cut.part(names.get(k, self._stem), faces, left.get(k, loose[:0])) for k, faces in parts)

    def _labels(self, count: int) -> tuple[Ints, dict[int, str], Ints]:
        """The part of each face (F,), names by part, and the part that each vertex (count,) goes to where no face uses it. Objects name
        the parts; where all faces are in one, groups do, if there are any."""
        objects, groups = _array(self._face_object, np.int32), _array(self._face_group, np.int32)
        if (objects != objects[0]).any() or not groups.any():
            return objects, {k: n for n, k in self._objects.items()}, _array(self._vertex_owner, np.int32)
        named = {k: n for n, k in self._groups.items()}
        number = len(np.unique(groups))
        if number > MOST_GROUPS:
            self.notes.append(f"{self._file}: its {number:,} groups are too many to be parts of a head; it came in as one.")
            groups, named = np.zeros_like(groups), {k: n for n, k in self._objects.items()}
        return groups, named, np.full(count, groups[0])

    def _vertices(self) -> tuple[Floats, Floats | None]:
        points = _array(self._points, np.float64).reshape(-1, 3)
        bad = np.flatnonzero(~np.isfinite(points).all(axis=1))
        if len(bad):
            raise BadDocument(f"{self._file}: vertex {bad[0] + 1} is not at a finite place.")
        colours = _array(self._colours, np.float64).reshape(-1, 3) if self._coloured and len(points) else None
        return points, None if colours is None else np.clip(colours, 0, 1)


def _array(numbers: array[int] | array[float], kind: type) -> AnyArray:
    return np.frombuffer(numbers, np.dtype(numbers.typecode)).astype(kind) if numbers else np.zeros(0, kind)


def _rows_by(label: Ints) -> Iterator[tuple[int, Ints]]:
    """Each label that occurs and its rows in their order: all of them in one sort."""
    order = np.argsort(label, kind="stable")
    values, first = np.unique(label[order], return_index=True)
    yield from zip(values.tolist(), np.split(order, first[1:]) if len(order) else (), strict=True)


class _Cut:
    """Cuts parts out of the surface of a whole file."""

    def __init__(self, points: Floats, colours: Floats | None, polygons: Polygons) -> None:
        self._points, self._colours, self._polygons, self._starts = points, colours, polygons, polygons.starts

    def part(self, name: str, faces: Ints, loose: Ints) -> Mesh:
        """The mesh of some faces, and of vertices that no face uses."""
        points, colours, sizes = self._points, self._colours, self._polygons.sizes[faces]
        within = np.arange(int(sizes.sum())) - np.repeat(np.cumsum(sizes) - sizes, sizes)
        corners = self._polygons.corners[np.repeat(self._starts[faces], sizes) + within]
        own = np.unique(np.concatenate([corners, loose]))
        inner = Polygons(sizes, np.searchsorted(own, corners).astype(np.int32))
        same = len(own) == len(points)
        return Mesh(name, points[own], inner, len(points), None if same else own, colours=None if colours is None else colours[own])
