"""What light needs to know of a head: held against closed forms and against the cast."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from tightseam.demo.eyes import build_eye
from tightseam.demo.presets import HOB, MAREN
from tightseam.demo.tubes import tube
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate
from tightseam.shading.baked import LINE, baked
from tightseam.shading.iris import painted_eye
from tightseam.shading.sky import open_sky, thickness
from tightseam.shading.strands import strand_directions

from tests import cast
from tests.core.shapes import ball

UP = np.array([[0.0, 1.0, 0.0]])


def wall(at: float, height: float, wide: float = 200.0):
    """A wall beside the origin, across x."""
    points = np.array([[at, 0, -wide], [at, 0, wide], [at, height, wide], [at, height, -wide]], float)
    return points, np.array([[0, 1, 2], [0, 2, 3]])


@pytest.mark.parametrize("height", [0.5, 1.0, 3.0])
def test_a_long_wall_hides_its_share_of_the_sky(height):
    """A wall of endless length that rises to an angle a above the ground hides the lune up to it: a share a / 180 of the half space."""
    points, triangles = wall(1.0, height)
    round_about = [Rotation.from_euler("y", k, degrees=True).apply(points) for k in range(0, 360, 6)]  # the rays are the same each time
    seen = [float(open_sky(np.zeros((1, 3)), UP, turned, triangles, 1e-4)[0]) for turned in round_about]
    assert np.mean(seen) == pytest.approx(1 - np.arctan(height) / np.pi, abs=0.01)


def test_the_outside_of_a_ball_is_in_the_open_and_its_inside_is_shut():
    points, faces = ball(2.0)
    triangles = triangulate(points, faces)
    out = points / np.linalg.norm(points, axis=1, keepdims=True)
    assert open_sky(points, out, points, triangles, 0.01).min() == 1
    assert open_sky(points, -out, points, triangles, 0.01).max() == 0
    assert open_sky(np.zeros((0, 3)), np.zeros((0, 3)), points, triangles, 0.01).shape == (0,)


@pytest.mark.parametrize("radius", [0.2, 1.5])
def test_a_ball_is_as_thick_as_its_mean_chord_and_an_open_sheet_has_no_end(radius):
    """Chords 2 R cos(a) from a point of a ball, averaged over all ways inwards, are R long."""
    points, faces = ball(radius)
    triangles = triangulate(points, faces)
    found = thickness(points, vertex_normals(points, triangles), triangles, 1e-3)
    assert found.mean() == pytest.approx(radius, rel=0.04)
    points, triangles = wall(0.0, 1.0)
    assert np.isinf(thickness(points, vertex_normals(points, triangles), triangles, 1e-3)).all()


def test_strands_run_along_a_tuft_and_agree_along_it():
    t = np.linspace(0, 1.2, 12)
    path = np.column_stack([4 * np.sin(t), 4 * np.cos(t), 0 * t])
    points, faces = tube(path, np.tile([0, 0, 1.0], (12, 1)), np.full(12, 0.3), np.full(12, 0.3), seg=12, flat=1.0)
    own = Polygons.from_lists(faces)
    found = strand_directions(points, vertex_normals(points, triangulate(points, own)), own)
    ring = slice(12 * 2, 12 * 10)  # short of the ends, which are closed
    along = np.repeat(np.column_stack([np.cos(t), -np.sin(t), 0 * t]), 12, axis=0)
    same = (found[ring] * along[ring]).sum(axis=1)
    assert np.abs(same).min() > 0.95
    assert abs(np.sign(same).sum()) == len(same)  # one way from root to tip


@pytest.mark.parametrize(("preset", "turn"), [(MAREN, (0, 0, 0)), (HOB, (12, -25, 5))])
def test_an_eye_is_read_as_it_was_painted(preset, turn):
    raw = build_eye(preset, 1)
    turned = Rotation.from_euler("xyz", turn, degrees=True)
    eye = painted_eye(turned.apply(raw.points), Polygons.from_lists(raw.polygons), raw.face_colours)
    assert eye.centre == pytest.approx(turned.apply(preset["eye_c"]), abs=1e-6)
    assert eye.radius == pytest.approx(preset["eye_r"], abs=1e-6)
    assert eye.gaze == pytest.approx(turned.apply([0, 0, 1]), abs=1e-6)
    step = 180 / len(eye.colours)
    assert np.degrees(eye.iris) == pytest.approx(preset["iris_deg"] * 1.035, abs=step)  # within its dark rim
    assert np.degrees(eye.pupil) == pytest.approx(preset["pupil_deg"], abs=step)
    assert eye.colours[0].max() < 0.03 < 0.6 < eye.colours[len(eye.colours) // 2].min()


def test_an_eye_of_one_colour_or_painted_at_random_is_shown_as_it_came():
    raw = build_eye(MAREN, 1)
    own = Polygons.from_lists(raw.polygons)
    assert painted_eye(raw.points, own, np.full((len(own), 3), 0.8)) is None
    assert painted_eye(raw.points, own, np.random.default_rng(0).random((len(own), 3))) is None
    blind = (raw.points - MAREN["eye_c"]) / np.linalg.norm(raw.points - MAREN["eye_c"], axis=1, keepdims=True)
    assert painted_eye(blind, own, raw.face_colours) is None  # a plain ball looks nowhere


@pytest.fixture(scope="module")
def maren():
    return cast.clean("maren")


@pytest.fixture(scope="module")
def shaded(maren):
    return baked(maren.character, maren.store)


def test_folds_are_darker_than_brow_and_nose_and_a_mouth_is_baked_open(maren, shaded):
    sky, points = shaded["skin"].sky, maren.rest("skin")

    def at(mark):
        place = next(m.point for m in maren.character.landmarks if m.name == mark)
        return sky[int(np.linalg.norm(points - place, axis=1).argmin())]

    assert at("nose_tip") > 0.9
    assert at("nose_base") < 0.8 * at("nose_tip")
    assert shaded["collar"].sky.mean() < 0.75
    front = maren.rest("teeth_upper")[:, 2] > np.quantile(maren.rest("teeth_upper")[:, 2], 0.9)
    assert shaded["teeth_upper"].sky[front].max() > 0.4
    assert shaded["teeth_upper"].sky[~front].mean() < 0.5 * shaded["teeth_upper"].sky[front].mean()


def test_ears_are_thin_and_cheeks_are_not(maren, shaded):
    points, thin = maren.rest("skin"), shaded["skin"].thin
    ears = np.abs(points[:, 0]) > np.abs(points[:, 0]).max() - 0.8
    assert thin[ears].mean() > 0.4
    crown = points[:, 1] > points[:, 1].max() - 4
    assert thin[crown].max() == 0


def test_each_part_has_what_its_kind_asks_for(maren, shaded):
    for p in maren.character.parts:
        found = shaded[p.name]
        assert found.sky.shape == (p.vertex_count,)
        assert ((found.sky >= 0) & (found.sky <= 1)).all()
        assert (found.thin is not None) == (p.kind == "skin")
        assert (found.strands is not None) == (p.kind in ("hair", "brow", "whiskers"))
        assert (found.eye is not None) == (p.kind == "eye")
        if p.kind == "eye":
            margin = maren.set(f"lid_upper_margin_{p.side}")
            assert [len(line) for line in found.lids] == [LINE, LINE]
            assert (found.lids[0][[0, -1]] == margin[[0, -1]]).all()


def test_a_head_without_colours_sets_or_skin_is_shaded_all_the_same(maren):
    store = MemoryStore(maren.store)
    bare = tuple(replace(p, colours=None, face_colours=None, sets={}) for p in maren.character.parts)
    found = baked(replace(maren.character, parts=bare), store)
    assert found["eye_L"].eye is None
    assert found["eye_L"].lids is None
    only = baked(replace(maren.character, parts=(find_part(maren.character, "tongue"),)), store)
    assert set(only) == {"tongue"}
    assert only["tongue"].sky.mean() > 0.8
    assert baked(replace(maren.character, parts=()), store) == {}
    assert len(polygons(store, bare[0])) > 0
