"""The lid board, the edits of the Lids station and its command."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from tightseam.cli import main
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import CurveKey, GazeFollow
from tightseam.edits.lid_edits import CopyLids, ResetLids, SetClosedLine, SetGazeFollow
from tightseam.exchange.character_file import write_character
from tightseam.lids.board import CLOSINGS, GAZES, LidBoard
from tightseam.seams.meter import SeamMeter

from tests.core.lid_heads import board_of
from tests.head import Head, after

LOW = (CurveKey(at=0, value=0.2), CurveKey(at=0.5, value=0.1), CurveKey(at=1, value=0.2))


def without_relief(head: Head) -> Head:
    character = replace(head.character, eye_reliefs=())
    return Head(character, head.store)


def test_the_clean_cast_is_within_the_limits_everywhere(rigged):
    for head in rigged.values():
        board = board_of(head)
        assert len(board.cells) == 2 * len(CLOSINGS) * len(GAZES)
        assert all(c.within for c in board.cells), board.worst
        assert all((c.slit is not None) == (c.closing == 1) for c in board.cells)


def test_a_cell_goes_to_the_controls_that_pose_it_outwards_for_each_eye(clean):
    board = LidBoard(clean.character, clean.store, clean.evaluator)
    across = {eye.side: board.pose(eye, 0.6, (-25, 30)) for eye in board.eyes}
    assert across["L"] == {"gaze_height": -25, "gaze_across": 30, "blink_L": 0.6}
    assert across["R"] == {"gaze_height": -25, "gaze_across": -30, "blink_R": 0.6}


def test_a_cell_names_the_measure_that_is_over_its_limit(clean):
    cells = board_of(without_relief(clean)).cells
    over = [c for c in cells if c.excess > 1]
    assert over
    assert {c.within for c in over} == {False}
    assert {c.worst for c in over} == {"overlap"}
    assert all(c.worst == "slit" or c.slit is None or c.overlap + c.gap > 0 for c in cells)


def test_both_eyes_of_a_symmetric_head_read_alike(clean):
    cells = board_of(clean).cells
    left, right = ([c for c in cells if c.side == side] for side in "LR")
    for a, b in zip(left, right, strict=True):
        assert (a.closing, a.height, a.outward) == (b.closing, b.height, b.outward)
        assert a.overlap == pytest.approx(b.overlap, abs=2e-3)
        assert a.gap == pytest.approx(b.gap, abs=5e-3)


def test_it_sees_the_overlaps_that_the_exact_distance_sees(clean):
    bare = without_relief(clean)
    meter = SeamMeter(bare.character, bare.store, bare.evaluator)
    cells = {(c.closing, c.height, c.outward): c for c in board_of(bare).cells if c.side == "L"}
    deep = 0
    for closing, (height, outward) in ((1.0, GAZES[1]), (0.6, GAZES[0]), (0.4, GAZES[3])):
        values = bare.values({"blink_L": closing, "gaze_height": height, "gaze_across": outward})
        exact = max(r.overlap for r in meter.measure(values) if r.seam in ("lid_upper_L", "lid_lower_L"))
        read = cells[closing, height, outward].overlap
        # a radial depth is at least as long as the shortest way out, but for what lies between samples, and not much longer on a ball
        assert 0.95 * exact - 0.02 <= read <= 1.3 * exact + 0.05
        deep += exact > 0.2
    assert deep


def test_at_rest_it_reads_what_the_seams_read(clean):
    bare = without_relief(clean)
    meter, board = SeamMeter(bare.character, bare.store, bare.evaluator), LidBoard(bare.character, bare.store, bare.evaluator)
    cells = [c for c in board.measure(bare.values({}), (0.4, 1.0), GAZES[:2], exact=True).cells if c.side == "R"]
    assert len(cells) == 4
    for cell in cells:
        values = bare.values({"blink_R": cell.closing, "gaze_height": cell.height, "gaze_across": -cell.outward})
        lids = [r for r in meter.measure(values, ("lids R",)) if r.seam in ("lid_upper_R", "lid_lower_R")]
        assert cell.overlap == pytest.approx(max(r.overlap for r in lids), abs=0.01)
    assert max(c.overlap for c in cells) > 0.2


def test_a_line_without_relief_is_over_and_its_cell_names_a_lid_vertex(clean):
    bare = without_relief(clean)
    worst = board_of(bare).worst
    assert not worst.within
    pair = next(x for x in bare.character.lids if x.side == worst.side)
    assert worst.vertex in bare.store.get(pair.vertices)


def test_a_closed_line_is_set_for_one_eye_or_both(clean):
    one = after(clean, SetClosedLine(side="L", keys=LOW))
    assert one.character.lids[0].line == LOW
    assert one.character.lids[1].line == clean.character.lids[1].line
    both = after(clean, SetClosedLine(side="L", keys=LOW[::-1], mirror=True))  # keys in any order
    assert [x.line for x in both.character.lids] == [LOW, LOW]
    assert all(c.within for c in board_of(both).cells)
    copied = after(one, CopyLids(side="L"))
    assert copied.character.lids[1].line == LOW
    back = after(copied, ResetLids(side="L"), ResetLids(side="R"))
    assert back.character.lids == clean.character.lids
    assert np.array_equal(back.posed("skin", {"blink": 1}), clean.posed("skin", {"blink": 1}))


def test_copied_lids_are_mirror_images(clean):
    made = after(clean, SetClosedLine(side="L", keys=LOW), CopyLids(side="L"))
    skin = made.posed("skin", {"blink": 0.8, "gaze_height": -10})
    left, right = (skin[np.concatenate([made.store.get(x.upper_margin), made.store.get(x.lower_margin)])] for x in made.character.lids)
    assert np.abs(left - right * [-1, 1, 1]).max() < 2e-4


def test_a_lid_follows_the_gaze_as_it_is_told(clean):
    stiff = after(clean, *(SetGazeFollow(side="R", lid=lid, follow=GazeFollow(), mirror=True) for lid in ("upper", "lower")))
    values = stiff.values({"gaze_height": -25})
    assert not stiff.evaluator.lid_motion(values)[0].any()
    eager = after(clean, SetGazeFollow(side="L", lid="upper", follow=GazeFollow(height=(CurveKey(-20, 0.8), CurveKey(0, 0)))))
    closing = eager.evaluator.lid_motion(eager.values({"gaze_height": -20}))[0]
    assert closing[0] == pytest.approx(0.8)
    assert closing[2] == pytest.approx(clean.evaluator.lid_motion(clean.values({"gaze_height": -20}))[0][2])


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (SetClosedLine(side="C", keys=LOW), "The eye C has no lids"),
        (SetClosedLine(side="L", keys=(CurveKey(0, 3),)), "values from -0.5 to 1.5"),
        (SetClosedLine(side="L", keys=(CurveKey(0.4, 0), CurveKey(0.4, 1))), "one after another"),
        (SetGazeFollow(side="L", lid="upper", follow=GazeFollow(slide=(CurveKey(0, 90),))), "slide"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, words):
    with pytest.raises(BadRequest, match=words):
        edit.apply(clean.character, MemoryStore(clean.store))


def test_without_lids_the_board_says_what_to_do(clean):
    bare = replace(clean.character, lids=(), controls=())
    with pytest.raises(BadRequest, match="Set up a first rig"):
        LidBoard(bare, clean.store, Evaluator(bare, clean.store))


def test_the_command_gives_the_board_as_numbers(clean, tmp_path, capsys):
    path = tmp_path / "maren.seam"
    path.write_bytes(write_character(clean.character, clean.store))
    assert main(["lids", str(path), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert (found["over"], len(found["cells"]), found["findings"]) == (0, 60, [])
    assert {c["side"] for c in found["cells"]} == {"L", "R"}
    bare = replace(clean.character, eye_reliefs=())
    path.write_bytes(write_character(bare, clean.store))
    assert main(["lids", str(path)]) == 1
    out = capsys.readouterr().out
    assert "over eye L" in out
    assert "lid L goes through the eye" in out
