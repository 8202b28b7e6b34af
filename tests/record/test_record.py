"""What the core computes is what it computed when the record was taken; see tests/record/__init__.py."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from tightseam.edits.registry import EDITS

from tests.record import store
from tests.record.digest import differs, points_digest, same
from tests.record.script import SCRIPTS, Subject, outcomes
from tests.record.taken import HEADS, driven, findings, head_of, points, readings

POSED = [name for name in HEADS if name != "pim-faulty"]


@pytest.mark.parametrize("name", POSED)
def test_every_pose_with_every_driver_of_the_lids_stands_and_measures_as_recorded(name):
    was, read = store.read_points(name), store.read(name, "readings")
    for driver, head in driven(head_of(name)):
        for pose, before, now in zip(head.character.poses, was[driver], points(head), strict=True):
            for part, a, b in zip(head.character.parts, before, now, strict=True):
                assert differs(a, b) is None, (driver, pose.name, part.name)
        changed = [pose for pose, row in readings(head, driver).items() if not same(read[driver][pose], row)]
        assert changed == [], driver


@pytest.mark.parametrize("name", HEADS)
def test_the_same_is_found_as_recorded(name):
    was, now = store.read(name, "findings"), findings(name)
    assert was.keys() == now.keys()
    for station, row in now.items():
        assert len(row) == len(was[station]), station
        for a, b in zip(was[station], row, strict=True):
            assert same(a, b), station


@pytest.mark.parametrize("name", SCRIPTS)
def test_every_edit_comes_out_as_recorded(name):
    was, now = store.read(name, "edits"), outcomes(name)
    assert was.keys() == now.keys()
    assert [what for what, outcome in now.items() if not same(was[what], outcome)] == []


def test_every_kind_of_edit_is_in_the_record_and_most_are_carried_out():
    said = [o for name in SCRIPTS for o in store.read(name, "edits").values()]
    done = {edit for name, (whom, script) in SCRIPTS.items() for steps in script(Subject(head_of(whom))).values() for edit, _ in steps}
    assert done == set(EDITS)
    assert len(said) >= 200
    assert sum("refused" in o for o in said) < len(said) / 5


def test_a_vertex_that_goes_a_hundredth_of_a_millimetre_is_seen():
    rng = np.random.default_rng(3)
    rest = rng.normal(0, 8, (3000, 3))
    for _ in range(20):
        moved = rest.copy()
        moved[rng.integers(len(moved))] += [0, 1e-3, 0]
        assert differs(points_digest(rest, 60), points_digest(moved, 60)) is not None
    swapped = rest.copy()
    swapped[[1, 2]] = swapped[[2, 1]]
    assert differs(points_digest(rest, 60), points_digest(swapped, 60)) is not None


def test_a_finding_that_says_another_number_is_seen():
    was = store.read("hob-faulty", "findings")
    now = copy.deepcopy(was)
    now["seams"][0]["size"] += 0.01
    assert not same(was, now)
