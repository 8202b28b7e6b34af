"""What a hand expects of any tool: names and values where they stand, keys that do one thing, what lies in front."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

LET_GO = """([name, text]) => {
  const dataTransfer = new DataTransfer()
  dataTransfer.items.add(new File([text], name))
  const way = { dataTransfer, bubbles: true, cancelable: true }
  document.body.dispatchEvent(new DragEvent('dragover', way))
  return new Promise((done) => {
    const drop = (frames) => {  // a hand lets go once it sees where
      const shown = document.querySelector('.drop-anywhere') !== null
      if (!shown && frames > 0) return requestAnimationFrame(() => drop(frames - 1))
      document.body.dispatchEvent(new DragEvent('drop', way))
      done(shown)
    }
    drop(120)
  })
}"""

# for each landmark: is it hidden, and is it what a pointer in its middle meets, or one that lies in front of it
MET = """() => [...document.querySelectorAll('.dot-mark:not([hidden])')].map((e) => {
  const box = e.getBoundingClientRect()
  const found = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)
  const met = found?.classList.contains('dot-mark') ? Number(found.style.zIndex) : -1
  return { behind: e.dataset.behind, itself: found === e, depth: Number(e.style.zIndex), met }
})"""


def test_names_and_values_are_changed_where_they_stand(page, opened):
    bench = opened("Hob mended", "shapes")

    # a new shape stands on the stage, alone and once, and nothing is asked for that is not there yet
    panel = page.get_by_role("region", name="Shapes", exact=True)
    panel.get_by_role("textbox", name="Name of the new shape").fill("Puff")
    panel.get_by_role("button", name="From the neutral").click()
    expect(bench.stage).to_have_attribute("data-values", '{"Puff.strength":1}')
    expect(page.locator(".ant-message-error")).to_have_count(0)

    # its name in the sheet
    if panel.get_by_role("button", name="Open the sheet").count():
        panel.get_by_role("button", name="Open the sheet").click()
    sheet = page.get_by_role("region", name="Shape sheet")
    sheet.get_by_role("option", name="Puff").locator(".name").dblclick()
    field = sheet.get_by_role("textbox", name="Name of the shape Puff")
    field.fill("Puffed")
    field.press("Enter")
    expect(page.locator(".top")).to_contain_text("Renamed the shape Puff to Puffed")
    expect(sheet.get_by_role("option", name="Puffed")).to_have_attribute("aria-selected", "true")

    # undo from a field that nothing was typed into; what is not there any more is not asked for any more
    panel.get_by_role("tab", name="Sculpt").click()
    strength = panel.get_by_role("textbox", name="Strength of Puffed, number")
    strength.fill("0.5")
    strength.press("Enter")
    bench.wait_values(**{"Puffed.strength": 0.5})
    strength.press("Control+z")
    expect(page.locator(".top")).to_contain_text("Made the shape Puff")
    page.keyboard.press("Escape")
    bench.stage.focus()
    page.keyboard.press("Control+z")
    expect(sheet.get_by_role("option", name="Puff")).to_have_count(0)
    expect(page.locator(".ant-message-error")).to_have_count(0)

    # a pose is renamed in the strip, a slider goes back to its rest by its label
    bench.pose("smile").locator("p").dblclick()
    label = page.get_by_role("textbox", name="Name of the pose Smile")
    label.fill("Broad smile")
    label.press("Enter")
    expect(bench.pose("smile")).to_contain_text("Broad smile")
    bench.open_sliders()
    number = page.get_by_role("textbox", name="Gaze across, number")
    number.fill("12")
    number.press("Enter")
    expect(page.get_by_role("slider", name="Gaze across")).to_have_attribute("aria-valuenow", "12")
    page.locator(".control-row label", has_text="Gaze across").dblclick()
    expect(number).to_have_value("0°")


def test_lasso_sheet_and_keys_do_one_thing(page, opened):
    bench = opened("Maren", "weights")
    panel = page.get_by_role("region", name="Weights", exact=True)
    selected = panel.get_by_role("status").first

    # with the lasso in the hand the tools over the stage still work; one loop, and it is put away; Esc keeps what it selected
    lasso = bench.chip("Lasso")
    lasso.click()
    bench.look_from("Side")
    bench.look_from("Front")
    x, y = bench.middle(bench.stage)
    bench.drag((x - 40, y + 90), (20, -8), (60, -10), (70, 30), (20, 40))
    expect(selected).to_have_text(re.compile(r"\d+ vertices of Skin"))
    expect(lasso).to_have_attribute("aria-pressed", "false")
    lasso.click()
    page.keyboard.press("Escape")
    expect(lasso).to_have_attribute("aria-pressed", "false")
    expect(selected).to_have_text(re.compile(r"\d+ vertices of Skin"))

    # F brings the selection near
    before = bench.picture()
    bench.stage.focus()
    page.keyboard.press("f")
    bench.wait_changed(before, 0.1)

    # a digit in the sheet is a weight, not a station; all cells at once; the first row filled down
    panel.get_by_role("button", name="Sheet", exact=True).click()
    grid = page.get_by_role("grid", name="Weights")
    grid.focus()
    page.keyboard.press("5")
    expect(page).to_have_url(re.compile("/weights"))
    page.keyboard.press("Control+a")
    cells = grid.locator("tbody tr[aria-rowindex] td[aria-selected=true]")
    expect(cells).not_to_have_count(0)
    column = grid.locator("tbody tr[aria-rowindex]").locator("td >> nth=0")
    first = column.first.inner_text()
    page.keyboard.press("Control+d")
    expect(page.locator(".top")).to_contain_text("rev 2")
    expect(column.first).to_have_text(first)
    assert set(column.all_inner_texts()) == {first}

    # how far colours go can be said
    page.get_by_role("combobox", name="What is coloured").click()
    page.locator(".ant-select-item-option", has_text="Stretch").click()
    top = page.get_by_role("textbox", name="Full colour from, number")
    top.fill("3")
    top.press("Enter")
    page.get_by_role("button", name="As it suits").click()
    expect(page.get_by_role("button", name="As it suits")).to_have_count(0)


def test_a_pointer_meets_the_landmark_in_front(page, opened):
    bench = opened("Maren", "landmarks")
    page.locator(".panel-head").get_by_text("Landmarks", exact=True).last.click()
    expect(page.locator(".dot-mark")).not_to_have_count(0)
    bench.look_from("Side")
    expect(page.locator(".dot-mark[data-behind=hidden]")).not_to_have_count(0)
    dots = page.evaluate(MET)
    assert any(d["itself"] for d in dots)
    for dot in dots:
        assert not (dot["itself"] and dot["behind"] == "hidden")
        assert dot["met"] == -1 or dot["met"] >= dot["depth"] or dot["behind"] == "hidden"


@pytest.mark.parametrize("where", ["binding", None])
def test_files_let_go_anywhere_go_to_the_shelf(page, server, opened, where):
    if where:
        opened("Hob mended", where)
    else:
        page.goto(server.address + "/")
        expect(page.get_by_role("heading", name="On the shelf")).to_be_visible()
    for name in ("nose.obj", "ear.obj"):  # the second while the first is still on its way
        assert page.evaluate(LET_GO, [name, "v 0 0 0\nf 1 2 3\n"])
    expect(page.get_by_role("heading", name="On the shelf")).to_be_visible()
    for name in ("nose.obj", "ear.obj"):
        expect(page.locator(".ant-message-error").filter(has_text=name)).to_be_visible()
