"""The real application in headless Chromium."""

from __future__ import annotations

import os

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from tests.serving import Server

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist", "--no-sandbox",
    "--disable-background-networking", "--disable-quic", "--disable-component-update", "--disable-sync", "--no-first-run",
    "--disable-gpu-compositing",  # else each picture waits for the page to be drawn in software too
]  # fmt: skip
PATIENCE = 45_000  # ms; software rendering on a busy machine

expect.set_options(timeout=PATIENCE)


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    found = Server(tmp_path_factory.mktemp("demo"), demo=True)
    found.start()
    yield found
    found.kill()


@pytest.fixture(scope="session")
def browser():
    # Playwright runs an event loop of its own; Django must not take the ORM calls of other tests for asynchronous ones
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield found
        found.close()


@pytest.fixture
def page(browser, server) -> Page:
    opened = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=server.address)
    opened.set_default_timeout(PATIENCE)
    problems: list[str] = []
    opened.on("pageerror", lambda error: problems.append(str(error)))
    yield opened
    opened.close()
    assert problems == []
