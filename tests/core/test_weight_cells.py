"""Weights as tables: typed cells, and CSV out and in."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.edits.table_edits import SetWeightCells
from tightseam.exchange.weights_csv import read_weights_csv, write_weights_csv
from tightseam.weights.patch import Patch


def rows(character, store, vertices) -> dict[str, np.ndarray]:
    patch = Patch(character, store, "skin", vertices, [])
    return dict(zip(patch.bones, patch.rows.T, strict=True))


def test_cells_get_just_what_was_typed_and_others_share_the_rest(clean):
    store = MemoryStore(clean.store)
    chosen = [int(v) for v in clean.set("lip_lower")[:3]][::-1]
    before = rows(clean.character, store, chosen)
    made = SetWeightCells(part="skin", vertices=chosen, bones=["neck_1"], weights=[[0.1], [0.2], [0.3]]).apply(clean.character, store)
    after = rows(made, store, chosen)
    assert after["neck_1"] == pytest.approx([0.3, 0.2, 0.1])  # rows of a patch stand in the order of the vertices
    assert sum(after.values()) == pytest.approx(1)
    assert after["jaw"] / np.maximum(after["head"], 1e-9) == pytest.approx(before["jaw"] / np.maximum(before["head"], 1e-9), rel=1e-3)


@pytest.mark.parametrize("off", [-0.0012, 0.0012])
def test_numbers_as_they_are_written_add_up(clean, off):
    """Three weights of three decimals are 1 to 1.5 thousandths, which nobody can be asked to take."""
    store = MemoryStore(clean.store)
    table = {"part": "skin", "vertices": [10], "bones": ["head", "jaw", "neck_1"], "weights": [[0.5, 0.3, 0.2 + off]]}
    others = [b.name for b in clean.character.bones if b.name not in table["bones"]]
    made = rows(SetWeightCells(**table).apply(clean.character, store), store, [10])
    assert sum(made.values())[0] == pytest.approx(1, abs=1e-6)
    assert made["head"][0] == pytest.approx(0.5, abs=1e-3)
    assert sum(made[name][0] for name in others) < 2e-3
    with pytest.raises(BadRequest, match=r"1\.010, too much"):
        SetWeightCells(**(table | {"weights": [[0.5, 0.3, 0.21]]})).apply(clean.character, store)


def test_what_cannot_add_up_is_refused_unless_asked_for(clean):
    store = MemoryStore(clean.store)
    table = {"part": "skin", "vertices": [10], "bones": ["head", "jaw"], "weights": [[0.9, 0.9]]}
    with pytest.raises(BadRequest, match=r"Vertex 10 would have 1\.800, too much"):
        SetWeightCells(**table).apply(clean.character, store)
    kept = SetWeightCells(**table, others="keep").apply(clean.character, store)
    assert sum(rows(kept, store, [10]).values())[0] >= 1.8 - 1e-6
    with pytest.raises(BadRequest, match="not whole"):
        SetWeightCells(**(table | {"weights": [[0.9]]})).apply(clean.character, store)
    with pytest.raises(BadRequest, match="twice"):
        SetWeightCells(**(table | {"bones": ["jaw", "jaw"]})).apply(clean.character, store)
    with pytest.raises(BadRequest, match="locked"):
        SetWeightCells(**table, locked=["jaw"]).apply(clean.character, store)


@pytest.mark.parametrize("match", ["order", "position"])
def test_a_table_goes_out_and_comes_back(clean, match):
    store = MemoryStore(clean.store)
    data = write_weights_csv(clean.character, store, "skin")
    assert data.startswith(b"vertex,x,y,z,bone,weight\n0,")
    found = read_weights_csv(data, clean.character, store, "skin", match)
    assert len(found.vertices) == len(clean.rest("skin"))
    whole = rows(clean.character, store, range(len(found.vertices)))
    for bone, weights in zip(found.bones, found.weights.T, strict=True):
        assert np.abs(weights - whole[bone]).max() < 1e-7


def test_by_position_the_order_does_not_matter_and_by_order_positions_do_not(clean):
    store = MemoryStore(clean.store)
    head, *lines = write_weights_csv(clean.character, store, "skin").decode().splitlines()
    turned = [",".join(["0", *line.split(",")[1:]]) for line in reversed(lines)]
    shuffled = read_weights_csv("\n".join([head, *turned]).encode(), clean.character, store, "skin", "position")
    straight = read_weights_csv("\n".join([head, *lines]).encode(), clean.character, store, "skin", "order")
    columns = [shuffled.bones.index(b) for b in straight.bones]
    assert np.array_equal(shuffled.weights[:, columns], straight.weights)


@pytest.mark.parametrize(
    ("data", "match", "said"),
    [
        (b"\xff\xfe\x00", "order", "no text"),
        (b"", "order", "needs the columns"),
        (b"vertex,bone,weight\n", "order", "no lines"),
        (b"vertex,bone\n1,jaw\n", "order", "missing: weight"),
        (b"vertex,bone,weight\n1,jaw,0.5\nfour,jaw,0.5\n", "order", "Line 3 is not right"),
        (b"vertex,bone,weight\n1,jaw\n", "order", "Line 2 is not right"),
        (b"vertex,bone,weight\n1,jaw,nan\n", "order", "Line 2: a weight is 0 to 1"),
        (b"vertex,bone,weight\n1,jaw,1.5\n", "order", "it says 1.5"),
        (b"vertex,bone,weight\n1,wing,0.5\n", "order", "no bone called"),
        (b"vertex,bone,weight\n99999,jaw,0.5\n", "order", "Match by position instead"),
        (b"x,y,z,bone,weight\n0,0,900,jaw,0.5\n", "position", "lie on no vertex"),
        (b"x,y,z,bone,weight\ninf,0,0,jaw,0.5\n", "position", "Line 2"),
    ],
)
def test_tables_that_are_wrong_are_refused_in_words(clean, data, match, said):
    with pytest.raises(BadRequest, match=said):
        read_weights_csv(data, clean.character, clean.store, "skin", match)
