"""USD in and out: polygons, skins and blend shapes, units and the way up; nothing read that did not come along."""

from __future__ import annotations

import contextlib
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Gf, Usd, UsdGeom
from scipy.spatial.transform import Rotation
from tightseam.bake.lids import with_lids_baked
from tightseam.bake.mouth import with_mouth_baked
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights
from tightseam.document.model import About, Bone, Character, Shape
from tightseam.exchange.usd_read import read_usd
from tightseam.exchange.usd_write import write_usd
from tightseam.intake.take_in import take_in
from tightseam.landmarks.bones.maker import turn_of

from tests.core.heads import character_of
from tests.core.shapes import cube
from tests.core.usd_files import BOX, usda


@pytest.fixture(scope="module")
def rigged(clean):
    """Clean Maren, out to USD and back in."""
    store = MemoryStore()
    return take_in({"maren.usdc": write_usd(clean.character, clean.store)}, store).character, store


def test_polygons_points_and_names_come_back(clean, rigged):
    taken, store = rigged
    assert [p.name for p in taken.parts] == [p.name for p in clean.character.parts]
    for ours, theirs in zip(clean.character.parts, taken.parts, strict=True):
        assert polygons(store, theirs).lists() == clean.polygons(ours.name).lists()
        assert np.abs(np.asarray(store.get(theirs.points)) - clean.rest(ours.name)).max() < 4e-6  # single precision


def test_the_skin_and_the_shapes_come_back(clean, rigged):
    taken, store = rigged
    assert {(b.name, b.parent) for b in taken.bones} == {(b.name, b.parent) for b in clean.character.bones}
    heads = {b.name: b.base for b in clean.character.bones}
    assert all(np.allclose(b.base, heads[b.name], atol=1e-5) for b in taken.bones)
    names = [b.name for b in clean.character.bones]
    for part in ("skin", "tongue"):
        ours, theirs = (next(b for b in c.bindings if b.part == part) for c in (clean.character, taken))
        count = len(clean.rest(part))
        difference = dense_weights(clean.store, ours.influences, names, count) - dense_weights(store, theirs.influences, names, count)
        assert np.abs(difference).max() < 2e-5
    baked = with_lids_baked(with_mouth_baked(clean.character, clean.store), clean.store)
    assert {s.name for s in taken.shapes} == {s.name for s in baked.shapes} >= {"smile", "blink_L", "squint", "lip_seal_L"}
    for name in ("smile", "blink_L"):
        ours, theirs = (next(s for s in c.shapes if s.name == name) for c in (baked, taken))
        delta = {d.part: d for d in theirs.deltas}
        for d in ours.deltas:
            assert np.array_equal(clean.store.get(d.vertices), store.get(delta[d.part].vertices))
            assert np.abs(np.asarray(clean.store.get(d.offsets)) - store.get(delta[d.part].offsets)).max() < 1e-6


NAMES = st.lists(st.text(st.characters(exclude_categories=("C", "Z")), min_size=1, max_size=6), min_size=2, max_size=6)


@settings(max_examples=25)
@given(NAMES)
def test_names_that_usd_knows_no_letters_for_are_kept_and_lose_no_shape(clean, names):
    """“mouth.L” beside “mouth_L”, and whatever people write: each comes back with its own name and what it does."""
    store, own = MemoryStore(clean.store), list(dict.fromkeys(["mouth.L", "mouth_L", "Mündung", "M_ndung", *names]))
    delta = next(s for s in clean.character.shapes if s.name == "smile").deltas[0]
    offsets = {name: np.asarray(store.get(delta.offsets)) * (k + 1) / 10 for k, name in enumerate(own)}
    shapes = tuple(Shape(name, name, (replace(delta, offsets=store.put(offsets[name].astype(np.float32))),)) for name in own)
    skin = next(p for p in clean.character.parts if p.kind == "skin")
    mesh = read_usd(write_usd(Character(About("A"), (skin,), shapes=shapes), store), "a.usdc").meshes[0]
    assert mesh.name == skin.name
    assert set(mesh.targets) == set(own)
    rows = np.asarray(store.get(delta.vertices))
    for name in own:
        assert np.abs(mesh.targets[name][rows] - offsets[name]).max() < 1e-6


def test_parts_and_bones_whose_names_come_out_alike_are_all_there(clean):
    store = MemoryStore(clean.store)
    eye = next(p for p in clean.character.parts if p.name == "eye_L")
    parts = tuple(replace(eye, name=name) for name in ("eye.L", "eye_L", "eye L"))
    bones = tuple(Bone(n, n, None if k == 0 else "b.0", (0, k, 0), (0, k + 1, 0)) for k, n in enumerate(("b.0", "b_0", "b-0")))
    found = read_usd(write_usd(Character(About("A"), parts, bones=bones), store), "a.usdc")
    assert [m.name for m in found.meshes] == [p.name for p in parts]
    assert [j.name for j in found.joints] == [b.name for b in bones]


