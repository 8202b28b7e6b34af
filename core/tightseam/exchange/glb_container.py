"""The GLB container: one JSON chunk, one binary chunk (glTF 2.0, section 4)."""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np

from tightseam.document.errors import BadDocument
from tightseam.geometry.types import AnyArray

MAGIC, JSON_CHUNK, BINARY_CHUNK = 0x46546C67, 0x4E4F534A, 0x004E4942
MOST_BYTES = 150 * 1024 * 1024
MOST_HOLLOW = 512 * 1024 * 1024  # bytes that all accessors without data of their own may come to
TYPES: dict[int, Any] = {5120: np.int8, 5122: np.int16, 5121: np.uint8, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
CODES = {np.dtype(t): code for code, t in TYPES.items()}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
FORMS = {1: "SCALAR", 2: "VEC2", 3: "VEC3", 4: "VEC4", 16: "MAT4"}


class GlbWriter:
    """Collects arrays as accessors and packs them with the JSON tree."""

    def __init__(self) -> None:
        self.views: list[dict[str, Any]] = []
        self.accessors: list[dict[str, Any]] = []
        self._binary = bytearray()

    def add(self, array: AnyArray, target: int | None = None, bounds: bool = False) -> int:
        """Accessor number of a row array (N,) or (N, W); `target` is the GL buffer it is for."""
        data = np.ascontiguousarray(array)
        return self._accessor(data, {"bufferView": self._view(data, target)}, bounds)

    def add_sparse(self, array: AnyArray, target: int | None = None) -> int:
        """Accessor number of a row array (N, W), with bounds; only the rows that are not 0 are stored where that is shorter (glTF 2.0,
        3.6.2.3)."""
        data = np.ascontiguousarray(array)
        rows = np.flatnonzero(data.any(axis=1))
        kind = np.dtype(np.uint16 if len(data) <= np.iinfo(np.uint16).max else np.uint32)
        if not len(rows) or len(rows) * (data[0].nbytes + kind.itemsize) >= data.nbytes:
            return self.add(data, target, bounds=True)
        indices = {"bufferView": self._view(rows.astype(kind)), "componentType": CODES[kind]}
        sparse = {"count": len(rows), "indices": indices, "values": {"bufferView": self._view(data[rows])}}
        return self._accessor(data, {"sparse": sparse}, bounds=True)

    def _view(self, data: AnyArray, target: int | None = None) -> int:
        self._binary += b"\0" * (-len(self._binary) % 4)
        view: dict[str, Any] = {"buffer": 0, "byteOffset": len(self._binary), "byteLength": data.nbytes}
        self._binary += data.tobytes()
        self.views.append(view | ({"target": target} if target else {}))
        return len(self.views) - 1

    def _accessor(self, data: AnyArray, held: dict[str, Any], bounds: bool) -> int:
        width = 1 if data.ndim == 1 else data.shape[1]
        accessor = held | {"componentType": CODES[data.dtype], "count": len(data), "type": FORMS[width]}
        if bounds:
            rows = data.reshape(len(data), width)
            accessor |= {"min": rows.min(axis=0).tolist(), "max": rows.max(axis=0).tolist()}
        self.accessors.append(accessor)
        return len(self.accessors) - 1

    def pack(self, tree: dict[str, Any]) -> bytes:
        self._binary += b"\0" * (-len(self._binary) % 4)
        tree = tree | {"bufferViews": self.views, "accessors": self.accessors, "buffers": [{"byteLength": len(self._binary)}]}
        text = json.dumps(tree, separators=(",", ":"), allow_nan=False).encode()
        text += b" " * (-len(text) % 4)
        size = 12 + 8 + len(text) + 8 + len(self._binary)
        return b"".join(
            [
                struct.pack("<III", MAGIC, 2, size),
                struct.pack("<II", len(text), JSON_CHUNK), text,
                struct.pack("<II", len(self._binary), BINARY_CHUNK), bytes(self._binary),
            ]
        )  # fmt: skip


class GlbReader:
    """A GLB taken apart. Everything is checked before it is believed; BadDocument says what is wrong."""

    def __init__(self, data: bytes) -> None:
        tree, binary = self._unpacked(data)
        self.tree = tree
        self._buffers: dict[Any, bytes] = {0: binary}
        self._hollow = 0

    @classmethod
    def of_parts(cls, tree: dict[str, Any], buffers: dict[int, bytes]) -> GlbReader:
        """The same for glTF whose JSON and buffers are files of their own."""
        reader = cls.__new__(cls)
        reader.tree, reader._buffers, reader._hollow = tree, dict(buffers), 0
        return reader

    @classmethod
    def _unpacked(cls, data: bytes) -> tuple[dict[str, Any], bytes]:
        if len(data) > MOST_BYTES:
            raise BadDocument(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB are the most.")
        if len(data) < 20 or struct.unpack_from("<I", data)[0] != MAGIC:
            raise BadDocument("This is not a GLB file.")
        _, version, size = struct.unpack_from("<III", data)
        if version != 2:
            raise BadDocument(f"This GLB is of version {version}; version 2 can be read.")
        if size != len(data):
            raise BadDocument(f"The GLB says it has {size} bytes but {len(data)} are there; it is cut off or damaged.")
        return cls._chunks(data)

    @staticmethod
    def _chunks(data: bytes) -> tuple[dict[str, Any], bytes]:
        chunks: dict[int, bytes] = {}
        at = 12
        while at + 8 <= len(data):
            length, kind = struct.unpack_from("<II", data, at)
            if at + 8 + length > len(data):
                raise BadDocument("A chunk of the GLB is longer than the file; it is cut off or damaged.")
            chunks.setdefault(kind, data[at + 8 : at + 8 + length])
            at += 8 + length
        try:
            tree = json.loads(chunks[JSON_CHUNK])
        except (KeyError, ValueError, RecursionError):
            raise BadDocument("The JSON of the GLB cannot be read.") from None
        if not isinstance(tree, dict):
            raise BadDocument("The JSON of the GLB is not an object.")
        return tree, chunks.get(BINARY_CHUNK, b"")

    def item(self, kind: str, number: Any) -> dict[str, Any]:
        """Entry `number` of a top-level list of the tree."""
        found = self.tree.get(kind)
        if (
            not isinstance(found, list)
            or not isinstance(number, int)
            or not 0 <= number < len(found)
            or not isinstance(found[number], dict)
        ):
            raise BadDocument(f"The GLB speaks of {kind} {number}, which is not there.")
        return dict(found[number])

    def array(self, number: Any, width: int, what: str) -> AnyArray:
        """Values of an accessor, (count,) or (count, width); normalised integers as float32. Floats are checked to be finite."""
        accessor = self.item("accessors", number)
        kind, form = accessor.get("componentType"), accessor.get("type")
        count: Any = accessor.get("count")
        if kind not in TYPES or form not in WIDTHS or not _whole(count):
            raise BadDocument(f"The {what} in the GLB are stored in a way this program does not read.")
        if WIDTHS[form] != width:
            raise BadDocument(f"The {what} in the GLB are {form}, which does not fit.")
        dtype = np.dtype(TYPES[kind])
        if count > MOST_BYTES // dtype.itemsize // width:
            raise BadDocument(f"The {what} in the GLB are said to be {count}, which cannot be.")
        if "bufferView" in accessor:
            values = self._rows(accessor["bufferView"], accessor.get("byteOffset", 0), dtype, width, count, what)
        else:
            values = self._hollow_rows(count, width, dtype)
        if isinstance(accessor.get("sparse"), dict):
            values = self._with_sparse(values, accessor["sparse"], dtype, width, what)
        if accessor.get("normalized") and dtype.kind in "iu":
            values = np.maximum(values.astype(np.float32) / np.iinfo(dtype).max, -1.0)
        if values.dtype.kind == "f" and not np.isfinite(values).all():
            raise BadDocument(f"The {what} in the GLB hold numbers that are not finite.")
        return values[:, 0].copy() if width == 1 else values

    def _hollow_rows(self, count: int, width: int, dtype: np.dtype[Any]) -> AnyArray:
        """Zeros; a file of a few kB can ask for any number of them."""
        self._hollow += count * width * dtype.itemsize
        if self._hollow > MOST_HOLLOW:
            raise BadDocument(f"The GLB asks for more than {MOST_HOLLOW / 1e9:.1f} GB of zeros; that is refused.")
        return np.zeros((count, width), dtype)

    def _rows(self, view_number: Any, offset: Any, dtype: np.dtype[Any], width: int, count: int, what: str) -> AnyArray:
        view = self.item("bufferViews", view_number)
        binary = self._buffers.get(view.get("buffer"))
        start, length = view.get("byteOffset", 0), view.get("byteLength")
        row = dtype.itemsize * width
        stride = view.get("byteStride", row)
        if not all(_whole(n) for n in (offset, start, length, stride)) or stride < row or binary is None:
            raise BadDocument(f"The {what} in the GLB are stored in a way this program does not read.")
        need = stride * (count - 1) + row if count else 0
        if offset + need > length or start + length > len(binary):
            raise BadDocument(f"The {what} reach beyond the end of the GLB; it is cut off or damaged.")
        raw = np.frombuffer(binary, np.uint8, need, start + offset)
        rows = np.lib.stride_tricks.as_strided(raw, (count, row), (stride, 1)) if count else raw.reshape(0, row)
        return np.ascontiguousarray(rows).view(dtype).reshape(count, width)

    def _with_sparse(self, values: AnyArray, sparse: dict[str, Any], dtype: np.dtype[Any], width: int, what: str) -> AnyArray:
        places, given = sparse.get("indices"), sparse.get("values")
        count: Any = sparse.get("count")
        if (
            not isinstance(places, dict)
            or not isinstance(given, dict)
            or not _whole(count)
            or places.get("componentType") not in (5121, 5123, 5125)
        ):
            raise BadDocument(f"The {what} in the GLB are stored in a way this program does not read.")
        kind = np.dtype(TYPES[places["componentType"]])
        at = self._rows(places.get("bufferView"), places.get("byteOffset", 0), kind, 1, count, what)[:, 0]
        if len(at) and at.max() >= len(values):
            raise BadDocument(f"The {what} in the GLB speak of row {at.max()}; there are {len(values)}.")
        values = values.copy()
        values[at] = self._rows(given.get("bufferView"), given.get("byteOffset", 0), dtype, width, count, what)
        return values


def _whole(number: Any) -> bool:
    return isinstance(number, int) and not isinstance(number, bool) and number >= 0
