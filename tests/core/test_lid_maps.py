"""Lid share and eye relief as maps: held, started, smoothed, mended, copied, painted."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.brush.brush import Brush, Dab
from tightseam.brush.canvas import Canvas
from tightseam.document.arrays import MemoryStore
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import CurveKey
from tightseam.edits.lid_edits import CopyLids, PickMargins, SetClosedLine
from tightseam.edits.lid_map_edits import FitRelief, MendMap, PaintMap, SetMap, SmoothMap, StartMap
from tightseam.geometry.loops import RingStepper
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import MIDDLE
from tightseam.lids.map_stroke import MapPainting, MapStroke
from tightseam.lids.maps import map_of, margins_of, with_map
from tightseam.lids.tune import lids_of
from tightseam.weights.fields import grown, mended, raised, smoothed

from tests.core.lid_heads import board_of, canvas_of, partners
from tests.core.shapes import grid
from tests.head import Head, after

MIRROR = np.array([-1, 1, 1])


def values(head: Head, side: str, which) -> np.ndarray:
    return map_of(head.character, head.store, lids_of(head.character, side), which)


@pytest.mark.parametrize("which", ["share", "eye_relief"])
def test_a_map_that_is_written_as_it_was_read_changes_nothing(rigged, which):
    for head in rigged.values():
        store = MemoryStore(head.store)
        for pair in head.character.lids:
            assert with_map(head.character, store, pair, which, values(head, pair.side, which)) == head.character


@pytest.mark.parametrize("which", ["share", "eye_relief"])
def test_vertices_that_come_in_are_held_soundly(clean, which):
    store = MemoryStore(clean.store)
    pair = lids_of(clean.character, "L")
    wide = np.clip(values(clean, "L", which) + 0.2 * (np.linalg.norm(clean.rest("skin") - [3, 33, 9], axis=1) < 4), 0, 1)
    changed = with_map(clean.character, store, pair, which, wide)
    check_arrays(changed, store)
    assert np.abs(map_of(changed, store, lids_of(changed, "L"), which) - wide).max() < 1e-6
    upper, lower = margins_of(store, pair)
    found = lids_of(changed, "L")
    goes_up = dict(zip(store.get(found.vertices).tolist(), store.get(found.upper).tolist(), strict=True))
    assert all(goes_up[v] for v in upper[1:-1].tolist())
    assert not any(goes_up[v] for v in lower[1:-1].tolist())


def test_starting_points_come_back_and_spread_evenly(clean):
    changed = after(clean, SetMap(side="L", map="share", vertices=list(range(3500)), value=0.1))
    assert changed.character != clean.character
    back = after(changed, StartMap(side="L", map="share", how="fold"))
    assert np.abs(values(back, "L", "share") - values(clean, "L", "share")).max() < 1e-6
    even = values(after(clean, StartMap(side="L", map="share", how="even")), "L", "share")
    margin = np.concatenate(margins_of(clean.store, lids_of(clean.character, "L")))
    assert even[margin] == pytest.approx(1)
    near = canvas_of(clean)
    jumps = np.abs(even - near.mesh.average @ even)[grown(near, even > 0, 1)]
    assert jumps.max() < 0.15  # straight down everywhere, but for the ridge at the margin
    for head in (back, after(clean, StartMap(side="R", map="eye_relief", how="even", mirror=True))):
        assert all(c.within for c in board_of(head).cells)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**31), st.integers(1, 20))
def test_smoothing_stays_within_what_there_was(seed, steps):
    points, polys = grid(9, 9)
    canvas, rng = Canvas(SurfaceMesh(points, polys), MIDDLE), np.random.default_rng(seed)
    start, where = rng.uniform(0, 1, len(points)), rng.uniform(size=len(points)) < 0.5
    done = smoothed(canvas, start, where, steps)
    assert np.array_equal(done[~where], start[~where])
    assert start.min() - 1e-12 <= done.min() <= done.max() <= start.max() + 1e-12


def test_mending_gives_back_a_linear_field():
    points, polys = grid(11, 11)
    canvas = Canvas(SurfaceMesh(points, polys), MIDDLE)
    linear = (points[:, 0] - points[:, 0].min()) / np.ptp(points[:, 0])
    inner = np.abs(points[:, :2] - 5.5).max(axis=1) < 3
    spoiled = np.where(inner, 0.77, linear)
    assert np.abs(mended(canvas, spoiled, inner) - linear).max() < 1e-9  # linear fields solve the Laplace equation
    with pytest.raises(BadRequest, match="surroundings"):
        mended(canvas, spoiled, np.ones(len(points), bool))


def test_raising_lowers_nothing_and_is_soft_round_it():
    points, polys = grid(15, 15, 0.1)
    canvas = Canvas(SurfaceMesh(points, polys), MIDDLE)
    start = np.full(len(points), 0.2)
    where = np.linalg.norm(points - [0.75, 0.75, 0], axis=1) < 0.2
    done = raised(canvas, start, where)
    assert (done >= start).all()
    assert done[where] == pytest.approx(1)
    assert done[~grown(canvas, where, 3)] == pytest.approx(0.2)
    between = grown(canvas, where, 3) & ~where
    assert ((done[between] > 0.2 - 1e-12) & (done[between] < 1)).all()


def test_mending_a_lid_puts_back_a_patch_and_its_margin(clean):
    pair = lids_of(clean.character, "R")
    upper, _ = margins_of(clean.store, pair)
    centre = clean.rest("skin")[upper[len(upper) // 2]]
    patch = np.flatnonzero((np.linalg.norm(clean.rest("skin") - centre, axis=1) < 0.5) & (values(clean, "R", "share") > 0)).tolist()
    spoiled = after(clean, SetMap(side="R", map="share", vertices=patch, value=0.2))
    assert not all(c.within for c in board_of(spoiled).cells)
    back = after(spoiled, MendMap(side="R", map="share", vertices=patch))
    assert np.abs(values(back, "R", "share") - values(clean, "R", "share")).max() < 0.12
    assert values(back, "R", "share")[upper] == pytest.approx(1)
    assert all(c.within for c in board_of(back).cells)


def test_edits_of_a_map_go_to_the_other_eye_mirrored(clean):
    upper, _ = margins_of(clean.store, lids_of(clean.character, "L"))
    few = upper[3:8].tolist()
    both = after(clean, SetMap(side="L", map="share", vertices=few, value=0.5, mirror=True))
    image = partners(clean)[few]
    assert values(both, "R", "share")[image] == pytest.approx(0.5)
    alone = after(clean, SetMap(side="L", map="share", vertices=few, value=0.5))
    assert np.array_equal(values(alone, "R", "share"), values(clean, "R", "share"))


def test_what_concerns_a_whole_map_is_done_to_each_eye_by_itself(clean):
    upper, _ = margins_of(clean.store, lids_of(clean.character, "R"))
    spoiled = after(clean, SetMap(side="R", map="share", vertices=upper[3:8].tolist(), value=0.2))
    back = after(spoiled, StartMap(side="L", map="share", how="fold", mirror=True))
    assert np.abs(values(back, "R", "share") - values(clean, "R", "share")).max() < 1e-6
    smooth = after(spoiled, SmoothMap(side="L", map="share", steps=2, mirror=True))
    alone = after(spoiled, SmoothMap(side="R", map="share", steps=2))
    assert np.array_equal(values(smooth, "R", "share"), values(alone, "R", "share"))


def test_copied_maps_are_exact_mirror_images(clean):
    painted = after(clean, SmoothMap(side="L", map="share", steps=9), SetMap(side="L", map="eye_relief", vertices=[5, 900], value=0.6))
    copied = after(painted, CopyLids(side="L", what="maps"))
    partner = partners(clean)
    held = np.flatnonzero(values(copied, "L", "share"))
    assert (partner[held] >= 0).all()
    for which in ("share", "eye_relief"):
        left, right = (values(copied, side, which) for side in "LR")
        assert np.array_equal(left[held], right[partner[held]])
    again = after(copied, CopyLids(side="R", what="maps"))  # there and back is nothing
    assert np.array_equal(values(again, "L", "share"), values(copied, "L", "share"))
    for pose in ({"blink": 0.7}, {"blink": 1, "gaze_height": 15}):
        skin = copied.posed("skin", pose)
        assert np.abs(skin[held] - skin[partner[held]] * MIRROR).max() < 5e-3


def test_sides_that_are_not_mirror_images_are_not_copied(clean):
    store = MemoryStore(clean.store)
    skin = find_part(clean.character, "skin")
    rest = clean.rest("skin")
    # one side bent as a whole is still mirrored, by its edges: here no vertex stands where its twin would
    bent = rest + np.where(rest[:, :1] >= 0, np.random.default_rng(0).normal(size=rest.shape) * 0.3, 0)
    parts = tuple(replace(p, points=store.put(bent)) if p is skin else p for p in clean.character.parts)
    crooked = replace(clean.character, parts=parts)
    with pytest.raises(BadRequest, match="not mirror images"):
        CopyLids(side="L", what="maps").apply(crooked, store)


@pytest.mark.parametrize("which", ["share", "eye_relief"])
def test_a_stroke_replayed_is_the_stroke_drawn(clean, which):
    upper, _ = margins_of(clean.store, lids_of(clean.character, "L"))
    painting = MapPainting("L", which, Brush(0.35, 0.6), {"blink": 0.5}, mirror=True)
    drawn = MapStroke(clean.character, clean.store, painting)
    before = drawn.posed.copy()
    dabs = []
    for v in upper[5:9].tolist():
        dabs.append(Dab(v, tuple(drawn.posed[v].tolist()), "take"))
        changed = drawn.dab(dabs[-1])
        assert len(changed)
    assert np.abs(drawn.posed - before).max() > 0.005  # the surface follows the brush
    stored = after(clean, PaintMap(painting=painting, dabs=dabs))
    assert stored.character == after(clean, PaintMap(painting=painting, dabs=dabs)).character
    left, right = (values(stored, side, which) for side in "LR")
    taken = np.flatnonzero(left < values(clean, "L", which) - 1e-6)
    assert len(taken) > 5
    assert left[taken] == pytest.approx(right[partners(clean)[taken]], abs=1e-6)
    own, total = drawn.shown(taken)
    assert own == pytest.approx(left[taken], abs=1e-6)
    assert (total == 1).all()


def test_a_stroke_keeps_to_the_selection_and_to_the_eye(clean):
    upper, _ = margins_of(clean.store, lids_of(clean.character, "L"))
    v = int(upper[8])
    painting = MapPainting("L", "share", Brush(0.5, 1.0, 0.0, through=True), only=[v])
    place = tuple(clean.rest("skin")[v].tolist())
    done = after(clean, PaintMap(painting=painting, dabs=[Dab(v, place, "set")]))
    assert np.flatnonzero(values(done, "L", "share") != values(clean, "L", "share")).tolist() == [v]
    chin = int(np.argmin(clean.rest("skin")[:, 1]))
    far = PaintMap(painting=MapPainting("L", "share", Brush(0.5, 1.0)), dabs=[Dab(chin, tuple(clean.rest("skin")[chin].tolist()), "add")])
    with pytest.raises(BadRequest, match="touched nothing"):
        far.apply(clean.character, MemoryStore(clean.store))


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (SetMap(side="C", map="share", vertices=[1], value=1), "The eye C has no lids"),
        (SetMap(side="L", map="share", vertices=[10**6], value=1), "out of range"),
        (FitRelief(side="L", vertices=[-1]), "out of range"),
        (PaintMap(painting=MapPainting("L", "share", Brush(1, 1)), dabs=[Dab(10**7, (0, 0, 0), "add")]), "out of range"),
    ],
)
def test_what_cannot_be_done_to_a_map_is_refused_in_words(clean, edit, words):
    with pytest.raises(BadRequest, match=words):
        edit.apply(clean.character, MemoryStore(clean.store))


def test_a_landmark_that_is_missing_is_named(clean):
    bare = replace(clean.character, landmarks=tuple(m for m in clean.character.landmarks if m.name != "lid_fold_upper_L"))
    with pytest.raises(BadRequest, match="lid_fold_upper_L"):
        StartMap(side="L", map="share", how="fold").apply(bare, MemoryStore(clean.store))


def test_margins_picked_as_they_are_change_nothing(clean):
    for pair in clean.character.lids:
        upper, lower = margins_of(clean.store, pair)
        again = after(clean, PickMargins(side=pair.side, vertices=[int(upper[4]), int(lower[5])]))
        assert again.character.lids == clean.character.lids
        assert again.character.eye_reliefs == clean.character.eye_reliefs
        assert find_part(again.character, "skin").sets == find_part(clean.character, "skin").sets


def test_margins_are_picked_a_loop_farther_out(clean):
    pair = lids_of(clean.character, "L")
    upper, lower = margins_of(clean.store, pair)
    ring = np.array([*upper, *lower[-2:0:-1]])
    loops = [RingStepper(clean.polygons("skin"), len(clean.rest("skin"))).step(r) for r in (ring, ring[::-1])]
    outer = max((x for x in loops if x is not None), key=lambda x: clean.rest("skin")[x][:, 2].mean())
    line = (CurveKey(0, 0.4), CurveKey(1, 0.6))
    moved = after(clean, SetClosedLine(side="L", keys=line), PickMargins(side="L", vertices=outer[:3].tolist()))
    found = lids_of(moved.character, "L")
    margins = margins_of(moved.store, found)
    assert set(np.concatenate(margins).tolist()) == set(outer.tolist())
    assert found.line == line
    assert moved.rest("skin")[margins[0][5], 1] > moved.rest("skin")[margins[1][5], 1]
    assert np.linalg.norm(moved.rest("skin")[margins[0][0]] - clean.rest("skin")[upper[0]]) < 0.5
    assert values(moved, "L", "share")[outer] == pytest.approx(1)
    check_arrays(moved.character, moved.store)
    sets = find_part(moved.character, "skin").sets
    assert np.array_equal(moved.store.get(sets["lid_upper_margin_L"]), margins[0])


@pytest.mark.parametrize(("picked", "words"), [([0, 5], "No closed loop|does not run round"), ([0, 10**6], "out of range")])
def test_what_is_no_margin_is_refused_in_words(clean, picked, words):
    with pytest.raises(BadRequest, match=words):
        PickMargins(side="L", vertices=picked).apply(clean.character, MemoryStore(clean.store))
