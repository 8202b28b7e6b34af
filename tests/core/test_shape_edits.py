"""What edits make of shapes: properties that must hold, whatever the shape."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.edits.pose_edits import KeepPose
from tightseam.edits.ride_edits import SetRide
from tightseam.edits.set_order import SetOrder
from tightseam.edits.shape_edits import CleanShape, FlipShape, MirrorShape, OffsetVertices, ScaleShape, TakeAlong, TakeOutPose
from tightseam.edits.shape_list_edits import MoveShapes, MuteShapes, RemoveShapes, RenameShapes
from tightseam.edits.shape_making_edits import (
    AddBetween,
    AddUpShapes,
    BakePose,
    DuplicateShapes,
    MergePose,
    NewShape,
    ShapeFromPose,
    SplitShape,
    Term,
)
from tightseam.shapes.offsets import offsets_of
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sides import ROUGH, Sides, flipped, mirrored, sides_of
from tightseam.shapes.taken_along import LIES_ON_SKIN, changed_with_riders

from tests import cast
from tests.head import Head, after

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
    assert apart(flipped(sides, flipped(sides, offsets)), offsets) < 1e-12
    once = mirrored(sides, offsets, "L")
    assert apart(mirrored(sides, once, "L"), once) < 1e-12
    for n in offsets:  # vertices that nothing stands for keep what they do
        once[n][sides.of(n).alone] = 0
    assert apart(flipped(sides, once), once) < 1e-12


@pytest.mark.parametrize("head", ["clean maren", "clean hob", "faulty maren", "faulty hob", "pim as delivered"])
@pytest.mark.parametrize("seed", range(2))
def test_on_every_part_of_every_head_flipped_twice_is_nothing_done_and_mirrored_twice_once(head, seed):
    """Hair, whiskers and skins with faults have no mirror image of every vertex; each is made what stands for another, or keeps its own."""
    state, _, name = head.partition(" ")
    found = cast.pim_as_delivered() if state == "pim" else {"clean": cast.clean, "faulty": cast.faulty}[state](name)
    character, store = found.character, found.store
    rng = np.random.default_rng(seed)
    offsets = {p.name: rng.normal(0, 1, (p.vertex_count, 3)) for p in character.parts}
    twice = offsets
    for _ in range(2):
        twice = changed_with_riders(character, store, twice, flipped)
    assert apart(twice, offsets) < 1e-9
    once = changed_with_riders(character, store, offsets, lambda sides, x: mirrored(sides, x, "L"))
    again = changed_with_riders(character, store, once, lambda sides, x: mirrored(sides, x, "L"))
    assert apart(again, once) < 1e-9
    sides = sides_of(character, store)
    for part in character.parts:
        mirror = sides.of(part.name)
        there = mirror.partner >= 0
        assert (sides.of(mirror.part).partner[mirror.partner[there]] == np.flatnonzero(there)).all()
        assert len(mirror.alone) < 0.01 * part.vertex_count or part.kind in LIES_ON_SKIN
        assert not (mirror.exact & ~there).any()


def test_what_stands_for_a_vertex_is_near_its_mirror_image(sides, clean):
    mirror, own = sides.of("hair"), clean.rest("hair")
    there = mirror.partner >= 0
    off = np.linalg.norm(sides.plane.mirrored(own[there]) - own[mirror.partner[there]], axis=1)
    assert off.max() <= ROUGH + 1e-9
    assert np.median(off) < 0.2


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
    mix = after(clean, AddUpShapes(name="both", terms=terms))
    expected = sum(t.strength * of(clean, t.shape)["skin"] for t in terms)
    assert np.abs(of(mix, "both")["skin"] - expected).max() < 1e-6
    assert "brow_L" in of(mix, "both")
    nothing = after(mix, AddUpShapes(name="none", terms=[Term(shape="both"), Term(shape="both", strength=-1)]))
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


def test_taken_out_a_part_that_rides_keeps_its_own_and_one_that_bones_pose_first_is_where_it_was(clean):
    values = {"head_turn": 30.0, "jaw_open": 0.5}
    riding = after(clean, SetRide(part="brow_L", on="skin", tolerance=0))
    own = of(riding, "brows_up")["brow_L"]
    assert np.abs(own).max() > 1e-4
    assert np.array_equal(of(after(riding, TakeOutPose(name="brows_up", values=values)), "brows_up")["brow_L"], own)

    late = after(clean, BakePose(name="jaw", values={"jaw.turn_x": 26.0}), SetOrder(part="teeth_lower", first="bones"))
    wanted = clean.rest("teeth_lower") + of(late, "jaw")["teeth_lower"]
    once = after(late, TakeOutPose(name="jaw", values={"jaw.turn_x": 20.0}))
    posed = once.posed("teeth_lower", {"jaw.turn_x": 20.0, "jaw.strength": 1.0})
    assert np.abs(posed - wanted).max() < 1e-2 * MM


def test_names_and_order(clean):
    head = after(clean, RenameShapes(names={"smile": "wide smile"}), MoveShapes(names=["wide smile"]))
    assert head.character.shapes[-1].name == "wide smile"
    assert np.abs(head.posed("skin", {"smile": 1.0}) - clean.posed("skin", {"smile": 1.0})).max() < 1e-6
    again = after(head, AddUpShapes(name="wide smile", terms=[Term(shape="pucker")]))
    assert again.character.shapes[-1].name == "wide smile_2"
    bare = after(head, RemoveShapes(names=["wide smile"]))
    assert all(n.target != "wide smile" for c in bare.character.controls for n in c.links)


def test_names_are_exchanged_all_at_once_and_poses_follow(clean):
    posed = after(clean, KeepPose(label="Kept", values={"smile.strength": 0.5}))
    head = after(posed, RenameShapes(names={"smile": "pucker", "pucker": "smile"}))
    assert [s.name for s in head.character.shapes[:2]] == ["pucker", "smile"]
    assert head.character.poses[-1].values == {"pucker.strength": 0.5}
    assert np.abs(head.posed("skin", {"smile": 1.0}) - clean.posed("skin", {"smile": 1.0})).max() < 1e-6
    gone = after(head, RemoveShapes(names=["pucker"]))
    assert gone.character.poses[-1].values == {}


def test_a_shape_has_a_strength_of_its_own_and_none_while_it_is_muted(clean):
    by_control, by_itself = clean.posed("skin", {"smile": 0.6}), clean.posed("skin", {"smile.strength": 0.6})
    assert np.abs(by_control - by_itself).max() < 1e-5
    muted = after(clean, MuteShapes(names=["smile"]))
    assert np.abs(muted.posed("skin", {"smile": 1, "smile.strength": 1}) - clean.rest("skin")).max() < 1e-5
    again = after(muted, MuteShapes(names=["smile"], muted=False))
    assert np.abs(again.posed("skin", {"smile": 1}) - clean.posed("skin", {"smile": 1})).max() == 0


def test_a_shape_from_a_pose_gives_the_pose_with_the_bones_alone(clean):
    values = {"smile": 0.7, "blink_L": 1.0, "brows_up": 0.4, "head_turn": 30.0}
    head = after(clean, ShapeFromPose(name="all", values=values))
    alone = head.evaluator.points(head.values({"all.strength": 1.0, "head_turn": 30.0}))
    skin = head.evaluator.meshes.rows("skin")
    apart = np.abs(alone[skin] - clean.evaluator.points(clean.values(values))[skin]).max(axis=1)
    lids = np.unique(np.concatenate([r.vertices for r in clean.evaluator.rig.eye_reliefs]))
    assert np.delete(apart, lids).max() < 1e-4
    assert apart.max() < 0.05  # eye relief looks again at lids that it has lifted already


def test_a_pose_and_a_shape_are_merged_and_the_old_one_kept_aside(clean):
    head = after(clean, MergePose(name="wide", shape="smile", values={"jaw_open": 0.5}))
    jaw, smile, wide = of(after(clean, BakePose(name="jaw", values={"jaw_open": 0.5})), "jaw"), of(clean, "smile"), of(head, "wide")
    assert np.abs(wide["skin"] - jaw["skin"] - smile["skin"]).max() < 1e-5
    assert {"teeth_lower", "tongue"} <= wide.keys()
    assert find_shape(head.character, "smile").muted


@pytest.mark.parametrize("at", [0.25, 0.5, 0.8])
def test_an_in_between_comes_in_at_its_strength_and_is_gone_at_both_ends(clean, at):
    head = after(clean, AddBetween(name="smile", at=at))
    name = f"smile_{round(100 * at)}"
    row = [s.name for s in head.character.shapes].index(name)
    strengths = [head.evaluator.skeleton.strengths(head.values({"smile": v}))[row] for v in (0, at, 1)]
    assert strengths == pytest.approx([0, 1, 0], abs=1e-3)
    assert head.character.shapes[row - 1].name == "smile"


def test_copies_moved_vertices_and_what_may_not_move(clean):
    head = after(
        clean, DuplicateShapes(names=["smile", "pucker"]), OffsetVertices(name="smile_copy", part="tongue", vertices=[3, 4], up=2.5)
    )
    assert [s.name for s in head.character.shapes[-2:]] == ["smile_copy", "pucker_copy"]
    tongue = of(head, "smile_copy")["tongue"]
    assert np.abs(tongue[[3, 4]] - [0, 0.25, 0]).max() < 1e-7
    assert np.abs(np.delete(tongue, [3, 4], axis=0)).max() == 0
    clean_again = after(head, CleanShape(name="smile_copy", part="tongue", vertices=[3, 4]))
    assert "tongue" not in of(clean_again, "smile_copy")
    far = np.linalg.norm(of(clean, "smile")["skin"], axis=1)
    cleaned = np.linalg.norm(of(after(head, CleanShape(name="smile_copy", below=1.0)), "smile_copy")["skin"], axis=1)
    assert ((cleaned > 0) == (far >= 0.1)).all()


def test_brows_that_ride_or_go_along_by_themselves_look_the_same(rigged):
    """What the skin does at the closest point is what riding does to first order, where nothing turns much."""
    hob = rigged["hob"]
    head = after(hob, DuplicateShapes(names=["brows_up"]), TakeAlong(name="brows_up_copy", part="brow_L", on="skin"))
    along, skin = of(head, "brows_up_copy")["brow_L"], of(head, "brows_up_copy")["skin"]
    assert np.linalg.norm(along, axis=1).max() <= np.linalg.norm(skin, axis=1).max() + 1e-6
    assert np.linalg.norm(along - of(hob, "brows_up")["brow_L"], axis=1).max() < 0.1


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (FlipShape(name="grin"), "no shape called"),
        (MirrorShape(name="smile", of="C"), "left or its right"),
        (RenameShapes(names={"smile": "pucker"}), "Two shapes would be called “pucker”"),
        (NewShape(name="x", values={"jaw_open": 0.5}), "Jaw open is at 0.5, so what is seen is not the neutral"),
        (AddBetween(name="smile_copy"), "no shape called"),
        (TakeAlong(name="smile", part="skin", on="skin"), "nothing to go along"),
        (OffsetVertices(name="smile", part="skin", vertices=[99999], up=1), "out of range"),
        (MoveShapes(names=["smile"], before="smile"), "before themselves"),
        (AddUpShapes(name="x", terms=[Term(shape="grin")]), "no shape called"),
        (BakePose(name="x", values={"jaw_open": 7}), "out of range"),
        (RemoveShapes(names=["grin"]), "no shape called"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, says):
    with pytest.raises(BadRequest, match=says):
        after(clean, edit)


def test_a_second_shape_of_a_name_has_one_of_its_own_which_it_is_told_by(clean):
    first = after(clean, NewShape(name="Puff"))
    edit = NewShape(name="Puff")
    second = edit.apply(first.character, first.store)
    assert [(s.name, s.label) for s in second.shapes[-2:]] == [("Puff", "Puff"), ("Puff_2", "Puff_2")]
    assert edit.describe(second) == "Made the shape Puff_2"
