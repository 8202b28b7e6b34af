"""The report of a sweep as a page, two of them side by side, a night over a folder: what is told is what was measured."""

from __future__ import annotations

import json
import re
import xml.etree.ElementTree as ET
from dataclasses import replace

import pytest
from tightseam.cli import main
from tightseam.exchange.character_file import write_character
from tightseam.mix.compare import changes
from tightseam.mix.page import mix_page
from tightseam.mix.report import mix_report

from tests.core.mix_faults import Planter
from tests.head import Head

FEW = ("smile", "pucker", "blink_L", "brows_up")


@pytest.fixture(scope="module")
def few(rigged) -> Head:
    return rigged["hob"].with_controls(FEW)


@pytest.fixture(scope="module")
def rough(few) -> Head:
    planter = Planter(few)
    return Head(planter.rough(0.9), planter.store)


@pytest.fixture(scope="module")
def reports(few, rough):
    return mix_report(few.character, few.store), mix_report(rough.character, rough.store)


def test_what_was_planted_since_is_new_and_what_was_mended_is_gone(reports):
    clean, faulty = reports
    assert changes(clean, clean) == []
    (found,) = [c for c in changes(clean, faulty) if c.finding.kind == "crumple"]
    assert (found.how, found.before) == ("new", None)
    (found,) = [c for c in changes(faulty, clean) if c.finding.kind == "crumple"]
    assert found.how == "gone"
    assert found.before == found.finding.size


def test_what_has_grown_is_worse_by_its_own_limit(reports):
    _, faulty = reports
    larger = replace(faulty, findings=tuple(replace(f, size=f.size + 0.2 * f.limit) for f in faulty.findings))
    assert {c.how for c in changes(faulty, larger)} == {"worse"}
    assert {c.how for c in changes(larger, faulty)} == {"better"}
    hardly = replace(faulty, findings=tuple(replace(f, size=f.size + 0.05 * f.limit) for f in faulty.findings))
    assert changes(faulty, hardly) == []


def test_the_page_tells_each_cause_with_a_picture_and_needs_nothing_beside_it(rough, reports):
    clean, faulty = reports
    page = mix_page(rough.character, rough.store, faulty, "today", clean)
    assert "The skin crumples: Cheek L" in page
    assert page.count("<article>") == len(faulty.causes)
    assert "<td>new</td><td>The skin crumples: Cheek L</td>" in page
    assert not re.search(r"(src|href)=", page)
    for svg in re.findall(r"<svg.*?</svg>", page, re.S):
        ET.fromstring(svg)
    squares = re.search(r'<svg class="board".*?</svg>', page, re.S)[0].count("<rect")
    assert squares == len(faulty.ends) * (len(faulty.ends) + 1) // 2


def test_nothing_is_called_within_that_was_not_measured(rough, reports):
    clean, _ = reports
    nothing = replace(clean, findings=(), causes=())
    assert "All within" in mix_page(rough.character, rough.store, nothing, "today")
    missing = replace(nothing, not_measured=("The surface of the skin: there is no part of kind skin.",))
    page = mix_page(rough.character, rough.store, missing, "today")
    assert "All within" not in page
    assert "there is no part of kind skin" in page
    assert "All within" not in mix_page(rough.character, rough.store, replace(nothing, pairs=0), "today")


def test_a_name_that_looks_like_markup_is_text(rough, reports):
    named = replace(rough.character, about=replace(rough.character.about, name="<script>alert(1)</script>"))
    assert "<script>" not in mix_page(named, rough.store, reports[1], "today")


@pytest.fixture(scope="module")
def folder(tmp_path_factory, few, rough):
    found = tmp_path_factory.mktemp("heads")
    (found / "clean.seam").write_bytes(write_character(few.character, few.store))
    (found / "rough.seam").write_bytes(write_character(rough.character, rough.store))
    (found / "torn.seam").write_bytes(b"no character")
    return found


def test_a_sweep_from_the_command_line(capsys, folder, tmp_path):
    assert main(["sweep", str(folder / "rough.seam"), "--json", "--report", str(tmp_path)]) == 1
    said = json.loads(capsys.readouterr().out)
    assert not said["within"]
    assert {"crumple"} <= {f["kind"] for f in said["findings"]}
    kept = json.loads((tmp_path / "rough.json").read_text())
    assert kept["findings"] == said["findings"]
    assert "The skin crumples" in (tmp_path / "rough.html").read_text()
    assert main(["sweep", str(folder / "torn.seam")]) == 2


def test_where_there_is_nothing_to_mix_the_exit_status_says_so(capsys, tmp_path, few):
    bare = replace(few.character, controls=(), poses=(), bones=(), bindings=(), lids=(), seams=(), lips=(), eye_reliefs=())
    (tmp_path / "bare.seam").write_bytes(write_character(bare, few.store))
    assert main(["sweep", str(tmp_path / "bare.seam")]) == 3
    assert "all within" not in capsys.readouterr().out


def test_a_night_sweeps_what_it_can_and_tells_what_has_changed(capsys, folder, tmp_path, rough):
    assert main(["night", str(folder), "--report", str(tmp_path)]) == 1
    first = (tmp_path / "index.html").read_text()
    assert first.count("first night") == 2
    assert "torn" in first
    capsys.readouterr()
    (folder / "clean.seam").write_bytes(write_character(rough.character, rough.store))
    main(["night", str(folder), "--report", str(tmp_path)])
    assert "torn: " in capsys.readouterr().out
    second = (tmp_path / "index.html").read_text()
    assert "1 new" in re.search(r"clean</a>.*?</tr>", second)[0]
    assert "as before" in re.search(r"rough</a>.*?</tr>", second)[0]


def test_a_folder_without_heads_is_said(capsys, tmp_path):
    assert main(["night", str(tmp_path), "--report", str(tmp_path / "out")]) == 2
    assert "no character file" in capsys.readouterr().err


def test_links_are_told_by_their_labels_and_what_does_nothing_is_not_called_measured(rough, few):
    report = mix_report(rough.character, rough.store)
    page = mix_page(rough.character, rough.store, report, "today")
    assert "Smile → Smile" in page
    seal = next(c for c in few.character.controls if c.name == "smile")
    idle = replace(seal, name="idle", label="Idle", links=())
    two = few.with_controls(("smile", "brows_up"))
    asleep = replace(two.character, controls=(*two.character.controls, idle))
    assert mix_report(two.character, two.store).state == "within"
    assert mix_report(asleep, few.store).state == "not measured"
