"""Sweeps through HTTP: asked for, followed, kept, told to be stale, measured only where something changed, and not lost with a server."""

from __future__ import annotations

import time

import psutil
import pytest

from tests.head import Head
from tests.server.conftest import seat
from tests.server.http import edit, get, post
from tests.serving import Server

FEW = ("smile", "pucker", "blink_L", "blink", "jaw_open")


@pytest.fixture(scope="module")
def few(rigged) -> Head:
    return rigged["hob"].with_controls(FEW)


@pytest.fixture
def hob(shelf, few) -> int:
    return seat(few.character, few.store)


def mix(client, who: int, revision: int) -> dict:
    status, found = get(client, f"/api/characters/{who}/mix?revision={revision}")
    assert status == 200
    return found


def test_nothing_is_said_of_what_was_not_swept(client, hob):
    assert mix(client, hob, 1) == {"report": None, "revision": None, "fresh": False, "job": None}


def test_a_sweep_is_a_job_and_its_report_is_there_for_everybody(client, hob):
    status, job = post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    assert (status, job["state"], job["title"]) == (202, "done", "Sweeping all expressions")
    found = mix(client, hob, 1)
    assert found["fresh"]
    assert found["revision"] == 1
    report = found["report"]
    assert [e["name"] for e in report["ends"]] == ["jaw_open", "blink_L", "blink", "smile", "pucker"]
    assert report["pairs"] > 8
    assert {("blink_L", "blink")} == {tuple(a["ends"]) for a in report["apart"]}
    assert {(tuple(f["ends"]), f["kind"]) for f in report["findings"]} >= {(("smile", "pucker"), "self")}


def test_after_an_edit_the_last_report_is_told_to_be_of_before_and_only_what_changed_is_measured(client, hob, monkeypatch):
    from tightseam.mix.meter import MixMeter

    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    assert edit(client, hob, 1, "shape.mute", names=["smile"], muted=True)[0] == 200
    stale = mix(client, hob, 2)
    assert (stale["fresh"], stale["revision"]) == (False, 1)
    measured = []
    together, judged = MixMeter.together, MixMeter.judged
    monkeypatch.setattr(MixMeter, "together", lambda self, known, *more: measured.append(known.cell) or together(self, known, *more))
    monkeypatch.setattr(MixMeter, "judged", lambda self, known, *more: measured.append(known.cell) or judged(self, known, *more))
    post(client, f"/api/characters/{hob}/sweep", {"revision": 2})
    assert mix(client, hob, 2)["fresh"]
    assert not [cell for cell in measured if len(cell.ends) == 2 and "smile" not in cell.ends]


def test_what_is_wrong_in_a_request_is_said(client, hob):
    assert get(client, f"/api/characters/{hob}/mix?revision=7")[0] == 404
    assert post(client, f"/api/characters/{hob}/sweep", {"revision": 99})[0] == 404
    assert post(client, f"/api/characters/{hob}/sweep", {"revision": 10**30})[0] in (404, 422)


def test_every_frame_of_a_take_is_measured_on_demand_and_kept(client, hob):
    wanted = {"revision": 1, "take": "laugh", "mapping": {"Smile": "smile", "Squint": "pucker"}, "smooth": 0.08}
    status, found = post(client, f"/api/characters/{hob}/takes/measured", wanted)
    assert (status, found["frames"]) == (200, 240)
    assert {(f["kind"], tuple(f["values"])) for f in found["faults"]} == {("self", ("smile", "pucker"))}
    assert post(client, f"/api/characters/{hob}/takes/measured", wanted)[1] == found
    assert post(client, f"/api/characters/{hob}/takes/measured", wanted | {"take": "cry"})[0] == 400
    assert post(client, f"/api/characters/{hob}/takes/measured", wanted | {"mapping": {"Smile": "nobody"}})[0] == 400
    assert post(client, f"/api/characters/{hob}/takes/measured", wanted | {"mapping": {}})[1]["faults"] == []


@pytest.fixture(scope="module")
def hob_file(few) -> bytes:
    from tightseam.exchange.character_file import write_character

    return write_character(few.character, few.store)


