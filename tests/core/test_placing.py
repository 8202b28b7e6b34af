"""Units and axes of files: what they hold, read by usd-core and trimesh and taken in again, is where it was."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pytest
import trimesh
from pxr import UsdSkel
from scipy.spatial.transform import Rotation
from standin.glb import read_glb
from tightseam.document.arrays import MemoryStore
from tightseam.document.frames import rest_frames
from tightseam.exchange.placing import Placing
from tightseam.exchange.usd_write import usd_of, usd_strip
from tightseam.handoff.profile import shipped_profile
from tightseam.intake.take_in import take_in
from tightseam.packing.package import package

from tests import cast
from tests.core.usd_player import PlayedUsd
from tests.core.usd_reader import opened

METRES_Z = Placing(100.0, "z")


@pytest.fixture(scope="module")
def head():
    return cast.clean("maren")


@pytest.fixture(scope="module")
def in_metres(head):
    return usd_of(usd_strip(head.character, head.store), METRES_Z)


def upright(points: np.ndarray) -> np.ndarray:
    """Metres with Z up and the face along -Y as cm with Y up and the face along +Z."""
    return 100 * np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1)


def test_every_pose_of_a_usd_in_metres_with_z_up_is_ours(head, in_metres):
    """Bones, shapes and lids with in-betweens, posed by usd-core itself."""
    played, plain = PlayedUsd(in_metres), PlayedUsd(usd_of(usd_strip(head.character, head.store)))
    assert played.poses == [p.name for p in head.character.poses]
    for k, pose in enumerate(played.poses):
        for part in ("skin", "teeth_lower", "eye_L"):
            assert np.abs(upright(played.points(k, part)) - plain.points(k, part)).max() < 1e-3, (pose, part)
    assert played.points(0, "skin")[:, 2].max() - played.points(0, "skin")[:, 2].min() < 1


def test_a_usd_in_metres_with_z_up_comes_back_as_it_was(head, in_metres):
    store = MemoryStore()
    again = take_in({"head.usdc": in_metres}, store).character
    for part in head.character.parts:
        other = next(p for p in again.parts if p.name == part.name)
        assert np.abs(np.asarray(store.get(other.points)) - np.asarray(head.store.get(part.points))).max() < 1e-4, part.name
    ours = {b.name: f for b, f in zip(head.character.bones, rest_frames(head.character.bones), strict=True)}
    theirs = {b.name: f for b, f in zip(again.bones, rest_frames(again.bones), strict=True)}
    assert set(ours) == set(theirs)
    assert max(np.abs(ours[name] - theirs[name]).max() for name in ours) < 1e-4


def test_a_receiver_gets_its_unit_its_axis_and_no_clip_where_it_plays_none(head):
    wants = {"name": "z", "tables": False, "formats": ("glb", "usd", "obj"), "unit": "m", "up": "z", "animation": False}
    files = package(head.character, head.store, replace(shipped_profile("generous"), **wants), samples=1).files
    skin = np.concatenate([np.asarray(head.store.get(p.points)) for p in head.character.parts]).astype(float)
    obj = trimesh.load(io.BytesIO(files["maren.obj"]), file_type="obj", process=False, force="mesh", maintain_order=True)
    assert np.abs(np.sort(upright(np.asarray(obj.vertices)), axis=0) - np.sort(skin, axis=0)).max() < 1e-3
    assert read_glb(files["maren.glb"]).clips == []
    stage = opened(files["maren.usdc"])  # kept: its prims go with it
    assert not [p for p in stage.Traverse() if p.IsA(UsdSkel.Animation)]


@pytest.mark.parametrize("placing", [Placing(), METRES_Z, Placing(0.1, "z"), Placing(2.54)])
def test_frames_stay_rigid_and_carry_what_they_carried(placing):
    rng = np.random.default_rng(4)
    frame = np.eye(4)
    frame[:3, :3], frame[:3, 3] = Rotation.random(random_state=4).as_matrix(), rng.normal(0, 20, 3)
    placed, inside = placing.frames(frame), rng.normal(0, 3, (5, 3))
    assert np.allclose(placed[:3, :3] @ placed[:3, :3].T, np.eye(3))
    there = (inside / placing.unit_cm) @ placed[:3, :3].T + placed[:3, 3]
    assert np.allclose(there, placing.places(inside @ frame[:3, :3].T + frame[:3, 3]))
