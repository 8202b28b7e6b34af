"""Overlap and distance by dense samples and libigl's winding numbers and distances."""

from __future__ import annotations

import igl
import numpy as np
from tightseam.geometry.distance import closest_points, winding

MOST = 25  # triangles that are looked at finely


def dense(points: np.ndarray, triangles: np.ndarray, per: int) -> tuple[np.ndarray, np.ndarray]:
    """Samples (S, 3) spread over triangles, and the triangle (S,) each lies on."""
    u, v = (x.ravel() for x in np.meshgrid(np.linspace(0, 1, per), np.linspace(0, 1, per)))
    share = np.stack([1 - u - v, u, v], axis=1)[u + v <= 1 + 1e-9]
    return np.einsum("sk,tkc->tsc", share, points[triangles]).reshape(-1, 3), np.repeat(np.arange(len(triangles)), len(share))


def deepest(surface, solid, counts=None) -> float:
    """The deepest sample of a surface inside a mesh, mm, by the winding number; where `counts` says so of its nearest triangle."""
    points, faces = solid[0], solid[1].astype(np.int64)
    corners = surface[0][surface[1]]
    middles = corners.mean(axis=1)
    long = np.linalg.norm(corners - middles[:, None], axis=2).max(axis=1)
    off = np.sqrt(igl.point_mesh_squared_distance(middles, points, faces)[0])
    near = off < 1.5 * long
    near |= np.abs(igl.fast_winding_number(points, faces, middles)) > 0.3  # no other triangle has a sample inside
    deep, rows = 0.0, np.flatnonzero(near)
    for per in (8, 40):  # finely about the deepest
        places, row = dense(surface[0], surface[1][rows], per)
        inside = np.flatnonzero(np.abs(igl.fast_winding_number(points, faces, places)) > 0.5) if len(places) else np.zeros(0, int)
        squared, nearest, _ = igl.point_mesh_squared_distance(places[inside], points, faces) if len(inside) else (np.zeros(0), inside, 0)
        depth = np.sqrt(np.where(True if counts is None else counts[nearest], squared, 0))
        deep = max(deep, float(depth.max(initial=0)))
        best = np.tile(-off[rows], (2, 1))
        for of_row, found in zip(best, (depth, np.sqrt(squared)), strict=True):  # one that does not count may lie beside one that does
            np.maximum.at(of_row, row[inside], found)
        rows = rows[np.unique(np.argsort(-best, axis=1)[:, :MOST])]
    return 10 * deep


def signed_distance(queries: np.ndarray, points: np.ndarray, triangles: np.ndarray, reach: float) -> np.ndarray:
    """Distance (Q,) to a closed mesh, negative inside, +`reach` for queries farther than `reach` from its bounds.

    The side is that of the generalised winding number (Barill et al. 2018), which islands that overlap do not upset.
    """
    queries = np.asarray(queries, float)
    used = points[np.unique(triangles)]
    low, high = used.min(axis=0), used.max(axis=0)
    near = ((queries >= low - reach) & (queries <= high + reach)).all(axis=1)
    within = ((queries >= low) & (queries <= high)).all(axis=1)  # nothing else can be inside
    result = np.full(len(queries), float(reach))
    if near.any():
        result[near] = closest_points(queries[near], points, triangles)[0]
    if within.any():
        result[within] *= np.where(np.abs(winding(queries[within], points, triangles)) > 0.5, -1.0, 1.0)
    return np.minimum(result, reach)
