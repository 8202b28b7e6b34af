"""Taking files in through HTTP, and nothing stored of what was refused."""

from __future__ import annotations

import io
import zipfile

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.exchange.obj_write import write_obj

from tests.core.heads import character_of, without_hair

TRIANGLE = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"


@pytest.fixture(scope="module")
def pim_obj(raw_heads) -> bytes:
    return write_obj(*character_of(without_hair(raw_heads["pim"])))


def upload(client, files: dict[str, bytes], **more):
    return client.post("/api/imports", {"files": [SimpleUploadedFile(n, d) for n, d in files.items()], **more})


def counts() -> tuple[int, int, int]:
    from characters.models import Blob, Character, Revision

    return Character.objects.count(), Revision.objects.count(), Blob.objects.count()


def test_a_head_is_taken_in_checked_and_put_on_the_shelf(client, shelf, pim_obj):
    answer = upload(client, {"pim_v3.obj": pim_obj})
    assert answer.status_code == 200, answer.content
    entry = client.get("/api/characters").json()[0]
    assert entry["id"] == answer.json()["result"]["character"]
    assert (entry["name"], entry["parts"], entry["poses"]) == ("Pim v3", 13, 0)
    assert entry["checkin"] == {"faults": 0, "looks": 0, "first": None, "said": None}
    found = client.get(f"/api/characters/{entry['id']}").json()
    assert found["unit"] == "cm"
    assert {p["name"]: p["kind"] for p in found["parts"]}["teeth_lower"] == "teeth lower"
    assert set(found["guides"]) == {"crown", "chin_under", "lip_upper", "eye_centre_L", "eye_centre_R"}


def test_a_head_without_bones_is_drawn_as_it_was_delivered(client, shelf, pim_obj, raw_heads):
    import json

    import msgpack

    id = upload(client, {"pim.obj": pim_obj}).json()["result"]["character"]
    meshes = msgpack.unpackb(client.get(f"/api/characters/{id}/meshes?revision=1").content)["parts"]
    answer = client.post(f"/api/characters/{id}/frame", json.dumps({"revision": 1}), content_type="application/json")
    frame = msgpack.unpackb(answer.content)
    assert [m["name"] for m in meshes] == list(frame["parts"])
    skin = np.frombuffer(frame["parts"]["skin"]["points"], np.float32).reshape(-1, 3)
    assert np.abs(skin - raw_heads["pim"].parts[0].points).max() < 1e-5
    assert frame["bones"] == b""


def test_files_of_a_folder_keep_their_places(client, shelf):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("eye.obj", TRIANGLE)
    files = {"skin.obj": TRIANGLE, "rest.zip": out.getvalue()}
    answer = upload(client, files, paths=["head/skin.obj", "head/rest.zip"])
    assert answer.status_code == 200, answer.content
    parts = client.get(f"/api/characters/{answer.json()['result']['character']}").json()["parts"]
    assert [p["delivered"]["file"] for p in parts] == ["head/skin.obj", "eye.obj"]


@pytest.mark.parametrize(
    ("files", "paths", "said"),
    [
        ({"a.obj": b"v 0 0 0\n"}, [], "no faces"),
        ({"a.obj": TRIANGLE.replace(b"3\n", b"9\n")}, [], "vertex 9"),
        ({"a.zip": b"PK"}, [], "not a zip"),
        ({"a.obj": TRIANGLE}, ["../../a.obj"], "leads out of its folder"),
        ({"a.usd": TRIANGLE}, [f"{'a' * 300}.usd"], "too long"),
        ({"a.usd": TRIANGLE}, ["a\0b.usd"], "cannot be the name"),
        ({"a.obj": TRIANGLE, "b.obj": b"broken"}, [], "no faces"),
        ({"a.txt": b"hello"}, [], "no head in .txt"),
    ],
)
def test_what_is_refused_is_said_and_leaves_nothing_behind(client, shelf, files, paths, said):
    answer = upload(client, files, **({"paths": paths} if paths else {}))
    assert answer.status_code == 400
    assert said in answer.json()["message"]
    assert counts() == (0, 0, 0)


def test_without_a_file_there_is_nothing_to_take_in(client, shelf):
    assert client.post("/api/imports", {}).status_code == 422


def test_files_that_were_sent_are_gone_once_they_are_taken_in_or_refused(client, shelf, settings, tmp_path):
    settings.DATA = tmp_path
    assert upload(client, {"a.obj": TRIANGLE}).status_code == 200
    assert upload(client, {"a.obj": b"broken"}).status_code == 400
    assert list((tmp_path / "inbox").iterdir()) == []
