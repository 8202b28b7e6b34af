"""Detail levels: each limit kept, and what each step took away told as it is."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from standin.glb import read_glb
from standin.play import Receiver
from tightseam.bake.fitted import by_controls
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.poses import pose_values
from tightseam.handoff.profile import Level, Profile
from tightseam.packing.levels import make_level
from tightseam.packing.package import package
from tightseam.packing.thinned import thinned

from tests import cast


@pytest.fixture(scope="module")
def held():
    head = cast.clean("maren")
    store = MemoryStore(head.store)
    return by_controls(head.character, store), store


def influences(character, store) -> int:
    most = 0
    for bound in character.bindings:
        count = next(p.vertex_count for p in character.parts if p.name == bound.part)
        carrying = np.zeros(count, int)
        for influence in bound.influences:
            carrying[np.asarray(store.get(influence.vertices))] += np.asarray(store.get(influence.weights)) > 0
        most = max(most, int(carrying.max()))
    return most


def test_every_limit_is_kept_and_every_step_told(held):
    baked, store = held
    made = make_level(baked, store, Level("far", influences=2, bones=20, shapes=6, vertices=3000))
    assert sum(b.role == "deform" for b in made.character.bones) == 20
    assert len(made.character.shapes) == 6
    assert sum(p.vertex_count for p in made.character.parts) <= 3000
    assert [loss.what for loss in made.lost] == ["shapes", "bones", "influences", "vertices"]
    assert all(loss.mm > 0 for loss in made.lost)
    for bound in made.character.bindings:
        count = next(p.vertex_count for p in made.character.parts if p.name == bound.part)
        total = np.zeros(count)
        for influence in bound.influences:
            np.add.at(total, np.asarray(store.get(influence.vertices)), np.asarray(store.get(influence.weights)))
        assert total == pytest.approx(np.ones(count), abs=1e-4)


def test_what_is_told_of_a_step_is_how_far_it_is_off_in_the_poses(held):
    baked, store = held
    made = make_level(baked, store, Level("two", influences=2))
    assert influences(made.character, store) == 2
    before, after = baked.baked, Evaluator(made.character, store)
    strip = [baked.values(pose_values(baked.true.character, p)) for p in baked.true.character.poses]
    off = max(float(np.linalg.norm(before.points(v) - after.points(v), axis=1).max()) for v in strip)
    assert 0 < 10 * off <= made.lost[0].mm + 1e-6


def test_a_level_that_takes_nothing_away_is_the_same(held):
    baked, store = held
    made = make_level(baked, store, Level("all", influences=8, bones=500, shapes=500, vertices=100_000))
    assert made.character is baked.baked.character
    assert made.lost == []


def test_bones_that_move_least_go_first_and_the_jaw_stays(held):
    baked, store = held
    there = {b.name for b in make_level(baked, store, Level("few", bones=8)).character.bones}
    assert {"head", "jaw"} <= there


def test_bones_that_never_move_by_themselves_are_merged_for_nothing(held):
    """Brows are on helpers, which deform from then on; what hung on them is where it was in every pose."""
    baked, store = held
    made = make_level(baked, store, Level("fewer", bones=35))
    assert [loss.what for loss in made.lost] == ["bones"]
    assert made.lost[0].mm < 0.01


def test_thinned_by_nothing_it_stands_where_it_stood(held):
    """Vertices that are left stand on the old surface, and are carried as it is there: in every pose they lie on the posed one."""
    baked, store = held
    half = thinned(baked.baked.character, store, 0.5)
    evaluator = Evaluator(half, store)
    for pose in baked.true.character.poses[:3]:
        values = baked.values(pose_values(baked.true.character, pose))
        posed, whole = evaluator.points(values), baked.baked.points(values)
        rows = evaluator.meshes.rows("skin")
        near = np.linalg.norm(posed[rows][:, None] - whole[baked.baked.meshes.rows("skin")][None, ::7], axis=2).min(axis=1)
        assert np.median(near) < 1.0


def test_a_level_leaves_as_a_file_of_its_own_that_poses_by_the_same_table():
    head = cast.clean("hob")
    levels = (Level("near", influences=3), Level("far", bones=9, vertices=2500))
    profile = Profile("phone", "Phone", formats=("glb",), tables=False, levels=levels)
    made = package(head.character, MemoryStore(head.store), profile, samples=1)
    told = json.loads(made.files["report.json"])["levels"]
    far = read_glb(made.files["hob.far.glb"])
    assert sum(len(m.points) for m in far.meshes) == told["far"]["vertices"] <= 2500
    assert len(far.joints) >= told["far"]["bones"] <= 9
    assert read_glb(made.files["hob.near.glb"]).meshes[0].weights.shape[1] == 4  # a set of four, the last of them nothing
    near = Receiver(made.files["hob.near.glb"], made.files["drive.json"], {})
    whole = Receiver(made.files["hob.glb"], made.files["drive.json"], {})
    off = max(
        float(np.linalg.norm(near.posed(p.values)[n] - whole.posed(p.values)[n], axis=1).max())
        for p in head.character.poses
        for n in ("skin",)
    )
    assert 10 * off <= told["near"]["lost"]["influences"] + 0.02
    assert replace(levels[0], influences=None) == Level("near")
