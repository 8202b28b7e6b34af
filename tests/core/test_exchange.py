"""Files out and back: whole, to the bit where it is promised, and hostile ones refused."""

from __future__ import annotations

import contextlib
import io
import json
import struct
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, BadRequest, TightSeamError
from tightseam.edits.bone_weight_edits import SetWeights
from tightseam.edits.registry import apply_recipe, parse_recipe
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_container import GlbReader, GlbWriter
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb

from tests.core.glb_changed import with_tree, with_values
from tests.core.gltf_reader import PosedGlb
from tests.head import Head


@pytest.fixture(scope="module")
def glb(faulty) -> bytes:
    return write_glb(faulty.character, faulty.store)


def test_a_character_file_comes_back_whole_and_gives_the_same_bytes(faulty, maren_file):
    store = MemoryStore()
    back = read_character(maren_file, store)
    assert back == faulty.character
    assert write_character(back, store) == maren_file


def test_a_glb_of_ours_comes_back_as_the_same_character(faulty, glb):
    store = MemoryStore()
    back = read_glb(glb, store)
    for section in ("about", "landmarks", "bones", "controls", "seams", "poses"):
        assert getattr(back, section) == getattr(faulty.character, section)
    head = Head(back, store)
    for part in faulty.character.parts:
        assert np.abs(head.rest(part.name) - faulty.rest(part.name)).max() < 1e-5
        assert head.polygons(part.name).lists() == faulty.polygons(part.name).lists()
    for name in ("lid_upper_margin_L", "mouth_lining"):
        assert np.array_equal(head.set(name), faulty.set(name))
    values = {"jaw_open": 0.8, "smile": 0.5, "blink_L": 1, "gaze_height": 20}
    assert np.abs(head.evaluator.points(head.values(values)) - faulty.evaluator.points(faulty.values(values))).max() < 1e-4


def test_bones_with_axes_of_their_own_are_posed_the_same_by_an_independent_reader(clean):
    """Rolled bones, turned and moved by their own controls: joints carry their axes, and the animation their moves."""
    store = MemoryStore(clean.store)
    own = {"jaw.turn_x": 12, "jaw.move_z": 0.6, "head.turn_z": 14, "eye_L.turn_y": 9}
    steps = [
        {"edit": "bone.place", "params": {"bone": "jaw", "roll": 25}},
        {"edit": "bone.place", "params": {"bone": "head", "roll": -40}},
        {"edit": "bones.set_export_names", "params": {"names": {"jaw": "Mandible"}}},
        {"edit": "pose.keep", "params": {"label": "Own", "values": own}},
    ]
    character = apply_recipe(clean.character, store, parse_recipe(json.dumps(steps)))
    head = Head(character, store)
    reader = PosedGlb(write_glb(character, store))
    assert "Mandible" in [n["name"] for n in reader.tree["nodes"]]
    for second in (1, len(character.poses) - 1):
        posed = reader.at(second)
        for part in ("skin", "teeth_lower", "eye_L", "hair"):
            expected = head.posed(part, character.poses[second].values)
            assert np.abs(posed[part] * 100 - expected).max() < 0.002, (second, part)
    back = read_glb(write_glb(character, store), MemoryStore())
    assert back.bones == character.bones
    assert back.skeleton == character.skeleton


def test_weights_hang_on_the_right_joints_where_there_are_more_than_a_byte_can_number(clean):
    """300 bones on the jaw, and the chin carried by that of them whose number, cut to a byte, is the head's."""
    store = MemoryStore(clean.store)
    jaw = next(b for b in clean.character.bones if b.name == "jaw")
    more = tuple(replace(jaw, name=f"bump_{k}", label=f"Bump {k}", parent="jaw", twin=None) for k in range(300))
    chin = np.flatnonzero(np.linalg.norm(clean.rest("skin") - jaw.tip, axis=1) < 1.5).tolist()
    assert chin
    character = replace(clean.character, bones=(*clean.character.bones, *more))
    bump = character.bones[256 + next(k for k, b in enumerate(character.bones) if b.name == "head")]
    character = SetWeights(part="skin", vertices=chin, bone=bump.name, value=1.0).apply(character, store)
    head, glb = Head(character, store), write_glb(character, store)
    posed = PosedGlb(glb).at(1)["skin"]
    assert np.abs(posed * 100 - head.posed("skin", character.poses[1].values)).max() < 0.002
    back = MemoryStore()
    again = Head(read_glb(glb, back), back)
    assert np.abs(again.posed("skin", character.poses[1].values) - head.posed("skin", character.poses[1].values)).max() < 1e-4


