"""A head arrives from modelling: taken in, checked, mended as far as it goes, and sent back with a note."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect
from tightseam.exchange.obj_write import write_obj

from tests.browser.bench_page import Bench, changed
from tests.core.heads import character_of, moved, scrambled, without_hair


class CheckIn:
    """The station as a person finds their way on it."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.panel = page.locator(".right")
        self.rail = page.get_by_label("Stations").get_by_role("button", name=re.compile("^Check-in"))

    def check(self, key: str) -> Locator:
        return self.panel.locator(f"[data-check={key}]")

    def open(self, key: str) -> Locator:
        self.check(key).locator(".check-row").click()
        return self.check(key).locator(".check-detail")


@pytest.fixture
def bench(opened) -> Bench:
    return opened("Pim", "checkin")


def test_faults_are_listed_shown_on_the_head_and_mended_one_by_one(page, bench):
    station = CheckIn(page)
    expect(station.panel.get_by_role("status")).to_have_text("12 faults to mend before the first bone.")
    expect(station.rail).to_contain_text("12")
    expect(page.locator(".dock")).to_contain_text("No test poses yet")

    # a click frames the vertices: the picture changes, the thread leads to them, poles carry their valence
    bench.wait_camera()
    whole = bench.picture()
    detail = station.open("poles")
    expect(detail).to_contain_text("the pinch shows as soon as the lid or lip moves")
    expect(page.locator(".callout")).to_contain_text("4 poles on lids and lips")
    expect(page.locator(".mark-labels")).to_contain_text(re.compile("3 edges.*5 edges|5 edges.*3 edges"))
    bench.wait_changed(whole)
    bench.wait_camera()
    x, y = bench.thread_end()
    page.mouse.move(x + 1, y + 1)
    vertices = [int(v) for v in re.findall(r"\d+", detail.locator(".place .num").inner_text())]
    expect(page.get_by_test_id("hover")).to_have_text(re.compile(rf"skin vertex ({'|'.join(map(str, vertices))}) "))

    # what lies inside the mouth is shown with the head cut open
    detail = station.open("jumbled")
    expect(page.get_by_test_id("hover")).to_contain_text("Cut open")

    # a repair is looked at first, and left; nothing has happened
    detail.get_by_role("button", name="Smooth the patch").click()
    preview = page.get_by_label("What it would do")
    expect(preview).to_contain_text("Skin: 22 vertices moved")
    expect(preview).to_contain_text("Vertex order stays.")
    expect(preview).to_contain_text("Jumbled patches none")
    preview.get_by_role("button", name="Leave it").click()
    expect(preview).to_have_count(0)
    expect(page.locator(".top")).to_contain_text("rev 1")

    # then done: the verdict, the rail and the stage follow, and undo brings it back
    detail.get_by_role("button", name="Smooth the patch").click()
    preview.get_by_role("button", name="Repair").click()
    expect(page.locator(".top")).to_contain_text("rev 2 · Smoothed a patch of 22 vertices of Skin")
    expect(station.rail).to_contain_text("11")
    expect(station.check("jumbled")).to_contain_text("none")
    bench.wait_drawn()
    page.get_by_label("Undo").click()
    expect(station.rail).to_contain_text("12")

    # welding says that it numbers anew
    detail = station.open("duplicates")
    detail.get_by_role("button", name="Weld duplicates of Skin").click()
    expect(preview).to_contain_text("3 vertices fewer")
    expect(preview).to_contain_text("the source map keeps the delivered numbers")
    page.keyboard.press("Escape")
    expect(page.locator(".check-detail")).to_have_count(0)


def test_limits_are_changed_and_checks_waived_with_a_reason(page, bench):
    station = CheckIn(page)
    detail = station.open("mouth_closed")
    field = detail.get_by_label("Gap between the lips at rest, number")
    expect(field).to_have_value("0.15 mm")
    field.fill("0.09 cm")
    field.press("Enter")
    expect(station.rail).to_contain_text("11")
    expect(field).to_have_value("0.9 mm")
    field.fill("90")
    expect(page.get_by_role("tooltip", name="From 0 mm to 5 mm.")).to_be_visible()
    field.press("Escape")
    detail.get_by_role("button", name="Default").click()
    expect(station.rail).to_contain_text("12")

    detail = station.open("eye_round_R")
    waive = detail.get_by_role("button", name="Intended")
    expect(waive).to_be_disabled()
    detail.get_by_label("Why it is intended").fill("His eyes are meant to be flat")
    waive.click()
    expect(station.rail).to_contain_text("11")
    expect(page.locator(".check-group", has_text="Intended")).to_contain_text("His eyes are meant to be flat")

    # the place is in the address
    expect(page).to_have_url(re.compile("check=eye_round_R"))
    page.reload()
    bench.wait_drawn()
    expect(station.check("eye_round_R").locator(".check-detail")).to_be_visible()
    station.check("eye_round_R").get_by_role("button", name="Count it again").click()
    expect(station.rail).to_contain_text("12")


