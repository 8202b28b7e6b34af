"""From where the posed surface is wanted to where shapes have to bring the neutral for it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.geometry.types import Bools, Floats, Ints

STEP = 0.02  # cm by which points are moved to see what becomes of it
ROUNDS = 10
NEAR = 1e-5  # cm from what is wanted
MISSED = 0.002  # cm from which another way is looked for:
WAYS = (True, False, True, False)  # with eye relief and as if there were none, each again from where the other ended
PULL = np.geomspace(0.3, 0.02, ROUNDS)  # towards what is smooth, by round: what a pose flattens more than the last is left there
MOST, MOST_ON_LIDS = 2.0, 3.0  # times as far as the surface is wanted to go may points go for it


class Unposing:
    """Solves F(x) = wanted for the points x of one part, where F is all that comes after the shapes: reliefs, lids, eye relief, bones, the
    seal of the lips. Each vertex goes its own way through F (but for the margins of lids, which take their lids along), so its Jacobian J
    is 3 x 3, taken by differences.

    Eye relief lays lids on the ball, so that F hardly changes along some directions; to follow it there at any price would store spikes.
    Steps are Tikhonov's, (JᵀJ + λ²)⁻¹ (Jᵀ (wanted - F) + λ² (s - x)), with λ going down: s is where x would be without the relief, which is
    as smooth as what is wanted, and what F flattens stays there. No point goes farther than so many times as its place on the surface is
    wanted to go; what is missed for it is told. float64.
    """

    def __init__(self, evaluator: Evaluator, rows: slice, values: Mapping[str, float]) -> None:
        self._evaluator, self._rows, self._values = evaluator, rows, values
        self._all = evaluator.shaped(values)
        self.shaped: Floats = self._all[rows].copy()
        self.posed: Floats = self._pose(self.shaped)
        self._start, self._first = self.shaped.copy(), self.posed.copy()
        self._bare = self._jacobians(relieved=False)
        self._whole = self._jacobians() if evaluator.rig.eye_reliefs else self._bare
        self._most = np.where(self._on_lids(), MOST_ON_LIDS, MOST)

    def reach(self, vertices: Ints, wanted: Floats) -> Floats:
        """Bring vertices (K,) to where they are `wanted` (K, 3), as far as can be. What is left, (K,) cm."""
        smooth = self.shaped[vertices] + _solved(self._bare[vertices], wanted - self.posed[vertices])
        left = self._steps(vertices, wanted, smooth, self._whole)
        for relieved in WAYS if self._evaluator.rig.eye_reliefs else ():
            stuck = left > MISSED
            if not stuck.any():
                break
            before, held = self.shaped[vertices], vertices[stuck]
            self._steps(held, wanted[stuck], smooth[stuck], self._jacobians(relieved), relieved)
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
        self._start[vertices], self._first[vertices] = self.shaped[vertices], self.posed[vertices]

    def whole(self) -> Floats:
        """The posed points (N, 3) of all parts."""
        self._all[self._rows] = self.shaped
        return self._evaluator.posed_from(self._all, self._values)

    def _steps(self, vertices: Ints, wanted: Floats, smooth: Floats, jacobians: Floats, relieved: bool = True) -> Floats:
        """Steps with Jacobians (N, 3, 3), each vertex's halved where it would end farther from where it is wanted than it was, as it does
        over an edge of a lid or a ball. What is left, (K,) cm."""
        self.posed = self._pose(self.shaped, relieved)
        off = wanted - self.posed[vertices]
        left: Floats = np.linalg.norm(off, axis=1)
        # counted from where it was, or where its lid has brought it meanwhile
        far = self._most[vertices] * np.maximum(np.linalg.norm(wanted - self._first[vertices], axis=1), left)
        share = np.ones(len(vertices))
        for pull in PULL:
            if left.max(initial=0) < NEAR:
                break
            before = self.shaped[vertices]
            step = _solved(jacobians[vertices], off, pull, smooth - before)
            self.shaped[vertices] = _within(before + share[:, None] * step, self._start[vertices], far)
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

    def _jacobians(self, relieved: bool = True) -> Floats:
        """Of F at the points as they are, (N, 3, 3)."""
        return by_differences(lambda shaped: self._pose(shaped, relieved), self.shaped, STEP)

    def _on_lids(self) -> Bools:
        """Which vertices (N,) eye relief or the closing of lids moves."""
        found = np.zeros(len(self._all), bool)
        for moved in (*(r.vertices for r in self._evaluator.rig.eye_reliefs), *(x.turning.vertices for x in self._evaluator.rig.lids)):
            found[moved] = True
        return found[self._rows]


def by_differences(pose: Callable[[Floats], Floats], at: Floats, step: float) -> Floats:
    """Jacobians (N, 3, 3) of what poses each of some points (N, 3) by itself, by steps of so many cm along each axis."""
    here = pose(at)
    return np.stack([(pose(at + step * axis) - here) / step for axis in np.eye(3)], axis=2)


def _solved(jacobians: Floats, off: Floats, pull: float = 1e-3, towards: Floats | None = None) -> Floats:
    """Steps (K, 3) that bring Jacobians (K, 3, 3) times them near `off` (K, 3), and themselves near `towards` (K, 3), by the weight of
    `pull` against the largest stretch of each."""
    turned = np.swapaxes(jacobians, 1, 2)
    square = turned @ jacobians
    weight = pull**2 * np.trace(square, axis1=1, axis2=2)[:, None] / 3 + 1e-30
    right = np.einsum("kij,kj->ki", turned, off) + (0 if towards is None else weight * towards)
    return np.asarray(np.linalg.solve(square + weight[..., None] * np.eye(3), right[..., None])[..., 0])


def _within(points: Floats, about: Floats, far: Floats) -> Floats:
    """Points (K, 3), those drawn in that are farther than `far` (K,) from others (K, 3)."""
    away = points - about
    length = np.linalg.norm(away, axis=1)
    return np.asarray(about + away * np.minimum(1, far / np.maximum(length, 1e-30))[:, None])
