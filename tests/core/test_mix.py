"""Every expression on every other: what is planted is found in the right cell with its cause, and nothing is told that was not measured."""

from __future__ import annotations

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.progress import Cancelled, heard_by
from tightseam.mix.causes import CauseFinder
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.ends import ends
from tightseam.mix.finding import MixFinding
from tightseam.mix.plan import planned
from tightseam.mix.report import mix_report
from tightseam.mix.sweep import sweep
from tightseam.mix.sweeper import CellResult, Sweeper

from tests.core.mix_faults import PAIRS, TRIPLES, Planted, Planter, uncarried
from tests.head import Head

FEW = ("smile", "blink_L", "blink", "jaw_open", "lip_seal_L", "gaze_height")


def told(result: CellResult) -> set[tuple[str, str]]:
    return {(f.kind, f.about) for f in result.findings}


@pytest.fixture(scope="module")
def hob(rigged) -> Head:
    return rigged["hob"]


@pytest.fixture(scope="module")
def few(hob) -> Head:
    return hob.with_controls(FEW)


@pytest.fixture(scope="module")
def clean_sweeper(hob) -> Sweeper:
    return Sweeper(hob.character, hob.store)


@pytest.fixture(scope="module")
def clean_sweepers(rigged) -> dict[str, Sweeper]:
    return {name: Sweeper(rigged[name].character, rigged[name].store) for name in ("hob", "maren")}


def has(result: CellResult, fault: Planted) -> bool:
    return (fault.kind, fault.about) in told(result)


def named(sweeper: Sweeper, character, planter: Planter, result: CellResult, fault: Planted) -> bool:
    """Is what caused the fault among the first of its causes?"""
    found = next(f for f in result.findings if (f.kind, f.about) == (fault.kind, fault.about))
    assert found.size > found.limit
    return fault.cause in [c.target for c in CauseFinder(character, planter.store, sweeper).of(found)[: len(fault.ends)]]


@pytest.mark.parametrize("where", PAIRS)
def test_a_planted_fault_is_found_in_its_pair_and_nowhere_alone_and_its_cause_is_named(where, rigged, clean_sweepers):
    fault, planter = PAIRS[where], Planter(rigged[where[0]])
    character = fault.plant(planter)
    sweeper, clean = Sweeper(character, planter.store), clean_sweepers[where[0]]
    pair = sweeper.cell(*map(Dialled, fault.ends))
    result = sweeper.measure(pair)
    assert has(result, fault)
    assert not has(clean.measure(pair), fault)
    for end in fault.ends:
        assert not has(sweeper.measure(sweeper.cell(Dialled(end))), fault)
    assert named(sweeper, character, planter, result, fault)


@pytest.mark.parametrize("name", TRIPLES)
def test_a_fault_of_three_is_found_though_no_two_of_them_show_it(name, hob):
    fault = TRIPLES[name]
    planter = Planter(hob.with_controls({end.rstrip("+-") for end in fault.ends}))
    character = fault.plant(planter)
    swept = sweep(character, planter.store)
    (found,) = [c for c in swept.cells if has(c, fault) and len(c.cell.ends) == 3]
    assert set(found.cell.ends) == set(fault.ends)
    assert not [c for c in swept.cells if has(c, fault) and c is not found]
    assert named(Sweeper(character, planter.store), character, planter, found, fault)


def test_what_both_sides_do_together_reads_as_all_of_it_measured_anew(hob):
    """Of cells spread over the whole plan."""
    planter = Planter(hob)
    planter.character = planter.lid("L", 0.75, 0.13)
    planter.character = planter.rough(0.9)
    character = planter.sunken(0.6)
    quick, whole = Sweeper(character, planter.store), Sweeper(character, planter.store, wholly=True)
    plan = planned(quick)
    whole.bases = quick.bases
    planted = [quick.cell(*map(Dialled, PAIRS["hob", n].ends)) for n in ("lid", "rough", "sunken")]
    found = 0
    for cell in [*plan.pairs[::19], *planted]:
        one, other = ({(f.kind, f.about, f.place): f for f in s.measure(cell).findings} for s in (quick, whole))
        assert one.keys() == other.keys(), str(cell)
        for key, f in one.items():
            assert f.size == pytest.approx(other[key].size, rel=0.001), f"{cell} {key}"
        found += len(one)
    assert found > 5


