"""Sculpting on the posed head: what is seen is what is kept."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from tightseam.brush.brush import Brush
from tightseam.brush.canvas import canvas_of
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part, shape
from tightseam.edits.drawing import Drawing
from tightseam.edits.relief_edits import AddPreset
from tightseam.edits.sculpt_edits import SculptShape
from tightseam.edits.shape_list_edits import MuteShapes
from tightseam.edits.shape_making_edits import NewShape
from tightseam.shapes.offsets import offsets_of
from tightseam.shapes.sculpt import SculptDab, Sculpting
from tightseam.shapes.unposing import Unposing

from tests import cast
from tests.head import after

MM = 0.1
POSE = {
    "jaw_open": 0.6,
    "head_turn": 30.0,
    "smile": 0.5,
    "pucker": 0.3,
    "brows_up": 0.8,
    "blink_L": 0.5,
    "blink_R": 0.5,
    "gaze_height": -10.0,
}


@pytest.fixture(scope="module")
def head(clean):
    """Maren with a relief of the cheeks."""
    return after(clean, AddPreset(preset="cheek_lower"))


@pytest.fixture(scope="module")
def canvas(head):
    return canvas_of(head.character, head.store, part(head.character, "skin"))


def at(head, mark: str, values) -> tuple[int, tuple[float, float, float]]:
    """The vertex of the skin nearest to a landmark, and where it is posed."""
    place = next(m.point for m in head.character.landmarks if m.name == mark)
    vertex = int(np.linalg.norm(head.rest("skin") - place, axis=1).argmin())
    x, y, z = head.posed("skin", values)[vertex].tolist()
    return vertex, (x, y, z)


def strokes(head, tool: str, mark: str, values=POSE, mirror=False, steps=((0.3, 0.2, 0.4),), name="smile", strength=0.8):
    vertex, place = at(head, mark, values)
    sculpting = Sculpting(name, "skin", Brush(1.2, strength), values, None, mirror)
    places = [place, *(tuple(np.add(place, step).tolist()) for step in steps)]
    return sculpting, [SculptDab(vertex, p, tool) for p in places]


@pytest.mark.parametrize("tool", ["move", "swell", "sink", "smooth", "flatten", "erase"])
@pytest.mark.parametrize("mark", ["mouth_corner_L", "cheek_R", "brow_inner_L", "lip_lower"])
def test_what_was_sculpted_is_there_on_the_return(head, canvas, tool, mark):
    sculpting, dabs = strokes(head, tool, mark, mirror=True)
    stroke = Drawing(head.character, head.store, sculpting)
    before = stroke.stroke.posed.copy()
    stroke.draw(dabs)
    seen = stroke.stroke.posed.copy()
    if tool in ("move", "swell", "sink"):
        assert np.abs(seen - before).max() > 0.2 * MM
    returned = after(head, SculptShape(sculpting=sculpting, dabs=dabs)).posed("skin", POSE)
    assert np.abs(returned - seen).max() < 0.01 * MM
    assert stroke.stroke.missed == 0


def test_what_is_dragged_goes_where_it_is_dragged(head, canvas):
    sculpting, dabs = strokes(head, "move", "cheek_L", steps=((0.1, 0, 0), (0.3, 0.25, 0.1)))
    stroke = Drawing(head.character, head.store, sculpting)
    vertex, before = dabs[0].vertex, stroke.stroke.posed.copy()
    stroke.draw(dabs)
    assert np.abs(stroke.stroke.posed[vertex] - before[vertex] - [0.3, 0.25, 0.1]).max() < 0.02
    far = np.linalg.norm(stroke.stroke.posed - before, axis=1)
    assert far.max() <= np.linalg.norm([0.3, 0.25, 0.1]) + 1e-4
    assert far[np.linalg.norm(before - dabs[0].place, axis=1) > 1.3].max() < 1e-4


def test_a_lid_held_by_its_eye_is_brought_out_or_it_is_said(head, canvas):
    """Eye relief keeps a half-closed lid on the ball, whatever is under it; outwards it can be sculpted, inwards it is said."""
    sculpting, dabs = strokes(head, "move", "lid_upper_L", steps=((0.05, 0.05, 0.3),))
    stroke = Drawing(head.character, head.store, sculpting)
    before = stroke.stroke.posed[dabs[0].vertex].copy()
    stroke.draw(dabs)
    assert np.linalg.norm(stroke.stroke.posed[dabs[0].vertex] - before) > 0.15
    sculpting, dabs = strokes(head, "move", "lid_upper_L", steps=((0, 0, -0.4),))
    inwards = Drawing(head.character, head.store, sculpting)
    inwards.draw(dabs)
    assert inwards.stroke.missed > 0.5 * MM


def test_both_sides_of_a_turned_head_stay_mirror_images(head, canvas):
    values = {"head_turn": 35.0, "smile": 1.0}
    sculpting, dabs = strokes(head, "move", "mouth_corner_L", values, mirror=True)
    made = after(head, SculptShape(sculpting=sculpting, dabs=dabs))
    offsets = offsets_of(made.character, made.store, shape(made.character, "smile"))["skin"]
    there = canvas.partners >= 0
    image = offsets[canvas.partners[there]] * [-1, 1, 1]
    assert np.abs(offsets[there] - image).max() < 0.05 * MM


def test_erased_it_is_the_neutral_again(head):
    sculpting, dabs = strokes(head, "erase", "mouth_corner_L", steps=[(0, 0, 0)] * 40, strength=1.0)
    made = after(head, SculptShape(sculpting=sculpting, dabs=dabs))
    offsets = offsets_of(made.character, made.store, shape(made.character, "smile"))["skin"]
    assert np.linalg.norm(offsets[dabs[0].vertex]) < 0.01 * MM


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 2**32 - 1))
@example(3593)  # the way through eye relief is all but singular here
@example(35140327)  # a lid's margin carries a vertex far that is to stay
@example(28893)  # one way alone ends 0.6 mm short here
def test_any_place_of_the_face_is_reached_and_on_lids_most_are(head, seed):
    """Wanted are places that the pose does give for other points; where eye relief bends the way there it may be missed, and is told."""
    rng = np.random.default_rng(seed)
    evaluator = Evaluator(head.character, head.store)
    rows, values = evaluator.meshes.rows("skin"), head.values(POSE)
    solver, other = Unposing(evaluator, rows, values), Unposing(Evaluator(head.character, head.store), rows, values)
    every = np.arange(len(solver.posed))
    other.move_shaped(every, rng.normal(0, 0.03, (len(every), 3)))
    left = solver.reach(every, other.posed)
    assert np.abs(np.linalg.norm(solver.posed - other.posed, axis=1) - left).max() < 1e-6
    on_lids = np.zeros(len(every), bool)
    for relief, lids in zip(evaluator.rig.eye_reliefs, evaluator.rig.lids, strict=True):
        on_lids[relief.vertices] = on_lids[lids.turning.vertices] = True
    assert left[~on_lids].max() < 0.01 * MM
    assert (left[on_lids] < 0.01 * MM).mean() > 0.8
    assert left[on_lids].max() < 0.6 * MM  # told, and rare: of 15 heads shaken at random the worst is at 0.2 to 0.4


ON_LIDS = {
    "rest": {"smile": 1.0},
    "closed": {"smile": 1.0, "blink_L": 1.0, "blink_R": 1.0},
    "half closed": {"smile": 0.5, "blink_L": 0.5, "blink_R": 0.5, "gaze_height": -10.0},
}


@pytest.mark.parametrize(("who", "mark"), [("pim", "lid_upper_L"), ("hob", "lid_lower_R")])
@pytest.mark.parametrize("pose", ON_LIDS)
@pytest.mark.parametrize("tool", ["move", "swell", "sink", "smooth", "flatten"])
def test_a_stroke_on_a_lid_stores_no_spike(who, pose, tool, mark):
    """What is stored goes at most three times as far as was wanted of the surface, and is no rougher than that; as the lid closes and in
    any gaze no more than that comes of it, at half the strength about half."""
    head, values = cast.clean(who), ON_LIDS[pose]
    canvas = canvas_of(head.character, head.store, part(head.character, "skin"))
    sculpting, dabs = strokes(head, tool, mark, values, steps=((0.02, 0.02, 0.03), (0.04, 0.03, 0.05)), strength=0.5)
    stroke = Drawing(head.character, head.store, sculpting)
    before = stroke.stroke.posed.copy()
    stroke.draw(dabs)
    seen, stored = stroke.stroke.posed - before, (stroke.stroke._solver.shaped - stroke.stroke._start) / stroke.stroke._strength
    moved = np.linalg.norm(seen, axis=1).max() + stroke.stroke.missed
    far = np.linalg.norm(stored, axis=1).max() * stroke.stroke._strength
    assert far <= 3 * moved + 1e-6
    rough = np.linalg.norm(stored - canvas.mesh.average @ stored, axis=1).max() * stroke.stroke._strength
    assert rough <= 3 * moved
    made = after(head, SculptShape(sculpting=sculpting, dabs=dabs))
    for across, height in ((0, 0), (25, 0), (-25, 0), (0, 20), (0, -20), (20, 15), (-20, 15), (20, -15), (-20, -15)):
        there = {"gaze_across": across, "gaze_height": height, "blink_L": 1.0 if across == height == 0 else 0.3, "blink_R": 0.3}
        full, half = (made.posed("skin", there | {"smile": s}) - head.posed("skin", there | {"smile": s}) for s in (1.0, 0.5))
        assert np.linalg.norm(full, axis=1).max() * stroke.stroke._strength <= 4 * moved
        assert np.linalg.norm(half, axis=1).max() * stroke.stroke._strength <= 3 * moved


@pytest.mark.parametrize(
    ("changed", "says"),
    [
        ({"shape": "grin"}, "no shape called"),
        ({"values": {}}, "Smile is at 0% here"),
        ({"part": "nose"}, "no part called"),
        ({"only": [10**30]}, "out of range"),
    ],
)
def test_what_cannot_be_sculpted_is_refused_in_words(head, changed, says):
    sculpting, dabs = strokes(head, "swell", "cheek_L", {"smile": 1.0})
    wrong = Sculpting(**{"shape": "smile", "part": "skin", "brush": sculpting.brush, "values": sculpting.values} | changed)
    with pytest.raises(BadRequest, match=says):
        after(head, SculptShape(sculpting=wrong, dabs=dabs))


def test_a_muted_or_untouched_shape_is_said(head):
    sculpting, dabs = strokes(head, "swell", "cheek_L", {"smile": 1.0})
    with pytest.raises(BadRequest, match="is muted"):
        after(head, MuteShapes(names=["smile"]), SculptShape(sculpting=sculpting, dabs=dabs))
    with pytest.raises(BadRequest, match="moved nothing"):
        after(head, SculptShape(sculpting=sculpting, dabs=[SculptDab(dabs[0].vertex, (500, 500, 500), "swell")]))


def test_a_new_shape_is_sculpted_from_nothing(head):
    fresh = after(head, NewShape(name="bump"))
    sculpting, dabs = strokes(fresh, "swell", "chin_front", {"bump.strength": 0.5}, name="bump")
    made = after(fresh, SculptShape(sculpting=sculpting, dabs=dabs))
    seen = made.posed("skin", {"bump.strength": 0.5}) - made.posed("skin")
    offsets = offsets_of(made.character, made.store, shape(made.character, "bump"))["skin"]
    assert np.abs(0.5 * offsets - seen).max() < 1e-5
    assert np.abs(seen).max() > 0.05
