"""What an eye touches as it looks about: the deepest contact with the lids for every gaze."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.contact.caps import closed
from tightseam.contact.clash import Body, across_edges, crossings, deepest_of, islands_of, whole
from tightseam.contact.gap import nearest_pair
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.rotation import rotation
from tightseam.geometry.types import Floats, Ints

ACROSS = np.linspace(-35.0, 35.0, 7)  # degrees to the character's left
HEIGHT = np.linspace(-30.0, 25.0, 5)  # degrees up
LID_REACH = 1.45  # eyeball radii from the centre within which skin counts as lid
BEHIND = -0.15  # radii behind the centre up to which it does
LINING = 0.2  # area facing the eye, as a share of that facing away, from where lids have an inner side
REACH = 1.0  # cm within which a clearance is looked for


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
    """The skin round an eye: a patch of the whole skin, which tells what is inside the flesh behind it."""

    def __init__(self, points: Floats, triangles: Ints, centre: Floats, radius: float, forward: Floats) -> None:
        offset = points - centre
        near = (np.linalg.norm(offset, axis=1) < LID_REACH * radius) & (offset @ forward > BEHIND * radius)
        self.points = points
        self.belongs = near[triangles].all(axis=1)
        self.triangles = triangles[self.belongs]
        self.skin_triangles = triangles
        self.lined = _lined(points[self.triangles] - centre)

    @cached_property
    def tree(self) -> PosedTree:
        return TriangleTree(self.points, self.triangles).at(self.points)

    @cached_property
    def flesh(self) -> Body:
        """What lies behind the lids: inside the skin, and nearest to them."""
        skin = TriangleTree(self.points, self.skin_triangles).at(self.points)
        return Body(closed(self.points, self.skin_triangles).at(self.points), skin, self.belongs, self.tree)

    @cached_property
    def beside(self) -> Ints:
        return across_edges(self.triangles)

    @cached_property
    def islands(self) -> Ints:
        return islands_of(self.beside)


def _lined(corners: Floats) -> bool:
    """Have lids an inner side? Corners (T, 3, 3) about the eye's centre; an inner side faces it."""
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])  # as long as twice the area
    area = np.linalg.norm(normal, axis=1)
    inwards = (normal * corners.mean(axis=1)).sum(axis=1) < 0
    return bool(area[inwards].sum() > LINING * area[~inwards].sum())


class GazeSweep:
    """Turns an eye about its pivot through a grid of gazes and measures it against the lids as they stand."""

    def __init__(self, eye: Floats, eye_triangles: Ints, pivot: Floats, lids: LidPatch, axes: Floats) -> None:
        """`eye` (N, 3) and `eye_triangles` (T, 3); `axes` (3, 3) rows left, up and forward of the head."""
        self._eye, self._pivot, self._lids, self._axes = eye, pivot, lids, axes
        self._tree, self._beside = TriangleTree(eye, eye_triangles), across_edges(eye_triangles)
        self._islands = islands_of(self._beside)

    @cached_property
    def contacts(self) -> list[Contact]:
        """One contact a gaze, row by row from looking down to looking up."""
        return [self._contact(across, height) for height in HEIGHT for across in ACROSS]

    @property
    def worst(self) -> Contact:
        return max(self.contacts, key=lambda c: c.depth)

    def turn(self, across: float, height: float) -> Floats:
        """Rotation (3, 3) in the world of a gaze given in the head's axes."""
        local = rotation(np.array([-height, across, 0.0]))
        return np.asarray(self._axes.T @ local @ self._axes)

    def _contact(self, across: float, height: float) -> Contact:
        lids = self._lids
        eye = self._tree.at((self._eye - self._pivot) @ self.turn(across, height).T + self._pivot)
        crossed = crossings(lids.tree, eye)
        found = deepest_of(lids.tree, whole(eye), crossed[:, 0], lids.beside, lids.islands)
        triangle = found.triangle
        if lids.lined:  # a bare sheet has no flesh; what goes through it has some of it inside
            through = deepest_of(eye, lids.flesh, crossed[:, 1], self._beside, self._islands)
            if through.depth > found.depth:
                found, triangle = through, int(lids.tree.closest(through.point[None])[1][0])
        if triangle >= 0:
            return Contact(across, height, found.depth * CM_TO_MM, found.point, int(lids.triangles[triangle, 0]))
        distance, triangle, point = nearest_pair(lids.tree, eye, REACH)
        return Contact(across, height, -distance * CM_TO_MM, point, int(lids.triangles[max(triangle, 0), 0]))
