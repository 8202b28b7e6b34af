"""The half grid of the skin and the rings that fill the blocks cut out of it."""

from __future__ import annotations

import numpy as np

from tightseam.demo.shape import Array

NU, NV = 23, 31  # columns (front centre -> back centre), rows (collar -> crown edge)
MOUTH = (0, 7, 8, 12)  # i0,i1,j0,j1
NOSTRIL = (2, 4, 13, 15)
EYE = (5, 11, 17, 25)
EAR = (14, 17, 15, 21)
CAPA = 7  # crown cap: CAPA x (NU-2*CAPA) cells


class Half:
    """The left half of a skin while it is built: vertices and quads, rings and named sets, and what a formula has pinned."""

    def __init__(self) -> None:
        self.pos: list[Array] = []
        self.quads: list[tuple[int, ...]] = []
        self.center: list[bool] = []
        self.sets: dict[str, list[int]] = {}
        self.pinned: dict[int, Array] = {}
        self.smooth_only: list[int] = []
        self.soft: list[int] = []
        self.grid: Array = None
        self.crown: Array = None
        self.eye_rings: list[list[int]] = []
        self.mouth_rings: list[list[int]] = []
        self.nostril_rings: list[list[int]] = []
        self.nostril_cap: list[int] = []
        self.points: Array = None

    def ring(self, previous: list[int], points: Array, closed: bool, centre_ends: bool = False) -> list[int]:
        ring = [self.add(p, centre_ends and k in (0, len(points) - 1)) for k, p in enumerate(points)]
        self.strip(previous, ring, closed)
        return ring

    def add(self, p: Array, center: bool = False) -> int:
        self.pos.append(np.asarray(p, float))
        self.center.append(bool(center))
        return len(self.pos) - 1

    def strip(self, a: list[int], b: list[int], closed: bool) -> None:
        n = len(a)
        for k in range(n if closed else n - 1):
            k2 = (k + 1) % n
            self.quads.append((a[k], a[k2], b[k2], b[k]))


def block_loop(b):
    """Boundary of a closed block: start mid inner side, up, across the top, down, back along the bottom."""
    i0, i1, j0, j1 = b
    jm = (j0 + j1) // 2
    L = [(i0, j) for j in range(jm, j1)] + [(i, j1) for i in range(i0, i1)]
    L += [(i1, j) for j in range(j1, j0, -1)] + [(i, j0) for i in range(i1, i0, -1)]
    L += [(i0, j) for j in range(j0, jm)]
    return L


def half_loop(b):
    """Boundary of the mouth half block: centre top -> side -> centre bottom (open)."""
    _, i1, j0, j1 = b
    return [(i, j1) for i in range(0, i1)] + [(i1, j) for j in range(j1, j0, -1)] + [(i, j0) for i in range(i1, -1, -1)]


def cap(H, ring, loop, b, halfblock=False):
    """Close a ring with the grid of the block it came from (keeps everything quads)."""
    i0, i1, j0, j1 = b
    m = {ij: v for ij, v in zip(loop, ring)}
    c = np.mean([H.pos[v] for v in ring], axis=0)
    new = []
    for i in range(i0, i1 + 1):
        for j in range(j0, j1 + 1):
            if (i, j) not in m:
                ce = halfblock and i == 0
                m[(i, j)] = H.add(c * ([0, 1, 1] if ce else [1, 1, 1]), ce)
                new.append(m[(i, j)])
    for i in range(i0, i1):
        for j in range(j0, j1):
            H.quads.append((m[i, j], m[i + 1, j], m[i + 1, j + 1], m[i, j + 1]))
    return new


def neighbour_table(n, quads):
    nb = [set() for _ in range(n)]
    for q in quads:
        for k in range(len(q)):
            a, b = q[k], q[(k + 1) % len(q)]
            nb[a].add(b)
            nb[b].add(a)
    w = max(len(s) for s in nb)
    T = np.zeros((n, w), int)
    M = np.zeros((n, w))
    for i, s in enumerate(nb):
        s = sorted(s)
        T[i, : len(s)] = s
        M[i, : len(s)] = 1
    return T, M
