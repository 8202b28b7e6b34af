"""The Controls station: a face plan that moves the head, links along curves, a take that plays into the controls, by hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench


@pytest.fixture
def panel(page, opened):
    opened("Hob", "controls")
    return page.get_by_role("region", name="Controls", exact=True)


def test_pads_move_the_head_and_are_moved(page, panel):
    bench = Bench(page)
    panel.get_by_role("button", name="Arrange the plan").click()
    plan = panel.get_by_role("group", name="Face plan")
    gaze = plan.get_by_role("button", name="Gaze across / Gaze height")

    # a pad with two ways looks across and down, arrow keys look on, a double click looks ahead again
    before = bench.picture()
    bench.drag(bench.middle(gaze), (5, 4), (9, 6))
    expect(panel.get_by_role("textbox", name="Gaze across on the plan, number")).to_have_value(re.compile(r"^\d+(\.\d)?°$"))
    bench.wait_changed(before, 0.002)
    gaze.focus()
    page.keyboard.press("ArrowLeft")
    gaze.dblclick(position={"x": 13, "y": 13})
    expect(panel.get_by_role("textbox", name="Gaze across on the plan, number")).to_have_value("0°")

    # another place for it on the plan
    panel.get_by_label("Move the pads").check()
    x, y = bench.middle(gaze)
    bench.drag((x, y), (-20, -10), (-40, -30))
    expect(page.locator(".top")).to_contain_text("Placed Gaze across / Gaze height on the face plan")
    expect(panel).to_have_attribute("aria-busy", "false")
    assert abs(bench.middle(gaze)[0] - x + 40) < 8


def test_one_control_moves_several_things_along_curves(page, panel):
    bench = Bench(page)
    panel.get_by_role("tab", name="Links").click()
    panel.get_by_role("textbox", name="Name of the new control").fill("Corner")
    panel.get_by_role("button", name="One-way").click()
    editor = panel.get_by_role("region", name="Control Corner")
    links = editor.get_by_role("group", name="Add a link")
    for kind, target in (("shape", "Smile"), ("control", "Jaw open")):
        bench.choose(links.get_by_role("combobox", name="Kind of the link"), kind, links)
        bench.choose(links.get_by_role("combobox", name="Target of the link"), target, links)
        links.get_by_role("button", name="Link", exact=True).click()
        expect(page.locator(".top")).to_contain_text("Corner drives")
        expect(panel).to_have_attribute("aria-busy", "false")
    drives = editor.get_by_role("list", name="What Corner drives")
    expect(drives.get_by_role("listitem")).to_have_count(2)
    before = bench.picture()
    editor.get_by_role("button", name="To its end").click()
    bench.wait_values(corner=1)
    bench.wait_changed(before)

    # the jaw follows along a curve that ends half-way
    drives.get_by_role("button", name="control Jaw open").click()
    editor.get_by_role("button", name="Along a curve").click()
    response = editor.get_by_role("group", name="Response of Jaw open to Corner")
    response.get_by_role("button", name="Key 2").click()
    gives = editor.get_by_label("What it gives at the key, number")
    open_wide = bench.picture()
    gives.fill("0.4")
    gives.press("Enter")
    bench.wait_changed(open_wide)
    expect(gives).to_have_value("0.40")

    # a key that is held down nudges it many times, and is one step back
    top = page.locator(".top")
    expect(panel).to_have_attribute("aria-busy", "false")
    before_nudges = int(re.search(r"rev (\d+)", top.inner_text())[1])
    response.get_by_role("button", name="Key 2").focus()
    for _ in range(3):
        page.keyboard.down("ArrowUp")
    expect(gives).not_to_have_value("0.40")
    page.keyboard.up("ArrowUp")
    expect(top).to_contain_text(f"rev {before_nudges + 1}")
    page.get_by_label("Undo").click()
    expect(gives).to_have_value("0.40")

    # a control that would drive itself is refused, and let go it drives no longer
    bench.choose(links.get_by_role("combobox", name="Target of the link"), "Smile", links)
    links.get_by_role("button", name="Link", exact=True).click()
    expect(drives.get_by_role("listitem")).to_have_count(3)
    drives.get_by_role("listitem").filter(has_text="Jaw open").get_by_role("button", name="Unlink").click()
    expect(drives.get_by_role("listitem")).to_have_count(2)
    editor.get_by_role("button", name="Remove").click()
    expect(page.locator(".top")).to_contain_text("Removed the control corner")


def test_a_take_plays_is_paused_and_worked_on(page, panel):
    bench = Bench(page)
    panel = bench.open_take("A laugh")
    frame = panel.get_by_role("status", name="Frame")
    expect(frame).to_have_text("1 / 240")
    before = bench.picture()
    panel.get_by_role("button", name="Play the take").click()
    expect(frame).to_have_text(re.compile(r"^(4|5|6|7|8)\d / 240$"))
    panel.get_by_role("button", name="Pause the take").click()
    bench.wait_changed(before)

    # the frame stays; a channel given to another control plays into that one, at once and in the next frame
    expect(bench.stage).not_to_have_attribute("data-values", re.compile('"pucker":'))
    box = panel.get_by_role("combobox", name="Control for Smile")
    row = (
        panel.get_by_role("list", name="Channels")
        .get_by_role("listitem")
        .filter(has=page.get_by_role("combobox", name="Control for Smile"))
    )
    bench.choose(box, "Pucker", row)
    expect(bench.stage).to_have_attribute("data-values", re.compile('"pucker":'))
    puckered = bench.stage.get_attribute("data-values")
    slider = panel.get_by_role("slider", name="Frame of the take")
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(bench.stage).not_to_have_attribute("data-values", puckered)
    expect(bench.stage).to_have_attribute("data-values", re.compile('"pucker":'))
