"""Documents: hashes, sections, and refusing what does not hold together."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore, content_hash
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.load import load_sections
from tightseam.document.lookup import control
from tightseam.document.make import dense_weights, make_influences, make_part
from tightseam.document.model import About, Binding, Bone, Character, Influence
from tightseam.document.sections import array_hashes, dump_sections, section_hash

from tests.core.shapes import cube

CUBE, SIDES = cube()


def test_sections_come_back_whole(faulty):
    assert load_sections(dump_sections(faulty.character)) == faulty.character


def test_an_edit_of_one_section_changes_one_hash(clean, faulty):
    before = {k: section_hash(v) for k, v in dump_sections(clean.character).items()}
    after = {k: section_hash(v) for k, v in dump_sections(faulty.character).items()}
    assert {k for k in before if before[k] != after[k]} == {"bindings"}


def test_equal_arrays_have_one_hash_and_others_not():
    a = np.arange(6, dtype=np.float32)
    assert content_hash(a) == content_hash(a.copy())
    assert len({content_hash(x) for x in (a, a.reshape(2, 3), a.astype(np.float64), a + 1)}) == 4


def test_arrays_that_were_put_cannot_be_changed():
    store = MemoryStore()
    mine = np.zeros(3)
    key = store.put(mine)
    mine[0] = 5
    assert store.get(key)[0] == 0
    with pytest.raises(ValueError, match="read-only"):
        store.get(key)[0] = 1


@pytest.mark.parametrize("bad", [np.nan, np.inf])
def test_numbers_that_are_not_finite_never_get_in(bad):
    with pytest.raises(BadDocument, match="not finite"):
        MemoryStore().put(np.array([0.0, bad]))


def test_every_array_of_maren_is_in_her_store(faulty):
    for key in array_hashes(faulty.character):
        faulty.store.get(key)
    check_arrays(faulty.character, faulty.store)


def test_a_missing_section_is_named(clean):
    texts = dump_sections(clean.character)
    del texts["bones"]
    with pytest.raises(BadDocument, match="“bones” is missing"):
        load_sections(texts)


@pytest.mark.parametrize(
    ("section", "change", "said"),
    [
        ("bones", lambda b: b + [b[0]], "Two things of kind bone"),
        ("bones", lambda b: b[::-1], "does not come before it"),
        ("parts", lambda p: [], "no parts"),
        ("parts", lambda p: [q | {"kind": "wheel"} for q in p], "“parts” is not as it should be"),
        ("poses", lambda p: [q | {"values": {"nobody": 1}} for q in p], "control “nobody” that is not there"),
        ("controls", lambda c: [q | {"low": "NaN"} for q in c], "“controls” is not as it should be"),
        ("bindings", lambda b: [q | {"part": "hat"} for q in b], "part “hat” that is not there"),
        ("shapes", lambda s: {"a": 1}, "“shapes” is not as it should be"),
    ],
)
def test_what_does_not_hold_together_is_refused_in_words(clean, section, change, said):
    texts = dump_sections(clean.character)
    texts[section] = json.dumps(change(json.loads(texts[section]))).encode()
    with pytest.raises(BadDocument, match=said):
        load_sections(texts)


@pytest.mark.parametrize(
    ("arrays", "said"),
    [
        ({"points": np.full((len(CUBE), 3), 1e30)}, "check the units"),
        ({"points": np.zeros((3, 3))}, "out of range"),
        ({"sizes": np.zeros(0, np.int32)}, "no polygons"),
        ({"corners": np.full(24, 999_999, np.int32)}, "out of range, there are 8"),
        ({"corners": np.arange(8, dtype=np.int32)}, "do not add up"),
        ({"colours": np.zeros((5, 3))}, "colours"),
    ],
)
def test_arrays_that_do_not_fit_are_refused_in_words(arrays, said):
    store = MemoryStore()
    part = replace(make_part(store, "box", "other", CUBE, SIDES), **{name: store.put(a) for name, a in arrays.items()})
    character = Character(About("Box"), (part,))
    with pytest.raises(BadDocument, match=said):
        check_arrays(character, store)


@pytest.mark.parametrize(
    ("vertices", "weights", "said"),
    [
        ([0, 1], [0.5], "do not fit"),
        ([0, 0], [0.5, 0.5], "listed twice"),
        ([0], [-0.5], "outside 0 to 10"),
        ([99_999], [1.0], "out of range"),
    ],
)
def test_weights_that_do_not_fit_are_refused(clean, vertices, weights, said):
    store = MemoryStore(clean.store)
    influence = Influence("head", store.put(np.array(vertices, np.int32)), store.put(np.array(weights, np.float32)))
    character = replace(clean.character, bindings=(Binding("skin", "weighted", (influence,)),))
    with pytest.raises(BadDocument, match=said):
        check_arrays(character, store)


def test_dense_weights_come_back_from_influences():
    store = MemoryStore()
    weights = np.random.default_rng(0).dirichlet(np.ones(3), 20).astype(np.float32)
    weights[::2, 1] = 0
    assert np.array_equal(dense_weights(store, make_influences(store, "abc", weights), "abc", 20), weights)


def test_unknown_names_suggest_near_ones(clean):
    with pytest.raises(BadRequest, match="Did you mean “blink_L”"):
        control(clean.character, "blinkL")


def test_a_bone_without_a_parent_of_that_name_is_refused(clean):
    orphan = Bone("stray", "Stray", "nowhere", (0, 0, 0), (0, 0, 1))
    with pytest.raises(BadDocument, match="bone “nowhere” that is not there"):
        check_names(replace(clean.character, bones=(*clean.character.bones, orphan)))
