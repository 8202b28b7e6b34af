"""Repairs of a mesh. Whatever changes the numbers of its vertices keeps the source map."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field
from scipy.sparse import coo_matrix, csr_matrix, diags
from scipy.sparse.csgraph import connected_components
from scipy.sparse.linalg import splu
from scipy.spatial import cKDTree

from tightseam.checkin.mesh import flipped_faces
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.document.remesh import renumbered, with_part, with_points
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.geometry.adjacency import neighbours
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.symmetry import symmetry_map
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import Piece, found_head

FACED = "Every vertex of {part} is on a face; there is nothing to remove."


class MeshEdit(Edit):
    """A repair of one part."""

    part: str

    def _mesh(self, character: Character, store: ArrayStore) -> tuple[Part, Floats, Polygons]:
        part = find_part(character, self.part)
        return part, np.asarray(store.get(part.points)), polygons(store, part)


class Weld(MeshEdit):
    """Make one vertex of those that lie within a tolerance of each other: the one listed first. Later vertices move up in number."""

    tolerance_mm: float = Field(default=0.001, ge=0, le=10)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, points, faces = self._mesh(character, store)
        pairs = cKDTree(points).query_pairs(max(self.tolerance_mm / CM_TO_MM, 1e-12), output_type="ndarray")
        if not len(pairs):
            raise BadRequest(f"No vertices of {part_label(part.name)} lie within {self.tolerance_mm:g} mm of each other.")
        n = len(points)
        cluster = connected_components(coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(n, n)), directed=False)[1]
        _, first = np.unique(cluster, return_index=True)
        origin = np.sort(first)
        rank = np.empty(len(first), np.int64)
        rank[np.argsort(first)] = np.arange(len(first))
        number = rank[cluster]
        welded, kept = _without_collapsed(faces.renumbered(number))
        if not len(welded):
            raise BadRequest(f"Welding within {self.tolerance_mm:g} mm would leave no face of {part_label(part.name)}.")
        return renumbered(character, store, part, number, origin, points[origin], welded, kept)

    def describe(self, character: Character) -> str:
        return f"Welded duplicates of {part_label(self.part)} within {self.tolerance_mm:g} mm; vertices were renumbered"


class RemoveLoose(MeshEdit):
    """Take out vertices that no face uses. Later vertices move up in number."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, points, faces = self._mesh(character, store)
        used = np.zeros(len(points), bool)
        used[faces.corners] = True
        if used.all():
            raise BadRequest(FACED.format(part=part_label(part.name)))
        number = np.where(used, np.cumsum(used) - 1, -1)
        return renumbered(
            character, store, part, number, np.flatnonzero(used), points[used], faces.renumbered(number), np.arange(len(faces))
        )

    def describe(self, character: Character) -> str:
        return f"Removed loose vertices of {part_label(self.part)}; vertices were renumbered"


