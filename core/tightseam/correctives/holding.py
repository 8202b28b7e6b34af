"""Skin held out of what it must not touch, by the least bending, at all strengths of a mix at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np
from scipy.sparse import csr_matrix, vstack

from tightseam.contact.caps import Closed
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.correctives.bending import Bending
from tightseam.correctives.least import least_bending
from tightseam.correctives.surface import PosedSkin
from tightseam.document.errors import BadRequest
from tightseam.geometry.distance import barycentric
from tightseam.geometry.normals import face_normals, unit
from tightseam.geometry.samples import mixtures
from tightseam.geometry.types import Floats, Ints

CLEAR = 0.004  # cm that is left between
NEAR = 0.03  # cm beyond that within which a sample is held: what is farther is not pushed in
ROUNDS = 8
CLOSE = 1e-5  # cm of overlap that is none
FARTHEST = 3.0  # cm that a corrective goes
FAINT = 1e-6  # of a weight: where a corrective does less it can hold nothing
BEHIND = 0.8  # cm: what lies deeper is not on this side of it any more
SHALLOW = 0.3  # cm: and of what is looked at from the part
FACING = 0.7  # cosine to the nearest triangle from which that is the one that is faced


@dataclass(frozen=True)
class Contacts:
    """Where a skin is near something: mixtures of its vertices (K, 3) with their shares (K, 3), how far each is out of it (K,), negative
    inside, and the way (K, 3) that brings it out."""

    corners: Ints
    shares: Floats
    out: Floats
    way: Floats


class Solid:
    """A skin (its `triangles`, (T, 3)) against a closed part, each looked at from the other: what is seen of a tooth from the skin lies
    between its corners, what is seen of a lip from a tooth between those of the lip."""

    def __init__(
        self, skin: slice, triangles: Ints, rest: Floats, part: slice, solid_rest: Floats, solid_triangles: Ints, flesh: Closed | None
    ) -> None:
        """Without `flesh`, the whole skin with its holes closed, it is looked at from the skin alone."""
        self._skin, self._part, self._flesh = skin, part, flesh
        self._owners, self._shares = mixtures(triangles, skin.stop - skin.start)
        self._tree, self._skin_tree = TriangleTree(solid_rest, solid_triangles), TriangleTree(rest, triangles)

    def first(self, poses: Sequence[PosedSkin]) -> list[Contacts]:
        """The contacts in each of some poses before anything is corrected."""
        return [self.read(p.points(np.zeros(0, int), np.zeros((0, 3)))) for p in poses]

    def read(self, points: Floats) -> Contacts:
        """The contacts nearer than they may be, from the points (N, 3) of all parts."""
        found = [self._from_skin(points[self._skin], points[self._part])]
        if self._flesh is not None:
            found.append(self._from_part(points[self._skin], points[self._part], self._flesh))
        return Contacts(*(np.concatenate([getattr(c, f.name) for c in found]) for f in fields(Contacts)))

    def _from_skin(self, skin: Floats, part: Floats) -> Contacts:
        at, solid = np.einsum("sc,scx->sx", self._shares, skin[self._owners]), self._tree.at(part)
        low, high = solid.boxes[0, :3] - BEHIND, solid.boxes[0, 3:] + BEHIND
        near = np.flatnonzero(((at > low) & (at < high)).all(axis=1))
        distance, triangle, closest = solid.closest(at[near], BEHIND)
        inside = solid.inside(at[near])
        close = (triangle >= 0) & (inside | (distance < CLEAR + NEAR))
        near, distance, triangle, closest, inside = near[close], distance[close], triangle[close], closest[close], inside[close]
        away = np.where(inside, -1.0, 1.0)[:, None] * (at[near] - closest)
        way = np.where((distance < CLOSE)[:, None], _facing(solid, triangle), unit(away))
        return Contacts(self._owners[near], self._shares[near], np.where(inside, -distance, distance), way)

    def _from_part(self, skin: Floats, part: Floats, flesh: Closed) -> Contacts:
        """By the side of the nearest triangle of the skin; what is beside its rim says nothing."""
        posed = self._skin_tree.at(skin)
        distance, triangle, closest = posed.closest(part, SHALLOW)
        known = triangle >= 0
        at, distance, triangle, closest = part[known], distance[known], triangle[known], closest[known]
        flat = _facing(posed, triangle)
        side = ((at - closest) * flat).sum(axis=1)
        inside = flesh.at(skin).inside(at)
        close = np.where(inside, side < 0, (side >= 0) & (side < CLEAR + NEAR)) & (np.abs(side) >= FACING * distance)
        corners = posed.tree.triangles[triangle[close]]
        return Contacts(corners, barycentric(closest[close], posed.points[corners]), side[close], -flat[close])


def _facing(tree: PosedTree, rows: Ints) -> Floats:
    """Normals (K, 3) of some triangles of a tree."""
    return face_normals(tree.points, tree.tree.triangles[rows])


def touched(near: Sequence[Contacts]) -> Ints:
    """The vertices of the skin that are in the part, or nearly, by any of some contacts."""
    return np.unique(np.concatenate([np.zeros(0, int), *(n.corners[n.out < CLEAR].ravel() for n in near)]))


def held_out(bending: Bending, contact: Solid, poses: Sequence[PosedSkin], first: Sequence[Contacts]) -> tuple[Floats, float]:
    """The offsets (F, 3) of least bending with which no sample of the `contact` is in its part in any of the `poses`, where it has what
    it has at `first`, and the deepest overlap, cm, that is left: min ½ δᵀKδ with nᵀ J δ ≥ depth + clearance for every sample at every
    strength, solved, posed, measured and solved again until nothing is left."""
    known = [(p, n) for p, n in zip(poses, first, strict=True) if abs(p.weight) > FAINT]
    active, near = [p for p, _ in known], [n for _, n in known]
    offsets: Floats = np.zeros((len(bending), 3))
    for _ in range(ROUNDS):
        if _deepest(near) <= CLOSE:
            break
        rows, wanted = zip(*(_rows(bending, p, n, offsets) for p, n in zip(active, near, strict=True)), strict=True)
        offsets = least_bending(bending, csr_matrix(vstack(rows)), np.concatenate(wanted))
        if float(np.linalg.norm(offsets, axis=1).max(initial=0.0)) > FARTHEST:
            raise BadRequest("There is no room for it there: the skin would have to go on both sides of something at once.")
        near = [contact.read(p.points(bending.free, offsets)) for p in active]
    return offsets, _deepest(near)


def _deepest(near: Sequence[Contacts]) -> float:
    """The deepest overlap in any of some poses, cm."""
    return max((float(-n.out.min(initial=0.0)) for n in near), default=0.0)


def _rows(bending: Bending, pose: PosedSkin, near: Contacts, offsets: Floats) -> tuple[csr_matrix, Floats]:
    """The inequalities of one pose, linear about the offsets (F, 3) as they are: rows (M, 3 F), and what they have to be at least (M,)."""
    column = np.full(len(bending.mesh), -1)
    column[bending.free] = np.arange(len(bending))
    at = column[near.corners]
    pulls = np.einsum("kc,kj,kcji->kci", near.shares, near.way, pose.jacobians(bending.free, offsets)[at])
    pulls[at < 0] = 0.0  # what may not move
    owners = np.repeat(np.arange(len(at)), 9)
    columns = (3 * np.maximum(at, 0)[:, :, None] + np.arange(3)).ravel()
    rows = csr_matrix((pulls.ravel(), (owners, columns)), shape=(len(at), 3 * len(bending)))
    held = np.flatnonzero(np.abs(pulls).max(axis=(1, 2), initial=0.0) > FAINT)
    return rows[held], (CLEAR - near.out + rows @ offsets.ravel())[held]
