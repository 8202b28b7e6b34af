"""Taking files in through HTTP: progress, stopping, and nothing stored of what was refused."""

from __future__ import annotations

import io
import threading
import zipfile

import numpy as np
import pytest
from bench.imports import Imports, imports
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.exchange.delivery import Cancelled
from tightseam.exchange.obj_write import write_obj

from tests.core.heads import character_of, without_hair

TRIANGLE = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"


@pytest.fixture(scope="module")
def pim_obj(raw_heads) -> bytes:
    return write_obj(*character_of(without_hair(raw_heads["pim"])))


def upload(client, files: dict[str, bytes], **more):
    return client.post("/api/imports/t1", {"files": [SimpleUploadedFile(n, d) for n, d in files.items()], **more})


def counts() -> tuple[int, int, int]:
    from characters.models import Blob, Character, Revision

    return Character.objects.count(), Revision.objects.count(), Blob.objects.count()


def test_a_head_is_taken_in_checked_and_put_on_the_shelf(client, shelf, pim_obj):
    answer = upload(client, {"pim_v3.obj": pim_obj})
    assert answer.status_code == 200, answer.content
    entry = answer.json()["entry"]
    assert (entry["name"], entry["parts"], entry["poses"]) == ("Pim v3", 13, 0)
    assert entry["checkin"] == {"faults": 0, "looks": 0, "first": None, "said": None}
    assert client.get("/api/characters").json() == [entry]
    found = client.get(f"/api/characters/{entry['id']}").json()
    assert found["unit"] == "cm"
    assert {p["name"]: p["kind"] for p in found["parts"]}["teeth_lower"] == "teeth lower"
    assert set(found["guides"]) == {"crown", "chin_under", "lip_upper", "eye_centre_L", "eye_centre_R"}


def test_a_head_without_bones_is_drawn_as_it_was_delivered(client, shelf, pim_obj, raw_heads):
    import json

    import msgpack

    id = upload(client, {"pim.obj": pim_obj}).json()["entry"]["id"]
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
    parts = client.get(f"/api/characters/{answer.json()['entry']['id']}").json()["parts"]
    assert [p["delivered"]["file"] for p in parts] == ["head/skin.obj", "eye.obj"]


@pytest.mark.parametrize(
    ("files", "paths", "said"),
    [
        ({"a.obj": b"v 0 0 0\n"}, [], "no faces"),
        ({"a.obj": TRIANGLE.replace(b"3\n", b"9\n")}, [], "vertex 9"),
        ({"a.zip": b"PK"}, [], "not a zip"),
        ({"a.obj": TRIANGLE}, ["../../a.obj"], "leads out of its folder"),
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
    assert client.post("/api/imports/t1", {}).status_code == 422


def test_nothing_goes_on_under_a_token_nobody_uses(client, shelf):
    assert client.get("/api/imports/nobody").status_code == 404
    assert client.delete("/api/imports/nobody").status_code == 404


def test_progress_can_be_asked_for_and_a_stop_leaves_nothing_behind(client, shelf, pim_obj, monkeypatch):
    """The import waits at its second report until the test has looked; then it is stopped."""
    seen = []
    report = Imports._report

    def looking(self, token, share, text):
        if share > 0.3 and not seen:
            seen.append(client.get(f"/api/imports/{token}").json())
            assert client.delete(f"/api/imports/{token}").status_code == 204
        report(self, token, share, text)

    monkeypatch.setattr(Imports, "_report", looking)
    answer = upload(client, {"a.obj": pim_obj, "b.obj": pim_obj})
    assert answer.status_code == 409
    assert answer.json()["message"] == "Stopped. Nothing was stored."
    assert 0 <= seen[0]["share"] < 0.5
    assert seen[0]["text"].startswith("Reading")
    assert counts() == (0, 0, 0)
    assert client.get("/api/imports/t1").status_code == 404


def test_a_token_serves_one_import_at_a_time_and_is_free_again_after_a_refusal(shelf):
    started, release = threading.Event(), threading.Event()
    going = Imports()
    outcome: list[Exception] = []

    def first() -> None:
        try:
            going.run("t", Slow({"a.obj": b""}, started, release))
        except (BadDocument, Cancelled) as error:
            outcome.append(error)

    thread = threading.Thread(target=first)
    thread.start()
    assert started.wait(10)
    with pytest.raises(BadRequest, match="going on already"):
        going.run("t", {"b.obj": TRIANGLE})
    assert going.stop("t")
    release.set()
    thread.join(10)
    assert len(outcome) == 1
    assert going.progress("t") is None


class Slow(dict):
    """Files that can be read once they are released."""

    def __init__(self, files, started: threading.Event, release: threading.Event) -> None:
        super().__init__(files)
        self._started, self._release = started, release

    def items(self):
        self._started.set()
        self._release.wait(10)
        return super().items()


def test_the_registry_is_empty_between_imports(client, shelf):
    upload(client, {"a.obj": TRIANGLE})
    assert imports.progress("t1") is None
