"""Delivered files made into a character: archives, several files, kinds, units, progress and stopping."""

from __future__ import annotations

import io
import struct
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.checkin.kinds import guess_kinds, is_generic, kind_of_name
from tightseam.demo.cast import cast
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.model import CheckIn
from tightseam.document.progress import Cancelled, heard_by
from tightseam.document.units import UNITS
from tightseam.exchange.archive import unpacked
from tightseam.exchange.character_file import write_character
from tightseam.exchange.obj_write import write_obj
from tightseam.exchange.usd_write import write_usd
from tightseam.intake.take_in import take_in
from tightseam.intake.units import guess_unit

from tests.core.gltf_foreign import flat_shaded
from tests.core.heads import character_of, moved, without_hair
from tests.core.shapes import cube
from tests.core.usd_files import BOX, usda

TRIANGLE = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"


def zipped(files: dict[str, bytes], method: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


@pytest.fixture(scope="module")
def pim_obj(raw_heads) -> bytes:
    return write_obj(*character_of(without_hair(raw_heads["pim"]), unit_cm=1.0))


def test_files_of_all_kinds_together_make_one_character():
    points, faces = cube(0.1)
    files = {
        "head/skin.obj": TRIANGLE,
        "head/eyes.zip": zipped({"eye_L.glb": flat_shaded(points, faces).glb(), "readme.txt": b"x", "__MACOSX/._eye": b"x"}),
        "head/hair.usda": usda(BOX),
    }
    taken = take_in(files, MemoryStore()).character
    assert [p.name for p in taken.parts] == ["skin", "thing", "box"]
    assert [p.delivered.file for p in taken.parts] == ["head/skin.obj", "eye_L.glb", "head/hair.usda"]


def test_names_that_come_twice_are_told_apart():
    taken = take_in(
        {"a.obj": TRIANGLE.replace(b"f ", b"o eye\nf "), "b.obj": TRIANGLE.replace(b"f ", b"o eye\nf ")}, MemoryStore()
    ).character
    assert [p.name for p in taken.parts] == ["eye", "eye 2"]


def test_a_character_file_comes_back_as_it_was():
    store = MemoryStore()
    body = cast("body", store)
    assert take_in({"body.seam": write_character(body, store)}, MemoryStore()).character == body
    assert take_in({"any.zip": zipped({"body.seam": write_character(body, store)})}, MemoryStore()).character == body


@pytest.mark.parametrize("unit", ["cm", "m", "mm", "inch"])
@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_the_unit_is_guessed_from_the_size_of_the_head(raw_heads, name, unit):
    head = moved(raw_heads[name], lambda p: p / UNITS[unit])
    store = MemoryStore()
    taken = take_in({"head.obj": write_obj(*character_of(head))}, store).character
    assert taken.checkin.unit_cm == UNITS[unit]
    tall = max(np.ptp(np.asarray(store.get(p.points))[:, 1]) for p in taken.parts)
    assert tall == pytest.approx(np.ptp(raw_heads[name].parts[0].points[:, 1]), rel=1e-6)


def test_files_in_different_units_come_together(raw_heads):
    character, store = character_of(without_hair(raw_heads["pim"]), unit_cm=1.0)
    skin, rest = character.parts[0], character.parts[1:]
    files = {"rest.usdc": write_usd(replace(character, parts=rest), store), "skin.obj": write_obj(character, store, [skin])}
    metres = write_obj(replace(character, checkin=CheckIn(unit_cm=100.0)), store, [skin])
    for delivered in (files, files | {"skin.obj": metres}):
        taken_store = MemoryStore()
        taken = take_in(delivered, taken_store).character
        points = {p.name: np.asarray(taken_store.get(p.points)) for p in taken.parts}
        assert np.abs(points["skin"] - store.get(skin.points)).max() < 1e-5
        assert np.abs(points["eye_L"] - store.get(rest[0].points)).max() < 1e-5


def test_the_unit_of_a_head_without_eyes_is_guessed_from_its_height():
    skin = np.random.default_rng(0).uniform(size=(50, 3)) * [18, 26, 20]
    assert guess_unit({"skin": ("skin", skin)}) == "cm"
    assert guess_unit({"skin": ("skin", skin / 100)}) == "m"
    assert guess_unit({"nothing": ("other", np.zeros((3, 3)))}) == "cm"


@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_kinds_are_recognised_with_names_and_mostly_without(raw_heads, name):
    parts = raw_heads[name].parts
    truth = {p.name: p.kind for p in parts}
    named = guess_kinds({p.name: p.points for p in parts})
    assert {n: kind for n, (kind, _) in named.items()} == truth
    assert min(sure for _, sure in named.values()) >= 0.85
    nameless = guess_kinds({f"piece_{k}": p.points for k, p in enumerate(parts)})
    right = [nameless[f"piece_{k}"][0] == p.kind for k, p in enumerate(parts)]
    assert right[0]  # the skin
    assert np.mean(right) >= 0.85
    assert max(sure for kind, sure in nameless.values()) <= 0.7


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("eye_L", "eye"), ("LeftEyeball", "eye"), ("eyelash_upper", "lash"), ("eyeBrow_l", "brow"), ("upperTeeth", "teeth upper"),
        ("teeth_low", "teeth lower"), ("gums bottom", "teeth lower"), ("tongue01", "tongue"), ("hairBun", "hair"), ("beard", "whiskers"),
        ("Head", "skin"), ("face_geo", "skin"), ("torso", "body"), ("teeth", None), ("mesh12", None), ("", None), ("piece_3", None),
        ("teeth_group_low", "teeth lower"), ("bundle", None),
    ],
)  # fmt: skip
def test_names_say_what_a_part_is(name, kind):
    assert kind_of_name(name) == kind


