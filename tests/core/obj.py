"""OBJ as tests write it: one mesh by its name, or through OBJ and back with the vertices shuffled, which leaves nothing of the generator's
numbering, sets or landmarks."""

from __future__ import annotations

import numpy as np
from tightseam.geometry.polygons import Polygons


def write(points: np.ndarray, polygons: Polygons) -> str:
    lines = [f"v {x!r} {y!r} {z!r}" for x, y, z in points.tolist()]
    lines += ["f " + " ".join(str(v + 1) for v in face) for face in polygons.lists()]
    return "\n".join(lines)


def read(text: str) -> tuple[np.ndarray, Polygons]:
    rows = [line.split() for line in text.splitlines()]
    points = np.array([[float(x) for x in r[1:]] for r in rows if r[0] == "v"])
    return points, Polygons.from_lists([[int(v) - 1 for v in r[1:]] for r in rows if r[0] == "f"])


def shuffled(points: np.ndarray, polygons: Polygons, seed: int) -> tuple[np.ndarray, Polygons]:
    """The same mesh with vertices, polygons and the first corner of each polygon in another order."""
    rng = np.random.default_rng(seed)
    order = rng.permutation(len(points))
    new_index = np.argsort(order)
    faces = polygons.renumbered(new_index).lists()
    turned = [face[k:] + face[:k] for face, k in zip(faces, rng.integers(0, 3, len(faces)), strict=True)]
    return points[order], Polygons.from_lists([turned[i] for i in rng.permutation(len(turned))])


def named(points: np.ndarray, polygons, name: str = "skin") -> bytes:
    lines = [f"o {name}", *(f"v {x:.7f} {y:.7f} {z:.7f}" for x, y, z in points)]
    lines += ["f " + " ".join(str(c + 1) for c in face) for face in polygons.lists()]
    return "\n".join(lines).encode()
