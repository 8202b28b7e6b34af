"""A slider dragged in the real interface: what frames lose while every card beside the stage asks along."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright

from benchmarks.timing import Row
from tests import cast
from tests.browser.bench_page import Bench
from tests.browser.conftest import CHROMIUM, FLAGS
from tests.serving import Server

SECONDS = 5.0
ROUNDS = 3
HOB_AT_JAW = "/characters/3/jaw"
WATCH = """() => {
  const stage = document.querySelector('.stage-canvas')
  window.drawn = []
  const watch = new MutationObserver(() => window.drawn.push(performance.now()))
  watch.observe(stage, { attributes: true, attributeFilter: ['data-frames'] })
}"""


def run() -> list[Row]:
    """The 95th percentile of the time between two frames while the jaw is opened and closed: section, chart and pull list open, or not."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(shutil.copytree(cast.shelf(), Path(folder) / "data"))
        server.start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        times: dict[bool, list[float]] = {True: [], False: []}
        for _ in range(ROUNDS):
            for cards, found in times.items():
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.goto(server.address + HOB_AT_JAW)
                found.append(_dragged(page, cards))
                page.close()
        browser.close()
        server.kill()
    opened, closed = (float(np.median(times[cards])) for cards in (True, False))
    return [Row("frames of a drag with all cards open, 95 %", opened, "with cards closed", closed, "<= 1.3 times", opened <= 1.3 * closed)]


def _dragged(page: Page, cards: bool) -> float:
    bench = Bench(page)
    bench.wait_drawn()
    bench.wait_measured()
    bench.open_sliders()
    page.get_by_role("tab", name="Movement" if cards else "Lips").click()
    if cards:
        page.mouse.click(*bench.middle(bench.stage))  # a vertex, whose pull list is told
        page.get_by_label("Pull list").wait_for()
    else:
        page.get_by_label("Close the section").click()
    row = page.locator(".control-row", has=page.get_by_text("Jaw open", exact=True))
    rail, handle = row.locator(".ant-slider-rail").bounding_box(), row.locator(".ant-slider-handle")
    page.evaluate(WATCH)
    page.mouse.move(*bench.middle(handle))
    page.mouse.down()
    end, step = time.monotonic() + SECONDS, 0
    while time.monotonic() < end:
        step += 1
        page.mouse.move(rail["x"] + rail["width"] * (0.5 - 0.5 * np.cos(step / 12)), rail["y"] + 2)
    page.mouse.up()
    return float(np.percentile(np.diff(page.evaluate("window.drawn")), 95))
