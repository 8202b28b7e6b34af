"""The loops of a frame in numpy and scipy: serves until the compiled ones are loaded, and is what they are tested against.

Same functions and arguments as `kernels`.
"""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.deform.dual import between, blended, dual_of, matrix_of
from tightseam.deform.eye_profile import reach
from tightseam.deform.lid_motion import gaze_of, openness_limited, read_table
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.normals import unit
from tightseam.geometry.rotation import rotation
from tightseam.geometry.types import Floats, Ints


def blend(
    out: Floats, rest: Floats, run_of_shape: Ints, run_start: Ints, run_length: Ints, run_values: Ints, values: Floats, active: Ints,
    strength: Floats,
) -> None:  # fmt: skip
    if out is not rest:
        out[:] = rest
    for shape, w in zip(active, strength, strict=True):
        for r in range(run_of_shape[shape], run_of_shape[shape + 1]):
            n = run_length[r]
            out[run_start[r] : run_start[r] + n] += w * values[run_values[r] : run_values[r] + 3 * n].reshape(n, 3)


def close_lids(
    points: Floats, vertices: Ints, lid: Ints, share: Floats, near: Ints, margin_rows: Ints, margin_start: int, closed: Floats,
    axes: Floats, centre: Floats, inner: float, length: float, lashes: Ints, lash_rows: Ints, closing: Floats, slide: Floats,
) -> None:  # fmt: skip
    if closing.any() or slide.any():
        of = (vertices, lid, share, near, margin_rows, margin_start, closed, axes, centre, inner, length)
        turned = lid_angles(points, *of, closing, slide)
        _turn(points, vertices, centre, axes, turned)
        _turn(points, lashes, centre, axes, turned[lash_rows])


def lid_angles(
    points: Floats, vertices: Ints, lid: Ints, share: Floats, near: Ints, margin_rows: Ints, margin_start: int, closed: Floats,
    axes: Floats, centre: Floats, inner: float, length: float, closing: Floats, slide: Floats,
) -> Floats:  # fmt: skip
    """By what angles (K, 2), radians, `close_lids` slides and turns each vertex."""
    turned = np.empty((len(vertices), 2))
    x, y, z = ((points[vertices].astype(float) - centre) @ axes.T).T
    t = np.clip((x - inner) / length, 0, 1)
    turned[:, 0] = slide[lid] * share * 4 * t * (1 - t)
    x, z = x * np.cos(turned[:, 0]) + z * np.sin(turned[:, 0]), z * np.cos(turned[:, 0]) - x * np.sin(turned[:, 0])
    way, angle = (x - inner) / length, np.arctan2(y, z)
    now = np.empty(len(vertices))
    for k, rows in enumerate((margin_rows[:margin_start], margin_rows[margin_start:])):
        own = lid == k
        now[own] = np.interp(way[own], np.maximum.accumulate(way[rows]), angle[rows])
    goal = np.where(lid == 0, *(np.interp(way, np.linspace(0, 1, len(goals)), goals) for goals in closed))
    turned[:, 1] = closing[lid] * share * (goal - now)
    return turned


def _turn(points: Floats, vertices: Ints, centre: Floats, axes: Floats, turned: Floats) -> None:
    slide, angle = turned.T
    x, y, z = ((points[vertices].astype(float) - centre) @ axes.T).T
    x, z = x * np.cos(slide) + z * np.sin(slide), z * np.cos(slide) - x * np.sin(slide)
    y, z = y * np.cos(angle) + z * np.sin(angle), z * np.cos(angle) - y * np.sin(angle)
    points[vertices] = centre + np.stack([x, y, z], axis=1) @ axes


def relieve(
    points: Floats, vertices: Ints, amount: Floats, clearance: Floats, settle: Floats, swell: Floats, lid: Ints, profile: Floats,
    followers: Ints, roots: Ints, closing: Floats, turn: Floats, centre: Floats,
) -> None:  # fmt: skip
    arm = points[vertices] - centre
    radius = np.linalg.norm(arm, axis=1)
    closed = np.append(np.clip(closing, 0, 1), 0)
    lack = reach(profile, (arm @ turn) / radius[:, None]) + clearance + swell * (closed * (2 - closed))[lid] - radius
    pushed = arm * (amount * np.maximum(lack, -settle) / radius)[:, None]
    points[vertices] += pushed
    points[followers] += pushed[roots]


def add_between(
    points: Floats, rows: Ints, lid: Ints, closings: Floats, path: Floats, gazes: Floats, closing: Floats, towards: Floats
) -> None:  # fmt: skip
    asked, own = closing[lid], np.arange(len(rows))
    low = np.clip(np.searchsorted(closings, asked, side="right") - 1, 0, len(closings) - 2)
    way = np.minimum((asked - closings[low]) / (closings[low + 1] - closings[low]), 1)[:, None]
    points[rows] += path[low, own] + way * (path[low + 1, own] - path[low, own])
    way = np.maximum(way, 0)
    for amount, gaze in zip(towards, gazes, strict=False):
        points[rows] += amount * (gaze[low, own] + way * (gaze[low + 1, own] - gaze[low, own]))


def turn_about(points: Floats, rows: Ints, lid: Ints, weights: Floats, centre: Floats, turns: Floats) -> None:
    arm = points[rows] - centre
    points[rows] += weights[:, None] * (np.einsum("kij,kj->ki", turns[lid], arm) - arm)


