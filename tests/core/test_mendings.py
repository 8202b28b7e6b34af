"""What would put a cause of the mix right: planted faults are mended, side effects are told, and what was said before is what comes."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.mix_model import MixRules
from tightseam.edits.registry import make_step
from tightseam.mending.limits import limited
from tightseam.mending.mended import mendings, ways
from tightseam.mending.mender import Mender
from tightseam.mending.mending import WORSE
from tightseam.mending.repair_all import repaired
from tightseam.mending.swept import fault_of, swept
from tightseam.mending.touched import Touched
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.intended import as_intended
from tightseam.mix.report import mix_report

from tests.core.mix_faults import PAIRS, Planter
from tests.head import Head, after

FAULTS = {
    "lid": ("blink_L", "blink_R", "smile"),
    "lip": ("jaw_side", "smile"),
    "rough": ("smile", "pucker"),
    "sunken": ("jaw_open", "pucker"),
    "whiskers": ("pucker", "head_turn"),
}  # of Hob, with the controls that they are looked for among


@pytest.fixture(scope="module", params=FAULTS)
def planted(request, rigged):
    fault = PAIRS["hob", request.param]
    planter = Planter(rigged["hob"].with_controls(FAULTS[request.param]))
    head = Head(fault.plant(planter), planter.store)
    before = swept(head.character, head.store)
    report = before.report
    ends = {end.rstrip("+-") for end in fault.ends}

    def is_it(k: int) -> bool:
        found = report.findings[k]
        return found.kind == fault.kind and ends <= {e.rstrip("+-") for e in found.ends}

    cause = next(c for c in report.causes if any(map(is_it, c.findings)))
    return head, report, cause, mendings(before, cause)


def test_a_planted_fault_is_mended_by_the_first_or_the_second_way(planted):
    *_, found = planted
    assert any(m.clean for m in found[:2]), [(m.text, m.found, m.left, m.harms) for m in found]
    assert all(m.left < m.found for m in found)


def test_what_was_said_is_what_comes(planted):
    """The edit made and everything swept again: what was to be gone is, and nothing is new but what was told."""
    head, report, cause, found = planted
    best = found[0]
    changed = after(head, make_step(best.edit, best.params).params)
    now = mix_report(changed.character, changed.store)
    was = {(f.moment, f.kind, f.about, f.place): f.size for f in report.findings}
    after_all = {(f.moment, f.kind, f.about, f.place): f.size for f in now.findings}
    own = {(f.moment, f.kind, f.about, f.place) for f in (report.findings[k] for k in cause.findings)}
    assert len({key[0] for key in own & after_all.keys()}) == best.left
    told = {(e.moment, e.title) for e in best.effects if e.how in WORSE}
    fresh = {(f.moment, f.title) for f in now.findings if (f.moment, f.kind, f.about, f.place) not in was}
    assert fresh <= told


def test_poses_that_an_edit_does_not_change_are_left_out_and_no_others(planted, rigged):
    """By what stands where, in poses taken at random."""
    head, _, _, found = planted
    step = make_step(found[0].edit, found[0].params)
    scratch = MemoryStore(head.store)
    changed = Head(step.params.apply(head.character, scratch), scratch)
    touched = Touched(head.character, head.store, changed.character, scratch)
    rng = np.random.default_rng(3)
    for _ in range(25):
        values = {c.name: float(rng.choice([c.rest, c.low, c.high])) for c in head.character.controls}
        moved = np.abs(head.evaluator.points(values) - changed.evaluator.points(changed.values(values))).max()
        assert moved < 2e-5 or touched.by(values, values)


@pytest.fixture(scope="module")
def all_repaired(rigged):
    """Hob with a rough cheek and a smile that presses the lip back, all of his causes repaired."""
    planter = Planter(rigged["hob"].with_controls(("jaw_side", "smile", "pucker")))
    planter.character = planter.rough(0.9)
    head = Head(planter.lip(0.15), planter.store)
    before = swept(head.character, head.store)
    return before, *repaired(before)


def test_all_causes_are_put_right_in_one_go(all_repaired):
    before, done, after = all_repaired
    assert (done.causes_before, done.findings_before) == (len(before.report.causes), len(before.report.findings))
    assert done.causes_before >= 2
    assert done.findings_after == 0, done.unmended
    assert (done.causes_after, done.unmended, done.worse) == (0, (), ())
    assert not after.report.findings


def test_the_steps_of_all_repairs_give_the_head_that_was_measured(all_repaired):
    """Made as one edit on the head as it was they are the same to the bit, and so is a sweep that knows nothing of the others."""
    before, done, after = all_repaired
    scratch = MemoryStore(before.store)
    params = {"steps": [s.model_dump() for s in done.steps]}
    made = make_step("edits.together", params).params.apply(before.character, scratch)
    assert made == after.character
    assert mix_report(made, scratch) == after.report


def test_what_is_meant_is_not_repaired(rigged):
    planter = Planter(rigged["hob"].with_controls(("smile", "pucker", "brows_up")))
    before = swept(planter.rough(0.9), planter.store)
    report = before.report
    meant = tuple(as_intended(report, c, "He is rough there.") for c in report.causes if report.findings[c.findings[0]].kind == "crumple")
    assert meant
    head = replace(before.character, intended=meant)
    done, after = repaired(swept(head, planter.store))
    assert not [r for r in done.repairs if "crumples" in r.title]
    assert [f for f in after.report.findings if f.kind == "crumple"]
    assert done.causes_before == len(report.causes) - len(meant)
    assert done.causes_after == 0


def test_a_fault_that_only_a_pair_hid_is_not_new(rigged):
    """Of three expressions that is told which no two have: where the pair is put right, what the three have comes to sight."""
    planter = Planter(rigged["hob"].with_controls(("smile", "pucker", "brows_up")))
    head = Head(planter.rough(0.9), planter.store)
    before = swept(head.character, head.store)
    three = Cell(tuple(Dialled(c.name) for c in head.character.controls))
    pair = next(r for r in before.cells.values() if set(r.cell.ends) == {"smile", "pucker"} and r.findings)
    told = before.cells[three].findings if three in before.cells else ()
    crumpled = {fault_of(f) for f in pair.findings if f.kind == "crumple"}
    assert crumpled
    assert not crumpled & {fault_of(f) for f in told}
    assert crumpled <= before.there_before(three).keys()


def test_a_tongue_that_needs_room_is_only_used_with_an_open_jaw(rigged):
    """As the jaw goes aside a curled tongue runs into the upper teeth, with an open mouth it does not. That is for somebody to decide: it
    is not among the ways where all causes are repaired."""
    few = rigged["hob"].with_controls(("tongue_curl", "jaw_open", "jaw_side"))
    before = swept(replace(few.character, mix=MixRules()), MemoryStore(few.store))
    cause = next(c for c in before.report.causes if before.report.findings[c.findings[0]].about == "tongue_teeth_upper")
    needed = [p for p in limited(before, cause) if p.kind == "needs" and p.text.startswith("Tongue curl")]
    assert re.match(r"Tongue curl is only used with Jaw open from 0\.5 on$", needed[0].text)
    mender = Mender(before, cause)
    made = mender.best(needed[:1])
    assert made is not None
    measured = mender.measured(made)
    assert measured is not None
    assert measured.mending.clean
    assert not {m.mending.kind for m in ways(before, cause, harmless=True)} & {"needs", "range"}
    now = swept(made.changed, made.scratch)  # what was measured of cells that are others now is what a sweep of them finds
    assert all(now.cells[r.cell].findings == r.findings for r in measured.cells.values() if r.cell in now.cells)


def test_an_expression_that_goes_less_far_is_measured_as_far_as_it_then_goes(rigged):
    """What it does by itself is less then, too."""
    planter = Planter(rigged["hob"].with_controls(("smile", "pucker")))
    before = swept(replace(planter.rough(0.9), poses=()), planter.store)  # a pose holds a range where it is
    cause = next(c for c in before.report.causes if before.report.findings[c.findings[0]].kind == "crumple")
    shorter = [p for p in limited(before, cause) if p.kind == "range" and p.text.startswith("Smile")]
    mender = Mender(before, cause)
    made = mender.best(shorter)
    assert made is not None
    measured = mender.measured(made)
    assert measured is not None
    now = swept(made.changed, made.scratch)
    assert {str(c): r.findings for c, r in measured.cells.items()} == {str(c): now.cells[c].findings for c in measured.cells}
