"""The Lids station through HTTP."""

from __future__ import annotations

import math

import msgpack
import numpy as np
import pytest

from tests.server.http import HUGE, painted, post

DAB = {"vertex": 5, "place": [0, 0, 0], "tool": "add"}
PAINTING = {"side": "L", "map": "share", "brush": {"radius": 0.4, "strength": 0.5}}
LINE = [{"at": 0, "value": 0.24}, {"at": 0.5, "value": 0.6}, {"at": 1, "value": 0.24}]


def board(client, who: int, **more):
    return post(client, f"/api/characters/{who}/lids/board", {"revision": 1, **more})


def test_the_board_comes_with_the_margins_and_the_line(client, maren):
    status, found = board(client, maren)
    assert status == 200, found
    assert len(found["cells"]) == 60
    left, right = found["eyes"]
    assert (left["side"], right["side"]) == ("L", "R")
    for eye in (left, right):
        assert eye["upper"][0] == pytest.approx(eye["lower"][0], abs=0.05)  # both margins begin in the inner corner
        assert eye["upper"][-1] == pytest.approx(eye["lower"][-1], abs=0.05)
        middle = len(eye["line"]) // 2
        assert eye["lower"][len(eye["lower"]) // 2][1] < eye["line"][middle][1] < eye["upper"][len(eye["upper"]) // 2][1]


def test_a_line_that_is_drawn_is_measured_and_not_stored(client, maren):
    before = board(client, maren)[1]
    status, drawn = board(client, maren, line={"side": "L", "keys": LINE, "mirror": False})
    assert status == 200
    assert [k["value"] for k in drawn["eyes"][0]["keys"]] == [0.24, 0.6, 0.24]
    assert drawn["eyes"][1] == before["eyes"][1]
    assert drawn["cells"] != before["cells"]
    assert board(client, maren)[1] == before
    params = {"side": "L", "keys": LINE, "mirror": True}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": {"edit": "lids.set_line", "params": params}})
    assert status == 200
    assert changed["revision"]["text"] == "Set the closed line of both eyes"


@pytest.mark.parametrize(
    ("more", "status"),
    [
        ({"line": {"side": "L", "keys": [{"at": 0.5, "value": 9}]}}, 400),
        ({"line": {"side": "C", "keys": LINE}}, 400),
        ({"line": {"side": "L", "keys": []}}, 422),
        ({"values": {"smile": 7}}, 400),
    ],
)
def test_what_cannot_be_measured_is_refused_in_words(client, maren, more, status):
    found, answer = board(client, maren, **more)
    assert found == status, answer
    assert answer["message"]


def test_what_closes_a_lid_stands_in_the_pull_list(client, maren):
    found = board(client, maren)[1]
    vertex = found["cells"][25]["vertex"]
    body = {"revision": 1, "part": "skin", "vertices": [vertex], "values": {"blink": 1}}
    status, answer = post(client, f"/api/characters/{maren}/pull", body)
    assert status == 200, answer
    assert "lids" in {row["kind"] for row in answer["pull"]}


def test_a_follow_that_is_drawn_is_measured_and_not_stored(client, maren):
    before = board(client, maren)[1]
    follow = {"height": [{"at": -20, "value": 0.9}, {"at": 0, "value": 0}], "across": [], "slide": []}
    status, drawn = board(client, maren, follow={"side": "L", "lid": "upper", "follow": follow, "mirror": False})
    assert status == 200, drawn
    curve = dict(drawn["eyes"][0]["follow"]["upper"]["height"])
    assert curve[-20] == pytest.approx(0.9)
    assert curve[30] == pytest.approx(0, abs=1e-9)
    assert drawn["eyes"][1]["follow"] == before["eyes"][1]["follow"]
    assert board(client, maren)[1]["eyes"] == before["eyes"]


def test_the_exact_board_and_the_quick_one_agree(client, maren):
    quick, exact = (board(client, maren, exact=exact)[1]["cells"] for exact in (False, True))
    assert max(abs(a["overlap"] - b["overlap"]) for a, b in zip(quick, exact, strict=True)) < 0.03
    assert max(abs(a["gap"] - b["gap"]) for a, b in zip(quick, exact, strict=True)) < 0.03


def test_a_section_lies_across_the_lids_and_is_cut_through_the_eye(client, maren, faulty):
    body = {"revision": 1, "side": "L", "at": 0.5, "values": {"blink": 0.5}}
    status, cut = post(client, f"/api/characters/{maren}/lids/section", body)
    assert status == 200, cut
    ring = max(cut["eye"], key=len)
    assert ring[0] == ring[-1]
    eye = 10 * (faulty.rest("eye_L") - faulty.evaluator.rig.lids[0].eye.centre)
    reach = [math.hypot(*p) for p in ring]
    assert max(reach) <= np.linalg.norm(eye, axis=1).max() + 0.01  # mm
    assert max(reach) > 0.9 * np.linalg.norm(eye, axis=1).min()
    assert 0 <= cut["clearance"] < 0.6
    assert len(cut["skin"]) >= 1
    for wrong, status in (({"at": 2}, 422), ({"side": "C"}, 400)):
        assert post(client, f"/api/characters/{maren}/lids/section", body | wrong)[0] == status


def test_a_stroke_on_a_map_is_shown_as_it_is_stored(client, maren, faulty):
    pair = faulty.character.lids[0]
    vertex = int(faulty.store.get(pair.upper_margin)[8])
    dab = {"vertex": vertex, "place": faulty.rest("skin")[vertex].tolist(), "tool": "take"}
    painting = {"side": "L", "map": "share", "brush": {"radius": 0.4, "strength": 0.5}}
    body = {"revision": 1, "token": "on a map of lids", "painting": painting, "first": 0, "dabs": [dab]}
    answer = client.post(f"/api/characters/{maren}/paint", body, content_type="application/json")
    assert answer.status_code == 200, answer.content
    shown = painted(answer)
    step = {"edit": "lids.paint_map", "params": {"painting": painting, "dabs": [dab]}}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})
    assert status == 200, changed
    assert changed["revision"]["text"] == "Took away lid share of eye L"
    body = {"revision": 2, "map_of": {"side": "L", "map": "share"}}
    frame = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, content_type="application/json").content)
    own = np.frombuffer(frame["weights"]["skin"]["own"], np.float32)
    assert own[shown["vertices"]] == pytest.approx(shown["own"], abs=1e-6)
    assert own[vertex] == pytest.approx(0.5)
    eye = np.frombuffer(frame["weights"]["eye_L"]["own"], np.float32)
    assert not eye.any()


