"""Selections and edits of weights through HTTP."""

from __future__ import annotations

import pytest

from tests.server.test_api import post


def select(client, who: int, how: str, vertices: list[int], **more) -> list[int]:
    body = {"revision": 1, "part": "skin", "vertices": vertices, "how": how, **more}
    status, answer = post(client, f"/api/characters/{who}/select", body)
    assert status == 200, answer
    return answer["vertices"]


def test_a_selection_is_changed_and_says_what_carries_it(client, maren):
    jaw = select(client, maren, "weight", [], bone="jaw", low=0.4, high=0.6)
    assert len(jaw) > 20
    assert set(jaw) < set(select(client, maren, "grow", jaw))
    assert sorted(select(client, maren, "across", select(client, maren, "across", jaw))) == sorted(jaw)
    assert len(select(client, maren, "whole", [])) == 3576
    status, found = post(client, f"/api/characters/{maren}/selection", {"revision": 1, "part": "skin", "vertices": jaw})
    assert status == 200
    assert found["count"] == len(jaw)
    assert found["off"] == 0
    carried = {b["bone"]: b for b in found["bones"]}
    assert 0.4 <= carried["jaw"]["mean"] <= 0.6
    assert carried["jaw"]["vertices"] == len(jaw)
    assert found["bones"] == sorted(found["bones"], key=lambda b: -b["mean"])


def test_weights_are_edited_on_a_selection(client, maren):
    jaw = select(client, maren, "weight", [], bone="jaw", low=0.4, high=0.6)
    params = {"part": "skin", "vertices": jaw, "bone": "jaw", "amount": 0.1, "locked": ["neck_2"], "mirror": True}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": {"edit": "weights.add", "params": params}})
    assert status == 200, changed
    assert changed["revision"]["text"] == f"Added 0.1 of Jaw to {len(jaw)} vertices of Skin and the other side"


def test_findings_come_with_their_repairs(client, maren):
    found = client.get(f"/api/characters/{maren}/weights/findings?revision=1").json()
    assert [(f["check"], f["part"], f["bone"]) for f in found] == [("mixed", "eye_R", "head"), ("mixed", "teeth_lower", "head")]
    for number, finding in enumerate(found):
        step = {"edit": finding["edit"], "params": finding["params"]}
        status, answer = post(client, f"/api/characters/{maren}/edits", {"base": number + 1, "step": step})
        assert status == 200, answer
    assert client.get(f"/api/characters/{maren}/weights/findings?revision=3").json() == []


def test_what_an_edit_did_to_all_poses_equals_measuring_them_all(client, maren):
    params = {"part": "tongue", "carrier": "rigid", "bones": ["head"]}
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": {"edit": "binding.set_carrier", "params": params}})[0] == 200
    effects = client.get(f"/api/characters/{maren}/effects?before=1&after=2").json()
    poses = [p["name"] for p in client.get(f"/api/characters/{maren}").json()["poses"]]
    over = []
    for revision in (1, 2):
        reports = [post(client, f"/api/characters/{maren}/measure", {"revision": revision, "pose": p})[1] for p in poses]
        over.append(sum(r["excess"] > 1 for report in reports for r in report["readings"]))
    assert [effects["over_before"], effects["over_after"]] == over
    assert over[1] > over[0]
    assert effects["worse"][0]["seam"] == "follow_tongue"
    assert effects["said"].startswith(f"Over the limit: {over[0]} → {over[1]}. Worse: Tongue · tongue bones in ")
    assert client.get(f"/api/characters/{maren}/effects?before=1&after=9").status_code == 404


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("select", {"revision": 1, "part": "skin", "vertices": [], "how": "grow"}, 400),
        ("select", {"revision": 1, "part": "skin", "vertices": [0], "how": "loop"}, 400),
        ("select", {"revision": 1, "part": "skin", "vertices": [0], "how": "sideways"}, 422),
        ("select", {"revision": 1, "part": "skin", "how": "weight"}, 400),
        ("select", {"revision": 1, "part": "hat", "vertices": [0], "how": "grow"}, 400),
        ("selection", {"revision": 1, "part": "skin", "vertices": [99999]}, 400),
        ("selection", {"revision": 7, "part": "skin", "vertices": [0]}, 404),
    ],
)
def test_what_cannot_be_selected_is_refused_in_words(client, maren, path, body, status):
    answered, refusal = post(client, f"/api/characters/{maren}/{path}", body)
    assert (answered, bool(refusal["message"])) == (status, True)
