"""What people decide about mixing: what is only used together, what is swept together, and what is meant."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.mix_model import MixRules, Partner
from tightseam.document.removal import without
from tightseam.document.rescale import rescaled
from tightseam.edits.registry import apply_recipe, make_step
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.intended import as_intended, with_intended
from tightseam.mix.page import mix_page
from tightseam.mix.plan import planned
from tightseam.mix.report import mix_report
from tightseam.mix.sweep import sweep
from tightseam.mix.sweeper import Sweeper

from tests.core.mix_faults import Planter
from tests.head import Head

FEW = ("smile", "pucker", "blink_L", "blink", "jaw_open", "gaze_height")


@pytest.fixture(scope="module")
def few(rigged) -> Head:
    return rigged["hob"].with_controls(FEW)


def edited(head: Head, edit: str, **params):
    return apply_recipe(head.character, head.store, [make_step(edit, params)])


def half_open(head: Head) -> float:
    jaw = next(c for c in head.character.controls if c.name == "jaw_open")
    return (jaw.rest + jaw.high) / 2


# -- needs


def test_what_is_only_used_with_another_is_swept_on_it_and_never_without(few):
    character = edited(few, "mix.set_need", control="pucker", other="jaw_open", value=half_open(few))
    swept = sweep(character, few.store)
    assert swept.bases == {"pucker": (Dialled("jaw_open", 0.5),)}
    strengths = {d.strength for c in swept.cells if "pucker" in c.cell.ends for d in c.cell.dialled if d.end == "jaw_open"}
    assert strengths == {0.5, 1.0}
    assert all("jaw_open" in c.cell.ends for c in swept.cells if "pucker" in c.cell.ends)
    base = next(e.base for e in mix_report(character, few.store).ends if e.name == "pucker")
    assert base == "Jaw open at 50%"


def test_on_a_base_what_both_do_together_reads_as_all_of_it_measured_anew(few):
    character = edited(few, "mix.set_need", control="smile", other="jaw_open", value=half_open(few))
    quick, whole = Sweeper(character, few.store), Sweeper(character, few.store, wholly=True)
    pairs = [c for c in planned(quick).pairs if "smile" in c.ends]
    assert Cell((Dialled("jaw_open"), Dialled("smile"))) in pairs
    whole.bases = quick.bases
    for cell in pairs:
        one, other = ({(f.kind, f.about, f.place): f.size for f in s.measure(cell).findings} for s in (quick, whole))
        assert one == pytest.approx(other, rel=0.001), str(cell)


def test_a_need_that_cannot_be_met_is_refused_in_words(few):
    def refused(words: str, **params) -> None:
        with pytest.raises(BadRequest, match=words):
            edited(few, "mix.set_need", **params)

    refused("cannot need itself", control="smile", other="smile", value=1)
    refused("no control “nod”", control="smile", other="nod", value=1)
    refused("not at 0", control="smile", other="blink", value=0)
    refused("not at 900", control="smile", other="jaw_open", value=900)
    refused("does not need", control="smile", other="jaw_open", value=None)
    once = replace(few, character=edited(few, "mix.set_need", control="smile", other="blink", value=1))
    with pytest.raises(BadRequest, match="in a ring"):
        edited(once, "mix.set_need", control="blink", other="smile", value=1)
    assert edited(once, "mix.set_need", control="smile", other="blink", value=None).mix == MixRules()


# -- pairs


def pair(one: str, other: str, swept: bool | None, reason: str = "") -> dict:
    return {"one": one, "one_way": "high", "other": other, "other_way": "high", "swept": swept, "reason": reason}


def test_pairs_are_put_in_and_taken_out_by_hand(few):
    character = edited(few, "mix.set_pairing", **pair("blink", "blink_L", True))
    character = edited(replace(few, character=character), "mix.set_pairing", **pair("smile", "jaw_open", False, "Never in this story."))
    swept = sweep(character, few.store)
    cells = {frozenset(c.cell.ends) for c in swept.cells}
    assert frozenset(("blink", "blink_L")) in cells
    assert frozenset(("smile", "jaw_open")) not in cells
    assert [(set(a.ends), a.said) for a in swept.apart if a.why == "by hand"] == [({"smile", "jaw_open"}, "Never in this story.")]
    assert "Never in this story." in mix_page(character, few.store, mix_report(character, few.store), "today")


def test_a_pair_is_taken_out_with_a_reason_alone_and_left_to_us_again(few):
    with pytest.raises(BadRequest, match="Say why"):
        edited(few, "mix.set_pairing", **pair("smile", "jaw_open", False))
    with pytest.raises(BadRequest, match="one control"):
        edited(few, "mix.set_pairing", **pair("smile", "smile", True))
    with pytest.raises(BadRequest, match="no such end"):
        edited(few, "mix.set_pairing", **(pair("smile", "blink", True) | {"one_way": "low"}))
    character = edited(few, "mix.set_pairing", **pair("smile", "jaw_open", True))
    assert edited(replace(few, character=character), "mix.set_pairing", **pair("jaw_open", "smile", None)).mix == MixRules()


# -- intended


@pytest.fixture(scope="module")
def faulty(few) -> Head:
    planter = Planter(few)
    planter.character = planter.rough(0.9)
    return replace(few, character=planter.sunken(0.6), store=planter.store)


@pytest.fixture(scope="module")
def report(faulty):
    return mix_report(faulty.character, faulty.store)


def test_what_is_meant_counts_no_more_and_all_else_does(faulty, report):
    assert len(report.causes) > 1
    meant = as_intended(report, report.causes[0], "It is a pillow.")
    told = with_intended(report, [meant])
    assert told.causes[-1].intended == 0
    assert [c.intended for c in told.causes[:-1]] == [None] * (len(report.causes) - 1)
    assert {f.intended for f in told.counting} == {None}
    assert len(told.counting) == len(report.findings) - len(report.causes[0].findings)
    assert told.state == "over"
    every = [as_intended(report, cause, "Meant.") for cause in report.causes]
    assert with_intended(report, every).state == "within"
    page = mix_page(replace(faulty.character, intended=(meant,)), faulty.store, told, "today")
    assert "It is a pillow." in page


def test_what_is_meant_counts_again_where_it_grows_moves_or_comes_with_something_else(report):
    meant = as_intended(report, report.causes[0], "Meant.")
    for other in (
        replace(meant, sizes={k: v * 0.7 for k, v in meant.sizes.items()}),
        replace(meant, places=tuple((x, y + 5.0, z) for x, y, z in meant.places)),
        replace(meant, mixes=((Partner("gaze_height", "low"), None, None),)),
    ):
        assert report.causes[0].findings[0] in [k for k, f in enumerate(with_intended(report, [other]).findings) if f.intended is None]
    slightly = replace(meant, sizes={k: v * 0.9 for k, v in meant.sizes.items()})
    assert with_intended(report, [slightly]).causes[-1].intended == 0


def test_what_was_called_intended_counts_again_when_asked(faulty, report):
    meant = as_intended(report, report.causes[0], "Meant.")
    params = {name: getattr(meant, name) for name in ("about", "mixes", "places", "sizes", "reason")}
    marked = replace(faulty, character=edited(faulty, "mix.intend", **params))
    assert marked.character.intended == (meant,)
    assert edited(marked, "mix.count_again", number=0).intended == ()
    with pytest.raises(BadRequest, match="not called intended"):
        edited(marked, "mix.count_again", number=1)
    with pytest.raises(BadRequest):
        edited(faulty, "mix.intend", **(params | {"reason": " "}))
    for far in ({"places": [(1e308, 0, 0)]}, {"sizes": {"flip": 1e300}}):
        with pytest.raises(BadRequest, match="than can be meant"):
            edited(faulty, "mix.intend", **(params | far))


# -- kept with the rest


def test_decisions_go_with_what_they_speak_of_and_come_back_from_files(faulty, report):
    store = MemoryStore(faulty.store)
    character = edited(faulty, "mix.set_need", control="pucker", other="jaw_open", value=half_open(faulty), reason="Only then.")
    character = edited(replace(faulty, character=character), "mix.set_pairing", **pair("smile", "blink", False, "Never."))
    every = tuple(as_intended(report, c, "Meant.") for c in report.causes)
    character = replace(character, intended=every)
    assert read_character(write_character(character, store), MemoryStore()).intended == every
    back = read_glb(write_glb(character, store), MemoryStore())
    assert (back.mix, back.intended, back.plan) == (character.mix, every, character.plan)
    left = without(character, "control", ["smile"])
    assert left.mix.pairings == ()
    assert not any(p.control == "smile" for it in left.intended for m in it.mixes for p in m if p is not None)
    assert without(character, "control", ["jaw_open"]).mix.needs == ()
    twice = rescaled(character, store, 2.0)
    assert np.allclose(twice.intended[0].places, 2 * np.array(every[0].places))
    assert twice.mix == character.mix
