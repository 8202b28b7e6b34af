"""Eyes, relief and closing lids."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.eye_profile import eye_profile, reach
from tightseam.geometry.triangulate import triangulate
from tightseam.lids.eye_relief import ReliefMap, apply_relief, clearance_of

from tests.core.shapes import ball


def test_the_profile_of_a_ball_is_its_radius():
    points, polygons = ball(1.9, 64, 32)
    profile = eye_profile(points + 5.0, triangulate(points, polygons), np.full(3, 5.0))
    assert profile.max() <= 1.9 + 1e-9
    assert profile.min() > 1.9 * np.cos(np.pi / 64) * np.cos(np.pi / 64) - 1e-6


def test_the_profile_of_an_ellipsoid_is_the_closed_form():
    axes = np.array([1.5, 2.0, 2.4])
    points, polygons = ball(1.0, 64, 64)
    profile = eye_profile(points * axes, triangulate(points * axes, polygons), np.zeros(3))
    directions = np.random.default_rng(5).normal(size=(300, 3))
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    exact = 1 / np.linalg.norm(directions / axes, axis=1)
    assert np.abs(reach(profile, directions) - exact).max() < 0.008


BALL = eye_profile(ball(2.0, 32, 16)[0], triangulate(*ball(2.0, 32, 16)), np.zeros(3))


@settings(max_examples=50, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_relief_never_leaves_a_vertex_closer_than_its_clearance(seed):
    rng = np.random.default_rng(seed)
    profile = BALL
    lid = rng.normal(size=(20, 3))
    lid *= rng.uniform(1.5, 2.4, (20, 1)) / np.linalg.norm(lid, axis=1, keepdims=True)
    relief = ReliefMap(np.arange(20), np.ones(20), np.full(20, 0.05), np.zeros(20))
    moved = apply_relief(lid, relief, profile, np.zeros(3), np.eye(3))
    assert clearance_of(moved, profile, np.zeros(3), np.eye(3)).min() > 0.05 - 1e-9
    far = clearance_of(lid, profile, np.zeros(3), np.eye(3)) >= 0.05
    assert np.array_equal(moved[far], lid[far])


@pytest.mark.parametrize("side", ["L", "R"])
@pytest.mark.parametrize("gaze", [(35, 0), (-35, 0), (0, 25), (0, -30), (25, -20)])
@pytest.mark.parametrize("closing", [0.0, 0.5, 1.0])
def test_lids_stay_off_the_eye_in_every_gaze_and_closing(clean, side, gaze, closing):
    meter = clean.meter()
    values = clean.values({"gaze_across": gaze[0], "gaze_height": gaze[1], f"blink_{side}": closing})
    for reading in meter.measure(values):
        if reading.seam.startswith("lid_") and reading.seam.endswith(side):
            assert reading.overlap <= 0.05, reading


def test_without_relief_the_cornea_cuts_the_lids(clean):
    from dataclasses import replace

    from tightseam.deform.evaluator import Evaluator
    from tightseam.seams.meter import SeamMeter

    bare = replace(clean.character, eye_reliefs=())
    meter = SeamMeter(bare, clean.store, Evaluator(bare, clean.store))
    deepest = max(r.overlap for r in meter.measure(clean.values({"gaze_height": 20})) if r.seam.startswith("lid_"))
    assert 0.2 < deepest < 1.2  # a cornea that bulges 1.2 mm under lids that stand off by a third of one


def test_closed_lids_meet_and_lashes_go_along(clean):
    closed = clean.posed("skin", {"blink_L": 1})
    upper, lower = clean.set("lid_upper_margin_L"), clean.set("lid_lower_margin_L")
    middle = len(upper) // 2
    assert np.linalg.norm(closed[upper[middle]] - closed[lower[middle]]) < 0.06
    lash, moved = clean.rest("lash_upper_L"), clean.posed("lash_upper_L", {"blink_L": 1})
    root = len(upper) // 2
    skin_moved = closed[upper[root]] - clean.rest("skin")[upper[root]]
    assert np.linalg.norm((moved - lash)[root] - skin_moved) < 0.15


def test_blinking_left_leaves_the_right_alone(clean):
    right = clean.rest("skin")[:, 0] < -0.5
    assert np.abs(clean.posed("skin", {"blink_L": 1}) - clean.rest("skin"))[right].max() < 1e-5
