"""What an eye touches as it looks about: the deepest contact with the lids for every gaze."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.spatial import cKDTree

from tightseam.contact.caps import closed
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import face_normals, unit
from tightseam.geometry.octahedral import octahedral_cells, octahedral_directions
from tightseam.geometry.rotation import rotation
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints

ACROSS = np.linspace(-35.0, 35.0, 7)  # degrees to the character's left
HEIGHT = np.linspace(-30.0, 25.0, 5)  # degrees up
LID_REACH = 1.45  # eyeball radii from the centre within which skin counts as lid
BEHIND = -0.15  # radii behind the centre up to which it does
FINENESS = 80  # cells along an edge of the map of directions: about two degrees each
COARSENESS, WIDEST_CELL = 48, 4.3  # cells along an edge of the map of lids; how far one reaches from its middle, radians by that number
MEASURED = 64  # samples of the lids a gaze is measured at
LINING = 0.2  # area facing the eye, as a share of that facing away, from where lids have an inner side
CLEAR = 0.15  # cm beyond the farthest of the eye from where lid samples are left out

Deep = tuple[float, Floats, int]  # depth in cm, where, and the vertex of the skin next to it


@dataclass(frozen=True)
class Contact:
    """The deepest contact in one gaze (degrees `across` and `height`): depth in mm, positive for overlap, negative for the
    smallest clearance; at `point` (3,), next to `vertex` of the skin."""

    across: float
    height: float
    depth: float
    point: Floats
    vertex: int


class LidPatch:
    """The skin round an eye, sampled on vertices, edge middles and face centres."""

    def __init__(self, points: Floats, triangles: Ints, centre: Floats, radius: float, forward: Floats) -> None:
        offset = points - centre
        near = (np.linalg.norm(offset, axis=1) < LID_REACH * radius) & (offset @ forward > BEHIND * radius)
        self.points = points
        self.triangles = triangles[near[triangles].all(axis=1)]
        self.skin_triangles = triangles
        mix, self.owners = surface_samples(self.triangles, len(points))
        self.samples = np.asarray(mix @ points)
        self.lined = _lined(points[self.triangles] - centre)

    @cached_property
    def tree(self) -> PosedTree:
        """Of the lids."""
        return TriangleTree(self.points, self.triangles).at(self.points)

    @cached_property
    def flesh(self) -> PosedTree:
        """Of all of the skin, its holes closed: what is inside it is in the lids."""
        return closed(self.points, self.skin_triangles).at(self.points)


def _lined(corners: Floats) -> bool:
    """Have lids an inner side? Corners (T, 3, 3) about the eye's centre; an inner side faces it."""
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])  # as long as twice the area
    area = np.linalg.norm(normal, axis=1)
    inwards = (normal * corners.mean(axis=1)).sum(axis=1) < 0
    return bool(area[inwards].sum() > LINING * area[~inwards].sum())