@pytest.mark.parametrize(
    ("name", "generic"),
    [
        ("piece_12", True), ("mesh", True), ("Cube.001", True), ("", True), ("007", True),
        ("skin", False), ("lash2", False), ("tooth_1", False), ("coat button 3", False), ("visor", False),
    ],
)  # fmt: skip
def test_names_that_a_program_gave_are_told_from_a_persons(name, generic):
    assert is_generic(name) is generic


def test_progress_runs_from_nothing_to_all_and_stopping_stops(pim_obj):
    seen: list[float] = []
    with heard_by(lambda share, text: seen.append(share)):
        take_in({"a.obj": pim_obj, "b.obj": pim_obj}, MemoryStore())
    assert seen == sorted(seen)
    assert seen[0] == 0
    assert seen[-1] >= 0.8

    def stop(share: float, text: str) -> None:
        if share > 0.3:
            raise Cancelled

    with pytest.raises(Cancelled), heard_by(stop):
        take_in({"a.obj": pim_obj, "b.obj": pim_obj}, MemoryStore())


def bomb() -> bytes:
    return zipped({"skin.obj": b"v 0 0 0\n" * 20_000_000})


def with_wrong_size(data: bytes) -> bytes:
    """The size of the first file in the zip's directory made smaller than the file is."""
    at = data.index(b"PK\x01\x02")
    return data[: at + 24] + struct.pack("<I", 5) + data[at + 28 :]


@pytest.mark.parametrize(
    ("files", "said"),
    [
        ({}, "no head in nothing"),
        ({"notes.txt": b"hello"}, r"no head in \.txt"),
        ({"h.zip": b"PK\x03\x04"}, "not a zip"),
        ({"h.zip": zipped({"a.obj": TRIANGLE * 500})[:-40]}, "not a zip"),
        ({"h.zip": zipped({"../../evil.obj": TRIANGLE})}, "leads out of its folder"),
        ({"h.zip": zipped({"/etc/evil.obj": TRIANGLE})}, "leads out of its folder"),
        ({"h.zip": zipped({"a\\..\\..\\evil.obj": TRIANGLE})}, "leads out of its folder"),
        ({"h.zip": zipped({"c:/evil.obj": TRIANGLE})}, "leads out of its folder"),
        ({"../evil.obj": TRIANGLE}, "leads out of its folder"),
        ({"h.zip": bomb()}, "would unpack to 160 MB"),
        ({"h.zip": zipped({f"{k}.obj": b"" for k in range(2500)})}, "2000 are the most"),
        ({"h.zip": with_wrong_size(zipped({"a.obj": TRIANGLE * 100}, zipfile.ZIP_STORED))}, "cannot be unpacked|larger than it says"),
        ({"h.obj": TRIANGLE.replace(b"1 0 0", b"1e9 0 0")}, "check the units"),
        ({"h.glb": b"glTF" + b"\0" * 60}, "version 0"),
        ({"h.seam": b"nothing"}, "not a character file"),
    ],
)  # fmt: skip
def test_deliveries_that_are_wrong_are_refused_in_words(files, said):
    with pytest.raises(BadDocument, match=said):
        take_in(files, MemoryStore())


def test_an_archive_is_unpacked_once_and_hidden_files_are_left_out():
    inner = zipped({"deep.obj": TRIANGLE})
    found = unpacked({"a.zip": zipped({"x/skin.obj": TRIANGLE, ".hidden": b"", "inner.zip": inner}), "b.obj": TRIANGLE})
    assert set(found) == {"x/skin.obj", "inner.zip", "b.obj"}


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(["a.obj", "a.glb", "a.gltf", "a.usda", "a.zip", "a.seam", "a.txt"]), st.binary(max_size=200))
def test_any_bytes_under_any_name_are_read_or_refused_in_words(name, data):
    try:
        assert take_in({name: data}, MemoryStore()).character.parts
    except TightSeamError as error:
        said = str(error)
    else:
        said = "taken in"
    assert said.strip()
