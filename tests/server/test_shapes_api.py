"""The Shapes station through HTTP."""

from __future__ import annotations

import msgpack
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.document.lookup import shape
from tightseam.shapes.offsets import offsets_of

from tests.core import obj
from tests.server.http import HUGE, edit, get, post


def upload(client, who: int, base: int, files: dict[str, bytes]):
    given = [SimpleUploadedFile(n, d) for n, d in files.items()]
    answer = client.post(f"/api/characters/{who}/shapes/targets?base={base}", {"files": given})
    return answer.status_code, answer.json()


def test_the_sheet_says_what_shapes_cover_and_who_drives_them(client, maren, faulty):
    status, found = get(client, f"/api/characters/{maren}/shapes?revision=1")
    assert status == 200, found
    rows = {r["name"]: r for r in found["rows"]}
    smile = offsets_of(faulty.character, faulty.store, shape(faulty.character, "smile"))["skin"]
    assert rows["smile"]["size"] == pytest.approx(10 * np.linalg.norm(smile, axis=1).max())
    assert rows["smile"]["driven_by"] == ["smile"]
    assert {o["part"]: o["first"] for o in found["orders"]}["skin"] == "shapes"
    assert len(found["units"]) >= 20
    assert get(client, f"/api/characters/{maren}/findings/shapes?revision=1") == (200, [])


def test_names_are_matched_renamed_in_one_go_and_exported(client, maren):
    lists = get(client, "/api/name-lists")[1]
    assert {x["key"] for x in lists} == {"action_units", "lantern_post"}
    text = "name,meaning\nSmile wide,corners\nPucker,\ncheek_full,cheeks\n"
    status, names = post(client, f"/api/characters/{maren}/shapes/names", {"revision": 1, "file": "own.csv", "text": text})
    assert status == 200, names
    assert ["pucker", "Pucker"] in names["near"]
    assert {"name": "cheek_full", "meaning": "cheeks"} in names["missing"]
    status, changed = edit(client, maren, 1, "shape.rename", names=dict(names["near"]))
    assert status == 200
    assert "Pucker" in {s["name"] for s in changed["shapes"]}
    answer = client.get(f"/api/characters/{maren}/shapes/names.csv")
    assert answer.content.decode().splitlines()[0] == "name,twin,meaning,example"
    again = post(client, f"/api/characters/{maren}/shapes/names", {"revision": 2, "file": "own.csv", "text": answer.content.decode()})[1]
    assert (again["near"], again["missing"], again["extra"]) == ([], [], [])


def test_targets_are_taken_in_as_one_edit_and_each_is_reported(client, maren, faulty):
    smile = offsets_of(faulty.character, faulty.store, shape(faulty.character, "smile"))["skin"]
    rest, polygons = faulty.rest("skin"), faulty.polygons("skin")
    status, out = upload(client, maren, 1, {"grin.obj": obj.named(rest + smile + [0, 1, 0], polygons), "bad.obj": b"v 1 2\nf 1 2 3"})
    assert status == 200, out
    reports = {r["file"]: r for r in out["result"]["reports"]}
    assert "constant offset of 10.00 mm" in reports["grin.obj"]["notes"][0]
    assert reports["bad.obj"]["refused"]
    assert get(client, f"/api/characters/{maren}")[1]["revision"]["text"] == "Added the shape grin"
    rows = {r["name"]: r for r in get(client, f"/api/characters/{maren}/shapes?revision=2")[1]["rows"]}
    assert rows["grin"]["size"] == pytest.approx(rows["smile"]["size"], abs=0.05)
    status, out = upload(client, maren, 2, {"bad.obj": b"v 1 2\nf 1 2 3"})
    assert status == 200
    assert get(client, f"/api/characters/{maren}")[1]["revision"]["number"] == 2  # nothing fitted, nothing changed
    assert upload(client, maren, 2, {"a.txt": b"x"})[0] == 400
    assert upload(client, maren, 1, {"grin.obj": obj.named(rest + smile, polygons)})[0] == 409


