"""A rigger's first five minutes, by mouse and keyboard."""

from __future__ import annotations

import json
import re
import urllib.request

from playwright.sync_api import expect

from tests.browser.bench_page import Bench, changed

LAG = re.compile(r"18\.\d")


def test_the_teeth_that_stay_behind_are_found_explained_and_given_to_the_jaw(shelf):
    page, bench = shelf, Bench(shelf)
    card = page.locator(".shelf-card", has_text="Maren")
    expect(card).to_contain_text("Tongue stays behind the tongue bones")
    expect(card.get_by_alt_text("Portrait of Maren")).to_be_visible()
    card.click()
    bench.wait_drawn()
    bench.wait_measured()
    expect(page.get_by_label("Stations").get_by_role("button", name="Binding")).to_contain_text("16")  # 13 of weights, 3 of seams

    # the seam says how far they stay behind; a click goes to its worst pose and to the place
    row = bench.seam("follow_teeth_lower")
    expect(row).to_contain_text(LAG)
    row.click()
    bench.wait_values(jaw_open=1)
    expect(page).to_have_url(re.compile(r"/binding\?pose=jaw_open&seam=follow_teeth_lower"))
    callout = page.locator(".callout")
    expect(callout).to_contain_text("Lower teeth stay behind the jaw")
    expect(callout).to_contain_text(re.compile(r"18\.\d mm behind in Jaw open\. Upper lip middle carries 50\s?% of it and holds it back"))

    # with the teeth alone on the stage, a click at the end of the thread lists what holds it back, a bone of the lip on top
    expect(page.get_by_label("Carrier of Teeth lower").locator(".finding")).to_contain_text("Lower teeth stay behind the jaw")
    bench.chip("Parts").click()
    page.locator(".parts-list li", has_text="Teeth lower").get_by_role("button", name="Alone").click()
    bench.wait_camera()
    page.mouse.click(*bench.thread_end())
    pull = page.get_by_label("Pull list")
    expect(pull).to_contain_text(re.compile("Teeth lower"))
    expect(pull).to_contain_text("What holds it back")
    held = pull.locator("h3", has_text="What holds it back").locator("xpath=following-sibling::div[1]")
    expect(held.locator(".pull-row").first).to_contain_text("Upper lip middle")

    page.keyboard.press("Escape")

    # the repair is one click; every gauge follows
    page.get_by_role("button", name="Bind Lower teeth to Teeth on jaw").click()
    expect(page.locator(".top")).to_contain_text("Gave Teeth lower to Teeth on jaw")
    expect(row).to_contain_text("0.00")
    expect(page.get_by_label("Carrier of Teeth lower").locator(".ant-select").first).to_contain_text("Teeth on jaw")
    bench.wait_measured()
    expect(page.get_by_label("Side effects")).to_contain_text(re.compile(r"Better: Lower teeth · jaw in Jaw open, 18\.\d+ → 0\.00 mm"))
    expect(page.get_by_label("Stations").get_by_role("button", name="Binding")).to_contain_text("14")

    # undo and redo, by key
    bench.stage.focus()
    page.keyboard.press("Control+z")
    expect(row).to_contain_text(LAG)
    page.keyboard.press("Control+Shift+z")
    expect(row).to_contain_text("0.00")
    expect(page.get_by_label("Redo")).to_be_disabled()

    # pressed quicker than the answers come, none is lost
    for keys in ("Control+z", "Control+Shift+z", "Control+z"):
        page.keyboard.press(keys)
    expect(row).to_contain_text(LAG)
    expect(page.get_by_label("Undo")).to_be_disabled()
    expect(page.get_by_label("Redo")).to_be_enabled()
    expect(page.locator(".ant-message-error")).to_have_count(0)


