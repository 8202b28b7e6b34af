"""The strip of test poses: a range of motion is added, scrubbed along, played, and a pose of it is put away."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.bench_page import changed


def test_a_range_of_motion_is_added_scrubbed_and_played(page, opened):
    bench = opened("Hob", "binding")
    bench.wait_measured()
    poses = page.locator(".pose")
    before = poses.count()

    page.get_by_role("button", name="Poses", exact=True).click()
    menu = page.get_by_label("Edit poses")
    menu.get_by_role("button", name="Add a range of motion").click()
    expect(poses.filter(has_text="Eyes up and left")).to_be_attached()
    expect(menu).to_have_attribute("aria-busy", "false")
    added = poses.count() - before
    assert added > 10
    # every bone is tested once: asked again, nothing is left to add
    menu.get_by_role("button", name="Add a range of motion").click()
    expect(page.get_by_text("already holds everything")).to_be_visible()
    page.keyboard.press("Escape")

    # scrubbed by the keys of the handle: the far end is the last pose, and back home the neutral
    handle = page.get_by_label("Scrub through the poses")
    handle.focus()
    page.keyboard.press("End")
    expect(poses.last).to_have_attribute("aria-current", "true")
    page.keyboard.press("Home")
    expect(poses.first).to_have_attribute("aria-current", "true")
    bench.wait_values()
    still = bench.picture()

    # played, the head moves by itself; paused, it stays
    play = page.get_by_role("button", name="Play through the poses")
    play.click()
    expect(bench.stage).not_to_have_attribute("data-values", "{}")
    page.get_by_role("button", name="Pause").click()
    expect(play).to_be_visible()
    assert changed(still, bench.picture()) > 0.0005
    handle.focus()
    page.keyboard.press("Home")
    bench.wait_values()

    # a pose of the range is hidden, and brought back
    bench.pose("blink").click()
    page.get_by_role("button", name="Poses", exact=True).click()
    menu.get_by_role("button", name="Hide").click()
    expect(bench.pose("blink")).to_have_count(0)
    menu.get_by_title("Bring it back").click()
    expect(bench.pose("blink")).to_be_attached()
