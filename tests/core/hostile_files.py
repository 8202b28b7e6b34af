"""Small files that ask for much: made here, so that none of them has to be kept."""

from __future__ import annotations

import io
import json
import zipfile

import numpy as np
from tightseam.document.arrays import content_hash

from tests.core.gltf_foreign import Foreign
from tests.core.usd_files import BOX, usda

TRIANGLE = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], "f4")


def deep_usda(depth: int = 50_000) -> bytes:
    """A prim within a prim within a prim."""
    return usda('def Xform "a" {\n' * depth + BOX + "\n}" * depth)


def skinned(children: dict[int, list[int]], count: int) -> bytes:
    """A GLB of one triangle that hangs on `count` joints, which hang on one another as `children` says."""
    made = Foreign()
    attributes = {"POSITION": made.add(TRIANGLE), "JOINTS_0": made.add(np.zeros((3, 4), "u1"))}
    attributes["WEIGHTS_0"] = made.add(np.tile(np.array([1, 0, 0, 0], "f4"), (3, 1)))
    joints = [{"name": f"joint {k}", "children": children.get(k, [])} for k in range(count)]
    bind = made.add(np.tile(np.eye(4, dtype="f4").reshape(1, 16), (count, 1)))
    primitive = {"attributes": attributes, "indices": made.add(np.arange(3, dtype="u2"))}
    made.tree |= {
        "meshes": [{"name": "thing", "primitives": [primitive]}],
        "nodes": [*joints, {"mesh": 0, "skin": 0}],
        "skins": [{"joints": list(range(count)), "inverseBindMatrices": bind}],
        "scenes": [{"nodes": [0, count]}],
    }
    return made.glb()


def ring_of_joints() -> bytes:
    return skinned({0: [1], 1: [0]}, 2)


def chain_of_joints(length: int = 19_000) -> bytes:
    return skinned({k: [k + 1] for k in range(length - 1)}, length)


def hollow_glb(targets: int = 60, count: int = 1_900_000) -> bytes:
    """A mesh and its targets of accessors that say how many they are and hold nothing."""
    made = Foreign()
    bare = {"componentType": 5126, "count": count, "type": "VEC3"}
    made.tree["accessors"] = [bare] * (1 + targets)
    primitive = {"attributes": {"POSITION": 0}, "targets": [{"POSITION": 1 + k} for k in range(targets)]}
    made.tree["accessors"].append({"componentType": 5125, "count": 3, "type": "SCALAR"})
    primitive["indices"] = 1 + targets
    made.tree |= {"meshes": [{"primitives": [primitive]}], "nodes": [{"mesh": 0}]}
    return made.glb()


def zipped(name: str, content: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, content)
    return out.getvalue()


def zip_of_lines(lines: int) -> bytes:
    """An OBJ that is all comment, packed as tight as is let through."""
    return zipped("head.obj", "".join(f"# {k // 40}\n" for k in range(lines)).encode())


def hollow_character(megabytes: int = 100) -> bytes:
    """A character file that holds zeros nobody asks for, and some that are asked for."""
    zeros = np.zeros(megabytes * 1_000_000 // 4, np.float32)
    buffer = io.BytesIO()
    np.save(buffer, zeros)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", json.dumps({"format": "tight-seam-character", "version": 3}))
        archive.writestr(f"arrays/{content_hash(zeros)}.npy", buffer.getvalue())
    return out.getvalue()


def many_groups(count: int = 40_000) -> bytes:
    """An OBJ with a triangle to a group."""
    return _tiles("g", count)


def many_parts(count: int = 1_500) -> bytes:
    """An OBJ with a triangle to an object."""
    return _tiles("o", count)


def _tiles(word: str, count: int) -> bytes:
    text = []
    for k in range(count):
        x, y = k % 200, k // 200
        text.append(f"{word} piece {k}\nv {x} {y} 0\nv {x + 0.8} {y} 0\nv {x} {y + 0.8} 0\nf -3 -2 -1\n")
    return "".join(text).encode()


def degenerate(count: int = 1_000_000) -> bytes:
    """An OBJ whose vertices all lie in one place, in faces without area."""
    faces = "".join(f"f {k} {k + 1} {k + 2}\n" for k in range(1, count - 1))
    return b"v 0 0 0\n" * count + faces.encode()
