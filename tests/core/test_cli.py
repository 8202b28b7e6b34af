"""The command line, as a pipeline calls it."""

from __future__ import annotations

import json
import re
from pathlib import Path

import numpy as np
import pytest
from tightseam.cli import main
from tightseam.exchange.obj_write import write_obj

from tests.core.heads import character_of, without_hair


@pytest.fixture
def maren(tmp_path, maren_file):
    path = tmp_path / "maren.seam"
    path.write_bytes(maren_file)
    return str(path)


def run(capsys, *arguments: str) -> tuple[int, str, str]:
    status = main(list(arguments))
    said = capsys.readouterr()
    return status, said.out, said.err


def test_info_lists_everything_by_name(capsys, maren, faulty):
    status, out, _ = run(capsys, "info", maren, "--json")
    found = json.loads(out)
    assert status == 0
    assert next(p for p in found["parts"] if p["name"] == "skin") == {
        "name": "skin",
        "kind": "skin",
        "side": "C",
        "vertices": len(faulty.rest("skin")),
        "polygons": len(faulty.polygons("skin")),
    }
    assert [p["name"] for p in found["poses"]][:2] == ["neutral", "jaw_open"]
    assert {"jaw", "teeth_lower", "eye_R"} <= {b["name"] for b in found["bones"]}
    assert {"smile", "brows_up", "pucker"} <= {s["name"] for s in found["shapes"]}
    assert "Maren: 14 parts" in run(capsys, "info", maren)[1]


def test_measure_finds_the_faults_and_says_so_by_its_status(capsys, maren):
    status, out, _ = run(capsys, "measure", maren, "--pose", "jaw_open", "--json")
    report = json.loads(out)
    assert status == 1
    assert not report["within"]
    over = [s for s in report["poses"][0]["seams"] if not s["within"]]
    assert [s["seam"] for s in over] == ["follow_teeth_lower"]
    assert over[0]["lag"] == pytest.approx(18.2, abs=0.3)
    assert report["findings"][0]["causes"][0]["name"] == "head"
    status, out, _ = run(capsys, "measure", maren, "--pose", "smile")
    assert status == 0
    assert len(out.splitlines()) == 28 + 3
    assert re.search(r"^left and right, skin +apart +0\.00 +smile$", out, re.M)
    assert "OVER" not in out
    status, out, _ = run(capsys, "measure", maren, "--pose", "look_up")
    assert re.search(r"follow_eye_R +lag +7\.19 +OVER +look_up", out)
    assert "Eye R stays behind the eye bone: 7.2 mm behind in Look up." in out


def test_measure_takes_control_values_too(capsys, maren):
    status, out, _ = run(capsys, "measure", maren, "--set", "jaw_open=0.5", "head_turn=20", "--json")
    lag = next(s["lag"] for s in json.loads(out)["poses"][0]["seams"] if s["seam"] == "follow_teeth_lower")
    assert status == 1
    assert 9 < lag < 10  # half the opening, about half the lag


def test_points_are_centimetres(capsys, maren, tmp_path, faulty):
    out = tmp_path / "eye.npy"
    assert run(capsys, "points", maren, "--part", "eye_L", "--pose", "look_up", "--out", str(out))[0] == 0
    assert np.abs(np.load(out) - faulty.posed("eye_L", {"gaze_height": 20})).max() < 1e-5