@pytest.mark.parametrize("second", range(10))
def test_an_independent_reader_poses_the_glb_within_two_hundredths_of_a_millimetre(faulty, glb, second):
    posed = PosedGlb(glb).at(second)
    pose = faulty.character.poses[second]
    for part in faulty.character.parts:
        expected = faulty.posed(part.name, pose.values)
        assert np.abs(posed[part.name] * 100 - expected).max() < 0.002, (pose.name, part.name)


def test_no_vertex_of_the_glb_has_more_than_four_influences_that_sum_to_one(glb):
    reader = GlbReader(glb)
    for mesh in reader.tree["meshes"]:
        weights = reader.array(mesh["primitives"][0]["attributes"]["WEIGHTS_0"], 4, "weights")
        assert np.abs(weights.sum(axis=1) - 1).max() < 1e-6


def test_an_export_that_would_lie_is_refused_with_the_vertices(clean):
    store = MemoryStore(clean.store)
    broken = SetWeights(part="skin", vertices=[7, 8], bone="jaw", value=0.5, keep_total=False).apply(clean.character, store)
    with pytest.raises(BadRequest, match="2 vertices of skin do not add up to 1, the first is 7"):
        write_glb(broken, store)


def rezipped(data: bytes, change) -> bytes:
    source, out = zipfile.ZipFile(io.BytesIO(data)), io.BytesIO()
    files = {name: source.read(name) for name in source.namelist()}
    change(files)
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def _first_array(files: dict[str, bytes]) -> str:
    return next(name for name in files if name.startswith("arrays/"))


def _set(files: dict[str, bytes], name: str, content: bytes) -> None:
    files[name] = content


HUGE_HEADER = b"\x93NUMPY\x01\x00v\x00{'descr': '<f8', 'fortran_order': False, 'shape': (99999999999, 3), }" + b" " * 40 + b"\n"
PICKLE = (
    b"\x93NUMPY\x01\x00v\x00{'descr': '|O', 'fortran_order': False, 'shape': (1,), }" + b" " * 56 + b"\n" + b"cos\nsystem\n(S'true'\ntR."
)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda f: f.pop("manifest.json"), "not a whole character file"),
        (lambda f: f.pop("sections/bones.json"), "“bones” is missing"),
        (lambda f: f.pop(_first_array(f)), "is missing from the file"),
        (lambda f: _set(f, "manifest.json", b'{"format": "other"}'), "not a Tight Seam character"),
        (lambda f: _set(f, "manifest.json", b'{"format": "tight-seam-character", "version": 9}'), "version 9"),
        (lambda f: _set(f, "manifest.json", b"[]"), "not a Tight Seam character"),
        (lambda f: _set(f, _first_array(f), b"not an array"), "cannot be read"),
        (lambda f: _set(f, _first_array(f), HUGE_HEADER), "cannot be read|damaged"),
        (lambda f: _set(f, _first_array(f), PICKLE), "cannot be read"),
        (lambda f: _set(f, _first_array(f), f[_first_array(f)][:-8] + b"\x00" * 7 + b"\x01"), "the file is damaged"),
        (lambda f: _set(f, "sections/parts.json", b"\xff\xfe"), "“parts” is not as it should be"),
        (lambda f: _set(f, "sections/parts.json", b"[" * 5000), "“parts” is not as it should be"),
    ],
)
def test_character_files_that_are_wrong_are_refused_in_words(maren_file, change, said):
    with pytest.raises(BadDocument, match=said):
        read_character(rezipped(maren_file, change), MemoryStore())


