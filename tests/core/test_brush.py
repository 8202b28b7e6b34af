"""The brush: how far it reaches, what a stroke does, and that drawn live it is what is stored."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.brush.brush import Brush, Dab, Painting, falloff
from tightseam.brush.canvas import Canvas
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part
from tightseam.document.make import dense_weights
from tightseam.edits.bone_weight_edits import SetWeights
from tightseam.edits.drawing import stroke_of
from tightseam.edits.paint_edits import PaintWeights
from tightseam.geometry.reach import Reach, fans
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import MIDDLE
from tightseam.geometry.triangulate import triangulate

from tests.core.shapes import ball, grid
from tests.head import Head

OPEN = {"jaw_open": 0.6}


def test_on_a_flat_sheet_it_is_the_straight_distance():
    points, polygons = grid(40, 40, 0.1)
    reach = Reach(fans(triangulate(points, polygons), len(points)))
    place = points[820] + [0.03, 0.02, 0]
    near, far = reach.from_place(points, 820, place, 1.0)
    straight = np.linalg.norm(points - place, axis=1)
    assert np.array_equal(near, np.flatnonzero(straight <= 1.0))
    assert (far / straight[near]).max() < 1.02
    assert (far / straight[near]).min() > 1 - 1e-9


def test_on_a_ball_it_is_the_arc():
    points, polygons = ball(3.0, 96, 48)
    reach = Reach(fans(triangulate(points, polygons), len(points)))
    seed = 1 + 20 * 96
    near, far = reach.from_place(points, seed, points[seed], 2.0)
    arc = 3 * np.arccos(np.clip(points[near] @ points[seed] / 9, -1, 1))
    assert np.abs(far - arc).max() < 0.03


def test_on_a_skin_it_agrees_with_exact_geodesics(clean):
    points = clean.rest("skin")
    triangles = triangulate(points, clean.polygons("skin"))
    reach = Reach(fans(triangles, len(points)))
    for seed in clean.set("lip_lower_line")[[4, 9]]:
        near, far = reach.from_place(points, int(seed), points[seed], 1.5)
        none = np.zeros(0, np.int64)
        exact = igl.exact_geodesic(points, triangles.astype(np.int64), np.array([seed]), none, near, none)
        assert np.abs(far - exact).max() < 0.15
        assert np.percentile(np.abs(far - exact), 95) < 0.06


def test_what_one_bone_alone_carries_is_given_to_those_of_its_surroundings(clean):
    """A vertex that belongs wholly to the jaw has no other bone to give to; those round it take it."""
    vertex, jaw, store = cheek(clean), column(clean, "jaw"), MemoryStore(clean.store)
    alone = Head(SetWeights(part="skin", vertices=[vertex], bone="jaw", value=1.0).apply(clean.character, store), store)
    assert np.count_nonzero(weights_of(alone)[vertex]) == 1
    place = tuple(float(x) for x in alone.rest("skin")[vertex])
    for tool in ("smooth", "even", "take"):
        _, _, rows = painted(alone, [Dab(vertex, place, tool)] * 3, brush=Brush(1.2, 1.0))
        assert rows[vertex, jaw] < 0.7, tool
        assert rows[vertex].sum() == pytest.approx(1, abs=1e-5)
        assert rows[vertex, column(clean, "head")] > 0.1


def test_it_does_not_jump_from_lip_to_lip(clean):
    """Closed lips touch, and still the upper one is far away for a brush on the lower one."""
    points = clean.rest("skin")
    reach = Reach(fans(triangulate(points, clean.polygons("skin")), len(points)))
    lower = int(clean.set("lip_lower_line")[len(clean.set("lip_lower_line")) // 2])
    near, _ = reach.from_place(points, lower, points[lower], 0.8)
    assert not np.isin(clean.set("lip_upper_line")[1:-1], near).any()
    assert np.linalg.norm(points[clean.set("lip_upper_line")] - points[lower], axis=1).min() < 0.2


def test_falloffs_start_at_all_and_end_at_nothing():
    share = np.linspace(0, 1, 11)
    for kind in ("soft", "linear"):
        arrives = falloff(kind, share)
        assert arrives[0] == 1
        assert arrives[-1] == pytest.approx(0)
        assert (np.diff(arrives) < 0).all()
    assert (falloff("hard", share) == 1).all()
    quarter = np.array([0.25])
    assert falloff("linear", quarter) == 0.75
    assert falloff("soft", quarter) == pytest.approx(1 - 3 * 0.25**2 + 2 * 0.25**3)  # level at both ends


def painted(head: Head, dabs: list[Dab], **settings_) -> tuple[Head, np.ndarray, np.ndarray]:
    """The head after a stroke with its weights (N, B) before and after."""
    store = MemoryStore(head.store)
    painting = Painting("skin", settings_.pop("bone", "jaw"), settings_.pop("brush", Brush(1.2, 0.3)), **settings_)
    made = PaintWeights(painting=painting, dabs=dabs).apply(head.character, store)
    after = Head(made, store)
    return after, weights_of(head), weights_of(after)


def weights_of(head: Head) -> np.ndarray:
    names = [b.name for b in head.character.bones]
    return dense_weights(head.store, find_binding(head.character, "skin").influences, names, len(head.rest("skin")))


def column(head: Head, bone: str) -> int:
    return [b.name for b in head.character.bones].index(bone)


def dab_on(head: Head, vertex: int, tool: str = "add", values=None, **more) -> Dab:
    return Dab(int(vertex), tuple(float(x) for x in head.posed("skin", values)[vertex]), tool, **more)


def cheek(head: Head) -> int:
    mark = next(m.point for m in head.character.landmarks if m.name == "cheek_L")
    return int(np.linalg.norm(head.rest("skin") - np.array(mark), axis=1).argmin())


def test_a_stroke_drawn_live_is_to_the_bit_what_is_stored(clean):
    """On an open jaw, where the surface moves under the brush; the live stroke and the edit are two runs of their own."""
    start = clean.posed("skin", OPEN)
    path = [cheek(clean)] * 3 + [int(v) for v in clean.set("lip_lower")[:4]]
    dabs = [Dab(v, tuple(float(x) for x in start[v]), "add" if k % 2 else "smooth") for k, v in enumerate(path)]
    painting = Painting("skin", "jaw", Brush(1.5, 0.25), values=OPEN, mirror=True, locked=["neck_1"])
    live = stroke_of(clean.character, clean.store, painting)
    for d in dabs:
        live.dab(d)
    store = MemoryStore(clean.store)
    made = PaintWeights(painting=painting, dabs=dabs).apply(clean.character, store)
    after = Head(made, store)
    assert np.array_equal(weights_of(after), live.rows.astype(np.float32).astype(float))
    assert np.abs(after.posed("skin", OPEN) - live.posed).max() < 1e-4


def test_add_take_set_smooth_and_even_do_what_they_say(clean):
    vertex, jaw = cheek(clean), column(clean, "jaw")
    for tool, goes_up in (("add", True), ("take", False)):
        _, before, after = painted(clean, [dab_on(clean, vertex, tool)])
        moved = after[vertex, jaw] - before[vertex, jaw]
        assert (moved > 0.05) if goes_up else (moved < 0), tool
    _, before, after = painted(clean, [dab_on(clean, vertex, "set")] * 40, brush=Brush(1.2, 0.5, value=0.35))
    assert after[vertex, jaw] == pytest.approx(0.35, abs=1e-3)
    spiked, _, peak = painted(clean, [dab_on(clean, vertex, "set")], brush=Brush(0.35, 1.0, value=1.0))
    for tool in ("smooth", "even"):
        _, _, calmer = painted(spiked, [dab_on(spiked, vertex, tool)] * 4, brush=Brush(1.2, 1.0))
        assert calmer[vertex, jaw] < peak[vertex, jaw] - 0.3, tool


def test_totals_stay_one_and_locked_bones_stay(clean):
    _, before, after = painted(clean, [dab_on(clean, v, "add") for v in clean.set("lip_lower")[::5]], locked=["head"])
    assert np.abs(after.sum(axis=1) - 1).max() < 1e-6
    assert after.min() >= 0
    assert np.array_equal(after[:, column(clean, "head")], before[:, column(clean, "head")])


def test_a_cap_holds_a_whole_stroke_back(clean):
    vertex, jaw = cheek(clean), column(clean, "jaw")
    _, before, after = painted(clean, [dab_on(clean, vertex)] * 20, brush=Brush(1.2, 0.5, most=0.1))
    assert np.abs(after[:, jaw] - before[:, jaw]).max() == pytest.approx(0.1, abs=1e-6)


def test_the_mirrored_side_gets_the_same(clean):
    _, before, after = painted(clean, [dab_on(clean, cheek(clean))] * 3, mirror=True)
    canvas = Canvas(SurfaceMesh(clean.rest("skin"), clean.polygons("skin")), MIDDLE)
    jaw = column(clean, "jaw")
    assert (after[:, jaw] > before[:, jaw] + 0.1).any()
    assert np.abs(after[:, jaw] - after[canvas.partners, jaw]).max() < 1e-6
    across = painted(clean, [dab_on(clean, int(clean.set("lip_lower_line")[9]))] * 3, mirror=True)[2]
    assert np.abs(across[:, jaw] - across[canvas.partners, jaw]).max() < 1e-6


def test_front_only_leaves_what_faces_away(clean):
    """A brush on the lip reaches over its edge into the mouth; seen from the front it does not."""
    lip = int(clean.set("lip_lower_line")[9])
    eye = tuple(float(x) for x in clean.rest("skin")[lip] + [0, 0, 60])
    _, before, through = painted(clean, [dab_on(clean, lip, "take")])
    _, _, front = painted(clean, [dab_on(clean, lip, "take", eye=eye)])
    canvas = Canvas(SurfaceMesh(clean.rest("skin"), clean.polygons("skin")), MIDDLE)
    every = np.arange(len(before))
    away = canvas.normals(clean.rest("skin"), every) @ [0, 0, 1] < -0.5
    assert (through[away] != before[away]).any()
    assert np.array_equal(front[away], before[away])


def test_only_what_is_selected_is_painted(clean):
    chosen = clean.set("lip_upper").tolist()
    _, before, after = painted(
        clean, [dab_on(clean, v) for v in clean.set("lip_lower_line")], brush=Brush(2.0, 0.5, through=True), only=chosen
    )
    changed = np.flatnonzero((after != before).any(axis=1))
    assert len(changed)
    assert np.isin(changed, chosen).all()


@settings(max_examples=15, deadline=None)
@given(
    st.lists(
        st.tuples(st.integers(0, 3575), st.sampled_from(["set", "add", "take", "smooth", "even"]), st.floats(0.1, 1)),
        min_size=1,
        max_size=6,
    )
)
def test_whatever_is_painted_weights_stay_shares(clean, touches):
    dabs = [dab_on(clean, v, tool, pressure=p) for v, tool, p in touches]
    _, _, after = painted(clean, dabs, brush=Brush(0.9, 0.8), mirror=True)
    assert np.abs(after.sum(axis=1) - 1).max() < 1e-6
    assert after.min() >= 0


def test_normals_of_a_few_are_those_of_all(clean):
    points = clean.rest("skin")
    canvas = Canvas(SurfaceMesh(points, clean.polygons("skin")), MIDDLE)
    some = clean.set("lip_upper")
    found = canvas.normals(points, some)
    wanted = igl.per_vertex_normals(points, canvas.mesh.fans.triangles, igl.PER_VERTEX_NORMALS_WEIGHTING_TYPE_AREA)[some]
    assert (np.einsum("nk,nk->n", found / np.linalg.norm(found, axis=1, keepdims=True), wanted) > 1 - 1e-9).all()


def test_what_cannot_be_painted_is_said(clean):
    touch = [dab_on(clean, 10)]
    with pytest.raises(BadRequest, match="Jaw is locked"):
        painted(clean, touch, locked=["jaw"])
    with pytest.raises(BadRequest, match="touched nothing"):
        painted(clean, touch, only=[])
    with pytest.raises(BadRequest, match="out of range"):
        painted(clean, [Dab(99999, (0.0, 0.0, 0.0), "add")])
    with pytest.raises(BadRequest, match="99999 is out of range"):
        painted(clean, touch, only=[99999])
    bare = PaintWeights(painting=Painting("skin", "jaw", Brush(1, 1)), dabs=touch)
    unbound = type(clean.character)(**{**clean.character.__dict__, "bindings": ()})
    with pytest.raises(BadRequest, match="Skin has no weights yet"):
        bare.apply(unbound, MemoryStore(clean.store))
    assert part(clean.character, "skin").vertex_count == 3576
