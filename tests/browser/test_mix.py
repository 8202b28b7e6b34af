"""The Mix station: every expression on every other, the board of what is wrong, the causes, by mouse and keyboard."""

from __future__ import annotations

import json
import re
from dataclasses import replace
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from tightseam.exchange.character_file import write_character

from tests import cast
from tests.browser.bench_page import Bench
from tests.core.mix_faults import Planter
from tests.head import Head

SEARCH = 150_000  # ms: everything is measured for each way that is tried
FEW = ("smile", "pucker", "blink_L", "brows_up", "jaw_open")


@pytest.fixture(scope="module")
def rough_file() -> bytes:
    """Hob with some of his controls, and a cheek that is rough where he smiles and puckers at once."""
    few = cast.clean("hob").with_controls(FEW)
    named = replace(few.character, about=replace(few.character.about, name="Rough Hob"))
    planter = Planter(Head(named, few.store))
    return write_character(planter.rough(0.9), planter.store)


@pytest.fixture
def panel(page: Page, server, rough_file):
    who = server.take_in("rough.seam", rough_file)["id"]
    page.goto(f"{server.address}/characters/{who}/mix")
    Bench(page).wait_drawn()
    return page.get_by_role("region", name="Mix", exact=True)


def scan_for(page: Page, text: str) -> None:
    """Moves the pointer over the board until the line under it speaks of this cell."""
    board, said = page.get_by_role("grid"), page.get_by_role("status", name="Cell")
    box = board.bounding_box()
    steps = 28
    for row in range(steps):
        for column in range(row + 2):
            page.mouse.move(box["x"] + (column + 0.5) * box["width"] / steps, box["y"] + (row + 0.5) * box["height"] / steps)
            if text in said.inner_text():
                return
    raise AssertionError(f"No cell says {text}; the last one said {said.inner_text()}")


def test_a_sweep_is_looked_through_by_mouse_and_keyboard(page, panel):
    bench = Bench(page)
    expect(panel).to_contain_text("Measures every control alone, with every other")
    panel.get_by_role("button", name="Sweep", exact=True).click()
    expect(panel.get_by_role("status", name="Sweep")).to_be_visible()
    causes = panel.get_by_role("listbox", name="Causes")
    expect(causes).to_be_visible()
    expect(panel).to_contain_text(re.compile(r"\d+ pairs and \d+ triples? measured"))

    # the fault stands in its cell: the head goes there, and the panel tells of it
    board = page.get_by_role("region", name="Mix board")
    scan_for(page, "Smile × Pucker")
    expect(board.get_by_role("status", name="Cell")).to_contain_text("The skin crumples: Cheek")
    before = bench.picture()
    page.mouse.down()
    page.mouse.up()
    bench.wait_values(pucker=1, smile=1)
    bench.wait_changed(before, 0.02)
    cell = panel.get_by_role("region", name="Of this cell")
    expect(cell).to_contain_text(re.compile("The skin crumples: Cheek L in Smile × Pucker: .* of an edge are allowed. Alone"))

    # arrow keys go from cell to cell, and the head goes along
    page.get_by_role("grid").focus()
    page.keyboard.press("ArrowLeft")
    expect(bench.stage).not_to_have_attribute("data-values", '{"pucker":1,"smile":1}')

    # the causes, worst first: the one of the cheek names both shapes
    cheek = causes.get_by_role("option").filter(has_text="The skin crumples")
    cheek.click()
    bench.wait_values(pucker=1, smile=1)
    expect(cheek).to_have_attribute("aria-selected", "true")
    expect(cheek).to_contain_text("Smile → Smile")
    expect(cheek).to_contain_text("Pucker → Pucker")
    page.keyboard.press("ArrowUp")
    expect(cheek).to_have_attribute("aria-selected", "false")
    expect(causes.locator("[aria-selected=true]")).to_be_focused()

    # only what is wrong; a region as one line
    whole = int(page.get_by_role("grid").get_attribute("aria-label").split()[0])
    board.get_by_role("checkbox", name="Only wrong").check()
    fewer = int(page.get_by_role("grid").get_attribute("aria-label").split()[0])
    assert fewer < whole
    board.get_by_role("checkbox", name="Only wrong").uncheck()
    board.get_by_role("button", name="Mouth").click()
    assert int(page.get_by_role("grid").get_attribute("aria-label").split()[0]) == whole - 1


