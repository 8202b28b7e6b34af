"""What fields are marked to refer to, held against whole heads: nothing that speaks of another thing is left out."""

from __future__ import annotations

import json
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.channels import channels, strength_of
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.model import Activation, Character, Driver, Pose, Selection
from tightseam.document.poses import pose_values
from tightseam.document.remesh import renumbered
from tightseam.document.removal import settled, without
from tightseam.document.rename import renamed
from tightseam.document.rescale import rescaled
from tightseam.document.sections import array_hashes, dump_sections
from tightseam.edits.plan_edits import ArrangePlan
from tightseam.edits.relief_edits import AddPreset

from tests.head import Head, after

HASH = re.compile(r"\b[0-9a-f]{64}\b")
THINGS = {
    "part": lambda c: c.parts,
    "bone": lambda c: c.bones,
    "shape": lambda c: c.shapes,
    "relief": lambda c: c.reliefs,
    "control": lambda c: c.controls,
}


@pytest.fixture(scope="module")
def rich(rigged) -> Head:
    """A head with something in every section: shapes, a corrective, a kept selection, and a pose of controls, bones and a shape at once."""
    made = after(rigged["hob"], AddPreset(preset="cheek_upper"), AddPreset(preset="under"), ArrangePlan())
    head, store = made.character, MemoryStore(made.store)
    chosen = Selection("chin", "skin", store.put(np.arange(40, 60, dtype=np.int32)))
    bone = next(n for n, c in channels(head.bones).items() if c.kind == "turn")
    values = {head.controls[0].name: head.controls[0].high / 2, bone: 5.0, strength_of(head.shapes[0].name): 0.5}
    drivers = Driver(head.controls[0].name, 0.0, 1.0), Driver(bone, 0.0, 5.0), Driver(strength_of(head.shapes[0].name), 0.0, 1.0)
    corrective = replace(head.shapes[0], name="corrective", activation=Activation(drivers))
    head = replace(head, shapes=(*head.shapes, corrective))
    return Head(replace(head, selections=(chosen,), poses=(*head.poses, Pose("kept", "Kept", values))), store)


def names(character: Character, noun: str) -> list[str]:
    return [thing.name for thing in THINGS[noun](character)]


def test_every_hash_in_the_text_of_a_document_is_known_as_an_array(rich):
    text = b"".join(dump_sections(rich.character).values()).decode()
    assert set(HASH.findall(text)) == array_hashes(rich.character)


@pytest.mark.parametrize("noun", THINGS)
def test_all_renamed_holds_together_moves_the_same_and_comes_back(rich, noun):
    old = names(rich.character, noun)
    there = {name: f"new {k}" for k, name in enumerate(old)}
    changed = renamed(rich.character, noun, there)
    check_names(changed)
    assert names(changed, noun) == list(there.values())
    if noun not in ("part", "bone"):  # the lids go by the name of the head bone
        before, after = (Evaluator(c, rich.store).points(pose_values(c, c.poses[-1])) for c in (rich.character, changed))
        assert np.array_equal(before, after)
    back = renamed(changed, noun, {new: name for name, new in there.items()})
    assert dump_sections(back) == dump_sections(rich.character)


@pytest.mark.parametrize("noun", THINGS)
@settings(max_examples=12, deadline=None)
@given(data=st.data())
def test_whatever_is_taken_out_the_rest_holds_together_and_nothing_speaks_of_it(rich, noun, data):
    gone = data.draw(st.sets(st.sampled_from(names(rich.character, noun)), min_size=1, max_size=3))
    left = without(rich.character, noun, gone)
    driven = {"corrective"} & set(names(rich.character, noun))  # one of its drivers may be the strength of what has gone
    assert set(names(left, noun)) - driven == set(names(rich.character, noun)) - gone - driven
    check_names(left)
    check_arrays(left, rich.store)
    assert settled(left) == left


def test_what_does_not_speak_of_a_thing_stays_the_very_same(rich):
    left = without(rich.character, "part", {"tongue"})
    assert all(now is before for now, before in zip(left.bones, rich.character.bones, strict=True))
    untouched = [s for s in rich.character.shapes if all(d.part != "tongue" for d in s.deltas)]
    assert untouched
    assert all(any(s is now for now in left.shapes) for s in untouched)


def test_a_control_stays_when_what_it_drove_goes_for_it_may_drive_another(rich):
    named = next(c for c in rich.character.controls if {n.kind for n in c.links} == {"shape"})
    left = without(rich.character, "shape", {n.target for n in named.links})
    assert next(c for c in left.controls if c.name == named.name).links == ()
    assert [p.values.get(named.name) for p in left.poses] == [p.values.get(named.name) for p in rich.character.poses]


def test_a_pad_goes_with_the_last_control_on_it(rich):
    pad = next(p for p in rich.character.plan if p.x and p.y)
    half = without(rich.character, "control", {pad.x})
    assert next(p for p in half.plan if p.name == pad.name).x is None
    assert pad.name not in [p.name for p in without(half, "control", {pad.y}).plan]


@settings(max_examples=8, deadline=None)
@given(factor=st.floats(0.1, 12.0))
def test_made_larger_everything_moves_by_as_much_more(rich, factor):
    store = MemoryStore(rich.store)
    large = rescaled(rich.character, store, factor)
    for pose, other in zip(rich.character.poses[-3:], large.poses[-3:], strict=True):
        before, after = (Evaluator(c, store).points(pose_values(c, p)) for c, p in ((rich.character, pose), (large, other)))
        assert np.abs(after / factor - before).max() < 5e-4


@pytest.mark.parametrize("name", ["skin", "tongue", "brow_L", "lash_upper_L", "teeth_lower", "whiskers"])
def test_a_part_in_another_order_moves_as_it_did_and_comes_back_to_the_bit(rich, name):
    store = MemoryStore(rich.store)
    part = find_part(rich.character, name)
    order = np.random.default_rng(5).permutation(part.vertex_count)  # new k was order[k]
    number = np.argsort(order)
    changed = shuffled(rich.character, store, name, number, order)
    check_arrays(changed, store)
    rows = Evaluator(changed, store).meshes.rows(name)
    for pose in rich.character.poses[:3]:
        before, after = (Evaluator(c, store).points(pose_values(c, pose)) for c in (rich.character, changed))
        assert np.abs(after[rows] - before[rows][order]).max() < 1e-5
        others = np.ones(len(before), bool)
        others[rows] = False
        assert np.abs(after[others] - before[others]).max(initial=0.0) < 1e-5
    back = shuffled(changed, store, name, order, number)
    whole = shuffled(rich.character, store, name, np.arange(len(order)), np.arange(len(order)))  # with a source map, and rows in order
    assert dump_sections(back) == dump_sections(whole)


def shuffled(character: Character, store: MemoryStore, name: str, number: np.ndarray, order: np.ndarray) -> Character:
    part = find_part(character, name)
    points = np.asarray(store.get(part.points))[order]
    faces = polygons(store, part)
    return renumbered(character, store, part, number, order, points, faces.renumbered(number), np.arange(len(faces)))


def test_sections_are_plain_json_still(rich):
    """The marks are for code alone; files hold what they held."""
    for text in dump_sections(rich.character).values():
        assert "SAID" not in json.dumps(json.loads(text))
