"""What edits make of shapes: properties that must hold, whatever the shape."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.edits.shape_edits import (
    BakePose,
    FlipShape,
    MirrorShape,
    MixShapes,
    MoveShape,
    RemoveShapes,
    RenameShape,
    ScaleShape,
    SplitShape,
    TakeOutPose,
    Term,
)
from tightseam.shapes.offsets import offsets_of
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sides import Sides, flipped, mirrored

from tests.core.test_lid_board import after
from tests.head import Head

MM = 0.1


def of(head: Head, name: str) -> dict[str, np.ndarray]:
    return offsets_of(head.character, head.store, find_shape(head.character, name))


def apart(one: dict[str, np.ndarray], other: dict[str, np.ndarray]) -> float:
    """The farthest any vertex is apart in two sets of offsets, cm."""
    zero = np.zeros((1, 3))
    return max(float(np.abs(one.get(n, zero) - other.get(n, zero)).max()) for n in {**one, **other})


@pytest.fixture(scope="module")
def sides(clean):
    return Sides(clean.character, clean.store)


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_flipped_twice_it_is_what_it_was_and_mirrored_twice_as_good_as_once(clean, sides, seed):
    rng = np.random.default_rng(seed)
    offsets = {n: rng.normal(0, 1, clean.rest(n).shape) for n in ("skin", "brow_L", "tongue")}
    for n, x in offsets.items():
        x[sides.of(n).partner < 0] = 0
    assert apart(flipped(sides, flipped(sides, offsets)), offsets) < 1e-12
    once = mirrored(sides, offsets, "L")
    assert apart(mirrored(sides, once, "L"), once) < 1e-12
    assert apart(flipped(sides, once), once) < 1e-12


def test_a_symmetric_smile_is_its_own_mirror_image_and_a_half_goes_to_the_other_side(clean):
    flip = after(clean, FlipShape(name="smile"))
    assert apart(of(flip, "smile"), of(clean, "smile")) < 1e-3
    halves = after(clean, SplitShape(name="smile", soft=0.4))
    over = after(halves, FlipShape(name="smile_L"))
    assert apart(of(over, "smile_L"), of(halves, "smile_R")) < 1e-3
    whole = after(halves, MirrorShape(name="smile_L", of="L"), RemoveShapes(names=["smile_R"]))
    left = clean.rest("skin")[:, 0] > 0.5
    assert np.abs(of(whole, "smile_L")["skin"][left] - of(clean, "smile")["skin"][left]).max() < 1e-5


@pytest.mark.parametrize("soft", [0.0, 0.3, 2.0])
def test_halves_add_up_to_the_whole_and_hand_over_softly(clean, soft):
    halves = after(clean, SplitShape(name="smile", soft=soft))
    left, right = of(halves, "smile_L"), of(halves, "smile_R")
    assert apart({n: left[n] + right.get(n, 0) for n in left}, of(clean, "smile")) < 1e-6
    x = clean.rest("skin")[:, 0]
    assert np.abs(left["skin"][x < -soft - 0.01]).max() == 0
    assert np.abs(right["skin"][x > soft + 0.01]).max() == 0
    assert [s.name for s in halves.character.shapes[-2:]] == ["smile_L", "smile_R"]
    assert [s.label for s in halves.character.shapes[-2:]] == ["Smile L", "Smile R"]


def test_a_mix_is_the_points_it_was_mixed_from(clean):
    terms = [Term(shape="smile", strength=0.7), Term(shape="pucker", strength=-0.25), Term(shape="brows_up", strength=1.2)]
    mix = after(clean, MixShapes(name="both", terms=terms))
    expected = sum(t.strength * of(clean, t.shape)["skin"] for t in terms)
    assert np.abs(of(mix, "both")["skin"] - expected).max() < 1e-6
    assert "brow_L" in of(mix, "both")
    nothing = after(mix, MixShapes(name="none", terms=[Term(shape="both"), Term(shape="both", strength=-1)]))
    assert of(nothing, "none") == {}
    assert apart(of(after(mix, ScaleShape(name="both", by=2)), "both"), {n: 2 * x for n, x in of(mix, "both").items()}) < 1e-6


@pytest.mark.parametrize("values", [{"jaw_open": 1.0}, {"jaw_open": 0.4, "jaw_side": 1.0}, {"head_turn": 40.0, "tongue_curl": 1.0}])
def test_baked_and_then_taken_out_is_nothing(clean, values):
    evaluator = Evaluator(clean.character, clean.store)
    pose = BonePose(evaluator, clean.store, clean.values(values))
    out, left = pose.taken_out(pose.baked())
    assert max((np.abs(x).max() for x in out.values()), default=0) < 1e-4 * MM  # in float64
    assert max(x.max() for x in left.values()) < 1e-4 * MM
    stored = after(clean, BakePose(name="pose", values=values), TakeOutPose(name="pose", values=values))
    assert max((np.abs(x).max() for x in of(stored, "pose").values()), default=0) < 1e-3 * MM  # what a shape is stored in


def test_a_baked_jaw_moves_teeth_tongue_and_skin_as_the_bone_does(clean):
    head = after(clean, BakePose(name="jaw", values={"jaw.turn_x": 18.0}))
    baked, posed = of(head, "jaw"), clean.evaluator.stages(clean.values({"jaw.turn_x": 18.0}))
    assert {"skin", "teeth_lower", "tongue"} <= baked.keys()
    assert "teeth_upper" not in baked
    for part in ("teeth_lower", "tongue"):
        rows = clean.evaluator.meshes.rows(part)
        assert np.abs(clean.rest(part) + baked[part] - posed.skinned[rows]).max() < 1e-4


def test_bone_and_shape_give_the_pose_once(clean):
    """A jaw-open shape on top of the jaw bone counts twice; the bone's share taken out, both together give what the shape alone gave."""
    values = {"jaw.turn_x": 20.0}
    head = after(clean, BakePose(name="sculpted", values={"jaw.turn_x": 26.0}))
    wanted = {n: clean.rest(n) + x for n, x in of(head, "sculpted").items()}
    once = after(head, TakeOutPose(name="sculpted", values=values))
    carried = BonePose(Evaluator(once.character, once.store), once.store, once.values(values))
    for part, x in of(once, "sculpted").items():
        rows = once.evaluator.meshes.rows(part)
        matrices = carried._matrices[rows]
        posed = np.einsum("nij,nj->ni", matrices[:, :3, :3], once.rest(part) + x) + matrices[:, :3, 3]
        assert np.abs(posed - wanted.get(part, once.rest(part))).max() < 1e-2 * MM


def test_names_and_order(clean):
    head = after(clean, RenameShape(name="smile", to="wide smile"), MoveShape(name="wide smile"))
    assert head.character.shapes[-1].name == "wide smile"
    assert np.abs(head.posed("skin", {"smile": 1.0}) - clean.posed("skin", {"smile": 1.0})).max() < 1e-6
    again = after(head, MixShapes(name="wide smile", terms=[Term(shape="pucker")]))
    assert again.character.shapes[-1].name == "wide smile_2"
    bare = after(head, RemoveShapes(names=["wide smile"]))
    assert all(n.target != "wide smile" for c in bare.character.controls for n in c.links)


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (FlipShape(name="grin"), "no shape called"),
        (MirrorShape(name="smile", of="C"), "left or its right"),
        (RenameShape(name="smile", to="pucker"), "already"),
        (MixShapes(name="x", terms=[Term(shape="grin")]), "no shape called"),
        (BakePose(name="x", values={"jaw_open": 7}), "out of range"),
        (RemoveShapes(names=["grin"]), "no shape called"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, says):
    with pytest.raises(BadRequest, match=says):
        after(clean, edit)
