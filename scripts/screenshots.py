"""Pictures for docs/screenshots, taken from the demo at 1280x800 with the stage drawn finely: all of them, or those that are named."""

from __future__ import annotations

import re
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import CHROMIUM, FLAGS  # noqa: E402
from tests.serving import Server  # noqa: E402

OUT = ROOT / "docs" / "screenshots"
LOOKED_FOR = """
    [...document.querySelectorAll('.rail button')].slice(0, 7)
        .every((station) => station.title && !/not (all is )?measured/i.test(station.title))
"""  # to Shapes
PATIENCE = 600_000  # ms; fine drawing in software takes its time


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), demo=True)
        server.start()
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
                page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=server.address)
                page.set_default_timeout(PATIENCE)
                page.add_init_script("localStorage.setItem('tight-seam.stage', 'fine')")
                for name in sys.argv[1:] or TAKES:
                    TAKES[name](page)
                browser.close()
        finally:
            server.kill()


def take_shelf(page: Page) -> None:
    page.goto("/")
    page.wait_for_function("document.querySelectorAll('.portrait img').length === 3")
    page.screenshot(path=OUT / "shelf.png")


def take_checkin(page: Page) -> None:
    page.goto("/characters/2/checkin?check=eye_round_L")
    settle(page)
    page.screenshot(path=OUT / "checkin-fault.png")


def take_landmarks(page: Page) -> None:
    page.goto("/characters/2/landmarks")
    page.wait_for_selector(".proposal")
    settle(page)
    page.screenshot(path=OUT / "eye-seat.png")

    page.click(".panel-head >> text=Landmarks >> nth=-1")
    page.click("text=Suggest what is missing")
    page.wait_for_selector(".dot-mark")
    page.click("[aria-label='Upper fold L'] >> nth=0")
    page.click(".views >> text=Quarter")
    settle(page)
    page.screenshot(path=OUT / "landmarks.png")
    page.click("[aria-label=Undo]")

    page.goto("/characters/1/landmarks")
    settle(page)
    page.click(".panel-head >> text=Bones")
    page.click("section[aria-label=Bones] [aria-label=Jaw] >> nth=0")
    page.fill("#own-jaw\\.turn_x", "16")
    page.press("#own-jaw\\.turn_x", "Enter")
    settle(page)
    page.screenshot(path=OUT / "bones.png")


def take_binding(page: Page) -> None:
    page.goto("/characters/1/binding?pose=neutral")
    settle(page)
    page.click(".finding:has-text('Teeth lower is carried by') >> text=Try")
    page.wait_for_selector("[aria-label='What it would do']")
    page.mouse.move(1100, 20)
    settle(page)
    page.screenshot(path=OUT / "binding-findings.png")

    page.goto("/characters/1/binding?pose=jaw_open")
    settle(page)
    page.click("[data-seam=follow_teeth_lower]")
    page.click(".views >> text=Quarter")
    page.click("text=Show why")
    page.wait_for_selector("text=What holds it back")
    page.mouse.move(1100, 20)
    settle(page)
    page.screenshot(path=OUT / "bench-jaw-open.png")


def take_weights(page: Page) -> None:
    page.goto("/characters/1/weights?pose=jaw_open")
    settle(page)
    page.click(".skeleton-tools >> text=Lasso")
    box = page.locator(".stage-canvas").bounding_box()
    x, y = box["x"] + box["width"] / 2 - 45, box["y"] + box["height"] / 2 + 168
    page.mouse.move(x, y)
    page.mouse.down()
    for dx, dy in ((25, -4), (62, -12), (58, 12), (30, 26), (8, 16)):
        page.mouse.move(x + dx, y + dy)
    page.mouse.up()
    page.click(".skeleton-tools >> text=Lasso")
    page.wait_for_selector(".weight-row")
    settle(page)
    page.screenshot(path=OUT / "weights.png")

    page.click(".skeleton-tools >> text=Sheet")
    page.wait_for_selector(".sheet td")
    page.locator(".sheet td").nth(1).click()
    page.click(".views >> text=Mouth")
    settle(page)
    page.screenshot(path=OUT / "weight-sheet.png")
    page.click("[aria-label='Close the sheet']")


def take_lids(page: Page) -> None:
    page.goto("/characters/3/lids")
    page.wait_for_selector(".lids[aria-busy=false]")
    page.click("[aria-label^='Eye L, closed 100 %, 25° down']")
    page.click("[role=tab] >> text=Closing")
    page.click("[aria-label='Key 3']")
    settle(page)
    page.screenshot(path=OUT / "lids.png")


def take_jaw(page: Page) -> None:
    page.goto("/characters/3/jaw?pose=jaw_open")
    page.wait_for_selector("[aria-label='Over the opening']")
    page.click("[role=tab] >> text=Findings")
    page.wait_for_selector(".finding >> text='Cheek L sinks in'")
    page.click(".finding:has-text('Cheek L sinks in') >> text=Look at L")
    page.click(".views >> text=Front")
    page.locator("[aria-label='Over the opening']").scroll_into_view_if_needed()
    settle(page)
    page.screenshot(path=OUT / "jaw.png")


