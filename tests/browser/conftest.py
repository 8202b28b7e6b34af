"""The real application in headless Chromium."""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect, sync_playwright
from tightseam.exchange.character_file import write_character

from tests import cast
from tests.browser.bench_page import Bench
from tests.serving import Server

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    # Mesa draws with a quarter of the time that the rasteriser takes which Chromium brings along; that one steps in where Mesa is missing
    "--use-gl=angle", "--use-angle=gl-egl", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist", "--no-sandbox",
    "--disable-background-networking", "--disable-quic", "--disable-component-update", "--disable-sync", "--no-first-run",
    "--disable-gpu-compositing",  # else each picture waits for the page to be drawn in software too
]  # fmt: skip
ANSWERED = re.compile(r"Failed to load resource: (the server responded with a status of 4\d\d|net::ERR_FAILED)|.*GL Driver Message")
PATIENCE = 45_000  # ms; software rendering on a busy machine

expect.set_options(timeout=PATIENCE)


@contextmanager
def with_the_cast(folder: Path) -> Iterator[Server]:
    """A server with the demo cast on its shelf, in a folder that is not there yet."""
    shutil.copytree(cast.shelf(), folder)
    found = Server(folder)
    found.start()
    yield found
    found.kill()


@pytest.fixture(scope="session")
def server(tmp_path_factory) -> Iterator[Server]:
    with with_the_cast(tmp_path_factory.mktemp("served") / "data") as found:
        yield found


@pytest.fixture
def own_server(tmp_path) -> Iterator[Server]:
    """For tests that look at the shelf: nobody stands there but the cast."""
    with with_the_cast(tmp_path / "data") as found:
        yield found


@pytest.fixture(scope="session")
def profile(tmp_path_factory) -> Iterator[BrowserContext]:
    """One person's browser, which keeps what it has seen before, on a coarse screen and without motion: both cost in software."""
    # Playwright runs an event loop of its own; Django must not take the ORM calls of other tests for asynchronous ones
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    with sync_playwright() as playwright:
        found = playwright.chromium.launch_persistent_context(
            tmp_path_factory.mktemp("profile"),
            executable_path=CHROMIUM,
            args=FLAGS,
            viewport={"width": 1280, "height": 800},
            device_scale_factor=0.7,
            reduced_motion="reduce",
        )
        found.set_default_timeout(PATIENCE)
        yield found
        found.close()


@contextmanager
def page_at(profile: BrowserContext, server: Server, path: str) -> Iterator[Page]:
    opened = profile.new_page()
    problems: list[str] = []
    opened.on("pageerror", lambda error: problems.append(str(error)))
    # a refusal is an answer, which the browser writes down as an error of its own; so is what a test cuts off
    opened.on("console", lambda m: problems.append(m.text) if m.type in ("error", "warning") and not ANSWERED.match(m.text) else None)
    opened.goto(server.address + path)
    yield opened
    opened.close()
    assert problems == []


@pytest.fixture
def page(profile, server) -> Iterator[Page]:
    with page_at(profile, server, "/mark.svg") as found:
        yield found


@pytest.fixture
def shelf(profile, own_server) -> Iterator[Page]:
    """The shelf as a person meets it first."""
    with page_at(profile, own_server, "/") as found:
        yield found


@pytest.fixture(scope="session")
def files() -> dict[str, bytes]:
    """The demo cast as character files, faults and all; Hob without any, too."""
    heads = {"Maren": cast.faulty("maren"), "Hob": cast.faulty("hob"), "Pim": cast.pim_as_delivered(), "Hob mended": cast.clean("hob")}
    return {name: write_character(head.character, head.store) for name, head in heads.items()}


@pytest.fixture
def opened(page, server, files) -> Callable[..., Bench]:
    """Opens somebody of the cast at a station: a character of the test's own, whom nobody else will meet."""

    def open_at(name: str, station: str, pose: str | None = None) -> Bench:
        entry = server.take_in(f"{name.lower()}.seam", files[name])
        page.goto(f"{server.address}/characters/{entry['id']}/{station}" + (f"?pose={pose}" if pose else ""))
        bench = Bench(page)
        bench.wait_drawn()
        return bench

    return open_at
