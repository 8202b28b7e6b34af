"""Faults in the lower faces of the demo cast, planted by code that says what it plants."""

from __future__ import annotations

from dataclasses import dataclass, replace

import igl
import numpy as np

from tightseam.deform.compare import in_head
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points, polygons
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Shape
from tightseam.document.poses import rest_values
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats

SUNK = 0.6  # cm that the cheeks of Hob sink in as his jaw opens
CHEEK = 0.9  # of the way from the middle of a cheek to the corner of the mouth over which it fades


@dataclass(frozen=True)
class PlantedHollow:
    """Where a cheek sinks in, by how many cm, and the vertices of the skin that do so by more than a quarter of that."""

    side: str
    depth: float
    vertices: frozenset[int]


def _in_head(character: Character, store: ArrayStore) -> Floats:
    """The skin (N, 3) with the jaw wide open, as seen from the head."""
    evaluator = Evaluator(character, store)
    values = rest_values(character) | {"jaw_open": 1.0}
    return in_head(evaluator.points(values)[evaluator.meshes.rows("skin")], evaluator.to_head(evaluator.matrices(values)))


def hollow_cheeks(character: Character, store: ArrayStore, shape: str = "jaw_open_relief") -> tuple[Character, tuple[PlantedHollow, ...]]:
    """The character with cheeks that a shape draws in."""
    skin = find_part(character, "skin")
    p = points(character, store, skin.name)
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    triangles = triangulate(p, polygons(store, skin))
    normals = vertex_normals(p, triangles)
    wide_open = _in_head(character, store)
    offsets, planted = np.zeros_like(p), []
    for side in "LR":
        middle = (marks[f"cheek_{side}"] + marks[f"mouth_corner_{side}"] + marks[f"jaw_angle_{side}"]) / 3
        outer = normals[:, 0] * (1 if side == "L" else -1) > 0.2  # not the lining behind it
        deepest = p[np.where(outer, np.linalg.norm(p - middle, axis=1), np.inf).argmin()]
        reach = CHEEK * np.linalg.norm(marks[f"mouth_corner_{side}"] - deepest)
        near = np.where(outer, 1 - smoothstep(np.linalg.norm(p - deepest, axis=1) / reach), 0.0)
        # below where a fair surface through its rim would carry it, by another solver than the one that looks for it
        rim = np.flatnonzero(near == 0)
        fair = igl.harmonic(p, triangles.astype(np.int64), rim, wide_open[rim] - p[rim], 2) + p
        k = int(near.argmax())
        proud = float((wide_open[k] - fair[k]) @ normals[k])
        offsets -= (SUNK + proud) * near[:, None] * normals
        planted.append(PlantedHollow(side, SUNK, frozenset(np.flatnonzero(near > 0.25).tolist())))

    def sunk(of: Shape) -> Shape:
        if of.name != shape:
            return of
        own = next(d for d in of.deltas if d.part == skin.name)
        whole = offsets.copy()
        whole[np.asarray(store.get(own.vertices))] += np.asarray(store.get(own.offsets))
        changed = make_delta(store, skin.name, whole)
        return replace(of, deltas=tuple(changed if d is own and changed else d for d in of.deltas))

    return replace(character, shapes=tuple(map(sunk, character.shapes))), tuple(planted)
