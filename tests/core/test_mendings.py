"""What would put a cause of the mix right: planted faults are mended, side effects are told, and what was said before is what comes."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.edits.registry import make_step
from tightseam.mending.mended import mendings
from tightseam.mending.mending import WORSE
from tightseam.mending.swept import Swept
from tightseam.mending.touched import Touched
from tightseam.mix.cell import Cell
from tightseam.mix.report import mix_report
from tightseam.mix.sweeper import CellResult

from tests.core.mix_faults import PAIRS, Planter
from tests.head import Head, after

FAULTS = {
    "lid": ("blink_L", "blink_R", "smile"),
    "lip": ("jaw_side", "smile"),
    "rough": ("smile", "pucker"),
    "sunken": ("jaw_open", "pucker"),
    "whiskers": ("pucker", "head_turn"),
}  # of Hob, with the controls that they are looked for among


def swept(head: Head):
    cells: dict[Cell, CellResult] = {}
    report = mix_report(head.character, head.store, keep=lambda some: cells.update({r.cell: r for r in some}))
    return report, cells


@pytest.fixture(scope="module", params=FAULTS)
def planted(request, rigged):
    fault = PAIRS["hob", request.param]
    planter = Planter(rigged["hob"].with_controls(FAULTS[request.param]))
    head = Head(fault.plant(planter), planter.store)
    report, cells = swept(head)
    ends = {end.rstrip("+-") for end in fault.ends}

    def is_it(k: int) -> bool:
        found = report.findings[k]
        return found.kind == fault.kind and ends <= {e.rstrip("+-") for e in found.ends}

    cause = next(c for c in report.causes if any(map(is_it, c.findings)))
    return head, report, cells, cause, mendings(Swept(head.character, head.store, report, cells), cause)


def test_a_planted_fault_is_mended_by_the_first_or_the_second_way(planted):
    *_, found = planted
    assert any(m.clean for m in found[:2]), [(m.text, m.found, m.left, m.harms) for m in found]
    assert all(m.left < m.found for m in found)


def test_what_was_said_is_what_comes(planted):
    """The edit made and everything swept again: what was to be gone is, and nothing is new but what was told."""
    head, report, _, cause, found = planted
    best = found[0]
    changed = after(head, make_step(best.edit, best.params).params)
    now = swept(changed)[0]
    was = {(f.moment, f.kind, f.about, f.place): f.size for f in report.findings}
    after_all = {(f.moment, f.kind, f.about, f.place): f.size for f in now.findings}
    own = {(f.moment, f.kind, f.about, f.place) for f in (report.findings[k] for k in cause.findings)}
    assert len({key[0] for key in own & after_all.keys()}) == best.left
    told = {(e.moment, e.title) for e in best.effects if e.how in WORSE}
    fresh = {(f.moment, f.title) for f in now.findings if (f.moment, f.kind, f.about, f.place) not in was}
    assert fresh <= told


def test_poses_that_an_edit_does_not_change_are_left_out_and_no_others(planted, rigged):
    """By what stands where, in poses taken at random."""
    head, _, _, _, found = planted
    step = make_step(found[0].edit, found[0].params)
    scratch = MemoryStore(head.store)
    changed = Head(step.params.apply(head.character, scratch), scratch)
    touched = Touched(head.character, head.store, changed.character, scratch)
    rng = np.random.default_rng(3)
    for _ in range(25):
        values = {c.name: float(rng.choice([c.rest, c.low, c.high])) for c in head.character.controls}
        moved = np.abs(head.evaluator.points(values) - changed.evaluator.points(changed.values(values))).max()
        assert moved < 2e-5 or touched.by(values, values)