def test_a_shape_is_sculpted_live_as_it_is_stored(client, maren, faulty):
    at = faulty.posed("skin", {"smile": 1.0, "jaw_open": 0.4})[600].tolist()
    sculpting = {"shape": "smile", "part": "skin", "brush": {"radius": 2.0, "strength": 0.8}, "values": {"smile": 1, "jaw_open": 0.4}}
    dabs = [{"vertex": 600, "place": at, "tool": "move"}, {"vertex": 600, "place": (np.array(at) + [0.2, 0.1, 0]).tolist(), "tool": "move"}]
    asked = {"revision": 1, "token": "a stroke", "sculpting": sculpting, "first": 0, "dabs": dabs}
    live = msgpack.unpackb(client.post(f"/api/characters/{maren}/sculpt", asked, content_type="application/json").content)
    assert live["missed"] == 0
    assert edit(client, maren, 1, "shape.sculpt", sculpting=sculpting, dabs=dabs)[0] == 200
    body = {"revision": 2, "values": sculpting["values"], "shape_of": {"shape": "smile", "below": 0.5}}
    frame = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, content_type="application/json").content)
    points = np.frombuffer(frame["parts"]["skin"]["points"], np.float32).reshape(-1, 3)
    vertices = np.frombuffer(live["vertices"], np.uint32)
    assert np.abs(points[vertices] - np.frombuffer(live["points"], np.float32).reshape(-1, 3)).max() < 1e-3
    own, total = (np.frombuffer(frame["weights"]["skin"][key], np.float32) for key in ("own", "total"))
    assert own.max() == pytest.approx(1)
    assert ((total == 0) == ((own > 0) & (own * 10 * own.max() < 10) & (total == 0))).all()
    assert (total == 0).any()  # what moves by less than half a millimetre is marked


def test_what_is_left_of_taking_a_pose_out_is_told_before_it_is_done(client, maren):
    edit(client, maren, 1, "shape.bake_pose", name="jaw", values={"jaw_open": 0.5})
    status, left = post(client, f"/api/characters/{maren}/shapes/left", {"revision": 2, "shape": "jaw", "values": {"jaw_open": 0.5}})
    assert status == 200, left
    assert left["bones"] > 10
    assert left["left"] < 1e-4


def test_an_edit_of_shapes_is_tried_out_over_all_poses(client, maren):
    step = {"edit": "shape.scale", "params": {"name": "smile", "by": 1.5}}
    status, answer = post(client, f"/api/characters/{maren}/try", {"base": 1, "step": step})
    assert (status, answer["tried"]["station"]) == (200, "shapes")
    tried = answer["tried"]
    assert tried["shows"]["millimetres"] > 1


@pytest.mark.parametrize(
    ("path", "body", "status", "says"),
    [
        ("shapes/names", {"revision": 1}, 400, "Choose a name list"),
        ("shapes/names", {"revision": 1, "key": "nobody"}, 400, "no name list"),
        ("shapes/names", {"revision": 1, "file": "x.json", "text": "{"}, 400, "no JSON"),
        ("shapes/left", {"revision": 1, "shape": "grin"}, 400, "no shape called"),
        ("shapes/left", {"revision": 1, "shape": "smile", "values": {"jaw_open": HUGE}}, 400, "out of range"),
        ("frame", {"revision": 1, "shape_of": {"shape": "grin"}}, 400, "no shape called"),
        ("frame", {"revision": 1, "values": {"smile.strength": 3}}, 400, "The strength of Smile goes from -1 to 1"),
        ("sculpt", {"revision": 1, "token": "x" * 8, "first": 3}, 422, "sculpting"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(client, maren, path, body, status, says):
    answer = post(client, f"/api/characters/{maren}/{path}", body)
    assert answer[0] == status
    assert says in answer[1]["message"]
