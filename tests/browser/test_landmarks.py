"""The Landmarks station: eyes are seated, landmarks suggested and dragged, bones built, turned on the stage and changed."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench


def at_landmarks(opened, name: str, tab: str | None = None) -> Bench:
    bench = opened(name, "landmarks")
    if tab:
        bench.page.locator(".panel-head").get_by_text(tab, exact=True).last.click()
    return bench


def test_the_eyes_are_measured_shown_and_seated(page, opened):
    at_landmarks(opened, "Pim")
    seat = page.get_by_label("Eye seats")
    expect(seat).to_contain_text(re.compile(r"Out of round1\.[567]\d mm"))
    expect(seat).to_contain_text(re.compile(r"Pivot off the centre2\.9\d mm"))
    contact = page.get_by_role("status", name="Contact")
    expect(contact).to_have_text("0.80 mm deep, looking 35° right, 25° up")
    expect(page.locator(".callout")).to_contain_text("Eye L cuts the lids")
    expect(page.locator(".mark-labels")).to_have_text("0.80 mm deep")
    expect(page.get_by_role("img", name="Section through the contact, 0.80 mm deep")).to_be_visible()

    # another gaze, by mouse and by key
    sweep = page.get_by_role("group", name="Gaze sweep")
    sweep.get_by_role("button", name=re.compile("^0° across, -2° up")).click()
    expect(contact).to_contain_text("clear")
    expect(page.locator(".mark-labels")).to_have_text(re.compile(r"^\d\.\d\d mm clear$"))
    straight_up = sweep.get_by_role("button", name=re.compile("^0° across, 25° up"))
    straight_up.focus()
    page.keyboard.press("Enter")
    expect(contact).to_contain_text(re.compile(r"deep, looking 25° up"))

    # the proposal for both eyes; the other eye shows that it followed; undo brings the fault back
    page.get_by_role("button", name="Pivot to the centre for Eye L and Eye R").click()
    expect(page.locator(".top")).to_contain_text("Put the pivot of Eye L and Eye R to its centre")
    page.get_by_text("Eye R", exact=True).locator("visible=true").last.click()
    expect(seat).to_contain_text("Pivot off the centre0.00 mm")
    expect(page.get_by_role("button", name=re.compile("^Pivot to the centre"))).to_have_count(0)
    page.get_by_label("Undo").click()
    expect(seat).to_contain_text(re.compile(r"Pivot off the centre2\.9\d mm"))


def test_landmarks_are_suggested_dragged_and_mirrored(page, opened):
    bench = at_landmarks(opened, "Pim", "Landmarks")
    panel = page.get_by_role("region", name="Landmarks", exact=True)
    expect(panel.get_by_role("status")).to_have_text("0 of 46 placed, 46 missing")
    panel.get_by_role("button", name="Suggest what is missing").click()
    expect(panel.get_by_role("status")).to_have_text("46 of 46 placed, 7 doubtful")
    dots = page.locator(".dot-mark")
    expect(dots).to_have_count(46)

    # the list says where it belongs; that a suggestion is right can be said
    panel.get_by_role("button", name="Crown", exact=True).click()
    expect(panel).to_contain_text(re.compile(r"The highest point of the head. Suggested, [45]\d % sure\."))
    panel.get_by_role("button", name="Confirm").click()
    expect(panel.get_by_role("status")).to_have_text("46 of 46 placed, 6 doubtful")

    # dragged over the skin, the twin goes along; without mirroring it stays
    bench.chip("Front").click()
    bench.wait_camera()
    left, right = (page.locator(f'.dot-mark[aria-label="Cheek {side}"]') for side in "LR")
    (x, y), twin = bench.middle(left), bench.middle(right)
    bench.drag((x, y), (-6, 8), (-24, 20))
    expect(page.locator(".top")).to_contain_text("Placed the landmark Cheek L and its twin")
    expect(left).to_have_class(re.compile("decided"))
    expect(right).to_have_class(re.compile("decided"))
    bench.wait_camera()
    moved, mirrored = bench.middle(left), bench.middle(right)
    assert moved == pytest.approx((x - 24, y + 20), abs=4)
    assert mirrored == pytest.approx((twin[0] + 24, twin[1] + 20), abs=5)
    page.keyboard.press("m")
    bench.drag(moved, (-5, -5), (-14, -16))
    expect(page.locator(".top")).to_contain_text(re.compile("Placed the landmark Cheek L(?! and)"))
    assert bench.middle(right) == pytest.approx(mirrored, abs=1)

    # inside the head: seen from the side in a section, and dragged there in depth
    panel.get_by_role("button", name="Jaw hinge L", exact=True).click()
    section = page.get_by_role("img", name="Section from the side, through the landmark")
    expect(section).to_be_visible()
    bench.drag(bench.middle(section.locator(".side-dot")), (-4, 0), (-12, 3))
    expect(page.locator(".top")).to_contain_text("Placed the landmark Jaw hinge L")

    # one that is removed is missing, and a click on the head places it
    panel.get_by_role("button", name="Nose tip", exact=True).click()
    panel.get_by_role("button", name="Remove").click()
    expect(panel.get_by_role("status")).to_contain_text("45 of 46 placed, 1 missing")
    bench.wait_camera()
    page.mouse.click(*bench.middle(bench.stage))
    expect(page.locator(".top")).to_contain_text("Placed the landmark Nose tip")
    expect(panel.get_by_role("status")).to_contain_text("46 of 46 placed")


def test_bones_are_built_turned_by_the_handle_and_kept_as_a_pose(page, opened):
    bench = at_landmarks(opened, "Hob", "Bones")
    panel = page.get_by_role("region", name="Bones", exact=True)
    expect(panel).to_contain_text("Bones stand where they should.")
    panel.get_by_role("button", name="What is built").click()
    panel.get_by_label("The face is moved by").get_by_text("Both").click()
    panel.get_by_role("button", name="Rebuild bones").click()
    expect(page.locator(".top")).to_contain_text("Built bones from landmarks")
    expect(panel).to_contain_text("54 of 54")
    panel.get_by_role("button", name="Lids", exact=True).click()
    expect(panel).to_contain_text("38 of 54")

    # the picked bone is turned by its ring, within its limits, and goes back to rest with a key
    panel.get_by_role("button", name="Jaw", exact=True).last.click()
    bench.chip("Side").click()
    bench.wait_camera()
    card = page.get_by_label("Own control of Jaw")
    turn = card.get_by_label("Jaw Turn x").last
    before = bench.picture()
    bench.drag(bench.on_ring("jaw.turn_x", 0.5), (2, 8), (8, 20), (16, 34))
    bench.wait_changed(before)
    opened = float(turn.input_value().rstrip("°"))
    assert 2 < abs(opened) <= 35
    bench.stage.focus()
    page.keyboard.press("h")
    bench.wait_values()

    # typed, kept as a pose of the strip, and there in the next station as well
    turn.fill("18")
    turn.press("Enter")
    bench.wait_values(**{"jaw.turn_x": 18})
    page.get_by_role("button", name="Keep this pose").click()
    page.get_by_label("Name of the pose").fill("Jaw by hand")
    page.keyboard.press("Enter")
    expect(page.locator(".top")).to_contain_text("Kept the pose Jaw by hand")
    bench.pose("neutral").click()
    bench.wait_values()
    bench.pose("jaw_by_hand").click()
    bench.wait_values(**{"jaw.turn_x": 18})
    bench.stage.focus()
    page.keyboard.press("3")
    expect(page.get_by_label("Own control of Jaw")).to_be_visible()


def test_a_bone_is_changed_and_what_is_wrong_with_it_is_put_right(page, opened):
    bench = at_landmarks(opened, "Hob", "Bones")
    panel = page.get_by_role("region", name="Bones", exact=True)
    panel.get_by_role("button", name="Eye bone L", exact=True).click()
    page.get_by_label("Move its ends").click()
    bench.chip("Side").click()
    bench.wait_camera()
    page.keyboard.press("m")
    head = page.locator(".dot-mark.base")
    bench.drag(bench.middle(head), (3, 3), (10, 9))
    expect(page.locator(".top")).to_contain_text("Moved Eye bone L")
    expect(panel.locator(".finding").first).to_contain_text("Eye bone L off centre")
    expect(panel.locator(".finding").last).to_contain_text("Twins not mirrored")
    panel.locator(".finding").first.get_by_role("button", name="Repair").click()
    expect(panel.locator(".finding")).to_have_count(0)

    # renamed, and called otherwise in what is exported
    name = panel.get_by_label("Name of the bone")
    name.fill("oculus_L")
    name.press("Enter")
    expect(page.locator(".top")).to_contain_text("Renamed the bone eye_L to Eye bone L")
    panel.get_by_role("button", name="Names for export").click()
    table = page.get_by_label("Table of names")
    table.fill("jaw, Mandible")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator(".top")).to_contain_text("Set the export names of 1 bones")