def test_after_an_edit_the_sweep_is_told_to_be_of_before_and_is_made_again(page, panel):
    panel.get_by_role("button", name=re.compile("^Sweep")).click()  # of a head that is alike it is known already
    causes = panel.get_by_role("listbox", name="Causes")
    expect(causes.get_by_role("option").filter(has_text="The skin crumples")).to_have_count(1)
    page.get_by_label("Stations").get_by_role("button", name="Shapes").click()
    page.get_by_role("region", name="Shape sheet").get_by_role("option", name="smile", exact=True).click()
    page.get_by_role("region", name="Shape sheet").get_by_role("button", name="Mute", exact=True).click()
    expect(page.locator(".top")).to_contain_text(re.compile("Muted"))
    page.get_by_label("Stations").get_by_role("button", name=re.compile("^Mix")).click()
    expect(panel).to_contain_text("Of revision 1: something was changed since.")
    panel.get_by_role("button", name="Sweep again").click()
    expect(panel).to_contain_text(re.compile(r"\d+ pairs and \d+ triples? measured"))
    expect(panel.get_by_text("The skin crumples")).to_have_count(0)


def test_what_is_meant_is_said_on_the_spot_and_a_pinned_revision_is_held_against(page, panel):
    """A cause is called intended, and counts again; a pair is left out; then the smile is muted and the board shows what is gone."""
    station = page.get_by_label("Stations").get_by_role("button", name=re.compile("^Mix"))
    panel.get_by_role("button", name=re.compile("^Sweep")).click()
    options = panel.get_by_role("listbox", name="Causes").get_by_role("option")
    cheek = options.filter(has_text="The skin crumples")
    expect(cheek).to_have_count(1)
    counted = int(re.search(r"\d+", station.inner_text())[0])
    cheek.click()
    expect(page.get_by_alt_text("The face in this pose")).to_be_visible()
    panel.get_by_label("Why it is intended").fill("He is a bulldog.")
    panel.get_by_role("button", name="Intended", exact=True).click()
    meant = panel.get_by_role("region", name="Intended")
    expect(meant).to_contain_text("The skin crumples: Cheek L")
    expect(meant).to_contain_text("He is a bulldog.")
    expect(cheek).to_have_count(0)
    expect(station).to_contain_text(str(counted - 1) if counted > 1 else "")
    meant.get_by_role("button", name="Count it again").click()
    expect(cheek).to_have_count(1)

    # the cell of the cheek is never to be
    cheek.click()
    cell = panel.get_by_role("region", name="Of this cell")
    cell.get_by_role("button", name="Leave this pair out").click()
    cell.get_by_label("Why they never meet").fill("Nobody does both.")
    cell.get_by_role("button", name="Leave it out").click()
    expect(cell).to_contain_text("Not swept together: Nobody does both.")
    cell.get_by_role("button", name="Leave it to what they do").click()

    # one is only used with another
    panel.get_by_role("tab", name="Rules").click()
    bench, needs = Bench(page), panel.get_by_role("region", name="Used only with another")
    for label, chosen in (("What is used", "Brows up"), ("With what", "Jaw open")):
        bench.choose(needs.get_by_role("combobox", name=label), chosen, needs)
    needs.get_by_role("button", name="Add", exact=True).click()
    expect(panel).to_contain_text("Brows up with Jaw open from 0.5")
    panel.get_by_role("button", name="Use Brows up by itself").click()
    expect(panel.get_by_text("Brows up with Jaw open from 0.5")).to_have_count(0)

    # the two go no farther together than one of them, about the vertex that is picked
    bench.wait_values(pucker=1, smile=1)
    caps = panel.get_by_role("region", name="Together no farther")
    caps.get_by_role("button", name=re.compile(r"Cap \d+ vert(ex|ices) of Skin")).click()
    cap = caps.get_by_role("listitem", name="Cap on Skin")
    expect(cap).to_contain_text(re.compile(r"\d+ vertices"))
    cap.get_by_label("Cap on Skin: soft over, number").fill("12")
    page.keyboard.press("Enter")
    expect(page.locator(".top")).to_contain_text("Set Cap on Skin to 0 mm, soft over 12 mm")
    panel.get_by_role("tab", name="Causes").click()
    expect(panel.get_by_role("region", name="Pull list")).to_contain_text("Held by caps")
    panel.get_by_role("tab", name=re.compile("Rules 1")).click()
    cap.get_by_role("button", name="Remove Cap on Skin").click()
    expect(cap).to_have_count(0)

    # against the pin
    page.get_by_role("button", name="Pin", exact=True).click()
    page.get_by_label("Stations").get_by_role("button", name="Shapes").click()
    sheet = page.get_by_role("region", name="Shape sheet")
    sheet.get_by_role("option", name="smile", exact=True).click()
    sheet.get_by_role("button", name="Mute", exact=True).click()
    expect(page.locator(".top")).to_contain_text(re.compile("Muted"))
    station.click()
    panel.get_by_role("button", name="Sweep again").click()
    expect(panel).to_contain_text(re.compile(r"\d+ pairs and \d+ triples? measured"))
    board = page.get_by_role("region", name="Mix board")
    board.get_by_role("checkbox", name=re.compile("Against rev")).check()
    expect(board.get_by_role("status", name="Since the pin")).to_contain_text(re.compile(r"Since rev \d+: \d+ gone"))


