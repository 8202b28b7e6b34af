"""Edits: the algebra that must hold, and what is refused."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding
from tightseam.document.lookup import part as find_part
from tightseam.document.make import dense_weights
from tightseam.document.sections import dump_sections
from tightseam.edits.bone_weight_edits import SetWeights
from tightseam.edits.registry import apply_recipe, parse_recipe
from tightseam.edits.set_carrier import SetCarrier
from tightseam.edits.set_range import SetRange

from tests.head import TWO_FAULTS, Head

REPAIR = [
    {"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}},
    {"edit": "binding.set_carrier", "params": {"part": "eye_R", "carrier": "rigid", "bones": ["eye_R"]}},
]


def weights_of(character, store, part: str) -> np.ndarray:
    count = find_part(character, part).vertex_count
    bound = binding(character, part)
    return dense_weights(store, bound.influences, [b.name for b in character.bones], count)


def test_the_repair_of_both_faults_gives_clean_maren_back(faulty, clean):
    store = MemoryStore(faulty.store)
    mended = apply_recipe(faulty.character, store, parse_recipe(json.dumps(REPAIR)))
    assert dump_sections(mended) == dump_sections(clean.character)


@pytest.mark.parametrize("fault", TWO_FAULTS, ids=lambda f: f.part)
def test_each_repair_clears_its_own_fault_and_no_other(faulty, fault):
    store = MemoryStore(faulty.store)
    step = next(s for s in REPAIR if s["params"]["part"] == fault.part)
    mended = apply_recipe(faulty.character, store, parse_recipe(json.dumps([step])))
    over = {r.seam for row in Head(mended, store).readings().values() for r in row if not r.within}
    assert over == {f.seam for f in TWO_FAULTS} - {fault.seam}


def test_the_same_edit_gives_the_same_revision_to_the_bit(faulty):
    edit = SetWeights(part="skin", vertices=[5, 9, 700], bone="jaw", value=0.3)
    once, again = (dump_sections(edit.apply(faulty.character, MemoryStore(faulty.store))) for _ in range(2))
    assert once == again


@settings(max_examples=40, deadline=None)
@given(
    vertices=st.lists(st.integers(0, 3345), min_size=1, max_size=30),
    bone=st.sampled_from(["head", "neck_1", "jaw", "tongue_2"]),
    value=st.floats(0.01, 1),
)
def test_kept_totals_stay_one_and_only_picked_vertices_change(clean, vertices, bone, value):
    edit = SetWeights(part="skin", vertices=vertices, bone=bone, value=value)
    store = MemoryStore(clean.store)
    before = weights_of(clean.character, clean.store, "skin")
    column = [b.name for b in clean.character.bones].index(bone)
    alone = (np.delete(before[vertices], column, axis=1).sum(axis=1) == 0).any()
    assume(value == 1 or value < 1 - 1e-6)  # nearer than that is 1
    if alone and value < 1:
        with pytest.raises(BadRequest, match="totals cannot be kept at 1"):
            edit.apply(clean.character, store)
        return
    after = weights_of(edit.apply(clean.character, store), store, "skin")
    assert np.abs(after.sum(axis=1) - 1).max() < 1e-6
    assert np.abs(after[vertices, column] - value).max() < 1e-6
    rest = np.setdiff1d(np.arange(len(after)), vertices)
    assert np.array_equal(after[rest], before[rest])


def test_without_kept_totals_the_fault_stays_to_be_seen(clean):
    store = MemoryStore(clean.store)
    after = SetWeights(part="skin", vertices=[3], bone="jaw", value=0.5, keep_total=False).apply(clean.character, store)
    before_total = weights_of(clean.character, clean.store, "skin")[3]
    jaw = [b.name for b in clean.character.bones].index("jaw")
    expected = before_total.sum() - before_total[jaw] + 0.5
    assert weights_of(after, store, "skin")[3].sum() == pytest.approx(expected)


def test_carriers_say_what_they_did(faulty):
    edit = SetCarrier(part="teeth_lower", carrier="rigid", bones=["teeth_lower"])
    assert edit.describe(edit.apply(faulty.character, MemoryStore(faulty.store))) == "Gave Teeth lower to Teeth on jaw"


def test_a_chain_carries_the_tongue(clean):
    store = MemoryStore(clean.store)
    rigid = SetCarrier(part="tongue", carrier="rigid", bones=["jaw"]).apply(clean.character, store)
    chain = SetCarrier(part="tongue", carrier="chain", bones=["tongue_1", "tongue_2", "tongue_3"]).apply(rigid, store)
    assert binding(chain, "tongue") == binding(clean.character, "tongue")


def test_a_range_can_be_narrowed_as_far_as_the_poses_allow(clean):
    store = MemoryStore()
    narrowed = SetRange(control="head_turn", low=-20, high=20, rest=0).apply(clean.character, store)
    assert next(c for c in narrowed.controls if c.name == "head_turn").high == 20
    with pytest.raises(BadRequest, match="The pose Smile sets Smile to 1"):
        SetRange(control="smile", low=0, high=0.5, rest=0).apply(clean.character, store)


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (SetCarrier(part="hat", carrier="rigid", bones=["head"]), "no part called “hat”"),
        (SetCarrier(part="hair", carrier="rigid", bones=["head", "jaw"]), "A rigid carrier is one bone"),
        (SetCarrier(part="tongue", carrier="chain", bones=["tongue_1", "tongue_3"]), "each the child of the one before"),
        (SetWeights(part="skin", vertices=[4000], bone="jaw", value=0.5), "4000 is out of range"),
        (SetWeights(part="skin", vertices=[-1], bone="jaw", value=0.5), "-1 is out of range"),
        (
            SetWeights(part="hair", vertices=[0], bone="jaw", value=0.5, keep_total=True).model_copy(update={"bone": "head"}),
            "totals cannot be kept at 1",
        ),
        (SetRange(control="smile", low=1, high=0, rest=0), "low < high"),
    ],
)
def test_edits_that_do_not_fit_are_refused_in_words(clean, edit, said):
    with pytest.raises(BadRequest, match=said):
        edit.apply(clean.character, MemoryStore(clean.store))


def test_binding_to_a_helper_bone_is_refused(clean):
    from dataclasses import replace

    bones = tuple(replace(b, role="helper") if b.name == "jaw" else b for b in clean.character.bones)
    with pytest.raises(BadRequest, match="helper bone and deforms nothing"):
        SetCarrier(part="hair", carrier="rigid", bones=["jaw"]).apply(replace(clean.character, bones=bones), MemoryStore())


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("[", "The recipe is not right"),
        ('[{"edit": "weights.sett", "params": {}}]', "The edits are: binding.set_carrier"),
        ('[{"edit": "control.set_range", "params": {"control": "smile", "low": NaN, "high": 1, "rest": 0}}]', "The recipe is not right"),
        ('[{"edit": "weights.set", "params": {"part": "skin", "vertices": [], "bone": "jaw", "value": 2}}]', "vertices"),
    ],
)
def test_recipes_that_are_wrong_say_where(text, said):
    with pytest.raises(BadRequest, match=said):
        parse_recipe(text)
