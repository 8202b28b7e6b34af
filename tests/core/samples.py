"""Overlap by dense samples and libigl's winding numbers and distances."""

from __future__ import annotations

import igl
import numpy as np

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
