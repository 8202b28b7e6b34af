"""The bench as a person finds their way on it."""

from __future__ import annotations

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, TimeoutError, expect

QUICK = 8_000  # ms
FEWER_OR_HELD = """([list, n]) => list.querySelectorAll('.finding').length !== n
    || [...list.querySelectorAll('button')].some(b => b.textContent === 'Repair all the same')"""


class Bench:
    def __init__(self, page: Page) -> None:
        self.page = page
        self.stage = page.get_by_label("Stage", exact=True)

    @property
    def character(self) -> int:
        """Whom the address speaks of."""
        return int(re.search(r"/characters/(\d+)/", self.page.url)[1])

    def wait_drawn(self) -> None:
        expect(self.stage).to_have_attribute("data-ready", "true")

    def wait_measured(self) -> None:
        expect(self.page.locator("[data-measured=true]")).to_be_visible()

    def wait_thumbnails(self) -> None:
        expect(self.page.locator(".pose img")).to_have_count(10)

    def seam(self, name: str) -> Locator:
        return self.page.locator(f"[data-seam={name}]")

    def pose(self, name: str) -> Locator:
        return self.page.locator(f"[data-pose={name}]")

    def chip(self, label: str) -> Locator:
        """A button of the tools over the stage, or of a panel, by its name."""
        return self.page.locator(f".tool[aria-label='{label}'], .tool:text-is('{label}'), .chip:text-is('{label}')")

    def open_sliders(self) -> None:
        """The sliders of the controls, under the stage in place of the test poses."""
        self.page.locator(".dock").get_by_role("tab", name=re.compile("^Controls")).click()

    def open_poses(self) -> None:
        self.page.locator(".dock").get_by_role("tab", name=re.compile("^Poses")).click()

    def wait_values(self, **values: float) -> None:
        """Until the stage has drawn exactly these control values."""
        want = "{" + ",".join(f'"{k}":{v:g}' for k, v in sorted(values.items())) + "}"
        expect(self.stage).to_have_attribute("data-values", want)

    def wait_camera(self) -> None:
        """Until the camera has stopped flying."""
        expect(self.stage).to_have_attribute("data-flying", "false")

    def look_from(self, view: str) -> None:
        """Press a view, until the camera has gone there."""
        before = self.picture()
        self.chip(view).click()
        self.wait_changed(before, 0.02)
        self.wait_camera()

    def wait_changed(self, before: np.ndarray, share: float = 0.01) -> None:
        """Until a share of the stage looks visibly different."""
        for _ in range(60):
            if changed(before, self.picture()) > share:
                return
        raise AssertionError("The stage still looks the same.")

    def thread_end(self) -> tuple[float, float]:
        """Where the callout's thread ends on the page: the place of the finding."""
        path = self.page.locator(".leader path")
        expect(path).to_have_attribute("d", re.compile("L"))
        x, y = path.get_attribute("d").rsplit("L", 1)[1].split()
        box = self.stage.bounding_box()
        return box["x"] + float(x), box["y"] + float(y)

    def open_take(self, label: str) -> Locator:
        """The dock with a take of that label in it."""
        self.page.get_by_role("tab", name="Takes").click()
        dock = self.page.locator(".dock")
        dock.get_by_role("combobox", name="Take").click()
        self.page.locator(".ant-select-item-option", has_text=label).click()
        return dock

    def choose(self, box: Locator, option: str, shown: Locator) -> None:
        """Pick an option of a select until it is shown as chosen: on a busy machine a list may still be opening under the pointer.

        The option is looked for in this select's own list, for that of the one before may still be fading.
        """
        own = self.page.locator(".ant-select-dropdown").filter(has=self.page.locator(f"[id='{box.get_attribute('id')}_list']"))
        for _ in range(3):
            box.click()
            try:
                own.locator(f".ant-select-item-option[title='{option}']").click(timeout=QUICK)
                expect(shown).to_contain_text(option, timeout=QUICK)
                return
            except (AssertionError, TimeoutError):
                self.page.keyboard.press("Escape")
        expect(shown).to_contain_text(option)

    def repair_all(self, panel: Locator, findings: Locator, most: int = 16) -> int:
        """Put right whatever is found first until nothing is; how many clicks that took. One repair may do for several findings."""
        rows, busy = findings.locator(".finding"), panel.locator("xpath=descendant-or-self::*[@aria-busy='true']")
        expect(rows).not_to_have_count(0)
        for done in range(most):
            expect(busy).to_have_count(0)
            left = rows.count()
            if not left:
                return done
            rows.first.get_by_role("button", name=re.compile("^Repair")).click()
            held = findings.get_by_role("button", name="Repair all the same")
            self.page.wait_for_function(FEWER_OR_HELD, arg=[findings.element_handle(), left])
            if held.count():  # it makes something a little worse, which was told
                held.click()
            expect(rows).not_to_have_count(left)
        raise AssertionError(f"After {most} repairs there is still something to repair.")

    def picture(self) -> np.ndarray:
        """Pixels (H, W, 3) of the stage, without what floats over it at the edges."""
        box = self.stage.bounding_box()
        clip = {"x": box["x"] + 180, "y": box["y"] + 70, "width": 260, "height": box["height"] - 90}
        return png_pixels(self.page.screenshot(clip=clip))

    def middle(self, of: Locator) -> tuple[float, float]:
        box = of.bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def drag(self, start: tuple[float, float], *through: tuple[float, float]) -> None:
        """Press, move through places given as steps from the start, let go."""
        mouse = self.page.mouse
        mouse.move(*start)
        mouse.down()
        for x, y in through:
            mouse.move(start[0] + x, start[1] + y)
        mouse.up()

    def on_ring(self, channel: str, share: float) -> tuple[float, float]:
        """A place on the page on the ring that turns a bone, at a share of the part of it that faces the camera."""
        where = "(p, share) => { const q = p.getPointAtLength(p.getTotalLength() * share); return [q.x, q.y] }"
        x, y = self.page.locator(f'[data-name="{channel}"] .front').evaluate(where, share)
        box = self.stage.bounding_box()
        return box["x"] + x, box["y"] + y

    def drag_slider(self, control: str, to: float) -> None:
        """Drag a slider's handle to a fraction of its rail, as a hand does: press, move, let go."""
        row = self.page.locator(".control-row", has=self.page.get_by_text(control, exact=True))
        if not row.count():
            self.open_sliders()
        row.scroll_into_view_if_needed()  # there may be more than there is room for
        rail, handle = row.locator(".ant-slider-rail").bounding_box(), row.locator(".ant-slider-handle").bounding_box()
        mouse = self.page.mouse
        mouse.move(handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2)
        mouse.down()
        for step in (0.3, 0.6, 1.0):
            mouse.move(rail["x"] + rail["width"] * to * step, rail["y"] + rail["height"] / 2)
        mouse.up()


def png_pixels(data: bytes) -> np.ndarray:
    """Pixels (H, W, 3) of a PNG."""
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def changed(before: np.ndarray, after: np.ndarray) -> float:
    """Share of pixels that differ visibly."""
    return float((np.abs(before.astype(int) - after.astype(int)).max(axis=2) > 24).mean())