def test_a_recipe_mends_the_file(capsys, maren, tmp_path):
    recipe, mended = tmp_path / "r.json", tmp_path / "mended.seam"
    step = {"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}}
    recipe.write_text(json.dumps([step]))
    status, _, err = run(capsys, "edit", maren, "--recipe", str(recipe), "--out", str(mended))
    assert status == 0
    assert "Gave Teeth lower to Teeth on jaw" in err
    assert run(capsys, "measure", str(mended), "--pose", "jaw_open")[0] == 0


def test_edits_are_tried_one_on_another_and_nothing_is_changed(capsys, maren, tmp_path):
    before = Path(maren).read_bytes()
    recipe = tmp_path / "r.json"
    give = {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}
    take = give | {"bones": ["head"]}
    recipe.write_text(json.dumps([{"edit": "binding.set_carrier", "params": p} for p in (give, take)]))
    assert main(["try", maren, "--recipe", str(recipe), "--json"]) == 1  # the second makes it worse
    mended, spoiled = json.loads(capsys.readouterr().out)
    assert (mended["station"], mended["before"] - mended["after"]) == ("weights", 1)
    assert mended["shows"]["pose"] == "jaw_open"
    assert mended["effects"]["worse"] == []
    assert spoiled["after"] == spoiled["before"] + 1
    assert spoiled["effects"]["worse"]
    assert Path(maren).read_bytes() == before
    recipe.write_text(json.dumps([{"edit": "binding.set_carrier", "params": give}]))
    assert main(["try", maren, "--recipe", str(recipe)]) == 0
    assert "Better: Lower teeth · jaw in Jaw open" in capsys.readouterr().out


def test_glb_out_and_in(capsys, maren, tmp_path):
    glb, back = tmp_path / "m.glb", tmp_path / "back.seam"
    status, _, said = run(capsys, "export", maren, "--glb", str(glb))
    assert status == 0
    assert re.search(r"^GLB: bones and shapes alone are off by: \w[\w +]* \d\.\d\d mm on \w+", said)
    assert run(capsys, "import", str(glb), "--out", str(back))[0] == 0
    assert run(capsys, "measure", str(back), "--pose", "look_up")[0] == 1


@pytest.fixture
def pim(tmp_path, fresh):
    from tightseam.exchange.character_file import write_character

    path = tmp_path / "pim.seam"
    path.write_bytes(write_character(fresh.character, fresh.store))
    return str(path)


def test_the_cast_is_listed(capsys):
    status, out, _ = run(capsys, "cast", "--list")
    assert status == 0
    assert [line.split()[0] for line in out.splitlines() if not line.startswith(" ")] == ["maren", "pim", "hob", "body"]
    assert "moustache" in out
    assert "left lower lid one span short" in out


def test_check_in_says_what_is_wrong_by_words_and_by_its_status(capsys, pim, maren, tmp_path):
    status, out, _ = run(capsys, "checkin", pim, "--json")
    found = json.loads(out)
    assert status == 1
    assert (found["faults"], found["looks"]) == (12, 3)
    first = found["checks"][0]
    assert {"key", "label", "verdict", "said", "why", "what", "places", "limits"} <= set(first)
    status, out, _ = run(capsys, "checkin", pim)
    assert status == 1
    assert re.search(r"fault +Mouth closed at rest +gap of 0\.80 mm", out)
    status, out, _ = run(capsys, "checkin", maren)
    assert status == 0
    assert {line.split()[0] for line in out.splitlines()} == {"fine"}


def test_check_in_reads_delivered_files_and_writes_the_note(capsys, pim, tmp_path):
    obj, note = tmp_path / "pim.obj", tmp_path / "note.html"
    assert run(capsys, "export", pim, "--obj", str(obj))[0] == 0
    status, out, _ = run(capsys, "checkin", str(obj), "--note", str(note), "--twin", str(obj), "--json")
    found = json.loads(out)
    assert status == 1
    assert next(c for c in found["checks"] if c["key"] == "vertex_order")["verdict"] == "fine"
    assert "notes from check-in" in note.read_text()


def test_eye_seats_are_told_in_words_and_numbers(capsys, pim):
    status, out, _ = run(capsys, "eyes", pim)
    assert status == 1
    assert re.search(r"eye_L: radius 22\.\d\d mm, out of round by 1\.[567]\d mm, pivot 2\.9\d mm off the centre", out)
    found = json.loads(run(capsys, "eyes", pim, "--json")[1])["eyes"]
    assert [(e["side"], len(e["contacts"])) for e in found] == [("L", 35), ("R", 35)]
    assert max(c["depth_mm"] for c in found[0]["contacts"]) > 0.5


def test_several_files_are_imported_as_one_and_what_was_guessed_is_said(capsys, pim, tmp_path):
    obj, usd, back = tmp_path / "pim.obj", tmp_path / "pim.usdc", tmp_path / "back.seam"
    assert run(capsys, "export", pim, "--obj", str(obj))[0] == 0
    assert run(capsys, "export", pim, "--usd", str(usd))[0] == 0
    status, _, err = run(capsys, "import", str(obj), str(usd), "--out", str(back))
    assert status == 0, err
    parts = json.loads(run(capsys, "info", str(back), "--json")[1])["parts"]
    assert len(parts) == 28
    assert {p["kind"] for p in parts} >= {"skin", "eye", "hair"}


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["info", "nowhere.seam"], "No such file"),
        (["measure", "{maren}", "--pose", "laugh"], "no pose called “laugh”"),
        (["measure", "{maren}", "--set", "smile=many"], "not of the form control=value"),
        (["measure", "{maren}", "--set", "smile"], "not of the form control=value"),
        (["measure", "{maren}", "--set", "smile=7"], "out of range"),
        (["points", "{maren}", "--part", "nose", "--out", "x.npy"], "no part called “nose”"),
        (["import", "Makefile", "--out", "{out}"], "Makefile"),
        (["edit", "{maren}", "--recipe", "{maren}", "--out", "{out}"], "The recipe is not right"),
        (["cast", "nobody", "--out", "{out}"], "Nobody in the cast"),
        (["checkin", "nowhere.obj"], "No such file"),
        (["eyes", "Makefile"], "There is no head in"),
        (["checkin", "Makefile"], "There is no head in"),
        (["checkin", "{maren}", "--twin", "Makefile"], "There is no head in"),
    ],
)
def test_bad_input_is_one_clear_line_and_status_two(capsys, maren, tmp_path, arguments, said):
    status, out, err = run(capsys, *(a.format(maren=maren, out=tmp_path / "x.seam") for a in arguments))
    assert status == 2
    assert out == ""
    assert said in err
    assert len(err.strip().splitlines()) == 1


