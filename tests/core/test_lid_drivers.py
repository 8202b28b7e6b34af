"""Lids closed by shapes with in-betweens or by bones, in place of the arc."""

from __future__ import annotations

from dataclasses import replace
from itertools import combinations, pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Usd, UsdGeom, UsdSkel, Vt
from scipy.spatial.transform import Rotation
from tightseam.bake.lid_bones import with_lids_as_bones
from tightseam.deform.lid_drivers import lid_bones
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.make import dense_weights
from tightseam.document.model import LidDriver
from tightseam.edits.lid_edits import DriveLids
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.exchange.usd_write import write_usd
from tightseam.geometry.knots import best_knots, chord_errors, fitted
from tightseam.lids.driver_error import driver_errors
from tightseam.lids.tune import lids_of

from tests.core.lid_heads import board_of, found
from tests.head import Head, after


def driven(head: Head, kind, between: int = 3, gaze: bool = False) -> Head:
    return after(head, DriveLids(side="L", driver=LidDriver(kind, between, gaze), mirror=True))


def off(head: Head, other: Head, **pose: float) -> float:
    """The farthest any vertex of the skin or an upper lash is apart in a pose, mm."""
    return 10 * max(float(np.abs(head.posed(p, pose) - other.posed(p, pose)).max()) for p in ("skin", "lash_upper_L"))


def test_three_in_betweens_keep_within_a_sixth_of_a_millimetre_over_the_whole_closing(rigged):
    for head in rigged.values():
        baked = driven(head, "shapes")
        for closing in np.linspace(0, 1, 17):
            assert off(head, baked, blink_L=float(closing)) < 0.15
        assert off(head, baked, blink=1) < 1e-3  # closed it is the arc itself
        assert off(head, baked) < 1e-4


def test_what_is_told_of_each_way_is_what_comes_of_it(clean):
    told = driver_errors(clean.character, clean.store, "L")
    assert [(e.kind, e.between) for e in told] == [*(("shapes", k) for k in range(6)), ("bones", 0)]
    straight = [e.straight for e in told[:-1]]
    assert straight == sorted(straight, reverse=True)
    for e in (told[1], told[3], told[-1]):
        other = driven(clean, e.kind, e.between)
        measured = max(off(clean, other, blink_L=k / 20) for k in range(21))
        assert measured <= e.straight * 1.001 + 1e-3  # by coordinates it is less than by distance
        assert measured > 0.5 * e.straight
    for e in told[:-1]:
        assert e.with_targets is not None
        assert e.with_targets <= e.gazes  # a target for what is measured never makes it worse


def test_targets_for_gazes_carry_the_cornea_under_the_lid(clean):
    for pose in ({"gaze_across": 35}, {"gaze_height": 25, "blink_L": 1}):
        without, with_gaze = (off(clean, driven(clean, "shapes", 3, gaze), **pose) for gaze in (False, True))
        assert with_gaze < 0.3 * without


def test_closings_still_multiply_and_blinks_still_close(clean):
    baked = driven(clean, "shapes")
    both, one = (baked.posed("skin", v) for v in ({"blink_L": 1, "squint": 1}, {"blink_L": 1}))
    upper = clean.store.get(lids_of(clean.character, "L").upper_margin)
    assert np.abs(both[upper] - one[upper]).max() < 1e-5


def test_bones_turn_lids_as_linear_blend_skinning_does(clean):
    lids = clean.evaluator.rig.lids[0]
    bones = lid_bones(lids, clean.evaluator.meshes.rest)
    assert 0 <= bones.weights.min() <= bones.weights.max() <= 1
    points = clean.evaluator.meshes.rest.copy()
    bones.apply(points, np.array([0.7, 0.3]), (0, 0))
    for k, closing in ((0, 0.7), (1, 0.3)):
        own = bones.lid == k
        rest = clean.evaluator.meshes.rest[bones.rows[own]].astype(float)
        turn = Rotation.from_rotvec(bones.axis * bones.angles[k] * closing)
        expected = rest + bones.weights[own][:, None] * (turn.apply(rest - bones.centre) + bones.centre - rest)
        assert np.abs(points[bones.rows[own]] - expected).max() < 1e-5
    margin = lids.turning.vertices[lids.turning.margin_rows]
    farthest = np.isin(bones.rows, margin) & (bones.weights > 0.999)
    closed = clean.evaluator.stages(clean.values({"blink_L": 1})).closed
    points = clean.evaluator.meshes.rest.copy()
    bones.apply(points, np.ones(2), (0, 0))
    assert farthest.any()
    assert np.abs(points[bones.rows[farthest]] - closed[bones.rows[farthest]]).max() < 1e-3  # carried whole it turns as on the arc


def test_going_over_and_back_loses_nothing_and_survives_a_file(clean):
    there = driven(clean, "bones")
    assert {x.driver.kind for x in there.character.lids} == {"bones"}
    assert driven(there, "arc").character.lids == clean.character.lids
    back = read_character(write_character(there.character, there.store), MemoryStore())
    assert back.lids == there.character.lids


def test_what_bones_cannot_do_is_found_and_the_arc_proposed(clean):
    boned = driven(clean, "bones")
    assert not all(c.within for c in board_of(boned).cells)
    findings = found(boned)
    assert findings
    assert {f.repairs[0].edit for f in findings if f.kind != "stretch"} == {"lids.drive"}
    assert "Closed by bones" in findings[0].text