def test_two_expressions_mix_under_the_hand_and_on_the_keys(page, opened):
    bench = opened("Maren", "binding")
    bench.wait_thumbnails()
    bench.chip("Front").click()
    bench.pose("neutral").click()
    bench.wait_values()
    still = bench.picture()
    bench.drag_slider("Blink L", 1.0)
    bench.drag_slider("Blink R", 1.0)
    bench.drag_slider("Smile", 0.8)
    expect(page.get_by_label("Smile, number")).to_have_value(re.compile(r"0\.[78]\d"))
    value = float(page.get_by_label("Smile, number").input_value())
    bench.wait_values(blink_L=1, blink_R=1, smile=value)
    mixed = bench.picture()
    assert changed(still, mixed) > 0.01
    assert "pose=" not in page.url

    # held N shows the neutral, letting go brings the mix back
    bench.stage.focus()
    page.keyboard.down("n")
    bench.wait_values()
    page.keyboard.up("n")
    bench.wait_values(blink_L=1, blink_R=1, smile=value)

    # typed numbers: a wrong one is kept and explained, a right one with its unit is taken
    field = page.get_by_label("Smile, number")
    field.fill("7")
    expect(page.get_by_role("tooltip", name="From 0.00 to 1.00.")).to_be_visible()
    field.press("Enter")
    expect(field).to_have_value("7")
    field.fill("40 %")
    field.press("Enter")
    bench.wait_values(blink_L=1, blink_R=1, smile=0.4)

    # K goes to the next pose of the strip, the strength slider scales it
    bench.open_poses()
    bench.pose("smile").click()
    bench.stage.focus()
    page.keyboard.press("k")
    expect(bench.pose("smile_blink")).to_have_attribute("aria-current", "true")
    bench.wait_values(smile=1, blink=1)
    page.reload()
    bench.wait_drawn()
    expect(bench.pose("smile_blink")).to_have_attribute("aria-current", "true")


def test_the_stage_shows_wires_weights_bones_and_single_parts(page, opened):
    bench = opened("Maren", "binding")
    bench.wait_thumbnails()
    bench.chip("Front").click()
    bench.wait_camera()
    plain = bench.picture()
    for label in ("Wires", "Weights", "Bones", "Glass"):
        bench.chip(label).click()
        expect(bench.chip(label)).to_have_attribute("aria-pressed", "true")
        bench.wait_changed(plain)
        bench.chip(label).click()
    expect(page.get_by_test_id("hover")).to_contain_text("True mesh")
    box = bench.stage.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.62)
    expect(page.get_by_test_id("hover")).to_contain_text(re.compile(r"skin vertex \d+"))

    # left against right: the right eye stays behind, and its lids with it; a click shows the pose and colours it by how far
    uneven = page.get_by_role("group", name="Skin").get_by_role("button")
    expect(uneven).to_contain_text(re.compile(r"Left against right\s*3\.\d\d"))
    uneven.click()
    expect(page.get_by_role("group", name="Legend")).to_contain_text("Left against right in this pose")

    bench.chip("Parts").click()
    page.locator(".parts-list li", has_text="Hair").get_by_role("button", name="Alone").click()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.28)
    expect(page.get_by_test_id("hover")).to_contain_text("hair")

    # whoever comes back finds the pictures of the poses there: no pose is asked for but the one on the stage
    posed = []
    page.on("request", lambda request: posed.append(request.post_data_json["values"]) if request.url.endswith("/frame") else None)
    page.reload()
    bench.wait_drawn()
    bench.wait_thumbnails()
    bench.wait_measured()
    assert all(values == posed[0] for values in posed)


