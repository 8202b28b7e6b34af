"""Ride seams: how far the roots of hair have left the place on the skin that they stand on."""

from __future__ import annotations

import numpy as np

from tightseam.contact.tree import TriangleTree
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import held_by_lids, vertex_set
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.distance import barycentric
from tightseam.geometry.normals import unit, vertex_normals
from tightseam.geometry.types import Floats, Ints
from tightseam.head.roots import seen
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import probe_of
from tightseam.seams.reading import Place, Reading


class RideGauge:
    """Drift of the roots of a part, off the skin and along it.

    In the neutral each root stands at a place in a triangle of the skin, at a height over it along the normal there, mixed from those of
    its corners. In a pose it should be at the same place of that triangle, as high along the normal there.
    """

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        assert seam.solid is not None
        self._seam = seam
        part, skin = find_part(character, seam.probe), find_part(character, seam.solid)
        self._roots = vertex_set(store, part, seam.probe_set or "")
        self._skin = probe_of(skin.name, None, character, store, evaluator)
        own, under = part_points(character, store, part.name).astype(float)[self._roots], self._skin.neutral
        on, held = seen(self._skin.triangles, skin, store), held_by_lids(character.lids, part.name)
        if held is None:
            _, rows, feet = TriangleTree(under, on).at(under).closest(own)
            stands, self._shares = on[rows], barycentric(feet, under[on[rows]])
        else:
            stands, self._shares = _at(np.asarray(store.get(held))[self._roots], own, under, on)
        round_them = self._skin.triangles[np.isin(self._skin.triangles, stands).any(axis=1)]  # all that meets at those corners
        self._near = np.unique(round_them)
        self._round, self._corners = np.searchsorted(self._near, round_them), np.searchsorted(self._near, stands)
        self._rest = self._over(under, own)
        self.touching = {part.name: self._roots, skin.name: self._near}

    def _over(self, skin: Floats, roots: Floats) -> Floats:
        """How roots (R, 3) stand over their feet on a skin of points (N, 3): along a side of their triangle, across it, and along the
        normal, (R, 3) cm."""
        near = skin[self._near]
        corners, normals = near[self._corners], vertex_normals(near, self._round)[self._corners]
        up = unit(np.einsum("rk,rkc->rc", self._shares, normals))
        side = corners[:, 1] - corners[:, 0]
        along = unit(side - (side * up).sum(axis=1, keepdims=True) * up)
        over = roots - np.einsum("rk,rkc->rc", self._shares, corners)
        return np.stack([(over * axis).sum(axis=1) for axis in (along, np.cross(up, along), up)], axis=1)

    def read(self, posed: PosedHead) -> Reading:
        seam, limits = self._seam, self._seam.limits
        (off, at), (beside, at_side) = self.off(posed), self.aside(posed)
        shares = [drift / limit if limit else 0.0 for drift, limit in ((off, limits.drift), (beside, limits.aside))]
        sideways = shares[1] > shares[0]
        worst = at_side if sideways else at
        if worst is None:
            return Reading(seam.name)
        return Reading(seam.name, drift=beside if sideways else off, aside=sideways, excess=shares[sideways], worst=worst)

    def off(self, posed: PosedHead) -> tuple[float, Place | None]:
        """How far a root is off the skin, in mm, and where; nowhere where edits of the mesh took all roots away."""
        return self._worst(posed, np.abs(self._gone(posed)[:, 2]))

    def aside(self, posed: PosedHead) -> tuple[float, Place | None]:
        """The same along the skin."""
        return self._worst(posed, np.linalg.norm(self._gone(posed)[:, :2], axis=1))

    def _gone(self, posed: PosedHead) -> Floats:
        """How far each root has gone from its place, (R, 3) mm."""

        def measured() -> Floats:
            roots = posed.points[self._seam.probe][self._roots]
            return np.asarray((self._over(posed.points[self._skin.part], roots) - self._rest) * CM_TO_MM)

        return posed.once(self, measured)

    def _worst(self, posed: PosedHead, drifts: Floats) -> tuple[float, Place | None]:
        if not len(drifts):
            return 0.0, None
        worst, part = int(drifts.argmax()), self._seam.probe
        vertex = int(self._roots[worst])
        return float(drifts[worst]), place(part, vertex, posed.points[part][vertex])


def _at(held: Ints, roots: Floats, skin: Floats, triangles: Ints) -> tuple[Ints, Floats]:
    """Where roots (R, 3) stand that are held by known vertices of the skin (R,): the corners (R, 3) of that triangle there whose middle is
    nearest, of all where a vertex has none, and their shares (R, 3)."""
    middles, stands = skin[triangles].mean(axis=1), np.zeros((len(roots), 3), np.int64)
    for k, (vertex, root) in enumerate(zip(held, roots, strict=True)):
        there = (triangles == vertex).any(axis=1)
        off = np.linalg.norm(middles - root, axis=1)
        nearest = triangles[np.where(there | ~there.any(), off, np.inf).argmin()]
        stands[k] = np.roll(nearest, -int((nearest == vertex).argmax()))
    return stands, np.tile([1.0, 0.0, 0.0], (len(roots), 1))