def test_a_zip_bomb_is_refused_before_it_is_unpacked(maren_file):
    def bomb(files):
        files["sections/padding.json"] = b"0" * (513 * 1024 * 1024)

    source, out = zipfile.ZipFile(io.BytesIO(maren_file)), io.BytesIO()
    files: dict[str, bytes] = {}
    bomb(files)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in source.namelist():
            archive.writestr(name, source.read(name))
        for name, content in files.items():
            archive.writestr(name, content)
    with pytest.raises(BadDocument, match="540 MB from"):
        read_character(out.getvalue(), MemoryStore())


EXTRAS = ("extras", "tightSeam")


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda d: b"solid cube", "not a GLB"),
        (lambda d: d[:30], "cut off"),
        (lambda d: d[:-1000], "cut off"),
        (lambda d: d[:4] + struct.pack("<I", 1) + d[8:], "version 1"),
        (lambda d: with_values(d, "POSITION", float("nan")), "not finite"),
        (lambda d: with_values(d, "POSITION", 1e30), "check the units"),
        (lambda d: with_values(d, "WEIGHTS_0", 0.4), "do not add up to 1; vertex 0"),
        (lambda d: with_tree(d, lambda t: t.pop("extras")), "not written by Tight Seam"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"].update(version=7)), "version"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["parts"][0].update(sizes=[], corners=[])), "no polygons"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["parts"][0].update(corners=[10**6] * 13184)), "out of range"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["parts"][0].update(corners=[10**15] * 13184)), "hold together"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["parts"][0].update(kind="wheel")), "hold together|not as it should"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["parts"][0].update(name="nobody")), "no mesh for the part “nobody”"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"].pop("sections")), "hold together"),
        (lambda d: with_tree(d, lambda t: t["accessors"][0].update(count=10**9)), "cannot be"),
        (lambda d: with_tree(d, lambda t: t["accessors"][0].update(count=-1)), "does not read"),
        (lambda d: with_tree(d, lambda t: t["accessors"][0].update(componentType=77)), "does not read"),
        (lambda d: with_tree(d, lambda t: t["accessors"][0].update(bufferView=10**6)), "not there"),
        (lambda d: with_tree(d, lambda t: t.update(meshes={"a": 1})), "not there|hold together"),
        (lambda d: with_tree(d, lambda t: t["extras"]["tightSeam"]["sections"].update(bones=[])), "speak of bone"),
    ],
)
def test_glbs_that_are_wrong_are_refused_in_words(glb, spoil, said):
    with pytest.raises(BadDocument, match=said):
        read_glb(spoil(glb), MemoryStore())


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_a_glb_with_random_bytes_changed_is_read_or_refused_never_worse(glb, seed):
    rng = np.random.default_rng(seed)
    spoiled = bytearray(glb)
    start = int(rng.choice([12, 20, 2000, len(glb) // 2]))
    for at in rng.integers(start, min(start + 4000, len(glb)), 12):
        spoiled[at] = rng.integers(0, 256)
    with contextlib.suppress(TightSeamError):
        assert read_glb(bytes(spoiled), MemoryStore()).parts


@settings(max_examples=40, deadline=None)
@given(st.binary(max_size=400))
def test_any_bytes_are_refused_in_words(data):
    for read in (read_glb, read_character):
        with pytest.raises(TightSeamError):
            read(data, MemoryStore())


def test_the_container_gives_arrays_back():
    writer = GlbWriter()
    rows = np.arange(12, dtype=np.float32).reshape(4, 3)
    number = writer.add(rows, bounds=True)
    odd = writer.add(np.array([1, 2, 3], np.uint8))
    reader = GlbReader(writer.pack({"asset": {"version": "2.0"}}))
    assert np.array_equal(reader.array(number, 3, "rows"), rows)
    assert reader.array(odd, 1, "bytes").tolist() == [1, 2, 3]
    assert reader.tree["accessors"][number]["max"] == [9, 10, 11]
    with pytest.raises(BadDocument, match="does not fit"):
        reader.array(number, 4, "rows")