def test_a_sweep_has_every_pair_but_those_that_are_one_thing_twice(few):
    swept = sweep(few.character, few.store)
    names = [e.name for e in swept.ends]
    assert names == [e.name for e in ends(few.character)]
    assert ("blink_L", "blink") in [a.ends for a in swept.apart if a.why == "alike"]
    apart = {frozenset(a.ends) for a in swept.apart}
    bases = {d.end for base in swept.bases.values() for d in base}
    measured = {frozenset(c.cell.ends) - bases for c in swept.cells}
    control = {e.name: e.control for e in swept.ends}
    wanted = {frozenset(p) for p in combinations(names, 2) if control[p[0]] != control[p[1]]} - apart
    for pair in wanted:
        assert pair - bases in measured, pair


def test_what_does_nothing_alone_is_swept_with_what_wakes_it(few):
    swept = sweep(few.character, few.store)
    assert swept.bases == {"lip_seal_L": (Dialled("jaw_open"),)}
    assert all("jaw_open" in c.cell.ends for c in swept.cells if "lip_seal_L" in c.cell.ends)
    still = few.with_controls(("lip_seal_L", "smile"))
    assert sweep(still.character, still.store).asleep == ("lip_seal_L",)


def test_several_processes_find_what_one_does(few):
    one = sweep(few.character, few.store)
    assert sweep(few.character, few.store, processes=2) == one


def test_after_an_edit_only_what_it_changed_is_measured(few):
    first = sweep(few.character, few.store)
    before = {c.cell: c for c in first.cells}
    shape = next(s for s in few.character.shapes if s.name == "smile")
    changed = replace(few.character, shapes=tuple(replace(s, muted=True) if s is shape else s for s in few.character.shapes))
    for result in sweep(changed, few.store, before=before).cells:
        same = result is before.get(result.cell)
        assert same == ("smile" not in result.cell.ends), str(result.cell)


def test_a_sweep_is_stopped_and_goes_on_where_it_was(few):
    kept: dict[Cell, CellResult] = {}

    def keep(results) -> None:
        kept.update({r.cell: r for r in results})

    def impatient(share: float, text: str) -> None:
        if share > 0.5:
            raise Cancelled

    with pytest.raises(Cancelled), heard_by(impatient):
        sweep(few.character, few.store, keep=keep)
    assert kept
    again = sweep(few.character, few.store, before=kept)
    assert again == sweep(few.character, few.store)
    assert all(c is kept[c.cell] for c in again.cells if c.cell in kept)


def test_a_head_without_landmarks_says_what_was_not_measured(few):
    bare = replace(few.character, landmarks=())
    report = mix_report(bare, few.store)
    assert any("surface of the skin" in text for text in report.not_measured)


def test_what_is_wrong_at_rest_is_told_once_and_is_no_expressions_doing(few):
    """A tongue that nothing carries stays behind everywhere."""
    store = MemoryStore(few.store)
    report = mix_report(uncarried(few.character, store, "tongue"), store)
    assert len([text for text in report.at_rest if text.startswith("Tongue · tongue bones lags: ")]) == 1
    assert report.state == "over"
    lags = [f for f in report.findings if f.about == "follow_tongue"]
    rest = next(float(text.split(": ")[1].split()[0]) for text in report.at_rest if text.startswith("Tongue"))
    assert all(f.size > 1.25 * rest for f in lags)
    assert mix_report(few.character, few.store).at_rest == ()


def test_a_face_of_bones_alone_is_swept_by_their_channels(rigged):
    maren = rigged["maren"].character
    assert not any("." in e.name for e in ends(maren))
    bare = ends(replace(maren, controls=()))
    assert bare
    assert {e.control.partition(".")[0] for e in bare} <= {b.name for b in maren.bones if b.role == "deform"}
    assert not any(e.control.startswith(("teeth", "neck")) for e in bare)


