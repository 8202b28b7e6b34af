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
TYPES: dict[int, Any] = {5121: np.uint8, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
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
        width = 1 if data.ndim == 1 else data.shape[1]
        self._binary += b"\0" * (-len(self._binary) % 4)
        view: dict[str, Any] = {"buffer": 0, "byteOffset": len(self._binary), "byteLength": data.nbytes}
        if target:
            view["target"] = target
        accessor: dict[str, Any] = {
            "bufferView": len(self.views), "componentType": CODES[data.dtype], "count": len(data), "type": FORMS[width],
        }  # fmt: skip
        if bounds:
            rows = data.reshape(len(data), width)
            accessor |= {"min": rows.min(axis=0).tolist(), "max": rows.max(axis=0).tolist()}
        self._binary += data.tobytes()
        self.views.append(view)
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
        if len(data) > MOST_BYTES:
            raise BadDocument(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB are the most.")
        if len(data) < 20 or struct.unpack_from("<I", data)[0] != MAGIC:
            raise BadDocument("This is not a GLB file.")
        _, version, size = struct.unpack_from("<III", data)
        if version != 2:
            raise BadDocument(f"This GLB is of version {version}; version 2 can be read.")
        if size != len(data):
            raise BadDocument(f"The GLB says it has {size} bytes but {len(data)} are there; it is cut off or damaged.")
        self.tree, self._binary = self._chunks(data)

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
        """Values of an accessor, (count,) or (count, width). Floats are checked to be finite."""
        accessor = self.item("accessors", number)
        view = self.item("bufferViews", accessor.get("bufferView"))
        kind, form = accessor.get("componentType"), accessor.get("type")
        count: Any = accessor.get("count")
        start, offset = view.get("byteOffset", 0), accessor.get("byteOffset", 0)
        numbers = (count, start, offset, view.get("byteLength"))
        if kind not in TYPES or form not in WIDTHS or any(not isinstance(n, int) or n < 0 for n in numbers) or "sparse" in accessor:
            raise BadDocument(f"The {what} in the GLB are stored in a way this program does not read.")
        if WIDTHS[form] != width:
            raise BadDocument(f"The {what} in the GLB are {form}, which does not fit.")
        dtype = np.dtype(TYPES[kind])
        if "byteStride" in view and view["byteStride"] != dtype.itemsize * width:
            raise BadDocument(f"The {what} in the GLB are interleaved, which this program does not read.")
        need = count * width * dtype.itemsize
        if offset + need > view["byteLength"] or start + view["byteLength"] > len(self._binary):
            raise BadDocument(f"The {what} reach beyond the end of the GLB; it is cut off or damaged.")
        values = np.frombuffer(self._binary, dtype, count * width, start + offset)
        if dtype.kind == "f" and not np.isfinite(values).all():
            raise BadDocument(f"The {what} in the GLB hold numbers that are not finite.")
        return values.copy() if width == 1 else values.reshape(count, width).copy()