def test_a_rig_goes_out_as_glb_and_comes_back_in(shelf, own_server, tmp_path):
    page, bench = shelf, Bench(shelf)
    page.locator(".shelf-card", has_text="Hob").click()
    bench.wait_drawn()
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as waiting:
        page.get_by_text("GLB with range of motion").click()
    glb = tmp_path / "hob.glb"
    waiting.value.save_as(glb)
    said = page.get_by_role("dialog", name="What bones and shapes leave out of this GLB")
    expect(said.get_by_role("row").filter(has_text="Look down")).to_contain_text(re.compile(r"\d\.\d\d"))
    said.get_by_role("button", name="Close").last.click()
    # a rig that receivers would not take is refused in words, and says what to do
    page.goto(own_server.address)
    page.locator(".shelf-card", has_text="Maren").click()
    bench.wait_drawn()
    page.get_by_role("button", name="Export").click()
    page.get_by_text("GLB with range of motion").click()
    expect(page.get_by_text(re.compile(r"vertices of skin have more than 4 influences.*Cap them first"))).to_be_visible()
    page.goto(own_server.address)
    cards = page.locator(".shelf-card")
    expect(cards.first).to_be_visible()
    before = cards.count()
    page.get_by_label("Files to add").set_input_files(glb)
    expect(page.get_by_role("dialog")).to_contain_text("Hob is on the shelf")
    page.get_by_role("button", name="Stay here").click()
    expect(cards).to_have_count(before + 1)
    torn = tmp_path / "torn.glb"
    torn.write_bytes(glb.read_bytes()[:5000])
    page.get_by_label("Files to add").set_input_files(torn)
    expect(page.get_by_text(re.compile("torn.glb: .*cut off"))).to_be_visible()
    expect(cards).to_have_count(before + 1)
    # the second Hob goes again, comes back, and goes
    taken = cards.filter(has_text="Hob").last
    taken.get_by_role("button", name="Take Hob off the shelf").click()
    expect(cards).to_have_count(before)
    off = page.get_by_role("region", name="Taken off")
    off.get_by_role("button", name="Put Hob back").click()
    expect(cards).to_have_count(before + 1)
    expect(off).to_have_count(0)


def test_an_edit_that_comes_too_late_is_refused_and_the_newer_state_shown(page, server, opened):
    bench = opened("Maren", "binding")
    address = f"{server.address}/api/characters/{bench.character}"
    page.locator(".part-row", has_text="Hair").click()
    page.route("**/head", lambda route: route.abort())  # no news come through meanwhile
    base = json.load(urllib.request.urlopen(address))["revision"]["number"]
    step = {"edit": "control.set_range", "params": {"control": "head_turn", "low": -40, "high": 40, "rest": 0}}
    urllib.request.urlopen(
        urllib.request.Request(
            f"{address}/edits",
            json.dumps({"base": base, "step": step}).encode(),
            {"Content-Type": "application/json"},
        )
    )
    bone = page.get_by_role("combobox", name="Bone")
    bone.focus()
    bone.press("Enter")
    bone.press("ArrowUp")
    bone.press("Enter")
    expect(page.get_by_label("Carrier of Hair").locator(".ant-select").first).to_contain_text("Neck 2")
    page.get_by_role("button", name="Bind", exact=True).click()
    expect(page.get_by_text(re.compile("has changed since: Set Head turn.*Look again"))).to_be_visible()
    expect(page.locator(".top")).to_contain_text(f"rev {base + 1} · Set Head turn to go from -40 to 40°")


def test_what_offends_a_receiver_is_told_shown_and_repaired_and_keys_are_listed(page, opened, tmp_path):
    bench = opened("Maren", "binding")
    bench.stage.focus()
    page.keyboard.press("0")
    panel = page.locator(".right")
    expect(panel.locator("h2")).to_have_text("Hand-off")
    offence = panel.locator(".finding", has_text="Too many influences on Skin")
    expect(offence).to_contain_text("11 vertices have up to")
    offence.get_by_role("button", name="Look").click()
    bench.stage.focus()
    page.keyboard.press("4")  # the selection goes along to where weights are worked on
    expect(panel.get_by_role("status").first).to_have_text("11 vertices of Skin")
    waiting = page.get_by_role("navigation", name="Stations").get_by_role("button", name="Hand-off").locator("b")
    before = int(waiting.inner_text())  # what offends is told beside all other work
    page.keyboard.press("0")
    offence.get_by_role("button", name="Repair").click()
    expect(page.locator(".top")).to_contain_text("4 influences at most")
    expect(offence).to_have_count(0)
    page.keyboard.press("4")
    expect(waiting).to_have_text(str(before - 1))
    page.keyboard.press("0")
    own, torn = tmp_path / "phone.json", tmp_path / "torn.json"
    own.write_text('{"name": "phone", "label": "Phone", "influences": 1}')
    torn.write_text('{"name": "phone"')
    page.get_by_label("Profile of a receiver").set_input_files(own)
    expect(panel.locator(".finding", has_text="Too many influences on Skin")).to_contain_text("Phone takes 1 and drops the rest")
    page.get_by_label("Profile of a receiver").set_input_files(torn)
    expect(panel).to_contain_text("torn.json is no JSON")
    page.keyboard.press("Shift+?")
    expect(page.get_by_role("dialog")).to_contain_text("Pose before, pose after")


