"""OBJ in and out: order and polygons kept to the printed digit; what is wrong is said."""

from __future__ import annotations

import contextlib

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument
from tightseam.exchange.obj_read import read_obj
from tightseam.exchange.obj_write import write_obj
from tightseam.intake.take_in import take_in

from tests.core.heads import character_of, without_hair

TWO = b"""# two things
o left
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
f 1 2 3 4
o right hand
v 5 0 0
v 6 0 0
v 6 1 0
v 9 9 9
f -4/1/1 -3/2 -2//3
"""


def lines(data: bytes, word: str) -> list[str]:
    return [line for line in data.decode().splitlines() if line.startswith(word + " ")]


def test_objects_become_parts_in_their_order_with_the_map_to_the_file():
    meshes = read_obj(TWO, "two.obj").meshes
    assert [m.name for m in meshes] == ["left", "right hand"]
    assert meshes[0].polygons.lists() == [[0, 1, 2, 3]]
    assert meshes[1].points.tolist()[0] == [5, 0, 0]
    assert meshes[1].source.tolist() == [4, 5, 6, 7]  # the loose vertex stays with the object it was listed in
    assert [m.file_count for m in meshes] == [8, 8]


@pytest.mark.parametrize(
    ("text", "names"),
    [
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\ng a\nf 1 2 3\ng b\nf 3 2 1\n", ["a", "b"]),
        (b"o whole\nv 0 0 0\nv 1 0 0\nv 0 1 0\ng a\nf 1 2 3\ng b\nf 3 2 1\n", ["a", "b"]),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", ["plain"]),
        (b"g\nv 0 0 0\nv 1 0 0\nv 0 1 0\ng empty\ng full\nf 1 2 3\ng empty again\n", ["full"]),
        ("v 0 0 0\nv 1 0 0\nv 0 1 0\no Zähne ß\nf 1 2 3\n".encode(), ["Zähne ß"]),
        ("v 0 0 0\nv 1 0 0\nv 0 1 0\no Zähne\nf 1 2 3\n".encode("latin-1"), ["Zähne"]),
        (b"\xef\xbb\xbfv 0 0 0\r\nv 1 0 0\r\nv 0 1 0\r\no a\r\nf 1 \\\r\n 2 3\r\n", ["a"]),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl x\ns off\nl 1 2\np 1\nf 1 2 3\n", ["plain"]),
    ],
    ids=["groups", "groups of one object", "no names", "groups without faces", "UTF-8", "Latin-1", "Windows", "other lines"],
)
def test_names_and_odd_files(text, names):
    assert [m.name for m in read_obj(text, "plain.obj").meshes] == names


def test_an_object_keeps_its_colours():
    mesh = read_obj(b"v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 2\nf 1 2 3\n", "c.obj").meshes[0]
    assert mesh.colours.tolist() == [[1, 0, 0], [0, 1, 0], [0, 0, 1]]


@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_a_head_comes_back_in_the_same_order_to_the_printed_digit(raw_heads, name):
    first = write_obj(*character_of(without_hair(raw_heads[name]), unit_cm=1.0))
    store = MemoryStore()
    taken = take_in({"head.obj": first}, store).character
    again = write_obj(taken, store)
    assert lines(again, "v") == lines(first, "v")
    assert lines(again, "f") == lines(first, "f")
    assert lines(again, "o") == lines(first, "o")


def test_parts_that_shared_one_list_share_it_again_in_its_order():
    text = "\n".join(
        [
            "v 0 0 0",
            "v 10 0 0",
            "v 10 10 0",
            "v 0 10 0",
            "v 0 0 9",
            "v 10 0 9",
            "v 10 10 9",
            "v 0 10 9",
            "g odd",
            "f 2 4 6",
            "g even",
            "f 1 3 5 7",
            "f 8 7 4",
        ]
    )
    store = MemoryStore()
    out = write_obj(take_in({"h.obj": text.encode()}, store).character, store)
    assert lines(out, "v") == lines(text.encode(), "v")
    assert lines(out, "f") == lines(text.encode(), "f")


def test_an_independent_reader_sees_the_same_mesh(raw_heads):
    character, store = character_of(without_hair(raw_heads["maren"]))
    part = next(p for p in character.parts if p.name == "tongue")
    theirs = trimesh.load(trimesh.util.wrap_as_stream(write_obj(character, store, [part]).decode()), file_type="obj", process=False)
    assert np.abs(theirs.vertices - store.get(part.points)).max() < 1e-7


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(*[st.floats(-1e4, 1e4, allow_subnormal=False)] * 3), min_size=3, max_size=12), st.data())
def test_any_mesh_survives_the_way_out_and_in(points, data):
    corner = st.integers(0, len(points) - 1)
    faces = data.draw(st.lists(st.lists(corner, min_size=3, max_size=6), min_size=1, max_size=8))
    text = "\n".join([*(f"v {x!r} {y!r} {z!r}" for x, y, z in points), *("f " + " ".join(str(v + 1) for v in f) for f in faces)])
    mesh = read_obj(text.encode(), "m.obj").meshes[0]
    everywhere = np.zeros((mesh.file_count, 3))
    everywhere[mesh.source if mesh.source is not None else slice(None)] = mesh.points
    assert np.array_equal(everywhere, np.array(points))
    back = [[int(mesh.source[v]) if mesh.source is not None else v for v in f] for f in mesh.polygons.lists()]
    assert back == faces


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (b"", "no faces"),
        (b"v 0 0 0\n", "no faces"),
        (b"v 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "vertex 1 has 2 coordinates"),
        (b"v 0 0 zero\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not three numbers"),
        (b"v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not at a finite place"),
        (b"v 0 0 1e999\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "not at a finite place"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 7\n", "vertex 7; there are 3"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n", "vertex 0"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf -9 1 2\n", "there are 3"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2\n", "line 4: a face needs three corners"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 x\n", "“x” is not a vertex number"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 99999999999999999999999\n", "line 4: there is no vertex 99999"),
        (TWO.decode().encode("utf-16"), "no faces|encod|text"),
        (b"\x00\x01\x02\xff" * 50, "no faces|encod|text"),
    ],
)
def test_files_that_are_wrong_are_refused_in_words(text, said):
    with pytest.raises(BadDocument, match=said):
        read_obj(text, "bad.obj")


@settings(max_examples=80, deadline=None)
@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused_in_words(data):
    with contextlib.suppress(BadDocument):
        assert read_obj(b"v 0 0 0\n" + data, "x.obj").meshes
