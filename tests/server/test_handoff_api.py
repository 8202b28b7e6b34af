"""Hand-off through HTTP: who may receive a rig, and what of it offends whom."""

from __future__ import annotations

import json

from tests.server.http import get, post


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