def test_a_note_and_the_mesh_go_back_to_the_modeller(page, bench, tmp_path):
    page.get_by_role("button", name="To the modeller").click()
    with page.expect_popup() as waiting:
        page.get_by_text("Note as a page to print").click()
    note = waiting.value
    expect(note.get_by_role("heading", name="Pim: notes from check-in")).to_be_visible()
    expect(note.locator("article svg").first).to_be_visible()
    expect(note.locator("article")).to_have_count(15)
    note.close()
    page.get_by_role("button", name="To the modeller").click()
    with page.expect_download() as download:
        page.get_by_text("Mesh as it stands, as OBJ").click()
    download.value.save_as(tmp_path / "pim.obj")
    assert (tmp_path / "pim.obj").read_text().count("\no ") == 14


def test_a_second_file_in_another_order_is_caught(page, bench, raw_heads, tmp_path):
    path = tmp_path / "pim_v4.obj"
    path.write_bytes(write_obj(*character_of(scrambled(raw_heads["pim"], 3))))
    page.get_by_label("Second file of this head").set_input_files(path)
    check = CheckIn(page).check("vertex_order")
    expect(check).to_contain_text("another order")
    expect(check.locator(".check-detail")).to_contain_text("turns all of them to noise")


DROP = """(button, [name, text]) => {
  const dataTransfer = new DataTransfer()
  dataTransfer.items.add(new File([text], name))
  for (const kind of ['dragover', 'drop']) button.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer }))
}"""


def test_what_is_dropped_is_taken_in_or_refused_in_words(shelf):
    page = shelf
    cards = page.locator(".shelf-card")
    expect(cards.first).to_be_visible()
    before = cards.count()
    place = page.get_by_role("button", name=re.compile("^Add a head"))
    place.evaluate(DROP, ["torn.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n"])
    expect(page.get_by_text(re.compile("torn.obj: .*a face speaks of vertex 9; there are 3"))).to_be_visible()
    expect(cards).to_have_count(before)
    place.evaluate(DROP, ["shard.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"])
    expect(page.get_by_role("dialog")).to_contain_text("Shard is on the shelf")
    page.get_by_role("button", name="Check it in").click()
    expect(page.get_by_label("Verdict")).to_contain_text("faults to mend")
    expect(CheckIn(page).check("parts_missing")).to_be_visible()


def test_a_head_in_metres_comes_in_by_folder_is_named_and_stands_upright(shelf, raw_heads, tmp_path):
    page = shelf
    head = moved(without_hair(raw_heads["hob"]), lambda p: p / 100)
    for part in head.parts:
        if part.name == "tongue":
            part.name = "piece7"
    folder = tmp_path / "hob_head"
    folder.mkdir()
    (folder / "hob.obj").write_bytes(write_obj(*character_of(head)))
    (folder / "readme.txt").write_text("from modelling")
    page.get_by_label("Folder to add").set_input_files(folder)
    page.get_by_role("button", name="Check it in").click()
    bench, station = Bench(page), CheckIn(page)
    bench.wait_drawn()
    expect(page).to_have_url(re.compile("/checkin"))
    expect(station.panel.get_by_label("Verdict")).not_to_contain_text("faults")
    expect(station.check("parts_named")).to_contain_text("Piece7")

    # its kind was guessed from its form, with less certainty; it is set and named
    row = page.locator(".came-row", has_text="Piece7")
    expect(row).to_contain_text("60 %")
    expect(row).to_contain_text("tongue")
    row.get_by_role("button", name="More for Piece7").click()
    page.get_by_role("menuitem", name="Rename").click()
    name = page.get_by_label("New name of Piece7")
    name.fill("tongue")
    name.press("Enter")
    expect(page.locator(".top")).to_contain_text("Renamed Piece7 to tongue")
    expect(station.check("parts_named")).to_have_count(0)  # fine now, and folded away

    # the head fills the stage and looks ahead
    bench.chip("Front").click()
    bench.wait_camera()
    front = bench.picture()
    empty = np.median(front[:20].reshape(-1, 3), axis=0)
    covered = np.abs(front.astype(int) - empty.astype(int)).max(axis=2) > 24
    assert covered.mean() > 0.2
    bench.chip("Side").click()
    bench.wait_camera()
    assert changed(front, bench.picture()) > 0.1
