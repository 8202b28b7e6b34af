"""A second file of the same head, and the note to the modeller."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from dataclasses import replace

import numpy as np
import pytest
from tightseam.checkin.note import write_note
from tightseam.checkin.report import check_in
from tightseam.checkin.twin import delivered_points, twin_check
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.model import CheckIn, Delivered
from tightseam.edits.mesh_edits import Weld
from tightseam.exchange.obj_write import write_obj
from tightseam.intake.take_in import take_in

from tests.core.heads import character_of, moved, scrambled, turned, without_hair


@pytest.fixture(scope="module")
def maren(raw_heads):
    return character_of(without_hair(raw_heads["maren"]))


def points_of(head) -> dict[str, np.ndarray]:
    return delivered_points(*character_of(head))


@pytest.mark.parametrize(
    "change",
    [without_hair, lambda h: moved(h, lambda p: p * 0.01), lambda h: turned(h, 40)],
    ids=["same", "other unit", "turned"],
)
def test_the_same_order_is_recognised_wherever_the_points_went(raw_heads, maren, change):
    assert twin_check(*maren, points_of(change(raw_heads["maren"]))).verdict == "fine"


def test_a_posed_head_is_in_the_same_order(clean):
    posed = {p.name: clean.posed(p.name, {"jaw_open": 1, "smile": 1, "blink_L": 1}) for p in clean.character.parts}
    assert twin_check(clean.character, clean.store, posed).verdict == "fine"


def test_a_scrambled_file_is_caught_on_every_part(raw_heads, maren):
    check = twin_check(*maren, points_of(scrambled(raw_heads["maren"], 2)))
    assert check.verdict == "fault"
    assert "another order" in check.said
    assert {p.part for p in check.places} == {p.name for p in maren[0].parts}


def test_a_small_patch_out_of_order_is_caught_with_its_vertices(raw_heads, maren):
    theirs = points_of(raw_heads["maren"])
    skin = theirs["skin"] = theirs["skin"].copy()
    rows = np.arange(400, 640)
    skin[rows] = skin[np.random.default_rng(0).permutation(rows)]
    check = twin_check(*maren, theirs)
    assert check.verdict == "fault"
    assert len(set(check.places[0].vertices) & set(rows.tolist())) > 0.8 * len(rows)


def test_counts_that_differ_and_files_of_something_else_are_said(maren):
    shorter = {"skin": np.zeros((100, 3))}
    assert "100 vertices there" in twin_check(*maren, shorter).said
    assert "no part of that name" in twin_check(*maren, {"hat": np.zeros((5, 3))}).said


def test_after_a_repair_a_later_file_in_the_delivered_order_still_fits(fresh):
    store = MemoryStore(fresh.store)
    later = delivered_points(fresh.character, fresh.store)
    welded = Weld(part="skin").apply(fresh.character, store)
    assert find_part(welded, "skin").vertex_count < len(later["skin"])
    assert twin_check(welded, store, later).verdict == "fine"


def test_a_corrected_mesh_goes_out_in_the_delivered_order(fresh):
    store = MemoryStore(fresh.store)
    welded = Weld(part="skin").apply(fresh.character, store)
    again = MemoryStore()
    taken = take_in({"skin.obj": write_obj(welded, store, [find_part(welded, "skin")])}, again).character
    assert twin_check(welded, store, delivered_points(taken, again)).verdict == "fine"


@pytest.fixture(scope="module")
def note(fresh):
    report = check_in(fresh.character, fresh.store)
    return report, write_note(fresh.character, fresh.store, report, "25 November 2026")


def test_the_note_says_each_fault_with_reason_request_and_picture(note):
    report, made = note
    for check in report.checks:
        listed = check.verdict != "fine"
        for text in (made.html, made.markdown):
            assert (f">{check.label}<" in text or f"## {check.label}\n" in text) == listed, check.key
        if listed:
            assert check.why in made.markdown
            assert check.what in made.markdown
            assert f"{check.key}.svg" in made.pictures
    assert "12 to mend, 3 worth a look" in made.html
    assert "25 November 2026" in made.html


def test_pictures_are_whole_and_marked(note):
    _, made = note
    for name, svg in made.pictures.items():
        tree = ET.fromstring(svg)
        assert tree.tag.endswith("svg"), name
        assert len(list(tree.iter())) > 10, name
        assert f"pictures/{name}" in made.markdown
    assert "nan" not in "".join(made.pictures.values()).lower()


def test_vertex_numbers_are_those_of_the_delivered_file(fresh):
    store = MemoryStore(fresh.store)
    report = check_in(fresh.character, fresh.store)
    poles = re.search(r"## Poles.*?- Skin: `([^`]*)`", write_note(fresh.character, fresh.store, report, "today").markdown, re.DOTALL)
    welded = Weld(part="skin").apply(fresh.character, store)
    after = write_note(welded, store, check_in(welded, store), "today").markdown
    assert re.search(r"## Poles.*?- Skin: `([^`]*)`", after, re.DOTALL).group(1) == poles.group(1)


def test_a_waived_check_is_left_out_and_a_fit_head_gets_a_short_note(fresh, maren):
    waived = replace(fresh.character, checkin=CheckIn(waived={"poles": "meant"}, unit_cm=1.0))
    assert "Poles" not in write_note(waived, fresh.store, check_in(waived, fresh.store), "today").markdown
    fit = write_note(*maren, check_in(*maren), "today")
    assert "fit to be rigged" in fit.html
    assert fit.pictures == {}


def test_names_from_a_file_cannot_write_into_the_page(fresh):
    skin = fresh.character.parts[0]
    evil = replace(skin, delivered=Delivered("<script>alert(1)</script>.obj", "<b>skin", skin.vertex_count))
    character = replace(fresh.character, parts=(evil, *fresh.character.parts[1:]))
    html = write_note(character, fresh.store, check_in(character, fresh.store), "today").html
    assert "<script>" not in html
    assert "<b>skin" not in html
    assert "&lt;script&gt;" in html
