"""Files of targets taken in as shapes."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.lookup import shape
from tightseam.document.make import make_delta
from tightseam.document.model import Shape
from tightseam.edits.shape_making_edits import AddStarterSet, TakeInShapes
from tightseam.exchange.glb_write import write_glb
from tightseam.intake.take_targets import take_targets
from tightseam.shapes.offsets import offsets_of

from tests.core import obj
from tests.head import after


@pytest.fixture(scope="module")
def smile(clean):
    return offsets_of(clean.character, clean.store, shape(clean.character, "smile"))["skin"]


def test_each_trouble_is_reported_for_what_it_is(clean, smile):
    rest, polygons = clean.rest("skin"), clean.polygons("skin")
    moved = rest + smile
    stray = moved.copy()
    stray[int(rest[:, 1].argmax())] += [0, 1, 0]
    files = {
        "faces/plain.obj": obj.named(moved, polygons),
        "faces/offset.obj": obj.named(moved + [0, 5, 0], polygons),
        "faces/stray.obj": obj.named(stray, polygons),
        "faces/short.obj": obj.named(moved[:-1], type(polygons).from_lists([p for p in polygons.lists() if max(p) < len(rest) - 1])),
        "notes.txt": b"not a target",
        "faces/broken.obj": b"v 1 2\nf 1 2 9",
    }
    store = MemoryStore(clean.store)
    shapes, reports = take_targets(clean.character, files, store)
    of = {r.file: r for r in reports}
    assert [s.name for s in shapes] == ["offset", "plain", "stray"]
    assert of["faces/plain.obj"].refused is None
    assert "A constant offset of 50.00 mm was taken out." in " ".join(of["faces/offset.obj"].notes)
    assert "1 vertex moved alone" in " ".join(of["faces/stray.obj"].notes)
    assert f"{len(rest) - 1:,} vertices" in (of["faces/short.obj"].refused or "")
    assert of["faces/broken.obj"].refused
    head = after(clean, *[])
    character = TakeInShapes(shapes=shapes).apply(head.character, store)
    for name in ("plain", "offset", "stray"):
        got = offsets_of(character, store, shape(character, name))["skin"]
        assert np.linalg.norm(got - smile, axis=1).max() < 2e-3


def test_a_shape_of_the_same_name_is_replaced_and_stays_driven(clean, smile):
    store = MemoryStore(clean.store)
    shapes, _ = take_targets(clean.character, {"smile.obj": obj.named(clean.rest("skin") + 2 * smile, clean.polygons("skin"))}, store)
    character = TakeInShapes(shapes=shapes).apply(clean.character, store)
    assert len(character.shapes) == len(clean.character.shapes)
    assert np.abs(offsets_of(character, store, shape(character, "smile"))["skin"] - 2 * smile).max() < 2e-3
    assert character.controls == clean.character.controls


def test_morph_targets_of_a_glb_come_back(clean):
    head = after(clean, AddStarterSet(units=["AU06", "AU33"]))
    data = write_glb(head.character, head.store)
    store = MemoryStore(clean.store)
    shapes, reports = take_targets(clean.character, {"maren.glb": data}, store)
    assert {"AU06_L", "AU33_R"} <= set(reports[0].shapes)
    got = {s.name: s for s in shapes}
    for name in ("AU06_L", "AU33_R"):
        whole = np.zeros_like(clean.rest("skin"))
        delta = next(d for d in got[name].deltas if d.part == "skin")
        whole[store.get(delta.vertices)] = store.get(delta.offsets)
        assert np.linalg.norm(whole - offsets_of(head.character, head.store, shape(head.character, name))["skin"], axis=1).max() < 2e-3


def test_what_does_not_hold_together_is_refused(clean):
    store = MemoryStore(clean.store)
    with pytest.raises(BadRequest, match="There is no target"):
        take_targets(clean.character, {"a.txt": b"x"}, store)
    delta = make_delta(store, "skin", np.ones((2_000_00, 3)))
    with pytest.raises(BadDocument, match="out of range"):
        TakeInShapes(shapes=[Shape("x", "x", (delta,))]).apply(clean.character, store)
    lost = Shape("x", "x", (type(delta)("skin", "0" * 64, "0" * 64),))
    with pytest.raises(BadDocument, match="missing"):
        TakeInShapes(shapes=[lost]).apply(clean.character, store)
