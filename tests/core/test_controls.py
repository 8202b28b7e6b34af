"""Controls for animators: made, linked, chained, arranged on the face plan, and played by takes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.controls.face_plan import COLUMNS, ROWS, face_lines
from tightseam.controls.regions import control_regions
from tightseam.document.control_chains import chain_depth
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.load import load_sections
from tightseam.document.model import Control, CurveKey, Link
from tightseam.document.sections import dump_sections
from tightseam.edits.control_edits import AddControl, ControlShapes, MoveControl, RemoveControls, RenameControl
from tightseam.edits.link_edits import LinkControl
from tightseam.edits.plan_edits import ArrangePlan, RemovePad, SetPad
from tightseam.edits.set_range import SetRange
from tightseam.edits.shape_making_edits import SplitShape
from tightseam.edits.skeleton_edits import RemoveBones
from tightseam.takes.follow import follow, matched_channels
from tightseam.takes.made import MADE, take

from tests.head import after

CORNER = (
    LinkControl(control="corner", kind="shape", targets=["smile"], gain=0.5),
    LinkControl(control="corner", kind="control", targets=["jaw_open"], gain=0.3),
    LinkControl(control="corner", kind="bone", targets=["jaw"], axis="y", gain=2.0),
)


def test_one_control_moves_several_things_and_another_control(clean):
    head = after(clean, AddControl(label="Corner", low=-1), *CORNER)
    alone = head.posed("skin", {"corner": 1.0})
    by_hand = clean.posed("skin", {"smile": 0.5, "jaw_open": 0.3, "jaw.turn_y": 2.0})
    assert np.abs(alone - by_hand).max() < 1e-4
    assert chain_depth(head.character.controls) == 1
    let_go = after(head, LinkControl(control="corner", kind="control", targets=["jaw_open"], gain=0))
    assert np.abs(let_go.posed("skin", {"corner": 1.0}) - clean.posed("skin", {"smile": 0.5, "jaw.turn_y": 2.0})).max() < 1e-4


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(-2, 2), min_size=4, max_size=4), st.floats(0, 1))
def test_chains_add_up_and_stay_within_the_ranges(gains, value):
    from tightseam.deform.skeleton import compile_skeleton

    a, b, c, d = gains
    controls = [
        Control("a", "A", 0, 1, 0, (Link("control", "b", a), Link("control", "c", b))),
        Control("b", "B", -1, 1, 0, (Link("control", "c", c),)),
        Control("c", "C", -1, 1, 0, (Link("shape", "s", d),)),
    ]
    found = compile_skeleton(controls, [], ["s"]).strengths({"a": value, "b": 0.0, "c": 0.0})[0]
    middle = np.clip(a * value, -1, 1)
    assert found == pytest.approx(d * np.clip(b * value + c * middle, -1, 1), abs=1e-9)


def test_a_link_along_a_curve_is_that_curve(clean):
    keys = (CurveKey(0, 0), CurveKey(0.5, 1), CurveKey(1, 0))
    head = after(clean, AddControl(label="Hill"), LinkControl(control="hill", kind="shape", targets=["smile"], keys=keys))
    for value, strength in ((0, 0), (0.5, 1), (1, 0)):
        assert np.abs(head.posed("skin", {"hill": value}) - clean.posed("skin", {"smile": strength})).max() < 1e-4


def test_a_removed_bone_leaves_what_other_controls_drive(clean):
    """Blinking is a matter of lids: no bone that goes takes it along."""
    head = after(clean, RemoveBones(bones=["tongue_3"]))
    blink = next(c for c in head.character.controls if c.name == "blink")
    assert blink.links == next(c for c in clean.character.controls if c.name == "blink").links


def test_shapes_get_controls_alone_or_with_their_twins(clean):
    halves = after(clean, SplitShape(name="smile"))
    apart = after(halves, ControlShapes(shapes=["smile_L", "smile_R"]))
    assert [c.name for c in apart.character.controls[-2:]] == ["smile_L", "smile_R"]
    both = after(halves, ControlShapes(shapes=["smile_L", "smile_R"], together=True))
    assert [n.target for n in both.character.controls[-1].links] == ["smile_L", "smile_R"]
    assert np.abs(both.posed("skin", {"smile_L": 1}) - clean.posed("skin", {"smile": 1})).max() < 1e-4


def test_names_order_and_removal_take_poses_chains_and_pads_along(clean):
    head = after(clean, AddControl(label="Corner"), *CORNER, ArrangePlan(), RenameControl(control="jaw_open", label="Chin down", to="chin"))
    jaw = next(p for p in head.character.poses if p.name == "jaw_open")
    assert jaw.values == {"chin": 1.0}
    assert (
        np.abs(head.posed("skin", {"corner": 1}) - after(clean, AddControl(label="Corner"), *CORNER).posed("skin", {"corner": 1})).max()
        == 0
    )
    assert any("chin" in (p.x, p.y) for p in head.character.plan)
    gone = after(head, RemoveControls(controls=["chin"]), MoveControl(control="corner", before="jaw_side"))
    assert gone.character.controls[0].name == "corner"
    assert not any("chin" in (p.x, p.y) for p in gone.character.plan)
    assert all(n.target != "chin" for c in gone.character.controls for n in c.links)
    assert next(p for p in gone.character.poses if p.name == "jaw_open").values == {}
    assert load_sections(dump_sections(head.character)) == head.character


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (AddControl(label="X", low=1, high=0), "needs low < high"),
        (LinkControl(control="smile", kind="control", targets=["smile"]), "would drive itself"),
        (LinkControl(control="smile", kind="lid", targets=["lid_upper_X"]), "no lid called"),
        (LinkControl(control="smile", kind="bone", targets=["jaw"]), "one of its axes"),
        (LinkControl(control="smile", kind="shape", targets=["grin"]), "no shape called"),
        (RenameControl(control="smile", label="X", to="pucker"), "already"),
        (ControlShapes(shapes=["smile"]), "driven by a control already"),
        (SetPad(label="X", at=(0.5, 0.5)), "needs one control"),
        (RemovePad(pad="nobody"), "no pad called"),
        (SetRange(control="smile", low=0, high=0.5, rest=0), "Keep that within"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, says):
    with pytest.raises(BadRequest, match=says):
        after(clean, edit)


def test_a_ring_in_a_file_is_refused(clean):
    head = after(clean, AddControl(label="A"), AddControl(label="B"), LinkControl(control="a", kind="control", targets=["b"]))
    back = Link("control", "a", 1.0)
    ring = tuple(replace(c, links=(back,)) if c.name == "b" else c for c in head.character.controls)
    texts = dump_sections(replace(head.character, controls=ring))
    with pytest.raises(BadDocument, match="in a ring"):
        load_sections(texts)


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
def test_pads_stand_where_controls_move_the_face(rigged, who):
    head = after(rigged[who], ArrangePlan())
    pads = {p.name: p for p in head.character.plan}
    every = {c for p in pads.values() for c in (p.x, p.y) if c}
    assert every == {c.name for c in head.character.controls}
    gaze = next(p for p in pads.values() if p.x == "gaze_across")
    assert gaze.y == "gaze_height"
    at = {c: p.place for p in pads.values() for c in (p.x, p.y) if c}
    assert at["blink_L"][0] > 0.5 > at["blink_R"][0]  # seen from in front
    assert at["brows_up"][1] < at["blink"][1] < at["smile"][1] < at["jaw_open"][1] + 0.1
    cells = [(round(p.place[0] * COLUMNS - 0.5, 2), round(p.place[1] * ROWS - 0.5, 2)) for p in pads.values()]
    assert len(set(cells)) == len(cells)  # each in a place of its own
    assert all(u == round(u) and v == round(v) for u, v in cells)
    for name in ("blink", "lip_seal", "corner"):
        left, right = at[f"{name}_L"], at[f"{name}_R"]
        assert (left[0] + right[0], left[1]) == pytest.approx((1, right[1]))
    lines = face_lines(head.character, head.store)
    flat = np.concatenate([np.array(line) for group in lines.values() for line in group])
    assert flat.min() > 0
    assert flat.max() < 1
    assert len(lines["lids"]) == 4


def test_a_pad_is_placed_by_hand_and_taken_off(clean):
    head = after(clean, SetPad(label="Mouth", x="jaw_side", y="jaw_open", at=(0.5, 0.8)))
    assert head.character.plan[0].name == "jaw_side"
    moved = after(head, SetPad(pad="jaw_side", label="Mouth", y="jaw_open", at=(0.2, 0.1)))
    assert (moved.character.plan[0].x, moved.character.plan[0].place) == (None, (0.2, 0.1))
    assert after(moved, RemovePad(pad="jaw_side")).character.plan == ()


@pytest.mark.parametrize("name", MADE)
def test_a_take_finds_its_controls_and_never_leaves_their_ranges(clean, name):
    made = take(name)
    mapping = matched_channels(made, clean.character)
    assert all(mapping.values()), mapping
    found = follow(made, clean.character, mapping)
    assert np.isfinite(found.frames).all()
    for k, control in enumerate(found.controls):
        c = next(x for x in clean.character.controls if x.name == control)
        assert found.frames[:, k].min() >= c.low
        assert found.frames[:, k].max() <= c.high
    assert 0 < found.lost.sum() < 0.2 * len(found.lost)
    assert np.array_equal(make_again := take(name).frames, made.frames, equal_nan=True), make_again


def test_smoothing_takes_noise_away_and_a_long_gap_lets_go(clean):
    made = take("read_aloud")
    mapping = {"Head nod": "head_nod"}
    rough, smooth = (follow(made, clean.character, mapping, s).frames[:, 0] for s in (0.0, 0.1))
    assert np.abs(np.diff(smooth)).std() < 0.5 * np.abs(np.diff(rough)).std()
    frames = made.frames.copy()
    frames[60:] = np.nan
    cut = follow(type(made)("x", "X", made.rate, made.channels, frames), clean.character, {"Smile": "smile", "Jaw open": "jaw_open"}, 0.0)
    assert np.abs(cut.frames[60:64] - cut.frames[59]).max() == 0  # bridged
    assert np.abs(cut.frames[-1]).max() < 1e-3  # and back at rest
    with pytest.raises(BadRequest, match="no take"):
        take("cry")
    with pytest.raises(BadRequest, match="no control called"):
        follow(made, clean.character, {"Jaw open": "nobody"})


def test_more_controls_than_places_leave_the_last_without_a_pad(clean):
    head = after(clean, *(AddControl(label=f"Extra {k}") for k in range(COLUMNS * ROWS)), ArrangePlan())
    assert len(head.character.plan) == COLUMNS * ROWS
    cells = {p.place for p in head.character.plan}
    assert len(cells) == COLUMNS * ROWS
    assert all(0 < u < 1 and 0 < v < 1 for u, v in cells)


def test_each_control_has_the_region_that_it_moves(clean):
    found = control_regions(clean.character, clean.store)
    assert found.keys() == {c.name for c in clean.character.controls}
    expected = {
        "jaw_open": "jaw", "lip_seal_L": "jaw", "corner_R": "jaw", "gaze_across": "eyes", "blink_L": "eyes", "squint": "eyes",
        "smile": "mouth", "brows_up": "brows", "pucker": "mouth", "head_turn": "head", "tongue_curl": "tongue",
    }  # fmt: skip
    assert {name: found[name] for name in expected} == expected
    chained = after(
        clean, AddControl(label="All"), LinkControl(control="all", kind="control", targets=["brows_up"]), AddControl(label="Idle")
    )
    found = control_regions(chained.character, chained.store)
    assert (found["all"], found["idle"]) == ("brows", "other")
