"""The Weights station: what is drawn round on the posed head is selected, said who carries it, and changed."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import Bench
from tests.browser.test_landmarks import left_as_found  # noqa: F401


@pytest.mark.usefixtures("left_as_found")
def test_weights_are_selected_told_and_tuned_with_the_jaw_open(page):
    bench = Bench(page)
    bench.open_from_shelf("Maren")
    bench.wait_measured()
    bench.pose("jaw_open").click()
    bench.stage.focus()
    page.keyboard.press("4")
    bench.wait_values(jaw_open=1)
    panel = page.get_by_role("region", name="Weights", exact=True)
    selected = panel.get_by_role("status").first
    expect(selected).to_have_text("Nothing is selected")

    # drawn round on the posed chin; what faces away is left out, and Shrink leaves the edge out
    bench.chip("Lasso").click()
    x, y = bench.middle(bench.stage)
    start = (x - 60, y + 110)
    bench.drag(start, (40, -10), (90, 0), (90, 60), (20, 70), (-10, 40))
    expect(selected).to_have_text(re.compile(r"\d+ vertices of Skin"))
    before = int(selected.inner_text().split()[0])
    assert before > 10
    bench.chip("Shrink").click()
    expect(selected).not_to_have_text(f"{before} vertices of Skin")
    bench.chip("Grow").click()
    expect(selected).to_have_text(re.compile(r"\d+ vertices of Skin"))
    carriers = page.get_by_label("Bones of the selection")
    expect(carriers.locator(".weight-row", has_text="Jaw")).to_contain_text(re.compile(r"\d+ ?%"))

    # a locked bone is refused in words; unlocked it is changed, and the head shows it
    carriers.get_by_label("Lock Jaw", exact=True).click()
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.locator(".ant-message")).to_contain_text("Jaw is locked. Unlock it to change its weights.")
    carriers.get_by_label("Lock Jaw", exact=True).click()
    picture = bench.picture()
    page.get_by_label("Set to, number").fill("40 %")
    page.get_by_label("Set to, number").press("Enter")
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.locator(".top")).to_contain_text(re.compile(r"Set Jaw to 0\.4 on \d+ vertices of Skin and the other side"))
    expect(carriers.locator(".weight-row.open")).to_contain_text("40 %")
    bench.wait_changed(picture)
    page.get_by_role("button", name="Smooth", exact=True).click()
    expect(page.locator(".top")).to_contain_text("Smoothed weights on")

    # by weight range, and gone with Esc
    page.get_by_role("button", name="Select", exact=True).click()
    expect(selected).to_have_text(re.compile(r"1,?\d{3} vertices of Skin|\d{3} vertices of Skin"))
    bench.stage.focus()
    page.keyboard.press("Escape")
    expect(selected).to_have_text("Nothing is selected")
