"""What is derived is made once, whoever asks, hangs on nothing but what it is made from, and is never changed."""

from __future__ import annotations

import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import fields, is_dataclass, replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.binding.checks import reference_weights
from tightseam.brush.canvas import canvas_of
from tightseam.deform import kernels
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.cache import Cache, one
from tightseam.document.derived import DERIVED, derived, frozen
from tightseam.document.fields import Array, Length, Named, Refers
from tightseam.document.lookup import part
from tightseam.document.model import Character
from tightseam.document.part_mesh import part_mesh
from tightseam.document.poses import pose_values
from tightseam.document.walk import Field, fields_of, rewritten
from tightseam.edits.relief_edits import AddPreset
from tightseam.head.found import found_head, plane_of
from tightseam.landmarks.suggest.suggest import suggestions
from tightseam.seams.meter import SeamMeter
from tightseam.shapes.checks import shape_findings
from tightseam.shapes.sheet import shape_rows

from tests.head import Head, after

PATIENCE = 10  # s


def counted(most: int) -> Cache:
    return Cache(most, one)


def test_what_has_not_been_asked_for_longest_goes_first():
    kept, made = counted(2), []

    def ask(key):
        return kept.get(key, lambda: made.append(key) or key.upper())

    assert [ask(key) for key in "abacb"] == ["A", "B", "A", "C", "B"]
    assert made == ["a", "b", "c", "b"]  # b was asked for before a, and went when c came


def test_what_is_heavy_leaves_less_room():
    kept = Cache(10_000, frozen)
    for name, count in (("small", 10), ("large", 1000)):
        kept.put(name, np.zeros(count))
    assert kept.held == 8080
    kept.put("another", {"inside": (np.zeros(300),)})
    assert kept.get("small", lambda: "made") == "made"
    kept.put("much", np.zeros(10_000))
    assert kept.held == 80_000  # the last one always stays
    kept.put("much", np.zeros(10))
    assert kept.held == 80  # counts once


def test_who_asks_while_it_is_made_waits_for_it():
    kept, made = counted(4), []
    begun, go = threading.Event(), threading.Event()

    def make():
        made.append(1)
        begun.set()
        assert go.wait(PATIENCE)
        return object()

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "key", make)
        assert begun.wait(PATIENCE)
        second = pool.submit(kept.get, "key", make)
        assert kept.get("another", lambda: "meanwhile") == "meanwhile"
        go.set()
        assert first.result(PATIENCE) is second.result(PATIENCE)
    assert made == [1]


def test_what_could_not_be_made_is_tried_again_by_the_next():
    kept = counted(4)
    with pytest.raises(ZeroDivisionError):
        kept.get("key", lambda: 1 / 0)
    assert kept.get("key", lambda: "made") == "made"


def test_arrays_of_what_is_kept_cannot_be_written_to(clean):
    rig = clean.evaluator.rig
    for array in (
        rig.meshes.rest,
        rig.skinning.influences.weights,
        rig.shapes.values,
        rig.lids[0].turning.share,
        rig.eye_reliefs[0].amount,
    ):
        with pytest.raises(ValueError, match="read-only"):
            array[...] = 0
    assert frozen([np.zeros(4), {"x": np.zeros(2)}]) >= 48


def test_a_derived_thing_is_shown_its_own_sections_and_no_others(clean):
    seen: list[Character] = []

    @derived("bones", "shapes")
    def of(character: Character, store: MemoryStore, more: int) -> int:
        seen.append(character)
        return more

    other = replace(clean.character, poses=(), controls=())
    assert [of(clean.character, clean.store, 1), of(other, clean.store, 1), of(other, clean.store, 2)] == [1, 1, 2]
    assert len(seen) == 2  # poses and controls are none of its business
    assert seen[0].bones == clean.character.bones
    assert not seen[0].parts
    assert not seen[0].controls


@pytest.fixture(scope="module")
def rich(clean) -> Head:
    return after(clean, AddPreset(preset="cheek_lower"))


def changed_field(head: Head, at: int, store: MemoryStore) -> tuple[Field, Character]:
    """The head with another value in one marked field: an array a little off, a length longer, a name that two others had exchanged."""
    every = [f for f in fields_of(head.character) if changed_value(f, head, store) != f.value]
    chosen, places = every[at % len(every)], iter(range(10_000_000))
    number = next(k for k, f in enumerate(fields_of(head.character)) if f == chosen)
    return chosen, rewritten(head.character, lambda f: changed_value(f, head, store) if next(places) == number else f.value)