def test_a_package_is_made_and_what_arrives_is_shown_beside_what_was_made(page, opened, tmp_path):
    bench = opened("Maren", "binding")
    page.keyboard.press("0")
    panel = page.locator(".right")
    own = tmp_path / "phone.json"
    own.write_text('{"name": "phone", "label": "Phone", "formats": ["glb"], "tables": false, "resets": {"jaw": [20, 0, 0]}}')
    page.get_by_label("Profile of a receiver").set_input_files(own)
    package = panel.get_by_label("Package")
    package.get_by_role("button", name="Make the package").click()
    expect(package).to_contain_text("Totals are not 1 on Skin")  # nothing is packed that no file takes
    for offence in ("Tongue is bound to a helper", "Totals are not 1 on Skin"):
        panel.locator(".finding", has_text=offence).get_by_role("button", name="Repair").click()
        expect(panel.locator(".finding", has_text=offence)).to_have_count(0)
    package.get_by_role("button", name="Make the package").click()
    table = package.get_by_role("table", name="How far off it arrives")
    expect(table).to_contain_text("Lids and gaze")
    expect(package).to_contain_text("It sets jaw to a rest of its own, 20.0° away.")
    table.get_by_role("row", name="Test poses").get_by_role("button", name="Look").click()
    told = float(table.get_by_role("row", name="Test poses").locator("td.num").first.inner_text())
    off = package.get_by_label("Off in this pose")
    expect(off).to_have_text(re.compile(r"[1-9][0-9.]* mm"))
    assert float(off.inner_text().split()[0]) > told  # the receiver's own rest comes on top of what is baked
    package.get_by_role("button", name="Side by side").click()
    expect(page.get_by_text("what arrives", exact=True)).to_be_visible()
    with page.expect_download() as saved:
        package.get_by_role("button", name="Save it").click()
    assert saved.value.suggested_filename == "Maren package.zip"
    package.get_by_label("Show what arrives").click()
    expect(off).to_have_count(0)
    expect(bench.stage).to_be_visible()
    recipe = panel.get_by_label("Recipe", exact=True)
    with page.expect_download() as cut:
        recipe.get_by_role("button", name="Save the recipe").click()
    page.keyboard.press("Control+z")
    expect(panel.locator(".finding", has_text="Totals are not 1 on Skin")).to_be_visible()
    page.get_by_label("Recipe to make again").set_input_files(cut.value.path())
    steps = recipe.get_by_role("listitem")
    expect(steps).to_have_count(2)
    expect(steps.nth(1)).to_contain_text("Brought totals to 1 on 14 vertices of Skin")
    steps.nth(1).get_by_role("button", name="Make earlier").click()
    expect(steps.nth(0)).to_contain_text("Brought totals to 1 on 14 vertices of Skin")
    steps.nth(1).get_by_role("checkbox").uncheck()
    recipe.get_by_role("button", name="Do these 1").click()
    expect(panel.locator(".finding", has_text="Totals are not 1 on Skin")).to_have_count(0)
