"""The Lids station through HTTP."""

from __future__ import annotations

import pytest

from tests.server.test_api import post

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