def changed_value(field: Field, head: Head, store: MemoryStore) -> Any:
    if field.mark(Array) is not None:
        array = np.asarray(store.get(field.value))
        if array.dtype.kind != "f" or not array.size:
            return field.value
        other = array.copy()
        other.reshape(-1)[array.size // 2] = min(0.9 * float(other.reshape(-1)[array.size // 2]) + 0.01, 1e3)
        return store.put(other)
    mark = field.mark(Length)
    if mark is not None and mark.when(field.records[-1]):
        return _longer(field.value)
    return field.value


def _longer(value: Any) -> Any:
    return tuple(map(_longer, value)) if isinstance(value, tuple) else 1.01 * value


def all_derived(character: Character, store: MemoryStore) -> list[Any]:
    """Of everything that is kept something: frames, readings, findings, what is found on the meshes."""
    evaluator, values = Evaluator(character, store), pose_values(character, character.poses[-1])
    points, normals = evaluator.frame(values)
    skin = next(p for p in character.parts if p.kind == "skin")
    return [
        points.copy(),
        normals.copy(),
        [(r.overlap, r.gap, r.drift) for r in SeamMeter(character, store, evaluator).measure(values)],
        plane_of(character, store).normal,
        [b.centre for b in found_head(character, store).balls.values()],
        {name: m.point for name, m in suggestions(character, store).items()},
        reference_weights(character, store),
        shape_rows(character, store),
        shape_findings(character, store),
        canvas_of(character, store, skin).partners,
    ]


def same(one: Any, other: Any) -> bool:
    if isinstance(one, np.ndarray):
        return np.array_equal(one, other)
    if isinstance(one, list | tuple):
        return len(one) == len(other) and all(map(same, one, other))
    if isinstance(one, dict):
        return one.keys() == other.keys() and all(same(one[k], other[k]) for k in one)
    if is_dataclass(one):
        return all(same(getattr(one, f.name), getattr(other, f.name)) for f in fields(one))
    return bool(one == other)


@settings(max_examples=6, deadline=None)
@given(at=st.integers(0, 10_000))
def test_whatever_changes_warm_is_cold_to_the_bit_in_two_threads(rich, at):
    """All that is kept of the head before a field changed must not show in what is derived after it."""
    store = MemoryStore(rich.store)
    all_derived(rich.character, rich.store)
    field, changed = changed_field(rich, at, store)
    with ThreadPoolExecutor(2) as pool:
        warm = [pool.submit(all_derived, changed, store) for _ in range(2)]
        found = [w.result() for w in warm]
    DERIVED.clear()
    cold = all_derived(changed, store)
    assert same(found[0], cold), field
    assert same(found[1], cold), field


def test_every_loop_has_one_signature(rigged):
    """None is compiled while somebody waits: whatever is posed takes those that were compiled when the loops were loaded."""
    before = {name: len(getattr(kernels, name).signatures) for name in kernels.__all__}
    for head in rigged.values():
        for pose in head.character.poses:
            Evaluator(head.character, head.store).frame(pose_values(head.character, pose))
    assert {name: len(getattr(kernels, name).signatures) for name in kernels.__all__} == before


def test_marks_are_of_known_kinds(rich):
    assert {type(m) for f in fields_of(rich.character) for m in f.marks} >= {Named, Refers, Length}


def test_the_mesh_of_a_part_is_one_for_all_and_nobody_can_change_it(clean):
    skin = part(clean.character, "skin")
    mesh = part_mesh(clean.store, skin)
    assert part_mesh(clean.store, replace(skin, kind="cloth")) is mesh
    made = [
        mesh.triangles,
        mesh.islands,
        mesh.neighbours.data,
        mesh.average.data,
        mesh.graph.data,
        mesh.laplacian[0].data,
        mesh.laplacian[1],
    ]
    for array in made:
        with pytest.raises(ValueError, match="read-only"):
            array[:1] = 0
    edges, fans = vars(mesh.edges).values(), vars(mesh.fans).values()
    whole = sum(x.nbytes for x in (*made, *edges, *fans) if isinstance(x, np.ndarray))
    assert whole < sys.getsizeof(mesh)  # what a cache bounded by bytes weighs it as
