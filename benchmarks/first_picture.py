"""From the address to the head in its pose, in software drawing, against the shelf, which has no head to draw."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from benchmarks.timing import Row
from tests import cast
from tests.browser.conftest import CHROMIUM, FLAGS
from tests.serving import Server

ROUNDS = 5
SHOWN = {
    "/characters/1/binding": "Number(document.querySelector('.stage-canvas')?.dataset.frames) > 0",
    "/": "document.querySelector('.shelf a') !== null",
}
WATCH = """new MutationObserver(() => { if (!window.shown && %s) window.shown = performance.now() })
    .observe(document, { subtree: true, childList: true, attributes: true })"""


def run() -> list[Row]:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(shutil.copytree(cast.shelf(), Path(folder) / "data"))
        server.start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        times: dict[str, list[float]] = {path: [] for path in SHOWN}
        for _ in range(ROUNDS):
            for path, found in times.items():
                found.append(_shown(browser, server.address + path, SHOWN[path]))
        browser.close()
        server.kill()
    head, shelf = (float(np.median(times[path])) for path in SHOWN)
    return [Row("first posed frame of a page, software", head, "the shelf", shelf, "<= 3 times", head <= 3 * shelf)]


def _shown(browser: Browser, address: str, when: str) -> float:
    """Milliseconds in a browser that knows nothing yet."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.add_init_script(WATCH % when)
    page.goto(address)
    page.wait_for_function("window.shown")
    page.wait_for_load_state("networkidle")
    took = float(page.evaluate("window.shown"))
    page.context.close()
    return took
