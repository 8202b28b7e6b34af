"""Pim's eyes are seated: the sweep says where they cut the lids, a proposal mends both."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench


@pytest.fixture
def bench(page) -> Bench:
    found = Bench(page)
    found.open_from_shelf("Pim")
    found.stage.focus()
    page.keyboard.press("2")
    found.wait_drawn()
    return found


def test_the_eyes_are_measured_shown_and_seated(page, bench):
    seat = page.get_by_label("Eye seats")
    expect(seat).to_contain_text(re.compile(r"Out of round1\.[567]\d mm"))
    expect(seat).to_contain_text(re.compile(r"Pivot off the centre2\.9\d mm"))
    contact = page.get_by_role("status", name="Contact")
    expect(contact).to_have_text("0.80 mm deep, looking 35° right, 25° up")
    expect(page.locator(".callout")).to_contain_text("Eye L cuts the lids")
    expect(page.locator(".mark-labels")).to_contain_text("0.80 mm")
    expect(page.get_by_role("img", name="Section through the contact, 0.80 mm")).to_be_visible()

    # another gaze, by mouse and by key
    sweep = page.get_by_role("group", name="Gaze sweep")
    sweep.get_by_role("button", name=re.compile("^0° across, -2° up")).click()
    expect(contact).to_contain_text("clear")
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
