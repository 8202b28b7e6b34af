"""Bones built from landmarks, posed of their own, changed and built anew."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.change_bones import hanging_on
from tightseam.document.channels import channels
from tightseam.document.check import check_names
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.frames import local_frames, parent_numbers, rest_frames
from tightseam.document.model import WORLD, Bone, Pose, Skeleton
from tightseam.document.removal import without
from tightseam.document.sections import dump_section
from tightseam.document.twins import other_side, side_of, with_twins
from tightseam.edits.registry import EDITS, parse_recipe
from tightseam.geometry.symmetry import MIDDLE
from tightseam.landmarks.bones.build import build_bones
from tightseam.landmarks.bones.maker import turn_of
from tightseam.landmarks.bones.mirror import mirrored_place
from tightseam.seams.meter import SeamMeter

from tests.core.heads import character_of, without_hair
from tests.core.recipes import edited

FULL = Skeleton(face="both", neck=3, tongue=4, brows=4, lids=5, lips=7, ears=True)


@pytest.fixture(scope="module")
def bare(raw_maren):
    """Maren as an import gives her, without hair, with her landmarks suggested."""
    character, store = character_of(without_hair(raw_maren))
    return edited(character, store, ("landmark.suggest", {})), store


@pytest.fixture(scope="module")
def built(bare):
    character, store = bare
    own = MemoryStore(store)
    return edited(character, own, ("bones.build", {"choices": {"face": "both"}})), own


# --- building


@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_a_bare_head_becomes_a_rig_that_holds_every_limit(raw_heads, name):
    """From nothing but meshes: landmarks suggested, bones, weights, lids, shapes, controls. Every seam in every pose of the strip."""
    character, store = character_of(raw_heads[name])
    rigged = edited(character, store, ("landmark.suggest", {}), ("rig.start", {}))
    meter = SeamMeter(rigged, store, Evaluator(rigged, store))
    assert len(rigged.seams) == 28 + (name == "hob")  # his whiskers
    over = [(p.name, r.seam, r.excess) for p in rigged.poses for r in meter.measure_pose(p) if not r.within]
    assert over == []


def test_choices_say_which_bones_there_are(raw_maren):
    bones = build_bones(FULL, raw_maren.landmarks, {"upper": np.zeros(3), "lower": np.zeros(3)})
    count = {region: sum(b.region == region and b.role == "deform" for b in bones) for region in {b.region for b in bones}}
    assert count == {
        "neck": 3, "head": 1, "jaw": 1, "eyes": 2, "teeth": 2, "tongue": 4, "brows": 8, "lids": 20, "mouth": 16, "cheeks": 2,
        "nose": 3, "ears": 2,
    }  # fmt: skip
    plain = build_bones(Skeleton(tongue=0), raw_maren.landmarks)
    assert [b.name for b in plain] == ["neck_1", "neck_2", "head", "jaw", "eye_L", "eye_R"]


def test_parents_stand_before_children_and_twins_mirror(raw_maren):
    bones = build_bones(FULL, raw_maren.landmarks)
    by_name = {b.name: b for b in bones}
    seen: set[str | None] = {None}
    for bone in bones:
        assert bone.parent in seen
        seen.add(bone.name)
        if bone.twin is not None:
            twin = by_name[bone.twin]
            assert twin.twin == bone.name
            assert np.allclose(np.array(bone.base) * [-1, 1, 1], twin.base, atol=1e-9)
            assert np.allclose(mirrored_place(bone, twin, MIDDLE).axes, twin.axes, atol=1e-9)
    assert sum(b.twin is not None for b in bones) > 40


def test_the_jaw_turns_about_the_line_through_both_hinges(raw_maren):
    turn = Rotation.from_euler("xyz", (9, -20, 7), degrees=True).as_matrix()
    marks = {name: turn @ p for name, p in raw_maren.landmarks.items()}
    jaw = next(b for b in build_bones(Skeleton(), marks, axes=turn.T) if b.name == "jaw")
    axis = np.array(jaw.axes).reshape(3, 3)[0]
    for side in "LR":
        assert np.linalg.norm(np.cross(marks[f"jaw_hinge_{side}"] - jaw.base, axis)) < 1e-9


def test_what_is_missing_is_named(raw_maren):
    marks = {n: p for n, p in raw_maren.landmarks.items() if n != "jaw_hinge_R"}
    with pytest.raises(BadRequest, match="The jaw cannot be built: the landmark “Jaw hinge R” is not placed yet"):
        build_bones(Skeleton(), marks)


# --- posing of their own


def test_every_bone_has_a_control_of_its_own(built):
    character, store = built
    head = Evaluator(character, store)
    skin = head.meshes.rows("skin")
    rest = head.points(checked_values(character, {}))[skin]
    opened = head.points(checked_values(character, {"jaw.turn_x": 20.0}))[skin]
    chin = int(np.linalg.norm(rest - next(m.point for m in character.landmarks if m.name == "chin_front"), axis=1).argmin())
    assert (opened - rest)[chin, 1] < -2.0
    assert {c.bone for c in channels(character.bones).values()} == {b.name for b in character.bones}


def test_turns_and_moves_are_those_of_the_bones_axes():
    turn = Rotation.from_euler("yx", (40, -15), degrees=True).as_matrix()
    bone = Bone("b", "B", None, (1.0, 2.0, 3.0), (1.0, 2.0, 4.0), axes=turn_of(turn.T), move=((-5, 5),) * 3)
    character = replace(character_of_bones([bone]))
    matrices = Evaluator(character, character_store()).matrices({"b.turn_y": 30.0, "b.move_z": 2.0})
    expected = np.eye(4)
    expected[:3, :3] = Rotation.from_rotvec(np.radians(30) * turn[:, 1]).as_matrix()
    expected[:3, 3] = np.array(bone.base) - expected[:3, :3] @ bone.base + 2.0 * turn[:, 2]
    assert np.allclose(matrices[0], expected, atol=1e-12)


def test_own_controls_add_to_what_controls_do(clean):
    both = clean.posed("skin", {"jaw_open": 0.5, "jaw.turn_x": 11.0})
    relief = clean.posed("skin", {"jaw_open": 0.5}) - clean.posed("skin", {"jaw.turn_x": 11.0})
    assert np.abs(both - clean.rest("skin")).max() > 3.0
    assert (
        np.abs(clean.posed("teeth_lower", {"jaw_open": 1.0}) - clean.posed("teeth_lower", {"jaw.turn_x": 22.0, "jaw.move_z": 0.12})).max()
        < 1e-4
    )
    assert np.abs(relief).max() > 0.01  # the control has a shape as well


@pytest.mark.parametrize(("kind", "k"), [(k, a) for k in ("turn", "move") for a in range(3)])
def test_handles_point_where_a_little_more_goes(built, kind, k):
    """The direction of a handle against the difference quotient, in a pose where parents and the bone itself are turned."""
    character, store = built
    head = Evaluator(character, store)
    pose = {"head.turn_y": 25.0, "head.turn_x": -10.0, "jaw.turn_x": 20.0, "jaw.turn_y": 8.0, "jaw.turn_z": -5.0, "jaw.move_z": 0.4}
    row = [b.name for b in character.bones].index("jaw")
    name, step = f"jaw.{kind}_{'xyz'[k]}", 1e-4
    before, after = head.matrices(pose)[row], head.matrices(pose | {name: pose.get(name, 0.0) + step})[row]
    direction = head.skeleton.handles(pose)[row, 0 if kind == "turn" else 1, k]
    if kind == "move":
        assert np.allclose((after - before)[:3, 3] / step, direction, atol=1e-6)
    else:
        turned = Rotation.from_matrix(after[:3, :3] @ before[:3, :3].T).as_rotvec()
        assert np.allclose(turned / np.radians(step), direction, atol=1e-5)


def test_limits_of_a_bone_are_held_in_words(clean):
    with pytest.raises(BadRequest, match=r"Jaw, turned about its x, goes from -4 to 35°; 50 is out of range"):
        clean.values({"jaw.turn_x": 50.0})
    with pytest.raises(BadRequest, match=r"no control called “jaw\.turn_w”"):
        clean.values({"jaw.turn_w": 1.0})
    with pytest.raises(BadRequest, match="needs a number"):
        clean.values({"jaw.turn_x": float("nan")})


def test_a_pose_made_of_bones_is_kept_in_the_strip(built):
    character, store = built
    kept = edited(character, store, ("pose.keep", {"label": "Jaw to the left", "values": {"jaw.turn_y": 8.0, "eye_L.turn_y": 0.0}}))
    pose = kept.poses[-1]
    assert (pose.name, pose.label, pose.values) == ("jaw_to_the_left", "Jaw to the left", {"jaw.turn_y": 8.0})
    with pytest.raises(BadRequest, match="already a pose"):
        edited(kept, store, ("pose.keep", {"label": "Jaw to  the left", "values": {"jaw.turn_y": 2.0}}))
    with pytest.raises(BadRequest, match="at rest"):
        edited(character, store, ("pose.keep", {"label": "Nothing", "values": {}}))
    assert edited(kept, store, ("pose.remove", {"pose": pose.name})).poses == character.poses


# --- landmarks move, bones follow


def test_moving_a_landmark_rebuilds_the_bones_and_keeps_weights_to_the_bit(built):
    character, store = built
    eye = next(m for m in character.landmarks if m.name == "eye_centre_L").point
    moved = edited(character, store, ("landmark.place", {"name": "eye_centre_L", "point": [eye[0], eye[1], eye[2] + 0.3]}))
    bones = {b.name: b for b in moved.bones}
    assert bones["eye_L"].base[2] == pytest.approx(eye[2] + 0.3)
    assert bones["eye_R"].base == pytest.approx((-bones["eye_L"].base[0], *bones["eye_L"].base[1:]), abs=1e-6)
    assert dump_section(moved, "bindings") == dump_section(character, "bindings")
    assert dump_section(moved, "shapes") == dump_section(character, "shapes")
    assert {b.name for b in moved.bones} == {b.name for b in character.bones}


def test_ends_set_by_hand_stay_until_landmarks_may_place_them_again(built):
    character, store = built
    by_hand = edited(character, store, ("bone.place", {"bone": "cheek_L", "base": [6.0, 16.0, 6.0]}))
    moved = edited(by_hand, store, ("landmark.place", {"name": "cheek_L", "point": [5.0, 17.0, 7.0]}))
    assert next(b for b in moved.bones if b.name == "cheek_L").base == (6.0, 16.0, 6.0)
    freed = edited(moved, store, ("bones.follow_landmarks", {"bones": ["cheek_L", "cheek_R"]}))
    cheek = next(m for m in freed.landmarks if m.name == "cheek_L").point
    assert next(b for b in freed.bones if b.name == "cheek_L").base == pytest.approx(cheek)


def test_fewer_bones_hand_their_weights_to_the_bone_above(built):
    character, store = built
    fewer = edited(character, store, ("bones.build", {"choices": {"face": "shapes", "tongue": 2, "neck": 2}}))
    tongue = next(b for b in fewer.bindings if b.part == "tongue")
    assert [i.bone for i in tongue.influences] == ["tongue_1", "tongue_2"]
    total = np.zeros(next(p for p in fewer.parts if p.name == "tongue").vertex_count)
    for i in tongue.influences:
        total[store.get(i.vertices)] += store.get(i.weights)
    assert np.abs(total - 1).max() < 1e-6
    check_names(fewer)


def test_a_bone_of_ones_own_hangs_on_the_bone_above_when_its_parent_is_no_longer_built(built):
    character, store = built
    own = {"name": "dimple", "label": "Dimple", "parent": "lip_lower", "base": [0, 15, 7], "tip": [0, 15, 8]}
    added = edited(character, store, ("bone.add", own))
    fewer = edited(added, store, ("bones.build", {"choices": {"face": "shapes"}}))
    assert next(b for b in fewer.bones if b.name == "dimple").parent == "jaw"


@settings(max_examples=25, deadline=None)
@given(st.permutations(["jaw", "tongue_2", "eye_L", "head", "neck_2"]))
def test_taking_bones_away_keeps_every_total(built, order):
    character, store = built
    own = MemoryStore(store)
    left = edited(character, own, ("bones.remove", {"bones": order[:3]}))
    check_names(left)
    for binding in left.bindings:
        total = np.zeros(next(p for p in left.parts if p.name == binding.part).vertex_count)
        for i in binding.influences:
            total[own.get(i.vertices)] += own.get(i.weights)
        assert np.abs(total - 1).max() < 1e-5, binding.part


# --- edits


def test_renaming_reaches_everything_that_speaks_of_the_bone(clean):
    store = MemoryStore(clean.store)
    renamed = edited(clean.character, store, ("bone.rename", {"bone": "jaw", "name": "mandible", "label": "Mandible"}))
    check_names(renamed)
    text = b"".join(dump_section(renamed, s) for s in ("bones", "bindings", "controls", "seams", "poses"))
    assert b'"jaw"' not in text.replace(b'"region":"jaw"', b"").replace(b'"made_as":"jaw"', b"")
    rebuilt = edited(renamed, store, ("bones.build", {}))  # it is still the bone that landmarks place as the jaw
    assert [b.name for b in rebuilt.bones] == ["mandible" if b.name == "jaw" else b.name for b in clean.character.bones]
    again = edited(renamed, store, ("bone.rename", {"bone": "mandible", "name": "jaw", "label": "Jaw"}))
    assert dump_section(again, "bindings") == dump_section(clean.character, "bindings")


def test_swapping_sides_twice_changes_nothing_but_once_exchanges_twins(built):
    character, store = built
    once = edited(character, store, ("bones.swap_sides", {}))
    places = {b.name: b.base for b in character.bones}
    assert all(b.base == places[b.twin or b.name] for b in once.bones)
    twice = edited(once, store, ("bones.swap_sides", {}))
    assert {b.name: b for b in twice.bones} == {b.name: b for b in character.bones}


def test_rolling_there_and_back_gives_the_axes_back(built):
    character, store = built
    rolled = edited(character, store, ("bone.place", {"bone": "jaw", "twist": 33.0}))
    assert not np.allclose(rolled.bones[3].axes, character.bones[3].axes)
    back = edited(rolled, store, ("bone.place", {"bone": "jaw", "twist": -33.0}))
    assert np.allclose(back.bones[3].axes, character.bones[3].axes, atol=1e-12)


def test_a_bone_added_with_a_side_brings_its_twin(built):
    character, store = built
    new = {"name": "dimple_L", "label": "Dimple L", "parent": "cheek_L", "base": [4, 15, 7], "tip": [4, 15, 8]}
    added = edited(character, store, ("bone.add", new))
    twin = added.bones[-1]
    assert (twin.name, twin.parent, twin.twin, twin.side) == ("dimple_R", "cheek_R", "dimple_L", "R")
    assert twin.base == pytest.approx((-4, 15, 7), abs=1e-6)
    check_names(added)
    rebuilt = edited(added, store, ("bones.build", {"choices": {"face": "both"}}))
    assert {"dimple_L", "dimple_R"} <= {b.name for b in rebuilt.bones}


@pytest.mark.parametrize(
    ("edit", "params", "said"),
    [
        ("bone.place", {"bone": "jaw", "base": [0, 0, 0], "tip": [0, 0, 0]}, "lie on one another"),
        ("bone.set_parent", {"bone": "head", "parent": "jaw"}, "cannot be its parent"),
        ("bone.rename", {"bone": "jaw", "name": "head", "label": "x"}, "already a bone"),
        ("bone.rename", {"bone": "jaw", "name": "a/b", "label": "x"}, "no name for a bone"),
        ("bone.set_limits", {"bone": "jaw", "turn": [[5, 9], [0, 0], [0, 0]], "move": [[0, 0]] * 3}, "must hold the rest"),
        ("bone.set_limits", {"bone": "jaw", "turn": [[0, 400], [0, 0], [0, 0]], "move": [[0, 0]] * 3}, "within 360°"),
        ("bones.remove", {"bones": ["nobody"]}, "no bone called"),
        ("bones.set_export_names", {"names": {"jaw": "head"}}, "Two bones would be called"),
        ("landmark.place", {"name": "third_eye", "point": [0, 0, 0]}, "no landmark called"),
        ("landmark.confirm", {"names": ["third_eye"]}, "no landmark called"),
        ("landmark.remove", {"names": ["crown"]}, "The head cannot be built"),
    ],
)
def test_what_does_not_fit_is_refused_in_words(built, edit, params, said):
    character, store = built
    with pytest.raises(BadRequest, match=said):
        edited(character, store, (edit, params))


def test_places_out_of_all_measure_are_no_recipe():
    for bad in ([1e9, 0, 0], [float("nan"), 0, 0]):
        with pytest.raises(BadRequest):
            parse_recipe(json.dumps([{"edit": "landmark.place", "params": {"name": "crown", "point": bad}}]))


@pytest.mark.parametrize(
    ("edit", "params", "said"),
    [
        ("bone.place", {"bone": "jaw", "twist": 5}, "Twisted Jaw"),
        ("bone.rename", {"bone": "jaw", "name": "mandible", "label": "Mandible"}, "Renamed the bone jaw to Mandible"),
        ("bone.set_role", {"bone": "cheek_L", "role": "helper"}, "Made Cheek L and its twin a helper"),
        ("bones.remove", {"bones": ["jaw", "head"]}, "Removed 2 bones"),
        ("bones.remove", {"bones": ["jaw"]}, "Removed the bone jaw"),
        ("bones.swap_sides", {}, "Swapped the sides of all twins"),
        ("bones.mirror", {"side": "L"}, "Mirrored the bones of side L"),
        ("bone.set_parent", {"bone": "cheek_L", "parent": "jaw"}, "Made Jaw the parent of Cheek L"),
        ("landmark.mirror", {"side": "L"}, "Mirrored the landmarks of side L"),
        ("landmark.confirm", {"names": ["cheek_L"]}, "Confirmed the landmark Cheek L"),
    ],
)
def test_every_edit_says_what_it_did(built, edit, params, said):
    """Asked of the character before and after, as History and the command line do."""
    character, store = built
    changed = edited(character, MemoryStore(store), (edit, params))
    check_names(changed)
    assert EDITS[edit].model_validate(params).describe(changed) == said


# --- documents


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"axes": (1.0, 0, 0, 0, 1.0, 0, 0, 0, -1.0)}, "right-handed"),
        ({"axes": (2.0, 0, 0, 0, 1.0, 0, 0, 0, 1.0)}, "right angles"),
        ({"turn": ((1.0, 2.0),) * 3}, "do not hold its rest"),
        ({"twin": "nobody"}, "nobody"),
        ({"base": (1e7, 0.0, 0.0)}, "check the units"),
        ({"export": "head"}, "“head” in exported files"),
    ],
)
def test_bones_that_cannot_be_are_refused(built, change, said):
    character, _ = built
    bones = tuple(replace(b, **change) if b.name == "jaw" else b for b in character.bones)
    with pytest.raises(BadDocument, match=said):
        check_names(replace(character, bones=bones))


@pytest.mark.parametrize(
    ("name", "other"),
    [("jaw_L", "jaw_R"), ("LeftEye", "RightEye"), ("eye.r", "eye.l"), ("l_lid", "r_lid"), ("eyeL", "eyeR"), ("EAR_LEFT", "EAR_RIGHT")],
)
def test_sides_are_read_from_the_names_people_give(name, other):
    assert other_side(name) == other
    assert other_side(other) == name
    assert side_of(name) != side_of(other)


@pytest.mark.parametrize("name", ["jaw", "Bone", "collar", "roll", "Teller"])
def test_names_without_a_side_have_no_twin(name):
    assert other_side(name) is None
    assert with_twins([Bone(name, name, None, (0, 0, 0), (0, 0, 1))])[0].side == "C"


@settings(max_examples=30, deadline=None)
@given(st.integers(1, 10), st.integers(0, 2**32 - 1))
def test_local_frames_chain_up_to_where_the_bones_stand(count, seed):
    rng = np.random.default_rng(seed)
    turns = Rotation.random(count, random_state=seed).as_matrix()
    bones = [
        Bone(f"b{k}", "B", None if k == 0 else f"b{rng.integers(k)}", tuple(rng.normal(size=3)), (0, 0, 0), axes=turn_of(turns[k]))
        for k in range(count)
    ]
    parents = parent_numbers(bones)
    found = []
    for frame, parent in zip(local_frames(rest_frames(bones), parents), parents, strict=True):
        found.append(frame if parent < 0 else found[parent] @ frame)
    assert np.allclose(found, rest_frames(bones), atol=1e-12)


def character_of_bones(bones):
    from tightseam.document.make import make_part
    from tightseam.document.model import About, Character

    from tests.core.shapes import cube

    store = character_store()
    points, faces = cube(1.0)
    return Character(About("Box"), (make_part(store, "box", "other", points, faces),), bones=tuple(bones))


_STORE = MemoryStore()


def character_store() -> MemoryStore:
    return _STORE


def test_world_axes_are_exact():
    assert turn_of(np.eye(3) + 1e-9) == WORLD


def test_what_hangs_on_bones_is_told_before_they_go(built):
    """Each sentence is held against what becomes of the head without them."""
    character, store = built
    said = hanging_on(character, {"tongue_2"})
    assert "Tongue 3 hangs on Tongue 2, and will on Tongue 1." in said
    assert "Tongue 2 carries some of Tongue; Tongue 1 will instead." in said
    left = edited(character, store, ("bones.remove", {"bones": ["tongue_2"]}))
    assert next(b for b in left.bones if b.name == "tongue_3").parent == "tongue_1"
    asked = replace(character, poses=(Pose("x", "Curled", {"tongue_2.turn_x": 5.0}),))
    assert "Curled loses what it asks of it." in hanging_on(asked, {"tongue_2"})
    assert without(asked, "bone", {"tongue_2"}).poses[0].values == {}
    lonely = replace(character, bones=(*character.bones, Bone("spare", "Spare", "head", (0, 20, 0), (0, 21, 0))))
    assert hanging_on(lonely, {"spare"}) == ()
