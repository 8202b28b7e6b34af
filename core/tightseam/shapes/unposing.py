"""From where the posed surface is wanted to where shapes have to bring the neutral for it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.geometry.types import Floats, Ints

STEP = 0.02  # cm by which points are moved to see what becomes of it
DAMPING = 1e-3  # of the largest stretch: what a pose flattens more than that is not followed
ROUNDS = 10
NEAR = 1e-5  # cm from what is wanted
MISSED = 0.002  # cm from which another way is looked for


class Unposing:
    """Solves F(x) = wanted for the points x of one part, where F is all that comes after the shapes: reliefs, lids, eye relief, bones, the
    seal of the lips. Each vertex goes its own way through F (but for the margins of lids, which take their lids along), so its Jacobian is
    3 x 3; it is taken by differences once, then Newton's steps are made with it, damped where it is near singular (Levenberg 1944,
    Marquardt 1963). float64.

    What is left after that is tried from where it got to, with a Jacobian of there; and where eye relief holds a vertex on the ball, so
    that F does not change at all, F without the relief is solved, which brings it out.
    """

    def __init__(self, evaluator: Evaluator, rows: slice, values: Mapping[str, float]) -> None:
        self._evaluator, self._rows, self._values = evaluator, rows, values
        self._all = evaluator.shaped(values)
        self.shaped: Floats = self._all[rows].copy()
        self.posed: Floats = self._pose(self.shaped)

    def reach(self, vertices: Ints, wanted: Floats) -> Floats:
        """Bring vertices (K,) to where they are `wanted` (K, 3), as far as can be. What is left, (K,) cm."""
        left = self._newton(vertices, wanted, self._back)
        for relieved in (True, False) if self._evaluator.reliefs else ():
            stuck = left > MISSED
            if not stuck.any():
                break
            before, held = self.shaped[vertices], vertices[stuck]
            self._newton(held, wanted[stuck], self._inverse(relieved), relieved)
            self.posed = self._pose(self.shaped)
            now = np.linalg.norm(wanted - self.posed[vertices], axis=1)
            if (now > left).any():
                self.shaped[vertices[now > left]] = before[now > left]
                self.posed = self._pose(self.shaped)
            left = np.linalg.norm(wanted - self.posed[vertices], axis=1)
        return left

    def move_shaped(self, vertices: Ints, by: Floats) -> None:
        """Move vertices (K,) before all that poses them by (K, 3)."""
        self.shaped[vertices] += by
        self.posed = self._pose(self.shaped)

    def _newton(self, vertices: Ints, wanted: Floats, back: Floats, relieved: bool = True) -> Floats:
        """Newton's steps, each vertex's halved where it would end farther from where it is wanted than it was, as it does over an edge
        of a lid or a ball. What is left, (K,) cm."""
        self.posed = self._pose(self.shaped, relieved)
        off = wanted - self.posed[vertices]
        left: Floats = np.linalg.norm(off, axis=1)
        share = np.ones(len(vertices))
        for _ in range(ROUNDS):
            if left.max(initial=0) < NEAR:
                break
            before = self.shaped[vertices]
            self.shaped[vertices] += share[:, None] * np.einsum("kij,kj->ki", back[vertices], off)
            posed = self._pose(self.shaped, relieved)[vertices]
            better = np.linalg.norm(wanted - posed, axis=1) <= left
            self.shaped[vertices[~better]] = before[~better]
            self.posed[vertices[better]] = posed[better]
            share = np.where(better, 1.0, 0.5 * share)
            off = wanted - self.posed[vertices]
            left = np.linalg.norm(off, axis=1)
        return left

    def _pose(self, shaped: Floats, relieved: bool = True) -> Floats:
        self._all[self._rows] = shaped
        return self._evaluator.posed_from(self._all, self._values, relieved)[self._rows]

    @cached_property
    def _back(self) -> Floats:
        return self._inverse(True)

    def _inverse(self, relieved: bool) -> Floats:
        """Damped inverses (N, 3, 3) of the Jacobians."""
        here = self._pose(self.shaped, relieved)
        columns = [(self._pose(self.shaped + STEP * axis, relieved) - here) / STEP for axis in np.eye(3)]
        u, s, vt = np.linalg.svd(np.stack(columns, axis=2))
        damped = s / (s**2 + (DAMPING * s.max(axis=1, initial=0, keepdims=True)) ** 2 + 1e-30)
        return np.asarray(np.einsum("nji,nj,nkj->nik", vt, damped, u))
