"""The Lids station: the closed line is drawn with the mouse, the board measures along, a cell goes to its pose."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench


def test_what_is_found_at_the_lids_is_repaired(page, opened):
    bench = opened("Hob", "lids")
    panel = page.get_by_role("region", name="Lids", exact=True)
    panel.get_by_role("tab", name="Findings 6").click()
    findings = panel.get_by_role("region", name="Lid findings")
    expect(findings).to_contain_text("Upper lid L stops short")
    expect(findings).to_contain_text("1.20 mm deep, closed 50%, looking down, with Smile. Its eye relief is 30% there.")
    expect(findings).to_contain_text("Upper lid R stands off the eye1.00 mm at the margin, open, looking out.")

    # a repair that makes another thing worse, as long as the upper lid stops short, is told before it is done
    second = findings.locator(".finding", has_text="Lower lid L goes through the eye")
    second.get_by_role("button", name="Repair").click()
    expect(second.get_by_role("button", name="Repair all the same")).to_be_visible()
    expect(second).to_contain_text("Worse: Lower lid L · eye")
    expect(page.locator(".top")).to_contain_text("rev 1")
    second.get_by_role("button", name="Leave it").click()

    # the section is of the eye whose finding is looked at
    section = page.get_by_role("region", name="Section")
    findings.locator(".finding", has_text="Upper lid R stands off the eye").get_by_role("button", name="Look").click()
    expect(section).to_contain_text("Section, eye R")

    # one is looked at and tried before it is accepted
    first = findings.locator(".finding", has_text="Upper lid L stops short")
    first.get_by_role("button", name="Look").click()
    bench.wait_values(blink_L=1, smile=1)
    expect(section).to_contain_text("Section, eye L")
    first.get_by_role("button", name="Try").click()
    expect(first.get_by_role("status", name="What it would do")).to_contain_text(re.compile(r"Findings of lids 6 → [0-5]\."))
    expect(page.get_by_role("region", name="Seams")).to_contain_text("as they are now")
    expect(section).to_contain_text("as it is now")
    first.get_by_label("What it would do").get_by_role("button", name="Repair").click()
    expect(panel.get_by_role("tab", name="Findings 6")).to_have_count(0)
    bench.repair_all(panel, findings)
    expect(panel.get_by_role("status", name="Lid findings")).to_have_text("No lid overlaps, gapes or creases, in any closing and gaze.")
    expect(panel).to_contain_text("All 60 cells of both eyes are within the limits.")


@pytest.fixture
def panel(page, opened):
    """Hob's lids, without a fault."""
    opened("Hob mended", "lids")
    return page.get_by_role("region", name="Lids", exact=True)


def test_a_closed_line_is_drawn_measured_and_copied(page, panel):
    bench = Bench(page)
    panel.get_by_role("tab", name="Closing").click()

    # a cell of the board goes to its pose
    cell = panel.get_by_role("button", name=re.compile("^Eye L, closed 100 %, 25° down"))
    cell.click()
    bench.wait_values(blink_L=1, gaze_height=-25)
    expect(cell).to_have_attribute("aria-pressed", "true")
    expect(panel).to_contain_text("Eye L, closed 100 %, 25° down: overlap 0.00 mm")

    # the middle key is dragged up, for both eyes
    line = panel.get_by_role("group", name="Closed line of eye L")
    key = line.get_by_role("button", name="Key 3")
    height = page.get_by_label("Height of the key")
    key.click()
    expect(height).to_have_value("24 %")
    x, y = bench.middle(key)
    bench.drag((x, y), (0, -15), (0, -30))
    expect(page.locator(".top")).to_contain_text("Set the closed line of both eyes")
    expect(height).to_have_value(re.compile(r"(4|5|6)\d(\.\d)? %"))
    expect(panel).to_have_attribute("aria-busy", "false")

    # a double click adds a key, typing places it, Delete takes it away
    box = line.bounding_box()
    assert box
    page.mouse.dblclick(box["x"] + box["width"] * 0.87, box["y"] + box["height"] * 0.5)
    expect(line.get_by_role("button")).to_have_count(6)
    expect(panel).to_have_attribute("aria-busy", "false")
    line.get_by_role("button", name="Key 5").focus()
    height.fill("30")
    height.press("Enter")
    expect(height).to_have_value("30 %")
    expect(panel).to_have_attribute("aria-busy", "false")
    line.get_by_role("button", name="Key 5").focus()
    page.keyboard.press("Delete")
    expect(line.get_by_role("button")).to_have_count(5)
    expect(panel).to_have_attribute("aria-busy", "false")

    # a tangent of its own is turned by its end
    middle = line.get_by_role("button", name="Key 3")
    middle.click()
    own = panel.get_by_label("Own tangent")
    own.click()
    expect(own).to_be_checked()
    expect(panel).to_have_attribute("aria-busy", "false")
    x, y = bench.middle(line.get_by_role("button", name="Tangent", exact=True))
    shape = line.locator("path[stroke-dasharray]")
    before = shape.get_attribute("d")
    bench.drag((x, y), (0, -10), (0, -20))
    expect(shape).not_to_have_attribute("d", before)
    expect(panel).to_have_attribute("aria-busy", "false")

    # copied, and pasted upside down
    panel.get_by_role("button", name="Copy line").click()
    panel.get_by_role("button", name="Paste turned").click()
    expect(panel).to_have_attribute("aria-busy", "false")
    line.get_by_role("button", name="Key 1").click()
    expect(height).to_have_value("76 %")

    # one eye alone, and back to the start
    panel.get_by_label("Both eyes alike").uncheck()
    panel.get_by_role("button", name="Back to the start").click()
    expect(page.locator(".top")).to_contain_text("Put the lids of eye L back to their start")
    panel.get_by_role("button", name="Copy to eye R").click()
    expect(page.locator(".top")).to_contain_text("Copied the lids of eye L to the other side")
    expect(panel).to_contain_text("All 60 cells of both eyes are within the limits.")