def test_a_take_is_measured_frame_by_frame_and_its_worst_frame_is_gone_to(page, panel):
    bench = Bench(page)
    dock = bench.open_take("A laugh")
    row = dock.get_by_role("list", name="Channels").get_by_role("listitem").filter(has_text="Squint")
    bench.choose(dock.get_by_role("combobox", name="Control for Squint"), "Pucker", row)
    dock.get_by_role("button", name="Measure every frame").click()
    expect(dock.get_by_role("status", name="Measured take")).to_contain_text(re.compile(r"240 frames measured: \d+ faults?"))
    fault = dock.get_by_role("region", name="Faults of the take").get_by_role("button", name=re.compile("The skin crumples: Cheek L"))
    worst = re.search(r"(?:worst at|frame) (\d+)", fault.inner_text())[1]
    before = bench.picture()
    fault.click()
    expect(dock.get_by_role("status", name="Frame")).to_have_text(f"{worst} / 240")
    bench.wait_changed(before, 0.02)

    # the ribbon has all of them; what is measured in the frame on the stage stands among the seams
    ribbon = dock.get_by_role("group", name="Worst frames of the take")
    expect(ribbon.get_by_role("button", name=re.compile(f"The skin crumples: Cheek L, worst at frame {worst}"))).to_be_visible()
    expect(page.locator(".seam-row .now")).not_to_have_count(0)


def test_a_cause_is_put_right_and_the_board_is_clean_there(page, panel):
    """Repairs are found, the first is tried on the stage and left, then made; swept again, nothing of the cause is left."""
    bench = Bench(page)
    panel.get_by_role("button", name=re.compile("^Sweep")).click()
    cheek = panel.get_by_role("listbox", name="Causes").get_by_role("option").filter(has_text="The skin crumples")
    cheek.click()
    cheek.get_by_role("button", name="Find repairs").click()
    first = cheek.get_by_role("region", name="Repairs").get_by_role("article").first
    expect(first).to_be_visible(timeout=SEARCH)
    expect(first).to_contain_text(re.compile(r"\d+ → 0 cells? of this cause"))
    expect(first).to_contain_text("Nothing is worse in")

    before = bench.picture()
    first.get_by_role("button", name="Try", exact=True).click()
    expect(page.get_by_text("as tried", exact=True)).to_be_visible()
    bench.wait_changed(before)
    first.get_by_role("button", name="Leave it").click()
    expect(page.get_by_text("as tried", exact=True)).to_have_count(0)
    expect(page.locator(".top")).to_contain_text("rev 1")

    first.get_by_role("button", name="Repair", exact=True).click()
    expect(page.locator(".top")).to_contain_text("rev 2")
    panel.get_by_role("button", name="Sweep again").click()
    expect(panel).to_contain_text(re.compile(r"\d+ pairs and \d+ triples? measured"))
    expect(cheek).to_have_count(0)