def take_shapes(page: Page) -> None:
    page.goto("/characters/3/shapes?pose=neutral")
    page.wait_for_selector(".shape-row img")
    page.wait_for_function("document.querySelectorAll('.shape-row img').length === document.querySelectorAll('.shape-row').length")
    page.click("[aria-label=Shapes] [role=tab] >> text=Names")
    page.click("[aria-label='Name list']")
    page.click("[title='The Lantern Post']")
    page.wait_for_selector("[aria-label=Names] >> text=near")
    page.click("[role=tab] >> text=Findings")
    page.click(".finding:has-text('low_corner_right') >> text=Look")
    page.click(".views >> text=Front")
    settle(page)
    page.screenshot(path=OUT / "shapes.png")

    # a cheek sculpted on the turned head with the jaw open
    page.click("[data-alone=full_cheek_right]")
    page.click("[role=tab] >> text=Sculpt")
    page.click("[aria-label='Close the sheet']")
    page.click(".dock [role=tab] >> text=Controls")
    for control, value in (("jaw_open", "0.5"), ("head_turn", "25")):
        page.fill(f"#control-{control}", value)
        page.press(f"#control-{control}", "Enter")
    page.click(".dock [role=tab] >> text=Poses")
    page.click("[role=radio] >> text=Sculpt")
    page.check("text=Show what moves")
    page.wait_for_selector("text=True mesh")
    settle(page)
    page.mouse.move(535, 385)
    page.mouse.down()
    page.mouse.move(518, 389, steps=4)
    page.mouse.up()
    page.wait_for_selector("text=in the shape full_cheek_right")
    page.mouse.move(535, 385)
    settle(page)
    page.screenshot(path=OUT / "shapes-sculpt.png")
    page.click("[aria-label=Undo]")
    page.click("text=Show what moves")


def take_controls(page: Page) -> None:
    page.goto("/characters/3/controls?pose=neutral")
    page.click("text=Arrange the plan")
    page.wait_for_selector(".pad")
    box = page.locator(".pad[aria-label^='Gaze across']").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 7, y + 5, steps=4)
    page.mouse.up()
    settle(page)
    page.screenshot(path=OUT / "controls.png")
    page.click("[role=tab] >> text=Takes")
    page.click("[aria-label=Take]")
    page.click(".ant-select-item-option >> text=A laugh")
    page.click("[aria-label='Play the take']")
    page.wait_for_function("parseInt(document.querySelector('[aria-label=Frame]').textContent) > 95")
    page.click("[aria-label='Pause the take']")
    settle(page)
    page.screenshot(path=OUT / "controls-take.png")
    page.click("[aria-label=Undo]")


def take_mix(page: Page) -> None:
    page.goto("/characters/3/mix")
    page.get_by_role("button", name=re.compile("^Sweep")).click()
    page.locator("[aria-label=Mix][aria-busy=false]").wait_for()
    for name, cause in (("mix", "The skin turns over: Jaw corner L"), ("mix-cause", "Lash lower L · skin drifts")):
        option = page.get_by_role("option").filter(has_text=cause).first
        option.click()
        page.wait_for_function("option => option.ariaSelected === 'true'", arg=option.element_handle())
        page.wait_for_function("document.querySelector('.section svg') !== null")
        if name == "mix-cause":
            option.get_by_role("button", name="Find repairs").click()
            option.get_by_role("region", name="Repairs").get_by_role("article").first.wait_for()
            option.get_by_role("region", name="Repairs").scroll_into_view_if_needed()
        settle(page)
        page.screenshot(path=OUT / f"{name}.png")


PACKING = 240_000  # ms: the stage takes its share of the machine


def take_handoff(page: Page) -> None:
    page.goto("/characters/1/handoff?pose=smile")
    settle(page)
    page.click(".finding:has-text('Too many influences on Skin') >> text=Look")
    page.mouse.move(1100, 20)
    settle(page)
    page.screenshot(path=OUT / "handoff.png")
    for refused in ("Tongue is bound to a helper", "Totals are not 1 on Skin"):
        page.click(f".finding:has-text('{refused}') >> text=Repair")
        page.wait_for_selector(f".finding:has-text('{refused}')", state="detached")
    page.click("text=Make the package")
    page.wait_for_selector(".arrived", timeout=PACKING)
    page.click(".arrived tr:has-text('Jaw and lips') >> text=Look")
    page.click("text=Side by side")
    page.click(".views >> text=Mouth")
    page.mouse.move(1100, 20)
    settle(page)
    page.screenshot(path=OUT / "handoff-arrives.png")


TAKES = {
    "shelf": take_shelf,
    "checkin": take_checkin,
    "landmarks": take_landmarks,
    "lids": take_lids,
    "jaw": take_jaw,
    "shapes": take_shapes,
    "controls": take_controls,
    "mix": take_mix,
    "binding": take_binding,
    "weights": take_weights,
    "handoff": take_handoff,
}


def settle(page: Page) -> None:
    """Until everything is measured, photographed and drawn."""
    page.wait_for_selector("canvas[data-ready=true][data-shaded=true][data-flying=false]")
    page.wait_for_selector("[data-measured=true]")
    page.wait_for_function("document.querySelectorAll('.pose img').length === document.querySelectorAll('.pose').length")
    page.wait_for_function(f"!document.querySelector('.pose') || {LOOKED_FOR}")
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 1500))))")


if __name__ == "__main__":
    main()
