"""GLB files with something in them changed."""

from __future__ import annotations

import json
import struct

from tightseam.exchange.glb_container import GlbReader


def with_tree(data: bytes, change) -> bytes:
    """The GLB with its JSON changed."""
    length = struct.unpack_from("<I", data, 12)[0]
    tree = json.loads(data[20 : 20 + length])
    change(tree)
    text = json.dumps(tree).encode()
    text += b" " * (-len(text) % 4)
    rest = data[20 + length :]
    return struct.pack("<III", 0x46546C67, 2, 20 + len(text) + len(rest)) + struct.pack("<II", len(text), 0x4E4F534A) + text + rest


def with_values(data: bytes, attribute: str, value: float) -> bytes:
    """The GLB with the first number of an attribute of the first mesh overwritten."""
    reader = GlbReader(data)
    accessor = reader.item("accessors", reader.tree["meshes"][0]["primitives"][0]["attributes"][attribute])
    offset = reader.item("bufferViews", accessor["bufferView"])["byteOffset"]
    start = 20 + struct.unpack_from("<I", data, 12)[0] + 8 + offset
    return data[:start] + struct.pack("<f", value) + data[start + 4 :]
