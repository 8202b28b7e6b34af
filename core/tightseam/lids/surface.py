"""The lids of one eye as a surface: which vertex takes how much, where that jumps, and where it is stretched."""

from __future__ import annotations

from functools import cached_property

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.brush.canvas import Canvas
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Lids
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.maps import map_of, margins_of
from tightseam.lids.starts import started
from tightseam.weights.fields import grown, mended

WHOLE = 0.995  # of the closing that a margin takes
CREASE = 0.15  # of the closing by which a vertex may differ from the mean of its neighbours
STRETCH = 3.0  # times its length to which an edge may grow
OFF = 0.1  # of the closing by which a share may differ from how lids are set up
TUNED = 0.3  # of a lid's vertices that differ: then somebody wanted them to
ROUNDS = 6


class LidSurface:
    """Maps (N,) over the skin of one eye's lids."""

    def __init__(self, character: Character, store: ArrayStore, pair: Lids, canvas: Canvas) -> None:
        self._character, self._store, self._pair, self._canvas = character, store, pair, canvas
        self.share = map_of(character, store, pair, "share")
        self.of_lids: Bools = np.zeros(len(self.share), bool)
        self.of_lids[np.asarray(store.get(pair.vertices))] = True
        self._upper = np.zeros(len(self.share), bool)
        self._upper[np.asarray(store.get(pair.vertices))] = np.asarray(store.get(pair.upper)) == 1
        self.margin = np.concatenate(margins_of(store, pair))

    def of(self, lid: str) -> Bools:
        """Which vertices go with the upper or the lower lid, (N,)."""
        return self.of_lids & (self._upper if lid == "upper" else ~self._upper)

    @cached_property
    def relief(self) -> Floats:
        """The eye relief (N,), nothing where there is none."""
        return map_of(self._character, self._store, self._pair, "eye_relief")

    @cached_property
    def around(self) -> Floats:
        """The mean share of the neighbours, (N,)."""
        return np.asarray(self._canvas.mesh.average @ self.share)

    @cached_property
    def step(self) -> Floats:
        """How far each share is from that mean, (N,)."""
        return np.abs(self.share - self.around)

    @cached_property
    def creased(self) -> Bools:
        return self.step > CREASE

    def whole(self, where: Bools) -> bool:
        """Do all vertices `where` (N,) take all of the closing, without a crease?"""
        return bool(self.share[where].min(initial=1) > WHOLE) and not (self.creased & where).any()

    def stretched(self, closed: Floats, lid: str) -> tuple[float, Bools]:
        """How many times its length the longest edge of a lid has grown to on the closed skin (N, 3), and the ends of those over the
        limit."""
        own = self._ends[self.of(lid)[self._ends].all(axis=1)]
        rest, now = (np.linalg.norm(p[own[:, 0]] - p[own[:, 1]], axis=1) for p in (self._canvas.mesh.points, closed))
        ratio = now / np.maximum(rest, 1e-6)
        over = np.zeros(len(self.share), bool)
        over[own[ratio > STRETCH].ravel()] = True
        return float(ratio.max(initial=1.0)), over

    @cached_property
    def _ends(self) -> Ints:
        return self._canvas.mesh.edges.ends

    def patch_of_share(self, guilty: Bools) -> Ints:
        """The vertices whose share is to be made anew where some are `guilty` (N,): those round them that differ from how lids are set
        up; where that cannot be told, or a whole lid was made otherwise, as few as leave no crease."""
        touched = grown(self._canvas, guilty, 1)
        off = self._off
        if off is not None and off.sum() < TUNED * self.of_lids.sum():
            label = _labels(off, self._canvas.mesh.neighbours)
            found = off & np.isin(label, np.unique(label[off & touched]))
            if found.any():
                return np.flatnonzero(grown(self._canvas, found, 1) & self.of_lids)
        return self._fewest(guilty)

    @cached_property
    def _off(self) -> Bools | None:
        """Where shares differ from those that lids are set up with, (N,); None where landmarks do not give these."""
        try:
            usual = started(self._character, self._store, self._pair, "share", "fold")
        except BadRequest:
            return None
        return np.abs(usual - self.share) > OFF

    def _fewest(self, guilty: Bools) -> Ints:
        patch = grown(self._canvas, guilty, 1) & self.of_lids
        held = np.isin(np.arange(len(patch)), self.margin)
        for _ in range(ROUNDS):
            after = mended(self._canvas, np.where(held, 1.0, self.share), patch & ~held)
            creased = np.abs(after - self._canvas.mesh.average @ after) > CREASE
            if not (creased & ~patch & grown(self._canvas, patch, 1)).any():
                break
            patch |= grown(self._canvas, creased & grown(self._canvas, patch, 1), 1) & self.of_lids
        return np.flatnonzero(patch)


def _labels(where: Bools, beside: csr_matrix) -> Ints:
    """A number for each patch of vertices (N,) that hang together within `where`, -1 outside."""
    rows = np.flatnonzero(where)
    label = np.full(len(where), -1)
    label[rows] = connected_components(beside[rows][:, rows], directed=False)[1]
    return label