def test_lids_are_found_wrong_and_a_repair_is_tried(client, maren, faulty):
    pair = faulty.character.lids[0]
    few = faulty.store.get(pair.upper_margin)[6:10].tolist()
    assert client.get(f"/api/characters/{maren}/findings/lids?revision=1").json() == []
    step = {"edit": "lids.set_map", "params": {"side": "L", "map": "share", "vertices": few, "value": 0.3}}
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})[0] == 200
    found = client.get(f"/api/characters/{maren}/findings/lids?revision=2").json()
    assert found[0]["kind"] == "short"
    repair = {key: found[0]["repairs"][0][key] for key in ("edit", "params")}
    status, answer = post(client, f"/api/characters/{maren}/try", {"base": 2, "step": repair})
    assert status == 200, answer
    tried = answer["tried"]
    assert (tried["station"], tried["before"], tried["after"]) == ("lids", len(found), 0)
    assert tried["effects"]["worse"] == []


def test_stretch_is_shown_as_a_colour(client, maren):
    body = {"revision": 1, "values": {"blink": 1}, "tint": "stretch"}
    tint = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, content_type="application/json").content)["tint"]
    skin = np.frombuffer(tint["skin"], np.float32)
    assert 80 < skin.max() < 250
    assert np.frombuffer(tint["teeth_upper"], np.float32).max() < 1e-2  # hard parts keep their shape


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("edits", {"base": 1, "step": {"edit": "lids.set_map", "params": {"side": "L", "map": "share", "vertices": [HUGE], "value": 1}}}),
        ("edits", {"base": 1, "step": {"edit": "lids.pick_margins", "params": {"side": "L", "vertices": [-HUGE, 1]}}}),
        ("edits", {"base": 1, "step": {"edit": "lids.drive", "params": {"side": "L", "driver": {"kind": "shapes", "between": HUGE}}}}),
        ("paint", {"revision": 1, "token": "an absurd one", "painting": PAINTING | {"only": [HUGE]}, "first": 0, "dabs": [DAB]}),
        ("paint", {"revision": 1, "token": "absurd as well", "painting": PAINTING, "first": 0, "dabs": [DAB | {"vertex": HUGE}]}),
        ("lids/section", {"revision": 1, "side": "L", "at": 1e300}),
        ("lids/board", {"revision": HUGE}),
        ("frame", {"revision": 1, "map_of": {"side": "C", "map": "share"}}),
    ],
)
def test_absurd_requests_about_lids_are_refused_without_a_crash(client, maren, path, body):
    status, answer = post(client, f"/api/characters/{maren}/{path}", body)
    assert 400 <= status < 500
    assert answer["message"]
