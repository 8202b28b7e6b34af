"""Lids on their arc, following the gaze over the eye, as shapes with a table over closing and gaze."""

from __future__ import annotations

import numpy as np

from tightseam.bake.activation_grid import Axis, grid_places
from tightseam.bake.fit import Sampled, joined, spaced
from tightseam.bake.fit_sampler import FitSampler
from tightseam.bake.reach import effects_of, reach_of
from tightseam.deform.lid_drivers import LidSampler
from tightseam.document.channels import AXES
from tightseam.document.model import Character

CLOSINGS = 10  # steps from open to closed
WIDER = 2  # and from open to as wide as controls go
DEGREES = 9.0  # between two gazes
TURNS = AXES[:2]  # an eye that rolls looks where it looked


def sample_lids(character: Character, sampler: FitSampler) -> list[Sampled]:
    """Each lid that closes on an arc or by shapes, with the lashes and what rides on it, by how far controls close it and where the eye
    looks. Lids of an eye that no single bone carries are sampled looking straight ahead."""
    found = []
    for number, pair in enumerate(character.lids):
        lids, *_ = sampler.rig.closing[number]
        relief = next((r for r in sampler.rig.eye_reliefs if r.eye.part == pair.eye), None)
        moving = LidSampler(lids, relief, sampler.rest)
        rows = sampler.with_riders(moving.rows)
        lid = moving.lid[sampler.roots(moving.rows)]
        gaze = _gaze_axes(character, sampler, lids.eye.carrier)
        knots = _closings(sampler, number, character)
        turned = []
        for place in grid_places(gaze):
            pose = sampler.still()
            for axis, value in zip(gaze, place, strict=True):
                pose.angles[lids.eye.carrier, TURNS.index(axis.driver[-1])] = value
            turned.append(pose)
        offsets = joined(sampler.lids(number, moving.rows, turned, knots))
        for k, name in enumerate(pair.names):
            own = np.flatnonzero(lid == k)
            found.append(Sampled(name, (*gaze, Axis(name, knots)), rows[own], offsets[:, own]))
    return found


def _gaze_axes(character: Character, sampler: FitSampler, carrier: int | None) -> tuple[Axis, ...]:
    """The ways the eye's bone is turned by controls."""
    if carrier is None:
        return ()
    skeleton = sampler.rig.skeleton
    reach = reach_of(skeleton.turning, character.controls, skeleton.spans)
    bone = character.bones[carrier].name
    spans = [(f"{bone}.turn_{axis}", reach[3 * carrier + k].tolist()) for k, axis in enumerate(TURNS)]
    return tuple(Axis(name, spaced(low, high, DEGREES)) for name, (low, high) in spans if high > low)


def _closings(sampler: FitSampler, number: int, character: Character) -> np.ndarray:
    """From as wide as all controls together open a lid of the eye to closed."""
    skeleton = sampler.rig.skeleton
    least, _ = effects_of(skeleton.lids, character.controls, skeleton.spans)
    widest = 1 - float(np.prod(1 - np.minimum(least[2 * number : 2 * number + 2], 0), axis=1).max())
    wider = np.linspace(widest, 0, WIDER, endpoint=False) if widest < 0 else np.zeros(0)
    return np.concatenate([wider, np.linspace(0, 1, CLOSINGS + 1)])
