"""Hand-off through HTTP: who may receive a rig, and what of it offends whom."""

from __future__ import annotations

import io
import json
import zipfile

import msgpack
import numpy as np
import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.demo.body import body_stand_in
from tightseam.document.arrays import MemoryStore
from tightseam.exchange.glb_write import write_glb

from tests.server.http import edit, get, post

SMILE = {"control": "smile", "low": 0, "high": 1.2, "rest": 0}
PHONE = {"name": "phone", "label": "Phone", "formats": ["glb"], "tables": False, "resets": {"jaw": [20, 0, 0]}}


def test_offences_are_those_of_the_profile_that_is_asked_for(client, maren):
    status, profiles = get(client, "/api/profiles")
    assert status == 200
    assert {p["name"] for p in profiles} == {"generous", "lean", "film"}
    assert all(p["story"] for p in profiles)
    asked = f"/api/characters/{maren}/offences"
    assert post(client, asked, {"revision": 1, "profile": "film"}) == (200, [])
    own = json.dumps({"name": "phone", "label": "Phone", "influences": 1})
    status, found = post(client, asked, {"revision": 1, "profile": "phone.json", "own": own})
    assert status == 200
    skin = next(f for f in found if f["part"] == "skin")
    assert skin["size"] == len(skin["vertices"]) > 0
    assert skin["repairs"][0]["params"]["most"] == 1


def test_what_cannot_be_asked_for_is_refused_in_words(client, maren):
    asked = f"/api/characters/{maren}/offences"
    status, said = post(client, asked, {"revision": 1, "profile": "huge"})
    assert (status, said["message"]) == (400, "There is no profile “huge”. There are: generous, lean, film.")
    status, said = post(client, asked, {"revision": 1, "profile": "mine.json", "own": "[1]"})
    assert status == 400
    assert said["message"].startswith("mine.json is no profile")
    assert post(client, asked, {"revision": 9, "profile": "film"})[0] == 404


ASKED = {"revision": 1, "profile": "phone.json", "own": json.dumps(PHONE), "less": {"parts": ["hair"]}}


@pytest.fixture
def packed(client, maren):
    """Maren's package for a receiver that knows no tables, which is quick to make."""
    status, made = post(client, f"/api/characters/{maren}/packages", ASKED)
    assert status == 200
    return made


def test_a_package_is_made_told_of_and_saved(client, maren, packed):
    told = {row["what"]: row for row in packed["arrived"]}
    assert set(told) == {"test poses", "lids and gaze", "jaw and lips", "everything"}
    assert all(0 < row["typical"] <= row["mm"] for row in told.values())
    assert told["lids and gaze"]["said"]
    assert packed["done"] == ["It sets jaw to a rest of its own, 20.0° away."]
    answer = client.get(f"/api/characters/{maren}/packages/{packed['key']}.zip")
    assert answer["Content-Disposition"] == 'attachment; filename="Maren package.zip"'
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        assert set(archive.namelist()) == {f["name"] for f in packed["files"]}
    for key in ("0" * 64, "db"):
        assert get(client, f"/api/characters/{maren}/packages/{key}.zip")[0] == 404


def test_a_package_of_which_an_earlier_version_told_less_is_made_anew(client, maren, packed):
    beside = (settings.DATA / "made" / packed["key"]).with_suffix(".left")
    told = json.loads(beside.read_bytes())
    beside.write_text(json.dumps({k: v for k, v in told.items() if k != "levels"}))
    assert post(client, f"/api/characters/{maren}/packages", ASKED) == (200, packed)


def test_the_stage_shows_what_arrives_and_how_far_it_is_off(client, maren, faulty, packed):
    row = next(r for r in packed["arrived"] if r["what"] == "test poses")
    frame = {"revision": 1, "values": row["values"], "arrived": packed["key"], "tint": "arrived"}
    shown = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", frame, content_type="application/json").content)
    off = {part: np.frombuffer(values, np.float32) for part, values in shown["tint"].items()}
    ours = faulty.evaluator.meshes.by_part(faulty.evaluator.points(faulty.values(row["values"])))
    for part, values in off.items():
        points = np.frombuffer(shown["parts"][part]["points"], np.float32).reshape(-1, 3)
        assert values == pytest.approx(10 * np.linalg.norm(points - ours[part], axis=1), abs=1e-3)
    assert shown["off"] == pytest.approx(max(values.max() for values in off.values()))
    smooth = msgpack.unpackb(
        client.post(f"/api/characters/{maren}/frame", {**frame, "smooth": True}, content_type="application/json").content
    )
    assert smooth["off"] == pytest.approx(shown["off"])  # what is measured is the true mesh
    assert off["teeth_lower"].max() > 1  # the jaw rests in another way there
    assert off["hair"].max() == 0  # what is left out is not off
    assert packed["without"] == ["hair"]
    rest = faulty.rest("hair")
    assert np.frombuffer(shown["parts"]["hair"]["points"], np.float32).reshape(-1, 3) == pytest.approx(rest, abs=1e-4)


