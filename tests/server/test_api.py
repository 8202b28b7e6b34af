"""The API through HTTP: what the bench asks for, and how it refuses."""

from __future__ import annotations

import json
import shutil

import msgpack
import numpy as np
import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.document.arrays import MemoryStore
from tightseam.document.labels import part_label
from tightseam.exchange.character_file import read_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import glb_strip, write_glb

from tests.server.http import HUGE, edit, get, post

GIVE_TEETH = {"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}}


def frame(client, maren, **asked):
    answer = client.post(f"/api/characters/{maren}/frame", json.dumps({"revision": 1, **asked}), content_type="application/json")
    assert answer.status_code == 200, answer.content
    assert int(answer["Content-Length"]) == len(answer.content)
    return msgpack.unpackb(answer.content)


def test_the_shelf_lists_maren_with_her_worst_finding_once_measured(client, maren):
    entry = client.get("/api/characters").json()[0]
    assert (entry["name"], entry["measured"], entry["worst"]) == ("Maren", False, None)
    for pose in client.get(f"/api/characters/{maren}").json()["poses"]:
        assert post(client, f"/api/characters/{maren}/measure", {"revision": 1, "pose": pose["name"]})[0] == 200
    entry = client.get("/api/characters").json()[0]
    assert entry["measured"]
    assert entry["findings"] == 2
    assert entry["worst"]["title"] == "Lower teeth stay behind the jaw"


def test_the_summary_says_what_carries_what(client, maren):
    found = client.get(f"/api/characters/{maren}").json()
    teeth = next(p for p in found["parts"] if p["name"] == "teeth_lower")
    assert {(i["bone"], round(i["share"], 3)) for i in teeth["influences"]} == {("head", 0.5), ("teeth_lower", 0.5)}
    assert teeth["carrier"] == "weighted"
    assert teeth["expected"] == ["teeth_lower"]
    assert not found["can_undo"]


def test_a_frame_holds_the_points_the_core_gives(client, maren, faulty):
    found = frame(client, maren, values={"jaw_open": 0.5, "smile": 0.25})
    for part in ("skin", "tongue", "eye_L"):
        points = np.frombuffer(found["parts"][part]["points"], np.float32).reshape(-1, 3)
        assert np.abs(points - faulty.posed(part, {"jaw_open": 0.5, "smile": 0.25})).max() < 1e-5
        normals = np.frombuffer(found["parts"][part]["normals"], np.float32).reshape(-1, 3)
        assert np.abs(np.linalg.norm(normals, axis=1) - 1).max() < 1e-3


def test_parts_the_client_shows_already_are_left_out(client, maren):
    first = frame(client, maren)
    known = {name: p["digest"] for name, p in first["parts"].items()}
    again = frame(client, maren, known=known)
    assert again["parts"] == {}
    jaw = frame(client, maren, known=known, values={"jaw_open": 1})
    assert set(jaw["parts"]) == {"skin", "teeth_lower", "tongue"}


def test_smooth_view_is_the_subdivision_of_the_posed_points(client, maren, faulty):
    from tightseam.geometry.subdivide import catmull_clark

    found = frame(client, maren, values={"smile": 1}, smooth=True)
    points = np.frombuffer(found["parts"]["skin"]["points"], np.float32).reshape(-1, 3)
    matrix, finer = catmull_clark(faulty.polygons("skin"), len(faulty.rest("skin")))
    assert np.abs(points - matrix @ faulty.posed("skin", {"smile": 1})).max() < 1e-4
    mesh = msgpack.unpackb(client.get(f"/api/characters/{maren}/meshes?revision=1").content)["parts"][0]
    assert mesh["smooth"]["count"] == len(points) == matrix.shape[0]
    owners = np.frombuffer(mesh["smooth"]["owners"], np.uint32)
    assert np.array_equal(owners, finer.corners.reshape(-1, 4)[:, 0])


def test_weights_of_a_bone_come_with_a_frame(client, maren):
    found = frame(client, maren, weights_of="head")["weights"]
    teeth = np.frombuffer(found["teeth_lower"]["own"], np.float32)
    assert np.abs(teeth - 0.5).max() < 1e-6
    assert np.abs(np.frombuffer(found["skin"]["total"], np.float32) - 1).max() < 1e-5


def test_what_rides_has_no_weights_that_could_add_up_wrongly(client, maren):
    assert edit(client, maren, 1, "binding.ride", part="brow_L", on="skin", by="tuft")[0] == 200
    found = frame(client, maren, weights_of="head", revision=2)["weights"]
    assert set(np.frombuffer(found["brow_L"]["total"], np.float32).tolist()) == {1.0}
    assert not np.frombuffer(found["brow_L"]["own"], np.float32).any()


def test_measure_names_the_fault_and_its_cause(client, maren):
    status, found = post(client, f"/api/characters/{maren}/measure", {"revision": 1, "pose": "jaw_open"})
    assert status == 200
    finding = found["findings"][0]
    assert (finding["kind"], finding["about"], finding["causes"][0]["label"]) == ("lag", "follow_teeth_lower", "Head")
    assert finding["repairs"][0]["params"] == GIVE_TEETH["params"]


def test_pull_and_lag_of_a_vertex(client, maren):
    status, found = post(
        client, f"/api/characters/{maren}/pull", {"revision": 1, "part": "teeth_lower", "vertices": [600], "values": {"jaw_open": 1}}
    )
    assert status == 200
    assert found["lag"][0]["name"] == "head"
    assert found["lag_millimetres"] > 10
    assert found["total"] == pytest.approx(1)


def test_measure_holds_left_against_right_where_they_should_agree(client, maren):
    """The right eye is carried by the head: it stays behind where both look up, and a glance to the left is not even anyway."""
    found = post(client, f"/api/characters/{maren}/measure", {"revision": 1, "pose": "look_up"})[1]
    lag = {r["seam"]: r["lag"] for r in found["readings"]}
    eyes = next(u for u in found["uneven"] if u["region"] == "eyes")
    assert eyes["seams"] == ["follow_eye_L", "follow_eye_R"]
    assert eyes["millimetres"] == pytest.approx(lag["follow_eye_R"] - lag["follow_eye_L"])
    assert eyes["millimetres"] > eyes["limit"]
    assert post(client, f"/api/characters/{maren}/measure", {"revision": 1, "pose": "look_left"})[1]["uneven"] is None


def test_an_edit_makes_a_revision_that_measures_better(client, maren):
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": GIVE_TEETH})
    assert (status, changed["revision"]["number"]) == (200, 2)
    assert changed["revision"]["text"] == "Gave Teeth lower to Teeth on jaw"
    assert changed["can_undo"]
    after, before = (post(client, f"/api/characters/{maren}/measure", {"revision": n, "pose": "jaw_open"})[1] for n in (2, 1))
    assert max(r["excess"] for r in after["readings"]) <= 1 < max(r["excess"] for r in before["readings"])


def test_undo_and_redo_measure_nothing_again(client, maren, monkeypatch):
    """Findings, readings and what is derived of a state are there when it is come back to."""
    asked = [("measure", {"pose": "jaw_open"}), ("measure", {"pose": "smile"})]

    def measured(revision: int) -> list:
        found = [post(client, f"/api/characters/{maren}/{where}", {"revision": revision, **body}) for where, body in asked]
        return [*found, *(get(client, f"/api/characters/{maren}/findings/{x}?revision={revision}") for x in ("jaw", "lids", "shapes"))]

    before = measured(1)
    assert edit(client, maren, 1, "control.set_range", control="head_turn", low=-30, high=30, rest=0)[0] == 200
    after = measured(2)
    for what in ("seams.meter.SeamMeter.measure", "lids.board.LidBoard.moments", "jaw.curves.JawMeter.measure", "shapes.checks._Checks"):
        monkeypatch.setattr(f"tightseam.{what}", lambda *_, **__: pytest.fail("it was measured again"))
    assert post(client, f"/api/characters/{maren}/undo", {"base": 2})[0] == 200
    assert measured(1) == before
    assert post(client, f"/api/characters/{maren}/redo", {"base": 1})[0] == 200
    assert measured(2) == after


def test_files_go_out_and_come_back_in(client, maren, faulty):
    seam = client.get(f"/api/characters/{maren}/export.seam")
    assert 'filename="Maren.seam"' in seam["Content-Disposition"]
    assert read_character(seam.content, MemoryStore()) == faulty.character
    glb = client.get(f"/api/characters/{maren}/export.glb").content
    assert read_glb(glb, MemoryStore()) == read_glb(write_glb(faulty.character, faulty.store), MemoryStore())
    for name, data in (("a.seam", seam.content), ("b.glb", glb)):
        answer = client.post("/api/imports", {"files": SimpleUploadedFile(name, data)})
        assert answer.status_code == 200, answer.content
        came = client.get(f"/api/characters/{answer.json()['result']['character']}").json()
        assert came["revision"]["text"] == f"Added {name}"
    assert len(client.get("/api/characters").json()) == 3


def test_what_a_file_leaves_out_is_told_once_it_was_made(client, maren, faulty):
    shutil.rmtree(settings.DATA / "made", ignore_errors=True)
    assert client.get(f"/api/characters/{maren}/left-out/glb").status_code == 404
    client.get(f"/api/characters/{maren}/export.glb")
    told = client.get(f"/api/characters/{maren}/left-out/glb").json()
    worst = glb_strip(faulty.character, faulty.store).left_out()
    assert [(x["pose"], x["part"]) for x in told] == [(x.pose.label, part_label(x.part)) for x in worst]
    assert [x["mm"] for x in told] == pytest.approx([10 * x.cm for x in worst])
    assert client.get(f"/api/characters/{maren}/left-out/usd").status_code == 404


@pytest.mark.parametrize(
    ("path", "body", "status", "said"),
    [
        ("frame", {"revision": 1, "values": {"jaw": 1}}, 400, "no control called “jaw”"),
        ("frame", {"revision": 1, "values": {"smile": 1.4}}, 400, "out of range"),
        ("frame", {"revision": 1, "values": {"smile": "much"}}, 422, "smile"),
        ("frame", {"revision": 99}, 404, "no revision 99"),
        ("frame", {"revision": 1, "weights_of": "wing"}, 400, "no bone called “wing”"),
        ("pull", {"revision": 1, "part": "hat", "vertices": [0]}, 400, "no part called “hat”"),
        ("pull", {"revision": 1, "part": "skin", "vertices": [10**9]}, 400, "out of range"),
        ("pull", {"revision": 1, "part": "teeth_lower", "vertices": [-1]}, 400, "out of range"),
        ("measure", {"revision": 1, "pose": "laugh"}, 400, "no pose called “laugh”"),
        ("edits", {"base": 7, "step": GIVE_TEETH}, 409, "Look again"),
        ("edits", {"base": 1, "step": {"edit": "weights.scrape", "params": {}}}, 422, "binding.set_carrier"),
        (
            "edits",
            {"base": 1, "step": {"edit": "binding.set_carrier", "params": {"part": "hat", "carrier": "rigid", "bones": ["jaw"]}}},
            400,
            "hat",
        ),
        ("undo", {"base": 1}, 400, "nothing to undo"),
        ("redo", {"base": 1}, 400, "nothing to redo"),
        ("undo", {}, 422, "base"),
    ],
)
def test_requests_that_are_wrong_are_refused_and_store_nothing(client, maren, path, body, status, said):
    from characters.models import Blob, Revision

    before = Blob.objects.count(), Revision.objects.count()
    answered, refusal = post(client, f"/api/characters/{maren}/{path}", body)
    assert answered == status
    assert said in refusal["message"]
    assert (Blob.objects.count(), Revision.objects.count()) == before


@pytest.mark.parametrize("body", ["{", "[]", "null", '{"revision": NaN}', '{"revision": 1, "values": {"smile": 1e999}}'])
def test_bodies_that_are_no_requests_are_refused(client, maren, body):
    answer = client.post(f"/api/characters/{maren}/frame", body, content_type="application/json")
    assert answer.status_code in (400, 422)
    assert answer.json()


def test_a_character_that_is_not_there_is_a_404_in_words(client, db):
    answer = client.get("/api/characters/5")
    assert answer.status_code == 404
    assert "no character 5" in answer.json()["message"]


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.glb", b"glTF" + b"\0" * 40, "version 0"),
        ("a.seam", b"PK\x03\x04junk", "not a character file"),
        ("../../x", b"", "no head in x"),
    ],
)
def test_files_that_are_wrong_are_refused_and_store_nothing(client, db, name, data, said):
    from characters.models import Blob, Character

    answer = client.post("/api/imports", {"files": SimpleUploadedFile(name, data)})
    assert answer.status_code == 400
    assert said in answer.json()["message"]
    assert (Blob.objects.count(), Character.objects.count()) == (0, 0)


