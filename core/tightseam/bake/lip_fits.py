"""Lips that seal, and corners that follow the jaw, as shapes with a table over the jaw, the seal and the pull of a corner."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy.linalg

from tightseam.bake.activation_grid import Axis, grid_places
from tightseam.bake.fit import Sampled, joined
from tightseam.bake.fit_sampler import FitSampler, Turned
from tightseam.bake.reach import effects_of, reach_of
from tightseam.deform.lips import CompiledLips
from tightseam.document.channels import AXES
from tightseam.document.model import Character
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.geometry.knots import best_knots, chord_errors
from tightseam.geometry.types import Floats


@dataclass(frozen=True)
class _Steps:
    """How fine the jaw's ways are taken: the number of knots of a `far` turn, and for other turns and moves where on the way to their ends
    the knots are, 0 to 1."""

    far: int
    turns: Floats
    moves: Floats


SEALED = 24  # steps from open to sealed: the seal runs along the lips
FAR = 10.0  # degrees: a turn that parts the lips for good
TRIED = 145  # places that its knots are chosen from
EASED = np.linspace(0, 1, TRIED) ** 2  # close where the jaw is nearly closed
ALONE = _Steps(28, np.array([0.12, 0.3, 0.6, 1.0]), np.array([0.12, 0.3, 0.6, 1.0]))
BESIDE = _Steps(12, np.array([0.3, 1.0]), np.array([1.0]))  # what a side adds to that
THINNED = 3  # one of so many vertices tells where knots serve best
DETERMINED = 1e-6  # of how far the jaw goes: less is no way of its own


def sample_lips(character: Character, sampler: FitSampler) -> list[Sampled]:
    """The lips by what the jaw does, and what the seal and the corner on each side add to that. They add up but for corners whose lips the
    other side seals."""
    lips = sampler.rig.lips
    if lips is None or not character.lips:
        return []
    skeleton = sampler.rig.skeleton
    jaw = _Jaw(character, sampler, lips)
    if not jaw.ways:
        return []
    rows = sampler.with_riders(lips.vertices)
    alone = joined(sampler.lips(lips.vertices, jaw.turned(jaw.axes(ALONE)), np.zeros((1, 4))))
    found = [Sampled("lips", jaw.axes(ALONE), rows, alone)]
    beside = jaw.axes(BESIDE)
    turned = jaw.turned(beside)
    still = joined(sampler.lips(lips.vertices, turned, np.zeros((1, 4))))
    sealing = reach_of(skeleton.seals, character.controls, skeleton.spans)
    pulling = np.clip(reach_of(skeleton.corners, character.controls, skeleton.spans), -1, 1)
    for side in (0, 1):
        axes = []
        if sealing[side, 1] > 0:
            axes.append(Axis(SEALS[side], np.linspace(0, 1, SEALED + 1)))
        if pulling[side, 1] > pulling[side, 0]:
            axes.append(Axis(CORNERS[side], pulling[side]))
        if not axes:
            continue
        asked = np.zeros((len(grid_places(axes)), 4))
        for axis, values in zip(axes, grid_places(axes).T, strict=True):
            asked[:, side if axis.driver in SEALS else 2 + side] = values
        more = joined(sampler.lips(lips.vertices, turned, asked)) - np.repeat(still, len(asked), axis=0)
        found.append(Sampled(f"lips_{'LR'[side]}", (*beside, *axes), rows, more))
    return found


class _Jaw:
    """The ways in which controls turn and move the bone that carries the lower lip. Those that always go along with others, in proportion,
    are no ways of their own."""

    def __init__(self, character: Character, sampler: FitSampler, lips: CompiledLips) -> None:
        self._sampler, self._lips, self._jaw = sampler, lips, lips.lower
        self._costs: dict[tuple[int, float], Floats] = {}  # both grids ask for them
        skeleton, own = sampler.rig.skeleton, slice(3 * lips.lower, 3 * lips.lower + 3)
        self.names = [f"{character.bones[lips.lower].name}.{by}_{axis}" for by in ("turn", "move") for axis in AXES]
        drives = (skeleton.turning, skeleton.moving)
        self.reach: Floats = np.concatenate([reach_of(drive, character.controls, skeleton.spans)[own] for drive in drives])
        swept = np.concatenate([effects_of(drive, character.controls, skeleton.spans)[:, own] for drive in drives], axis=1)
        self.ways, self._along = _independent(np.concatenate(list(swept), axis=1))

    def axes(self, steps: _Steps) -> tuple[Axis, ...]:
        """The ways by their channels, with 0 and what they reach to either side among the knots."""
        found = []
        for way in self.ways:
            low, high = self.reach[way].tolist()
            turns = way < len(AXES)
            ends = [end for end in (min(low, 0.0), max(high, 0.0)) if end]
            near = steps.turns if turns else steps.moves
            own = [self._openings(way, end, steps.far) if turns and abs(end) > FAR else end * near for end in ends]
            found.append(Axis(self.names[way], np.unique([0.0, *np.concatenate(own)])))
        return tuple(found)

    def _openings(self, way: int, end: float, count: int) -> Floats:
        """Where on a far turn knots serve the lips best: they stand close where the lips let go of one another."""
        if (way, end) not in self._costs:
            self._costs[way, end] = self._cost(way, end)
        return end * EASED[best_knots(self._costs[way, end], count - 1)][1:]

    def _cost(self, way: int, end: float) -> Floats:
        """What leaving out places of a far turn costs the lips, all else at its end: open, and half sealed from one side."""
        ahead = np.array([max(self.reach[w], key=abs) for w in self.ways])
        places = np.tile(ahead, (TRIED, 1))
        places[:, self.ways.index(way)] = end * EASED
        rows, asked = self._lips.vertices, np.array([[0, 0, 0, 0], [0.5, 0, 0, 0]], float)
        paths = np.array(list(self._sampler.lips(rows, self._posed(places), asked)))[:, :, : len(rows) : THINNED]
        return chord_errors(np.concatenate(list(paths.swapaxes(0, 1)), axis=1))

    def turned(self, axes: tuple[Axis, ...]) -> list[Turned]:
        """The bone at every place of a grid over the ways."""
        return self._posed(grid_places(axes))

    def _posed(self, places: Floats) -> list[Turned]:
        found = []
        for place in places:
            pose = self._sampler.still()
            pose.angles[self._jaw], pose.shifts[self._jaw] = (self._along @ place).reshape(2, 3)
            found.append(pose)
        return found


def _independent(effects: Floats) -> tuple[list[int], Floats]:
    """Rows of `effects` (6, E) of which all others are sums, the fewest, largest first; and how all come from these, (6, R)."""
    largest = np.abs(effects).max(axis=1, initial=0.0)
    if not largest.any():
        return [], np.zeros((len(effects), 0))
    scaled = effects / np.where(largest > 0, largest, 1.0)[:, None]
    _, triangle, order = scipy.linalg.qr(scaled.T, mode="economic", pivoting=True)
    size = np.abs(np.diag(triangle))
    ways = sorted(order[: int((size > DETERMINED).sum())].tolist())
    along = np.linalg.lstsq(effects[ways].T, effects.T, rcond=None)[0].T if ways else np.zeros((len(effects), 0))
    return ways, along
