"""The Controls station through HTTP."""

from __future__ import annotations

import pytest

from tests.server.http import HUGE, edit, get, post


def test_the_plan_is_drawn_from_the_head_and_arranged(client, maren):
    status, found = get(client, f"/api/characters/{maren}/controls?revision=1")
    assert status == 200, found
    assert set(found["lines"]) == {"head", "lids", "lips", "brows", "nose"}
    assert all(0 <= c <= 1 for lines in found["lines"].values() for line in lines for place in line for c in place)
    status, changed = edit(client, maren, 1, "plan.arrange")
    assert status == 200
    pad = next(p for p in changed["plan"] if p["x"] == "gaze_across")
    assert pad["y"] == "gaze_height"
    status, changed = edit(client, maren, 2, "plan.set_pad", pad=pad["name"], label="Look", x=pad["x"], y=pad["y"], at=[0.1, 0.2])
    assert next(p for p in changed["plan"] if p["name"] == pad["name"])["place"] == [0.1, 0.2]


def test_a_link_along_a_curve_is_drawn_as_it_answers(client, maren):
    keys = [{"at": 0, "value": 0}, {"at": 0.5, "value": 1}, {"at": 1, "value": 0.2}]
    assert edit(client, maren, 1, "control.link", control="pucker", kind="shape", targets=["smile"], keys=keys)[0] == 200
    curve = get(client, f"/api/characters/{maren}/controls?revision=2")[1]["curves"][0]
    assert (curve["control"], curve["target"]) == ("pucker", "smile")
    assert curve["curve"]["path"][0] == [0, 0]
    assert curve["curve"]["path"][-1] == [1, 0.2]


def test_a_take_is_followed_as_it_arrives(client, maren):
    takes = get(client, "/api/takes")[1]
    assert {t["name"] for t in takes} == {"read_aloud", "laugh", "look_around"}
    status, found = post(client, f"/api/characters/{maren}/takes", {"revision": 1, "take": "laugh"})
    assert status == 200, found
    assert len(found["frames"]) == len(found["lost"]) == 240
    assert found["mapping"]["Smile"] == "smile"
    only = post(client, f"/api/characters/{maren}/takes", {"revision": 1, "take": "laugh", "mapping": {"Smile": "pucker"}, "smooth": 0})[1]
    assert only["controls"] == ["pucker"]
    assert only["mapping"]["Jaw open"] is None


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        ({"take": "cry"}, 400, "no take"),
        ({"take": "laugh", "mapping": {"Smile": "nobody"}}, 400, "no control called"),
        ({"take": "laugh", "smooth": HUGE}, 422, "smooth"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(client, maren, body, status, says):
    answer = post(client, f"/api/characters/{maren}/takes", {"revision": 1} | body)
    assert answer[0] == status
    assert says in answer[1]["message"]
