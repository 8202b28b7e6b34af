"""Riding: a part goes with the surface under it, nothing moves twice, and it survives files."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from tightseam.bake.rides import with_rides_baked
from tightseam.binding.checks import weight_findings
from tightseam.deform.pull import pull_list
from tightseam.deform.ride import ridden, unridden
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding as find_binding
from tightseam.edits.binding_edits import WeighPart
from tightseam.edits.bone_weight_edits import SetWeights
from tightseam.edits.mesh_edits import Weld
from tightseam.edits.part_edits import RemovePart, Rename
from tightseam.edits.ride_edits import SetRide
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.geometry.adjacency import islands

from tests.head import Head

RAISED = {"brows_up": 1.0}


def riding(head: Head, part: str, **more) -> Head:
    store = MemoryStore(head.store)
    made = SetRide(part=part, on="skin", **more).apply(head.character, store)
    check_names(made)
    check_arrays(made, store)
    return Head(made, store)


@pytest.fixture(scope="module")
def brow(clean) -> Head:
    return riding(clean, "brow_L")


def test_at_rest_nothing_moves_and_a_turned_head_takes_it_along_rigidly(brow):
    rest = brow.rest("brow_L")
    assert np.abs(brow.posed("brow_L") - rest).max() < 1e-4
    turned = brow.posed("brow_L", {"head_turn": 40, "head_nod": 10})
    apart = np.linalg.norm(rest[:, None] - rest[None], axis=2)
    assert np.abs(np.linalg.norm(turned[:, None] - turned[None], axis=2) - apart).max() < 1e-3
    head = brow.evaluator.matrices(brow.values({"head_turn": 40, "head_nod": 10}))[[b.name for b in brow.character.bones].index("head")]
    assert np.abs(turned - (rest @ head[:3, :3].T + head[:3, 3])).max() < 2e-3


def test_it_goes_where_the_skin_goes_and_shapes_do_not_move_it_twice(brow, clean):
    """The deltas that took the brow along are what riding does by itself."""
    assert any(d.part == "brow_L" for s in clean.character.shapes for d in s.deltas)
    assert not any(d.part == "brow_L" for s in brow.character.shapes for d in s.deltas)
    up, before = brow.posed("brow_L", RAISED), clean.posed("brow_L", RAISED)
    assert np.linalg.norm(before - clean.rest("brow_L"), axis=1).mean() > 0.2
    assert np.linalg.norm(up - before, axis=1).max() < 0.06


def test_own_deltas_beside_the_ride_are_kept_and_give_what_they_gave(clean):
    store = MemoryStore(clean.store)
    kept = SetRide(part="brow_L", on="skin", tolerance=0).apply(clean.character, store)
    head = Head(kept, store)
    assert any(d.part == "brow_L" for s in kept.shapes for d in s.deltas)
    assert np.abs(head.posed("brow_L", RAISED) - clean.posed("brow_L", RAISED)).max() < 1e-3


def test_tufts_stay_rigid_each_on_its_root(clean):
    tufts = riding(clean, "hair", by="tuft")
    label = islands(tufts.polygons("hair"), len(tufts.rest("hair")))
    roots = np.asarray(tufts.store.get(find_binding(tufts.character, "hair").ride.roots))
    assert label.max() > 3
    posed = tufts.posed("hair", {"jaw_open": 1, "head_turn": 20})
    for tuft in range(label.max() + 1):
        own = label == tuft
        assert len(np.unique(roots[own])) == 1
        rest, now = tufts.rest("hair")[own], posed[own]
        turn, _ = Rotation.align_vectors(now - now.mean(axis=0), rest - rest.mean(axis=0))
        assert np.abs(turn.apply(rest - rest.mean(axis=0)) - (now - now.mean(axis=0))).max() < 1e-3


def test_a_bone_that_lifts_the_skin_lifts_the_brow(clean):
    store = MemoryStore(clean.store)
    made = SetRide(part="brow_L", on="skin").apply(clean.character, store)
    rest = clean.rest("skin")
    middle = clean.rest("brow_L").mean(axis=0)
    under = np.flatnonzero(np.linalg.norm(rest - middle, axis=1) < 3).tolist()
    lifted = SetWeights(part="skin", vertices=under, bone="jaw", value=1).apply(made, store)
    head = Head(lifted, store)
    skin = (head.posed("skin", {"jaw_open": 0.5}) - rest)[under]
    moved = head.posed("brow_L", {"jaw_open": 0.5}) - head.rest("brow_L")
    assert np.linalg.norm(moved.mean(axis=0) - skin.mean(axis=0)) < 0.25 * np.linalg.norm(skin.mean(axis=0))


def test_riding_can_be_inverted(brow):
    ride = brow.evaluator.rig.rides[0]
    values = brow.values({"brows_up": 1, "head_turn": 25})
    stages = brow.evaluator.stages(values)
    wanted = ridden(ride, stages.relieved, stages.skinned)
    own = stages.relieved[ride.first : ride.first + ride.count]
    assert np.abs(unridden(ride, wanted, stages.skinned) - own).max() < 1e-4


def test_the_pull_list_says_that_it_rides_and_nothing_is_found_wrong_with_it(brow):
    rows = pull_list(brow.evaluator, "brow_L", 5, brow.values(RAISED))
    assert (rows[0].kind, rows[0].label) == ("ride", "Rides on Skin")
    assert rows[0].millimetres > 1
    assert [f for f in weight_findings(brow.character, brow.store) if f.part == "brow_L"] == []


def test_it_goes_through_files(brow):
    data = write_character(brow.character, brow.store)
    assert read_character(data, MemoryStore()) == brow.character
    store = MemoryStore()
    back = read_glb(write_glb(brow.character, brow.store), store)
    assert find_binding(back, "brow_L").carrier == "ride"
    again = Head(back, store)
    assert np.abs(again.posed("brow_L", RAISED) - brow.posed("brow_L", RAISED)).max() < 1e-3


def test_baked_for_formats_without_rides_it_looks_the_same_but_for_little(brow):
    store = MemoryStore(brow.store)
    baked = with_rides_baked(brow.character, store)
    assert all(b.ride is None for b in baked.bindings)
    head = Head(baked, store)
    for values in (RAISED, {"head_turn": 30}, {"brows_up": 0.5, "head_nod": 10}):
        assert np.abs(head.posed("brow_L", values) - brow.posed("brow_L", values)).max() < 0.02


def test_meshes_that_change_keep_the_roots_and_parts_that_go_take_it_along(brow):
    store = MemoryStore(brow.store)
    renamed = Rename(part="skin", name="face").apply(brow.character, store)
    assert find_binding(renamed, "brow_L").ride.on == "face"
    gone = RemovePart(part="skin").apply(brow.character, store)
    assert find_binding(gone, "brow_L") is None
    near = np.linalg.norm(brow.rest("skin") - brow.rest("skin")[0], axis=1)
    pair = [0, int(np.argsort(near)[1])]
    try:
        welded = Weld(part="skin", vertices=pair, tolerance=float(near[pair[1]]) + 0.01).apply(brow.character, store)
    except (BadRequest, ValueError):
        return
    check_arrays(welded, store)


def test_what_cannot_ride_is_said(clean, brow):
    store = MemoryStore(clean.store)
    with pytest.raises(BadRequest, match="both are the same"):
        SetRide(part="skin", on="skin").apply(clean.character, store)
    with pytest.raises(BadRequest, match="cannot ride itself"):
        SetRide(part="skin", on="teeth_upper").apply(brow.character, store)
    with pytest.raises(BadRequest, match="is not carried by bones"):
        SetRide(part="lash_upper_L", on="brow_L").apply(brow.character, store)
    unbound = replace(clean.character, bindings=())
    with pytest.raises(BadRequest, match="is not carried by bones"):
        SetRide(part="brow_L", on="skin").apply(unbound, store)
    with pytest.raises(BadRequest, match="rides on Skin and has no weights"):
        SetWeights(part="brow_L", vertices=[0], bone="head", value=1).apply(brow.character, MemoryStore(brow.store))
    weighed = WeighPart(part="brow_L", how="envelope").apply(brow.character, MemoryStore(brow.store))
    assert find_binding(weighed, "brow_L").carrier == "weighted"