def test_landmarks_are_listed_and_suggested(capsys, maren, tmp_path, raw_heads):
    status, out, _ = run(capsys, "landmarks", maren, "--json")
    found = json.loads(out)
    assert status == 0
    assert len(found["landmarks"]) == 46
    assert (found["missing"], found["doubtful"]) == ([], [])
    bare = tmp_path / "pim.obj"
    bare.write_bytes(write_obj(*character_of(without_hair(raw_heads["pim"]))))
    status, out, _ = run(capsys, "landmarks", str(bare))
    assert status == 1
    assert out.count("missing") == 46
    status, out, _ = run(capsys, "landmarks", str(bare), "--suggest", "--json")
    marks = {m["name"]: m for m in json.loads(out)["landmarks"]}
    assert np.linalg.norm(np.array(marks["nose_tip"]["point_cm"]) - raw_heads["pim"].landmarks["nose_tip"]) < 0.3
    assert run(capsys, "landmarks", str(bare), "--suggest")[1].count("DOUBTFUL") == len(json.loads(out)["doubtful"])


def test_bones_are_built_bound_named_and_checked(capsys, tmp_path, raw_heads):
    bare, built, table = tmp_path / "pim.obj", tmp_path / "pim.seam", tmp_path / "names.csv"
    bare.write_bytes(write_obj(*character_of(without_hair(raw_heads["pim"]))))
    table.write_text("jaw,Mandible\nhead,Skull\n")
    choices = ["--face", "both", "--lids", "5", "--ears", "--names", str(table), "--out", str(built)]
    status, out, _ = run(capsys, "bones", str(bare), "--build", "--bind", *choices, "--json")
    found = json.loads(out)
    assert (status, found["findings"]) == (0, [])
    assert {"lid_upper_5_L", "ear_R"} <= {b["name"] for b in found["bones"]}
    assert next(b["export"] for b in found["bones"] if b["name"] == "jaw") == "Mandible"
    status, out, _ = run(capsys, "bones", str(built))
    assert status == 0
    assert re.search(r"jaw +deform +jaw +on head", out)
    posed = tmp_path / "posed.npy"
    assert run(capsys, "points", str(built), "--part", "teeth_lower", "--set", "jaw.turn_x=20", "--out", str(posed))[0] == 0
    rest = next(p.points for p in raw_heads["pim"].parts if p.name == "teeth_lower")
    assert np.load(posed)[:, 1].min() < rest[:, 1].min() - 1


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--build", "--lids", "99"], "less than or equal to 7"),
        (["--names", "{bad}"], "Line 1 of"),
        (["--names", "{nobody}"], "no bone called"),
    ],
)
def test_bones_that_cannot_be_built_are_refused(capsys, maren, tmp_path, arguments, said):
    (tmp_path / "bad").write_text("jaw Mandible\n")
    (tmp_path / "nobody").write_text("tail,Tail\n")
    given = [a.format(bad=tmp_path / "bad", nobody=tmp_path / "nobody") for a in arguments]
    status, _, err = run(capsys, "bones", maren, *given)
    assert status == 2
    assert said in err