paths = st.integers(5, 9).flatmap(lambda m: st.lists(st.floats(-3, 3), min_size=2 * m, max_size=2 * m).map(lambda v: (m, v)))


@settings(max_examples=40, deadline=None)
@given(paths, st.integers(0, 3))
def test_no_choice_of_knots_is_better(drawn, between):
    count, values = drawn
    path = np.array(values).reshape(count, 1, 2)
    cost = chord_errors(path)
    knots = best_knots(cost, between)
    assert (knots[0], knots[-1]) == (0, count - 1)
    assert len(knots) <= between + 2

    def worst(chosen) -> float:
        return max(cost[a, b] for a, b in pairwise(chosen))

    brute = min(worst((0, *inner, count - 1)) for k in range(min(between, count - 2) + 1) for inner in combinations(range(1, count - 1), k))
    assert worst(knots.tolist()) == pytest.approx(brute, abs=1e-12)


def test_fitted_values_follow_straight_lines_exactly_and_curves_better_than_samples():
    at = np.arange(9.0)
    line = np.stack([at, -2 * at], axis=1)[:, None]
    assert fitted(line, np.array([0, 4, 8])) == pytest.approx(line[[0, 4, 8]])
    arc = np.stack([np.cos(at / 8), np.sin(at / 8)], axis=1)[:, None]
    knots = np.array([0, 4, 8])
    found = fitted(arc, knots)
    assert np.array_equal(found[[0, -1]], arc[[0, -1]])
    errors = []
    for values in (found, arc[knots]):
        straight = np.stack([np.interp(at, knots, values[:, 0, k]) for k in (0, 1)], axis=1)
        errors.append(((straight - arc[:, 0]) ** 2).sum())
    assert errors[0] < errors[1]


def test_usd_takes_lids_with_their_in_betweens(clean, tmp_path):
    """Weighed as USD's own library weighs in-betweens."""
    baked = driven(clean, "shapes")
    path = tmp_path / "maren.usdc"
    path.write_bytes(write_usd(baked.character, baked.store))
    stage = Usd.Stage.Open(str(path))
    mesh = next(p for p in stage.Traverse() if p.GetName() == "skin" and p.IsA(UsdGeom.Mesh))
    binding = UsdSkel.BindingAPI(mesh)
    query = UsdSkel.BlendShapeQuery(binding)
    names = list(binding.GetBlendShapesAttr().Get())
    assert {"lid_upper_L", "lid_lower_L", "lid_upper_R", "lid_lower_R"} <= set(names)
    assert not {"blink", "blink_L", "squint"} & set(names)  # what closes lids is there once
    shape = UsdSkel.BlendShape(stage.GetPrimAtPath(f"{mesh.GetPath()}/lid_upper_L"))
    assert len(shape.GetInbetweens()) == 3
    for closing in (0.2, 0.5, 0.85, 1.0):
        weights = Vt.FloatArray([closing if name in ("lid_upper_L", "lid_lower_L") else 0.0 for name in names])
        points = Vt.Vec3fArray(UsdGeom.Mesh(mesh).GetPointsAttr().Get())
        sub = query.ComputeSubShapeWeights(weights)
        query.ComputeDeformedPoints(*sub, query.ComputeBlendShapePointIndices(), query.ComputeSubShapePointOffsets(), points)
        assert np.abs(np.array(points) - baked.posed("skin", {"blink_L": closing})).max() < 1e-4


def test_lids_by_bones_become_joints_with_weights(clean):
    boned = driven(clean, "bones")
    store = MemoryStore(boned.store)
    character = with_lids_as_bones(boned.character, store)
    check_names(character)
    check_arrays(character, store)
    assert {"lid_upper_L", "lid_lower_R"} <= {b.name for b in character.bones}
    assert character.lids == ()
    joined = Head(character, store)
    for pose in ({"blink_L": 0.4}, {"blink": 1}, {"squint": 1}, {"blink_R": 0.7, "head_turn": 30}):
        assert off(boned, joined, **pose) < 2e-2
    totals = sum(
        dense_weights(store, b.influences, [x.name for x in character.bones], len(clean.rest("skin"))).sum(axis=1)
        for b in character.bindings
        if b.part == "skin"
    )
    assert totals == pytest.approx(1, abs=1e-6)


def test_a_glb_of_lids_by_bones_brings_joints_back(clean):
    boned = driven(clean, "bones")
    store = MemoryStore()
    back = read_glb(write_glb(boned.character, boned.store), store)
    assert back.lids == ()
    again = Head(back, store)
    assert off(boned, again, blink=1) < 2e-2


@pytest.mark.parametrize("taken", [("lid_upper_L",), ("lid_upper_L", "lid_lower_turn_R")])
def test_beside_bones_that_are_called_as_lids_theirs_are_called_otherwise_on_both_sides(clean, taken):
    boned = driven(clean, "bones")
    others = tuple(replace(boned.character.bones[-1], name=name, twin=None) for name in taken)
    named = replace(boned.character, bones=(*boned.character.bones, *others))
    store = MemoryStore(clean.store)
    joined = with_lids_as_bones(named, store)
    check_names(joined)
    more = "turn" if len(taken) == 1 else "turn2"
    own = {b.name: b.twin for b in joined.bones if b.name not in {x.name for x in named.bones}}
    assert own == {f"lid_{lid}_{more}_{a}": f"lid_{lid}_{more}_{b}" for lid in ("upper", "lower") for a, b in ("LR", "RL")}
    assert off(boned, Head(joined, store), blink=1) < 2e-2