class TurnFaces(MeshEdit):
    """Wind faces that look the wrong way like their neighbours, and islands that are inside out the right way round."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, points, faces = self._mesh(character, store)
        wrong = set(flipped_faces(Piece(part, np.arange(len(points)), points, faces)).tolist())
        if not wrong:
            raise BadRequest(f"All faces of {part_label(part.name)} look the right way.")
        turned = Polygons.from_lists([p[::-1] if f in wrong else p for f, p in enumerate(faces.lists())])
        return with_part(character, part, _with_corners(part, store, turned))

    def describe(self, character: Character) -> str:
        return f"Turned faces of {part_label(self.part)} the right way"


class SmoothPatch(MeshEdit):
    """Put picked vertices onto the fairest surface through what lies round them; all others stay."""

    vertices: list[int] = Field(min_length=1, max_length=200_000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, points, faces = self._mesh(character, store)
        picked = np.unique(self.vertices)
        if picked[0] < 0 or picked[-1] >= len(points):
            wrong = picked[0] if picked[0] < 0 else picked[-1]
            raise BadRequest(f"{part_label(part.name)} has vertices 0 to {len(points) - 1}; {wrong} is out of range.")
        return with_points(character, store, part, faired(points, faces, picked))

    def describe(self, character: Character) -> str:
        return f"Smoothed a patch of {len(set(self.vertices))} vertices of {part_label(self.part)}"


class MakeSymmetric(MeshEdit):
    """Lay one side's vertices onto the other, as far as partners lie no farther apart than a tolerance."""

    from_side: Literal["L", "R"]
    tolerance_mm: float = Field(default=5.0, ge=0, le=100)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, points, faces = self._mesh(character, store)
        frame = found_head(character, store).frame
        if frame is None:
            raise BadRequest("The middle plane of the head is not known: there is no part of kind skin.")
        plane = frame.plane
        spacing = float(np.median(np.linalg.norm(points[faces.corners] - points[faces.corners[faces.next_corner]], axis=1)))
        partner = symmetry_map(points, faces, plane, 0.05 * spacing)
        height = plane.distance(points)
        giving = (height > 0) == (self.from_side == "L")
        own = np.arange(len(points))
        image = plane.mirrored(points)
        moved = points.copy()
        taking = np.flatnonzero((partner >= 0) & (partner != own) & ~giving)
        moved[taking] = image[partner[taking]]
        middle = partner == own
        moved[middle] = (points[middle] + image[middle]) / 2
        far = np.linalg.norm(moved - points, axis=1) * CM_TO_MM > self.tolerance_mm
        moved[far] = points[far]
        if np.abs(moved - points).max() < 1e-12:
            raise BadRequest(f"{part_label(part.name)} is symmetric as far as partners lie within {self.tolerance_mm:g} mm.")
        return with_points(character, store, part, moved)

    def describe(self, character: Character) -> str:
        side = "left" if self.from_side == "L" else "right"
        return f"Made {part_label(self.part)} symmetric from its {side} side"


def faired(points: Floats, faces: Polygons, picked: Ints) -> Floats:
    """Points (N, 3) with the `picked` ones where |L p|² is least, L the uniform Laplacian, all others fixed.

    The thin-plate surface through the surroundings (Botsch & Kobbelt 2004 with uniform weights): what stood in the patch
    before plays no part in it.
    """
    around = neighbours(faces, len(points))
    degree = np.maximum(np.asarray(around.sum(axis=1)).ravel(), 1)
    laplacian = csr_matrix(diags(1 / degree) @ around - diags(np.ones(len(points))))
    near = np.unique(np.concatenate([picked, around[picked].indices]))
    rows = laplacian[near]
    inner = rows[:, picked]
    fixed = points.copy()
    fixed[picked] = 0
    normal = (inner.T @ inner).tocsc()
    if not np.isfinite(splu_condition(normal)):
        raise BadRequest("The patch has no border to be smoothed from: leave some vertices round it.")
    moved = points.copy()
    moved[picked] = splu(normal).solve(-(inner.T @ (rows @ fixed)))
    return moved


def splu_condition(matrix: csr_matrix) -> float:
    """Ratio of the largest to the smallest pivot; infinite for a singular matrix."""
    try:
        pivots = np.abs(splu(matrix).U.diagonal())
    except RuntimeError:
        return float("inf")
    return float(pivots.max() / pivots.min()) if pivots.min() > 1e-12 * pivots.max() else float("inf")


def _with_corners(part: Part, store: ArrayStore, faces: Polygons) -> Part:
    from dataclasses import replace

    return replace(part, corners=store.put(faces.corners.astype(np.int32)))


def _without_collapsed(faces: Polygons) -> tuple[Polygons, Ints]:
    """Polygons without repeated neighbours, and the old number of each that still has three corners."""
    same = faces.corners == faces.corners[faces.next_corner]
    if not same.any():
        return faces, np.arange(len(faces))
    lists, kept = [], []
    for f, polygon in enumerate(faces.lists()):
        corners = [v for k, v in enumerate(polygon) if v != polygon[k - 1]]
        if len(set(corners)) >= 3:
            lists.append(corners)
            kept.append(f)
    return Polygons.from_lists(lists), np.array(kept, np.int64)
