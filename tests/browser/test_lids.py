"""The Lids station: the closed line is drawn with the mouse, the board measures along, a cell goes to its pose."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench
from tests.browser.test_landmarks import left_as_found  # noqa: F401


@pytest.mark.usefixtures("left_as_found")
def test_a_closed_line_is_drawn_measured_and_copied(page):
    bench = Bench(page)
    bench.open_from_shelf("Hob")
    bench.stage.focus()
    page.keyboard.press("5")
    panel = page.get_by_role("region", name="Lids", exact=True)
    expect(panel.get_by_role("status").first).to_have_text("All 60 cells of both eyes are within the limits.")

    # a cell of the board goes to its pose
    cell = panel.get_by_role("button", name=re.compile("^closed 100 %, 25° down"))
    cell.click()
    bench.wait_values(blink_L=1, gaze_height=-25)
    expect(cell).to_have_attribute("aria-pressed", "true")
    expect(panel).to_contain_text("Eye L, closed 100 %, 25° down: overlap 0.00 mm")

    # the middle key is dragged up, for both eyes
    line = panel.get_by_role("group", name="Closed line of eye L")
    key = line.get_by_role("button", name="Key 2")
    height = page.get_by_label("Height of the key")
    key.click()
    expect(height).to_have_value("24 %")
    x, y = bench.middle(key)
    bench.drag((x, y), (x, y - 15), (x, y - 30))
    expect(page.locator(".top")).to_contain_text("Set the closed line of both eyes")
    expect(height).to_have_value(re.compile(r"(4|5|6)\d(\.\d)? %"))
    expect(panel).to_have_attribute("aria-busy", "false")

    # a double click adds a key, typing places it, Delete takes it away
    box = line.bounding_box()
    assert box
    page.mouse.dblclick(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.5)
    expect(line.get_by_role("button")).to_have_count(4)
    expect(panel).to_have_attribute("aria-busy", "false")
    line.get_by_role("button", name="Key 3").focus()
    height.fill("30")
    height.press("Enter")
    expect(height).to_have_value("30 %")
    expect(panel).to_have_attribute("aria-busy", "false")
    line.get_by_role("button", name="Key 3").focus()
    page.keyboard.press("Delete")
    expect(line.get_by_role("button")).to_have_count(3)

    # one eye alone, and back to the start
    panel.get_by_label("Both eyes alike").uncheck()
    panel.get_by_role("button", name="Back to the start").click()
    expect(page.locator(".top")).to_contain_text("Put the lids of eye L back to their start")
    panel.get_by_role("button", name="Copy to eye R").click()
    expect(page.locator(".top")).to_contain_text("Copied the lids of eye L to the other side")
    expect(panel.get_by_role("status").first).to_have_text("All 60 cells of both eyes are within the limits.")
