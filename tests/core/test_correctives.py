"""Correctives: what brings them in, what they do to everything else, and how they are made, mirrored and handed over."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import RBFInterpolator
from tightseam.bake.mouth import with_mouth_baked
from tightseam.brush.brush import Brush
from tightseam.correctives.woken import woken
from tightseam.deform.activation import AT_ONCE, SPREAD, compile_activations
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import pull_list
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Activation, Driver
from tightseam.document.poses import pose_values, rest_values
from tightseam.document.removal import without
from tightseam.edits.control_edits import ControlShapes
from tightseam.edits.corrective_edits import AddCorrective, MirrorCorrective, SetActivation
from tightseam.edits.pose_edits import KeepPose
from tightseam.edits.shape_edits import OffsetVertices
from tightseam.edits.shape_list_edits import MuteShapes, RenameShapes
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.exchange.usd_write import write_usd
from tightseam.shapes.offsets import offsets_of
from tightseam.shapes.sculpt import SculptDab, Sculpting, SculptStroke

from tests.core.gltf_reader import PosedGlb
from tests.core.usd_reader import PosedUsd
from tests.head import Head, after

UNIT = st.floats(0, 1, allow_nan=False)


def posed(head: Head, values: dict[str, float]) -> np.ndarray:
    return Evaluator(head.character, head.store).points(rest_values(head.character) | values)


def strength(head: Head, values: dict[str, float], name: str) -> float:
    evaluator = Evaluator(head.character, head.store)
    return float(evaluator.rig.strengths(rest_values(head.character) | values)[evaluator.rig.shapes.names.index(name)])


@pytest.fixture(scope="module")
def corrected(clean) -> Head:
    """A clean head with a corrective of a few vertices for a smile with an open jaw."""
    made = after(clean, AddCorrective(values={"smile": 1.0, "jaw_open": 0.5}, name="fix"))
    cheek = np.flatnonzero(np.linalg.norm(clean.rest("skin") - clean.rest("skin")[900], axis=1) < 1.0)
    return after(made, OffsetVertices(name="fix", part="skin", vertices=cheek.tolist(), left=2.0, up=1.0))


@settings(max_examples=60, deadline=None)
@given(UNIT, st.floats(0, 1), st.floats(-2, 2))
def test_it_comes_in_by_the_product_of_its_ramps_and_not_at_all_where_one_driver_rests(corrected, smile, jaw, gain):
    shape = find_shape(corrected.character, "fix")
    assert {(d.channel, d.comes_in, d.full) for d in shape.activation.drivers} == {("smile", 0.0, 1.0), ("jaw_open", 0.0, 0.5)}
    head = after(corrected, SetActivation(name="fix", activation=replace(shape.activation, gain=gain)))
    wanted = gain * smile * min(2 * jaw, 1.0)
    assert strength(head, {"smile": smile, "jaw_open": jaw}, "fix") == pytest.approx(wanted, abs=1e-12)


def test_single_expressions_stay_to_the_bit_and_their_mix_moves_as_far_as_it_says(clean, corrected):
    for alone in ({}, {"smile": 1.0}, {"jaw_open": 1.0}, {"pucker": 1.0, "smile": 0.5}):
        assert np.array_equal(posed(corrected, alone), posed(clean, alone))
    evaluator = Evaluator(corrected.character, corrected.store)
    both = rest_values(corrected.character) | {"smile": 1.0, "jaw_open": 0.5}
    moved = evaluator.shaped(both) - Evaluator(clean.character, clean.store).shaped(both)
    wanted = offsets_of(corrected.character, corrected.store, find_shape(corrected.character, "fix"))["skin"]
    assert np.abs(moved[evaluator.meshes.rows("skin")] - wanted).max() < 1e-6


@settings(max_examples=30, deadline=None)
@given(st.lists(UNIT, min_size=3, max_size=3))
def test_a_radial_basis_is_what_another_library_makes_of_it(ramps):
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], float)
    interpolated = RBFInterpolator(corners, corners.prod(axis=1), kernel="gaussian", epsilon=1 / SPREAD, degree=-1)
    wanted = np.clip(interpolated(np.array([ramps]))[0], 0, 1) * np.prod(np.minimum(np.array(ramps) / AT_ONCE, 1))
    drivers = tuple(Driver(name, 0.0, 1.0) for name in "abc")

    class Skeleton:
        def channel_values(self, names, values, strengths):
            return np.array([values[n] for n in names])

    found = np.zeros(1)
    compile_activations([Activation(drivers, "radial")]).add(found, Skeleton(), dict(zip("abc", ramps, strict=True)))
    assert found[0] == pytest.approx(wanted, abs=1e-9)


def test_it_hears_what_drives_it_whichever_way_that_comes(corrected):
    """Bones are heard in degrees, whichever control turns them; shapes by their strength; a control by what others add to it."""
    jaw = next(n for c in corrected.character.controls if c.name == "jaw_open" for n in c.links if n.kind == "bone" and n.by == "turn")
    channel, at = f"jaw.turn_{jaw.axis}", Evaluator(corrected.character, corrected.store).skeleton
    wide = at.channel_values([channel], rest_values(corrected.character) | {"jaw_open": 1.0}, np.zeros(0))[0]
    assert abs(wide) > 10
    by_bone = after(corrected, SetActivation(name="fix", activation=Activation((Driver(channel, 0.0, float(wide)),))))
    assert strength(by_bone, {"jaw_open": 1.0}, "fix") == pytest.approx(1.0)
    assert strength(by_bone, {channel: float(wide) / 2}, "fix") == pytest.approx(0.5)
    by_shape = after(corrected, SetActivation(name="fix", activation=Activation((Driver("smile.strength", 0.2, 0.7),))))
    assert strength(by_shape, {"smile": 0.45}, "fix") == pytest.approx(0.5)
    assert strength(by_shape, {"smile.strength": 0.7}, "fix") == pytest.approx(1.0)


def test_muted_it_does_nothing_and_renamed_and_removed_drivers_are_followed(corrected):
    both = {"smile": 1.0, "jaw_open": 0.5}
    muted = after(corrected, MuteShapes(names=["fix"]))
    assert strength(muted, both, "fix") == 0
    renamed = after(corrected, RenameShapes(names={"fix": "mended"}))
    assert strength(renamed, both, "mended") == pytest.approx(1.0)
    assert "fix" not in {s.name for s in without(corrected.character, "control", {"jaw_open"}).shapes}
    assert "fix" in {s.name for s in without(corrected.character, "control", {"pucker"}).shapes}


def test_the_pull_list_names_it_and_no_control_is_made_for_it(corrected):
    evaluator = Evaluator(corrected.character, corrected.store)
    both = rest_values(corrected.character) | {"smile": 1.0, "jaw_open": 0.5}
    fix = next(c for c in pull_list(evaluator, "skin", 900, both) if c.name == "fix")
    assert fix.millimetres == pytest.approx(np.hypot(2.0, 1.0), abs=1e-4)
    with pytest.raises(BadRequest, match="driven already"):
        after(corrected, ControlShapes(shapes=["fix"]))


@pytest.mark.parametrize(
    ("drivers", "why"),
    [
        ((Driver("nothing", 0, 1),), "not there"),
        ((Driver("smile", 0.5, 0.5),), "no way to go"),
        ((Driver("smile", 0, 1), Driver("smile", 0, 0.5)), "same driver twice"),
        ((Driver("fix.strength", 0, 1),), "driven by a corrective"),
        ((Driver("smile", 0, 1e9),), "no way to go"),
    ],
)
def test_what_cannot_drive_is_refused_in_words(corrected, drivers, why):
    with pytest.raises(BadRequest, match=why):
        after(corrected, SetActivation(name="fix", activation=Activation(drivers)))
    bad = tuple(replace(s, activation=Activation(drivers)) if s.name == "fix" else s for s in corrected.character.shapes)
    with pytest.raises(BadDocument, match=why):
        check_names(replace(corrected.character, shapes=bad))


def test_nothing_at_rest_makes_none(clean):
    with pytest.raises(BadRequest, match="at rest"):
        after(clean, AddCorrective(values={}))


def test_of_a_frame_in_which_everything_moves_those_that_go_farthest_drive(clean):
    faint = {c.name: c.rest + 0.1 * (c.high - c.rest) for c in clean.character.controls if c.high > c.rest}
    far = {"smile": 1.0, "jaw_open": 0.8, "blink_L": 0.9, "pucker": 0.7, "head_turn": 50.0, "brows_up": 1.0}
    made = after(clean, AddCorrective(values=faint | far, name="frame"))
    drivers = find_shape(made.character, "frame").activation.drivers
    assert {d.channel for d in drivers} == far.keys()
    assert {d.channel: d.full for d in drivers}["smile"] == 1.0


def test_what_else_brings_it_in_is_told(corrected):
    """What drives the jaw along brings in what the jaw drives; its own mix is not told of, nor what does not bring it in."""
    found = woken(corrected.character, corrected.store, "fix")
    assert found
    for w in found:
        assert "Smile" in w.moment or w.moment in {p.label for p in corrected.character.poses}
        assert 0.02 < w.amount <= 1
    assert {w.moment for w in found} & {"Smile × Tongue reach", "Tongue reach × Smile"}
    assert not {w.moment for w in found} & {"Smile × Jaw open", "Jaw open × Smile"}
    assert woken(corrected.character, corrected.store, "smile") == []
    kept = after(corrected, KeepPose(label="Its own", values={"smile": 1.0, "jaw_open": 0.5}))
    assert "Its own" not in {w.moment for w in woken(kept.character, kept.store, "fix")}


@pytest.mark.parametrize(
    ("values", "wanted"),
    [
        ({"lip_seal_L": 1.0, "jaw_open": 1.0}, {"lip_seal_R": 1.0, "jaw_open": 1.0}),
        ({"jaw_side": 1.0, "smile": 1.0}, {"jaw_side": -1.0, "smile": 1.0}),
    ],
)
def test_its_mirror_image_does_the_mirror_image_in_the_mirrored_pose(clean, values, wanted):
    cheek = np.flatnonzero(np.linalg.norm(clean.rest("skin") - clean.rest("skin")[900], axis=1) < 1.0)
    one = after(
        clean, AddCorrective(values=values, name="fix_L"), OffsetVertices(name="fix_L", part="skin", vertices=cheek.tolist(), left=2.0)
    )
    both = after(one, MirrorCorrective(name="fix_L"))
    image = find_shape(both.character, "fix_R")
    assert {d.channel: d.full for d in image.activation.drivers} == pytest.approx(wanted)
    twice = after(both, MirrorCorrective(name="fix_R"))
    offsets = [offsets_of(h.character, h.store, find_shape(h.character, "fix_L"))["skin"] for h in (both, twice)]
    assert np.abs(offsets[0] - offsets[1]).max() < 1e-6
    assert len(twice.character.shapes) == len(both.character.shapes)
    centre = after(clean, AddCorrective(values={"jaw_open": 1.0, "smile": 1.0}, name="fix"))
    with pytest.raises(BadRequest, match="its own mirror image"):
        after(centre, MirrorCorrective(name="fix"))


def test_what_is_sculpted_on_its_pose_is_there_again(clean):
    """Within 0.01 mm where it was sculpted, and only in that pose."""
    values = {"smile": 1.0, "jaw_open": 1.0, "head_turn": 30.0}
    made = after(clean, AddCorrective(values=values, name="fix"))
    stroke = SculptStroke(made.character, made.store, Sculpting("fix", "skin", Brush(radius=1.5, strength=0.8), values))
    place = stroke.posed[900]
    stroke.dab(SculptDab(900, tuple(place.tolist()), "swell"))
    seen = stroke.posed.copy()
    store = MemoryStore(made.store)
    sculpted = Head(stroke.painted(made.character, store), store)
    rows = Evaluator(made.character, made.store).meshes.rows("skin")
    assert np.abs(seen - posed(made, values)[rows]).max() > 0.02
    assert np.abs(posed(sculpted, values)[rows] - seen).max() < 0.001
    for alone in ({"smile": 1.0}, {"jaw_open": 1.0, "head_turn": 30.0}):
        assert np.array_equal(posed(sculpted, alone), posed(clean, alone))


def test_a_glb_plays_it_in_its_poses_and_brings_it_back(corrected):
    store = MemoryStore(corrected.store)
    back = read_glb(write_glb(corrected.character, store), store)
    assert find_shape(back, "fix").activation == find_shape(corrected.character, "fix").activation
    both = {"smile": 1.0, "jaw_open": 0.5}
    assert np.abs(posed(Head(back, store), both) - posed(corrected, both)).max() < 1e-4


def test_usd_and_glb_agree_in_all_poses_of_the_strip_and_usd_says_what_brings_it_in(corrected):
    """Each as its own format says, by readers of the tests: morphed, then skinned."""
    poses = tuple(replace(p, values={**p.values, "smile": 1.0}) for p in corrected.character.poses)
    head = Head(replace(corrected.character, poses=poses), corrected.store)
    glb = PosedGlb(write_glb(head.character, MemoryStore(head.store)))
    usd = PosedUsd(write_usd(head.character, MemoryStore(head.store)))
    activation, table = find_shape(head.character, "fix").activation, usd.correctives["fix"]
    assert list(table["drivers"]) == [d.channel for d in activation.drivers]
    assert list(table["comesIn"]) == [d.comes_in for d in activation.drivers]
    assert list(table["full"]) == [d.full for d in activation.drivers]
    assert (table["mixed"], table["gain"]) == (activation.mixed, activation.gain)
    acted = 0
    for second, pose in enumerate(poses):
        joints, seen = head.evaluator.matrices(pose_values(head.character, pose)), glb.at(second)
        for part in ("skin", "tongue", "teeth_lower"):
            targets = glb.targets(part, second)
            acted += targets.get("fix", (0.0,))[0] > 0
            other = usd.posed(part, {name: weight for name, (weight, _) in targets.items()}, joints)
            assert np.abs(100 * seen[part] - other).max() < 0.002, (pose.name, part)
    assert acted >= 2


def test_what_is_baked_counts_no_corrective_twice(corrected):
    """A seal baked to a shape is what it is without correctives: these go on coming in by themselves."""
    jaw = after(corrected, SetActivation(name="fix", activation=Activation((Driver("jaw_open", 0.0, 1.0), Driver("lip_seal_L", 0.0, 1.0)))))
    store = MemoryStore(jaw.store)
    plain = with_mouth_baked(replace(jaw.character, shapes=tuple(s for s in jaw.character.shapes if s.name != "fix")), store)
    baked = with_mouth_baked(jaw.character, store)
    seal = [offsets_of(c, store, find_shape(c, "lip_seal_L"))["skin"] for c in (plain, baked)]
    assert np.abs(seal[0] - seal[1]).max() < 1e-6
