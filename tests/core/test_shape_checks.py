"""What is found on shapes, planted by code that knows the truth."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from tightseam.cli import main
from tightseam.demo.shape_faults import plant_in_shapes
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Control, Link
from tightseam.edits.set_order import SetOrder
from tightseam.edits.shape_edits import ScaleShape
from tightseam.edits.shape_making_edits import AddUpShapes, BakePose, SplitShape, Term
from tightseam.exchange.character_file import write_character
from tightseam.shapes.checks import shape_findings
from tightseam.shapes.name_list import matched, shipped_list
from tightseam.shapes.offsets import made_shape, offsets_of

from tests import cast
from tests.head import Head, after, repaired, step_of


def found(head: Head):
    return shape_findings(head.character, head.store)


def with_offsets(head: Head, name: str, change) -> Head:
    """The head with a shape whose offsets by part have been worked over."""
    shape = find_shape(head.character, name)
    made = made_shape(head.store, name, shape.label, change(offsets_of(head.character, head.store, shape)))
    return Head(replace(head.character, shapes=tuple(made if s is shape else s for s in head.character.shapes)), head.store)


@pytest.mark.parametrize("who", ["maren", "hob", "pim"])
def test_nothing_is_wrong_with_the_shapes_of_the_clean_cast(rigged, who):
    assert [f.title for f in found(rigged[who])] == []


def test_an_empty_shape_is_found_and_removed(clean):
    head = after(clean, AddUpShapes(name="none", terms=[Term(shape="smile", strength=0)]))
    finding = found(head)[0]
    assert (finding.kind, finding.about) == ("empty", "none")
    assert found(repaired(head, finding)) == []


def test_a_vertex_that_moves_alone_is_named(clean):
    crown = int(clean.rest("skin")[:, 1].argmax())

    def stray(offsets):
        offsets["skin"][crown] = [0, 0.3, 0]
        return offsets

    finding = found(with_offsets(clean, "smile", stray))[0]
    assert (finding.kind, finding.vertices, finding.size) == ("stray", (crown,), pytest.approx(3.0, abs=1e-3))


def test_twins_that_are_no_mirror_images(clean):
    head = after(clean, SplitShape(name="smile"))
    assert found(head) == []
    assert found(after(head, ScaleShape(name="smile_R", by=0.8)))[0].kind == "twin"


def test_brows_that_stay_behind_are_found(clean):
    head = with_offsets(clean, "brows_up", lambda o: {"skin": o["skin"], "hair": o["hair"]})
    findings = found(head)
    assert {f.part for f in findings} == {"brow_L", "brow_R"}
    assert all(f.kind == "left_behind" and f.size > 3 and f.repairs[0].edit == "binding.ride" for f in findings)
    rest = {f.part for f in found(repaired(head, findings[0]))}
    assert rest == {findings[1].part}  # that one rides now


def test_a_part_with_offsets_of_its_own_gets_some_where_it_stayed_behind(rigged):
    hob = rigged["hob"]
    head = with_offsets(hob, "pucker", lambda o: {"skin": o["skin"]})
    finding = next(f for f in found(head) if f.part == "whiskers")
    assert finding.repairs[0].edit == "shape.take_along"
    mended = repaired(head, finding)
    assert found(mended) == []
    own, was = (offsets_of(h.character, h.store, find_shape(h.character, "pucker"))["whiskers"] for h in (mended, hob))
    assert np.linalg.norm(own - was, axis=1).max() < 0.5 * np.linalg.norm(was, axis=1).max()


def test_shapes_after_bones_are_found_by_how_far_they_leave_the_head(clean):
    head = after(clean, AddUpShapes(name="away", terms=[Term(shape="smile", strength=0)]))
    tongue = np.tile([0.0, 0.0, 1.0], (len(clean.rest("tongue")), 1))
    head = after(with_offsets(head, "away", lambda o: {"tongue": tongue}))
    assert found(head) == []
    wrong = after(head, SetOrder(part="tongue", first="bones"))
    finding = found(wrong)[0]
    assert (finding.kind, finding.part) == ("order", "tongue")
    assert finding.size == pytest.approx(10 * 2 * np.sin(np.radians(15)), rel=0.01)  # a chord of 30 degrees, 1 cm out
    assert np.abs(wrong.posed("tongue", {"away.strength": 1}) - head.posed("tongue", {"away.strength": 1})).max() < 1e-5
    assert found(repaired(wrong, finding)) == []


def test_what_is_planted_in_hob_is_found_and_repaired():
    hob, clean = cast.faulty("hob"), cast.clean("hob")
    character, store = hob.character, MemoryStore(hob.store)
    planted = {(p.check, p.shape) for p in plant_in_shapes(clean.character, MemoryStore(clean.store))[1]}
    findings = shape_findings(character, store)
    assert planted <= {(f.kind, f.about) for f in findings}
    beside = {"smile", "full_cheek_right"}  # a lash of other faults; the stray one's twin
    assert {f.about for f in findings} - {s for _, s in planted} == beside
    names = matched([s.name for s in character.shapes], shipped_list("lantern_post"))
    assert {ours for ours, _ in names.near} == {"full_cheek_left", "full_cheek_right", "low_corner_left", "low_corner_right"}
    for _ in range(len(findings)):
        if not findings:
            break
        character = step_of(findings[0]).params.apply(character, store)
        findings = shape_findings(character, store)
    assert findings == []


def test_a_jaw_that_is_counted_twice_is_found_and_taken_out(clean):
    head = after(clean, BakePose(name="jaw_down", values={"jaw.turn_x": 22.0}))
    controls = tuple(
        replace(c, links=(*c.links, Link("shape", "jaw_down", 1))) if c.name == "jaw_open" else c for c in head.character.controls
    )
    twice = Head(replace(head.character, controls=controls), head.store)
    finding = next(f for f in found(twice) if f.kind == "twice")
    assert (finding.about, finding.repairs[0].edit) == ("jaw_down", "shape.take_out")
    mended = repaired(twice, finding)
    assert [f for f in found(mended) if f.kind == "twice"] == []
    alone = Control("only", "Only", 0, 1, 0, (Link("shape", "jaw_down", 1),))
    apart = replace(head.character, controls=(*head.character.controls, alone))
    assert shape_findings(apart, head.store) == []
    assert np.abs(mended.posed("teeth_lower", {"jaw_open": 1.0}) - clean.posed("teeth_lower", {"jaw_open": 1.0})).max() < 0.2


def test_the_command_line_lists_shapes_and_matches_names(clean, tmp_path, capsys):
    head = after(clean, SplitShape(name="smile"))
    file, names = tmp_path / "maren.seam", tmp_path / "names.csv"
    file.write_bytes(write_character(head.character, head.store))
    names.write_text("name\nSmile_left\nsmile_R\nblink\n")
    assert main(["shapes", str(file), "--names", str(names), "--json"]) == 0
    said = json.loads(capsys.readouterr().out)
    row = {r["name"]: r for r in said["shapes"]}
    assert row["smile_L"]["twin"] == "smile_R"
    assert row["smile"]["driven_by"] == ["smile"]
    assert row["brows_up"]["parts"].keys() == {"skin", "brow_L", "brow_R", "hair"}
    smile = offsets_of(head.character, head.store, find_shape(head.character, "smile"))["skin"]
    assert row["smile"]["size"] == pytest.approx(10 * np.linalg.norm(smile, axis=1).max())
    assert said["names"]["same"] == ["smile_R"]
    assert said["names"]["near"] == [["smile_L", "Smile_left"]]
    assert said["names"]["missing"] == ["blink"]
    assert main(["shapes", str(file), "--names", "lantern_post"]) == 0
    assert "names as wanted" in capsys.readouterr().out
    assert main(["shapes", str(file), "--names", str(tmp_path / "none.json")]) == 2