def test_what_was_never_packed_is_not_shown(client, maren):
    for wrong in ({"arrived": "0" * 64}, {"arrived": "../db"}, {"tint": "arrived"}):
        status, said = post(client, f"/api/characters/{maren}/frame", {"revision": 1, **wrong})
        assert status == 400
        assert "package" in said["message"]
    wanted = {"revision": 1, "profile": "film", "less": {"bones": ["beak"]}}
    status, said = post(client, f"/api/characters/{maren}/packages", wanted)
    assert (status, said["message"]) == (400, "There is no bone “beak” that could be left out.")


def test_what_was_done_to_one_head_is_made_again_on_another(client, maren, pim):
    """Edits of Maren as a recipe: nothing is stored by trying it, and the edit that is offered makes what could be made."""
    for base, (name, params) in enumerate([("control.set_range", SMILE), ("shape.scale", {"name": "smile", "by": 0.8})], start=1):
        assert edit(client, maren, base, name, **params)[0] == 200
    answer = client.get(f"/api/characters/{maren}/recipe")
    assert answer["Content-Disposition"] == 'attachment; filename="Maren recipe.json"'
    recipe = json.loads(answer.content)
    assert [s["edit"] for s in recipe["steps"]] == ["control.set_range", "shape.scale"]
    assert len(recipe["landmarks"]) > 40
    post(client, f"/api/characters/{maren}/undo", {"base": 3})
    post(client, f"/api/characters/{maren}/undo", {"base": 2})
    asked = {"base": 1, "file": "maren.json", "recipe": answer.content.decode()}
    status, found = post(client, f"/api/characters/{maren}/replays", asked)
    assert status == 200
    assert [o["done"] for o in found["outcomes"]] == ["done", "done"]
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": found["step"]})[0] == 200
    control = next(c for c in get(client, f"/api/characters/{maren}")[1]["controls"] if c["name"] == "smile")
    assert control["high"] == 1.2
    status, found = post(client, f"/api/characters/{pim}/replays", asked)  # who has no controls yet
    assert [o["done"] for o in found["outcomes"]] == ["not done", "not done"]
    assert found["step"] is None
    status, said = post(client, f"/api/characters/{pim}/replays", {**asked, "recipe": "{}"})
    assert status == 400
    assert "maren.json is no recipe" in said["message"]


def test_a_head_is_put_on_the_stand_in_and_on_a_body_from_a_file(client, maren):
    """One edit, told of; a second body is refused; the head opens on it and is posed."""
    status, job = post_files(client, f"/api/characters/{maren}/body?base=1")
    assert status == 200
    assert any("Our neck begins" in note for note in job["result"]["notes"])
    found = get(client, f"/api/characters/{maren}")[1]
    assert found["revision"]["text"].startswith("Joined a body of 1 part and 3 bones")
    assert next(b for b in found["bones"] if b["name"] == "neck_1")["parent"] == "chest"
    assert client.post(f"/api/characters/{maren}/frame", {"revision": 2}, content_type="application/json").status_code == 200
    status, said = post_files(client, f"/api/characters/{maren}/body?base=2")
    assert (status, said["message"]) == (400, "This head stands on a body already.")
    assert post(client, f"/api/characters/{maren}/undo", {"base": 2})[0] == 200
    store = MemoryStore()
    glb = write_glb(body_stand_in("", store), store)
    foreign = glb.replace(b'"tightSeam"', b'"otherTool"')
    for data in (glb, foreign):
        status, job = post_files(client, f"/api/characters/{maren}/body?base=1", SimpleUploadedFile("body.glb", data))
        assert status == 200, job
        base = get(client, f"/api/characters/{maren}")[1]["revision"]["number"]
        assert post(client, f"/api/characters/{maren}/undo", {"base": base})[0] == 200
    status, said = post_files(client, f"/api/characters/{maren}/body?base=1", SimpleUploadedFile("body.glb", glb[:400]))
    assert status == 400


def post_files(client, path: str, *files: SimpleUploadedFile) -> tuple[int, dict]:
    answer = client.post(path, {"files": list(files)})
    return answer.status_code, answer.json()