def test_a_file_that_is_too_large_is_refused_in_words(client, db, settings):
    settings.MOST_BODY_BYTES = 1000
    answer = client.post("/api/imports", {"files": SimpleUploadedFile("big.glb", b"glTF" + b"\0" * 2000)})
    assert answer.status_code == 413
    assert "Nothing was stored" in answer.json()["message"]


@pytest.mark.parametrize("headers", [{"Sec-Fetch-Site": "cross-site"}, {"Origin": "http://elsewhere.example"}])
def test_other_sites_may_change_nothing(client, maren, headers):
    answer = client.post(
        f"/api/characters/{maren}/edits", json.dumps({"base": 1, "step": GIVE_TEETH}), content_type="application/json", headers=headers
    )
    assert answer.status_code == 403
    assert client.get(f"/api/characters/{maren}").json()["revision"]["number"] == 1


@pytest.mark.parametrize(("cause", "said"), [("database is locked", "busy"), ("database or disk is full", "disk is full")])
def test_a_database_that_cannot_be_written_is_said_plainly(client, maren, monkeypatch, cause, said):
    from characters import history
    from django.db import OperationalError

    def fails(*_):
        raise OperationalError(cause)

    monkeypatch.setattr(history, "_stored", fails)
    status, refusal = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": GIVE_TEETH})
    assert status == 503
    assert said in refusal["message"]
    assert client.get(f"/api/characters/{maren}").json()["revision"]["number"] == 1


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("frame", {"revision": HUGE}),
        ("pull", {"revision": 1, "part": "skin", "vertices": [HUGE]}),
        ("undo", {"base": HUGE}),
        ("undo", {"base": -HUGE}),
        (
            "edits",
            {"base": 1, "step": {"edit": "weights.set", "params": {"part": "skin", "vertices": [HUGE], "bone": "jaw", "value": 0.5}}},
        ),
        ("measure", {"revision": 1, "pose": "x" * 100_000}),
        ("frame", {"revision": 1, "known": {"skin": HUGE}}),
    ],
)
def test_absurd_numbers_are_refused_without_a_crash(client, maren, path, body):
    answer = client.post(f"/api/characters/{maren}/{path}", json.dumps(body), content_type="application/json")
    assert answer.status_code in (200, 400, 404, 409, 422)


def test_every_other_address_is_the_front_end(client, db):
    answer = client.get("/characters/1/binding")
    assert answer.status_code in (200, 503)
    assert b"Tight Seam" in answer.content or b"make demo" in answer.content