@pytest.fixture(scope="module")
def report(hob):
    """A head with two faults, swept wholly with some of its controls."""
    planter = Planter(hob.with_controls(("smile", "pucker", "blink_L", "blink_R", "squint", "gaze_height", "brows_up")))
    planter.character = planter.lid("L", 0.85, 0.13)
    planter.character = planter.lid("R", 0.85, 0.13)
    return mix_report(planter.rough(0.9), planter.store)


def test_many_findings_are_few_causes_with_left_and_right_as_one(report):
    """The lashes stay where they were when the smile presses the lids in: told once for both sides and all that closes the eyes."""
    about_lashes = [c for c in report.causes if report.findings[c.findings[0]].about.startswith("ride_lash")]
    assert len(about_lashes) == 1
    assert about_lashes[0].end == "smile"
    assert about_lashes[0].sides == ("L", "R")
    assert len(about_lashes[0].findings) >= 8
    assert set(about_lashes[0].others) == {"blink_L", "squint"}


def test_a_report_says_how_much_where_and_by_which_links(report):
    crumple = next(f for f in report.findings if f.kind == "crumple")
    assert crumple.ends == ("smile", "pucker")
    assert crumple.values == {"smile": 1.0, "pucker": 1.0}
    assert crumple.title.startswith("The skin crumples: Cheek")
    assert crumple.moment == "in Smile × Pucker"
    cause = next(c for c in report.causes if report.findings[c.findings[0]] == crumple)
    assert {(link.control, link.kind, link.target) for link in cause.links[:2]} == {
        ("smile", "shape", "smile"),
        ("pucker", "shape", "pucker"),
    }


def test_findings_are_worst_first_and_each_has_one_cause(report):
    assert [f.excess for f in report.findings] == sorted((f.excess for f in report.findings), reverse=True)
    assert sorted(k for c in report.causes for k in c.findings) == list(range(len(report.findings)))


def test_a_gauge_reads_the_same_in_the_space_of_the_head(hob, clean_sweeper):
    """A sweep sees heads as they hang on their head bone; a seam measured there is what the strip measures."""
    turned = {"head_turn": 40.0, "jaw_open": 0.6}
    readings = {r.seam: r for r in hob.meter().measure(hob.values(turned))}
    meter = clean_sweeper.meter
    values = {"head_turn+": 40.0 / 50.0, "jaw_open": 0.6}
    cell = Cell(tuple(Dialled(e, values[e]) for e in clean_sweeper.ends if e in values))
    sizes = meter.sizes(meter.pose(cell))
    for k, measure in enumerate(meter.measures):
        if measure.kind in ("clash", "lag") and measure.seam.name in readings:
            reading = readings[measure.seam.name]
            wanted = reading.lag if measure.kind == "lag" else reading.overlap
            assert sizes.millimetres[k] == pytest.approx(wanted, abs=0.01), measure.seam.name


def finding(**changes) -> MixFinding:
    cell = Cell((Dialled("smile"), Dialled("blink_L")))
    usual = MixFinding("clash", "lid_lower_L", "Lower lid L", 0.3, "mm", 0.05, (0.0, 0.0), "skin", 5, (5,), cell)
    return replace(usual, **changes)


def test_places_that_lie_apart_are_not_one_fault():
    from tightseam.mix.groups import grouped

    near, far = finding(kind="stretch", about="skin", size=4, limit=3.0), finding(kind="stretch", about="skin", size=5, limit=3.0, vertex=6)
    at = {5: np.zeros(3), 6: np.array([0.0, 2.0, 0.0])}
    assert len(grouped([near, far], {}, lambda f: at[f.vertex])) == 2
    at[6] = np.array([0.0, 1.0, 0.0])
    (group,) = grouped([near, far], {}, lambda f: at[f.vertex])
    assert group.worst is far


def test_a_copy_of_the_store_is_enough_to_sweep(few):
    """What is handed to another process holds all that is needed."""
    from tightseam.mix.executors import packed, unpacked

    assert isinstance(few.store, MemoryStore)
    sweeper = unpacked(packed(few.character, few.store, None))
    assert [str(c) for c in planned(sweeper).pairs] == [str(c) for c in planned(Sweeper(few.character, few.store)).pairs]