def test_bones_come_back_with_the_axes_they_have(clean):
    bones = tuple(replace(b, axes=turn_of(Rotation.random(random_state=k).as_matrix())) for k, b in enumerate(clean.character.bones))
    data = write_usd(replace(clean.character, bones=bones), clean.store)
    taken = take_in({"maren.usdc": data}, MemoryStore()).character
    assert [b.name for b in taken.bones] == [b.name for b in bones]
    for ours, theirs in zip(bones, taken.bones, strict=True):
        assert np.allclose(theirs.axes, ours.axes, atol=1e-6)
        assert np.allclose(theirs.base, ours.base, atol=1e-5)
        assert (theirs.parent, theirs.side, theirs.twin) == (ours.parent, ours.side, ours.twin)


@pytest.mark.parametrize(("metres", "centimetres"), [(0.01, 1), (1.0, 100), (0.001, 0.1), (0.0254, 2.54)])
def test_the_unit_of_the_stage_is_taken(metres, centimetres):
    store = MemoryStore()
    taken = take_in({"b.usda": usda(BOX, f'metersPerUnit = {metres}\n    upAxis = "Y"')}, store).character
    assert taken.checkin.unit_cm == pytest.approx(centimetres)
    assert np.asarray(store.get(taken.parts[0].points)).max() == pytest.approx(2 * centimetres)


def test_a_file_that_stands_along_z_is_turned_upright_and_says_so():
    found = read_usd(usda(BOX, 'metersPerUnit = 0.01\n    upAxis = "Z"'), "b.usda")
    assert found.meshes[0].points.tolist()[4] == [0, 2, 0]
    assert found.meshes[0].linear is None  # that is no hidden transform
    assert any("upright" in note for note in found.notes)


def test_transforms_are_applied_and_reported(tmp_path):
    path = str(tmp_path / "t.usdc")
    stage = Usd.Stage.CreateNew(path)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    group = UsdGeom.Xform.Define(stage, "/group")
    group.AddTranslateOp().Set(Gf.Vec3d(0, 5, 0))
    mesh = UsdGeom.Mesh.Define(stage, "/group/box")
    mesh.AddScaleOp().Set(Gf.Vec3f(2, 2, 2))
    points, faces = cube()
    mesh.CreatePointsAttr([Gf.Vec3f(*map(float, p)) for p in points])
    mesh.CreateFaceVertexCountsAttr(faces.sizes.tolist())
    mesh.CreateFaceVertexIndicesAttr(faces.corners.tolist())
    stage.GetRootLayer().Save()
    found = read_usd((tmp_path / "t.usdc").read_bytes(), "t.usdc").meshes[0]
    assert np.allclose(found.points, points * 2 + [0, 5, 0])
    assert np.allclose(found.linear, 2 * np.eye(3))
    assert np.allclose(found.pivot, [0, 5, 0])


def test_left_handed_faces_are_turned_round():
    body = BOX.replace("point3f[]", 'uniform token orientation = "leftHanded"\n    point3f[]')
    assert read_usd(usda(body), "b.usda").meshes[0].polygons.lists() == [[3, 2, 1, 0], [4, 3, 0]]


def test_layers_that_came_along_are_read_and_others_never():
    main = usda('def "head" (references = @parts/box.usda@</box>) {}')
    found = read_usd(main, "in/main.usda", {"in/main.usda": main, "in/parts/box.usda": usda(BOX)})
    assert len(found.meshes) == 1
    for address in ("parts/box.usda", "/etc/hostname", "../../../../etc/hostname", "../secret.usda"):
        with pytest.raises(BadDocument, match="did not come along"):
            read_usd(usda(f'def "head" (references = @{address}@) {{}}'), "in/main.usda")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "cannot be read as USD"),
        (b"#usda 1.0\n(", "cannot be read as USD from line 2 on"),
        (b"PXR-USDC" + b"\x00" * 200, "cannot be read as USD"),
        (usda('def Xform "empty" {}'), "no meshes"),
        (usda(BOX.replace("[0, 1, 2, 3, 0, 3, 4]", "[0, 1, 2, 3, 0, 3, 99]")), "not there"),
        (usda(BOX.replace("[4, 3]", "[4, 2]")), "not there|fewer"),
        (usda(BOX.replace("[4, 3]", "[4, 30]")), "not there"),
        (usda(BOX.replace("(0,0,2)", "(0,0,inf)")), "finite"),
        (usda(BOX.replace("[4, 3]", "[]")), "no faces"),
    ],
)
def test_files_that_are_wrong_are_refused_in_words(data, said):
    with pytest.raises(BadDocument, match=said):
        read_usd(data, "bad.usda" if data[:5] == b"#usda" else "bad.usdc")


def test_a_binary_file_cut_off_anywhere_is_refused(raw_heads):
    whole = write_usd(*character_of(raw_heads["maren"]))
    for share in (0.2, 0.6, 0.95):
        with pytest.raises(BadDocument):
            read_usd(whole[: int(len(whole) * share)], "cut.usdc")


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_random_characters_changed_are_read_or_refused_never_worse(seed):
    rng = np.random.default_rng(seed)
    data = bytearray(usda(BOX))
    for at in rng.integers(10, len(data), 3):
        data[at] = rng.integers(32, 127)
    with contextlib.suppress(TightSeamError):
        assert read_usd(bytes(data), "x.usda").meshes
