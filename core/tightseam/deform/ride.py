"""Parts that ride on the posed surface of another: brows, whiskers, tufts of hair."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Part, Ride
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.distance import stands_on
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class CompiledRide:
    """`first` and `count` say which vertices ride, `frame_of` (N,) on which frame each, `foot` (N, 3) where each stands at rest: at
    `shares` (N, 3) of the vertices `corners` (N, 3) of the carrier.

    Frame f is fitted to the carrier's vertices `patch[start[f]:start[f + 1]]` with `weight` (P,), summing to one each; they rest at
    `spread` (P, 3) about their middle. Vertex numbers are those of all parts together.
    """

    first: int
    count: int
    frame_of: Ints
    foot: Floats
    corners: Ints
    shares: Floats
    patch: Ints
    start: Ints
    weight: Floats
    spread: Floats


def compile_ride(ride: Ride, part: Part, character: Character, store: ArrayStore, first: int, carrier_first: int) -> CompiledRide:
    """The ride of a part whose vertices begin at `first`, on a carrier whose vertices begin at `carrier_first`."""
    carrier = find_part(character, ride.on)
    mesh, own = part_mesh(store, carrier), np.asarray(store.get(part.points))
    points = mesh.points
    roots, frame_of = np.unique(np.asarray(store.get(ride.roots)), return_inverse=True)
    beside = mesh.neighbours
    near = beside[roots] + beside[roots] @ beside  # two rings: from one triangle alone a frame would jump
    patches = [np.union1d(near.indices[near.indptr[k] : near.indptr[k + 1]], [root]) for k, root in enumerate(roots)]
    start = np.concatenate([[0], np.cumsum([len(p) for p in patches])])
    patch, frame = np.concatenate(patches), np.repeat(np.arange(len(patches)), np.diff(start))
    far = np.linalg.norm(points[patch] - points[roots[frame]], axis=1)
    reach = np.add.reduceat(far, start[:-1]) / np.maximum(np.diff(start) - 1, 1) / 1.5
    weight = np.exp(-((far / np.maximum(reach, 1e-9)[frame]) ** 2))
    weight /= np.add.reduceat(weight, start[:-1])[frame]
    centre = np.add.reduceat(weight[:, None] * points[patch], start[:-1])
    spread = points[patch] - centre[frame]
    if ride.tufts:
        corners, shares = np.repeat(roots[frame_of][:, None], 3, axis=1), np.tile([1.0, 0.0, 0.0], (len(own), 1))
    else:
        corners, shares = stands_on(own, points, mesh.triangles)
    foot = np.einsum("nk,nkc->nc", shares, points[corners])
    return CompiledRide(first, len(own), frame_of, foot, corners + carrier_first, shares, patch + carrier_first, start, weight, spread)


def ridden(ride: CompiledRide, shaped: Floats, posed: Floats) -> Floats:
    """Where the riding vertices are, (N, 3), from all points before skinning and all posed points.

    The foot of each stays where it is in its triangle of the carrier, what stands on it turns with the rotation that takes its patch
    nearest to where it is posed (Kabsch 1976: the orthogonal factor of their covariance). What a shape does to the part turns with it.
    """
    rotation, feet = frames_of(ride, posed)
    own = shaped[ride.first : ride.first + ride.count] - ride.foot
    return np.asarray(np.einsum("nij,nj->ni", rotation, own) + feet)


def unridden(ride: CompiledRide, wanted: Floats, posed: Floats) -> Floats:
    """The inverse of `ridden`: the points before riding (N, 3) that end up at `wanted` (N, 3)."""
    rotation, feet = frames_of(ride, posed)
    return np.asarray(np.einsum("nji,nj->ni", rotation, wanted - feet) + ride.foot)


def frames_of(ride: CompiledRide, posed: Floats) -> tuple[Floats, Floats]:
    """Rotations (N, 3, 3) of the riding vertices, and where their feet (N, 3) are, from all posed points."""
    points, begin = posed[ride.patch].astype(float), ride.start[:-1]
    middle = np.add.reduceat(ride.weight[:, None] * points, begin)
    away = points - np.repeat(middle, np.diff(ride.start), axis=0)
    covariance = np.add.reduceat((ride.weight[:, None] * away)[:, :, None] * ride.spread[:, None, :], begin)
    u, _, vt = np.linalg.svd(covariance)
    u[:, :, 2] *= np.sign(np.linalg.det(u @ vt))[:, None]
    feet = np.einsum("nk,nkc->nc", ride.shares, posed[ride.corners].astype(float))
    return (u @ vt)[ride.frame_of], feet
