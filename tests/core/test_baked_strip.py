"""The strip as files play it, USD by usd-core's own skinning and GLB by a reader of the tests, against our points."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.bake.strip import BESIDE_SHAPES
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import LidDriver
from tightseam.document.poses import pose_values
from tightseam.exchange.glb_write import glb_strip, write_glb
from tightseam.exchange.usd_write import write_usd
from tightseam.intake.take_in import take_in

from tests import cast
from tests.core.gltf_reader import PosedGlb
from tests.core.usd_player import PlayedUsd
from tests.core.usd_reader import PosedUsd
from tests.head import Head

CLOSE = 2e-3  # cm


def driven(head: Head, driver: LidDriver) -> Head:
    store = MemoryStore(head.store)
    return Head(replace(head.character, lids=tuple(replace(x, driver=driver) for x in head.character.lids)), store)


def assert_plays(head: Head) -> None:
    played = PlayedUsd(write_usd(head.character, head.store))
    assert played.poses == [p.name for p in head.character.poses]
    assert played.last == len(played.poses) - 1
    for k, pose in enumerate(head.character.poses):
        ours = head.evaluator.points(pose_values(head.character, pose))
        for part in head.character.parts:
            off = np.abs(played.points(k, part.name) - ours[head.evaluator.meshes.rows(part.name)]).max()
            assert off < CLOSE, (pose.name, part.name, off)


@pytest.mark.parametrize("name", cast.NAMES)
def test_usd_plays_every_pose_of_the_strip_as_it_is_here(name):
    """Eye relief, lids on their arc that follow the gaze, the seal and riding brows among them."""
    assert_plays(cast.clean(name))


def test_glb_plays_every_pose_of_the_strip_as_it_is_here_brows_that_ride_included():
    head = cast.clean("maren")
    played = PosedGlb(write_glb(head.character, head.store))
    for k, pose in enumerate(head.character.poses):
        ours, seen = head.evaluator.points(pose_values(head.character, pose)), played.at(k)
        for part in head.character.parts:
            assert np.abs(100 * seen[part.name] - ours[head.evaluator.meshes.rows(part.name)]).max() < CLOSE, (pose.name, part.name)


@pytest.mark.parametrize("driver", [LidDriver("shapes", gaze=True), LidDriver("bones")])
def test_usd_plays_lids_by_shapes_and_by_bones(driver):
    assert_plays(driven(cast.clean("maren"), driver))


def test_what_a_helper_carries_does_not_move_in_usd_either():
    head = cast.faulty("hob")
    played = PlayedUsd(write_usd(head.character, head.store))
    ours = head.evaluator.points(pose_values(head.character, head.character.poses[1]))
    for part in head.character.parts:
        if part.kind in ("tongue", "eye", "teeth upper"):
            assert np.abs(played.points(1, part.name) - ours[head.evaluator.meshes.rows(part.name)]).max() < CLOSE, part.name


def test_what_bones_and_shapes_leave_out_is_as_far_as_the_points_are_off_without_it():
    head = cast.clean("hob")
    told = glb_strip(head.character, head.store).left_out()
    assert told == sorted(told, key=lambda x: -x.cm)
    played = PosedGlb(write_glb(head.character, head.store))
    for left in told[:3]:
        k = head.character.poses.index(left.pose)
        targets = played.targets(left.part, k)
        beside = next(offsets for name, (_, offsets) in targets.items() if name == BESIDE_SHAPES + left.pose.name)
        assert 100 * np.linalg.norm(beside, axis=1).max() == pytest.approx(left.cm, rel=1e-3)
    still = {p.name for p in head.character.poses} - {x.pose.name for x in told}
    assert "neutral" in still


def test_what_was_baked_for_the_strip_does_not_come_back_as_shapes():
    head = cast.clean("maren")
    data = write_usd(head.character, head.store)
    assert [name for name in PosedUsd(data).shapes("skin") if name.startswith(BESIDE_SHAPES)]
    taken = take_in({"maren.usdc": data}, MemoryStore())
    back = taken.character
    assert any("baked for one test pose" in note for note in taken.notes)
    assert [s.name for s in back.shapes if "beside" in s.name] == []
    assert len(back.shapes) >= len(head.character.shapes)
