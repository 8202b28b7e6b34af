"""Check-in of the demo cast: nothing on the clean ones, each planted fault on Pim."""

from __future__ import annotations

import copy
from dataclasses import replace

import pytest
from tightseam.checkin.limits import LIMITS
from tightseam.checkin.report import check_in
from tightseam.demo.mesh_faults import MeshFault
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import CheckIn

from tests.core.heads import character_of
from tests.core.random_faults import ENOUGH, share_found


@pytest.fixture(scope="module")
def report(fresh):
    return check_in(fresh.character, fresh.store)


@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_a_clean_head_is_fine_in_every_check(raw_heads, name):
    found = check_in(*character_of(raw_heads[name]))
    assert [(c.key, c.said) for c in found.checks if c.verdict != "fine"] == []
    assert len(found.checks) >= 30


def test_every_planted_fault_is_found_with_its_vertices(fresh, report):
    assert len(fresh.planted) == 12
    shares = {(f.check, f.part): share_found(f, report) for f in fresh.planted}
    assert min(shares.values()) >= ENOUGH, shares


def test_no_fault_is_reported_that_was_not_planted(fresh, report):
    assert {c.key for c in report.checks if c.verdict == "fault"} == {f.check for f in fresh.planted}


def planted(fresh, check: str) -> MeshFault:
    return next(f for f in fresh.planted if f.check == check)


def test_measured_values_are_those_that_were_planted(fresh, report):
    assert planted(fresh, "mouth_closed").size == 0.8
    assert report.of("mouth_closed").said == "gap of 0.80 mm"
    assert report.of("duplicates").said == "3 pairs on Skin"
    assert report.of("transforms").said == "Hair: scale 1.080"
    assert report.of("lid_spans_L").said == "14 above, 13 below"
    said = float(report.of("eye_pivot_L").said.split()[0])
    assert said == pytest.approx(planted(fresh, "eye_pivot_L").size, abs=0.11)  # the flattened ball's centre is not quite the eye's


def test_poles_carry_their_valence(fresh, report):
    check = report.of("poles")
    assert {m.vertex for m in check.marks} == set(planted(fresh, "poles").vertices)
    assert sorted(m.text for m in check.marks) == ["3 edges", "3 edges", "5 edges", "5 edges"]


def test_checks_come_from_worst_to_fine_and_explain_themselves(report):
    assert [c.grave for c in report.checks] == sorted(c.grave for c in report.checks)
    for check in report.checks:
        assert check.label, check.key
        assert check.said, check.key
        assert check.why, check.key
        assert check.what, check.key
        assert set(check.limits) <= set(LIMITS), check.key
    assert all(c.places for c in report.checks if c.verdict == "fault")


def test_a_limit_of_ones_own_changes_the_verdict(fresh):
    wider = replace(fresh.character, checkin=CheckIn(limits={"lip_gap": 1.0, "eye_roundness": 2.0}, unit_cm=1.0))
    found = check_in(wider, fresh.store)
    assert found.of("mouth_closed").verdict == "fine"
    assert found.of("eye_round_L").verdict == found.of("eye_round_R").verdict == "fine"
    assert found.count("fault") == 9


def test_a_waived_check_is_listed_last_and_counts_no_more(fresh, report):
    waiving = replace(fresh.character, checkin=CheckIn(waived={"mouth_closed": "He breathes through it"}, unit_cm=1.0))
    found = check_in(waiving, fresh.store)
    assert found.checks[-1].key == "mouth_closed"
    assert found.checks[-1].waived == "He breathes through it"
    assert found.count("fault") == report.count("fault") - 1


def test_a_waiver_of_what_is_fine_says_nothing(raw_heads):
    character, store = character_of(raw_heads["maren"])
    found = check_in(replace(character, checkin=CheckIn(waived={"quads": "because"})), store)
    assert found.of("quads").waived is None


def test_planting_changes_a_copy_and_not_the_clean_head(raw_heads, fresh):
    assert len(raw_heads["pim"].parts[0].points) != fresh.character.parts[0].vertex_count
    again = MemoryStore()
    from tightseam.demo.cast import fresh_pim

    character, planted_again = fresh_pim(copy.deepcopy(raw_heads["pim"]), again)
    assert character == fresh.character
    assert planted_again == fresh.planted
