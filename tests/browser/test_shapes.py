"""The Shapes station: planted faults found and repaired, names put right, targets taken in, a shape sculpted on the posed head, by hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench, changed


@pytest.fixture
def panel(page, opened):
    opened("Hob", "shapes")
    panel = page.get_by_role("region", name="Shapes", exact=True)
    expect(page.get_by_role("listbox", name="Shapes in the sheet").get_by_role("option")).to_have_count(12)
    return panel


def test_planted_faults_are_found_and_repaired_and_names_put_right(page, panel):
    sheet = page.get_by_role("region", name="Shape sheet")
    row = sheet.get_by_role("option", name="tongue_show")
    expect(row).to_contain_text("▲ order")
    panel.get_by_role("tab", name="Findings 8").click()
    findings = panel.get_by_role("region", name="Shape findings")
    expect(findings).to_contain_text("full_cheek_left moves stray vertices3 vertices of Skin move by themselves, up to 4.00 mm.")
    expect(findings).to_contain_text("tongue_show leaves the head by 4.7 mm as it turns by 30°: bones come before shapes there.")
    Bench(page).repair_all(panel, findings)
    expect(panel.get_by_role("status", name="Shape findings")).to_contain_text("No shape is empty, stray, unlike its twin")
    expect(row).not_to_contain_text("▲")

    # four names of shapes are near what the house calls them
    panel.get_by_role("tab", name="Names").click()
    page.get_by_role("combobox", name="Name list").click()
    page.get_by_title("The Lantern Post").click()
    expect(panel.get_by_role("status", name="Names")).to_contain_text("4 near")
    panel.get_by_role("button", name="Rename 4 shapes").click()
    expect(panel.get_by_role("status", name="Names")).to_contain_text("8 names as wanted, 0 near")
    expect(sheet.get_by_role("option", name="corner_low_L")).to_contain_text("✓")


def test_a_shape_is_made_sculpted_on_a_pose_and_changed(page, server, panel):
    bench = Bench(page)
    sheet = page.get_by_role("region", name="Shape sheet")

    # from the neutral only at rest; then it stands in the sheet, chosen and at full strength
    bench.pose("jaw_open").click()
    panel.get_by_role("textbox", name="Name of the new shape").fill("chin_up")
    panel.get_by_role("button", name="From the neutral").click()
    expect(page.get_by_text("Jaw open is at 1, so what is seen is not the neutral.")).to_be_visible()
    bench.pose("neutral").click()
    panel.get_by_role("button", name="From the neutral").click()
    made = sheet.get_by_role("option", name="chin_up")
    expect(made).to_have_attribute("aria-selected", "true")
    bench.wait_values(**{"chin_up.strength": 1})

    # sculpted on the posed head by dragging its chin
    panel.get_by_role("tab", name="Sculpt").click()
    Bench(page).open_sliders()
    smile = page.get_by_role("textbox", name="Smile, number")
    smile.fill("abc")
    page.get_by_role("slider", name="Smile", exact=True).press("ArrowRight")
    expect(smile).to_have_value("0.01")  # what was typed in vain gives way to the value that moved under it
    smile.fill("0.5")
    page.keyboard.press("Enter")
    page.get_by_role("textbox", name="Head turn, number").fill("20")
    page.keyboard.press("Enter")
    bench.wait_values(**{"chin_up.strength": 1, "smile": 0.5, "head_turn": 20})
    panel.get_by_role("radio", name="Sculpt").click()
    expect(page.get_by_test_id("hover")).to_have_text("True mesh")
    panel.get_by_role("textbox", name="Radius, number").fill("20")
    page.keyboard.press("Enter")
    before = bench.picture()
    box = bench.stage.bounding_box()
    chin = box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.66
    bench.drag(chin, (0, 12), (0, 25))
    expect(page.locator(".top")).to_contain_text(re.compile("Moved .* in the shape chin_up on both sides"))
    bench.wait_changed(before, 0.004)
    expect(made).to_contain_text(re.compile(r"[1-9]\.\d mm"))
    expect(panel).to_have_attribute("aria-busy", "false")
    page.mouse.move(1200, 700)  # the ring of the brush goes with it
    page.get_by_role("button", name="Dismiss").click()  # what it did to all poses, once they are measured
    bench.look_from("Mouth")
    seen = bench.picture()

    # away and back to the pose it looks the same; without the shape it does not
    bench.open_poses()
    bench.pose("neutral").click()
    Bench(page).open_sliders()
    page.get_by_role("textbox", name="Smile, number").fill("0.5")
    page.keyboard.press("Enter")
    page.get_by_role("textbox", name="Head turn, number").fill("20")
    page.keyboard.press("Enter")
    bench.wait_values(smile=0.5, head_turn=20)
    assert changed(seen, bench.picture()) > 0.004
    page.get_by_role("textbox", name="Strength of chin_up, number").fill("1")
    page.keyboard.press("Enter")
    bench.wait_values(**{"chin_up.strength": 1, "smile": 0.5, "head_turn": 20})
    assert changed(seen, bench.picture()) < 0.001

    # split, mixed, put first by dragging, deleted
    panel.get_by_role("tab", name="Change").click()
    panel.get_by_role("button", name="Split").click()
    left = sheet.get_by_role("option", name="chin_up_L")
    expect(left).to_contain_text("↔ chin_up_R")
    left.click()
    sheet.get_by_role("option", name="chin_up_R").click(modifiers=["Control"])
    panel.get_by_role("button", name="Add up", exact=True).click()
    mixed = sheet.get_by_role("option", name="chin_up_L chin_up_R")
    expect(mixed).to_be_visible()
    sheet.get_by_role("textbox", name="Filter of the sheet").fill("chin_up")
    expect(sheet.get_by_role("option")).to_have_count(4)
    mixed.drag_to(sheet.get_by_role("option", name="chin_up", exact=True))
    expect(sheet.get_by_role("option").first).to_have_attribute("aria-label", "chin_up_L chin_up_R")
    expect(sheet).to_have_attribute("aria-busy", "false")
    sheet.get_by_role("option").first.click()
    sheet.get_by_role("button", name="Delete").click()
    expect(mixed).to_have_count(0)
    sheet.get_by_role("textbox", name="Filter of the sheet").fill("")

    # a target from a file, moved by a transform that nobody meant
    hob = re.search(r"/characters/(\d+)/", page.url)[1]
    lines = page.request.get(f"{server.address}/api/characters/{hob}/parts/skin.obj").text().splitlines()
    panel.get_by_role("tab", name="Make").click()
    panel.get_by_label("Files of targets").set_input_files({"name": "ear_out.obj", "mimeType": "model/obj", "buffer": _with_ear_out(lines)})
    reports = panel.get_by_role("list", name="What became of the files")
    expect(reports).to_contain_text("ear_out.obj became ear_out.")
    expect(reports).to_contain_text("A constant offset of 50.00 mm was taken out.")
    expect(sheet.get_by_role("option", name="ear_out")).to_contain_text("Skin")


def _with_ear_out(lines: list[str]) -> bytes:
    """An OBJ raised by 5 cm, its leftmost vertices moved out by up to 8 mm."""
    places = [[float(x) for x in line.split()[1:4]] for line in lines if line.startswith("v ")]
    widest = max(x for x, _, _ in places)
    moved = iter(f"v {x + 0.4 * max(0.0, x - widest + 2):.6f} {y + 5:.6f} {z:.6f}" for x, y, z in places)
    return "\n".join(next(moved) if line.startswith("v ") else line for line in lines).encode()
