"""A character of bones and shapes alone: lids and lips as shapes that a table over a few drivers brings in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tightseam.bake.activation_grid import ActivationGrid, few_targets
from tightseam.bake.all_baked import with_all_baked
from tightseam.bake.fit import Sampled
from tightseam.bake.fit_sampler import FitSampler
from tightseam.bake.lid_bones import with_lids_as_bones
from tightseam.bake.lid_fits import sample_lids
from tightseam.bake.lids import CLOSING
from tightseam.bake.lip_fits import sample_lips
from tightseam.bake.mouth import MOUTH, with_relief_baked
from tightseam.bake.rides import with_rides_baked
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.meshes import Meshes, compile_meshes
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_links_to
from tightseam.document.channels import AXES, strength_of
from tightseam.document.free_name import free_name
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Shape
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.document.progress import tell
from tightseam.document.removal import without
from tightseam.geometry.types import Floats

MOST_TARGETS = 64  # of one lid or one side of the lips: where that is not enough, more would not be


@dataclass(frozen=True)
class Fitted:
    """`true` is the character, `baked` its bones and shapes, among these the targets of the `grids`; `off` says by how much in cm each grid
    is off at most at its own places."""

    true: Evaluator
    baked: Evaluator
    grids: tuple[ActivationGrid, ...]
    off: Mapping[str, float]

    def values(self, values: Mapping[str, float]) -> dict[str, float]:
        """For `baked`: with how far the grids bring their targets in. `values` holds every control."""
        found = dict(values)
        drivers = driver_values(self.true, values)
        for grid in self.grids:
            amounts = grid.at([drivers[axis.driver] for axis in grid.axes])
            found |= {strength_of(t): a for t, a in zip(grid.targets, amounts.tolist(), strict=True)}
        return found


def driver_values(evaluator: Evaluator, values: Mapping[str, float]) -> dict[str, float]:
    """What lids are asked to close by controls, by their names; what bones are turned and moved by, by their channels; how far lips are
    sealed and their corners pulled."""
    skeleton = evaluator.skeleton
    dialled = skeleton.dialled(values)
    names = [name for pair in evaluator.character.lids for name in pair.names]
    found = dict(zip(names, (1 - skeleton.openness(dialled)).tolist(), strict=True))
    for by, rows in (("turn", skeleton.angles(dialled)), ("move", skeleton.shifts(dialled))):
        for bone, row in zip(evaluator.character.bones, rows.tolist(), strict=True):
            found |= {f"{bone.name}.{by}_{axis}": value for axis, value in zip(AXES, row, strict=True)}
    seals, corners = skeleton.mouth(dialled)
    return found | dict(zip((*SEALS, *CORNERS), (*seals.tolist(), *corners.tolist()), strict=True))


def fitted(character: Character, store: ArrayStore, most: int | None = None) -> Fitted:
    """The character without lids, eye relief, lips, reliefs and rides, and with at most `most` shapes that stand in for the lids and the
    lips: those that bring them nearest. Caps are gone, dual quaternions are linear; muted shapes are not there."""
    boned = with_lids_as_bones(character, store)
    plain = replace(boned, lids=(), eye_reliefs=(), lips=(), caps=())
    plain = replace(plain, controls=with_links_to(plain.controls, dict.fromkeys((*MOUTH, *CLOSING), ())))
    meshes = compile_meshes(character, store)
    for relief in character.reliefs:
        plain = with_relief_baked(plain, store, relief, meshes)
    plain = with_rides_baked(without(plain, "shape", {s.name for s in plain.shapes if s.muted}), store)
    sampler = FitSampler(boned, plain, store)
    tell(0.1, "Lids")
    sampled = sample_lids(boned, sampler)
    tell(0.4, "Lips")
    sampled += sample_lips(boned, sampler)
    tell(0.7, "Shapes that stand in for them")
    sampled = [s for s in sampled if np.abs(s.offsets).max(initial=0) > 1e-4]
    shapes, grids, off = _targets(plain, store, sampled, meshes, most)
    baked = replace(plain, shapes=(*plain.shapes, *shapes))
    return Fitted(Evaluator(character, store), Evaluator(baked, store), tuple(grids), off)


def by_controls(character: Character, store: ArrayStore) -> Fitted:
    """The same with no table: a shape for what each control does to lids and lips, as it looks at the control's far end."""
    heard = without(character, "shape", {s.name for s in character.shapes if s.muted})
    return Fitted(Evaluator(character, store), Evaluator(with_all_baked(heard, store), store), (), {})


def _targets(
    plain: Character, store: ArrayStore, sampled: Sequence[Sampled], meshes: Meshes, most: int | None
) -> tuple[list[Shape], list[ActivationGrid], dict[str, float]]:
    found = [few_targets(s.offsets, MOST_TARGETS) for s in sampled]
    counts = _shared_out([off for *_, off in found], most)
    taken = {s.name for s in plain.shapes}
    shapes, grids, off = [], [], {}
    for own, (weights, targets, errors), count in zip(sampled, found, counts, strict=True):
        names = []
        for k, offsets in enumerate(targets[:count]):
            names.append(free_name(f"{own.name}_{k + 1:02d}", taken))
            taken.add(names[-1])
            shapes.append(_shape(names[-1], offsets, own, meshes, store))
        grids.append(ActivationGrid(own.name, own.axes, tuple(names), weights[:, :count]))
        off[own.name] = errors[count]
    return shapes, grids, off


def _shared_out(errors: Sequence[Sequence[float]], most: int | None) -> list[int]:
    """How many targets each group gets of the `most` that there may be: one after another to the one that is off farthest."""
    counts = [0] * len(errors)
    every = sum(len(e) - 1 for e in errors)
    for _ in range(every if most is None else min(max(most, 0), every)):
        wanting = [k for k, own in enumerate(errors) if counts[k] < len(own) - 1]
        counts[max(wanting, key=lambda k: errors[k][counts[k]])] += 1
    return counts


def _shape(name: str, offsets: Floats, own: Sampled, meshes: Meshes, store: ArrayStore) -> Shape:
    whole = np.zeros_like(meshes.rest, dtype=float)
    whole[own.rows] = offsets
    deltas = [make_delta(store, part, whole[meshes.rows(part)]) for part in meshes.names]
    return Shape(name, name, tuple(d for d in deltas if d is not None))