def test_a_sweep_goes_on_where_it_was_when_the_server_was_killed(tmp_path, hob_file):
    server = Server(tmp_path / "data", TIGHT_SEAM_PROCESSES="2")
    server.start()
    try:
        who = server.take_in("hob.seam", hob_file)["id"]
        status, job = server.ask(f"characters/{who}/sweep", {"revision": 1})
        assert status == 202
        deadline = time.monotonic() + 120
        while server.ask(f"jobs/{job['id']}")[1]["share"] == 0:
            assert time.monotonic() < deadline
        server.kill()
        server.start()
        going = server.ask(f"characters/{who}/mix?revision=1")[1]["job"] or job
        assert going["id"] == job["id"]
        assert server.settled(server.ask(f"jobs/{job['id']}")[1])["state"] == "done"
        assert server.ask(f"characters/{who}/mix?revision=1")[1]["fresh"]
    finally:
        server.kill()


def test_what_is_intended_counts_no_more_and_needs_no_new_sweep(client, hob):
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    report = mix(client, hob, 1)["report"]
    count = get(client, f"/api/characters/{hob}")[1]["mixed"]
    assert count == len(report["causes"]) > 0
    status, meant = get(client, f"/api/characters/{hob}/mix/as-intended?revision=1&cause=0")
    assert status == 200
    status, head = edit(client, hob, 1, "mix.intend", **(meant | {"reason": "A habit of his."}))
    assert (status, head["mixed"]) == (200, count - 1)
    assert head["intended"] == ["A habit of his."]
    told = mix(client, hob, 2)
    assert told["fresh"]
    assert told["report"]["causes"][-1]["intended"] == 0
    assert [f["intended"] for f in told["report"]["findings"]].count(0) == len(report["causes"][0]["findings"])
    again = edit(client, hob, 2, "mix.count_again", number=0)[1]
    assert (again["mixed"], again["intended"]) == (count, [])
    assert get(client, f"/api/characters/{hob}/mix/as-intended?revision=1&cause=99")[0] == 400
    assert get(client, f"/api/characters/{hob}/mix/as-intended?revision=9&cause=0")[0] == 404


def test_two_revisions_are_told_against_one_another_and_printed_side_by_side(client, hob):
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    edit(client, hob, 1, "shape.mute", names=["smile"], muted=True)
    status, refused = get(client, f"/api/characters/{hob}/mix/since/1?revision=2")
    assert (status, refused["message"]) == (400, "Revision 2 was not swept. Sweep it at Mix, then ask again.")
    post(client, f"/api/characters/{hob}/sweep", {"revision": 2})
    changes = get(client, f"/api/characters/{hob}/mix/since/1?revision=2")[1]
    assert {(c["how"], "smile" in c["finding"]["ends"]) for c in changes} == {("gone", True)}
    back = get(client, f"/api/characters/{hob}/mix/since/2?revision=1")[1]
    assert {c["how"] for c in back} == {"new"}
    assert len(back) == len(changes)
    page = client.get(f"/api/characters/{hob}/export.mix?before=1").content.decode()
    assert page.count('<svg class="board"') == 2
    assert "<h2>Before</h2>" in page
    assert client.get(f"/api/characters/{hob}/export.mix").content.decode().count('<svg class="board"') == 1
    assert get(client, f"/api/characters/{hob}/mix/since/7?revision=2")[0] == 404


def test_what_is_only_used_with_another_has_to_be_swept_anew(client, hob):
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    status, head = edit(client, hob, 1, "mix.set_need", control="pucker", other="jaw_open", value=0.5)
    assert (status, head["mix"]["needs"][0]["control"]) == (200, "pucker")
    assert not mix(client, hob, 2)["fresh"]
    post(client, f"/api/characters/{hob}/sweep", {"revision": 2})
    ends = {e["name"]: e["base"] for e in mix(client, hob, 2)["report"]["ends"]}
    assert ends["pucker"].startswith("Jaw open at")
    assert edit(client, hob, 2, "mix.set_need", control="pucker", other="nobody", value=0.5)[0] == 400


def test_a_cap_is_listed_its_vertices_are_picked_and_the_frame_is_held(client, hob):
    status, head = edit(client, hob, 1, "cap.add", part="skin", vertices=[900], cm=0.2, fades=1.0)
    assert status == 200
    (cap,) = head["caps"]
    assert (cap["label"], cap["part"], cap["cm"], cap["soft"]) == ("Cap on Skin", "skin", 0.2, 0.1)
    picked = {"revision": 2, "part": "skin", "vertices": [], "how": "cap", "cap": cap["name"]}
    found = post(client, f"/api/characters/{hob}/select", picked)[1]["vertices"]
    assert (900 in found, len(found)) == (True, cap["vertices"])
    assert post(client, f"/api/characters/{hob}/select", picked | {"cap": "nobody"})[0] == 400
    for wrong in ({"part": "nose"}, {"vertices": [10**8]}, {"cm": -1}, {"soft": 1e9}):
        assert edit(client, hob, 2, "cap.add", **({"part": "skin", "vertices": [1]} | wrong))[0] in (400, 422)