def test_maps_are_painted_the_gaze_is_bent_and_a_section_is_cut(page, panel):
    bench = Bench(page)

    # half closed, the upper lid's share is taken away under the brush, and the surface follows
    panel.get_by_role("button", name=re.compile("^Eye L, closed 60 %, straight")).click()
    bench.wait_values(blink_L=0.6)
    panel.get_by_role("tab", name="Cover").click()
    panel.get_by_role("radio", name="Paint").click()
    panel.get_by_role("button", name="Take away", exact=True).click()
    strength = page.get_by_label("Strength, number")
    strength.fill("70")
    strength.press("Enter")
    bench.wait_camera()
    expect(page.get_by_test_id("hover")).to_contain_text("True mesh")
    before = bench.picture()
    box = bench.stage.bounding_box()
    eye = (box["x"] + box["width"] * 0.385, box["y"] + box["height"] * 0.505)
    bench.drag(eye, (15, 0), (30, 2), (45, 4))
    expect(page.locator(".top")).to_contain_text("Took away lid share of both eyes")
    bench.wait_changed(before, 0.003)
    expect(panel).to_contain_text(re.compile(r"\d+ cells of 60 over the limits"))

    # smoothing does not mend it; the starting point does
    panel.get_by_role("button", name="From fold to margin").click()
    expect(page.locator(".top")).to_contain_text("From fold to margin: lid share of both eyes")
    expect(panel).to_contain_text("All 60 cells of both eyes are within the limits.")
    page.keyboard.press("i")

    # the upper lid is told to stay where it is while the eye looks down
    panel.get_by_role("tab", name="Gaze").click()
    curve = panel.get_by_role("group", name="Up and down, upper lid of eye L")
    curve.get_by_role("button", name="Key 1").click()
    closing = page.get_by_label("Closing at the key")
    expect(closing).to_have_value("50 %")
    closing.fill("0")
    closing.press("Enter")
    expect(page.locator(".top")).to_contain_text("Set how the upper lid of both eyes follows the gaze")
    expect(closing).to_have_value("0 %")

    # the section slides from corner to corner and tells what it meets there
    section = page.get_by_role("img", name=re.compile("^Section of the lids"))
    shown = section.locator("path").nth(1)
    there = shown.get_attribute("d")
    handle = page.get_by_role("slider", name="Place of the section")
    handle.focus()
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    expect(shown).not_to_have_attribute("d", there)
    expect(section).to_have_attribute("aria-label", re.compile(r"nearest \d\.\d\d mm"))

    # bones in place of the arc: it is said how far off they are, and nothing is lost by trying
    panel.get_by_role("tab", name="Driver").click()
    table = panel.get_by_role("table", name="How far from the arc")
    expect(table.get_by_role("row", name=re.compile("^3"))).to_contain_text(re.compile(r"^30\.\d\d mm"))
    expect(table.get_by_role("row", name=re.compile("^Bones"))).to_contain_text(re.compile(r"^Bones2\.\d\d mm"))
    panel.get_by_role("radio", name="Bones").click()
    expect(page.locator(".top")).to_contain_text("Closed the lids of both eyes by bones")
    expect(panel).to_contain_text(re.compile(r"\d+ cells of 60 over the limits"))
    panel.get_by_role("radio", name="The arc").click()
    expect(panel).to_contain_text("All 60 cells of both eyes are within the limits.")
