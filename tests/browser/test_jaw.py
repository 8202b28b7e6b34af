"""The Jaw station: hollow cheeks are found and filled, reliefs are made, drawn and painted, lips sealed, a neck measured, by hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench

PATIENT = 60_000  # ms: every way of the jaw is measured in every pose


@pytest.fixture
def panel(page, opened):
    opened("Hob", "jaw")
    panel = page.get_by_role("region", name="Jaw", exact=True)
    expect(panel.get_by_role("region", name="Over the opening")).to_be_visible()
    return panel


def test_hollow_cheeks_are_seen_tried_and_filled(page, panel):
    bench = Bench(page)
    expect(panel).to_contain_text(re.compile(r"Cheek L 0\.00 mm of 5\.\d\d mm"))

    # a click on the chart opens the jaw that far, and the section follows
    panel.get_by_role("tab", name="Movement").click()
    chart = panel.get_by_role("img", name=re.compile("^Cheek L: 5"))
    chart.scroll_into_view_if_needed()
    box = chart.bounding_box()
    page.mouse.click(box["x"] + box["width"] - 9, box["y"] + 60)
    expect(panel).to_contain_text(re.compile(r"Cheek L 5\.\d\d mm"))
    expect(panel).to_contain_text(re.compile(r"Chin 2\d\.\d mm down"))
    expect(page.get_by_role("img", name="Outline of the cheeks against the neutral")).to_be_visible()

    panel.get_by_role("tab", name="Findings 3").click(timeout=PATIENT)
    findings = panel.get_by_role("region", name="Jaw findings")
    expect(findings).to_contain_text(
        re.compile(r"Cheek L sinks in5\.\d mm below its surroundings, jaw open 100%\. Jaw open relief pushes it in")
    )
    first = findings.locator(".finding", has_text="Cheek L sinks in")
    expect(first).to_contain_text("Its twin too: 5.")
    first.get_by_role("button", name="Try both").click()
    expect(first.get_by_role("status", name="What it would do")).to_contain_text("Findings of jaw 3 → 1.", timeout=PATIENT)
    first.get_by_label("What it would do").get_by_role("button", name="Repair").click()
    expect(panel.get_by_role("tab", name="Findings 1")).to_be_visible(timeout=PATIENT)
    expect(panel).to_contain_text(re.compile(r"Cheek L 0\.1\d mm of 0\.1\d mm"))
    either = re.compile(r"Tongue · lower teeth overlap2\.64 mm, jaw to the (left|right)\. Tongue does not follow the tongue bones\.")
    expect(findings).to_contain_text(either)  # it lies as deep on both sides
    expect(findings.get_by_role("button", name="Repair")).to_have_count(1)

    # what was accepted stands among the reliefs, where it can be muted: the cheek sinks in again
    panel.get_by_role("tab", name="Reliefs").click()
    row = panel.get_by_role("listitem").filter(has_text="Cheekbone L")
    row.get_by_role("button", name="Mute").click()
    expect(row.get_by_role("button", name="Muted")).to_be_visible()
    expect(panel).to_contain_text(re.compile(r"Cheek L 5\.\d\d mm"))
    bench.stage.focus()
    page.keyboard.press("Control+z")
    expect(panel).to_contain_text(re.compile(r"Cheek L 0\.1\d mm of 0\.1\d mm"))


def test_a_relief_is_made_driven_profiled_and_painted(page, panel):
    bench = Bench(page)
    panel.get_by_role("tab", name="Reliefs").click()
    panel.get_by_role("button", name="Add a relief").click()
    page.get_by_role("menuitem", name="Throat").click()
    panel.get_by_role("button", name="Throat, open").click()
    editor = panel.get_by_role("region", name="Relief Throat")
    bench.pose("jaw_open").click()
    bench.wait_values(jaw_open=1)
    bench.chip("Chin").click()
    bench.wait_camera()
    before = bench.picture()

    # the amount is typed, with its unit; exaggerated it shows, and is set back
    amount = panel.get_by_label("Amount of Throat")
    amount.fill("0.6 cm")
    amount.press("Enter")
    expect(page.locator(".top")).to_contain_text("Set the relief Throat")
    panel.get_by_role("button", name="×3").click()
    bench.wait_changed(before)
    panel.get_by_role("button", name="×3 set back").click()
    expect(panel.get_by_role("button", name="×3", exact=True)).to_be_visible()

    # a key of the response is dragged later, and typed
    response = editor.get_by_role("group", name="Response of Throat to Jaw open")
    key = response.get_by_role("button", name="Key 2")
    key.click()
    at = editor.get_by_label("Value of the control at the key").first
    expect(at).to_have_value("0.80")
    bench.drag(bench.middle(key), (15, 0), (30, 0))
    expect(page.locator(".top")).to_contain_text("Jaw open drives Throat")
    expect(at).to_have_value(re.compile(r"0\.9\d"))
    at.fill("0.5")
    at.press("Enter")
    expect(at).to_have_value("0.50")

    # more of it towards the ears: the share along the jaw, from the chin outwards
    profile = editor.get_by_role("group", name="Share of Throat along the jaw")
    profile.get_by_role("button", name="Key 2").focus()
    page.keyboard.press("ArrowUp")
    expect(editor.get_by_label("Share at the key")).to_have_value(re.compile(r"10[1-9] %"))
    expect(page.locator(".top")).to_contain_text("Set the relief Throat")

    # its region is shown and painted on the open jaw
    editor.get_by_role("button", name="Show and paint it").click()
    count = editor.locator(".num", has_text="vertices")
    held = count.text_content()
    editor.get_by_role("radio", name="Paint").click()
    box = bench.stage.bounding_box()
    bench.drag((box["x"] + 318, box["y"] + 440), (15, 5), (30, 10))
    expect(page.locator(".top")).to_contain_text("Painted the region of Throat")
    expect(count).not_to_have_text(held)

    # what is mistyped is said, and stays until it is right
    amount.fill("lots")
    amount.press("Enter")
    expect(page.get_by_text("Type a number, with its unit if you like.")).to_be_visible()
    amount.press("Escape")
    expect(amount).to_have_value("6 mm")
    editor.get_by_role("button", name="Bake").click()
    expect(panel).to_contain_text("No reliefs yet.")


def test_lips_are_sealed_and_a_head_made_rigid(page, panel):
    bench = Bench(page)
    bench.pose("jaw_open").click()
    panel.get_by_role("tab", name="Lips").click()
    panel.get_by_role("button", name="Lip gap").click()
    expect(panel).to_contain_text(re.compile(r"Lips apart by 3\d\.\d mm"))
    bench.open_sliders()
    for side in "LR":
        seal = page.get_by_label(f"Lip seal {side}, number")
        seal.fill("1")
        seal.press("Enter")
    bench.wait_values(jaw_open=1, lip_seal_L=1, lip_seal_R=1)
    expect(panel).to_contain_text("Lips apart by 0.00 mm, wide open 0.00 mm.")
    expect(panel.get_by_role("region", name="As shapes")).to_contain_text(re.compile(r"Lip seal and corners off by \d"), timeout=PATIENT)

    # the line above which the head is rigid is dragged down to the chin, and the head made rigid above it
    panel.get_by_role("tab", name="Neck").click()
    readings = panel.get_by_role("table", name="Movements of the head")
    expect(readings).to_contain_text(re.compile(r"Head turn, \+50°0\.0\d mm"))
    line = panel.get_by_role("slider", name="Line above which the head is rigid")
    bench.drag(bench.middle(line), (0, 12), (0, 25))
    expect(readings).to_contain_text(re.compile(r"Head turn, \+50°[1-9]\d?\.\d+ mm"))
    readings.get_by_role("button", name="Head turn, +50°").click()
    bench.wait_values(head_turn=50)
    panel.get_by_role("button", name="Make it rigid").click()
    expect(page.locator(".top")).to_contain_text("Made the head rigid above")
    expect(readings).to_contain_text(re.compile(r"Head turn, \+50°0\.0\d mm"))

    panel.get_by_role("button", name="Show the difference").click()
    expect(page.get_by_text("Dual quaternions against linear skinning").first).to_be_visible()
    panel.get_by_role("button", name="Mix in").click()
    expect(page.locator(".top")).to_contain_text("Mixed 100% dual quaternions in on Skin")
