"""Lids that close on their arc: measured with libigl, with nothing of our own."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.bake.lids import with_lids_baked
from tightseam.deform import kernels, plain
from tightseam.deform.lid_motion import openness_limited
from tightseam.deform.lids import LidArc
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.model import CurveKey, GazeFollow
from tightseam.document.removal import without
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.exchange.obj_write import write_obj
from tightseam.first_rig import first_rig
from tightseam.geometry.curve import Curve
from tightseam.intake.take_in import take_in
from tightseam.lids import tune

from tests.core.heads import character_of, scrambled
from tests.core.lid_heads import GAP, NOTHING, Eye, gazes
from tests.head import Head


@pytest.mark.parametrize("more", [{}, {"smile": 1}, {"squint": 1}, {"smile": 1, "squint": 0.5}, {"lids_wide": 1}], ids=str)
def test_a_full_blink_closes_in_every_gaze_whatever_else_is_on(clean, more):
    for side, values in product("LR", gazes(blink=1, **more)):
        eye = Eye(clean, side)
        assert eye.gap(values) < GAP, values
        assert eye.deepest(values) < NOTHING, values


@pytest.mark.parametrize("name", ["pim", "hob"])
def test_the_rest_of_the_cast_closes_too(rigged, name):
    eye = Eye(rigged[name], "L")
    for values in gazes(blink_L=1):
        assert eye.gap(values) < GAP, values
        assert eye.deepest(values) < NOTHING, values


@pytest.mark.parametrize("more", [{"blink": 0.5}, {"blink": 0.5, "smile": 1}, {"blink": 0.5, "squint": 1}], ids=str)
def test_half_way_nothing_overlaps(clean, rigged, more):
    for head in (clean, rigged["pim"], rigged["hob"]):
        eye = Eye(head, "R")
        assert max(eye.deepest(values) for values in gazes(**more)[::3]) < NOTHING


def test_no_stored_blink_takes_part(rigged):
    for head in rigged.values():
        links = [k for c in head.character.controls if c.name.startswith("blink") for k in c.links]
        assert links
        assert {k.kind for k in links} == {"lid"}


def with_lids(head: Head, **changed) -> Head:
    character = replace(head.character, lids=tuple(replace(x, **changed) for x in head.character.lids))
    return Head(character, head.store)


def test_it_still_closes_after_every_key_of_the_line_has_been_moved(clean):
    line = (CurveKey(0, 0.35), CurveKey(0.2, 0.15), CurveKey(0.55, 0.45, 0.2), CurveKey(0.8, 0.3), CurveKey(1, 0.4))
    store = MemoryStore(clean.store)
    character = tune.reswollen(clean.character, store, replace(clean.character.lids[0], line=line))
    moved = Eye(Head(character, store), "L")
    for values in gazes(blink=1)[::2]:
        assert moved.gap(values) < GAP, values
        assert moved.deepest(values) < 1e-4, values
    # and where the keys say: at a fifth of the way the line is at 15 % of the opening
    arc, (upper, lower) = moved.head.evaluator.rig.lids[0].turning.arc, moved.margins
    rest, (skin, _) = clean.rest("skin"), moved.pose({"blink": 1})
    at, angle = arc.place(skin[upper])
    opening = [np.interp(0.2, *arc.place(rest[line])) for line in (lower, upper)]
    assert np.interp(0.2, at, angle) == pytest.approx(opening[0] + 0.15 * (opening[1] - opening[0]), abs=0.01)


def test_heads_from_obj_with_shuffled_vertices_close_alike(raw_heads, clean):
    store = MemoryStore()
    data = write_obj(*character_of(scrambled(raw_heads["maren"], 11)))
    parts = take_in({"maren.obj": data}, store).character.parts
    character = first_rig("Maren", "", parts, raw_heads["maren"].landmarks, store)
    eye = Eye(Head(character, store), "L")
    for values in gazes(blink=1)[::3]:
        assert eye.gap(values) < GAP, values
        assert eye.deepest(values) < NOTHING, values


def test_left_and_right_close_as_mirror_images(clean):
    mirror = np.array([-1, 1, 1])
    for values in ({"blink": 0.4}, {"blink": 1, "gaze_height": -20}, {"squint": 1}):
        skin, _ = Eye(clean, "L").pose(values)
        left, right = (skin[np.concatenate(Eye(clean, s).margins)] for s in "LR")
        assert np.abs(left - right * mirror).max() < 2e-4
    out = Eye(clean, "L").pose({"blink_L": 0.5, "gaze_across": 30})[0]
    other = Eye(clean, "R").pose({"blink_R": 0.5, "gaze_across": -30})[0]
    left, right = (p[np.concatenate(Eye(clean, s).margins)] for p, s in ((out, "L"), (other, "R")))
    assert np.abs(left - right * mirror).max() < 2e-4


def test_lids_turn_about_the_axis_through_their_corners(clean):
    stages = clean.evaluator.stages(clean.values({"blink_L": 0.6}))
    lids = clean.evaluator.rig.lids[0]
    before, after = (x[lids.turning.vertices].astype(float) for x in (stages.shaped, stages.closed))
    for measure in (lambda p: np.linalg.norm(p - lids.turning.arc.centre, axis=1), lambda p: lids.turning.arc.place(p)[0]):
        assert np.abs(measure(after) - measure(before)).max() < 1e-5
    angle = [lids.turning.arc.place(p)[1] for p in (before, after)]
    whole = lids.turning.arc.place(clean.evaluator.stages(clean.values({"blink_L": 1})).closed[lids.turning.vertices].astype(float))[1]
    assert np.abs((angle[1] - angle[0]) - 0.6 * (whole - angle[0])).max() < 1e-5
    still = np.ones(len(stages.shaped), bool)
    still[lids.turning.vertices] = still[lids.lash_vertices] = False
    assert np.array_equal(stages.closed[still], stages.shaped[still])


def test_lashes_turn_as_one_with_their_margin(clean):
    stages = clean.evaluator.stages(clean.values({"blink_L": 1}))
    lids = clean.evaluator.rig.lids[0]
    lash, root = lids.lash_vertices, lids.turning.vertices[lids.lash_rows]
    far = [np.linalg.norm(x[lash] - x[root], axis=1) for x in (stages.shaped, stages.closed)]
    assert np.abs(far[0] - far[1]).max() < 1e-5
    assert np.linalg.norm(stages.closed[lash] - stages.shaped[lash], axis=1).max() > 0.5


def test_the_neutral_stays_as_it_was_delivered(rigged):
    for head in rigged.values():
        stages = head.evaluator.stages(head.values())
        assert np.array_equal(stages.closed, stages.shaped)
    loud = with_lids(rigged["maren"], follow_upper=GazeFollow((CurveKey(0, 0.4),), (CurveKey(-5, 0.2), CurveKey(5, 0.6))))
    stages = loud.evaluator.stages(loud.values())
    assert np.array_equal(stages.closed, stages.shaped)  # what a curve gives straight ahead is taken away


def test_closings_are_places_on_the_arc_not_sums(clean):
    def closing(**values: float) -> np.ndarray:
        return clean.evaluator.lid_motion(clean.values(values))[0]

    assert closing(blink=1, squint=1, gaze_height=-30) == pytest.approx(np.ones(4))
    assert closing(blink=1, lids_wide=1, gaze_height=25) == pytest.approx(np.ones(4))
    assert closing(blink_L=0.5, blink=0.5)[:2] == pytest.approx(0.75)
    assert closing(gaze_height=-30)[0] == pytest.approx(0.5)
    assert (closing(lids_wide=1, gaze_height=25)[[0, 2]] > -0.5).all()  # wide open has a soft end
    assert (closing(lids_wide=1)[[0, 2]] < -0.2).all()


@settings(max_examples=60, deadline=None)
@given(st.lists(st.floats(0, 4), min_size=2, max_size=20))
def test_the_soft_end_of_opening_keeps_the_order_and_its_limit(values):
    openness = np.sort(np.array(values))
    limited = np.array([openness_limited(x) for x in openness])
    assert (np.diff(limited) >= 0).all()
    assert limited.max() < 1.5
    assert np.array_equal(limited[openness <= 1], openness[openness <= 1])


def test_the_upper_lid_goes_down_with_the_gaze_and_the_lower_up(clean):
    eye = Eye(clean, "L")
    arc = clean.evaluator.rig.lids[0].turning.arc
    upper, lower = (m[len(m) // 2] for m in eye.margins)

    def height(vertex: int, **values: float) -> float:
        return float(np.degrees(arc.place(eye.pose(values)[0][[vertex]])[1][0]))

    assert height(upper, gaze_height=-25) < height(upper) - 8
    assert height(upper, gaze_height=20) > height(upper) + 3
    assert height(lower, gaze_height=20) > height(lower) + 0.5
    assert height(lower, gaze_height=-25) < height(lower) - 1


@pytest.mark.parametrize("seed", range(5))
def test_compiled_and_plain_loops_close_alike(clean, seed):
    rng = np.random.default_rng(seed)
    lids = clean.evaluator.rig.lids[seed % 2]
    closing, slide = rng.uniform(-0.4, 1, 2), rng.uniform(-0.1, 0.1, 2)
    results = []
    for loops in (plain, kernels):
        points = clean.evaluator.meshes.rest.copy()
        lids.turn(loops, points, closing, slide)
        results.append(points)
    assert np.abs(results[0] - results[1]).max() < 2e-5
    assert np.abs(results[0] - clean.evaluator.meshes.rest).max() > 0.01


def test_baked_shapes_close_as_the_arc_does_at_their_end(clean):
    store = MemoryStore(clean.store)
    baked = with_lids_baked(clean.character, store)
    check_names(baked)
    flat = Head(baked, store)
    for values in ({"blink": 1}, {"blink_R": 1}, {"squint": 1}):
        assert np.abs(flat.posed("skin", values) - clean.posed("skin", values)).max() < 1e-3
        assert np.abs(flat.posed("lash_upper_R", values) - clean.posed("lash_upper_R", values)).max() < 1e-3


def test_lids_come_back_from_our_glb(clean):
    store = MemoryStore()
    back = read_glb(write_glb(clean.character, clean.store), store)
    assert [x.names for x in back.lids] == [x.names for x in clean.character.lids]
    assert back.lids[0].follow_upper == clean.character.lids[0].follow_upper
    values = {"blink_L": 0.7, "gaze_height": -12, "squint": 0.3}
    again = Head(back, store)
    assert np.abs(again.posed("skin", values) - clean.posed("skin", values)).max() < 1e-4


def test_without_its_eye_a_lid_is_gone_and_no_control_asks_for_it(clean):
    left = without(clean.character, "part", {"eye_L"})
    check_names(left)
    assert [x.side for x in left.lids] == ["R"]
    assert {k.target for c in left.controls for k in c.links if k.kind == "lid"} == {"lid_upper_R", "lid_lower_R"}


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"line": (CurveKey(0.5, 0), CurveKey(0.5, 1))}, "one after another"),
        ({"line": tuple(CurveKey(k, 0) for k in range(70))}, "70 keys"),
        ({"eye": "nose"}, "nose"),
    ],
)
def test_lids_that_do_not_hold_together_are_refused(clean, changed, words):
    wrong = tuple(replace(x, **changed) for x in clean.character.lids)
    with pytest.raises(BadDocument, match=words):
        check_names(replace(clean.character, lids=wrong))


def test_arrays_of_lids_that_do_not_fit_are_refused(clean):
    store = MemoryStore(clean.store)
    pair = clean.character.lids[0]
    short = replace(pair, upper=store.put(np.zeros(3, np.uint8)))
    apart = replace(pair, lower_margin=pair.upper, upper_margin=store.put(np.array([1, 2, 3], np.int32)))
    far = replace(pair, share=store.put(np.full(2, 0.5, np.float32)))
    for wrong in (short, apart, far):
        with pytest.raises(BadDocument):
            check_arrays(replace(clean.character, lids=(wrong,)), store)


def test_an_eye_beside_its_lids_is_explained():
    with pytest.raises(BadRequest, match="do not lie before"):
        LidArc.through(np.array([1.0, 0, 0]), np.array([0.0, 0, 0]), np.array([2.0, 0, 0]))


key = st.tuples(st.integers(-50, 50), st.floats(-5, 5).map(lambda v: round(v, 3)))
keys = st.lists(key, min_size=1, max_size=8, unique_by=lambda k: k[0]).map(sorted)


@settings(max_examples=100, deadline=None)
@given(keys, st.floats(-60, 60))
def test_a_curve_goes_through_its_keys_and_stays_between_neighbours(found, at):
    curve = Curve([(float(a), v, None) for a, v in found])
    for a, v in found:
        assert curve(float(a)) == pytest.approx(v, abs=1e-9)
    after = next((k for k, (a, _) in enumerate(found) if a >= at), len(found))
    near = [v for _, v in found[max(after - 1, 0) : after + 1]]
    assert min(near) - 1e-9 <= curve(at) <= max(near) + 1e-9


def test_a_curve_takes_the_slopes_it_is_given():
    curve = Curve([(0, 0, 2.0), (1, 1, -1.0)])
    step = 1e-6
    assert float((curve(step) - curve(0.0)) / step) == pytest.approx(2, abs=1e-4)
    assert float((curve(1.0) - curve(1 - step)) / step) == pytest.approx(-1, abs=1e-4)
    assert float(Curve([])(3.0)) == 0
