"""Repairs of meshes and parts: what must hold whatever they are used on."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.checkin.limits import limits_with
from tightseam.checkin.mesh import flipped_faces
from tightseam.checkin.report import check_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.load import load_sections
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights, make_delta, make_influences, make_part
from tightseam.document.model import About, Binding, Bone, Character, CheckIn, Delivered, Shape
from tightseam.document.sections import dump_sections
from tightseam.edits.checkin_edits import SetLimit, Unwaive, Waive
from tightseam.edits.eye_edits import CentrePivot
from tightseam.edits.mesh_edits import MakeSymmetric, RemoveLoose, SmoothPatch, TurnFaces, Weld, faired
from tightseam.edits.part_edits import BakeTransform, RemovePart, Rename, SetKind, SetUnits, SplitIslands
from tightseam.edits.registry import EDITS, apply_recipe, parse_recipe
from tightseam.geometry.adjacency import boundary
from tightseam.geometry.polygons import Polygons
from tightseam.head.found import Piece

from tests.core.heads import character_of, in_one_mesh
from tests.core.shapes import ball, cube, grid


def one_part(points, faces: Polygons, kind: str = "other", **more) -> tuple[Character, MemoryStore]:
    store = MemoryStore()
    part = replace(make_part(store, "thing", kind, points, faces), delivered=Delivered("t.obj", "thing", len(points)))
    return Character(About("Thing"), (part,), **more), store


def mesh_of(character: Character, store: MemoryStore, name: str = "thing") -> tuple[np.ndarray, list[list[int]]]:
    part = find_part(character, name)
    return np.asarray(store.get(part.points)), polygons(store, part).lists()


def source_of(character: Character, store: MemoryStore, name: str = "thing") -> np.ndarray:
    part = find_part(character, name)
    return np.arange(part.vertex_count) if part.source is None else np.asarray(store.get(part.source))


def torn(seed: int, copies: int) -> tuple[np.ndarray, Polygons]:
    """A sheet with some corners of faces given vertices of their own, and some loose vertices in between."""
    rng = np.random.default_rng(seed)
    points, faces = grid(6, 5)
    lists = faces.lists()
    for _ in range(copies):
        f = int(rng.integers(len(lists)))
        k = int(rng.integers(4))
        points = np.vstack([points, points[lists[f][k]]])
        lists[f][k] = len(points) - 1
    order = rng.permutation(len(points))
    number = np.argsort(order)
    return points[order], Polygons.from_lists([[int(number[v]) for v in f] for f in lists])


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.integers(1, 12))
def test_welding_closes_every_cut_and_keeps_the_source_map(seed, copies):
    points, faces = torn(seed, copies)
    character, store = one_part(points, faces)
    welded = Weld(part="thing").apply(character, store)
    after, lists = mesh_of(welded, store)
    assert len(after) == 42
    assert len(np.unique(after.round(9), axis=0)) == 42
    source = source_of(welded, store)
    assert np.array_equal(points[source], after)  # each vertex is one of the delivered ones
    assert np.array_equal(np.sort(source), source)  # and their order is kept
    old = [points[f] for f in faces.lists()]
    assert all(np.array_equal(a, after[b]) for a, b in zip(old, lists, strict=True))
    with pytest.raises(BadRequest, match="No vertices"):
        Weld(part="thing").apply(welded, store)


def test_welding_takes_the_source_map_of_an_earlier_repair_along():
    points, faces = torn(3, 4)
    points = np.vstack([points[:5], [[9, 9, 9]], points[5:]])
    faces = Polygons.from_lists([[v + (v >= 5) for v in f] for f in faces.lists()])
    character, store = one_part(points, faces)
    cleaned = Weld(part="thing").apply(RemoveLoose(part="thing").apply(character, store), store)
    assert np.array_equal(points[source_of(cleaned, store)], mesh_of(cleaned, store)[0])


def test_welding_so_wide_that_nothing_is_left_is_refused():
    character, store = one_part(*grid(2, 2, 0.1))
    with pytest.raises(BadRequest, match="would leave no face"):
        Weld(part="thing", tolerance_mm=10).apply(character, store)


def test_faces_that_welding_collapses_go():
    points, faces = grid(3, 1)
    points[1, 0] = 0.0005  # as good as on its neighbour
    character, store = one_part(points, faces)
    _, lists = mesh_of(Weld(part="thing", tolerance_mm=0.01).apply(character, store), store)
    assert [len(f) for f in lists] == [3, 4, 4]


def test_loose_vertices_go_and_the_rest_moves_up():
    points, faces = grid(2, 2)
    holed = np.insert(points, [0, 4, 9], [[7, 7, 7]], axis=0)
    character, store = one_part(holed, Polygons.from_lists([[v + 1 + (v >= 4) for v in f] for f in faces.lists()]))
    cleaned = RemoveLoose(part="thing").apply(character, store)
    assert np.array_equal(mesh_of(cleaned, store)[0], points)
    assert mesh_of(cleaned, store)[1] == faces.lists()
    assert source_of(cleaned, store).tolist() == [1, 2, 3, 4, 6, 7, 8, 9, 10]
    with pytest.raises(BadRequest, match="nothing to remove"):
        RemoveLoose(part="thing").apply(cleaned, store)


def test_weights_shapes_sets_and_colours_follow_a_renumbering():
    points, faces = grid(2, 1)
    holed = np.insert(points, 2, [[7, 7, 7]], axis=0)
    shifted = Polygons.from_lists([[v + (v >= 2) for v in f] for f in faces.lists()])
    store = MemoryStore()
    part = make_part(store, "thing", "skin", holed, shifted, colours=np.linspace(0, 1, 21).reshape(7, 3))
    part = replace(part, sets={"rim": store.put(np.array([1, 3, 6], np.int32))})
    weights = np.linspace(0.1, 0.9, 7)
    bones = tuple(Bone(n, n, None, (0, 0, 0), (0, 1, 0)) for n in ("a", "b"))
    bound = Binding("thing", "weighted", make_influences(store, ["a", "b"], np.stack([weights, 1 - weights], axis=1)))
    offsets = np.zeros((7, 3))
    offsets[[0, 4, 6]] = [[1, 0, 0], [0, 2, 0], [0, 0, 3]]
    character = Character(
        About("T"), (part,), bones=bones, bindings=(bound,), shapes=(Shape("s", "S", (make_delta(store, "thing", offsets),)),)
    )
    cleaned = RemoveLoose(part="thing").apply(character, store)
    kept = [0, 1, 3, 4, 5, 6]
    after = find_part(cleaned, "thing")
    assert np.allclose(dense_weights(store, cleaned.bindings[0].influences, ["a", "b"], 6)[:, 0], weights[kept], atol=1e-6)
    delta = cleaned.shapes[0].deltas[0]
    assert store.get(delta.vertices).tolist() == [0, 3, 5]
    assert store.get(delta.offsets).tolist() == [[1, 0, 0], [0, 2, 0], [0, 0, 3]]
    assert store.get(after.sets["rim"]).tolist() == [1, 2, 5]
    assert np.array_equal(store.get(after.colours), store.get(part.colours)[kept])


@settings(max_examples=30, deadline=None)
@given(st.sets(st.integers(0, 29), min_size=1, max_size=11))
def test_turning_faces_puts_right_whichever_fewer_were_wrong(wrong):
    points, faces = ball(2, 6, 6)
    lists = [f[::-1] if k in wrong else f for k, f in enumerate(faces.lists())]
    character, store = one_part(points, Polygons.from_lists(lists))
    turned = TurnFaces(part="thing").apply(character, store)
    part = find_part(turned, "thing")
    after = Piece(part, np.arange(len(points)), points, polygons(store, part))
    assert len(flipped_faces(after)) == 0
    as_set = lambda rows: [tuple(np.roll(f, -int(np.argmin(f)))) for f in rows]  # noqa: E731
    assert as_set(after.polygons.lists()) == as_set(faces.lists())
    with pytest.raises(BadRequest, match="look the right way"):
        TurnFaces(part="thing").apply(turned, store)


def test_smoothing_moves_the_picked_vertices_only_and_makes_a_plane_of_a_plane():
    points, faces = grid(10, 10)
    picked = [36, 37, 38, 47, 48, 49, 58, 59, 60]
    rough = points.copy()
    rough[picked] += np.random.default_rng(0).normal(scale=0.6, size=(9, 3))
    character, store = one_part(rough, faces)
    smooth, _ = mesh_of(SmoothPatch(part="thing", vertices=picked).apply(character, store), store)
    rest = np.setdiff1d(np.arange(len(points)), picked)
    assert np.array_equal(smooth[rest], rough[rest])
    assert np.abs(smooth - points).max() < 1e-9  # an even sheet is the fairest through its own border


def test_a_smoothed_ball_stays_close_to_the_ball():
    points, faces = ball(5, 32, 24)
    picked = np.flatnonzero(np.linalg.norm(points - [5, 0, 0], axis=1) < 1.6)
    smooth = faired(points, faces, picked)
    assert np.abs(np.linalg.norm(smooth, axis=1) - 5).max() < 0.05
    again = faired(smooth, faces, picked)
    assert np.abs(again - smooth).max() < 1e-9  # what stood in the patch plays no part


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (SmoothPatch(part="thing", vertices=[500]), "500 is out of range"),
        (SmoothPatch(part="thing", vertices=[-1]), "-1 is out of range"),
        (SmoothPatch(part="thing", vertices=list(range(9))), "no border"),
        (MakeSymmetric(part="thing", from_side="L"), "no part of kind skin"),
        (Rename(part="hat", name="cap"), "no part called “hat”"),
        (Rename(part="thing", name="thing"), "already"),
        (RemovePart(part="thing"), "only part"),
        (BakeTransform(part="thing"), "no hidden transform"),
        (CentrePivot(parts=["thing"]), "no eye"),
        (SplitIslands(part="thing"), "one piece"),
        (SetUnits(unit="cm"), "1 cm already"),
        (SetLimit(limit="beauty", value=1), "no limit “beauty”"),
        (SetLimit(limit="lip_gap", value=50), "out of range"),
        (SetLimit(limit="lip_gap"), "no limit “lip_gap” of its own"),
        (Unwaive(check="quads"), "not marked as intended"),
    ],
)
def test_repairs_that_do_not_fit_are_refused_in_words(edit, said):
    character, store = one_part(*grid(2, 2))
    with pytest.raises(BadRequest, match=said):
        edit.apply(character, store)


def test_a_head_made_symmetric_is_so_to_the_bit_and_stays_so(raw_heads):
    character, store = character_of(raw_heads["maren"])
    skin = character.parts[0]
    points = np.array(store.get(skin.points))
    dented = points.copy()
    side = np.flatnonzero((points[:, 0] < -3) & (points[:, 2] > 0))[:60]
    dented[side] += np.random.default_rng(1).normal(scale=0.03, size=(60, 3))
    spoiled = replace(character, parts=(replace(skin, points=store.put(dented)), *character.parts[1:]))
    assert check_in(spoiled, store).of("symmetry_positions").verdict != "fine"
    mended = MakeSymmetric(part="skin", from_side="L").apply(spoiled, store)
    assert check_in(mended, store).of("symmetry_positions").verdict == "fine"
    assert np.abs(np.asarray(store.get(mended.parts[0].points)) - points).max() < 1e-6
    kept = MakeSymmetric(part="skin", from_side="L", tolerance_mm=0.3).apply(spoiled, store)
    moved = np.linalg.norm(np.asarray(store.get(kept.parts[0].points)) - dented, axis=1) * 10
    assert 0 < moved.max() <= 0.3 + 1e-9  # what lies farther apart is meant


def test_units_and_their_opposite_give_the_head_back(raw_heads):
    character, store = character_of(raw_heads["pim"], unit_cm=1.0)
    larger = SetUnits(unit="inch").apply(character, store)
    assert check_in(larger, store).of("size").said.startswith("44.9 cm")
    back = SetUnits(unit="cm").apply(larger, store)
    for one, other in zip(character.parts, back.parts, strict=True):
        assert np.abs(np.asarray(store.get(one.points)) - store.get(other.points)).max() < 1e-12


def test_a_mesh_of_everything_splits_into_the_parts_it_was_made_of(raw_heads):
    head = in_one_mesh(raw_heads["maren"])
    character, store = character_of(head)
    split = SplitIslands(part="head").apply(character, store)
    kinds = [p.kind for p in split.parts]
    for kind, count in (("skin", 1), ("eye", 2), ("tongue", 1), ("teeth upper", 1), ("teeth lower", 1)):
        assert kinds.count(kind) == count, (kind, kinds)
    whole = head.parts[0].points
    sources = np.concatenate([source_of(split, store, p.name) for p in split.parts])
    assert np.array_equal(np.sort(sources), np.arange(len(whole)))
    for p in split.parts:
        source = source_of(split, store, p.name)
        assert np.array_equal(np.sort(source), source), p.name
        assert np.array_equal(whole[source], store.get(p.points)), p.name


def _parts_spoken_of(character: Character) -> set[str | None]:
    """Every part that bindings, shapes, seams and reliefs name."""
    bound, moved = [b.part for b in character.bindings], [d.part for s in character.shapes for d in s.deltas]
    return {
        *bound,
        *moved,
        *(n for s in character.seams for n in (s.probe, s.solid)),
        *(n for r in character.eye_reliefs for n in (r.eye, r.skin)),
    }


def test_a_rename_reaches_everything_that_speaks_of_the_part(clean):
    store = MemoryStore(clean.store)
    renamed = Rename(part="teeth_lower", name="Lower jaw teeth").apply(clean.character, store)
    assert "teeth_lower" not in _parts_spoken_of(renamed)
    assert "Lower jaw teeth" in _parts_spoken_of(renamed)
    assert load_sections(dump_sections(renamed)) == renamed
    assert all(s.probe != "teeth_lower" for s in renamed.seams)
    back = Rename(part="Lower jaw teeth", name="teeth_lower").apply(renamed, store)
    assert back == clean.character


def test_a_part_that_is_taken_out_leaves_nothing_behind(clean):
    without = RemovePart(part="tongue").apply(clean.character, MemoryStore(clean.store))
    assert load_sections(dump_sections(without)) == without
    assert "tongue" in _parts_spoken_of(clean.character)
    assert "tongue" not in _parts_spoken_of(without)
    assert all(d.part != "tongue" for s in without.shapes for d in s.deltas)


def test_kind_pivot_transform_limit_and_waiver_are_set_and_described():
    character, store = one_part(*ball(1.2), kind="other")
    said = SetKind(part="thing", kind="eye")
    eye = said.apply(character, store)
    assert (eye.parts[0].kind, eye.parts[0].delivered.sure) == ("eye", 1.0)
    assert said.describe(eye) == "Said that Thing is eye"
    assert np.abs(np.array(CentrePivot(parts=["thing"]).apply(eye, store).parts[0].pivot)).max() < 1e-9
    hidden = replace(eye, parts=(replace(eye.parts[0], transform=(2.0, 0, 0, 0, 2.0, 0, 0, 0, 2.0)),))
    baked = BakeTransform(part="thing").apply(hidden, store)
    assert (baked.parts[0].transform, baked.parts[0].points) == (None, eye.parts[0].points)
    limited = SetLimit(limit="lip_gap", value=0.5).apply(eye, store)
    assert limits_with(limited.checkin.limits)["lip_gap"] == 0.5
    assert SetLimit(limit="lip_gap").apply(limited, store) == eye
    waived = Waive(check="quads", reason="  a stand-in  ").apply(eye, store)
    assert waived.checkin == CheckIn(waived={"quads": "a stand-in"})
    assert Unwaive(check="quads").apply(waived, store) == eye


def test_every_repair_that_check_in_offers_pim_can_be_done_and_helps(fresh):
    before = check_in(fresh.character, fresh.store)
    offered = [(c, r) for c in before.checks for r in c.repairs]
    assert {r.edit for _, r in offered} >= {
        "mesh.weld",
        "mesh.smooth_patch",
        "part.bake_transform",
        "eye.centre_pivot",
        "mesh.make_symmetric",
    }
    for check, repair in offered:
        assert repair.edit in EDITS
        store = MemoryStore(fresh.store)
        steps = parse_recipe(json.dumps([{"edit": repair.edit, "params": repair.params}]))
        after = check_in(apply_recipe(fresh.character, store, steps), store)
        if check.verdict == "fault":
            assert after.of(check.key).verdict == "fine", repair.text
        assert after.count("fault") <= before.count("fault"), repair.text


def test_the_border_of_a_sheet_is_never_smoothed_away():
    points, faces = cube()
    assert not boundary(faces, len(points)).any()
    character, store = one_part(points, faces)
    with pytest.raises(BadRequest, match="no border"):
        SmoothPatch(part="thing", vertices=list(range(8))).apply(character, store)