def test_all_causes_are_put_right_in_one_go(page, panel):
    """Three clicks: swept, repaired in a draft of which is told, and made; the board is clean then, and one undo takes all of it back."""
    panel.get_by_role("button", name=re.compile("^Sweep")).click()
    panel.get_by_role("button", name="Repair all").click()
    told = panel.get_by_role("region", name="Repair all")
    expect(told).to_be_visible(timeout=2 * SEARCH)
    expect(told).to_contain_text(re.compile(r"\d+ → 0 findings, \d+ → 0 causes by \d+ repairs?; nothing is new or worse\."))
    expect(page.locator(".top")).to_contain_text("rev 1")
    with page.expect_download() as saved:
        told.get_by_role("button", name="Save the report").click()
    report = Path(saved.value.path()).read_text()
    assert "## Repaired" in report
    assert json.loads(re.search(r"```json\n(.*)\n```", report, re.DOTALL)[1])[0]["edit"]
    told.get_by_role("button", name=re.compile("^Make th")).click()
    expect(page.locator(".top")).to_contain_text("rev 2", timeout=SEARCH)
    expect(panel.get_by_role("status", name="Causes")).to_contain_text("is within")
    expect(panel.get_by_role("listbox", name="Causes")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(panel.get_by_role("listbox", name="Causes")).to_be_visible()


def test_a_corrective_is_made_on_a_pose_sculpted_muted_and_let_go(page, panel):
    bench = Bench(page)
    panel.get_by_role("tab", name=re.compile("^Correctives")).click()
    expect(panel.get_by_role("button", name="New on this pose")).to_be_disabled()
    page.get_by_role("tab", name=re.compile("^Controls")).click()
    for name in ("Smile", "Jaw open"):
        page.locator(".dock").get_by_role("textbox", name=f"{name}, number", exact=True).fill("1")
        page.keyboard.press("Enter")
    bench.wait_values(smile=1, jaw_open=1)
    panel.get_by_role("button", name="New on this pose").click()
    one = panel.get_by_role("group", name="Jaw open × Smile")
    expect(one).to_contain_text("It moves nothing yet")

    # sculpted on the pose, where the brush is drawn over the cheek
    one.get_by_role("button", name="Sculpt", exact=True).first.click()
    one.get_by_role("button", name="Swell").click()
    neutral_pose = bench.picture()
    x, y = bench.middle(bench.stage)
    bench.drag((x, y), (4, 6), (10, 12))
    expect(page.locator(".top")).to_contain_text("Swelled")
    bench.wait_changed(neutral_pose, 0.001)
    expect(one).to_contain_text("Moves 1 part.")

    # muted it does nothing; half of it comes in when that is asked for; it is taken out
    panel.get_by_role("checkbox", name="Jaw open × Smile acts").click()
    expect(page.locator(".top")).to_contain_text("Muted")
    panel.get_by_role("checkbox", name="Jaw open × Smile acts").click()
    much = one.get_by_label("How much of it")
    much.fill("0.5")
    much.press("Enter")
    expect(panel.get_by_role("region", name="Correctives", exact=True)).to_contain_text("50 %")
    # what it moves is picked, and laid smooth on the pose by another; alone it is heard by itself
    one.get_by_role("button", name="Pick", exact=True).click()
    solve = panel.get_by_role("group", name="Solve one on this pose")
    expect(solve).to_contain_text(re.compile(r"Lays smooth \d+ picked vertices"))
    solve.get_by_role("button", name="Solve").click()
    expect(page.locator(".top")).to_contain_text("Solved a corrective for Jaw open × Smile")
    expect(panel.get_by_role("tab", name="Correctives 2")).to_be_visible()
    acts = panel.get_by_role("checkbox", name="Jaw open × Smile acts")
    solo = panel.get_by_role("button", name="Jaw open × Smile alone")
    solo.first.click()
    expect(acts.last).not_to_be_checked()
    expect(acts.first).to_be_checked()
    solo.first.click()
    expect(acts.last).to_be_checked()

    for left in (1, 0):
        shown = panel.get_by_role("group", name="Jaw open × Smile")
        if not shown.count():
            panel.get_by_role("button", name="Jaw open × Smile", exact=True).first.click()
        shown.get_by_role("button", name="Remove").click()
        page.get_by_role("tooltip").get_by_role("button", name="Remove").click()
        expect(acts).to_have_count(left)