class GazeSweep:
    """Turns an eye about its pivot through a grid of gazes and measures it against the lids as they stand.

    Instead of the eye the lids are turned, the other way, so that one tree over the eye serves all gazes.
    """

    def __init__(self, eye: Floats, eye_triangles: Ints, pivot: Floats, lids: LidPatch, axes: Floats) -> None:
        """`eye` (N, 3) and `eye_triangles` (T, 3); `axes` (3, 3) rows left, up and forward of the head."""
        self._eye, self._triangles, self._pivot, self._lids, self._axes = eye, eye_triangles, pivot, lids, axes

    @cached_property
    def contacts(self) -> list[Contact]:
        """One contact a gaze, row by row from looking down to looking up."""
        gazes = [(a, h) for h in HEIGHT for a in ACROSS]
        turns = [self.turn(a, h) for a, h in gazes]
        rows = zip(gazes, self._lids_in_eye(turns), self._eye_through_lids(turns), strict=True)
        return [self._contact(*gaze, in_eye, through) for gaze, in_eye, through in rows]

    @property
    def worst(self) -> Contact:
        return max(self.contacts, key=lambda c: c.depth)

    def turn(self, across: float, height: float) -> Floats:
        """Rotation (3, 3) in the world of a gaze given in the head's axes."""
        local = rotation(np.array([-height, across, 0.0]))
        return np.asarray(self._axes.T @ local @ self._axes)

    def _contact(self, across: float, height: float, in_eye: tuple[float, int], through: Deep | None) -> Contact:
        depth, sample = in_eye
        if through is not None and through[0] > depth:
            return Contact(across, height, through[0] * CM_TO_MM, through[1], through[2])
        return Contact(across, height, depth * CM_TO_MM, self._lids.samples[sample], int(self._lids.owners[sample, 0]))

    def _lids_in_eye(self, turns: list[Floats]) -> list[tuple[float, int]]:
        """Depth (cm) and number of the lid sample deepest in the eye, for each gaze.

        How deep a sample is along its ray from the pivot is quickly told and never less than its depth; only the deepest of
        those are measured.
        """
        offset = self._lids.samples - self._pivot
        length = np.linalg.norm(offset, axis=1)
        nearest = np.argsort(length)
        farthest = float(np.linalg.norm(self._eye - self._pivot, axis=1).max())
        # what lies beyond all of the eye can only be the contact where nothing lies within
        near = nearest[: max(MEASURED, int((length < farthest + CLEAR).sum()))]
        offset, length = offset[near], length[near]
        rays = np.concatenate([offset @ turn for turn in turns]) / np.tile(length, len(turns))[:, None]  # the inverse turn
        along = self._reaches[octahedral_cells(rays, FINENESS)].reshape(len(turns), -1) - length
        chosen = np.argsort(-along, axis=1)[:, :MEASURED]
        queries = np.concatenate([offset[k] @ turn for k, turn in zip(chosen, turns, strict=True)]) + self._pivot
        signed = TriangleTree(self._eye, self._triangles).at(self._eye).signed(queries, 10.0).reshape(chosen.shape)
        return [(-float(row.min()), int(near[k[row.argmin()]])) for row, k in zip(signed, chosen, strict=True)]

    @cached_property
    def _reaches(self) -> Floats:
        """About how far the eye reaches from its pivot in each direction of an octahedral map: the mean of three vertices."""
        offset = self._eye - self._pivot
        length = np.linalg.norm(offset, axis=1)
        tree = cKDTree(offset / np.maximum(length, 1e-9)[:, None])
        _, near = tree.query(octahedral_directions(FINENESS), k=min(3, len(length)), workers=-1)
        return np.asarray(length[near].reshape(FINENESS**2, -1).mean(axis=1))

    @cached_property
    def _lid_starts(self) -> Floats:
        """From which distance to the pivot on there may be lid in each direction of a coarse octahedral map, cm; infinite where none is.

        A point of a triangle with corners v and shares b is |Σ b v|² = Σ b |v|² - Σ b b' |v - v'|² from the pivot, and the shares of a
        pair come to a third at most. No point of it is nearer than its plane.
        """
        corners = self._lids.points[self._lids.triangles] - self._pivot
        longest = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1, initial=0)
        length = np.linalg.norm(corners, axis=2)
        plane = np.abs((face_normals(self._lids.points, self._lids.triangles) * corners[:, 0]).sum(axis=1))
        starts = np.maximum(plane, np.sqrt(np.maximum(length.min(axis=1, initial=np.inf) ** 2 - longest**2 / 3, 0)))
        middle = unit(corners.mean(axis=1))
        cosine = (corners * middle[:, None]).sum(axis=2) / np.maximum(length, 1e-9)
        wide = np.arccos(np.clip(cosine.min(axis=1, initial=1), -1, 1)) + WIDEST_CELL / COARSENESS
        within = octahedral_directions(COARSENESS) @ middle.T >= np.cos(np.minimum(wide, np.pi))
        return np.asarray(np.where(within, starts, np.inf).min(axis=1, initial=np.inf))

    def _eye_through_lids(self, turns: list[Floats]) -> list[Deep | None]:
        """For each gaze depth (cm), place and nearest skin vertex of the eye vertex deepest in the flesh of the lids."""
        lids = self._lids
        if not lids.lined:  # a bare sheet has no flesh; what goes through it holds samples of it
            return [None] * len(turns)
        offset = self._eye - self._pivot
        length = np.linalg.norm(offset, axis=1)
        far = np.flatnonzero(length > self._lid_starts.min())  # what lies nearer to the pivot than any lid is in none, wherever it turns
        posed = np.stack([offset[far] @ turn.T for turn in turns]).reshape(-1, 3)
        reach = np.tile(length[far], len(turns)) > self._lid_starts[octahedral_cells(posed, COARSENESS)]
        front = np.flatnonzero(reach & (posed @ self._axes[2] > 0))
        inside = front[lids.flesh.inside(posed[front] + self._pivot)]
        found: list[Deep | None] = [None] * len(turns)
        if not len(inside):
            return found
        points = posed[inside] + self._pivot
        distance, face, _ = lids.tree.closest(points)
        for k in np.argsort(distance):  # the deepest of each gaze comes last
            found[int(inside[k]) // len(far)] = (float(distance[k]), points[k], int(lids.triangles[face[k], 0]))
        return found
