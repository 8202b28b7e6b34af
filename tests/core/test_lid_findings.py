"""What is found on lids, and what the repairs do."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.demo.lid_faults import plant_in_lids
from tightseam.document.arrays import MemoryStore
from tightseam.document.check_arrays import check_arrays
from tightseam.document.model import CurveKey
from tightseam.edits.lid_edits import SetClosedLine
from tightseam.lids.maps import map_of, margins_of, with_map
from tightseam.lids.tune import lids_of

from tests.core.lid_heads import found, repaired, until_clean
from tests.head import Head, after


def changed(head: Head, side: str, which, change) -> Head:
    """A head whose map has been worked over by `change`, from the values (N,) and the points (N, 3)."""
    store = MemoryStore(head.store)
    pair = lids_of(head.character, side)
    values = map_of(head.character, store, pair, which)
    character = with_map(head.character, store, pair, which, change(values, head.rest("skin")))
    return Head(character, store)


def test_nothing_is_wrong_with_the_lids_of_the_clean_cast(rigged):
    for head in rigged.values():
        assert found(head) == []


def test_what_is_planted_in_hob_is_found_and_repaired(rigged):
    store = MemoryStore(rigged["hob"].store)
    character, planted = plant_in_lids(rigged["hob"].character, store)
    hob = Head(character, store)
    findings = found(hob)
    for fault in planted:
        mine = [f for f in findings if f.about == f"lid_{fault.lid}_{fault.side}" and f.kind in fault.checks]
        assert mine, fault
        assert any(f.repairs[0].edit == fault.edit and set(f.vertices) & fault.vertices for f in mine)
    lids = {f"lid_{p.lid}_{p.side}" for p in planted}
    assert {f.about for f in findings} <= lids  # and nothing beside
    through = next(f for f in findings if f.kind == "lid_in_eye" and "lower" in f.about)
    assert through.values["smile"] == 1
    assert "with Smile" in through.text
    clean, accepted = until_clean(hob, 4)
    assert accepted <= 4
    untouched = lids_of(clean.character, "R")
    assert untouched.line == lids_of(character, "R").line


@pytest.mark.parametrize("seed", range(8))
def test_random_patches_of_share_and_relief_are_found_and_mended(rigged, seed):
    rng = np.random.default_rng(seed)
    head = rigged[["maren", "pim", "hob"][seed % 3]]
    side, lid = "LR"[rng.integers(2)], int(rng.integers(2))
    margin = margins_of(head.store, lids_of(head.character, side))[lid]
    seed_at = margin[int(len(margin) * rng.uniform(0.3, 0.7))]
    which = "share" if seed % 2 else "eye_relief"
    less, reach = rng.uniform(0.1, 0.5), rng.uniform(0.35, 0.6)

    def spoil(values, points):
        return np.where(np.linalg.norm(points - points[seed_at], axis=1) < reach, less * values, values)

    spoiled = changed(head, side, which, spoil)
    findings = found(spoiled)
    assert findings
    assert all(f.about.endswith(side) for f in findings)
    first = findings[0]
    assert first.repairs[0].edit == ("lids.mend_map" if which == "share" else "lids.fit_relief")
    until_clean(spoiled, 3)


def test_a_lid_without_relief_is_pierced_by_the_cornea_that_turns_under_it(clean):
    bare = changed(clean, "L", "eye_relief", lambda values, _: np.zeros_like(values))
    findings = {(f.kind, f.about.split("_")[1]) for f in found(bare)}
    assert {"eye_in_lid", "lid_in_eye"} & {check for check, _ in findings}
    assert {lid for _, lid in findings} == {"upper", "lower"}


def test_an_eye_without_any_relief_is_given_one(clean):
    bare = replace(clean.character, eye_reliefs=())
    head = Head(bare, clean.store)
    mended, accepted = until_clean(head, 12)
    assert accepted >= 2
    assert {r.eye for r in mended.character.eye_reliefs} == {"eye_L", "eye_R"}
    check_arrays(mended.character, mended.store)


def test_the_size_of_a_slit_is_the_way_that_a_margin_does_not_go(clean):
    arc = clean.evaluator.rig.lids[0].turning.arc
    upper, _ = margins_of(clean.store, lids_of(clean.character, "L"))
    vertex = int(upper[len(upper) // 2])
    spoiled = changed(clean, "L", "share", lambda values, _: np.where(np.arange(len(values)) == vertex, 0.5, values))
    short = next(f for f in found(spoiled) if f.kind == "short" and f.values.get("gaze_height") is None)
    assert vertex in short.vertices
    rest = clean.rest("skin")
    at, angle = arc.place(rest[[vertex]])
    closed = np.interp(at, np.linspace(0, 1, 513), clean.evaluator.rig.lids[0].turning.closed[0])
    chord = 2 * np.linalg.norm(rest[vertex] - arc.centre) * np.sin(0.5 * abs(float(angle[0] - closed[0])) / 2)
    assert short.size == pytest.approx(10 * chord, rel=0.25)  # the lower margin is a little farther off than the line


def test_a_line_too_steep_to_close_is_eased_by_the_least(clean):
    steep = (CurveKey(0, 0.9), CurveKey(0.5, 0.1), CurveKey(0.55, 0.9), CurveKey(1, 0.5))
    head = after(clean, SetClosedLine(side="L", keys=steep))
    findings = found(head)
    assert "crossing" in {f.kind for f in findings}
    assert {f.repairs[0].edit for f in findings} == {"lids.set_line"}
    eased = [k["value"] for k in findings[0].repairs[0].params["keys"]]
    assert np.ptp(eased) < 0.8
    assert np.ptp(eased) > 0.05  # not made level where less does
    assert found(repaired(head, findings[0])) == []


def test_a_gentle_line_is_nobodys_fault(clean):
    gentle = (CurveKey(0, 0.1), CurveKey(0.5, 0.6), CurveKey(1, 0.3))
    assert found(after(clean, SetClosedLine(side="R", keys=gentle, mirror=True))) == []
