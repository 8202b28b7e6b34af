"""From an unnamed OBJ through every station to a package that arrives: by mouse alone, its clicks counted."""

from __future__ import annotations

import re
import zipfile

from playwright.sync_api import Page, expect
from tightseam.exchange.obj_write import write_obj

from tests.browser.bench_page import Bench
from tests.core.heads import character_of, without_hair
from tests.core.test_through import unnamed

CLICKS = 21  # with one to choose the file
COUNT = "window.clicks = 0; window.addEventListener('pointerdown', (event) => { window.clicks += event.isTrusted ? 1 : 0 }, true)"


class Through:
    """A new user on the way from station to station."""

    def __init__(self, page: Page) -> None:
        self.page, self.panel = page, page.locator(".panel")

    def go_to(self, station: str) -> None:
        button = self.page.get_by_label("Stations").get_by_role("button", name=re.compile(f"^{station}"))
        button.click()
        expect(button).to_have_attribute("aria-current", "page")

    def says(self, station: str, said: str | re.Pattern[str]) -> None:
        """The rail says of a station what its panel would list."""
        button = self.page.get_by_label("Stations").get_by_role("button", name=re.compile(f"^{station}"))
        expect(button).to_have_attribute("title", said)

    def repair_first(self, listed: str) -> None:
        findings = self.panel.get_by_label(listed)
        findings.locator(".finding").first.get_by_role("button", name=re.compile("^Repair")).click()
        expect(findings.locator(".finding")).to_have_count(0)


def test_an_unnamed_obj_goes_through_every_station_to_a_package_that_arrives(shelf, raw_heads, tmp_path):
    page, bench, rigger = shelf, Bench(shelf), Through(shelf)
    page.evaluate(COUNT)
    delivered = tmp_path / "newcomer.obj"
    delivered.write_bytes(unnamed(write_obj(*character_of(without_hair(raw_heads["pim"])))))
    page.get_by_label("Files to add").set_input_files(delivered)
    page.get_by_role("button", name="Check it in").click()
    expect(page.get_by_label("Verdict")).to_contain_text("Fit to be rigged")
    bench.wait_drawn()
    rigger.says("Lids", "Not measured yet")

    rigger.go_to("Landmarks")
    tabs = page.locator(".panel-head")
    tabs.get_by_text("Landmarks", exact=True).last.click()
    rigger.panel.get_by_role("button", name="Suggest what is missing").click()
    expect(rigger.panel.get_by_role("region", name="Landmarks", exact=True).get_by_role("status")).to_contain_text("46 of 46 placed")
    tabs.get_by_text("Bones", exact=True).last.click()
    rigger.panel.get_by_role("button", name="Set up a first rig").click()
    expect(page.locator(".top")).to_contain_text("Set up a first rig")
    bench.wait_measured()

    # the rail tells by itself where something waits, and nowhere says that nothing does where nobody looked
    rigger.says("Binding", "1 finding")
    rigger.says("Lids", "2 findings")
    for station in ("Landmarks", "Weights", "Jaw", "Shapes"):
        rigger.says(station, "No findings")
    rigger.says("Mix", "Not measured yet")
    rigger.says("Hand-off", "Not measured yet")
    rigger.go_to("Binding")
    rigger.repair_first("Weight findings")
    rigger.go_to("Weights")
    rigger.go_to("Lids")
    rigger.repair_first("Lid findings")
    rigger.go_to("Jaw")
    expect(rigger.panel).to_contain_text("Nothing sinks in, overlaps, gapes, crumples or shifts")
    for station in ("Landmarks", "Binding", "Weights", "Lids", "Jaw", "Shapes"):
        rigger.says(station, "No findings")
    rigger.go_to("Shapes")
    rigger.go_to("Controls")
    rigger.panel.get_by_role("button", name="Arrange the plan").click()
    expect(page.locator(".top")).to_contain_text("Arranged")
    rigger.go_to("Mix")
    rigger.panel.get_by_role("button", name=re.compile("^Sweep")).click()
    expect(rigger.panel).to_contain_text(re.compile(r"\d+ pairs and \d+ triples measured"), timeout=180_000)
    rigger.says("Mix", re.compile(r"^\d+ causes? of what is wrong$"))

    rigger.go_to("Hand-off")
    expect(rigger.panel).to_contain_text("Lean takes this rig as it is.")
    rigger.says("Hand-off", "No things that its receiver does not take")
    package = rigger.panel.get_by_label("Package")
    package.get_by_role("button", name="Make the package").click()
    told = package.get_by_role("table", name="How far off it arrives")
    expect(told).to_be_visible(timeout=180_000)
    assert float(told.get_by_role("row", name="Test poses").locator("td.num").first.inner_text()) < 1.5
    with page.expect_download() as saved:
        package.get_by_role("button", name="Save it").click()
    with zipfile.ZipFile(saved.value.path()) as archive:
        assert {"report.json", "drive.json", "newcomer.glb"} <= set(archive.namelist())
    assert page.evaluate("window.clicks") + 1 <= CLICKS
