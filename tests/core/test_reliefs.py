"""Reliefs: what they move, what drives them, and what edits make of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.brush.brush import Brush, Dab
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import pulls
from tightseam.deform.reliefs import place_along
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.lookup import relief as find_relief
from tightseam.document.model import CurveKey
from tightseam.document.removal import without
from tightseam.document.rescale import rescaled
from tightseam.edits.relief_edits import AddPreset, AddRelief, CopyRelief, MoveRelief, RemoveRelief, SetRelief
from tightseam.edits.relief_region_edits import BakeRelief, PaintRegion, SetRegion, SmoothRegion
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.geometry.normals import vertex_normals
from tightseam.jaw.relief_stroke import ReliefPainting
from tightseam.jaw.reliefs import PRESETS, relief_values

from tests.head import Head, after

LINEAR = (CurveKey(0.0, 0.0), CurveKey(1.0, 1.0))
PATCH = [600, 601, 640, 641]


def moved(head: Head, values=None) -> np.ndarray:
    """How far the skin goes before lids and bones move it, (N, 3)."""
    stages = head.evaluator.stages(head.values(values))
    rows = head.evaluator.meshes.rows("skin")
    return (stages.raised - stages.shaped)[rows].astype(float)


@pytest.fixture
def patched(clean) -> Head:
    region = [1.0, 0.5, 0.25, 0.125]
    return after(clean, AddRelief(label="Patch", part="skin", vertices=PATCH, region=region, cm=0.4, control="smile", keys=LINEAR))


def test_it_goes_along_the_normal_by_its_amount_its_region_and_its_response(clean, patched):
    normals = vertex_normals(clean.rest("skin"), clean.evaluator.meshes.part_triangles[0])
    half = moved(patched, {"smile": 0.5})
    expected = 0.5 * 0.4 * np.array([1, 0.5, 0.25, 0.125])[:, None] * normals[PATCH]
    assert np.abs(half[PATCH] - expected).max() < 1e-5
    others = np.setdiff1d(np.arange(len(half)), PATCH)
    assert (half[others] == 0).all()
    assert (moved(patched) == 0).all()


def test_a_response_begins_and_stops_where_its_keys_do(clean):
    keys = (CurveKey(0.3, 0.0), CurveKey(0.6, 1.0))
    head = after(clean, AddRelief(label="Late", part="skin", vertices=PATCH, soft=0, cm=0.2, control="smile", keys=keys))
    far = [np.abs(moved(head, {"smile": v})).max() for v in (0.2, 0.3, 0.6, 0.8, 1.0)]
    assert far[0] == far[1] == 0
    assert far[2] == pytest.approx(far[3]) == pytest.approx(far[4])
    assert far[2] > 0.15


def test_along_the_surface_it_stays_in_its_tangent_planes(clean):
    head = after(
        clean,
        AddRelief(
            label="Drag", part="skin", vertices=PATCH, soft=0, cm=0.3, direction="along", way=(0, 1, 0), control="smile", keys=LINEAR
        ),
    )
    normals = vertex_normals(clean.rest("skin"), clean.evaluator.meshes.part_triangles[0])
    offsets = moved(head, {"smile": 1.0})[PATCH]
    assert np.abs((offsets * normals[PATCH]).sum(axis=1)).max() < 1e-5
    assert (offsets[:, 1] > 0).all()


def test_a_profile_follows_the_line_from_the_right_ear_to_the_left(clean):
    head = after(clean, AddPreset(preset="under"))
    line = find_relief(head.character, "under").line
    place = place_along(line, np.array([line[0], line[2], line[-1]]))
    assert place == pytest.approx([-1, 0, 1], abs=0.02)
    keys = (CurveKey(-1, 0.0), CurveKey(0, 1.0), CurveKey(1, 2.0))
    head = after(head, SetRelief(name="under", profile=keys))
    far = np.linalg.norm(moved(head, {"jaw_open": 1.0}), axis=1)
    partner = np.argmin(np.linalg.norm(clean.rest("skin")[:, None] * [-1, 1, 1] - clean.rest("skin")[None, PATCH], axis=2), axis=0)
    assert len(partner) == 4
    sides = clean.rest("skin")[:, 0]
    assert far[sides > 0.3].max() > 1.05 * far[sides < -0.3].max()


@pytest.mark.parametrize("name", PRESETS)
@pytest.mark.parametrize("who", ["maren", "hob", "pim"])
def test_presets_come_from_landmarks_and_are_driven_by_the_opening(rigged, who, name):
    head = after(rigged[who], AddPreset(preset=name))
    made = head.character.reliefs
    assert len(made) == (2 if PRESETS[name].paired else 1)
    far = np.linalg.norm(moved(head, {"jaw_open": 1.0}), axis=1)
    assert 0.05 < far.max() < 0.6
    assert far[head.set("mouth_lining")].max() == 0
    assert np.abs(moved(head)).max() == 0
    if PRESETS[name].paired:
        left, right = (relief_values(head.character, head.store, r) for r in made)
        assert made[0].twin == made[1].name
        assert left.sum() == pytest.approx(right.sum(), rel=0.02)
    check_names(head.character)
    check_arrays(head.character, head.store)


def test_overlapping_ones_add_up_in_any_order_and_muted_ones_do_nothing(patched):
    two = after(patched, CopyRelief(name="relief"))
    assert np.abs(moved(two, {"smile": 1.0}) - 2 * moved(patched, {"smile": 1.0})).max() < 1e-6
    turned = after(two, MoveRelief(name="relief_2", before="relief"))
    assert [r.name for r in turned.character.reliefs] == ["relief_2", "relief"]
    assert np.abs(moved(turned, {"smile": 1.0}) - moved(two, {"smile": 1.0})).max() == 0
    muted = after(two, SetRelief(name="relief", muted=True))
    assert np.abs(moved(muted, {"smile": 1.0}) - moved(patched, {"smile": 1.0})).max() < 1e-6
    assert after(two, RemoveRelief(name="relief_2")).character == patched.character


def test_exaggerated_and_set_back_it_is_what_it_was(patched):
    three = after(patched, SetRelief(name="relief", exaggerate=3))
    assert np.abs(moved(three, {"smile": 1.0}) - 3 * moved(patched, {"smile": 1.0})).max() < 1e-5
    assert after(three, SetRelief(name="relief", exaggerate=1)).character == patched.character


def test_mirrored_twice_it_is_where_it_was(clean):
    head = after(clean, AddPreset(preset="cheek_lower"), SetRelief(name="cheek_lower_L", cm=-0.33, mirror=False))
    assert find_relief(head.character, "cheek_lower_R").cm != pytest.approx(-0.33)
    there = after(head, CopyRelief(name="cheek_lower_L", to="other side"))
    assert find_relief(there.character, "cheek_lower_R").cm == -0.33
    back = after(there, CopyRelief(name="cheek_lower_R", to="other side"))
    one, other = (relief_values(h.character, h.store, find_relief(h.character, "cheek_lower_L")) for h in (there, back))
    assert np.abs(one - other).max() < 1e-6
    both = moved(there, {"jaw_open": 1.0})
    assert both[:, 0].sum() == pytest.approx(0, abs=1e-3)


def test_baked_into_a_shape_nothing_moves(patched):
    baked = after(patched, BakeRelief(name="relief"))
    assert not baked.character.reliefs
    for value in (0.0, 0.4, 1.0):
        one, other = (h.evaluator.points(h.values({"smile": value, "jaw_open": 0.5})) for h in (patched, baked))
        assert np.abs(one - other).max() < 1e-5


def test_painted_drawn_live_or_replayed_the_region_is_the_same(patched):
    at = patched.rest("skin")[600]
    dabs = [Dab(600, tuple(at), "add"), Dab(600, tuple(at), "smooth")]
    edit = PaintRegion(painting=ReliefPainting("relief", Brush(radius=3.0, strength=0.5), {"smile": 1.0}), dabs=dabs)
    one, other = (after(patched, edit) for _ in range(2))
    assert one.character == other.character
    values = relief_values(one.character, one.store, find_relief(one.character, "relief"))
    assert (values > 0).sum() > len(PATCH)
    with pytest.raises(BadRequest, match="out of range"):
        after(patched, PaintRegion(painting=edit.painting, dabs=[Dab(10**6, tuple(at), "add")]))


def test_a_region_is_set_and_smoothed(patched):
    whole = after(patched, SetRegion(name="relief", vertices=PATCH, value=1.0))
    values = relief_values(whole.character, whole.store, find_relief(whole.character, "relief"))
    assert (values[PATCH] == 1).all()
    soft = relief_values(*(lambda h: (h.character, h.store, find_relief(h.character, "relief")))(after(whole, SmoothRegion(name="relief"))))
    assert soft[PATCH].min() > 0
    assert soft.max() < 1
    assert (soft > 0).sum() > 4


def test_the_pull_list_names_it(patched):
    found = pulls(patched.evaluator, "skin", [600], patched.values({"smile": 1.0, "jaw_open": 0.7}))
    own = next(p for p in found if p.kind == "relief")
    assert (own.label, own.lengths[0]) == ("Patch", pytest.approx(4.0, abs=0.01))


def test_it_comes_back_from_files_and_grows_with_its_head(clean):
    head = after(clean, AddPreset(preset="under"), SetRelief(name="under", profile=(CurveKey(-1, 0.5), CurveKey(1, 1.5))))
    for write, read in ((write_character, read_character), (write_glb, read_glb)):
        store = MemoryStore()
        back = read(write(head.character, head.store), store)
        again = Evaluator(back, store)
        values = head.values({"jaw_open": 1.0})
        assert back.reliefs[0].profile == head.character.reliefs[0].profile
        assert np.abs(again.points(values) - head.evaluator.points(values)).max() < 2e-4
    store = MemoryStore(head.store)
    double = Evaluator(rescaled(head.character, store, 2.0), store)
    values = head.values({"jaw_open": 1.0, "jaw_side": 1.0})
    assert np.abs(double.points(values) - 2 * head.evaluator.points(values)).max() < 2e-3


def test_it_goes_with_its_part(clean):
    head = after(clean, AddPreset(preset="under"))
    bare = without(head.character, "part", {"skin"})
    assert not bare.reliefs
    assert not bare.lips
    check_names(bare)


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (AddRelief(label="x", part="skin", vertices=[10**7], soft=0), "out of range"),
        (AddRelief(label="x", part="skin", vertices=[1, 2], region=[0.5], soft=0), "2 vertices do not fit 1 values"),
        (AddRelief(label="x", part="skin", vertices=[1], direction="along", soft=0), "needs a way to go"),
        (AddRelief(label="x", part="nose", vertices=[1]), "no part called"),
        (AddRelief(label="x", part="skin", vertices=[1], soft=0, keys=(CurveKey(0, 0), CurveKey(0, 1))), "one after another"),
        (AddRelief(label="x", part="skin", vertices=[1], soft=0, control="nothing"), "no control called"),
        (SetRelief(name="cheek"), "no relief called"),
        (CopyRelief(name="cheek"), "no relief called"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, says):
    with pytest.raises(BadRequest, match=says):
        after(clean, edit)


def test_a_document_with_a_broken_relief_is_refused(patched):
    broken = replace(patched.character.reliefs[0], direction="along")
    with pytest.raises(BadDocument, match="which way"):
        check_names(replace(patched.character, reliefs=(broken,)))
    store = MemoryStore(patched.store)
    wild = replace(patched.character.reliefs[0], region=store.put(np.array([2, 0, 0, 0], np.float32)))
    with pytest.raises(BadDocument, match="outside 0 to 1"):
        check_arrays(replace(patched.character, reliefs=(wild,)), store)