def turn_eyes(turns: Floats, at: Floats, matrices: Floats, head: int, carriers: Ints, centres: Floats) -> None:
    carried = matrices[carriers] if head < 0 else np.linalg.inv(matrices[head]) @ matrices[carriers]
    turns[:] = carried[:, :3, :3]
    at[:] = np.einsum("eij,ej->ei", turns, centres) + carried[:, :3, 3]


def move_lids(
    closing: Floats, slide: Floats, asked: Floats, turns: Floats, eyes: Ints, outward: Floats, tables: Floats
) -> None:  # fmt: skip
    for e, eye in enumerate(eyes):
        up, across = gaze_of(turns[eye], outward[e])
        for lid in (2 * e, 2 * e + 1):
            followed = read_table(tables[lid, 0], up) + read_table(tables[lid, 1], across)
            closing[lid] = 1 - openness_limited(np.prod(1 - np.minimum(asked[lid], 1)) * (1 - min(followed, 1)))
            slide[lid] = read_table(tables[lid, 2], across)


def skin(out: Floats, points: Floats, bones: Ints, weights: Floats, matrices: Floats) -> None:
    count, width = bones.shape
    table = csr_matrix((weights.ravel(), bones.ravel().astype(np.int32), np.arange(count + 1) * width), shape=(count, len(matrices)))
    mixed = (table @ matrices).reshape(count, 4, 4)[:, :, :3].swapaxes(1, 2)  # they are given column by column
    out[:] = np.einsum("nij,nj->ni", mixed[..., :3], points) + mixed[..., 3]


def skin_dual(
    out: Floats, points: Floats, vertices: Ints, mix: Floats, bones: Ints, weights: Floats, duals: Floats
) -> None:  # fmt: skip
    own, total = weights[vertices].astype(float), weights[vertices].sum(axis=1)
    matrices = matrix_of(blended(duals.astype(float)[bones[vertices]], own + (total == 0)[:, None]))
    posed = total[:, None] * (np.einsum("nij,nj->ni", matrices[:, :3, :3], points[vertices]) + matrices[:, :3, 3])
    linear = np.where((mix < 1)[:, None], out[vertices], 0)
    out[vertices] = linear + mix[:, None] * (posed - linear)


def duals_of(matrices: Floats, out: Floats) -> None:
    out[:] = dual_of(matrices)


def lip_motion(
    head: Floats, jaw: Floats, balance: float, middle: Floats, ahead: float, together: Floats, apart: Floats
) -> float:  # fmt: skip
    carried, at = between(head, jaw, balance), np.append(middle, 1)
    back = -(np.linalg.solve(head, carried @ at) - at)[2]
    carried[:3, 3] += head[:3, 2] * ahead * max(back, 0.0)
    together[:], apart[:] = carried.ravel(), (jaw - head).ravel()
    return float(-(np.linalg.solve(head, jaw @ at) - at)[1])


def respond(
    out: Floats, values: Floats, rows: Ints, columns: Ints, start: Floats, step: Floats, tables: Floats
) -> None:  # fmt: skip
    place = np.clip((values[columns] - start) / step, 0, tables.shape[1] - 1)
    low = np.minimum(place.astype(int), tables.shape[1] - 2)
    q = np.arange(len(rows))
    np.add.at(out, rows, tables[q, low] + (place - low) * (tables[q, low + 1] - tables[q, low]))


def seal_lips(
    out: Floats, points: Floats, vertices: Ints, share: Floats, when: Floats, left: Floats, corners: Floats, soft: float, seals: Floats,
    pulls: Floats, together: Floats, apart: Floats,
) -> None:  # fmt: skip
    p = np.column_stack([points[vertices], np.ones(len(vertices))]).astype(float)
    at = out[vertices] + (corners @ pulls)[:, None] * (p @ apart.reshape(4, 4)[:3].T)
    t, u = (smoothstep((seal * (1 + soft) - when) / soft) for seal in seals)
    sealed = share * (left * t + (1 - left) * u)
    out[vertices] = at + sealed[:, None] * (p @ together.reshape(4, 4)[:3].T - at)


def normals(out: Floats, points: Floats, quads: Ints, triangles: Ints) -> None:
    total = np.zeros((len(points), 3))
    a, b, c, d = (points[quads[:, k]].astype(float) for k in range(4))
    _scatter(total, quads, np.cross(c - a, d - b))
    a, b, c = (points[triangles[:, k]].astype(float) for k in range(3))
    _scatter(total, triangles, np.cross(b - a, c - a))
    out[:] = unit(total)


def _scatter(total: Floats, corners: Ints, areas: Floats) -> None:
    for k in range(corners.shape[1]):
        for axis in range(3):
            total[:, axis] += np.bincount(corners[:, k], areas[:, axis], len(total))


def pose_bones(out: Floats, angles: Floats, moves: Floats, axes: Floats, pivots: Floats, parents: Ints) -> None:
    turns = np.einsum("bki,bkl,blj->bij", axes, rotation(angles), axes)
    shifts = np.einsum("bki,bk->bi", axes, moves)
    for b, parent in enumerate(parents):
        local = np.eye(4)
        local[:3, :3] = turns[b]
        local[:3, 3] = pivots[b] + shifts[b] - turns[b] @ pivots[b]
        out[b] = local if parent < 0 else out[parent] @ local
