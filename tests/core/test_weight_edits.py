"""Edits of weights: totals, locked bones, and the algebra that must hold."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from tightseam.document.arrays import MemoryStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding
from tightseam.document.make import dense_weights, make_influences
from tightseam.document.model import Binding
from tightseam.edits.bone_weight_edits import AddWeights, MultiplyWeights, RemapWeights, SetWeights
from tightseam.edits.weight_edits import (
    CapWeights,
    CleanWeights,
    CopyWeightsAcross,
    EvenWeights,
    MoveWeights,
    NormaliseWeights,
    SharpenWeights,
    SmoothWeights,
)
from tightseam.weights import change
from tightseam.weights.patch import Patch
from tightseam.weights.rows import rows_of, with_rows

BONES = 5


@st.composite
def tables(draw):
    """Weights (K, BONES) with totals of 1, many of them nothing, and which bones are free (at least two)."""
    raw = draw(arrays(float, (draw(st.integers(1, 6)), BONES), elements=st.floats(0, 1)))
    raw = np.where(raw < 0.3, 0, raw) + np.eye(BONES)[draw(st.integers(0, BONES - 1))] * 0.01
    held = draw(st.sets(st.integers(0, BONES - 1), max_size=BONES - 2))
    return raw / raw.sum(axis=1, keepdims=True), np.array([k not in held for k in range(BONES)])


CHANGES = {
    "sharpened": lambda rows, free: change.sharpened(rows, free, 1.5),
    "normalised": change.normalised,
    "capped": lambda rows, free: change.capped(rows, free, 3),
    "cleaned": lambda rows, free: change.cleaned(rows, free, 0.2),
    "given": lambda rows, free: change.given(rows, int(np.flatnonzero(free)[0]), np.full(len(rows), 0.4), free)[0],
    "evened": lambda rows, free: change.with_free(rows, change.evened(rows, np.zeros(len(rows), int)), free),
}


@settings(max_examples=60, deadline=None)
@given(tables(), st.sampled_from(sorted(CHANGES)))
def test_totals_stay_one_locked_bones_stay_and_nothing_is_negative(table, name):
    rows, free = table
    after = CHANGES[name](rows, free)
    assert np.array_equal(after[:, ~free], rows[:, ~free])
    assert after.min() >= 0
    assert np.abs(after.sum(axis=1) - 1).max() < 2e-6


@settings(max_examples=60, deadline=None)
@given(tables(), st.floats(0, 1))
def test_what_is_given_is_what_was_wanted_or_it_is_said(table, value):
    rows, free = table
    column = int(np.flatnonzero(free)[0])
    after, unmet = change.given(rows, column, np.full(len(rows), value), free)
    assert np.allclose(after[~unmet, column], value)
    others = free & (np.arange(BONES) != column)
    for row, now in zip(rows[~unmet], after[~unmet], strict=True):  # the others keep their proportions
        assert np.allclose(now[others] * row[others].sum(), row[others] * now[others].sum(), atol=1e-9)


@settings(max_examples=40, deadline=None)
@given(tables(), st.integers(1, BONES))
def test_capping_keeps_the_largest(table, most):
    rows, _ = table
    free = np.ones(BONES, bool)
    after = change.capped(rows, free, most)
    assert ((after > 0).sum(axis=1) <= most).all()
    assert (after[np.arange(len(rows)), rows.argmax(axis=1)] > 0).all()
    assert np.allclose(change.capped(after, free, most), after)
    assert np.allclose(change.capped(change.normalised(rows, free), free, BONES), change.normalised(rows, free))


@settings(max_examples=40, deadline=None)
@given(arrays(float, 7, elements=st.floats(0.01, 1)), st.floats(0.2, 5))
def test_remapping_the_whole_range_and_back_is_nothing(values, gamma):
    there = change.remapped(values, 0, 1, gamma, 0, 1)
    assert np.allclose(change.remapped(there, 0, 1, 1 / gamma, 0, 1), values, atol=1e-6)
    assert np.allclose(change.remapped(values, 0, 1, 1, 0.2, 0.7), 0.2 + 0.5 * values)


def table_of(character, store):
    names = [b.name for b in character.bones]
    count = next(p.vertex_count for p in character.parts if p.name == "skin")
    return rows_of(store, binding(character, "skin").influences, names, np.arange(count))


@pytest.fixture(scope="module")
def skin(clean):
    return [b.name for b in clean.character.bones], table_of(clean.character, clean.store)


def test_rows_taken_out_and_put_back_change_nothing(clean, skin):
    names, rows = skin
    store = MemoryStore(clean.store)
    some = np.sort(np.random.default_rng(11).choice(len(rows), 200, replace=False))
    back = with_rows(store, binding(clean.character, "skin"), names, some, rows[some])
    assert np.array_equal(rows_of(store, back.influences, names, np.arange(len(rows))), rows)


@given(st.integers(0, 2**32 - 1), st.integers(0, 12), st.booleans())
def test_rows_put_back_stand_where_they_belong_and_all_others_stay(seed, count, known):
    rng, store, names = np.random.default_rng(seed), MemoryStore(), ["a", "b", "c", "d"]
    table = (rng.uniform(0.1, 1, (12, 4)) * (rng.random((12, 4)) < 0.5)).astype(np.float32).astype(float)
    bound = Binding("skin", "weighted", make_influences(store, names, table))
    some = np.sort(rng.choice(12, count, replace=False))
    same_vertices = rng.random(4) < 0.5
    rows = rng.uniform(0.1, 1, (count, 4)) * np.where(same_vertices, table[some] > 0, rng.random((count, 4)) < 0.5)
    wanted = table.copy()
    wanted[some] = rows
    made = with_rows(store, bound, names, some, rows, table[some] if known else None)
    assert np.array_equal(dense_weights(store, made.influences, names, 12), wanted.astype(np.float32))
    before = {i.bone: i for i in bound.influences}
    for influence in made.influences:
        vertices = np.asarray(store.get(influence.vertices))
        assert (np.diff(vertices) > 0).all()
        if influence.bone in before and np.array_equal(vertices, store.get(before[influence.bone].vertices)):
            assert influence.vertices == before[influence.bone].vertices


@pytest.mark.parametrize(
    ("kind", "params"),
    [
        (SetWeights, {"bone": "jaw", "value": 0.3, "keep_total": True}),
        (AddWeights, {"bone": "jaw", "amount": -0.2}),
        (MultiplyWeights, {"bone": "jaw", "factor": 1.3}),
        (RemapWeights, {"bone": "jaw", "low": 0.2, "high": 0.8}),
        (SmoothWeights, {"steps": 3}),
        (SmoothWeights, {"bone": "jaw", "steps": 3}),
        (SharpenWeights, {}),
        (EvenWeights, {"by": "island"}),
        (MoveWeights, {"bone": "jaw", "to": "head"}),
        (CapWeights, {"most": 2}),
        (CleanWeights, {"below": 0.3}),
        (NormaliseWeights, {}),
    ],
)
def test_an_edit_keeps_totals_locked_bones_and_all_that_is_not_picked(clean, skin, kind, params):
    names, rows = skin
    head, jaw, neck = (rows[:, names.index(n)] for n in ("head", "jaw", "neck_1"))
    mixed = np.flatnonzero((head > 0.05) & (jaw > 0.05) & (neck < 0.1))[:150]
    edit = kind(part="skin", vertices=mixed.tolist(), locked=["neck_1"], **params)
    store = MemoryStore(clean.store)
    changed = edit.apply(clean.character, store)
    after = table_of(changed, store)
    rest = np.setdiff1d(np.arange(len(rows)), mixed)
    assert np.array_equal(after[rest], rows[rest])
    assert np.array_equal(after[:, names.index("neck_1")], neck)
    assert np.abs(after.sum(axis=1) - 1).max() < 1e-6
    assert "150 vertices of Skin" in edit.describe(changed)


def test_smoothing_never_leaves_the_range_of_the_neighbours(clean, skin):
    _, rows = skin
    some = np.arange(400, 900)
    around, chosen, average, own = Patch(clean.character, clean.store, "skin", some.tolist(), []).surroundings
    assert np.allclose(np.asarray(average.sum(axis=1)).ravel(), 1)
    after = change.smoothed(own, chosen, average, 1.0, 1)[chosen]
    for k in range(0, len(some), 37):
        beside = own[average[k].indices]
        assert (after[k] <= beside.max(axis=0) + 1e-12).all()
        assert (after[k] >= beside.min(axis=0) - 1e-12).all()
    assert np.array_equal(own[chosen], rows[some])
    assert np.array_equal(around[chosen], some)


@pytest.mark.parametrize("edit", [SmoothWeights(part="skin", vertices=[0, 1, 2, 3]), EvenWeights(part="skin", vertices=[0, 1, 2, 3])])
def test_where_more_bones_come_together_than_can_be_posed_it_is_said_of_how_many_vertices(clean, edit):
    store, names = MemoryStore(clean.store), [b.name for b in clean.character.bones]
    assert edit.remark(clean.character, store) == ""
    rows = np.zeros((4, len(names)))
    rows[:, :8] = 1 / 8
    rows[2:, :8], rows[2:, 8 : 8 + min(8, len(names) - 8)] = 0, 1 / min(8, len(names) - 8)
    crowded = with_binding(clean.character, with_rows(store, binding(clean.character, "skin"), names, np.arange(4), rows))
    after = edit.apply(crowded, store)
    together = np.asarray(edit.mixed(Patch(crowded, store, "skin", edit.vertices, [])) > 0).sum(axis=1)
    assert (together > 8).any()
    assert edit.remark(crowded, store) == f"; on {(together > 8).sum()} of them the smallest weights of more than 8 bones went"
    left = rows_of(store, binding(after, "skin").influences, names, np.arange(4))
    assert ((left > 0).sum(axis=1) <= 8).all()
    assert np.allclose(left.sum(axis=1), 1)


def test_mirrored_work_leaves_both_sides_mirrored(clean, skin):
    names, rows = skin
    jaw = names.index("jaw")
    left = np.flatnonzero((clean.rest("skin")[:, 0] > 2) & (rows[:, jaw] > 0.2) & (rows[:, jaw] < 0.9))[:60]
    store = MemoryStore(clean.store)
    edit = SetWeights(part="skin", vertices=left.tolist(), bone="jaw", value=0.37, mirror=True)
    after = table_of(edit.apply(clean.character, store), store)
    patch = Patch(clean.character, clean.store, "skin", list(range(len(rows))), [])
    image = patch.mirrored()
    assert np.allclose(after[left, jaw], 0.37)
    assert np.allclose(after[image[left], jaw], 0.37)
    assert np.abs(after[image][:, patch.twins] - after).max() < 1e-5  # as symmetric as the rig was before


def test_copying_across_makes_the_sides_alike_and_once_is_enough(clean):
    store = MemoryStore(clean.store)
    left = np.flatnonzero(clean.rest("skin")[:, 0] > 0.01)
    one_sided = AddWeights(part="skin", vertices=left[:300].tolist(), bone="neck_2", amount=0.2).apply(clean.character, store)
    once = CopyWeightsAcross(part="skin", vertices=left.tolist()).apply(one_sided, store)
    after = table_of(once, store)
    image = Patch(once, store, "skin", list(range(len(after))), []).mirrored()
    assert np.abs(after[image[left]] - after[left]).max() < 1e-6
    twice = CopyWeightsAcross(part="skin", vertices=left.tolist()).apply(once, store)
    assert np.array_equal(table_of(twice, store), after)


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (SetWeights(part="skin", vertices=[0], bone="jaw", value=0.5, locked=["jaw"]), "Jaw is locked"),
        (MoveWeights(part="skin", vertices=[0], bone="jaw", to="jaw"), "both are the same"),
        (RemapWeights(part="skin", vertices=[0], bone="jaw", low=0.8, high=0.2), "0.8 to 0.2 is none"),
        (SmoothWeights(part="skin", vertices=[10**6]), "is out of range"),
        (EvenWeights(part="skin", vertices=[0], locked=["nobody"]), "no bone called"),
        (CopyWeightsAcross(part="eye_L", vertices=[0]), "has a mirror image"),
    ],
)
def test_what_cannot_be_done_is_said(clean, edit, said):
    with pytest.raises(BadRequest, match=said):
        edit.apply(clean.character, MemoryStore(clean.store))
