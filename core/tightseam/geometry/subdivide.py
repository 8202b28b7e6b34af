"""Catmull-Clark subdivision as a matrix."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags, vstack

from tightseam.geometry.adjacency import edges
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import AnyArray


def catmull_clark(polygons: Polygons, vertex_count: int) -> tuple[csr_matrix, Polygons]:
    """One step of Catmull & Clark (1978): matrix (N + E + F, N) and the finer polygons, all quads.

    New vertices stand in the order old vertices, edge points, face points. Points, weights and deltas carry over by
    the same product; each row sums to one. Borders follow the cubic B-spline rule. Vertices no polygon uses stay.
    """
    n, f = vertex_count, len(polygons)
    corners, face = polygons.corners.astype(np.int64), polygons.face_of_corner
    found = edges(polygons, n)
    e = len(found.ends)

    def matrix(rows: AnyArray, columns: AnyArray, values: AnyArray, shape: tuple[int, int]) -> csr_matrix:
        return csr_matrix((values, (rows, columns)), shape=shape)

    ones = np.ones(len(corners))
    face_points = matrix(face, corners, ones / polygons.sizes[face], (f, n))
    edge_rows = np.repeat(np.arange(e), 2)
    middles = matrix(edge_rows, found.ends.ravel(), np.full(2 * e, 0.5), (e, n))
    at_edge = matrix(found.of_corner, face, ones, (e, f))
    inner = found.uses == 2
    edge_points = diags(np.where(inner, 0.5, 1.0)) @ middles + diags(np.where(inner, 0.25, 0.0)) @ (at_edge @ face_points)

    valence = np.bincount(found.ends.ravel(), minlength=n).astype(float)
    faces_at = np.bincount(corners, minlength=n).astype(float)
    border_edge = found.uses != 2
    border = np.zeros(n, bool)
    border[found.ends[border_edge].ravel()] = True
    used = faces_at > 0
    k = np.maximum(valence, 1)
    around_faces = diags(1 / np.maximum(faces_at, 1)) @ matrix(corners, face, ones, (n, f)) @ face_points
    to_edges = matrix(found.ends.ravel(), edge_rows, np.ones(2 * e), (n, e))
    around_edges = diags(1 / k) @ to_edges @ middles
    smooth = diags(np.where(used & ~border, 1.0, 0.0))
    identity = diags(np.where(used & ~border, (k - 3) / k, np.where(border, 0.5, 1.0)))
    on_border = diags(np.where(border, 0.25, 0.0)) @ (to_edges @ diags(border_edge.astype(float))) @ middles
    vertex_points = smooth @ diags(1 / k) @ (around_faces + 2 * around_edges) + identity + on_border

    following = found.of_corner
    previous_corner = np.empty(len(corners), np.int64)
    previous_corner[polygons.next_corner] = np.arange(len(corners))
    quads = np.stack([corners, n + following, n + e + face, n + found.of_corner[previous_corner]], axis=1)
    finer = Polygons(np.full(len(quads), 4, np.int32), quads.ravel().astype(np.int32))
    return csr_matrix(vstack([vertex_points, edge_points, face_points])), finer
