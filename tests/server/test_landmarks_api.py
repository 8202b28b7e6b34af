"""Landmarks and bones through HTTP: what is found, what is placed, bones built, posed and kept."""

from __future__ import annotations

import msgpack
import numpy as np
import pytest

from tests.server.http import post


def edit(client, who: int, base: int, name: str, params: dict) -> dict:
    status, answer = post(client, f"/api/characters/{who}/edits", {"base": base, "step": {"edit": name, "params": params}})
    assert status == 200, answer
    return answer


def test_every_landmark_says_where_it_belongs_and_where_it_is_found(client, pim):
    found = client.get(f"/api/characters/{pim}/landmarks?revision=1").json()
    marks = {m["name"]: m for m in found["marks"]}
    assert len(marks) == 46
    assert all(m["placed"] is None and m["found"] for m in marks.values())
    assert marks["eye_centre_L"]["twin"] == "eye_centre_R"
    assert marks["jaw_hinge_L"]["lies"] == "inside"
    assert found["middle"][1] == pytest.approx([1, 0, 0], abs=0.01)
    after = edit(client, pim, 1, "landmark.suggest", {})
    assert len(after["landmarks"]) == 46
    placed = client.get(f"/api/characters/{pim}/landmarks?revision=2").json()["marks"]
    assert all(m["placed"]["sure"] < 1 for m in placed)


def test_a_section_from_the_side_goes_through_the_landmark(client, pim):
    answer = client.get(f"/api/characters/{pim}/landmarks/tongue_tip/cut?revision=1")
    assert answer.status_code == 400
    assert "not placed yet" in answer.json()["message"]
    edit(client, pim, 1, "landmark.suggest", {})
    cut = client.get(f"/api/characters/{pim}/landmarks/tongue_tip/cut?revision=2").json()
    assert {"skin", "tongue"} <= {line["kind"] for line in cut["lines"]}
    tongue = np.concatenate([line["points"] for line in cut["lines"] if line["kind"] == "tongue"])
    assert np.abs(tongue[:, 0]).min() < 1.0  # the tip itself
    assert np.allclose([cut["forward"], cut["up"]], [[0, 0, 1], [0, 1, 0]], atol=0.03)
    assert client.get(f"/api/characters/{pim}/landmarks/third_eye/cut?revision=2").status_code == 404


def test_bones_are_built_turned_and_kept(client, pim):
    edit(client, pim, 1, "landmark.suggest", {})
    built = edit(client, pim, 2, "bones.build", {"choices": {"face": "bones"}, "bind": True})
    assert built["skeleton"]["face"] == "bones"
    assert {b["name"] for b in built["bones"]} >= {"jaw", "lid_upper_1_L", "lip_upper_middle"}
    assert client.get(f"/api/characters/{pim}/findings/bones?revision=3").json() == []
    asked = {"revision": 3, "values": {"jaw.turn_x": 20}, "handles": True}
    answer = client.post(f"/api/characters/{pim}/frame", asked, content_type="application/json")
    frame = msgpack.unpackb(answer.content)
    handles = np.frombuffer(frame["handles"], np.float32).reshape(len(built["bones"]), 2, 3, 3)
    assert np.allclose(np.linalg.norm(handles, axis=3), 1, atol=1e-5)
    status, refusal = post(client, f"/api/characters/{pim}/frame", {"revision": 3, "values": {"jaw.turn_x": 90}})
    assert (status, refusal["message"]) == (400, "Jaw, turned about its x, goes from -4 to 35°; 90 is out of range.")
    kept = edit(client, pim, 3, "pose.keep", {"label": "Open", "values": {"jaw.turn_x": 20}})
    assert kept["poses"] == [{"name": "open", "label": "Open", "values": {"jaw.turn_x": 20}, "closes": [], "hidden": False}]


def test_what_is_wrong_with_a_bone_comes_with_its_repair(client, maren):
    moved = {"bone": "eye_L", "base": [3.15, 20.5, 5.15], "mirror": False}
    edit(client, maren, 1, "bone.place", moved)
    found = client.get(f"/api/characters/{maren}/findings/bones?revision=2").json()
    assert [(f["kind"], f["about"]) for f in found] == [("eye_centre", "eye_L"), ("twins", "eye_L")]
    edit(client, maren, 2, found[0]["repairs"][0]["edit"], found[0]["repairs"][0]["params"])
    assert client.get(f"/api/characters/{maren}/findings/bones?revision=3").json() == []


@pytest.mark.parametrize(
    ("name", "params", "status"),
    [
        ("landmark.place", {"name": "nose_tip", "point": [0, 0]}, 422),
        ("landmark.place", {"name": "nose_tip", "point": [0, 0, 1e12]}, 422),
        ("landmark.place", {"name": "tail", "point": [0, 0, 0]}, 400),
        ("bones.build", {"choices": {"lids": 1000}}, 422),
        ("bones.build", {}, 400),
        ("rig.start", {}, 400),
        ("bone.place", {"bone": "nobody"}, 400),
        ("pose.keep", {"label": "x", "values": {"jaw.turn_x": 3}}, 400),
    ],
)
def test_edits_that_do_not_fit_are_refused_in_words(client, pim, name, params, status):
    answered, refusal = post(client, f"/api/characters/{pim}/edits", {"base": 1, "step": {"edit": name, "params": params}})
    assert (answered, bool(refusal["message"])) == (status, True)
