"""The bench at the sizes people have: nothing is cut, nothing lies over the face, nothing shuts anybody out."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.bench_page import png_pixels

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"
STATIONS = ("Check-in", "Landmarks", "Binding", "Weights", "Lids", "Jaw", "Shapes", "Controls", "Mix", "Hand-off")

# elements whose words are wider or taller than the room they have, or that stick out of what clips them
CUT = """() => {
  const cut = (e) => e.clientWidth && e.scrollWidth > e.clientWidth + 1
  const labels = `.rail button, .seam-name, .seams h3, .seams h4, .tool, .dock-head button, .pose p, .control-row label, .panel h2,
    .panel-head, .tabs button`
  return [...document.querySelectorAll(labels)]
    .filter((e) => e.offsetParent && (cut(e) || [...e.querySelectorAll('span')].some(cut)))
    .map((e) => e.innerText || e.getAttribute('aria-label'))
}"""

# what floats over the stage
CARDS = """() => [...document.querySelectorAll('.stage-view > :not(canvas):not(svg), .stage-bar > *')]
  .filter((e) => e.offsetParent && e.className !== 'stage-bar' && getComputedStyle(e).pointerEvents !== 'none')
  .map((e) => [e.className, e.getBoundingClientRect().toJSON()])"""


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 700)])
def test_no_label_is_cut_and_no_card_lies_over_the_head(page, opened, width, height):
    page.set_viewport_size({"width": width, "height": height})
    bench = opened("Maren", "controls")
    bench.wait_measured()
    bench.wait_camera()
    bench.open_sliders()
    assert page.evaluate(CUT) == []
    bench.open_poses()
    assert page.evaluate(CUT) == []
    expect(page.locator(".callout")).to_be_visible()
    stage = bench.stage.bounding_box()
    head = json.loads(bench.stage.get_attribute("data-head"))
    left, right = stage["x"] + head["left"], stage["x"] + head["right"]
    top, bottom = stage["y"] + head["top"], stage["y"] + head["bottom"]
    assert right - left > 0.2 * stage["width"]  # it is the head that is spoken of
    over = [
        name
        for name, box in page.evaluate(CARDS)
        if box["left"] < right and box["right"] > left and box["top"] < bottom and box["bottom"] > top
    ]
    assert over == []

    # the stage alone, truly
    bench.stage.focus()
    page.keyboard.press("o")
    expect(page.locator(".rail")).to_be_hidden()
    assert page.evaluate(CARDS) == []
    box = bench.stage.bounding_box()
    assert (box["width"], box["height"]) == (width, height)
    page.keyboard.press("Escape")
    expect(page.locator(".rail")).to_be_visible()


def test_nothing_shuts_anybody_out_at_any_station(page, opened):
    """No serious or critical breach of WCAG 2 A and AA, as axe-core tells them; the canvas is drawn on, not read."""
    bench = opened("Maren", "checkin")
    bench.wait_measured()
    bench.wait_thumbnails()
    page.add_script_tag(path=AXE)
    found = {}
    for station in STATIONS:
        button = page.get_by_label("Stations").get_by_role("button", name=re.compile(f"^{station}"))
        button.click()
        expect(button).to_have_attribute("aria-current", "page")
        expect(page.locator(".panel [aria-busy=true]")).to_have_count(0)
        where = "document" if station == STATIONS[0] else "{exclude: ['.rail', '.seams', '.dock', '.top']}"  # those are the same at all
        run = f"axe.run({where}, {{runOnly: ['wcag2a', 'wcag2aa'], resultTypes: ['violations']}})"
        breaches = page.evaluate(
            f"async () => (await {run}).violations.map((v) => [v.id, v.impact, v.nodes.slice(0, 4).map((n) => n.html.slice(0, 160))])"
        )
        serious = [(name, nodes) for name, impact, nodes in breaches if impact in ("serious", "critical")]
        if serious:
            found[station] = serious
    assert found == {}


def test_the_stage_is_turned_by_keys_and_kept_as_a_picture(page, opened, tmp_path):
    bench = opened("Maren", "binding")
    bench.wait_thumbnails()
    bench.wait_camera()
    before = bench.picture()
    bench.stage.focus()
    for _ in range(4):
        page.keyboard.press("ArrowLeft")
    bench.wait_changed(before, 0.05)
    page.get_by_role("button", name="Save a picture").click()
    with page.expect_download() as waiting:
        page.get_by_text("Still (PNG)").click()
    waiting.value.save_as(tmp_path / "still.png")
    still = png_pixels((tmp_path / "still.png").read_bytes())
    assert still.std() > 10  # there is a head on it
