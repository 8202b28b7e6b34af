"""What brings correctives in: ramps over controls, bones and strengths, mixed by their product or by a radial basis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from itertools import product

import numpy as np

from tightseam.deform.ramps import Ramps, compile_ramps
from tightseam.deform.skeleton import Skeleton, Values
from tightseam.document.model import Activation
from tightseam.geometry.types import Floats, Ints

SPREAD = 0.6  # of the Gaussian, in ramps: farther apart than a neighbouring corner would ring
AT_ONCE = 0.25  # of each ramp over which a radial basis fades in: where one driver rests it does nothing


@dataclass(frozen=True)
class CompiledActivations:
    """Which shapes are correctives, their `rows` (K,), and by what. `channels` names what is read, each once; `each` has of a corrective
    which of these drive it (D,), and along which ramps."""

    rows: Ints
    channels: tuple[str, ...]
    each: tuple[tuple[Ints, Ramps, Activation], ...]

    def add(self, strengths: Floats, skeleton: Skeleton, values: Values) -> None:
        """Add to the strengths (S,) of all shapes what brings the correctives in; `values` holds every control."""
        if len(self.rows):
            strengths[self.rows] += self.amounts(skeleton, values, strengths)

    def amounts(self, skeleton: Skeleton, values: Values, strengths: Floats) -> Floats:
        """How far each corrective is brought in, (K,), shapes being at `strengths` (S,)."""
        now = skeleton.channel_values(self.channels, values, strengths)
        found = np.zeros(len(self.each))
        for k, (at, ramps, activation) in enumerate(self.each):
            shares = ramps.at(now[at])
            if shares.all():
                found[k] = activation.gain * _mixed(shares, activation)
        return found


def compile_activations(activations: Sequence[Activation | None]) -> CompiledActivations:
    """Of shapes, one after another; None for those that have none."""
    found = [(k, a) for k, a in enumerate(activations) if a is not None]
    channels = tuple(dict.fromkeys(d.channel for _, a in found for d in a.drivers))
    row = {name: k for k, name in enumerate(channels)}
    each = tuple((np.array([row[d.channel] for d in a.drivers]), compile_ramps(a.drivers), a) for _, a in found)
    return CompiledActivations(np.array([k for k, _ in found], int), channels, each)


def _mixed(shares: Floats, activation: Activation) -> float:
    """1 where all shares (D,) are, 0 where one is 0."""
    if activation.mixed == "product":
        return float(np.prod(shares))
    corners, weights = _radial(len(shares))
    between = float(_gauss(np.linalg.norm(corners - shares, axis=1)) @ weights)
    return float(np.clip(between, 0.0, 1.0) * np.prod(np.minimum(shares / AT_ONCE, 1.0)))


@cache
def _radial(count: int) -> tuple[Floats, Floats]:
    """Corners (2^D, D) of the unit cube and the weights (2^D,) of Gaussians about them that are 1 together at the last and 0 at all
    others (Lewis, Cordner, Fong: Pose space deformation, SIGGRAPH 2000)."""
    corners = np.array(list(product((0.0, 1.0), repeat=count)))
    apart = np.linalg.norm(corners[:, None] - corners[None], axis=2)
    return corners, np.linalg.solve(_gauss(apart), np.append(np.zeros(len(corners) - 1), 1.0))


def _gauss(distance: Floats) -> Floats:
    return np.asarray(np.exp(-((distance / SPREAD) ** 2)))