def test_nothing_is_left_running_when_a_server_that_sweeps_is_ended(tmp_path, hob_file):
    server = Server(tmp_path / "data", TIGHT_SEAM_PROCESSES="2")
    server.start()
    try:
        who = server.take_in("hob.seam", hob_file)["id"]
        server.ask(f"characters/{who}/sweep", {"revision": 1})
        deadline, left = time.monotonic() + 120, set()
        while len(left) < 4:  # what is quick, what lasts, what sweeps, and who measures for that
            assert time.monotonic() < deadline
            left = set(psutil.Process(server.process.pid).children(recursive=True))
        server.process.terminate()
        server.process.wait(30)
        assert not psutil.wait_procs(left, timeout=30)[1]
    finally:
        server.kill()


def cause_of_a_fold(client, who: int) -> int:
    """The number of the cause at revision 1 by which the skin runs into itself."""
    report = mix(client, who, 1)["report"]
    return next(k for k, c in enumerate(report["causes"]) if {report["findings"][n]["kind"] for n in c["findings"]} == {"self"})


def test_ways_to_put_a_cause_right_are_found_kept_and_made_by_one_edit(client, hob):
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    cause = cause_of_a_fold(client, hob)
    status, found = post(client, f"/api/characters/{hob}/mix/mendings", {"revision": 1, "cause": cause})
    assert status == 200
    assert found
    for way in found:
        assert way["left"] <= way["found"] / 2
        assert way["clean"] == (way["left"] == 0 and way["harms"] == 0)
        assert way["harms"] >= sum(e["how"] in ("new", "worse") for e in way["effects"])
    assert post(client, f"/api/characters/{hob}/mix/mendings", {"revision": 1, "cause": cause})[1] == found
    status, made = edit(client, hob, 1, found[0]["edit"], **found[0]["params"])
    assert status == 200
    assert made["revision"]["number"] == 2


def test_what_cannot_be_put_right_is_said(client, hob):
    asked = f"/api/characters/{hob}/mix/mendings"
    status, said = post(client, asked, {"revision": 1, "cause": 0})
    assert (status, said["message"]) == (400, "Revision 1 was not swept. Sweep it at Mix, then ask again.")
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    for cause in (-1, 10**6, 10**30):
        assert post(client, asked, {"revision": 1, "cause": cause})[0] in (400, 422)


def test_all_causes_are_put_right_and_the_board_has_it_once_that_is_made(client, hob):
    """What was measured in the draft is the report of the revision that these repairs make."""
    asked = f"/api/characters/{hob}/mix/repair-all"
    status, said = post(client, asked, {"revision": 1})
    assert (status, said["message"]) == (400, "Revision 1 was not swept. Sweep it at Mix, then ask again.")
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    status, found = post(client, asked, {"revision": 1})
    assert status == 200
    assert found["repairs"]
    assert found["causes_after"] < found["causes_before"]
    assert found["worse"] == []
    assert edit(client, hob, 1, "edits.together", steps=found["steps"])[0] == 200
    now = client.get(f"/api/characters/{hob}/mix", {"revision": 2}).json()
    assert now["fresh"]
    assert len(now["report"]["causes"]) == found["causes_after"]
    assert len(now["report"]["findings"]) == found["findings_after"]


def test_ways_are_found_though_another_revision_was_swept_meanwhile(client, hob):
    """The report is kept longer than the cells it tells of: those are measured again."""
    post(client, f"/api/characters/{hob}/sweep", {"revision": 1})
    edit(client, hob, 1, "shape.mute", names=["smile"], muted=True)
    post(client, f"/api/characters/{hob}/sweep", {"revision": 2})
    asked = {"revision": 1, "cause": cause_of_a_fold(client, hob)}
    status, found = post(client, f"/api/characters/{hob}/mix/mendings", asked)
    assert status == 200
    assert found
    assert all(way["left"] <= way["found"] / 2 for way in found)
